//! The order of day, month and year.

use std::fmt;
use std::str::FromStr;

/// The order of day, month and year in a written date.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Order {
    /// Day, month, year.
    Dmy,
    /// Month, day, year.
    Mdy,
    /// Year, month, day.
    Ymd,
    /// Year, day, month; no region writes so, and it is only tried when asked for.
    Ydm,
}

impl Order {
    /// Every order with the word that names it in options and files.
    pub const ALL: [(Order, &'static str); 4] =
        [(Order::Dmy, "dmy"), (Order::Mdy, "mdy"), (Order::Ymd, "ymd"), (Order::Ydm, "ydm")];

    /// What the order is called in a sentence.
    pub fn phrase(self) -> &'static str {
        match self {
            Order::Dmy => "day first",
            Order::Mdy => "month first",
            Order::Ymd => "year first",
            Order::Ydm => "year, day, month",
        }
    }

    /// The values of day, month and year in the order in which they are written.
    pub fn arrange<T>(self, day: T, month: T, year: T) -> [T; 3] {
        match self {
            Order::Dmy => [day, month, year],
            Order::Mdy => [month, day, year],
            Order::Ymd => [year, month, day],
            Order::Ydm => [year, day, month],
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
