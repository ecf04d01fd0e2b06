//! Not a single day above 12 among many different dates that have one reading each. Whoever takes days for months
//! cannot read the others: they may be lost, and those that are left exchanged.

use super::marks::{Marks, dates_shown};
use super::month_year;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::odds::{DaysOfMonth, LN_CERTAIN};

/// Dates that are early in their month, all of them.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_forms() || case.asserted.repair.is_some() {
        return Vec::new();
    }
    let dates = dates_shown(case);
    let days: DaysOfMonth = dates.iter().map(|[.., day]| *day).collect();
    let ln = days.ln_without_late();
    if ln > -LN_CERTAIN || Marks::of(case).are_there() || month_year::is_shown(case) {
        return Vec::new();
    }
    let finding = ImportFinding::NoLateDays {
        dates: days.all(),
        missing: case.evidence.missing,
        power: (-ln / std::f64::consts::LN_10) as u32,
    };
    let ways = [Settle::Repair(Repair::None, Vec::new())];
    vec![Found::ask(Verdict::Leaning, finding, ways)]
}
