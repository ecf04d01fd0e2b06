//! Cells to be written, and rows of them that are kept until then.

use std::borrow::Cow;
use std::ops::Range;

use metachron_core::typed::TypedValue;
use metachron_core::write::iso;
use serde::{Deserialize, Serialize};

use crate::cells::hexadecimal;

/// A cell to be written; its text stands elsewhere.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Cell<'t> {
    /// Nothing.
    Missing,
    /// Text.
    Text(&'t str),
    /// A typed value.
    Typed(TypedValue),
    /// A number as it is written in decimal.
    Number(&'t str),
    /// True or false.
    Truth(bool),
    /// Bytes that are no text, of a column that stores such.
    Bytes(&'t [u8]),
}

impl<'t> Cell<'t> {
    /// A text, or nothing.
    ///
    /// ```
    /// use metachron_tables::deliver::Cell;
    /// assert_eq!(Cell::of_text("a"), Cell::Text("a"));
    /// assert_eq!(Cell::of_text(""), Cell::Missing);
    /// ```
    pub fn of_text(text: &'t str) -> Cell<'t> {
        if text.is_empty() { Cell::Missing } else { Cell::Text(text) }
    }

    /// The cell as text in ISO 8601, times with so many digits; empty where there is nothing.
    pub fn to_text(self, digits: u8) -> Cow<'t, str> {
        match self {
            Cell::Missing => "".into(),
            Cell::Text(text) | Cell::Number(text) => text.into(),
            Cell::Truth(truth) => if truth { "true" } else { "false" }.into(),
            Cell::Bytes(bytes) => hexadecimal(bytes).into(),
            Cell::Typed(moment) => {
                let mut text = String::new();
                // Writing to a string cannot fail.
                let _ = iso(&mut text, moment, digits);
                text.into()
            }
        }
    }
}

/// Rows of cells, one behind the other. Their texts stand in one place, so that a cell takes no memory of its own.
///
/// ```
/// use metachron_tables::deliver::{Cell, CellRows};
/// let mut rows = CellRows::default();
/// rows.push(Cell::Text("LF0001"));
/// rows.push(Cell::Missing);
/// rows.end_row();
/// let mut seen = Vec::new();
/// rows.each(|cells| -> Result<(), ()> { Ok(seen.push(format!("{cells:?}"))) }).unwrap();
/// assert_eq!(seen, [r#"[Text("LF0001"), Missing]"#]);
/// ```
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct CellRows {
    cells: Vec<KeptCell>,
    /// Where each row ends.
    ends: Vec<usize>,
    texts: String,
}

/// A cell that is kept: of a text, where it stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
enum KeptCell {
    Missing,
    Text(Range<usize>),
    Typed(TypedValue),
    Number(Range<usize>),
    Truth(bool),
    Bytes(Vec<u8>),
}

impl CellRows {
    /// Adds a cell to the row that has not ended.
    pub fn push(&mut self, cell: Cell<'_>) {
        let kept = match cell {
            Cell::Missing => KeptCell::Missing,
            Cell::Text(text) => KeptCell::Text(self.keep(text)),
            Cell::Typed(moment) => KeptCell::Typed(moment),
            Cell::Number(text) => KeptCell::Number(self.keep(text)),
            Cell::Truth(truth) => KeptCell::Truth(truth),
            Cell::Bytes(bytes) => KeptCell::Bytes(bytes.to_vec()),
        };
        self.cells.push(kept);
    }

    fn keep(&mut self, text: &str) -> Range<usize> {
        let begin = self.texts.len();
        self.texts.push_str(text);
        begin..self.texts.len()
    }

    /// Ends a row.
    pub fn end_row(&mut self) {
        self.ends.push(self.cells.len());
    }

    /// The number of cells.
    pub fn len(&self) -> usize {
        self.cells.len()
    }

    /// Whether there is no cell.
    pub fn is_empty(&self) -> bool {
        self.cells.is_empty()
    }

    /// The cell of this number, counted from 0 through all rows; nothing where there is none.
    pub fn get(&self, at: usize) -> Cell<'_> {
        self.cells.get(at).map_or(Cell::Missing, |kept| self.cell(kept))
    }

    fn cell<'c>(&'c self, kept: &'c KeptCell) -> Cell<'c> {
        let text = |range: &Range<usize>| self.texts.get(range.clone()).unwrap_or_default();
        match kept {
            KeptCell::Missing => Cell::Missing,
            KeptCell::Text(range) => Cell::Text(text(range)),
            KeptCell::Typed(moment) => Cell::Typed(*moment),
            KeptCell::Number(range) => Cell::Number(text(range)),
            KeptCell::Truth(truth) => Cell::Truth(*truth),
            KeptCell::Bytes(bytes) => Cell::Bytes(bytes),
        }
    }

    /// Hands on the rows that have ended, each with its cells.
    ///
    /// # Errors
    /// What stops whoever takes them.
    pub fn each<E>(&self, mut take: impl FnMut(&[Cell<'_>]) -> Result<(), E>) -> Result<(), E> {
        let (mut row, mut begin) = (Vec::new(), 0);
        for end in &self.ends {
            row.clear();
            row.extend(self.cells[begin..*end].iter().map(|kept| self.cell(kept)));
            take(&row)?;
            begin = *end;
        }
        Ok(())
    }

    /// Forgets all cells, but not the memory for them.
    pub fn clear(&mut self) {
        self.cells.clear();
        self.ends.clear();
        self.texts.clear();
    }
}
