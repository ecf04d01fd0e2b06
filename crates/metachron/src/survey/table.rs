//! Looks at a whole table and comes to a conclusion about every column.

use std::path::Path;

use metachron_core::typed::Kind;
use metachron_core::verdict::{TableStyle, Verdict, has_no_late_day};
use metachron_tables::dialect::Delimiter;
use metachron_tables::table::{Lines, TableFormat};

use super::again::{may_be_settled, settle_origins, tell_repeated_hours};
use super::column::{SurveyedColumn, as_seen, weigh_together};
use super::effect::{refuse_unheeded, refuse_without_effect};
use super::expected::open_expected;
use super::look::{SeenTable, Viewer};
use super::plan::ColumnPlan;
use crate::choices::{Choices, set_name};
use crate::intake::Intake;
use crate::message::{Failure, plain, shell_word, shown};

/// A table that has been looked at.
pub struct SurveyedTable {
    /// The table.
    pub intake: Intake,
    /// What was met on the way.
    pub lines: Lines,
    /// The columns that were looked at, from left to right.
    pub columns: Vec<SurveyedColumn>,
    /// Columns without a name and without a single value.
    pub blank: Vec<usize>,
    /// Whether there are more rows than were looked at.
    pub is_part: bool,
}

/// Looks at the table, which is this part of all that are looked at; only at the named columns, if any are named.
///
/// # Errors
/// The table cannot be read, or what was said of it is not about it.
pub fn survey(path: &Path, part: u32, choices: &Choices) -> Result<SurveyedTable, Failure> {
    let intake = open_expected(path, choices)?;
    refuse_unheeded(&intake, &choices.typed)?;
    for name in choices.names() {
        intake.position(name)?;
    }
    let wanted = |name: &str| choices.chosen.is_empty() || choices.chosen.iter().any(|c| c == name);
    let (mine, others): (Vec<usize>, Vec<usize>) =
        (0..intake.names().len()).partition(|at| wanted(&intake.names()[*at]));
    let plans = |places: Vec<usize>| -> Result<Vec<ColumnPlan>, Failure> {
        places.into_iter().map(|at| ColumnPlan::new(&intake, at, false, choices)).collect()
    };
    let viewer = Viewer { intake: &intake, part, choices };
    let (mut columns, SeenTable { lines, blank, is_part, .. }) = viewer.look(plans(mine)?)?;
    if choices.needs_target() {
        let target = the_only_column(&intake, &columns, choices)?;
        let plan = ColumnPlan::new(&intake, columns[target].plan.index, true, choices)?;
        columns.splice(target..=target, viewer.look(vec![plan])?.0);
    }
    // What was not asked for may still speak of what is open, and show what an import did.
    let asked = columns.len();
    let is_open = |column: &SurveyedColumn| {
        column.verdict().is_open() || may_be_settled(column) || has_no_late_day(&as_seen(column))
    };
    if !others.is_empty() && columns.iter().any(is_open) {
        let beside = viewer.look_beside(&mut columns, plans(others)?)?;
        columns.extend(beside);
    }
    weigh_together(&mut columns, style(&intake));
    settle_origins(viewer, &mut columns)?;
    columns.truncate(asked);
    refuse_without_effect(&columns, choices)?;
    tell_repeated_hours(&intake, &mut columns)?;
    Ok(SurveyedTable { intake, lines, columns, blank, is_part })
}

/// What the table is like.
fn style(intake: &Intake) -> TableStyle {
    let decimal_comma = matches!(
        &intake.table.format,
        TableFormat::Delimited { dialect, decimal_comma: true, .. } if dialect.delimiter == Delimiter::Semicolon
    );
    TableStyle { decimal_comma }
}

/// Where the only temporal column stands among those looked at.
fn the_only_column(
    intake: &Intake,
    columns: &[SurveyedColumn],
    choices: &Choices,
) -> Result<usize, Failure> {
    let temporal: Vec<usize> = (0..columns.len())
        .filter(|index| columns[*index].verdict() != Verdict::NotADate || columns.len() == 1)
        .collect();
    // Where clocks stood is said of clock times.
    let has_clocks = |index: &usize| {
        let kind = columns[*index].inference.judgement.kind;
        !choices.says_where() || matches!(kind, Some(Kind::DateTime | Kind::Instant))
    };
    let (of_clocks, others): (Vec<usize>, Vec<usize>) = temporal.into_iter().partition(has_clocks);
    let temporal = if of_clocks.is_empty() { others } else { of_clocks };
    if let [only] = temporal[..] {
        return Ok(only);
    }
    let (option, set) = choices.untargeted();
    let file = shown(&intake.path);
    if temporal.is_empty() {
        return Err(Failure::usage(format!(
            "{option} is about one column, and no column of {file} is sure to hold dates; \
             name it with --column"
        )));
    }
    let forms: Vec<String> = temporal
        .iter()
        .map(|index| {
            let said = format!("{}: {set}", set_name(&columns[*index].plan.name));
            format!("\n  --set {}", shell_word(&plain(&said)))
        })
        .collect();
    Err(Failure::usage(format!(
        "{option} is about one column, but {} of {file} hold dates; name it with --column, or say{}",
        temporal.len(),
        forms.join("")
    )))
}
