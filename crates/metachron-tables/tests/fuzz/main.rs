//! Files that nobody has thought of: nothing panics, and how a file is cut into blocks changes nothing.
//!
//! Each test is a short run that is always the same; `FUZZ_SECONDS=600 cargo test --release --test fuzz` goes on for
//! ten minutes with each, and prints how far it came with `--nocapture`.
#![allow(clippy::unwrap_used, clippy::panic, clippy::disallowed_methods, clippy::disallowed_macros)]

#[path = "../../../metachron-core/tests/fuzz/runner.rs"]
mod runner;

use std::io::{self, Read};
use std::path::Path;

use jiff::civil::date;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::value::Value;
use metachron_tables::address::Secrets;
use metachron_tables::delimited::RecordReader;
use metachron_tables::deliver::{Cell, Delivery, Existing, Holds, OutputField, Wish, writer};
use metachron_tables::dialect::{Delimiter, Dialect, Escape, Quote};
use metachron_tables::json::ObjectReader;
use metachron_tables::table::Table;
use metachron_tables::wanted::Wanted;
use runner::Target;

const TEXT: &[&str] = &[
    "a",
    "ring",
    "seen",
    "13/04/2024",
    "2024-04-13",
    "1,5",
    "0",
    "-1",
    "n/a",
    ",",
    ";",
    "\t",
    "|",
    "\"",
    "'",
    "\"\"",
    "\\\"",
    "\\",
    "\n",
    "\r\n",
    "\r",
    " ",
    "  ",
    "é",
    "\u{feff}",
    "\u{0}",
    "{",
    "}",
    "[",
    "]",
    ":",
    "null",
    "true",
    "{\"a\":1}",
    "{\"a\":{\"b\":\"x\"}}",
    "\"\\ud800\"",
    "\\u0041",
    "[{",
    "}]",
    "{\"a\":1,\"a\":2}",
    "<table>",
    "<tr>",
    "<td>",
    "</td>",
    "<td colspan=9>",
    "</table>",
    "<!--",
    "-->",
    "<script>",
    "&amp;",
    "&#x41;",
    "&#99999999;",
    "Total",
    "sum",
    "---",
    "# note",
    "Datum;Ort\n",
    "\n\n",
    "a,b\n1,2\n3,4\n",
    "年",
    "\u{202e}",
];

/// Gives a few bytes at a time.
struct Dribble<'b>(&'b [u8], usize);

impl Read for Dribble<'_> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        self.1 = self.1 % 7 + 1;
        let length = self.1.min(self.0.len()).min(buffer.len());
        let (now, rest) = self.0.split_at(length);
        buffer[..length].copy_from_slice(now);
        self.0 = rest;
        Ok(length)
    }
}

/// The records of delimited text, each with its line, and what stopped them.
fn records(bytes: impl Read, dialect: Dialect) -> (Vec<(u64, Vec<String>)>, Option<String>) {
    let mut reader = RecordReader::new(bytes, dialect);
    let mut all = Vec::new();
    loop {
        match reader.next_record() {
            Ok(Some(record)) => {
                let mut buffer = String::new();
                let fields = (0..record.field_count())
                    .map(|at| format!("{}={}", record.raw(at), record.value(at, &mut buffer)));
                all.push((record.line(), fields.collect()));
            }
            Ok(None) => return (all, None),
            Err(error) => return (all, Some(error.to_string())),
        }
    }
}

#[test]
fn records_do_not_depend_on_blocks() {
    let target = Target { name: "delimited", runs: 20_000, dictionary: TEXT, seeds: Vec::new() };
    target.run(|input, n| {
        let dialect = Dialect {
            delimiter: [Delimiter::Comma, Delimiter::Semicolon, Delimiter::Tab, Delimiter::Pipe]
                [n.up_to(4)],
            quote: [Quote::Double, Quote::Single][n.up_to(2)],
            escape: [Escape::Doubled, Escape::Backslash][n.up_to(2)],
            spaced: n.up_to(2) == 0,
        };
        assert_eq!(records(input, dialect), records(Dribble(input, n.up_to(7)), dialect));
    });
}

/// The objects of JSON, with their cells, and what stopped them.
fn objects(bytes: impl Read) -> (Vec<String>, Vec<Vec<String>>, Option<String>) {
    let mut reader = ObjectReader::new(bytes);
    let (mut names, mut all) = (Vec::new(), Vec::new());
    loop {
        match reader.next_row(&mut names) {
            Ok(Some(row)) => {
                let mut buffer = String::new();
                // One more than there are: it is empty.
                let cells = (0..=names.len()).map(|at| format!("{:?}", row.cell(at, &mut buffer)));
                all.push(cells.collect());
            }
            Ok(None) => return (names, all, None),
            Err(error) => return (names, all, Some(error.to_string())),
        }
    }
}

#[test]
fn objects_do_not_depend_on_blocks() {
    let target = Target { name: "json", runs: 20_000, dictionary: TEXT, seeds: Vec::new() };
    target.run(|input, n| assert_eq!(objects(input), objects(Dribble(input, n.up_to(7)))));
}

/// Goes through all cells of a file, twice: it is the same file.
fn whole(path: &Path) -> Result<(), String> {
    let table = Table::open(path, &Wanted::default()).map_err(|error| error.to_string())?;
    let looks = [(), ()].map(|()| {
        let (mut buffer, mut texts) = (String::new(), 0_usize);
        let lines = table.each_row(
            |error| error.to_string(),
            |_, row| {
                for at in 0..table.header.names.len().min(60) {
                    texts += match row.cell(at, &mut buffer) {
                        Value::Missing => 0,
                        Value::Typed(moment) => moment.to_string().len(),
                        Value::Text(text) | Value::Number(text) | Value::Fault(_, text) => {
                            1 + text.len()
                        }
                    };
                }
                Ok::<_, String>(())
            },
        );
        lines.map(|lines| (lines.rows, texts))
    });
    assert_eq!(looks[0], looks[1]);
    Ok(())
}

#[test]
fn any_text_is_a_table_or_none() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.csv");
    let target = Target { name: "texts", runs: 3_000, dictionary: TEXT, seeds: Vec::new() };
    target.run(|input, _| {
        std::fs::write(&path, input).unwrap();
        let _ = whole(&path);
    });
}

/// A table in a format, as this program writes it.
fn written(folder: &Path, name: &str, delivery: Delivery) -> Vec<u8> {
    let of = |name: &str, holds| OutputField { holds, ..OutputField::text(name) };
    let fields = vec![
        OutputField::text("ring"),
        of("day", Holds::Of(Kind::Date)),
        of("clock", Holds::Of(Kind::DateTime)),
        of("weight", Holds::Number),
    ];
    let wish = Wish {
        delivery,
        table: "rings".to_owned(),
        existing: Existing::Stop,
        unix_times: false,
        date_code: None,
        secrets: Secrets::default(),
    };
    let path = folder.join(name);
    let mut out = writer(&path, fields, &wish).unwrap();
    for row in 1..40 {
        let day = date(2024, 1 + row % 12, 1 + row % 28);
        let cells = [
            Cell::Text(&format!("SK-{row:04}")),
            Cell::Typed(TypedValue::Date(day)),
            Cell::Typed(TypedValue::DateTime(day.at(10, 15, 0, 0))),
            Cell::Number(&format!("{row}.5")),
        ];
        out.row(&cells).unwrap();
    }
    out.finish().unwrap();
    std::fs::read(path).unwrap()
}

fn damaged(name: &'static str, file: &str, delivery: Delivery, runs: u64) {
    let folder = tempfile::tempdir().unwrap();
    let seeds = vec![written(folder.path(), file, delivery)];
    let path = folder.path().join(format!("damaged-{file}"));
    let target = Target { name, runs, dictionary: &[], seeds };
    target.run(|input, _| {
        std::fs::write(&path, input).unwrap();
        let _ = whole(&path);
    });
}

#[cfg(feature = "workbook")]
#[test]
fn a_damaged_workbook_is_refused_or_read() {
    damaged("workbook", "a.xlsx", Delivery::Workbook, 400);
}

#[cfg(feature = "columnar")]
#[test]
fn a_damaged_parquet_file_is_refused_or_read() {
    damaged("parquet", "a.parquet", Delivery::Parquet, 1_500);
}

#[cfg(feature = "sqlite")]
#[test]
fn a_damaged_database_is_refused_or_read() {
    damaged("sqlite", "a.sqlite", Delivery::Sqlite, 400);
}
