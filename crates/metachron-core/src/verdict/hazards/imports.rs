//! What an earlier import did to a column. Its marks are of one kind: dates beside text that an import left show an
//! exchange, and only where there are none are days looked at that may be years, and days that are missing.

use super::marks::{Marks, dates_read, dates_shown};
use super::repairs::{ask, said};
use super::{half_swapped, late_days, month_year};
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::Verdict;
use crate::verdict::ruled_out::RuledOut;

/// What the days show, or what is repaired because somebody said so.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_layouts() {
        return Vec::new();
    }
    if let Some(repair) = case.asserted.repair {
        return said(case, repair).into_iter().collect();
    }
    let marks = Marks::of(case);
    let found = if marks.are_there() {
        Some(half_swapped::found(case, &marks))
    } else {
        let months = month_year::found(case, &dates_read(case));
        let shown = dates_shown(case);
        let late = || late_days::found(case, &shown);
        months.or_else(late).or_else(|| late_days::found_in_a_form(case, &shown))
    };
    // What a file shows by itself is lost among the others.
    let part = || {
        let finding = ImportFinding::HarmedPart(case.asserted.harmed_part.clone()?);
        Some(ask(case, Verdict::Leaning, finding, &[Repair::None]))
    };
    let found = found.or_else(part);
    let beside = case.asserted.harmed_beside.clone().filter(|_| found.is_some());
    let beside = beside.map(|own| Found::note(ImportFinding::HarmedBeside(own)));
    found.into_iter().chain(beside).collect()
}

/// What no import has done to the column.
pub(super) fn ruled_out(case: &Case<'_>) -> Vec<RuledOut> {
    let dates = dates_shown(case);
    let late = dates.iter().filter(|[.., day]| *day > 12).count() as u64;
    let exchange = Marks::of(case).power_against().map(|power| RuledOut::Exchange { power });
    let lost = (late > 0).then_some(RuledOut::LostDays { dates: late });
    let months = month_year::power_against(&dates).map(|power| RuledOut::MonthYear { power });
    exchange.or(lost).into_iter().chain(months).collect()
}
