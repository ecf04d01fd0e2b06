//! Numbers that count from an origin: spreadsheet serials, Unix time, day numbers, dates as digits.
//!
//! Everything is computed in whole numbers: a number is taken as the decimal that it is, never as
//! binary floating point.

mod number;

use std::fmt;
use std::str::FromStr;

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::Offset;
use jiff::{SignedDuration, Timestamp};

use crate::typed::{Kind, TypedValue, days_from_1970};

pub use number::Number;

/// Nanoseconds of a day.
const DAY: i128 = 86_400_000_000_000;
const WEEK: i128 = 7 * DAY;
/// Nanoseconds of a second.
const SECOND: i128 = 1_000_000_000;

/// What a number counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Rule {
    /// Units from an origin: nanoseconds from 1970-01-01T00:00 to the origin, and of a unit.
    Count { origin: i128, unit: i128 },
    /// Days of the 1900 system of spreadsheets, which has a 29 February 1900.
    Sheet1900,
    /// Year, month and day as digits.
    YearMonthDay,
    /// Year and day of the year as digits.
    YearDay,
    /// Centuries since 1900, then year, month and day as digits.
    CenturyYearMonthDay,
}

/// What numbers become.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Yields {
    /// Days, and clock times where there are fractions.
    Days,
    /// Clock times in no stated zone.
    Clocks,
    /// Moments in UTC.
    Moments,
}

/// An origin and a unit, by name or spelled out.
///
/// ```
/// use metachron_core::epoch::{Epoch, Number};
/// let sheet: Epoch = "sheet-1900".parse().unwrap();
/// let read = |text: &str| sheet.read(Number::parse(text).unwrap()).unwrap().to_string();
/// assert_eq!(read("45210.8125"), "2023-10-11T19:30:00");
/// assert_eq!(read("45210"), "2023-10-11");
/// // The 29 February 1900 never was.
/// assert!(sheet.read(Number::parse("60").unwrap()).is_err());
/// let other: Epoch = "1582-10-14/seconds".parse().unwrap();
/// let zero = other.read(Number::parse("12219379200").unwrap()).unwrap();
/// assert_eq!(zero.to_string(), "1970-01-01T00:00:00");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Epoch {
    rule: Rule,
    yields: Yields,
    /// Where it stands among those that have a name.
    named: Option<u8>,
}

/// An epoch that has a name.
struct NamedEpoch {
    name: &'static str,
    /// The moment that is zero.
    origin: &'static str,
    unit: &'static str,
    rule: Rule,
    yields: Yields,
}

/// Days from 1970-01-01.
const fn days_to(year: i32, month: i32, day: i32) -> i128 {
    days_from_1970(year, month, day) as i128
}

const fn count(year: i32, month: i32, day: i32, hours: i128, unit: i128) -> Rule {
    Rule::Count { origin: days_to(year, month, day) * DAY + hours * 3_600 * SECOND, unit }
}

const fn named(
    name: &'static str,
    origin: &'static str,
    unit: &'static str,
    rule: Rule,
    yields: Yields,
) -> NamedEpoch {
    NamedEpoch { name, origin, unit, rule, yields }
}

/// Every epoch with a name.
#[rustfmt::skip]
const NAMED: [NamedEpoch; 20] = [
    named("sheet-1900", "1899-12-31", "days", Rule::Sheet1900, Yields::Days),
    named("sheet-1904", "1904-01-01", "days", count(1904, 1, 1, 0, DAY), Yields::Days),
    named("day-zero-1899", "1899-12-30", "days", count(1899, 12, 30, 0, DAY), Yields::Days),
    named("unix-seconds", "1970-01-01T00:00Z", "seconds", count(1970, 1, 1, 0, SECOND), Yields::Moments),
    named("unix-milliseconds", "1970-01-01T00:00Z", "milliseconds", count(1970, 1, 1, 0, SECOND / 1_000), Yields::Moments),
    named("unix-microseconds", "1970-01-01T00:00Z", "microseconds", count(1970, 1, 1, 0, SECOND / 1_000_000), Yields::Moments),
    named("unix-nanoseconds", "1970-01-01T00:00Z", "nanoseconds", count(1970, 1, 1, 0, 1), Yields::Moments),
    named("seconds-1582", "1582-10-14T00:00", "seconds", count(1582, 10, 14, 0, SECOND), Yields::Clocks),
    named("days-1960", "1960-01-01", "days", count(1960, 1, 1, 0, DAY), Yields::Days),
    named("seconds-1960", "1960-01-01T00:00", "seconds", count(1960, 1, 1, 0, SECOND), Yields::Clocks),
    named("hundred-nanoseconds-0001", "0001-01-01T00:00", "100 nanoseconds", count(1, 1, 1, 0, 100), Yields::Clocks),
    named("hundred-nanoseconds-1601", "1601-01-01T00:00Z", "100 nanoseconds", count(1601, 1, 1, 0, 100), Yields::Moments),
    named("day-one-0001", "0000-12-31", "days", count(0, 12, 31, 0, DAY), Yields::Days),
    // 0000-01-01 is 1, as 0001-01-01 is in the one before: they are 366 days apart.
    named("day-one-0000", "-000001-12-31", "days", count(-1, 12, 31, 0, DAY), Yields::Days),
    named("julian-day", "-004713-11-24T12:00", "days", count(-4713, 11, 24, 12, DAY), Yields::Clocks),
    named("modified-julian-day", "1858-11-17", "days", count(1858, 11, 17, 0, DAY), Yields::Days),
    named("seconds-2001", "2001-01-01T00:00Z", "seconds", count(2001, 1, 1, 0, SECOND), Yields::Moments),
    named("yyyymmdd", "", "digits", Rule::YearMonthDay, Yields::Days),
    named("yyyyddd", "", "digits", Rule::YearDay, Yields::Days),
    named("century-yymmdd", "", "digits", Rule::CenturyYearMonthDay, Yields::Days),
];

/// Why a number is no date.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NotCounted {
    /// It leads beyond the years −9999 to 9999.
    OutOfRange,
    /// The 1900 system of spreadsheets has no days before its first.
    BeforeOrigin,
    /// The 29 February 1900 that the 1900 system counts never was.
    Phantom,
    /// Its digits are no day that exists.
    NoSuchDay,
}

impl Epoch {
    /// Seconds since 1970-01-01T00:00Z, leap seconds apart (POSIX.1-2017, 4.16).
    pub const UNIX_SECONDS: Epoch = Epoch::at(3);
    /// Milliseconds since then.
    pub const UNIX_MILLIS: Epoch = Epoch::at(4);

    const fn at(place: usize) -> Epoch {
        Epoch { rule: NAMED[place].rule, yields: NAMED[place].yields, named: Some(place as u8) }
    }

    /// Whether spreadsheets count so.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// let sheets: Vec<_> = Epoch::all().filter(|epoch| epoch.is_of_sheets()).collect();
    /// assert_eq!(sheets.len(), 2); // from 1900 and from 1904
    /// ```
    pub fn is_of_sheets(self) -> bool {
        matches!(self.name(), Some("sheet-1900" | "sheet-1904"))
    }

    /// What an epoch that is spelled out may count.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// assert!(Epoch::units().all(|unit| format!("2024-01-01/{unit}").parse::<Epoch>().is_ok()));
    /// ```
    pub fn units() -> impl Iterator<Item = &'static str> {
        UNITS.iter().map(|(name, _)| *name)
    }

    /// Every epoch with a name.
    pub fn all() -> impl Iterator<Item = Epoch> {
        (0..NAMED.len()).map(Epoch::at)
    }

    fn entry(self) -> Option<&'static NamedEpoch> {
        self.named.and_then(|at| NAMED.get(usize::from(at)))
    }

    /// The name, if it has one.
    pub fn name(self) -> Option<&'static str> {
        self.entry().map(|entry| entry.name)
    }

    /// The moment that is zero, and the unit, in words; none of an epoch that is spelled out.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// let epoch: Epoch = "unix-seconds".parse().unwrap();
    /// assert_eq!(epoch.described(), Some(("1970-01-01T00:00Z", "seconds")));
    /// ```
    pub fn described(self) -> Option<(&'static str, &'static str)> {
        self.entry().map(|entry| (entry.origin, entry.unit))
    }

    /// Whether a number that counts to this moment is likely to be meant: dates of tables lie from 1950
    /// to ten years from today, and not in the first year that anything counts.
    ///
    /// ```
    /// use metachron_core::epoch::{Epoch, Number};
    /// let today = jiff::civil::date(2024, 6, 1);
    /// let is_usual = |name: &str, number: &str| {
    ///     let epoch: Epoch = name.parse().unwrap();
    ///     epoch.is_usual(epoch.read(Number::parse(number).unwrap()).unwrap(), today)
    /// };
    /// assert!(is_usual("sheet-1900", "45210") && !is_usual("unix-seconds", "45210"));
    /// ```
    pub fn is_usual(self, moment: TypedValue, today: Date) -> bool {
        const FROM: Date = jiff::civil::date(1950, 1, 1);
        const AHEAD: i64 = 10;
        let zero = self.zero().map(|zero| zero.saturating_add(jiff::Span::new().years(1)));
        let first = zero.map_or(FROM, |zero| zero.max(FROM));
        let last = today.saturating_add(jiff::Span::new().years(AHEAD)).last_of_year();
        moment.date().is_some_and(|day| first <= day && day <= last)
    }

    /// The day of zero, where there is one that years can be counted from.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// let epoch: Epoch = "sheet-1904".parse().unwrap();
    /// assert_eq!(epoch.zero(), Some(jiff::civil::date(1904, 1, 1)));
    /// ```
    pub fn zero(self) -> Option<Date> {
        match self.rule {
            Rule::Count { origin, .. } => clock_at(origin).map(|clock| clock.date()),
            Rule::Sheet1900 => Some(jiff::civil::date(1899, 12, 31)),
            _ => None,
        }
    }

    /// The first and the last number that is a date.
    pub fn range(self) -> (Option<Number>, Option<Number>) {
        let ends = match self.yields {
            Yields::Moments => (Timestamp::MIN, Timestamp::MAX),
            _ => {
                let first = self.count(TypedValue::Date(Date::MIN));
                let last = self.count(TypedValue::Date(Date::MAX));
                let one = Number { negative: false, digits: 1, scale: 0 };
                return match self.rule {
                    Rule::Sheet1900 => (Some(one), last),
                    Rule::Count { .. } => (first, last),
                    _ => (None, None),
                };
            }
        };
        (self.count(TypedValue::Instant(ends.0)), self.count(TypedValue::Instant(ends.1)))
    }

    /// What numbers become: with fractions of a day, days become clock times.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// use metachron_core::typed::Kind;
    /// let epoch: Epoch = "sheet-1900".parse().unwrap();
    /// assert_eq!((epoch.kind(false), epoch.kind(true)), (Kind::Date, Kind::DateTime));
    /// ```
    pub fn kind(self, has_fractions: bool) -> Kind {
        match self.yields {
            Yields::Days if has_fractions => Kind::DateTime,
            Yields::Days => Kind::Date,
            Yields::Clocks => Kind::DateTime,
            Yields::Moments => Kind::Instant,
        }
    }

    /// Reads a number.
    ///
    /// Fractions of a day are rounded to what their digits say: to seconds up to five digits, to
    /// milliseconds from eight on, as the last digits of binary numbers mean nothing. Fractions of
    /// seconds are exact to the nanosecond.
    ///
    /// ```
    /// use metachron_core::epoch::{Epoch, NotCounted, Number};
    /// let epoch: Epoch = "sheet-1900".parse().unwrap();
    /// let read = |text| epoch.read(Number::parse(text).unwrap());
    /// assert_eq!(read("45000.5").unwrap().to_string(), "2023-03-15T12:00:00");
    /// assert_eq!(read("60"), Err(NotCounted::Phantom)); // 29 February 1900
    /// ```
    ///
    /// # Errors
    /// Why it is no date.
    pub fn read(self, number: Number) -> Result<TypedValue, NotCounted> {
        match self.rule {
            Rule::Count { origin, unit } => self.counted(number, origin, unit),
            Rule::Sheet1900 => {
                let origin = match number.whole().ok_or(NotCounted::OutOfRange)? {
                    ..0 => return Err(NotCounted::BeforeOrigin),
                    0..=59 => days_to(1899, 12, 31),
                    60 => return Err(NotCounted::Phantom),
                    _ => days_to(1899, 12, 30),
                };
                self.counted(number, origin * DAY, DAY)
            }
            _ if !number.is_whole() || number.negative => Err(NotCounted::NoSuchDay),
            Rule::YearMonthDay => date_of(number.digits / 10_000, number.digits % 10_000),
            Rule::CenturyYearMonthDay => {
                date_of(1900 + number.digits / 10_000, number.digits % 10_000)
            }
            Rule::YearDay => {
                let year = i16::try_from(number.digits / 1_000).ok().filter(|y| *y <= 9_999);
                let first = year.and_then(|year| Date::new(year, 1, 1).ok());
                let first = first.ok_or(NotCounted::NoSuchDay)?;
                match number.digits % 1_000 {
                    day @ 1.. if day <= first.days_in_year().into() => {
                        let days = jiff::Span::new().days(day as i64 - 1);
                        Ok(TypedValue::Date(first.saturating_add(days)))
                    }
                    _ => Err(NotCounted::NoSuchDay),
                }
            }
        }
    }

    /// By how much a fraction of a day may be off, in nanoseconds: half of its last digit. None where it
    /// is a whole number of seconds, or counts no days.
    ///
    /// ```
    /// use metachron_core::epoch::{Epoch, Number};
    /// let sheet: Epoch = "sheet-1900".parse().unwrap();
    /// let off = |text: &str| sheet.give_or_take(Number::parse(text).unwrap());
    /// assert_eq!(off("45210.8125"), None); // exactly 19:30
    /// assert_eq!(off("45210.8127"), Some(4_320_000_000)); // 19:30:17, give or take 4 s
    /// ```
    pub fn give_or_take(self, number: Number) -> Option<i128> {
        let counts_days = match self.rule {
            Rule::Count { unit, .. } => unit == DAY,
            Rule::Sheet1900 => true,
            _ => false,
        };
        let ten = 10_i128.checked_pow(number.scale).filter(|_| counts_days && number.scale > 0)?;
        let seconds = (number.digits % ten).checked_mul(DAY / SECOND)?;
        (seconds % ten != 0).then_some(DAY / 2 / ten)
    }

    fn counted(self, number: Number, origin: i128, unit: i128) -> Result<TypedValue, NotCounted> {
        let out = || NotCounted::OutOfRange;
        let ten = 10_i128.checked_pow(number.scale).ok_or_else(out)?;
        let fine = number.signed().checked_mul(unit).ok_or_else(out)?;
        let mut nanos = fine.div_euclid(ten) + i128::from(fine.rem_euclid(ten) * 2 >= ten);
        if unit == DAY && number.scale > 0 {
            let step = match number.scale {
                ..=5 => SECOND,
                6 => SECOND / 10,
                7 => SECOND / 100,
                _ => SECOND / 1_000,
            };
            nanos = (nanos + step / 2).div_euclid(step) * step;
        }
        let nanos = nanos.checked_add(origin).ok_or_else(out)?;
        if self.yields == Yields::Moments {
            let instant = Timestamp::from_nanosecond(nanos).map_err(|_| out())?;
            return Ok(TypedValue::Instant(instant));
        }
        let clock = clock_at(nanos).ok_or_else(out)?;
        Ok(match self.yields {
            Yields::Days if number.is_whole() => TypedValue::Date(clock.date()),
            _ => TypedValue::DateTime(clock),
        })
    }

    /// The number that this moment is, exactly; none if it has none or lies where the epoch does not
    /// reach. A day is its first moment.
    ///
    /// ```
    /// use metachron_core::epoch::Epoch;
    /// use metachron_core::typed::TypedValue;
    /// let sheet: Epoch = "sheet-1900".parse().unwrap();
    /// let day = TypedValue::Date(jiff::civil::date(2023, 10, 11));
    /// assert_eq!(sheet.count(day).unwrap().to_string(), "45210");
    /// ```
    pub fn count(self, moment: TypedValue) -> Option<Number> {
        let date = match moment {
            TypedValue::Date(date) => Some(date),
            _ => None,
        };
        match self.rule {
            Rule::YearMonthDay => digits_of(date?, 0),
            Rule::CenturyYearMonthDay => digits_of(date?, 1900),
            Rule::YearDay => {
                let date = date.filter(|date| date.year() >= 0)?;
                let digits = i128::from(date.year()) * 1_000 + i128::from(date.day_of_year());
                Some(Number { negative: false, digits, scale: 0 })
            }
            Rule::Count { origin, unit } => {
                counted_from(nanos_of(moment, self.yields)?, origin, unit)
            }
            Rule::Sheet1900 => {
                let nanos = nanos_of(moment, self.yields)?;
                // Behind the day that never was, one more.
                let origin = match nanos >= days_to(1900, 3, 1) * DAY {
                    true => days_to(1899, 12, 30) * DAY,
                    false => days_to(1899, 12, 31) * DAY,
                };
                counted_from(nanos, origin, DAY).filter(|number| !number.negative)
            }
        }
    }
}

/// A year and a month with its day as digits.
fn date_of(year: i128, month_and_day: i128) -> Result<TypedValue, NotCounted> {
    let (month, day) = ((month_and_day / 100) as i8, (month_and_day % 100) as i8);
    let year = i16::try_from(year).map_err(|_| NotCounted::NoSuchDay)?;
    Date::new(year, month, day).map(TypedValue::Date).map_err(|_| NotCounted::NoSuchDay)
}

/// Year, month and day as digits, the year counted from this one.
fn digits_of(date: Date, from: i128) -> Option<Number> {
    let year = i128::from(date.year()) - from;
    let digits = year * 10_000 + i128::from(date.month()) * 100 + i128::from(date.day());
    (year >= 0).then_some(Number { negative: false, digits, scale: 0 })
}

/// The clock time so many nanoseconds after 1970-01-01T00:00.
fn clock_at(nanos: i128) -> Option<DateTime> {
    let (days, of_day) = (nanos.div_euclid(DAY), nanos.rem_euclid(DAY));
    let days = i32::try_from(days).ok()?;
    let date =
        jiff::civil::date(1970, 1, 1).checked_add(jiff::Span::new().try_days(days).ok()?).ok()?;
    let (seconds, nanos) = ((of_day / SECOND) as i64, (of_day % SECOND) as i32);
    DateTime::from_parts(date, Time::midnight())
        .checked_add(SignedDuration::new(seconds, nanos))
        .ok()
}

/// Nanoseconds from 1970-01-01T00:00.
fn nanos_of(moment: TypedValue, yields: Yields) -> Option<i128> {
    let clock = match (moment, yields) {
        (TypedValue::Instant(instant), Yields::Moments) => return Some(instant.as_nanosecond()),
        (TypedValue::Date(date), Yields::Days | Yields::Clocks) => date.at(0, 0, 0, 0),
        (TypedValue::DateTime(clock), Yields::Days | Yields::Clocks) => clock,
        _ => return None,
    };
    let date = clock.date();
    let days = days_to(date.year().into(), date.month().into(), date.day().into());
    let time = clock.time();
    let seconds = i128::from(time.hour()) * 3_600
        + i128::from(time.minute()) * 60
        + i128::from(time.second());
    Some(days * DAY + seconds * SECOND + i128::from(time.subsec_nanosecond()))
}

/// Units from an origin, as a decimal that comes back to the same nanosecond where it can.
fn counted_from(nanos: i128, origin: i128, unit: i128) -> Option<Number> {
    let from = nanos - origin;
    // As many digits as a unit has nanoseconds, and two more for what has no end in decimal.
    let scale = unit.ilog10() + u32::from(unit >= DAY) * 2;
    let scaled = from.checked_mul(10_i128.pow(scale))?;
    let half = unit / 2;
    let rounded = if scaled < 0 { (scaled - half) / unit } else { (scaled + half) / unit };
    let (mut digits, mut scale) = (rounded.abs(), scale);
    while scale > 0 && digits % 10 == 0 {
        (digits, scale) = (digits / 10, scale - 1);
    }
    Some(Number { negative: rounded < 0, digits, scale })
}

/// What an epoch that is spelled out may count, each with its nanoseconds.
const UNITS: [(&str, i128); 9] = [
    ("weeks", WEEK),
    ("days", DAY),
    ("hours", 3_600 * SECOND),
    ("minutes", 60 * SECOND),
    ("seconds", SECOND),
    ("milliseconds", SECOND / 1_000),
    ("microseconds", SECOND / 1_000_000),
    ("100-nanoseconds", 100),
    ("nanoseconds", 1),
];

/// No epoch has this name, and it spells none out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct UnknownEpoch {
    /// A name that may have been meant.
    pub near: Option<&'static str>,
}

impl FromStr for Epoch {
    type Err = UnknownEpoch;

    fn from_str(text: &str) -> Result<Epoch, UnknownEpoch> {
        if let Some(epoch) = Epoch::all().find(|epoch| epoch.name() == Some(text)) {
            return Ok(epoch);
        }
        let names = NAMED.iter().map(|entry| entry.name);
        let unknown = || UnknownEpoch { near: crate::error::nearest(text, names.clone()) };
        let (origin, unit) = text.rsplit_once('/').ok_or_else(unknown)?;
        let named = unit.replace(' ', "-");
        let unit = UNITS.iter().find(|(name, _)| *name == named).ok_or_else(unknown)?.1;
        let (origin, is_moment) = origin_of(origin).ok_or_else(unknown)?;
        let yields = match (is_moment, unit) {
            (true, _) => Yields::Moments,
            (false, DAY | WEEK) => Yields::Days,
            (false, _) => Yields::Clocks,
        };
        let yields = match origin.rem_euclid(DAY) {
            0 => yields,
            _ if yields == Yields::Days => Yields::Clocks,
            _ => yields,
        };
        Ok(Epoch { rule: Rule::Count { origin, unit }, yields, named: None })
    }
}

/// An origin in ISO 8601, also with a negative year of four digits, and whether it is a moment.
fn origin_of(text: &str) -> Option<(i128, bool)> {
    if let Ok(instant) = text.parse::<Timestamp>() {
        return Some((instant.as_nanosecond(), true));
    }
    // `-4713-11-24T12:00` is written with six digits in ISO 8601.
    let expanded = match text.strip_prefix('-') {
        Some(rest) if rest.find('-') == Some(4) => format!("-00{rest}"),
        _ => text.to_owned(),
    };
    let clock: DateTime = expanded.parse().ok()?;
    Some((nanos_of(TypedValue::DateTime(clock), Yields::Clocks)?, false))
}

impl fmt::Display for Epoch {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if let Some(name) = self.name() {
            return f.write_str(name);
        }
        let Rule::Count { origin, unit } = self.rule else { return Ok(()) };
        let unit = UNITS.iter().find(|(_, own)| *own == unit).map_or("", |(name, _)| name);
        match (self.yields, clock_at(origin)) {
            (Yields::Moments, Some(clock)) => match Offset::UTC.to_timestamp(clock) {
                Ok(instant) => write!(f, "{instant}/{unit}"),
                Err(_) => Ok(()),
            },
            (_, Some(clock)) if clock.time() == Time::midnight() => {
                write!(f, "{}/{unit}", clock.date())
            }
            (_, Some(clock)) => write!(f, "{clock}/{unit}"),
            (_, None) => Ok(()),
        }
    }
}
