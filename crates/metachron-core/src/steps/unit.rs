//! Units of time and periods of the calendar, by their names in steps.

use crate::error::named;

/// What an amount is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unit {
    /// So many months of the calendar.
    Months(i64),
    /// So many days of the calendar.
    Days(i64),
    /// So many nanoseconds.
    Nanos(i64),
}

/// Every unit with its name in the plural; the singular is the same without its `s`.
pub const UNITS: [(&str, Unit); 11] = [
    ("years", Unit::Months(12)),
    ("quarters", Unit::Months(3)),
    ("months", Unit::Months(1)),
    ("weeks", Unit::Days(7)),
    ("days", Unit::Days(1)),
    ("hours", Unit::Nanos(3_600_000_000_000)),
    ("minutes", Unit::Nanos(60_000_000_000)),
    ("seconds", Unit::Nanos(1_000_000_000)),
    ("milliseconds", Unit::Nanos(1_000_000)),
    ("microseconds", Unit::Nanos(1_000)),
    ("nanoseconds", Unit::Nanos(1)),
];

/// Nanoseconds of a day of 24 hours.
pub const DAY: i64 = 86_400_000_000_000;

impl Unit {
    /// The unit of this name, in the singular or the plural.
    ///
    /// # Errors
    /// The name that comes near, if one does.
    pub fn named(name: &str) -> Result<Unit, Option<&'static str>> {
        named(name, &UNITS).or_else(|near| named(&format!("{name}s"), &UNITS).map_err(|_| near))
    }

    /// Its name in the plural.
    pub fn name(self) -> &'static str {
        UNITS.iter().find(|(_, unit)| *unit == self).map_or("units", |(name, _)| name)
    }

    /// Its nanoseconds, a day having 24 hours; a month has no fixed number of them.
    pub fn nanos(self) -> Option<i64> {
        match self {
            Unit::Months(_) => None,
            Unit::Days(days) => Some(days * DAY),
            Unit::Nanos(nanos) => Some(nanos),
        }
    }
}

/// A period of the calendar.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
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

impl Period {
    /// Every period with its name.
    pub const ALL: [(&'static str, Period); 4] = [
        ("month", Period::Month),
        ("quarter", Period::Quarter),
        ("week", Period::Week),
        ("year", Period::Year),
    ];

    /// The period of this name.
    ///
    /// # Errors
    /// The name that comes near, if one does.
    pub fn named(name: &str) -> Result<Period, Option<&'static str>> {
        named(name, &Period::ALL)
    }
}

/// A part of a date or a time, as a number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Part {
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

impl Part {
    /// Every part with its name.
    pub const ALL: [(&'static str, Part); 12] = [
        ("year", Part::Year),
        ("quarter", Part::Quarter),
        ("month", Part::Month),
        ("week", Part::Week),
        ("weekyear", Part::WeekYear),
        ("day", Part::Day),
        ("weekday", Part::Weekday),
        ("yearday", Part::YearDay),
        ("hour", Part::Hour),
        ("minute", Part::Minute),
        ("second", Part::Second),
        ("fraction", Part::Fraction),
    ];

    /// Whether it is a part of a day.
    pub fn is_of_clock(self) -> bool {
        matches!(self, Part::Hour | Part::Minute | Part::Second | Part::Fraction)
    }
}
