//! A reading, and the slow, clear interpreter of layouts.
//!
//! The interpreter tries everything that a layout allows, character by character. It is the
//! referee of the compiled programs in [`crate::apply`]: both must always agree.

mod unfit;

use jiff::civil::{Date, DateTime, ISOWeekDate, Time, Weekday};
use jiff::tz::Offset;

use crate::bounds;
use crate::layout::{Field, Layout, OffsetForm, Part};
use crate::lexicon::{Era, Half, Lexicon, Locale, Senses};
use crate::moment::{Kind, Moment};
pub use crate::order::Order;
pub use unfit::Unfit;

/// What becomes of a row that several layouts of a reading take for different moments.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Contested {
    /// It stays empty and is reported.
    #[default]
    Empty,
    /// The earlier layout has it.
    Prefer,
}

/// The hundred years in which two-digit years lie.
///
/// ```
/// use metachron_core::reading::Century;
/// assert_eq!(Century::default().place(68), 2068); // as POSIX.1-2017, strptime, %y has it
/// assert_eq!(Century::default().place(69), 1969);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Century {
    /// The first of the hundred years.
    pub from: i16,
}

impl Default for Century {
    fn default() -> Century {
        Century { from: 1969 }
    }
}

impl Century {
    /// The year that the last two digits `short` stand for.
    pub fn place(self, short: i16) -> i16 {
        self.from + (short - self.from).rem_euclid(100)
    }
}

/// Everything needed to turn a column's values into typed ones.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reading {
    /// What the values become.
    pub kind: Kind,
    /// The written forms, in order of preference.
    pub layouts: Vec<Layout>,
    /// Where two-digit years lie.
    pub century: Century,
    /// What becomes of contested rows.
    pub contested: Contested,
    /// The language of its names; every language if none is said.
    pub written_in: Option<Locale>,
}

impl Reading {
    /// The words that it reads.
    pub fn lexicon(&self) -> Lexicon {
        self.written_in.map_or(Lexicon::every(), Lexicon::of)
    }
}

/// The numbers that a layout found in a value, not yet checked against the calendar.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Fields {
    /// The year's digits as a number.
    pub year: Option<i16>,
    /// Whether the year has two digits only.
    pub short_year: bool,
    /// The month.
    pub month: Option<u8>,
    /// The day of the month.
    pub day: Option<u8>,
    /// The day of the year.
    pub year_day: Option<i16>,
    /// The year that the week belongs to.
    pub week_year: Option<i16>,
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
    /// The fraction of the second, in nanoseconds.
    pub nanos: u32,
    /// How many digits the fraction was written with.
    pub fraction_digits: u8,
    /// Whether digits of the fraction beyond the ninth were other than zero.
    pub too_fine: bool,
    /// The offset from UTC: sign, hours, minutes.
    pub offset: Option<WrittenOffset>,
}

/// An offset from UTC as it is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct WrittenOffset {
    /// Whether it lies west of Greenwich.
    pub negative: bool,
    /// Hours.
    pub hours: u8,
    /// Minutes.
    pub minutes: u8,
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
    /// Whether it stood in a leap second, which is read as the first moment of the next minute.
    pub leap_second: bool,
}

/// The slow engine: what a layout finds in a normalised value.
///
/// # Errors
/// Why the value does not fit.
pub fn interpret(
    layout: &Layout,
    value: &str,
    century: Century,
    lexicon: Lexicon,
) -> Result<Fit, Unfit> {
    layout
        .alternatives()
        .iter()
        .find_map(|parts| match_parts(parts, value, "", Fields::default(), lexicon))
        .ok_or(Unfit::Form)
        .and_then(|fields| resolve(&fields, layout.kind(), century))
}

/// Checks the fields against clock and calendar and puts them together.
///
/// # Errors
/// Which field is wrong.
pub fn resolve(fields: &Fields, kind: Kind, century: Century) -> Result<Fit, Unfit> {
    let (time, next_day, leap_second) = resolve_time(fields)?;
    let written = resolve_date(fields, century)?;
    let day_of = |date: Date| {
        if next_day { date.tomorrow().map_err(|_| Unfit::OutOfRange) } else { Ok(date) }
    };
    let moment = match (kind, written) {
        (Kind::Time, _) if next_day => return Err(Unfit::EndOfNoDay),
        (Kind::Time, _) => Moment::Time(time),
        (_, None) => return Err(Unfit::Form),
        (Kind::Date, Some(date)) => Moment::Date(date),
        (Kind::Month, Some(first)) => Moment::Month(first),
        (Kind::Quarter, Some(first)) => Moment::Quarter(first),
        (Kind::Week, Some(monday)) => Moment::Week(monday),
        (Kind::Year, Some(first)) => Moment::Year(first),
        (Kind::DateTime, Some(date)) => Moment::DateTime(DateTime::from_parts(day_of(date)?, time)),
        (Kind::Instant, Some(date)) => {
            let offset = fields.offset.ok_or(Unfit::Form)?.resolve()?;
            let clock = DateTime::from_parts(day_of(date)?, time);
            let moment = offset.to_timestamp(clock).map_err(|_| Unfit::OutOfRange)?;
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
    let (fraction_digits, short_year) = (fields.fraction_digits, fields.short_year);
    Ok(Fit { moment, fraction_digits, written, short_year, leap_second })
}

fn resolve_date(fields: &Fields, century: Century) -> Result<Option<Date>, Unfit> {
    if fields.unclear_name {
        return Err(Unfit::UnclearName);
    }
    if let (Some(year), Some(week)) = (fields.week_year, fields.week) {
        return resolve_week(year, week, fields.weekday.unwrap_or(1)).map(Some);
    }
    let Some(year) = fields.year else { return Ok(None) };
    // What is coarser than a day is its first day.
    let month = match fields.quarter {
        Some(quarter) => {
            bounds::QUARTER.check(quarter.into())?;
            quarter * 3 - 2
        }
        None => fields.month.unwrap_or(1),
    };
    let day = fields.day.unwrap_or(1);
    bounds::MONTH.check(month.into())?;
    bounds::DAY.check(day.into())?;
    let year = if fields.short_year { century.place(year) } else { year };
    // There is no year 0 between the eras; the calendar inside counts on (ISO 8601-1:2019, 4.3.2).
    let year = if fields.era == Some(Era::Before) { 1 - year } else { year };
    bounds::YEAR.check(year.into())?;
    let date = match fields.year_day {
        Some(number) => {
            bounds::YEAR_DAY.check(number.into())?;
            let first = Date::new(year, 1, 1).map_err(|_| Unfit::OutOfRange)?;
            let day = first.saturating_add(jiff::Span::new().days(number - 1));
            if day.year() != year {
                return Err(Unfit::NoSuchYearDay { year, number });
            }
            day
        }
        None => {
            let no_such_day = Unfit::NoSuchDay { year, month, day };
            Date::new(year, month as i8, day as i8).map_err(|_| no_such_day)?
        }
    };
    let actual = date.weekday().to_monday_one_offset() as u8;
    match fields.weekday {
        Some(written) if written != actual => Err(Unfit::Weekday { written, actual }),
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

/// The time of day, whether it belongs to the next day, and whether it was a leap second.
fn resolve_time(fields: &Fields) -> Result<(Time, bool, bool), Unfit> {
    let (hour, minute) = (fields.hour.unwrap_or(0), fields.minute.unwrap_or(0));
    let second = fields.second.unwrap_or(0);
    bounds::MINUTE.check(minute.into())?;
    bounds::SECOND.check(second.into())?;
    let hour = match fields.half {
        Some(half) => {
            bounds::HOUR_12.check(hour.into())?;
            hour % 12 + if half == Half::Pm { 12 } else { 0 }
        }
        None => hour,
    };
    bounds::HOUR.check(hour.into())?;
    let leap_second = second == 60;
    if leap_second && minute != 59 {
        return Err(Unfit::LeapSecond);
    }
    if hour == 24 && (minute, second, fields.nanos) != (0, 0, 0) {
        return Err(Unfit::EndOfDay);
    }
    let (hour, minute, second, nanos) =
        if leap_second { (hour + 1, 0, 0, 0) } else { (hour, minute, second, fields.nanos) };
    let next_day = hour == 24;
    let hour = if next_day { 0 } else { hour };
    Time::new(hour as i8, minute as i8, second as i8, nanos as i32)
        .map(|time| (time, next_day, leap_second))
        .map_err(|_| Unfit::OutOfRange)
}

impl WrittenOffset {
    fn resolve(self) -> Result<Offset, Unfit> {
        bounds::OFFSET_HOUR.check(self.hours.into())?;
        bounds::MINUTE.check(self.minutes.into())?;
        let seconds = (i32::from(self.hours) * 60 + i32::from(self.minutes)) * 60;
        let signed = if self.negative { -seconds } else { seconds };
        Offset::from_seconds(signed).map_err(|_| Unfit::OutOfRange)
    }

    /// Reads an offset at the beginning of `text`; also gives how many bytes it takes.
    ///
    /// `Z`, `UTC` and `GMT` stand for UTC; a sign with hours, or hours and minutes, may follow the
    /// latter two or stand alone.
    pub fn read(text: &[u8], form: OffsetForm) -> Option<(WrittenOffset, usize)> {
        let utc = WrittenOffset { negative: false, hours: 0, minutes: 0 };
        let upper = |at: usize| text.get(at).map(u8::to_ascii_uppercase);
        if upper(0) == Some(b'Z') {
            return Some((utc, 1));
        }
        let word = text.get(..3).map(<[u8]>::to_ascii_uppercase);
        let named = matches!(word.as_deref(), Some(b"UTC" | b"GMT"));
        if named && form != OffsetForm::Any {
            return None;
        }
        let sign_at = if named { 3 } else { 0 };
        let negative = match text.get(sign_at) {
            Some(b'+') => false,
            Some(b'-') => true,
            _ => return named.then_some((utc, 3)),
        };
        let digits = &text[sign_at + 1..];
        let run = digits.iter().take_while(|b| b.is_ascii_digit()).count();
        let number =
            |from: usize, to: usize| digits[from..to].iter().fold(0, |n, b| n * 10 + (b - b'0'));
        let colon = digits.get(run) == Some(&b':')
            && digits.get(run + 1..run + 3).is_some_and(|m| m.iter().all(u8::is_ascii_digit))
            && !digits.get(run + 3).is_some_and(u8::is_ascii_digit);
        let (hours, minutes, length) = match (run, form) {
            (1 | 2, OffsetForm::Any) if colon => {
                (number(0, run), number(run + 1, run + 3), run + 3)
            }
            (2, OffsetForm::Colon) if colon => (number(0, 2), number(3, 5), 5),
            (1 | 2, OffsetForm::Any) => (number(0, run), 0, run),
            (4, OffsetForm::Any | OffsetForm::Basic) => (number(0, 2), number(2, 4), 4),
            _ => return None,
        };
        Some((WrittenOffset { negative, hours, minutes }, sign_at + 1 + length))
    }
}

impl Fields {
    /// Puts the number that a digit field read where it belongs.
    pub fn set(&mut self, field: Field, digits: &str) {
        let number = || digits.bytes().fold(0_i16, |n, b| n * 10 + i16::from(b - b'0'));
        let small = || Some(number() as u8);
        match field {
            Field::Year => self.year = Some(number()),
            Field::YearTwo => {
                self.year = Some(number());
                self.short_year = true;
            }
            Field::Month(_) => self.month = small(),
            Field::Day(_) | Field::DayOrdinal | Field::DaySpaced => self.day = small(),
            Field::YearDay | Field::YearDayThree => self.year_day = Some(number()),
            Field::WeekYear => self.week_year = Some(number()),
            Field::Week(_) => self.week = small(),
            Field::Quarter => self.quarter = small(),
            Field::WeekdayNumber => self.weekday = small(),
            Field::Hour(_) | Field::Hour12(_) => self.hour = small(),
            Field::Minute | Field::MinuteTwo => self.minute = small(),
            Field::Second | Field::SecondTwo => self.second = small(),
            Field::Fraction(_) => {
                let (fine, rest) = digits.split_at(digits.len().min(9));
                let parsed = fine.bytes().fold(0, |n, b| n * 10 + u32::from(b - b'0'));
                self.nanos = parsed * 10_u32.pow(9 - fine.len() as u32);
                self.fraction_digits = fine.len() as u8;
                self.too_fine = rest.bytes().any(|b| b != b'0');
            }
            _ => {}
        }
    }

    /// Puts what a word field read where it belongs, or says that the word means something else.
    pub fn set_word(&mut self, field: Field, senses: Senses) -> bool {
        match field {
            Field::MonthName | Field::MonthShort => {
                self.month = senses.month.map(|(month, _)| month);
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
        match_parts(later, &rest[length..], &rest[..length], fields, lexicon)
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
            let run = rest[spaces..].bytes().take_while(u8::is_ascii_digit).count();
            (least..=most.min(run)).rev().find_map(|width| {
                let end = spaces + width;
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
