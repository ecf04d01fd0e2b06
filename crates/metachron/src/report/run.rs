//! What a run of convert has done, for programs: the same for the same input, options and day, apart from the
//! moment of the run.

use std::fs::File;
use std::path::Path;

use metachron_core::steps::Type;
use metachron_tables::open::digest_of;
use metachron_tables::table::Lines;
use serde::Serialize;

use super::column::{ReadingFacts, RowFacts, reading};
use crate::args;
use crate::commands::{Additions, Derived, Study, Typed};
use crate::config::Config;
use crate::message::{Failure, shown};

/// The report, as `--run-report` writes it.
#[derive(Debug, Serialize)]
pub struct RunReport {
    report: &'static str,
    version: u32,
    source: FileFacts,
    output: FileFacts,
    /// The digest of what is said of all columns, derived ones among them.
    readings: String,
    columns: Vec<ColumnRun>,
    derived: Vec<DerivedRun>,
    /// Rows that --where has left out.
    left_out: u64,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    sorted_by: Vec<String>,
    /// Rows that have a cell that could not be read or made.
    unreadable_rows: u64,
    #[serde(skip_serializing_if = "Option::is_none")]
    rejects: Option<String>,
    /// What is worth a word about the output.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    notes: Vec<String>,
    zone_data: Option<&'static str>,
    metachron: &'static str,
    /// When it was; the one thing that differs from run to run.
    run_at: String,
}

#[derive(Debug, Serialize)]
struct FileFacts {
    file: String,
    /// None where it went to standard output.
    digest: Option<String>,
    rows: u64,
}

#[derive(Debug, Serialize)]
struct ColumnRun {
    name: String,
    into: String,
    reading: ReadingFacts,
    rows: RowFacts,
    /// Rows for which --fixes says what is right.
    fixed: u64,
    /// Second 60, read as the next minute.
    leap_seconds: u64,
    /// Clock times that their clocks skipped, read all the same.
    skipped_clocks: u64,
    /// Clock times that came twice, read as one of them.
    repeated_clocks: u64,
    /// Dates before the Gregorian calendar.
    before_gregorian: u64,
    /// Values that were finer than what is written.
    cut_off: u64,
}

#[derive(Debug, Serialize)]
struct DerivedRun {
    name: String,
    steps: String,
    gives: String,
    made: u64,
    missing: u64,
    unmade: u64,
    /// Days that a month lacks and that became its last.
    clamped: u64,
    /// Whether it is text for readers, and a date no longer.
    is_text: bool,
}

/// What a run came to, beside what it added.
pub struct Ran<'r> {
    pub convert: &'r args::Convert,
    pub output: &'r Path,
    pub lines: &'r Lines,
    pub unread_rows: u64,
    pub notes: &'r [String],
}

impl RunReport {
    /// Collects the facts.
    pub fn new(
        study: &Study,
        additions: &Additions<'_>,
        ran: &Ran<'_>,
        config: &Config,
        run_at: jiff::Timestamp,
    ) -> Result<RunReport, Failure> {
        let Ran { convert, output, lines, unread_rows, notes } = ran;
        let Additions { columns, derived, filter, order, .. } = additions;
        let left_out = filter.left_out + filter.unclear;
        let columns: Vec<ColumnRun> = columns.iter().map(|c| column(c, convert)).collect();
        let derived: Vec<DerivedRun> = derived.iter().map(|own| derivation(own, config)).collect();
        let readings: Vec<_> = columns.iter().map(|c| (&c.name, &c.reading)).collect();
        let steps: Vec<_> = derived.iter().map(|own| (&own.name, &own.steps)).collect();
        let said = serde_json::to_vec(&(readings, steps)).map_err(Failure::could_not)?;
        let digest = match File::open(output) {
            Ok(mut file) => {
                Some(digest_of(&mut file).map_err(|error| Failure::writing(output, &error))?)
            }
            Err(_) => None,
        };
        Ok(RunReport {
            report: "run",
            version: 1,
            source: FileFacts {
                file: shown(&study.intake.path),
                digest: Some(study.intake.digest()?),
                rows: lines.rows,
            },
            output: FileFacts { file: shown(output), digest, rows: lines.rows - left_out },
            readings: digest_of(&mut &said[..]).map_err(Failure::could_not)?,
            columns,
            derived,
            left_out,
            sorted_by: order.as_ref().map_or(Vec::new(), |order| order.names.clone()),
            unreadable_rows: *unread_rows,
            rejects: convert.rejects.as_deref().map(shown),
            notes: notes.to_vec(),
            zone_data: config.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
            run_at: run_at.to_string(),
        })
    }
}

fn column(column: &Typed<'_>, convert: &args::Convert) -> ColumnRun {
    let names = column.names(convert.replace_raw);
    ColumnRun {
        name: column.studied.name.clone(),
        into: names.into_iter().next().unwrap_or_default(),
        reading: reading(column.compiled.reading()),
        rows: RowFacts::of(&column.counts),
        fixed: column.fixed,
        leap_seconds: column.leap_seconds,
        skipped_clocks: column.skipped,
        repeated_clocks: column.repeated,
        before_gregorian: column.long_ago,
        cut_off: column.cut,
    }
}

fn derivation(own: &Derived, config: &Config) -> DerivedRun {
    let said = config.derive.iter().find(|derivation| derivation.name == own.name);
    DerivedRun {
        name: own.name.clone(),
        steps: said.map_or(String::new(), |derivation| derivation.steps.clone()),
        gives: own.program.gives().to_string(),
        made: own.made,
        missing: own.missing,
        unmade: own.unmade,
        clamped: own.notes.clamped,
        is_text: own.program.gives() == Type::Text,
    }
}
