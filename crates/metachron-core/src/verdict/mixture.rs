//! What tells the rows of a mixed column apart, as data.

use crate::layout::Layout;
use crate::order::Alternative;
use crate::reading::Split;

/// What tells rows apart.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Clue {
    /// Another column, by its name.
    Column(String),
    /// What is written beside the date.
    Clock,
    /// The rows of appended files.
    Rows,
}

/// What sets some rows of a column apart from its others.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Apart {
    /// What another column holds beside them.
    Beside {
        /// Its name.
        column: String,
        /// Its value.
        value: String,
    },
    /// What is written beside the date; empty where nothing is.
    Clock(String),
    /// Whether numbers below ten have a zero before them.
    Padded(bool),
    /// The file that they stand in; the first is 0.
    File(u32),
    /// Where they stand.
    Rows {
        /// Their first row.
        first: u64,
        /// Their last one.
        last: u64,
    },
}

/// What tells the rows of a mixed column apart, and how.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FoundSplit {
    /// What does.
    pub by: Clue,
    /// The orders with the values, or the rows, that have them.
    pub sides: Vec<(Alternative, Vec<String>)>,
    /// Values of the clue that have no evidence of their own.
    pub open: Vec<String>,
    /// Rows that stay contested.
    pub contested: u64,
    /// Rows that only one order fits.
    pub votes: u64,
    /// By chance it would be so once in ten to the power of this.
    pub power: u32,
    /// What else tells them apart as well.
    pub as_well: Vec<Clue>,
    /// All layouts.
    pub layouts: Vec<Layout>,
    /// Which of them are those of which rows; none if they tell themselves apart.
    pub split: Option<Split<Vec<Layout>>>,
}

/// Contested rows of a mixed column, and how many of them each order would make wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Estimate {
    /// The order.
    pub order: Alternative,
    /// Contested rows that would be wrong.
    pub wrong: u64,
    /// At least, with 95 % probability.
    pub least: u64,
    /// At most.
    pub most: u64,
}
