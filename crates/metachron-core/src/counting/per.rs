//! The periods by which rows are counted.

use std::fmt;

use jiff::civil::{Date, DateTime, Time, Weekday};
use strum::{IntoStaticStr, VariantArray};

use crate::typed::{Kind, TypedValue};
use crate::write::iso;

/// What rows are counted per: periods that follow each other, and two that come again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, VariantArray, IntoStaticStr)]
pub enum Per {
    /// An hour of a day.
    #[strum(serialize = "hour")]
    Hour,
    /// A day.
    #[strum(serialize = "day")]
    Day,
    /// A week, from Monday on (ISO 8601-1:2019, 4.2.2).
    #[strum(serialize = "week")]
    Week,
    /// A month.
    #[strum(serialize = "month")]
    Month,
    /// A quarter of a year.
    #[strum(serialize = "quarter")]
    Quarter,
    /// A year.
    #[strum(serialize = "year")]
    Year,
    /// A day of the week, of any week.
    #[strum(serialize = "weekday")]
    Weekday,
    /// An hour of the day, of any day.
    #[strum(serialize = "hour of day")]
    HourOfDay,
}

/// One period.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Slot {
    per: Per,
    /// Which one: they follow each other. Hours, days and weeks are counted from 1970, months, quarters and years from
    /// the year 0, weekdays are those of ISO 8601 from 1 on.
    number: i64,
}

impl Per {
    /// Whether values of a kind say in which of these they are: a month does not say the day.
    ///
    /// ```
    /// use metachron_core::counting::Per;
    /// use metachron_core::typed::Kind;
    /// assert!(Per::Quarter.is_told_by(Kind::Month) && !Per::Day.is_told_by(Kind::Month));
    /// ```
    pub fn is_told_by(self, kind: Kind) -> bool {
        use Kind::{Date, DateTime, Duration, Instant, Month, Quarter, Time, Week, Year};
        match kind {
            DateTime | Instant => true,
            Date => !matches!(self, Per::Hour | Per::HourOfDay),
            Time => self == Per::HourOfDay,
            Month => matches!(self, Per::Month | Per::Quarter | Per::Year),
            Quarter => matches!(self, Per::Quarter | Per::Year),
            Year => self == Per::Year,
            Week => self == Per::Week,
            Duration => false,
        }
    }

    /// The one in which a value is; none if it does not say. Moments are taken as the clock of UTC shows them.
    pub fn slot(self, value: TypedValue) -> Option<Slot> {
        let clock = match value {
            _ if !self.is_told_by(value.kind()) => return None,
            TypedValue::DateTime(clock) => clock,
            TypedValue::Instant(moment) => jiff::tz::Offset::UTC.to_datetime(moment),
            TypedValue::Time(time) => DateTime::from_parts(Date::default(), time),
            value => value.date()?.at(0, 0, 0, 0),
        };
        Some(self.slot_of(clock))
    }

    /// The one in which a clock stands.
    pub fn slot_of(self, clock: DateTime) -> Slot {
        let (date, time) = (clock.date(), clock.time());
        let (year, month) = (i64::from(date.year()), i64::from(date.month()));
        let days = i64::from(crate::typed::days_from_1970(
            date.year().into(),
            date.month().into(),
            date.day().into(),
        ));
        let number = match self {
            Per::Hour => days * 24 + i64::from(time.hour()),
            Per::Day => days,
            Per::Week => (days + MONDAY).div_euclid(7),
            Per::Month => year * 12 + month - 1,
            Per::Quarter => year * 4 + (month - 1) / 3,
            Per::Year => year,
            Per::Weekday => i64::from(date.weekday().to_monday_one_offset()),
            Per::HourOfDay => i64::from(time.hour()),
        };
        Slot { per: self, number }
    }

    /// Whether they follow each other; weekdays and hours of the day come again.
    pub fn follows(self) -> bool {
        self.cycle().is_none()
    }

    /// The first and the last of those that come again; none of those that follow each other.
    pub(super) fn cycle(self) -> Option<(Slot, Slot)> {
        let slot = |number: i64| Slot { per: self, number };
        match self {
            Per::Weekday => Some((slot(1), slot(7))),
            Per::HourOfDay => Some((slot(0), slot(23))),
            _ => None,
        }
    }

    /// What one of them is as a typed value; none of weekdays, which are text.
    pub fn kind(self) -> Option<Kind> {
        match self {
            Per::Hour => Some(Kind::DateTime),
            Per::Day => Some(Kind::Date),
            Per::Week => Some(Kind::Week),
            Per::Month => Some(Kind::Month),
            Per::Quarter => Some(Kind::Quarter),
            Per::Year => Some(Kind::Year),
            Per::HourOfDay => Some(Kind::Time),
            Per::Weekday => None,
        }
    }
}

/// Days from the Monday of the week of 1970-01-01 to that day.
const MONDAY: i64 = 3;

impl Slot {
    /// The next one.
    #[must_use]
    pub fn next(self) -> Slot {
        Slot { number: self.number + 1, ..self }
    }

    /// How many there are from this one to a later one, both of them among them.
    pub fn through(self, last: Slot) -> u64 {
        u64::try_from(last.number - self.number + 1).unwrap_or(0)
    }

    /// The period as a typed value; none of a weekday, and of what lies beyond the calendar.
    pub fn value(self) -> Option<TypedValue> {
        let year_and = |of_year: i64| -> Option<(i16, i8)> {
            let part = i8::try_from(self.number.rem_euclid(of_year)).ok()?;
            Some((i16::try_from(self.number.div_euclid(of_year)).ok()?, part))
        };
        let day = |days: i64| {
            let from = jiff::civil::date(1970, 1, 1);
            from.checked_add(jiff::Span::new().try_days(days).ok()?).ok()
        };
        Some(match self.per {
            Per::Hour => {
                let hour = i8::try_from(self.number.rem_euclid(24)).ok()?;
                TypedValue::DateTime(day(self.number.div_euclid(24))?.at(hour, 0, 0, 0))
            }
            Per::Day => TypedValue::Date(day(self.number)?),
            Per::Week => TypedValue::Week(day(self.number * 7 - MONDAY)?),
            Per::Month => {
                let (year, month) = year_and(12)?;
                TypedValue::Month(Date::new(year, month + 1, 1).ok()?)
            }
            Per::Quarter => {
                let (year, quarter) = year_and(4)?;
                TypedValue::Quarter(Date::new(year, quarter * 3 + 1, 1).ok()?)
            }
            Per::Year => TypedValue::Year(Date::new(i16::try_from(self.number).ok()?, 1, 1).ok()?),
            Per::HourOfDay => {
                TypedValue::Time(Time::new(i8::try_from(self.number).ok()?, 0, 0, 0).ok()?)
            }
            Per::Weekday => return None,
        })
    }

    /// The weekday that it is, if it is one.
    pub fn weekday(self) -> Option<Weekday> {
        let of = i8::try_from(self.number).ok().filter(|_| self.per == Per::Weekday)?;
        Weekday::from_monday_one_offset(of).ok()
    }
}

/// In ISO 8601; hours without their minutes, weekdays by their English names.
impl fmt::Display for Slot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if let Some(weekday) = self.weekday() {
            return write!(f, "{weekday:?}");
        }
        let Some(value) = self.value() else { return Ok(()) };
        let mut text = String::new();
        iso(&mut text, value, 0)?;
        f.write_str(match self.per {
            Per::Hour | Per::HourOfDay => text.strip_suffix(":00").unwrap_or(&text),
            _ => &text,
        })
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;
    use proptest::prelude::*;

    use super::*;
    use crate::named::Named;

    #[test]
    fn periods_are_those_of_the_calendar() {
        let clock = date(2024, 12, 30).at(23, 59, 59, 0);
        for (per, text) in [
            (Per::Hour, "2024-12-30T23:00"),
            (Per::Day, "2024-12-30"),
            (Per::Week, "2025-W01"),
            (Per::Month, "2024-12"),
            (Per::Quarter, "2024-Q4"),
            (Per::Year, "2024"),
            (Per::Weekday, "Monday"),
            (Per::HourOfDay, "23:00"),
        ] {
            assert_eq!(per.slot_of(clock).to_string(), text);
        }
        assert_eq!(Per::Day.slot(TypedValue::Month(date(2024, 3, 1))), None);
        assert_eq!(Per::HourOfDay.slot(TypedValue::Date(date(2024, 3, 1))), None);
    }

    proptest! {
        #[test]
        fn a_period_begins_where_its_value_does_and_ends_before_the_next(
            days in -700_000_i64..2_900_000, second in 0_i32..86_400,
        ) {
            let start = date(1970, 1, 1).checked_add(jiff::Span::new().days(days)).unwrap();
            let clock = start.at(0, 0, 0, 0).checked_add(jiff::Span::new().seconds(second)).unwrap();
            for per in Per::all().filter(|per| per.cycle().is_none()) {
                let slot = per.slot_of(clock);
                let first = |slot: Slot| match slot.value().unwrap() {
                    TypedValue::DateTime(clock) => clock,
                    value => value.date().unwrap().at(0, 0, 0, 0),
                };
                prop_assert!(first(slot) <= clock && clock < first(slot.next()), "{per:?} {clock}");
                prop_assert_eq!(per.slot_of(first(slot)), slot);
                prop_assert_eq!(slot.through(slot.next()), 2);
            }
        }
    }
}
