//! Columns that a table gets by the order of its rows alone.

use metachron_core::steps::{Item, Series, Type, Unmade};
use metachron_core::value::Value;
use metachron_tables::table::Row;

use super::tally::SeriesTally;
use crate::choices::{Choices, MadeSeries};
use crate::message::{Failure, marked_below, name_is_taken, quoted};
use crate::survey::SurveyedTable;
use crate::words::wrong_steps;

/// A series.
pub struct SeriesColumn {
    pub name: String,
    series: Series,
    /// The column whose values each have a series of their own.
    by: Option<usize>,
}

/// The series that are asked for.
pub fn series_columns(
    choices: &Choices,
    table: &SurveyedTable,
) -> Result<Vec<SeriesColumn>, Failure> {
    let names = table.intake.names();
    let mut all: Vec<SeriesColumn> = Vec::new();
    for MadeSeries { name, steps, by } in &choices.shaping.series {
        let by = by.as_ref().map(|by| table.intake.position(by)).transpose()?;
        if names.contains(name) || all.iter().any(|own| own.name == *name) {
            return Err(name_is_taken("--series", name));
        }
        let series = Series::parse(steps).map_err(|error| {
            let says = format!("--series {}: {}", quoted(name), wrong_steps(&error));
            Failure::usage(marked_below(&says, &error.marked()))
        })?;
        all.push(SeriesColumn { name: name.clone(), series, by });
    }
    Ok(all)
}

impl SeriesColumn {
    /// What its values are.
    pub fn gives(&self) -> Type {
        Type::Of(self.series.kind())
    }

    /// The value of the next row.
    pub fn next(
        &self,
        tally: &mut SeriesTally,
        row: &Row<'_>,
        buffer: &mut String,
    ) -> Result<Item, Unmade> {
        let group = match self.by.map(|at| row.cell(at, buffer)) {
            None | Some(Value::Missing) => String::new(),
            Some(value) => value.to_text().trim().to_owned(),
        };
        let next = tally.next.entry(group).or_default();
        let moment = self.series.at(*next)?;
        *next += 1;
        tally.made += 1;
        Ok(Item::Typed(moment))
    }

    /// Whether each value of another column has a series of its own.
    pub fn has_groups(&self) -> bool {
        self.by.is_some()
    }
}
