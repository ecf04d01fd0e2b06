//! How many rows fall on each day of the month.

use std::iter::Sum;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;

/// Rows by day of the month, whatever their month and year.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct RowsByDay([u64; 31]);

impl RowsByDay {
    pub(super) fn note(&mut self, day: Date) {
        if let Some(rows) = self.0.get_mut(day.day() as usize - 1) {
            *rows += 1;
        }
    }

    /// Rows of each day, from the first of the month on.
    pub fn by_day(&self) -> &[u64; 31] {
        &self.0
    }
}

impl AddsUp for RowsByDay {
    fn add_up(&mut self, other: RowsByDay) {
        self.0.iter_mut().zip(other.0).for_each(|(own, other)| *own += other);
    }
}

impl<'d> Sum<&'d RowsByDay> for RowsByDay {
    fn sum<I: Iterator<Item = &'d RowsByDay>>(all: I) -> RowsByDay {
        let mut sum = RowsByDay::default();
        all.for_each(|own| sum.add_up(*own));
        sum
    }
}
