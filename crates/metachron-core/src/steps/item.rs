//! What steps take and give.

use std::fmt;

use jiff::Timestamp;

use crate::duration::Duration;
use crate::epoch::{Epoch, Number};
use crate::reading::Unfit;
use crate::typed::{Kind, TypedValue};
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
            Type::Span(_) => f.write_str("duration"),
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
    Typed(TypedValue),
    /// A moment and the clock that shows it.
    Zoned(Timestamp, Clock),
    /// A number.
    Number(Number),
    /// True or false.
    Truth(bool),
    /// Text.
    Text(String),
    /// From the first to the second.
    Span(TypedValue, TypedValue),
}

impl Item {
    /// Adds bytes that compare as values of one column do: in time, by size, or as text; nothing comes last.
    ///
    /// ```
    /// use metachron_core::steps::Item;
    /// let key = |item: Item| {
    ///     let mut key = Vec::new();
    ///     item.sort_key(&mut key);
    ///     key
    /// };
    /// assert!(key(Item::Number((-2).into())) < key(Item::Number(1.into())));
    /// assert!(key(Item::Number(1.into())) < key(Item::Missing));
    /// ```
    pub fn sort_key(&self, key: &mut Vec<u8>) {
        key.push(u8::from(*self == Item::Missing));
        match self {
            Item::Missing => {}
            Item::Typed(moment) => moment.sort_key(key),
            Item::Zoned(moment, _) => TypedValue::Instant(*moment).sort_key(key),
            Item::Number(number) => number.sort_key(key),
            Item::Truth(truth) => key.push(u8::from(*truth)),
            // A text ends before any character that another goes on with.
            Item::Text(text) => {
                let bytes = text.bytes().flat_map(|byte| match byte {
                    0 => [Some(0), Some(1)],
                    byte => [Some(byte), None],
                });
                key.extend(bytes.flatten());
                key.extend([0, 0]);
            }
            Item::Span(from, to) => {
                from.sort_key(key);
                to.sort_key(key);
            }
        }
    }
}

/// Why a value could not be made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Unmade {
    /// What it is made from cannot be read or placed.
    Unfit(Unfit),
    /// A part of a date is missing in the row.
    PartMissing,
    /// What should be a time is none.
    NoTime,
    /// A part of a date is no whole number.
    NotWhole {
        /// Which part.
        part: &'static str,
        /// Its text.
        text: String,
    },
    /// A year of two digits that may be this one, after today, or that of the century before.
    CenturyOpen {
        /// The later of them.
        year: i16,
    },
    /// The name of a month that is another from language to language.
    UnclearMonth(String),
    /// A time moved by so much would be on another day.
    AnotherDay,
    /// A duration with months in units that do not go into them: months differ in length.
    HasMonths(Duration),
    /// A duration without months in months.
    NoMonths(Duration),
    /// The origin cannot count to it.
    NotCounted(Epoch),
    /// Outside the years −9999 to 9999.
    OutOfRange,
}

impl Unmade {
    /// A short word for programs.
    ///
    /// ```
    /// assert_eq!(metachron_core::steps::Unmade::PartMissing.code(), "part-missing");
    /// ```
    pub fn code(&self) -> &'static str {
        match self {
            Unmade::Unfit(unfit) => unfit.code(),
            Unmade::PartMissing => "part-missing",
            Unmade::NoTime | Unmade::NotWhole { .. } => "unknown-form",
            Unmade::CenturyOpen { .. } => "unclear-century",
            Unmade::UnclearMonth(_) => "unclear-name",
            Unmade::HasMonths(_) | Unmade::NoMonths(_) => "no-fixed-length",
            Unmade::AnotherDay | Unmade::NotCounted(_) | Unmade::OutOfRange => "out-of-range",
        }
    }
}

impl From<Unfit> for Unmade {
    fn from(unfit: Unfit) -> Unmade {
        Unmade::Unfit(unfit)
    }
}

impl fmt::Display for Item {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Item::Missing => Ok(()),
            Item::Typed(moment) => write!(f, "{moment}"),
            Item::Zoned(moment, clock) => {
                let moment = TypedValue::Instant(*moment);
                iso_at(f, moment, moment.fraction_digits(), *clock, Instants::Offset)
            }
            Item::Number(number) => write!(f, "{number}"),
            Item::Truth(truth) => write!(f, "{truth}"),
            Item::Text(text) => f.write_str(text),
            Item::Span(from, to) => write!(f, "{from}/{to}"),
        }
    }
}
