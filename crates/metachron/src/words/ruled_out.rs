//! Ways of being wrong that a column does not have, each as a part of a sentence.

use std::fmt;

use metachron_core::text::counted;
use metachron_core::verdict::RuledOut;

use super::Words;
use super::pieces::{one_in, phrase};

impl fmt::Display for Words<'_, RuledOut> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            RuledOut::Order { order, rows } => {
                write!(f, "{} ({})", phrase(order), counted(*rows, "value"))
            }
            RuledOut::Exchange { power } => {
                write!(f, "an import that exchanged day and month (less than {})", one_in(*power))
            }
            RuledOut::LostDays { dates } => {
                let dates = counted(*dates, "different date");
                write!(f, "an import that lost days above 12 ({dates})")
            }
            RuledOut::MonthYear { power } => {
                write!(f, "an import that took months for days (less than {})", one_in(*power))
            }
            RuledOut::OtherHand { column, values } => {
                let values = counted(*values, "value");
                write!(f, "another hand (each of {values} of {column:?} tells)")
            }
            RuledOut::RunningNumbers { months } => {
                write!(f, "running numbers ({} do not begin with 1)", counted(*months, "month"))
            }
            RuledOut::TwelveHours { rows } => {
                let rows = counted(*rows, "value");
                write!(f, "a clock of twelve hours ({rows} after 12:59 or before 1:00)")
            }
        }
    }
}
