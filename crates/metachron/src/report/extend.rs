//! What a readings file could be told of a delivery that has something new: an office, a city, a text that stands for
//! nothing, a written form.

use metachron_core::duration::Unit;
use metachron_core::epoch::Number;
use metachron_core::evidence::ObserveOptions;
use metachron_core::explain::{Explanation, explain};
use metachron_core::layout::Layout;
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::{Order, Reading, Split};
use metachron_core::timeline::SignKind;
use metachron_core::typed::Kind;
use metachron_core::verdict::{Drift, NewValue};
use toml_edit::{Array, InlineTable, Value};

use super::paste::{Paste, SettleFacts};
use crate::choices::{Choices, Said, zone_of_city};
use crate::conversion::ColumnTally;
use crate::message::{quoted, shown};
use crate::survey::SurveyedColumn;
use crate::words::{list, phrase};

/// So many texts are offered as standing for nothing.
const MOST_TEXTS: usize = 3;
/// Of so many values nothing tells the order, and each is asked about by itself.
const MOST_VALUES: usize = 3;

/// The command line that tells the readings file which signs are right as they are; none without a readings file.
pub fn allowing(
    column: &str,
    signs: &[SignKind],
    paste: &Paste,
    choices: &Choices,
) -> Option<SettleFacts> {
    let readings = choices.readings.as_ref().filter(|_| !signs.is_empty())?;
    let names: Vec<&str> = signs.iter().map(|sign| sign.name()).collect();
    let said =
        Said::keys(column, [("allow", Value::from(names.iter().copied().collect::<Array>()))]);
    let line = said.on(paste.saving());
    let what = if names.len() == 1 { "is" } else { "and the like are" };
    let message = format!(
        "If {} of {} {what} right as it is, to tell {} so",
        names[0],
        quoted(column),
        shown(&readings.path)
    );
    Some(SettleFacts::line(message, line.to_string()))
}

/// The command lines that add to the readings file what is new in a column; none without a readings file.
pub fn extensions(
    column: &SurveyedColumn,
    tally: Option<&ColumnTally>,
    paste: &Paste,
    choices: &Choices,
) -> Vec<SettleFacts> {
    let Some(readings) = &choices.readings else { return Vec::new() };
    let file = shown(&readings.path);
    let name = &column.plan.name;
    let say = |when: String, said: &Said| {
        let line = said.on(paste.saving());
        SettleFacts::line(format!("If {when}, to tell {file} so"), line.to_string())
    };
    let reading = column.inference.compiled.as_ref().map(|compiled| compiled.reading());
    let mut all = Vec::new();
    for drift in column.drift() {
        match (drift, reading) {
            (Drift::NewValues { column: other, values, .. }, Some(reading)) => {
                let orders = reading.split.as_ref().map(Split::orders).unwrap_or_default();
                for (order, values) in new_parts(&values, &orders) {
                    let called = list(values.iter().map(|own| quoted(own)), "and", "more");
                    let are = if values.len() == 1 { "is" } else { "are" };
                    let said = Said::beside(name, &other, &values, order);
                    all.push(say(format!("{called} {are} {}", phrase(order)), &said));
                }
            }
            (Drift::NewShape { rows, .. }, Some(reading)) if reading.split.is_none() => {
                let Some(first) = rows.first else { continue };
                let ways = match reading.kind {
                    Kind::Duration => units(&first.value),
                    _ => new_layouts(&first.value, reading),
                };
                for (layout, says) in ways {
                    let layouts = reading.layouts.iter().chain([&layout]);
                    let layouts: Array = layouts.map(Layout::to_string).collect();
                    let said = Said::keys(name, [("layouts", Value::from(layouts))]);
                    all.push(say(says, &said));
                }
            }
            _ => {}
        }
    }
    for text in texts(column) {
        let said = Said::keys(name, [("missing", Value::from(Array::from_iter([&text])))]);
        all.push(say(format!("{} stands for nothing", quoted(&text)), &said));
    }
    for place in tally.iter().flat_map(|tally| tally.no_zones.keys()) {
        let Some(zone) = zone_of_city(place, choices.zones) else { continue };
        let zones: InlineTable = [(place.as_str(), zone)].into_iter().collect();
        let said = Said::keys(name, [("zones", Value::from(zones))]);
        all.push(say(format!("{} is in {zone}", quoted(place)), &said));
    }
    all
}

/// Values of the column that tells rows apart, with an order that they may have: those whose rows tell it together, of
/// few others each by itself.
fn new_parts(values: &[NewValue], orders: &[Order]) -> Vec<(Alternative, Vec<String>)> {
    let orders = || orders.iter().copied().map(Alternative::from);
    let (told, open): (Vec<&NewValue>, Vec<&NewValue>) =
        values.iter().partition(|own| own.tells.is_some());
    let called =
        |of: &[&NewValue]| -> Vec<String> { of.iter().map(|own| own.value.clone()).collect() };
    let told = orders().map(|order| {
        let of: Vec<&NewValue> =
            told.iter().copied().filter(|own| own.tells == Some(order)).collect();
        (order, called(&of))
    });
    let each = if open.len() <= MOST_VALUES { 1 } else { open.len() };
    let open = open.chunks(each).flat_map(|of| orders().map(|order| (order, called(of))));
    told.chain(open).filter(|(_, values)| !values.is_empty()).collect()
}

/// The layouts of the column's kind that a value of a new form fits, each with what it makes of it.
fn new_layouts(value: &str, reading: &Reading) -> Vec<(Layout, String)> {
    let options = ObserveOptions { terms: reading.terms, ..ObserveOptions::default() };
    let Explanation::Ways(ways) = explain(value, &options) else { return Vec::new() };
    let mut all: Vec<(Layout, String)> = Vec::new();
    for way in ways {
        let Ok(fit) = way.result else { continue };
        let is_new = !reading.layouts.contains(&way.layout)
            && all.iter().all(|(layout, _)| *layout != way.layout);
        if is_new && way.layout.kind() == Some(reading.kind) {
            all.push((way.layout, format!("{} is {}", quoted(value), fit.moment)));
        }
    }
    all
}

/// The units that a number alone may count, each with its layout.
fn units(value: &str) -> Vec<(Layout, String)> {
    if Number::parse(value.trim()).is_none() {
        return Vec::new();
    }
    let layouts = Unit::USUAL.into_iter().map(|unit| {
        let layout = Layout::parse(&format!("{{{}:decimal}}", unit.name())).ok()?;
        Some((layout, format!("numbers alone are {}", unit.name())))
    });
    layouts.flatten().collect()
}

/// Texts without a digit in a form that several rows have and none fits.
fn texts(column: &SurveyedColumn) -> Vec<String> {
    let shapes = column.evidence.shapes.by_frequency();
    let is_text = |shape: &str| !shape.contains('0') && shape.chars().any(char::is_alphabetic);
    let texts = shapes
        .into_iter()
        .filter(|(shape, tally)| tally.fits == 0 && tally.rows > 1 && is_text(shape));
    texts.take(MOST_TEXTS).map(|(_, tally)| tally.lowest.value.clone()).collect()
}
