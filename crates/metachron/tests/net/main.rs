//! A net under changes that are to change nothing: what the program says and writes, over hundreds of made-up
//! tables, is what it was before.
//!
//! Every case is a folder with a table, in which a few command lines are run. All that comes back (both
//! streams, the exit status, every file) is hashed, and the hash must be that of `hashes.txt`.
//!
//! `NET_BLESS=1` writes the hashes anew where a change is meant. Under a great move, `NET_ALL=1` draws eight times
//! as many tables and compares no hashes: `NET_DUMP=DIR` keeps what was said there, and `NET_PROGRAM=FILE` runs
//! another build, whose folder is then compared with this one's.
#![allow(clippy::unwrap_used)]

#[path = "../../../metachron-core/tests/verdicts/scenarios.rs"]
#[allow(dead_code)]
mod scenarios;

mod written;

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{LazyLock, Mutex};

use scenarios::{ALL, Numbers, TABLES};

/// Columns of each scenario.
const SEEDS: u64 = 110;

/// A table and what is done with it.
struct Case {
    name: String,
    content: String,
    lines: Vec<String>,
}

impl Case {
    /// The usual commands, with these options for what is looked at.
    fn new(name: String, content: String, options: &str) -> Case {
        let as_of = "--as-of 2026-01-01";
        let lines = [
            format!("survey t.csv {as_of} {options} --json"),
            format!("survey t.csv {as_of} {options} --save t.toml --accept split --accept leaning"),
            format!("convert t.csv {as_of} {options} -o first.csv"),
            format!(
                "convert t.csv {as_of} --readings t.toml --rejects rejects.csv --tolerate 100% -o out.csv"
            ),
            format!("check t.csv {as_of} --readings t.toml --json"),
        ];
        Case { name, content, lines: lines.to_vec() }
    }

    /// All that comes back.
    fn run(&self, program: &Path) -> String {
        let dir = tempfile::tempdir().unwrap();
        fs::write(dir.path().join("t.csv"), &self.content).unwrap();
        run_lines(program, dir.path(), &self.lines, &["t.csv"])
    }
}

/// Runs command lines in a folder; what is said, and the files that are new.
fn run_lines(program: &Path, dir: &Path, lines: &[String], old: &[&str]) -> String {
    let mut all = String::new();
    for line in lines {
        let output = Command::new(program)
            .args(words(line))
            .current_dir(dir)
            .stdin(Stdio::null())
            .output()
            .unwrap();
        let (out, err) =
            (String::from_utf8_lossy(&output.stdout), String::from_utf8_lossy(&output.stderr));
        all += &format!("$ {line}\n{out}--- {err}--- {:?}\n", output.status.code());
    }
    let mut files: Vec<PathBuf> =
        fs::read_dir(dir).unwrap().map(|entry| entry.unwrap().path()).collect();
    files.sort();
    for file in files {
        let name = file.file_name().unwrap().to_string_lossy().into_owned();
        if !old.contains(&name.as_str()) {
            let bytes = fs::read(&file).unwrap();
            all += &format!("=== {name}\n{}\n", String::from_utf8_lossy(&bytes));
        }
    }
    all
}

/// The words of a command line; only single quotes quote.
fn words(line: &str) -> Vec<String> {
    let mut words = Vec::new();
    let (mut word, mut quoted) = (None::<String>, false);
    for c in line.chars() {
        match c {
            '\'' => {
                quoted = !quoted;
                word.get_or_insert_default();
            }
            ' ' if !quoted => words.extend(word.take()),
            _ => word.get_or_insert_default().push(c),
        }
    }
    words.extend(word);
    words
}

fn field(text: &str) -> String {
    match text.contains(['"', ',', '\n', '\r']) {
        true => format!("\"{}\"", text.replace('"', "\"\"")),
        false => text.to_owned(),
    }
}

/// A table with these columns.
fn csv(columns: &[(&str, &[String])]) -> String {
    let header: Vec<String> = columns.iter().map(|(name, _)| field(name)).collect();
    let mut text = header.join(",") + "\n";
    for row in 0..columns[0].1.len() {
        let cells: Vec<String> = columns.iter().map(|(_, values)| field(&values[row])).collect();
        text += &(cells.join(",") + "\n");
    }
    text
}

/// Options that are tried on drawn columns beside none.
const OPTIONS: [&str; 12] = [
    "",
    "",
    "",
    "--set 'seen: order=dmy'",
    "--set 'seen: order=mdy'",
    "--written-in en-US",
    "--written-in de-DE",
    "--set 'seen: layouts=[\"{day}/{month}/{year}\", \"{month}/{day}/{year}\"]'",
    "--two-digit-from 1930",
    "--set 'seen: repair=half-swapped'",
    "--set 'seen: zone=Europe/Oslo'",
    "--set 'seen: kind=date'",
];

fn cases() -> Vec<Case> {
    let mut cases = Vec::new();
    for (at, scenario) in ALL.iter().enumerate() {
        for seed in 0..SEEDS {
            let mut numbers = Numbers(0x5EED ^ (at as u64) << 32 ^ seed);
            let column = scenario(&mut numbers);
            let options = OPTIONS[numbers.below(OPTIONS.len() as u64) as usize];
            let ids: Vec<String> = (0..column.values.len()).map(|row| row.to_string()).collect();
            let content = csv(&[("id", &ids), ("seen", &column.values)]);
            cases.push(Case::new(format!("{} {seed}", column.scenario), content, options));
        }
    }
    for (at, scenario) in TABLES.iter().enumerate() {
        for seed in 0..40 {
            let mut numbers = Numbers(0x7AB1E ^ (at as u64) << 32 ^ seed);
            let table = scenario(&mut numbers);
            let mut columns: Vec<(&str, &[String])> = vec![("seen", &table.column.values)];
            columns.extend(table.beside.iter().map(|(name, values)| (*name, &values[..])));
            cases.push(Case::new(
                format!("table {} {seed}", table.column.scenario),
                csv(&columns),
                "",
            ));
        }
    }
    for (name, columns, options) in written::tables() {
        let columns: Vec<(&str, &[String])> =
            columns.iter().map(|(name, values)| (name.as_str(), &values[..])).collect();
        cases.push(Case::new(name, csv(&columns), &options));
    }
    cases
}

/// 128 bits of FNV-1a, as far as two different texts will never have the same.
fn hash(text: &str) -> String {
    let mut hash = 0x6C62_272E_07BB_0142_62B8_2175_6295_C58D_u128;
    for byte in text.bytes() {
        hash = (hash ^ u128::from(byte)).wrapping_mul(0x0000_0000_0100_0000_0000_0000_0000_013B);
    }
    format!("{hash:032x}")
}

static PROGRAM: LazyLock<PathBuf> = LazyLock::new(|| {
    std::env::var_os("NET_PROGRAM")
        .map_or(PathBuf::from(env!("CARGO_BIN_EXE_metachron")), PathBuf::from)
});

/// The demo in a folder of its own: its whole report, and every file.
fn demo() -> String {
    let dir = tempfile::tempdir().unwrap();
    let line = "demo --dir demo --as-of 2026-01-01".to_owned();
    let said = run_lines(&PROGRAM, dir.path(), &[line], &["demo"]);
    let lines: Vec<String> = DEMO_LINES.iter().map(|line| (*line).to_owned()).collect();
    said + &run_lines(&PROGRAM, &dir.path().join("demo"), &lines, &[])
}

/// What the demo itself does not run.
const DEMO_LINES: [&str; 12] = [
    "survey captures.csv --json --as-of 2026-01-01",
    "survey captures.csv spring.csv --json --as-of 2026-01-01",
    "survey captures.csv --evidence a.seen --as-of 2026-01-01",
    "survey spring.csv --evidence b.seen --as-of 2026-01-01",
    "survey --merge a.seen b.seen --as-of 2026-01-01",
    "survey retraps.xlsx --json --as-of 2026-01-01",
    "check captures.csv --as-of 2026-01-01",
    "check nestbox.csv --zone Europe/Oslo --json --as-of 2026-01-01",
    "check nets.csv --epoch sheet-1900 --as-of 2026-01-01",
    "explain 03/04/05 'Apr-22' 45210.5 '3 mars 2024' --as-of 2026-01-01",
    "explain 27:15 '5 t' '1:30' --json --as-of 2026-01-01",
    "convert watches.csv --set 'noted: zone_from=zone' --stamp at --note-column --as-of 2026-01-01",
];

#[test]
fn everything_is_as_it_was() {
    let mut cases = cases();
    let is_all = std::env::var_os("NET_ALL").is_some();
    cases.retain(|case| is_all || hash(&case.name).ends_with(['0', '8']));
    let (next, found) = (AtomicUsize::new(0), Mutex::new(BTreeMap::new()));
    let dump = std::env::var_os("NET_DUMP").map(PathBuf::from);
    let keep = |name: &str, text: &str| {
        if let Some(dir) = &dump {
            fs::create_dir_all(dir).unwrap();
            fs::write(dir.join(format!("{}.txt", name.replace('/', "_"))), text).unwrap();
        }
        assert!(found.lock().unwrap().insert(name.to_owned(), hash(text)).is_none(), "{name}");
    };
    std::thread::scope(|scope| {
        for _ in 0..2 {
            scope.spawn(|| {
                while let Some(case) = cases.get(next.fetch_add(1, Ordering::Relaxed)) {
                    keep(&case.name, &case.run(&PROGRAM));
                }
            });
        }
    });
    keep("demo", &demo());
    let found = found.into_inner().unwrap();
    if is_all {
        return assert!(
            found.len() > 3_000 && dump.is_some(),
            "NET_ALL keeps all cases in NET_DUMP"
        );
    }
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/net/hashes.txt");
    let text: String = found.iter().map(|(name, hash)| format!("{hash} {name}\n")).collect();
    if std::env::var_os("NET_BLESS").is_some() {
        fs::write(&path, text).unwrap();
        return;
    }
    let was = fs::read_to_string(&path).unwrap();
    let was: BTreeMap<&str, &str> =
        was.lines().filter_map(|line| line.split_once(' ')).map(|(h, n)| (n, h)).collect();
    assert!(was.len() > 400 && was.len() == found.len(), "{} cases", was.len());
    let other: Vec<&String> = found
        .iter()
        .filter(|(name, hash)| was.get(name.as_str()) != Some(&hash.as_str()))
        .map(|(name, _)| name)
        .collect();
    assert!(other.is_empty(), "{} cases come out otherwise: {other:?}", other.len());
}
