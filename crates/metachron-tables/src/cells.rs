//! Rows of typed cells, as workbooks, columnar files and databases have them.

use metachron_core::typed::TypedValue;
use metachron_core::value::{Fault, Value};

use crate::error::TableError;

/// Columns that a table has at most: what is known of each takes about ten kilobytes.
pub const MOST_COLUMNS: usize = 250_000;
/// Bytes that a table may take which is held in memory: workbooks and tables of pages are.
pub const MOST_HELD: usize = 2_000_000_000;

/// What a table takes that is being read into memory.
#[derive(Debug, Default)]
pub struct Held(usize);

impl Held {
    /// Adds so many cells with so many bytes of text.
    ///
    /// # Errors
    /// If that is more than is held of any table.
    pub fn add(&mut self, cells: usize, text: usize) -> Result<(), TableError> {
        self.0 = self
            .0
            .saturating_add(cells.saturating_mul(size_of::<TypedCell>()))
            .saturating_add(text);
        match self.0 > MOST_HELD {
            true => Err(TableError::TooLarge(MOST_HELD)),
            false => Ok(()),
        }
    }
}

/// A row of typed cells.
#[derive(Debug, Clone)]
pub struct CellRow {
    /// The row of the file or sheet; the first is 1.
    pub number: u64,
    /// Its cells, from the first column on.
    pub cells: Vec<TypedCell>,
}

/// A cell.
#[derive(Debug, Clone, PartialEq)]
pub enum TypedCell {
    /// Nothing.
    Empty,
    /// Text.
    Text(String),
    /// A number, as short as it can be spelled.
    Number(String),
    /// A date or time.
    Typed(TypedValue),
    /// What stands in place of a value, as it can be shown.
    Fault(Fault, String),
}

impl TypedCell {
    /// The text that bytes are, or the bytes in hexadecimal digits.
    pub fn of_bytes(bytes: &[u8]) -> TypedCell {
        match std::str::from_utf8(bytes) {
            Ok(text) => TypedCell::Text(text.to_owned()),
            Err(_) => TypedCell::Fault(Fault::NotText, hexadecimal(bytes)),
        }
    }
}

/// Bytes as they can be shown: `0xFF00`.
pub fn hexadecimal(bytes: &[u8]) -> String {
    let digits = bytes.iter().map(|byte| format!("{byte:02X}"));
    format!("0x{}", digits.collect::<String>())
}

/// The bytes that are shown so.
///
/// ```
/// use metachron_tables::cells::{hexadecimal, of_hexadecimal};
/// assert_eq!(hexadecimal(&[0xFF, 0x00]), "0xFF00");
/// assert_eq!(of_hexadecimal("0xFF00"), Some(vec![0xFF, 0x00]));
/// assert_eq!(of_hexadecimal("0xé"), None);
/// ```
pub fn of_hexadecimal(text: &str) -> Option<Vec<u8>> {
    let digits = text.strip_prefix("0x")?.as_bytes();
    let byte = |pair: &[u8]| u8::from_str_radix(std::str::from_utf8(pair).ok()?, 16).ok();
    digits.chunks(2).map(byte).collect()
}

impl CellRow {
    /// The row of the file or sheet.
    pub fn line(&self) -> u64 {
        self.number
    }

    /// What stands in a column.
    pub fn cell(&self, column: usize) -> Value<'_> {
        match self.cells.get(column) {
            None | Some(TypedCell::Empty) => Value::Missing,
            Some(TypedCell::Text(text)) => Value::Text(text),
            Some(TypedCell::Number(text)) => Value::Number(text),
            Some(TypedCell::Typed(moment)) => Value::Typed(*moment),
            Some(TypedCell::Fault(fault, text)) => Value::Fault(*fault, text),
        }
    }

    /// Whether every cell is empty.
    pub fn is_blank(&self) -> bool {
        self.cells.iter().all(|cell| *cell == TypedCell::Empty)
    }

    /// Its cells as texts, trimmed.
    pub fn texts(&self) -> Vec<String> {
        (0..self.cells.len()).map(|column| self.cell(column).to_text().trim().to_owned()).collect()
    }

    /// Its filled cells in one text.
    pub fn joined(&self) -> String {
        let texts = self.texts();
        texts.iter().filter(|text| !text.is_empty()).cloned().collect::<Vec<_>>().join(" ")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_text_that_many_cells_share_counts_in_each() {
        let mut held = Held::default();
        let megabytes = (0..).take_while(|_| held.add(1, 1_000_000).is_ok()).count();
        assert_eq!(megabytes, 1_999);
        assert!(Held::default().add(usize::MAX, 1).is_err());
    }
}
