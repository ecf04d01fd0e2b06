//! The scenarios of the hazards as files: the built program surveys, saves and converts them, as text and as workbooks,
//! one file and several, and no value of them may come out as something else without a word.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::panic, clippy::unwrap_used)]

#[path = "../cli/harness.rs"]
#[allow(dead_code)]
mod harness;
#[path = "../cli/printed.rs"]
mod printed;
#[path = "../../../metachron-core/tests/hazards/scenarios/mod.rs"]
mod scenarios;

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use rust_xlsxwriter::{ExcelDateTime, Format, Workbook};
use serde_json::Value;
use tempfile::TempDir;

use harness::started;
use printed::Printed;
use scenarios::draw::Numbers;
use scenarios::outcomes::{Became, Judged, no_case_is_wrong};
use scenarios::table::{Cell, Table};
use scenarios::{Scenario, scenarios};

#[test]
fn no_file_is_silently_wrong() {
    no_case_is_wrong(scenarios(), 2, |table| {
        let (became, why) = became(table);
        // Of several files each tells by itself, or is asked about.
        let why = format!("{}\n{why}", table.shown());
        Judged { became, told: table.told && table.files.is_empty(), why }
    });
}

/// Every command line that is printed about a case of each scenario works, and leads to an end; of the case of another
/// draw if `HAZARD_DRAW` names one.
#[test]
fn what_is_printed_about_the_scenarios_works() {
    let draw_of = std::env::var("HAZARD_DRAW").ok().and_then(|own| own.parse().ok());
    let mut run = 0;
    for Scenario { draw, .. } in scenarios() {
        let table = draw(&mut Numbers(draw_of.unwrap_or(20_261_129)));
        let dir = TempDir::new().unwrap();
        let names = write(dir.path(), "now", &table).join(" ");
        let mut lines =
            vec![format!("survey {names}"), format!("convert {names} --output-dir out")];
        if let Some(before) = &table.before {
            let [first] = &write(dir.path(), "before", before)[..] else { panic!("one file") };
            let save = format!("survey {first} --save r.toml --as-of 2026-06-01");
            let saved = started(&save, dir.path(), &[]).wait_with_output().unwrap();
            assert_eq!(saved.status.code(), Some(0), "{save}");
            lines.push(format!("check {names} --readings r.toml"));
            lines.push(format!("convert {names} --readings r.toml --output-dir out"));
        }
        for line in lines {
            let line = format!("{line} --as-of 2026-06-01");
            let output = started(&line, dir.path(), &[]).wait_with_output().unwrap();
            let text = String::from_utf8([output.stdout, output.stderr].concat()).unwrap();
            let has_dates = !text.contains("is to be converted");
            assert!(
                matches!(output.status.code(), Some(0 | 3 | 4)) || !has_dates,
                "{line}\n{text}"
            );
            let _ = fs::remove_dir_all(dir.path().join("out"));
            let printed = Printed { folder: dir.path(), stdin: b"", environment: &[] };
            run += printed.follow(&line, &text);
        }
    }
    println!("{run} printed command lines were run");
    assert!(run > 500, "{run}");
}

/// Runs a command in a folder.
fn run(dir: &Path, arguments: &[&str]) -> Output {
    let mut command = Command::new(env!("CARGO_BIN_EXE_metachron"));
    command.current_dir(dir).args(arguments).args(["--as-of", "2026-06-01"]);
    command.env("NO_COLOR", "1").output().unwrap()
}

/// What the program made of a table, and what it said.
fn became(table: &Table) -> (Became, String) {
    let dir = TempDir::new().unwrap();
    let names = write(dir.path(), "now", table);
    let files = names.iter().map(String::as_str);
    let mut arguments: Vec<&str> = ["convert"].into_iter().chain(files).collect();
    arguments.extend(["--column", "entry", "--output-format", "jsonl"]);
    match names.len() {
        1 => arguments.extend(["-o", "now.jsonl"]),
        _ => arguments.extend(["--output-dir", "out"]),
    }
    if let Some(before) = &table.before {
        let [first] = &write(dir.path(), "before", before)[..] else { panic!("one file") };
        let saved = run(dir.path(), &["survey", first, "--column", "entry", "--save", "r.toml"]);
        if saved.status.code() != Some(0) || !dir.path().join("r.toml").exists() {
            return (Became::Asked, "nothing was saved".to_owned());
        }
        arguments.retain(|own| !["--column", "entry"].contains(own));
        arguments.extend(["--readings", "r.toml"]);
    }
    let done = run(dir.path(), &arguments);
    let why = String::from_utf8(done.stderr).unwrap();
    let code = done.status.code();
    if code == Some(1) && why.contains("no column of now0") {
        return (Became::Left, why);
    }
    assert!(matches!(code, Some(0 | 3 | 4)), "{code:?} {arguments:?}\n{why}");
    let written = read(dir.path(), names.len());
    let Some(values) = written.filter(|values| values.iter().any(Option::is_some)) else {
        let became = if code == Some(3) { Became::Asked } else { Became::Left };
        return (became, why);
    };
    assert!(values.len() >= table.cells.len());
    let pairs = values.iter().zip(&table.truth);
    // A workbook has no days apart from their midnights.
    let day = |value: &Option<String>| value.as_ref().map(|own| own.replace("T00:00:00", ""));
    let is_wrong = |(read, truth): &(&Option<String>, &Option<String>)| {
        read.is_some() && day(read) != day(truth)
    };
    let wrong = pairs.filter(is_wrong).count() as u64;
    // What is told of a delivery stops whoever looks at it. When its dates are tells nothing of how they are written; that
    // the order is taken on trust, or that some cannot be read, does where others are wrong.
    let told = |line: &str| {
        let has = |of: [&str; 2]| of.iter().any(|own| line.contains(own));
        line.starts_with("metachron: entry:")
            && !has(["No value is new", "lies outside of what was seen"])
            && (wrong > 0 || !has(["trust", "could not be read"]))
    };
    let became = match wrong {
        _ if table.before.is_some() && why.lines().any(told) => Became::Asked,
        0 => Became::Right,
        wrong => Became::Wrong(wrong),
    };
    (became, why)
}

/// Writes the files of a table, and gives their names.
fn write(dir: &Path, name: &str, table: &Table) -> Vec<String> {
    let is_workbook = table.cells.iter().any(|cell| !matches!(cell, Cell::Text(_)));
    let mut bounds = vec![0];
    bounds.extend(&table.files);
    let beside = table.sibling.as_ref().map_or(0, |sibling| sibling.cells.len());
    bounds.push(table.cells.len().max(beside));
    let files = bounds.windows(2).enumerate().map(|(number, rows)| {
        let ending = if is_workbook { "xlsx" } else { "csv" };
        let name = format!("{name}{number}.{ending}");
        let path = dir.join(&name);
        let columns = columns(table, rows[0]..rows[1]);
        match is_workbook {
            true => write_workbook(&path, &columns),
            false => fs::write(&path, delimited(&columns)).unwrap(),
        }
        name
    });
    files.collect()
}

/// The columns of some rows, with their names.
fn columns(table: &Table, rows: std::ops::Range<usize>) -> Vec<(&'static str, Vec<Cell>)> {
    let empty = Cell::Text(String::new());
    let of = |cells: &[Cell]| -> Vec<Cell> {
        rows.clone().map(|row| cells.get(row).unwrap_or(&empty).clone()).collect()
    };
    let mut all = vec![("entry", of(&table.cells))];
    for (name, texts) in &table.beside {
        let cells: Vec<Cell> = texts.iter().cloned().map(Cell::Text).collect();
        all.push((name, of(&cells)));
    }
    if let Some(sibling) = &table.sibling {
        all.push(("released", of(&sibling.cells)));
    }
    all
}

fn delimited(columns: &[(&str, Vec<Cell>)]) -> String {
    let names: Vec<&str> = columns.iter().map(|(name, _)| *name).collect();
    let mut text = names.join(",") + "\n";
    for row in 0..columns[0].1.len() {
        let cells = columns.iter().map(|(_, cells)| match &cells[row] {
            Cell::Text(text) => format!("\"{text}\""),
            other => panic!("{other:?} is no text"),
        });
        text += &(cells.collect::<Vec<_>>().join(",") + "\n");
    }
    text
}

fn write_workbook(path: &Path, columns: &[(&str, Vec<Cell>)]) {
    let mut workbook = Workbook::new();
    let sheet = workbook.add_worksheet();
    let [day, moment] =
        ["yyyy-mm-dd", "yyyy-mm-dd hh:mm"].map(|own| Format::new().set_num_format(own));
    for (at, (name, cells)) in (0..).zip(columns) {
        sheet.write_string(0, at, *name).unwrap();
        for (row, cell) in (1..).zip(cells) {
            let date = |(year, month, day): (i32, u32, u32)| {
                ExcelDateTime::from_ymd(year as u16, month as u8, day as u8).unwrap()
            };
            match cell {
                Cell::Text(text) if text.is_empty() => continue,
                Cell::Text(text) => sheet.write_string(row, at, text),
                Cell::Number(text) => sheet.write_number(row, at, text.parse::<f64>().unwrap()),
                Cell::Date(own) => sheet.write_datetime_with_format(row, at, date(*own), &day),
                Cell::Moment(own, hour, minute) => {
                    let own = date(*own).and_hms(*hour as u16, *minute as u8, 0.0).unwrap();
                    sheet.write_datetime_with_format(row, at, own, &moment)
                }
            }
            .unwrap();
        }
    }
    workbook.save(path).unwrap();
}

/// The typed values that were written, one for each row; none where nothing was written, or no typed column.
fn read(dir: &Path, files: usize) -> Option<Vec<Option<String>>> {
    let paths: Vec<PathBuf> = match files {
        1 => vec![dir.join("now.jsonl")],
        _ => {
            let mut written: Vec<PathBuf> =
                fs::read_dir(dir.join("out")).ok()?.map(|entry| entry.unwrap().path()).collect();
            written.sort();
            if written.is_empty() {
                return None;
            }
            assert_eq!(written.len(), files, "{written:?}");
            written
        }
    };
    let mut all = Vec::new();
    for path in paths {
        for line in fs::read_to_string(path).ok()?.lines() {
            let row: Value = serde_json::from_str(line).unwrap();
            let typed = row.get("entry_typed").or(row.get("entry_seconds"))?;
            all.push(typed.as_str().map(str::to_owned));
        }
    }
    Some(all)
}
