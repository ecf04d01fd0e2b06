//! Soft evidence, in sentences.

use std::fmt;

use metachron_core::text::{counted, grouped};
use metachron_core::verdict::{Custom, DatePart, Signal, SignalKind};

use super::pieces::phrase;
use super::{Words, words};

impl fmt::Display for Words<'_, Signal> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let favours = self.0.favours;
        let own = capital(phrase(favours));
        let percent = |(part, all): (u64, u64)| format!("{} of {}", grouped(part), grouped(all));
        match &self.0.what {
            SignalKind::Sorted { own: steps, rival: (rival, forward, all) } => write!(
                f,
                "{own}, {} steps from row to row go forward in time; {}, {}.",
                percent(*steps),
                phrase(rival),
                percent((*forward, *all))
            ),
            SignalKind::AfterToday { rival, dates, of, as_of } => write!(
                f,
                "{}, {} of {} would lie after {as_of}; {}, none.",
                capital(phrase(rival)),
                grouped(*dates),
                counted(*of, "different date"),
                phrase(favours)
            ),
            SignalKind::SameDay { day, dates } => write!(
                f,
                "{own}, all {} have the day {day}, as reports of whole months do.",
                counted(*dates as u64, "different date")
            ),
            SignalKind::Points { locales } => write!(
                f,
                "Points stand between the parts, as in {} of CLDR that are {}, and in none that is not.",
                counted(*locales as u64, "locale"),
                phrase(favours)
            ),
            SignalKind::Padding { padded, custom } => {
                let what = if *padded { "Two digits" } else { "One digit" };
                write!(f, "{what} for a day or month below ten: {}.", words(custom))
            }
            SignalKind::Clock { hours, custom } => {
                write!(f, "A clock of {hours} hours: {}.", words(custom))
            }
            SignalKind::Sibling { column } => {
                write!(f, "{column:?} is {} beyond doubt.", phrase(favours))
            }
            SignalKind::Years { rest: (first, last), rival: (rival, from, to) } => write!(
                f,
                "{own}, its years lie where those of the other columns do ({first} to {last}); {}, they \
                 run from {from} to {to}.",
                phrase(rival)
            ),
            SignalKind::Beside { column, never_before, rival: (rival, wrong, all) } => {
                let side = if *never_before { "before" } else { "after" };
                write!(
                    f,
                    "{own}, it is never {side} {column:?} in the same row; {}, in {} rows.",
                    phrase(rival),
                    percent((*wrong, *all))
                )
            }
            SignalKind::Part { column, part, own: agree, rival: (rival, other, of) } => write!(
                f,
                "{column:?} has the {} of {} different dates {}, of {} {}; it may have been computed \
                 from a wrong reading.",
                part_name(*part),
                percent(*agree),
                phrase(favours),
                percent((*other, *of)),
                phrase(rival)
            ),
            SignalKind::Name { word } => {
                write!(f, "The name of the column says {word:?}: {}.", phrase(favours))
            }
            SignalKind::DecimalComma => write!(
                f,
                "Semicolons separate fields and numbers have a decimal comma, as where the day comes first."
            ),
        }
    }
}

impl fmt::Display for Words<'_, Custom> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let ((own, its, all), (rival, others, of)) = (self.0.own, self.0.rival);
        let (own, rival) = (phrase(own), phrase(rival));
        write!(
            f,
            "so do {its} of {all} locales of CLDR that are {own}, and {others} of {of} that are {rival}"
        )
    }
}

/// What a part of a date is called.
fn part_name(part: DatePart) -> &'static str {
    match part {
        DatePart::Weekday => "weekday",
        DatePart::Month => "month",
        DatePart::Year => "year",
        DatePart::Day => "day",
    }
}

fn capital(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or(String::new(), |first| first.to_uppercase().chain(chars).collect())
}
