//! The record scanner against the `csv` crate, and against the bytes themselves.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use std::io::{self, Read};

use metachron_tables::delimited::RecordReader;
use metachron_tables::dialect::Delimiter;
use metachron_tables::error::TableError;
use proptest::prelude::*;

/// Gives a few bytes at a time, as a pipe may.
struct Trickle<'a>(&'a [u8], usize);

impl Read for Trickle<'_> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let length = self.0.len().min(self.1).min(buffer.len());
        buffer[..length].copy_from_slice(&self.0[..length]);
        self.0 = &self.0[length..];
        Ok(length)
    }
}

/// All records as values, and all bytes put together again.
fn ours(text: &str, step: usize) -> Result<(Vec<Vec<String>>, String), TableError> {
    let mut reader = RecordReader::new(Trickle(text.as_bytes(), step), Delimiter::Semicolon);
    let (mut records, mut joined) = (Vec::new(), String::new());
    let mut buffer = String::new();
    while let Some(record) = reader.next_record()? {
        let width = record.field_count();
        joined.push_str(record.raw_span(0, width));
        joined.push_str(record.terminator());
        let raw: Vec<&str> = (0..width).map(|index| record.raw(index)).collect();
        assert_eq!(raw.join(";"), record.raw_span(0, width));
        if !record.is_blank() {
            records.push((0..width).map(|i| record.value(i, &mut buffer).to_owned()).collect());
        }
    }
    Ok((records, joined))
}

fn theirs(text: &str) -> Vec<Vec<String>> {
    let mut reader = csv::ReaderBuilder::new()
        .has_headers(false)
        .flexible(true)
        .delimiter(b';')
        .from_reader(text.as_bytes());
    let records = reader.records().map(|record| record.unwrap());
    records.map(|record| record.iter().map(str::to_owned).collect()).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2_000))]

    #[test]
    fn records_are_what_the_csv_crate_reads(
        text in "([ab;é]|\"\"|\"[a;\r\n]{0,3}\"|\"|\n|\r\n|\r){0,24}", step in 1..9usize,
    ) {
        match ours(&text, step) {
            Ok((records, joined)) => {
                prop_assert_eq!(records, theirs(&text));
                prop_assert_eq!(joined, text, "no byte is lost or changed");
            }
            // What the crate reads as a field up to the end of the file is an error of ours:
            // closing the quote must then make one field of all the rest.
            Err(TableError::UnclosedQuote { .. }) => {
                let (closed, _) = ours(&format!("{text}\""), step).unwrap();
                let theirs = theirs(&text);
                prop_assert_eq!(closed.last(), theirs.last());
            }
            Err(error) => prop_assert!(false, "{}", error),
        }
    }

    #[test]
    fn any_text_is_given_back_byte_for_byte(text in "\\PC{0,40}", step in 1..9usize) {
        if let Ok((_, joined)) = ours(&text, step) {
            prop_assert_eq!(joined, text);
        }
    }
}

#[test]
fn lines_are_counted_with_breaks_inside_quotes() {
    let text = "a;b\r\n\"1\n2\r\n3\";x\n\ny;z";
    let mut reader = RecordReader::new(text.as_bytes(), Delimiter::Semicolon);
    let mut lines = Vec::new();
    while let Some(record) = reader.next_record().unwrap() {
        lines.push(record.line());
    }
    assert_eq!(lines, [1, 2, 5, 6]);
}

#[test]
fn a_byte_order_mark_is_no_part_of_the_first_name() {
    for step in 1..5 {
        let text = "\u{FEFF}ring;seen\n";
        let mut reader = RecordReader::new(Trickle(text.as_bytes(), step), Delimiter::Semicolon);
        assert_eq!(reader.next_record().unwrap().unwrap().raw(0), "ring");
        assert!(reader.has_bom());
    }
}

#[test]
fn says_where_bytes_are_no_text() {
    let text = b"ring;seen\n\"SK\n1\";M\xE4rz\n";
    let mut reader = RecordReader::new(&text[..], Delimiter::Semicolon);
    reader.next_record().unwrap();
    let error = reader.next_record().unwrap_err();
    assert!(matches!(error, TableError::NotUtf8 { line: 3, column: 2, byte: 0xE4 }), "{error}");
}

#[test]
fn a_quote_that_is_never_closed_does_not_fill_the_memory() {
    let endless = io::repeat(b'x');
    let mut reader = RecordReader::new((&b"a;\""[..]).chain(endless), Delimiter::Semicolon);
    let error = reader.next_record().unwrap_err();
    assert!(matches!(error, TableError::TooLong { line: 1, .. }), "{error}");
}
