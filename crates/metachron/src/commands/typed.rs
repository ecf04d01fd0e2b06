//! Columns that get a typed one beside them.

use std::collections::BTreeMap;

use metachron_core::apply::{Compiled, Memory, Outcome};
use metachron_core::reading::{Order, Place, Written};
use metachron_core::value::Value;
use metachron_core::verdict::Counts;
use metachron_core::write::iso;
use metachron_tables::header::free_name;

use super::study::{Studied, Study};

/// A column that gets a typed one.
pub struct Typed<'s> {
    pub studied: &'s Studied,
    pub compiled: &'s Compiled,
    pub name: String,
    pub fraction_digits: u8,
    pub memory: Memory,
    pub counts: Counts,
    /// Rows that are read, by the order of their part where rows differ.
    pub by_order: BTreeMap<Order, u64>,
    pub leap_seconds: u64,
    /// Dates before the Gregorian calendar began.
    pub long_ago: u64,
}

pub fn typed_columns(study: &Study) -> Vec<Typed<'_>> {
    let mut names = study.intake.names().to_vec();
    let mut columns = Vec::new();
    let types_columns = study.intake.table.types_columns();
    for studied in study.columns.iter().filter(|c| c.decisions.convert != Some(false)) {
        if types_columns && studied.is_typed() {
            continue;
        }
        let Some(compiled) = &studied.inference.compiled else { continue };
        let wanted = match &studied.decisions.into {
            Some(into) => into.clone(),
            None => format!("{}_typed", studied.name),
        };
        let name = free_name(&wanted, |name| names.iter().any(|other| other == name));
        names.push(name.clone());
        columns.push(Typed {
            studied,
            compiled,
            name,
            fraction_digits: studied.inference.judgement.fraction_digits,
            memory: Memory::default(),
            counts: Counts::default(),
            by_order: BTreeMap::new(),
            leap_seconds: 0,
            long_ago: 0,
        });
    }
    columns
}

/// The name of a column whose typed values stand in the raw one's place.
pub fn replaced_name<'c>(column: &'c Typed<'_>) -> &'c str {
    column.studied.decisions.into.as_deref().unwrap_or(&column.studied.name)
}

impl Typed<'_> {
    /// Whether the analyst has given several layouts.
    pub fn gives_layouts(&self) -> bool {
        let written = &self.studied.decisions.written;
        matches!(written, Some(Written::Layouts(layouts)) if layouts.len() > 1)
    }

    /// Reads a value, counts it, and writes what it is.
    pub fn apply<'v>(&mut self, place: Place<'v>, value: Value<'v>, typed: &mut String) -> Outcome {
        let outcome = self.compiled.apply(place, value, &mut self.memory);
        let counts = &mut self.counts;
        counts.rows += 1;
        match outcome {
            Outcome::Missing => counts.missing += 1,
            Outcome::Placeholder => counts.placeholder += 1,
            Outcome::Unreadable(_) => counts.unreadable += 1,
            Outcome::Contested(..) | Outcome::OfOtherRows(_) => counts.contested += 1,
            Outcome::Read(fit) => {
                counts.read += 1;
                if let Some(split) = &self.compiled.reading().split
                    && let Some(order) =
                        split.of(place).and_then(|layouts| layouts.first()?.order())
                {
                    *self.by_order.entry(order).or_default() += 1;
                }
                self.leap_seconds += u64::from(fit.leap_second);
                let first = jiff::civil::date(1582, 10, 15);
                self.long_ago += u64::from(fit.moment.date().is_some_and(|day| day < first));
                // Writing to a string cannot fail.
                let _ = iso(typed, fit.moment, self.fraction_digits);
            }
        }
        outcome
    }
}
