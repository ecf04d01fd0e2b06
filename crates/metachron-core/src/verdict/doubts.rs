//! Written forms that look like dates and may be something else.

use std::collections::{BTreeMap, BTreeSet};

use super::Reason;
use super::lengths::reads;
use crate::candidates::{Form, Style};
use crate::evidence::{Fits, Group};
use crate::order::Order;

/// Numbers that are taken for dates only where that many valid ones by chance are as improbable.
const BY_CHANCE: f64 = 1e-6;

/// Whether the values of a form are digits alone that may be dates by chance.
pub(super) fn may_be_chance(form: &Form, group: &Group) -> bool {
    // The share of all numbers of so many digits that are valid dates in some order, for the number
    // of digits where it is largest: of seven digits 9 days x 12 months, 9 months x 30.4 days or
    // 365.25 days, of 701 years, in 9,000,000 numbers; of five digits the same of 100 years in 90,000.
    // With a clock, of the minutes of 701 years in 12 digits.
    let share: f64 = match form.style {
        Style::Digits => (9.0 * 12.0 + 9.0 * 30.4 + 365.25) * 701.0 / 9e6,
        Style::DigitsShortYear => (9.0 * 12.0 + 9.0 * 30.4) * 100.0 / 9e4,
        Style::DigitsClock => 701.0 * 365.25 * 1_440.0 / 9e11,
        _ => return false,
    };
    let fitting = group.dates.count(Fits::fits_any);
    let others = group.rows(|fits| !fits.fits_any());
    // Of that many different numbers so many at least: the binomial tail's first term, which is
    // larger than the rest of it together where it matters, with the ways to choose them.
    let all = fitting + others;
    let ways: f64 = (0..others.min(fitting))
        .map(|index| ((all - index) as f64 / (index + 1) as f64).ln())
        .sum();
    ways + fitting as f64 * share.ln() > BY_CHANCE.ln()
}

/// Whether dates of digits alone, the year first, run 1, 2, … in every month and never reach its
/// end: they may be running numbers behind a year and a month.
fn runs_on_from_one(group: &Group) -> bool {
    let mut months: BTreeMap<(i16, i16), BTreeSet<i16>> = BTreeMap::new();
    for ([year, month, day], _) in group.dates.iter().filter(|(_, fits)| fits.fits(Order::Ymd)) {
        months.entry((year, month)).or_default().insert(day);
    }
    let runs = |days: &BTreeSet<i16>| days.iter().copied().eq(1..=days.len() as i16);
    months.values().all(|days| runs(days) && days.len() < 28)
        && months.values().any(|days| days.len() > 1)
}

/// What the values of a form may be instead, though only this order is left.
pub(super) fn doubt(form: &Form, group: &Group, order: Order) -> Option<Reason> {
    let unfit = |fits: Fits| !reads(form.style, fits);
    let (rows, lowest) = (group.rows(unfit), group.lowest(unfit).cloned());
    match lowest {
        _ if form.style == Style::Digits && order == Order::Ymd => {
            runs_on_from_one(group).then_some(Reason::RunningNumbers)
        }
        // `13/2024` beside `7/2024`: numbers of a year rather than its months.
        Some(lowest) if matches!(form.style, Style::Coarse | Style::CoarseOpen) => {
            Some(Reason::MayBeNumbers { rows, lowest })
        }
        // A clock ends at 24: what goes beyond may have been measured, not read off.
        Some(lowest) if form.style == Style::Time => Some(Reason::MayBeDurations { rows, lowest }),
        _ if form.style == Style::CoarseOpen => Some(Reason::DayOrYearAlone),
        _ => None,
    }
}
