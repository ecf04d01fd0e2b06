//! What a run of convert has done, for programs: the same for the same input, options and day, apart from the
//! moment of the run.

use std::fs::File;
use std::path::Path;

use metachron_core::steps::Type;
use metachron_tables::open::digest_of;
use metachron_tables::table::Lines;
use serde::Serialize;

use super::came_out::CameOutFacts;
use super::column::{ReadingFacts, RowFacts, reading};
use crate::args;
use crate::choices::Choices;
use crate::conversion::{
    ColumnTally, ConversionPlan, ConversionTally, MadeProgram, MadeTally, TypedColumn,
};
use crate::message::{Failure, shown};
use crate::survey::SurveyedTable;

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
    derived: Vec<MadeRun>,
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
    /// The day that counted as today: nothing in a report differs from run to run of the same day.
    as_of: String,
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
    /// Moments before 1970 in zones for which the clocks of another one stand there.
    merged_zones: u64,
    /// Dates before the Gregorian calendar.
    before_gregorian: u64,
    /// Values that were finer than what is written.
    cut_off: u64,
    /// What came out, of the rows that are written.
    came_out: CameOutFacts,
}

#[derive(Debug, Serialize)]
struct MadeRun {
    name: String,
    steps: String,
    gives: String,
    made: u64,
    missing: u64,
    unmade: u64,
    /// Days that a month lacks and that became its last.
    clamped: u64,
    /// Values by the clocks of zones for which those of another stand before 1970.
    merged_zones: u64,
    /// Whether it is text for readers, and a date no longer.
    is_text: bool,
    /// What came out, if that is dates, times or lengths of time.
    #[serde(skip_serializing_if = "Option::is_none")]
    came_out: Option<CameOutFacts>,
}

/// What a conversion came to.
pub struct Converted {
    /// What the rows add up to.
    pub tally: ConversionTally,
    /// What was met on the way.
    pub lines: Lines,
    /// What is worth a word about the output.
    pub notes: Vec<String>,
}

impl RunReport {
    /// Collects the facts.
    pub fn new(
        table: &SurveyedTable,
        plan: &ConversionPlan<'_>,
        converted: &Converted,
        (convert, output): (&args::Convert, &Path),
        choices: &Choices,
    ) -> Result<RunReport, Failure> {
        let Converted { tally, lines, notes } = converted;
        let left_out = tally.left_out + tally.unclear;
        let columns = plan.columns.iter().zip(&tally.columns);
        let columns: Vec<ColumnRun> =
            columns.map(|(own, tally)| column(own, tally, convert)).collect();
        let made = plan.made.iter().zip(&tally.made);
        let derived: Vec<MadeRun> =
            made.map(|(own, tally)| made_column(own, tally, choices)).collect();
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
                file: shown(&table.intake.path),
                digest: Some(table.intake.digest()?),
                rows: lines.rows,
            },
            output: FileFacts { file: shown(output), digest, rows: lines.rows - left_out },
            readings: digest_of(&mut &said[..]).map_err(Failure::could_not)?,
            columns,
            derived,
            left_out,
            sorted_by: plan.sorting.as_ref().map_or(Vec::new(), |sorting| sorting.names.clone()),
            unreadable_rows: tally.unread.rows,
            rejects: convert.rejects.as_deref().map(shown),
            notes: notes.clone(),
            zone_data: choices.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
            as_of: choices.today.to_string(),
        })
    }
}

fn column(column: &TypedColumn<'_>, tally: &ColumnTally, convert: &args::Convert) -> ColumnRun {
    let names = column.names(convert.replace_raw);
    ColumnRun {
        name: column.source.plan.name.clone(),
        into: names.into_iter().next().unwrap_or_default(),
        reading: reading(column.compiled.reading()),
        rows: RowFacts::of(&tally.counts, false),
        fixed: tally.fixed,
        leap_seconds: tally.leap_seconds,
        skipped_clocks: tally.skipped,
        repeated_clocks: tally.repeated,
        merged_zones: tally.merged.iter().map(|(.., rows)| rows).sum(),
        before_gregorian: tally.long_ago,
        cut_off: tally.cut,
        came_out: CameOutFacts::of_column(column, &tally.came_out),
    }
}

fn made_column(own: &MadeProgram, tally: &MadeTally, choices: &Choices) -> MadeRun {
    let said = choices.shaping.made.iter().find(|made| made.name == own.name);
    MadeRun {
        name: own.name.clone(),
        steps: said.map_or(String::new(), |made| made.steps.clone()),
        gives: own.program.gives().to_string(),
        made: tally.made,
        missing: tally.missing,
        unmade: tally.unmade,
        clamped: tally.notes.clamped,
        merged_zones: tally.notes.merged.iter().map(|(.., rows)| rows).sum(),
        is_text: own.program.gives() == Type::Text,
        came_out: tally.timeline.ends().map(|_| CameOutFacts::of_made(&tally.timeline)),
    }
}
