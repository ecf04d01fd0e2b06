//! Compiled readings: what becomes of each row.

mod memory;
mod program;

use crate::moment::Moment;
use crate::reading::{Contested, Fit, Reading, Unfit};
use crate::text::{Missing, is_placeholder, normalise};
use crate::value::Value;

pub use memory::Memory;
pub use program::Program;

/// What becomes of one row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Outcome {
    /// It stands for nothing.
    Missing,
    /// It is a date only in form.
    Placeholder,
    /// It is read.
    Read(Fit),
    /// The reading does not fit it.
    Unreadable(Unfit),
    /// Two layouts of the reading take it for different moments.
    Contested(Moment, Moment),
}

/// A reading made ready to be applied to many rows.
///
/// ```
/// use metachron_core::apply::{Compiled, Memory, Outcome};
/// use metachron_core::layout::Layout;
/// use metachron_core::moment::Kind;
/// use metachron_core::reading::{Contested, Reading, Terms};
/// use metachron_core::text::Missing;
///
/// let reading = Reading {
///     kind: Kind::Date,
///     layouts: vec![Layout::parse("{day}/{month}/{year}").unwrap()],
///     terms: Terms::default(),
///     contested: Contested::Empty,
/// };
/// let compiled = Compiled::new(&reading, Missing::usual());
/// let mut memory = Memory::default();
/// let Outcome::Read(fit) = compiled.apply("3/4/2024", &mut memory) else { panic!() };
/// assert_eq!(fit.moment.to_string(), "2024-04-03");
/// ```
#[derive(Debug, Clone)]
pub struct Compiled {
    reading: Reading,
    programs: Vec<Program>,
    missing: Missing,
}

impl Compiled {
    /// Compiles a reading.
    pub fn new(reading: &Reading, missing: Missing) -> Compiled {
        let programs = reading.layouts.iter().map(Program::new).collect();
        Compiled { reading: reading.clone(), programs, missing }
    }

    /// The reading it was made from.
    pub fn reading(&self) -> &Reading {
        &self.reading
    }

    /// What becomes of a row with this value; the same whatever rows came before.
    pub fn apply<'v>(&self, value: impl Into<Value<'v>>, memory: &mut Memory) -> Outcome {
        let text = match value.into() {
            Value::Text(text) | Value::Number(text) => text,
            Value::Missing => return Outcome::Missing,
            Value::Fault(_) => return Outcome::Unreadable(Unfit::Fault),
            Value::Typed(moment) => return self.typed(moment),
        };
        if let Some(outcome) = memory.recall(text) {
            return outcome;
        }
        let outcome = self.judge(normalise(text, memory.buffer()));
        memory.keep(text, outcome);
        outcome
    }

    /// A value that its file has typed: it is what it is, if the column is of its kind.
    fn typed(&self, moment: Moment) -> Outcome {
        let (value, column) = (moment.kind(), self.reading.kind);
        if value != column {
            return Outcome::Unreadable(Unfit::OtherKind { value, column });
        }
        let fraction_digits = moment.fraction_digits();
        let (written, short_year, leap_second) = (moment.date(), false, false);
        Outcome::Read(Fit { moment, fraction_digits, written, short_year, leap_second })
    }

    /// A reading has one kind, though a layout may have several.
    fn of_kind(&self, fit: Fit) -> Outcome {
        match (fit.moment.kind(), self.reading.kind) {
            (value, column) if value == column => Outcome::Read(fit),
            (value, column) => Outcome::Unreadable(Unfit::OtherKind { value, column }),
        }
    }

    fn judge(&self, value: &str) -> Outcome {
        if self.missing.contains(value) {
            return Outcome::Missing;
        }
        if is_placeholder(value) {
            return Outcome::Placeholder;
        }
        let mut found: Option<Fit> = None;
        let mut nearest = Unfit::Form;
        for program in &self.programs {
            match program.read(value, self.reading.terms) {
                Ok(fit) => match found {
                    None if self.reading.contested == Contested::Prefer => {
                        return self.of_kind(fit);
                    }
                    None => found = Some(fit),
                    Some(first) if first.moment != fit.moment => {
                        return Outcome::Contested(first.moment, fit.moment);
                    }
                    Some(_) => {}
                },
                Err(unfit) if unfit.nearness() > nearest.nearness() => nearest = unfit,
                Err(_) => {}
            }
        }
        match found {
            Some(fit) => self.of_kind(fit),
            None => Outcome::Unreadable(nearest),
        }
    }
}
