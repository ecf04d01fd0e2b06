//! What a readings file says of a column: what was said of it, and what was found where nothing was said.

use metachron_core::calendar::Calendar;
use metachron_core::layout::{Field, Layout};
use metachron_core::named::Named;
use metachron_core::reading::{Contested, Reading, RowParts, Written};
use metachron_core::verdict::{Baseline, Judgement, Settle, Verdict};
use toml_edit::{Array, InlineTable, Value};

use crate::choices::{COLUMN_KEYS, Choices, Keys, SavedColumn, baseline_value, rows_text};
use crate::message::plain;
use crate::survey::SurveyedColumn;
use crate::words::{order_name, words};

/// Whether rows are told apart by their place, which holds for this content alone.
pub fn is_told_by_rows(column: &SurveyedColumn) -> bool {
    let decisions = &column.plan.decisions;
    let split = column.inference.judgement.reading.as_ref().and_then(|own| own.split.as_ref());
    let said = decisions.when.as_ref();
    split.is_some_and(|split| split.column().is_none())
        || said.is_some_and(|when| matches!(when.parts, RowParts::Rows(_)))
        || matches!(decisions.clocks.of_rows, Some(RowParts::Rows(_)))
}

/// What is saved of a column; `accepted` tells whether what was found of it is.
pub fn saved_column(
    column: &SurveyedColumn,
    accepted: bool,
    digest: Option<&str>,
    choices: &Choices,
) -> SavedColumn {
    let (decisions, judgement) = (&column.plan.decisions, &column.inference.judgement);
    let is_open = judgement.verdict.is_open() && !accepted;
    let says_how = decisions.written.is_some() || decisions.when.is_some();
    // What was said holds although something else is open.
    let stays = says_how && is_open;
    let reading = judgement.reading.as_ref().filter(|_| !stays);
    let mut keys: Keys = Vec::new();
    if judgement.verdict != Verdict::NotADate {
        let into = decisions.into.clone().unwrap_or_else(|| format!("{}_typed", column.plan.name));
        keys.push(("into", into.into()));
        keys.extend(judgement.kind.map(|kind| ("kind", kind.name().into())));
        keys.push(("verdict", judgement.verdict.name().into()));
    }
    if accepted || stays {
        keys.push(("accepted", true.into()));
    }
    if let (true, Some(Settle::Epoch(epoch))) = (accepted, &judgement.leans_to) {
        keys.push(("epoch", epoch.to_string().into()));
    }
    let found = reading.into_iter().flat_map(found);
    // Where a century is only assumed, saving it would answer a question that nobody has answered.
    keys.extend(found.filter(|(key, _)| !(is_open && *key == "two_digit_from")));
    let of_reading = ["order", "layouts", "verdict", "otherwise"];
    for (key, value) in decisions.said() {
        let is_needed = match key {
            "known" => is_open,
            _ if of_reading.contains(&key) => reading.is_none(),
            _ => true,
        };
        // What was said counts for more than what came of it.
        if is_needed {
            keys.retain(|(own, _)| *own != key);
            keys.push((key, value));
        }
    }
    let place = |key: &str| COLUMN_KEYS.iter().position(|(own, _)| *own == key);
    let seen = Baseline::of(&column.evidence, judgement).filter(|_| !stays);
    keys.sort_by_key(|(key, _)| place(key));
    keys.extend(seen.and_then(|seen| Some(("seen", baseline_value(&seen)?))));
    let split = reading.and_then(|reading| reading.split.as_ref());
    let mut when = match (split, &decisions.when) {
        (Some(split), _) => {
            parts_with(&split.parts, digest, |own| ("layouts", layouts(own.iter())))
        }
        (None, Some(said)) => parts_with(&said.parts, digest, written),
        (None, None) => Vec::new(),
    };
    if let Some(parts) = &decisions.clocks.of_rows {
        when.extend(parts_with(parts, digest, |zone| ("zone", zone.into())));
    }
    SavedColumn {
        from: column.plan.name.clone(),
        comments: comments(column, judgement, is_open && !stays),
        keys,
        when,
        is_said: choices.speaks_of(&column.plan.name),
    }
}

/// What was found of how a column is read.
fn found(reading: &Reading) -> Keys {
    let mut keys: Keys = Vec::new();
    keys.extend(reading.terms.written_in().map(|locale| ("written_in", locale.tag().into())));
    let calendar = reading.terms.lexicon.calendar();
    if calendar != Calendar::Gregorian {
        keys.push(("calendar", calendar.name().into()));
    }
    let otherwise = reading.split.as_ref().and_then(|split| split.otherwise.as_ref());
    let all = otherwise.unwrap_or(&reading.layouts);
    if !all.is_empty() {
        keys.push(("layouts", layouts(all.iter())));
    }
    if otherwise.is_some() {
        keys.push(("otherwise", "layouts".into()));
    }
    if reading.layouts.iter().any(|layout| layout.has(Field::YearTwo)) {
        keys.push(("two_digit_from", i64::from(reading.terms.century.from).into()));
    }
    keys.extend(reading.years.as_ref().map(|years| ("year", i64::from(years.first).into())));
    keys.extend(reading.anchor.map(|anchor| ("anchor", anchor.name().into())));
    keys.extend(reading.terms.reform.map(|reform| ("reform", reform.to_string().into())));
    keys.extend(reading.serials.map(|serials| ("epoch", serials.epoch.to_string().into())));
    if reading.contested == Contested::Prefer {
        keys.push(("contested", "prefer".into()));
    }
    keys
}

fn layouts<'l>(all: impl Iterator<Item = &'l Layout>) -> Value {
    all.map(Layout::to_string).collect::<Array>().into()
}

fn written(said: &Written) -> (&'static str, Value) {
    match said {
        Written::Order(order) => ("order", order.name().into()),
        Written::Layouts(all) => ("layouts", layouts(all.iter())),
    }
}

/// Parts of the rows, each with what is said of it.
fn parts_with<W>(
    parts: &RowParts<W>,
    digest: Option<&str>,
    say: impl Fn(&W) -> (&'static str, Value),
) -> Vec<Keys> {
    match parts {
        RowParts::Column(name, parts) => parts
            .iter()
            .map(|(values, said)| {
                let mut place = InlineTable::new();
                place.insert(name, values.iter().collect::<Array>().into());
                vec![("where", place.into()), say(said)]
            })
            .collect(),
        RowParts::Rows(parts) => parts
            .iter()
            .map(|(rows, said)| {
                let digest = digest.unwrap_or_default();
                vec![("rows", rows_text(rows).into()), ("digest", digest.into()), say(said)]
            })
            .collect(),
    }
}

/// Why, and what a person can add where it waits for one.
fn comments(column: &SurveyedColumn, judgement: &Judgement, waits: bool) -> Vec<String> {
    let why = judgement.findings.iter().map(|own| plain(&format!("why: {}", words(own))));
    let mut comments: Vec<String> = why.collect();
    if let Some(rows) = column.of_first_rows {
        comments.push(format!("By the first {rows} rows only."));
    }
    if !waits {
        return comments;
    }
    let year = judgement.settle.iter().find_map(|way| match way {
        Settle::Year(year) => Some(*year),
        _ => None,
    });
    let centuries: Vec<String> = judgement
        .settle
        .iter()
        .filter_map(|way| match way {
            Settle::TwoDigitFrom(year) => Some(format!("two_digit_from = {year}")),
            _ => None,
        })
        .collect();
    let is_split = judgement.reading.as_ref().is_some_and(|reading| reading.split.is_some());
    let either = |all: Vec<String>| {
        format!("Add {} (then accepted = true), or convert = false", all.join(" or "))
    };
    comments.push(match judgement.verdict {
        _ if let Some(year) = year => {
            format!("Add year = {year}, or whichever the first row has, or convert = false")
        }
        _ if !centuries.is_empty() => either(centuries),
        _ if !judgement.origins.is_empty() => {
            let origins = judgement.origins.iter();
            either(origins.map(|origin| format!("epoch = \"{}\"", origin.epoch)).collect())
        }
        _ if is_split => "If what tells the rows apart is right, add: accepted = true".to_owned(),
        Verdict::Leaning => {
            "If this is right, add: accepted = true; if not, write an order in place of the layouts"
                .to_owned()
        }
        _ => {
            let in_play = judgement.contenders.iter().filter(|contender| contender.survives);
            let order = |own| format!("order = \"{}\"", order_name(own));
            either(in_play.map(|contender| order(contender.alternative)).collect())
        }
    });
    comments
}
