//! Reads the values of a column: those that come again are found by their texts, and counted together.

use metachron_core::apply::{Outcome, Scratch};
use metachron_core::reading::RowPlace;
use metachron_core::text::{ByText, Repeats};
use metachron_core::timeline::RowsOfValue;
use metachron_core::typed::{Kind, TypedValue};
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
    known: Option<KnownValues>,
    /// The number of the value in this row, if it is remembered.
    now: Option<usize>,
    /// What the value in this row has come to, if it is not.
    own: ComeTo,
    /// The texts of the cells that were spelled last.
    cells: Vec<String>,
}

/// Values that were read, found by their texts.
struct KnownValues {
    all: ByText<KnownValue>,
    /// What their cells say.
    spelled: Spelled,
    /// So many are remembered at most.
    most: usize,
    /// Whether they are worth that.
    repeats: Repeats,
}

/// What a value has come to.
struct ComeTo {
    outcome: Outcome,
    /// Whether that is said as plainly as it can be.
    is_plain: bool,
    /// Why the cell is empty, where that is to be noted.
    code: &'static str,
}

impl ComeTo {
    /// The outcome, said from now on as plainly as it can be: that takes a while.
    fn plainly(&mut self, value: &Value<'_>, kind: Kind) -> &Outcome {
        if !self.is_plain {
            self.outcome = plainest(self.outcome, value, kind);
            self.is_plain = true;
        }
        &self.outcome
    }
}

/// A value that is remembered, with its rows that are not yet counted.
struct KnownValue {
    come_to: ComeTo,
    /// The number of the first of its cells, once they are spelled.
    cells: Option<u32>,
    /// All rows, and the first.
    rows: u64,
    first: u64,
    /// Those that are written.
    written: Option<RowsOfValue>,
}

/// The texts of cells, one behind the other: a value that is remembered takes no room of its own for them.
#[derive(Default)]
struct Spelled {
    text: String,
    /// Where each ends.
    ends: Vec<usize>,
}

impl Spelled {
    /// Adds cells; the number of the first.
    fn add(&mut self, cells: &[String]) -> u32 {
        let first = self.ends.len() as u32;
        for cell in cells {
            self.text.push_str(cell);
            self.ends.push(self.text.len());
        }
        first
    }

    /// The text of this number.
    fn get(&self, at: usize) -> &str {
        let begin = at.checked_sub(1).map_or(0, |before| self.ends[before]);
        &self.text[begin..self.ends[at]]
    }

    fn clear(&mut self) {
        self.text.clear();
        self.ends.clear();
    }
}

impl<'p> ColumnReader<'p> {
    /// Of a column of a plan.
    pub fn of(column: &'p TypedColumn<'_>, plan: &ConversionPlan<'_>) -> ColumnReader<'p> {
        let is_of_text_alone = plan.fixes.is_empty() && column.compiled.is_of_text_alone();
        let known = || KnownValues {
            all: ByText::default(),
            spelled: Spelled::default(),
            most: REMEMBERED / plan.columns.len().max(1),
            repeats: Repeats::default(),
        };
        ColumnReader {
            column,
            scratch: match is_of_text_alone {
                // What is remembered here is remembered once.
                true => column.compiled.scratch().forgetful(),
                false => column.compiled.scratch(),
            },
            counts_reasons: plan.counts_reasons,
            known: is_of_text_alone.then(known),
            now: None,
            own: ComeTo { outcome: Outcome::Missing, is_plain: true, code: "" },
            cells: vec![String::new(); column.width()],
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
        let remembered = match value {
            Value::Text(text) if self.remembers() => Some(text),
            _ => None,
        };
        if let Some(text) = remembered {
            self.now = self.known.as_mut().and_then(|known| known.meet(text, place.row));
            if self.now.is_some() {
                return;
            }
            self.make_room(tally);
        }
        let come_to = self.come_to_anew(place, value, right);
        self.own = match (&mut self.known, remembered) {
            (Some(known), Some(text)) => {
                let (cells, first) = (None, place.row);
                let new = KnownValue { come_to, cells, rows: 1, first, written: None };
                match known.all.add(text, new) {
                    Ok(at) => return self.now = Some(at),
                    Err(new) => new.come_to,
                }
            }
            _ => come_to,
        };
        count(self.column, self.counts_reasons, tally, (place, 1), value, &self.own);
    }

    /// Whether the next text is worth being looked for and remembered.
    fn remembers(&mut self) -> bool {
        self.known.as_mut().is_some_and(|known| known.repeats.are_likely())
    }

    /// Forgets all values if no more are remembered; first their rows are counted.
    fn make_room(&mut self, tally: &mut ColumnTally) {
        if self.known.as_ref().is_some_and(|known| known.all.len() >= known.most) {
            self.settle(tally);
            self.known.iter_mut().for_each(KnownValues::forget);
        }
    }

    /// What a value comes to that is not remembered.
    fn come_to_anew(
        &mut self,
        place: RowPlace<'_>,
        value: Value<'_>,
        right: Option<TypedValue>,
    ) -> ComeTo {
        let outcome = self.column.read(&mut self.scratch, place, value, right);
        let mut come_to = ComeTo { outcome, is_plain: false, code: "" };
        if self.column.note_name.is_some() || self.counts_reasons {
            come_to.code = code(come_to.plainly(&value, self.column.compiled.reading().kind));
        }
        come_to
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
                let written = &mut known.all[at].written;
                *written = Some(written.map_or(one, |own| own.and(one)));
            }
            None => timeline.add(one, clock),
        }
    }

    /// Counts the rows of remembered values that are not yet counted.
    pub fn settle(&mut self, tally: &mut ColumnTally) {
        let (column, clock) = (self.column, self.column.clock_of_days());
        let Some(known) = &mut self.known else { return };
        for (text, own) in known.all.iter_mut() {
            let rows = std::mem::take(&mut own.rows);
            if rows > 0 {
                let rows = (RowPlace::from(own.first), rows);
                count(column, self.counts_reasons, tally, rows, Value::Text(text), &own.come_to);
            }
            if let Some(written) = own.written.take() {
                tally.came_out.timeline.add(written, clock);
            }
        }
    }

    fn come_to(&self) -> &ComeTo {
        match (self.now, &self.known) {
            (Some(at), Some(known)) => &known.all[at].come_to,
            _ => &self.own,
        }
    }

    /// What the value in this row was read as.
    pub fn outcome(&self) -> &Outcome {
        &self.come_to().outcome
    }

    /// The same of this value, said as plainly as it can be.
    pub fn plain_outcome(&mut self, value: &Value<'_>) -> &Outcome {
        let kind = self.column.compiled.reading().kind;
        let come_to = match (self.now, &mut self.known) {
            (Some(at), Some(known)) => &mut known.all[at].come_to,
            _ => &mut self.own,
        };
        come_to.plainly(value, kind)
    }

    /// Why its cell is empty, where that is to be noted.
    pub fn code(&self) -> &'static str {
        self.come_to().code
    }

    /// Spells its cells, unless they are.
    pub fn spell(&mut self) {
        let ColumnReader { column, known, now, own, cells, .. } = self;
        let mut spell = |own: &ComeTo| {
            cells.iter_mut().for_each(String::clear);
            column.spell(&own.outcome, own.code, cells);
        };
        match now.zip(known.as_mut()) {
            Some((at, KnownValues { all, spelled, .. })) if all[at].cells.is_none() => {
                spell(&all[at].come_to);
                all[at].cells = Some(spelled.add(cells));
            }
            Some(_) => {}
            None => spell(own),
        }
    }

    /// The texts of its cells, once they are spelled.
    pub fn cells(&self) -> impl Iterator<Item = &str> {
        (0..self.cells.len()).map(|at| self.cell(at))
    }

    /// The text of one of its cells, once they are spelled.
    pub fn cell(&self, at: usize) -> &str {
        let known = self.now.zip(self.known.as_ref());
        match known.and_then(|(value, known)| Some((known.all[value].cells?, known))) {
            Some((first, known)) => known.spelled.get(first as usize + at),
            None => &self.cells[at],
        }
    }
}

impl KnownValues {
    /// The number of the value that this row has, if it is remembered; then the row is one of its rows.
    fn meet(&mut self, text: &str, row: u64) -> Option<usize> {
        let at = self.all.find(text)?;
        let own = &mut self.all[at];
        if own.rows == 0 {
            own.first = row;
        }
        own.rows += 1;
        self.repeats.note();
        Some(at)
    }

    fn forget(&mut self) {
        self.repeats.forget(self.all.len());
        self.all.clear();
        self.spelled.clear();
    }
}

/// Counts so many rows with a value, of which one stands here, and what it has come to.
fn count(
    column: &TypedColumn<'_>,
    counts_reasons: bool,
    tally: &mut ColumnTally,
    rows: (RowPlace<'_>, u64),
    value: Value<'_>,
    ComeTo { outcome, code, .. }: &ComeTo,
) {
    column.count(tally, rows, value, outcome);
    if counts_reasons && !code.is_empty() {
        tally.note_reason(code, rows, outcome);
    }
}
