//! What becomes of a table whose truth is known.

use metachron_core::apply::Outcome;
use metachron_core::evidence::{Evidence, Neighbours, ObserveOptions, Observer};
use metachron_core::infer::{Inference, conclude, second_look};
use metachron_core::reading::{Reading, RowPlace, Split};
use metachron_core::typed::TypedValue;
use metachron_core::value::Value;
use metachron_core::verdict::{
    Asserted, Baseline, Drift, Judgement, Surroundings, TableColumn, TableStyle, Verdict,
    harmed_among,
};

use super::scenarios::draw::Day;
use super::scenarios::outcomes::Became;
use super::scenarios::table::{Cell, Table};

/// Nothing but what day it is.
fn nothing_said() -> Asserted {
    Asserted::nothing(jiff::civil::date(2026, 6, 1))
}

fn jiff_date((year, month, day): Day) -> jiff::civil::Date {
    jiff::civil::date(year as i16, month as i8, day as i8)
}

fn value(cell: &Cell) -> Value<'_> {
    match cell {
        Cell::Text(text) => Value::Text(text),
        Cell::Number(text) => Value::Number(text),
        Cell::Date(day) => Value::Typed(TypedValue::Date(jiff_date(*day))),
        Cell::Moment(day, hour, minute) => {
            let moment = jiff_date(*day).at(*hour as i8, *minute as i8, 0, 0);
            Value::Typed(TypedValue::DateTime(moment))
        }
    }
}

/// What is seen of each file of a table.
fn observed(table: &Table, options: &ObserveOptions) -> Vec<Evidence> {
    let mut bounds: Vec<usize> = vec![0];
    bounds.extend(&table.files);
    bounds.push(table.cells.len());
    let files = bounds.windows(2).enumerate().map(|(part, rows)| {
        let mut neighbours = Neighbours::of(table.beside.iter().map(|(name, _)| *name));
        let mut observer = Observer::new(options.clone(), part as u32);
        for index in rows[0]..rows[1] {
            for (at, (_, cells)) in table.beside.iter().enumerate() {
                neighbours.see(at, &cells[index]);
            }
            let place = RowPlace::from((index - rows[0]) as u64 + 1);
            observer.observe_among(place, value(&table.cells[index]), &neighbours);
        }
        *observer.finish_among("captured", &neighbours)
    });
    files.collect()
}

fn together(files: &[Evidence], options: &ObserveOptions) -> Evidence {
    let all = files.iter().cloned().reduce(|all, own| all.merge(own).unwrap());
    all.unwrap_or_else(|| Evidence::empty(options))
}

pub fn inferred(table: &Table) -> Inference {
    let (evidence, options) = looked_at(table, ObserveOptions::default());
    let own = conclude(&evidence, &options, &nothing_said());
    // What harmed the column beside may have harmed this one.
    let harmed_beside = table.sibling.as_ref().and_then(|sibling| {
        let (beside, by) = looked_at(sibling, ObserveOptions::default());
        let other = conclude(&beside, &by, &nothing_said());
        let seen = [("captured", &evidence, &own), ("released", &beside, &other)];
        let seen = seen.map(|(name, evidence, own)| TableColumn {
            name,
            evidence,
            judgement: &own.judgement,
        });
        Surroundings::of(&seen, TableStyle::default()).harmed(0)
    });
    // What a file shows by itself may be lost among the others.
    let harmed_part = if table.files.is_empty() {
        None
    } else {
        let files = observed(table, &options);
        let files: Vec<Inference> =
            files.iter().map(|own| conclude(own, &options, &nothing_said())).collect();
        harmed_among(files.iter().map(|own| ("a file", &own.judgement)))
    };
    if harmed_beside.is_none() && harmed_part.is_none() {
        return own;
    }
    conclude(&evidence, &options, &Asserted { harmed_beside, harmed_part, ..nothing_said() })
}

/// The evidence of a table, and how it was looked at in the end.
fn looked_at(table: &Table, options: ObserveOptions) -> (Evidence, ObserveOptions) {
    let evidence = together(&observed(table, &options), &options);
    match second_look(&evidence, &options, &nothing_said()) {
        Some(options) => (together(&observed(table, &options), &options), options),
        None => (evidence, options),
    }
}

/// What is said of a delivery that is read as the one before it was, and whether it stops there; none where that had no
/// reading.
fn delivered(table: &Table, before: &Table) -> Option<(Inference, Vec<Drift>)> {
    let (evidence, options) = looked_at(before, ObserveOptions::default());
    let judgement = conclude(&evidence, &options, &nothing_said()).judgement;
    if judgement.verdict != Verdict::Decided {
        return None;
    }
    let baseline = Baseline::of(&evidence, &judgement)?;
    let Reading { layouts, terms, .. } = judgement.reading?;
    let options = ObserveOptions { layouts, terms, ..ObserveOptions::default() };
    let (evidence, options) = looked_at(table, options);
    let inference = conclude(&evidence, &options, &nothing_said());
    let drift = baseline.drift(&evidence, &inference.judgement, &nothing_said());
    Some((inference, drift))
}

pub fn became(table: &Table) -> (Became, Judgement) {
    let (inference, is_told) = match &table.before {
        None => (inferred(table), false),
        Some(before) => match delivered(table, before) {
            None => (inferred(table), true),
            Some((inference, drift)) => {
                let warns = inference.judgement.findings.iter().any(|own| own.warning().is_some());
                // What is only new in an honest delivery is worth a sentence.
                let says = |own: &Drift| !table.told || own.is_contradiction();
                (inference, warns || drift.iter().any(says))
            }
        },
    };
    let Inference { judgement, compiled } = inference;
    let became = match (judgement.verdict, compiled) {
        (Verdict::Decided, _) if is_told => Became::Asked,
        (Verdict::NotADate, _) => Became::Left,
        (Verdict::Decided, Some(compiled)) => {
            let mut scratch = compiled.scratch();
            let by = compiled.reading().split.as_ref().and_then(Split::column);
            let beside = table.beside.iter().find(|(name, _)| Some(*name) == by);
            let mut wrong = 0;
            for (index, (cell, truth)) in table.cells.iter().zip(&table.truth).enumerate() {
                let beside = beside.map_or("", |(_, cells)| &cells[index]);
                let place = RowPlace { beside, ..RowPlace::from(index as u64 + 1) };
                if let Outcome::Read(fit) = scratch.apply(place, value(cell)) {
                    let read = fit.moment.to_string();
                    wrong += u64::from(truth.as_ref() != Some(&read));
                }
            }
            if wrong > 0 { Became::Wrong(wrong) } else { Became::Right }
        }
        _ => Became::Asked,
    };
    (became, judgement)
}
