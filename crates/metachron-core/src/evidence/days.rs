//! How often each day of the month occurs.

use std::iter::Sum;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;

/// Rows, or different dates, by day of the month, whatever their month and year.
///
/// ```
/// use metachron_core::evidence::DaysOfMonth;
/// let days: DaysOfMonth = [3, 3, 28].into_iter().collect();
/// assert_eq!((days.all(), days.early(), days.late()), (3, 2, 1));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct DaysOfMonth([u64; 31]);

/// Days of the month that can be a month.
const EARLY: usize = 12;

impl DaysOfMonth {
    pub(super) fn note(&mut self, date: Date) {
        self.note_all(1, date);
    }

    /// So many on this day.
    pub(super) fn note_all(&mut self, rows: u64, date: Date) {
        self.add(rows, date.day().into());
    }

    fn add(&mut self, rows: u64, day: i16) {
        let place = usize::try_from(day - 1).ok().and_then(|at| self.0.get_mut(at));
        place.into_iter().for_each(|count| *count += rows);
    }

    /// The counts, from the first of the month on.
    pub fn by_day(&self) -> &[u64; 31] {
        &self.0
    }

    /// All of them.
    pub fn all(&self) -> u64 {
        self.0.iter().sum()
    }

    /// Those with a day above 12.
    pub fn late(&self) -> u64 {
        self.0[EARLY..].iter().sum()
    }

    /// Those whose day could be a month.
    pub fn early(&self) -> u64 {
        self.all() - self.late()
    }

    /// So many, shared out as these are.
    ///
    /// ```
    /// use metachron_core::evidence::DaysOfMonth;
    /// let rows: DaysOfMonth = [1, 1, 1, 1, 28, 28].into_iter().collect();
    /// assert_eq!(rows.shared_out(3), [1, 1, 28].into_iter().collect());
    /// ```
    #[must_use]
    pub fn shared_out(&self, count: u64) -> DaysOfMonth {
        let all = self.all().max(1) as f64;
        DaysOfMonth(self.0.map(|own| (own as f64 * count as f64 / all).round() as u64))
    }
}

impl AddsUp for DaysOfMonth {
    fn add_up(&mut self, other: DaysOfMonth) {
        self.0.add_up(other.0);
    }
}

impl FromIterator<i16> for DaysOfMonth {
    fn from_iter<I: IntoIterator<Item = i16>>(days: I) -> DaysOfMonth {
        let mut own = DaysOfMonth::default();
        days.into_iter().for_each(|day| own.add(1, day));
        own
    }
}

impl Sum for DaysOfMonth {
    fn sum<I: Iterator<Item = DaysOfMonth>>(all: I) -> DaysOfMonth {
        let mut sum = DaysOfMonth::default();
        all.for_each(|own| sum.add_up(own));
        sum
    }
}
