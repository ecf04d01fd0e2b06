//! Saves the decisions of a survey in a readings file.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::verdict::{Settle, Verdict};
use metachron_tables::dialect::Quote;
use metachron_tables::frame::WantedHeader;
use metachron_tables::place::Output;
use metachron_tables::table::TableFormat;
use metachron_tables::wanted::{Selected, Wanted};

use super::saved_column::{is_told_by_rows, saved_column};
use crate::args::{self, CommandLine};
use crate::choices::{Choices, Keys, ReadingsFile, SOURCE_KEYS, Saved, column_options, render};
use crate::message::{Failure, plain, quoted, say, shown};
use crate::paths;
use crate::report::paste::{Paste, favoured, taken};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::list;

/// What a person has said to what was found.
#[derive(Debug, Default)]
pub struct Accepted {
    /// What is accepted as it was found, whatever the column.
    pub found: Vec<args::Accept>,
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
    // What was said of the file, of columns and of what is made of them stands there.
    const SAID: [&str; 9] =
        ["set", "when", "column", "readings", "make", "where", "sort-by", "series", "by"];
    let of_file = SOURCE_KEYS.map(|key| key.replace('_', "-"));
    let line = Paste::of(&paths, choices).convert();
    let line = of_file.iter().fold(line, |line, option| line.without(option));
    let line = SAID.into_iter().chain(column_options()).fold(line, |line, own| line.without(own));
    let line = line.with("readings", path.to_string_lossy());
    say(&format!("metachron: decisions saved in {}; review them, then\n  {line}", shown(path)));
    Ok(())
}

/// Saves the columns with dates, and all that was said; what a person has accepted there stays.
pub fn save(
    path: &Path,
    files: &[PathBuf],
    tables: &[SurveyedTable],
    columns: &[SurveyedColumn],
    (choices, accepted): (&Choices, &Accepted),
) -> Result<(), Failure> {
    let existing = match path.is_file() {
        true => {
            // What is no readings file is not written over.
            ReadingsFile::read(path)?;
            Some(paths::text(path)?)
        }
        false => None,
    };
    let digest = match tables {
        [table] if columns.iter().any(is_told_by_rows) => table.intake.digest().map(Some)?,
        _ => None,
    };
    for column in columns.iter().filter(|column| column.is_open()) {
        accepted.tell(column);
    }
    let is_saved = |column: &&SurveyedColumn| {
        column.verdict() != Verdict::NotADate || choices.speaks_of(&column.plan.name)
    };
    let saved = Saved {
        head: head(path, files, choices),
        source: saved_source(tables, choices),
        shaping: choices.shaping.clone(),
        columns: columns
            .iter()
            .filter(is_saved)
            .map(|column| {
                saved_column(column, accepted.accepts(column), digest.as_deref(), choices)
            })
            .collect(),
    };
    let (text, kept) = render(existing.as_deref(), &saved)
        .map_err(|error| Failure::could_not(format!("{}: {error}", shown(path))))?;
    for name in kept {
        let name = plain(&name);
        say(&format!("metachron: {}: {name} is accepted there and stays as it is", shown(path)));
    }
    let failed = |error| Failure::writing(path, &error);
    let mut out = Output::create(path).map_err(failed)?;
    out.write_all(text.as_bytes()).and_then(|()| out.finish()).map_err(failed)
}

/// So many files are named in a command line.
const FILES: usize = 4;

/// What it is saved from, when and by which program, and how to use it.
fn head(path: &Path, files: &[PathBuf], choices: &Choices) -> Vec<String> {
    let names = list(files.iter().map(|file| shown(file)), "and", "more");
    let paths: Vec<&Path> = match files {
        few if few.len() <= FILES => few.iter().map(PathBuf::as_path).collect(),
        _ => vec![Path::new("FILE")],
    };
    let version = env!("CARGO_PKG_VERSION");
    let used = Paste::new(&paths, &CommandLine::default()).convert();
    let used = used.with("readings", path.to_string_lossy());
    vec![
        format!("Decisions for {}, saved on {} by metachron {version}.", names, choices.today),
        format!("Use them: {used}"),
        "Each [[column]] says how its values are read. What was not decided waits until accepted = true stands there.".to_owned(),
    ]
}

/// What the readings file says of the file itself.
fn saved_source(tables: &[SurveyedTable], choices: &Choices) -> Keys {
    let mut keys = match tables {
        [table] => found_of_file(table, &choices.wanted),
        // What is found out of one file need not hold for the others.
        _ => said_of_files(&choices.wanted),
    };
    if !choices.missing.is_empty() {
        keys.push(("missing", choices.missing.iter().collect::<toml_edit::Array>().into()));
    }
    if choices.keeps_placeholders {
        keys.push(("keep_placeholders", true.into()));
    }
    keys
}

/// What was said or found of how a file is written.
fn found_of_file(SurveyedTable { intake, .. }: &SurveyedTable, wanted: &Wanted) -> Keys {
    let mut keys = Keys::new();
    let table = &intake.table;
    if let Some(own) = table.selected() {
        return selected(Some(own)).collect();
    }
    if let TableFormat::Delimited { dialect, header, preamble, .. } = &table.format {
        let delimiter = char::from(dialect.delimiter.byte()).to_string();
        keys.push(("delimiter", delimiter.into()));
        if wanted.quote.is_some() || dialect.quote != Quote::Double {
            keys.push(("quote", dialect.quote.name().into()));
        }
        if !preamble.is_empty() {
            keys.push(("skip_lines", (preamble.len() as i64).into()));
        }
        if header.is_none() {
            keys.push(("no_header", true.into()));
        }
    }
    let sheet = table.part().filter(|(kind, ..)| *kind == "sheet");
    keys.extend(sheet.map(|(kind, name, _)| (kind, name.into())));
    let charset = table.source().charset;
    if table.is_text() && (wanted.charset.is_some() || !charset.is_utf_8()) {
        keys.push(("encoding", charset.name().to_lowercase().into()));
    }
    keys
}

/// What is read of a database.
fn selected(selected: Option<&Selected>) -> impl Iterator<Item = (&'static str, toml_edit::Value)> {
    let key = selected.map(|own| match own {
        Selected::Table(name) => ("table", name.into()),
        Selected::Query(query) => ("query", query.into()),
    });
    key.into_iter()
}

/// What was said of several files, of which each is as it is.
fn said_of_files(wanted: &Wanted) -> Keys {
    let mut keys: Keys = Vec::new();
    let delimiter = wanted.delimiter.map(|own| char::from(own.byte()).to_string());
    keys.extend(delimiter.map(|own| ("delimiter", own.into())));
    keys.extend(wanted.quote.map(|own| ("quote", own.name().into())));
    keys.extend(wanted.charset.map(|own| ("encoding", own.name().to_lowercase().into())));
    keys.extend(wanted.sheet.as_ref().map(|own| ("sheet", own.into())));
    keys.extend(selected(wanted.selected.as_ref()));
    let number = |lines: u64| toml_edit::Value::from(i64::try_from(lines).unwrap_or(i64::MAX));
    match wanted.header {
        WantedHeader::Line(line) => keys.push(("header_line", number(line))),
        WantedHeader::Behind(lines) => keys.push(("skip_lines", number(lines))),
        WantedHeader::None(lines) => {
            keys.extend([("skip_lines", number(lines)), ("no_header", true.into())]);
        }
        WantedHeader::Unsaid => {}
    }
    keys
}

impl Accepted {
    /// Whether what was found of a column is accepted.
    fn accepts(&self, column: &SurveyedColumn) -> bool {
        let judgement = &column.inference.judgement;
        let is_split = judgement.settle.iter().any(|way| matches!(way, Settle::Split(_)));
        let leans = judgement.leans_to.is_some();
        self.found.iter().any(|accepted| match accepted {
            args::Accept::Split => is_split,
            args::Accept::Leaning => leans,
        })
    }

    /// Says what is taken of what was found, before it is saved; and of what it was asked to take and cannot.
    fn tell(&self, column: &SurveyedColumn) {
        let name = plain(&column.plan.name);
        let asked = |accepted: args::Accept| self.found.contains(&accepted);
        match favoured(column) {
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
}
