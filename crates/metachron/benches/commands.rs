//! What the commands cost as whole processes, beside a copy of the same file record by record with the `csv` crate, or
//! beside what the library of another format takes to read it.
//!
//! `cargo bench -p metachron --bench commands` makes tables, runs each command on them in turn, several rounds, and prints
//! how many times as fast as its measure each is, by its best round. Every answer is looked at as well. `ROWS=100000`
//! makes the tables smaller.
#![allow(clippy::disallowed_macros, clippy::unwrap_used)]

mod references;

use std::fmt::Write;
use std::fs::{self, File};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

const ROUNDS: usize = 3;

/// What is measured.
struct Case {
    name: String,
    /// The program with its words.
    line: String,
    /// The name of what it is held against; the copy if there is none.
    against: Option<&'static str>,
    /// How many times as fast as that it is to be.
    goal: Option<f64>,
    /// The output, and what must stand in its second line.
    shows: Option<(&'static str, &'static str)>,
    /// Seconds of its best round.
    best: f64,
    /// Megabytes that it took at most.
    peak: f64,
}

/// How a run went.
struct Run {
    seconds: f64,
    megabytes: f64,
}

impl Case {
    fn new(name: &str, line: &str) -> Case {
        Case {
            name: name.to_owned(),
            line: line.to_owned(),
            against: None,
            goal: None,
            shows: None,
            best: f64::INFINITY,
            peak: 0.0,
        }
    }

    fn goal(self, goal: f64) -> Case {
        Case { goal: Some(goal), ..self }
    }

    fn against(self, name: &'static str) -> Case {
        Case { against: Some(name), ..self }
    }

    fn shows(self, file: &'static str, text: &'static str) -> Case {
        Case { shows: Some((file, text)), ..self }
    }

    /// One run. References tell themselves how many seconds count, if not all do.
    fn run(&self, dir: &Path) -> Run {
        // The references are this program itself.
        let (program, words) = match self.line.strip_prefix("reference ") {
            Some(words) => (std::env::current_exe().unwrap(), words),
            None => (PathBuf::from(env!("CARGO_BIN_EXE_metachron")), self.line.as_str()),
        };
        let mut command = Command::new(program);
        // Spaces stand between words, and a tilde for a space in one.
        command
            .args(words.split(' ').map(|word| word.replace('~', " ")))
            .current_dir(dir)
            .stdin(Stdio::null())
            .stdout(File::create(dir.join("said")).unwrap())
            .stderr(File::create(dir.join("complained")).unwrap());
        let start = Instant::now();
        let mut child = command.spawn().unwrap();
        let megabytes = peak(&mut child);
        let seconds = start.elapsed().as_secs_f64();
        let said = |file: &str| fs::read_to_string(dir.join(file)).unwrap_or_default();
        let is_done = child.wait().unwrap().success();
        assert!(is_done, "{}: {}", self.line, said("complained"));
        if let Some((file, text)) = self.shows {
            let whole = fs::read_to_string(dir.join(file)).unwrap();
            let second = whole.lines().nth(1).unwrap();
            assert!(second.contains(text), "{}: {second}", self.line);
        }
        let counted = said("said").strip_prefix("seconds ").and_then(|own| own.trim().parse().ok());
        Run { seconds: counted.unwrap_or(seconds), megabytes }
    }

    fn measure(&mut self, dir: &Path) {
        let Run { seconds, megabytes } = self.run(dir);
        self.best = self.best.min(seconds);
        self.peak = self.peak.max(megabytes);
    }
}

/// Waits until a process has ended; the most memory that it was seen to have, where the system tells.
fn peak(child: &mut Child) -> f64 {
    let path = format!("/proc/{}/status", child.id());
    let mut kilobytes = 0.0_f64;
    while child.try_wait().unwrap().is_none() {
        let status = fs::read_to_string(&path).unwrap_or_default();
        let own = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
        let own = own.and_then(|own| own.trim().trim_end_matches(" kB").parse().ok());
        kilobytes = kilobytes.max(own.unwrap_or(0.0));
        std::thread::park_timeout(Duration::from_micros(500));
    }
    kilobytes / 1_000.0
}

/// Runs cases in turn, and prints how each compares with the first one, or with what it is held against.
fn compare(title: &str, cases: &mut [Case], dir: &Path) {
    println!("\n{title:<48}{:>9}{:>9}{:>8}{:>7}", "seconds", "times", "goal", "MB");
    for _ in 0..ROUNDS {
        cases.iter_mut().for_each(|case| case.measure(dir));
    }
    for case in &*cases {
        let measure = case.against.and_then(|name| cases.iter().find(|own| own.name == name));
        let measure = measure.unwrap_or(&cases[0]).best;
        let goal = case.goal.map_or(String::new(), |goal| format!("{goal:.2}"));
        let (name, best, peak) = (&case.name, case.best, case.peak);
        println!("{name:<48}{best:>9.2}{:>9.2}{goal:>8}{peak:>7.0}", measure / best);
    }
}

/// How a table differs from the usual one.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Kind {
    Usual,
    /// Every cell stands in quotes.
    Quoted,
    /// No two values of the column are equal.
    Different,
    /// One row in three has what is no date.
    Rejects,
    /// The rows follow each other in time.
    Sorted,
}

fn make_table(path: &Path, rows: u64, kind: Kind) {
    const STATIONS: [&str; 5] =
        ["Skarholm", "Port Meridian", "Cabo Sereno", "Dar Wadi", "Hoshizaki"];
    const MONTHS: [&str; 12] = [
        "January",
        "February",
        "March",
        "April",
        "May",
        "June",
        "July",
        "August",
        "September",
        "October",
        "November",
        "December",
    ];
    let mut table = String::from("ring,station,released,seen,species,wing,mass,remark\n");
    for row in 0..rows {
        let n = row.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 20;
        let of = if kind == Kind::Sorted { row * 5_040 / rows } else { n };
        let (day, month, year) = match kind {
            Kind::Sorted => (1 + of % 28, 1 + of / 28 % 12, 2010 + of / 336),
            _ => (1 + n % 28, 1 + n / 28 % 12, 2010 + n / 336 % 15),
        };
        let (hour, minute) = (1 + n / 5_040 % 12, n / 60_480 % 60);
        let released = match kind {
            Kind::Rejects if row % 3 == 1 => format!("{day:02}/{month:02}/{year} ?"),
            // A clock with seconds, of which there are as many as there are rows.
            Kind::Different => {
                let (hour, minute, second) = (row / 3_600 % 24, row / 60 % 60, row % 60);
                let (day, month) = (1 + row / 86_400 % 28, 1 + row / 2_419_200 % 12);
                format!("{day:02}/{month:02}/{year} {hour:02}:{minute:02}:{second:02}")
            }
            _ => format!("{day:02}/{month:02}/{year}"),
        };
        let cells = [
            format!("LF{row:07}"),
            STATIONS[(n % 5) as usize].to_owned(),
            released,
            format!(
                "{day} {} {year} {hour}:{minute:02} {}",
                MONTHS[(month - 1) as usize],
                ["AM", "PM"][(n % 2) as usize]
            ),
            "Sylvia borin".to_owned(),
            (60 + n % 30).to_string(),
            format!("{}.{}", 10 + n % 20, n % 10),
            format!("net {}", n % 40),
        ];
        match kind {
            Kind::Quoted => writeln!(table, "\"{}\"", cells.join("\",\"")),
            _ => writeln!(table, "{}", cells.join(",")),
        }
        .unwrap();
    }
    fs::write(path, table).unwrap();
}

/// A table of so many columns, of which one has dates.
fn make_wide(path: &Path, columns: usize, rows: usize) {
    let names: Vec<String> = (1..columns).map(|at| format!("n{at}")).collect();
    let mut table = format!("released,{}\n", names.join(","));
    for row in 0..rows {
        let cells: Vec<String> = (1..columns).map(|at| ((row * at) % 977).to_string()).collect();
        let (day, month, year) = (1 + row % 28, 1 + row / 28 % 12, 2010 + row / 336 % 15);
        writeln!(table, "{day:02}/{month:02}/{year},{}", cells.join(",")).unwrap();
    }
    fs::write(path, table).unwrap();
}

const BY_LAYOUT: &str = "--column released --layout {day:02}/{month:02}/{year}";

/// The commands on the usual table.
fn commands() -> Vec<Case> {
    let names_and_clock =
        "--column seen --layout {day}~{month:name}~{year}~{hour:12}:{minute:02}~{ampm}";
    let (one, own) =
        ("convert one column, layout given, one thread", "survey of 8 columns, all threads");
    let (typed, packed) = ("the Parquet crate's writer, the same values", "decompress gzip alone");
    vec![
        Case::new("copy with the csv crate", "reference copy a.csv out.csv")
            .shows("out.csv", "LF0000000"),
        Case::new("by hand: csv and a format string of jiff", "reference by-hand a.csv out.csv")
            .shows("out.csv", ",2010-01-01"),
        Case::new(one, &format!("convert a.csv {BY_LAYOUT} -o out.csv --threads 1"))
            .shows("out.csv", ",2010-01-01,")
            .goal(4.5),
        Case::new("  all threads", &format!("convert a.csv {BY_LAYOUT} -o out.csv"))
            .shows("out.csv", ",2010-01-01,")
            .goal(8.0),
        Case::new(
            "  month names and a clock of 12 hours",
            &format!("convert a.csv {names_and_clock} -o out.csv --threads 1"),
        )
        .shows("out.csv", ",2010-01-01T01:00:00,")
        .goal(4.0),
        Case::new("survey of 8 columns, one thread", "survey a.csv --threads 1").goal(1.0),
        Case::new(own, "survey a.csv").goal(1.8),
        Case::new("convert with its own survey, all threads", "convert a.csv -o out.csv")
            .shows("out.csv", "2010-01-01")
            .goal(1.2),
        Case::new(
            "convert with saved readings, all threads",
            "convert a.csv --readings a.toml -o out.csv",
        )
        .shows("out.csv", "2010-01-01")
        .goal(4.0),
        Case::new("check, against the survey", "check a.csv").against(own).goal(0.75),
        Case::new(
            "count per month, against the survey",
            "count a.csv --column released --per month",
        )
        .against(own)
        .goal(0.75),
        Case::new("chart, against the survey", "chart a.csv --column released -o out.png")
            .against(own)
            .goal(0.75),
        Case::new(typed, "reference write-parquet typed.parquet out.parquet"),
        Case::new("convert to Parquet, against that writer", "convert a.csv -o out.parquet")
            .against(typed)
            .goal(0.8),
        Case::new(packed, "reference decompress a.csv.gz"),
        Case::new(
            "convert from gzip, against that",
            &format!("convert a.csv.gz {BY_LAYOUT} -o out.csv"),
        )
        .shows("out.csv", ",2010-01-01,")
        .against(packed)
        .goal(0.9),
    ]
}

/// What is hard, each beside a copy of its own file.
fn hard_cases(dir: &Path, rows: u64) {
    let kinds = [
        ("every cell quoted", Kind::Quoted),
        ("every value different", Kind::Different),
        ("one value in three is no date", Kind::Rejects),
        ("rows in the order of time", Kind::Sorted),
    ];
    for (name, kind) in kinds {
        make_table(&dir.join("hard.csv"), rows, kind);
        let layout = match kind {
            Kind::Different => format!("{BY_LAYOUT}~{{hour:02}}:{{minute:02}}:{{second:02}}"),
            _ => BY_LAYOUT.to_owned(),
        };
        let rejects =
            if kind == Kind::Rejects { " --rejects rejects.csv --tolerate 100%" } else { "" };
        let mut cases = [
            Case::new("  copy with the csv crate", "reference copy hard.csv out.csv"),
            Case::new(
                "  convert by layout",
                &format!("convert hard.csv {layout} -o out.csv{rejects}"),
            ),
            Case::new("  survey of 8 columns", "survey hard.csv"),
        ];
        compare(name, &mut cases, dir);
    }
    make_wide(&dir.join("hard.csv"), 1_000, (rows / 100) as usize);
    let mut cases = [
        Case::new("  copy with the csv crate", "reference copy hard.csv out.csv"),
        Case::new("  convert by layout", &format!("convert hard.csv {BY_LAYOUT} -o out.csv")),
        Case::new("  survey of 1,000 columns", "survey hard.csv"),
    ];
    compare("1,000 columns", &mut cases, dir);
}

/// Other formats, each beside what its library takes to read it.
fn formats(dir: &Path, rows: u64) {
    make_table(&dir.join("some.csv"), rows, Kind::Usual);
    for (name, file) in [
        ("Parquet", "some.parquet"),
        ("JSON Lines", "some.jsonl"),
        ("SQLite", "some.sqlite"),
        ("workbook", "some.xlsx"),
    ] {
        Case::new("make", &format!("convert some.csv {BY_LAYOUT} -o {file}")).run(dir);
        let mut cases = [
            Case::new("  read with its library alone", &format!("reference read {file}")),
            Case::new(
                "  convert by layout to CSV",
                &format!("convert {file} {BY_LAYOUT} -o out.csv"),
            )
            .shows("out.csv", "2010-01-01"),
            Case::new("  survey", &format!("survey {file}")),
        ];
        compare(name, &mut cases, dir);
    }
}

fn main() {
    let words: Vec<String> = std::env::args().skip(1).collect();
    if references::run(&words) {
        return;
    }
    let rows = std::env::var("ROWS").ok().and_then(|text| text.parse().ok()).unwrap_or(1_600_000);
    let dir = std::env::temp_dir().join(format!("metachron-bench-{}", std::process::id()));
    fs::create_dir_all(&dir).unwrap();
    make_table(&dir.join("a.csv"), rows, Kind::Usual);
    let mut packed = flate2::write::GzEncoder::new(
        File::create(dir.join("a.csv.gz")).unwrap(),
        flate2::Compression::fast(),
    );
    std::io::copy(&mut File::open(dir.join("a.csv")).unwrap(), &mut packed).unwrap();
    packed.finish().unwrap();
    Case::new("save", "survey a.csv --save a.toml").run(&dir);
    Case::new("typed", "convert a.csv -o typed.parquet").run(&dir);
    let megabytes = File::open(dir.join("a.csv")).unwrap().metadata().unwrap().len() as f64 / 1e6;
    println!("{rows} rows of 8 columns, {megabytes:.0} MB, best of {ROUNDS} rounds");
    compare("against the copy, unless said", &mut commands(), &dir);
    hard_cases(&dir, rows / 4);
    formats(&dir, rows / 16);

    println!("\n{:<48}{:>9}{:>9}", "growth: convert by layout", "rows", "ns a row");
    for tenths in [1_000, 100, 10, 1] {
        let rows = (rows / tenths).max(1);
        make_table(&dir.join("grown.csv"), rows, Kind::Usual);
        let mut case = Case::new("", &format!("convert grown.csv {BY_LAYOUT} -o out.csv"));
        (0..ROUNDS).for_each(|_| case.measure(&dir));
        println!("{:<48}{rows:>9}{:>9.0}", "", case.best * 1e9 / rows as f64);
    }
    let ten: String = (13..23).map(|day| format!("LF{day},{day}/04/2024\n")).collect();
    fs::write(dir.join("small.csv"), format!("ring,released\n{ten}")).unwrap();
    let small = Case::new("a table of 10 rows", "convert small.csv -o small.out.csv");
    let starts = (0..20).map(|_| small.run(&dir).seconds).fold(f64::INFINITY, f64::min);
    println!("{:<46}{:>6.1} ms", small.name, starts * 1e3);
    fs::remove_dir_all(&dir).unwrap();
}
