//! Which hours clocks show that say nothing of before or after noon.

use std::ops::RangeInclusive;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use crate::typed::TypedValue;

/// Hours that a clock of twelve shows before noon, and at it.
const MORNING: RangeInclusive<i32> = 7..=12;
/// Hours that it shows behind noon.
const AFTERNOON: RangeInclusive<i32> = 1..=6;

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct ClockHours {
    /// Rows by hour.
    pub rows: [u64; 24],
    /// Rows behind another one of the same day.
    pub steps: u64,
    /// Of these, those whose clock is behind that of the other.
    pub back: u64,
    /// Of these, those that a clock of twelve hours makes at noon: from an hour between 7 and 12 to one between 1 and 6.
    pub noon: u64,
    /// The first and the last row: their day, if they have one, and the second of the day.
    ends: Option<[(Option<Date>, i32); 2]>,
}

impl ClockHours {
    /// Looks at the next row.
    pub(super) fn observe(&mut self, moment: TypedValue) {
        let (day, time) = match moment {
            TypedValue::DateTime(moment) => (Some(moment.date()), moment.time()),
            TypedValue::Time(time) => (None, time),
            _ => return,
        };
        let hour = usize::try_from(time.hour()).ok().and_then(|hour| self.rows.get_mut(hour));
        hour.into_iter().for_each(|rows| *rows += 1);
        let seconds = i32::from(time.hour()) * 3_600
            + i32::from(time.minute()) * 60
            + i32::from(time.second());
        self.step((day, seconds));
        let [_, last] = self.ends.get_or_insert([(day, seconds); 2]);
        *last = (day, seconds);
    }

    fn step(&mut self, (day, seconds): (Option<Date>, i32)) {
        if let Some([_, (last, before)]) = self.ends
            && last == day
        {
            self.steps += 1;
            self.back += u64::from(seconds < before);
            let is_noon =
                MORNING.contains(&(before / 3_600)) && AFTERNOON.contains(&(seconds / 3_600));
            self.noon += u64::from(is_noon);
        }
    }

    /// The clocks of these rows and the next ones.
    pub(super) fn join(&mut self, next: ClockHours) {
        if let Some([first, _]) = next.ends {
            self.step(first);
        }
        let ends = match (self.ends, next.ends) {
            (Some([first, _]), Some([_, last])) => Some([first, last]),
            (own, next) => own.or(next),
        };
        self.add_up(next);
        self.ends = ends;
    }
}

impl AddsUp for ClockHours {
    fn add_up(&mut self, other: ClockHours) {
        self.rows.add_up(other.rows);
        self.steps.add_up(other.steps);
        self.back.add_up(other.back);
        self.noon.add_up(other.noon);
        // Rows of different tables do not follow each other.
        self.ends = None;
    }
}
