//! Whatever goes wrong: one or two lines that say what, where, and what to do; the right exit status.

use crate::harness::Bench;

#[test]
fn files_that_cannot_be_read() {
    let bench = Bench::with("empty.csv", "");
    std::fs::create_dir(bench.path().join("stations")).unwrap();
    bench.write("bom.csv", "\u{FEFF}");
    bench.write("latin.csv", b"ring,seen\nLF1,13/04/2024\nLF2,M\xE4rz\n");
    bench.write("open.csv", "ring,seen\nLF1,\"13/04/2024\nLF2,14/04/2024\n");
    bench.write("blank.csv", "\nring,seen\n");
    for (line, message) in [
        ("nowhere.csv", "nowhere.csv: there is no such file"),
        ("stations", "stations: is a folder; name a file in it"),
        ("empty.csv", "empty.csv: is empty"),
        ("bom.csv", "bom.csv: is empty"),
        ("open.csv", "open.csv: the quoted field that begins in line 2, column 2 is never closed"),
    ] {
        for command in ["survey", "convert"] {
            bench
                .run(&format!("{command} {line}"))
                .status(1)
                .stderr(format!("metachron: {message}\n"))
                .check();
        }
    }
}

#[test]
fn standard_input_that_is_empty() {
    Bench::new().run("survey -").status(1).stderr("metachron: standard input: is empty\n").check();
}

#[test]
#[cfg(unix)]
fn files_without_rights() {
    use std::os::unix::fs::PermissionsExt;
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    let lock = |name: &str, mode| {
        let path = bench.path().join(name);
        std::fs::set_permissions(path, std::fs::Permissions::from_mode(mode)).unwrap();
    };
    bench.write("secret.csv", "seen\n");
    bench.write("old.csv", "old");
    lock("secret.csv", 0o000);
    lock("old.csv", 0o444);
    // Whoever may do anything is not refused; then there is nothing to see here.
    if std::fs::read(bench.path().join("secret.csv")).is_err() {
        bench
            .run("survey secret.csv")
            .status(1)
            .stderr("metachron: secret.csv: you may not read it\n")
            .check();
    }
    bench
        .run("convert a.csv -o old.csv")
        .status(1)
        .stderr("metachron: cannot write old.csv: you may not write there\n")
        .check();
    assert_eq!(bench.read("old.csv"), "old");
}

#[test]
fn a_header_and_nothing_else() {
    let bench = Bench::with("a.csv", "ring,seen\n");
    bench
        .run("survey a.csv")
        .stdout_has(&["header in line 1, 0 rows", "ring, seen: There are no rows."])
        .check();
    bench
        .run("convert a.csv")
        .status(1)
        .stderr("metachron: no column of a.csv is to be converted; metachron survey a.csv shows what it holds\n")
        .check();
}

#[test]
fn outputs_that_cannot_be_written() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    std::fs::create_dir(bench.path().join("out")).unwrap();
    for (options, status, message) in [
        ("-o no/such/b.csv", 1, "cannot write no/such/b.csv: its folder does not exist"),
        ("-o out", 1, "cannot write out: is a folder; name a file in it"),
        ("-o a.csv", 2, "the output a.csv is the input; metachron never overwrites what it reads"),
        (
            "-o ./a.csv",
            2,
            "the output ./a.csv is the input; metachron never overwrites what it reads",
        ),
        ("-o b.csv --rejects b.csv", 2, "--rejects b.csv is the output as well; name another file"),
        (
            "-o b.csv --rejects a.csv",
            2,
            "--rejects a.csv is the input; metachron never overwrites what it reads",
        ),
        ("-o b.csv --rejects no/r.csv", 1, "cannot write no/r.csv: its folder does not exist"),
    ] {
        bench
            .run(&format!("convert a.csv {options}"))
            .status(status)
            .stderr(format!("metachron: {message}\n"))
            .check();
    }
    bench
        .run("survey a.csv --save a.csv")
        .status(2)
        .stderr("metachron: --save a.csv is the input; metachron never overwrites what it reads\n")
        .check();
    assert_eq!(bench.files(), ["a.csv", "out"], "nothing is left behind");
}

#[test]
fn options_that_make_no_sense() {
    let bench = Bench::with("a.csv", "captured,ring\n13/04/2024,1\n14/04/2024,2\n");
    for (options, message) in [
        ("--column capturd", "a.csv has no column \"capturd\"; did you mean \"captured\"?\n"),
        ("--column weight", "a.csv has no column \"weight\"; metachron survey a.csv lists them\n"),
        ("--set 'weight: order=dmy'", "a.csv has no column \"weight\""),
        ("--order dym", "--order \"dym\" is none of dmy, mdy, ymd, ydm\n"),
        (
            "--layout '{day}.{mnth}.{year}'",
            "{mnth} in \"{day}.{mnth}.{year}\" is no field; did you mean {month}?\n  {day}.{mnth}.{year}\n        ^^^^^^\n",
        ),
        ("--layout '{day}/{month}'", "needs the rest of its date"),
        ("--layout rfc-339", "has no field such as {day}; did you mean the standard rfc-3339?"),
        ("--contested never", "--contested \"never\" is none of empty, prefer\n"),
        (
            "--two-digit-from 9999",
            "--two-digit-from 9999 is beyond what can be written; give a year from 100 to 9900\n",
        ),
        ("--tolerate x", "is neither a number of rows such as 20 nor a share such as 0.5%"),
        ("--delimiter colon", "--delimiter \"colon\" is none of comma, tab, semicolon, pipe\n"),
        (
            "--column captured --column ring --into x",
            "--into names one column, but several are named",
        ),
    ] {
        bench.run(&format!("convert a.csv {options}")).status(2).stderr_has(&[message]).check();
    }
    for (layout, message) in [
        (
            "{month}/{day}/{year}",
            "--order dmy says day first, but --layout \"{month}/{day}/{year}\" is month first; give one of them",
        ),
        (
            "{day}/{month}/{year}",
            "a layout has its order; --order dmy beside --layout says nothing more",
        ),
        ("{day}/{mnth}/{year}", "did you mean {month}?"),
    ] {
        let line = format!("convert a.csv --order dmy --layout '{layout}'");
        bench.run(&line).status(2).stderr_has(&[message]).check();
    }
    for (line, says) in [
        ("", "Usage"),
        ("convert", "metachron: convert needs a FILE\n  what it takes: metachron convert --help\n"),
        ("survy a.csv", "metachron: there is no command \"survy\"; did you mean survey?\n"),
        (
            "survey a.csv --colum x",
            "metachron: survey has no option --colum; did you mean --column?\n",
        ),
    ] {
        bench.run(line).status(2).stderr_has(&[says]).check();
    }
}

/// What changes nothing is refused, by every command that takes it.
#[test]
fn options_without_effect_are_refused() {
    let bench = Bench::with(
        "a.csv",
        "ring,captured,clock,n\n1,13/04/2024,2024-03-05 10:15,5\n2,14/04/2024,2024-03-06 10:15,7\n",
    );
    for (options, message) in [
        (
            "--set 'captured: anchor=start'",
            "--anchor has no effect on \"captured\": its values are no months",
        ),
        (
            "--set 'captured: year=2024'",
            "--year has no effect on \"captured\": its values have years",
        ),
        (
            "--set 'captured: epoch=sheet-1900'",
            "--epoch has no effect on \"captured\": it holds no numbers",
        ),
        (
            "--set 'n: unit=hours, layouts=\"{minutes}\"'",
            "--unit has no effect on \"n\": the layouts say",
        ),
        (
            "--set 'captured: zone=Europe/Oslo'",
            "--zone has no effect on \"captured\": it holds no clock times of a day",
        ),
        (
            "--set 'captured: contested=prefer'",
            "--contested has no effect on \"captured\": one layout reads it",
        ),
        (
            "--set 'clock: repeated_clock=first'",
            "--repeated-clock has no effect on \"clock\": nothing says in which zone",
        ),
        (
            "--skipped-clock after",
            "--skipped-clock has no effect: no column holds clock times whose zone is known",
        ),
    ] {
        for command in ["survey", "check", "convert"] {
            bench
                .run(&format!("{command} a.csv {options}"))
                .status(2)
                .stderr_has(&[message])
                .check();
        }
    }
    for (options, message) in [
        ("--to-zone Europe/Oslo", "--to-zone has no effect: no column holds instants\n"),
        ("--instants local", "--instants has no effect: no column holds instants\n"),
        (
            "--into-table x -o b.csv",
            "--into-table has no effect on b.csv: it is about databases, SQL and workbooks\n",
        ),
        (
            "--existing-table append -o b.csv",
            "--existing-table has no effect on b.csv: it is about databases\n",
        ),
        (
            "--sqlite-time unix -o b.csv",
            "--sqlite-time has no effect on b.csv: it is about SQLite databases\n",
        ),
        (
            "--output-encoding utf-8 -o b.parquet",
            "--output-encoding has no effect on b.parquet: it is about text\n",
        ),
        (
            "--infer-types -o b.csv",
            "--infer-types has no effect on b.csv: it is about outputs with types, or --describe\n",
        ),
    ] {
        bench
            .run(&format!("convert a.csv {options}"))
            .status(2)
            .stderr(format!("metachron: {message}"))
            .check();
    }
    bench
        .run("survey a.csv --make 'm = captured | month'")
        .status(2)
        .stderr("metachron: --make says what convert makes; survey only keeps it, with --save FILE.toml\n")
        .check();
    // A name that is taken is refused in the same words, whatever gives it.
    for (option, name) in [
        ("--column captured --into ring", "--into"),
        ("--stamp ring", "--stamp"),
        ("--make 'ring = captured | month'", "--make"),
        ("--series 'ring = 2024-01-01 / 1 day'", "--series"),
    ] {
        bench
            .run(&format!("convert a.csv {option}"))
            .status(2)
            .stderr(format!("metachron: {name} \"ring\": there is a column of that name\n"))
            .check();
    }
    assert_eq!(bench.files(), ["a.csv"]);
}

/// A typing error in what is made is found before a question whose answers would repeat it.
#[test]
fn what_was_typed_is_checked_before_anything_is_asked() {
    let bench = Bench::with("a.csv", "ring,seen,lap\n1,03/04/2024,3:05\n2,05/06/2024,4:20\n");
    for (typed, says) in [
        ("--make 'x = seen | mve +1 day'", "\"x\": \"mve\" is no step; did you mean move?"),
        ("--make 'x = sen | month'", "there is no column \"sen\"; did you mean \"seen\"?"),
        ("--where 'sen >= 2024-01-01'", "there is no column \"sen\""),
    ] {
        bench.run(&format!("convert a.csv {typed}")).status(2).stderr_has(&[says]).check();
    }
    // What depends on the answer is left to it.
    bench.run("convert a.csv --make 'x = seen | month'").status(3).stderr_has(&["is open"]).check();
    // So is a name that is taken, by every command that takes it.
    for (option, name) in [("--stamp seen", "--stamp"), ("--set 'seen: into=ring'", "--into")] {
        let of = if name == "--into" { "ring" } else { "seen" };
        let says = format!("metachron: {name} \"{of}\": there is a column of that name\n");
        bench.run(&format!("convert a.csv {option}")).status(2).stderr(says).check();
    }
    for line in [
        "check a.csv --set 'seen: into=ring'",
        "survey a.csv --set 'seen: into=ring' --save a.toml",
    ] {
        bench
            .run(line)
            .status(2)
            .stderr_has(&["--into \"ring\": there is a column of that name"])
            .check();
    }
    for line in [
        "check a.csv --make 'x = seen | mve +1 day'",
        "survey a.csv --make 'x = seen | mve +1 day' --save a.toml",
    ] {
        bench.run(line).status(2).stderr_has(&["\"mve\" is no step; did you mean move?"]).check();
    }
    assert_eq!(bench.files(), ["a.csv"]);
}

#[test]
fn an_order_that_the_form_cannot_have_is_a_question() {
    Bench::with("a.csv", "seen\n2024-04-13\n2024-04-14\n")
        .run("convert a.csv --order dmy")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 seen       2 values do not fit what was said, but fit another order or layout (first in row 1:\n\
             \x20            \"2024-04-13\").\n\
             \x20            If the year comes first:\n\
             \x20              metachron convert a.csv --set 'seen: order=ymd' -o a.out.csv\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert a.csv --set 'seen: convert=false' -o a.out.csv\n",
        )
        .check();
}

#[test]
fn text_from_outside_does_not_steer_the_terminal() {
    Bench::with("a.csv", "se\u{1b}[31men\n03/04/2024\n\u{1b}]0;x\u{7}\n04/04/2024\n")
        .run("survey a.csv")
        .stdout_has(&["se\\u{1b}[31men"])
        .check()
        .chars()
        .for_each(|c| assert!(!c.is_control() || c == '\n', "{c:?}"));
}

#[test]
fn help_and_version_are_no_errors() {
    let bench = Bench::new();
    bench.run("--help").stdout_has(&["survey", "convert", "demo", "Exit status"]).check();
    bench
        .run("--version")
        .stdout_has(&[&format!("metachron {} (time zones 20", env!("CARGO_PKG_VERSION"))])
        .check();
    // The short help shows the beginning of the work, the long one everything in its group.
    for command in ["survey", "convert", "check", "count"] {
        let help = |option: &str| {
            let output = bench.command(&format!("{command} {option}")).output().unwrap();
            String::from_utf8(output.stdout).unwrap()
        };
        let (short, long) = (help("-h"), help("--help"));
        let options =
            |text: &str| text.lines().filter(|line| line.trim_start().starts_with('-')).count();
        assert!(options(&short) <= 16, "{short}");
        assert!(options(&long) > 30 && short.contains("All options: "), "{long}");
        assert_eq!(
            short
                .lines()
                .filter(|line| line.starts_with(&format!("  metachron {command} ")))
                .count(),
            3
        );
        let groups: Vec<&str> =
            long.lines().filter(|line| !line.starts_with(' ') && line.ends_with(':')).collect();
        let order = [
            "Arguments:",
            "Options:",
            "Input:",
            "Decisions:",
            "How columns are read:",
            "Clocks and zones:",
            "What is counted or drawn:",
            "New columns and rows:",
            "What must hold:",
            "Output:",
            "Cells not read:",
            "Examples:",
        ];
        let places: Vec<usize> =
            groups.iter().map(|own| order.iter().position(|o| o == own).unwrap()).collect();
        assert!(places.is_sorted(), "{groups:?}");
    }
}

#[cfg(unix)]
#[test]
fn no_file_of_a_run_destroys_another() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    bench.write("r.toml", "metachron = 1\n\n[[column]]\nfrom = \"seen\"\norder = \"dmy\"\n");
    bench.write("f.csv", "column,value,right_value\nseen,1.1,2024-01-01\n");
    std::os::unix::fs::symlink("r.toml", bench.path().join("link")).unwrap();
    std::os::unix::fs::symlink("b.csv", bench.path().join("to-b")).unwrap();
    std::fs::create_dir(bench.path().join("out")).unwrap();
    std::fs::hard_link(bench.path().join("a.csv"), bench.path().join("out/a.csv")).unwrap();
    let before: Vec<(String, Vec<u8>)> =
        ["a.csv", "r.toml", "f.csv"].map(|name| (name.to_owned(), bench.bytes(name))).into();
    let never = "metachron never overwrites what it reads";
    let another = "name another file";
    for (line, message) in [
        ("survey a.csv --evidence a.csv", format!("--evidence a.csv is the input; {never}")),
        (
            "survey a.csv --readings r.toml --evidence ./r.toml",
            format!("--evidence ./r.toml is the readings file; {never}"),
        ),
        (
            "survey a.csv --evidence e --save e",
            format!("--save e is --evidence as well; {another}"),
        ),
        (
            "convert a.csv --readings r.toml -o link",
            format!("the output link is the readings file; {never}"),
        ),
        (
            "convert a.csv --fixes f.csv --rejects f.csv -o b.csv",
            format!("--rejects f.csv is the file of right answers; {never}"),
        ),
        (
            "convert a.csv --rejects b.csv -o to-b",
            format!("--rejects b.csv is the output as well; {another}"),
        ),
        (
            "convert a.csv --rejects b.csv-metadata.json --describe -o b.csv",
            format!("--rejects b.csv-metadata.json is the description as well; {another}"),
        ),
        (
            "convert a.csv --rejects x --run-report ./x -o b.csv",
            format!("--run-report ./x is --rejects as well; {another}"),
        ),
        ("convert a.csv --output-dir out", format!("the output out/a.csv is the input; {never}")),
        (
            "count a.csv --readings r.toml --column seen --per month -o r.toml",
            format!("the output r.toml is the readings file; {never}"),
        ),
        (
            "chart a.csv --readings r.toml --column seen -o link",
            "a chart is drawn as .png or .svg, not as link".to_owned(),
        ),
    ] {
        let run = bench.run(line).status(2);
        match line.starts_with("chart") {
            true => run.stderr_has(&["metachron: "]).check(),
            false => run.stderr(format!("metachron: {message}\n")).check(),
        };
    }
    for (name, bytes) in before {
        assert_eq!(bench.bytes(&name), bytes, "{name}");
    }
    assert_eq!(bench.files(), ["a.csv", "f.csv", "link", "out", "r.toml", "to-b"]);
    // What is the same device is written to twice, and a readings file is saved over itself.
    bench.run("convert a.csv --rejects /dev/null --run-report /dev/null --quiet -o b.csv").check();
    bench
        .run("survey a.csv --readings r.toml --save link")
        .stdout_has(&["You said"])
        .stderr_has(&["saved in link"])
        .check();
    assert!(bench.path().join("link").is_symlink());
    // A report that cannot be written is known before the output is replaced.
    bench.write("b.csv", "old");
    bench
        .run("convert a.csv -o b.csv --run-report no/x.json")
        .status(1)
        .stderr_has(&["cannot write no/x.json"])
        .check();
    assert_eq!(bench.read("b.csv"), "old");
}

#[cfg(unix)]
#[test]
fn pipes_are_read_and_what_has_no_end_ends() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    // A named pipe can be read once, and is looked at twice.
    let pipe = bench.path().join("pipe");
    assert!(std::process::Command::new("mkfifo").arg(&pipe).status().unwrap().success());
    let writer = std::thread::spawn(move || std::fs::write(pipe, "seen\n13/04/2024\n14/04/2024\n"));
    let output = bench.command("convert pipe --quiet").output().unwrap();
    writer.join().unwrap().unwrap();
    let table = "seen,seen_typed\n13/04/2024,2024-04-13\n14/04/2024,2024-04-14\n";
    assert_eq!(String::from_utf8(output.stdout).unwrap(), table);
    let piped = bench.run("convert /dev/stdin --quiet").stdin("seen\n13/04/2024\n14/04/2024\n");
    piped.stdout(table).check();

    let device = "metachron: /dev/zero: is a device, not a table\n";
    bench.run("survey /dev/zero").status(1).stderr(device).check();
    let endless = "metachron: /dev/zero: does not end within 64 MB\n";
    bench.run("convert a.csv --readings /dev/zero").status(1).stderr(endless).check();
    bench.run("survey --merge /dev/zero").status(1).stderr(endless).check();
    let full = "metachron: cannot write /dev/full: ";
    for line in ["survey a.csv --save /dev/full", "survey a.csv --evidence /dev/full"] {
        bench.run(line).status(1).stdout_has(&["decided"]).stderr_has(&[full]).check();
    }
    bench.run("convert a.csv -o /dev/full --quiet").status(1).stderr_has(&[full]).check();

    // No place for temporary files.
    let nowhere = bench.path().join("nowhere");
    let told = format!(
        "temporary files cannot be kept in {}: there is no such folder; TMPDIR names another folder\n",
        nowhere.display()
    );
    bench
        .run("survey -")
        .stdin("seen\n13/04/2024\n")
        .env("TMPDIR", nowhere.to_str().unwrap())
        .status(1)
        .stderr(format!("metachron: standard input: {told}"))
        .check();
    bench
        .run("convert a.csv --sort-by seen -o b.csv --quiet")
        .env("TMPDIR", nowhere.to_str().unwrap())
        .status(1)
        .stderr(format!("metachron: rows cannot be sorted: {told}"))
        .check();
    bench
        .run("convert a.csv --rejects -")
        .status(2)
        .stderr("metachron: the output and --rejects would both be written to standard output; name a file\n")
        .check();
}

#[test]
fn what_can_mean_nothing_gets_a_plain_word() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    for (options, status, message) in [
        (
            "--tolerate -1",
            2,
            "--tolerate \"-1\" is neither a number of rows such as 20 nor a share such as 0.5%",
        ),
        (
            "--skip-lines 10000000000000000000",
            1,
            "a.csv: has 3 lines, and 10000000000000000000 of them were to be passed over",
        ),
        ("--into ''", 2, "--into \"\" is no name"),
        ("--stamp ' '", 2, "--stamp \" \" is no name"),
        (
            "--set 'seen: order=dmy' --set 'seen: order=mdy'",
            2,
            "--set \"seen: order=dmy\" and --set \"seen: order=mdy\" both say order; leave one out",
        ),
        (
            "--make 'w = seen | period week' --make 'w = seen | period month'",
            2,
            "--make makes \"w\" twice; call one otherwise",
        ),
    ] {
        bench
            .run(&format!("convert a.csv {options}"))
            .status(status)
            .stderr_has(&[&format!("metachron: {message}\n")])
            .check();
    }
    // What adds up may be said again.
    let known = "--set 'seen: known=\"13/04/2024=2024-04-13\"' --set 'seen: known=\"14/04/2024=2024-04-14\"'";
    bench.run(&format!("convert a.csv {known} --quiet -o b.csv")).check();
    // A first line of blanks is not longer than a record may be.
    bench.write("a.csv", " ".repeat(2_100_000) + "\nseen\n13/04/2024\n");
    bench
        .run("survey a.csv --max-record 1")
        .status(1)
        .stderr_has(&["the record that begins in line 1 is longer than 1 MB"])
        .check();
}

#[test]
fn outputs_in_a_folder_are_named_for_their_format() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\n");
    bench.write("b.tsv", "seen\tn\n13/04/2024\t1\n");
    for (format, names) in [
        ("parquet", ["a.parquet", "b.parquet"]),
        ("csv", ["a.csv", "b.csv"]),
        ("jsonl", ["a.jsonl", "b.jsonl"]),
    ] {
        bench
            .run(&format!(
                "convert a.csv b.tsv --order dmy --output-format {format} --output-dir {format} --quiet"
            ))
            .check();
        let entries = std::fs::read_dir(bench.path().join(format)).unwrap();
        let mut found: Vec<String> =
            entries.map(|entry| entry.unwrap().file_name().into_string().unwrap()).collect();
        found.sort();
        assert_eq!(found, names);
    }
}
