//! Readings that a column could have beside its own: those of an open one, what a repaired one was first read as, and what
//! a decided one is not.

use metachron_core::apply::{Compiled, Outcome};
use metachron_core::layout::Layout;
use metachron_core::order::Alternative;
use metachron_core::reading::{Contested, Reading, Repair, RowPlace, Serials};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::value::Value;

use super::column::SurveyedColumn;
use crate::words::phrase;

/// A reading that a column could have.
pub struct OtherReading {
    /// What it is called: `day first`, `counted from sheet-1900`.
    pub called: String,
    /// It.
    pub compiled: Compiled,
}

impl OtherReading {
    /// What it makes of a value of a row of which nothing else is said.
    pub fn read(&self, row: u64, value: Value<'_>) -> Option<TypedValue> {
        let place = RowPlace { row, beside: "", zone: "" };
        match self.compiled.scratch().apply(place, value) {
            Outcome::Read(fit) => Some(fit.moment),
            _ => None,
        }
    }
}

impl SurveyedColumn {
    /// A reading that is called so.
    fn other(&self, called: String, reading: &Reading) -> OtherReading {
        OtherReading { called, compiled: Compiled::new(reading, self.options.missing.clone()) }
    }

    /// How the values of an open column can be read: by orders that fit, or from origins of numbers.
    pub fn readings_in_play(&self) -> Vec<OtherReading> {
        let judgement = &self.inference.judgement;
        let reading = |kind: Kind, layouts: Vec<Layout>, serials: Option<Serials>| Reading {
            kind,
            layouts,
            split: None,
            serials,
            terms: self.options.terms,
            years: None,
            anchor: None,
            repair: Repair::None,
            zoning: None,
            contested: Contested::Empty,
        };
        let orders = judgement.contenders.iter().filter(|own| own.survives).filter_map(|own| {
            let kind = judgement.kind.or_else(|| own.layouts.first()?.kind())?;
            Some((phrase(own.alternative).to_owned(), reading(kind, own.layouts.clone(), None)))
        });
        let origins = judgement.origins.iter().map(|own| {
            let serials = Serials { epoch: own.epoch, are_times: false };
            let called = format!("counted from {}", own.epoch);
            (called, reading(own.earliest.kind(), Vec::new(), Some(serials)))
        });
        orders.chain(origins).map(|(called, reading)| self.other(called, &reading)).collect()
    }

    /// How its values would be read if nothing were done about what was found: one order for all rows, and as an import
    /// wrote them; none where that is how they are read.
    pub fn as_first_read(&self) -> Option<OtherReading> {
        let reading = self.inference.compiled.as_ref()?.reading();
        let is_mixed = reading.split.is_some() && reading.layouts.len() > 1;
        if reading.repair == Repair::None && !is_mixed {
            return None;
        }
        let mut first = Reading { split: None, repair: Repair::None, ..reading.clone() };
        if is_mixed {
            first.layouts.truncate(1);
        }
        Some(self.other("as first read".to_owned(), &first))
    }

    /// What a decided column is not read as: other orders of its numbers.
    pub fn rivals(&self) -> Vec<OtherReading> {
        let Some(compiled) = &self.inference.compiled else { return Vec::new() };
        let reading = compiled.reading();
        let contenders = self.inference.judgement.contenders.iter();
        let others = contenders.map(|own| (own.alternative, own.layouts.clone()));
        let exchanged = reading.layouts.iter().filter_map(|own| {
            let layout = own.exchanged()?;
            Some((Alternative::from(layout.order()?), vec![layout]))
        });
        // Nobody writes the day between the year and the month without being asked.
        let rivals = others
            .chain(exchanged)
            .filter(|(order, layouts)| *order != Alternative::Ydm && *layouts != reading.layouts);
        let rivals = rivals.map(|(order, layouts)| {
            let rival = Reading { layouts, split: None, repair: Repair::None, ..reading.clone() };
            self.other(phrase(order).to_owned(), &rival)
        });
        rivals.collect()
    }
}
