//! The facts of a survey. The terminal view and `--json` both come from here.

use std::collections::{BTreeSet, HashSet};
use std::path::{Path, PathBuf};

use serde::Serialize;

use super::column::{ColumnFacts, facts};
use super::paste::{AlikeFacts, Paste, SettleFacts, alike, all_at_once, two_digit_from};
use super::source::{SMALLER_PARTS, SourceFacts, thinned};
use crate::choices::step_name;
use crate::choices::{Choices, Said};
use crate::message::{plain, quoted, shown};
use crate::survey::{Seen, SeenPart, Sum, SurveyedColumn, SurveyedTable, columns_as_seen};
use crate::words::{first_of, words};
use metachron_core::named::Named;
use metachron_core::text::counted;
use metachron_core::verdict::{Finding, PartsApart, parts_apart};
use metachron_tables::header::free_name;

/// The version of the JSON that `survey` prints.
const VERSION: u32 = 1;

/// What is in a file.
#[derive(Debug, Serialize)]
pub struct SurveyReport {
    report: &'static str,
    version: u32,
    /// The file.
    pub source: SourceFacts,
    /// The columns that were looked at.
    pub columns: Vec<ColumnFacts>,
    /// Columns that hold the parts of one date.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub parts: Option<PartsFacts>,
    /// Open columns of which the same is asked, with answers for all of them at once.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub alike: Vec<AlikeFacts>,
    /// Commands that leave no column open, where several are or others are decided.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub all_at_once: Vec<SettleFacts>,
    /// The release of the time zone database.
    zone_data: Option<&'static str>,
    metachron: &'static str,
}

/// Columns that hold the parts of one date, and how they are put together.
#[derive(Debug, Serialize)]
pub struct PartsFacts {
    /// Which they are, and what is open.
    pub message: String,
    /// The commands that put them together.
    pub settle: Vec<SettleFacts>,
}

/// What is in several files, each and together.
#[derive(Debug, Serialize)]
pub struct TogetherReport {
    report: &'static str,
    version: u32,
    /// The files.
    pub files: Vec<SurveyReport>,
    /// The columns of all files, judged by all their values.
    pub together: Vec<ColumnFacts>,
    /// Where the files differ.
    pub differences: Vec<String>,
    /// The commands that keep a reading for each file, where the files have different ones.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub keep_each: Vec<String>,
    /// The release of the time zone database.
    zone_data: Option<&'static str>,
    metachron: &'static str,
}

impl SurveyReport {
    /// Collects the facts.
    pub fn new(table: &SurveyedTable, choices: &Choices) -> SurveyReport {
        let paste = Paste::of(&[&table.intake.path], choices);
        SurveyReport {
            report: "survey",
            version: VERSION,
            source: SourceFacts::new(table),
            columns: table.columns.iter().map(|column| facts(column, &paste)).collect(),
            parts: parts(table, &paste, choices),
            alike: alike(&table.columns, &paste),
            all_at_once: all_at_once(&table.columns, &paste),
            zone_data: choices.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }

    /// Collects the facts of what was seen elsewhere.
    pub fn of_evidence(
        files: &[PathBuf],
        sum: &Sum,
        columns: &[SurveyedColumn],
        choices: &Choices,
    ) -> SurveyReport {
        let Sum { seen: Seen { parts, .. }, again } = sum;
        let paths: Vec<&Path> = parts.iter().map(|part| Path::new(&part.name)).collect();
        let paste = Paste::of(&paths, choices);
        SurveyReport {
            report: "survey",
            version: VERSION,
            source: SourceFacts {
                file: some(files.iter().map(|file| shown(file))),
                format: "evidence",
                compression: None,
                dialect: None,
                part: None,
                encoding: None,
                header_line: None,
                preamble: Vec::new(),
                footers: Vec::new(),
                columns: columns.len(),
                rows: parts.iter().map(|part| part.rows).sum(),
                first_rows: None,
                notes: seen_in(parts, again)
                    .into_iter()
                    .chain(thinned(columns, SMALLER_PARTS))
                    .collect(),
            },
            columns: columns.iter().map(|column| facts(column, &paste)).collect(),
            parts: None,
            alike: alike(columns, &paste),
            all_at_once: all_at_once(columns, &paste),
            zone_data: choices.zones.version(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }
}

impl TogetherReport {
    /// Collects the facts of several files, whose columns are `together` by name.
    pub fn new(
        tables: &[SurveyedTable],
        together: &[SurveyedColumn],
        choices: &Choices,
    ) -> TogetherReport {
        let paths: Vec<&Path> = tables.iter().map(|table| table.intake.path.as_path()).collect();
        let paste = Paste::of(&paths, choices);
        let files: Vec<SurveyReport> =
            tables.iter().map(|table| SurveyReport::new(table, choices)).collect();
        let together: Vec<ColumnFacts> =
            together.iter().map(|column| facts(column, &paste)).collect();
        let differences = together.iter().flat_map(|column| differences(column, &files)).collect();
        let (report, version, metachron) = ("survey", VERSION, env!("CARGO_PKG_VERSION"));
        let keep_each = match together.iter().any(|column| has_readings(column, &files)) {
            true => tables.iter().map(|table| keep(&table.intake.path, choices)).collect(),
            false => Vec::new(),
        };
        let zone_data = choices.zones.version();
        TogetherReport {
            report,
            version,
            files,
            together,
            differences,
            keep_each,
            zone_data,
            metachron,
        }
    }
}

/// The columns that hold the parts of one date, and the commands that put them together.
fn parts(table: &SurveyedTable, paste: &Paste, choices: &Choices) -> Option<PartsFacts> {
    let columns_as_seen = columns_as_seen(&table.columns);
    let (century, today) = (choices.terms().century, choices.today);
    let PartsApart { columns: parts, year_after_today, are_exchanged } =
        parts_apart(&columns_as_seen, century, today)?;
    let named: Vec<String> =
        parts.iter().map(|(role, name)| format!("{} in {}", role.name(), quoted(name))).collect();
    let roles: Vec<String> =
        parts.iter().map(|(role, name)| format!("{}={}", role.name(), step_name(name))).collect();
    let new = free_name("date", |name| table.intake.names().iter().any(|other| other == name));
    let made = format!("{new} = parts {}", roles.join(" "));
    // What a part leans to is said with it: `517` is a time of day.
    let of_part = |own: &&SurveyedColumn| parts.iter().any(|(_, name)| *name == own.plan.name);
    let said = table.columns.iter().filter(of_part).filter_map(|own| {
        let way = own.inference.judgement.leans_to.as_ref()?;
        Said::by(way, &own.plan.name)
    });
    let line = said.fold(paste.convert(), |line, said| said.on(line));
    let settle = |message: String, century: Option<i16>| {
        let made = line.clone().with("make", &made);
        let line =
            century.iter().fold(made, |line, year| line.with("two-digit-from", year.to_string()));
        SettleFacts::line(message, line.to_string())
    };
    let mut message =
        format!("The parts of a date stand in columns of their own: {}.", named.join(", "));
    if are_exchanged {
        message.push_str(
            " What is called a month goes beyond 12, and what is called a day does not: each is taken for the other.",
        );
    }
    let Some(latest) = year_after_today.filter(|_| !choices.says_century()) else {
        let settle = vec![settle("To put them together".to_owned(), None)];
        return Some(PartsFacts { message, settle });
    };
    message.push_str(&format!(" {}", words(&Finding::Century { latest, as_of: today })));
    let ways = century.first_years(today).map(|year| settle(two_digit_from(year), Some(year)));
    Some(PartsFacts { message, settle: ways.into() })
}

/// Whether files are decided about a column, and not all by the same reading.
fn has_readings(column: &ColumnFacts, files: &[SurveyReport]) -> bool {
    let own = files.iter().flat_map(|file| file.columns.iter().find(|c| c.name == column.name));
    let decided = own.filter(|own| !own.is_open()).filter_map(|own| own.reading.as_ref());
    decided.map(|reading| &reading.layouts).collect::<BTreeSet<_>>().len() > 1
}

/// The command that keeps the reading of one file beside it.
fn keep(path: &Path, choices: &Choices) -> String {
    Paste::of(&[path], choices).saving().to_string()
}

/// Where files differ about a column: that they lack it, or how they write it.
fn differences(column: &ColumnFacts, files: &[SurveyReport]) -> Vec<String> {
    let own = |file: &'_ SurveyReport| file.columns.iter().position(|c| c.name == column.name);
    let name = plain(&column.name);
    let lacking: Vec<&str> =
        files.iter().filter(|f| own(f).is_none()).map(|f| f.source.file.as_str()).collect();
    let mut said = Vec::new();
    if !lacking.is_empty() {
        said.push(format!("{name} is not in {}", some(lacking.into_iter())));
    }
    let mut ways: Vec<(String, Vec<&str>)> = Vec::new();
    for (file, index) in files.iter().filter_map(|file| Some((file, own(file)?))) {
        let own = &file.columns[index];
        // A file whose values of this column are all missing says nothing.
        if own.cells.is_empty() {
            continue;
        }
        let way = match own.reading.as_ref().filter(|_| !own.is_open()) {
            Some(reading) => format!("{} by {}", own.verdict, reading.layouts.join(" and ")),
            None => own.verdict.clone(),
        };
        match ways.iter_mut().find(|(other, _)| *other == way) {
            Some((_, files)) => files.push(&file.source.file),
            None => ways.push((way, vec![&file.source.file])),
        }
    }
    if ways.len() > 1 {
        let ways: Vec<String> = ways
            .into_iter()
            .map(|(way, files)| format!("{way} in {}", some(files.into_iter())))
            .collect();
        said.push(format!("{name} is {}", ways.join("; ")));
    }
    said
}

/// Files that are named at most; of more it is said how many there are.
const NAMED: usize = 8;

/// The names of files, the first of them where there are many.
fn some(files: impl Iterator<Item = impl Into<String>>) -> String {
    first_of(files, NAMED, "more files").join(", ")
}

/// In which parts it was seen, and what was given twice.
fn seen_in(parts: &[SeenPart], again: &[PathBuf]) -> Vec<String> {
    let named = |part: &SeenPart| {
        format!("seen in {}, {}", shown(Path::new(&part.name)), counted(part.rows, "row"))
    };
    let mut notes: Vec<String> = parts.iter().take(NAMED).map(named).collect();
    if let Some(others) = parts.get(NAMED..).filter(|others| !others.is_empty()) {
        let rows = others.iter().map(|part| part.rows).sum();
        let files = counted(others.len() as u64, "more file");
        notes.push(format!("seen in {files}, {}", counted(rows, "row")));
    }
    let mut names = HashSet::new();
    let mut same = parts.iter().filter(|part| !names.insert(&part.name));
    if let Some(part) = same.next() {
        let others = 1 + same.count();
        notes.push(format!(
            "{} had the name of another one (first {}): from another folder, or changed between two looks",
            counted(others as u64, "file"),
            shown(Path::new(&part.name))
        ));
    }
    if !again.is_empty() {
        let again = some(again.iter().map(|file| shown(file)));
        notes.push(format!("given twice and counted once: {again}"));
    }
    notes
}
