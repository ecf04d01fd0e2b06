//! Saves the decisions of a survey in a readings file.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::calendar::Calendar;
use metachron_core::layout::{Field, Layout};
use metachron_core::named::Named;
use metachron_core::reading::{Contested, RowParts, Split, Written};
use metachron_core::verdict::{Baseline, Settle, Verdict};
use metachron_tables::place::{Output, same_file};
use metachron_tables::table::TableFormat;

use crate::args;
use crate::choices::{
    Choices, ReadingsFile, SavedColumn, baseline_value, column_options, render, rows_text,
};
use crate::message::{Failure, plain, quoted, say, shown};
use crate::report::paste::{Paste, found, taken};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::{order_name, words};

/// What a person has said to what was found.
#[derive(Debug, Default)]
pub struct Accepted {
    /// What is accepted as it was found, whatever the column.
    pub found: Vec<args::Accept>,
    /// Answers by column: how it is written, or that what was found is right.
    pub answers: Vec<(String, Option<Written>)>,
}

/// Says on standard error what was saved, since standard output is the report.
///
/// # Errors
/// What was saved cannot be read.
pub fn print_saved(
    path: &Path,
    files: &[PathBuf],
    columns: &[SurveyedColumn],
    choices: &Choices,
) -> Result<(), Failure> {
    let saved = ReadingsFile::read(path)?;
    let is_there = |name: &&str| columns.iter().any(|column| column.plan.name == *name);
    let is_whole = choices.chosen.is_empty();
    if let Some(gone) = saved.columns().find(|name| is_whole && !is_there(name)) {
        let file = files.first().map_or(String::new(), |file| shown(file));
        say(&format!(
            "metachron: decisions saved in {}, which also reads {}; {file} has no such column, so take it out \
             there first",
            shown(path),
            quoted(gone)
        ));
        return Ok(());
    }
    let paths: Vec<&Path> = files.iter().map(PathBuf::as_path).collect();
    // What was said of columns stands in the file.
    let said = [
        "set",
        "when",
        "column",
        "readings",
        "missing",
        "delimiter",
        "encoding",
        "sheet",
        "table",
        "skip-lines",
        "header-line",
        "no-header",
    ];
    let line = Paste::of(&paths, choices.line()).convert();
    let line =
        said.into_iter().chain(column_options()).fold(line, |line, option| line.without(option));
    let line = line.with("readings", path.to_string_lossy());
    say(&format!("metachron: decisions saved in {}; review them, then\n  {line}", shown(path)));
    Ok(())
}

/// Saves the columns with dates; what a person has accepted there stays.
pub fn save(
    path: &Path,
    tables: &[SurveyedTable],
    columns: &[SurveyedColumn],
    choices: &Choices,
    accepted: &Accepted,
) -> Result<(), Failure> {
    if tables.iter().any(|table| same_file(path, &table.intake.path)) {
        return Err(Failure::usage(format!("--save {} would overwrite the input", shown(path))));
    }
    let existing = match std::fs::read_to_string(path) {
        Ok(text) => {
            // What is no readings file is not written over.
            ReadingsFile::read(path)?;
            Some(text)
        }
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => None,
        Err(error) => {
            return Err(Failure::reading(path, &metachron_tables::error::TableError::Io(error)));
        }
    };
    let by_rows = |column: &SurveyedColumn| {
        let reading = column.inference.judgement.reading.as_ref();
        let split = reading.and_then(|reading| reading.split.as_ref());
        split.is_some_and(|split| split.column().is_none())
    };
    let digest = match tables {
        [table] if columns.iter().any(by_rows) => table.intake.digest().map(Some)?,
        _ => None,
    };
    for column in columns.iter().filter(|column| column.is_open()) {
        accepted.tell(column);
    }
    let dates = columns.iter().filter(|column| column.verdict() != Verdict::NotADate);
    let columns: Vec<SavedColumn> =
        dates.map(|column| saved(column, accepted, digest.as_deref())).collect();
    let (text, kept) = render(existing.as_deref(), &saved_source(tables, choices), &columns)
        .map_err(|error| Failure::could_not(format!("{}: {error}", shown(path))))?;
    for name in kept {
        let name = plain(&name);
        say(&format!("metachron: {}: {name} is accepted there and stays as it is", shown(path)));
    }
    let failed = |error| Failure::writing(path, &error);
    let mut out = Output::create(path).map_err(failed)?;
    out.write_all(text.as_bytes()).and_then(|()| out.finish()).map_err(failed)
}

/// What the readings file says of the file itself.
fn saved_source(
    tables: &[SurveyedTable],
    choices: &Choices,
) -> Vec<(&'static str, toml_edit::Value)> {
    let mut keys: Vec<(&'static str, toml_edit::Value)> = Vec::new();
    let [first, others @ ..] = tables else { return keys };
    // What is found out of one file need not hold for the others.
    let alone = others.is_empty();
    let table = &first.intake.table;
    if let TableFormat::Delimited { dialect, header, preamble, .. } = &table.format
        && alone
    {
        let delimiter = char::from(dialect.delimiter.byte()).to_string();
        keys.push(("delimiter", delimiter.into()));
        if !preamble.is_empty() {
            keys.push(("skip_lines", (preamble.len() as i64).into()));
        }
        if header.is_none() {
            keys.push(("no_header", true.into()));
        }
    }
    if let Some((kind, name, _)) = table.part().filter(|_| alone) {
        keys.push((kind, name.into()));
    }
    let charset = table.source().charset;
    if table.is_text() && !charset.is_utf_8() && alone {
        keys.push(("encoding", charset.name().to_lowercase().into()));
    }
    if !choices.missing.is_empty() {
        let list: toml_edit::Array = choices.missing.iter().collect();
        keys.push(("missing", list.into()));
    }
    keys
}

impl Accepted {
    /// Whether what was found of a column is accepted.
    fn accepts(&self, column: &SurveyedColumn) -> bool {
        let judgement = &column.inference.judgement;
        let is_split = judgement.settle.iter().any(|way| matches!(way, Settle::Split(_)));
        let leans = judgement.leans_to.is_some();
        let by_answer = self.answers.iter().any(|(name, _)| *name == column.plan.name);
        by_answer
            || self.found.iter().any(|accepted| match accepted {
                args::Accept::Split => is_split,
                args::Accept::Leaning => leans,
            })
    }

    /// Says what is taken of what was found, before it is saved; and of what it was asked to take and cannot.
    fn tell(&self, column: &SurveyedColumn) {
        let name = plain(&column.plan.name);
        let asked = |accepted: args::Accept| self.found.contains(&accepted);
        match found(column) {
            Some(way @ Settle::Split(_)) if asked(args::Accept::Split) => {
                say(&format!("metachron: {name} is taken as found: {}", taken(way, column)));
            }
            Some(way) if !matches!(way, Settle::Split(_)) && asked(args::Accept::Leaning) => {
                say(&format!("metachron: {name} is taken as it leans: {}", taken(way, column)));
            }
            None if asked(args::Accept::Leaning) => {
                say(&format!("metachron: {name} stays open: nothing says which answer is likelier"))
            }
            _ => {}
        }
    }

    /// How a column is written, by an answer.
    fn written(&self, column: &SurveyedColumn) -> Option<&Written> {
        let own = self.answers.iter().find(|(name, _)| *name == column.plan.name);
        own.and_then(|(_, written)| written.as_ref())
    }
}

/// How some rows are written, for a readings file.
fn whens(
    split: &Split<Vec<Layout>>,
    digest: Option<&str>,
) -> Vec<Vec<(&'static str, toml_edit::Value)>> {
    let layouts = |layouts: &Vec<Layout>| -> (&'static str, toml_edit::Value) {
        let layouts: toml_edit::Array = layouts.iter().map(ToString::to_string).collect();
        ("layouts", layouts.into())
    };
    parts_with(&split.parts, digest, layouts)
}

/// Parts of the rows, each with what is said of it.
fn parts_with<W>(
    parts: &RowParts<W>,
    digest: Option<&str>,
    say: impl Fn(&W) -> (&'static str, toml_edit::Value),
) -> Vec<Vec<(&'static str, toml_edit::Value)>> {
    match parts {
        RowParts::Column(name, parts) => parts
            .iter()
            .map(|(values, said)| {
                let mut place = toml_edit::InlineTable::new();
                let values: toml_edit::Array = values.iter().collect();
                place.insert(name, values.into());
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

/// What the readings file says of a column.
fn saved(column: &SurveyedColumn, accepted: &Accepted, digest: Option<&str>) -> SavedColumn {
    let judgement = &column.inference.judgement;
    let answer = accepted.written(column);
    let accepted = accepted.accepts(column);
    let mut keys: Vec<(&'static str, toml_edit::Value)> = Vec::new();
    let into = column.plan.decisions.into.clone().unwrap_or(format!("{}_typed", column.plan.name));
    keys.push(("into", into.into()));
    if let Some(kind) = judgement.kind {
        keys.push(("kind", kind.name().into()));
    }
    keys.push(("verdict", judgement.verdict.name().into()));
    if let (true, Some(Settle::Epoch(epoch))) = (accepted, &judgement.leans_to) {
        keys.push(("epoch", epoch.to_string().into()));
    }
    if accepted {
        keys.push(("accepted", true.into()));
    }
    if column.plan.decisions.convert == Some(false) {
        keys.push(("convert", false.into()));
    }
    let mut comments: Vec<String> =
        judgement.findings.iter().map(|reason| plain(&format!("why: {}", words(reason)))).collect();
    if let Some(reading) = &judgement.reading {
        if let Some(locale) = reading.terms.written_in() {
            keys.push(("written_in", locale.tag().into()));
        }
        let calendar = reading.terms.lexicon.calendar();
        if calendar != Calendar::Gregorian {
            keys.push(("calendar", calendar.name().into()));
        }
        let said = match answer {
            Some(Written::Layouts(layouts)) => Some(layouts),
            _ => None,
        };
        let otherwise = reading.split.as_ref().and_then(|split| split.otherwise.as_ref());
        let layouts = said.or(otherwise).unwrap_or(&reading.layouts).iter();
        let layouts: toml_edit::Array = layouts.map(ToString::to_string).collect();
        if !layouts.is_empty() && !matches!(answer, Some(Written::Order(_))) {
            keys.push(("layouts", layouts.into()));
        }
        if reading.layouts.iter().any(|layout| layout.has(Field::YearTwo)) {
            keys.push(("two_digit_from", i64::from(reading.terms.century.from).into()));
        }
        if let Some(years) = &reading.years {
            keys.push(("year", i64::from(years.first).into()));
        }
        if let Some(anchor) = reading.anchor {
            keys.push(("anchor", anchor.name().into()));
        }
        if let Some(reform) = reading.terms.reform {
            keys.push(("reform", reform.to_string().into()));
        }
        if let Some(serials) = reading.serials {
            keys.push(("epoch", serials.epoch.to_string().into()));
        }
        keys.extend(column.plan.decisions.clocks.said());
        if let Some(repair) = column.plan.decisions.repair {
            keys.push(("repair", repair.name().into()));
        }
        if reading.contested == Contested::Prefer {
            keys.push(("contested", "prefer".into()));
        }
    }
    let split = judgement.reading.as_ref().and_then(|reading| reading.split.as_ref());
    if split.is_some_and(|split| split.otherwise.is_some()) {
        keys.push(("otherwise", "layouts".into()));
    }
    match answer {
        Some(Written::Order(order)) => keys.push(("order", order.to_string().into())),
        Some(Written::Layouts(layouts)) if judgement.reading.is_none() => {
            let layouts: toml_edit::Array = layouts.iter().map(ToString::to_string).collect();
            keys.push(("layouts", layouts.into()));
        }
        _ => {}
    }
    if let Some(rows) = column.of_first_rows {
        comments.push(format!("By the first {rows} rows only."));
    }
    if judgement.verdict.is_open() && !accepted {
        let year = judgement.settle.iter().find_map(|way| match way {
            Settle::Year(year) => Some(*year),
            _ => None,
        });
        comments.push(match judgement.verdict {
            _ if let Some(year) = year => {
                format!("Add year = {year}, or whichever the first row has, or convert = false")
            }
            _ if !judgement.origins.is_empty() => {
                let origins = judgement.origins.iter();
                let epochs: Vec<String> =
                    origins.map(|origin| format!("epoch = \"{}\"", origin.epoch)).collect();
                format!("Add {} (then accepted = true), or convert = false", epochs.join(" or "))
            }
            _ if split.is_some() => {
                "If what tells the rows apart is right, add: accepted = true".to_owned()
            }
            Verdict::Leaning => "If this is right, add: accepted = true; if not, write an order in place of the layouts".to_owned(),
            _ => {
                let in_play = judgement.contenders.iter().filter(|contender| contender.survives);
                let orders: Vec<String> =
                    in_play.map(|contender| format!("order = \"{}\"", order_name(contender.alternative))).collect();
                format!("Add {} (then accepted = true), or convert = false", orders.join(" or "))
            }
        });
    }
    let seen = Baseline::of(&column.evidence, judgement).filter(|_| answer.is_none());
    keys.extend(seen.and_then(|seen| Some(("seen", baseline_value(&seen)?))));
    // An answer for all rows is against telling them apart.
    let split = split.filter(|_| answer.is_none());
    let mut when = split.map_or(Vec::new(), |split| whens(split, digest));
    if let Some(parts) = &column.plan.decisions.clocks.of_rows {
        when.extend(parts_with(parts, digest, |zone| ("zone", zone.into())));
    }
    SavedColumn { from: column.plan.name.clone(), keys, comments, when }
}
