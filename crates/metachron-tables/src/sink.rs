//! Writes tables: rows as they stand where the format stays the same, with new cells added.

use std::io::{self, Write};
use std::ops::Range;

use crate::delimited::{Record, as_field};
use crate::dialect::Delimiter;
use crate::json::{JsonRow, quote};
use crate::table::{Lines, Row, Table, TableFormat};

/// A column that is added to a table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewColumn {
    /// The column beside which it stands.
    pub beside: usize,
    /// Its name.
    pub name: String,
    /// Whether it takes that column's place.
    pub replaces: bool,
    /// Whether its texts are numbers or truths, which JSON writes without quotes.
    pub is_bare: bool,
}

/// The formats that can be written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Target {
    /// Delimited text.
    Delimited(Delimiter),
    /// Objects of JSON as they stand, put together so.
    Json(JsonForm),
}

/// How objects of JSON are put together.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum JsonForm {
    /// Like the input, every byte between them included.
    AsInput,
    /// One a line.
    Lines,
    /// One array of all.
    Array,
}

/// A table that is being written.
#[derive(Debug, Clone)]
pub struct Sink<'t> {
    table: &'t Table,
    target: Target,
    new: Vec<NewColumn>,
    /// What stands in a row, from left to right.
    plan: Vec<OutputCells>,
    keep_preamble: bool,
    /// Whether a row was written.
    is_begun: bool,
    line: String,
    /// The row itself in the line, without what stands around it.
    own: Range<usize>,
}

/// What stands in a row of the output.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum OutputCells {
    /// Cells of the input.
    Raw(Range<usize>),
    /// The new column of this number.
    New(usize),
}

/// What stands in a row, from left to right: the cells of a table of this width, and new ones.
///
/// ```
/// use metachron_tables::sink::{NewColumn, OutputCells, plan};
/// let typed = NewColumn { beside: 0, name: "seen_typed".into(), replaces: false, is_bare: false };
/// let cells = plan(2, &[typed], &[]);
/// assert_eq!(cells, [OutputCells::Raw(0..1), OutputCells::New(0), OutputCells::Raw(1..2)]);
/// ```
pub fn plan(width: usize, new: &[NewColumn], dropped: &[usize]) -> Vec<OutputCells> {
    let mut plan: Vec<OutputCells> = Vec::new();
    for index in 0..width {
        let replaced = new.iter().any(|column| column.beside == index && column.replaces);
        match plan.last_mut() {
            _ if replaced || dropped.contains(&index) => {}
            Some(OutputCells::Raw(cells)) if cells.end == index => cells.end += 1,
            _ => plan.push(OutputCells::Raw(index..index + 1)),
        }
        let beside = new.iter().enumerate().filter(|(_, column)| column.beside == index);
        plan.extend(beside.map(|(number, _)| OutputCells::New(number)));
    }
    plan
}

/// What a record is written to.
trait Line {
    fn text(&mut self, text: &str);
    fn mark(&mut self, delimiter: Delimiter);
}

impl Line for String {
    fn text(&mut self, text: &str) {
        self.push_str(text);
    }

    fn mark(&mut self, delimiter: Delimiter) {
        self.push(char::from(delimiter.byte()));
    }
}

impl Line for Vec<u8> {
    fn text(&mut self, text: &str) {
        self.extend_from_slice(text.as_bytes());
    }

    fn mark(&mut self, delimiter: Delimiter) {
        self.push(delimiter.byte());
    }
}

impl<'t> Sink<'t> {
    /// Writes `table` in a format with these new columns, and without the `dropped` ones.
    pub fn new(table: &'t Table, target: Target, new: Vec<NewColumn>, dropped: &[usize]) -> Self {
        let plan = plan(table.header.names.len(), &new, dropped);
        let (line, own) = (String::new(), 0..0);
        Sink { table, target, new, plan, keep_preamble: false, is_begun: false, line, own }
    }

    /// Writes the titles above the table and what stands below it too.
    #[must_use]
    pub fn keep_preamble(mut self, keep: bool) -> Self {
        self.keep_preamble = keep;
        self
    }

    /// Writes what stands before the first row.
    ///
    /// # Errors
    /// If `out` cannot be written to.
    pub fn begin(&mut self, out: &mut impl Write) -> io::Result<()> {
        let Target::Delimited(delimiter) = self.target else { return Ok(()) };
        let names: Vec<String> = self.new.iter().map(|column| column.name.clone()).collect();
        match &self.table.format {
            TableFormat::Delimited { preamble, header, dialect, .. }
                if dialect.delimiter == delimiter =>
            {
                if self.keep_preamble {
                    preamble.iter().try_for_each(|line| out.write_all(line.as_bytes()))?;
                }
                // A table without a header stays one.
                let Some(header) = header else { return Ok(()) };
                self.put_record(&header.record(), |at| &names[at], delimiter);
            }
            _ => {
                let own = self.table.header.names.clone();
                self.cells(
                    |index| as_field(&own[index], delimiter).into_owned(),
                    |at| &names[at],
                    delimiter,
                );
            }
        }
        out.write_all(self.line.as_bytes())
    }

    /// Writes a row with the texts of the new columns, which are asked for by number.
    ///
    /// # Errors
    /// If `out` cannot be written to.
    pub fn row<'n>(
        &mut self,
        out: &mut impl Write,
        row: &Row<'_>,
        new: impl Fn(usize) -> &'n str,
    ) -> io::Result<()> {
        self.put(row, new)?;
        out.write_all(self.line.as_bytes())
    }

    /// The same, for it to be written later: what stands before the row, itself, and what stands after it.
    ///
    /// # Errors
    /// If such a row cannot be written.
    pub fn parts<'n>(
        &mut self,
        row: &Row<'_>,
        new: impl Fn(usize) -> &'n str,
    ) -> io::Result<[&str; 3]> {
        self.put(row, new)?;
        let Range { start, end } = self.own;
        Ok([&self.line[..start], &self.line[start..end], &self.line[end..]])
    }

    /// Whether records stay what they are, so that each can be written by itself.
    pub fn keeps_records(&self) -> bool {
        matches!(self.target, Target::Delimited(own) if self.keeps_delimiter(own))
    }

    /// Adds a row of a table whose records stay what they are to a text.
    pub fn push<'n>(&self, text: &mut Vec<u8>, row: &Row<'_>, new: impl Fn(usize) -> &'n str) {
        if let (Target::Delimited(delimiter), Row::Delimited(record)) = (self.target, row) {
            self.record(text, record, new, delimiter);
        }
    }

    /// Whether the table is delimited so already.
    fn keeps_delimiter(&self, delimiter: Delimiter) -> bool {
        let own = match &self.table.format {
            TableFormat::Delimited { dialect, .. } => Some(dialect.delimiter),
            _ => None,
        };
        own == Some(delimiter)
    }

    fn put<'n>(&mut self, row: &Row<'_>, new: impl Fn(usize) -> &'n str) -> io::Result<()> {
        match (self.target, row) {
            (Target::Delimited(delimiter), Row::Delimited(record))
                if self.keeps_delimiter(delimiter) =>
            {
                self.put_record(record, new, delimiter);
            }
            (Target::Delimited(delimiter), row) => {
                let mut buffer = String::new();
                let text = |index| {
                    as_field(&row.cell(index, &mut buffer).to_text(), delimiter).into_owned()
                };
                self.cells(text, new, delimiter);
            }
            (Target::Json(form), Row::Json(row)) => self.object(row, new, form),
            (Target::Json(_), _) => {
                return Err(io::Error::other("only JSON can be written as JSON"));
            }
        }
        Ok(())
    }

    /// Writes what stands behind the last row.
    ///
    /// # Errors
    /// If `out` cannot be written to.
    pub fn end(&self, out: &mut impl Write, lines: &Lines) -> io::Result<()> {
        match self.target {
            Target::Json(JsonForm::AsInput) => {
                match self.table.format {
                    // An array of which every row is left out begins here; the end of a line does not stand alone.
                    TableFormat::JsonArray if !self.is_begun && !lines.tail.contains('[') => {
                        out.write_all(b"[")?;
                    }
                    TableFormat::JsonLines if !self.is_begun && lines.rows > 0 => return Ok(()),
                    _ => {}
                }
                out.write_all(lines.tail.as_bytes())
            }
            Target::Json(JsonForm::Lines) => Ok(()),
            Target::Json(JsonForm::Array) if self.is_begun => out.write_all(b"\n]\n"),
            Target::Json(JsonForm::Array) => out.write_all(b"[]\n"),
            Target::Delimited(_) if self.keep_preamble => {
                lines.footers.iter().try_for_each(|(_, text)| out.write_all(text.as_bytes()))
            }
            Target::Delimited(_) => Ok(()),
        }
    }

    fn put_record<'n>(
        &mut self,
        record: &Record<'_>,
        new: impl Fn(usize) -> &'n str,
        delimiter: Delimiter,
    ) {
        let mut line = std::mem::take(&mut self.line);
        line.clear();
        self.record(&mut line, record, new, delimiter);
        self.own = 0..line.len() - record.terminator().len();
        self.line = line;
    }

    /// A record of the same dialect, every raw byte as it stands; cells that it lacks are empty,
    /// those that it has too many stay at its end.
    fn record<'n>(
        &self,
        line: &mut impl Line,
        record: &Record<'_>,
        new: impl Fn(usize) -> &'n str,
        delimiter: Delimiter,
    ) {
        let there = record.field_count();
        for (number, place) in self.plan.iter().enumerate() {
            if number > 0 {
                line.mark(delimiter);
            }
            match place {
                OutputCells::New(number) => line.text(&as_field(new(*number), delimiter)),
                OutputCells::Raw(cells) => {
                    let end = cells.end.min(there);
                    line.text(record.raw_span(cells.start, end));
                    let lacking = cells.end - end.max(cells.start);
                    let given = usize::from(end > cells.start);
                    (1..lacking + given).for_each(|_| line.mark(delimiter));
                }
            }
        }
        let width = self.table.header.names.len();
        if there > width {
            line.mark(delimiter);
            line.text(record.raw_span(width, there));
        }
        line.text(record.terminator());
    }

    /// Cells of another format as delimited text.
    fn cells<'n>(
        &mut self,
        mut text: impl FnMut(usize) -> String,
        new: impl Fn(usize) -> &'n str,
        delimiter: Delimiter,
    ) {
        let mut cells: Vec<String> = Vec::new();
        for place in &self.plan {
            match place {
                OutputCells::New(number) => {
                    cells.push(as_field(new(*number), delimiter).into_owned())
                }
                OutputCells::Raw(raw) => cells.extend(raw.clone().map(&mut text)),
            }
        }
        self.line.clear();
        self.line.push_str(&cells.join(&char::from(delimiter.byte()).to_string()));
        self.own = 0..self.line.len();
        self.line.push('\n');
    }

    /// An object as it stands, a new key right behind its raw one.
    fn object<'n>(&mut self, row: &JsonRow<'_>, new: impl Fn(usize) -> &'n str, form: JsonForm) {
        let mut edits: Vec<(Range<usize>, String)> = Vec::new();
        for (number, column) in self.new.iter().enumerate() {
            // Where the raw key is absent, so is the new one.
            let Some(raw) = row.place(column.beside) else { continue };
            let value = match new(number) {
                "" => "null".to_owned(),
                bare if column.is_bare => bare.to_owned(),
                text => quote(text),
            };
            if column.replaces {
                edits.push((raw, value));
                continue;
            }
            let path = &self.table.header.names[column.beside];
            let parent = path.rfind('.').map_or("", |dot| &path[..=dot]);
            let key = column.name.strip_prefix(parent).unwrap_or(&column.name);
            edits.push((raw.end..raw.end, format!(",{}:{value}", quote(key))));
        }
        edits.sort_by_key(|(place, _)| place.start);
        self.line.clear();
        self.line.push_str(match form {
            JsonForm::AsInput if self.is_begun || row.is_first() => row.before(),
            // The rows before it are left out, and so is what stood between them.
            JsonForm::AsInput => match self.table.format {
                TableFormat::JsonArray => "[\n",
                _ => "",
            },
            JsonForm::Lines => "",
            JsonForm::Array if self.is_begun => ",\n",
            JsonForm::Array => "[\n",
        });
        self.is_begun = true;
        let begin = self.line.len();
        let mut at = 0;
        for (place, text) in edits {
            self.line.push_str(&row.text()[at..place.start]);
            self.line.push_str(&text);
            at = place.end;
        }
        self.line.push_str(&row.text()[at..]);
        if form == JsonForm::Lines && self.line.contains(['\n', '\r']) {
            // Between the parts of an object an end of line is as good as a space; in them there is none.
            self.line = self.line.replace(['\n', '\r'], " ");
        }
        self.own = begin..self.line.len();
        if form == JsonForm::Lines {
            self.line.push('\n');
        }
    }
}
