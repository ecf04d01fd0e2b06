//! Columns that hold the parts of one date.

use super::{Sibling, Verdict};
use crate::epoch::Number;
use crate::moment::Kind;
use crate::steps::Role;

/// Words that name a part, in several languages.
const WORDS: [(Role, &[&str]); 3] = [
    (
        Role::Year,
        &[
            "year", "yr", "y", "yyyy", "yy", "jahr", "ano", "año", "année", "anno", "år", "jaar",
            "rok", "vuosi", "yıl",
        ],
    ),
    (
        Role::Month,
        &[
            "month", "mon", "m", "mm", "monat", "mes", "mês", "mois", "mese", "måned", "månad",
            "maand", "kuukausi", "ay",
        ],
    ),
    (
        Role::Day,
        &["day", "d", "dd", "tag", "dia", "día", "jour", "giorno", "dag", "dzień", "päivä", "gün"],
    ),
];

/// The columns that hold the parts of one date, by their names and their numbers; none where two
/// columns could be the same part, since nobody can tell which belong together.
///
/// A time of day that is decided belongs to them if there is one.
pub fn parts_apart<'s>(columns: &[Sibling<'s>]) -> Option<Vec<(Role, &'s str)>> {
    let only = |role: Role, words: &[&str]| -> Option<Option<&'s str>> {
        let named = |name: &str| {
            let lower = name.to_lowercase();
            lower.split(|c: char| !c.is_alphabetic()).any(|word| words.contains(&word))
        };
        let mut found = columns.iter().filter(|own| named(own.name) && holds(role, own));
        match (found.next(), found.next()) {
            (Some(own), None) => Some(Some(own.name)),
            (None, _) => Some(None),
            (Some(_), Some(_)) => None,
        }
    };
    let mut parts = Vec::new();
    for (role, words) in WORDS {
        if let Some(name) = only(role, words)? {
            parts.push((role, name));
        }
    }
    let has = |role: Role| parts.iter().any(|(own, _)| *own == role);
    if !has(Role::Year) || !has(Role::Month) {
        return None;
    }
    let is_time = |own: &&Sibling<'_>| {
        own.judgement.kind == Some(Kind::Time) && own.judgement.verdict == Verdict::Decided
    };
    let mut times = columns.iter().filter(is_time);
    if has(Role::Day)
        && let (Some(time), None) = (times.next(), times.next())
    {
        parts.push((Role::Time, time.name));
    }
    Some(parts)
}

/// Whether the values of a column are such parts: whole numbers in their range, or names of months.
fn holds(role: Role, column: &Sibling<'_>) -> bool {
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
        Role::Year => {
            let (short, full) = (within(0, 99), within(1500, 2200));
            only_numbers && all(&|number| short(number) || full(number))
        }
        // Some rows may have names where others have numbers.
        Role::Month => {
            let is_name =
                |shape: &str| ["‹month›", "‹month›.", "‹month or weekday›"].contains(&shape);
            let shapes = evidence.shapes.by_frequency();
            let named: u64 =
                shapes.iter().filter(|(shape, _)| is_name(shape)).map(|(_, own)| own.rows).sum();
            whole && numbers.rows + named == values && all(&within(1, 12))
        }
        Role::Day => only_numbers && numbers.zeros == 0 && all(&within(1, 31)),
        Role::Date | Role::Time | Role::Zone => false,
    }
}
