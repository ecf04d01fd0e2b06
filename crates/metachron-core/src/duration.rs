//! Lengths of time, and the units that they are told in.

use std::cmp::Ordering;
use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

use crate::error::nearest;

/// A unit of time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unit {
    /// So many months of the calendar.
    Months(i64),
    /// So many days.
    Days(i64),
    /// So many nanoseconds.
    Nanos(i64),
}

/// Every unit with its name in the plural; the singular is the same without its `s`.
pub const UNITS: [(&str, Unit); 11] = [
    ("years", Unit::YEARS),
    ("quarters", Unit::Months(3)),
    ("months", Unit::MONTHS),
    ("weeks", Unit::WEEKS),
    ("days", Unit::DAYS),
    ("hours", Unit::HOURS),
    ("minutes", Unit::MINUTES),
    ("seconds", Unit::SECONDS),
    ("milliseconds", Unit::MILLISECONDS),
    ("microseconds", Unit::MICROSECONDS),
    ("nanoseconds", Unit::NANOSECONDS),
];

/// Nanoseconds of a day of 24 hours.
pub const DAY: i64 = 86_400 * SECOND;
const SECOND: i64 = 1_000_000_000;

impl Unit {
    pub(crate) const YEARS: Unit = Unit::Months(12);
    pub(crate) const MONTHS: Unit = Unit::Months(1);
    pub(crate) const WEEKS: Unit = Unit::Days(7);
    pub(crate) const DAYS: Unit = Unit::Days(1);
    pub(crate) const HOURS: Unit = Unit::Nanos(3_600 * SECOND);
    pub(crate) const MINUTES: Unit = Unit::Nanos(60 * SECOND);
    pub(crate) const SECONDS: Unit = Unit::Nanos(SECOND);
    pub(crate) const MILLISECONDS: Unit = Unit::Nanos(1_000_000);
    pub(crate) const MICROSECONDS: Unit = Unit::Nanos(1_000);
    pub(crate) const NANOSECONDS: Unit = Unit::Nanos(1);

    /// Those that numbers alone usually have.
    pub const USUAL: [Unit; 4] = [Unit::SECONDS, Unit::MINUTES, Unit::HOURS, Unit::DAYS];

    /// The unit of this name, in the singular or the plural.
    ///
    /// ```
    /// use metachron_core::duration::Unit;
    /// assert_eq!(Unit::named("hour"), Unit::named("hours"));
    /// assert_eq!(Unit::named("huors"), Err(Some("hours")));
    /// ```
    ///
    /// # Errors
    /// The name that comes near, if one does.
    pub fn named(name: &str) -> Result<Unit, Option<&'static str>> {
        let is_own = |own: &str| own == name || own.strip_suffix('s') == Some(name);
        let found = UNITS.iter().find(|(own, _)| is_own(own)).map(|(_, unit)| *unit);
        found.ok_or_else(|| nearest(name, UNITS.iter().map(|(own, _)| *own)))
    }

    /// Its name in the plural.
    pub fn name(self) -> &'static str {
        UNITS.iter().find(|(_, unit)| *unit == self).map_or("units", |(name, _)| name)
    }

    /// Its nanoseconds, a day having 24 hours; a month has no fixed number of them.
    ///
    /// ```
    /// use metachron_core::duration::Unit;
    /// assert_eq!(Unit::named("minutes").unwrap().nanos(), Some(60_000_000_000));
    /// assert_eq!(Unit::named("months").unwrap().nanos(), None);
    /// ```
    pub fn nanos(self) -> Option<i64> {
        match self {
            Unit::Months(_) => None,
            Unit::Days(days) => Some(days * DAY),
            Unit::Nanos(nanos) => Some(nanos),
        }
    }
}

/// A length of time: months of the calendar, and nanoseconds; a day has 24 hours.
///
/// Displayed as ISO 8601-1:2019, 5.5.2, has it. Hours go on beyond 24, so that no day is taken for one of
/// the calendar, unless there are months: then days are what people mean.
///
/// ```
/// use metachron_core::duration::{Duration, Unit};
/// let day = Duration::of(1, Unit::named("day").unwrap()).unwrap();
/// let hours = Duration::of(4, Unit::named("hours").unwrap()).unwrap();
/// assert_eq!(day.plus(hours).unwrap().to_string(), "PT28H");
/// assert_eq!("P1Y2M3DT4H".parse::<Duration>().unwrap().to_string(), "P1Y2M3DT4H");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
pub struct Duration {
    seconds: i64,
    /// Billionths of a second, with the sign of the seconds.
    fraction: i32,
    months: i32,
}

impl Duration {
    /// Nothing.
    pub const ZERO: Duration = Duration { seconds: 0, fraction: 0, months: 0 };

    /// So many nanoseconds; none where they are more than can be held.
    ///
    /// ```
    /// use metachron_core::duration::Duration;
    /// assert_eq!(Duration::of_nanos(90_500_000_000).unwrap().to_string(), "PT1M30.5S");
    /// ```
    pub fn of_nanos(nanos: i128) -> Option<Duration> {
        let second = i128::from(SECOND);
        let seconds = i64::try_from(nanos / second).ok()?;
        Some(Duration { seconds, fraction: (nanos % second) as i32, months: 0 })
    }

    /// So many of a unit; none where they are more than can be held.
    ///
    /// ```
    /// use metachron_core::duration::{Duration, Unit};
    /// assert_eq!(Duration::of(3, Unit::named("weeks").unwrap()).unwrap().to_string(), "PT504H");
    /// ```
    pub fn of(amount: i64, unit: Unit) -> Option<Duration> {
        match unit {
            Unit::Months(months) => {
                let months = i32::try_from(amount.checked_mul(months)?).ok()?;
                Some(Duration { months, ..Duration::ZERO })
            }
            Unit::Days(_) | Unit::Nanos(_) => {
                Duration::of_nanos(i128::from(amount) * i128::from(unit.nanos()?))
            }
        }
    }

    /// The part that has no fixed length.
    pub fn months(self) -> i32 {
        self.months
    }

    /// The part that has, in nanoseconds.
    pub fn nanos(self) -> i128 {
        i128::from(self.seconds) * i128::from(SECOND) + i128::from(self.fraction)
    }

    /// Its nanoseconds; none where it has months, which differ in length.
    ///
    /// ```
    /// use metachron_core::duration::Duration;
    /// assert_eq!("PT1S".parse::<Duration>().unwrap().fixed(), Some(1_000_000_000));
    /// assert_eq!("P1M".parse::<Duration>().unwrap().fixed(), None);
    /// ```
    pub fn fixed(self) -> Option<i128> {
        (self.months == 0).then(|| self.nanos())
    }

    /// Both together; none where that is more than can be held.
    pub fn plus(self, other: Duration) -> Option<Duration> {
        let sum = Duration::of_nanos(self.nanos() + other.nanos())?;
        Some(Duration { months: self.months.checked_add(other.months)?, ..sum })
    }

    /// The same in the other direction.
    ///
    /// ```
    /// use metachron_core::duration::Duration;
    /// assert_eq!("PT1H30M".parse::<Duration>().unwrap().negated().to_string(), "-PT1H30M");
    /// ```
    #[must_use]
    pub fn negated(self) -> Duration {
        // The lowest numbers have no counterpart; nothing makes them.
        Duration {
            seconds: self.seconds.saturating_neg(),
            fraction: -self.fraction,
            months: self.months.saturating_neg(),
        }
    }

    /// The digits behind the decimal mark of its seconds, as a number of billionths.
    pub fn fraction(self) -> i32 {
        self.fraction
    }

    /// Whole units from the largest to the smallest, and what is left over in nanoseconds. The first takes
    /// all there is, so that 27 hours are 27 and not a day and 3.
    ///
    /// ```
    /// use metachron_core::duration::{Duration, Unit};
    /// let units = [Unit::named("hours").unwrap(), Unit::named("minutes").unwrap()];
    /// let length: Duration = "PT27H15M9S".parse().unwrap();
    /// assert_eq!(length.parts(&units), (vec![27, 15], 9_000_000_000));
    /// ```
    pub fn parts(self, units: &[Unit]) -> (Vec<u64>, u64) {
        let mut months = u64::from(self.months.unsigned_abs());
        let mut nanos = self.nanos().unsigned_abs();
        let parts = units.iter().map(|unit| match unit {
            Unit::Months(of) => {
                let of = of.unsigned_abs();
                let whole = months / of;
                months %= of;
                whole
            }
            Unit::Days(_) | Unit::Nanos(_) => {
                let of = u128::from(unit.nanos().unwrap_or(1).unsigned_abs());
                let whole = nanos / of;
                nanos %= of;
                whole as u64
            }
        });
        let parts = parts.collect();
        (parts, nanos as u64)
    }

    /// Whether it goes back.
    pub fn is_negative(self) -> bool {
        self < Duration::ZERO
    }

    /// A length to compare by: a month is a twelfth of the mean year of the Gregorian calendar, so this says
    /// which is longer only where months are not involved, or do not matter.
    pub(crate) fn rank(self) -> i128 {
        i128::from(self.months) * MONTH + self.nanos()
    }

    /// The one of this rank with so many months.
    pub(crate) fn of_rank(rank: i128, months: i32) -> Option<Duration> {
        let rest = Duration::of_nanos(rank - i128::from(months) * MONTH)?;
        Some(Duration { months, ..rest })
    }
}

/// Nanoseconds of a month in a mean Gregorian year, for the order of lengths alone.
const MONTH: i128 = 2_629_746 * SECOND as i128;

impl Ord for Duration {
    fn cmp(&self, other: &Duration) -> Ordering {
        self.rank().cmp(&other.rank()).then(self.months.cmp(&other.months))
    }
}

impl PartialOrd for Duration {
    fn partial_cmp(&self, other: &Duration) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl fmt::Display for Duration {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (months, nanos) = (self.months, self.nanos());
        // Months and the rest may point in different directions: then each number has its sign.
        let mixed = (months < 0 && nanos > 0) || (months > 0 && nanos < 0);
        let sign = if (months < 0 || nanos < 0) && !mixed { "-" } else { "" };
        let own = |negative: bool| if mixed && negative { "-" } else { "" };
        write!(f, "{sign}P")?;
        let of_months = own(months < 0);
        let (years, rest) = (months.unsigned_abs() / 12, months.unsigned_abs() % 12);
        if years > 0 {
            write!(f, "{of_months}{years}Y")?;
        }
        if rest > 0 {
            write!(f, "{of_months}{rest}M")?;
        }
        let minus = own(nanos < 0);
        let all = nanos.unsigned_abs();
        let (mut seconds, fraction) = (all / SECOND as u128, all % SECOND as u128);
        if months != 0 && seconds >= 86_400 {
            write!(f, "{minus}{}D", seconds / 86_400)?;
            seconds %= 86_400;
        }
        if (seconds, fraction) == (0, 0) {
            return if months == 0 { f.write_str("T0S") } else { Ok(()) };
        }
        f.write_str("T")?;
        let (hours, minutes, seconds) = (seconds / 3_600, seconds / 60 % 60, seconds % 60);
        if hours > 0 {
            write!(f, "{minus}{hours}H")?;
        }
        if minutes > 0 {
            write!(f, "{minus}{minutes}M")?;
        }
        match (seconds, fraction) {
            (0, 0) => Ok(()),
            (_, 0) => write!(f, "{minus}{seconds}S"),
            _ => {
                let digits = format!("{fraction:09}");
                write!(f, "{minus}{seconds}.{}S", digits.trim_end_matches('0'))
            }
        }
    }
}

/// It is no duration of ISO 8601-1, or a longer one than can be held.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NoDuration;

impl FromStr for Duration {
    type Err = NoDuration;

    /// Reads the form with designators (ISO 8601-1:2019, 5.5.2.2 and 5.5.2.3): `P1Y2M3DT4H5M6.7S`, `P5W`, the
    /// fraction at the last number, behind a point or a comma. A sign (ISO 8601-2:2019, 4.4.1.9) may stand
    /// before the whole or before each number.
    fn from_str(text: &str) -> Result<Duration, NoDuration> {
        let (negative, rest) = match text.strip_prefix(['-', '\u{2212}']) {
            Some(rest) => (true, rest),
            None => (false, text.strip_prefix('+').unwrap_or(text)),
        };
        let mut rest = rest.strip_prefix(['P', 'p']).ok_or(NoDuration)?;
        let mut sum = Duration::ZERO;
        // Each designator comes once, in this order.
        let designators: [(bool, char, Unit); 7] = [
            (false, 'Y', Unit::YEARS),
            (false, 'M', Unit::MONTHS),
            (false, 'W', Unit::WEEKS),
            (false, 'D', Unit::DAYS),
            (true, 'H', Unit::HOURS),
            (true, 'M', Unit::MINUTES),
            (true, 'S', Unit::SECONDS),
        ];
        let (mut left, mut of_time, mut is_last) = (&designators[..], false, false);
        if rest.is_empty() {
            return Err(NoDuration);
        }
        while !rest.is_empty() {
            if !of_time && let Some(behind) = rest.strip_prefix(['T', 't']) {
                (of_time, rest) = (true, behind);
                // Something must follow.
                if rest.is_empty() {
                    return Err(NoDuration);
                }
                continue;
            }
            if is_last {
                return Err(NoDuration);
            }
            let at = rest.find(|c: char| c.is_ascii_alphabetic()).ok_or(NoDuration)?;
            let (number, behind) = rest.split_at(at);
            let letter = behind.chars().next().ok_or(NoDuration)?.to_ascii_uppercase();
            let place = left.iter().position(|(time, own, _)| (*time, *own) == (of_time, letter));
            let place = place.ok_or(NoDuration)?;
            let (minus, digits) = match number.strip_prefix('-') {
                Some(digits) => (true, digits),
                None => (false, number),
            };
            is_last = digits.contains(['.', ',']);
            let part = amount(digits, left[place].2).ok_or(NoDuration)?;
            sum = sum.plus(if minus { part.negated() } else { part }).ok_or(NoDuration)?;
            (left, rest) = (&left[place + 1..], &behind[1..]);
        }
        Ok(if negative { sum.negated() } else { sum })
    }
}

/// So many of a unit, with a fraction behind a point or a comma: to the nearest nanosecond, half away from
/// zero. A fraction of a year must be whole months, one of a month is nothing.
pub(crate) fn amount(digits: &str, unit: Unit) -> Option<Duration> {
    let (whole, fraction) = digits.split_once(['.', ',']).unwrap_or((digits, ""));
    let are_digits = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
    if !are_digits(whole) || !are_digits(fraction) || (whole.is_empty() && fraction.is_empty()) {
        return None;
    }
    if digits.len() > whole.len() && fraction.is_empty() {
        return None;
    }
    let number: i64 = if whole.is_empty() { 0 } else { whole.parse().ok()? };
    let sum = Duration::of(number, unit)?;
    let fraction = fraction.trim_end_matches('0');
    if fraction.is_empty() {
        return Some(sum);
    }
    // Digits beyond these are far below a nanosecond of any unit.
    let fraction = &fraction[..fraction.len().min(20)];
    let numerator: i128 = fraction.parse().ok()?;
    let denominator = 10_i128.pow(fraction.len() as u32);
    match unit {
        Unit::Months(months) => {
            let all = numerator * i128::from(months);
            let rest = i64::try_from(all / denominator).ok().filter(|_| all % denominator == 0)?;
            sum.plus(Duration::of(rest, Unit::MONTHS)?)
        }
        unit => {
            let of = i128::from(unit.nanos()?);
            let nanos = (numerator * of + denominator / 2) / denominator;
            sum.plus(Duration::of_nanos(nanos)?)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn durations_are_read_and_written_in_iso_8601() {
        for (text, written) in [
            ("PT51H20M", "PT51H20M"),
            ("P2DT3H20M", "PT51H20M"),
            ("P5W", "PT840H"),
            ("P1Y6M", "P1Y6M"),
            ("P1.5Y", "P1Y6M"),
            ("P1Y40D", "P1Y40D"),
            ("P1M3DT30H", "P1M4DT6H"),
            ("PT0.5H", "PT30M"),
            ("PT1,25M", "PT1M15S"),
            ("-PT1M30.5S", "-PT1M30.5S"),
            ("P-1DT12H", "-PT12H"),
            ("P1M-1D", "P1M-1D"),
            ("pt1h", "PT1H"),
            ("PT0S", "PT0S"),
            ("P0D", "PT0S"),
            ("PT0.000000001S", "PT0.000000001S"),
        ] {
            let read = text.parse::<Duration>();
            assert_eq!(read.map(|own| own.to_string()), Ok(written.to_owned()), "{text}");
        }
    }

    #[test]
    fn what_iso_8601_does_not_have_is_refused() {
        for text in [
            "",
            "P",
            "PT",
            "P1",
            "1D",
            "P1H",
            "PT1D",
            "P1D2Y",
            "PT1.5H30M",
            "P1.2M",
            "PT1M1H",
            "P1DT",
            "PT99999999999999999999H",
            "P1D ",
            "PT.H",
            "PT1.H",
        ] {
            assert_eq!(text.parse::<Duration>(), Err(NoDuration), "{text}");
        }
    }

    #[test]
    fn fractions_go_to_the_nearest_nanosecond() {
        for (digits, unit, nanos) in [
            ("0.5", Unit::HOURS, 1_800_000_000_000),
            ("1,5", Unit::DAYS, 129_600_000_000_000),
            ("0.333333333333", Unit::HOURS, 1_199_999_999_999),
            ("0.0104166666666666667", Unit::DAYS, 900_000_000_000),
            (".25", Unit::SECONDS, 250_000_000),
        ] {
            assert_eq!(amount(digits, unit).unwrap().nanos(), nanos, "{digits}");
        }
        assert_eq!(amount("1.25", Unit::YEARS).unwrap().months(), 15);
        assert_eq!(amount("0.3", Unit::YEARS), None);
    }

    #[test]
    fn units_take_all_there_is_from_the_largest_on() {
        let own: Duration = "PT27H15M9.25S".parse().unwrap();
        let clock = [Unit::HOURS, Unit::MINUTES, Unit::SECONDS];
        assert_eq!(own.parts(&clock), (vec![27, 15, 9], 250_000_000));
        assert_eq!(own.parts(&[Unit::DAYS, Unit::HOURS]), (vec![1, 3], 909_250_000_000));
    }
}
