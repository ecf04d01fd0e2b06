//! How a delivery differs from what its reading was saved for, in sentences without their full stop.

use std::fmt;

use metachron_core::text::{counted, grouped};
use metachron_core::verdict::{Drift, LanguageFinding};

use super::pieces::{first, list, many, phrase, values};
use super::{Words, words};

impl fmt::Display for Words<'_, Drift> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            Drift::Contradiction { rows, beside } => {
                let those = match &beside[..] {
                    [] => String::new(),
                    values => format!(" of {}", named(values)),
                };
                let verb = if rows.rows == 1 { "speaks" } else { "speak" };
                let values = counted(rows.rows, "value");
                write!(f, "{values}{those} {verb} against the saved reading{}", first(rows))
            }
            Drift::Flipped { to, rows } => write!(
                f,
                "The order has turned: {} can only be {}, and none is as the saved reading has it{}",
                counted(rows.rows, "value"),
                phrase(to),
                first(rows)
            ),
            Drift::NewShape { shape, rows } => write!(
                f,
                "{} a shape that was not there: {shape}{}",
                values(rows, "has", "have"),
                first(rows)
            ),
            Drift::NewValues { column, values, rows } => write!(
                f,
                "{} from {column} {}, unknown to the readings file",
                many(*rows, "row", "is", "are"),
                list(values.iter().map(|own| format!("{:?}", own.value)), "or", "more")
            ),
            Drift::OutOfRange { value, seen: (from, to) } => {
                write!(f, "{value} lies outside of what was seen ({from} to {to})")
            }
            Drift::NothingTells { dates, seen: (telling, of) } => write!(
                f,
                "None of {} tells the order, which is taken on trust; when it was saved, {} of {} did",
                counted(*dates, "different date"),
                grouped(*telling),
                grouped(*of)
            ),
            Drift::NothingTellsBeside { values, rows } => write!(
                f,
                "None of {} of {} tells the order, which is taken on trust",
                counted(*rows, "value"),
                named(values)
            ),
            Drift::OtherYear { said, .. } => {
                write!(f, "The year of the first row, {said}, was said for other rows")
            }
            Drift::OtherLanguage(rows) => write!(
                f,
                "{} of another language than the saved one, in which other names may be other months{}",
                values(rows, "is a date", "are dates"),
                first(rows)
            ),
            Drift::NamesDiffer(difference) => {
                let differ = words(&LanguageFinding::NamesDiffer(difference.clone())).to_string();
                let differ = differ.strip_suffix('.').unwrap_or(&differ);
                write!(f, "{differ}; the saved language is taken on trust")
            }
            Drift::OtherOrigin { saved, own } => {
                write!(f, "The numbers of this workbook count by {own}, and {saved} was saved")
            }
            Drift::NothingNew { latest, seen } => {
                write!(f, "No value is new: the latest is {latest}, and {seen} was seen before")
            }
            Drift::MoreUnreadable { now: (rows, of), seen: (before, all) } => write!(
                f,
                "{} of {} could not be read; {} of {} when this was saved",
                grouped(*rows),
                counted(*of, "row"),
                if *before == 0 { "none".to_owned() } else { grouped(*before) },
                grouped(*all)
            ),
        }
    }
}

fn named(values: &[String]) -> String {
    list(values.iter().map(String::as_str), "and", "more")
}
