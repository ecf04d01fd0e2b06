//! Cuts delimited text into records and fields without copying or changing a byte.
//!
//! Quoting follows RFC 4180: a field that begins with `"` runs to the closing one, `""` inside
//! stands for one, and it may hold delimiters and line breaks. Quotes elsewhere stand for
//! themselves. A record ends with LF, CRLF or CR.

use std::borrow::Cow;
use std::io::Read;
use std::ops::Range;

use memchr::{memchr, memchr_iter, memchr2, memchr3};

use crate::blocks::Blocks;
use crate::cells::MOST_COLUMNS;
use crate::dialect::{Delimiter, Dialect, Escape};
use crate::error::TableError;

/// Unless said otherwise, a longer record is an error, so that one stray quote cannot fill the memory.
pub const LONGEST_RECORD: usize = 64_000_000;

/// The mark that may begin a UTF-8 file.
pub const BOM: &[u8] = b"\xEF\xBB\xBF";

/// Reads records one after the other in a buffer that it uses again.
#[derive(Debug)]
pub struct RecordReader<R> {
    input: Blocks<R>,
    dialect: Dialect,
    limit: usize,
    started: bool,
    has_bom: bool,
    line: u64,
    fields: Vec<Range<usize>>,
}

/// A record as it stands in the file.
#[derive(Debug, Clone, Copy)]
pub struct Record<'r> {
    text: &'r str,
    fields: &'r [Range<usize>],
    line: u64,
    dialect: Dialect,
    /// Whether it has no quotes for sure.
    is_plain: bool,
}

/// A record that is kept while others are read.
#[derive(Debug, Clone)]
pub struct KeptRecord {
    text: String,
    fields: Vec<Range<usize>>,
    line: u64,
    dialect: Dialect,
}

impl KeptRecord {
    /// The record.
    pub fn record(&self) -> Record<'_> {
        let KeptRecord { text, fields, line, dialect } = self;
        Record { text, fields, line: *line, dialect: *dialect, is_plain: false }
    }
}

pub(crate) enum Scan {
    /// A record of so many bytes, its terminator included.
    Record(usize),
    NeedMore,
    UnclosedQuote,
    TooWide,
}

impl<R: Read> RecordReader<R> {
    /// Begins at the first byte; a byte order mark is passed over and remembered.
    pub fn new(input: R, dialect: impl Into<Dialect>) -> RecordReader<R> {
        RecordReader {
            input: Blocks::new(input),
            dialect: dialect.into(),
            limit: LONGEST_RECORD,
            started: false,
            has_bom: false,
            line: 1,
            fields: Vec::new(),
        }
    }

    /// The same, with another bound on the bytes of one record.
    #[must_use]
    pub fn limited(mut self, limit: usize) -> Self {
        self.limit = limit;
        self
    }

    /// The input, what was read of it and not yet used, and the line where that begins.
    pub(crate) fn into_rest(self) -> (R, Vec<u8>, u64) {
        let line = self.line;
        let (input, unread) = self.input.into_rest();
        (input, unread, line)
    }

    /// Whether the file began with a byte order mark; known once a record was asked for.
    pub fn has_bom(&self) -> bool {
        self.has_bom
    }

    /// The next record, or none at the end.
    ///
    /// # Errors
    /// If the input cannot be read, is no UTF-8, or has a field that is never closed.
    pub fn next_record(&mut self) -> Result<Option<Record<'_>>, TableError> {
        if !self.started {
            self.start()?;
        }
        let length = loop {
            let unread = self.input.unread();
            if unread.is_empty() && self.input.at_end() {
                return Ok(None);
            }
            match scan(unread, self.input.at_end(), self.dialect, &mut self.fields) {
                Scan::Record(length) => break length,
                Scan::UnclosedQuote => return Err(unclosed_quote(unread, &self.fields, self.line)),
                Scan::TooWide => {
                    return Err(TableError::TooWide { line: self.line, most: MOST_COLUMNS });
                }
                Scan::NeedMore if unread.len() >= self.limit => {
                    let (line, limit) = (self.line, self.limit);
                    return Err(TableError::TooLong { line, limit });
                }
                Scan::NeedMore => self.input.fill()?,
            }
        };
        let bytes = self.input.take(length);
        let line = self.line;
        // Breaks inside quoted fields count, the terminator counts once however it is written.
        self.line += 1 + match memchr(self.dialect.quote.byte(), bytes) {
            Some(_) => memchr_iter(b'\n', &bytes[..length - 1]).count() as u64,
            None => 0,
        };
        let text = std::str::from_utf8(bytes);
        let text =
            text.map_err(|error| not_utf8(bytes, error.valid_up_to(), &self.fields, line))?;
        Ok(Some(Record::of(text, &self.fields, line, self.dialect)))
    }

    /// Passes over so many lines, whatever stands in them, and gives them back.
    ///
    /// # Errors
    /// If the input cannot be read.
    pub fn skip_lines(&mut self, count: u64) -> Result<Vec<String>, TableError> {
        if !self.started {
            self.start()?;
        }
        let (mut lines, mut kept) = (Vec::new(), 0);
        while (lines.len() as u64) < count {
            let unread = self.input.unread();
            // All that is passed over together is held, as one record is.
            if kept + unread.len() > self.limit
                && memchr2(b'\n', b'\r', unread).is_none_or(|end| kept + end > self.limit)
            {
                return Err(TableError::TooLong { line: self.line, limit: self.limit });
            }
            let end = match memchr2(b'\n', b'\r', unread) {
                Some(end) if unread[end] == b'\n' => end + 1,
                Some(end) if end + 1 < unread.len() => {
                    end + 1 + usize::from(unread[end + 1] == b'\n')
                }
                _ if !self.input.at_end() => {
                    self.input.fill()?;
                    continue;
                }
                Some(_) | None if unread.is_empty() => break,
                Some(_) | None => unread.len(),
            };
            kept += end;
            lines.push(String::from_utf8_lossy(self.input.take(end)).into_owned());
            self.line += 1;
        }
        Ok(lines)
    }

    fn start(&mut self) -> Result<(), TableError> {
        self.started = true;
        while self.input.unread().len() < BOM.len() && !self.input.at_end() {
            self.input.fill()?;
        }
        if self.input.unread().starts_with(BOM) {
            self.has_bom = true;
            self.input.take(BOM.len());
        }
        Ok(())
    }
}

/// A field is never closed: the one behind these fields of a record that begins with the text, at this line.
pub(crate) fn unclosed_quote(text: &[u8], fields: &[Range<usize>], line: u64) -> TableError {
    let start = fields.last().map_or(0, |field| field.end + 1);
    let line = line + memchr_iter(b'\n', &text[..start]).count() as u64;
    TableError::UnclosedQuote { line, column: fields.len() + 1 }
}

/// A byte of a record with these fields, which begins at this line, is none of UTF-8.
pub(crate) fn not_utf8(record: &[u8], at: usize, fields: &[Range<usize>], line: u64) -> TableError {
    TableError::NotUtf8 {
        line: line + memchr_iter(b'\n', &record[..at]).count() as u64,
        column: fields.iter().position(|field| at < field.end).map_or(0, |index| index + 1),
        byte: record[at],
    }
}

/// Finds the fields of the record at the beginning of `text`.
pub(crate) fn scan(
    text: &[u8],
    at_end: bool,
    dialect: Dialect,
    fields: &mut Vec<Range<usize>>,
) -> Scan {
    let (delimiter, quote) = (dialect.delimiter.byte(), dialect.quote.byte());
    fields.clear();
    let mut at = 0;
    loop {
        let start = at;
        if fields.len() == MOST_COLUMNS {
            return Scan::TooWide;
        }
        if dialect.spaced && !fields.is_empty() {
            at += text[at..].iter().take_while(|byte| **byte == b' ').count();
        }
        if text.get(at) == Some(&quote) {
            at += 1;
            loop {
                let found = match dialect.escape {
                    Escape::Doubled => memchr(quote, &text[at..]),
                    Escape::Backslash => memchr2(quote, b'\\', &text[at..]),
                };
                match found {
                    None if at_end => return Scan::UnclosedQuote,
                    None => return Scan::NeedMore,
                    Some(offset) => at += offset + 1,
                }
                if dialect.escape == Escape::Backslash && text[at - 1] == b'\\' {
                    // Whatever stands behind a backslash belongs to the field.
                    match text.len() > at {
                        true => at += 1,
                        false if at_end => return Scan::UnclosedQuote,
                        false => return Scan::NeedMore,
                    }
                    continue;
                }
                match text.get(at) {
                    Some(byte) if *byte == quote => at += 1,
                    None if !at_end => return Scan::NeedMore,
                    _ => break,
                }
            }
        }
        let Some(offset) = memchr3(delimiter, b'\n', b'\r', &text[at..]) else {
            if !at_end {
                return Scan::NeedMore;
            }
            fields.push(start..text.len());
            return Scan::Record(text.len());
        };
        at += offset;
        fields.push(start..at);
        let found = text[at];
        at += 1;
        if found == delimiter {
            continue;
        }
        if found == b'\r' {
            match text.get(at) {
                None if !at_end => return Scan::NeedMore,
                Some(b'\n') => at += 1,
                _ => {}
            }
        }
        return Scan::Record(at);
    }
}

impl<'r> Record<'r> {
    pub(crate) fn of(
        text: &'r str,
        fields: &'r [Range<usize>],
        line: u64,
        dialect: Dialect,
    ) -> Record<'r> {
        Record { text, fields, line, dialect, is_plain: false }
    }

    /// The same, which has no quotes.
    pub(crate) fn plain(self) -> Record<'r> {
        Record { is_plain: true, ..self }
    }

    /// How many fields there are, at least one.
    pub fn field_count(&self) -> usize {
        self.fields.len()
    }

    /// The line where the record begins; the first is 1.
    pub fn line(&self) -> u64 {
        self.line
    }

    /// Whether it is an empty line.
    pub fn is_blank(&self) -> bool {
        matches!(self.fields, [only] if only.is_empty())
    }

    /// A field as it stands in the file, quotes and all; empty beyond the last.
    #[inline]
    pub fn raw(&self, index: usize) -> &'r str {
        self.fields.get(index).map_or("", |field| &self.text[field.clone()])
    }

    /// What a field says: without its quotes. `buffer` is used where quotes are doubled.
    #[inline]
    pub fn value<'b>(&self, index: usize, buffer: &'b mut String) -> &'b str
    where
        'r: 'b,
    {
        match self.is_plain {
            true => self.raw(index),
            false => self.unquoted(index, buffer),
        }
    }

    /// The same of a record that may have quotes.
    fn unquoted<'b>(&self, index: usize, buffer: &'b mut String) -> &'b str
    where
        'r: 'b,
    {
        let raw = self.raw(index);
        // Nearly every field begins with what is no quote.
        if raw.as_bytes().first() != Some(&self.dialect.quote.byte()) && !self.dialect.spaced {
            return raw;
        }
        let quote = char::from(self.dialect.quote.byte());
        let unspaced = if self.dialect.spaced { raw.trim_start_matches(' ') } else { raw };
        let Some(inside) = unspaced.strip_prefix(quote) else { return raw };
        if let Some(plain) = inside.strip_suffix(quote)
            && !plain.contains([quote, '\\'])
        {
            return plain;
        }
        unquote(inside, self.dialect, buffer);
        buffer
    }

    /// The record with its own copy of the text.
    pub fn keep(&self) -> KeptRecord {
        let (text, fields) = (self.text.to_owned(), self.fields.to_vec());
        KeptRecord { text, fields, line: self.line, dialect: self.dialect }
    }

    /// The whole record as it stands, line break and all.
    pub fn text(&self) -> &'r str {
        self.text
    }

    /// What ends the record: a line break, or nothing at the end of the file.
    pub fn terminator(&self) -> &'r str {
        let end = self.fields.last().map_or(0, |field| field.end);
        &self.text[end..]
    }

    /// The bytes of the fields `from..to` and the delimiters between them.
    pub fn raw_span(&self, from: usize, to: usize) -> &'r str {
        match (self.fields.get(from), self.fields.get(to.wrapping_sub(1))) {
            (Some(first), Some(last)) if from < to => &self.text[first.start..last.end],
            _ => "",
        }
    }
}

/// A text as a field, in quotes where it needs them (RFC 4180, section 2).
///
/// ```
/// use metachron_tables::{delimited::as_field, dialect::Delimiter};
/// assert_eq!(as_field("2024-04-13", Delimiter::Comma), "2024-04-13");
/// assert_eq!(as_field("5\" net, torn", Delimiter::Comma), "\"5\"\" net, torn\"");
/// ```
pub fn as_field(text: &str, delimiter: Delimiter) -> Cow<'_, str> {
    let needs_quotes = |byte: u8| byte == delimiter.byte() || matches!(byte, b'"' | b'\r' | b'\n');
    // All bytes are asked, and not those up to the first: the compiler takes many at a time.
    match text.bytes().fold(false, |any, byte| any | needs_quotes(byte)) {
        false => Cow::Borrowed(text),
        true => Cow::Owned(format!("\"{}\"", text.replace('"', "\"\""))),
    }
}

/// The text behind an opening quote; what follows the closing one stands for itself.
fn unquote(inside: &str, dialect: Dialect, buffer: &mut String) {
    let quote = char::from(dialect.quote.byte());
    buffer.clear();
    let mut characters = inside.chars();
    while let Some(c) = characters.next() {
        if c == '\\' && dialect.escape == Escape::Backslash {
            match characters.next() {
                // A backslash before anything else is just that.
                Some(escaped) if escaped == quote || escaped == '\\' => buffer.push(escaped),
                other => buffer.extend([Some(c), other].into_iter().flatten()),
            }
        } else if c == quote {
            match characters.as_str().strip_prefix(quote) {
                Some(after) => {
                    buffer.push(quote);
                    characters = after.chars();
                }
                None => break,
            }
        } else {
            buffer.push(c);
        }
    }
    buffer.push_str(characters.as_str());
}
