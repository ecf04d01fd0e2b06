//! Right answers for single cells, as a corrected rejects file has them.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

use metachron_core::layout::Layout;
use metachron_core::reading::{Terms, interpret};
use metachron_core::text::grouped;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::value::Value;
use metachron_tables::table::Row;
use metachron_tables::wanted::Wanted;

use super::typed::TypedColumn;
use crate::args::FixesBy;
use crate::intake::Intake;
use crate::message::{Failure, quoted, shown};
use crate::pass::{Pass, Rows};

/// Right answers by column, row and raw value.
#[derive(Debug, Default)]
pub struct Fixes {
    /// By the place of the typed column and the raw value.
    all: BTreeMap<(usize, String), FixesOfValue>,
}

/// By the only row that is meant, or none if all are: as the lines of the file have it, one after the other.
type FixesOfValue = BTreeMap<Option<u64>, Vec<Fix>>;

#[derive(Debug, Clone, Copy)]
struct Fix {
    right: TypedValue,
    /// Where it stands in its file.
    line: u64,
}

/// The columns of a file of fixes; `row` may be absent.
const NAMES: [&str; 3] = ["column", "value", "right_value"];

impl Fixes {
    /// Reads a file of fixes and holds them against the table: every fix must find its cell, unless they go by their
    /// values alone.
    pub fn read(
        (path, by): (&Path, FixesBy),
        intake: &Intake,
        columns: &[TypedColumn<'_>],
    ) -> Result<Fixes, Failure> {
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
        let layouts = ["iso-8601", "iso-8601-duration", "{year}-Q{quarter}"];
        let layouts: Vec<Layout> =
            layouts.iter().filter_map(|layout| Layout::parse(layout).ok()).collect();
        let mut fixes = Fixes::default();
        let mut buffer = String::new();
        Rows::all(&file).each(|row| {
            let mut text = |at: usize| row.cell(at, &mut buffer).to_text().into_owned();
            let (name, value, right) = (text(column_at), text(value_at), text(right_at));
            let said = row_at.map(&mut text).unwrap_or_default();
            if right.trim().is_empty() {
                return Ok(());
            }
            let line = row.line();
            let wrong =
                |says: String| Failure::could_not(format!("{}, line {line}: {says}", shown(path)));
            let at = columns.iter().position(|column| column.source.plan.name == name);
            let at = at.ok_or_else(|| wrong(format!("no column {} is read", quoted(&name))))?;
            let kind = columns[at].compiled.reading().kind;
            let right = answer(right.trim(), kind, &layouts).ok_or_else(|| {
                let (right, example) = (quoted(right.trim()), example(kind));
                wrong(format!("{right} is no {kind} in ISO 8601, such as {example}"))
            })?;
            let row = match said.trim() {
                _ if by == FixesBy::Value => None,
                "" => None,
                number => Some(
                    number
                        .parse()
                        .map_err(|_| wrong(format!("{} is no number of a row", quoted(number))))?,
                ),
            };
            let own = fixes.all.entry((at, value)).or_default().entry(row).or_default();
            // All before it say the same.
            let other = own.first().filter(|fix| fix.right != right);
            if let (None, Some(other)) = (row, other) {
                let (value, right) = (quoted(&text(value_at)), other.right);
                return Err(wrong(format!("{value} is {right} in line {} already", other.line)));
            }
            own.push(Fix { right, line });
            Ok(())
        })?;
        if by == FixesBy::Row {
            fixes.check(path, intake, columns)?;
        }
        Ok(fixes)
    }

    /// Whether every fix finds a cell with its raw value.
    fn check(
        &self,
        path: &Path,
        intake: &Intake,
        columns: &[TypedColumn<'_>],
    ) -> Result<(), Failure> {
        let check = FindCells::new(self, columns);
        let FoundCells { lines, instead } =
            Rows::all(intake).drive(&check, FoundCells::default())?.tally;
        let mut left: BTreeMap<u64, (usize, &str, Option<u64>)> = BTreeMap::new();
        for ((at, value), fixes) in &self.all {
            for (row, fixes) in fixes {
                let unfound = fixes.iter().filter(|fix| !lines.contains(&fix.line));
                left.extend(unfound.map(|fix| (fix.line, (*at, value.as_str(), *row))));
            }
        }
        let Some((line, (at, value, row))) = left.first_key_value() else {
            return Ok(());
        };
        let name = quoted(&columns[*at].source.plan.name);
        let says = match (row, instead.get(line)) {
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
        let (path, by) = (
            shown(path),
            "if it is of another file, --fixes-by value goes by the raw values alone",
        );
        Err(Failure::could_not(format!(
            "{path}, line {line}: {says}{more}; nothing was written; {by}"
        )))
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }

    /// The right answer for a cell, if there is one.
    pub fn of(&self, column: usize, row: u64, value: &Value<'_>) -> Option<TypedValue> {
        if self.all.is_empty() {
            return None;
        }
        let fixes = self.all.get(&(column, value.to_text().into_owned()))?;
        let own = fixes.get(&Some(row)).or_else(|| fixes.get(&None))?;
        own.first().map(|fix| fix.right)
    }
}

/// Looking for the cells of fixes.
struct FindCells<'f> {
    fixes: &'f Fixes,
    /// The typed columns that have some, each with its place in the table.
    columns: BTreeMap<usize, usize>,
    /// The fixes that are for one row, by that and their column: their lines, and what the cell should hold.
    of_rows: BTreeMap<(u64, usize), Vec<(u64, &'f String)>>,
}

impl<'f> FindCells<'f> {
    fn new(fixes: &'f Fixes, columns: &[TypedColumn<'_>]) -> FindCells<'f> {
        let places =
            fixes.all.keys().map(|(at, _)| (*at, columns[*at].source.plan.index)).collect();
        let mut of_rows: BTreeMap<(u64, usize), Vec<(u64, &String)>> = BTreeMap::new();
        for ((at, value), all) in &fixes.all {
            for (row, own) in all {
                let Some(row) = row else { continue };
                let lines = own.iter().map(|fix| (fix.line, value));
                of_rows.entry((*row, *at)).or_default().extend(lines);
            }
        }
        FindCells { fixes, columns: places, of_rows }
    }
}

/// The cells of fixes that were found.
#[derive(Default)]
struct FoundCells {
    /// The lines of the fixes that have found theirs.
    lines: BTreeSet<u64>,
    /// What the rows of the others hold, by the lines of the fixes.
    instead: BTreeMap<u64, String>,
}

impl Pass for FindCells<'_> {
    type Scratch<'p>
        = String
    where
        Self: 'p;
    type Tally = FoundCells;

    fn scratch(&self) -> String {
        String::new()
    }

    fn observe(&self, number: u64, row: &Row<'_>, buffer: &mut String, tally: &mut FoundCells) {
        for (at, index) in &self.columns {
            let found = row.cell(*index, buffer).to_text().into_owned();
            for (line, value) in self.of_rows.get(&(number, *at)).into_iter().flatten() {
                if **value != found {
                    tally.instead.insert(*line, found.clone());
                }
            }
            let Some(fixes) = self.fixes.all.get(&(*at, found)) else { continue };
            for own in [None, Some(number)].iter().filter_map(|row| fixes.get(row)) {
                // What was found once is not found anew in every row.
                if own.first().is_some_and(|fix| !tally.lines.contains(&fix.line)) {
                    tally.lines.extend(own.iter().map(|fix| fix.line));
                }
            }
        }
    }
}

/// A value of this kind, as ISO 8601 has it.
fn answer(text: &str, kind: Kind, layouts: &[Layout]) -> Option<TypedValue> {
    let read = |layout| interpret(layout, text, Terms::default()).ok().map(|fit| fit.moment);
    layouts.iter().filter_map(read).find(|moment| moment.kind() == kind)
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
