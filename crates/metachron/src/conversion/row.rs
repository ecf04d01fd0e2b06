//! What a row comes to.

use std::fmt::Write;

use metachron_core::apply::Outcome;
use metachron_core::reading::{Fit, RowPlace};
use metachron_core::steps::{Item, Unmade};
use metachron_core::typed::TypedValue;
use metachron_core::value::Value;
use metachron_core::write::{basic, iso};
use metachron_tables::deliver::{Cell, CellRows};
use metachron_tables::table::Row;

use super::made::{Kept, SoFar, item};
use super::plan::ConversionPlan;
use super::reader::ColumnReader;
use super::rejects::{Reject, RejectRows};
use super::sorting::Sorting;
use super::tally::ConversionTally;
use crate::survey::{SurveyedColumn, told};
use crate::words::why_unread;

/// Texts of cells.
#[derive(Default)]
struct Buffers {
    cell: String,
    beside: String,
    zone: String,
}

impl Buffers {
    /// The cell of a column, and what its row says of how it is read.
    fn cell<'b>(
        &'b mut self,
        column: &SurveyedColumn,
        row_number: u64,
        row: &'b Row<'_>,
    ) -> (RowPlace<'b>, Value<'b>) {
        let SurveyedColumn { plan, .. } = column;
        let beside = plan.beside.map_or("", |at| told(row.cell(at, &mut self.beside)));
        let zone = plan.zone_at.map_or("", |at| told(row.cell(at, &mut self.zone)));
        let place = RowPlace { row: row_number, beside, zone };
        (place, row.cell(plan.index, &mut self.cell))
    }
}

/// What a row comes to; used again for the next one.
pub struct ConvertedRow<'p> {
    plan: &'p ConversionPlan<'p>,
    /// What reads the typed columns, in their order.
    readers: Vec<ColumnReader<'p>>,
    buffers: Buffers,
    /// Whether the row is written.
    pub is_written: bool,
    /// What the series have come to.
    series: Vec<Item>,
    /// What was made.
    made: Vec<Item>,
    /// What a column is made from.
    inputs: Vec<Item>,
    /// Columns that could not be made, each with what it was made from and why.
    unmade: Vec<(&'p str, String, Unmade)>,
    /// Where the row goes, if rows are sorted.
    key: Vec<u8>,
    /// Where the texts of the new cells stand.
    places: Vec<CellText>,
    /// Those of them that are not with the readers.
    others: Vec<String>,
    /// The new cells, typed.
    values: CellRows,
}

/// Where the text of a new cell stands.
#[derive(Clone, Copy)]
enum CellText {
    /// With a reader: which of its cells it is.
    Read(usize, usize),
    /// Among the other ones.
    Other(usize),
}

/// What typed columns have read, by their places.
fn read_by<'r>(readers: &'r [ColumnReader<'_>]) -> impl Fn(usize) -> Item + 'r {
    |at| item(readers[at].outcome())
}

impl CellText {
    /// Where those of a plan stand, in their order.
    fn all(plan: &ConversionPlan<'_>) -> Vec<CellText> {
        let columns = plan.columns.iter().enumerate();
        let read = columns.flat_map(|(reader, column)| {
            (0..column.width()).map(move |cell| CellText::Read(reader, cell))
        });
        let read: Vec<CellText> = read.collect();
        let beside = plan.series.len() + plan.made.len() + usize::from(plan.stamp.is_some());
        // Texts in the basic format are those of the readers changed.
        match plan.is_basic() {
            true => (0..read.len() + beside).map(CellText::Other).collect(),
            false => read.into_iter().chain((0..beside).map(CellText::Other)).collect(),
        }
    }

    fn is_other(&self) -> bool {
        matches!(self, CellText::Other(_))
    }
}

impl<'p> ConvertedRow<'p> {
    /// Of no row yet.
    pub fn of(plan: &'p ConversionPlan<'_>) -> ConvertedRow<'p> {
        let places = CellText::all(plan);
        ConvertedRow {
            plan,
            readers: plan.columns.iter().map(|column| ColumnReader::of(column, plan)).collect(),
            buffers: Buffers::default(),
            is_written: false,
            series: Vec::new(),
            made: Vec::new(),
            inputs: Vec::new(),
            unmade: Vec::new(),
            key: Vec::new(),
            others: vec![String::new(); places.iter().filter(|own| own.is_other()).count()],
            places,
            values: CellRows::default(),
        }
    }

    /// Takes in a row, counted.
    pub fn take(&mut self, number: u64, row: &Row<'_>, tally: &mut ConversionTally) {
        self.read(number, row, tally);
        self.go_on(row, tally);
        self.make(self.plan.made.len(), row, tally);
        let kept = {
            let typed = read_by(&self.readers);
            let so_far = SoFar { typed: &typed, series: &self.series, made: &self.made };
            self.plan.filter.keeps(row, &so_far, &mut self.buffers.cell)
        };
        self.is_written = kept == Kept::Yes;
        match kept {
            Kept::Yes => self.look(number, row, tally),
            Kept::No => tally.left_out += 1,
            Kept::Unclear => tally.unclear += 1,
        }
    }

    /// Takes in what came out, where that is looked at.
    fn look(&mut self, number: u64, row: &Row<'_>, tally: &mut ConversionTally) {
        let Some(samples) = &self.plan.samples else { return };
        let columns = self.plan.columns.iter().zip(samples).zip(&mut tally.columns);
        for (((column, samples), tally), reader) in columns.zip(&mut self.readers) {
            reader.write(number, tally);
            let Outcome::Read(fit) = reader.outcome() else { continue };
            samples.observe(&mut tally.came_out, (number, fit), || {
                let (_, value) = self.buffers.cell(column.source, number, row);
                value.to_text().into_owned()
            });
        }
        for (item, tally) in self.made.iter().zip(&mut tally.made) {
            match item {
                Item::Typed(value) => tally.timeline.observe(number, *value, None),
                Item::Zoned(moment, clock) => {
                    tally.timeline.observe(number, TypedValue::Instant(*moment), Some(*clock));
                }
                _ => {}
            }
        }
    }

    /// What the made column at this place is made from in a row.
    pub fn inputs_of(
        &mut self,
        at: usize,
        number: u64,
        row: &Row<'_>,
        tally: &mut ConversionTally,
    ) -> &[Item] {
        self.read(number, row, tally);
        self.go_on(row, tally);
        self.make(at, row, tally);
        let typed = read_by(&self.readers);
        let so_far = SoFar { typed: &typed, series: &self.series, made: &self.made };
        self.plan.made[at].inputs(&mut self.inputs, row, &so_far, &mut self.buffers.cell);
        &self.inputs
    }

    /// Reads the typed columns.
    fn read(&mut self, number: u64, row: &Row<'_>, tally: &mut ConversionTally) {
        let columns = self.plan.columns.iter().zip(&mut self.readers).zip(&mut tally.columns);
        for (at, ((column, reader), tally)) in columns.enumerate() {
            let (place, value) = self.buffers.cell(column.source, number, row);
            let right = self.plan.fixes.of(at, number, &value);
            tally.fixed += u64::from(right.is_some());
            reader.read(place, value, right, tally);
        }
    }

    /// Ends the rows of a tally: what is still held of them is added to it.
    pub fn end(&mut self, tally: &mut ConversionTally) {
        for (reader, tally) in self.readers.iter_mut().zip(&mut tally.columns) {
            reader.settle(tally);
        }
    }

    /// The next values of series.
    fn go_on(&mut self, row: &Row<'_>, tally: &mut ConversionTally) {
        self.series.clear();
        self.unmade.clear();
        for (own, tally) in self.plan.series.iter().zip(&mut tally.series) {
            let next = own.next(tally, row, &mut self.buffers.cell).unwrap_or_else(|why| {
                self.unmade.push((&own.name, String::new(), why));
                Item::Missing
            });
            self.series.push(next);
        }
    }

    /// Makes the first so many made columns of what was read, each with the help of those before it.
    fn make(&mut self, first: usize, row: &Row<'_>, tally: &mut ConversionTally) {
        self.made.clear();
        let typed = read_by(&self.readers);
        for (own, tally) in self.plan.made[..first].iter().zip(&mut tally.made) {
            let so_far = SoFar { typed: &typed, series: &self.series, made: &self.made };
            own.inputs(&mut self.inputs, row, &so_far, &mut self.buffers.cell);
            let made = own.make(&self.inputs, tally).unwrap_or_else(|why| {
                let inputs: Vec<String> = self.inputs.iter().map(ToString::to_string).collect();
                self.unmade.push((&own.name, inputs.join("; "), why));
                Item::Missing
            });
            self.made.push(made);
        }
    }

    /// What the made column at this place has come to.
    pub fn made(&self, at: usize) -> &Item {
        self.made.get(at).unwrap_or(&Item::Missing)
    }

    /// What the value of the typed column at this place was read as, if it was.
    pub fn read_as(&self, at: usize) -> Option<&Fit> {
        match self.readers.get(at).map(ColumnReader::outcome) {
            Some(Outcome::Read(fit)) => Some(fit),
            _ => None,
        }
    }

    /// The cell of any column, and what its row says of how it is read.
    pub fn cell<'b>(
        &'b mut self,
        column: &SurveyedColumn,
        number: u64,
        row: &'b Row<'_>,
    ) -> (RowPlace<'b>, Value<'b>) {
        self.buffers.cell(column, number, row)
    }

    /// The raw value of the typed column at this place.
    pub fn raw(&mut self, at: usize, number: u64, row: &Row<'_>) -> String {
        let column = self.plan.columns.get(at);
        column.map_or(String::new(), |own| {
            self.buffers.cell(own.source, number, row).1.to_text().into()
        })
    }

    /// Spells the new cells: then the [`text`](ConvertedRow::text) of each is there.
    pub fn spell(&mut self) {
        self.readers.iter_mut().for_each(ColumnReader::spell);
        if self.others.is_empty() {
            return;
        }
        let mut others = std::mem::take(&mut self.others);
        others.iter_mut().for_each(String::clear);
        let (mut cells, plan) = (others.iter_mut(), self.plan);
        if plan.is_basic() {
            let read = self.readers.iter().flat_map(ColumnReader::cells);
            read.zip(cells.by_ref()).for_each(|(text, cell)| cell.push_str(text));
        }
        for (made, cell) in self.series.iter().chain(&self.made).zip(cells.by_ref()) {
            // Writing to a string cannot fail.
            let _ = write!(cell, "{made}");
        }
        if let (Some((_, moment)), Some(cell)) = (&plan.stamp, cells.next()) {
            // Writing to a string cannot fail.
            let _ = iso(cell, TypedValue::Instant(*moment), 0);
        }
        for (cell, kind) in others.iter_mut().zip(plan.basic.iter().flatten()) {
            if let Some(kind) = kind {
                *cell = basic(cell, *kind);
            }
        }
        self.others = others;
    }

    /// The text of the new cell of this number, once they are spelled.
    pub fn text(&self, at: usize) -> &str {
        match self.places.get(at) {
            Some(CellText::Read(reader, cell)) => self.readers[*reader].cell(*cell),
            Some(CellText::Other(at)) => &self.others[*at],
            None => "",
        }
    }

    /// The new cells typed; texts in the basic format are texts here too.
    pub fn values(&mut self) -> &CellRows {
        let (mut cells, plan) = (std::mem::take(&mut self.values), self.plan);
        cells.clear();
        for (column, reader) in plan.columns.iter().zip(&self.readers) {
            column.values(reader.outcome(), reader.code(), &mut cells);
        }
        for item in self.series.iter().chain(&self.made) {
            match item {
                Item::Missing => cells.push(Cell::Missing),
                Item::Typed(moment) => cells.push(Cell::Typed(*moment)),
                Item::Zoned(moment, _) => cells.push(Cell::Typed(TypedValue::Instant(*moment))),
                Item::Number(number) => cells.push(Cell::Number(&number.to_string())),
                Item::Truth(truth) => cells.push(Cell::Truth(*truth)),
                Item::Text(text) => cells.push(Cell::of_text(text)),
                Item::Span(..) => cells.push(Cell::Text(&item.to_string())),
            }
        }
        if let Some((_, now)) = &plan.stamp {
            cells.push(Cell::Typed(TypedValue::Instant(*now)));
        }
        if plan.is_basic() {
            self.spell();
            let mut texts = CellRows::default();
            for at in 0..cells.len() {
                texts.push(match cells.get(at) {
                    Cell::Typed(_) => Cell::of_text(self.text(at)),
                    other => other,
                });
            }
            cells = texts;
        }
        self.values = cells;
        &self.values
    }

    /// Where the row goes.
    pub fn key(&mut self, sorting: &Sorting, row: &Row<'_>) -> &[u8] {
        self.key.clear();
        let typed = read_by(&self.readers);
        let so_far = SoFar { typed: &typed, series: &self.series, made: &self.made };
        sorting.key(row, &so_far, &mut self.buffers.cell, &mut self.key);
        &self.key
    }

    /// The cells of typed columns that were not read: each with the place of its column, its value, and why.
    pub fn unread(&mut self, number: u64, row: &Row<'_>) -> Vec<(usize, String, String)> {
        let mut all = Vec::new();
        for (at, (column, reader)) in self.plan.columns.iter().zip(&mut self.readers).enumerate() {
            if !matches!(reader.outcome(), Outcome::Read(_) | Outcome::Missing) {
                let (_, value) = self.buffers.cell(column.source, number, row);
                let outcome = reader.plain_outcome(&value);
                all.push((at, value.to_text().into_owned(), why_unread(outcome, &value)));
            }
        }
        all
    }

    /// Lists the cells that are not what they should be; whether one could not be read or made.
    pub fn reject(&mut self, number: u64, row: &Row<'_>, rejects: Option<&mut RejectRows>) -> bool {
        let mut unread = !self.unmade.is_empty();
        let mut rejects = rejects;
        for (column, reader) in self.plan.columns.iter().zip(&mut self.readers) {
            let outcome = reader.outcome();
            if matches!(outcome, Outcome::Read(_) | Outcome::Missing) {
                continue;
            }
            unread |= *outcome != Outcome::Placeholder;
            if let Some(rejects) = &mut rejects {
                let (_, value) = self.buffers.cell(column.source, number, row);
                let (column, outcome) = (&column.source.plan.name, reader.plain_outcome(&value));
                rejects.push(&Reject { row: number, raw: row, column, value, outcome });
            }
        }
        if let Some(rejects) = rejects {
            for (name, inputs, why) in &self.unmade {
                rejects.push_unmade(number, row, name, inputs, why);
            }
        }
        unread
    }
}
