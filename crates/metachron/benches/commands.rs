//! What the commands cost as whole processes, beside a copy of the same file record by record with the `csv` crate.
//!
//! `cargo bench -p metachron --bench commands` makes a table, runs each command on it in turn, several rounds, and prints
//! how many times as fast as the copy each is, by its best round. Every answer is looked at as well. `ROWS=100000` makes
//! the table smaller.
#![allow(clippy::disallowed_macros, clippy::unwrap_used)]

use std::fmt::Write;
use std::fs::{self, File};
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::Instant;

use jiff::civil::Date;

const ROUNDS: usize = 3;

/// What is measured.
struct Case {
    name: &'static str,
    /// The program with its words.
    line: String,
    /// How many times as fast as the copy it is to be.
    goal: Option<f64>,
    /// The output, and what must stand in its second line.
    shows: Option<(&'static str, &'static str)>,
    /// Seconds of its best round.
    best: f64,
}

impl Case {
    fn new(name: &'static str, line: &str) -> Case {
        Case { name, line: line.to_owned(), goal: None, shows: None, best: f64::INFINITY }
    }

    fn goal(self, goal: f64) -> Case {
        Case { goal: Some(goal), ..self }
    }

    fn shows(self, file: &'static str, text: &'static str) -> Case {
        Case { shows: Some((file, text)), ..self }
    }

    /// Seconds of one run.
    fn seconds(&self, dir: &Path) -> f64 {
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
            .stdin(Stdio::null());
        let start = Instant::now();
        let output = command.output().unwrap();
        let seconds = start.elapsed().as_secs_f64();
        let said = String::from_utf8_lossy(&output.stderr);
        assert!(output.status.success(), "{}: {said}", self.line);
        if let Some((file, text)) = self.shows {
            let whole = fs::read_to_string(dir.join(file)).unwrap();
            let second = whole.lines().nth(1).unwrap();
            assert!(second.contains(text), "{}: {second}", self.line);
        }
        seconds
    }
}

/// Copies a file record by record.
fn copy(from: &str, to: &str) {
    let mut reader = csv::ReaderBuilder::new().has_headers(false).from_path(from).unwrap();
    let mut writer = csv::Writer::from_path(to).unwrap();
    let mut record = csv::ByteRecord::new();
    while reader.read_byte_record(&mut record).unwrap() {
        writer.write_byte_record(&record).unwrap();
    }
    writer.flush().unwrap();
}

/// What somebody would write who knows the layout: the third column as ISO 8601 beside it.
fn by_hand(from: &str, to: &str) {
    let mut reader = csv::Reader::from_path(from).unwrap();
    let mut writer = csv::Writer::from_path(to).unwrap();
    let mut header = reader.headers().unwrap().clone();
    header.push_field("released_typed");
    writer.write_record(&header).unwrap();
    let mut record = csv::StringRecord::new();
    while reader.read_record(&mut record).unwrap() {
        let date = Date::strptime("%d/%m/%Y", &record[2]).unwrap();
        record.push_field(&date.to_string());
        writer.write_record(&record).unwrap();
    }
    writer.flush().unwrap();
}

/// Reads a compressed file to its end.
fn decompress(from: &str) {
    let mut whole = flate2::read::MultiGzDecoder::new(File::open(from).unwrap());
    assert!(std::io::copy(&mut whole, &mut std::io::sink()).unwrap() > 0);
}

fn make_table(path: &Path, rows: u64) {
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
        let (day, month, year) = (1 + n % 28, 1 + n / 28 % 12, 2010 + n / 336 % 15);
        let (hour, minute) = (1 + n / 5_040 % 12, n / 60_480 % 60);
        writeln!(
            table,
            "LF{row:07},{},{day:02}/{month:02}/{year},{day} {} {year} {hour}:{minute:02} {},Sylvia borin,{},{}.{},net {}",
            STATIONS[(n % 5) as usize],
            MONTHS[(month - 1) as usize],
            ["AM", "PM"][(n % 2) as usize],
            60 + n % 30,
            10 + n % 20,
            n % 10,
            n % 40,
        )
        .unwrap();
    }
    fs::write(path, table).unwrap();
}

fn main() {
    let words: Vec<String> = std::env::args().skip(1).collect();
    match words.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["copy", from, to] => return copy(from, to),
        ["by-hand", from, to] => return by_hand(from, to),
        ["decompress", from] => return decompress(from),
        _ => {}
    }
    let rows = std::env::var("ROWS").ok().and_then(|text| text.parse().ok()).unwrap_or(1_600_000);
    let dir = std::env::temp_dir().join(format!("metachron-bench-{}", std::process::id()));
    fs::create_dir_all(&dir).unwrap();
    make_table(&dir.join("a.csv"), rows);
    let mut packed = flate2::write::GzEncoder::new(
        File::create(dir.join("a.csv.gz")).unwrap(),
        flate2::Compression::fast(),
    );
    std::io::copy(&mut File::open(dir.join("a.csv")).unwrap(), &mut packed).unwrap();
    packed.finish().unwrap();
    Case::new("save", "survey a.csv --save a.toml").seconds(&dir);
    let by_layout = "--column released --layout {day:02}/{month:02}/{year}";
    let names_and_clock =
        "--column seen --layout {day}~{month:name}~{year}~{hour:12}:{minute:02}~{ampm}";
    let mut cases = [
        Case::new("copy with the csv crate", "reference copy a.csv out.csv")
            .shows("out.csv", "LF0000000"),
        Case::new("by hand: csv and a format string of jiff", "reference by-hand a.csv out.csv")
            .shows("out.csv", ",2010-01-01"),
        Case::new(
            "convert one column, layout given, one thread",
            &format!("convert a.csv {by_layout} -o out.csv --threads 1"),
        )
        .shows("out.csv", ",2010-01-01,")
        .goal(4.5),
        Case::new("the same, all threads", &format!("convert a.csv {by_layout} -o out.csv"))
            .shows("out.csv", ",2010-01-01,")
            .goal(8.0),
        Case::new(
            "convert month names and a clock of 12 hours",
            &format!("convert a.csv {names_and_clock} -o out.csv --threads 1"),
        )
        .shows("out.csv", ",2010-01-01T01:00:00,")
        .goal(4.0),
        Case::new("survey of 8 columns, one thread", "survey a.csv --threads 1").goal(1.0),
        Case::new("the same, all threads", "survey a.csv").goal(1.8),
        Case::new("convert with its own survey, all threads", "convert a.csv -o out.csv")
            .shows("out.csv", "2010-01-01")
            .goal(1.2),
        Case::new(
            "convert with saved readings, all threads",
            "convert a.csv --readings a.toml -o out.csv",
        )
        .shows("out.csv", "2010-01-01")
        .goal(4.0),
        Case::new("check", "check a.csv"),
        Case::new("count per month", "count a.csv --column released --per month"),
        Case::new("convert to Parquet", "convert a.csv -o out.parquet"),
        Case::new("convert from gzip", &format!("convert a.csv.gz {by_layout} -o out.csv"))
            .shows("out.csv", ",2010-01-01,"),
        Case::new("decompress gzip alone", "reference decompress a.csv.gz"),
    ];
    let megabytes = File::open(dir.join("a.csv")).unwrap().metadata().unwrap().len() as f64 / 1e6;
    println!("{rows} rows of 8 columns, {megabytes:.0} MB, best of {ROUNDS} rounds");
    println!("{:<46}{:>9}{:>9}{:>8}", "", "seconds", "copy = 1", "goal");
    for _ in 0..ROUNDS {
        for case in &mut cases {
            case.best = case.best.min(case.seconds(&dir));
        }
    }
    let copy = cases[0].best;
    for Case { name, goal, best, .. } in &cases {
        let goal = goal.map_or(String::new(), |goal| format!("{goal:.1}"));
        println!("{name:<46}{best:>9.2}{:>9.2}{goal:>8}", copy / best);
    }
    let ten: String = (13..23).map(|day| format!("LF{day},{day}/04/2024\n")).collect();
    fs::write(dir.join("small.csv"), format!("ring,released\n{ten}")).unwrap();
    let small = Case::new("a table of 10 rows", "convert small.csv -o small.out.csv");
    let starts = (0..20).map(|_| small.seconds(&dir)).fold(f64::INFINITY, f64::min);
    println!("{:<46}{:>6.1} ms", small.name, starts * 1e3);
    fs::remove_dir_all(&dir).unwrap();
}
