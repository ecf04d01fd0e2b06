//! Numbers that run on from one within each month, or beyond what a year has, and are no dates.

use std::collections::{BTreeMap, BTreeSet};

use crate::candidates::Style;
use crate::evidence::Group;
use crate::order::Alternative;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State, reads};
use crate::verdict::found::Found;

/// Days that every month has: running numbers that reach so far may be days.
const DAYS: usize = 28;

/// Forms that are decided, and may be running numbers.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    // An import that took years for days has shown that they are years.
    let shown =
        |style| style == Style::CoarseOpen && case.asserted.repair == Some(Repair::MonthYear);
    let forms = case.forms.iter().enumerate();
    let forms = forms.filter(|(_, form)| case.may_doubt() && !shown(form.style()));
    forms.filter_map(|(at, form)| Some(Found::doubt(at, doubt(form)?))).collect()
}

fn doubt(form: &JudgedForm<'_>) -> Option<Finding> {
    let State::Decided(alternative) = form.state else { return None };
    match form.style() {
        Style::Digits if alternative == Alternative::Ymd => {
            runs_on_from_one(form.group).then_some(Finding::RunningNumbers)
        }
        // `13/2024` beside `7/2024`: numbers of a year rather than its months.
        Style::Coarse | Style::CoarseOpen => {
            let unfit = form.group.occurrences(|fits| !reads(form.style(), fits));
            (unfit.rows > 0).then_some(Finding::MayBeNumbers(unfit))
        }
        _ => None,
    }
}

/// Whether dates of digits alone, the year first, run 1, 2, … in every month and never reach its
/// end: they may be running numbers behind a year and a month.
fn runs_on_from_one(group: &Group) -> bool {
    let mut months: BTreeMap<(i16, i16), BTreeSet<i16>> = BTreeMap::new();
    for ([year, month, day], _) in
        group.dates.iter().filter(|(_, fits)| fits.fits(Alternative::Ymd))
    {
        months.entry((year, month)).or_default().insert(day);
    }
    let runs = |days: &BTreeSet<i16>| days.iter().copied().eq(1..=days.len() as i16);
    months.values().all(|days| runs(days) && days.len() < DAYS)
        && months.values().any(|days| days.len() > 1)
}
