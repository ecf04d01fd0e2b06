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
        texts: &[String],
        known: &KnownColumns,
        table: &SurveyedTable,
    ) -> Result<Option<Sorting>, Failure> {
        let names: Vec<String> = texts.iter().flat_map(|text| split(text)).collect();
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
        Ok((!places.is_empty()).then_some(Sorting { names, places }))
    }

    /// Adds bytes that compare as rows do.
    pub fn key(&self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String, key: &mut Vec<u8>) {
        for place in &self.places {
            place.item(row, so_far, buffer).sort_key(key);
        }
    }
}

/// Names between commas; one that has commas itself stands in double quotes.
fn split(text: &str) -> Vec<String> {
    let mut names = vec![String::new()];
    let mut is_quoted = false;
    for c in text.chars() {
        match (c, names.last_mut()) {
            ('"', _) => is_quoted = !is_quoted,
            (',', _) if !is_quoted => names.push(String::new()),
            (c, Some(name)) => name.push(c),
            (_, None) => {}
        }
    }
    names.iter().map(|name| name.trim().to_owned()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_stand_between_commas() {
        assert_eq!(split("station, captured"), ["station", "captured"]);
        assert_eq!(split("\"net, time\",ring"), ["net, time", "ring"]);
    }
}
