//! What numbers count, in sentences.

use std::fmt;

use metachron_core::text::{counted, grouped};
use metachron_core::verdict::NumberFinding;

use super::Words;
use super::pieces::row;

impl fmt::Display for Words<'_, NumberFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            NumberFinding::Counted { epoch, rows } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} counted by {epoch}, because you say so.",
                    counted(*rows, "number")
                )
            }
            NumberFinding::NotCounted { epoch, rows, lowest } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(f, "{} {verb} no date by {epoch}", counted(*rows, "number"))?;
                row(f, Some(lowest))
            }
            NumberFinding::NumbersBeside { rows, epoch, earliest, latest } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} not written as a date: as an import may have left them, by {epoch} \
                     from {earliest} to {latest} (--epoch {epoch} reads {}).",
                    counted(*rows, "number"),
                    if *rows == 1 { "it" } else { "them" }
                )
            }
            NumberFinding::MayCount { rows, zeros, clocks: (clocks, telling), by_name, own } => {
                let name = if *by_name { "the name of the column speaks of dates" } else { "" };
                let clocks = match clocks {
                    0 => String::new(),
                    _ => format!(
                        "{} of {} fractions are clock times",
                        grouped(*clocks),
                        grouped(*telling)
                    ),
                };
                let both = if name.is_empty() || clocks.is_empty() { "" } else { ", and " };
                let rows = counted(*rows, "number");
                let from = match own {
                    true => "may be dates, counted from the workbook's own origin",
                    false => "may count days or seconds from some origin",
                };
                write!(f, "{rows} {from}: {name}{both}{clocks}.")?;
                match zeros {
                    0 => Ok(()),
                    1 => write!(f, " 1 value is zero, which stands for nothing."),
                    zeros => {
                        write!(f, " {} values are zero, which stands for nothing.", grouped(*zeros))
                    }
                }
            }
            NumberFinding::CountedBeside { epoch, rows, column, same: (same, of) } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} counted by {epoch}: so they are the day of {column:?} in {} of {} rows that \
                     have both, and by no other origin.",
                    counted(*rows, "number"),
                    grouped(*same),
                    grouped(*of)
                )
            }
        }
    }
}
