//! `Apr-22`: the two digits beside a month's name are likely a year, and could be a day whose year is missing.

use crate::candidates::Style;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{State, reads};
use crate::verdict::found::Found;

/// Months with two digits beside them, all of which exist.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    // An import that took the year for a day has shown that it is one.
    if !case.may_doubt() || case.asserted.repair == Some(Repair::MonthYear) {
        return Vec::new();
    }
    let is_open = |style, state| style == Style::CoarseOpen && matches!(state, State::Decided(_));
    let forms = case.forms.iter().enumerate().filter(|(_, form)| {
        is_open(form.style(), form.state) && form.group.rows(|fits| !reads(form.style(), fits)) == 0
    });
    forms.map(|(at, _)| Found::doubt(at, Finding::DayOrYearAlone)).collect()
}
