//! Rows that are kept together, so that somebody else goes through them while others are read.

use crate::cells::CellRow;
use crate::delimited::KeptRecord;
use crate::json::KeptObject;
use crate::table::Row;

/// Rows of any format that follow each other.
#[derive(Debug, Default)]
pub struct Batch {
    rows: Vec<KeptRow>,
}

#[derive(Debug)]
enum KeptRow {
    Delimited(KeptRecord),
    Json(KeptObject),
    Cells(CellRow),
}

impl Batch {
    /// Adds a copy of the next row.
    pub fn push(&mut self, row: &Row<'_>) {
        self.rows.push(match row {
            Row::Delimited(record) => KeptRow::Delimited(record.keep()),
            Row::Json(object) => KeptRow::Json(object.keep()),
            Row::Cells(row) => KeptRow::Cells((*row).clone()),
        });
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.rows.len()
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }

    /// The rows.
    ///
    /// ```
    /// use metachron_tables::batch::Batch;
    /// use metachron_tables::cells::{CellRow, TypedCell};
    /// use metachron_tables::table::Row;
    /// let row = CellRow { number: 2, cells: vec![TypedCell::Number("7".to_owned())] };
    /// let mut batch = Batch::default();
    /// batch.push(&Row::Cells(&row));
    /// assert!(batch.rows().map(|row| row.line()).eq([2]));
    /// ```
    pub fn rows(&self) -> impl Iterator<Item = Row<'_>> {
        self.rows.iter().map(|row| match row {
            KeptRow::Delimited(record) => Row::Delimited(record.record()),
            KeptRow::Json(object) => Row::Json(object.row()),
            KeptRow::Cells(row) => Row::Cells(row),
        })
    }
}
