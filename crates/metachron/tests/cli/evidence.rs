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
            "metachron: cut.seen is damaged: it is not what was written; gather it anew with metachron survey\n",
        )
        .check();
    for at in [whole.len() - 1, whole.len() / 2, 40] {
        let mut other = whole.clone();
        other[at] ^= 1;
        bench.write("other.seen", &other);
        bench
            .run("survey --merge other.seen")
            .status(1)
            .stderr_has(&["other.seen is damaged"])
            .check();
    }
    let older = String::from_utf8_lossy(&whole).replacen("evidence 8", "evidence 5", 1);
    bench.write("older.seen", older);
    bench
        .run("survey --merge older.seen")
        .status(1)
        .stderr(
            "metachron: older.seen is of version 5, this program writes 8; gather it anew with metachron survey\n",
        )
        .check();
}

#[test]
fn a_part_counts_once_however_often_it_is_given() {
    let bench = Bench::new();
    for (name, row) in [("a", "13/04/2024"), ("b", "14/04/2024"), ("c", "15/04/2024")] {
        bench.write(&format!("{name}.csv"), format!("seen\n{row}\n"));
        let survey = format!("survey {name}.csv --evidence {name}.seen --as-of 2026-01-01");
        bench.run(&survey).stdout_has(&[""]).check();
    }
    std::fs::copy(bench.path().join("a.seen"), bench.path().join("again.seen")).unwrap();
    bench
        .run("survey --merge a.seen b.seen again.seen --as-of 2026-01-01 --evidence ab.seen")
        .stdout_has(&["evidence, 2 rows", "given twice and counted once: again.seen"])
        .check();
    bench
        .run("survey --merge a.seen ab.seen --as-of 2026-01-01")
        .status(2)
        .stderr(
            "metachron: a.seen and ab.seen both hold what was seen in a.csv, and ab.seen holds other parts too; give \
             each part once\n",
        )
        .check();
    bench
        .run("survey --merge ab.seen c.seen b.seen --as-of 2026-01-01")
        .stdout_has(&["evidence, 3 rows", "given twice and counted once: b.seen"])
        .check();
    // What changed between two looks is not the same part.
    bench.write("a.csv", "seen\n16/04/2024\n");
    bench.run("survey a.csv --evidence new.seen --as-of 2026-01-01").stdout_has(&[""]).check();
    bench
        .run("survey --merge a.seen new.seen --as-of 2026-01-01")
        .stdout_has(&["evidence, 2 rows", "1 file had the name of another one (first a.csv)"])
        .check();
}

#[test]
fn sums_of_sums_on_any_number_of_threads_are_the_sum_of_all() {
    let bench = Bench::new();
    let row = |n: u32| format!("LF{n},{:02}/{:02}/2024,{}\n", 1 + n * 7 % 28, 1 + n % 12, n % 4);
    let mut files = Vec::new();
    for part in 0..9 {
        let rows: String = (part * 40..part * 40 + 5 * part).map(row).collect();
        bench.write(&format!("p{part}.csv"), format!("ring,seen,net\n{rows}"));
        let survey = format!("survey p{part}.csv --evidence p{part}.seen --as-of 2026-01-01");
        bench.run(&survey).stdout_has(&[""]).check();
        files.push(format!("p{part}.seen"));
    }
    let merge = |files: &str, more: &str| {
        let line = format!("survey --merge {files} --as-of 2026-01-01 {more}");
        bench.run(&line).stdout_has(&[""]).check()
    };
    for (at, files) in files.chunks(2).enumerate() {
        merge(&files.join(" "), &format!("--evidence two{at}.seen"));
    }
    merge("two0.seen two1.seen", "--evidence four0.seen");
    merge("two2.seen two3.seen two4.seen", "--evidence four1.seen");
    let all = merge(&files.join(" "), "--threads 1 --json");
    for files in [
        &files.join(" "),
        "two0.seen two1.seen two2.seen two3.seen two4.seen",
        "four0.seen four1.seen",
    ] {
        for threads in [1, 2, 5] {
            let own = merge(files, &format!("--threads {threads} --json"));
            assert_eq!(columns(&own), columns(&all), "{files} on {threads} threads");
        }
    }
    // So are the bytes.
    for threads in [1, 3] {
        merge(&files.join(" "), &format!("--threads {threads} --evidence all{threads}.seen"));
    }
    let bytes = |name: &str| std::fs::read(bench.path().join(name)).unwrap();
    assert!(bytes("all1.seen") == bytes("all3.seen"));
    merge("four0.seen four1.seen", "--evidence sums.seen");
    assert!(bytes("sums.seen") == bytes("all1.seen"));
}

#[test]
fn the_evidence_of_a_part_has_a_bound() {
    let bench = Bench::new();
    // Many columns that tell many sources apart, and every day of decades in several forms.
    let mut rows = String::from("seen,checked,logged,ringed,a,b,c,d,e,f,g,h,i\n");
    for row in 0..30_000_u64 {
        let n = row.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 33;
        let (day, month, year) = (1 + n % 28, 1 + n / 28 % 12, 1950 + n / 336 % 100);
        let separator = ["/", "-", "."][(n % 3) as usize];
        let date = format!("{day:02}{separator}{month:02}{separator}{year}");
        let beside: Vec<String> = (0..9).map(|at| format!("source {}", (n >> at) % 500)).collect();
        rows.push_str(&format!("{date},{date},{date},{date},{}\n", beside.join(",")));
    }
    bench.write("wide.csv", rows);
    bench.run("survey wide.csv --evidence wide.seen --as-of 2026-01-01").stdout_has(&[""]).check();
    let bytes = std::fs::metadata(bench.path().join("wide.seen")).unwrap().len();
    assert!((100_000..=1_010_000).contains(&bytes), "{bytes} bytes");
    bench
        .run("survey --merge wide.seen --as-of 2026-01-01")
        .stdout_has(&[
            "evidence, 30,000 rows",
            "not all that its 13 columns show has room",
            "smaller parts keep more",
        ])
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
