//! The cells that were not read, each with its place and reason, as a table of its own.

use std::io::Write;
use std::path::Path;

use metachron_core::apply::Outcome;
use metachron_core::candidates::kind_alone;
use metachron_core::reading::Terms;
use metachron_core::reading::Unfit;
use metachron_core::steps::Unmade;
use metachron_core::text::normalise;
use metachron_core::typed::Kind;
use metachron_core::value::Value;
use metachron_tables::delimited::as_field;
use metachron_tables::dialect::Delimiter;
use metachron_tables::place::Output;
use metachron_tables::table::Row;

use crate::message::Failure;
use crate::words::{what_helps, why_unread, words};

/// A rejects file that is being written.
pub struct Rejects<'p> {
    path: &'p Path,
    out: Output,
}

/// Rows of a rejects file, as text.
#[derive(Debug)]
pub struct RejectRows {
    /// How many columns the table has.
    columns: usize,
    text: Vec<u8>,
}

/// A cell that was not read.
pub struct Reject<'r> {
    /// The row of data; the first is 1.
    pub row: u64,
    /// The raw row.
    pub raw: &'r Row<'r>,
    /// The name of the column.
    pub column: &'r str,
    /// The raw value.
    pub value: Value<'r>,
    /// What became of it, said as plainly as it can be.
    pub outcome: &'r Outcome,
}

impl<'p> Rejects<'p> {
    /// Begins a rejects file with a column for each of the table's.
    pub fn create(path: &'p Path, names: &[String]) -> Result<Rejects<'p>, Failure> {
        let out = Output::create(path).map_err(|error| Failure::writing(path, &error))?;
        let mut rejects = Rejects { path, out };
        let own = ["row", "line", "column", "value", "code", "reason", "what_helps", "right_value"];
        let mut heading = RejectRows::of(names.len());
        own.iter().for_each(|name| heading.push_cell(name));
        names.iter().for_each(|name| heading.push_cell(&format!("raw.{name}")));
        heading.end_row();
        rejects.write(&mut heading)?;
        Ok(rejects)
    }

    /// Adds rows, which are gone then.
    ///
    /// # Errors
    /// They cannot be written.
    pub fn write(&mut self, rows: &mut RejectRows) -> Result<(), Failure> {
        let written = self.out.write_all(&rows.text);
        rows.text.clear();
        written.map_err(|error| Failure::writing(self.path, &error))
    }

    /// Completes the file.
    pub fn finish(self) -> Result<(), Failure> {
        self.out.finish().map_err(|error| Failure::writing(self.path, &error))
    }
}

impl RejectRows {
    /// None yet, of a table with so many columns.
    pub fn of(columns: usize) -> RejectRows {
        RejectRows { columns, text: Vec::new() }
    }

    /// Adds a cell.
    pub fn push(&mut self, reject: &Reject<'_>) {
        let Reject { row, raw, column, value, outcome } = reject;
        let own: [&str; 8] = [
            &row.to_string(),
            &raw.line().to_string(),
            column,
            &value.to_text(),
            code(outcome),
            &why_unread(outcome, value),
            what_helps(outcome),
            "",
        ];
        self.push_row(own, raw);
    }

    /// Adds a cell that could not be made.
    pub fn push_unmade(
        &mut self,
        number: u64,
        row: &Row<'_>,
        column: &str,
        inputs: &str,
        why: &Unmade,
    ) {
        let own: [&str; 8] = [
            &number.to_string(),
            &row.line().to_string(),
            column,
            inputs,
            why.code(),
            &words(why).to_string(),
            "correct what it is derived from",
            "",
        ];
        self.push_row(own, row);
    }

    /// What is said of a cell, and the whole raw row.
    fn push_row(&mut self, own: [&str; 8], row: &Row<'_>) {
        let mut buffer = String::new();
        own.iter().for_each(|cell| self.push_cell(cell));
        for index in 0..self.columns {
            self.push_cell(&row.cell(index, &mut buffer).to_text());
        }
        self.end_row();
    }

    fn push_cell(&mut self, cell: &str) {
        self.text.extend_from_slice(as_field(cell, Delimiter::Comma).as_bytes());
        self.text.push(b',');
    }

    /// Puts the end of a line where a comma stands behind the last cell.
    fn end_row(&mut self) {
        self.text.pop();
        self.text.push(b'\n');
    }
}

/// What a cell has come to, said as plainly as it can be: what fits but for one thing is what it is written as.
pub fn plainest(outcome: Outcome, value: &Value<'_>, column: Kind) -> Outcome {
    match outcome {
        Outcome::Unreadable(unfit) if unfit.nearness() <= 2 => {
            Outcome::Unreadable(in_another_kind(&value.to_text(), column).unwrap_or(unfit))
        }
        outcome => outcome,
    }
}

/// Why a cell is empty, in a word for programs.
pub fn code(outcome: &Outcome) -> &'static str {
    match outcome {
        Outcome::Missing | Outcome::Read(_) => "",
        Outcome::Placeholder => "placeholder",
        Outcome::Contested(..) | Outcome::OfOtherRows(_) => "contested",
        Outcome::Unreadable(unfit) => unfit.code(),
    }
}

/// Whether the value could be read if the column were of its kind.
fn in_another_kind(value: &str, column: Kind) -> Option<Unfit> {
    let mut buffer = String::new();
    let value = kind_alone(normalise(value, &mut buffer), Terms::default())?;
    (value != column).then_some(Unfit::OtherKind { value, column })
}
