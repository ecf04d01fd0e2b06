//! Rows over time, in a line.

use jiff::civil::{Date, Time};

use super::rows_by_day::RowsByDay;
use super::rows_by_hour::RowsByHour;
use crate::counting::{Per, Slot};
use crate::typed::TypedValue;

/// Counts that follow each other.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Strip {
    /// What each is the count of.
    pub per: Per,
    /// How many of these each is the count of: one, or several years.
    pub step: u32,
    /// The first period, and the last.
    pub ends: [Slot; 2],
    /// Rows, from the first period on.
    pub counts: Vec<u64>,
}

impl Strip {
    /// Of the finest period of which there are so many at most.
    pub(super) fn of_days(days: &RowsByDay, most: u64) -> Option<Strip> {
        let (first, last) = days.ends()?;
        let slots = |per: Per| [per.slot_of(midnight(first)), per.slot_of(midnight(last))];
        let fits = |per: &Per| {
            let [first, last] = slots(*per);
            first.through(last) <= most
        };
        let per = [Per::Day, Per::Month].into_iter().find(fits).unwrap_or(Per::Year);
        let ends = slots(per);
        let periods = ends[0].through(ends[1]);
        let steps = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1_000, 2_000, 5_000];
        let step = steps.into_iter().find(|step| periods.div_ceil((*step).into()) <= most)?;
        let mut counts = vec![0; usize::try_from(periods.div_ceil(step.into())).ok()?];
        for (date, rows, _) in days.iter() {
            let at = (ends[0].through(per.slot_of(midnight(date))) - 1) / u64::from(step);
            let count = usize::try_from(at).ok().and_then(|at| counts.get_mut(at));
            count.into_iter().for_each(|count| *count += rows);
        }
        Some(Strip { per, step, ends, counts })
    }

    pub(super) fn of_hours(clocks: &RowsByHour, most: u64) -> Option<Strip> {
        let slot = |hour: i8| Per::HourOfDay.slot(TypedValue::Time(Time::new(hour, 0, 0, 0).ok()?));
        let ends = [slot(0)?, slot(23)?];
        let counts: Vec<u64> = clocks.hours().iter().map(|own| own.rows).collect();
        (clocks.rows() > 0 && most >= 24).then_some(Strip {
            per: Per::HourOfDay,
            step: 1,
            ends,
            counts,
        })
    }
}

fn midnight(date: Date) -> jiff::civil::DateTime {
    date.at(0, 0, 0, 0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::timeline::Timeline;

    fn strip(days: &[&str]) -> Strip {
        let mut timeline = Timeline::default();
        for (row, day) in (1..).zip(days) {
            timeline.observe(row, TypedValue::Date(day.parse().unwrap()), None);
        }
        timeline.strip(62).unwrap()
    }

    #[test]
    fn a_strip_has_the_finest_period_that_fits() {
        for (days, per, step, counts) in [
            (["2024-03-05", "2024-03-07"], Per::Day, 1, 3),
            (["2024-03-05", "2024-05-05"], Per::Day, 1, 62),
            (["2024-03-05", "2024-05-06"], Per::Month, 1, 3),
            (["1990-03-05", "2024-05-05"], Per::Year, 1, 35),
            (["1900-01-01", "2024-05-05"], Per::Year, 5, 25),
            (["0001-01-01", "9999-12-31"], Per::Year, 200, 50),
        ] {
            let strip = strip(&days);
            assert_eq!(
                (strip.per, strip.step, strip.counts.len()),
                (per, step, counts),
                "{days:?}"
            );
            assert_eq!((strip.counts[0], strip.counts[counts - 1]), (1, 1), "{days:?}");
        }
    }
}
