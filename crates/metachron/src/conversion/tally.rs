//! What the rows of a table add up to while it is converted.

use std::collections::{BTreeMap, HashMap};

use metachron_core::apply::Outcome;
use metachron_core::reading::{Order, RowPlace, Unfit};
use metachron_core::steps::Notes;
use metachron_core::timeline::Timeline;
use metachron_core::verdict::Counts;
use metachron_core::zone::MergedRows;

use super::came_out::CameOut;

/// What the rows add up to.
#[derive(Debug, Default)]
pub struct ConversionTally {
    /// Of the typed columns, in their order.
    pub columns: Vec<ColumnTally>,
    /// Of the series, in their order.
    pub series: Vec<SeriesTally>,
    /// Of the made columns, in their order.
    pub made: Vec<MadeTally>,
    /// Rows of which the condition does not hold.
    pub left_out: u64,
    /// Rows of which nobody can say whether it holds.
    pub unclear: u64,
    /// Rows that have a cell that could not be read or made.
    pub unread: Unread,
}

impl ConversionTally {
    /// What these rows and the next ones add up to. Series go on from row to row: those of the next rows are not known.
    pub fn join(&mut self, next: ConversionTally) {
        for (own, next) in self.columns.iter_mut().zip(next.columns) {
            own.join(next);
        }
        for (own, next) in self.made.iter_mut().zip(next.made) {
            own.join(next);
        }
        self.left_out += next.left_out;
        self.unclear += next.unclear;
        self.unread.join(next.unread);
    }
}

/// What the values of a typed column add up to.
#[derive(Debug, Clone, Default)]
pub struct ColumnTally {
    /// What they are read as.
    pub counts: Counts,
    /// Rows that are read, by the order of their part where rows differ.
    pub by_order: BTreeMap<Order, u64>,
    /// Second 60, read as the next minute.
    pub leap_seconds: u64,
    /// Rows for which somebody has said what is right.
    pub fixed: u64,
    /// Dates before the Gregorian calendar began.
    pub long_ago: u64,
    /// Clock times that their clocks skipped, and that are read all the same.
    pub skipped: u64,
    /// Clock times that came twice, and that are read as one of them.
    pub repeated: u64,
    /// Moments before 1970 by the clocks of zones for which those of another stand there.
    pub merged: MergedRows,
    /// Values that are finer than what is written, if a precision was asked for.
    pub cut: u64,
    /// By how much fractions of a day may be off at most, in nanoseconds.
    pub give_or_take: i128,
    /// Why cells are empty, each in a word, with how many and the first row; where that is counted.
    pub reasons: BTreeMap<&'static str, Unread>,
    /// What names no zone in the column that says where clocks stood, with how many rows; of many the first.
    pub no_zones: BTreeMap<String, u64>,
    /// What the values of the rows that are written have come to; where that is looked at.
    pub came_out: CameOut,
}

/// Different texts that name no zone are kept up to this number.
const MOST_ZONES: usize = 100;

impl ColumnTally {
    /// Counts why the cells of so many rows are empty, of which this is the first.
    pub fn note_reason(
        &mut self,
        code: &'static str,
        (place, rows): (RowPlace<'_>, u64),
        outcome: &Outcome,
    ) {
        self.reasons.entry(code).or_default().note_all(rows, place.row);
        let is_no_zone = *outcome == Outcome::Unreadable(Unfit::NoSuchZone);
        if is_no_zone && self.no_zones.len() < MOST_ZONES {
            *self.no_zones.entry(place.zone.to_owned()).or_default() += rows;
        }
    }

    fn join(&mut self, next: ColumnTally) {
        self.counts.join(next.counts);
        for (order, rows) in next.by_order {
            *self.by_order.entry(order).or_default() += rows;
        }
        self.leap_seconds += next.leap_seconds;
        self.fixed += next.fixed;
        self.long_ago += next.long_ago;
        self.skipped += next.skipped;
        self.repeated += next.repeated;
        self.merged.join(next.merged);
        self.cut += next.cut;
        self.give_or_take = self.give_or_take.max(next.give_or_take);
        for (reason, rows) in next.reasons {
            self.reasons.entry(reason).or_default().join(rows);
        }
        for (name, rows) in next.no_zones {
            if self.no_zones.len() < MOST_ZONES {
                *self.no_zones.entry(name).or_default() += rows;
            }
        }
        self.came_out.join(next.came_out);
    }
}

impl MadeTally {
    fn join(&mut self, next: MadeTally) {
        self.made += next.made;
        self.missing += next.missing;
        self.unmade += next.unmade;
        self.notes.join(next.notes);
        self.timeline = std::mem::take(&mut self.timeline).join(next.timeline);
    }
}

/// How far a series has come.
#[derive(Debug, Clone, Default)]
pub struct SeriesTally {
    /// The next row of each group; the only one where there are no groups.
    pub next: HashMap<String, u64>,
    /// Values that it has.
    pub made: u64,
}

/// What the values of a made column add up to.
#[derive(Debug, Clone, Default)]
pub struct MadeTally {
    pub made: u64,
    pub missing: u64,
    /// Values that could not be made.
    pub unmade: u64,
    pub notes: Notes,
    /// How the dates and times of the rows that are written lie in time; where that is looked at.
    pub timeline: Timeline,
}

/// Rows that have a cell that could not be read or made.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Unread {
    pub rows: u64,
    /// The first of them; 0 if there is none.
    pub first: u64,
}

impl Unread {
    /// These rows and the next ones.
    fn join(&mut self, next: Unread) {
        if self.first == 0 {
            self.first = next.first;
        }
        self.rows += next.rows;
    }

    /// One more.
    pub fn note(&mut self, row: u64) {
        self.note_all(1, row);
    }

    /// So many more, of which this is the first.
    pub fn note_all(&mut self, rows: u64, first: u64) {
        self.rows += rows;
        if self.first == 0 || first < self.first {
            self.first = first;
        }
    }
}
