//! Reads the values of a column: those that come again are found by their texts, and counted together.

use metachron_core::apply::{Outcome, Scratch};
use metachron_core::reading::RowPlace;
use metachron_core::text::{ByText, Repeats};
use metachron_core::timeline::RowsOfValue;
use metachron_core::typed::TypedValue;
use metachron_core::value::Value;

use super::plan::ConversionPlan;
use super::rejects::{code, plainest};
use super::tally::ColumnTally;
use super::typed::TypedColumn;

/// Values of all columns together that a worker remembers.
const REMEMBERED: usize = 16_384;

/// Reads the values of a column, row by row.
pub struct ColumnReader<'p> {
    column: &'p TypedColumn<'p>,
    scratch: Scratch<'p>,
    /// Whether reasons are counted.
    counts_reasons: bool,
    /// What was read before; nothing where equal texts may come to different things.
    known: Option<ByText<KnownValue>>,
    /// So many values are remembered at most.
    most_known: usize,
    /// Whether they are worth that.
    repeats: Repeats,
    /// The number of the value in this row, if it is remembered.
    now: Option<usize>,
    /// What the value in this row has come to, if it is not.
    own: ComeTo,
}

/// What a value has come to.
struct ComeTo {
    outcome: Outcome,
    /// Why the cell is empty, where that is to be noted.
    code: &'static str,
    /// The texts of its cells; none before they were asked for.
    cells: Vec<String>,
}

/// A value that is remembered, with its rows that are not yet counted.
struct KnownValue {
    come_to: ComeTo,
    /// All of them, and the first.
    rows: u64,
    first: u64,
    /// Those that are written.
    written: Option<RowsOfValue>,
}

impl<'p> ColumnReader<'p> {
    /// Of a column of a plan.
    pub fn of(column: &'p TypedColumn<'_>, plan: &ConversionPlan<'_>) -> ColumnReader<'p> {
        let is_of_text_alone = plan.fixes.is_empty() && column.compiled.is_of_text_alone();
        ColumnReader {
            column,
            scratch: column.compiled.scratch(),
            counts_reasons: plan.counts_reasons,
            known: is_of_text_alone.then(ByText::default),
            most_known: REMEMBERED / plan.columns.len().max(1),
            repeats: Repeats::default(),
            now: None,
            own: ComeTo { outcome: Outcome::Missing, code: "", cells: Vec::new() },
        }
    }

    /// Reads the value of the next row.
    pub fn read(
        &mut self,
        place: RowPlace<'_>,
        value: Value<'_>,
        right: Option<TypedValue>,
        tally: &mut ColumnTally,
    ) {
        self.now = None;
        let remembers = self.known.is_some() && self.repeats.are_likely();
        if let (Some(known), Value::Text(text), true) = (&mut self.known, value, remembers) {
            if let Some(at) = known.find(text) {
                let own = &mut known[at];
                own.first = if own.rows == 0 { place.row } else { own.first };
                own.rows += 1;
                self.now = Some(at);
                return self.repeats.note();
            }
            if known.len() >= self.most_known {
                self.repeats.forget(known.len());
                self.settle(tally);
                self.known.iter_mut().for_each(ByText::clear);
            }
        }
        let outcome = self.column.read(&mut self.scratch, place, value, right);
        let kind = self.column.compiled.reading().kind;
        let is_noted = self.column.note_name.is_some() || self.counts_reasons;
        let code = if is_noted { code(&plainest(outcome, &value, kind)) } else { "" };
        let come_to = ComeTo { outcome, code, cells: Vec::new() };
        self.own = match (&mut self.known, value, remembers) {
            (Some(known), Value::Text(text), true) => {
                let new = KnownValue { come_to, rows: 1, first: place.row, written: None };
                match known.add(text, new) {
                    Ok(at) => return self.now = Some(at),
                    Err(new) => new.come_to,
                }
            }
            _ => come_to,
        };
        self.column.count(tally, (place, 1), value, &outcome);
        if self.counts_reasons && !code.is_empty() {
            tally.note_reason(code, (place, 1), &outcome);
        }
    }

    /// Takes in that the row is written, if its value was read.
    pub fn write(&mut self, row: u64, tally: &mut ColumnTally) {
        let Outcome::Read(fit) = self.outcome() else { return };
        let (value, clock) = (fit.moment, self.column.clock_of_days());
        let timeline = &mut tally.came_out.timeline;
        timeline.follow(row, value);
        let one = RowsOfValue::one(row, value);
        match self.now.zip(self.known.as_mut()) {
            Some((at, known)) => {
                let written = &mut known[at].written;
                *written = Some(written.map_or(one, |own| own.and(one)));
            }
            None => timeline.add(one, clock),
        }
    }

    /// Counts the rows of remembered values that are not yet counted.
    pub fn settle(&mut self, tally: &mut ColumnTally) {
        let (column, clock) = (self.column, self.column.clock_of_days());
        for (text, own) in self.known.iter_mut().flat_map(ByText::iter_mut) {
            let rows = std::mem::take(&mut own.rows);
            if rows > 0 {
                let place = RowPlace::from(own.first);
                let ComeTo { outcome, code, .. } = &own.come_to;
                column.count(tally, (place, rows), Value::Text(text), outcome);
                if self.counts_reasons && !code.is_empty() {
                    tally.note_reason(code, (place, rows), outcome);
                }
            }
            if let Some(written) = own.written.take() {
                tally.came_out.timeline.add(written, clock);
            }
        }
    }

    fn come_to(&self) -> &ComeTo {
        match (self.now, &self.known) {
            (Some(at), Some(known)) => &known[at].come_to,
            _ => &self.own,
        }
    }

    /// What the value in this row was read as.
    pub fn outcome(&self) -> &Outcome {
        &self.come_to().outcome
    }

    /// Why its cell is empty, where that is to be noted.
    pub fn code(&self) -> &'static str {
        self.come_to().code
    }

    /// The texts of its cells.
    pub fn cells(&mut self) -> &[String] {
        let own = match (self.now, &mut self.known) {
            (Some(at), Some(known)) => &mut known[at].come_to,
            _ => &mut self.own,
        };
        if own.cells.is_empty() {
            own.cells.resize(self.column.width(), String::new());
            self.column.spell(&own.outcome, own.code, &mut own.cells);
        }
        &own.cells
    }
}
