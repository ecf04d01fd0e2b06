//! Several files at once, long records, and quiet.

use crate::harness::{Bench, table};

fn three() -> Bench {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,03/04/2024\nLF2,05/06/2024\n");
    bench.write("b.csv", "ring,seen\nLF3,13/04/2024\nLF4,14/05/2024\n");
    bench.write("c.csv", "ring,seen,left\nLF5,15/04/2024,2024-05-01\nLF6,16/05/2024,2024-05-02\n");
    bench
}

#[test]
fn evidence_of_several_files_adds_up() {
    let bench = three();
    bench
        .run("survey a.csv b.csv c.csv")
        .stdout_has(&[
            "a.csv   CSV, comma, UTF-8, header in line 1, 2 rows\n",
            "  seen    date  undecided",
            "All 3 files together\n\n  column  kind  verdict     read by               read  missing  unreadable\n  \
               ring    -     not-a-date\n  seen    date  decided     {day}/{month}/{year}     6        0           0\n",
            "  The files differ:\n    seen is undecided in a.csv; decided by {day}/{month}/{year} in b.csv, c.csv\n    \
               left is not in a.csv, b.csv\n",
        ])
        .check();
    let json = bench.run("survey a.csv b.csv --json").stdout_has(&[]).check();
    let report: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(report["files"].as_array().unwrap().len(), 2);
    assert_eq!(report["together"][1]["verdict"], "decided");
    assert_eq!(report["differences"][0].as_str().unwrap().split(' ').next(), Some("seen"));
}

#[test]
fn what_is_decided_together_converts_each() {
    let bench = three();
    bench
        .run("convert a.csv b.csv --output-dir out")
        .status(3)
        .stderr_has(&[
            "a.csv: the date column is open; nothing was written",
            "metachron convert a.csv --set 'seen: order=dmy' --output-dir out\n",
            "To convert the other file now:\n    metachron convert b.csv --output-dir out\n",
        ])
        .check();
    bench
        .run("survey a.csv b.csv --save both.toml")
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in both.toml; review them, then\n\
             \x20 metachron convert a.csv b.csv --readings both.toml --output-dir converted\n",
        )
        .check();
    bench
        .run("convert a.csv b.csv --readings both.toml --output-dir out/deep")
        .stderr(
            "out/deep/a.csv   2 rows\n\
             \x20 seen  → seen_typed  date  2 read\n\
             metachron: seen: None of 2 different dates tells the order, which is taken on trust; when it was \
             saved, 2 of 4 did\n\
             out/deep/b.csv   2 rows\n\
             \x20 seen  → seen_typed  date  2 read\n",
        )
        .check();
    assert_eq!(
        bench.read("out/deep/a.csv"),
        "ring,seen,seen_typed\nLF1,03/04/2024,2024-04-03\nLF2,05/06/2024,2024-06-05\n"
    );
}

#[test]
fn a_pattern_stands_for_the_files_that_match_it() {
    let bench = three();
    bench.run("survey '[bc].csv'").stdout_has(&["All 2 files together"]).check();
    bench
        .run("convert 'b*.csv' --quiet")
        .stdout(
            "ring,seen,seen_typed\n\
         LF3,13/04/2024,2024-04-13\n\
         LF4,14/05/2024,2024-05-14\n",
        )
        .check();
    bench.run("survey 'x*.csv'").status(1).stderr("metachron: no file matches x*.csv\n").check();
    bench.write("x[1].csv", "seen\n13/04/2024\n14/04/2024\n");
    bench
        .run("survey 'x[1].csv'")
        .stdout(
            "x[1].csv   CSV, one column (comma before new ones), UTF-8, header in line 1, 2 rows\n\
         \n\
         \x20 column  kind  verdict  read by               read  missing  unreadable\n\
         \x20 seen    date  decided  {day}/{month}/{year}     2        0           0\n\
         \n\
         \x20 seen       2 values can only be day first, none only month first.\n",
        )
        .check();
}

#[test]
fn several_files_need_places_of_their_own() {
    let bench = three();
    bench
        .run("convert b.csv c.csv")
        .status(2)
        .stderr("metachron: several files need --output-dir, which holds one output for each\n")
        .check();
    bench
        .run("convert b.csv ./b.csv --output-dir out")
        .status(2)
        .stderr("metachron: two inputs would be written as out/b.csv; convert them one by one\n")
        .check();
    bench
        .run("convert b.csv c.csv --output-dir .")
        .status(2)
        .stderr("metachron: the output ./b.csv is the input; metachron never overwrites what it reads\n")
        .check();
    bench
        .run("convert b.csv c.csv --output-dir a.csv")
        .status(1)
        .stderr("metachron: cannot write a.csv: File exists (os error 17)\n")
        .check();
}

#[test]
fn no_table_has_more_columns_than_can_be_looked_at() {
    let commas = ",".repeat(300_000);
    let bench = Bench::with("a.csv", format!("{commas}\n{commas}\n"));
    bench.write("b.csv", format!("ring,seen\nx,13/04/2024{commas}\n"));
    let object: Vec<String> = (0..300_000).map(|at| format!("\"k{at}\":1")).collect();
    bench.write("a.jsonl", format!("{{{}}}\n", object.join(",")));
    for (file, line) in [("a.csv", 1), ("b.csv", 2), ("a.jsonl", 1)] {
        bench
            .run(&format!("survey {file}"))
            .status(1)
            .stderr(format!(
                "metachron: {file}: the record that begins in line {line} has more than 250,000 columns, and no table \
                 has so many\n"
            ))
            .check();
    }
}

/// A table of many columns keeps to its room, says what was left out, and comes to the same.
#[test]
fn what_many_columns_show_has_a_bound() {
    let date = |row: usize, at: usize| {
        format!("{:02}/{:02}/2024", (row * 7 + at) % 28 + 1, (row + at) % 12 + 1)
    };
    let names: Vec<String> = (0..200).map(|at| format!("seen{at}")).collect();
    let rows =
        (0..400).map(|row| (0..200).map(|at| date(row, at)).collect::<Vec<_>>().join(",") + "\n");
    let bench = Bench::with("a.csv", format!("{}\n{}", names.join(","), rows.collect::<String>()));
    let thinned = "not all that its 200 columns show has room: ";
    bench
        .run("survey a.csv --max-evidence 4")
        .stdout_has(&[thinned, "a survey with a larger --max-evidence keeps more"])
        .check();
    bench.run("survey a.csv --max-evidence 4 --evidence a.seen").stdout_has(&[thinned]).check();
    bench.run("survey --merge a.seen").stdout_has(&[thinned]).check();
    assert!(!bench.run("survey a.csv").output().contains("has room"));
    bench.run("convert a.csv --max-evidence 4 -o b.csv").stderr_has(&[thinned]).check();
    bench.run("convert a.csv -o c.csv --quiet").check();
    assert_eq!(bench.read("b.csv"), bench.read("c.csv"));
    // What was not looked at is not said to tell nothing.
    let mixed = (0..400).map(|row| {
        let (day, month) = (row * 7 % 28 + 1, row % 12 + 1);
        let own = [("Skarholm", day, month), ("Port Meridian", month, day)][row % 2];
        let rest: Vec<String> = (0..200).map(|at| date(row, at)).collect();
        format!("{},{:02}/{:02}/2024,{}\n", own.0, own.1, own.2, rest.join(","))
    });
    bench
        .write("d.csv", format!("station,seen,{}\n{}", names.join(","), mixed.collect::<String>()));
    bench.run("survey d.csv").stdout_has(&["Nothing beside them tells them apart."]).check();
    let unseen = "Nothing beside them that there was room to look at";
    bench.run("survey d.csv --max-evidence 1").stdout_has(&[unseen]).check();
    bench.run("survey a.csv --max-evidence 0").status(2).stderr_has(&["--max-evidence"]).check();
}

#[test]
fn a_record_that_is_too_long_is_refused_unless_more_is_allowed() {
    let long = "x".repeat(2_500_000);
    let bench = Bench::with("a.csv", format!("note,seen\n\"{long}\",13/04/2024\ny,14/04/2024\n"));
    bench.run("convert a.csv -o b.csv --quiet").check();
    bench
        .run("survey a.csv --max-record 1")
        .status(1)
        .stderr("metachron: a.csv: the record that begins in line 2 is longer than 1 MB; a quotation mark there may never be closed (--max-record allows more)\n")
        .check();
    bench.write("a.jsonl", format!("{{\"note\":\"{long}\"}}\n"));
    bench
        .run("survey a.jsonl --max-record 1")
        .status(1)
        .stderr(
            "metachron: a.jsonl: the record that begins in line 1 is longer than 1 MB; a quotation \
             mark there may never be closed (--max-record allows more)\n",
        )
        .check();
}

#[test]
fn files_that_differ_keep_a_reading_each() {
    let bench = three();
    bench.write("d.csv", "ring,seen\nLF7,04/13/2024\nLF8,05/14/2024\n");
    bench
        .run("survey b.csv d.csv")
        .stdout_has(&[
            "  To keep a reading for each of them:\n    metachron survey b.csv --save b.toml\n    \
             metachron survey d.csv --save d.toml\n",
        ])
        .check();
    for (file, date) in [("b", "13/04/2024,2024-04-13"), ("d", "04/13/2024,2024-04-13")] {
        bench.run(&format!("survey {file}.csv --save {file}.toml")).output();
        bench.run(&format!("convert {file}.csv --readings {file}.toml -o out.csv")).output();
        assert!(bench.read("out.csv").contains(date));
    }
}

/// A file of a year of which no date tells is not decided by another file.
#[test]
fn a_file_that_nothing_tells_is_a_question_of_its_own() {
    let rows = |late: u32| {
        (1..=12)
            .flat_map(move |month| [3, late].map(move |day| format!("LF,{day:02}/{month:02}/2023")))
    };
    let bench = Bench::with("a.csv", table("ring,seen", rows(21)));
    bench.write("b.csv", table("ring,seen", rows(8)));
    bench
        .run("survey a.csv b.csv")
        .stdout_has(&[
            "24 values could all be read either way",
            "seen is decided by {day}/{month}/{year} in a.csv; leaning in b.csv",
        ])
        .check();
}

#[test]
fn the_year_of_the_first_row_is_asked_of_each_file() {
    let bench = Bench::with("a.csv", "seen\n3 Nov\n24 Dec\n5 Jan\n");
    bench.write("b.csv", "seen\n6 Jan\n7 Feb\n30 Dec\n");
    bench
        .run("survey a.csv b.csv --as-of 2026-01-01")
        .stdout_has(&["If the first row is of 2024:", "If the first row of each file is of 2024:"])
        .check();
}
