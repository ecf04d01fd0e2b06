//! ISO 8601-1, extended format.

use std::fmt::{self, Write};

use jiff::civil::{Date, DateTime, DateTimeRound, Time, TimeRound};
use jiff::tz::Offset;
use jiff::{RoundMode, TimestampRound, Unit};

use crate::typed::{Kind, TypedValue};
use crate::zone::{Clock, offset_text};

/// How fine a time is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Precision {
    /// Hours and minutes (ISO 8601-1:2019, 5.3.1.3).
    Minute,
    /// Seconds with so many digits of a fraction.
    Second(u8),
}

impl From<u8> for Precision {
    fn from(digits: u8) -> Precision {
        Precision::Second(digits)
    }
}

/// A moment without what is finer than it is written with: cut off, not rounded.
///
/// ```
/// use metachron_core::typed::TypedValue;
/// use metachron_core::write::{Precision, cut};
/// let time = TypedValue::Time(jiff::civil::time(10, 15, 59, 980_000_000));
/// assert_eq!(cut(time, Precision::Second(1)).to_string(), "10:15:59.9");
/// assert_eq!(cut(time, Precision::Minute).to_string(), "10:15:00");
/// ```
pub fn cut(moment: TypedValue, precision: Precision) -> TypedValue {
    if matches!(precision, Precision::Second(digits) if moment.fraction_digits() <= digits) {
        return moment;
    }
    // So many units that go into the next larger one without a rest.
    let (unit, digits) = match precision {
        Precision::Minute => (Unit::Minute, 0),
        Precision::Second(0) => (Unit::Second, 0),
        Precision::Second(digits @ 1..=3) => (Unit::Millisecond, 3 - digits),
        Precision::Second(digits @ 4..=6) => (Unit::Microsecond, 6 - digits),
        Precision::Second(digits) => (Unit::Nanosecond, 9 - digits.min(9)),
    };
    let (many, mode) = (10_i64.pow(digits.into()), RoundMode::Floor);
    match moment {
        TypedValue::Time(time) => {
            let cut = TimeRound::new().smallest(unit).increment(many).mode(mode);
            TypedValue::Time(time.round(cut).unwrap_or(time))
        }
        TypedValue::DateTime(clock) => {
            let cut = DateTimeRound::new().smallest(unit).increment(many).mode(mode);
            TypedValue::DateTime(clock.round(cut).unwrap_or(clock))
        }
        TypedValue::Instant(instant) => {
            let cut = TimestampRound::new().smallest(unit).increment(many).mode(mode);
            TypedValue::Instant(instant.round(cut).unwrap_or(instant))
        }
        other => other,
    }
}

/// Writes a moment, with this many digits of a fraction of a second; an instant in UTC.
///
/// Digits that do not fit are cut off, so give at least as many as the value has. Years before 0
/// are written in the expanded form with six digits (ISO 8601-1:2019, 5.2.2.3).
///
/// # Errors
/// If `out` cannot be written to.
///
/// ```
/// use metachron_core::{typed::TypedValue, write::iso};
/// let moment = TypedValue::DateTime(jiff::civil::datetime(2024, 3, 5, 7, 20, 0, 500_000_000));
/// let mut text = String::new();
/// iso(&mut text, moment, 1).unwrap();
/// assert_eq!(text, "2024-03-05T07:20:00.5");
/// ```
pub fn iso(
    out: &mut impl Write,
    moment: TypedValue,
    precision: impl Into<Precision>,
) -> fmt::Result {
    let precision = precision.into();
    match moment {
        TypedValue::Date(day) => date(out, day),
        TypedValue::Time(clock) => time(out, clock, precision),
        TypedValue::DateTime(datetime) => clock(out, datetime, precision),
        TypedValue::Instant(instant) => {
            clock(out, Offset::UTC.to_datetime(instant), precision)?;
            out.write_char('Z')
        }
        // Reduced precision (ISO 8601-1:2019, 5.2.2.2 and 5.2.4.2); a quarter is none of its forms.
        // A length of time is written with all its digits in every row (5.5.2).
        TypedValue::Month(_)
        | TypedValue::Quarter(_)
        | TypedValue::Week(_)
        | TypedValue::Year(_)
        | TypedValue::Duration(_) => {
            write!(out, "{moment}")
        }
    }
}

/// The basic format of what [`iso`] or [`iso_at`] have written of a moment of this kind: without `-` and `:`
/// (ISO 8601-1:2019, 5.2.2.1, 5.3.1.2 and 5.4.2.1). Months have no basic format, and durations no other.
///
/// ```
/// use metachron_core::{typed::Kind, write::basic};
/// assert_eq!(basic("2024-07-01T12:00:00.5-03:00[America/Sao_Paulo]", Kind::Instant), "20240701T120000.5-0300[America/Sao_Paulo]");
/// assert_eq!(basic("10:15:00", Kind::Time), "T101500");
/// assert_eq!(basic("2024-W05", Kind::Week), "2024W05");
/// assert_eq!(basic("2024-03", Kind::Month), "2024-03");
/// ```
pub fn basic(extended: &str, kind: Kind) -> String {
    let (text, zone) = extended.split_at(extended.find('[').unwrap_or(extended.len()));
    let without_colons = |clock: &str| clock.replace(':', "");
    // The sign of a year before the first stays.
    let without_dashes = |date: &str| match date.strip_prefix('-') {
        Some(date) => format!("-{}", date.replace('-', "")),
        None => date.replace('-', ""),
    };
    match kind {
        Kind::Date | Kind::Week => without_dashes(text),
        Kind::Time if text.is_empty() => String::new(),
        Kind::Time => format!("T{}", without_colons(text)),
        Kind::DateTime | Kind::Instant => match text.split_once('T') {
            Some((date, clock)) => {
                format!("{}T{}{zone}", without_dashes(date), without_colons(clock))
            }
            None => text.to_owned(),
        },
        Kind::Month | Kind::Quarter | Kind::Year | Kind::Duration => text.to_owned(),
    }
}

/// How moments are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Instants {
    /// In UTC: `2024-07-01T10:00:00Z`.
    #[default]
    Utc,
    /// As a clock shows them, with its offset: `2024-07-01T12:00:00+02:00`.
    Offset,
    /// The same with the clock's zone (RFC 9557): `2024-07-01T12:00:00+02:00[Europe/Oslo]`.
    Zone,
    /// As the clock shows them and nothing else; its zone belongs beside it.
    Local,
}

/// Writes a moment as a clock shows it; what is no instant, as it is.
///
/// # Errors
/// If `out` cannot be written to.
///
/// ```
/// use metachron_core::typed::TypedValue;
/// use metachron_core::write::{Instants, iso_at};
/// use metachron_core::zone::{Clock, Zones};
/// let oslo = Clock::named("Europe/Oslo", Zones::bundled()).unwrap();
/// let moment = TypedValue::Instant("2024-07-01T10:00:00Z".parse().unwrap());
/// let mut text = String::new();
/// iso_at(&mut text, moment, 0, oslo, Instants::Zone).unwrap();
/// assert_eq!(text, "2024-07-01T12:00:00+02:00[Europe/Oslo]");
/// ```
pub fn iso_at(
    out: &mut impl Write,
    moment: TypedValue,
    precision: impl Into<Precision>,
    clock: Clock,
    instants: Instants,
) -> fmt::Result {
    let precision = precision.into();
    let TypedValue::Instant(instant) = moment else { return iso(out, moment, precision) };
    if instants == Instants::Utc {
        return iso(out, moment, precision);
    }
    let offset = clock.offset_at(instant);
    iso(out, TypedValue::DateTime(offset.to_datetime(instant)), precision)?;
    if instants == Instants::Local {
        return Ok(());
    }
    // Offsets of local mean times have seconds, which the format has no place for.
    let minutes = Offset::from_seconds(offset.seconds() / 60 * 60).unwrap_or(offset);
    out.write_str(&offset_text(minutes))?;
    match (instants, clock) {
        (Instants::Zone, Clock::Zone(zone)) => write!(out, "[{}]", zone.current_name()),
        _ => Ok(()),
    }
}

fn date(out: &mut impl Write, date: Date) -> fmt::Result {
    match four_digits(date) {
        Some(text) => out.write_str(digits(&AtWord(text).0)),
        None => expanded(out, date),
    }
}

/// A year below 0, which has six digits.
fn expanded(out: &mut impl Write, date: Date) -> fmt::Result {
    let year = date.year().unsigned_abs();
    write!(out, "-{year:06}-{:02}-{:02}", date.month(), date.day())
}

/// A date whose year has four digits.
#[inline]
fn four_digits(date: Date) -> Option<[u8; 10]> {
    let year = u16::try_from(date.year()).ok()?;
    let [month, day] = [date.month(), date.day()].map(i8::unsigned_abs);
    let [a, b, c, d, e, f, g, h] = pairs([(year / 100) as u8, (year % 100) as u8, month, day]);
    Some([a, b, c, d, b'-', e, f, b'-', g, h])
}

/// Begins where a word of the machine does: then it is found to be text in a third of the time.
#[repr(align(8))]
struct AtWord<T>(T);

fn clock(out: &mut impl Write, clock: DateTime, precision: Precision) -> fmt::Result {
    // Nearly all are written in one go.
    if let (Some(date), Precision::Second(0)) = (four_digits(clock.date()), precision) {
        let mut whole = AtWord([b'T'; 19]);
        whole.0[..10].copy_from_slice(&date);
        whole.0[11..].copy_from_slice(&whole_seconds(clock.time()));
        return out.write_str(digits(&whole.0));
    }
    date(out, clock.date())?;
    out.write_char('T')?;
    time(out, clock.time(), precision)
}

#[inline]
fn whole_seconds(time: Time) -> [u8; 8] {
    let parts = [time.hour(), time.minute(), time.second(), 0];
    let [a, b, c, d, e, f, ..] = pairs(parts.map(i8::unsigned_abs));
    [a, b, b':', c, d, b':', e, f]
}

fn time(out: &mut impl Write, time: Time, precision: Precision) -> fmt::Result {
    let whole = whole_seconds(time);
    let digits_of_fraction = match precision {
        Precision::Minute => return out.write_str(digits(&whole[..5])),
        Precision::Second(digits) => usize::from(digits.min(9)),
    };
    out.write_str(digits(&whole))?;
    if digits_of_fraction == 0 {
        return Ok(());
    }
    let mut fraction = [b'.'; 10];
    let mut rest = time.subsec_nanosecond().unsigned_abs();
    for digit in fraction[1..].iter_mut().rev() {
        *digit = b'0' + (rest % 10) as u8;
        rest /= 10;
    }
    out.write_str(digits(&fraction[..=digits_of_fraction]))
}

/// Four numbers below 100 in two digits each, all at once: two bytes of a word for each.
#[inline]
fn pairs([a, b, c, d]: [u8; 4]) -> [u8; 8] {
    const EACH: u64 = 0x0001_0001_0001_0001;
    let [a, b, c, d] = [a, b, c, d].map(u64::from);
    let numbers = a | b << 16 | c << 32 | d << 48;
    // A tenth of each number below 100, cut off.
    let tens = ((numbers * 103) >> 10) & (0x000F * EACH);
    let ones = numbers - 10 * tens;
    (tens | (ones << 8) | (u64::from(b'0') * 0x0101 * EACH)).to_le_bytes()
}

/// What is written in one go, without the general formatting of numbers.
fn digits(bytes: &[u8]) -> &str {
    // Digits and marks are text.
    std::str::from_utf8(bytes).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        /// The general formatting writes the same.
        #[test]
        fn digits_are_those_of_the_number(
            day in -9999_i16..=9999, month in 1_i8..=12, nanos in 0_i64..86_400_000_000_000, digits in 0_u8..=9,
        ) {
            let date = jiff::civil::date(day, month, 28);
            let clock = Time::midnight() + jiff::SignedDuration::from_nanos(nanos);
            let year = crate::typed::year(day);
            let mut text = String::new();
            iso(&mut text, TypedValue::DateTime(date.to_datetime(clock)), digits).unwrap();
            let whole = clock.strftime("%H:%M:%S");
            let fraction = &format!(".{:09}", clock.subsec_nanosecond())[..usize::from(digits) + 1];
            let fraction = fraction.strip_suffix('.').unwrap_or(fraction);
            prop_assert_eq!(text, format!("{year}-{month:02}-28T{whole}{fraction}"));
        }
    }

    #[test]
    fn what_is_too_fine_is_cut_off_before_1970_too() {
        for (text, precision, expected) in [
            ("1969-12-31T23:59:59.7519Z", Precision::Minute, "1969-12-31T23:59:00Z"),
            ("1969-12-31T23:59:59.7519Z", Precision::Second(0), "1969-12-31T23:59:59Z"),
            ("1969-12-31T23:59:59.7519Z", Precision::Second(2), "1969-12-31T23:59:59.75Z"),
            (
                "2024-07-01T12:00:00.123456789Z",
                Precision::Second(7),
                "2024-07-01T12:00:00.1234567Z",
            ),
            (
                "2024-07-01T12:00:00.123456789Z",
                Precision::Second(9),
                "2024-07-01T12:00:00.123456789Z",
            ),
            ("-009999-01-03T01:59:59.9Z", Precision::Minute, "-009999-01-03T01:59:00Z"),
        ] {
            let moment = TypedValue::Instant(text.parse().unwrap());
            assert_eq!(cut(moment, precision).to_string(), expected, "{text}");
        }
    }

    #[test]
    fn extremes() {
        for (moment, digits, expected) in [
            (TypedValue::Date(jiff::civil::date(1, 1, 1)), 0, "0001-01-01"),
            (TypedValue::Date(jiff::civil::date(-44, 3, 15)), 0, "-000044-03-15"),
            (TypedValue::Time(jiff::civil::time(0, 0, 0, 1)), 9, "00:00:00.000000001"),
            (TypedValue::Time(jiff::civil::time(23, 59, 59, 0)), 3, "23:59:59.000"),
            (TypedValue::Instant(jiff::Timestamp::UNIX_EPOCH), 0, "1970-01-01T00:00:00Z"),
        ] {
            let mut text = String::new();
            iso(&mut text, moment, digits).unwrap();
            assert_eq!(text, expected);
        }
    }
}
