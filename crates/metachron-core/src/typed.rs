//! Typed values: what a reading yields.

use serde::{Deserialize, Serialize};

use std::fmt;

use jiff::civil::{Date, DateTime, Time};
use jiff::{Timestamp, tz::Offset};
use strum::{Display, IntoStaticStr, VariantArray};

use crate::duration::Duration;

/// What a column's values are once they are read.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    VariantArray,
    IntoStaticStr,
    Display,
)]
#[strum(serialize_all = "lowercase")]
pub enum Kind {
    /// A calendar day.
    Date,
    /// A time of day that belongs to no day.
    Time,
    /// A clock time on a calendar day, in no stated zone.
    DateTime,
    /// A moment that is the same everywhere.
    Instant,
    /// A month of a year.
    Month,
    /// A quarter of a year.
    Quarter,
    /// A week of a year (ISO 8601-1:2019, 4.2.2).
    Week,
    /// A year.
    Year,
    /// A length of time.
    Duration,
}

impl Kind {
    /// How much a value of this kind says: where values of several kinds are equally frequent, the
    /// column is of the kind that says most.
    pub fn precision(self) -> u8 {
        match self {
            Kind::Instant => 8,
            Kind::DateTime => 7,
            Kind::Date => 6,
            Kind::Duration => 5,
            Kind::Time => 4,
            Kind::Week => 3,
            Kind::Month => 2,
            Kind::Quarter => 1,
            Kind::Year => 0,
        }
    }

    /// What a value of this kind is, in words for a sentence.
    ///
    /// ```
    /// use metachron_core::typed::Kind;
    /// assert_eq!(Kind::Month.phrase(), "a month without a day");
    /// ```
    pub fn phrase(self) -> &'static str {
        match self {
            Kind::Date => "a date without a clock time",
            Kind::Time => "a time without a date",
            Kind::DateTime => "a clock time without an offset from UTC",
            Kind::Instant => "a moment with its offset from UTC",
            Kind::Month => "a month without a day",
            Kind::Quarter => "a quarter of a year",
            Kind::Week => "a week without a day",
            Kind::Year => "a year without a month",
            Kind::Duration => "a length of time",
        }
    }
}

/// Which of its days a period becomes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum Anchor {
    /// The first.
    Start,
    /// The last.
    End,
}

impl Kind {
    /// What a value of this kind is once periods have become days.
    ///
    /// ```
    /// use metachron_core::typed::Kind;
    /// assert_eq!((Kind::Month.anchored(), Kind::Time.anchored()), (Kind::Date, Kind::Time));
    /// ```
    pub fn anchored(self) -> Kind {
        match self {
            Kind::Month | Kind::Quarter | Kind::Week | Kind::Year => Kind::Date,
            Kind::Date | Kind::Time | Kind::DateTime | Kind::Instant | Kind::Duration => self,
        }
    }
}

/// A typed value.
///
/// Displayed in the extended format of ISO 8601-1, an instant in UTC; fractions of a second are
/// written as far as they go.
///
/// ```
/// use metachron_core::typed::TypedValue;
/// let moment = TypedValue::Date(jiff::civil::date(2024, 4, 3));
/// assert_eq!(moment.to_string(), "2024-04-03");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub enum TypedValue {
    /// See [`Kind::Date`].
    Date(Date),
    /// See [`Kind::Time`].
    Time(Time),
    /// See [`Kind::DateTime`].
    DateTime(DateTime),
    /// See [`Kind::Instant`].
    Instant(Timestamp),
    /// See [`Kind::Month`]; its first day.
    Month(Date),
    /// See [`Kind::Quarter`]; its first day.
    Quarter(Date),
    /// See [`Kind::Week`]; its Monday.
    Week(Date),
    /// See [`Kind::Year`]; its first day.
    Year(Date),
    /// See [`Kind::Duration`].
    Duration(Duration),
}

impl TypedValue {
    /// The kind of this value.
    ///
    /// ```
    /// use metachron_core::typed::{Kind, TypedValue};
    /// assert_eq!(TypedValue::Year(jiff::civil::date(2024, 1, 1)).kind(), Kind::Year);
    /// ```
    pub fn kind(self) -> Kind {
        match self {
            TypedValue::Date(_) => Kind::Date,
            TypedValue::Time(_) => Kind::Time,
            TypedValue::DateTime(_) => Kind::DateTime,
            TypedValue::Instant(_) => Kind::Instant,
            TypedValue::Month(_) => Kind::Month,
            TypedValue::Quarter(_) => Kind::Quarter,
            TypedValue::Week(_) => Kind::Week,
            TypedValue::Year(_) => Kind::Year,
            TypedValue::Duration(_) => Kind::Duration,
        }
    }

    /// The first or last day of a period; anything else as it is.
    ///
    /// ```
    /// use metachron_core::typed::{Anchor, TypedValue};
    /// let february = TypedValue::Month(jiff::civil::date(2024, 2, 1));
    /// assert_eq!(february.anchored(Anchor::End).to_string(), "2024-02-29");
    /// ```
    #[must_use]
    pub fn anchored(self, anchor: Anchor) -> TypedValue {
        let (first, last) = match self {
            TypedValue::Month(first) => (first, first.last_of_month()),
            TypedValue::Quarter(first) => {
                let third = first.saturating_add(jiff::Span::new().months(2));
                (first, third.last_of_month())
            }
            TypedValue::Week(monday) => (monday, monday.saturating_add(jiff::Span::new().days(6))),
            TypedValue::Year(first) => (first, first.last_of_year()),
            _ => return self,
        };
        TypedValue::Date(if anchor == Anchor::Start { first } else { last })
    }

    /// The same with day and month exchanged, where the day can be a month.
    ///
    /// ```
    /// use metachron_core::typed::TypedValue;
    /// let date = |month, day| TypedValue::Date(jiff::civil::date(2024, month, day));
    /// assert_eq!(date(3, 4).exchanged(), date(4, 3));
    /// assert_eq!(date(3, 14).exchanged(), date(3, 14));
    /// ```
    #[must_use]
    pub fn exchanged(self) -> TypedValue {
        // A day up to 12 exists in every month.
        let exchanged =
            |date: Date| Date::new(date.year(), date.day(), date.month()).unwrap_or(date);
        match self {
            TypedValue::Date(date) => TypedValue::Date(exchanged(date)),
            TypedValue::DateTime(clock) => {
                TypedValue::DateTime(DateTime::from_parts(exchanged(clock.date()), clock.time()))
            }
            _ => self,
        }
    }

    /// The digits that the fraction of its second needs.
    ///
    /// ```
    /// use metachron_core::typed::TypedValue;
    /// let time = TypedValue::Time(jiff::civil::time(10, 15, 30, 250_000_000));
    /// assert_eq!(time.fraction_digits(), 2);
    /// ```
    pub fn fraction_digits(self) -> u8 {
        let nanos = match self {
            TypedValue::Date(_)
            | TypedValue::Month(_)
            | TypedValue::Quarter(_)
            | TypedValue::Week(_)
            | TypedValue::Year(_) => 0,
            TypedValue::Time(time) => time.subsec_nanosecond(),
            TypedValue::DateTime(datetime) => datetime.subsec_nanosecond(),
            TypedValue::Instant(instant) => instant.subsec_nanosecond(),
            TypedValue::Duration(duration) => duration.fraction(),
        };
        if nanos == 0 {
            return 0;
        }
        let zeros = (0..9).take_while(|power| nanos % 10_i32.pow(power + 1) == 0).count();
        9 - zeros as u8
    }

    /// Bytes that compare as values of one kind do.
    ///
    /// ```
    /// use metachron_core::typed::TypedValue;
    /// let key = |day| {
    ///     let mut key = Vec::new();
    ///     TypedValue::Date(jiff::civil::date(2024, 3, day)).sort_key(&mut key);
    ///     key
    /// };
    /// assert!(key(4) < key(5));
    /// ```
    pub fn sort_key(self, key: &mut Vec<u8>) {
        let mut of_date = |date: Date| {
            key.extend((date.year() as u16 ^ 0x8000).to_be_bytes());
            key.extend([date.month() as u8, date.day() as u8]);
        };
        let time = match self {
            TypedValue::DateTime(clock) => {
                of_date(clock.date());
                clock.time()
            }
            TypedValue::Instant(instant) => {
                let clock = Offset::UTC.to_datetime(instant);
                of_date(clock.date());
                clock.time()
            }
            TypedValue::Time(time) => time,
            TypedValue::Duration(own) => {
                key.extend((own.rank() ^ i128::MIN).to_be_bytes());
                key.extend((own.months() as u32 ^ 0x8000_0000).to_be_bytes());
                return;
            }
            TypedValue::Date(date)
            | TypedValue::Month(date)
            | TypedValue::Quarter(date)
            | TypedValue::Week(date)
            | TypedValue::Year(date) => return of_date(date),
        };
        key.extend([time.hour() as u8, time.minute() as u8, time.second() as u8]);
        key.extend(time.subsec_nanosecond().to_be_bytes());
    }

    /// The value of a kind that has this sort key; none if it is no such key.
    ///
    /// ```
    /// use metachron_core::typed::{Kind, TypedValue};
    /// let value = TypedValue::DateTime(jiff::civil::datetime(2024, 4, 3, 10, 15, 0, 5));
    /// let mut key = Vec::new();
    /// value.sort_key(&mut key);
    /// assert_eq!(TypedValue::of_sort_key(Kind::DateTime, &key), Some(value));
    /// ```
    pub fn of_sort_key(kind: Kind, key: &[u8]) -> Option<TypedValue> {
        let date = |key: &[u8]| {
            let [a, b, month, day] = *key.first_chunk()?;
            let year = u16::from_be_bytes([a, b]) ^ 0x8000;
            Date::new(year as i16, month as i8, day as i8).ok()
        };
        let time = |key: &[u8]| {
            let [hour, minute, second, nanos @ ..] = *key.first_chunk::<7>()?;
            let nanos = i32::from_be_bytes(nanos);
            Time::new(hour as i8, minute as i8, second as i8, nanos).ok()
        };
        let clock = || Some(date(key)?.to_datetime(time(key.get(4..)?)?));
        Some(match kind {
            Kind::Date => TypedValue::Date(date(key)?),
            Kind::Time => TypedValue::Time(time(key)?),
            Kind::DateTime => TypedValue::DateTime(clock()?),
            Kind::Instant => TypedValue::Instant(Offset::UTC.to_timestamp(clock()?).ok()?),
            Kind::Month => TypedValue::Month(date(key)?),
            Kind::Quarter => TypedValue::Quarter(date(key)?),
            Kind::Week => TypedValue::Week(date(key)?),
            Kind::Year => TypedValue::Year(date(key)?),
            Kind::Duration => {
                let rank = i128::from_be_bytes(*key.first_chunk()?) ^ i128::MIN;
                let months = u32::from_be_bytes(*key.get(16..)?.first_chunk()?) ^ 0x8000_0000;
                TypedValue::Duration(Duration::of_rank(rank, months as i32)?)
            }
        })
    }

    /// The calendar day, in UTC for an instant; the first of a longer period; a time or a length has none.
    ///
    /// ```
    /// use metachron_core::typed::TypedValue;
    /// let clock = TypedValue::DateTime(jiff::civil::datetime(2024, 4, 3, 10, 15, 0, 0));
    /// assert_eq!(clock.date(), Some(jiff::civil::date(2024, 4, 3)));
    /// ```
    pub fn date(self) -> Option<Date> {
        match self {
            TypedValue::Date(date)
            | TypedValue::Month(date)
            | TypedValue::Quarter(date)
            | TypedValue::Week(date)
            | TypedValue::Year(date) => Some(date),
            TypedValue::Time(_) | TypedValue::Duration(_) => None,
            TypedValue::DateTime(datetime) => Some(datetime.date()),
            TypedValue::Instant(instant) => Some(Offset::UTC.to_datetime(instant).date()),
        }
    }
}

/// Days from 1970-01-01 to this one in the proleptic Gregorian calendar. Years are counted from March, so
/// that the day that only some of them have is their last.
pub(crate) const fn days_from_1970(year: i32, month: i32, day: i32) -> i32 {
    // 25 eras of 400 years make every year from -9999 on positive.
    const ERAS: i32 = 25;
    const DAYS_OF_ERA: i32 = 146_097;
    /// From 0000-03-01 to 1970-01-01.
    const TO_1970: i32 = 719_468;
    let year = year + ERAS * 400;
    let (year, month) = if month <= 2 { (year - 1, month + 9) } else { (year, month - 3) };
    let of_year = (153 * month + 2) / 5 + day - 1;
    let days = year * 365 + year / 4 - year / 100 + year / 400 + of_year;
    days - ERAS * DAYS_OF_ERA - TO_1970
}

/// A year as ISO 8601-1 has it: four digits, or a sign and six.
pub(crate) fn year(year: i16) -> String {
    match year {
        0.. => format!("{year:04}"),
        _ => format!("-{:06}", -i32::from(year)),
    }
}

impl fmt::Display for TypedValue {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            TypedValue::Date(date) => write!(f, "{date}"),
            TypedValue::Time(time) => write!(f, "{time}"),
            TypedValue::DateTime(datetime) => write!(f, "{datetime}"),
            TypedValue::Instant(instant) => write!(f, "{instant}"),
            TypedValue::Month(first) => write!(f, "{}-{:02}", year(first.year()), first.month()),
            TypedValue::Quarter(first) => {
                write!(f, "{}-Q{}", year(first.year()), (first.month() + 2) / 3)
            }
            TypedValue::Week(monday) => {
                let week = monday.iso_week_date();
                write!(f, "{}-W{:02}", year(week.year()), week.week())
            }
            TypedValue::Year(first) => f.write_str(&year(first.year())),
            TypedValue::Duration(duration) => write!(f, "{duration}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::named::Named;

    #[test]
    fn kinds_go_by_their_names() {
        let names = "date time datetime instant month quarter week year duration";
        assert_eq!(Kind::names().collect::<Vec<_>>().join(" "), names);
        for kind in Kind::all() {
            assert_eq!(Kind::named(kind.name()), Ok(kind));
            assert_eq!(kind.to_string(), kind.name());
        }
        assert_eq!(Kind::named("Date"), Err(Some("date")));
    }

    #[test]
    fn fractions_have_as_many_digits_as_they_need() {
        for (nanos, digits) in [(0, 0), (500_000_000, 1), (250_000_000, 2), (1, 9), (1_000, 6)] {
            let time = jiff::civil::time(1, 2, 3, nanos);
            assert_eq!(TypedValue::Time(time).fraction_digits(), digits, "{nanos}");
        }
    }

    #[test]
    fn periods_become_their_first_or_last_day() {
        let day = |month, day| jiff::civil::date(2023, month, day);
        for (period, first, last) in [
            (TypedValue::Month(day(2, 1)), "2023-02-01", "2023-02-28"),
            (TypedValue::Quarter(day(10, 1)), "2023-10-01", "2023-12-31"),
            (TypedValue::Week(day(12, 25)), "2023-12-25", "2023-12-31"),
            (TypedValue::Year(day(1, 1)), "2023-01-01", "2023-12-31"),
            (TypedValue::Date(day(5, 7)), "2023-05-07", "2023-05-07"),
        ] {
            assert_eq!(period.anchored(Anchor::Start).to_string(), first);
            assert_eq!(period.anchored(Anchor::End).to_string(), last);
            assert_eq!(period.anchored(Anchor::End).kind(), period.kind().anchored());
        }
    }

    #[test]
    fn moments_are_shown_in_iso_8601() {
        let datetime = jiff::civil::datetime(2024, 3, 5, 9, 7, 2, 250_000_000);
        assert_eq!(TypedValue::DateTime(datetime).to_string(), "2024-03-05T09:07:02.25");
        assert_eq!(TypedValue::Time(datetime.time()).to_string(), "09:07:02.25");
        let instant = Offset::constant(2).to_timestamp(datetime).unwrap();
        assert_eq!(TypedValue::Instant(instant).to_string(), "2024-03-05T07:07:02.25Z");
        assert_eq!(TypedValue::Instant(instant).date(), Some(jiff::civil::date(2024, 3, 5)));
        let day = |month, day| jiff::civil::date(2024, month, day);
        assert_eq!(TypedValue::Month(day(3, 1)).to_string(), "2024-03");
        assert_eq!(TypedValue::Quarter(day(7, 1)).to_string(), "2024-Q3");
        assert_eq!(TypedValue::Week(day(12, 30)).to_string(), "2025-W01");
        assert_eq!(TypedValue::Year(day(1, 1)).to_string(), "2024");
    }
}
