//! What the commands cost as a whole: survey of a column beside converting it, and each format of output.
//!
//! `cargo bench -p metachron --bench commands` runs the built program on a table of its own making.
#![allow(clippy::disallowed_macros, clippy::unwrap_used)]

use std::fmt::Write;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::Instant;

const ROWS: u64 = 300_000;
const ROUNDS: usize = 5;

/// Seconds, the best of some rounds.
fn seconds(dir: &Path, line: &str) -> f64 {
    let rounds = (0..ROUNDS).map(|_| {
        let start = Instant::now();
        let status = Command::new(env!("CARGO_BIN_EXE_metachron"))
            .args(line.split(' '))
            .current_dir(dir)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .status()
            .unwrap();
        assert!(status.success(), "{line}");
        start.elapsed().as_secs_f64()
    });
    rounds.fold(f64::INFINITY, f64::min)
}

fn main() {
    let dir = std::env::temp_dir().join(format!("metachron-bench-{}", std::process::id()));
    std::fs::create_dir_all(&dir).unwrap();
    let mut table = String::from("ring,station,shuffled,sorted,weight\n");
    for row in 0..ROWS {
        let (station, weight) = (row % 7, row % 31);
        let scattered = row.wrapping_mul(2_654_435_761) % 3_650;
        let day =
            |n: u64| format!("{:02}/{:02}/{}", 1 + n % 28, 1 + n / 28 % 12, 2014 + n / 336 % 10);
        let (shuffled, sorted) = (day(scattered), day(row * 3_360 / ROWS));
        writeln!(table, "LF{row:06},S{station},{shuffled},{sorted},{weight}.5").unwrap();
    }
    std::fs::write(dir.join("a.csv"), &table).unwrap();
    println!("{ROWS} rows, {} MB; seconds, best of {ROUNDS}", table.len() / 1_000_000);
    println!("{:<10}{:>10}{:>10}{:>8}", "column", "survey", "convert", "ratio");
    for column in ["shuffled", "sorted"] {
        let survey = seconds(&dir, &format!("survey a.csv --column {column}"));
        let convert = seconds(&dir, &format!("convert a.csv --column {column} -o out.csv"));
        println!("{column:<10}{survey:>10.3}{convert:>10.3}{:>8.2}", survey / convert);
    }
    println!("\n{:<12}{:>10}", "output", "convert");
    for output in
        ["out.csv", "out.parquet", "out.jsonl", "out.xlsx", "out.db --existing-table replace"]
    {
        let convert = seconds(&dir, &format!("convert a.csv --column shuffled -o {output}"));
        println!("{:<12}{convert:>10.3}", output.split(' ').next().unwrap_or(output));
    }
    std::fs::remove_dir_all(&dir).unwrap();
}
