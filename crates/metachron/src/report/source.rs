//! What was found out about a file.

use std::path::Path;

use metachron_core::candidates::kind_alone;
use metachron_core::evidence::Thinning;
use metachron_core::reading::Terms;
use metachron_core::text::{counted, grouped};
use metachron_tables::compress::Compression;
use metachron_tables::table::{Lines, Met, Table, TableFormat};
use metachron_tables::wanted::Wanted;
use serde::Serialize;

use crate::intake::says;
use crate::message::{plain, quoted, shown};
use crate::survey::{SurveyedColumn, SurveyedTable};
use crate::words::encoding;

/// What was found out about the file.
#[derive(Debug, Serialize)]
pub struct SourceFacts {
    /// Its path.
    pub file: String,
    /// `CSV`, `TSV`, `JSON Lines`, `JSON array`.
    pub format: &'static str,
    /// How the file is compressed.
    pub compression: Option<&'static str>,
    /// How delimited text is written: the delimiter, and what is unusual.
    pub dialect: Option<String>,
    /// The sheet of a workbook, or the table of a database.
    pub part: Option<PartFacts>,
    /// The encoding of text.
    pub encoding: Option<String>,
    /// The line where the names of the columns stand.
    pub header_line: Option<u64>,
    /// Lines above the table.
    pub preamble: Vec<LineFacts>,
    /// Lines below the table.
    pub footers: Vec<LineFacts>,
    /// How many columns there are.
    pub columns: usize,
    /// Rows of data.
    pub rows: u64,
    /// Only so many were looked at, and there are more.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_rows: Option<u64>,
    /// Anything else that is worth knowing.
    pub notes: Vec<String>,
}

/// A part of a file that holds several tables.
#[derive(Debug, Serialize)]
pub struct PartFacts {
    /// `sheet` or `table`.
    pub kind: &'static str,
    /// Its name.
    pub name: String,
    /// The names of the others.
    pub others: Vec<String>,
}

/// A line that is no row.
#[derive(Debug, Serialize)]
pub struct LineFacts {
    /// Its number.
    pub line: u64,
    /// The line without its end.
    pub text: String,
}

impl SourceFacts {
    /// Collects what was found out.
    pub fn new(table: &SurveyedTable) -> SourceFacts {
        let intake = &table.intake;
        let mut notes = Vec::new();
        let mut met = |met: Met, one: &str, many: &str| notes.extend(says(met, one, many));
        let lines = &table.lines;
        met(lines.blank, "empty line that is no row", "empty lines that are no rows");
        met(
            lines.short,
            "row with fewer cells than the header; convert completes it with empty ones",
            "rows with fewer cells than the header; convert completes them with empty ones",
        );
        met(
            lines.long,
            "row with more cells than the header; the last ones belong to no column",
            "rows with more cells than the header; the last ones belong to no column",
        );
        notes.extend(doubts(&intake.table, lines, &Wanted::default()));
        notes.extend(renamed(&intake.table, &table.blank));
        notes.extend(thinned(&table.columns, MORE_MEMORY));
        let source = intake.table.source();
        let (dialect, header_line, preamble) = match &intake.table.format {
            TableFormat::Delimited { dialect, header, preamble, decimal_comma } => (
                Some(format!("{dialect}{}", if *decimal_comma { ", decimal comma" } else { "" })),
                header.as_ref().map(|header| header.record().line()),
                &preamble[..],
            ),
            _ => (None, intake.table.sheet().and_then(|sheet| sheet.header_row), &[][..]),
        };
        let sheet = intake.table.sheet();
        let part = intake.table.part();
        if let Some(sheet) = sheet {
            notes.extend(match sheet.merged.as_slice() {
                [] => None,
                [one] => Some(format!("1 merged range ({one}); only its first cell holds a value")),
                [first, ..] => Some(format!(
                    "{} merged ranges (first {first}); only the first cell of each holds a value",
                    metachron_core::text::grouped(sheet.merged.len() as u64)
                )),
            });
            if !sheet.tells_parts && matches!(intake.table.format, TableFormat::Workbook(_)) {
                notes.push(
                    "hidden rows and merged ranges could not be looked for in this workbook"
                        .to_owned(),
                );
            }
            if sheet.hidden > 0 {
                let hidden = metachron_core::text::counted(sheet.hidden, "hidden row");
                notes.push(format!("{hidden} in the table, read like the others"));
            }
        }
        notes.extend(no_names(&intake.table));
        if let Some(said) = named_otherwise(&intake.path, &intake.table) {
            notes.push(said);
        }
        let line = |line: u64, text: &str| LineFacts {
            line,
            text: text.trim_end_matches(['\r', '\n']).to_owned(),
        };
        SourceFacts {
            file: shown(&intake.path),
            format: intake.table.format_name(),
            compression: source.compression.map(Compression::ending),
            dialect,
            encoding: intake.table.is_text().then(|| encoding(source.charset)),
            header_line,
            preamble: match sheet {
                Some(sheet) => sheet.above.iter().map(|(row, text)| line(*row, text)).collect(),
                None => (1..).zip(preamble).map(|(number, text)| line(number, text)).collect(),
            },
            part: part.map(|(kind, name, others)| PartFacts {
                kind,
                name: name.to_owned(),
                others: others.to_vec(),
            }),
            footers: lines.footers.iter().map(|(number, text)| line(*number, text)).collect(),
            columns: intake.names().len(),
            rows: lines.rows,
            first_rows: table.is_part.then_some(lines.rows),
            notes,
        }
    }
}

/// What keeps more of what is seen of a table.
pub const MORE_MEMORY: &str = "a survey with a larger --max-evidence keeps more";
/// What keeps more of what was seen of its parts.
pub const SMALLER_PARTS: &str = "--evidence writes a megabyte a part at most, and what --max-evidence leaves: smaller parts keep more";

/// What was left out of what was seen of columns, so that it has room, and what would keep it.
pub fn thinned(columns: &[SurveyedColumn], helps: &str) -> Option<String> {
    let thinning = columns.iter().map(|own| own.evidence.thinned).max()?;
    if thinning == Thinning::NONE {
        return None;
    }
    let beside = match thinning.values_beside() {
        0 => "no columns beside dates were looked at".to_owned(),
        values => format!(
            "beside dates only columns of up to {} were looked at",
            counted(values as u64, "different value")
        ),
    };
    Some(format!(
        "not all that its {} show has room: {beside}, and of each {} dates and {} written forms were told apart; {helps}",
        counted(columns.len() as u64, "column"),
        grouped(thinning.dates() as u64),
        grouped(thinning.shapes() as u64)
    ))
}

/// Why a file may be damaged, though it can be read. Whoever says its encoding knows of stray bytes.
pub fn doubts(table: &Table, lines: &Lines, said: &Wanted) -> Vec<String> {
    let early = "the file ends too early: its table is never closed, and rows may be missing";
    let stray = stray_bytes(table, lines).filter(|_| said.charset.is_none());
    stray.into_iter().chain(lines.ends_early.then(|| early.to_owned())).collect()
}

/// What in a file of UTF-8 is none, and where.
fn stray_bytes(table: &Table, lines: &Lines) -> Option<String> {
    let stray = table.source().charset.stray?;
    let what = match stray.count {
        1 => "1 character is not UTF-8 and stands as \u{FFFD}".to_owned(),
        count => format!("{} characters are not UTF-8 and stand as \u{FFFD}", grouped(count)),
    };
    let mut places: Vec<String> = Vec::new();
    for (line, column) in &lines.stray {
        let name = table.header.names.get(*column);
        let name = name.map_or_else(|| (column + 1).to_string(), |name| quoted(name));
        places.push(format!("line {line} column {name}"));
    }
    let byte = format!("byte 0x{:02X}", stray.byte);
    let places = match places.is_empty() {
        true => format!("first in line {}, {byte}", stray.line),
        false if places.len() as u64 >= stray.count => format!("{}; {byte}", places.join(", ")),
        false => format!("{}, \u{2026}; first {byte}", places.join(", ")),
    };
    let end = if stray.is_cut_off { "; the file ends inside a character" } else { "" };
    let helps = "--encoding NAME reads them, --encoding utf-8 leaves them so";
    Some(format!("{what} ({places}){end}; {helps}"))
}

/// A header in which a date stands where a name belongs: it may be the first row.
pub fn no_names(table: &Table) -> Option<String> {
    let TableFormat::Delimited { header: Some(header), .. } = &table.format else { return None };
    let line = header.record().line();
    let is_date = |name: &&String| kind_alone(name, Terms::default()).is_some();
    let name = table.header.names.iter().find(is_date)?;
    let name = quoted(name);
    Some(format!("a column is called {name}; if line {line} is a row, add --no-header"))
}

/// Where the file's name says something else than its content.
fn named_otherwise(path: &Path, table: &Table) -> Option<String> {
    let ending = path.extension()?.to_str()?.to_lowercase();
    let binary =
        ["xlsx", "xlsm", "xlsb", "xls", "ods", "parquet", "sqlite"].contains(&ending.as_str());
    (binary && table.is_text())
        .then(|| format!("named .{ending}, but read as what it is: {}", table.format_name()))
}

/// What is said of columns that the file gives no name of their own.
fn renamed(table: &Table, blank: &[usize]) -> Vec<String> {
    const LISTED: usize = 8;
    let header = &table.header;
    let mut notes: Vec<String> = Vec::new();
    let mut more = 0;
    for (written, name) in &header.renamed {
        if notes.len() == LISTED {
            more += 1;
            continue;
        }
        let blank = header.position(name).is_some_and(|index| blank.contains(&index));
        let name = plain(name);
        notes.push(match (written.as_str(), blank) {
            ("", true) => format!("a column without a name or a single value is called {name}"),
            ("", false) => format!("a column without a name is called {name}"),
            (written, _) => format!("another column named {} is called {name}", plain(written)),
        });
    }
    if more > 0 {
        let columns = metachron_core::text::counted(more, "more column");
        notes.push(format!("{columns} without a name or with another's name, called likewise"));
    }
    notes
}
