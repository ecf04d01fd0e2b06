//! Columns that hold the parts of one date.

use jiff::civil::Date;

use super::beside::TableColumn;
use super::column_name::names_part;
use super::model::Verdict;
use crate::epoch::Number;
use crate::reading::Century;
use crate::steps::ColumnRole;
use crate::typed::{Kind, TypedValue};

/// Columns that hold the parts of one date.
#[derive(Debug)]
pub struct PartsApart<'s> {
    /// What each is to the date, and its name.
    pub columns: Vec<(ColumnRole, &'s str)>,
    /// The latest year that is written with two digits, where it lies after today in the century in which they are
    /// read.
    pub year_after_today: Option<TypedValue>,
}

/// The columns that hold the parts of one date, by their names and their numbers; none where two
/// columns could be the same part, since nobody can tell which belong together.
///
/// A time of day that is decided belongs to them if there is one.
pub fn parts_apart<'s>(
    columns: &[TableColumn<'s>],
    century: Century,
    today: Date,
) -> Option<PartsApart<'s>> {
    let only = |role: ColumnRole| -> Option<Option<&TableColumn<'s>>> {
        let is_part = |own: &&TableColumn<'s>| names_part(own.name, role) && holds(role, own);
        let mut found = columns.iter().filter(is_part);
        match (found.next(), found.next()) {
            (Some(own), None) => Some(Some(own)),
            (None, _) => Some(None),
            (Some(_), Some(_)) => None,
        }
    };
    let mut parts = Vec::new();
    let mut latest: Option<i16> = None;
    for role in [ColumnRole::Year, ColumnRole::Month, ColumnRole::Day] {
        if let Some(own) = only(role)? {
            parts.push((role, own.name));
            if role == ColumnRole::Year {
                let numbers = own.evidence.numbers.sample();
                let years = numbers.filter_map(|number| i16::try_from(number.whole()?).ok());
                let short = years.filter(|year| (0..=99).contains(year));
                latest = short.map(|year| century.place(year)).max();
            }
        }
    }
    let has = |role: ColumnRole| parts.iter().any(|(own, _)| *own == role);
    if !has(ColumnRole::Year) || !has(ColumnRole::Month) {
        return None;
    }
    let is_time = |own: &&TableColumn<'_>| {
        own.judgement.kind == Some(Kind::Time) && own.judgement.verdict == Verdict::Decided
    };
    let mut times = columns.iter().filter(is_time);
    if has(ColumnRole::Day)
        && let (Some(time), None) = (times.next(), times.next())
    {
        parts.push((ColumnRole::Time, time.name));
    }
    let after_today = latest.filter(|year| *year > today.year());
    let year_after_today =
        after_today.and_then(|year| Some(TypedValue::Year(Date::new(year, 1, 1).ok()?)));
    Some(PartsApart { columns: parts, year_after_today })
}

/// Whether the values of a column are such parts: whole numbers in their range, or names of months.
fn holds(role: ColumnRole, column: &TableColumn<'_>) -> bool {
    let evidence = column.evidence;
    let values = evidence.rows - evidence.missing;
    let numbers = &evidence.numbers;
    let within = |from: i64, to: i64| {
        move |number: Number| {
            !number.is_below(Number::from(from)) && !Number::from(to).is_below(number)
        }
    };
    let all = |fits: &dyn Fn(Number) -> bool| numbers.sample().all(fits);
    let whole = numbers.fractions == 0 && values > 0;
    let only_numbers = whole && numbers.rows + numbers.zeros == values;
    match role {
        ColumnRole::Year => {
            let (short, full) = (within(0, 99), within(1500, 2200));
            only_numbers && all(&|number| short(number) || full(number))
        }
        // Some rows may have names where others have numbers.
        ColumnRole::Month => {
            let is_name =
                |shape: &str| ["‹month›", "‹month›.", "‹month or weekday›"].contains(&shape);
            let shapes = evidence.shapes.by_frequency();
            let named: u64 =
                shapes.iter().filter(|(shape, _)| is_name(shape)).map(|(_, own)| own.rows).sum();
            whole && numbers.rows + named == values && all(&within(1, 12))
        }
        ColumnRole::Day => only_numbers && numbers.zeros == 0 && all(&within(1, 31)),
        ColumnRole::Date | ColumnRole::Time | ColumnRole::Zone => false,
    }
}
