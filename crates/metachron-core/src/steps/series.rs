//! Regular series: a moment for each row, so many steps on from the first.

use jiff::civil::{Date, DateTime};
use jiff::{Span, Timestamp};

use super::StepError;
use super::item::Unmade;
use crate::duration::Unit;
use crate::typed::{Kind, TypedValue};

/// `START / AMOUNT UNIT`: the first row has START, each next one is a step further.
///
/// ```
/// use metachron_core::steps::Series;
/// let series = Series::parse("2024-01-31 / 1 month").unwrap();
/// let days: Vec<String> = (0..4).map(|row| series.at(row).unwrap().to_string()).collect();
/// assert_eq!(days, ["2024-01-31", "2024-02-29", "2024-03-31", "2024-04-30"]);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Series {
    start: TypedValue,
    amount: i64,
    unit: Unit,
}

impl Series {
    /// Takes `START / AMOUNT UNIT` apart.
    ///
    /// # Errors
    /// What is wrong, with its place.
    pub fn parse(text: &str) -> Result<Series, StepError> {
        let wrong = |span, says: &str| StepError::new(text, span, says.to_owned());
        let Some((start, step)) = text.split_once('/') else {
            let says = "a series is START / AMOUNT UNIT, such as 2024-01-01 / 1 day";
            return Err(wrong(0..text.len(), says));
        };
        let place = |part: &str| {
            let own = part.trim();
            let at = own.as_ptr() as usize - text.as_ptr() as usize;
            at..at + own.len()
        };
        let Some(begin) = moment(start.trim()) else {
            let says = "this is no start: 2024-01-31, 2024-01-31T14:30, 2024-01-31T14:30Z, 2024-01, 2024-Q1, \
                        2024-W05 or 2024";
            return Err(wrong(place(start), says));
        };
        let mut words = step.split_whitespace();
        let (amount, unit) = match (words.next(), words.next(), words.next()) {
            (Some(amount), Some(unit), None) => (amount, unit),
            _ => return Err(wrong(place(step), "a step is an amount and a unit, such as 1 day")),
        };
        let number = amount.parse::<i64>().ok().filter(|number| *number != 0);
        let Some(number) = number else {
            return Err(wrong(place(amount), "the amount is a whole number other than 0"));
        };
        let of = Unit::named(unit).map_err(|near| {
            let near = near.map_or(String::new(), |near| format!("; did you mean {near}?"));
            wrong(place(unit), &format!("there is no unit {unit:?}{near}"))
        })?;
        let series = Series { start: begin, amount: number, unit: of };
        series.check().map_err(|says| wrong(place(unit), says))?;
        Ok(series)
    }

    /// Whether such values can go on by such steps.
    fn check(self) -> Result<(), &'static str> {
        match (self.start.kind(), self.unit) {
            (Kind::Date, Unit::Nanos(_)) => {
                Err("a date has no clock; begin with a clock time: 2024-01-31T00:00")
            }
            (Kind::Instant, Unit::Months(_) | Unit::Days(_)) => Err(
                "a day of an instant depends on its zone; begin with a clock time, and place it by steps",
            ),
            (Kind::Month, Unit::Months(_)) => Ok(()),
            (Kind::Quarter, Unit::Months(3 | 12)) | (Kind::Year, Unit::Months(12)) => Ok(()),
            (Kind::Week, Unit::Days(7)) => Ok(()),
            (Kind::Month, _) => Err("months go on by months, quarters or years"),
            (Kind::Quarter, _) => Err("quarters go on by quarters or years"),
            (Kind::Week, _) => Err("weeks go on by weeks"),
            (Kind::Year, _) => Err("years go on by years"),
            _ => Ok(()),
        }
    }

    /// What its values are.
    pub fn kind(self) -> Kind {
        self.start.kind()
    }

    /// The value of a row, the first being 0. Counted from the start, so that a day that some months lack
    /// comes back.
    ///
    /// ```
    /// use metachron_core::steps::Series;
    /// let months = Series::parse("2024-01-31 / 1 month").unwrap();
    /// assert_eq!(months.at(1).unwrap().to_string(), "2024-02-29");
    /// ```
    ///
    /// # Errors
    /// If it lies beyond the years that can be written.
    pub fn at(self, row: u64) -> Result<TypedValue, Unmade> {
        let out = || Unmade::OutOfRange;
        let steps = i64::try_from(row).ok().and_then(|row| row.checked_mul(self.amount));
        let steps = steps.ok_or_else(out)?;
        let span = || match self.unit {
            Unit::Months(of) => Span::new().try_months(steps.checked_mul(of)?).ok(),
            Unit::Days(of) => Span::new().try_days(steps.checked_mul(of)?).ok(),
            // Nanoseconds of a span end after three centuries.
            Unit::Nanos(of) => {
                let all = i128::from(steps) * i128::from(of);
                let (seconds, rest) = (all / 1_000_000_000, all % 1_000_000_000);
                let span = Span::new().try_seconds(i64::try_from(seconds).ok()?).ok()?;
                span.try_nanoseconds(rest as i64).ok()
            }
        };
        let span = span().ok_or_else(out)?;
        let date = |date: Date| date.checked_add(span).map_err(|_| out());
        Ok(match self.start {
            TypedValue::Date(day) => TypedValue::Date(date(day)?),
            TypedValue::Month(day) => TypedValue::Month(date(day)?),
            TypedValue::Quarter(day) => TypedValue::Quarter(date(day)?),
            TypedValue::Week(day) => TypedValue::Week(date(day)?),
            TypedValue::Year(day) => TypedValue::Year(date(day)?),
            TypedValue::DateTime(clock) => {
                TypedValue::DateTime(clock.checked_add(span).map_err(|_| out())?)
            }
            TypedValue::Instant(instant) => {
                TypedValue::Instant(instant.checked_add(span).map_err(|_| out())?)
            }
            other => other,
        })
    }
}

/// The start of a series, in ISO 8601.
fn moment(text: &str) -> Option<TypedValue> {
    let first = |text: String| text.parse::<Date>().ok();
    let number = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
    if let Ok(instant) = text.parse::<Timestamp>() {
        return Some(TypedValue::Instant(instant));
    }
    if text.contains('T') {
        return text.parse::<DateTime>().ok().map(TypedValue::DateTime);
    }
    match text.split('-').collect::<Vec<_>>()[..] {
        [year] if year.len() == 4 && number(year) => {
            first(format!("{year}-01-01")).map(TypedValue::Year)
        }
        [year, quarter] if let Some(quarter) = quarter.strip_prefix('Q') => {
            let month = quarter.parse::<u8>().ok().filter(|own| (1..=4).contains(own))? * 3 - 2;
            first(format!("{year}-{month:02}-01")).map(TypedValue::Quarter)
        }
        [year, week] if let Some(week) = week.strip_prefix('W') => {
            let (year, week) = (year.parse().ok()?, week.parse().ok()?);
            let monday = jiff::civil::ISOWeekDate::new(year, week, jiff::civil::Weekday::Monday);
            monday.ok().map(|monday| TypedValue::Week(monday.date()))
        }
        [year, month] if number(year) && month.len() == 2 => {
            first(format!("{year}-{month}-01")).map(TypedValue::Month)
        }
        _ => text.parse::<Date>().ok().map(TypedValue::Date),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(text: &str, row: u64) -> String {
        match Series::parse(text).map(|series| series.at(row)) {
            Ok(Ok(moment)) => moment.to_string(),
            Ok(Err(unmade)) => unmade.code().to_owned(),
            Err(error) => error.marked().lines().nth(1).unwrap_or("").to_owned(),
        }
    }

    #[test]
    fn each_row_is_a_step_further() {
        for (text, row, expected) in [
            ("2024-01-01 / 1 day", 60, "2024-03-01"),
            ("2024-01-31 / 1 month", 1, "2024-02-29"),
            ("2024-01-31 / 1 month", 2, "2024-03-31"),
            ("2024-02-29 / 1 year", 4, "2028-02-29"),
            ("2024-03-05T10:00 / 15 minutes", 5, "2024-03-05T11:15:00"),
            ("2024-03-05T10:00Z / -1 hour", 11, "2024-03-04T23:00:00Z"),
            ("2024-11 / 1 month", 2, "2025-01"),
            ("2024-Q4 / 1 quarter", 1, "2025-Q1"),
            ("2024-W52 / 1 week", 1, "2025-W01"),
            ("1999 / 10 years", 3, "2029"),
            ("2024-01-01T00:00 / 250 milliseconds", 3, "2024-01-01T00:00:00.75"),
            ("9999-12-30 / 1 day", 2, "out-of-range"),
            ("2024-01-01 / 1 day", u64::MAX, "out-of-range"),
        ] {
            assert_eq!(at(text, row), expected, "{text} {row}");
        }
    }

    #[test]
    fn what_is_no_series_is_refused_with_its_place() {
        for (text, marked) in [
            ("2024-01-01", "^^^^^^^^^^"),
            ("3 May / 1 day", "^^^^^"),
            ("2024-01-01 / day", "             ^^^"),
            ("2024-01-01 / 0 days", "             ^"),
            ("2024-01-01 / 1 dya", "               ^^^"),
            ("2024-01-01 / 1 hour", "               ^^^^"),
            ("2024-03 / 1 day", "            ^^^"),
        ] {
            assert_eq!(at(text, 0), marked, "{text}");
        }
    }
}
