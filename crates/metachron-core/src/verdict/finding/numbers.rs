//! What numbers count.

use crate::epoch::Epoch;
use crate::evidence::Occurrences;
use crate::typed::TypedValue;
use crate::verdict::as_written::PlainKind;

/// What numbers count.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum NumberFinding {
    /// Numbers are counted from an origin, because somebody says so.
    Counted {
        /// From which.
        epoch: Epoch,
        /// Rows that are dates then.
        rows: u64,
    },
    /// Numbers that are no date by that.
    NotCounted {
        /// By which epoch.
        epoch: Epoch,
        /// These.
        rows: Occurrences,
    },
    /// Numbers that are all below one, and by an origin of days all on its first day: parts of a day.
    BelowOne {
        /// How many.
        rows: u64,
        /// The origin.
        epoch: Epoch,
    },
    /// Numbers in a column that holds dates otherwise.
    NumbersBeside {
        /// How many.
        rows: u64,
        /// By which epoch they would be dates.
        epoch: Epoch,
        /// The earliest of these.
        earliest: TypedValue,
        /// The latest.
        latest: TypedValue,
    },
    /// Numbers that may count days or seconds from several origins.
    MayCount {
        /// Values.
        rows: u64,
        /// How many are zero, which stands for nothing.
        zeros: u64,
        /// Of so many fractions that say enough, these are a clock time.
        clocks: (u64, u64),
        /// Whether the column's name speaks of dates.
        by_name: bool,
        /// Whether they count from the origin that the file has of its own.
        own: bool,
    },
    /// Whole numbers that run on as years do.
    Years {
        /// How many.
        rows: u64,
        /// The first year.
        first: i16,
        /// The last one.
        last: i16,
        /// How a fraction of nothing is written that some have: `1990.0`.
        nothing: Option<&'static str>,
    },
    /// Numbers that may be something as they stand.
    MayBe {
        /// How many.
        rows: u64,
        /// What; none where they are years with fractions that name no part of one.
        what: Option<PlainKind>,
        /// Whether they may count from some origin as well.
        may_count: bool,
    },
    /// Numbers that are dates in digits, and may count days as well.
    DigitsOrCounts {
        /// How many.
        rows: u64,
    },
    /// Numbers are counted by an epoch, and another column shows by which: this one or another.
    CountedBeside {
        /// The epoch.
        epoch: Epoch,
        /// How many.
        rows: u64,
        /// What the other column shows.
        beside: CountedBeside,
    },
}

/// A column of dates that shows from which origin the numbers beside it count.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CountedBeside {
    /// The origin.
    pub epoch: Epoch,
    /// The name of the column.
    pub column: String,
    /// Whether they are the same day, and not the same moment.
    pub of_days: bool,
    /// Rows in which they are.
    pub same: u64,
    /// Rows that have both.
    pub rows: u64,
}
