//! How a delivery differs from what its reading was saved for, in sentences without their full stop.

use std::fmt;

use metachron_core::evidence::Witness;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::Drift;

use super::Words;
use super::pieces::{list, phrase};

impl fmt::Display for Words<'_, Drift> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let first = |f: &mut fmt::Formatter<'_>, lowest: &Witness| {
            write!(f, " (first in row {}: {:?})", grouped(lowest.row), lowest.value)
        };
        match self.0 {
            Drift::Contradiction { rows, lowest, beside } => {
                let verb = if *rows == 1 { "speaks" } else { "speak" };
                let those = match &beside[..] {
                    [] => String::new(),
                    values => {
                        format!(" of {}", list(values.iter().map(String::as_str), "and", "more"))
                    }
                };
                write!(f, "{}{those} {verb} against the saved reading", counted(*rows, "value"))?;
                lowest.as_ref().map_or(Ok(()), |lowest| first(f, lowest))
            }
            Drift::Flipped { to, rows, lowest } => {
                write!(
                    f,
                    "The order has turned: {} can only be {}, and none is as the saved reading has it",
                    counted(*rows, "value"),
                    phrase(to)
                )?;
                first(f, lowest)
            }
            Drift::NewShape { shape, rows, lowest } => {
                let has = if *rows == 1 { "has" } else { "have" };
                write!(f, "{} {has} a shape that was not there: {shape}", counted(*rows, "value"))?;
                first(f, lowest)
            }
            Drift::NewValue { column, value, rows } => write!(
                f,
                "{} {} {value:?} in {column:?}, of which nothing is saved",
                counted(*rows, "row"),
                if *rows == 1 { "has" } else { "have" },
            ),
            Drift::OutOfRange { value, seen: (from, to) } => {
                write!(f, "{value} lies outside of what was seen ({from} to {to})")
            }
            Drift::NothingTells { dates, seen: (telling, of) } => write!(
                f,
                "None of {} tells the order; when it was saved, {} of {} did",
                counted(*dates, "different date"),
                grouped(*telling),
                grouped(*of)
            ),
            Drift::MoreUnreadable { now: (rows, of), seen: (before, all) } => write!(
                f,
                "{} of {} are unreadable; when it was saved, {} of {} were",
                grouped(*rows),
                counted(*of, "row"),
                grouped(*before),
                grouped(*all)
            ),
        }
    }
}
