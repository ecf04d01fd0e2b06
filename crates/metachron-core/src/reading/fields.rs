//! What a layout finds in a value, before it is checked.

use super::{DecimalYear, WrittenOffset};
use crate::calendar::Era;
use crate::epoch::Epoch;
use crate::layout::{Field, OffsetForm, StandardRules};
use crate::lexicon::{Half, Lexicon, Senses, letter_of_half};
use crate::zone::{Abbreviation, Zone, Zones};

/// What stands for the first year of an era.
pub(crate) const FIRST_OF_ERA: char = '元';

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
    /// The abbreviation of a zone.
    pub abbreviation: Option<Abbreviation>,
    /// Whether there is no zone of the name that is written.
    pub unknown_zone: bool,
    /// Whether a tag says that it must be understood, and is not.
    pub critical_tag: bool,
    /// A year with a fraction.
    pub decimal_year: Option<DecimalYear>,
    /// A number that counts from an origin.
    pub serial: Option<(i64, Epoch)>,
}

impl Fields {
    /// What is known before a form with these rules is read.
    pub fn under(rules: StandardRules) -> Fields {
        Fields { offset: rules.utc.then_some(WrittenOffset::UTC), ..Fields::default() }
    }

    /// Whether there is a day and no year.
    pub(super) fn is_yearless(&self) -> bool {
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
                let first = digits.starts_with(FIRST_OF_ERA);
                self.year = if first { Some(1) } else { Some(number()) };
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
            Field::HourMinute => {
                let number = number();
                (self.hour, self.minute) = (Some((number / 100) as u8), Some((number % 100) as u8));
            }
            Field::Minute | Field::MinuteTwo => self.minute = small(),
            Field::Second | Field::SecondTwo => self.second = small(),
            Field::Fraction(_) => {
                let (fine, rest) = digits.split_at(digits.len().min(9));
                let parsed = fine.bytes().fold(0, |n, b| n * 10 + u32::from(b - b'0'));
                self.fraction = parsed * 10_u32.pow(9 - fine.len() as u32);
                self.fraction_digits = fine.len() as u8;
                self.too_fine = rest.bytes().any(|b| b != b'0');
            }
            Field::Serial(epoch) => {
                let number = digits.bytes().fold(0_i64, |n, b| n * 10 + i64::from(b - b'0'));
                self.serial = Some((if negative { -number } else { number }, epoch));
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
        let found = lexicon.find(rest).filter(|found| self.set_word(field, found.senses));
        let length = match found {
            Some(found) => found.length,
            None if field == Field::AmPm => {
                let end = rest.find(|c: char| !c.is_alphabetic()).unwrap_or(rest.len());
                self.half = Some(letter_of_half(&rest[..end])?);
                end
            }
            None => return None,
        };
        let point = !point_follows && rest[length..].starts_with('.');
        Some(length + usize::from(point))
    }
}

impl Fields {
    /// Reads a zone's name, or what RFC 9557 puts in brackets; gives the bytes that it takes.
    ///
    /// A name that is an abbreviation as well is one: `CET` beside a clock means its offset, also in
    /// summer.
    pub fn read_zone(&mut self, field: Field, rest: &str, zones: Zones) -> Option<usize> {
        if field == Field::ZoneBrackets {
            return self.read_brackets(rest, zones);
        }
        let (zone, length) = zones.read(rest)?;
        if let Some(abbreviation) = Abbreviation::new(&rest[..length])
            && (zone.is_none() || abbreviation.is_known())
        {
            self.abbreviation = Some(abbreviation);
            return Some(length);
        }
        self.zone = zone;
        self.unknown_zone = zone.is_none();
        Some(length)
    }

    /// `[Europe/Oslo][u-ca=iso8601]` (RFC 9557, section 4.1). A tag with `!` must be understood.
    fn read_brackets(&mut self, rest: &str, zones: Zones) -> Option<usize> {
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
                    let (zone, length) = zones.read(content)?;
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
