//! Types of columns that nothing has read, where every value allows one.

use metachron_core::value::{Fault, Value};
use metachron_tables::cells::of_hexadecimal;
use metachron_tables::deliver::{Cell, CellRows, Holds, OutputField};
use metachron_tables::stored::StoredType;
use metachron_tables::table::Row;

use crate::message::Failure;
use crate::pass::{Pass, Rows};
use crate::survey::SurveyedTable;

/// What the raw cells of a column are.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Inferred {
    holds: Holds,
    /// The digits of a second that times have.
    digits: u8,
    /// How their file stores them, where they are stored so again.
    stored: Option<StoredType>,
}

/// What the raw columns of a table are: what their file has typed; else text, or where types are to be
/// `inferred`, what all of their values are.
pub fn inferred(table: &SurveyedTable, infers: bool) -> Result<Vec<Inferred>, Failure> {
    let mut raw =
        vec![Inferred { holds: Holds::Text, digits: 0, stored: None }; table.intake.names().len()];
    for source in table.columns.iter().filter(|column| column.is_typed()) {
        if let Some(kind) = source.inference.judgement.kind {
            let digits = source.evidence.typed.values().map(|tally| tally.fraction_digits).max();
            let own = &mut raw[source.plan.index];
            (own.holds, own.digits) = (Holds::Of(kind), digits.unwrap_or(9));
        }
    }
    if !infers {
        return Ok(raw);
    }
    // Columns that are read stay as they were written.
    let is_read = |at: usize| {
        table.columns.iter().any(|c| c.plan.index == at && c.inference.compiled.is_some())
    };
    let possible: Vec<Option<Possible>> = (0..raw.len())
        .map(|at| (raw[at].holds == Holds::Text && !is_read(at)).then(Possible::default))
        .collect();
    let possible = Rows::all(&table.intake).drive(&InferTypes, possible)?.tally;
    for (raw, possible) in raw.iter_mut().zip(possible) {
        if let Some(holds) = possible.and_then(Possible::holds) {
            raw.holds = holds;
        }
    }
    Ok(raw)
}

/// What the raw columns of a table are in a Parquet file: they are stored as they were, if they come from another one.
pub fn stored(table: &SurveyedTable, infers: bool) -> Result<Vec<Inferred>, Failure> {
    let intake = &table.intake;
    let stored = intake.table.stored().map_err(|error| Failure::reading(&intake.path, &error))?;
    let raw = inferred(table, infers)?.into_iter().zip(stored);
    Ok(raw.map(|(own, stored)| Inferred { stored, ..own }).collect())
}

/// Looking for the types of columns.
struct InferTypes;

impl Pass for InferTypes {
    type Scratch<'p> = String;
    type Tally = Vec<Option<Possible>>;

    fn scratch(&self) -> String {
        String::new()
    }

    fn observe(
        &self,
        _: u64,
        row: &Row<'_>,
        buffer: &mut String,
        tally: &mut Vec<Option<Possible>>,
    ) {
        for (at, possible) in tally.iter_mut().enumerate() {
            if let Some(possible) = possible {
                possible.see(row.cell(at, buffer));
            }
        }
    }
}

/// What the values of a column may be, as far as they were seen.
#[derive(Debug, Clone, Copy)]
struct Possible {
    any: bool,
    whole: bool,
    number: bool,
    truth: bool,
}

impl Default for Possible {
    fn default() -> Possible {
        Possible { any: false, whole: true, number: true, truth: true }
    }
}

impl Possible {
    fn see(&mut self, value: Value<'_>) {
        match value {
            Value::Missing => {}
            Value::Text(text) | Value::Number(text) if text.trim().is_empty() => {}
            Value::Text(text) | Value::Number(text) => {
                self.any = true;
                self.whole &= is_whole(text);
                self.number &= is_number(text);
                self.truth &= truth(text).is_some();
            }
            Value::Typed(_) | Value::Fault(..) => {
                *self = Possible { any: true, whole: false, number: false, truth: false };
            }
        }
    }

    fn holds(self) -> Option<Holds> {
        match self {
            Possible { any: false, .. } => None,
            Possible { whole: true, .. } => Some(Holds::Whole),
            Possible { number: true, .. } => Some(Holds::Number),
            Possible { truth: true, .. } => Some(Holds::Truth),
            _ => None,
        }
    }
}

/// Whether a text is a whole number of 64 bits that is written as one: `007` is a name, and so is `-0`.
fn is_whole(text: &str) -> bool {
    let digits = text.strip_prefix('-').unwrap_or(text);
    let plain = text == "0" || !digits.starts_with('0');
    plain && digits.bytes().all(|byte| byte.is_ascii_digit()) && text.parse::<i64>().is_ok()
}

/// Whether a text is a number with a decimal point, or a whole one, spelled as numbers are: `7.10` is a version or a
/// measure of two digits, and as a number would come back as `7.1`.
fn is_number(text: &str) -> bool {
    if is_whole(text) {
        return text.len() <= 15;
    }
    let Some((whole, fraction)) = text.split_once('.') else { return false };
    if fraction.ends_with('0') {
        return false;
    }
    let whole = whole.strip_prefix('-').unwrap_or(whole);
    // More digits than floating point keeps.
    let kept = whole.len() + fraction.len() <= 15;
    let plain = whole == "0" || !(whole.is_empty() || whole.starts_with('0'));
    let digits = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
    plain && kept && digits(whole) && digits(fraction)
}

fn truth(text: &str) -> Option<bool> {
    match text {
        "true" | "TRUE" | "True" => Some(true),
        "false" | "FALSE" | "False" => Some(false),
        _ => None,
    }
}

impl Inferred {
    /// The column as it is written.
    pub fn field(&self, name: &str) -> OutputField {
        let Inferred { holds, digits, stored } = self.clone();
        OutputField { holds, digits, stored, ..OutputField::text(name) }
    }

    /// Adds a cell of it.
    pub fn push(&self, value: Value<'_>, cells: &mut CellRows) {
        if self.stored.is_some() {
            return push_stored(value, cells);
        }
        let (text, typed) = match value {
            Value::Missing => return cells.push(Cell::Missing),
            Value::Typed(moment) if matches!(self.holds, Holds::Of(_)) => {
                return cells.push(Cell::Typed(moment));
            }
            Value::Typed(moment) => return cells.push(Cell::Text(&moment.to_string())),
            Value::Fault(_, text) => return cells.push(Cell::of_text(text)),
            Value::Text(text) | Value::Number(text) => (text, text.trim()),
        };
        cells.push(match self.holds {
            Holds::Whole | Holds::Number if typed.is_empty() => Cell::Missing,
            Holds::Whole | Holds::Number => Cell::Number(typed),
            Holds::Truth => truth(typed).map_or(Cell::Missing, Cell::Truth),
            Holds::Text | Holds::Of(_) => Cell::of_text(text),
        });
    }
}

/// Adds a cell that is stored as it was: an empty text is one, and what stands in place of a value stays.
fn push_stored(value: Value<'_>, cells: &mut CellRows) {
    match value {
        Value::Missing => cells.push(Cell::Missing),
        Value::Typed(moment) => cells.push(Cell::Typed(moment)),
        Value::Number(text) => cells.push(Cell::Number(text)),
        Value::Fault(Fault::NotText, text) => match of_hexadecimal(text) {
            Some(bytes) => cells.push(Cell::Bytes(&bytes)),
            None => cells.push(Cell::Text(text)),
        },
        Value::Text(text) | Value::Fault(_, text) => cells.push(Cell::Text(text)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_that_look_like_numbers_stay_text() {
        for (values, expected) in [
            (&["1", "-20", "0", ""][..], Some(Holds::Whole)),
            (&["1", "2.5", "-0.25"], Some(Holds::Number)),
            (&["7.1", "7.10"], None),
            (&["-0", "1"], None),
            (&[" 7", "8"], None),
            (&["007", "1"], None),
            (&["1e5"], None),
            (&["12345678901234567890"], None),
            (&["0.1234567890123456789"], None),
            (&["1,5"], None),
            (&["TRUE", "false"], Some(Holds::Truth)),
            (&["1", "true"], None),
            (&["", " "], None),
            (&["--1"], None),
            (&["+1"], None),
        ] {
            let mut possible = Possible::default();
            values.iter().for_each(|value| possible.see(Value::Text(value)));
            assert_eq!(possible.holds(), expected, "{values:?}");
        }
    }
}
