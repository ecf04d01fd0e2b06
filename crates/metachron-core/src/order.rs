//! The order of day, month and year.

use serde::{Deserialize, Serialize};

use std::fmt;
use std::str::FromStr;

/// The order of day, month and year in a written date.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub enum Order {
    /// Day, month, year.
    Dmy,
    /// Month, day, year.
    Mdy,
    /// Year, month, day.
    Ymd,
    /// Year, day, month; no region writes so, and it is only tried when asked for.
    Ydm,
    /// Year and day of the year, where the digits may be a day and a month too.
    Ordinal,
    /// The form leaves no order open: a time without a date.
    None,
    /// Of a length of time: hours, minutes.
    HoursMinutes,
    /// Of a length of time: minutes, seconds.
    MinutesSeconds,
    /// Of a length of time whose `m` is minutes.
    Minutes,
    /// Of a length of time whose `m` is months.
    Months,
}

impl Order {
    /// Every order with the word that names it in options and files.
    pub const ALL: [(Order, &'static str); 4] =
        [(Order::Dmy, "dmy"), (Order::Mdy, "mdy"), (Order::Ymd, "ymd"), (Order::Ydm, "ydm")];

    /// Every order that a form can have, named or not.
    pub(crate) const EVERY: [Order; 10] = [
        Order::Dmy,
        Order::Mdy,
        Order::Ymd,
        Order::Ydm,
        Order::Ordinal,
        Order::None,
        Order::HoursMinutes,
        Order::MinutesSeconds,
        Order::Minutes,
        Order::Months,
    ];

    /// Whether it is what the numbers of a length of time are.
    pub fn is_of_length(self) -> bool {
        use Order::{HoursMinutes, Minutes, MinutesSeconds, Months};
        matches!(self, HoursMinutes | MinutesSeconds | Minutes | Months)
    }

    /// What the order is called in a sentence.
    pub fn phrase(self) -> &'static str {
        match self {
            Order::Dmy => "day first",
            Order::Mdy => "month first",
            Order::Ymd => "year first",
            Order::Ydm => "year, day, month",
            Order::Ordinal => "year and day of the year",
            Order::None => "as it stands",
            Order::HoursMinutes => "hours and minutes",
            Order::MinutesSeconds => "minutes and seconds",
            Order::Minutes => "minutes",
            Order::Months => "months",
        }
    }

    /// The values of day, month and year in the order in which they are written.
    pub fn arrange<T>(self, day: T, month: T, year: T) -> [T; 3] {
        match self {
            Order::Dmy => [day, month, year],
            Order::Mdy => [month, day, year],
            Order::Ymd => [year, month, day],
            Order::Ydm => [year, day, month],
            Order::Ordinal => [year, month, day],
            Order::None
            | Order::HoursMinutes
            | Order::MinutesSeconds
            | Order::Minutes
            | Order::Months => [day, month, year],
        }
    }
}

impl fmt::Display for Order {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let name = Order::ALL.iter().find(|(order, _)| order == self).map_or("", |(_, name)| name);
        f.write_str(name)
    }
}

impl FromStr for Order {
    type Err = ();

    fn from_str(name: &str) -> Result<Order, ()> {
        Order::ALL.iter().find(|(_, n)| *n == name).map(|(order, _)| *order).ok_or(())
    }
}
