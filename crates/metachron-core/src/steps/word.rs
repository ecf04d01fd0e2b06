//! The words of steps.

use std::ops::Range;

/// A word with its place; what stands in double quotes is one word.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Word {
    /// What it says, without its quotes.
    pub text: String,
    /// Where it stands.
    pub span: Range<usize>,
}
