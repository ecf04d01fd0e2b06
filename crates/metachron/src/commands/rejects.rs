//! The cells that were not read, each with its place and reason, as a table of its own.

use std::io::{self, Write};
use std::path::Path;

use metachron_core::apply::Outcome;
use metachron_core::candidates::kind_alone;
use metachron_core::moment::Kind;
use metachron_core::reading::Terms;
use metachron_core::reading::Unfit;
use metachron_core::steps::Unmade;
use metachron_core::text::normalise;
use metachron_core::value::Value;
use metachron_tables::delimited::as_field;
use metachron_tables::dialect::Delimiter;
use metachron_tables::place::Output;
use metachron_tables::table::Row;

use crate::message::Failure;
use crate::report::words::words;

/// A rejects file that is being written.
pub struct Rejects<'p> {
    path: &'p Path,
    out: Output,
    columns: usize,
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
    /// The kind of the column.
    pub kind: Kind,
    /// What became of it.
    pub outcome: Outcome,
}

impl<'p> Rejects<'p> {
    /// Begins a rejects file with a column for each of the table's.
    pub fn create(path: &'p Path, names: &[String]) -> Result<Rejects<'p>, Failure> {
        let failed = |error| Failure::writing(path, &error);
        let mut rejects =
            Rejects { path, out: Output::create(path).map_err(failed)?, columns: names.len() };
        let own = ["row", "line", "column", "value", "code", "reason", "what_helps", "right_value"];
        let own = own.iter().map(|name| (*name).to_owned());
        let raw = names.iter().map(|name| format!("raw.{name}"));
        rejects.write_row(own.chain(raw)).map_err(failed)?;
        Ok(rejects)
    }

    /// Adds a cell.
    pub fn push(&mut self, reject: &Reject<'_>) -> Result<(), Failure> {
        let (code, reason, settle) = explain(reject);
        let own = [
            reject.row.to_string(),
            reject.raw.line().to_string(),
            reject.column.to_owned(),
            reject.value.to_text(),
            code.to_owned(),
            reason,
            settle.to_owned(),
            String::new(),
        ];
        self.push_row(own, reject.raw)
    }

    /// Adds a derived cell that could not be made.
    pub fn push_unmade(
        &mut self,
        number: u64,
        row: &Row<'_>,
        column: &str,
        inputs: &str,
        why: &Unmade,
    ) -> Result<(), Failure> {
        let own = [
            number.to_string(),
            row.line().to_string(),
            column.to_owned(),
            inputs.to_owned(),
            why.code().to_owned(),
            words(why).to_string(),
            "correct what it is derived from".to_owned(),
            String::new(),
        ];
        self.push_row(own, row)
    }

    /// What is said of a cell, and the whole raw row.
    fn push_row(&mut self, own: [String; 8], row: &Row<'_>) -> Result<(), Failure> {
        let mut buffer = String::new();
        let raw: Vec<String> =
            (0..self.columns).map(|index| row.cell(index, &mut buffer).to_text()).collect();
        self.write_row(own.into_iter().chain(raw))
            .map_err(|error| Failure::writing(self.path, &error))
    }

    /// Completes the file.
    pub fn finish(self) -> Result<(), Failure> {
        self.out.finish().map_err(|error| Failure::writing(self.path, &error))
    }

    fn write_row(&mut self, cells: impl Iterator<Item = String>) -> io::Result<()> {
        for (index, cell) in cells.enumerate() {
            if index > 0 {
                self.out.write_all(b",")?;
            }
            self.out.write_all(as_field(&cell, Delimiter::Comma).as_bytes())?;
        }
        self.out.write_all(b"\n")
    }
}

/// Code, reason, and what would settle it.
fn explain(reject: &Reject<'_>) -> (&'static str, String, &'static str) {
    match reject.outcome {
        Outcome::Contested(one, other) => (
            "contested",
            format!("{one} by one layout, {other} by another"),
            "--contested prefer, or a single layout",
        ),
        Outcome::OfOtherRows(moment) => (
            "contested",
            format!("it could be {moment}, but only by the layout of other rows"),
            "correct the value, or what tells the rows apart",
        ),
        Outcome::Placeholder => {
            ("placeholder", "a date only in form; it stands for nothing".to_owned(), "")
        }
        Outcome::Unreadable(unfit) => {
            let unfit = nearest(unfit, &reject.value, reject.kind);
            let settle = match unfit {
                Unfit::Form => "correct the value, or add a layout that reads it",
                Unfit::OtherKind { .. } => {
                    "add what is missing, or a layout with a part in brackets"
                }
                Unfit::SkippedClock { .. } => {
                    "--skipped-clock before or after, or correct the value"
                }
                Unfit::RepeatedClock { .. } => {
                    "--repeated-clock first, second or by-sequence, or correct the value"
                }
                Unfit::NoUnit => "--unit, or write the unit",
                Unfit::MinutesOrMonths => "--layout {amounts:minutes} or {amounts:months}",
                Unfit::UnclearUnit { .. } => "--written-in, or write the unit out",
                Unfit::UnclearComma => "write the number with a decimal point",
                Unfit::NoZone => "name the zone in the row, or say it with --zone or --when",
                Unfit::NoSuchZone => "zones = { … } in a readings file, or correct the zone",
                Unfit::UnclearAbbreviation(_) => "--abbreviation NAME=ZONE",
                Unfit::OffsetNotOfZone { .. } | Unfit::OtherAbbreviation { .. } => {
                    "--offset-wins, or correct the value or the zone"
                }
                _ => "correct the value",
            };
            let reason = match unfit {
                Unfit::Fault => {
                    format!(
                        "the file holds the error {} in place of a value",
                        reject.value.to_text()
                    )
                }
                _ => words(&unfit).to_string(),
            };
            (unfit.code(), reason, settle)
        }
        Outcome::Missing | Outcome::Read(_) => ("", String::new(), ""),
    }
}

/// What fits but for one thing is what it is written as.
fn nearest(unfit: Unfit, value: &Value<'_>, column: Kind) -> Unfit {
    match unfit.nearness() {
        0..=2 => in_another_kind(&value.to_text(), column).unwrap_or(unfit),
        _ => unfit,
    }
}

/// Why a cell is empty, in a word for programs.
pub fn code(outcome: &Outcome, value: &Value<'_>, column: Kind) -> &'static str {
    match outcome {
        Outcome::Missing | Outcome::Read(_) => "",
        Outcome::Placeholder => "placeholder",
        Outcome::Contested(..) | Outcome::OfOtherRows(_) => "contested",
        Outcome::Unreadable(unfit) => nearest(*unfit, value, column).code(),
    }
}

/// Whether the value could be read if the column were of its kind.
fn in_another_kind(value: &str, column: Kind) -> Option<Unfit> {
    let mut buffer = String::new();
    let value = kind_alone(normalise(value, &mut buffer), Terms::default())?;
    (value != column).then_some(Unfit::OtherKind { value, column })
}
