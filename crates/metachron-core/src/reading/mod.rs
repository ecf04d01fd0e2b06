//! A reading, and the slow, clear interpreter of layouts.
//!
//! The interpreter tries everything that a layout allows, character by character. It is the
//! referee of the compiled programs in [`crate::apply`]: both must always agree.

mod offset;
mod terms;
mod unfit;
mod years;

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, ISOWeekDate, Time, Weekday};
use jiff::tz::Offset;

use crate::bounds;
use crate::calendar::Calendar;
use crate::layout::{Count, Field, Layout, OffsetForm, Part, Rules};
use crate::lexicon::{Era, Half, Lexicon, Senses};
use crate::moment::{Anchor, Kind, Moment};
pub use crate::order::Order;
use crate::zone::{Placed, Zone};
pub use offset::WrittenOffset;
pub use terms::{Century, Terms};
pub use unfit::Unfit;
pub use years::{RowYear, Years};

/// What becomes of a row that several layouts of a reading take for different moments.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Contested {
    /// It stays empty and is reported.
    #[default]
    Empty,
    /// The earlier layout has it.
    Prefer,
}

/// What an earlier import did to a column.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Repair {
    /// It exchanged day and month of the values in which both can be a month, and left the others as
    /// text: dates that it wrote are exchanged back.
    HalfSwapped,
    /// Nothing.
    None,
}

/// Everything needed to turn a column's values into typed ones.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reading {
    /// What the values become.
    pub kind: Kind,
    /// The written forms, in order of preference.
    pub layouts: Vec<Layout>,
    /// What the values leave open.
    pub terms: Terms,
    /// The years of values that have none, where they are known.
    pub years: Option<Years>,
    /// Which of its days a period becomes; none where it stays one.
    pub anchor: Option<Anchor>,
    /// What an earlier import did that is undone.
    pub repair: Repair,
    /// What becomes of contested rows.
    pub contested: Contested,
}

/// The numbers that a layout found in a value, not yet checked against the calendar.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Fields {
    /// The year's digits as a number.
    pub year: Option<i32>,
    /// Whether the year has two digits only.
    pub short_year: bool,
    /// The month.
    pub month: Option<u8>,
    /// Whether the month is written as a name.
    pub named_month: bool,
    /// The day of the month.
    pub day: Option<u8>,
    /// The day of the year.
    pub year_day: Option<i16>,
    /// The year that the week belongs to.
    pub week_year: Option<i32>,
    /// The week of its year.
    pub week: Option<u8>,
    /// The quarter of the year.
    pub quarter: Option<u8>,
    /// The day of the week, Monday being 1.
    pub weekday: Option<u8>,
    /// The era that the year is counted in.
    pub era: Option<Era>,
    /// The hour.
    pub hour: Option<u8>,
    /// Whether a name stands for different months or weekdays in different languages.
    pub unclear_name: bool,
    /// The half of the day, on a 12-hour clock.
    pub half: Option<Half>,
    /// The minute.
    pub minute: Option<u8>,
    /// The second.
    pub second: Option<u8>,
    /// The fraction of the last of hour, minute and second, in billionths.
    pub fraction: u32,
    /// How many digits it was written with.
    pub fraction_digits: u8,
    /// Whether digits of the fraction beyond the ninth were other than zero.
    pub too_fine: bool,
    /// The offset from UTC: sign, hours, minutes.
    pub offset: Option<WrittenOffset>,
    /// The time zone.
    pub zone: Option<Zone>,
    /// Whether there is no zone of the name that is written.
    pub unknown_zone: bool,
    /// Whether a tag says that it must be understood, and is not.
    pub critical_tag: bool,
    /// A number that counts from an origin.
    pub serial: Option<(i64, Count)>,
}

/// A value that a layout fits.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Fit {
    /// The typed value.
    pub moment: Moment,
    /// The digits of its fraction of a second.
    pub fraction_digits: u8,
    /// The day as it is written, before an offset moved it to another; a time has none.
    pub written: Option<Date>,
    /// Whether the year was written with two digits.
    pub short_year: bool,
    /// Whether it has a day and no year.
    pub yearless: bool,
    /// Whether it stood in a leap second, which is read as the first moment of the next minute.
    pub leap_second: bool,
}

impl Fit {
    /// Whether its year is one that dates in tables usually have; a time has none.
    pub fn is_of_our_time(&self) -> bool {
        self.written.is_none_or(|date| (1500..=2200).contains(&date.year()))
    }

    /// A value that leaves nothing open.
    pub fn whole(moment: Moment, fraction_digits: u8) -> Fit {
        let (written, short_year) = (moment.date(), false);
        let (yearless, leap_second) = (false, false);
        Fit { moment, fraction_digits, written, short_year, yearless, leap_second }
    }
}

/// The slow engine: what a layout finds in a normalised value.
///
/// # Errors
/// Why the value does not fit.
pub fn interpret(layout: &Layout, value: &str, terms: Terms) -> Result<Fit, Unfit> {
    layout
        .alternatives()
        .iter()
        .find_map(|form| {
            let terms = terms.under(form.rules);
            let begun = Fields::under(form.rules);
            let fields = match_parts(&form.parts, value, "", begun, terms.lexicon)?;
            Some(resolve(&fields, form.kind, terms))
        })
        .unwrap_or(Err(Unfit::Form))
}

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
    let moment = match (kind, written) {
        (Kind::Time, _) if next_day => return Err(Unfit::EndOfNoDay),
        (Kind::Time, _) => Moment::Time(time),
        (_, None) => return Err(Unfit::Form),
        (Kind::Date, Some(date)) => Moment::Date(date),
        // The periods of ISO 8601 are those of its own calendar.
        (Kind::Month | Kind::Quarter | Kind::Year, Some(_))
            if !terms.lexicon.calendar().shares_months() =>
        {
            return Err(Unfit::PeriodOf(terms.lexicon.calendar()));
        }
        (Kind::Month, Some(first)) => Moment::Month(first),
        (Kind::Quarter, Some(first)) => Moment::Quarter(first),
        (Kind::Week, Some(monday)) => Moment::Week(monday),
        (Kind::Year, Some(first)) => Moment::Year(first),
        (Kind::DateTime, Some(date)) => Moment::DateTime(DateTime::from_parts(day_of(date)?, time)),
        (Kind::Instant, Some(date)) => {
            let clock = DateTime::from_parts(day_of(date)?, time);
            let moment = resolve_instant(fields, clock)?;
            // A leap second is the last one of a UTC day, wherever it is written.
            if leap_second && Offset::UTC.to_datetime(moment).time() != Time::midnight() {
                return Err(Unfit::LeapSecond);
            }
            Moment::Instant(moment)
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
    Ok(Fit { moment, fraction_digits, written, short_year, yearless, leap_second })
}

fn resolve_date(fields: &Fields, terms: Terms) -> Result<Option<Date>, Unfit> {
    if fields.unclear_name {
        return Err(Unfit::UnclearName);
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
    // An era says by itself what it counts.
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

/// The moment of a clock with an offset, a zone, or both.
fn resolve_instant(fields: &Fields, clock: DateTime) -> Result<Timestamp, Unfit> {
    let Some(written) = fields.offset else {
        let zone = fields.zone.ok_or(Unfit::Form)?;
        return match zone.place(clock) {
            Placed::Once(moment) => Ok(moment),
            Placed::Skipped => Err(Unfit::SkippedClock(zone)),
            Placed::Twice(..) => Err(Unfit::RepeatedClock(zone)),
            Placed::OutOfRange => Err(Unfit::OutOfRange),
        };
    };
    let offset = written.resolve()?;
    let moment = offset.to_timestamp(clock).map_err(|_| Unfit::OutOfRange)?;
    match fields.zone {
        // `Z` says the moment and nothing of the clocks there (RFC 9557, section 2.2). Offsets are
        // written in minutes; those of local mean times had seconds (section 1.2).
        Some(zone) if !written.is_zulu => {
            let there = zone.offset_at(moment);
            if there.seconds().abs_diff(offset.seconds()) >= 60 {
                return Err(Unfit::OffsetNotOfZone { zone, there });
            }
            Ok(moment)
        }
        _ => Ok(moment),
    }
}

fn resolve_serial(number: i64, count: Count) -> Result<Fit, Unfit> {
    let moment = match count {
        Count::UnixSeconds => Timestamp::from_second(number),
        Count::UnixMillis => Timestamp::from_millisecond(number),
    };
    let moment = Moment::Instant(moment.map_err(|_| Unfit::OutOfRange)?);
    let fraction_digits = if count == Count::UnixMillis { 3 } else { 0 };
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

impl Fields {
    /// What is known before a form with these rules is read.
    pub fn under(rules: Rules) -> Fields {
        Fields { offset: rules.utc.then_some(WrittenOffset::UTC), ..Fields::default() }
    }

    /// Whether there is a day and no year.
    fn is_yearless(&self) -> bool {
        self.year.is_none() && (self.month.is_some() || self.year_day.is_some())
    }

    /// Puts the number that a digit field read where it belongs.
    pub fn set(&mut self, field: Field, digits: &str) {
        let (negative, digits) = match digits.as_bytes().first() {
            Some(b'-') => (true, &digits[1..]),
            Some(b'+') => (false, &digits[1..]),
            _ => (false, digits),
        };
        let number = || digits.bytes().fold(0_i32, |n, b| n * 10 + i32::from(b - b'0'));
        let small = || Some(number() as u8);
        let year = || Some(if negative { -number() } else { number() });
        match field {
            Field::Year => self.year = year(),
            Field::YearOfEra => {
                self.year = if digits == "元" { Some(1) } else { Some(number()) };
            }
            Field::YearTwo => {
                self.year = Some(number());
                self.short_year = true;
            }
            Field::Month(_) => self.month = small(),
            Field::Day(_) | Field::DayOrdinal | Field::DaySpaced => self.day = small(),
            Field::YearDay | Field::YearDayThree => self.year_day = Some(number() as i16),
            Field::WeekYear => self.week_year = year(),
            Field::Week(_) => self.week = small(),
            Field::Quarter => self.quarter = small(),
            Field::WeekdayNumber => self.weekday = small(),
            Field::Hour(_) | Field::Hour12(_) => self.hour = small(),
            Field::Minute | Field::MinuteTwo => self.minute = small(),
            Field::Second | Field::SecondTwo => self.second = small(),
            Field::Fraction(_) => {
                let (fine, rest) = digits.split_at(digits.len().min(9));
                let parsed = fine.bytes().fold(0, |n, b| n * 10 + u32::from(b - b'0'));
                self.fraction = parsed * 10_u32.pow(9 - fine.len() as u32);
                self.fraction_digits = fine.len() as u8;
                self.too_fine = rest.bytes().any(|b| b != b'0');
            }
            Field::Serial(count) => {
                let number = digits.bytes().fold(0_i64, |n, b| n * 10 + i64::from(b - b'0'));
                self.serial = Some((if negative { -number } else { number }, count));
            }
            _ => {}
        }
    }

    /// Puts what a word field read where it belongs, or says that the word means something else.
    pub fn set_word(&mut self, field: Field, senses: Senses) -> bool {
        match field {
            Field::MonthName | Field::MonthShort => {
                self.month = senses.month.map(|(month, _)| month);
                self.named_month = true;
                self.unclear_name |= senses.unclear_month;
                senses.is_month()
            }
            Field::Weekday | Field::WeekdayShort => {
                self.weekday = senses.weekday.map(|(weekday, _)| weekday);
                self.unclear_name |= senses.unclear_weekday;
                senses.is_weekday()
            }
            Field::AmPm => {
                self.half = senses.half;
                self.half.is_some()
            }
            Field::Noon => {
                let twelve = matches!(senses.half, Some(Half::Noon | Half::Midnight));
                (self.half, self.hour) = (senses.half, Some(12));
                twelve
            }
            Field::Era => {
                self.era = senses.era;
                self.era.is_some()
            }
            _ => false,
        }
    }

    /// Reads the word that a field expects at the beginning of `rest`; gives the bytes that it
    /// takes, with its abbreviation point unless the layout wants a point next.
    pub fn read_word(
        &mut self,
        field: Field,
        rest: &str,
        point_follows: bool,
        lexicon: Lexicon,
    ) -> Option<usize> {
        let found = lexicon.find(rest)?;
        self.set_word(field, found.senses).then_some(())?;
        let point = !point_follows && rest[found.length..].starts_with('.');
        Some(found.length + usize::from(point))
    }
}

impl Fields {
    /// Reads a zone's name, or what RFC 9557 puts in brackets; gives the bytes that it takes.
    pub fn read_zone(&mut self, field: Field, rest: &str) -> Option<usize> {
        if field == Field::ZoneBrackets {
            return self.read_brackets(rest);
        }
        let (zone, length) = Zone::read(rest)?;
        self.zone = zone;
        self.unknown_zone = zone.is_none();
        Some(length)
    }

    /// `[Europe/Oslo][u-ca=iso8601]` (RFC 9557, section 4.1). A tag with `!` must be understood.
    fn read_brackets(&mut self, rest: &str) -> Option<usize> {
        let mut at = 0;
        while let Some(inside) = rest[at..].strip_prefix('[') {
            let end = inside.find(']')?;
            let (critical, content) = match inside[..end].strip_prefix('!') {
                Some(content) => (true, content),
                None => (false, &inside[..end]),
            };
            match content.split_once('=') {
                Some(("", _) | (_, "")) => return None,
                // The calendar is one to show the date in; the date itself is of ISO 8601.
                Some(("u-ca", _)) => {}
                Some(_) => self.critical_tag |= critical,
                // The zone comes first.
                None if at > 0 => return None,
                None if content.starts_with(['+', '-']) => {
                    let form = OffsetForm::Colon;
                    let (offset, length) = WrittenOffset::read(content.as_bytes(), form)?;
                    let same = self.offset.is_some_and(|own| own.is_zulu || own == offset);
                    (length == content.len() && same).then_some(())?;
                }
                None => {
                    let (zone, length) = Zone::read(content)?;
                    (length == content.len()).then_some(())?;
                    self.zone = zone;
                    self.unknown_zone = zone.is_none();
                }
            }
            at += end + 2;
        }
        (at > 0).then_some(at)
    }
}

/// The sign before a number that may have one: that of an expanded year, which has six digits then
/// (ISO 8601-1:2019, 4.3.2), or that of a count.
pub(crate) struct Sign {
    /// The bytes that it takes.
    pub length: usize,
    /// The digits that the number has beyond its usual ones.
    pub more: usize,
}

impl Sign {
    pub(crate) fn before(field: Field, rest: &str, behind_digit: bool) -> Sign {
        let first = rest.as_bytes().first();
        match (field, first) {
            _ if behind_digit => Sign { length: 0, more: 0 },
            (Field::Year | Field::WeekYear, Some(b'+' | b'-')) => Sign { length: 1, more: 2 },
            (Field::Serial(_), Some(b'-')) => Sign { length: 1, more: 0 },
            _ => Sign { length: 0, more: 0 },
        }
    }
}

/// Matches the parts against all of `rest`; `read` is what stands before it.
fn match_parts(
    parts: &[Part],
    rest: &str,
    read: &str,
    fields: Fields,
    lexicon: Lexicon,
) -> Option<Fields> {
    let Some((part, later)) = parts.split_first() else {
        return rest.is_empty().then_some(fields);
    };
    // The rest after the first `length` bytes, matched against the later parts.
    let go_on = |length: usize, fields: Fields| {
        let read = if length == 0 { read } else { &rest[..length] };
        match_parts(later, &rest[length..], read, fields, lexicon)
    };
    match part {
        Part::Space => {
            let length = rest.find(|c: char| !c.is_whitespace()).unwrap_or(rest.len());
            if length == 0 { None } else { go_on(length, fields) }
        }
        Part::Text(text) => {
            let mut characters = rest.char_indices();
            let same = text.chars().all(|expected| {
                characters.next().is_some_and(|(_, found)| same_letter(expected, found))
            });
            let length = characters.next().map_or(rest.len(), |(at, _)| at);
            if same { go_on(length, fields) } else { None }
        }
        Part::Field(Field::Any) => {
            let ends = rest.char_indices().map(|(at, _)| at).chain([rest.len()]);
            ends.filter(|end| {
                let (taken, after) = rest.split_at(*end);
                !inside_a_run(read, if taken.is_empty() { after } else { taken })
                    && !inside_a_run(if taken.is_empty() { read } else { taken }, after)
            })
            .find_map(|end| go_on(end, fields))
        }
        Part::Field(Field::Offset(form)) => {
            let (offset, length) = WrittenOffset::read(rest.as_bytes(), *form)?;
            go_on(length, Fields { offset: Some(offset), ..fields })
        }
        Part::Field(field @ (Field::Zone | Field::ZoneBrackets)) => {
            let mut fields = fields;
            let length = fields.read_zone(*field, rest)?;
            go_on(length, fields)
        }
        Part::Field(field) if field.is_word() => {
            let mut fields = fields;
            let point_follows = later.first().is_some_and(Part::begins_with_point);
            let length = fields.read_word(*field, rest, point_follows, lexicon)?;
            go_on(length, fields)
        }
        Part::Field(field) => {
            let (least, most) = field.width()?;
            let spaces = match field {
                Field::DaySpaced => rest.len() - rest.trim_start().len(),
                _ => 0,
            };
            let behind_digit = read.ends_with(|c: char| c.is_ascii_digit());
            let Sign { length: sign, more } = Sign::before(*field, rest, behind_digit);
            if *field == Field::YearOfEra && !behind_digit && rest.starts_with('元') {
                let mut fields = fields;
                fields.set(*field, "元");
                return go_on('元'.len_utf8(), fields);
            }
            let run = rest[spaces + sign..].bytes().take_while(u8::is_ascii_digit).count();
            (least + more..=(most.saturating_add(more)).min(run)).rev().find_map(|width| {
                let end = spaces + sign + width;
                let ending = match field {
                    Field::DayOrdinal => ordinal_ending(&rest[end..], lexicon)?,
                    _ => 0,
                };
                let mut fields = fields;
                fields.set(*field, &rest[spaces..end]);
                go_on(end + ending, fields)
            })
        }
    }
}

/// Whether two characters are the same letter in any case.
pub(crate) fn same_letter(a: char, b: char) -> bool {
    a == b || a.to_lowercase().eq(b.to_lowercase())
}

/// Whether the place between two texts lies inside a run of digits or of letters.
pub(crate) fn inside_a_run(before: &str, after: &str) -> bool {
    match (before.chars().next_back(), after.chars().next()) {
        (Some(a), Some(b)) => {
            (a.is_ascii_digit() && b.is_ascii_digit()) || (a.is_alphabetic() && b.is_alphabetic())
        }
        _ => false,
    }
}

/// The length of the ending of an ordinal number at the beginning of `rest`.
pub(crate) fn ordinal_ending(rest: &str, lexicon: Lexicon) -> Option<usize> {
    lexicon.find(rest).filter(|found| found.senses.ordinal).map(|found| found.length)
}
