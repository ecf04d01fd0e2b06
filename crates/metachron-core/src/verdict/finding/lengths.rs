//! Lengths of time, and clock forms that may be some.

use crate::evidence::Occurrences;
use crate::reading::Unfit;
use crate::typed::TypedValue;

/// Lengths of time, and clock forms that may be some.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LengthFinding {
    /// Values in the form of a clock time that no clock shows.
    MayBeDurations(Occurrences),
    /// So many hours alone, of which nobody can tell whether they were measured or read off.
    HoursOrClock(u64),
    /// So many values lie in the first hours of the day, and none at noon or after it.
    NightOrLengths(u64),
    /// So many amounts whose units are marks, `75'`: minutes, or feet.
    MinutesOrFeet(u64),
    /// Clock times in a column whose name speaks of lengths of time.
    NameOfLengths,
    /// Clock forms are lengths of time, as other values show: the longest, if it is more than a day.
    Elapsed(Option<TypedValue>),
    /// So many other values have hours, so that two numbers are likely minutes and seconds.
    HoursElsewhere(u64),
    /// Numbers with a point that may stand between thousands.
    MayBeThousands {
        /// These.
        rows: Occurrences,
        /// Values with a decimal comma.
        commas: u64,
    },
    /// Numbers with an `s` that may be decades.
    MayBeDecades {
        /// So many.
        rows: u64,
    },
    /// So many different fractions of hours, none of which is beyond the minutes of an hour.
    FractionsOrMinutes(usize),
    /// Amounts whose unit is one of time in some language, and may be another measure.
    MayBeMeasures {
        /// These.
        rows: Occurrences,
        /// What is wrong with the first.
        why: Unfit,
    },
    /// Lengths of time that say too little.
    UnreadAmounts {
        /// These.
        rows: Occurrences,
        /// What is wrong with the first.
        why: Unfit,
    },
}
