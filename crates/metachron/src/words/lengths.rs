//! Lengths of time, in sentences.

use std::fmt;

use metachron_core::lexicon::Locale;
use metachron_core::order::Alternative;
use metachron_core::reading::Unfit;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::LengthFinding;

use super::pieces::{first, many, number_of_orders, values};
use super::{Words, words};

impl fmt::Display for Words<'_, LengthFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            LengthFinding::MayBeDurations(rows) => write!(
                f,
                "{} no time of day: these may be durations, not clock times{}.",
                values(rows, "is", "are"),
                first(rows)
            ),
            LengthFinding::HoursOrClock(rows) => write!(
                f,
                "{} alone: measured, or read off a clock; nothing tells which.",
                many(*rows, "value", "is hours", "are hours")
            ),
            LengthFinding::NightOrLengths(rows) => write!(
                f,
                "{} before noon, some of them soon after midnight: measured, or read off a clock; nothing tells which.",
                many(*rows, "value", "lies", "lie")
            ),
            LengthFinding::MinutesOrFeet(rows) => write!(
                f,
                "{} ' or \" for a unit: minutes and seconds of time, or feet and inches.",
                many(*rows, "value", "has", "have")
            ),
            LengthFinding::NameOfLengths => write!(
                f,
                "No value goes beyond 24 hours, but the name of the column speaks of lengths of time."
            ),
            LengthFinding::Elapsed(Some(longest)) => write!(
                f,
                "Values go up to {longest}, beyond a day: they are lengths of time, not times of day."
            ),
            LengthFinding::Elapsed(None) => write!(
                f,
                "Other values can only be lengths of time: so are the clock forms beside them."
            ),
            LengthFinding::HoursElsewhere(rows) => write!(
                f,
                "{} hours, minutes and seconds, and no other goes beyond 59 in its first number: those are \
                 likely minutes and seconds.",
                many(*rows, "value", "has", "have")
            ),
            LengthFinding::MayBeThousands { rows, commas } => {
                let points = values(rows, "has", "have");
                write!(f, "{points} a point that may stand between thousands{}", first(rows))?;
                match commas {
                    0 => write!(f, "; no other shows that it is a decimal mark."),
                    commas => {
                        write!(f, "; {} a decimal comma.", many(*commas, "value", "has", "have"))
                    }
                }
            }
            LengthFinding::MayBeDecades { rows } => write!(
                f,
                "{} of four digits with an \"s\", tens all of them, may be decades as well as seconds.",
                counted(*rows, "value")
            ),
            LengthFinding::FractionsOrMinutes(count) => write!(
                f,
                "Hours have {count} different fractions, none above .59: they may be minutes."
            ),
            LengthFinding::MayBeMeasures { rows, why } => {
                let are = values(rows, "is a length of time", "are lengths of time");
                let Unfit::UnclearUnit { one: (unit, tag), .. } = why else {
                    return write!(f, "{are} only in some language{}.", first(rows));
                };
                let language = Locale::named(tag).map_or(*tag, Locale::language_name);
                write!(
                    f,
                    "{are} only in languages such as {language}, where their unit is {}{}; --column with \
                     --written-in {tag} says that they are.",
                    unit.name(),
                    first(rows)
                )
            }
            LengthFinding::UnreadAmounts { rows, why: Unfit::NoUnit } => {
                let numbers = values(rows, "is a number", "are numbers");
                write!(f, "{numbers} without a unit{}.", first(rows))
            }
            LengthFinding::UnreadAmounts { rows, why } => {
                let values = counted(rows.rows, "value");
                write!(f, "{values} cannot be read: {}{}.", words(why), first(rows))
            }
        }
    }
}

/// That nothing tells what numbers count.
pub fn ambiguous(f: &mut fmt::Formatter<'_>, orders: &[Alternative], rows: u64) -> fmt::Result {
    if orders.contains(&Alternative::Months) {
        let rows = many(rows, "value", "has", "have");
        return write!(f, "{rows} \"m\" without hours or seconds: minutes or months.");
    }
    let both = number_of_orders(orders);
    match rows {
        1 => write!(f, "The one value fits {both}, and nothing tells which."),
        _ => write!(f, "All {} values fit {both}, and nothing tells which.", grouped(rows)),
    }
}
