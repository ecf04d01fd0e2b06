//! Why a value does not fit a layout.

use jiff::civil::{Date, DateTime};
use jiff::tz::Offset;

use crate::bounds::OutOfBounds;
use crate::calendar::Calendar;
use crate::duration::Unit;
use crate::epoch::{Epoch, NotCounted};
use crate::layout::YearPart;
use crate::typed::Kind;
use crate::value::Fault;
use crate::zone::{Abbreviation, Zone};

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
    /// The fraction of a year is neither the start nor the middle of such a part.
    NoPartOfYear(YearPart),
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
    /// A number alone has no unit.
    NoUnit,
    /// The last number of a length of time has no unit, though others have: `1 hour, 5`.
    NoLastUnit,
    /// A comma may be a decimal mark, or stand between thousands.
    UnclearComma,
    /// A length of time that is longer than can be held, or a fraction of a month.
    NoLength,
    /// Outside the years −9999 to 9999, once moved to UTC or to the next day.
    OutOfRange,
    /// The file holds something else in place of a value.
    Fault(Fault),
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
    ///
    /// ```
    /// use metachron_core::reading::Unfit;
    /// assert_eq!(Unfit::NoSuchDay { year: 2024, month: 4, day: 31 }.code(), "no-such-day");
    /// ```
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
            Unfit::NoPartOfYear(_) => "no-part-of-year",
            Unfit::Weekday { .. } => "wrong-weekday",
            Unfit::NoYear => "no-year",
            Unfit::UnclearName => "unclear-name",
            Unfit::MinutesOrMonths | Unfit::UnclearUnit { .. } => "unclear-unit",
            Unfit::NoUnit | Unfit::NoLastUnit => "no-unit",
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
            Unfit::Fault(Fault::Error) => "error-cell",
            Unfit::Fault(Fault::OutOfRange) => "out-of-range",
            Unfit::Fault(Fault::NotCalculated) => "not-calculated",
            Unfit::Fault(Fault::NotText) => "not-text",
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
            | Unfit::NoPartOfYear(_)
            | Unfit::LeapSecond
            | Unfit::EndOfDay
            | Unfit::EndOfNoDay => 2,
            Unfit::MinutesOrMonths
            | Unfit::UnclearUnit { .. }
            | Unfit::NoUnit
            | Unfit::NoLastUnit
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
            Unfit::Fault(_) | Unfit::OtherKind { .. } => 4,
        }
    }
}

impl From<OutOfBounds> for Unfit {
    fn from(bound: OutOfBounds) -> Unfit {
        Unfit::Bound(bound)
    }
}
