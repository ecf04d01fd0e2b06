//! Columns of a table for figures: which dates are counted or drawn, and how the numbers beside them are read.

use metachron_core::epoch::Number;
use metachron_core::steps::{Item, Type};
use metachron_core::typed::{Kind, TypedValue};
use metachron_tables::header::free_name;
use metachron_tables::table::TableFormat;

use crate::choices::{Choices, MadeColumn, step_name};
use crate::message::{Failure, quoted};
use crate::survey::SurveyedTable;

/// Adds a column to what is made of the table, so that it is there for every row; gives its place.
///
/// # Errors
/// There is no such column.
pub fn add(choices: &mut Choices, table: &SurveyedTable, column: &str) -> Result<usize, Failure> {
    let made = &choices.shaping.made;
    let new = |name: &str| made.iter().any(|own| own.name == name);
    if !new(column) && !choices.shaping.series.iter().any(|own| own.name == column) {
        table.intake.position(column)?;
    }
    let names = table.intake.names();
    let name = free_name("counted", |name| new(name) || names.iter().any(|own| own == name));
    choices.shaping.made.push(MadeColumn { name, steps: step_name(column) });
    Ok(choices.shaping.made.len() - 1)
}

/// What the dates of a column are.
///
/// # Errors
/// It holds none.
pub fn kind_of_dates(column: &str, gives: Type) -> Result<Kind, Failure> {
    match gives {
        Type::Of(kind) => Ok(kind),
        Type::Zoned => Ok(Kind::Instant),
        _ => Err(Failure::usage(format!(
            "{} holds no dates or times; --order, --layout and others say how they are read",
            quoted(column)
        ))),
    }
}

/// What is added up or drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Figures {
    /// Numbers, perhaps with a comma for the decimal mark.
    Numbers,
    /// Lengths of time.
    Lengths,
}

impl Figures {
    /// What a column holds.
    ///
    /// # Errors
    /// It holds neither numbers nor lengths of time.
    pub fn of(column: &str, gives: Type) -> Result<Figures, Failure> {
        match gives {
            Type::Raw | Type::Number | Type::Text => Ok(Figures::Numbers),
            Type::Of(Kind::Duration) => Ok(Figures::Lengths),
            _ => Err(Failure::usage(format!(
                "{} holds neither numbers nor lengths of time, and cannot be added up",
                quoted(column)
            ))),
        }
    }

    /// A number with this decimal mark, or the nanoseconds of a length of time; none of what is neither.
    pub fn read(self, item: &Item, decimal: char) -> Option<Number> {
        match self {
            Figures::Numbers => number(item, decimal),
            Figures::Lengths => length(item),
        }
    }
}

/// A number with this decimal mark; the other mark may stand between thousands and makes none of it.
fn number(item: &Item, decimal: char) -> Option<Number> {
    match item {
        Item::Number(number) => Some(*number),
        Item::Text(text) => {
            let other = if decimal == '.' { ',' } else { '.' };
            Number::parse(text.trim()).filter(|_| !text.contains(other))
        }
        _ => None,
    }
}

/// The nanoseconds of a length of time; months have none.
fn length(item: &Item) -> Option<Number> {
    let duration = match item {
        Item::Typed(TypedValue::Duration(own)) => *own,
        _ => return None,
    };
    duration.fixed().and_then(|nanos| Number::parse(&nanos.to_string()))
}

/// Which decimal mark the numbers of a column have, as far as they show it.
#[derive(Debug, Clone, Default)]
pub struct DecimalMarks {
    /// Numbers with a point, and those whose point stands between no thousands.
    points: [u64; 2],
    /// The same of commas.
    commas: [u64; 2],
}

impl DecimalMarks {
    /// The marks of these cells and the next ones.
    pub fn join(&mut self, next: DecimalMarks) {
        for at in 0..2 {
            self.points[at] += next.points[at];
            self.commas[at] += next.commas[at];
        }
    }

    /// Takes in a cell.
    pub fn see(&mut self, item: &Item) {
        let Item::Text(text) = item else { return };
        for (mark, seen) in [('.', &mut self.points), (',', &mut self.commas)] {
            let Some((before, behind)) = text.trim().split_once(mark) else { continue };
            let digits = before.trim_start_matches(['-', '+']);
            let is_of_thousands =
                behind.len() == 3 && (1..=3).contains(&digits.len()) && digits != "0";
            seen[0] += 1;
            seen[1] += u64::from(!is_of_thousands && !behind.contains(mark));
        }
    }

    /// The decimal mark of a column of a table: a point or a comma.
    ///
    /// # Errors
    /// It may be either.
    pub fn decimal(&self, table: &SurveyedTable, column: &str) -> Result<char, Failure> {
        let ([points, sure_points], [commas, sure_commas]) = (self.points, self.commas);
        let format = &table.intake.table.format;
        let of_table = matches!(format, TableFormat::Delimited { decimal_comma: true, .. });
        match (sure_points > 0, sure_commas > 0) {
            (false, true) => Ok(','),
            (true, false) => Ok('.'),
            (false, false) if of_table => Ok(','),
            (false, false) if points == 0 || commas == 0 => Ok('.'),
            _ => Err(Failure::could_not(format!(
                "{} has numbers with a point and numbers with a comma, and one of the two may stand between \
                 thousands: they cannot be added up",
                quoted(column)
            ))),
        }
    }
}
