//! An option that changes nothing is refused: what was said here and now of a column must be about what it holds.

use metachron_core::apply::Compiled;
use metachron_core::layout::Layout;
use metachron_core::reading::{Repair, Written};
use metachron_core::typed::Kind;
use metachron_tables::frame::WantedHeader;
use metachron_tables::wanted::{Aspect, Selected, Wanted};

use super::column::SurveyedColumn;
use crate::choices::{Choices, Decisions, option_of};
use crate::intake::Intake;
use crate::message::{Failure, quoted, shown};

/// Refuses what was said of the file and is not about files of its format.
///
/// # Errors
/// Which option it is, and what it is about.
pub fn refuse_unheeded(intake: &Intake, typed: &Wanted) -> Result<(), Failure> {
    let Some(said) = typed.aspects().find(|said| !intake.table.heeds(*said)) else {
        return Ok(());
    };
    let (option, what) = match said {
        Aspect::Delimiter => ("--delimiter", "delimited text"),
        Aspect::Quote => ("--quote", "delimited text"),
        Aspect::Encoding => ("--encoding", "text"),
        Aspect::Record => ("--max-record", "text"),
        Aspect::Sheet => ("--sheet", "workbooks"),
        Aspect::Selected => match &typed.selected {
            Some(Selected::Query(_)) => ("--query", "databases"),
            _ => ("--table", "databases"),
        },
        Aspect::Header => {
            let option = match typed.header {
                WantedHeader::Line(_) => "--header-line",
                WantedHeader::None(_) => "--no-header",
                WantedHeader::Behind(_) | WantedHeader::Unsaid => "--skip-lines",
            };
            (option, "delimited text, workbooks and tables of pages")
        }
    };
    Err(Failure::usage(format!(
        "{option} has no effect on {}: it is about {what}",
        shown(&intake.path)
    )))
}

/// Refuses what was said without effect.
///
/// # Errors
/// Which option it is, of which column, and why.
pub fn refuse_without_effect(columns: &[SurveyedColumn], choices: &Choices) -> Result<(), Failure> {
    for column in columns.iter().filter(|column| !column.is_left()) {
        let said = choices.said(&column.plan.name, column.plan.is_target);
        if let Some((key, why)) = without_effect(column, &said) {
            return Err(Failure::usage(format!(
                "{} has no effect on {}: {why}",
                option_of(key),
                quoted(&column.plan.name)
            )));
        }
    }
    let reads_moments = |column: &SurveyedColumn| match column.inference.judgement.kind {
        Some(kind) => kind == Kind::Instant,
        None => column.is_open(),
    };
    match choices.clocks_of_file().filter(|_| !columns.iter().any(reads_moments)) {
        Some(key) => Err(Failure::usage(format!(
            "{} has no effect: no column holds clock times whose zone is known; --zone says where they were read",
            option_of(key)
        ))),
        None => Ok(()),
    }
}

/// Why nothing is decided about hours that a clock skipped or repeated.
const NO_ZONE: &str = "nothing says in which zone its clocks stood";

/// Why nothing is said by a zone.
const NO_CLOCK: &str = "it holds no clock times of a day";

/// A key that changes nothing of how a column is read, and why.
fn without_effect(
    column: &SurveyedColumn,
    said: &Decisions,
) -> Option<(&'static str, &'static str)> {
    if !column.is_written() && matches!(said.written, Some(Written::Order(_))) {
        return Some(("order", "its cells are dates already"));
    }
    let is_layouts = matches!(column.plan.decisions.written, Some(Written::Layouts(_)));
    if said.unit.is_some() && is_layouts {
        return Some(("unit", "the layouts say what its numbers are"));
    }
    let judgement = &column.inference.judgement;
    let reading = column.inference.compiled.as_ref().map(Compiled::reading);
    // An open column has the layouts that are in play.
    let layouts: Vec<&Layout> = match reading {
        Some(reading) => reading.layouts.iter().collect(),
        None => judgement.contenders.iter().flat_map(|own| &own.layouts).collect(),
    };
    let kind = judgement.kind.filter(|_| !layouts.is_empty() || reading.is_some())?;
    let are_periods =
        |kind: Kind| matches!(kind, Kind::Month | Kind::Quarter | Kind::Week | Kind::Year);
    let has_periods = layouts.iter().filter_map(|layout| layout.kind()).any(are_periods)
        || column.evidence.typed.keys().any(|kind| are_periods(*kind))
        || said.repair == Some(Repair::MonthYear)
        || reading.is_some_and(|reading| reading.repair == Repair::MonthYear);
    let has_years = match reading {
        Some(reading) => reading.years.is_none(),
        None => !layouts.iter().any(|layout| layout.lacks_year()),
    };
    let has_numbers = column.evidence.numbers.rows + column.evidence.numbers.zeros > 0;
    let clocks = &said.clocks;
    let is_moment = kind == Kind::Instant;
    let has_clocks = matches!(kind, Kind::DateTime | Kind::Instant);
    let checks = [
        ("zone", clocks.zone.is_some() && !has_clocks, NO_CLOCK),
        ("zone_from", clocks.zone_from.is_some() && !has_clocks, NO_CLOCK),
        (
            "anchor",
            said.anchor.is_some() && !has_periods,
            "its values are no months, quarters, weeks or years",
        ),
        ("year", said.year.is_some() && has_years, "its values have years"),
        ("epoch", said.epoch.is_some() && column.evidence.numbers.rows == 0, "it holds no numbers"),
        ("unit", said.unit.is_some() && kind != Kind::Duration, "it holds no lengths of time"),
        ("unit", said.unit.is_some() && !has_numbers, "it holds no numbers alone"),
        ("contested", said.contested.is_some() && layouts.len() < 2, "one layout reads it"),
        ("skipped_clock", clocks.skipped.is_some() && !is_moment, NO_ZONE),
        ("repeated_clock", clocks.repeated.is_some() && !is_moment, NO_ZONE),
        ("offset_wins", clocks.offset_wins.is_some() && !is_moment, NO_ZONE),
        (
            "sequence_by",
            clocks.sequence_by.is_some() && clocks.repeated.is_none(),
            "--repeated-clock by-sequence is needed as well",
        ),
    ];
    checks.into_iter().find(|(_, is_idle, _)| *is_idle).map(|(key, _, why)| (key, why))
}
