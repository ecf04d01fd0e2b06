//! Columns that hold the parts of one date.

use jiff::civil::Date;

use super::as_written::{AsWritten, PlainKind};
use super::beside::TableColumn;
use super::column_name::{is_part_alone, names_part};
use super::model::{Judgement, Settle, Verdict};
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
    /// Whether what is called a month goes beyond twelve and what is called a day does not: each is the other.
    pub are_exchanged: bool,
}

/// The columns that hold the parts of one date, by their names and their numbers; none where two
/// columns could be the same part, since nobody can tell which belong together.
///
/// The time of day belongs to them, in a column or in several, if there is one.
pub fn parts_apart<'s>(
    columns: &[TableColumn<'s>],
    century: Century,
    today: Date,
) -> Option<PartsApart<'s>> {
    let (year, month) = (only(columns, ColumnRole::Year)??, only(columns, ColumnRole::Month)??);
    let day = only(columns, ColumnRole::Day)?;
    let are_exchanged = day.is_some_and(|day| {
        holds(ColumnRole::Month, day)
            && holds(ColumnRole::Day, month)
            && !holds(ColumnRole::Month, month)
    });
    let (month, day) = match day {
        Some(day) if are_exchanged => (day, Some(month)),
        _ => (month, day),
    };
    let mut parts = vec![(ColumnRole::Year, year.name), (ColumnRole::Month, month.name)];
    if let Some(day) = day {
        parts.push((ColumnRole::Day, day.name));
        parts.extend(clock_parts(columns));
    }
    let numbers = year.evidence.numbers.sample();
    let years = numbers.filter_map(|number| i16::try_from(number.whole()?).ok());
    let short = years.filter(|year| (0..=99).contains(year));
    let latest = short.map(|year| century.place(year)).max();
    let after_today = latest.filter(|year| *year > today.year());
    let year_after_today =
        after_today.and_then(|year| Some(TypedValue::Year(Date::new(year, 1, 1).ok()?)));
    Some(PartsApart { columns: parts, year_after_today, are_exchanged })
}

/// The time of day that belongs to a date: a column of times, or of hours with their minutes and seconds; none where
/// two could be the same.
fn clock_parts<'s>(columns: &[TableColumn<'s>]) -> Vec<(ColumnRole, &'s str)> {
    let is_time = |own: &&TableColumn<'_>| {
        let Judgement { kind, verdict, leans_to, .. } = own.judgement;
        *kind == Some(Kind::Time)
            && (*verdict == Verdict::Decided
                || matches!(
                    leans_to,
                    Some(Settle::AsWritten(AsWritten::Numbers(PlainKind::Clocks), _))
                ))
    };
    let mut times = columns.iter().filter(is_time);
    match (times.next(), times.next()) {
        (Some(time), None) => return vec![(ColumnRole::Time, time.name)],
        (Some(_), Some(_)) => return Vec::new(),
        (None, _) => {}
    }
    // Minutes without their hours are none.
    let parts = [ColumnRole::Hour, ColumnRole::Minute, ColumnRole::Second];
    let named = parts.map(|role| Some((role, only(columns, role).flatten()?.name)));
    named.into_iter().map_while(|part| part).collect()
}

/// The only column that is this part of a date, if there is one; none at all if there are several.
fn only<'c, 's>(
    columns: &'c [TableColumn<'s>],
    role: ColumnRole,
) -> Option<Option<&'c TableColumn<'s>>> {
    let mut found = columns.iter().filter(|own| is_part(role, own));
    match (found.next(), found.next()) {
        (_, Some(_)) => None,
        (one, None) => Some(one),
    }
}

/// Whether a column is this part of a date: by its name and its values, or by a name that says nothing else.
fn is_part(role: ColumnRole, column: &TableColumn<'_>) -> bool {
    let is_said = || is_part_alone(column.name) && column.judgement.verdict == Verdict::NotADate;
    names_part(column.name, role) && (holds(role, column) || is_said())
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
    // A few may be typing errors, or stand for something that is missing.
    let most = |some: u64, of: u64| some * 10 >= of * 9;
    let all = |fits: &dyn Fn(Number) -> bool| {
        let fit = numbers.sample().filter(|number| fits(*number)).count() as u64;
        most(fit, numbers.sample().len() as u64)
    };
    let whole = numbers.fractions == 0 && values > 0;
    let only_numbers = whole && most(numbers.rows + numbers.zeros, values);
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
            whole && most(numbers.rows + named, values) && all(&within(1, 12))
        }
        ColumnRole::Day => only_numbers && most(numbers.rows, values) && all(&within(1, 31)),
        ColumnRole::Hour => only_numbers && all(&within(0, 24)),
        ColumnRole::Minute | ColumnRole::Second => only_numbers && all(&within(0, 59)),
        ColumnRole::Date | ColumnRole::Time | ColumnRole::Zone => false,
    }
}
