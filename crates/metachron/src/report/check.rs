//! What a check has found.

use super::questions::warnings;
use metachron_core::named::Named;
use metachron_core::text::grouped;
use metachron_core::verdict::{Drift, Verdict};
use serde::Serialize;

use super::Page;
use super::blocks::indent_of_names;
use super::column::RowFacts;
use super::grid::{Grid, paragraph};
use super::overview::heading;
use super::source::SourceFacts;
use crate::choices::Choices;
use crate::message::plain;
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::{many, words};

/// The version of the JSON that `check` prints.
const VERSION: u32 = 1;

/// What a check has found in a file.
#[derive(Debug, Serialize)]
pub struct CheckReport {
    report: &'static str,
    version: u32,
    /// The file.
    pub source: SourceFacts,
    /// The columns with dates.
    pub columns: Vec<CheckedColumn>,
    /// What was found, column by column.
    pub findings: Vec<CheckFinding>,
    /// The release of the time zone database.
    zone_data: Option<&'static str>,
    metachron: &'static str,
}

/// A column that was checked.
#[derive(Debug, Serialize)]
pub struct CheckedColumn {
    /// Its name.
    pub name: String,
    /// What its values are when read.
    pub kind: Option<String>,
    /// The verdict.
    pub verdict: String,
    /// What becomes of the rows.
    pub rows: RowFacts,
}

/// Something that was found.
#[derive(Debug, Serialize)]
pub struct CheckFinding {
    /// The column.
    pub column: String,
    /// A word for it.
    pub code: &'static str,
    /// The same in a sentence, without its full stop.
    pub message: String,
}

impl CheckReport {
    /// Collects what was found.
    pub fn new(table: &SurveyedTable, choices: &Choices) -> CheckReport {
        let dates =
            || {
                let left_alone =
                    |column: &&SurveyedColumn| column.plan.decisions.convert != Some(false);
                let spoken_of = |column: &SurveyedColumn| choices.names_column(&column.plan.name);
                table.columns.iter().filter(left_alone).filter(move |column| {
                    column.verdict() != Verdict::NotADate || spoken_of(column)
                })
            };
        let columns = dates().map(|column| CheckedColumn {
            name: column.plan.name.clone(),
            kind: column.inference.judgement.kind.map(|kind| kind.name().to_owned()),
            verdict: column.verdict().name().to_owned(),
            rows: RowFacts::of(&column.inference.judgement.counts),
        });
        CheckReport {
            report: "check",
            version: VERSION,
            source: SourceFacts::new(table),
            columns: columns.collect(),
            findings: dates().flat_map(findings).collect(),
            zone_data: choices.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }
}

fn findings(column: &SurveyedColumn) -> Vec<CheckFinding> {
    let finding = |code, message| CheckFinding { column: column.plan.name.clone(), code, message };
    let counts = column.inference.judgement.counts;
    let verdict = column.verdict();
    let mut all = Vec::new();
    if verdict.is_open() || verdict == Verdict::NotADate {
        let message = format!("It is {verdict}; metachron survey says what would settle it");
        all.push(finding("open", message));
    }
    for (rows, code) in [(counts.unreadable, "unreadable"), (counts.contested, "contested")] {
        if rows > 0 && verdict != Verdict::NotADate {
            let message = format!("{} {code}", many(rows, "value", "is", "are"));
            all.push(finding(code, message));
        }
    }
    all.extend(warnings(column).map(|(code, message)| finding(code, message)));
    let drift = column.drift();
    all.extend(drift.iter().map(|drift: &Drift| finding(drift.code(), words(drift).to_string())));
    all
}

/// The page for a terminal.
pub fn check_page(report: &CheckReport, page: Page) -> String {
    let mut text = String::new();
    heading(&mut text, &report.source, page);
    let mut grid =
        Grid::new(&["column", "kind", "verdict", "read", "missing", "unreadable", "contested"])
            .numbers(&["read", "missing", "unreadable", "contested"]);
    for column in &report.columns {
        let RowFacts { read, missing, unreadable, contested, .. } = column.rows;
        let mut cells = vec![
            plain(&column.name),
            column.kind.clone().unwrap_or_else(|| "-".to_owned()),
            column.verdict.clone(),
        ];
        cells.extend([read, missing, unreadable, contested].map(grouped));
        grid.push(cells);
        grid.paint(2, page.verdict(&column.verdict));
    }
    if report.columns.is_empty() {
        text.push_str("\n  No column holds dates.\n");
        return text;
    }
    text.push('\n');
    grid.write(&mut text, 2, page.width, None);
    text.push('\n');
    if report.findings.is_empty() {
        text.push_str("  Nothing was found.\n");
    }
    let indent = indent_of_names(report.findings.iter().map(|finding| finding.column.as_str()));
    let mut last = "";
    for finding in &report.findings {
        let name = if finding.column == last { String::new() } else { plain(&finding.column) };
        last = &finding.column;
        let lead = page.lead_within(&name, indent, &mut text);
        paragraph(&mut text, &lead, indent, &format!("{}.", plain(&finding.message)), page.width);
    }
    text
}
