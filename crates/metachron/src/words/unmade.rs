//! Why a value could not be made by steps, in words.

use std::fmt;

use metachron_core::steps::Unmade;

use super::{Words, words};

impl fmt::Display for Words<'_, Unmade> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            Unmade::Unfit(unfit) => write!(f, "{}", words(unfit)),
            Unmade::PartMissing => write!(f, "a part of the date is missing in this row"),
            Unmade::NoTime => write!(f, "the time is none"),
            Unmade::NotWhole { part, text } => write!(f, "the {part} {text:?} is no whole number"),
            Unmade::CenturyOpen { year } => write!(
                f,
                "the year may be {} or {year}; --two-digit-from says in which hundred years it lies",
                year - 100
            ),
            Unmade::UnclearMonth(name) => write!(
                f,
                "{name:?} is another month from language to language; --written-in says which"
            ),
            Unmade::AnotherDay => write!(f, "it would be on another day"),
            Unmade::HasMonths(own) => write!(f, "{own} has months, which differ in length"),
            Unmade::NoMonths(own) => {
                write!(f, "{own} is no number of months, which differ in length")
            }
            Unmade::NotCounted(epoch) => write!(f, "{epoch} cannot count to it"),
            Unmade::OutOfRange => write!(f, "outside the years -9999 to 9999"),
        }
    }
}
