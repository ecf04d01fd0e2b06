//! Rows in a row of which not one votes.

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::dates::WrittenDate;
use super::{DistinctDates, Fits};

/// Different dates that are kept of a stretch.
const DATES: usize = 128;

/// Rows without a vote that follow each other.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stretch {
    /// The first row that could be read in several ways; 0 where there is none.
    pub first: u64,
    /// The last such row.
    pub last: u64,
    /// Such rows.
    pub rows: u64,
    /// Their different dates.
    pub dates: DistinctDates,
}

impl Stretch {
    fn new() -> Stretch {
        Stretch { first: 0, last: 0, rows: 0, dates: DistinctDates::up_to(DATES) }
    }

    fn note(&mut self, row: u64, hashed: Option<(WrittenDate, u64)>, fits: Fits) {
        if self.rows == 0 {
            self.first = row;
        }
        (self.last, self.rows) = (row, self.rows + 1);
        if let Some((written, hash)) = hashed {
            self.dates.insert_hashed(hash, written, fits);
        }
    }

    /// This stretch and the next one, which no vote parts, so many rows further down.
    fn go_on(&mut self, next: Stretch, rows: u64) {
        if next.rows > 0 {
            if self.rows == 0 {
                self.first = next.first + rows;
            }
            (self.last, self.rows) = (next.last + rows, self.rows + next.rows);
            self.dates.add_up(next.dates);
        }
    }

    fn further_down(self, rows: u64) -> Stretch {
        Stretch { first: self.first + rows, last: self.last + rows, ..self }
    }

    /// Whether it has more different dates: of equally long ones the first stays.
    fn is_longer_than(&self, other: Option<&Stretch>) -> bool {
        other.is_none_or(|other| other.dates.len() < self.dates.len())
    }
}

/// The stretches of one form: that before the first vote, that behind the last one, and the one between votes that
/// has the most different dates.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stretches {
    before: Stretch,
    longest: Option<Stretch>,
    /// None where nothing has voted yet.
    behind: Option<Stretch>,
}

impl Stretches {
    pub(super) fn new() -> Stretches {
        Stretches { before: Stretch::new(), longest: None, behind: None }
    }

    /// All of them, and whether each is at an end of the table.
    pub fn all(&self) -> impl Iterator<Item = (&Stretch, bool)> {
        let ends = std::iter::once(&self.before).chain(&self.behind).map(|own| (own, true));
        ends.chain(self.longest.iter().map(|own| (own, false)))
    }

    /// Adds a row that could be read in several ways: its date, with the hash of that.
    pub(super) fn note(&mut self, row: u64, hashed: Option<(WrittenDate, u64)>, fits: Fits) {
        self.behind.as_mut().unwrap_or(&mut self.before).note(row, hashed, fits);
    }

    pub(super) fn vote(&mut self) {
        if let Some(ended) = &mut self.behind {
            if ended.rows == 0 {
                return;
            }
            // Most are no longer than one before, and leave their room to the next.
            if ended.is_longer_than(self.longest.as_ref()) {
                self.longest = Some(std::mem::replace(ended, Stretch::new()));
            } else {
                (ended.first, ended.last, ended.rows) = (0, 0, 0);
                ended.dates.clear();
            }
        } else {
            self.behind = Some(Stretch::new());
        }
    }

    /// These stretches and those of the next rows, which stand so many rows further down.
    pub(super) fn join(&mut self, next: Stretches, rows: u64) {
        self.behind.as_mut().unwrap_or(&mut self.before).go_on(next.before, rows);
        let Some(behind) = next.behind else { return };
        // The first vote of the next rows ends what went on here.
        self.vote();
        if let Some(longest) = next.longest.filter(|own| own.is_longer_than(self.longest.as_ref()))
        {
            self.longest = Some(longest.further_down(rows));
        }
        self.behind = Some(if behind.rows > 0 { behind.further_down(rows) } else { behind });
    }
}
