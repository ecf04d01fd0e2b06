//! What values may be as they are written.

use crate::layout::YearPart;

/// What values are, where they seem to be something and may be something else.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum AsWritten {
    /// Fractions are decimal ones.
    DecimalFractions,
    /// Hours are those of a day.
    HoursOfDay,
    /// Numbers beside a year are weeks.
    Weeks,
    /// Numbers beside a year are quarters.
    Quarters,
    /// Numbers beside a year are months.
    Months,
    /// Numbers count from nothing.
    Numbers(PlainKind),
    /// Years have four digits, and minutes end the clock.
    FullYears,
    /// Years have two digits, and seconds end the clock.
    ShortYears,
}

/// What numbers are that count from nothing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PlainKind {
    /// Years.
    Years,
    /// Years with a fraction that names a part of the year.
    DecimalYears(YearPart),
    /// A year and its month: `2024.03`.
    YearMonths,
    /// A year and its month in one number: `202403`.
    CompactMonths,
    /// A year and its week in one number: `202415`.
    CompactWeeks,
    /// Hours and minutes: `517`.
    Clocks,
}
