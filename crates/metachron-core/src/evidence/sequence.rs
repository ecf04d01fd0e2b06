//! What the sequence of values without a year says of when a year turns.

use jiff::civil::{Date, DateTime, Time};

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use crate::reading::Years;
use crate::typed::TypedValue;

/// Half a year in seconds: what lies further back is a new year rather than a step back.
const HALF_A_YEAR: i64 = 183 * 86_400;
/// Lines of a log that come late by more than that are out of order.
const LATE: i64 = 31 * 86_400;
/// Turns that are kept; what has more is in no order.
const MOST_TURNS: usize = 1_024;

/// The sequence of values without a year in one part of a table.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Sequence {
    /// Rows that have such a value.
    pub rows: u64,
    /// The row of the first one, and where it lies in its year, in seconds.
    first: Option<(u64, i64)>,
    /// Where the last one lies.
    last: Option<i64>,
    turns: Vec<u64>,
    /// The first row that lies more than half a year after the one before: it may lie before it.
    wide: Option<u64>,
    /// How far a row lies before the one before it, at most.
    latest: i64,
}

impl Sequence {
    /// Adds the value of the next row, as it lies in any year.
    pub(super) fn observe(&mut self, row: u64, moment: TypedValue) {
        let Some(place) = place(moment) else { return };
        self.rows += 1;
        self.first.get_or_insert((row, place));
        self.step(row, place);
        self.last = Some(place);
    }

    /// What lies between the last row and this one.
    fn step(&mut self, row: u64, place: i64) {
        let Some(last) = self.last else { return };
        let step = place - last;
        if step > HALF_A_YEAR {
            self.wide.get_or_insert(row);
        } else if step < -HALF_A_YEAR {
            self.turns.push(row);
            self.turns.truncate(MOST_TURNS);
        } else {
            self.latest = self.latest.max(-step);
        }
    }

    /// The sequence of these rows and the next ones, which stand so many rows further down.
    pub(super) fn join(&mut self, next: Sequence, rows: u64) {
        if let Some((row, place)) = next.first {
            self.first.get_or_insert((row + rows, place));
            self.step(row + rows, place);
            self.last = next.last;
        }
        self.rows.add_up(next.rows);
        self.wide = self.wide.or(next.wide.map(|row| row + rows));
        self.turns.extend(next.turns.into_iter().map(|row| row + rows));
        self.turns.truncate(MOST_TURNS);
        self.latest = self.latest.max(next.latest);
    }

    /// The year that the first row has if the last one lies before this day, as near as may be.
    pub fn likely_first_year(&self, as_of: Date) -> i16 {
        let turned = i16::try_from(self.years(0).turns.len()).unwrap_or(0);
        as_of.year() - turned - i16::from(self.ends_after(as_of))
    }

    /// Whether the last row lies later in its year than this day.
    pub fn ends_after(&self, day: Date) -> bool {
        place(TypedValue::Date(day)).is_some_and(|today| self.last.is_some_and(|last| last > today))
    }

    /// The year of every row, where the first lies in this one.
    ///
    /// In a sorted column a step back over more than half a year is a new year. Where rows come late
    /// by days, so is it, unless a step forward over half a year may as well have been one back;
    /// where they come late by months, nothing is known from the first turn on.
    pub fn years(&self, first: i16) -> Years {
        let first_turn = self.turns.first().copied();
        let open_from = match self.latest {
            0 => None,
            1..=LATE => self.wide,
            _ => [first_turn, self.wide].into_iter().flatten().min(),
        };
        let open_from = if self.turns.len() == MOST_TURNS { first_turn } else { open_from };
        let turns =
            self.turns.iter().copied().filter(|turn| open_from.is_none_or(|open| *turn < open));
        Years { first, turns: turns.collect(), open_from }
    }
}

/// Where a moment lies in its year, in seconds; one without a day lies nowhere.
fn place(moment: TypedValue) -> Option<i64> {
    let (date, time): (Date, Time) = match moment {
        TypedValue::Date(date) => (date, Time::midnight()),
        TypedValue::DateTime(clock) => (clock.date(), clock.time()),
        TypedValue::Instant(instant) => {
            let clock: DateTime = jiff::tz::Offset::UTC.to_datetime(instant);
            (clock.date(), clock.time())
        }
        _ => return None,
    };
    let seconds =
        i64::from(time.hour()) * 3_600 + i64::from(time.minute()) * 60 + i64::from(time.second());
    Some(i64::from(date.day_of_year()) * 86_400 + seconds)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::reading::RowYear;

    /// The years of rows that lie on these days of a year.
    fn years(days: &[(i8, i8)]) -> Vec<String> {
        let mut sequence = Sequence::default();
        for (row, (month, day)) in (1..).zip(days) {
            sequence.observe(row, TypedValue::Date(jiff::civil::date(2000, *month, *day)));
        }
        let years = sequence.years(2023);
        let shown = |row| match years.of_row(row) {
            RowYear::Known(year) => year.to_string(),
            RowYear::Open(year) => format!("{year}?"),
        };
        (1..=days.len() as u64).map(shown).collect()
    }

    #[test]
    fn a_sorted_column_turns_the_year_where_it_steps_back() {
        assert_eq!(years(&[(11, 5), (12, 31), (1, 1), (3, 2)]), ["2023", "2023", "2024", "2024"]);
        // A year without a single row between them cannot be seen.
        assert_eq!(years(&[(1, 5), (12, 20), (1, 2), (12, 1), (1, 1)])[4], "2025");
    }

    #[test]
    fn late_lines_are_no_new_year() {
        assert_eq!(years(&[(12, 29), (12, 31), (12, 30), (1, 2)])[3], "2024");
        // But around New Year nobody can tell them from a year's gap.
        assert_eq!(
            years(&[(12, 30), (12, 31), (12, 30), (1, 1), (12, 31), (1, 2)])[3..],
            ["2024", "2024?", "2024?"]
        );
    }

    #[test]
    fn what_is_in_no_order_says_nothing_once_a_year_may_turn() {
        assert_eq!(years(&[(5, 1), (3, 1), (6, 1)]), ["2023", "2023", "2023"]);
        assert_eq!(years(&[(9, 1), (3, 5), (12, 1), (1, 5)])[1..], ["2023", "2023?", "2023?"]);
    }
}
