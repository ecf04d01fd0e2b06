//! The same bytes on every number of threads, in tables of several chunks.

use std::fmt::Write;

use crate::harness::Bench;

/// A table of some megabytes: quotes and line breaks in cells, empty lines, rows that cannot be read or are too long,
/// names of months, votes for an order far below, and words below the last row.
fn table(rows: u32) -> String {
    let mut text = String::from("ring,station,seen,caught,remark\n");
    for row in 0..rows {
        let n = row.wrapping_mul(2_654_435_761) >> 7;
        let day = if row > rows / 2 { 1 + n % 28 } else { 1 + n % 12 };
        let month = ["Jan", "Mar", "May", "Dec"][(n % 4) as usize];
        let remark = match n % 401 {
            0 => "\"torn, \"\"5\"\" holes\nsecond net\"".to_owned(),
            1 => "a 5\" ring".to_owned(),
            2 => "x,too long".to_owned(),
            _ => format!("net {}", n % 40),
        };
        let seen = match n % 977 {
            0 => "soon".to_owned(),
            _ => format!("{day:02}/{:02}/{}", 1 + n % 12, 2015 + n % 9),
        };
        let station = ["Skarholm", "Dar Wadi", "Hoshizaki"][(n % 3) as usize];
        let caught = format!("{} {month} {} {:02}:{:02}", 1 + n % 28, 2015 + n % 9, n % 24, n % 60);
        writeln!(text, "LF{row:06},{station},{seen},{caught},{remark}").unwrap();
        if n % 613 == 0 {
            text.push('\n');
        }
    }
    text + "\nTotal,120000\nchecked by the office in Skarholm\n"
}

#[test]
fn every_number_of_threads_gives_the_same_bytes() {
    let bench = Bench::with("captures.csv", table(125_000));
    assert!(bench.bytes("captures.csv").len() > 4_194_304, "several chunks");
    let of = |threads: u32| {
        let own = format!("--threads {threads} --as-of 2026-01-01");
        let seen = bench.run(&format!("survey captures.csv --json {own}")).output();
        assert!(seen.contains("\"verdict\": \"decided\""), "{seen}");
        let evidence = format!("survey captures.csv --evidence captures.{threads}.seen {own}");
        bench.run(&evidence).stdout_has(&["125,000 rows"]).check();
        let converted = format!(
            "convert captures.csv -o out.{threads}.csv --rejects rejects.csv --run-report run.json --compare {own}"
        );
        bench.run(&converted).status(4).stderr_has(&["125,000 rows"]).check();
        let report = bench.read("run.json").replace(&format!("out.{threads}.csv"), "out.csv");
        let counted = format!("count captures.csv --column seen --per month {own} --json");
        let counted = bench.run(&counted).output();
        let files =
            [&format!("out.{threads}.csv"), "rejects.csv", &format!("captures.{threads}.seen")];
        (seen, counted, report, files.map(|file| bench.bytes(file)))
    };
    let one = of(1);
    let [output, rejects, _] = one.3.clone().map(|own| String::from_utf8_lossy(&own).into_owned());
    assert_eq!(
        output.lines().next(),
        Some("ring,station,seen,seen_typed,caught,caught_typed,remark")
    );
    assert!(rejects.contains(",soon,") && !output.contains("checked by the office"));
    for threads in [2, 3, 8] {
        assert!(of(threads) == one, "{threads} threads");
    }
}

#[test]
fn typed_outputs_have_the_same_bytes_on_every_number_of_threads() {
    // Cells are made of smaller chunks than text is.
    let bench = Bench::with("captures.csv", table(30_000));
    assert!(bench.bytes("captures.csv").len() > 3 * 524_288, "several chunks");
    let of = |threads: u32| {
        ["jsonl", "parquet", "sql"].map(|ending| {
            let output = format!("out.{threads}.{ending}");
            let own = format!("--threads {threads} --as-of 2026-01-01 --into-table captures");
            let own =
                if ending == "sql" { &own } else { own.trim_end_matches(" --into-table captures") };
            bench
                .run(&format!("convert captures.csv -o {output} --rejects rejects.csv {own}"))
                .status(4)
                .stderr_has(&["30,000 rows"])
                .check();
            [bench.bytes(&output), bench.bytes("rejects.csv")]
        })
    };
    let one = of(1);
    let lines = String::from_utf8_lossy(&one[0][0]).into_owned();
    assert_eq!(lines.lines().count(), 30_000);
    assert!(
        lines.starts_with("{\"ring\":\"LF000000\",\"station\":\"Skarholm\",\"seen\":"),
        "{lines:.99}"
    );
    for threads in [2, 5] {
        assert!(of(threads) == one, "{threads} threads");
    }
}

#[test]
fn formats_that_are_read_by_one_thread_have_the_same_bytes_on_every_number_of_threads() {
    // More rows than one batch has.
    let bench = Bench::with("captures.csv", table(17_000));
    for ending in ["jsonl", "parquet", "sqlite"] {
        let table = format!("captures.{ending}");
        let made = format!("convert captures.csv --column caught -o {table} --as-of 2026-01-01");
        bench.run(&made).stderr_has(&["17,000 rows"]).check();
        let of = |threads: u32| {
            let own = format!("--threads {threads} --as-of 2026-01-01");
            let seen = bench.run(&format!("survey {table} --json {own}")).output();
            assert!(seen.contains("\"verdict\": \"decided\""), "{seen}");
            let converted = format!(
                "convert {table} --column seen -o out.{threads}.csv --rejects rejects.csv --compare {own}"
            );
            bench.run(&converted).status(4).stderr_has(&["17,000 rows"]).check();
            (seen, bench.bytes(&format!("out.{threads}.csv")), bench.bytes("rejects.csv"))
        };
        let one = of(1);
        assert!(String::from_utf8_lossy(&one.1).lines().count() > 17_000, "{ending}");
        assert!(of(3) == one, "{ending}");
    }
}

#[test]
fn the_first_error_in_the_order_of_the_rows_is_told() {
    let rows = table(125_000);
    let (near, far) = (rows.len() / 3, rows.len() - 200);
    let mut bytes = rows.into_bytes();
    let line = 1 + bytes[..near].iter().filter(|byte| **byte == b'\n').count();
    (bytes[near], bytes[far]) = (0xFF, 0xFE);
    let bench = Bench::with("captures.csv", bytes);
    for threads in [1, 2, 7] {
        let said = bench
            .run(&format!("convert captures.csv --encoding utf-8 --threads {threads} -o out.csv"))
            .status(1)
            .stderr_has(&[&format!("line {line}")])
            .check();
        assert_eq!(said, "");
        assert_eq!(bench.files(), ["captures.csv"]);
    }
}

#[test]
fn the_first_rows_are_the_same_rows() {
    let bench = Bench::with("captures.csv", table(125_000));
    for rows in [1, 60_000, 124_999] {
        let seen = |threads: u32| {
            bench
                .run(&format!("survey captures.csv --first-rows {rows} --json --threads {threads}"))
                .output()
        };
        assert_eq!(seen(1), seen(4), "{rows}");
    }
}

#[test]
fn a_number_of_threads_has_bounds() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n");
    for (threads, wrong) in [("0", "0"), ("257", "257"), ("two", "two")] {
        bench
            .run(&format!("convert a.csv --threads {threads}"))
            .status(2)
            .stderr(format!(
                "metachron: --threads \"{wrong}\" is no whole number from 1 to 256\n\
                 \x20 what it takes: metachron convert --help\n"
            ))
            .check();
    }
}
