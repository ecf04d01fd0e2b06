//! Periods of the calendar and parts of dates and times, by their names in steps.

use strum::{IntoStaticStr, VariantArray};

/// A period of the calendar.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum Period {
    /// A year.
    Year,
    /// A quarter of a year.
    Quarter,
    /// A month.
    Month,
    /// A week, from Monday on (ISO 8601-1:2019, 4.2.2).
    Week,
}

/// A part of a date or a time, as a number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum CalendarPart {
    /// The year.
    Year,
    /// The quarter of the year.
    Quarter,
    /// The month.
    Month,
    /// The week of its year (ISO 8601-1:2019, 4.2.2).
    Week,
    /// The year that the week belongs to.
    WeekYear,
    /// The day of the month.
    Day,
    /// The day of the week, Monday being 1.
    Weekday,
    /// The day of the year.
    YearDay,
    /// The hour.
    Hour,
    /// The minute.
    Minute,
    /// The second.
    Second,
    /// The fraction of the second.
    Fraction,
}

impl CalendarPart {
    /// Whether it is a part of a day.
    pub fn is_of_clock(self) -> bool {
        matches!(
            self,
            CalendarPart::Hour
                | CalendarPart::Minute
                | CalendarPart::Second
                | CalendarPart::Fraction
        )
    }
}
