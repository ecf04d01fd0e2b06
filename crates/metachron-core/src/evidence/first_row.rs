//! The first of rows that have the same value.

use super::{Occurrences, Witness};

/// Becomes a witness only where no row before it is one: most do not.
#[derive(Debug, Clone, Copy)]
pub(super) struct FirstRow<'v> {
    /// The part of the table.
    pub part: u32,
    /// The row in that part; the first is 1.
    pub row: u64,
    /// The raw value.
    pub raw: &'v str,
}

impl FirstRow<'_> {
    /// This row.
    pub(super) fn witness(self) -> Witness {
        Witness { part: self.part, row: self.row, value: self.raw.to_owned() }
    }

    /// Whether it stands before a witness.
    fn is_before(self, other: &Witness) -> bool {
        (self.part, self.row) < (other.part, other.row)
    }

    /// Makes a witness the first of both rows.
    pub(super) fn lower(self, own: &mut Witness) {
        if self.is_before(own) {
            *own = self.witness();
        }
    }

    /// The same where there may be none yet.
    pub(super) fn lower_any(self, own: &mut Option<Witness>) {
        match own {
            Some(own) => self.lower(own),
            None => *own = Some(self.witness()),
        }
    }

    /// Adds so many rows, of which it is the first.
    pub(super) fn note_all(self, rows: u64, own: &mut Occurrences) {
        own.rows += rows;
        self.lower_any(&mut own.first);
    }
}
