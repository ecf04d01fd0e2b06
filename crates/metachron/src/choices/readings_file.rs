//! The saved decisions for one kind of file: TOML that people read, review and edit.

use std::fmt::Display;
use std::path::{Path, PathBuf};

use metachron_core::reading::RowParts;
use metachron_core::verdict::Baseline;
use metachron_tables::dialect::{Delimiter, Quote};
use metachron_tables::encoding::Charset;
use metachron_tables::frame::WantedHeader;
use metachron_tables::wanted::{Selected, Wanted};
use serde::de::IntoDeserializer;
use serde::{Deserialize, Serialize};
use toml_edit::{Document, Item, TableLike};

use super::decisions::Decisions;
use super::keys::{texts, unknown_key, wrong};
use super::shaping::{MadeColumn, MadeSeries, Shaping};
use super::syntax::{SaidOfRows, check_rows, part_key, rows};
use super::wrong::Wrong;
use crate::message::{Failure, shown};
use crate::paths;

/// The version of the file format that we write.
pub const VERSION: i64 = 1;

/// A readings file as it was read.
#[derive(Debug)]
pub struct ReadingsFile {
    /// Where it stands.
    pub path: PathBuf,
    /// What is said of the file.
    pub wanted: Wanted,
    /// Texts that stand for nothing anywhere in the table.
    pub missing: Vec<String>,
    columns: Vec<(String, Decisions)>,
    /// What is made of the table.
    pub shaping: Shaping,
    /// Whether dates only in form are read like any other value.
    pub keeps_placeholders: bool,
}

impl ReadingsFile {
    /// Reads and checks a readings file.
    pub fn read(path: &Path) -> Result<ReadingsFile, Failure> {
        let text = paths::text(path)?;
        parse(path, &text).map_err(|(at, error)| {
            let line = text[..at.min(text.len())].matches('\n').count() + 1;
            Failure::could_not(format!("{}, line {line}: {error}", shown(path)))
        })
    }

    /// The decisions for a column, if the file speaks of it.
    pub fn column(&self, name: &str) -> Option<&Decisions> {
        self.columns.iter().find(|(column, _)| column == name).map(|(_, decisions)| decisions)
    }

    /// The columns that the file speaks of.
    pub fn columns(&self) -> impl Iterator<Item = &str> {
        self.columns.iter().map(|(name, _)| name.as_str())
    }
}

/// What is wrong, and at which byte.
type At = (usize, Wrong);

fn wrong_at(at: usize, why: impl Display) -> At {
    (at, Wrong::general(why))
}

fn parse(path: &Path, text: &str) -> Result<ReadingsFile, At> {
    let document = Document::parse(text)
        .map_err(|error| wrong_at(error.span().map_or(0, |span| span.start), error.message()))?;
    let mut file = ReadingsFile {
        path: path.to_owned(),
        wanted: Wanted::default(),
        missing: Vec::new(),
        columns: Vec::new(),
        shaping: Shaping::default(),
        keeps_placeholders: false,
    };
    let root = document.as_table();
    match root.get("metachron").and_then(Item::as_integer) {
        Some(VERSION) => {}
        Some(version) if version > VERSION => {
            let written = format!("version {version} is newer than this program knows ({VERSION})");
            return Err(wrong_at(0, format!("{written}; use the program that wrote it")));
        }
        _ => {
            return Err(wrong_at(0, format!("a readings file begins with: metachron = {VERSION}")));
        }
    }
    for (key, item) in root.iter() {
        let at = place(root, key);
        match key {
            "metachron" => {}
            "source" => {
                let table =
                    item.as_table_like().ok_or_else(|| wrong_at(at, "[source] is a table"))?;
                source(table, &mut file)?;
            }
            "column" => {
                let tables = item.as_array_of_tables();
                let tables =
                    tables.ok_or_else(|| wrong_at(at, "a column is written [[column]]"))?;
                for table in tables {
                    let column = column(table, at)?;
                    if file.column(&column.0).is_some() {
                        let twice = format!("column {:?} stands here twice", column.0);
                        return Err(wrong_at(table.span().map_or(at, |span| span.start), twice));
                    }
                    file.columns.push(column);
                }
            }
            "make" => {
                let tables = item.as_array_of_tables();
                let tables =
                    tables.ok_or_else(|| wrong_at(at, "a derived column is written [[make]]"))?;
                for table in tables {
                    file.shaping.made.push(made_column(table, at)?);
                }
            }
            "series" => {
                let tables = item.as_array_of_tables();
                let tables =
                    tables.ok_or_else(|| wrong_at(at, "a series is written [[series]]"))?;
                for table in tables {
                    file.shaping.series.push(made_series(table, at)?);
                }
            }
            "where" | "sort_by" => {
                let value =
                    item.as_value().ok_or_else(|| wrong_at(at, format!("{key} is no text")))?;
                let said = texts(key, value).map_err(|wrong| (at, wrong))?;
                match key {
                    "where" => file.shaping.conditions = said,
                    _ => file.shaping.sort_by = said,
                }
            }
            _ => return Err((at, unknown_key(key, ROOT_KEYS))),
        }
    }
    Ok(file)
}

/// The byte where a key stands.
fn place(table: &dyn TableLike, key: &str) -> usize {
    let key = table.get_key_value(key).and_then(|(key, _)| key.span());
    key.map_or(0, |span| span.start)
}

const ROOT_KEYS: [&str; 7] =
    ["metachron", "where", "sort_by", "source", "column", "series", "make"];

/// What `[source]` may say.
pub const SOURCE_KEYS: [&str; 11] = [
    "sheet",
    "table",
    "query",
    "delimiter",
    "quote",
    "encoding",
    "skip_lines",
    "header_line",
    "no_header",
    "missing",
    "keep_placeholders",
];

fn source(table: &dyn TableLike, file: &mut ReadingsFile) -> Result<(), At> {
    let (mut skip, mut no_header) = (None, false);
    for (key, item) in table.iter() {
        let at = place(table, key);
        let value = item.as_value().ok_or_else(|| wrong_at(at, format!("{key} is no value")))?;
        let wrong = || (at, wrong(key, value));
        let number = || value.as_integer().and_then(|n| u64::try_from(n).ok()).ok_or_else(wrong);
        match key {
            "delimiter" => {
                let named = value.as_str().and_then(Delimiter::named);
                file.wanted.delimiter = Some(named.ok_or_else(wrong)?);
            }
            "quote" => {
                let named = value.as_str().and_then(Quote::named);
                file.wanted.quote = Some(named.ok_or_else(wrong)?);
            }
            "encoding" => {
                let named = value.as_str().and_then(Charset::named);
                file.wanted.charset = Some(named.ok_or_else(wrong)?);
            }
            "sheet" => file.wanted.sheet = Some(value.as_str().ok_or_else(wrong)?.to_owned()),
            "table" | "query" => {
                let text = value.as_str().ok_or_else(wrong)?.to_owned();
                let selected = match key {
                    "table" => Selected::Table(text),
                    _ => Selected::Query(text),
                };
                if file.wanted.selected.replace(selected).is_some() {
                    return Err(wrong_at(at, "a table is read, or what a query gives, not both"));
                }
            }
            "skip_lines" => skip = Some(number()?),
            "header_line" => file.wanted.header = WantedHeader::Line(number()?.max(1)),
            "no_header" => no_header = value.as_bool().ok_or_else(wrong)?,
            "keep_placeholders" => {
                file.keeps_placeholders = value.as_bool().ok_or_else(wrong)?;
            }
            "missing" => file.missing = texts(key, value).map_err(|wrong| (at, wrong))?,
            _ => return Err((at, unknown_key(key, SOURCE_KEYS))),
        }
    }
    match (skip, no_header) {
        (skip, true) => file.wanted.header = WantedHeader::None(skip.unwrap_or(0)),
        (Some(skip), false) => file.wanted.header = WantedHeader::Behind(skip),
        (None, false) => {}
    }
    Ok(())
}

/// A column that is made from others.
fn made_column(table: &toml_edit::Table, whole: usize) -> Result<MadeColumn, At> {
    let start = table.span().map_or(whole, |span| span.start);
    let keys = ["name", "steps"];
    if let Some((key, _)) = table.iter().find(|(key, _)| !keys.contains(key)) {
        return Err((place(table, key), unknown_key(key, keys)));
    }
    let text = |key: &str| table.get(key).and_then(Item::as_str).map(str::to_owned);
    match (text("name"), text("steps")) {
        (Some(name), Some(steps)) => Ok(MadeColumn { name, steps }),
        _ => {
            Err(wrong_at(start, "a [[make]] has a name and steps: steps = \"seen | start month\""))
        }
    }
}

/// A column of regular dates.
fn made_series(table: &toml_edit::Table, whole: usize) -> Result<MadeSeries, At> {
    let start = table.span().map_or(whole, |span| span.start);
    let keys = ["name", "steps", "by"];
    if let Some((key, _)) = table.iter().find(|(key, _)| !keys.contains(key)) {
        return Err((place(table, key), unknown_key(key, keys)));
    }
    let text = |key: &str| table.get(key).and_then(Item::as_str).map(str::to_owned);
    match (text("name"), text("steps")) {
        (Some(name), Some(steps)) => Ok(MadeSeries { name, steps, by: text("by") }),
        _ => {
            let says = "a [[series]] has a name and steps: steps = \"2024-01-01 / 1 day\"";
            Err(wrong_at(start, says))
        }
    }
}

fn column(table: &toml_edit::Table, whole: usize) -> Result<(String, Decisions), At> {
    let start = table.span().map_or(whole, |span| span.start);
    let from = table.get("from").and_then(Item::as_str);
    let from =
        from.ok_or_else(|| wrong_at(start, "a [[column]] names its column: from = \"captured\""))?;
    let mut decisions = Decisions::default();
    for (key, item) in table.iter().filter(|(key, _)| *key != "from") {
        let at = place(table, key);
        if key == "when" {
            let parts = item.as_array_of_tables();
            let parts = parts.ok_or_else(|| wrong_at(at, "rows are written [[column.when]]"))?;
            for part in parts {
                if !when(part, at)?.join(&mut decisions) {
                    let same = "every when of a column names the same column, or rows";
                    return Err(wrong_at(at, same));
                }
            }
            continue;
        }
        if key == "seen" {
            let seen = item.clone().into_value().ok();
            let seen = seen.map(|value| Baseline::deserialize(value.into_deserializer()));
            decisions.seen = Some(match seen {
                Some(Ok(seen)) => seen,
                Some(Err(error)) => {
                    let why = format!(
                        "seen cannot be read ({}); survey --save writes it anew",
                        error.message()
                    );
                    return Err(wrong_at(at, why));
                }
                None => return Err(wrong_at(at, "seen is a table")),
            });
            continue;
        }
        // `[column.zones]` is a table as well as `zones = { … }` is.
        let value =
            item.clone().into_value().map_err(|_| (at, unknown_key(key, Decisions::keys())))?;
        decisions.set(key, &value).map_err(|wrong| (at, wrong))?;
    }
    check_rows(from, &decisions).map_err(|wrong| (start, wrong))?;
    Ok((from.to_owned(), decisions))
}

/// What a column looks like, as it is saved.
pub fn baseline_value(seen: &Baseline) -> Option<toml_edit::Value> {
    seen.serialize(toml_edit::ser::ValueSerializer::new()).ok()
}

/// How some rows of a column are written.
fn when(table: &toml_edit::Table, whole: usize) -> Result<SaidOfRows, At> {
    let start = table.span().map_or(whole, |span| span.start);
    let mut decisions = Decisions::default();
    let (mut by_column, mut by_rows, mut digest) = (None, None, None);
    for (key, item) in table.iter() {
        let at = place(table, key);
        let wrong = |what: &str| (at, Wrong::new(key, what));
        match key {
            "where" => {
                let example = "is written where = { station = [\"Port Meridian\"] }";
                let names = item.as_table_like().ok_or_else(|| wrong(example))?;
                let mut names = names.iter();
                let (Some((name, values)), None) = (names.next(), names.next()) else {
                    return Err(wrong("names one column"));
                };
                let values = values.as_value().ok_or_else(|| wrong(example))?;
                let values = texts(name, values).map_err(|wrong| (at, wrong))?;
                by_column = Some((name.to_owned(), values));
            }
            "rows" => {
                let text = item.as_str().ok_or_else(|| wrong("are written rows = \"4813..\""))?;
                by_rows = Some(rows(text).map_err(|wrong| (at, wrong))?);
            }
            "digest" => {
                let text = item.as_str().ok_or_else(|| wrong("is written \"sha256:…\""))?;
                digest = Some(text.to_owned());
            }
            _ => {
                let known = ["where", "rows", "digest", "order", "layouts", "zone"];
                let value = item.as_value().ok_or_else(|| (at, unknown_key(key, known)))?;
                if !known.contains(&key) {
                    return Err((at, unknown_key(key, known)));
                }
                part_key(&mut decisions, key, value).map_err(|wrong| (at, wrong))?;
            }
        }
    }
    let said = match (decisions.written, decisions.clocks.zone) {
        (None, None) => return Err(wrong_at(start, "a when has layouts, an order or a zone")),
        said => said,
    };
    let parts = match (by_column, by_rows) {
        (Some((name, values)), None) => RowParts::Column(name, vec![(values, said)]),
        (None, Some(rows)) if digest.is_some() => RowParts::Rows(vec![(rows, said)]),
        (None, Some(_)) => {
            let why = "rows hold for one file only: the when needs its digest = \"sha256:…\"";
            return Err(wrong_at(start, why));
        }
        _ => return Err(wrong_at(start, "a when says where, or which rows")),
    };
    Ok(SaidOfRows::of(parts, digest))
}
