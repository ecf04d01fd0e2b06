//! What numbers count, in sentences.

use std::fmt;

use metachron_core::layout::YearPart;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::{CountedBeside, NumberFinding, PlainKind};

use super::Words;
use super::pieces::{first, many};

impl fmt::Display for Words<'_, NumberFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let numbers = |rows: u64| many(rows, "number", "is", "are");
        match self.0 {
            NumberFinding::Counted { epoch, rows } => {
                write!(f, "{} counted by {epoch}, because you say so.", numbers(*rows))
            }
            NumberFinding::NotCounted { epoch, rows } => {
                write!(f, "{} no date by {epoch}{}.", numbers(rows.rows), first(rows))
            }
            NumberFinding::BelowOne { rows, epoch } => write!(
                f,
                "{} below one: parts of a day, and by {epoch} all on the day from which it counts.",
                numbers(*rows)
            ),
            NumberFinding::NumbersBeside { rows, epoch, earliest, latest } => write!(
                f,
                "{} not written as a date: as an import may have left them, by {epoch} from {earliest} to \
                 {latest} (--epoch {epoch} reads {}).",
                numbers(*rows),
                if *rows == 1 { "it" } else { "them" }
            ),
            NumberFinding::MayCount { rows, zeros, clocks: (clocks, telling), by_name, own } => {
                let name = by_name.then(|| "the name of the column speaks of dates".to_owned());
                let fractions = (*clocks > 0).then(|| {
                    let (clocks, telling) = (grouped(*clocks), grouped(*telling));
                    format!("{clocks} of {telling} fractions are clock times")
                });
                let why: Vec<String> = name.into_iter().chain(fractions).collect();
                let from = match own {
                    true => "may be dates, counted from the workbook's own origin",
                    false => "may count days or seconds from some origin",
                };
                write!(f, "{} {from}: {}.", counted(*rows, "number"), why.join(", and "))?;
                match zeros {
                    0 => Ok(()),
                    zeros => {
                        let zeros = many(*zeros, "value", "is zero", "are zero");
                        write!(f, " {zeros}, which stands for nothing.")
                    }
                }
            }
            NumberFinding::Years { rows, first, last, nothing } => write!(
                f,
                "{} from {first} to {last} may be years, and are left as they are; the layout '{{year}}{}' types them.",
                counted(*rows, "whole number"),
                nothing.map_or(String::new(), |nothing| format!("[{nothing}]")),
            ),
            NumberFinding::MayBe { rows, what, may_count } => {
                write!(f, "{} may be {}", counted(*rows, "number"), may_be(*what))?;
                match may_count {
                    true => write!(f, "; or they count days from some origin."),
                    false => write!(f, "."),
                }
            }
            NumberFinding::DigitsOrCounts { rows } => write!(
                f,
                "{} may be dates in digits, and may count days as well.",
                counted(*rows, "number")
            ),
            NumberFinding::CountedBeside { epoch, rows, beside } => {
                let CountedBeside { epoch: shown, column, of_days, same, rows: of } = beside;
                let what = if *of_days { "day" } else { "moment" };
                let (so, others) = match shown == epoch {
                    true => (": so they are".to_owned(), "by no other origin".to_owned()),
                    false => (
                        format!(", as you said; but by {shown} they are"),
                        format!("not by {epoch}"),
                    ),
                };
                let (numbers, same, of) = (numbers(*rows), grouped(*same), grouped(*of));
                write!(
                    f,
                    "{numbers} counted by {epoch}{so} the {what} of {column:?} in {same} of {of} rows that have \
                     both, and {others}."
                )
            }
        }
    }
}

/// What numbers may be as they stand.
fn may_be(what: Option<PlainKind>) -> &'static str {
    match what {
        Some(PlainKind::DecimalYears(YearPart::Quarter)) => {
            "years with the fractions of quarters (1960.25 is the second of 1960)"
        }
        Some(PlainKind::DecimalYears(YearPart::Month)) => {
            "years with the fractions of months (1973.0833 is February 1973)"
        }
        Some(PlainKind::DecimalYears(YearPart::Week)) => {
            "years with the fractions of weeks (1960.0192 is the second of 1960)"
        }
        Some(PlainKind::DecimalYears(YearPart::Day)) => {
            "years with the fractions of days (2004.5027 is 3 July 2004)"
        }
        Some(PlainKind::Clocks) => {
            "hours and minutes (517 is 05:17), as the last two digits of all are below 60 and none is above 2400"
        }
        Some(PlainKind::CompactMonths) => "a year and its month (202403 is March 2024)",
        Some(PlainKind::CompactWeeks) => "a year and its week (202415 is the fifteenth of 2024)",
        Some(PlainKind::YearMonths) => "a year and its month, or years with a fraction",
        Some(PlainKind::Years) => "years",
        None => "years with a fraction that names no part of one, which are best left as they are",
    }
}
