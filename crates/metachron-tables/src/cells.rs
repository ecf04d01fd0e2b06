//! Rows of typed cells, as workbooks, columnar files and databases have them.

use metachron_core::typed::TypedValue;
use metachron_core::value::{Fault, Value};

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
            Err(_) => {
                let digits = bytes.iter().map(|byte| format!("{byte:02X}"));
                TypedCell::Fault(Fault::NotText, format!("0x{}", digits.collect::<String>()))
            }
        }
    }
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
