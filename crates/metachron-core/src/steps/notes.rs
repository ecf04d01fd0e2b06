//! What steps do beside what they give: in one row, and in all of them.

use jiff::Timestamp;

use crate::zone::{Clock, Merged, MergedRows};

/// What steps did beside what they gave.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Notes {
    /// Days that a month lacks and that became its last.
    pub clamped: u64,
    /// Rows with moments before 1970 by the clocks of zones for which those of another stand there.
    pub merged: MergedRows,
}

/// What steps did in one row.
#[derive(Default)]
pub(super) struct RowNotes {
    /// Days that a month lacks and that became its last.
    pub clamped: u64,
    merged: Option<Merged>,
}

impl RowNotes {
    /// A moment that a clock has shown, or that is to be shown by one.
    pub(super) fn by_clock(&mut self, clock: Clock, moment: Timestamp) {
        self.merged = self.merged.or_else(|| clock.merged_at(moment));
    }
}

impl Notes {
    /// What steps did in these rows and the next ones.
    pub fn join(&mut self, next: Notes) {
        self.clamped += next.clamped;
        self.merged.join(next.merged);
    }

    /// One more row.
    pub(super) fn add(&mut self, row: &RowNotes) {
        self.clamped += row.clamped;
        row.merged.into_iter().for_each(|merged| self.merged.count(merged, 1));
    }
}
