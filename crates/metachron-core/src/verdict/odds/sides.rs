//! Odds that days of the month are something else: the months of dates whose day and month were exchanged, or what
//! such an exchange has left.
//!
//! All are natural logarithms of how much likelier the different dates of one side are if harm was done than if
//! none was, each explanation taken at its best (likelihood ratio). Honest days are any days of the month, or always
//! the same few: starts of months, the 1st and the 15th. A harmed side may have a share of exceptions, up to one
//! half: rows that were typed again, or were right.

use std::collections::BTreeSet;
use std::ops::Range;

use super::days::{DAYS_OF_MONTH, FEW};
use crate::evidence::DaysOfMonth;

/// So much likelier that nobody can doubt it.
pub(crate) const CERTAIN: f64 = 1e6;
/// So much likelier of one of two sides.
pub(crate) const SIDE: f64 = 1e3;
/// So much likelier that it is worth a question, as four dates and four texts are.
pub(crate) const LEAN: f64 = 300.0;
/// How much likelier harm is beforehand where the same import has harmed another column of the table.
pub(crate) const BESIDE: f64 = 1e5;

/// The share of days that could be a month.
const EARLY: f64 = 12.0 / DAYS_OF_MONTH;
/// Shares of exceptions that are tried.
const EXCEPTIONS: [f64; 8] = [0.0, 0.02, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5];

/// That these days are the months of an exchange, and not days.
pub(crate) fn ln_exchanged(dates: &DaysOfMonth) -> f64 {
    ln_among(dates, 0..12) - ln_honest(dates)
}

/// That these dates are what an exchange has left: those whose day is no month.
pub(crate) fn ln_left(dates: &DaysOfMonth) -> f64 {
    ln_among(dates, 12..31) - ln_honest(dates)
}

/// The logarithm of the probability that honest dates have no day above 12; certain where some have, or where they
/// are always on the same few days.
pub(crate) fn ln_without_late(dates: &DaysOfMonth) -> f64 {
    let kinds = dates.by_day().iter().filter(|count| **count > 0).count();
    let tells = dates.late() == 0 && kinds > FEW;
    if tells { weighted(dates.all(), EARLY.ln()) } else { 0.0 }
}

/// The same of so many months, were the days of each of them early together, as days are that follow each other.
pub(crate) fn ln_months_without_late(months: usize) -> f64 {
    months as f64 * EARLY.ln()
}

/// Any days, or always the same few.
fn ln_honest(dates: &DaysOfMonth) -> f64 {
    weighted(dates.all(), -DAYS_OF_MONTH.ln()).max(ln_few(dates, 0..31))
}

/// Any of these days, apart from exceptions, or always the same few of them.
fn ln_among(dates: &DaysOfMonth, days: Range<usize>) -> f64 {
    let inside: u64 = dates.by_day()[days.clone()].iter().sum();
    let size = if days.end == 31 { DAYS_OF_MONTH - days.start as f64 } else { days.len() as f64 };
    ln_mostly(inside, dates.all() - inside, size).max(ln_few(dates, days))
}

/// Always the same few of these days, apart from exceptions; it must be known which they are.
fn ln_few(dates: &DaysOfMonth, days: Range<usize>) -> f64 {
    let of = days.len() as f64;
    let counts = dates.by_day()[days].iter().copied().filter(|own| *own > 0);
    let mut counts: Vec<u64> = counts.collect();
    counts.sort_unstable_by(|a, b| b.cmp(a));
    let few = |kinds: usize| {
        let inside: u64 = counts[..kinds].iter().sum();
        ln_mostly(inside, dates.all() - inside, kinds as f64) - kinds as f64 * of.ln()
    };
    (1..=FEW.min(counts.len())).map(few).fold(f64::NEG_INFINITY, f64::max)
}

/// The logarithm of the likelihood of dates of which so many are among so many days, and others are exceptions that
/// may have any day; the share of those is that which fits best.
fn ln_mostly(inside: u64, outside: u64, days: f64) -> f64 {
    let ln = |exceptions: f64| {
        weighted(inside, ((1.0 - exceptions) / days + exceptions / DAYS_OF_MONTH).ln())
            + weighted(outside, (exceptions / DAYS_OF_MONTH).ln())
    };
    EXCEPTIONS.into_iter().map(ln).fold(f64::NEG_INFINITY, f64::max)
}

/// Nothing that did not happen is improbable.
fn weighted(count: u64, ln: f64) -> f64 {
    if count == 0 { 0.0 } else { count as f64 * ln }
}

/// Shares of dates that may lie outside the time of the others.
const OUTSIDE: [f64; 6] = [0.02, 0.1, 0.2, 0.3, 0.4, 0.5];

/// That dates lie in these months, counted from any one, where the others of the column lie in those, all of them
/// within so many months: in the time of the others, or in one of their own.
pub(crate) fn ln_in_time(months: &[i32], others: &[i32], within: f64) -> f64 {
    let span = |months: &[i32]| Some((*months.iter().min()?, *months.iter().max()?));
    let (Some(own), Some((from, to))) = (span(months), span(others)) else { return 0.0 };
    let size = |(first, last): (i32, i32)| f64::from(last - first + 1);
    let inside = months.iter().filter(|month| (from..=to).contains(month)).count() as u64;
    let outside = months.len() as u64 - inside;
    let ln = |share: f64| {
        weighted(inside, ((1.0 - share) / size((from, to))).ln())
            + weighted(outside, (share / within).ln())
    };
    let in_that_of_the_others = OUTSIDE.into_iter().map(ln).fold(f64::NEG_INFINITY, f64::max);
    // Where its own time begins and ends must be known.
    let in_its_own = -size(own).ln() * months.len() as f64 - 2.0 * within.ln();
    in_that_of_the_others.max(in_its_own)
}

/// That the days of these different dates (year, month, day) are a short run of years, each in any month, and not
/// days of the time in which the dates lie.
pub(crate) fn ln_short_run(dates: &BTreeSet<[i16; 3]>) -> f64 {
    let all = dates.len() as f64;
    let years: BTreeSet<i16> = dates.iter().map(|[year, ..]| *year).collect();
    let days: BTreeSet<i16> = dates.iter().map(|[.., day]| *day).collect();
    let (Some(first), Some(last)) = (days.first(), days.last()) else { return 0.0 };
    let run = f64::from(last - first + 1);
    // Where the run begins and ends must be known.
    let harmed = -all * (12.0 * run * years.len() as f64).ln() - 2.0 * DAYS_OF_MONTH.ln();
    let day = |[year, month, day]: &[i16; 3]| {
        (f64::from(*year) * 12.0 + f64::from(*month)) * DAYS_OF_MONTH + f64::from(*day)
    };
    let (earliest, latest) =
        dates.iter().map(day).fold((f64::MAX, f64::MIN), |(a, b), day| (a.min(day), b.max(day)));
    let spread = -all * (latest - earliest + 1.0).ln();
    // Always on the same few days; on days that follow each other not more than once a month.
    let months: BTreeSet<[i16; 2]> = dates.iter().map(|[year, month, _]| [*year, *month]).collect();
    let (kinds, is_apart) = (days.len(), (days.len() as f64) < run);
    let few = match kinds {
        1..=FEW if kinds == 1 || is_apart || dates.len() <= months.len() => {
            let cells = kinds as f64 * 12.0 * years.len() as f64;
            -all * cells.ln() - kinds as f64 * DAYS_OF_MONTH.ln()
        }
        _ => f64::NEG_INFINITY,
    };
    harmed - spread.max(few)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn days(all: impl IntoIterator<Item = i16>) -> DaysOfMonth {
        all.into_iter().collect()
    }

    #[test]
    fn days_that_never_go_beyond_twelve_are_months() {
        let months = days((0..120).map(|at| at % 12 + 1));
        assert!(ln_exchanged(&months) > 40.0, "{}", ln_exchanged(&months));
        // One in ten was typed again.
        let retyped = days((0..120).map(|at| if at % 10 == 0 { 28 } else { at % 12 + 1 }));
        assert!(ln_exchanged(&retyped) > 20.0, "{}", ln_exchanged(&retyped));
    }

    #[test]
    fn honest_days_are_not() {
        for honest in [
            days((0..120).map(|at| at % 28 + 1)),
            days((0..120).map(|_| 1)),
            days((0..120).map(|at| if at % 2 == 0 { 1 } else { 15 })),
            days((0..120).map(|at| 28 + at % 4)),
        ] {
            assert!(ln_exchanged(&honest) < 2.0, "{}", ln_exchanged(&honest));
            assert!(ln_left(&honest) < 5.0, "{}", ln_left(&honest));
        }
    }

    #[test]
    fn dates_lie_in_the_time_of_the_others_or_in_one_of_their_own() {
        let others: Vec<i32> = (0..60).map(|at| 24_000 + at % 3).collect();
        let all_year: Vec<i32> = (0..24).map(|at| 24_000 - 4 + at % 12).collect();
        let beside: Vec<i32> = (0..24).map(|at| 24_000 + at % 3).collect();
        let earlier: Vec<i32> = (0..24).map(|at| 23_990 + at % 2).collect();
        let ln = |months: &[i32]| ln_in_time(months, &others, 24.0);
        assert!(ln(&beside) > ln(&all_year) + 20.0 && ln(&earlier) > ln(&all_year) + 20.0);
    }
}
