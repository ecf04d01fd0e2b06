//! How the values of a column lie in time once they are read: what shows at a glance whether they can be right.
//!
//! A [`Timeline`] is what rows add up to, in memory that does not grow with them. What needs the values in the order of
//! time, [`Spacing`], is added up of values that were sorted before.
//!
//! ```
//! use jiff::civil::date;
//! use metachron_core::timeline::Timeline;
//! use metachron_core::typed::TypedValue;
//!
//! let mut timeline = Timeline::default();
//! for (row, day) in (1..).zip([date(2024, 3, 5), date(2024, 3, 7), date(2024, 3, 5)]) {
//!     timeline.observe(row, TypedValue::Date(day), None);
//! }
//! let [earliest, latest] = timeline.ends().unwrap();
//! assert_eq!((earliest.row, latest.value.to_string()), (1, "2024-03-07".to_owned()));
//! assert_eq!(timeline.different(), Some(2));
//! assert_eq!(timeline.strip(62).unwrap().counts, [2, 0, 1]);
//! ```

mod different;
mod rows_by_day;
mod rows_by_hour;
mod strip;
mod signs;
mod row_order;
mod spacing;
mod requirement;
mod named_period;

use jiff::civil::DateTime;
use jiff::tz::Offset;

use crate::typed::TypedValue;
use crate::zone::Clock;

pub use different::RowsOfValue;
pub use named_period::NamedPeriod;
pub use requirement::{NoRequirement, Range, Requirement};
pub use row_order::{RowOrder, Turn};
pub use rows_by_day::{Apart, Remote, RowsByDay};
pub use rows_by_hour::{OfHour, RowsByHour};
pub use signs::{ShortMonth, SignKind, Spike, StandInHour};
pub use spacing::{Gap, Holes, Repeats, Rule, Spacing, Step, Steps, clock_at, place};
pub use strip::Strip;

use different::Different;

/// A value and its row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Seen {
    /// The first row that has it; the first of the table is 1.
    pub row: u64,
    /// The value.
    pub value: TypedValue,
}

/// How the values of a column lie in time.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Timeline {
    /// The earliest and the latest.
    ends: Option<[Seen; 2]>,
    different: Different,
    /// The rows of each day; of times and lengths of time none.
    pub days: RowsByDay,
    /// The hours of the day; of what has no clock time none.
    pub clocks: RowsByHour,
    /// Whether the rows follow each other in time.
    pub order: RowOrder<TypedValue>,
}

impl Timeline {
    /// Takes in the value of a row; rows come in their order. The days and hours of moments are those that this clock
    /// shows, or else UTC.
    pub fn observe(&mut self, row: u64, value: TypedValue, clock: Option<Clock>) {
        self.follow(row, value);
        self.add(RowsOfValue::one(row, value), clock);
    }

    /// Takes in that a row follows the one before it, and nothing else of its value: that comes with
    /// [`add`](Timeline::add).
    pub fn follow(&mut self, row: u64, value: TypedValue) {
        self.order.observe(row, &value);
    }

    /// Takes in rows of a value, apart from how they [`follow`](Timeline::follow) others: of whatever value first.
    ///
    /// ```
    /// use metachron_core::timeline::{RowsOfValue, Timeline};
    /// use metachron_core::typed::TypedValue;
    ///
    /// let (mut at_once, mut by_value) = (Timeline::default(), Timeline::default());
    /// let day = |day| TypedValue::Date(jiff::civil::date(2024, 3, day));
    /// for (row, value) in [(1, day(7)), (2, day(5)), (3, day(7))] {
    ///     at_once.observe(row, value, None);
    ///     by_value.follow(row, value);
    /// }
    /// by_value.add(RowsOfValue { value: day(5), first: 2, second: None, rows: 1 }, None);
    /// by_value.add(RowsOfValue { value: day(7), first: 1, second: Some(3), rows: 2 }, None);
    /// assert_eq!(at_once, by_value);
    /// ```
    pub fn add(&mut self, rows: RowsOfValue, clock: Option<Clock>) {
        let value = rows.value;
        self.widen([Seen { row: rows.first, value }; 2]);
        self.different.add(rows);
        let shown = shown(value, clock);
        if let Some(day) = shown.map(DateTime::date).or_else(|| value.date()) {
            self.days.note(day, rows.rows, rows.first);
        }
        let time = match value {
            TypedValue::Time(time) => Some(time),
            _ => shown.map(DateTime::time),
        };
        if let Some(time) = time {
            self.clocks.note(time, rows.rows, rows.first);
        }
    }

    /// Adds an earliest and a latest value.
    fn widen(&mut self, [other_first, other_last]: [Seen; 2]) {
        let Some([first, last]) = &mut self.ends else {
            self.ends = Some([other_first, other_last]);
            return;
        };
        // Of equal ones the first row counts.
        if (other_first.value, other_first.row) < (first.value, first.row) {
            *first = other_first;
        }
        if (other_last.value, last.row) > (last.value, other_last.row) {
            *last = other_last;
        }
    }

    /// The same with the rows that come after these.
    #[must_use]
    pub fn join(mut self, next: Timeline) -> Timeline {
        next.ends.into_iter().for_each(|ends| self.widen(ends));
        self.different.join(next.different);
        self.days.join(next.days);
        self.clocks.join(next.clocks);
        self.order.join(next.order);
        self
    }

    /// The earliest and the latest value, each with the first row that has it; none of no rows.
    pub fn ends(&self) -> Option<[Seen; 2]> {
        self.ends
    }

    /// How many different values there are; none where they are more than [`Timeline::MOST_DIFFERENT`].
    pub fn different(&self) -> Option<u64> {
        self.different.count()
    }

    /// The rows of each different value, in the order of time; none where these are more than
    /// [`Timeline::MOST_DIFFERENT`].
    pub fn by_value(&self) -> Option<Vec<RowsOfValue>> {
        self.different.in_order()
    }

    /// More different values than these are not told apart.
    pub const MOST_DIFFERENT: usize = different::MOST;

    /// The rows over time, in so many counts at most; none where the values are of no day and no hour, or that is too
    /// little.
    pub fn strip(&self, most: u64) -> Option<Strip> {
        Strip::of_days(&self.days, most).or_else(|| Strip::of_hours(&self.clocks, most))
    }
}

/// What a clock shows at a value that has a day and a time.
pub fn shown(value: TypedValue, clock: Option<Clock>) -> Option<DateTime> {
    match value {
        TypedValue::DateTime(clock) => Some(clock),
        TypedValue::Instant(moment) => {
            Some(clock.map_or_else(|| Offset::UTC.to_datetime(moment), |own| own.shows(moment)))
        }
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::{Date, date, time};
    use proptest::prelude::*;

    use super::*;

    fn days(range: std::ops::Range<i64>) -> impl Strategy<Value = Date> {
        range.prop_map(|days| date(2024, 1, 1).saturating_add(jiff::Span::new().days(days)))
    }

    fn values() -> impl Strategy<Value = Vec<TypedValue>> {
        let of_days = days(-40..400).prop_map(TypedValue::Date);
        let clocks = (days(0..90), 0_i8..24, 0_i8..3)
            .prop_map(|(day, hour, minute)| TypedValue::DateTime(day.at(hour, minute * 20, 0, 0)));
        let times = (0_i8..24).prop_map(|hour| TypedValue::Time(time(hour, 30, 0, 0)));
        prop_oneof![
            prop::collection::vec(of_days, 0..60),
            prop::collection::vec(clocks, 0..60),
            prop::collection::vec(times, 0..60),
        ]
    }

    fn timeline(values: &[TypedValue], first: u64) -> Timeline {
        let mut timeline = Timeline::default();
        for (row, value) in (first..).zip(values) {
            timeline.observe(row, *value, None);
        }
        timeline
    }

    proptest! {
        #[test]
        fn rows_that_were_cut_add_up_to_the_whole(values in values(), cuts in [0_usize..60, 0_usize..60]) {
            let mut cuts = cuts.map(|cut| cut.min(values.len()));
            cuts.sort_unstable();
            let part = |from: usize, to: usize| timeline(&values[from..to], from as u64 + 1);
            let [first, second, third] = [part(0, cuts[0]), part(cuts[0], cuts[1]), part(cuts[1], values.len())];
            let whole = timeline(&values, 1);
            prop_assert_eq!(&first.clone().join(second.clone()).join(third.clone()), &whole);
            prop_assert_eq!(&first.join(second.join(third)), &whole);
        }

        /// Values that were told apart have the steps that rows in the order of time have.
        #[test]
        fn values_in_their_order_are_sorted_rows(values in values()) {
            let by_value = timeline(&values, 1).by_value().unwrap();
            let (mut of_values, mut of_rows) = (Spacing::new(&[]), Spacing::new(&[]));
            for own in by_value {
                of_values.observe_all(&own, shown(own.value, None));
            }
            let mut rows: Vec<(TypedValue, u64)> = values.into_iter().zip(1..).collect();
            rows.sort();
            for (value, row) in rows {
                of_rows.observe(Seen { row, value }, shown(value, None));
            }
            prop_assert_eq!(of_values, of_rows);
        }

        /// A sort key sorts as its value does, and tells it.
        #[test]
        fn sort_keys_are_their_values(values in values(), lengths in prop::collection::vec((any::<i64>(), -99_i64..99), 0..40)) {
            let length = |(nanos, months): (i64, i64)| {
                let months = crate::duration::Duration::of(months, crate::duration::Unit::Months(1)).unwrap();
                let nanos = crate::duration::Duration::of_nanos(nanos.into()).unwrap();
                TypedValue::Duration(months.plus(nanos).unwrap())
            };
            for mut all in [values, lengths.into_iter().map(length).collect()] {
                let key = |own: &TypedValue| {
                    let mut key = Vec::new();
                    own.sort_key(&mut key);
                    key
                };
                let mut keys: Vec<Vec<u8>> = all.iter().map(key).collect();
                keys.sort();
                all.sort();
                let told = all.first().map(|own| own.kind()).into_iter().flat_map(|kind| {
                    keys.iter().map(move |key| TypedValue::of_sort_key(kind, key).unwrap())
                });
                prop_assert_eq!(told.collect::<Vec<_>>(), all);
            }
        }

        #[test]
        fn a_timeline_is_what_its_values_are(values in values()) {
            let timeline = timeline(&values, 1);
            let ends = timeline.ends().map(|ends| ends.map(|own| own.value));
            prop_assert_eq!(ends, values.iter().min().zip(values.iter().max()).map(|(a, b)| [*a, *b]));
            let mut different = values.clone();
            different.sort();
            different.dedup();
            prop_assert_eq!(timeline.different(), Some(different.len() as u64));
            let falls = values.windows(2).filter(|pair| pair[1] < pair[0]).count() as u64;
            prop_assert_eq!(timeline.order.falls.count, falls);
            if let Some(strip) = timeline.strip(62) {
                prop_assert!(strip.counts.len() <= 62);
                prop_assert_eq!(strip.counts.iter().sum::<u64>(), values.len() as u64);
            }
        }
    }
}
