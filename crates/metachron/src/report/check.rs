//! What a check has found.

use metachron_core::named::Named;
use metachron_core::text::grouped;
use metachron_core::verdict::{Counts, Drift, Verdict};
use serde::Serialize;

use super::Page;
use super::blocks::indent_of_names;
use super::column::RowFacts;
use super::extend::{allowing, extensions};
use super::grid::{Grid, paragraph};
use super::overview::{heading, to_paste};
use super::paste::{Paste, SettleFacts};
use super::questions::warnings;
use super::signs::{Shown, Sign, ends_before_beginnings, notes as notes_of, signs};
use super::source::SourceFacts;
use crate::checking::Checked;
use crate::choices::{Choices, step_name};
use crate::conversion::{ColumnTally, Unread};
use crate::message::{plain, quoted};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::{list, many, words};

/// Of more columns only what was found is told on a page.
const FEW: usize = 12;
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
    /// Columns that are made of them.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub made: Vec<CheckedMade>,
    /// What was found, column by column.
    pub findings: Vec<CheckFinding>,
    /// What is worth knowing of the values, column by column.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub notes: Vec<CheckFinding>,
    /// The commands that tell the readings file of what is new.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub extend: Vec<SettleFacts>,
    /// Whether all columns were looked at.
    all_columns: bool,
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

/// A made column that was checked.
#[derive(Debug, Serialize)]
pub struct CheckedMade {
    /// Its name.
    pub name: String,
    /// What it holds.
    pub gives: String,
    /// Values that are made.
    pub made: u64,
    /// Values that are missing, as what they are made from is.
    pub missing: u64,
    /// Values that could not be made.
    pub unmade: u64,
}

fn made(checked: &Checked<'_>) -> Vec<CheckedMade> {
    let made = checked.plan.made.iter().zip(&checked.tally.converted.made);
    made.map(|(own, tally)| CheckedMade {
        name: own.name.clone(),
        gives: own.program.gives().to_string(),
        made: tally.made,
        missing: tally.missing,
        unmade: tally.unmade,
    })
    .collect()
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
    /// How many rows show it, where it is rows that do.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rows: Option<u64>,
    /// The first of them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_row: Option<u64>,
}

impl CheckFinding {
    fn new(column: &str, code: &'static str, message: String) -> CheckFinding {
        CheckFinding { column: column.to_owned(), code, message, rows: None, first_row: None }
    }

    fn of_sign(column: &str, Sign { code, message, rows, .. }: Sign) -> CheckFinding {
        CheckFinding {
            rows: rows.map(|(rows, _)| rows),
            first_row: rows.map(|(_, first)| first),
            ..CheckFinding::new(column, code, message)
        }
    }
}

impl CheckReport {
    /// Collects what was found.
    pub fn new(
        table: &SurveyedTable,
        checked: Option<&Checked<'_>>,
        choices: &Choices,
    ) -> CheckReport {
        let spoken_of = |column: &SurveyedColumn| choices.names_column(&column.plan.name);
        let is_checked = |column: &&SurveyedColumn| {
            !column.is_left() && (column.verdict() != Verdict::NotADate || spoken_of(column))
        };
        let dates = || table.columns.iter().filter(is_checked);
        let tally = |column| checked.and_then(|checked| checked.of(column));
        let columns = dates().map(|column| CheckedColumn {
            name: column.plan.name.clone(),
            kind: column.inference.judgement.kind.map(|kind| kind.name().to_owned()),
            verdict: column.verdict().name().to_owned(),
            rows: match tally(column) {
                Some(tally) => RowFacts::of(&tally.counts, false),
                None => RowFacts::of(&column.inference.judgement.counts, column.is_open()),
            },
        });
        let mut findings: Vec<CheckFinding> = Vec::new();
        let mut notes: Vec<CheckFinding> = Vec::new();
        let named = checked.and_then(|checked| checked.named);
        let mut between = checked.map_or(Vec::new(), ends_before_beginnings);
        let is_only = dates().count() == 1;
        let paste = Paste::of(&[&table.intake.path], choices);
        let mut extend = Vec::new();
        for column in dates() {
            let name = &column.plan.name;
            findings.extend(findings_of(column, tally(column)));
            extend.extend(extensions(column, tally(column), &paste, choices));
            let Some((at, shown)) = checked.and_then(|checked| shown(checked, column)) else {
                continue;
            };
            let own = between.extract_if(.., |(later, _)| *later == at).map(|(_, sign)| sign);
            let allowed = column.plan.decisions.allow.as_deref().unwrap_or_default();
            let mut allow = Vec::new();
            for sign in
                signs(shown, (named, is_only), choices.today, choices.zones).into_iter().chain(own)
            {
                let is_allowed = sign.kind.is_some_and(|kind| allowed.contains(&kind));
                allow.extend(sign.kind.filter(|_| !is_allowed));
                let list = if is_allowed { &mut notes } else { &mut findings };
                list.push(CheckFinding::of_sign(name, sign));
            }
            extend.extend(allowing(name, &allow, &paste, choices));
            notes.extend(
                notes_of(shown, choices.today)
                    .into_iter()
                    .map(|sign| CheckFinding::of_sign(name, sign)),
            );
        }
        let made = checked.map_or(Vec::new(), made);
        let unmade = made.iter().filter(|own| own.unmade > 0).map(|own| {
            let says = format!("{} not to be made", many(own.unmade, "value", "is", "are"));
            CheckFinding::new(&own.name, "unmade", says)
        });
        findings.extend(unmade);
        CheckReport {
            report: "check",
            version: VERSION,
            source: SourceFacts::new(table),
            columns: columns.collect(),
            made,
            findings,
            notes,
            extend,
            all_columns: choices.chosen.is_empty(),
            zone_data: choices.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }
}

/// A converted column as its values show it, and its place among these.
fn shown<'c>(checked: &'c Checked<'_>, column: &SurveyedColumn) -> Option<(usize, Shown<'c>)> {
    let at = checked.place(column)?;
    let timeline = &checked.of(column)?.came_out.timeline;
    timeline.ends()?;
    let (check, tally) = (&checked.columns[at], &checked.tally.columns[at]);
    Some((at, Shown { column: &checked.plan.columns[at], timeline, check, tally }))
}

fn findings_of(column: &SurveyedColumn, tally: Option<&ColumnTally>) -> Vec<CheckFinding> {
    let finding = |code, message| CheckFinding::new(&column.plan.name, code, message);
    let verdict = column.verdict();
    let mut all = Vec::new();
    if verdict.is_open() || verdict == Verdict::NotADate {
        let message = format!("It is {verdict}; metachron survey says what would settle it");
        all.push(finding("open", message));
    }
    if let Some(tally) = tally {
        let Counts { unreadable, contested, .. } = tally.counts;
        if unreadable > 0 {
            let says = many(unreadable, "value", "is", "are");
            let message = format!("{says} unreadable{}", reasons(tally));
            all.push(finding("unreadable", message));
        }
        if contested > 0 {
            let message = format!("{} contested", many(contested, "value", "is", "are"));
            all.push(finding("contested", message));
        }
        if !tally.no_zones.is_empty() {
            let zones = list(tally.no_zones.keys().map(|own| quoted(own)), "and", "more");
            let name = tally.no_zones.keys().next().map_or(String::new(), |own| step_name(own));
            let says = format!("zones={{ {name} = \"AREA/CITY\" }}");
            all.push(finding(
                "no-zone",
                format!("No zone is known for {zones}; {says} would say it"),
            ));
        }
    }
    all.extend(warnings(column).map(|(code, message)| finding(code, message)));
    let drift = column.drift();
    all.extend(drift.iter().map(|drift: &Drift| finding(drift.code(), words(drift).to_string())));
    all
}

/// Why values are unreadable: ` (5 unknown-form, first in row 6)`.
fn reasons(tally: &ColumnTally) -> String {
    // These are no values that cannot be read.
    let of_others = ["contested", "placeholder"];
    let own = tally.reasons.iter().filter(|(why, _)| !of_others.contains(why));
    let told = own.map(|(why, Unread { rows, first })| match rows {
        1 => format!("1 {why} in row {}", grouped(*first)),
        rows => format!("{} {why}, first in row {}", grouped(*rows), grouped(*first)),
    });
    let told: Vec<String> = told.collect();
    if told.is_empty() { String::new() } else { format!(" ({})", told.join("; ")) }
}

/// The page for a terminal.
pub fn check_page(report: &CheckReport, page: Page) -> String {
    let mut text = String::new();
    heading(&mut text, &report.source, page);
    let has_open = report.columns.iter().any(|column| column.rows.open > 0);
    let titles =
        ["column", "kind", "verdict", "read", "missing", "unreadable", "contested", "open"];
    let titles = &titles[..if has_open { 8 } else { 7 }];
    let mut grid = Grid::new(titles).numbers(&titles[3..]);
    for column in &report.columns {
        let RowFacts { read, missing, unreadable, contested, open, .. } = column.rows;
        let mut cells = vec![
            plain(&column.name),
            column.kind.clone().unwrap_or_else(|| "-".to_owned()),
            column.verdict.clone(),
        ];
        cells.extend([read, missing, unreadable, contested].map(grouped));
        cells.extend(has_open.then(|| grouped(open)));
        grid.push(cells);
        grid.paint(2, page.verdict(&column.verdict));
    }
    for CheckedMade { name, gives, made, missing, unmade } in &report.made {
        let mut cells = vec![plain(name), gives.clone(), "made".to_owned()];
        cells.extend([*made, *missing, *unmade, 0].map(grouped));
        cells.extend(has_open.then(|| grouped(0)));
        grid.push(cells);
    }
    if report.columns.is_empty() {
        text.push_str("\n  No column holds dates.\n");
        return text;
    }
    text.push('\n');
    let grid =
        if grid.needs(titles.len()) <= page.width { grid } else { grid.without_zeros("read") };
    grid.write(&mut text, 2, page.width, None);
    text.push('\n');
    if report.findings.is_empty() {
        // Only who looks at everything finds nothing in it.
        let part = match report.all_columns {
            true => "",
            false => " in what was looked at",
        };
        text.push_str(&format!("  Nothing was found{part}.\n"));
    }
    let indent = indent_of_names(report.findings.iter().map(|finding| finding.column.as_str()));
    let mut last = "";
    for finding in &report.findings {
        let name = if finding.column == last { String::new() } else { plain(&finding.column) };
        last = &finding.column;
        let lead = page.lead_within(&name, indent, &mut text);
        paragraph(&mut text, &lead, indent, &format!("{}.", plain(&finding.message)), page.width);
    }
    if !report.notes.is_empty() && report.columns.len() <= FEW {
        text.push('\n');
        let indent = indent_of_names(report.notes.iter().map(|note| note.column.as_str()));
        for notes in report.notes.chunk_by(|own, next| own.column == next.column) {
            let says = notes.iter().map(|note| format!("{}.", plain(&note.message)));
            let lead = page.lead_within(&plain(&notes[0].column), indent, &mut text);
            paragraph(&mut text, &lead, indent, &says.collect::<Vec<_>>().join(" "), page.width);
        }
    }
    if !report.extend.is_empty() {
        text.push('\n');
    }
    for way in &report.extend {
        to_paste(&mut text, &way.message, way.command.as_slice(), page);
    }
    text
}
