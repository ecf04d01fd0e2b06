//! What a value of a column shows wherever it stands.

use super::dates::WrittenDate;
use super::padding::Padding;
use super::{Days, Fits};
use crate::order::Alternative;
use crate::reading::Fit;

/// What the candidates of a family make of a value.
#[derive(Debug, Clone, Copy)]
pub(super) struct SeenValue {
    pub fits: Fits,
    pub found: [Option<(Alternative, Fit)>; 6],
    /// The date as it is written.
    pub dated: Option<WrittenDate>,
    /// The hash of that.
    pub hash: u64,
    /// How its first two numbers are written.
    pub padding: Padding,
    /// Its day, as each order takes it.
    pub days: Option<Days>,
    /// What it is taken for: by the layouts that were said, if there are any.
    pub first: Option<Fit>,
}

impl SeenValue {
    /// A value that only a layout which was said reads.
    pub(super) fn of_given(fit: Fit) -> SeenValue {
        SeenValue {
            fits: Fits::default(),
            found: [None; 6],
            dated: None,
            hash: 0,
            padding: Padding::NONE,
            days: None,
            first: Some(fit),
        }
    }

    /// Whether it has a day and no year.
    pub(super) fn is_yearless(&self) -> bool {
        self.first.is_some_and(|fit| fit.yearless)
    }
}
