//! Passes through the table that only some columns need, once it has been looked at: through another lens,
//! beside other columns, or for the hours that came twice.

use metachron_core::apply::{Compiled, Memory, Outcome};
use metachron_core::epoch::Epoch;
use metachron_core::evidence::ObserveOptions;
use metachron_core::infer::{closer, conclude};
use metachron_core::moment::Kind;
use metachron_core::reading::{FoldObserver, Place, RepeatedClock, Serials};
use metachron_core::value::Value;
use metachron_core::verdict::OriginsBeside;

use super::{Plan, Studied, beside, observe};
use crate::config::Config;
use crate::intake::Intake;
use crate::message::Failure;

/// Looks again at the columns whose names have shown their language.
pub(super) fn look_closer(
    intake: &Intake,
    part: u32,
    columns: &mut [Studied],
    config: &Config,
) -> Result<(), Failure> {
    let (places, plans): (Vec<usize>, Vec<Plan>) = columns
        .iter()
        .enumerate()
        .filter_map(|(place, column)| {
            let lens = closer(&column.evidence, &column.lens, &column.known)?;
            Some((place, Plan { lens, ..Plan::again(column) }))
        })
        .unzip();
    if plans.is_empty() {
        return Ok(());
    }
    let again = observe(intake, part, plans, config)?;
    for (place, closer) in places.into_iter().zip(again.columns) {
        let (evidence, lens) = columns[place].first();
        let first_look = Some((Box::new(evidence.clone()), lens.clone()));
        columns[place] = Studied { first_look, ..closer };
    }
    Ok(())
}

/// Looks again at numbers that may count from several origins, where the days of another column show
/// from which.
pub(super) fn settle_origins(
    intake: &Intake,
    part: u32,
    columns: &mut [Studied],
    config: &Config,
) -> Result<(), Failure> {
    let is_open = |column: &&Studied| !column.inference.judgement.origins.is_empty();
    let dates: Vec<(String, usize, Compiled)> = columns
        .iter()
        .filter(|column| column.beside.is_none() && column.zone_at.is_none())
        .filter_map(|column| {
            let compiled = column.inference.compiled.clone()?;
            let kind = compiled.reading().kind;
            let dated = matches!(kind, Kind::Date | Kind::DateTime);
            dated.then(|| (column.name.clone(), column.index, compiled))
        })
        .collect();
    if dates.is_empty() || !columns.iter().any(|column| is_open(&column)) {
        return Ok(());
    }
    let mut asked: Vec<(usize, Vec<OriginsBeside>)> = Vec::new();
    for column in columns.iter().filter(is_open) {
        let epochs: Vec<Epoch> =
            column.inference.judgement.origins.iter().map(|origin| origin.epoch).collect();
        asked.push((column.index, vec![OriginsBeside::new(epochs); dates.len()]));
    }
    let mut memories: Vec<Memory> = dates.iter().map(|_| Memory::default()).collect();
    let (mut buffer, mut other) = (String::new(), String::new());
    intake.each_first_row(config.first_rows, |number, row| {
        for (at, ((_, index, compiled), memory)) in dates.iter().zip(&mut memories).enumerate() {
            let value = row.cell(*index, &mut buffer);
            let Outcome::Read(fit) = compiled.apply(number, value, memory) else { continue };
            let Some(day) = fit.moment.date() else { continue };
            for (index, beside) in &mut asked {
                if let Value::Text(text) | Value::Number(text) = row.cell(*index, &mut other) {
                    beside[at].observe(text, day);
                }
            }
        }
        Ok(())
    })?;
    for (index, beside) in asked {
        let settled = dates.iter().zip(&beside).find_map(|((name, ..), beside)| {
            let (epoch, same, rows) = beside.settles()?;
            Some((epoch, (name.clone(), same, rows)))
        });
        let Some((epoch, beside)) = settled else { continue };
        let Some(column) = columns.iter_mut().find(|column| column.index == index) else {
            continue;
        };
        let own = &column.lens;
        let serials = Some(Serials { epoch, are_times: false });
        let plan = Plan { lens: ObserveOptions { serials, ..own.clone() }, ..Plan::again(column) };
        let mut again = observe(intake, part, vec![plan], config)?;
        let mut closer = again.columns.remove(0);
        closer.known.counted_beside = Some(beside);
        closer.inference = conclude(&closer.evidence, &closer.lens, &closer.known);
        let (evidence, lens) = column.first();
        let first_look = Some((Box::new(evidence.clone()), lens.clone()));
        *column = Studied { first_look, ..closer };
    }
    Ok(())
}

/// Looks again at the columns whose repeated hours are to be told apart by their sequence.
pub(super) fn tell_repeated_hours(
    intake: &Intake,
    columns: &mut [Studied],
    config: &Config,
) -> Result<(), Failure> {
    let by = config.sequence_by.as_deref().map(|name| intake.position(name)).transpose()?;
    let asks = |column: &&mut Studied| {
        let compiled = column.inference.compiled.as_ref();
        let reading = compiled.map(Compiled::reading).filter(|reading| reading.zoning.is_some());
        reading.is_some_and(|own| own.terms.changes.repeated == RepeatedClock::BySequence)
    };
    let mut asked: Vec<(&mut Studied, FoldObserver, Memory)> = columns
        .iter_mut()
        .filter(asks)
        .map(|column| (column, FoldObserver::default(), Memory::default()))
        .collect();
    if asked.is_empty() {
        return Ok(());
    }
    let (mut buffer, mut name, mut zone) = (String::new(), String::new(), String::new());
    let mut told = String::new();
    intake.each_row(|number, row| {
        for (column, folds, memory) in &mut asked {
            let Some(compiled) = &column.inference.compiled else { continue };
            let value = row.cell(column.index, &mut buffer);
            let place = Place {
                row: number,
                beside: column.beside.map_or("", |at| beside(row.cell(at, &mut told))),
                zone: column.zone_at.map_or("", |at| beside(row.cell(at, &mut zone))),
            };
            if let Some((clock, zone)) = compiled.clock(place, value, memory) {
                let name = by.map_or("", |at| beside(row.cell(at, &mut name)));
                folds.observe(number, name, clock, zone);
            }
        }
        Ok(())
    })?;
    for (column, folds, _) in asked {
        let compiled = column.inference.compiled.take();
        column.inference.compiled = compiled.map(|compiled| compiled.knowing(folds.finish()));
    }
    Ok(())
}
