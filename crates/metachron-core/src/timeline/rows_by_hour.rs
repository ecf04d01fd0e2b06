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

impl OfHour {
    fn add(&mut self, other: OfHour) {
        self.rows += other.rows;
        self.whole += other.whole;
        let firsts = [self.first_whole, other.first_whole].into_iter().filter(|row| *row > 0);
        self.first_whole = firsts.min().unwrap_or(0);
    }
}

impl RowsByHour {
    /// So many rows of a time, of which this is the first.
    pub(super) fn note(&mut self, time: Time, rows: u64, first: u64) {
        let Some(own) = usize::try_from(time.hour()).ok().and_then(|at| self.hours.get_mut(at))
        else {
            return;
        };
        own.add(match (time.minute(), time.second(), time.subsec_nanosecond()) {
            (0, 0, 0) => OfHour { rows, whole: rows, first_whole: first },
            _ => OfHour { rows, ..OfHour::default() },
        });
    }

    pub(super) fn join(&mut self, next: RowsByHour) {
        self.hours.iter_mut().zip(next.hours).for_each(|(own, next)| own.add(next));
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
