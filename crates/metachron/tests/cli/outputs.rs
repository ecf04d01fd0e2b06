//! What convert delivers: typed columns in every format, what is said of them, and what stays whole when
//! something goes wrong.

use std::fs;
use std::process::{Command, Stdio};

use crate::harness::Bench;

const CAPTURES: &str = "ring,captured,logged,clock,effort,n\n\
    LF1,13/05/2024,2024-05-13T10:15:30.25Z,10:15,1 h 30 min,1\nLF2,03/04/2024,2024-04-03T08:00:00+01:00,07:05,2 h,2\n\
    LF3,14/05/2024,,,,3\nLF4,28/02/2024,1969-12-31T23:59:59Z,23:59,45 min,4\n";

const TYPED: [(&str, &str, [&str; 4]); 4] = [
    ("captured_typed", "date", ["2024-05-13", "2024-04-03", "2024-05-14", "2024-02-28"]),
    (
        "logged_typed",
        "instant",
        ["2024-05-13T10:15:30.25Z", "2024-04-03T07:00:00.00Z", "", "1969-12-31T23:59:59.00Z"],
    ),
    ("clock_typed", "time", ["10:15:00", "07:05:00", "", "23:59:00"]),
    ("effort_typed", "duration", ["PT1H30M", "PT2H", "", "PT45M"]),
];

#[test]
fn what_is_written_is_decided_when_it_is_read_again() {
    let bench = Bench::with("a.csv", CAPTURES);
    for file in ["b.csv", "b.tsv", "b.json", "b.jsonl", "b.parquet", "b.sqlite", "b.xlsx"] {
        bench.run(&format!("convert a.csv -o {file} --quiet")).check();
        for (name, kind, expected) in TYPED {
            // A sheet shows clock times of UTC.
            let sheet = file == "b.xlsx" && kind == "instant";
            let kind = if sheet { "datetime" } else { kind };
            bench
                .run(&format!("survey {file} --column {name}"))
                .stdout_has(&[&format!("{name}   {kind}, decided")])
                .check();
            let again = "--make 'again = X | move -1 day | move +1 day'".replace('X', name);
            let again = match kind {
                "date" | "datetime" => again,
                "instant" => again.replace("day", "hour"),
                _ => again.replace("day", "minute"),
            };
            let table = bench
                .run(&format!("convert {file} --column {name} {again} -o - --output-format csv"))
                .stderr_has(&[])
                .output();
            let found: Vec<&str> =
                table.lines().skip(1).map(|line| line.rsplit(',').next().unwrap()).collect();
            let expected = expected.map(|text| match sheet {
                true => text.trim_end_matches('Z').trim_end_matches(".00").to_owned(),
                false => text.replace(".00Z", "Z"),
            });
            assert_eq!(found, expected, "{file} {name}: {table}");
        }
    }
}

#[test]
fn types_are_inferred_where_every_value_allows_it() {
    let bench = Bench::with(
        "a.csv",
        "id,ring,seen,wing,ok\n1,007,13/05/2024,60.5,true\n2,12,14/05/2024,,false\n",
    );
    bench.run("convert a.csv --infer-types -o b.jsonl --quiet").check();
    assert_eq!(
        bench.read("b.jsonl"),
        "{\"id\":1,\"ring\":\"007\",\"seen\":\"13/05/2024\",\"seen_typed\":\"2024-05-13\",\"wing\":60.5,\"ok\":true}\n\
         {\"id\":2,\"ring\":\"12\",\"seen\":\"14/05/2024\",\"seen_typed\":\"2024-05-14\",\"wing\":null,\"ok\":false}\n"
    );
    bench.run("convert a.csv -o b.json --quiet --make 'm = seen | month'").check();
    assert!(
        bench.read("b.json").contains("\"id\":\"1\",\"ring\":\"007\"")
            && bench.read("b.json").contains("\"m\":5}")
    );
    bench.run("convert a.csv --infer-types -o b.sql --into-table 'ring\"s' --quiet").check();
    let sql = bench.read("b.sql");
    assert!(
        sql.starts_with("CREATE TABLE \"ring\"\"s\" (\n  \"id\" BIGINT,\n  \"ring\" VARCHAR,\n"),
        "{sql}"
    );
    assert!(
        sql.contains("\"seen_typed\" DATE,")
            && sql.contains("'13/05/2024', DATE '2024-05-13', 60.5, TRUE)")
    );
    bench
        .run("convert a.csv -o - --output-format tsv --quiet --sort-by seen")
        .stdout(
            "id\tring\tseen\tseen_typed\twing\tok\n\
             1\t007\t13/05/2024\t2024-05-13\t60.5\ttrue\n\
             2\t12\t14/05/2024\t2024-05-14\t\tfalse\n",
        )
        .check();
}

#[test]
fn workbooks_show_dates_as_a_region_does() {
    let bench = Bench::with("a.csv", CAPTURES);
    bench
        .run("convert a.csv --column logged --column captured --to-zone Europe/Oslo --show-in de-DE -o b.xlsx")
        .stderr(
            "b.xlsx   4 rows\n\
             \x20 captured  → captured_typed  date     4 read\n\
             \x20 logged    → logged_typed    instant  3 read, 1 missing; the same moments shown \
             in Europe/Oslo; 1 moment\n\
             \x20                                      before 1970, where this zone data has the clocks of \
             Europe/Berlin for\n\
             \x20                                      Europe/Oslo (--zone-data system or a folder may have its \
             own)\n\
             \x20 logged_typed shows clock times of Europe/Oslo, as sheets know no zones\n",
        )
        .check();
    let mut book =
        zip::ZipArchive::new(fs::File::open(bench.path().join("b.xlsx")).unwrap()).unwrap();
    let mut styles = String::new();
    std::io::Read::read_to_string(&mut book.by_name("xl/styles.xml").unwrap(), &mut styles)
        .unwrap();
    assert!(styles.contains("formatCode=\"dd.mm.yyyy\""), "{styles}");
    for (options, says) in [
        ("--show-in de-DE -o b.csv", "b.csv is none; the step show writes text"),
        ("--show-in xx-YY -o b.xlsx", "--show-in \"xx-YY\" is no locale"),
        ("--describe -o b.xlsx", "--describe is about delimited text in a file"),
        ("--output-format parqet", "is none of csv, tsv, json, jsonl, parquet"),
    ] {
        bench.run(&format!("convert a.csv {options}")).status(2).stderr_has(&[says]).check();
    }
    bench.run("convert a.csv -o b.xlsx.gz").status(1).stderr("metachron: only text that keeps its format is compressed, not b.xlsx.gz; leave out .gz\n").check();
    bench
        .run("convert a.csv -o none/b.parquet")
        .status(1)
        .stderr("metachron: cannot write none/b.parquet: its folder does not exist\n")
        .check();
}

#[test]
fn tables_that_are_there_are_kept_added_to_or_replaced() {
    let bench = Bench::with("a.csv", CAPTURES);
    bench.run("convert a.csv -o b.db --quiet").check();
    bench
        .run("convert a.csv -o b.db")
        .status(1)
        .stderr(
            "metachron: b.db cannot be written: it has a table \"a\" already; --existing-table \
             append adds to it, replace makes it anew, --into-table NAME names another\n",
        )
        .check();
    bench
        .run("convert a.csv -o b.db --existing-table append")
        .stderr(
            "b.db   4 rows\n\
             \x20 captured  → captured_typed  date      4 read\n\
             \x20 logged    → logged_typed    instant   3 read, 1 missing\n\
             \x20 clock     → clock_typed     time      3 read, 1 missing\n\
             \x20 effort    → effort_typed    duration  3 read, 1 missing\n\
             \x20 rows were added to the table\n",
        )
        .check();
    bench.run("survey b.db --table a").stdout_has(&["SQLite, table \"a\", 8 rows"]).check();
    bench.run("convert a.csv -o b.db --existing-table replace --sqlite-time unix --quiet").check();
    bench.run("convert a.csv -o b.db --into-table other --quiet").check();
    bench
        .run("survey b.db --table a")
        .stdout_has(&["SQLite, table \"a\", 4 rows", "other"])
        .check();
    bench.write("narrow.csv", "seen\n13/05/2024\n14/05/2024\n");
    bench
        .run("convert narrow.csv -o b.db --into-table a --existing-table append")
        .status(1)
        .stderr(
            "metachron: b.db cannot be written: its table \"a\" has no column \"seen\", so rows \
             cannot be added to it\n",
        )
        .check();
    bench
        .write("no.db", "this is no database, but text that is long enough to be looked at as one");
    bench
        .run("convert a.csv -o no.db")
        .status(1)
        .stderr("metachron: no.db cannot be written: file is not a database\n")
        .check();
    assert!(bench.read("no.db").starts_with("this is no database"));
}

const DOUBTFUL: &str = "ring,captured,n\nLF1,13/05/2024,1\nLF2,31/02/2024,2\nLF3,03/04/2024,3\nLF4,14/05/2024,4\n\
    LF5,n/a,5\nLF6,2024-05,6\nLF7,9999-12-31,7\nLF8,16/05/2024,8\n";

#[test]
fn empty_cells_say_why_and_corrections_are_fed_back() {
    let bench = Bench::with("a.csv", DOUBTFUL);
    bench
        .run("convert a.csv --note-column --rejects r.csv --tolerate 2 --quiet")
        .stdout(
            "ring,captured,captured_typed,captured_note,n\nLF1,13/05/2024,2024-05-13,,1\nLF2,31/02/2024,,no-such-day,2\n\
             LF3,03/04/2024,2024-04-03,,3\nLF4,14/05/2024,2024-05-14,,4\nLF5,n/a,,,5\nLF6,2024-05,,other-kind,6\n\
             LF7,9999-12-31,,placeholder,7\nLF8,16/05/2024,2024-05-16,,8\n",
        )
        .check();
    let rejects = bench.read("r.csv");
    assert!(rejects.lines().nth(1).unwrap().starts_with("2,3,captured,31/02/2024,no-such-day,"));
    // The rejects file, with the right answer filled in.
    bench.write(
        "fixed.csv",
        rejects.replace("correct the value,,LF2", "correct the value,2024-03-02,LF2"),
    );
    bench
        .run("convert a.csv --fixes fixed.csv --tolerate 1 -o b.csv")
        .stderr(
            "b.csv   8 rows\n\
             \x20 captured  → captured_typed  date  5 read, 1 missing, 1 placeholder, 1 \
             unreadable; 1 as --fixes says\n",
        )
        .check();
    assert!(bench.read("b.csv").contains("LF2,31/02/2024,2024-03-02,2\n"));
    for (fixes, says) in [
        (
            "column,value,right_value\ncaptured,31/02/2024,2 March\n",
            "line 2: \"2 March\" is no date in ISO 8601, such as 2024-04-03",
        ),
        (
            "column,value,right_value\ncaptured,32/02/2024,2024-03-02\n",
            "line 2: \"captured\" holds no \"32/02/2024\"; nothing was written",
        ),
        (
            "row,column,value,right_value\n3,captured,31/02/2024,2024-03-02\n",
            "line 2: row 3 of \"captured\" holds \"03/04/2024\", not \"31/02/2024\"",
        ),
        ("row,column,value,right_value\n99,captured,31/02/2024,2024-03-02\n", "there is no row 99"),
        ("column,value,right_value\nn,1,2024-03-02\n", "no column \"n\" is read"),
        ("column,value\ncaptured,1\n", "has no column \"right_value\""),
    ] {
        bench.write("wrong.csv", fixes);
        bench
            .run("convert a.csv --fixes wrong.csv -o none.csv")
            .status(1)
            .stderr_has(&[says])
            .check();
    }
    assert!(!bench.path().join("none.csv").exists());
    // The same file serves the next one, whose rows are others.
    bench.write(
        "next.csv",
        "ring,captured\nLF9,13/06/2024\nLF10,14/06/2024\nLF11,31/02/2024\nLF12,31/02/2024\n",
    );
    bench
        .run("convert next.csv --fixes fixed.csv -o none.csv")
        .status(1)
        .stderr_has(&["--fixes-by value goes by the raw values alone"])
        .check();
    bench
        .run("convert next.csv --fixes fixed.csv --fixes-by value --quiet")
        .stdout(
            "ring,captured,captured_typed\nLF9,13/06/2024,2024-06-13\nLF10,14/06/2024,2024-06-14\n\
             LF11,31/02/2024,2024-03-02\nLF12,31/02/2024,2024-03-02\n",
        )
        .check();
    bench
        .run("check next.csv --fixes fixed.csv --fixes-by value")
        .stdout_has(&["captured  date  decided     4        0           0"])
        .check();
    bench.run("convert next.csv --fixes-by value").status(2).stderr_has(&["--fixes"]).check();
    bench.write("both.csv", "row,column,value,right_value\n1,captured,31/02/2024,2024-03-02\n2,captured,31/02/2024,2024-03-03\n");
    bench
        .run("convert next.csv --fixes both.csv --fixes-by value")
        .status(1)
        .stderr_has(&["line 3: \"31/02/2024\" is 2024-03-02 in line 2 already"])
        .check();
}

#[test]
fn a_run_is_reported_for_programs() {
    let bench = Bench::with("a.csv", DOUBTFUL);
    let line = "convert a.csv --as-of 2024-06-01 --make 'm = captured | move +1 month' --sort-by captured \
                --run-report run.json --rejects r.csv -o b.csv --tolerate 2 --quiet";
    let report = || {
        bench.run(line).check();
        let text = bench.read("run.json");
        serde_json::from_str::<serde_json::Value>(&text).unwrap()
    };
    let first = report();
    assert_eq!((&first["report"], &first["version"]), (&"run".into(), &1.into()));
    assert_eq!(first["source"]["rows"], 8);
    assert_eq!(first["columns"][0]["reading"]["layouts"][0], "{day}/{month}/{year}");
    assert_eq!(first["columns"][0]["rows"]["unreadable"], 2);
    assert_eq!(
        (&first["derived"][0]["steps"], &first["derived"][0]["made"]),
        (&"captured | move +1 month".into(), &4.into())
    );
    assert_eq!(
        (&first["sorted_by"][0], &first["unreadable_rows"]),
        (&"captured".into(), &2.into())
    );
    for digest in [&first["source"]["digest"], &first["output"]["digest"], &first["readings"]] {
        assert!(digest.as_str().unwrap().starts_with("sha256:"));
    }
    assert_eq!(first["as_of"], "2024-06-01");
    let text = bench.read("run.json");
    report();
    assert_eq!(bench.read("run.json"), text, "the same day, the same bytes");
    bench.write("a.csv", DOUBTFUL.replace("16/05", "17/05"));
    let other = report();
    assert_ne!(first["source"]["digest"], other["source"]["digest"]);
    assert_ne!(first["output"]["digest"], other["output"]["digest"]);
    assert_eq!(first["readings"], other["readings"]);
    bench
        .run("convert a.csv --run-report a.csv -o b.csv")
        .status(2)
        .stderr("metachron: --run-report a.csv is the input; metachron never overwrites what it reads\n")
        .check();
}

#[test]
fn columns_are_described_as_the_w3c_has_it() {
    let bench = Bench::with("a.csv", CAPTURES);
    bench
        .run("convert a.csv --describe --infer-types -o b.csv")
        .stderr(
            "b.csv   4 rows\n\
             \x20 captured  → captured_typed  date      4 read\n\
             \x20 logged    → logged_typed    instant   3 read, 1 missing\n\
             \x20 clock     → clock_typed     time      3 read, 1 missing\n\
             \x20 effort    → effort_typed    duration  3 read, 1 missing\n\
             \x20 described in b.csv-metadata.json\n",
        )
        .check();
    let read: serde_json::Value = serde_json::from_str(&bench.read("b.csv-metadata.json")).unwrap();
    assert_eq!(
        (&read["@context"], &read["url"]),
        (&"http://www.w3.org/ns/csvw".into(), &"b.csv".into())
    );
    let columns = read["tableSchema"]["columns"].as_array().unwrap();
    let header = bench.read("b.csv");
    let titles: Vec<&str> =
        columns.iter().map(|column| column["titles"].as_str().unwrap()).collect();
    assert_eq!(titles.join(","), header.lines().next().unwrap());
    let of = |name: &str| {
        let column = columns.iter().find(|column| column["titles"] == name).unwrap();
        match &column["datatype"] {
            serde_json::Value::String(base) => base.clone(),
            own => format!("{} {}", own["base"].as_str().unwrap(), own["format"].as_str().unwrap()),
        }
    };
    assert_eq!(of("captured_typed"), "date yyyy-MM-dd");
    assert_eq!(of("logged_typed"), "dateTimeStamp yyyy-MM-ddTHH:mm:ss.SSXXX");
    assert_eq!(
        (of("clock_typed"), of("effort_typed"), of("n")),
        ("time HH:mm:ss".into(), "duration".into(), "integer".into())
    );
}

/// A table that takes a while to write.
#[cfg(unix)]
fn long_table(bench: &Bench) {
    let rows =
        (0..60_000).map(|row| format!("LF{row},{:02}/05/2024,{}\n", 1 + row % 28, "x".repeat(80)));
    bench.write("long.csv", format!("ring,captured,note\n{}", rows.collect::<String>()));
}

/// Starts to convert, and stops it by a signal once so many bytes are written.
#[cfg(unix)]
fn stopped(bench: &Bench, output: &str, bytes: u64, signal: rustix::process::Signal) -> bool {
    let mut child = Command::new(env!("CARGO_BIN_EXE_metachron"))
        .args(["convert", "long.csv", "--quiet", "-o", output])
        .current_dir(bench.path().join("."))
        .stderr(Stdio::null())
        .spawn()
        .unwrap();
    let part = || {
        let files = fs::read_dir(bench.path().join(".")).unwrap().flatten();
        let parts = files.filter(|file| file.file_name().to_string_lossy().ends_with(".part"));
        parts.filter_map(|file| file.metadata().ok()).map(|file| file.len()).max()
    };
    let stopped = loop {
        if child.try_wait().unwrap().is_some() {
            break false;
        }
        if part().is_some_and(|length| length >= bytes) {
            let id = rustix::process::Pid::from_child(&child);
            break rustix::process::kill_process(id, signal).is_ok();
        }
        std::hint::spin_loop();
    };
    child.wait().unwrap();
    stopped
}

#[cfg(unix)]
#[test]
fn what_is_killed_leaves_nothing_broken_under_the_final_name() {
    use rustix::process::Signal;
    let bench = Bench::with("a.csv", CAPTURES);
    long_table(&bench);
    let mut stops = 0;
    for (output, steps) in [
        ("out.csv", [0, 100_000, 1_500_000, 4_000_000]),
        ("out.parquet", [0, 4, 4, 4]),
        ("out.db", [0, 4_096, 1_000_000, 2_000_000]),
    ] {
        bench.write(output, "");
        let replace = if output == "out.db" { " --existing-table replace" } else { "" };
        bench.run(&format!("convert a.csv --quiet -o {output}{replace}")).check();
        let old = fs::read(bench.path().join(output)).unwrap();
        // Databases that are there are written in place, by transactions of their own; here they are new.
        let target = if output == "out.db" { "new.db" } else { output };
        for bytes in steps {
            stops += u64::from(stopped(&bench, target, bytes, Signal::KILL));
            match fs::read(bench.path().join(target)) {
                Ok(found) if target == output => {
                    if found != old {
                        // It was whole before the signal came.
                        bench
                            .run(&format!("survey {target} --column captured_typed"))
                            .stdout_has(&["60,000 rows"])
                            .check();
                        fs::write(bench.path().join(target), &old).unwrap();
                    }
                }
                Ok(_) => {
                    bench
                        .run(&format!("survey {target} --column captured_typed"))
                        .stdout_has(&["60,000 rows"])
                        .check();
                    fs::remove_file(bench.path().join(target)).unwrap();
                }
                Err(error) => assert_eq!(error.kind(), std::io::ErrorKind::NotFound),
            }
        }
    }
    assert!(stops > 0, "every run was over before it could be stopped");
}

#[cfg(unix)]
#[test]
fn what_is_interrupted_keeps_what_was_there_and_leaves_nothing_else() {
    use rustix::process::Signal;
    let bench = Bench::with("a.csv", CAPTURES);
    long_table(&bench);
    for signal in [Signal::HUP, Signal::INT, Signal::TERM] {
        bench.write("out.csv", "old");
        if stopped(&bench, "out.csv", 100_000, signal) && bench.read("out.csv") != "old" {
            assert_eq!(bench.read("out.csv").lines().count(), 60_001, "it was whole before");
        }
        let parts = fs::read_dir(bench.path().join(".")).unwrap().flatten();
        let names: Vec<String> =
            parts.map(|file| file.file_name().to_string_lossy().into_owned()).collect();
        assert!(!names.iter().any(|name| name.ends_with(".part")), "{names:?}");
    }
}

#[test]
fn dates_and_clocks_have_a_basic_format_too() {
    let bench = Bench::with("a.csv", CAPTURES);
    let options = "--iso-form basic --make 'w = captured | period week' --make 'm = captured | period month' --quiet";
    let table = bench.run(&format!("convert a.csv {options}")).output();
    assert!(
        table.contains("20240513,2024-05-13T10:15:30.25Z,20240513T101530.25Z,10:15,T101500,1 h 30 min,PT1H30M,1,2024W20,2024-05\n"),
        "{table}"
    );
    bench.run(&format!("convert a.csv {options} -o b.jsonl")).check();
    assert!(bench.read("b.jsonl").contains("\"captured_typed\":\"20240513\""));
    bench
        .run("convert a.csv --iso-form basic -o b.parquet")
        .status(2)
        .stderr(
            "metachron: --iso-form basic is about text, and b.parquet has types, or patterns that \
             know no basic format\n",
        )
        .check();
}

#[cfg(target_os = "linux")]
#[test]
fn a_full_disk_is_said() {
    Bench::with("a.csv", CAPTURES)
        .run("convert a.csv -o /dev/full")
        .status(1)
        .stderr("metachron: cannot write /dev/full: No space left on device (os error 28)\n")
        .check();
}

#[test]
fn the_delimiter_of_the_output_can_be_said() {
    let bench = Bench::with("a.csv", "ring;seen\nLF1;13 April 2024\nLF2;14 April 2024\n");
    for (said, header) in [
        ("", "ring;seen;seen_typed\n"),
        ("--output-delimiter comma", "ring,seen,seen_typed\n"),
        ("--output-delimiter tab", "ring\tseen\tseen_typed\n"),
        ("--output-delimiter '|'", "ring|seen|seen_typed\n"),
    ] {
        let table = bench.run(&format!("convert a.csv {said} --quiet")).output();
        assert!(table.starts_with(header), "{said}: {table}");
    }
    for (said, says) in [
        (
            "--output-delimiter colon",
            "--output-delimiter \"colon\" is none of comma, tab, semicolon, pipe\n",
        ),
        (
            "--output-delimiter comma -o b.parquet",
            "--output-delimiter has no effect on b.parquet: it is about delimited text\n",
        ),
    ] {
        bench
            .run(&format!("convert a.csv {said}"))
            .status(2)
            .stderr(format!("metachron: {says}"))
            .check();
    }
    // A single column whose values are quoted because of their commas.
    bench.write("c.csv", "seen\n\"April 13, 2024\"\n\"April 14, 2024\"\n");
    bench
        .run("convert c.csv --quiet")
        .stdout("seen,seen_typed\n\"April 13, 2024\",2024-04-13\n\"April 14, 2024\",2024-04-14\n")
        .check();
}

#[test]
fn objects_keep_their_values_in_the_other_form_of_json_too() {
    let bench = Bench::with(
        "a.json",
        "[\n  {\"n\": 1, \"ok\": true, \"note\": \"\",\n   \"at\": {\"x\": 2.50}, \"seen\": \"13/04/2024\"},\n  \
         {\"n\": -0, \"ok\": null, \"note\": \"a\\nb\", \"seen\": \"14/04/2024\"}\n]\n",
    );
    bench.run("convert a.json -o b.jsonl --quiet").check();
    let lines = "{\"n\": 1, \"ok\": true, \"note\": \"\",    \"at\": {\"x\": 2.50}, \"seen\": \"13/04/2024\",\
                 \"seen_typed\":\"2024-04-13\"}\n\
                 {\"n\": -0, \"ok\": null, \"note\": \"a\\nb\", \"seen\": \"14/04/2024\",\"seen_typed\":\"2024-04-14\"}\n";
    assert_eq!(bench.read("b.jsonl"), lines);
    bench.run("convert b.jsonl -o c.json --replace-raw --set 'seen: layouts=\"{day}/{month}/{year}\"' --rejects r.csv --set 'seen_typed: convert=false' --quiet").check();
    let array = bench.read("c.json");
    let objects: Vec<serde_json::Value> = serde_json::from_str(&array).unwrap();
    assert_eq!((objects.len(), &objects[0]["at"]["x"]), (2, &serde_json::json!(2.5)));
    assert!(array.starts_with("[\n{\"n\": 1") && array.ends_with("}\n]\n"), "{array}");
    assert!(array.contains("},\n{\"n\": -0"), "{array}");
    // Rows that are left out, and rows in another order.
    for (condition, left) in
        [("seen >= 2024-04-14", 1), ("seen <= 2024-04-13", 1), ("seen = 2030-01-01", 0)]
    {
        for (input, output) in [
            ("a.json", "d.json"),
            ("a.json", "d.jsonl"),
            ("b.jsonl", "e.json"),
            ("b.jsonl", "e.jsonl"),
        ] {
            let of_input = if input == "a.json" { "" } else { "--set 'seen_typed: convert=false'" };
            let seen = format!("{of_input} --replace-raw --rejects r.csv");
            bench
                .run(&format!("convert {input} -o {output} --where '{condition}' {seen} --quiet"))
                .check();
            let text = bench.read(output);
            let objects: Vec<serde_json::Value> = match output.ends_with('l') {
                true => text.lines().map(|line| serde_json::from_str(line).unwrap()).collect(),
                false => {
                    serde_json::from_str(&text).unwrap_or_else(|error| panic!("{error}: {text}"))
                }
            };
            assert_eq!(objects.len(), left, "{input} {output} {condition}: {text}");
        }
    }
    bench.run("convert a.json -o d.jsonl --sort-by seen --quiet").check();
}
