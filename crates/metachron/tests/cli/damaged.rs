//! Damaged files: whatever bytes are wrong, there is a table or a message, never a panic.

use std::io::Read;

use metachron_tables::error::TableError;
use metachron_tables::frame::WantedHeader;
use metachron_tables::table::Table;
use metachron_tables::wanted::Wanted;
use metachron_tables::workbook;

use crate::harness::Bench;
use crate::records::{Cell, archive, binary_workbook};

/// A small generator of numbers (SplitMix64), so that every run damages the same bytes.
struct Dice(u64);

impl Dice {
    fn below(&mut self, most: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let z = (self.0 ^ (self.0 >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) % most.max(1) as u64) as usize
    }

    /// One to four bytes changed, or the end cut off.
    fn damage(&mut self, bytes: &[u8]) -> Vec<u8> {
        let mut damaged = bytes.to_vec();
        if damaged.is_empty() || self.below(8) == 0 {
            damaged.truncate(self.below(bytes.len()));
            return damaged;
        }
        for _ in 0..=self.below(4) {
            let at = self.below(damaged.len());
            damaged[at] = match self.below(3) {
                0 => 0xFF,
                1 => 0,
                _ => self.below(256) as u8,
            };
        }
        damaged
    }
}

/// The parts of an archive.
fn parts(bytes: &[u8]) -> Vec<(String, Vec<u8>)> {
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    (0..archive.len())
        .map(|index| {
            let mut file = archive.by_index(index).unwrap();
            let mut part = Vec::new();
            file.read_to_end(&mut part).unwrap();
            (file.name().unwrap().into_owned(), part)
        })
        .collect()
}

#[test]
fn damaged_workbooks_never_panic() {
    let mut dice = Dice(2024);
    let (mut read, mut refused) = (0, 0);
    let mut open = |bytes: Vec<u8>| match workbook::open(&bytes, None, WantedHeader::Unsaid) {
        Ok(_) => read += 1,
        Err(error) => {
            assert!(!error.to_string().is_empty());
            refused += 1;
        }
    };
    let old = include_bytes!("fixtures/captures.xls");
    for _ in 0..1_500 {
        open(dice.damage(old));
    }
    let rows = [
        vec![Cell::Text("ring"), Cell::Text("seen")],
        vec![Cell::Text("LF1"), Cell::Date(45_395.0)],
        vec![Cell::Text("LF2"), Cell::Text("14/04/2024")],
    ];
    let binary = binary_workbook(&rows, &[1], &[[0, 0, 0, 1]]);
    for book in [&include_bytes!("fixtures/captures.ods")[..], &binary] {
        let parts = parts(book);
        for _ in 0..1_500 {
            let damaged = dice.below(parts.len());
            let parts: Vec<(&str, Vec<u8>)> = parts
                .iter()
                .enumerate()
                .map(|(index, (name, part))| {
                    let part = if index == damaged { dice.damage(part) } else { part.clone() };
                    (name.as_str(), part)
                })
                .collect();
            open(archive(&parts));
        }
    }
    assert!(read > 500 && refused > 500, "{read} read, {refused} refused");
}

#[test]
fn files_that_end_too_early_are_told() {
    let bench = Bench::new();
    let rows: String = (1..=20).map(|day| format!("<tr><td>{day}.3.2024</td></tr>")).collect();
    let objects: String = (1..=20).map(|day| format!("{{\"seen\": \"{day}.3.2024\"}},")).collect();
    let page = format!("<html><table><tr><th>seen</th></tr>{rows}</table></html>");
    let array = format!("[{}]", objects.trim_end_matches(','));
    for (name, whole, cuts) in [("a.html", page, vec![10, 30, 60]), ("a.json", array, vec![1])] {
        let told = "the file ends too early: its table is never closed, and rows may be missing";
        bench.write(name, &whole);
        bench.run(&format!("convert {name} --quiet -o out.csv")).check();
        for cut in cuts {
            bench.write(name, &whole[..whole.len() - cut]);
            bench.run(&format!("survey {name}")).stdout_has(&[told]).check();
            let run = bench.run(&format!("convert {name} --quiet -o out.csv")).status(4);
            run.stderr(format!("metachron: {name}: {told}\n")).check();
            bench.run(&format!("check {name} --json")).status(4).stdout_has(&[told]).check();
        }
    }
    // Cut inside an object, or within what is compressed.
    bench.write("a.json", "[{\"seen\": \"1.3.2024\"}, {\"seen");
    bench.run("survey a.json").status(1).stderr_has(&["never closed"]).check();
    let days = (0..5_000).map(|row| format!("{}.3.2024\n", row % 28 + 1));
    let table = format!("seen\n{}", days.collect::<String>());
    bench.write("a.csv", &table);
    for ending in ["gz", "zst", "bz2", "xz"] {
        bench.run(&format!("convert a.csv --quiet -o a.csv.{ending}")).check();
        let whole = bench.bytes(&format!("a.csv.{ending}"));
        for cut in [1, 4, whole.len() / 2] {
            bench.write("cut", &whole[..whole.len() - cut]);
            bench.run("survey cut").status(1).stderr_has(&["damaged or cut off"]).check();
        }
    }
}

#[test]
fn objects_in_objects_have_a_depth() {
    let bench = Bench::new();
    let nested = |deep: usize| format!("{}1{}\n", "{\"a\":".repeat(deep), "}".repeat(deep));
    bench.write("a.jsonl", nested(100));
    bench.run("survey a.jsonl").stdout_has(&["1 row"]).check();
    bench.write("a.jsonl", nested(100_000));
    bench
        .run("survey a.jsonl")
        .status(1)
        .stderr("metachron: a.jsonl: line 1 is no valid JSON: more than 128 objects stand in one another\n")
        .check();
}

#[test]
fn old_workbooks_that_claim_too_much_are_refused() {
    let whole = include_bytes!("fixtures/station.xls");
    let bench = Bench::new();
    // The record of the dimensions (0x0200, 14 bytes) claims rows, and a number's (0x0203, 14 bytes) a column.
    let places = |kind: u8| {
        let begin = [kind, 2, 14, 0];
        whole.windows(4).enumerate().filter(move |(_, four)| *four == begin).map(|(at, _)| at)
    };
    let mut tried = 0;
    for (kind, field) in [(0, 8), (3, 6)] {
        for at in places(kind) {
            let mut damaged = whole.to_vec();
            damaged[at + field..at + field + 4].fill(0xFF);
            bench.write("a.xls", damaged);
            bench
                .run("survey a.xls")
                .status(1)
                .stderr_has(&["is damaged or cut off (it has cells where a sheet has none)"])
                .check();
            tried += 1;
        }
    }
    assert!(tried >= 4, "{tried}");
}

/// Every row of a file, or why not.
fn read_all(path: &std::path::Path) -> Result<u64, TableError> {
    let table = Table::open(path, &Wanted::default())?;
    let mut rows = 0;
    table.each_row(
        |error| error,
        |_, _| {
            rows += 1;
            Ok(())
        },
    )?;
    Ok(rows)
}

#[test]
fn damaged_columns_and_databases_never_panic() {
    let bench = Bench::new();
    let days: String = (0..300)
        .map(|row| {
            format!("{}.3.2024,LF{row},{}.5,2024-03-01T10:00:00.{row:03}Z\n", row % 28 + 1, row)
        })
        .collect();
    bench.write("a.csv", format!("seen,ring,weight,logged\n{days}"));
    let mut dice = Dice(1899);
    for name in ["a.parquet", "a.db"] {
        bench.run(&format!("convert a.csv --infer-types --quiet -o {name}")).check();
        let whole = bench.bytes(name);
        let path = bench.path().join("damaged");
        let (mut read, mut refused) = (0, 0);
        for _ in 0..400 {
            std::fs::write(&path, dice.damage(&whole)).unwrap();
            match read_all(&path) {
                Ok(_) => read += 1,
                Err(error) => {
                    assert!(!error.to_string().is_empty());
                    refused += 1;
                }
            }
        }
        assert!(read > 0 && refused > 0, "{name}: {read} read, {refused} refused");
    }
}
