//! Not a single day above 12 among many different dates that have one reading each. Whoever takes days for months
//! cannot read the others: they may be lost, and those that are left exchanged.

use std::collections::BTreeSet;

use super::marks::dates_by_programs;
use super::repairs::ask;
use crate::evidence::DaysOfMonth;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::Verdict;
use crate::verdict::odds::{CERTAIN, SIDE, ln_months_without_late, ln_without_late, power};

/// Dates (year, month, day) that are early in their month, all of them.
pub(super) fn found(case: &Case<'_>, dates: &BTreeSet<[i16; 3]>) -> Option<Found> {
    let days: DaysOfMonth = dates.iter().map(|[.., day]| *day).collect();
    let ln = ln_without_late(&days);
    // Where an import has exchanged days and months of another column, one date that it could have exchanged is enough.
    let is_harmed_beside = case.asserted.harmed_beside.is_some();
    let differs = dates.iter().any(|[_, month, day]| month != day);
    let is_likely = match is_harmed_beside {
        true => days.late() == 0 && differs,
        false => ln <= -CERTAIN.ln(),
    };
    if !case.is_of_layouts() || !is_likely {
        return None;
    }
    let finding = ImportFinding::NoLateDays {
        dates: days.all(),
        missing: case.evidence.missing,
        power: power(ln),
    };
    let repairs: &[Repair] = match is_harmed_beside {
        true => &[Repair::HalfSwapped, Repair::None],
        false => &[Repair::Swapped, Repair::None],
    };
    Some(ask(case, Verdict::Leaning, finding, repairs))
}

/// What programs have written in one form has no late day, but other values of the column have. What an import left as
/// text need not show it: it may stand beside text that is whole.
pub(super) fn found_in_a_form(case: &Case<'_>, dates: &BTreeSet<[i16; 3]>) -> Option<Found> {
    let forms = dates_by_programs(case);
    let has_late = dates.iter().any(|[.., day]| *day > 12);
    if !case.is_of_layouts() || !has_late {
        return None;
    }
    let found = forms.iter().find_map(|own| {
        let days: DaysOfMonth = own.iter().map(|[.., day]| *day).collect();
        let ln = ln_without_late(&days);
        let months: BTreeSet<[i16; 2]> =
            own.iter().map(|[year, month, _]| [*year, *month]).collect();
        let of_months = ln_months_without_late(months.len());
        let tells = ln <= -CERTAIN.ln() && of_months <= -SIDE.ln();
        tells.then(|| (days.all(), power(ln.max(of_months))))
    });
    let (dates, power) = found?;
    // With two such forms it is not known which of them an import has written.
    let repairs: &[Repair] = match forms.len() {
        1 => &[Repair::HalfSwapped, Repair::None],
        _ => &[Repair::None],
    };
    Some(ask(case, Verdict::Leaning, ImportFinding::FormWithoutLateDays { dates, power }, repairs))
}
