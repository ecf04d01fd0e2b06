//! What a person has to say before a table can be written.

use std::fmt::Write as _;
use std::path::Path;

use metachron_core::apply::Compiled;
use metachron_core::layout::Layout;
use metachron_core::text::counted;
use metachron_core::verdict::{Counts, Drift, Verdict};
use toml_edit::{Array, Value};

use super::column::ColumnFacts;
use super::facts::SurveyReport;
use super::overview::{is_alike, questions_alike, to_paste};
use super::paste::{Paste, SettleFacts, no_date};
use super::{Block, Page, block, indent_of, indent_of_names, paragraph};
use crate::choices::{Choices, Said};
use crate::conversion::TypedColumn;
use crate::message::{Failure, plain, shell_word, shown};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::words;

/// How the columns that are converted differ from what their readings were saved for.
pub fn drifts(table: &SurveyedTable) -> Vec<(&SurveyedColumn, Drift)> {
    let columns = table.columns.iter().filter(|column| !column.is_left());
    columns.flat_map(|column| column.drift().into_iter().map(move |d| (column, d))).collect()
}

/// What is worth being told of a column whenever it is read, each with a word for it; without its full stop.
pub fn warnings(column: &SurveyedColumn) -> impl Iterator<Item = (&'static str, String)> {
    let is_open = column.verdict().is_open();
    let findings = column.inference.judgement.findings.iter().filter(move |_| !is_open);
    let told = findings.filter_map(|finding| Some((finding.warning()?, finding)));
    told.map(|(code, finding)| {
        let sentence = words(finding).to_string();
        (code, sentence.strip_suffix('.').unwrap_or(&sentence).to_owned())
    })
}

/// A saved reading that cannot be right for all rows is a question.
pub fn stop_at_drift(table: &SurveyedTable, choices: &Choices, page: Page) -> Result<(), Failure> {
    let all = drifts(table);
    let Some((first, drift)) = all.iter().find(|(_, drift)| drift.is_contradiction()) else {
        return Ok(());
    };
    let file = &table.intake.path;
    let saved = choices.readings.as_ref().map_or(String::new(), |r| shown(&r.path));
    let mut text =
        format!("{} is not what {saved} was saved for; nothing was written\n\n", shown(file));
    let indent = indent_of_names(all.iter().map(|(column, _)| column.plan.name.as_str()));
    let mut last = "";
    for (column, drift) in &all {
        let name = if column.plan.name == last { String::new() } else { plain(&column.plan.name) };
        last = &column.plan.name;
        let lead = page.lead_within(&name, indent, &mut text);
        paragraph(
            &mut text,
            &lead,
            indent,
            &format!("{}.", plain(&words(drift).to_string())),
            page.width,
        );
    }
    let paste = Paste::of(&[file], choices);
    let name = &first.plan.name;
    let anew = paste.survey().without("readings").without("column").with("column", name);
    let _ = write!(text, "\n  To look at it anew:\n    {anew}\n");
    for (message, said) in answers(first, drift) {
        let _ = write!(text, "  {message}:\n    {}\n", paste.saying(&said));
    }
    Err(Failure::question(text.trim_end()))
}

/// What may be so where a saved reading cannot be right for all rows, and what says it.
fn answers(column: &SurveyedColumn, drift: &Drift) -> Vec<(String, Said)> {
    let says = |message: &str, key: &'static str, value: Value| {
        (message.to_owned(), Said::keys(&column.plan.name, [(key, value)]))
    };
    match drift {
        Drift::OtherYear { likely, .. } => {
            vec![says(
                &format!("If the first row is of {likely}"),
                "year",
                i64::from(*likely).into(),
            )]
        }
        Drift::OtherOrigin { saved, own } => vec![
            says("If the workbook is right", "epoch", own.to_string().into()),
            says("If the saved reading is right", "epoch", saved.to_string().into()),
        ],
        _ => {
            let reading = column.inference.compiled.as_ref().map(Compiled::reading);
            let reading = reading.filter(|reading| reading.split.is_none());
            let all = reading.map(|reading| {
                let message =
                    "If the saved reading is right, and what it does not fit is to be left empty";
                let layouts = reading.layouts.iter().map(Layout::to_string);
                says(message, "layouts", layouts.collect::<Array>().into())
            });
            all.into_iter().collect()
        }
    }
}

/// Whether a person has to say something of this column before the table can be written.
fn is_open(column: &SurveyedColumn, choices: &Choices) -> bool {
    match column.verdict() {
        _ if column.is_left() => false,
        Verdict::NotADate => choices.names_column(&column.plan.name),
        verdict => verdict.is_open(),
    }
}

/// Replacing the raw column must not lose a value that was not read.
pub fn refuse_loss(table: &SurveyedTable, columns: &[TypedColumn<'_>]) -> Result<(), Failure> {
    for column in columns {
        let Counts { unreadable, contested, placeholder, .. } =
            column.source.inference.judgement.counts;
        let lost = unreadable + contested + placeholder;
        if lost > 0 {
            return Err(Failure::question(format!(
                "--replace-raw would lose {} of {} in {} that cannot be read; \
                 add --rejects FILE to keep them, or leave the raw column in place",
                counted(lost, "value"),
                plain(&column.source.plan.name),
                shown(&table.intake.path)
            )));
        }
    }
    Ok(())
}

/// What is asked of the analyst about these tables, and what can be done meanwhile; none if nothing is open.
pub fn questions(tables: &[SurveyedTable], choices: &Choices, page: Page) -> Option<String> {
    let asked = |table: &SurveyedTable| table.columns.iter().any(|own| is_open(own, choices));
    let (open, others): (Vec<&SurveyedTable>, Vec<&SurveyedTable>) =
        tables.iter().partition(|table| asked(table));
    if open.is_empty() {
        return None;
    }
    let of_table = |table: &&SurveyedTable| match tables {
        [_] => question(table, choices, page),
        _ => format!("{}: {}", shown(&table.intake.path), question(table, choices, page)),
    };
    let mut text = open.iter().map(of_table).collect::<Vec<_>>().join("\n\n");
    if !others.is_empty() {
        let paths: Vec<&Path> = others.iter().map(|table| table.intake.path.as_path()).collect();
        let line = Paste::of(&paths, choices).convert();
        let files = if others.len() == 1 { "file" } else { "files" };
        let _ = write!(text, "\n\n  To convert the other {files} now:\n    {line}");
    }
    Some(text)
}

/// What is asked about one table.
fn question(table: &SurveyedTable, choices: &Choices, page: Page) -> String {
    let open: Vec<&SurveyedColumn> =
        table.columns.iter().filter(|own| is_open(own, choices)).collect();
    let report = SurveyReport::new(table, choices);
    let facts: Vec<&ColumnFacts> = report
        .columns
        .iter()
        .filter(|facts| open.iter().any(|o| o.plan.name == facts.name))
        .collect();
    let all = table
        .columns
        .iter()
        .filter(|c| c.verdict() != Verdict::NotADate || is_open(c, choices))
        .count();
    let mut text = match (open.len(), all) {
        (1, 1) => "the date column is open; nothing was written\n".to_owned(),
        (1, all) => format!("1 of {all} date columns is open; nothing was written\n"),
        (open, all) => format!("{open} of {all} date columns are open; nothing was written\n"),
    };
    let indent = indent_of(facts.iter().copied());
    let paste = Paste::of(&[&table.intake.path], choices);
    let alone = facts.iter().copied().filter(|own| !is_alike(own, &report.alike));
    for column in alone {
        let own = open.iter().find(|own| own.plan.name == column.name);
        text.push('\n');
        block(&mut text, &column.name, column, Block::Question, indent, page);
        if let Some(own) = own.filter(|own| !own.is_open()) {
            no_dates(&mut text, (own, column), &paste, (indent, page));
        }
    }
    questions_alike(&mut text, &facts, &report.alike, page);
    let all = report.all_at_once;
    if !all.is_empty() {
        text.push('\n');
    }
    for SettleFacts { message, command, .. } in &all {
        to_paste(&mut text, message, command.as_slice(), page);
    }
    text.trim_end().to_owned()
}

/// What can be said of a column that was asked for and in which nothing is written as dates are.
fn no_dates(
    out: &mut String,
    (own, column): (&SurveyedColumn, &ColumnFacts),
    paste: &Paste,
    (indent, page): (usize, Page),
) {
    let lead = " ".repeat(indent);
    let mut say = |message: &str, command: String| {
        paragraph(out, &lead, indent, message, page.width);
        let _ = writeln!(out, "{}{command}", " ".repeat(indent + 2));
    };
    if let Some(shape) = column.shapes.first() {
        let value = plain(&shell_word(&shape.example.value));
        say(
            "If it does hold dates, say how they are written by --set; how a value can be read is shown by:",
            format!("metachron explain {value}"),
        );
    }
    if let Some(SettleFacts { message, command, .. }) = no_date(own, paste) {
        say(&format!("{message}:"), command.unwrap_or_default());
    }
}
