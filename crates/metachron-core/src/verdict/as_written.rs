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
    /// Numbers are years.
    Years,
    /// Numbers are years with a fraction that names a part of the year.
    DecimalYears(YearPart),
    /// Numbers are a year and its month: `2024.03`.
    YearMonths,
    /// Numbers are hours and minutes: `517`.
    ClockNumbers,
    /// Years have four digits, and minutes end the clock.
    FullYears,
    /// Years have two digits, and seconds end the clock.
    ShortYears,
}
