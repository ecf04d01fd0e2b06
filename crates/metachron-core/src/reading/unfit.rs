//! Why a value does not fit a layout.

use std::fmt;

use crate::bounds::OutOfBounds;
use crate::lexicon::{Length, Lexicon};
use crate::moment::Kind;

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
    /// A name is another month or weekday from language to language.
    UnclearName,
    /// A second 60 where no leap second can stand.
    LeapSecond,
    /// 24:00 is the end of a day, and there is no day.
    EndOfNoDay,
    /// Hour 24 is only the end of a day: 24:00.
    EndOfDay,
    /// More than nine digits of a fraction.
    TooFine,
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
            Unfit::Form => "form",
            Unfit::Bound(_) => "no-such-value",
            Unfit::NoSuchDay { .. } | Unfit::NoSuchYearDay { .. } => "no-such-day",
            Unfit::NoSuchWeek { .. } => "no-such-week",
            Unfit::Weekday { .. } => "weekday",
            Unfit::UnclearName => "unclear-name",
            Unfit::LeapSecond => "leap-second",
            Unfit::EndOfDay | Unfit::EndOfNoDay => "end-of-day",
            Unfit::TooFine => "too-fine",
            Unfit::OutOfRange => "out-of-range",
            Unfit::Fault => "fault",
            Unfit::OtherKind { .. } => "other-kind",
        }
    }

    /// How near the value came to fitting: of several layouts, the nearest says why it fails.
    pub fn nearness(&self) -> u8 {
        match self {
            Unfit::Form => 0,
            Unfit::Bound(_) => 1,
            Unfit::NoSuchDay { .. }
            | Unfit::NoSuchYearDay { .. }
            | Unfit::NoSuchWeek { .. }
            | Unfit::LeapSecond
            | Unfit::EndOfDay
            | Unfit::EndOfNoDay => 2,
            Unfit::UnclearName | Unfit::Weekday { .. } | Unfit::TooFine | Unfit::OutOfRange => 3,
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
                write!(f, "24:00 is the end of a day, but the value has no date")
            }
            Unfit::EndOfDay => write!(f, "hour 24 exists only as 24:00, the end of a day"),
            Unfit::TooFine => write!(f, "finer than a nanosecond"),
            Unfit::OutOfRange => write!(f, "outside the years -9999 to 9999"),
            Unfit::UnclearName => write!(
                f,
                "a name means another month or day from language to language; --written-in says which"
            ),
            Unfit::Fault => write!(f, "the file holds an error in place of a value"),
            Unfit::OtherKind { value, column } => {
                write!(f, "{}; the column is read as {column}", value.phrase())
            }
        }
    }
}

impl From<OutOfBounds> for Unfit {
    fn from(bound: OutOfBounds) -> Unfit {
        Unfit::Bound(bound)
    }
}
