//! What commands share that are about one column of dates: to count it, or to draw it.

use std::path::Path;

use metachron_core::verdict::Verdict;

use crate::choices::Choices;
use crate::message::Failure;
use crate::survey::{SurveyedTable, survey};

/// Looks at a table for one column of dates and these columns of numbers. What is said of no column by its name is about
/// that of dates. Columns that nobody asked for stay only where they are not open.
///
/// # Errors
/// The table cannot be read.
pub fn survey_for(
    column: &str,
    numbers: &[&str],
    path: &Path,
    choices: &mut Choices,
) -> Result<SurveyedTable, Failure> {
    choices.chosen.clear();
    if !choices.shaping.made.iter().any(|made| made.name == column) {
        choices.aim_at(column);
    }
    // What is made may need any column, else only those that are asked for are looked at.
    if choices.shaping.made.is_empty() && choices.shaping.conditions.is_empty() {
        let columns = std::iter::once(&column).chain(numbers);
        choices.chosen = columns.map(|own| (*own).to_owned()).collect();
    }
    let mut table = survey(path, 0, choices)?;
    // What is added up or drawn are numbers, unless they are surely something else.
    let is_number = |name: &str| name != column && numbers.contains(&name);
    // Of what is made, only the columns that it speaks of must be read.
    let is_needed = |name: &str| name == column || choices.shaping.speaks_of(name);
    table.columns.retain(|own| match is_number(&own.plan.name) {
        true => own.verdict() == Verdict::Decided,
        false => !own.is_open() || is_needed(&own.plan.name),
    });
    choices.chosen.truncate(1);
    Ok(table)
}
