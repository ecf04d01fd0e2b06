//! Numbers that run on from one within each month, or beyond what a year has, and are no dates.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;

use crate::candidates::Style;
use crate::evidence::{Group, Occurrences};
use crate::order::Alternative;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State, reads};
use crate::verdict::found::Found;
use crate::verdict::odds::{DAYS_OF_MONTH, DAYS_OF_YEAR, date_of, exceed_typing_errors, ln_run_on};
use crate::verdict::ruled_out::RuledOut;

/// So much likelier that they are running numbers that it is worth a question: a dozen in one month are.
const LIKELIER: f64 = 10.0;
/// The first number is that at most, where some are missing.
const FIRST: i16 = 3;
/// The last day of the longest months.
const LAST: i16 = 31;
/// A number behind it that is larger by so much does not just go on.
const BEYOND: i16 = 15;

/// Forms that are decided, and may be running numbers.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    // An import that took years for days has shown that they are years.
    let shown =
        |style| style == Style::CoarseOpen && case.asserted.repair == Some(Repair::MonthYear);
    let forms = case.forms.iter().enumerate();
    let forms = forms.filter(|(_, form)| case.may_be_none() && !shown(form.style()));
    forms
        .filter_map(|(at, form)| Some(Found::doubt(at, doubt(case, form)?).or_told(case)))
        .collect()
}

fn doubt(case: &Case<'_>, form: &JudgedForm<'_>) -> Option<Finding> {
    let State::Decided(order) = form.state else { return None };
    let (style, group) = (form.style(), form.group);
    let unfit = group.occurrences(|fits| !reads(style, fits));
    let are_many = exceed_typing_errors(unfit.rows, unfit.rows + form.rows());
    let may_be_numbers = match (style, order) {
        (Style::Digits, Alternative::Ymd) if runs_on_from_one(group) => {
            return Some(Finding::RunningNumbers { in_years: false });
        }
        (Style::Digits, Alternative::Ordinal) | (Style::Machine, Alternative::Only)
            if years_run_on_from_one(group, order) =>
        {
            return Some(Finding::RunningNumbers { in_years: true });
        }
        // Those that are dates may be so by chance.
        (Style::Digits, _) => are_many || (order == Alternative::Ymd && goes_beyond(group, &unfit)),
        (Style::Coarse | Style::CoarseOpen, _) => match seasons(group) {
            Some(seasons) => return Some(Finding::Seasons(seasons)),
            // `13/2024` beside `7/2024`: numbers of a year rather than its months. Where layouts have read such values
            // before, a few are typing errors.
            None if case.is_of_forms() => unfit.rows > 0,
            None => are_many,
        },
        _ => false,
    };
    may_be_numbers.then_some(Finding::MayBeNumbers(unfit))
}

/// Different values such as `2003/04`, if the second number is that of the year behind the first in all of them: a
/// season, and no month.
fn seasons(group: &Group) -> Option<u64> {
    let follows = |[_, month, year]: [i16; 3]| month == (year + 1).rem_euclid(100);
    let all = || group.dates.iter().filter(|(_, fits)| fits.fits_any());
    let seasons = all().filter(|(written, _)| follows(*written)).count() as u64;
    (seasons >= 2 && seasons == all().count() as u64).then_some(seasons)
}

/// Whether dates of digits alone, the year first, run 1, 2, … in every month: they may be running numbers behind a year
/// and a month. Some numbers may be missing.
pub(super) fn runs_on_from_one(group: &Group) -> bool {
    run_on(&months(group), DAYS_OF_MONTH)
}

/// The numbers behind each year and month.
fn months(group: &Group) -> BTreeMap<i32, BTreeSet<i16>> {
    let mut months: BTreeMap<i32, BTreeSet<i16>> = BTreeMap::new();
    let own = group.dates.iter().filter(|(_, fits)| fits.fits(Alternative::Ymd));
    for ([year, month, day], _) in own {
        months.entry(i32::from(year) * 12 + i32::from(month)).or_default().insert(day);
    }
    months
}

/// Whether all months begin as numbers that run on do, and the first value that is no date goes on behind the last day
/// of one: `20240132`. Of typing errors hardly one in a hundred does.
fn goes_beyond(group: &Group, unfit: &Occurrences) -> bool {
    let begin = |own: &BTreeSet<i16>| own.first() <= Some(&FIRST);
    let value = unfit.first.as_ref().map_or("", |first| first.value.trim());
    let number = |places: Range<usize>| value.get(places).and_then(|own| own.parse::<i16>().ok());
    let is_beyond = value.len() == 8
        && number(4..6).is_some_and(|month| (1..=12).contains(&month))
        && number(6..8).is_some_and(|number| (LAST + 1..LAST + BEYOND).contains(&number));
    is_beyond && months(group).values().all(begin)
}

/// The same of days of the year: `2024-001`, `2024-002`, or without a dash.
fn years_run_on_from_one(group: &Group, order: Alternative) -> bool {
    let mut years: BTreeMap<i32, BTreeSet<i16>> = BTreeMap::new();
    for (written, _) in group.dates.iter().filter(|(_, fits)| fits.fits(order)) {
        if let Some(date) = date_of(written, order, None) {
            years.entry(date.year().into()).or_default().insert(date.day_of_year());
        }
    }
    run_on(&years, DAYS_OF_YEAR)
}

fn run_on(numbers: &BTreeMap<i32, BTreeSet<i16>>, days: f64) -> bool {
    numbers.values().any(|own| own.len() > 1) && ln_run_on(numbers, days) > LIKELIER.ln()
}

/// Months of dates in digits that do not begin as running numbers do.
pub(super) fn ruled_out(case: &Case<'_>) -> Option<RuledOut> {
    let of_digits = |form: &&JudgedForm<'_>| {
        form.style() == Style::Digits && form.state == State::Decided(Alternative::Ymd)
    };
    let months =
        case.forms.iter().filter(of_digits).map(|form| {
            months(form.group).values().filter(|own| own.first() > Some(&FIRST)).count()
        });
    let months = months.sum::<usize>() as u64;
    (months > 0).then_some(RuledOut::RunningNumbers { months })
}
