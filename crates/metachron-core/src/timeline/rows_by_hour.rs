//! The hours of the day.

use jiff::civil::Time;

/// Rows by the hour of the day.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct RowsByHour {
    hours: [OfHour; 24],
}

/// The rows of an hour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct OfHour {
    /// All of them.
    pub rows: u64,
    /// Those on the hour, without minutes and seconds.
    pub whole: u64,
    /// The first of the latter; 0 if there is none.
    pub first_whole: u64,
}

impl RowsByHour {
    pub(super) fn note(&mut self, time: Time, row: u64) {
        let Some(own) = usize::try_from(time.hour()).ok().and_then(|at| self.hours.get_mut(at))
        else {
            return;
        };
        own.rows += 1;
        if (time.minute(), time.second(), time.subsec_nanosecond()) == (0, 0, 0) {
            own.whole += 1;
            own.first_whole = if own.first_whole == 0 { row } else { own.first_whole };
        }
    }

    pub(super) fn join(&mut self, next: RowsByHour) {
        for (own, next) in self.hours.iter_mut().zip(next.hours) {
            own.rows += next.rows;
            own.whole += next.whole;
            own.first_whole = if own.first_whole == 0 { next.first_whole } else { own.first_whole };
        }
    }

    /// The hours from midnight on.
    pub fn hours(&self) -> &[OfHour; 24] {
        &self.hours
    }

    /// All rows.
    pub fn rows(&self) -> u64 {
        self.hours.iter().map(|own| own.rows).sum()
    }
}
