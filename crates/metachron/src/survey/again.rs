//! Passes over the table that only some columns need, once it has been looked at: beside other columns, or for the hours
//! that came twice.

use metachron_core::apply::{Compiled, Outcome, Scratch};
use metachron_core::epoch::Epoch;
use metachron_core::evidence::ObserveOptions;
use metachron_core::infer::{Looked, conclude};
use metachron_core::reading::{FoldObserver, RepeatedClock, RowPlace, Serials};
use metachron_core::typed::Kind;
use metachron_core::value::Value;
use metachron_core::verdict::{CountedBeside, OriginsBeside};
use metachron_tables::table::Row;

use super::column::SurveyedColumn;
use super::look::{Viewer, told};
use crate::intake::Intake;
use crate::message::Failure;
use crate::pass::{Pass, Rows};

/// Looks again at numbers that may count from several origins, or that somebody has an origin for, where the days of
/// another column show from which.
pub fn settle_origins(viewer: Viewer<'_>, columns: &mut [SurveyedColumn]) -> Result<(), Failure> {
    let Viewer { intake, choices, .. } = viewer;
    let pass = BesideDates::of(columns);
    if pass.dates.is_empty() || pass.open.is_empty() {
        return Ok(());
    }
    let rows = Rows::all(intake).first(choices.first_rows);
    let tally = rows.drive(&pass, pass.tally())?.tally;
    let mut settled = Vec::new();
    for (open, beside) in pass.open.iter().zip(&tally) {
        let beside = pass.dates.iter().zip(beside).find_map(|(date, beside)| {
            let (epoch, same, rows) = beside.settles()?;
            let of_days = date.kind == Kind::Date || epoch.kind(false) != Kind::Instant;
            Some(CountedBeside { epoch, column: date.name.to_owned(), of_days, same, rows })
        });
        settled.extend(beside.map(|beside| (open.index, open.said, beside)));
    }
    for (index, said, beside) in settled {
        let Some(column) = columns.iter_mut().find(|column| column.plan.index == index) else {
            continue;
        };
        let epoch = beside.epoch;
        if said.is_some() {
            column.asserted.counted_beside = Some(beside);
            *column.inference = conclude(&column.evidence, &column.options, &column.asserted);
            continue;
        }
        let serials = Some(Serials { epoch, are_times: false });
        let options = ObserveOptions { serials, ..column.options.clone() };
        let mut seen = viewer.observe(&[(&column.plan, &options)])?;
        let mut asserted = column.asserted.clone();
        asserted.counted_beside = Some(beside);
        let evidence = seen.evidence.remove(0);
        let inference = Box::new(conclude(&evidence, &options, &asserted));
        let (first, first_options) = column.first();
        let first_look = Some(Box::new((first.clone(), first_options.clone())));
        let looked = Looked { evidence, options, first_look, inference };
        let (plan, of_first_rows) = (column.plan.clone(), column.of_first_rows);
        *column = SurveyedColumn::new(plan, asserted, looked, of_first_rows);
    }
    Ok(())
}

/// Whether the dates of other columns may show from where the numbers of this one count.
pub fn may_be_settled(column: &SurveyedColumn) -> bool {
    OpenNumbers::of(column).is_some()
}

/// Holding numbers against the dates beside them.
struct BesideDates<'c> {
    dates: Vec<DateColumn<'c>>,
    open: Vec<OpenNumbers>,
}

/// A column of numbers whose origin the dates beside may show.
struct OpenNumbers {
    index: usize,
    /// The origins from which they may count.
    epochs: Vec<Epoch>,
    /// The one that somebody said.
    said: Option<Epoch>,
}

impl OpenNumbers {
    fn of(column: &SurveyedColumn) -> Option<OpenNumbers> {
        let said = column.options.serials.map(|serials| serials.epoch);
        let SurveyedColumn { evidence, asserted, .. } = column;
        let judgement = &column.inference.judgement;
        let epochs = OriginsBeside::possible(judgement, evidence, asserted, said);
        let index = column.plan.index;
        (!epochs.is_empty()).then_some(OpenNumbers { index, epochs, said })
    }
}

struct DateColumn<'c> {
    name: &'c str,
    kind: Kind,
    index: usize,
    compiled: &'c Compiled,
}

impl<'c> BesideDates<'c> {
    fn of(columns: &'c [SurveyedColumn]) -> BesideDates<'c> {
        let date = |column: &'c SurveyedColumn| {
            let compiled = column.inference.compiled.as_ref()?;
            let kind = compiled.reading().kind;
            let dated = matches!(kind, Kind::Date | Kind::DateTime | Kind::Instant);
            dated.then_some(DateColumn {
                name: &column.plan.name,
                kind,
                index: column.plan.index,
                compiled,
            })
        };
        // Numbers show nothing of each other.
        let is_plain = |c: &&SurveyedColumn| {
            c.plan.beside.is_none() && c.plan.zone_at.is_none() && c.options.serials.is_none()
        };
        let dates = columns.iter().filter(is_plain).filter_map(date).collect();
        BesideDates { dates, open: columns.iter().filter_map(OpenNumbers::of).collect() }
    }

    fn tally(&self) -> Vec<Vec<OriginsBeside>> {
        let one =
            |open: &OpenNumbers| vec![OriginsBeside::new(open.epochs.clone()); self.dates.len()];
        self.open.iter().map(one).collect()
    }
}

impl Pass for BesideDates<'_> {
    type Scratch<'p>
        = (Vec<Scratch<'p>>, String, String)
    where
        Self: 'p;
    /// Of each open column, beside each date.
    type Tally = Vec<Vec<OriginsBeside>>;

    fn scratch(&self) -> Self::Scratch<'_> {
        let readers = self.dates.iter().map(|date| date.compiled.scratch()).collect();
        (readers, String::new(), String::new())
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        (readers, buffer, other): &mut Self::Scratch<'p>,
        tally: &mut Self::Tally,
    ) {
        for (at, (date, reader)) in self.dates.iter().zip(readers).enumerate() {
            let Outcome::Read(fit) = reader.apply(number, row.cell(date.index, buffer)) else {
                continue;
            };
            for (open, beside) in self.open.iter().zip(tally.iter_mut()) {
                if let Value::Text(text) | Value::Number(text) = row.cell(open.index, other) {
                    beside[at].observe(text, fit.moment);
                }
            }
        }
    }
}

/// Looks again at the columns whose repeated hours are to be told apart by their sequence.
pub fn tell_repeated_hours(intake: &Intake, columns: &mut [SurveyedColumn]) -> Result<(), Failure> {
    let asks = |compiled: &Compiled| {
        let reading = compiled.reading();
        reading.zoning.is_some() && reading.terms.changes.repeated == RepeatedClock::BySequence
    };
    let mut clocks = Vec::new();
    for (at, column) in columns.iter().enumerate() {
        if let Some(compiled) = column.inference.compiled.as_ref().filter(|own| asks(own)) {
            let by = column.plan.decisions.clocks.sequence_by.as_deref();
            let by = by.map(|name| intake.position(name)).transpose()?;
            clocks.push(ClockColumn { at, column, compiled, by });
        }
    }
    if clocks.is_empty() {
        return Ok(());
    }
    let pass = RepeatedHours { clocks };
    let tally = pass.clocks.iter().map(|_| FoldObserver::default()).collect();
    let folds = Rows::all(intake).drive(&pass, tally)?.tally;
    let told: Vec<(usize, Compiled)> = pass
        .clocks
        .iter()
        .zip(folds)
        .map(|(own, folds)| (own.at, own.compiled.clone().knowing(folds.finish())))
        .collect();
    for (at, compiled) in told {
        columns[at].inference.compiled = Some(compiled);
    }
    Ok(())
}

/// Telling hours that came twice apart.
struct RepeatedHours<'c> {
    clocks: Vec<ClockColumn<'c>>,
}

/// A column of clock times.
struct ClockColumn<'c> {
    /// Its place among those that were looked at.
    at: usize,
    column: &'c SurveyedColumn,
    compiled: &'c Compiled,
    /// The column that names the clock of each row.
    by: Option<usize>,
}

/// What reads a column, and the texts of cells.
struct ClockReader<'p> {
    clock: Scratch<'p>,
    cell: String,
    told: String,
    zone: String,
    name: String,
}

impl Pass for RepeatedHours<'_> {
    type Scratch<'p>
        = Vec<ClockReader<'p>>
    where
        Self: 'p;
    type Tally = Vec<FoldObserver>;

    fn scratch(&self) -> Vec<ClockReader<'_>> {
        let text = String::new;
        let clocks = self.clocks.iter().map(|own| own.compiled.scratch());
        clocks
            .map(|clock| ClockReader {
                clock,
                cell: text(),
                told: text(),
                zone: text(),
                name: text(),
            })
            .collect()
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut Vec<ClockReader<'p>>,
        tally: &mut Vec<FoldObserver>,
    ) {
        for ((own_column, own), folds) in self.clocks.iter().zip(scratch).zip(tally) {
            let column = own_column.column;
            let value = row.cell(column.plan.index, &mut own.cell);
            let place = RowPlace {
                row: number,
                beside: column.plan.beside.map_or("", |at| told(row.cell(at, &mut own.told))),
                zone: column.plan.zone_at.map_or("", |at| told(row.cell(at, &mut own.zone))),
            };
            if let Some((clock, zone)) = own.clock.clock(place, value) {
                let name = own_column.by.map_or("", |at| told(row.cell(at, &mut own.name)));
                folds.observe(number, name, clock, zone);
            }
        }
    }
}
