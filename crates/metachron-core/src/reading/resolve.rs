//! Checks fields against clock and calendar: the one place that knows what exists.

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, ISOWeekDate, Time, Weekday};
use jiff::tz::Offset;

use super::{Fields, Fit, Moved, Stated, Terms, Unfit};
use crate::bounds;
use crate::calendar::{Calendar, Era};
use crate::epoch::Epoch;
use crate::lexicon::Half;
use crate::typed::{Kind, TypedValue};
use crate::zone::{Abbreviation, Clock, Meaning};

/// Checks the fields against clock and calendar and puts them together.
///
/// # Errors
/// Which field is wrong.
pub fn resolve(fields: &Fields, kind: Kind, terms: Terms) -> Result<Fit, Unfit> {
    let (time, next_day, leap_second) = resolve_time(fields)?;
    let written = resolve_date(fields, terms)?;
    let day_of = |date: Date| {
        if next_day { date.tomorrow().map_err(|_| Unfit::OutOfRange) } else { Ok(date) }
    };
    if fields.unknown_zone {
        return Err(Unfit::UnknownZone);
    }
    if fields.critical_tag {
        return Err(Unfit::CriticalTag);
    }
    if let Some((number, count)) = fields.serial {
        return resolve_serial(number, count);
    }
    let (mut stated, mut moved) = (Stated::Nothing, None);
    let moment = match (kind, written) {
        (Kind::Time, _) if next_day => return Err(Unfit::EndOfNoDay),
        (Kind::Time, _) => TypedValue::Time(time),
        (_, None) | (Kind::Duration, _) => return Err(Unfit::Form),
        (Kind::Date, Some(date)) => TypedValue::Date(date),
        // The periods of ISO 8601 are those of its own calendar.
        (Kind::Month | Kind::Quarter | Kind::Year, Some(_))
            if !terms.lexicon.calendar().shares_months() =>
        {
            return Err(Unfit::PeriodOf(terms.lexicon.calendar()));
        }
        (Kind::Month, Some(first)) => TypedValue::Month(first),
        (Kind::Quarter, Some(first)) => TypedValue::Quarter(first),
        (Kind::Week, Some(monday)) => TypedValue::Week(monday),
        (Kind::Year, Some(first)) => TypedValue::Year(first),
        (Kind::DateTime, Some(date)) => {
            TypedValue::DateTime(DateTime::from_parts(day_of(date)?, time))
        }
        (Kind::Instant, Some(date)) => {
            let clock = DateTime::from_parts(day_of(date)?, time);
            let (moment, said, adjusted) = resolve_instant(fields, clock, terms)?;
            (stated, moved) = (said, adjusted);
            // A leap second is the last one of a UTC day, wherever it is written.
            if leap_second && Offset::UTC.to_datetime(moment).time() != Time::midnight() {
                return Err(Unfit::LeapSecond);
            }
            TypedValue::Instant(moment)
        }
    };
    if fields.too_fine {
        return Err(Unfit::TooFine);
    }
    let (short_year, yearless) = (fields.short_year, fields.is_yearless());
    // Of an hour or a minute, the digits that its seconds need.
    let fraction_digits = match fields.second {
        Some(_) => fields.fraction_digits,
        None => moment.fraction_digits(),
    };
    Ok(Fit { moment, fraction_digits, written, short_year, yearless, leap_second, stated, moved })
}

fn resolve_date(fields: &Fields, terms: Terms) -> Result<Option<Date>, Unfit> {
    if fields.unclear_name {
        return Err(Unfit::UnclearName);
    }
    if let Some(year) = fields.decimal_year {
        return year.first_day().map(Some);
    }
    let in_bounds = |year: i32| bounds::YEAR.check(year).map(|year| year as i16);
    if let (Some(year), Some(week)) = (fields.week_year, fields.week) {
        return resolve_week(in_bounds(year)?, week, fields.weekday.unwrap_or(1)).map(Some);
    }
    let year = match (fields.year, terms.year) {
        (Some(year), _) => in_bounds(year)?,
        (None, _) if !fields.is_yearless() => return Ok(None),
        (None, Some(year)) => year,
        // Any year with a 29 February shows whether there is such a day at all.
        (None, None) => 2000,
    };
    // What is coarser than a day is its first day.
    let month = match fields.quarter {
        Some(quarter) => {
            bounds::QUARTER.check(quarter.into())?;
            quarter * 3 - 2
        }
        None => fields.month.unwrap_or(1),
    };
    let day = fields.day.unwrap_or(1);
    // The years of an era are counted by the era, whatever the calendar: its months are Gregorian.
    let calendar = match fields.era {
        Some(Era::OfCalendar) | None => terms.lexicon.calendar(),
        Some(_) => Calendar::Gregorian,
    };
    if !fields.named_month {
        if calendar.months_need_names() {
            return Err(Unfit::MonthNumber(calendar));
        }
        let months = if calendar.months() == 13 { &bounds::MONTH_OF_13 } else { &bounds::MONTH };
        months.check(month.into())?;
    }
    bounds::DAY.check(day.into())?;
    let counted = match fields.era {
        Some(era) => era.year(year.into()),
        None if fields.short_year => terms.century.place_in(calendar, year).into(),
        None if calendar == Calendar::Japanese && year < 1_000 => {
            return Err(Unfit::NoEra);
        }
        None => year.into(),
    };
    let year = in_bounds(counted)?;
    if !calendar.shares_months() && fields.year_day.is_some() {
        return Err(Unfit::PeriodOf(calendar));
    }
    let date = match fields.year_day {
        Some(number) => {
            let first = calendar.to_iso(year.into(), 1, 1).ok_or(Unfit::OutOfRange)?;
            let year = first.year();
            bounds::YEAR_DAY.check(number.into())?;
            let day = first.saturating_add(jiff::Span::new().days(number - 1));
            if day.year() != year {
                return Err(Unfit::NoSuchYearDay { year, number });
            }
            day
        }
        None => {
            if let Some(reform) = terms.reform {
                return reformed(year, month, day, reform).map(Some);
            }
            let no_such_day = match calendar {
                Calendar::Gregorian => Unfit::NoSuchDay { year, month, day },
                _ => Unfit::NoSuchDayOf { calendar, year, month, day },
            };
            calendar.to_iso(year.into(), month, day).ok_or(no_such_day)?
        }
    };
    if let Some(first) = fields.era.and_then(Era::begins).filter(|first| date < *first) {
        return Err(Unfit::BeforeEra { first });
    }
    let actual = date.weekday().to_monday_one_offset() as u8;
    let known = fields.year.is_some() || terms.year.is_some();
    match fields.weekday {
        Some(written) if known && written != actual => Err(Unfit::Weekday { written, actual }),
        _ => Ok(Some(date)),
    }
}

/// The day of a week (ISO 8601-1:2019, 4.2.2): the first week has the year's first Thursday.
fn resolve_week(year: i16, week: u8, weekday: u8) -> Result<Date, Unfit> {
    bounds::WEEK.check(week.into())?;
    bounds::WEEKDAY.check(weekday.into())?;
    let weekday = Weekday::from_monday_one_offset(weekday as i8).map_err(|_| Unfit::OutOfRange)?;
    ISOWeekDate::new(year, week as i8, weekday)
        .map(ISOWeekDate::date)
        .map_err(|_| Unfit::NoSuchWeek { year, week })
}

/// The moment of a clock with an offset, a zone, or both, and what is said of it.
fn resolve_instant(
    fields: &Fields,
    clock: DateTime,
    terms: Terms,
) -> Result<(Timestamp, Stated, Option<Moved>), Unfit> {
    let changes = terms.changes;
    let Some(written) = fields.offset else {
        if let Some(name) = fields.abbreviation {
            return resolve_abbreviation(name, clock, terms);
        }
        let zone = fields.zone.ok_or(Unfit::Form)?;
        let (moment, moved) = changes.place(clock, Clock::Zone(zone))?;
        return Ok((moment, Stated::Clock(Clock::Zone(zone)), moved));
    };
    let offset = written.resolve()?;
    let moment = offset.to_timestamp(clock).map_err(|_| Unfit::OutOfRange)?;
    // `Z` says the moment and nothing of the clocks there (RFC 9557, section 2.2). Offsets are
    // written in minutes; those of local mean times had seconds (section 1.2).
    if written.is_zulu {
        return Ok((moment, Stated::Universal, None));
    }
    if let Some(zone) = fields.zone.filter(|_| !changes.offset_wins) {
        let there = zone.offset_at(moment);
        if there.seconds().abs_diff(offset.seconds()) >= 60 {
            return Err(Unfit::OffsetNotOfZone { zone, there });
        }
    }
    if let Some(name) = fields.abbreviation.filter(|name| !changes.offset_wins && name.is_known()) {
        let says = |meaning: Meaning| meaning.offset == offset.seconds();
        if !name.meanings().iter().copied().any(says) {
            return Err(Unfit::OtherAbbreviation { name, there: offset });
        }
    }
    Ok((moment, Stated::Offset(offset), None))
}

/// The moment of a clock with an abbreviation: what somebody has said it means, or the one thing that
/// it means everywhere. Where there are several, the first; [`Fit::settled`] tells them apart.
fn resolve_abbreviation(
    name: Abbreviation,
    clock: DateTime,
    terms: Terms,
) -> Result<(Timestamp, Stated, Option<Moved>), Unfit> {
    if let Some(said) = terms.zones.said_of(name) {
        let (moment, moved) = match said {
            Clock::Zone(zone) => match zone.place_called(clock, name.letters()) {
                Some(moment) => (moment, None),
                // In the other season it is the offset that it means there.
                None => match name.meanings().iter().find(|own| own.place == zone.current_name()) {
                    Some(meaning) => (meaning.moment(clock).ok_or(Unfit::OutOfRange)?, None),
                    None => terms.changes.place(clock, said)?,
                },
            },
            Clock::Fixed(_) => terms.changes.place(clock, said)?,
        };
        return Ok((moment, Stated::Clock(said), moved));
    }
    let meaning = name.meanings_in(clock.year()).next().ok_or(Unfit::UnclearAbbreviation(name))?;
    let moment = meaning.moment(clock).ok_or(Unfit::OutOfRange)?;
    Ok((moment, Stated::Abbreviation(name, clock), None))
}

fn resolve_serial(number: i64, epoch: Epoch) -> Result<Fit, Unfit> {
    let moment = epoch.read(number.into()).map_err(|_| Unfit::OutOfRange)?;
    let fraction_digits = if epoch == Epoch::UNIX_MILLIS { 3 } else { 0 };
    Ok(Fit::whole(moment, fraction_digits))
}

/// The time of day, whether it belongs to the next day, and whether it was a leap second.
fn resolve_time(fields: &Fields) -> Result<(Time, bool, bool), Unfit> {
    let (hour, minute) = (fields.hour.unwrap_or(0), fields.minute.unwrap_or(0));
    let second = fields.second.unwrap_or(0);
    bounds::MINUTE.check(minute.into())?;
    bounds::SECOND.check(second.into())?;
    let hour = match fields.half {
        Some(half) => {
            bounds::HOUR_12.check(hour.into())?;
            // At midnight one day ends and another begins.
            if half == Half::Midnight && (fields.day.is_some() || fields.year_day.is_some()) {
                return Err(Unfit::MidnightOfDay);
            }
            half.hour(hour).ok_or(Unfit::PartOfDay { hour })?
        }
        None => hour,
    };
    bounds::HOUR.check(hour.into())?;
    let leap_second = second == 60;
    if leap_second && minute != 59 {
        return Err(Unfit::LeapSecond);
    }
    if hour == 24 && (minute, second, fields.fraction) != (0, 0, 0) {
        return Err(Unfit::EndOfDay);
    }
    // What the fraction is a fraction of, in seconds.
    let unit: u64 = match (fields.minute, fields.second) {
        (None, _) => 3_600,
        (_, None) => 60,
        _ => 1,
    };
    let nanos = u64::from(fields.fraction) * unit;
    let minute = minute + (nanos / 60_000_000_000) as u8;
    let second = second + (nanos / 1_000_000_000 % 60) as u8;
    let nanos = (nanos % 1_000_000_000) as u32;
    let (hour, minute, second, nanos) =
        if leap_second { (hour + 1, 0, 0, 0) } else { (hour, minute, second, nanos) };
    let next_day = hour == 24;
    let hour = if next_day { 0 } else { hour };
    Time::new(hour as i8, minute as i8, second as i8, nanos as i32)
        .map(|time| (time, next_day, leap_second))
        .map_err(|_| Unfit::OutOfRange)
}

/// A day of the Julian calendar before the reform, and of the Gregorian one from it on. The days that
/// were left out never were.
fn reformed(year: i16, month: u8, day: u8, reform: Date) -> Result<Date, Unfit> {
    let of = |calendar: Calendar| calendar.to_iso(year.into(), month, day);
    match (of(Calendar::Julian), of(Calendar::Gregorian)) {
        (_, Some(date)) if date >= reform => Ok(date),
        (Some(date), _) if date < reform => Ok(date),
        (Some(_), _) => Err(Unfit::LeftOut { reform }),
        (None, _) => Err(Unfit::NoSuchDay { year, month, day }),
    }
}
