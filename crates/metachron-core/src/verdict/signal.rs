//! Soft evidence as data: what speaks for one order and never decides.

use jiff::civil::Date;

use crate::order::Alternative;

/// Something that speaks for one order, with its figure.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Signal {
    /// The order that it speaks for.
    pub favours: Alternative,
    /// What it is.
    pub what: SignalKind,
}

/// What speaks for an order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum SignalKind {
    /// Rows go forward in time: these of so many steps, and those of the best rival.
    Sorted {
        /// Steps forward, and all steps.
        own: (u64, u64),
        /// The same under the rival.
        rival: (Alternative, u64, u64),
    },
    /// Under the rival so many different dates lie after today.
    AfterToday {
        /// The rival.
        rival: Alternative,
        /// Different dates after today.
        dates: u64,
        /// All different dates.
        of: u64,
        /// Today.
        as_of: Date,
    },
    /// All dates have the same day of the month, as reports and exports of periods have.
    SameDay {
        /// That day.
        day: i8,
        /// Different dates.
        dates: usize,
    },
    /// A point stands between the parts.
    Points {
        /// Locales of CLDR that write this order so.
        locales: usize,
    },
    /// Both parts have two digits, or some have one.
    Padding {
        /// Whether zeros are put before them.
        padded: bool,
        /// How usual that is.
        custom: Custom,
    },
    /// The clock beside the dates counts to twelve or to 24.
    Clock {
        /// How far it counts.
        hours: u8,
        /// How usual that is.
        custom: Custom,
    },
    /// Another column of the table has this order beyond doubt.
    Sibling {
        /// Its name.
        column: String,
    },
    /// The years lie where those of the rest of the table do.
    Years {
        /// The years of the rest.
        rest: (i16, i16),
        /// The years of the rival.
        rival: (Alternative, i16, i16),
    },
    /// It is never on the other side of another date.
    Beside {
        /// The other column.
        column: String,
        /// Whether it is never before it; else never after it.
        never_before: bool,
        /// Under the rival, rows on the wrong side, and all rows.
        rival: (Alternative, u64, u64),
    },
    /// Another column says what a part of the date is.
    Part {
        /// The other column.
        column: String,
        /// What it holds.
        part: DatePart,
        /// Different dates that agree, and all that were looked at.
        own: (u64, u64),
        /// The same under the rival.
        rival: (Alternative, u64, u64),
    },
    /// The column's name says so.
    Name {
        /// The part of the name.
        word: String,
    },
    /// Fields are separated by semicolons, and numbers have a decimal comma.
    DecimalComma,
}

impl SignalKind {
    /// Whether it makes a column lean. How regions pad and tell the time does not: programs write
    /// either way wherever they run, so it is shown and no more.
    pub fn leans(&self) -> bool {
        !matches!(self, SignalKind::Padding { .. } | SignalKind::Clock { .. })
    }
}

/// How many locales that write an order, with the same mark between the parts, follow a custom.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Custom {
    /// Those of the order that it speaks for, and all of them.
    pub own: (Alternative, usize, usize),
    /// The same for the rival.
    pub rival: (Alternative, usize, usize),
}

/// A part of a date that stands in a column of its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DatePart {
    /// The weekday.
    Weekday,
    /// The month.
    Month,
    /// The year.
    Year,
    /// The day of the month.
    Day,
}
