//! What is required of the values of a column.

use std::fmt;

use jiff::civil::{Date, DateTime, Time};

use super::spacing::Step;
use crate::counting::Per;
use crate::duration::Duration;
use crate::named::Named;
use crate::typed::{Kind, TypedValue};

/// What is required of the values of a column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Requirement {
    /// No row lies before the one before it.
    Sorted,
    /// No two rows have the same value.
    Unique,
    /// No value lies outside.
    Within(Range),
    /// No period between the first and the last value is without one.
    Complete(Per),
    /// Different values follow each other by this step.
    Regular(Step),
}

/// From one value to another; either may be open.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Range {
    from: Option<String>,
    to: Option<String>,
}

/// Why a text is no requirement.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NoRequirement {
    /// It is none of the words.
    Unknown,
    /// What stands behind `within` is no range.
    Range,
    /// What stands behind `complete` is no period that follows another.
    Period,
    /// What stands behind `regular` is no amount of a unit.
    Step,
}

impl Requirement {
    /// Reads one: `sorted`, `unique`, `within 2024-01-01..2024-12-31`, `complete day`, `regular 10 minutes`.
    ///
    /// ```
    /// use metachron_core::timeline::Requirement;
    /// for text in ["sorted", "unique", "within 2024-01..2024-03-15", "within ..PT8H", "complete day", "regular 10 minutes"] {
    ///     assert_eq!(Requirement::parse(text).unwrap().to_string(), text);
    /// }
    /// ```
    ///
    /// # Errors
    /// What is wrong with it.
    pub fn parse(text: &str) -> Result<Requirement, NoRequirement> {
        let text = text.trim();
        let (word, rest) = text.split_once(char::is_whitespace).unwrap_or((text, ""));
        let rest = rest.trim();
        match (word, rest) {
            ("sorted", "") => Ok(Requirement::Sorted),
            ("unique", "") => Ok(Requirement::Unique),
            ("within", range) => {
                Range::parse(range).map(Requirement::Within).ok_or(NoRequirement::Range)
            }
            ("complete", per) => {
                let per = Per::named(per).ok().filter(|per| per.follows());
                per.map(Requirement::Complete).ok_or(NoRequirement::Period)
            }
            ("regular", step) if step.contains(' ') => {
                Step::parse(step).map(Requirement::Regular).ok_or(NoRequirement::Step)
            }
            ("regular", _) => Err(NoRequirement::Step),
            _ => Err(NoRequirement::Unknown),
        }
    }

    /// Whether it can be asked of values of a kind.
    pub fn is_about(&self, kind: Kind) -> bool {
        match self {
            Requirement::Sorted | Requirement::Unique => true,
            Requirement::Within(range) => range.is_about(kind),
            Requirement::Complete(per) => per.is_told_by(kind),
            // A month is no multiple of an hour.
            Requirement::Regular(Step::Months(_)) => {
                !matches!(kind, Kind::Time | Kind::Instant | Kind::Week | Kind::Duration)
            }
            Requirement::Regular(Step::Nanos(_)) => {
                !matches!(kind, Kind::Month | Kind::Quarter | Kind::Year)
            }
        }
    }
}

impl fmt::Display for Requirement {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Requirement::Sorted => f.write_str("sorted"),
            Requirement::Unique => f.write_str("unique"),
            Requirement::Within(range) => write!(f, "within {range}"),
            Requirement::Complete(per) => write!(f, "complete {}", per.name()),
            Requirement::Regular(step) => write!(f, "regular {step}"),
        }
    }
}

impl Range {
    fn parse(text: &str) -> Option<Range> {
        let (from, to) = text.split_once("..")?;
        let end = |text: &str| match text.trim() {
            "" => Some(None),
            text => is_end(text).then(|| Some(text.to_owned())),
        };
        let range = Range { from: end(from)?, to: end(to)? };
        (range.from.is_some() || range.to.is_some()).then_some(range)
    }

    fn ends(&self) -> impl Iterator<Item = &String> {
        self.from.iter().chain(&self.to)
    }

    /// Whether its ends can be compared with values of a kind: none is finer than they are.
    fn is_about(&self, kind: Kind) -> bool {
        self.ends().all(|end| match kind {
            Kind::Duration => end.parse::<Duration>().is_ok(),
            Kind::Time => end.parse::<Time>().is_ok(),
            Kind::DateTime | Kind::Instant => is_day(end) || end.parse::<DateTime>().is_ok(),
            Kind::Date => is_day(end),
            Kind::Month => is_day(end) && end.len() <= MONTH,
            Kind::Year => is_day(end) && end.len() <= YEAR,
            // Named as they are written: 2024-W10, 2024-Q1.
            Kind::Week => end.contains("-W"),
            Kind::Quarter => end.contains("-Q"),
        })
    }

    /// Whether a value lies in it; ends that say less, such as a month, hold all of it. Moments lie where the clock shows
    /// them.
    ///
    /// ```
    /// use metachron_core::timeline::Requirement;
    /// use metachron_core::typed::TypedValue;
    /// let Ok(Requirement::Within(range)) = Requirement::parse("within 2024-01..2024-03") else { panic!() };
    /// let day = |month, day| TypedValue::Date(jiff::civil::date(2024, month, day));
    /// assert!(range.holds(day(3, 31), None) && !range.holds(day(4, 1), None));
    /// ```
    pub fn holds(&self, value: TypedValue, shown: Option<DateTime>) -> bool {
        if let TypedValue::Duration(own) = value {
            let end = |text: &Option<String>| {
                text.as_deref().and_then(|text| text.parse::<Duration>().ok())
            };
            return end(&self.from).is_none_or(|from| own >= from)
                && end(&self.to).is_none_or(|to| own <= to);
        }
        // In ISO 8601 the order of texts is that of time; a beginning of a text stands for all that begins so.
        let text = shown.map_or_else(|| value.to_string(), |clock| clock.to_string());
        let begins = |end: &String| text.get(..end.len()).unwrap_or(&text).to_owned();
        let is_behind = self.from.as_ref().is_none_or(|from| begins(from) >= *from);
        is_behind && self.to.as_ref().is_none_or(|to| begins(to) <= *to)
    }
}

const YEAR: usize = "2024".len();
const MONTH: usize = "2024-03".len();

/// A day, a month or a year.
fn is_day(text: &str) -> bool {
    let padded = match text.len() {
        YEAR => format!("{text}-01-01"),
        MONTH => format!("{text}-01"),
        _ => text.to_owned(),
    };
    padded.len() == 10 && padded.parse::<Date>().is_ok()
}

/// What may stand at an end.
fn is_end(text: &str) -> bool {
    let is_clock = || text.contains('T') && text.parse::<DateTime>().is_ok();
    let is_time = || text.contains(':') && text.parse::<Time>().is_ok();
    let is_period = || {
        let parts = text.split_once("-W").or_else(|| text.split_once("-Q"));
        let digits = |text: &str, length: usize| {
            text.len() == length && text.bytes().all(|b| b.is_ascii_digit())
        };
        parts.is_some_and(|(year, own)| digits(year, 4) && (digits(own, 2) || digits(own, 1)))
    };
    let is_length = || text.starts_with(['P', '-']) && text.parse::<Duration>().is_ok();
    is_day(text) || is_clock() || is_time() || is_period() || is_length()
}

impl fmt::Display for Range {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let end = |text: &Option<String>| text.clone().unwrap_or_default();
        write!(f, "{}..{}", end(&self.from), end(&self.to))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_no_requirement_says_why() {
        for (text, why) in [
            ("sortd", NoRequirement::Unknown),
            ("sorted day", NoRequirement::Unknown),
            ("within 2024", NoRequirement::Range),
            ("within ..", NoRequirement::Range),
            ("within 03/04/2024..", NoRequirement::Range),
            ("complete weekday", NoRequirement::Period),
            ("complete", NoRequirement::Period),
            ("regular", NoRequirement::Step),
            ("regular minutes", NoRequirement::Step),
            ("regular 0 minutes", NoRequirement::Step),
        ] {
            assert_eq!(Requirement::parse(text), Err(why), "{text}");
        }
    }

    #[test]
    fn ranges_hold_what_begins_as_their_ends_do() {
        let clock = |text: &str| TypedValue::DateTime(text.parse().unwrap());
        let time = |text: &str| TypedValue::Time(text.parse().unwrap());
        let length = |text: &str| TypedValue::Duration(text.parse().unwrap());
        for (range, value, holds) in [
            ("2024-03-05..2024-03-05", clock("2024-03-05T23:59:59.5"), true),
            ("2024-03-05..2024-03-05", clock("2024-03-06T00:00"), false),
            ("2024-03-05T06:30..", clock("2024-03-05T06:30:01"), true),
            ("2024-03-05T06:30..", clock("2024-03-05T06:29:59"), false),
            ("06:00..20:00", time("20:00:00"), true),
            ("06:00..20:00", time("20:01:00"), false),
            ("PT0S..PT8H", length("PT8H"), true),
            ("PT0S..PT8H", length("-PT1S"), false),
            ("2024-Q2..", TypedValue::Quarter(jiff::civil::date(2024, 1, 1)), false),
            ("..2024", TypedValue::Year(jiff::civil::date(2024, 1, 1)), true),
        ] {
            let range = Range::parse(range).unwrap();
            assert!(range.is_about(value.kind()), "{range} {value}");
            assert_eq!(range.holds(value, None), holds, "{range} {value}");
        }
        let range = Range::parse("2024-03-05T06:30..").unwrap();
        assert!(!range.is_about(Kind::Date), "a day is on neither side of a clock time of its own");
    }
}
