//! A table of any format: its columns, and its rows as often as they are needed.

use std::io::Read;
use std::path::Path;

use metachron_core::value::Value;

use crate::address::Address;
use crate::cells::CellRow;
use crate::chunks::{CHUNK, Chunk, Chunks, Cutting};
#[cfg(feature = "columnar")]
use crate::columnar::ParquetColumns;
use crate::delimited::{KeptRecord, Record, RecordReader};
use crate::dialect::Dialect;
use crate::error::TableError;
use crate::frame::{WantedHeader, is_footer, is_total};
use crate::header::Header;
use crate::json::{JsonRow, ObjectReader};
use crate::open::Source;
use crate::recognise::recognise;
use crate::records::Records;
use crate::sheet::{Sheet, place};
#[cfg(feature = "sqlite")]
use crate::sqlite::Selection;
use crate::stored::StoredType;
use crate::wanted::{Aspect, Selected, Wanted};

/// A table that was recognised.
#[derive(Debug)]
pub struct Table {
    source: Source,
    longest_record: usize,
    /// The format, with what belongs to it.
    pub format: TableFormat,
    /// What is read of a server's database.
    of_server: Option<Selected>,
    /// The columns.
    pub header: Header,
}

/// A format of tables.
#[derive(Debug, Clone)]
pub enum TableFormat {
    /// Delimited text.
    Delimited {
        /// How it is written.
        dialect: Dialect,
        /// The header as it stands, if there is one.
        header: Option<KeptRecord>,
        /// The lines before it, as they stand.
        preamble: Vec<String>,
        /// Whether numbers are written with a comma.
        decimal_comma: bool,
    },
    /// JSON objects one after the other, usually one a line.
    JsonLines,
    /// One JSON array of objects.
    JsonArray,
    /// A sheet of a workbook.
    Workbook(Box<Sheet>),
    /// A table of an HTML page.
    Html(Box<Sheet>),
    /// A Parquet file.
    #[cfg(feature = "columnar")]
    Parquet,
    /// A SQLite database.
    #[cfg(feature = "sqlite")]
    Sqlite(Box<Selection>),
}

/// A row of any format.
#[derive(Debug)]
pub enum Row<'r> {
    /// Of delimited text.
    Delimited(Record<'r>),
    /// Of JSON.
    Json(JsonRow<'r>),
    /// Of a format with typed cells.
    Cells(&'r CellRow),
}

impl Row<'_> {
    /// A cell; `buffer` is used where its text is not contiguous in the file.
    #[inline]
    pub fn cell<'b>(&'b self, column: usize, buffer: &'b mut String) -> Value<'b> {
        match self {
            Row::Delimited(record) => Value::Text(record.value(column, buffer)),
            Row::Json(row) => row.cell(column, buffer),
            Row::Cells(row) => row.cell(column),
        }
    }

    /// The line where the row begins.
    pub fn line(&self) -> u64 {
        match self {
            Row::Delimited(record) => record.line(),
            Row::Json(row) => row.line(),
            Row::Cells(row) => row.line(),
        }
    }
}

/// What was met on the way through the rows.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Lines {
    /// Rows of data.
    pub rows: u64,
    /// Empty lines, which are no rows.
    pub blank: Met,
    /// Rows with fewer cells than the header.
    pub short: Met,
    /// Rows with more cells than the header.
    pub long: Met,
    /// What stands below the last row: totals, closing words, as it stands.
    pub footers: Vec<(u64, String)>,
    /// What stands behind the last row of a structured format.
    pub tail: String,
    /// Whether a structured format is not closed: the file was cut off.
    pub ends_early: bool,
    /// Cells of delimited text that hold what is no UTF-8, by line and column, the first of which is 0; the first few.
    pub stray: Vec<(u64, usize)>,
}

/// Such cells that are listed.
const MOST_STRAY: usize = 5;

/// How often something was met, and in which line first.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Met {
    /// How often.
    pub count: u64,
    /// The first line, 0 if it was never met.
    pub line: u64,
}

impl Lines {
    /// What was met in these rows and the next ones.
    pub fn join(&mut self, next: Lines) {
        self.rows += next.rows;
        self.blank.join(next.blank);
        self.short.join(next.short);
        self.long.join(next.long);
        (self.footers, self.tail, self.ends_early) = (next.footers, next.tail, next.ends_early);
        self.stray.extend(next.stray);
        self.stray.truncate(MOST_STRAY);
    }
}

impl Met {
    fn join(&mut self, next: Met) {
        if self.count == 0 {
            self.line = next.line;
        }
        self.count += next.count;
    }

    fn meet(&mut self, line: u64) {
        if self.count == 0 {
            self.line = line;
        }
        self.count += 1;
    }
}

/// More lines that could be footers than this are rows after all.
const MOST_FOOTERS: usize = 50;

impl Table {
    /// Opens a file and finds out what it is, as far as it is not said.
    ///
    /// # Errors
    /// If it cannot be read, or holds no table.
    pub fn open(path: &Path, wanted: &Wanted) -> Result<Table, TableError> {
        if let Some(address) = Address::of(path) {
            return Table::of_server(&address, wanted);
        }
        let source = Source::open(path)?;
        let longest_record = wanted.longest_record();
        let begin = source.begin()?;
        if is_workbook(&begin) {
            return Table::workbook(source, wanted);
        }
        #[cfg(feature = "columnar")]
        if crate::columnar::is_parquet(&begin) {
            let (_, names) = ParquetColumns::open(source.file()?)?;
            let header = Header::named(names);
            return Ok(Table {
                source,
                longest_record,
                format: TableFormat::Parquet,
                of_server: None,
                header,
            });
        }
        #[cfg(feature = "sqlite")]
        if crate::sqlite::is_database(&begin) {
            let path = source.path().ok_or_else(|| {
                TableError::Database("it must be a file; it cannot be piped in".to_owned())
            })?;
            let (selection, names) = Selection::open(path, wanted.selected.as_ref())?;
            let (format, header) = (TableFormat::Sqlite(Box::new(selection)), Header::named(names));
            return Ok(Table { source, longest_record, format, of_server: None, header });
        }
        let source = source.decoded(wanted.charset)?;
        let sample = source.sample()?;
        no_text(&sample)?;
        if is_html(&sample) {
            return Table::html(source, wanted);
        }
        if let Some(format) = json_format(&sample, path).filter(|_| wanted.delimiter.is_none()) {
            let mut names = Vec::new();
            let mut objects = ObjectReader::new(source.text()?).limited(longest_record);
            while objects.next_row(&mut names)?.is_some() {}
            let header = Header { names, renamed: Vec::new() };
            return Ok(Table { source, longest_record, format, of_server: None, header });
        }
        Table::delimited(source, &sample, wanted)
    }

    #[cfg(feature = "postgres")]
    fn of_server(address: &Address, wanted: &Wanted) -> Result<Table, TableError> {
        let of_server = wanted.selected.clone();
        let spool = crate::postgres::spool(address, of_server.as_ref(), &wanted.secrets)?;
        let source = Source::spooled(spool);
        let header = WantedHeader::Line(1);
        let wanted =
            Wanted { delimiter: Some(crate::dialect::Delimiter::Comma), header, ..wanted.clone() };
        let sample = source.sample()?;
        Ok(Table { of_server, ..Table::delimited(source, &sample, &wanted)? })
    }

    #[cfg(not(feature = "postgres"))]
    fn of_server(_: &Address, _: &Wanted) -> Result<Table, TableError> {
        Err(TableError::NoTable("is a server's database, which this build does not read"))
    }

    #[cfg(feature = "workbook")]
    fn workbook(source: Source, wanted: &Wanted) -> Result<Table, TableError> {
        let mut bytes = Vec::new();
        source.bytes()?.read_to_end(&mut bytes)?;
        let (sheet, header) =
            crate::workbook::open(&bytes, wanted.sheet.as_deref(), wanted.header)?;
        let format = TableFormat::Workbook(Box::new(sheet));
        Ok(Table {
            source,
            longest_record: crate::delimited::LONGEST_RECORD,
            format,
            of_server: None,
            header,
        })
    }

    #[cfg(not(feature = "workbook"))]
    fn workbook(_: Source, _: &Wanted) -> Result<Table, TableError> {
        Err(TableError::NoTable("is a workbook, which this build does not read"))
    }

    fn html(source: Source, wanted: &Wanted) -> Result<Table, TableError> {
        let limit = wanted.longest_record();
        let mut page = String::new();
        source.text()?.take(limit as u64 + 1).read_to_string(&mut page)?;
        if page.len() > limit {
            return Err(TableError::TooLong { line: 1, limit });
        }
        let (rows, is_closed) = crate::html::rows(&page)?;
        let place = place(&rows, wanted.header);
        let place = place.ok_or(TableError::NoTable("is an HTML page without a table"))?;
        let (mut sheet, header) = Sheet::cut("table".to_owned(), Vec::new(), rows, place);
        sheet.ends_early = !is_closed;
        let format = TableFormat::Html(Box::new(sheet));
        Ok(Table { source, longest_record: limit, format, of_server: None, header })
    }

    fn delimited(source: Source, sample: &[u8], wanted: &Wanted) -> Result<Table, TableError> {
        let recognised = recognise(sample, wanted.delimiter, wanted.quote);
        let dialect = recognised.dialect;
        let (skip, has_header) = match wanted.header {
            WantedHeader::Unsaid => (recognised.lines_before, true),
            WantedHeader::Behind(lines) => (lines, true),
            WantedHeader::Line(line) => (line.saturating_sub(1), true),
            WantedHeader::None(lines) => (lines, false),
        };
        let longest_record = wanted.longest_record();
        let mut records = RecordReader::new(source.text()?, dialect).limited(longest_record);
        let preamble = records.skip_lines(skip)?;
        let (header, written) = match records.next_record()? {
            Some(record) if has_header && record.is_blank() => {
                return Err(TableError::NoHeader { line: record.line() });
            }
            Some(record) if has_header => (Header::of(&record), Some(record.keep())),
            Some(record) => (Header::numbered(record.field_count()), None),
            None => {
                let lines = preamble.len() as u64;
                return Err(TableError::FewerLines { lines, passed: skip });
            }
        };
        drop(records);
        let decimal_comma = recognised.decimal_comma;
        let format = TableFormat::Delimited { dialect, header: written, preamble, decimal_comma };
        Ok(Table { source, longest_record, format, of_server: None, header })
    }

    /// Whether the format types its columns, so that typed ones need no other beside them.
    pub fn types_columns(&self) -> bool {
        #[cfg(feature = "columnar")]
        if matches!(self.format, TableFormat::Parquet) {
            return true;
        }
        false
    }

    /// What is read of a database; none of a file that is no database.
    pub fn selected(&self) -> Option<&Selected> {
        match &self.format {
            #[cfg(feature = "sqlite")]
            TableFormat::Sqlite(selection) => Some(&selection.selected),
            _ => self.of_server.as_ref(),
        }
    }

    /// The sheet or table in the file with its name, and the names of the others; none where the
    /// file is one table, or a query was made.
    pub fn part(&self) -> Option<(&'static str, &str, &[String])> {
        match &self.format {
            TableFormat::Workbook(sheet) => Some(("sheet", &sheet.name, &sheet.others)),
            #[cfg(feature = "sqlite")]
            TableFormat::Sqlite(selection) => match &selection.selected {
                Selected::Table(name) => Some(("table", name, &selection.others[..])),
                Selected::Query(_) => None,
            },
            _ => None,
        }
    }

    /// What the format is called.
    pub fn format_name(&self) -> &'static str {
        match &self.format {
            TableFormat::Delimited { dialect, .. } => dialect.delimiter.format(),
            TableFormat::JsonLines => "JSON Lines",
            TableFormat::JsonArray => "JSON array",
            TableFormat::Workbook(_) => "workbook",
            TableFormat::Html(_) => "HTML table",
            #[cfg(feature = "columnar")]
            TableFormat::Parquet => "Parquet",
            #[cfg(feature = "sqlite")]
            TableFormat::Sqlite(_) => "SQLite",
        }
    }

    /// Whether it makes a difference to this table that something is said.
    pub fn heeds(&self, said: Aspect) -> bool {
        if self.selected().is_some() {
            return said == Aspect::Selected;
        }
        match said {
            Aspect::Delimiter | Aspect::Quote => {
                matches!(self.format, TableFormat::Delimited { .. })
            }
            Aspect::Encoding | Aspect::Record => self.is_text(),
            Aspect::Header => {
                matches!(self.format, TableFormat::Delimited { .. }) || self.sheet().is_some()
            }
            Aspect::Sheet => matches!(self.format, TableFormat::Workbook(_)),
            Aspect::Selected => false,
        }
    }

    /// Whether the bytes are text in some encoding.
    pub fn is_text(&self) -> bool {
        matches!(
            self.format,
            TableFormat::Delimited { .. }
                | TableFormat::JsonLines
                | TableFormat::JsonArray
                | TableFormat::Html(_)
        )
    }

    /// The sheet, of a workbook or of a page.
    pub fn sheet(&self) -> Option<&Sheet> {
        match &self.format {
            TableFormat::Workbook(sheet) | TableFormat::Html(sheet) => Some(sheet),
            _ => None,
        }
    }

    /// How each column of a Parquet file is stored, where it can be stored so again; nothing of other files.
    ///
    /// # Errors
    /// If the file cannot be read any more.
    pub fn stored(&self) -> Result<Vec<Option<StoredType>>, TableError> {
        #[cfg(feature = "columnar")]
        if matches!(self.format, TableFormat::Parquet) {
            return Ok(ParquetColumns::open(self.source.file()?)?.0.stored());
        }
        Ok(vec![None; self.header.names.len()])
    }

    /// The file's encoding and compression.
    pub fn source(&self) -> &Source {
        &self.source
    }

    /// Goes through the rows; the first is 1. What fails on the way is told by `fail`.
    ///
    /// # Errors
    /// If the file cannot be read, or `take` fails.
    pub fn each_row<E>(
        &self,
        fail: impl Fn(TableError) -> E,
        mut take: impl FnMut(u64, &Row<'_>) -> Result<(), E>,
    ) -> Result<Lines, E> {
        match &self.format {
            TableFormat::Delimited { .. } => {
                let (mut lines, mut room) = (Lines::default(), Chunk::default());
                let mut chunks = self.chunks(CHUNK).map_err(&fail)?;
                while let Some(chunks) = &mut chunks
                    && let Some(chunk) = chunks.next(room).map_err(&fail)?
                {
                    let of_chunk = self.each_rows_of(&chunk, &fail, |first, rows| {
                        (first..).zip(rows).try_for_each(|(number, row)| take(number, row))
                    });
                    lines.join(of_chunk?);
                    room = chunk;
                }
                Ok(lines)
            }
            TableFormat::JsonLines | TableFormat::JsonArray => {
                let mut objects = ObjectReader::new(self.source.text().map_err(&fail)?)
                    .limited(self.longest_record);
                let mut names = self.header.names.clone();
                let mut lines = Lines::default();
                while let Some(row) = objects.next_row(&mut names).map_err(&fail)? {
                    lines.rows += 1;
                    take(lines.rows, &Row::Json(row))?;
                }
                lines.tail = objects.tail().to_owned();
                lines.ends_early =
                    matches!(self.format, TableFormat::JsonArray) && !lines.tail.contains(']');
                Ok(lines)
            }
            #[cfg(feature = "columnar")]
            TableFormat::Parquet => {
                let file = self.source.file().map_err(&fail)?;
                let (columns, _) = ParquetColumns::open(file).map_err(&fail)?;
                let mut lines = Lines::default();
                columns.each_row(&fail, |row| {
                    lines.rows += 1;
                    take(lines.rows, &Row::Cells(row))
                })?;
                self.source.check_unchanged().map_err(&fail)?;
                Ok(lines)
            }
            #[cfg(feature = "sqlite")]
            TableFormat::Sqlite(selection) => {
                let mut lines = Lines::default();
                selection.each_row(&fail, |row| {
                    lines.rows += 1;
                    take(lines.rows, &Row::Cells(row))
                })?;
                self.source.check_unchanged().map_err(&fail)?;
                Ok(lines)
            }
            TableFormat::Workbook(sheet) | TableFormat::Html(sheet) => {
                let (footers, ends_early) = (sheet.below.clone(), sheet.ends_early);
                let mut lines = Lines { footers, ends_early, ..Lines::default() };
                let width = self.header.names.len();
                for row in sheet.rows() {
                    if width > 1 && row.is_blank() {
                        lines.blank.meet(row.number);
                        continue;
                    }
                    lines.rows += 1;
                    take(lines.rows, &Row::Cells(row))?;
                }
                Ok(lines)
            }
        }
    }

    /// Whether its rows can be had in chunks.
    pub fn is_cut(&self) -> bool {
        matches!(self.format, TableFormat::Delimited { .. })
    }

    /// The rows of delimited text in chunks of about so many bytes, each of which can be gone through by itself; none of
    /// other formats.
    ///
    /// # Errors
    /// If the file cannot be read.
    pub fn chunks(&self, size: usize) -> Result<Option<Chunks>, TableError> {
        let TableFormat::Delimited { dialect, header, preamble, .. } = &self.format else {
            return Ok(None);
        };
        let limit = self.longest_record;
        let mut records = RecordReader::new(self.source.text()?, *dialect).limited(limit);
        records.skip_lines(preamble.len() as u64)?;
        if header.is_some() {
            records.next_record()?;
        }
        let (input, unread, line) = records.into_rest();
        let cutting = Cutting {
            blank_is_no_row: self.header.names.len() > 1,
            size,
            ..Cutting::new(*dialect, limit, MOST_FOOTERS)
        };
        Ok(Some(Chunks::of(input, &unread, line, cutting)))
    }

    /// Goes through the rows of a chunk of this table, some at a time, each time from the row of this number on; the
    /// first of all is 1. What fails on the way is told by `fail`.
    ///
    /// # Errors
    /// If a record is wrong, or `take` fails.
    pub fn each_rows_of<E>(
        &self,
        chunk: &Chunk,
        fail: impl Fn(TableError) -> E,
        mut take: impl FnMut(u64, &[Row<'_>]) -> Result<(), E>,
    ) -> Result<Lines, E> {
        /// Fields of rows that are gone through at a time: what is found of them stays near.
        const FIELDS: usize = 2_048;
        let TableFormat::Delimited { dialect, .. } = &self.format else {
            return Ok(Lines::default());
        };
        let mut records = Records::of(&chunk.text, *dialect, self.longest_record, chunk.line);
        let mut lines = Lines::default();
        let mut footers = Footers::default();
        let mut take = |lines: &Lines, rows: &[Row<'_>]| match rows.len() as u64 {
            0 => Ok(()),
            some => take(chunk.rows + lines.rows + 1 - some, rows),
        };
        while !records.are_over() {
            let end = records.find(FIELDS);
            let found = records.found();
            let mut rows: Vec<Row<'_>> = Vec::with_capacity(found.len());
            for record in found {
                if chunk.is_last {
                    let is_waiting = footers.wait(&record, self.header.names.len());
                    if is_waiting || !footers.waiting.is_empty() {
                        // What stands before it goes first.
                        take(&lines, &rows)?;
                        rows.clear();
                    }
                    if is_waiting {
                        continue;
                    }
                    for kept in footers.waiting.drain(..) {
                        let row = self.row(&mut lines, kept.record());
                        take(&lines, row.as_slice())?;
                    }
                }
                rows.extend(self.row(&mut lines, record));
            }
            take(&lines, &rows)?;
            end.map_err(&fail)?;
        }
        let text = |kept: &KeptRecord| (kept.record().line(), kept.record().text().to_owned());
        lines.footers = footers.waiting.iter().map(text).collect();
        Ok(lines)
    }

    /// The row that a record is, which is noted; none of an empty line.
    fn row<'r>(&self, lines: &mut Lines, record: Record<'r>) -> Option<Row<'r>> {
        let width = self.header.names.len();
        // With a single column an empty line is a row with an empty cell.
        if width > 1 && record.is_blank() {
            lines.blank.meet(record.line());
            return None;
        }
        lines.rows += 1;
        if self.source.charset.stray.is_some() && lines.stray.len() < MOST_STRAY {
            lines.stray.extend(stray_cells(&record).take(MOST_STRAY - lines.stray.len()));
        }
        match record.field_count() {
            cells if cells < width => lines.short.meet(record.line()),
            cells if cells > width => lines.long.meet(record.line()),
            _ => {}
        }
        Some(Row::Delimited(record))
    }
}

/// Records at the end of a table that are footers if nothing but footers follows.
#[derive(Default)]
struct Footers {
    waiting: Vec<KeptRecord>,
    /// Whether those at hand are too many for that: they are rows, up to the next one that is no footer.
    are_rows: bool,
    buffer: String,
}

impl Footers {
    /// Whether a record of a table of this width may be a footer, and waits for what follows.
    fn wait(&mut self, record: &Record<'_>, width: usize) -> bool {
        let is_blank = width > 1 && record.is_blank();
        let may_be = is_blank || looks_like_footer(record, width, &mut self.buffer);
        let waits = may_be && !self.are_rows && self.waiting.len() < MOST_FOOTERS;
        match waits {
            true => self.waiting.push(record.keep()),
            false => self.are_rows = may_be,
        }
        waits
    }
}

/// The cells of a record in which a character was replaced, by line and column.
fn stray_cells<'r>(record: &'r Record<'_>) -> impl Iterator<Item = (u64, usize)> + 'r {
    let columns = match record.text().contains(char::REPLACEMENT_CHARACTER) {
        true => record.field_count(),
        false => 0,
    };
    let is_stray = |column: &usize| {
        record.value(*column, &mut String::new()).contains(char::REPLACEMENT_CHARACTER)
    };
    (0..columns).filter(is_stray).map(|column| (record.line(), column))
}

/// Whether a record is no row if it stands at the end.
fn looks_like_footer(record: &Record<'_>, width: usize, buffer: &mut String) -> bool {
    // Nearly every row is settled by its first cell that says something, which is no total.
    let count = record.field_count();
    let first = (0..count).find(|at| !record.value(*at, buffer).trim().is_empty());
    if count > 1 && first.is_some_and(|at| !is_total(record.value(at, buffer).trim())) {
        return false;
    }
    let cells: Vec<String> =
        (0..count).map(|index| record.value(index, buffer).to_owned()).collect();
    is_footer(cells.iter().map(String::as_str), width)
}

/// Whether a file that begins so is a workbook: a ZIP archive, or a compound file.
fn is_workbook(begin: &[u8]) -> bool {
    begin.starts_with(b"PK\x03\x04") || begin.starts_with(&[0xD0, 0xCF, 0x11, 0xE0])
}

/// Whether a sample begins as HTML pages do.
fn is_html(sample: &[u8]) -> bool {
    let begin = sample.trim_ascii_start();
    let tag = begin.get(..begin.len().min(15)).map(<[u8]>::to_ascii_lowercase).unwrap_or_default();
    [&b"<!doctype html"[..], b"<html", b"<table"].iter().any(|html| tag.starts_with(html))
}

/// Refuses what only looks like text in some encoding.
fn no_text(sample: &[u8]) -> Result<(), TableError> {
    let begin = sample.trim_ascii_start();
    if begin.starts_with(b"%PDF") {
        return Err(TableError::NoTable("is a PDF, not a table"));
    }
    let control = |byte: &&u8| matches!(**byte, 0..=8 | 14..=26 | 28..=31);
    let controls = sample.iter().filter(control).count();
    if controls >= 8 && controls * 50 > sample.len() {
        return Err(TableError::NoTable("is neither text nor a workbook"));
    }
    Ok(())
}

/// Whether a sample begins as JSON objects do, and how they are put together. What only begins
/// like an array is JSON if the file's name says so.
fn json_format(sample: &[u8], path: &Path) -> Option<TableFormat> {
    let says_json = ["json", "jsonl", "ndjson"]
        .iter()
        .any(|ending| path.extension().is_some_and(|own| own.eq_ignore_ascii_case(ending)));
    match sample.trim_ascii_start() {
        [b'{', rest @ ..] if begins_a_key(rest) => Some(TableFormat::JsonLines),
        [b'[', rest @ ..] => match rest.trim_ascii_start() {
            [b'{', inner @ ..] if begins_a_key(inner) => Some(TableFormat::JsonArray),
            _ => says_json.then_some(TableFormat::JsonArray),
        },
        _ => None,
    }
}

fn begins_a_key(text: &[u8]) -> bool {
    matches!(text.trim_ascii_start().first(), Some(b'"' | b'}'))
}
