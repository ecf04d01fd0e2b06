//! Why a value does not fit a layout.

use std::fmt;

use jiff::civil::{Date, DateTime};
use jiff::tz::Offset;

use crate::bounds::OutOfBounds;
use crate::calendar::Calendar;
use crate::duration::Unit;
use crate::epoch::{Epoch, NotCounted};
use crate::lexicon::{Length, Lexicon};
use crate::moment::Kind;
use crate::zone::{Abbreviation, Zone, offset_text};

/// Why a value does not fit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unfit {
    /// It is not written in this form.
    Form,
    /// A field has a value that does not exist.
    Bound(OutOfBounds),
    /// The month has no such day.
    NoSuchDay {
        /// The year, in full.
        year: i16,
        /// The month.
        month: u8,
        /// The day.
        day: u8,
    },
    /// The month of another calendar has no such day.
    NoSuchDayOf {
        /// The calendar.
        calendar: Calendar,
        /// The year as it is counted there.
        year: i16,
        /// The month, by its number.
        month: u8,
        /// The day.
        day: u8,
    },
    /// Nobody can tell from its number which month of this calendar is meant.
    MonthNumber(Calendar),
    /// A month, quarter or year of another calendar is none of ISO 8601.
    PeriodOf(Calendar),
    /// A year counted by eras, and no era.
    NoEra,
    /// The day lies before the era.
    BeforeEra {
        /// The era's first day.
        first: Date,
    },
    /// The hour does not lie in that part of the day, or may lie in it twice.
    PartOfDay {
        /// The hour of 12.
        hour: u8,
    },
    /// Midnight begins a day and ends it.
    MidnightOfDay,
    /// The year has no such day.
    NoSuchYearDay {
        /// The year, in full.
        year: i16,
        /// The day of the year.
        number: i16,
    },
    /// The year has no such week.
    NoSuchWeek {
        /// The year of the week.
        year: i16,
        /// The week.
        week: u8,
    },
    /// The weekday is not the date's.
    Weekday {
        /// The one written.
        written: u8,
        /// The one of that date.
        actual: u8,
    },
    /// It has a day and no year, and nothing says which.
    NoYear,
    /// A name is another month or weekday from language to language.
    UnclearName,
    /// There is no time zone of that name.
    UnknownZone,
    /// The zone never had that offset at that moment.
    OffsetNotOfZone {
        /// The zone.
        zone: Zone,
        /// The offset that it had.
        there: Offset,
    },
    /// The zone's clocks were put forward over that time.
    SkippedClock {
        /// The zone.
        zone: Zone,
        /// The time.
        clock: DateTime,
    },
    /// The zone's clocks showed that time twice.
    RepeatedClock {
        /// The zone.
        zone: Zone,
        /// The time.
        clock: DateTime,
    },
    /// Nothing says in which zone the clock stood.
    NoZone,
    /// What says it is no zone.
    NoSuchZone,
    /// An abbreviation of a zone has several meanings, or none that is known.
    UnclearAbbreviation(Abbreviation),
    /// The abbreviation is not what the offset beside it, or the zone, is called.
    OtherAbbreviation {
        /// The abbreviation.
        name: Abbreviation,
        /// The offset that is written, or that the zone had.
        there: Offset,
    },
    /// A tag that must be understood is not (RFC 9557, section 3.1).
    CriticalTag,
    /// A second 60 where no leap second can stand.
    LeapSecond,
    /// 24:00 is the end of a day, and there is no day.
    EndOfNoDay,
    /// Hour 24 is only the end of a day: 24:00.
    EndOfDay,
    /// More than nine digits of a fraction.
    TooFine,
    /// The day was left out when the calendar was reformed.
    LeftOut {
        /// The first day of the Gregorian calendar.
        reform: Date,
    },
    /// The number is no date by this epoch.
    NotCounted(Epoch, NotCounted),
    /// `m` may be minutes as well as months.
    MinutesOrMonths,
    /// The word for a unit is another one from language to language.
    UnclearUnit {
        /// What it is in one language.
        one: (Unit, &'static str),
        /// What it is in another.
        other: (Unit, &'static str),
    },
    /// The last number of a length of time has no unit.
    NoUnit,
    /// A comma may be a decimal mark, or stand between thousands.
    UnclearComma,
    /// A length of time that is longer than can be held, or a fraction of a month.
    NoLength,
    /// Outside the years −9999 to 9999, once moved to UTC or to the next day.
    OutOfRange,
    /// The file holds an error in place of a value.
    Fault,
    /// The value is of another kind than the column.
    OtherKind {
        /// The value's kind.
        value: Kind,
        /// The column's.
        column: Kind,
    },
}

impl Unfit {
    /// A short word for programs.
    pub fn code(&self) -> &'static str {
        match self {
            Unfit::Form => "unknown-form",
            Unfit::Bound(_) => "no-such-value",
            Unfit::NoSuchDay { .. } | Unfit::NoSuchDayOf { .. } | Unfit::NoSuchYearDay { .. } => {
                "no-such-day"
            }
            Unfit::MonthNumber(_) => "month-number",
            Unfit::PeriodOf(_) => "other-calendar",
            Unfit::NoEra => "no-era",
            Unfit::BeforeEra { .. } => "before-era",
            Unfit::PartOfDay { .. } => "part-of-day",
            Unfit::MidnightOfDay => "midnight",
            Unfit::NoSuchWeek { .. } => "no-such-week",
            Unfit::Weekday { .. } => "wrong-weekday",
            Unfit::NoYear => "no-year",
            Unfit::UnclearName => "unclear-name",
            Unfit::MinutesOrMonths | Unfit::UnclearUnit { .. } => "unclear-unit",
            Unfit::NoUnit => "no-unit",
            Unfit::UnclearComma => "unclear-comma",
            Unfit::NoLength => "out-of-range",
            Unfit::UnknownZone => "unknown-zone",
            Unfit::OffsetNotOfZone { .. } => "offset-not-of-zone",
            Unfit::SkippedClock { .. } => "skipped-clock",
            Unfit::RepeatedClock { .. } => "repeated-clock",
            Unfit::NoZone => "no-zone",
            Unfit::NoSuchZone => "unknown-zone",
            Unfit::UnclearAbbreviation(_) => "unclear-abbreviation",
            Unfit::OtherAbbreviation { .. } => "offset-not-of-zone",
            Unfit::CriticalTag => "critical-tag",
            Unfit::LeapSecond => "leap-second",
            Unfit::EndOfDay | Unfit::EndOfNoDay => "end-of-day",
            Unfit::TooFine => "too-fine",
            Unfit::OutOfRange => "out-of-range",
            Unfit::NotCounted(_, NotCounted::OutOfRange) => "out-of-range",
            Unfit::LeftOut { .. } => "no-such-day",
            Unfit::NotCounted(..) => "no-such-day",
            Unfit::Fault => "error-cell",
            Unfit::OtherKind { .. } => "other-kind",
        }
    }

    /// How near the value came to fitting: of several layouts, the nearest says why it fails.
    pub fn nearness(&self) -> u8 {
        match self {
            Unfit::Form => 0,
            Unfit::Bound(_) => 1,
            Unfit::NoSuchDay { .. }
            | Unfit::NoSuchDayOf { .. }
            | Unfit::BeforeEra { .. }
            | Unfit::PartOfDay { .. }
            | Unfit::NoSuchYearDay { .. }
            | Unfit::NoSuchWeek { .. }
            | Unfit::LeapSecond
            | Unfit::EndOfDay
            | Unfit::EndOfNoDay => 2,
            Unfit::MinutesOrMonths
            | Unfit::UnclearUnit { .. }
            | Unfit::NoUnit
            | Unfit::UnclearComma
            | Unfit::NoLength
            | Unfit::NoYear
            | Unfit::NoEra
            | Unfit::MidnightOfDay
            | Unfit::MonthNumber(_)
            | Unfit::PeriodOf(_)
            | Unfit::UnclearName
            | Unfit::UnknownZone
            | Unfit::OffsetNotOfZone { .. }
            | Unfit::SkippedClock { .. }
            | Unfit::RepeatedClock { .. }
            | Unfit::NoZone
            | Unfit::NoSuchZone
            | Unfit::UnclearAbbreviation(_)
            | Unfit::OtherAbbreviation { .. }
            | Unfit::CriticalTag
            | Unfit::Weekday { .. }
            | Unfit::TooFine
            | Unfit::OutOfRange
            | Unfit::LeftOut { .. }
            | Unfit::NotCounted(..) => 3,
            Unfit::Fault | Unfit::OtherKind { .. } => 4,
        }
    }
}

impl fmt::Display for Unfit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let lexicon = Lexicon::english();
        let full = Length::Full;
        match self {
            Unfit::Form => write!(f, "not written in a form that this column's reading knows"),
            Unfit::Bound(bound) => write!(f, "{bound}"),
            Unfit::NoSuchDay { year, month, day } => {
                write!(f, "{day} {} {year} does not exist", lexicon.month(*month, full, false))
            }
            Unfit::NoSuchYearDay { year, number } => write!(f, "{year} has no day {number}"),
            Unfit::NoSuchWeek { year, week } => write!(f, "{year} has no week {week}"),
            Unfit::Weekday { written, actual } => write!(
                f,
                "says {}, but that date is a {}",
                lexicon.weekday(*written, full),
                lexicon.weekday(*actual, full)
            ),
            Unfit::LeapSecond => {
                write!(f, "second 60 exists only in a leap second, at the end of a UTC day")
            }
            Unfit::EndOfNoDay => {
                write!(f, "24:00 and 23:59:60 end a day, but the value has none")
            }
            Unfit::EndOfDay => write!(f, "hour 24 exists only as 24:00, the end of a day"),
            Unfit::MinutesOrMonths => write!(f, "m may be minutes or months"),
            Unfit::UnclearUnit { one: (one, a), other: (other, b) } => write!(
                f,
                "its unit is {} in one language ({a}) and {} in another ({b})",
                one.name(),
                other.name()
            ),
            Unfit::NoUnit => write!(f, "a number of it has no unit"),
            Unfit::UnclearComma => {
                write!(f, "the comma may be a decimal mark, or stand between thousands")
            }
            Unfit::NoLength => write!(f, "longer than can be held, or a fraction of a month"),
            Unfit::TooFine => write!(f, "finer than a nanosecond"),
            Unfit::OutOfRange => write!(f, "outside the years -9999 to 9999"),
            Unfit::LeftOut { reform } => write!(
                f,
                "the calendar was reformed on {reform}; the days before it that only the new one has never were"
            ),
            Unfit::NotCounted(_, NotCounted::Phantom) => write!(
                f,
                "60 is 29 February 1900 in spreadsheets, a day that never was; 59 is 28 February, 61 is 1 March"
            ),
            Unfit::NotCounted(_, NotCounted::NoSuchDay) => {
                write!(f, "its digits are no day that exists")
            }
            Unfit::NotCounted(epoch, _) => match epoch.range() {
                (Some(first), Some(last)) => {
                    write!(f, "outside what {epoch} can count, {first} to {last}")
                }
                _ => write!(f, "outside what {epoch} can count"),
            },
            Unfit::NoSuchDayOf { calendar, year, month, day } => write!(
                f,
                "day {day} of month {month} of the year {year} does not exist in {}",
                calendar.phrase()
            ),
            Unfit::MonthNumber(calendar) => write!(
                f,
                "the months of {} are counted from two beginnings; only their names say which is meant",
                calendar.phrase()
            ),
            Unfit::PeriodOf(calendar) => {
                write!(f, "a period of {} is none of ISO 8601", calendar.phrase())
            }
            Unfit::NoEra => write!(f, "has a year of an era and does not say which"),
            Unfit::BeforeEra { first } => write!(f, "lies before its era, which began on {first}"),
            Unfit::PartOfDay { hour } => {
                write!(f, "{hour} o'clock is not in that part of the day, or is in it twice")
            }
            Unfit::MidnightOfDay => {
                write!(f, "midnight begins and ends a day; 00:00 or 24:00 says which is meant")
            }
            Unfit::NoYear => write!(f, "has no year; --year says it"),
            Unfit::UnclearName => write!(
                f,
                "a name means another month or day from language to language; --written-in says which"
            ),
            Unfit::UnknownZone => {
                write!(f, "names a time zone that the IANA database does not have")
            }
            Unfit::OffsetNotOfZone { zone, there } => {
                let (zone, there) = (zone.name(), offset_text(*there));
                write!(f, "{zone} had the offset {there} at that moment, not the one written")
            }
            Unfit::SkippedClock { zone, clock } => {
                write!(f, "{} did not exist in {}: the clocks ", shown(*clock), zone.name())?;
                match zone.change_around(*clock) {
                    Some((from, to)) => write!(f, "went from {} to {}", time(from), time(to)),
                    None => write!(f, "were put forward over it"),
                }
            }
            Unfit::RepeatedClock { zone, clock } => {
                write!(f, "{} came twice in {}: the clocks ", shown(*clock), zone.name())?;
                match zone.change_around(*clock) {
                    Some((back_to, from)) => {
                        write!(f, "went back from {} to {}", time(from), time(back_to))
                    }
                    None => write!(f, "were put back"),
                }
            }
            Unfit::NoZone => write!(f, "nothing says in which zone its clock stood"),
            Unfit::NoSuchZone => {
                write!(f, "what says its zone is none; zones = {{ … }} can say what it means")
            }
            Unfit::UnclearAbbreviation(name) if name.is_known() => {
                let places: Vec<&str> =
                    name.meanings().iter().map(|meaning| meaning.place).collect();
                write!(
                    f,
                    "{name} is used in {}; --abbreviation says which is meant",
                    places.join(", ")
                )
            }
            Unfit::UnclearAbbreviation(name) => {
                write!(
                    f,
                    "{name} is no abbreviation of a zone that is known; --abbreviation says what it means"
                )
            }
            Unfit::OtherAbbreviation { name, there } => {
                write!(f, "{} was not called {name} at that moment", offset_text(*there))
            }
            Unfit::CriticalTag => write!(f, "has a tag with ! that must be understood and is not"),
            Unfit::Fault => write!(f, "the file holds an error in place of a value"),
            Unfit::OtherKind { value, column } => {
                write!(f, "{}; the column is read as {column}", value.phrase())
            }
        }
    }
}

/// A clock time to the minute, or as fine as it is: `02:30 on 2024-03-31`.
fn shown(clock: DateTime) -> String {
    format!("{} on {}", time(clock), clock.date())
}

fn time(clock: DateTime) -> String {
    let full = clock.time().to_string();
    full.strip_suffix(":00").unwrap_or(&full).to_owned()
}

impl From<OutOfBounds> for Unfit {
    fn from(bound: OutOfBounds) -> Unfit {
        Unfit::Bound(bound)
    }
}
