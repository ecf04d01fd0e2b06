//! Odds that numbers behind a month or a year count up from one, and are no days of it.

use std::collections::{BTreeMap, BTreeSet};

use super::days::FEW;

/// The logarithm of how much likelier these numbers, by the month or year behind which they stand, are if they count up
/// from 1 in each of them, some of them missing, than if they are days of it. Honest days are any days, a stretch of
/// time, or always the same few. `length` is how many days a month or year has.
pub(crate) fn ln_run_on(numbers: &BTreeMap<i32, BTreeSet<i16>>, length: f64) -> f64 {
    let all: f64 = numbers.values().map(|own| own.len() as f64).sum();
    let last = |own: &BTreeSet<i16>| own.last().map_or(0.0, |last| f64::from(*last));
    let tops: f64 = numbers.values().map(last).sum();
    let places = numbers.len() as f64;
    // How far they go must be known of each.
    let running = ln_there(all, tops) - places * length.ln();
    let any = ln_there(all, places * length);
    // Where a stretch of time begins and ends must be known.
    let at = |(place, number): (&i32, &i16)| f64::from(*place) * length + f64::from(*number);
    let ends = |(place, own): (&i32, &BTreeSet<i16>)| {
        Some((at((place, own.first()?)), at((place, own.last()?))))
    };
    let begins = numbers.first_key_value().and_then(ends).map_or(0.0, |(first, _)| first);
    let stops = numbers.last_key_value().and_then(ends).map_or(0.0, |(_, last)| last);
    let stretch = ln_there(all, stops - begins + 1.0) - 2.0 * length.ln();
    let kinds = numbers.values().flatten().collect::<BTreeSet<_>>().len();
    let few = match kinds {
        ..=FEW => ln_there(all, places * kinds as f64) - kinds as f64 * length.ln(),
        _ => f64::NEG_INFINITY,
    };
    running - any.max(stretch).max(few)
}

/// The logarithm of the likelihood that just these are there of all that there could be, the share that is there being
/// that which fits best.
fn ln_there(there: f64, all: f64) -> f64 {
    let missing = (all - there).max(0.0);
    let part =
        |count: f64| if count > 0.0 { count * (count / (there + missing)).ln() } else { 0.0 };
    part(there) + part(missing)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn months(days: impl Fn(i32) -> Vec<i16>, count: i32) -> f64 {
        let all = (0..count).map(|month| (month, days(month).into_iter().collect())).collect();
        ln_run_on(&all, 30.4)
    }

    #[test]
    fn numbers_that_begin_anew_in_each_month_run_on() {
        assert!(months(|month| (1..=4 + month as i16 % 5).collect(), 12) > 50.0);
        // Every fifth is missing.
        assert!(
            months(|month| (1..=20).filter(|n| (n + month as i16) % 5 > 0).collect(), 6) > 10.0
        );
        assert!(months(|_| (1..=12).collect(), 1) > 3.0);
    }

    #[test]
    fn days_do_not() {
        assert!(months(|_| vec![1], 24) < 0.0);
        assert!(months(|_| vec![1, 15], 24) < 0.0);
        assert!(months(|_| (1..=30).collect(), 1) < 0.0);
        // From the first of a month to the ninth of the next.
        assert!(months(|month| (1..=if month == 0 { 30 } else { 9 }).collect(), 2) < 10_f64.ln());
        assert!(
            months(|month| (0..4).map(|week| 7 * week + 1 + month as i16 % 7).collect(), 12) < 0.0
        );
    }
}
