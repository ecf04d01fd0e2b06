//! Forms that machines write: those of standards, and some that have no name.

use std::sync::LazyLock;

use super::{Family, Style};
use crate::layout::{Field, Layout};
use crate::order::Alternative;
use crate::reading::{Terms, Unfit, interpret};
use crate::typed::Kind;

/// Forms by which no value can be meant that is written otherwise: each has a letter, a bracket or
/// so many digits in its place.
const FORMS: [&str; 22] = [
    "common-log",
    "rfc-3339",
    "rfc-9557",
    // Only where the value says GMT is it one of HTTP: elsewhere this is whatever clock it was.
    "{weekday:short} {month:short} {day: 2} {hour:02}:{minute:02}:{second:02} {year}",
    "http-date",
    "rfc-5322",
    // ISO 8601-1 where the others do not have it: the basic format, weeks, days of the year.
    "{year}{month:02}{day:02}T{hour:02}{minute:02}[{second:02}]",
    "{year}{month:02}{day:02}T{hour:02}{minute:02}[{second:02}]{offset}",
    "{year}{month:02}{day:02}T{hour:02}{minute:02}{second:02}.{fraction}",
    "{year}{month:02}{day:02}T{hour:02}{minute:02}{second:02}.{fraction}{offset}",
    "{weekyear}-W{week:02}-{weekday:number}",
    "{weekyear}W{week:02}{weekday:number}",
    "{year}-{yearday:03}",
    "{year}-{yearday:03}T{hour:02}:{minute:02}[:{second:02}[.{fraction}]]",
    "{year}-{yearday:03}T{hour:02}:{minute:02}[:{second:02}[.{fraction}]]{offset}",
    "{year}:{yearday:03}:{hour:02}:{minute:02}:{second:02}[.{fraction}]",
    "{year}{month:02}{day:02}{hour:02}{minute:02}{second:02}[.{fraction}]{offset:basic}",
    // As scripts in web pages write a date.
    "{weekday:short} {month:short} {day:02} {year} {hour:02}:{minute:02}:{second:02} {offset}[ ({any})]",
    // As documents keep it (ISO 32000-2:2020, 7.9.4).
    "D:{year}{month:02}{day:02}{hour:02}{minute:02}{second:02}{offset}",
    "D:{year}{month:02}{day:02}[{hour:02}{minute:02}[{second:02}]]",
    // As web services put it into JSON.
    "/Date({serial:unix-milliseconds})/",
    "/Date({serial:unix-milliseconds}{offset:basic})/",
];

static LAYOUTS: LazyLock<Vec<Layout>> =
    LazyLock::new(|| FORMS.iter().filter_map(|form| Layout::parse(form).ok()).collect());

/// Whether digits stand side by side: every form has such a run, and most values of a column of text have none.
pub(super) fn has_run(value: &str) -> bool {
    value.as_bytes().windows(2).any(|pair| pair.iter().all(u8::is_ascii_digit))
}

/// The form of a machine, if the value is written in one.
pub(super) fn machine(value: &str, terms: Terms) -> Option<Family> {
    if !has_run(value) {
        return None;
    }
    let layout =
        LAYOUTS.iter().find(|layout| interpret(layout, value, terms) != Err(Unfit::Form))?;
    // A standard of several forms is named only if its forms have one kind.
    layout.kind()?;
    Some(Family::of(Style::Machine, layout.to_string(), order(layout), layout.clone()))
}

/// The order of its date, which the form leaves no choice about.
fn order(layout: &Layout) -> Alternative {
    let dated = !layout.has(Field::YearDay) && layout.kind() != Some(Kind::Time);
    layout.order().filter(|_| dated).map_or(Alternative::Only, Alternative::from)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_form_is_a_layout_of_one_kind() {
        assert_eq!(LAYOUTS.len(), FORMS.len());
        for layout in LAYOUTS.iter() {
            assert!(layout.kind().is_some(), "{layout}");
        }
    }
}
