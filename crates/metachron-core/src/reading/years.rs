//! The years of values that are written without one.

/// In which year each row of a table lies whose values have none: that of the first row, and one
/// more from every row on at which a year turns.
///
/// ```
/// use metachron_core::reading::{RowYear, Years};
/// let years = Years { first: 2023, turns: vec![40, 812], open_from: Some(900) };
/// assert_eq!(years.of_row(39), RowYear::Known(2023));
/// assert_eq!(years.of_row(40), RowYear::Known(2024));
/// assert_eq!(years.of_row(900), RowYear::Open(2025));
/// ```
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Years {
    /// The year of the first row.
    pub first: i16,
    /// The rows at which another year begins, in order.
    pub turns: Vec<u64>,
    /// The first row of which the sequence does not say the year.
    pub open_from: Option<u64>,
}

/// The year of a row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RowYear {
    /// It is this.
    Known(i16),
    /// It may be this or one beside it.
    Open(i16),
}

impl Years {
    /// The year of a row; the first is 1.
    ///
    /// ```
    /// use metachron_core::reading::{RowYear, Years};
    /// let years = Years { first: 2023, turns: vec![400], open_from: None };
    /// assert_eq!((years.of_row(399), years.of_row(400)), (RowYear::Known(2023), RowYear::Known(2024)));
    /// ```
    pub fn of_row(&self, row: u64) -> RowYear {
        let turned = self.turns.partition_point(|turn| *turn <= row);
        let year = self.first.saturating_add(i16::try_from(turned).unwrap_or(i16::MAX));
        match self.open_from {
            Some(from) if row >= from => RowYear::Open(year),
            _ => RowYear::Known(year),
        }
    }
}
