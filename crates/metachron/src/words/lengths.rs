//! Lengths of time, in sentences.

use std::fmt;

use metachron_core::order::Alternative;
use metachron_core::reading::Unfit;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::LengthFinding;

use super::pieces::{number_of_orders, row};
use super::{Words, words};

impl fmt::Display for Words<'_, LengthFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            LengthFinding::MayBeDurations { rows, lowest } => {
                let (values, verb) =
                    (counted(*rows, "value"), if *rows == 1 { "is" } else { "are" });
                write!(
                    f,
                    "{values} {verb} no time of day: these may be durations, not clock times"
                )?;
                row(f, Some(lowest))
            }
            LengthFinding::HoursOrClock { rows } => {
                let verb = if *rows == 1 { "is hours" } else { "are hours" };
                write!(
                    f,
                    "{} {verb} alone: measured, or read off a clock; nothing tells which.",
                    counted(*rows, "value")
                )
            }
            LengthFinding::NameOfLengths => write!(
                f,
                "No value goes beyond 24 hours, but the name of the column speaks of lengths of time."
            ),
            LengthFinding::Elapsed { longest: Some(longest) } => write!(
                f,
                "Values go up to {longest}, beyond a day: they are lengths of time, not times of day."
            ),
            LengthFinding::Elapsed { longest: None } => write!(
                f,
                "Other values can only be lengths of time: so are the clock forms beside them."
            ),
            LengthFinding::HoursElsewhere { rows } => write!(
                f,
                "{} hours, minutes and seconds, and no other goes beyond 59 in its first number: those are \
                 likely minutes and seconds.",
                match rows {
                    1 => "1 value has".to_owned(),
                    _ => format!("{} values have", grouped(*rows)),
                }
            ),
            LengthFinding::UnreadAmounts { rows, lowest, why: Unfit::NoUnit } => {
                let verb = if *rows == 1 { "is a number" } else { "are numbers" };
                write!(f, "{} {verb} without a unit", counted(*rows, "value"))?;
                row(f, Some(lowest))
            }
            LengthFinding::UnreadAmounts { rows, lowest, why } => {
                let rows = match rows {
                    1 => "1 value cannot be read".to_owned(),
                    _ => format!("{} values cannot be read", grouped(*rows)),
                };
                write!(f, "{rows}: {}", words(why))?;
                row(f, Some(lowest))
            }
        }
    }
}

/// That nothing tells what numbers count.
pub fn ambiguous(f: &mut fmt::Formatter<'_>, orders: &[Alternative], rows: u64) -> fmt::Result {
    if orders.contains(&Alternative::Months) {
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
