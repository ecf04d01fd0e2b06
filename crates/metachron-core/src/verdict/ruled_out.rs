//! Ways of being wrong that a column was held against, and that it does not have.

use crate::order::Alternative;

/// A way in which a column that is read could be wrong, and what shows that it is not.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum RuledOut {
    /// Another order: so many rows fit only the one that is taken.
    Order {
        /// The other.
        order: Alternative,
        /// The rows.
        rows: u64,
    },
    /// An import that exchanged day and month: it leaves dates such as these once in ten to the power of this.
    Exchange {
        /// The power.
        power: u32,
    },
    /// An import that lost late days: so many different dates have one.
    LostDays {
        /// The dates.
        dates: u64,
    },
    /// An import that took months for days: the days run as they do by chance once in ten to the power of this.
    MonthYear {
        /// The power.
        power: u32,
    },
    /// Another hand that nothing tells: rows beside each value of a column tell.
    OtherHand {
        /// The column.
        column: String,
        /// Its values.
        values: u64,
    },
    /// Numbers that run on from 1 in every month: so many months do not begin so.
    RunningNumbers {
        /// The months.
        months: u64,
    },
    /// A clock of twelve hours: so many rows have an hour that it does not show.
    TwelveHours {
        /// The rows.
        rows: u64,
    },
}

impl RuledOut {
    /// What it is called, for programs.
    ///
    /// ```
    /// use metachron_core::verdict::RuledOut;
    /// assert_eq!(RuledOut::TwelveHours { rows: 3 }.hazard(), "twelve-hours");
    /// ```
    pub fn hazard(&self) -> &'static str {
        match self {
            RuledOut::Order { .. } => "other-order",
            RuledOut::Exchange { .. } => "half-swapped",
            RuledOut::LostDays { .. } => "no-late-days",
            RuledOut::MonthYear { .. } => "month-year",
            RuledOut::OtherHand { .. } => "untold-hands",
            RuledOut::RunningNumbers { .. } => "running-numbers",
            RuledOut::TwelveHours { .. } => "twelve-hours",
        }
    }
}
