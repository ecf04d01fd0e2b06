//! What steps take and give.

use std::fmt;

use jiff::Timestamp;

use crate::epoch::Number;
use crate::moment::{Kind, Moment};
use crate::write::{Instants, iso_at};
use crate::zone::Clock;

/// What a step gives, known before the first row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Type {
    /// A typed value.
    Of(Kind),
    /// A moment and the clock that shows it.
    Zoned,
    /// A number.
    Number,
    /// True or false.
    Truth,
    /// Text.
    Text,
    /// From one value to another of the same kind.
    Span(Kind),
    /// A length of time.
    Duration,
    /// A raw cell that nothing has read.
    Raw,
}

impl fmt::Display for Type {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Type::Of(kind) => write!(f, "{kind}"),
            Type::Zoned => f.write_str("clock time in a zone"),
            Type::Number => f.write_str("number"),
            Type::Truth => f.write_str("true or false"),
            Type::Text => f.write_str("text"),
            Type::Span(_) => f.write_str("span"),
            Type::Duration => f.write_str("duration"),
            Type::Raw => f.write_str("raw text"),
        }
    }
}

/// A value on its way through steps.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Item {
    /// Nothing; every step gives nothing for it.
    #[default]
    Missing,
    /// A typed value.
    Moment(Moment),
    /// A moment and the clock that shows it.
    Zoned(Timestamp, Clock),
    /// A number.
    Number(Number),
    /// True or false.
    Truth(bool),
    /// Text.
    Text(String),
    /// From the first to the second.
    Span(Moment, Moment),
    /// Nanoseconds.
    Duration(i128),
}

/// Why a value could not be made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unmade {
    /// A short word for programs.
    pub code: &'static str,
    /// The reason.
    pub says: String,
}

impl Unmade {
    pub(super) fn new(code: &'static str, says: impl Into<String>) -> Unmade {
        Unmade { code, says: says.into() }
    }

    pub(super) fn out_of_range() -> Unmade {
        Unmade::new("out-of-range", "outside the years -9999 to 9999")
    }
}

impl fmt::Display for Unmade {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.says)
    }
}

impl fmt::Display for Item {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Item::Missing => Ok(()),
            Item::Moment(moment) => write!(f, "{moment}"),
            Item::Zoned(moment, clock) => {
                let moment = Moment::Instant(*moment);
                iso_at(f, moment, moment.fraction_digits(), *clock, Instants::Offset)
            }
            Item::Number(number) => write!(f, "{number}"),
            Item::Truth(truth) => write!(f, "{truth}"),
            Item::Text(text) => f.write_str(text),
            Item::Span(from, to) => write!(f, "{from}/{to}"),
            Item::Duration(nanos) => duration(f, *nanos),
        }
    }
}

/// `P2DT3H20M`, as ISO 8601-1:2019, 5.5.2.2, has it: hours go on beyond 24, so that no day is taken for a
/// day of the calendar.
fn duration(f: &mut fmt::Formatter<'_>, nanos: i128) -> fmt::Result {
    let sign = if nanos < 0 { "-" } else { "" };
    let all = nanos.unsigned_abs();
    let (seconds, fraction) = (all / 1_000_000_000, all % 1_000_000_000);
    let (hours, minutes, seconds) = (seconds / 3_600, seconds / 60 % 60, seconds % 60);
    write!(f, "{sign}PT")?;
    if hours > 0 {
        write!(f, "{hours}H")?;
    }
    if minutes > 0 {
        write!(f, "{minutes}M")?;
    }
    if fraction > 0 {
        let digits = format!("{fraction:09}");
        return write!(f, "{seconds}.{}S", digits.trim_end_matches('0'));
    }
    if seconds > 0 || (hours, minutes) == (0, 0) { write!(f, "{seconds}S") } else { Ok(()) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn durations_are_written_in_hours_minutes_and_seconds() {
        for (nanos, expected) in [
            (0, "PT0S"),
            (184_800_000_000_000, "PT51H20M"),
            (-90_500_000_000, "-PT1M30.5S"),
            (3_600_000_000_000, "PT1H"),
            (1, "PT0.000000001S"),
        ] {
            assert_eq!(Item::Duration(nanos).to_string(), expected);
        }
    }
}
