//! Cuts delimited text into chunks of whole records, so that each can be gone through by itself.
//!
//! Where a record ends hangs on all quotes before it, so text is cut from its beginning on. Where it has no quotes that
//! is done by its line breaks alone; else record by record.

use std::io::Read;
use std::ops::Range;

use memchr::{memchr, memchr_iter, memmem, memrchr_iter};

use crate::delimited::{Scan, scan};
use crate::dialect::Dialect;
use crate::error::TableError;

/// Bytes of a chunk, more or less, unless less is wanted.
pub const CHUNK: usize = 4 * 1024 * 1024;
/// Bytes that are kept back for the last chunk at most.
const HELD: usize = 256 * 1024;

/// Some whole records of a table, which follow each other.
#[derive(Debug, Default)]
pub struct Chunk {
    /// The records.
    pub(crate) text: Vec<u8>,
    /// The line where the first of them begins; the first line is 1.
    pub(crate) line: u64,
    /// How many rows there are before them.
    pub(crate) rows: u64,
    /// Whether no record follows.
    pub(crate) is_last: bool,
}

impl Chunk {
    /// Whether no record follows.
    pub fn is_last(&self) -> bool {
        self.is_last
    }
}

/// How chunks are cut.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Cutting {
    pub dialect: Dialect,
    /// Bytes of the longest record.
    pub limit: usize,
    /// Whether an empty line is no row.
    pub blank_is_no_row: bool,
    /// So many records at least stand in the last chunk, if there are as many: its end may be no rows.
    pub held: usize,
    /// Bytes of a chunk, more or less.
    pub size: usize,
}

impl Cutting {
    /// The usual way, where so many records are held back.
    pub(crate) fn new(dialect: Dialect, limit: usize, held: usize) -> Cutting {
        Cutting { dialect, limit, blank_is_no_row: true, held, size: CHUNK }
    }
}

/// The chunks of a text, one after the other.
pub struct Chunks {
    input: Box<dyn Read + Send>,
    cutting: Cutting,
    /// What is read and not cut yet.
    unread: Vec<u8>,
    line: u64,
    rows: u64,
    is_over: bool,
}

/// Whole records at the beginning of a text.
#[derive(Debug, Default, Clone, Copy, PartialEq, Eq)]
struct Records {
    bytes: usize,
    lines: u64,
    rows: u64,
}

impl Chunks {
    /// Of a text of which so much is read already, and which goes on at this line.
    pub(crate) fn of(
        input: Box<dyn Read + Send>,
        unread: &[u8],
        line: u64,
        cutting: Cutting,
    ) -> Chunks {
        Chunks { input, cutting, unread: unread.to_vec(), line, rows: 0, is_over: false }
    }

    /// The next chunk, in the `room` that another one had.
    ///
    /// What is wrong with a record shows to whoever goes through the chunk.
    ///
    /// # Errors
    /// If the input cannot be read.
    pub fn next(&mut self, room: Chunk) -> Result<Option<Chunk>, TableError> {
        if self.is_over {
            return Ok(None);
        }
        let mut text = std::mem::replace(&mut self.unread, room.text);
        self.unread.clear();
        let (line, rows) = (self.line, self.rows);
        let mut wanted = self.cutting.size.max(text.len());
        loop {
            self.is_over = self.fill(&mut text, wanted)?;
            if self.is_over {
                return Ok(Some(Chunk { text, line, rows, is_last: true }));
            }
            if let Some(records) = self.cutting.cut(&text) {
                self.unread.extend_from_slice(&text[records.bytes..]);
                text.truncate(records.bytes);
                self.line += records.lines;
                self.rows += records.rows;
                return Ok(Some(Chunk { text, line, rows, is_last: false }));
            }
            // A record without an end, or of too many cells, shows so once it is read.
            let is_long = text.len() >= self.cutting.limit.saturating_add(self.cutting.size);
            if is_long || self.cutting.is_too_wide(&text) {
                self.is_over = true;
                return Ok(Some(Chunk { text, line, rows, is_last: true }));
            }
            wanted = 2 * text.len().max(1);
        }
    }

    /// Reads until a text has so many bytes; whether it has all that there are.
    fn fill(&mut self, text: &mut Vec<u8>, wanted: usize) -> Result<bool, TableError> {
        // One more byte shows whether there is one.
        let most = (wanted + 1).saturating_sub(text.len());
        match (&mut self.input).take(most as u64).read_to_end(text) {
            Ok(read) => Ok(read < most),
            Err(error) => {
                self.is_over = true;
                Err(error.into())
            }
        }
    }
}

impl Cutting {
    /// The records at the beginning of a text, without those that are held back; none where it has too few.
    fn cut(&self, text: &[u8]) -> Option<Records> {
        let has_quotes = memchr(self.dialect.quote.byte(), text).is_some();
        let is_break = |at: usize| text.get(at + 1) == Some(&b'\n');
        // The last byte may be the first half of a line break: then it is behind the cut.
        let body = &text[..text.len().saturating_sub(1)];
        if has_quotes || !memchr_iter(b'\r', body).all(is_break) {
            return self.cut_by_record(text);
        }
        let ends = || memrchr_iter(b'\n', text).map(|at| at + 1);
        let bytes = ends()
            .enumerate()
            .find(|(behind, end)| *behind > self.held || text.len() - end >= HELD)?;
        let bytes = bytes.1;
        let whole = &text[..bytes];
        let lines = memchr_iter(b'\n', whole).count() as u64;
        // Where an empty line may stand, lines are looked at one by one.
        let may_be_empty = whole.starts_with(b"\n")
            || whole.starts_with(b"\r\n")
            || memmem::find(whole, b"\n\n").is_some()
            || memmem::find(whole, b"\n\r\n").is_some();
        let empty = match may_be_empty {
            false => 0,
            true => {
                let own = whole.split_inclusive(|byte| *byte == b'\n');
                own.filter(|line| self.passes_over(line)).count() as u64
            }
        };
        Some(Records { bytes, lines, rows: lines - empty })
    }

    /// The same where quotes decide where records end.
    fn cut_by_record(&self, text: &[u8]) -> Option<Records> {
        let quote = self.dialect.quote.byte();
        let mut fields: Vec<Range<usize>> = Vec::new();
        // The last few places where it can be cut.
        let mut ends: Vec<Records> = Vec::new();
        let mut records = Records::default();
        while let Scan::Record(length) =
            scan(&text[records.bytes..], false, self.dialect, &mut fields)
        {
            let record = &text[records.bytes..records.bytes + length];
            let inside = match memchr(quote, record) {
                Some(_) => memchr_iter(b'\n', &record[..length - 1]).count() as u64,
                None => 0,
            };
            records.bytes += length;
            records.lines += 1 + inside;
            records.rows += u64::from(!self.passes_over(record));
            ends.push(records);
        }
        let behind = |at: usize| ends.len() - 1 - at;
        let is_far = |at: &usize| behind(*at) > self.held || text.len() - ends[*at].bytes >= HELD;
        (0..ends.len()).rev().find(is_far).map(|at| ends[at])
    }

    /// Whether a record that has no end yet has too many cells already.
    fn is_too_wide(&self, text: &[u8]) -> bool {
        let found = scan(text, false, self.dialect, &mut Vec::new());
        matches!(found, Scan::TooWide)
    }

    /// Whether a record is an empty line, and that is no row.
    fn passes_over(&self, record: &[u8]) -> bool {
        self.blank_is_no_row && matches!(record, b"\n" | b"\r\n" | b"\r")
    }
}

#[cfg(test)]
mod tests {
    use std::io::Cursor;

    use proptest::prelude::*;

    use super::*;
    use crate::dialect::{Delimiter, Escape, Quote};
    use crate::records::Records;

    /// Records as they stand, each with its line and whether it is a row, and what is wrong with the next one.
    type Seen = (Vec<(String, u64, u64)>, Option<String>);

    /// Goes through the records of a chunk.
    fn seen(chunk: &Chunk, cutting: Cutting) -> Seen {
        let Cutting { dialect, limit, .. } = cutting;
        let mut records = Records::of(&chunk.text, dialect, limit, chunk.line);
        let (mut seen, mut rows, mut end) = (Vec::new(), chunk.rows, Ok(()));
        while end.is_ok() && !records.are_over() {
            end = records.find(16);
            for record in records.found() {
                rows += u64::from(!record.is_blank());
                seen.push((record.text().to_owned(), record.line(), rows));
            }
        }
        (seen, end.err().map(|error| format!("{error:?}")))
    }

    /// Those of a text that is one chunk.
    fn whole(text: &str, cutting: Cutting) -> Seen {
        let text = text.as_bytes().to_vec();
        seen(&Chunk { text, line: 1, rows: 0, is_last: true }, cutting)
    }

    fn in_chunks(text: &str, cutting: Cutting) -> (Seen, Vec<usize>) {
        let mut chunks = Chunks::of(Box::new(Cursor::new(text.to_owned())), b"", 1, cutting);
        let (mut all, mut wrong, mut counts) = (Vec::new(), None, Vec::new());
        let mut room = Chunk::default();
        while let Ok(Some(chunk)) = chunks.next(room) {
            let (own, error) = seen(&chunk, cutting);
            counts.push(own.len());
            assert!(wrong.is_none(), "a chunk behind what is wrong");
            (wrong, room) = (error, chunk);
            all.extend(own);
        }
        ((all, wrong), counts)
    }

    fn dialects() -> impl Strategy<Value = Dialect> {
        let quotes = prop::sample::select(vec![Quote::Double, Quote::Single]);
        let escapes = prop::sample::select(vec![Escape::Doubled, Escape::Backslash]);
        (quotes, escapes, any::<bool>()).prop_map(|(quote, escape, spaced)| Dialect {
            delimiter: Delimiter::Comma,
            quote,
            escape,
            spaced,
        })
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(4_000))]

        /// Wherever quotes stand, and however small chunks are, records are those of the whole text.
        #[test]
        fn chunks_have_the_records_of_the_whole(
            parts in prop::collection::vec(
                prop::sample::select(vec![
                    "a", "bc", ",", ",", "\n", "\n", "\n", "\r\n", "\r", "\"", "\"\"", ",\"", "\",", "'", " ", "\\", "é",
                ]),
                0..120,
            ),
            dialect in dialects(),
            (size, held) in (1..64_usize, 0..4_usize),
        ) {
            let text = parts.concat();
            let cutting = Cutting { size, ..Cutting::new(dialect, 1_000_000, held) };
            let whole = whole(&text, cutting);
            let (own, counts) = in_chunks(&text, cutting);
            prop_assert_eq!(&own, &whole);
            // The last one has those that may be no rows.
            if whole.1.is_none() && counts.len() > 1 {
                prop_assert!(counts.last().is_some_and(|last| *last >= held));
            }
        }
    }

    #[test]
    fn a_long_text_without_quotes_is_cut_by_its_line_breaks() {
        let dialect = Dialect::from(Delimiter::Comma);
        let lines: String = (0..100_000).map(|row| format!("{row},x\n")).collect();
        for text in [lines.clone(), lines.replace('\n', "\r\n"), lines.replace("7,x\n", "\n")] {
            let cutting = Cutting { size: 10_000, ..Cutting::new(dialect, 1_000_000, 50) };
            let (own, counts) = in_chunks(&text, cutting);
            assert_eq!(own, whole(&text, cutting));
            assert!(counts.len() > 50 && counts.iter().all(|count| *count < 10_000));
        }
    }

    #[test]
    fn a_record_without_an_end_takes_no_more_room_than_there_is() {
        for (byte, limit, most) in [(b'a', 10_000, 30_000), (b',', 64_000_000, 1_000_000)] {
            let endless = std::io::repeat(byte);
            let cutting = Cutting { size: 100, ..Cutting::new(Delimiter::Comma.into(), limit, 0) };
            let mut chunks = Chunks::of(Box::new(endless), b"", 1, cutting);
            let chunk = chunks.next(Chunk::default()).unwrap().unwrap();
            assert!(chunk.is_last && chunk.text.len() < most);
            assert!(matches!(seen(&chunk, cutting), (none, Some(_)) if none.is_empty()));
        }
    }
}
