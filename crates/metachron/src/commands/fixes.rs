//! Right answers for single cells, as a corrected rejects file has them.

use std::collections::BTreeMap;
use std::path::Path;

use metachron_core::layout::Layout;
use metachron_core::moment::{Kind, Moment};
use metachron_core::reading::{Terms, interpret};
use metachron_core::text::grouped;
use metachron_core::value::Value;
use metachron_tables::table::Wanted;

use super::typed::Typed;
use crate::intake::Intake;
use crate::message::{Failure, quoted, shown};

/// Right answers by column, row and raw value.
#[derive(Debug, Default)]
pub struct Fixes {
    /// By the place of the typed column and the raw value.
    all: BTreeMap<(usize, String), Vec<Fix>>,
}

#[derive(Debug, Clone, Copy)]
struct Fix {
    /// The only row that is meant; none if all are.
    row: Option<u64>,
    right: Moment,
    /// Where it stands in its file.
    line: u64,
}

/// The columns of a file of fixes; `row` may be absent.
const NAMES: [&str; 3] = ["column", "value", "right_value"];

impl Fixes {
    /// Reads a file of fixes and holds them against the table: every fix must find its cell.
    pub fn read(path: &Path, intake: &Intake, columns: &[Typed<'_>]) -> Result<Fixes, Failure> {
        let file = Intake::open(path, &Wanted::default())?;
        let place = |name: &str| file.names().iter().position(|other| other == name);
        let places = NAMES.map(place);
        let [Some(column_at), Some(value_at), Some(right_at)] = places else {
            return Err(Failure::could_not(format!(
                "{} has no column {}; fixes have {}, and may have row",
                shown(path),
                quoted(
                    NAMES
                        .iter()
                        .zip(places)
                        .find(|(_, at)| at.is_none())
                        .map_or("", |(name, _)| name)
                ),
                NAMES.join(", ")
            )));
        };
        let row_at = place("row");
        let mut fixes = Fixes::default();
        let mut buffer = String::new();
        file.each_row(|_, row| {
            let mut text = |at: usize| row.cell(at, &mut buffer).to_text();
            let (name, value, right) = (text(column_at), text(value_at), text(right_at));
            let said = row_at.map(&mut text).unwrap_or_default();
            if right.trim().is_empty() {
                return Ok(());
            }
            let line = row.line();
            let wrong =
                |says: String| Failure::could_not(format!("{}, line {line}: {says}", shown(path)));
            let at = columns.iter().position(|column| column.studied.name == name);
            let at = at.ok_or_else(|| wrong(format!("no column {} is read", quoted(&name))))?;
            let kind = columns[at].compiled.reading().kind;
            let right = answer(right.trim(), kind).ok_or_else(|| {
                let (right, example) = (quoted(right.trim()), example(kind));
                wrong(format!("{right} is no {kind} in ISO 8601, such as {example}"))
            })?;
            let row = match said.trim() {
                "" => None,
                number => Some(
                    number
                        .parse()
                        .map_err(|_| wrong(format!("{} is no number of a row", quoted(number))))?,
                ),
            };
            fixes.all.entry((at, value)).or_default().push(Fix { row, right, line });
            Ok(())
        })?;
        fixes.check(path, intake, columns)?;
        Ok(fixes)
    }

    /// Whether every fix finds a cell with its raw value.
    fn check(&self, path: &Path, intake: &Intake, columns: &[Typed<'_>]) -> Result<(), Failure> {
        let mut left: BTreeMap<u64, (usize, String, Fix)> = BTreeMap::new();
        for ((at, value), fixes) in &self.all {
            left.extend(fixes.iter().map(|fix| (fix.line, (*at, value.clone(), *fix))));
        }
        let mut buffer = String::new();
        let mut instead: BTreeMap<u64, String> = BTreeMap::new();
        intake.each_row(|number, row| {
            left.retain(|line, (at, value, fix)| {
                if fix.row.is_some_and(|own| own != number) {
                    return true;
                }
                let found = row.cell(columns[*at].studied.index, &mut buffer).to_text();
                if found == *value {
                    return false;
                }
                if fix.row.is_some() {
                    instead.insert(*line, found);
                }
                true
            });
            Ok(())
        })?;
        let Some((line, (at, value, fix))) = left.first_key_value() else {
            return Ok(());
        };
        let name = quoted(&columns[*at].studied.name);
        let says = match (fix.row, instead.get(line)) {
            (Some(row), Some(found)) => {
                format!("row {row} of {name} holds {}, not {}", quoted(found), quoted(value))
            }
            (Some(row), None) => format!("there is no row {row}"),
            (None, _) => format!("{name} holds no {}", quoted(value)),
        };
        let more = match left.len() {
            1 => String::new(),
            all => format!(" ({} lines find no cell)", grouped(all as u64)),
        };
        Err(Failure::could_not(format!(
            "{}, line {line}: {says}{more}; nothing was written",
            shown(path)
        )))
    }

    /// The right answer for a cell, if there is one.
    pub fn of(&self, column: usize, row: u64, value: &Value<'_>) -> Option<Moment> {
        if self.all.is_empty() {
            return None;
        }
        let fixes = self.all.get(&(column, value.to_text()))?;
        let named = fixes.iter().find(|fix| fix.row == Some(row));
        let fix = named.or_else(|| fixes.iter().find(|fix| fix.row.is_none()))?;
        Some(fix.right)
    }
}

/// A value of this kind, as ISO 8601 has it.
fn answer(text: &str, kind: Kind) -> Option<Moment> {
    let layouts = ["iso-8601", "iso-8601-duration", "{year}-Q{quarter}"];
    let read = |layout: &str| {
        let layout = Layout::parse(layout).ok()?;
        interpret(&layout, text, Terms::default()).ok().map(|fit| fit.moment)
    };
    layouts.iter().filter_map(|layout| read(layout)).find(|moment| moment.kind() == kind)
}

fn example(kind: Kind) -> &'static str {
    match kind {
        Kind::Date => "2024-04-03",
        Kind::Time => "14:30:00",
        Kind::DateTime => "2024-04-03T14:30:00",
        Kind::Instant => "2024-04-03T14:30:00Z",
        Kind::Month => "2024-04",
        Kind::Quarter => "2024-Q2",
        Kind::Week => "2024-W14",
        Kind::Year => "2024",
        Kind::Duration => "PT1H30M",
    }
}
