//! Evidence that is gathered apart and judged together; and parts of files.

use crate::harness::Bench;

/// What a survey says of the columns, without the file.
fn columns(json: &str) -> serde_json::Value {
    let report: serde_json::Value = serde_json::from_str(json).unwrap();
    report["columns"].clone()
}

#[test]
fn the_sum_of_what_was_seen_apart_is_what_is_seen_at_once() {
    let bench = Bench::new();
    let row = |n: u32| format!("LF{n},{:02}/{:02}/24,{}\n", 1 + n * 7 % 28, 1 + n % 12, n % 3);
    let rows = |range: std::ops::Range<u32>| -> String { range.map(row).collect() };
    let header = "ring,seen,net\n";
    bench.write("north.csv", format!("{header}{}", rows(0..40)));
    bench.write("south.csv", format!("{header}{}", rows(40..130)));
    bench.write("all.csv", format!("{header}{}", rows(0..130)));
    for part in ["north", "south"] {
        bench
            .run(&format!("survey {part}.csv --evidence {part}.seen --as-of 2026-01-01"))
            .stdout_has(&["seen"])
            .check();
    }
    let merge = |files: &str| {
        let line = format!("survey --merge {files} --json --as-of 2026-01-01");
        columns(&bench.run(&line).stdout_has(&[""]).check())
    };
    let together = merge("north.seen south.seen");
    let whole = bench.run("survey all.csv --json --as-of 2026-01-01").stdout_has(&[""]).check();
    let whole = columns(&whole);
    for (part, all) in together.as_array().unwrap().iter().zip(whole.as_array().unwrap()) {
        for key in ["name", "kind", "verdict", "reading", "rows", "cells"] {
            assert_eq!(part[key], all[key], "{key}");
        }
    }
    // Once added, it can be added again.
    bench
        .run("survey --merge north.seen --evidence again.seen --as-of 2026-01-01")
        .stdout_has(&["seen in north.csv, 40 rows"])
        .check();
    assert_eq!(merge("again.seen south.seen"), together);
    bench
        .run("survey --merge north.seen south.seen --save seen.toml --as-of 2026-01-01")
        .stdout_has(&["130 rows"])
        .stderr(
            "metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert north.csv south.csv --as-of 2026-01-01 --readings seen.toml --output-dir converted\n",
        )
        .check();
}

#[test]
fn what_cannot_be_added_is_refused() {
    let bench = Bench::with("a.csv", "seen\n03/04/2024\n");
    bench.run("survey a.csv --evidence a.seen --as-of 2026-01-01").stdout_has(&[""]).check();
    bench
        .run("survey --merge a.csv")
        .status(1)
        .stderr("metachron: a.csv holds no evidence; metachron survey FILE --evidence writes it\n")
        .check();
    bench
        .run("survey --merge a.seen --as-of 2026-01-01 --missing x")
        .status(2)
        .stderr(
            "metachron: a.seen was gathered with other options for seen, or in another year; give \
             the same options, --readings and --as-of included\n",
        )
        .check();
    // How tables are looked at is not about what was seen of them.
    for own in ["--first-rows 1", "--delimiter ;", "--sheet 2", "--max-evidence 3"] {
        let option = own.split(' ').next().unwrap();
        bench
            .run(&format!("survey a.seen {own} --merge"))
            .status(2)
            .stderr(format!(
                "metachron: {option} and --merge exclude each other\n\
                 \x20 what it takes: metachron survey --help\n"
            ))
            .check();
    }
    let whole = std::fs::read(bench.path().join("a.seen")).unwrap();
    bench.write("cut.seen", &whole[..whole.len() - 20]);
    bench
        .run("survey --merge cut.seen")
        .status(1)
        .stderr(
            "metachron: cut.seen holds no evidence; metachron survey FILE --evidence writes it\n",
        )
        .check();
}

#[test]
fn a_part_is_called_a_part_in_every_line() {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,13/04/2024\nLF2,14/04/2024\nLF3,04/15/2024\n");
    bench
        .run("survey a.csv --first-rows 2")
        .stdout(
            "a.csv   CSV, comma, UTF-8, header in line 1, only the first 2 rows looked at\n\n  \
               column  kind  verdict     read by               read  missing  unreadable  looked at\n  \
               ring    -     not-a-date                                                   first 2\n  \
               seen    date  decided     {day}/{month}/{year}     2        0           0  first 2\n\n  \
               seen       By the first 2 rows only. 2 values can only be day first, none only month first.\n\n  \
               ring: By the first 2 rows only. No dates.\n",
        )
        .check();
    // The whole is the whole, however many rows might be looked at.
    let whole = bench.run("survey a.csv").stdout_has(&["mixed"]).check();
    assert_eq!(bench.run("survey a.csv --first-rows 3").stdout_has(&[""]).check(), whole);
    bench.run("survey a.csv --first-rows 2 --json").stdout_has(&["\"first_rows\": 2"]).check();
    bench
        .run("survey a.csv --first-rows 2 --evidence a.seen")
        .status(2)
        .stdout_has(&[""])
        .stderr("metachron: --evidence is for whole files, not for --first-rows\n")
        .check();
}
