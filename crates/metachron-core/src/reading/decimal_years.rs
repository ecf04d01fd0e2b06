//! Years with a fraction: `1973.0833` is February 1973.
//!
//! Whoever writes them counts the parts of a year from its start (February is 1/12) or takes the middle of each
//! (February is 1.5/12), and rounds. A fraction names a part if it is one of these points, as far as its digits can say;
//! between two points it names none.

use jiff::civil::{Date, ISOWeekDate, Weekday};

use super::Unfit;
use crate::bounds;
use crate::layout::YearPart;

/// Digits of a fraction that are looked at: those behind them are the noise of binary numbers.
const MOST_DIGITS: usize = 9;

/// A year and its fraction, as they are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct DecimalYear {
    year: i16,
    /// Its digits as a number.
    fraction: u32,
    /// How many digits these are.
    scale: u32,
    part: YearPart,
}

impl DecimalYear {
    /// Reads four digits and a fraction, if there is one; gives the bytes that they take.
    pub(crate) fn read(rest: &str, part: YearPart, behind_digit: bool) -> Option<(Self, usize)> {
        let bytes = rest.as_bytes();
        let run =
            |from: usize| bytes[from..].iter().take_while(|byte| byte.is_ascii_digit()).count();
        let number = |from: usize, digits: usize| {
            bytes[from..from + digits].iter().fold(0, |n, byte| n * 10 + u32::from(byte - b'0'))
        };
        if behind_digit || run(0) != 4 {
            return None;
        }
        let year = number(0, 4) as i16;
        let digits = if matches!(bytes.get(4), Some(b'.' | b',')) { run(5) } else { 0 };
        let scale = digits.min(MOST_DIGITS);
        let fraction = if scale > 0 { number(5, scale) } else { 0 };
        let length = if digits > 0 { 5 + digits } else { 4 };
        Some((DecimalYear { year, fraction, scale: scale as u32, part }, length))
    }

    /// The same of a number whose digits behind the mark are so many.
    pub(crate) fn of(year: i16, fraction: u128, scale: u32, part: YearPart) -> DecimalYear {
        let more = scale.saturating_sub(MOST_DIGITS as u32);
        // Nine digits are below the most that fit.
        let fraction = (fraction / 10_u128.saturating_pow(more)) as u32;
        DecimalYear { year, fraction, scale: scale - more, part }
    }

    /// The first day of the part of the year that it names.
    ///
    /// # Errors
    /// It names none, or too few digits leave it open.
    pub(crate) fn first_day(self) -> Result<Date, Unfit> {
        let year = bounds::YEAR.check(self.year.into())? as i16;
        let parts = self.part.of(year);
        let at = self.part_named(parts).ok_or(Unfit::NoPartOfYear(self.part))?;
        // What is all but the next year is its start.
        let (year, at) = if at == parts { (year + 1, 0) } else { (year, at) };
        let months = |months: u32| Date::new(year, (months + 1) as i8, 1);
        match self.part {
            YearPart::Quarter => months(at * 3),
            YearPart::Month => months(at),
            YearPart::Week => {
                ISOWeekDate::new(year, (at + 1) as i8, Weekday::Monday).map(ISOWeekDate::date)
            }
            YearPart::Day => {
                let first = Date::new(year, 1, 1);
                first.and_then(|first| first.checked_add(jiff::Span::new().days(i64::from(at))))
            }
        }
        .map_err(|_| Unfit::OutOfRange)
    }

    /// Which of so many parts it names, counted from 0.
    fn part_named(self, parts: u32) -> Option<u32> {
        // Starts and middles: so many points, the start of the next year being one more.
        let points = i64::from(parts) * 2;
        let (fraction, ten) = (i64::from(self.fraction), 10_i64.pow(self.scale));
        if fraction * points % ten == 0 {
            return Some((fraction * points / ten / 2) as u32);
        }
        if ten < points {
            return None;
        }
        let between = |from: i64, to: i64, by: i64| {
            let (first, last) = ((from * points + by - 1).div_euclid(by), to * points / by);
            (first <= last).then_some((first / 2, last / 2))
        };
        // Rounded, or else cut off.
        let rounded = between(fraction * 2 - 1, fraction * 2 + 1, ten * 2);
        match rounded.or_else(|| between(fraction, fraction + 1, ten))? {
            (one, other) if one == other => Some(one as u32),
            _ => None,
        }
    }

    /// How probable it is that a number with so many digits behind the mark names a part by chance.
    pub(crate) fn chance(self) -> f64 {
        let points = f64::from(self.part.of(self.year)) * 2.0;
        // Rounded or cut off, a point claims the numbers on both its sides.
        (points * 2.0 / 10_f64.powi(self.scale as i32)).min(1.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::Layout;
    use crate::reading::{Terms, interpret};

    fn read(layout: &str, value: &str) -> Result<String, Unfit> {
        let layout = Layout::parse(layout).unwrap();
        interpret(&layout, value, Terms::default()).map(|fit| fit.moment.to_string())
    }

    #[test]
    fn a_fraction_names_a_part_of_the_year() {
        for (part, value, expected) in [
            ("month", "1973.0833", "1973-02"),
            ("month", "1973", "1973-01"),
            ("month", "1973.0417", "1973-01"),
            ("month", "1973,125", "1973-02"),
            ("month", "1973.08", "1973-02"),
            ("month", "1973.9167", "1973-12"),
            ("month", "1973.916", "1973-12"),
            ("month", "1960.08333333333326", "1960-02"),
            ("month", "1960.99999999999", "1961-01"),
            ("month", "1960.5", "1960-07"),
            ("quarter", "1960.25", "1960-Q2"),
            ("quarter", "1960.875", "1960-Q4"),
            ("quarter", "1960.8", "1960-Q4"),
            ("week", "1960.0192", "1960-W02"),
            ("week", "1960.981", "1960-W52"),
            ("day", "2004.5027", "2004-07-03"),
            ("day", "2003.0014", "2003-01-01"),
            ("day", "2003.9973", "2003-12-31"),
            ("day", "2003.003", "2003-01-02"),
        ] {
            let layout = format!("{{decimalyear:{part}}}");
            assert_eq!(read(&layout, value).as_deref(), Ok(expected), "{value} by {layout}");
        }
    }

    #[test]
    fn between_two_points_it_names_none() {
        for (part, value) in [
            ("month", "1973.1"),
            ("month", "1973.10"),
            ("month", "1973.0900"),
            ("quarter", "1960.3333"),
            ("week", "1960.02"),
            ("day", "2004.5031"),
        ] {
            let wrong = read(&format!("{{decimalyear:{part}}}"), value);
            assert!(matches!(wrong, Err(Unfit::NoPartOfYear(_))), "{value}: {wrong:?}");
        }
        assert_eq!(read("{decimalyear:day}", "197.5"), Err(Unfit::Form));
        assert_eq!(read("{decimalyear:day}", "19733.5"), Err(Unfit::Form));
        assert_eq!(read("{decimalyear:month}", "1973."), Err(Unfit::Form));
    }

    #[test]
    fn an_hour_and_a_minute_are_one_number() {
        for (value, expected) in [
            ("517", "05:17:00"),
            ("5", "00:05:00"),
            ("2359", "23:59:00"),
            ("0", "00:00:00"),
            ("0517", "05:17:00"),
        ] {
            assert_eq!(read("{hourminute}", value).as_deref(), Ok(expected));
        }
        assert!(read("{hourminute}", "560").is_err());
        assert_eq!(read("{hourminute}", "2400"), Err(Unfit::EndOfNoDay));
        assert_eq!(
            read("{year}-{month}-{day} {hourminute}", "2024-03-05 2400").as_deref(),
            Ok("2024-03-06T00:00:00")
        );
    }
}
