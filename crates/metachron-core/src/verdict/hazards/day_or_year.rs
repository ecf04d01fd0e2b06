//! `Apr-22`: the two digits beside a month's name are likely a year, and could be a day whose year is missing, unless some
//! are beyond any day: `Apr-84`.

use crate::candidates::Style;
use crate::evidence::Group;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{State, reads};
use crate::verdict::found::Found;
use crate::verdict::odds::exceed_typing_errors;

/// Months with two digits beside them, all of which exist.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    // An import that took the year for a day has shown that it is one.
    if !case.may_doubt() || case.asserted.repair == Some(Repair::MonthYear) {
        return Vec::new();
    }
    let is_open = |style, state| style == Style::CoarseOpen && matches!(state, State::Decided(_));
    let forms = case.forms.iter().enumerate().filter(|(_, form)| {
        is_open(form.style(), form.state)
            && form.group.rows(|fits| !reads(form.style(), fits)) == 0
            && !are_years(form.group)
    });
    forms.map(|(at, _)| Found::doubt(at, Finding::DayOrYearAlone)).collect()
}

/// Whether numbers that no day has are more than typing errors.
fn are_years(group: &Group) -> bool {
    let no_day = |[_, _, short]: [i16; 3]| !(1..=31).contains(&short);
    let years = group.dates.iter().filter(|(written, _)| no_day(*written)).count() as u64;
    exceed_typing_errors(years, group.dates.iter().count() as u64)
}
