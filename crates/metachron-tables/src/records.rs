//! The records of a text that is at hand, found a block of bytes at a time.
//!
//! What a record is hangs on quotes: a record that has one is gone through by [`scan`], which all records that are read
//! from a file are. The others, which are most, end where a line does.

use std::ops::Range;

use memchr::{memchr, memchr_iter};
use wide::u8x16;

use crate::cells::MOST_COLUMNS;
use crate::delimited::{Record, Scan, not_utf8, scan, unclosed_quote};
use crate::dialect::Dialect;
use crate::error::TableError;

/// Goes through a text that is there as a whole, and is in the middle of a file or at its end.
pub(crate) struct Records<'t> {
    bytes: &'t [u8],
    /// The same, if all of it is text.
    text: Option<&'t str>,
    dialect: Dialect,
    /// Bytes of the longest record.
    limit: usize,
    /// Where the next record begins, and its line.
    at: usize,
    line: u64,
    marks: Marks<'t>,
    /// Whether the last record had quotes: most likely the next one has some.
    has_quotes: bool,
    /// The records that were found and not forgotten.
    found: Vec<Found>,
    /// Their fields, one record behind the other: where each stands in its record.
    fields: Vec<Range<usize>>,
    /// The fields of the last record that had quotes.
    quoted: Vec<Range<usize>>,
}

/// A record that was found.
struct Found {
    /// Where it stands.
    place: Range<usize>,
    /// Which fields are its own.
    fields: Range<usize>,
    line: u64,
    /// Whether it has no quotes for sure.
    is_plain: bool,
}

impl<'t> Records<'t> {
    /// Of a text that begins at this line.
    pub(crate) fn of(bytes: &'t [u8], dialect: Dialect, limit: usize, line: u64) -> Records<'t> {
        let (delimiter, quote) = (dialect.delimiter.byte(), dialect.quote.byte());
        Records {
            bytes,
            text: std::str::from_utf8(bytes).ok(),
            dialect,
            limit,
            at: 0,
            line,
            marks: Marks::of(bytes, [delimiter, quote, b'\n', b'\r']),
            has_quotes: false,
            found: Vec::new(),
            fields: Vec::new(),
            quoted: Vec::new(),
        }
    }

    /// Whether there are no more.
    pub(crate) fn are_over(&self) -> bool {
        self.at == self.bytes.len()
    }

    /// Finds the next records, up to about so many fields, and forgets those that were found before.
    ///
    /// # Errors
    /// The record behind those that were found is no UTF-8, too long, or has a field that is never closed.
    pub(crate) fn find(&mut self, fields: usize) -> Result<(), TableError> {
        self.found.clear();
        self.fields.clear();
        while self.fields.len() < fields && !self.are_over() {
            self.find_next()?;
        }
        Ok(())
    }

    /// The records that were found.
    pub(crate) fn found(&self) -> impl ExactSizeIterator<Item = Record<'_>> {
        self.found.iter().map(|own| {
            let text = match self.text {
                // It begins and ends at a mark, which is a character.
                Some(text) => text.get(own.place.clone()),
                None => std::str::from_utf8(&self.bytes[own.place.clone()]).ok(),
            };
            let fields = &self.fields[own.fields.clone()];
            let record = Record::of(text.unwrap_or_default(), fields, own.line, self.dialect);
            if own.is_plain { record.plain() } else { record }
        })
    }

    /// Finds the next record.
    fn find_next(&mut self) -> Result<(), TableError> {
        let (begin, line, first) = (self.at, self.line, self.fields.len());
        let plain = match self.has_quotes {
            true => None,
            false => self.plain(begin)?,
        };
        let end = match plain {
            Some(end) => end,
            None => {
                self.fields.truncate(first);
                self.careful(begin)?
            }
        };
        if end - begin > self.limit {
            return Err(TableError::TooLong { line, limit: self.limit });
        }
        if self.text.is_none() {
            let bytes = &self.bytes[begin..end];
            let text = std::str::from_utf8(bytes);
            let fields = &self.fields[first..];
            text.map_err(|error| not_utf8(bytes, error.valid_up_to(), fields, line))?;
        }
        self.at = end;
        let fields = first..self.fields.len();
        self.found.push(Found { place: begin..end, fields, line, is_plain: plain.is_some() });
        Ok(())
    }

    /// Where the record that begins here ends, if it has no quotes.
    fn plain(&mut self, begin: usize) -> Result<Option<usize>, TableError> {
        let (bytes, delimiter) = (self.bytes, self.dialect.delimiter.byte());
        let most = self.fields.len() + MOST_COLUMNS;
        // What is asked for at each mark is at hand.
        let (mut marks, mut start) = (self.marks, begin);
        let (end, goes_on) = loop {
            let at = marks.next().unwrap_or(bytes.len());
            let mark = bytes.get(at).copied();
            if mark == Some(delimiter) {
                if self.fields.len() + 1 == most {
                    return Err(TableError::TooWide { line: self.line, most: MOST_COLUMNS });
                }
                self.fields.push(start - begin..at - begin);
                start = at + 1;
                continue;
            }
            match mark {
                Some(b'\r') if bytes.get(at + 1) == Some(&b'\n') => {
                    marks.next();
                    break (at, at + 2);
                }
                Some(b'\n' | b'\r') => break (at, at + 1),
                Some(_) => return Ok(None),
                None => break (at, at),
            }
        };
        self.fields.push(start - begin..end - begin);
        self.marks = marks;
        self.line += 1;
        Ok(Some(goes_on))
    }

    /// Where the record that begins here ends, whatever stands in it.
    fn careful(&mut self, begin: usize) -> Result<usize, TableError> {
        let (unread, line) = (&self.bytes[begin..], self.line);
        match scan(unread, true, self.dialect, &mut self.quoted) {
            Scan::Record(length) => {
                self.fields.extend_from_slice(&self.quoted);
                let record = &unread[..length];
                self.has_quotes = memchr(self.dialect.quote.byte(), record).is_some();
                self.line += 1 + memchr_iter(b'\n', &record[..length - 1]).count() as u64;
                self.marks.seek(begin + length);
                Ok(begin + length)
            }
            Scan::TooWide => Err(TableError::TooWide { line, most: MOST_COLUMNS }),
            Scan::UnclosedQuote if unread.len() >= self.limit => {
                Err(TableError::TooLong { line, limit: self.limit })
            }
            Scan::UnclosedQuote | Scan::NeedMore => Err(unclosed_quote(unread, &self.quoted, line)),
        }
    }
}

/// Where some bytes stand in a text, found in blocks of 64 bytes.
#[derive(Clone, Copy)]
struct Marks<'t> {
    text: &'t [u8],
    /// Sixteen of each byte that is wanted.
    wanted: [u8x16; 4],
    /// Where the block begins that was looked at last.
    block: usize,
    /// A bit for each byte of it that is wanted and not yet told; the lowest is for the first byte.
    found: u64,
}

const BLOCK: usize = 64;

impl<'t> Marks<'t> {
    fn of(text: &'t [u8], wanted: [u8; 4]) -> Marks<'t> {
        let mut marks = Marks { text, wanted: wanted.map(u8x16::splat), block: 0, found: 0 };
        marks.seek(0);
        marks
    }

    /// Goes on from here.
    fn seek(&mut self, at: usize) {
        self.block = at - at % BLOCK;
        self.look();
        self.found &= u64::MAX << (at % BLOCK);
    }

    /// Looks at the block.
    fn look(&mut self) {
        let rest = self.text.get(self.block..).unwrap_or_default();
        self.found = match rest.first_chunk() {
            Some(block) => self.found_in(block),
            None => {
                let mut block = [0; BLOCK];
                block[..rest.len()].copy_from_slice(rest);
                // What is behind the end may be wanted nowhere.
                self.found_in(&block) & !(u64::MAX << rest.len())
            }
        };
    }

    fn found_in(&self, block: &[u8; BLOCK]) -> u64 {
        let [a, b, c, d] = self.wanted;
        let (parts, _) = block.as_chunks::<16>();
        parts.iter().rev().fold(0, |all, part| {
            let part = u8x16::new(*part);
            let is_wanted =
                (part.simd_eq(a) | part.simd_eq(b)) | (part.simd_eq(c) | part.simd_eq(d));
            all << 16 | u64::from(is_wanted.to_bitmask())
        })
    }
}

impl Iterator for Marks<'_> {
    type Item = usize;

    #[inline(always)]
    fn next(&mut self) -> Option<usize> {
        while self.found == 0 {
            self.block += BLOCK;
            if self.block >= self.text.len() {
                return None;
            }
            self.look();
        }
        let at = self.block + self.found.trailing_zeros() as usize;
        self.found &= self.found - 1;
        Some(at)
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::delimited::{LONGEST_RECORD, RecordReader};
    use crate::dialect::{Delimiter, Escape, Quote};

    #[derive(Debug, PartialEq)]
    struct Seen {
        text: String,
        line: u64,
        fields: Vec<String>,
    }

    impl Seen {
        fn of(record: &Record<'_>) -> Seen {
            let fields = (0..record.field_count()).map(|at| record.raw(at).to_owned());
            Seen { text: record.text().to_owned(), line: record.line(), fields: fields.collect() }
        }
    }

    /// All records that `next` gives, and what is wrong with the one behind them.
    fn all(
        mut next: impl FnMut() -> Result<Option<Seen>, TableError>,
    ) -> (Vec<Seen>, Option<String>) {
        let mut all = Vec::new();
        loop {
            match next() {
                Ok(Some(seen)) => all.push(seen),
                Ok(None) => return (all, None),
                Err(error) => return (all, Some(format!("{error:?}"))),
            }
        }
    }

    fn seen(text: &[u8], dialect: Dialect, fields: usize) -> (Vec<Seen>, Option<String>) {
        let mut records = Records::of(text, dialect, LONGEST_RECORD, 1);
        let (mut all, mut end) = (Vec::new(), Ok(()));
        while end.is_ok() && !records.are_over() {
            end = records.find(fields);
            all.extend(records.found().map(|record| Seen::of(&record)));
        }
        (all, end.err().map(|error| format!("{error:?}")))
    }

    /// The same as they are read from a file.
    fn read(text: &[u8], dialect: Dialect) -> (Vec<Seen>, Option<String>) {
        let mut records = RecordReader::new(text, dialect);
        all(|| Ok(records.next_record()?.as_ref().map(Seen::of)))
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(20_000))]

        #[test]
        fn records_at_hand_are_those_of_a_file(
            parts in prop::collection::vec(
                prop::sample::select(vec![
                    &b"a"[..], b"bc", b"a longer text without any mark, as remarks are", b",", b",", b",", b"\n", b"\n",
                    b"\r\n", b"\r", b"\"", b"\"\"", b",\"", b"\",", b"'", b" ", b"\\", b"\0", "\u{e9}".as_bytes(), b"\xE9",
                ]),
                0..90,
            ),
            quote in prop::sample::select(vec![Quote::Double, Quote::Single]),
            escape in prop::sample::select(vec![Escape::Doubled, Escape::Backslash]),
            spaced in any::<bool>(),
            fields in 1..40_usize,
        ) {
            let dialect = Dialect { delimiter: Delimiter::Comma, quote, escape, spaced };
            let text = parts.concat();
            prop_assert_eq!(seen(&text, dialect, fields), read(&text, dialect));
        }
    }

    #[test]
    fn a_record_has_only_so_many_cells() {
        let dialect = Dialect::from(Delimiter::Tab);
        for (cells, fits) in [(MOST_COLUMNS, true), (MOST_COLUMNS + 1, false)] {
            let text = "\t".repeat(cells - 1);
            let (all, wrong) = seen(text.as_bytes(), dialect, 1);
            assert_eq!((all.len(), wrong.is_none()), (usize::from(fits), fits));
            assert_eq!((all, wrong), read(text.as_bytes(), dialect));
        }
    }

    #[test]
    fn a_quote_that_is_never_closed_is_told_or_too_long() {
        let dialect = Dialect::from(Delimiter::Comma);
        let text = b"a,b\nc,\"never closed\n";
        for (limit, says) in [(10, "TooLong"), (100, "UnclosedQuote { line: 2, column: 2 }")] {
            let mut records = Records::of(text, dialect, limit, 1);
            let error = records.find(usize::MAX).unwrap_err();
            assert_eq!(records.found().count(), 1);
            assert!(format!("{error:?}").starts_with(says), "{error:?}");
        }
    }
}
