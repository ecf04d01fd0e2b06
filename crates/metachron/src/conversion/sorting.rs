//! The order in which rows are written.

use metachron_tables::table::Row;

use super::made::{From, KnownColumns, SoFar};
use crate::message::{Failure, did_you_mean, quoted, shown};
use crate::survey::SurveyedTable;

/// The columns by which rows are sorted.
pub struct Sorting {
    /// Their names, for a report.
    pub names: Vec<String>,
    places: Vec<From>,
}

impl Sorting {
    /// By the columns of these names, the first of them first; none if there are none.
    pub fn by(
        names: &[String],
        known: &KnownColumns,
        table: &SurveyedTable,
    ) -> Result<Option<Sorting>, Failure> {
        let place = |name: &String| {
            known.find(name).ok_or_else(|| {
                let near = metachron_core::error::nearest(name, known.names()).map(quoted);
                let near = did_you_mean(near.as_deref());
                let file = shown(&table.intake.path);
                Failure::usage(format!(
                    "--sort-by {}: {file} has no such column{near}",
                    quoted(name)
                ))
            })
        };
        let places = names.iter().map(place).collect::<Result<Vec<_>, _>>()?;
        Ok((!places.is_empty()).then(|| Sorting { names: names.to_vec(), places }))
    }

    /// Adds bytes that compare as rows do.
    pub fn key(&self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String, key: &mut Vec<u8>) {
        for place in &self.places {
            place.item(row, so_far, buffer).sort_key(key);
        }
    }
}
