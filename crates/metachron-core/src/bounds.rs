//! The limits of each field of a date or time, with the name people give the field.

use std::fmt;

/// The limits of one field.
#[derive(Debug, PartialEq, Eq)]
pub struct Bound {
    /// What an analyst calls the field: `month`, `hour`.
    pub name: &'static str,
    /// The smallest value that exists.
    pub min: i32,
    /// The largest value that exists.
    pub max: i32,
}

impl Bound {
    /// The value itself, or what is wrong with it.
    ///
    /// ```
    /// use metachron_core::bounds;
    /// assert_eq!(bounds::MONTH.check(12), Ok(12));
    /// assert_eq!(bounds::MONTH.check(13).unwrap_err().to_string(), "month 13 does not exist (months run from 1 to 12)");
    /// ```
    pub fn check(&'static self, value: i32) -> Result<i32, OutOfBounds> {
        if (self.min..=self.max).contains(&value) {
            Ok(value)
        } else {
            Err(OutOfBounds { bound: self, value })
        }
    }
}

/// A value outside the limits of its field.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct OutOfBounds {
    /// The field's limits.
    pub bound: &'static Bound,
    /// The value that was found.
    pub value: i32,
}

impl fmt::Display for OutOfBounds {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let OutOfBounds { bound: Bound { name, min, max }, value } = self;
        // `days of the year`: the first word is the one of which there are several.
        let (first, rest) = name.split_once(" of ").map_or((*name, None), |(a, b)| (a, Some(b)));
        let several = rest.map_or(format!("{first}s"), |rest| format!("{first}s of {rest}"));
        write!(f, "{name} {value} does not exist ({several} run from {min} to {max})")
    }
}

/// Years of the proleptic Gregorian calendar that ISO 8601 writes with four digits and a sign.
pub static YEAR: Bound = Bound { name: "year", min: -9999, max: 9999 };
/// Months of the year.
pub static MONTH: Bound = Bound { name: "month", min: 1, max: 12 };
/// Months of the year in calendars with a thirteenth.
pub static MONTH_OF_13: Bound = Bound { name: "month", min: 1, max: 13 };
/// Days of the longest month.
pub static DAY: Bound = Bound { name: "day", min: 1, max: 31 };
/// Days of the longest year.
pub static YEAR_DAY: Bound = Bound { name: "day of the year", min: 1, max: 366 };
/// Weeks of the longest year (ISO 8601-1:2019, 4.2.2).
pub static WEEK: Bound = Bound { name: "week", min: 1, max: 53 };
/// Days of the week, Monday being 1 (ISO 8601-1:2019, 4.2.2).
pub static WEEKDAY: Bound = Bound { name: "weekday", min: 1, max: 7 };
/// Quarters of a year.
pub static QUARTER: Bound = Bound { name: "quarter", min: 1, max: 4 };
/// Hours of a 24-hour clock; 24 is midnight at the end of the day (ISO 8601-1:2019, 4.3.8).
pub static HOUR: Bound = Bound { name: "hour", min: 0, max: 24 };
/// Hours of a 12-hour clock.
pub static HOUR_12: Bound = Bound { name: "hour", min: 1, max: 12 };
/// Minutes of an hour.
pub static MINUTE: Bound = Bound { name: "minute", min: 0, max: 59 };
/// Seconds of a minute; 60 is a leap second.
pub static SECOND: Bound = Bound { name: "second", min: 0, max: 60 };
/// Hours behind days, in a length of time.
pub static HOUR_OF_DAY: Bound = Bound { name: "hour", min: 0, max: 23 };
/// Seconds behind minutes, in a length of time.
pub static SECOND_OF_MINUTE: Bound = Bound { name: "second", min: 0, max: 59 };
/// Hours of an offset from UTC, as RFC 3339, section 5.6 has them.
pub static OFFSET_HOUR: Bound = Bound { name: "offset hour", min: 0, max: 23 };

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_limits_themselves_exist_and_their_neighbours_do_not() {
        for bound in [&YEAR, &MONTH, &DAY, &HOUR, &HOUR_12, &MINUTE, &SECOND, &OFFSET_HOUR] {
            assert!(bound.min < bound.max, "{}", bound.name);
            assert_eq!(bound.check(bound.min), Ok(bound.min));
            assert_eq!(bound.check(bound.max), Ok(bound.max));
            assert!(bound.check(bound.min - 1).is_err());
            assert!(bound.check(bound.max + 1).is_err());
        }
    }

    #[test]
    fn says_what_would_exist() {
        let message = MONTH.check(17).unwrap_err().to_string();
        assert_eq!(message, "month 17 does not exist (months run from 1 to 12)");
        let message = YEAR_DAY.check(400).unwrap_err().to_string();
        assert_eq!(
            message,
            "day of the year 400 does not exist (days of the year run from 1 to 366)"
        );
    }
}
