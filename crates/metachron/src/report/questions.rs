//! What a person has to say before a table can be written.

use std::fmt::Write as _;

use metachron_core::apply::Compiled;
use metachron_core::text::counted;
use metachron_core::verdict::{Counts, Drift, Verdict};

use super::column::ColumnFacts;
use super::facts::SurveyReport;
use super::{Block, Page, block, indent_of, indent_of_names, paragraph};
use crate::choices::{Choices, set_name, suggested_output};
use crate::conversion::TypedColumn;
use crate::message::{Failure, plain, shell_word, shown};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::words;

/// How the columns that are converted differ from what their readings were saved for.
pub fn drifts(table: &SurveyedTable) -> Vec<(&SurveyedColumn, Drift)> {
    let columns = table.columns.iter().filter(|c| c.plan.decisions.convert != Some(false));
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
    let file = shell_word(&file.to_string_lossy());
    let name = shell_word(&first.plan.name);
    let _ = write!(text, "\n  To look at it anew:\n    metachron survey {file} --column {name}\n");
    let readings = choices.repeated(None);
    let output = shell_word(&suggested_output(&table.intake.path));
    for (message, said) in answers(first, drift) {
        let said = shell_word(&format!("{}: {said}", set_name(&first.plan.name)));
        let _ = write!(
            text,
            "  {message}:\n    metachron convert {file}{readings} --set {said} -o {output}\n"
        );
    }
    Err(Failure::question(text.trim_end()))
}

/// What may be so where a saved reading cannot be right for all rows, and what says it.
fn answers(column: &SurveyedColumn, drift: &Drift) -> Vec<(String, String)> {
    match drift {
        Drift::OtherYear { likely, .. } => {
            vec![(format!("If the first row is of {likely}"), format!("year={likely}"))]
        }
        Drift::OtherOrigin { saved, own } => vec![
            ("If the workbook is right".to_owned(), format!("epoch={own}")),
            ("If the saved reading is right".to_owned(), format!("epoch={saved}")),
        ],
        _ => {
            let reading = column.inference.compiled.as_ref().map(Compiled::reading);
            let reading = reading.filter(|reading| reading.split.is_none());
            let all = reading.map(|reading| {
                let layouts = reading.layouts.iter().map(|layout| format!("\"{layout}\""));
                let message =
                    "If the saved reading is right, and what it does not fit is to be left empty";
                let layouts = layouts.collect::<Vec<_>>().join(", ");
                (message.to_owned(), format!("layouts=[{layouts}]"))
            });
            all.into_iter().collect()
        }
    }
}

/// Whether a person has to say something of this column before the table can be written.
pub fn is_open(column: &SurveyedColumn, choices: &Choices) -> bool {
    match column.verdict() {
        _ if column.plan.decisions.convert == Some(false) => false,
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

/// What is asked of the analyst, and what can be done meanwhile.
pub fn question(
    open: &[&SurveyedColumn],
    table: &SurveyedTable,
    choices: &Choices,
    page: Page,
) -> String {
    let report = SurveyReport::new(table, choices);
    let facts: Vec<&ColumnFacts> = report
        .columns
        .iter()
        .filter(|facts| open.iter().any(|o| o.plan.name == facts.name))
        .collect();
    let decided: Vec<&SurveyedColumn> =
        table.columns.iter().filter(|column| column.verdict() == Verdict::Decided).collect();
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
    for column in facts {
        text.push('\n');
        block(&mut text, &column.name, column, Block::Question, indent, page);
        if !column.is_temporal() {
            let file = shell_word(&table.intake.path.to_string_lossy());
            let name = shell_word(&column.name);
            let _ = writeln!(
                text,
                "{}If it does hold dates, say how they are written, for example:\n\
                 {}metachron convert {file}{} --column {name} --layout '{{year}}{{month:02}}{{day:02}}' -o {}",
                " ".repeat(indent),
                " ".repeat(indent + 2),
                choices.repeated(None),
                shell_word(&suggested_output(&table.intake.path)),
            );
        }
    }
    if !decided.is_empty() {
        let names: String = decided
            .iter()
            .map(|column| format!(" --column {}", shell_word(&column.plan.name)))
            .collect();
        let _ = write!(
            text,
            "\n  To convert the decided {} now:\n    metachron convert {}{}{} -o {}",
            if decided.len() == 1 { "one" } else { "ones" },
            shell_word(&table.intake.path.to_string_lossy()),
            choices.repeated(None),
            names,
            shell_word(&suggested_output(&table.intake.path)),
        );
    }
    text.trim_end().to_owned()
}
