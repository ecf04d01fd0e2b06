//! What is said of lengths of time.

use std::fmt;

use super::Reason;
use super::wording::{number_of_orders, row};
use crate::order::Order;
use crate::reading::Unfit;
use crate::text::{counted, grouped};

/// A reason about lengths of time, as a sentence.
pub(super) fn of_lengths(reason: &Reason, f: &mut fmt::Formatter<'_>) -> fmt::Result {
    match reason {
        Reason::HoursOrClock { rows } => {
            let verb = if *rows == 1 { "is hours" } else { "are hours" };
            write!(
                f,
                "{} {verb} alone: measured, or read off a clock; nothing tells which.",
                counted(*rows, "value")
            )
        }
        Reason::NameOfLengths => write!(
            f,
            "No value goes beyond 24 hours, but the name of the column speaks of lengths of time."
        ),
        Reason::Elapsed { longest: Some(longest) } => write!(
            f,
            "Values go up to {longest}, beyond a day: they are lengths of time, not times of day."
        ),
        Reason::Elapsed { longest: None } => write!(
            f,
            "Other values can only be lengths of time: so are the clock forms beside them."
        ),
        Reason::HoursElsewhere { rows } => write!(
            f,
            "{} hours, minutes and seconds, and no other goes beyond 59 in its first number: those are \
             likely minutes and seconds.",
            match rows {
                1 => "1 value has".to_owned(),
                _ => format!("{} values have", grouped(*rows)),
            }
        ),
        Reason::Untold { rows, lowest, why: Unfit::NoUnit } => {
            let verb = if *rows == 1 { "is a number" } else { "are numbers" };
            write!(f, "{} {verb} without a unit", counted(*rows, "value"))?;
            row(f, Some(lowest))
        }
        Reason::Untold { rows, lowest, why } => {
            let rows = match rows {
                1 => "1 value cannot be read".to_owned(),
                _ => format!("{} values cannot be read", grouped(*rows)),
            };
            write!(f, "{rows}: {why}")?;
            row(f, Some(lowest))
        }
        _ => Ok(()),
    }
}

/// That nothing tells what numbers count.
pub(super) fn ambiguous(f: &mut fmt::Formatter<'_>, orders: &[Order], rows: u64) -> fmt::Result {
    if orders.contains(&Order::Months) {
        let has = if rows == 1 { "has" } else { "have" };
        let rows = counted(rows, "value");
        return write!(f, "{rows} {has} \"m\" without hours or seconds: minutes or months.");
    }
    let both = number_of_orders(orders);
    match rows {
        1 => write!(f, "The one value fits {both}, and nothing tells which."),
        _ => write!(f, "All {} values fit {both}, and nothing tells which.", grouped(rows)),
    }
}
