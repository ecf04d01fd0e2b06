//! A table whose truth is known.

use super::draw::Day;

/// A cell, as its file has it.
#[derive(Debug, Clone, PartialEq)]
pub enum Cell {
    Text(String),
    Number(String),
    Date(Day),
    /// A day, and its hour and minute.
    Moment(Day, u32, u32),
}

/// A column with what stands beside it, and what is known of it.
pub struct Table {
    pub cells: Vec<Cell>,
    /// What each cell is, in ISO 8601; none where it is nothing that can be read.
    pub truth: Vec<Option<String>>,
    pub beside: Vec<(&'static str, Vec<String>)>,
    /// The rows at which another file begins.
    pub files: Vec<usize>,
    /// Whether enough values can only be read in one way, by the generator's own count.
    pub told: bool,
    /// What was delivered before, whose reading was saved.
    pub before: Option<Box<Table>>,
    /// Another column of the same file.
    pub sibling: Option<Box<Table>>,
}

impl Table {
    pub fn of(rows: Vec<(Cell, Option<String>)>) -> Table {
        let (cells, truth) = rows.into_iter().unzip();
        Table {
            cells,
            truth,
            beside: Vec::new(),
            files: Vec::new(),
            told: true,
            before: None,
            sibling: None,
        }
    }

    /// How it begins.
    pub fn shown(&self) -> String {
        format!("{} {:?}", self.cells.len(), &self.cells[..self.cells.len().min(12)])
    }
}
