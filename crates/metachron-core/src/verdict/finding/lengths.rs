//! Lengths of time, and clock forms that may be some.

use crate::evidence::Witness;
use crate::reading::Unfit;
use crate::typed::TypedValue;

/// Lengths of time, and clock forms that may be some.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LengthFinding {
    /// Values in the form of a clock time that no clock shows.
    MayBeDurations {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// Hours alone, of which nobody can tell whether they were measured or read off.
    HoursOrClock {
        /// How many.
        rows: u64,
    },
    /// Clock times in a column whose name speaks of lengths of time.
    NameOfLengths,
    /// Clock forms are lengths of time, as other values show.
    Elapsed {
        /// The longest, if it is more than a day.
        longest: Option<TypedValue>,
    },
    /// Other values have hours, so that two numbers are likely minutes and seconds.
    HoursElsewhere {
        /// How many have.
        rows: u64,
    },
    /// Lengths of time that say too little.
    UnreadAmounts {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
        /// What is wrong with it.
        why: Unfit,
    },
}
