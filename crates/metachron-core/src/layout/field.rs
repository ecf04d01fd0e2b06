//! The fields of the layout notation: one table, from which everything else follows.

use jiff::civil::Date;
use strum::{IntoStaticStr, VariantArray};

use crate::duration::Unit;
use crate::epoch::Epoch;
use crate::typed::Kind;

/// How many digits a field is read and written with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Digits {
    /// One or two when reading; as few as possible when writing.
    Free,
    /// Exactly two.
    Two,
}

/// How an offset from UTC is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OffsetForm {
    /// Read in every form (`Z`, `+1`, `+0100`, `GMT+1`), written `+01:00`.
    Any,
    /// `Z` or `+01:00`, nothing else (RFC 3339, section 5.6).
    Colon,
    /// `Z` or `+0100`, nothing else (ISO 8601-1, basic format).
    Basic,
    /// `Z` or `+01`, nothing else (ISO 8601-1, 4.3.13).
    Hours,
    /// `+0100`, `UT`, `GMT`, or the names of zones in North America (RFC 5322, section 4.3).
    Mail,
    /// One letter: `Z` is UTC, `A` to `M` lie east of it, `N` to `Y` west, `J` is none (as armed forces
    /// and mariners name zones of one hour each).
    Military,
}

/// How a length of time is told in amounts with their units.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Amounts {
    /// In words or symbols, in any order: `1 day 4 hours 35 min`. `m` is minutes beside hours, days or
    /// seconds, and refused elsewhere.
    Words,
    /// The same, and `m` is minutes wherever it can be.
    Minutes,
    /// The same, and `m` is months wherever it can be.
    Months,
    /// As ISO 8601-1:2019, 5.5.2, has it: `P1DT4H35M`.
    Iso,
}

/// The part of a year that a year with a fraction names.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum YearPart {
    /// Four of them.
    Quarter,
    /// Twelve.
    Month,
    /// Fifty-two, counted as weeks of ISO 8601: the 53rd that some years have cannot be said.
    Week,
    /// As many days as the year has.
    Day,
}

impl YearPart {
    /// How many a year has.
    ///
    /// ```
    /// use metachron_core::layout::YearPart;
    /// assert_eq!((YearPart::Month.of(2023), YearPart::Day.of(2024)), (12, 366));
    /// ```
    pub fn of(self, year: i16) -> u32 {
        match self {
            YearPart::Quarter => 4,
            YearPart::Month => 12,
            YearPart::Week => 52,
            // A year that does not exist is not a leap year.
            YearPart::Day => Date::new(year, 1, 1).map_or(365, |first| first.days_in_year() as u32),
        }
    }

    /// What such a year becomes.
    ///
    /// ```
    /// use metachron_core::{layout::YearPart, typed::Kind};
    /// assert_eq!(YearPart::Day.kind(), Kind::Date);
    /// ```
    pub fn kind(self) -> Kind {
        match self {
            YearPart::Quarter => Kind::Quarter,
            YearPart::Month => Kind::Month,
            YearPart::Week => Kind::Week,
            YearPart::Day => Kind::Date,
        }
    }
}

/// A field of a layout.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Field {
    /// Four digits.
    Year,
    /// A year with a fraction, by which it names a part of it: where that starts, or has its middle.
    DecimalYear(YearPart),
    /// Two digits, placed in a century by the reading.
    YearTwo,
    /// One to four digits, or 元 for the first year of an era.
    YearOfEra,
    /// The month's number.
    Month(Digits),
    /// The month's full name; reading takes the short one too.
    MonthName,
    /// The month's short name; reading takes the full one too.
    MonthShort,
    /// The day of the month.
    Day(Digits),
    /// The day of the month as an ordinal number: `3rd`.
    DayOrdinal,
    /// The day of the month, padded with a space.
    DaySpaced,
    /// The day of the year.
    YearDay,
    /// The day of the year, exactly three digits.
    YearDayThree,
    /// The year that a week belongs to, four digits.
    WeekYear,
    /// The week of its year.
    Week(Digits),
    /// The quarter of the year.
    Quarter,
    /// The weekday's number, Monday being 1.
    WeekdayNumber,
    /// The weekday's full name, checked against the date; reading takes the short one too.
    Weekday,
    /// The weekday's short name; reading takes the full one too.
    WeekdayShort,
    /// The hour of a 24-hour clock.
    Hour(Digits),
    /// The hour of a 12-hour clock.
    Hour12(Digits),
    /// The marker before or after noon.
    AmPm,
    /// Hour and minute in one number, the last two digits being the minute: `517`, and `5` for five past midnight.
    HourMinute,
    /// Noon or midnight, which is an hour by itself.
    Noon,
    /// The era, BC or AD in the language.
    Era,
    /// The minute: one or two digits when reading, two when writing.
    Minute,
    /// The minute, exactly two digits.
    MinuteTwo,
    /// The second: one or two digits when reading, two when writing.
    Second,
    /// The second, exactly two digits.
    SecondTwo,
    /// The digits after the decimal mark, any number or exactly so many.
    Fraction(Option<u8>),
    /// The offset from UTC.
    Offset(OffsetForm),
    /// The time zone's name in the IANA database.
    Zone,
    /// What RFC 9557 adds in brackets: the zone's name, and tags.
    ZoneBrackets,
    /// A number that counts from an origin.
    Serial(Epoch),
    /// A whole number of a unit of time: the hours of a length, not of a day.
    Count(Unit),
    /// The same with a fraction, behind a point or a comma.
    Decimal(Unit),
    /// A length of time in amounts with their units.
    Amounts(Amounts),
    /// Any text, the shortest that lets the rest match.
    Any,
}

use Digits::{Free, Two};

/// Every field as it stands between braces.
pub const FIELDS: [(&str, Field); 78] = [
    ("year", Field::Year),
    ("year:2", Field::YearTwo),
    ("year:era", Field::YearOfEra),
    ("decimalyear:quarter", Field::DecimalYear(YearPart::Quarter)),
    ("decimalyear:month", Field::DecimalYear(YearPart::Month)),
    ("decimalyear:week", Field::DecimalYear(YearPart::Week)),
    ("decimalyear:day", Field::DecimalYear(YearPart::Day)),
    ("month", Field::Month(Free)),
    ("month:02", Field::Month(Two)),
    ("month:name", Field::MonthName),
    ("month:short", Field::MonthShort),
    ("day", Field::Day(Free)),
    ("day:02", Field::Day(Two)),
    ("day:th", Field::DayOrdinal),
    ("day: 2", Field::DaySpaced),
    ("yearday", Field::YearDay),
    ("yearday:03", Field::YearDayThree),
    ("weekyear", Field::WeekYear),
    ("week", Field::Week(Free)),
    ("week:02", Field::Week(Two)),
    ("weekday:number", Field::WeekdayNumber),
    ("quarter", Field::Quarter),
    ("weekday", Field::Weekday),
    ("weekday:short", Field::WeekdayShort),
    ("hour", Field::Hour(Free)),
    ("hour:02", Field::Hour(Two)),
    ("hour:12", Field::Hour12(Free)),
    ("hour:12:02", Field::Hour12(Two)),
    ("hourminute", Field::HourMinute),
    ("era", Field::Era),
    ("ampm", Field::AmPm),
    ("noon", Field::Noon),
    ("minute", Field::Minute),
    ("minute:02", Field::MinuteTwo),
    ("second", Field::Second),
    ("second:02", Field::SecondTwo),
    ("fraction", Field::Fraction(None)),
    ("fraction:1", Field::Fraction(Some(1))),
    ("fraction:2", Field::Fraction(Some(2))),
    ("fraction:3", Field::Fraction(Some(3))),
    ("fraction:4", Field::Fraction(Some(4))),
    ("fraction:5", Field::Fraction(Some(5))),
    ("fraction:6", Field::Fraction(Some(6))),
    ("fraction:7", Field::Fraction(Some(7))),
    ("fraction:8", Field::Fraction(Some(8))),
    ("fraction:9", Field::Fraction(Some(9))),
    ("offset", Field::Offset(OffsetForm::Any)),
    ("offset:colon", Field::Offset(OffsetForm::Colon)),
    ("offset:basic", Field::Offset(OffsetForm::Basic)),
    ("offset:hours", Field::Offset(OffsetForm::Hours)),
    ("offset:mail", Field::Offset(OffsetForm::Mail)),
    ("offset:military", Field::Offset(OffsetForm::Military)),
    ("zone", Field::Zone),
    ("zone:brackets", Field::ZoneBrackets),
    ("serial:unix-seconds", Field::Serial(Epoch::UNIX_SECONDS)),
    ("serial:unix-milliseconds", Field::Serial(Epoch::UNIX_MILLIS)),
    ("years", Field::Count(Unit::YEARS)),
    ("months", Field::Count(Unit::MONTHS)),
    ("weeks", Field::Count(Unit::WEEKS)),
    ("days", Field::Count(Unit::DAYS)),
    ("hours", Field::Count(Unit::HOURS)),
    ("minutes", Field::Count(Unit::MINUTES)),
    ("seconds", Field::Count(Unit::SECONDS)),
    ("years:decimal", Field::Decimal(Unit::YEARS)),
    ("months:decimal", Field::Decimal(Unit::MONTHS)),
    ("weeks:decimal", Field::Decimal(Unit::WEEKS)),
    ("days:decimal", Field::Decimal(Unit::DAYS)),
    ("hours:decimal", Field::Decimal(Unit::HOURS)),
    ("minutes:decimal", Field::Decimal(Unit::MINUTES)),
    ("seconds:decimal", Field::Decimal(Unit::SECONDS)),
    ("milliseconds:decimal", Field::Decimal(Unit::MILLISECONDS)),
    ("microseconds:decimal", Field::Decimal(Unit::MICROSECONDS)),
    ("nanoseconds:decimal", Field::Decimal(Unit::NANOSECONDS)),
    ("amounts", Field::Amounts(Amounts::Words)),
    ("amounts:minutes", Field::Amounts(Amounts::Minutes)),
    ("amounts:months", Field::Amounts(Amounts::Months)),
    ("amounts:iso", Field::Amounts(Amounts::Iso)),
    ("any", Field::Any),
];

/// What a field says about the moment; a layout says each thing once.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum FieldRole {
    Year,
    DecimalYear(YearPart),
    Month,
    Day,
    Weekday,
    Hour,
    Half,
    Minute,
    Second,
    Fraction,
    Offset,
    Zone,
    Serial,
    Era,
    YearDay,
    WeekYear,
    Week,
    Quarter,
    /// A number of a unit, in a length of time.
    Count(Unit),
    /// A whole length of time.
    Length,
    Nothing,
}

impl FieldRole {
    pub(crate) fn name(self) -> &'static str {
        match self {
            FieldRole::Year => "year",
            FieldRole::DecimalYear(_) => "year with a fraction",
            FieldRole::Month => "month",
            FieldRole::Day => "day",
            FieldRole::Weekday => "weekday",
            FieldRole::Hour => "hour",
            FieldRole::Half => "{ampm}",
            FieldRole::Minute => "minute",
            FieldRole::Second => "second",
            FieldRole::Fraction => "fraction",
            FieldRole::Offset => "offset",
            FieldRole::Zone => "zone",
            FieldRole::Serial => "serial number",
            FieldRole::Era => "era",
            FieldRole::YearDay => "day of the year",
            FieldRole::WeekYear => "year of a week",
            FieldRole::Week => "week",
            FieldRole::Quarter => "quarter",
            FieldRole::Count(unit) => unit.name(),
            FieldRole::Length => "length of time",
            FieldRole::Nothing => "text",
        }
    }
}

impl Field {
    pub(super) fn role(self) -> FieldRole {
        match self {
            Field::Year | Field::YearTwo | Field::YearOfEra => FieldRole::Year,
            Field::DecimalYear(part) => FieldRole::DecimalYear(part),
            Field::Month(_) | Field::MonthName | Field::MonthShort => FieldRole::Month,
            Field::Day(_) | Field::DayOrdinal | Field::DaySpaced => FieldRole::Day,
            Field::Weekday | Field::WeekdayShort | Field::WeekdayNumber => FieldRole::Weekday,
            Field::YearDay | Field::YearDayThree => FieldRole::YearDay,
            Field::WeekYear => FieldRole::WeekYear,
            Field::Week(_) => FieldRole::Week,
            Field::Quarter => FieldRole::Quarter,
            Field::Hour(_) | Field::Hour12(_) | Field::HourMinute | Field::Noon => FieldRole::Hour,
            Field::AmPm => FieldRole::Half,
            Field::Era => FieldRole::Era,
            Field::Minute | Field::MinuteTwo => FieldRole::Minute,
            Field::Second | Field::SecondTwo => FieldRole::Second,
            Field::Fraction(_) => FieldRole::Fraction,
            Field::Offset(_) => FieldRole::Offset,
            Field::Zone | Field::ZoneBrackets => FieldRole::Zone,
            Field::Serial(_) => FieldRole::Serial,
            Field::Count(unit) | Field::Decimal(unit) => FieldRole::Count(unit),
            Field::Amounts(_) => FieldRole::Length,
            Field::Any => FieldRole::Nothing,
        }
    }

    /// The least and the most digits that the field reads, if it reads digits.
    ///
    /// ```
    /// use metachron_core::layout::Field;
    /// assert_eq!(Field::Year.width(), Some((4, 4)));
    /// assert_eq!(Field::MonthName.width(), None);
    /// ```
    pub fn width(self) -> Option<(usize, usize)> {
        match self {
            Field::Year | Field::WeekYear => Some((4, 4)),
            Field::YearOfEra | Field::HourMinute => Some((1, 4)),
            Field::YearDay => Some((1, 3)),
            Field::YearDayThree => Some((3, 3)),
            Field::Quarter | Field::WeekdayNumber => Some((1, 1)),
            Field::YearTwo
            | Field::Month(Two)
            | Field::Week(Two)
            | Field::Day(Two)
            | Field::Hour(Two)
            | Field::Hour12(Two)
            | Field::MinuteTwo
            | Field::SecondTwo => Some((2, 2)),
            Field::Month(Free)
            | Field::Week(Free)
            | Field::Day(Free)
            | Field::DayOrdinal
            | Field::DaySpaced
            | Field::Hour(Free)
            | Field::Hour12(Free)
            | Field::Minute
            | Field::Second => Some((1, 2)),
            Field::Fraction(None) => Some((1, usize::MAX)),
            // Signed 64-bit counts have at most nineteen.
            Field::Serial(_) => Some((1, 18)),
            // Nine digits of years are more than ages of the world.
            Field::Count(_) => Some((1, 9)),
            Field::Fraction(Some(digits)) => Some((usize::from(digits), usize::from(digits))),
            Field::MonthName
            | Field::MonthShort
            | Field::Weekday
            | Field::WeekdayShort
            | Field::AmPm
            | Field::Noon
            | Field::Era
            | Field::Offset(_)
            | Field::Zone
            | Field::ZoneBrackets
            | Field::DecimalYear(_)
            | Field::Decimal(_)
            | Field::Amounts(_)
            | Field::Any => None,
        }
    }

    /// Whether the field reads a word.
    pub fn is_word(self) -> bool {
        matches!(
            self,
            Field::MonthName
                | Field::MonthShort
                | Field::Weekday
                | Field::WeekdayShort
                | Field::AmPm
                | Field::Noon
                | Field::Era
        )
    }
}

/// Where the year of a date comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum YearFrom {
    /// From a field.
    OfTheLayout,
    /// From the reading, where the layout has no field for it.
    OfTheReading,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_field_has_one_name() {
        for (index, (name, field)) in FIELDS.iter().enumerate() {
            for (other_name, other) in &FIELDS[index + 1..] {
                assert_ne!(name, other_name);
                assert_ne!(field, other, "{name} and {other_name}");
            }
        }
    }
}
