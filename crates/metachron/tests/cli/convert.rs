//! `metachron convert`

use std::io::Read;
use std::process::Stdio;

use crate::harness::{Bench, table};

#[test]
fn typed_columns_stand_beside_raw_ones() {
    let bench = Bench::with(
        "captures.csv",
        "ring,captured,\"logged at\",n\r\nLF1,13/04/2024,2024-04-13 06:10:00.5 +0200,1\r\n\
         LF2,\"14/04/2024\",,2\r\nLF3,N/A,2024-04-15 06:10:00 Z,\"a,\"\"b\"\"\"",
    );
    bench
        .run("convert captures.csv -o captures.out.csv")
        .stderr(
            "captures.out.csv   3 rows\n  \
               captured   → captured_typed   date     2 read, 1 missing\n  \
               logged at  → logged at_typed  instant  2 read, 1 missing\n",
        )
        .check();
    assert_eq!(
        bench.read("captures.out.csv"),
        "ring,captured,captured_typed,\"logged at\",logged at_typed,n\r\n\
         LF1,13/04/2024,2024-04-13,2024-04-13 06:10:00.5 +0200,2024-04-13T04:10:00.5Z,1\r\n\
         LF2,\"14/04/2024\",2024-04-14,,,2\r\n\
         LF3,N/A,,2024-04-15 06:10:00 Z,2024-04-15T06:10:00.0Z,\"a,\"\"b\"\"\""
    );
}

#[test]
fn an_open_column_stops_everything() {
    let text = "captured,released\n13/04/2024,03/04/2024\n14/04/2024,04/04/2024\n";
    let bench = Bench::with("captures.csv", text);
    bench.write("captures.out.csv", "yesterday's");
    bench
        .run("convert captures.csv -o captures.out.csv")
        .status(3)
        .stderr(
            r#"metachron: 1 of 2 date columns is open; nothing was written

  released   All 2 dates fit both day first and month first: no value has a part above 12 that would tell day
             from month. Only hints speak for day first. "captured" is day first beyond doubt.
               day first    2024-04-03 to 2024-04-04  "03/04/2024" is 3 April 2024
               month first  2024-03-04 to 2024-04-04  "03/04/2024" is 4 March 2024
             If the day comes first:
               metachron convert captures.csv --set 'released: order=dmy' -o captures.out.csv
             If the month comes first:
               metachron convert captures.csv --set 'released: order=mdy' -o captures.out.csv
             If you know the right date of one value, say it, for example:
               metachron convert captures.csv --set 'released: known="03/04/2024=2024-04-03"' -o captures.out.csv
             A few more values with a day above 12 would decide it.
             If it is no date, or to leave it as it is for now:
               metachron convert captures.csv --set 'released: convert=false' -o captures.out.csv
"#,
        )
        .check();
    assert_eq!(bench.read("captures.out.csv"), "yesterday's");
    assert_eq!(bench.files(), ["captures.csv", "captures.out.csv"]);
}

#[test]
fn the_quarrel_of_three_values_is_never_converted_by_default() {
    let bench = Bench::with("seen.csv", "seen\n03/04/2024\n13/04/2024\n04/13/2024\n");
    bench
        .run("convert seen.csv")
        .status(3)
        .stderr_has(&["the date column is open", "1 only month first"])
        .check();
    for (options, column, status) in [
        ("--order dmy", ["2024-04-03", "2024-04-13", ""], 4),
        ("--order mdy", ["2024-03-04", "", "2024-04-13"], 4),
        ("--order dmy --tolerate 1", ["2024-04-03", "2024-04-13", ""], 0),
        ("--order dmy --tolerate 33%", ["2024-04-03", "2024-04-13", ""], 4),
        ("--order dmy --tolerate 34%", ["2024-04-03", "2024-04-13", ""], 0),
        (
            "--layout '{day}/{month}/{year}' --layout '{month}/{day}/{year}'",
            ["", "2024-04-13", "2024-04-13"],
            4,
        ),
        (
            "--layout '{month}/{day}/{year}' --layout '{day}/{month}/{year}' --contested prefer",
            ["2024-03-04", "2024-04-13", "2024-04-13"],
            0,
        ),
        ("--set 'seen: order=dmy'", ["2024-04-03", "2024-04-13", ""], 4),
        ("--column seen --order dmy", ["2024-04-03", "2024-04-13", ""], 4),
    ] {
        let [a, b, c] = column;
        let says: &[&str] = if status == 4 {
            &["metachron: 1 row has an unreadable or contested cell"]
        } else {
            &[]
        };
        bench
            .run(&format!("convert seen.csv {options} --quiet"))
            .stdout(format!("seen,seen_typed\n03/04/2024,{a}\n13/04/2024,{b}\n04/13/2024,{c}\n"))
            .stderr_has(says)
            .status(status)
            .check();
    }
}

#[test]
fn who_gives_several_layouts_is_told_how_often_they_disagree() {
    let bench = Bench::with("seen.csv", "seen\n03/04/2024\n13/04/2024\n5.3.2024\n");
    let slashes = "--layout '{day}/{month}/{year}' --layout '{month}/{day}/{year}'";
    bench
        .run(&format!("convert seen.csv {slashes} --layout '{{day}}.{{month}}.{{year}}'"))
        .status(4)
        .stdout(
            "seen,seen_typed\n\
             03/04/2024,\n\
             13/04/2024,2024-04-13\n\
             5.3.2024,2024-03-05\n",
        )
        .stderr(
            "standard output   3 rows\n\
             \x20 seen  → seen_typed  date  2 read, 1 contested\n\
             metachron: 1 row has an unreadable or contested cell (row 1); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    bench
        .run("convert seen.csv --layout '{day}/{month}/{year}' --layout '{day}.{month}.{year}'")
        .stdout(
            "seen,seen_typed\n\
             03/04/2024,2024-04-03\n\
             13/04/2024,2024-04-13\n\
             5.3.2024,2024-03-05\n",
        )
        .stderr(
            "standard output   3 rows\n\
             \x20 seen  → seen_typed  date  3 read, 0 contested\n",
        )
        .check();
}

#[test]
fn what_an_import_exchanged_is_found_in_text_and_undone() {
    let mut table = String::from("seen\n");
    for day in 1..=28 {
        // Day first in the source, read by an import as month first.
        table.push_str(&match day {
            ..=12 => format!("2024-{day:02}-03\n"),
            _ => format!("{day}/03/2024\n"),
        });
    }
    let bench = Bench::with("seen.csv", table);
    bench.run("survey seen.csv").stdout_has(&["misread", "by chance less than 1 in 10^17"]).check();
    let asked = "none of 12 dates have a day above 12,\n             and all 16 dates in another form do. A swap";
    bench.run("convert seen.csv").status(3).stderr_has(&[asked]).check();
    // Who says how text is written has not said what the import did.
    let layouts = "--layout '{day}/{month}/{year}' --layout '{year}-{month}-{day}'";
    let way = format!("{layouts} --set 'seen: repair=half-swapped'");
    bench.run(&format!("convert seen.csv {layouts}")).status(3).stderr_has(&[asked, &way]).check();
    bench
        .run("convert seen.csv --repair half-swapped")
        .stdout_has(&["2024-05-03,2024-03-05\n", "28/03/2024,2024-03-28\n"])
        .stderr(
            "standard output   28 rows\n\
             \x20 seen  → seen_typed  date  28 read; day and month exchanged back in what an \
             import wrote\n",
        )
        .check();
    bench
        .run("survey seen.csv --repair half-swapped --save seen.toml")
        .stdout_has(&["Day and month of 12 dates are exchanged back, because you say so"])
        .stderr(
            "metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert seen.csv --readings seen.toml -o seen.out.csv\n",
        )
        .check();
    bench
        .run("convert seen.csv --readings seen.toml --quiet")
        .stdout_has(&["2024-05-03,2024-03-05\n"])
        .check();
    // Where no text is left there is nothing that could have been exchanged, whatever is said or saved.
    bench.write("iso.csv", "seen\n2024-05-03\n2024-06-04\n");
    let layout = "--layout '{year}-{month}-{day}' --repair half-swapped";
    bench
        .run(&format!("convert iso.csv {layout}"))
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 seen       There is nothing to repair: such an import leaves dates beside text, and this column has only one\n\
             \x20            of them. You gave {year}-{month}-{day}.\n\
             \x20            If every date is right as it stands:\n\
             \x20              metachron convert iso.csv --layout '{year}-{month}-{day}' --set 'seen: repair=none' -o iso.out.csv\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert iso.csv --set 'seen: convert=false' -o iso.out.csv\n",
        )
        .check();
    bench
        .run("convert seen.csv --repair half")
        .status(2)
        .stderr("metachron: --repair \"half\" is none of half-swapped, swapped, month-year, none\n")
        .check();
}

#[test]
fn a_stronger_voice_wins_key_by_key() {
    let bench = Bench::with("seen.csv", "seen,n\n03/04/24,x\n05/06/24,1\n");
    bench.write(
        "seen.toml",
        "metachron = 1\n[[column]]\nfrom = \"seen\"\ninto = \"seen_on\"\norder = \"ymd\"\n\
         two_digit_from = 1900\nmissing = [\"x\"]\n",
    );
    let run = |options: &str, expected: &str| {
        bench.run(&format!("convert seen.csv --quiet {options}")).stdout(expected).check();
    };
    let table =
        |name: &str, a: &str, b: &str| format!("seen,{name},n\n03/04/24,{a},x\n05/06/24,{b},1\n");
    let file = "--readings seen.toml";
    run(file, &table("seen_on", "1903-04-24", "1905-06-24"));
    run(&format!("{file} --order mdy"), &table("seen_on", "1924-03-04", "1924-05-06"));
    run(
        &format!("{file} --order mdy --set 'seen: order=dmy'"),
        &table("seen_on", "1924-04-03", "1924-06-05"),
    );
    run(
        &format!("{file} --column seen --two-digit-from 1990 --into when"),
        &table("when", "2003-04-24", "2005-06-24"),
    );
}

#[test]
fn an_answer_meant_for_one_column_never_lands_on_another() {
    let bench =
        Bench::with("a.csv", "seen,n,let go\n03/04/2024,1,13/04/2024\n04/04/2024,2,14/04/2024\n");
    bench
        .run("convert a.csv --order mdy")
        .status(2)
        .stderr(
            "metachron: --order is about one column, but 2 of a.csv hold dates; \
             name it with --column, or say\n  --set 'seen: order=mdy'\n  --set '\"let go\": order=mdy'\n",
        )
        .check();
    bench
        .run("convert a.csv --set 'seen: order=mdy' --quiet")
        .stdout(
            "seen,seen_typed,n,let go,let go_typed\n\
             03/04/2024,2024-03-04,1,13/04/2024,2024-04-13\n04/04/2024,2024-04-04,2,14/04/2024,2024-04-14\n",
        )
        .check();
}

#[test]
fn rejects_say_what_is_wrong_with_each_cell() {
    let bench = Bench::with(
        "captures.csv",
        "ring,captured\nLF1,13/04/2024\nLF2,31/02/2024\nLF3,14/04/2024 10:15\n\nLF4,\"to be\nasked\"\n\
         LF5,00/00/0000\nLF6,15/04/2024\nLF7,16/04/2024\nLF8,17/04/2024\n",
    );
    bench
        .run("convert captures.csv --rejects rejects.csv -o out.csv")
        .status(4)
        .stderr(
            "out.csv   8 rows\n  \
               captured  → captured_typed  date  4 read, 1 placeholder, 3 unreadable → rejects.csv\n  \
               1 empty line was no row and is left out (line 5)\n\
             metachron: 3 rows have an unreadable or contested cell (first row 2); \
             rejects.csv lists them, --tolerate 3 lets them stay\n",
        )
        .check();
    assert_eq!(
        bench.read("rejects.csv"),
        "row,line,column,value,code,reason,what_helps,right_value,raw.ring,raw.captured\n\
         2,3,captured,31/02/2024,no-such-day,31 February 2024 does not exist,correct the value,,LF2,31/02/2024\n\
         3,4,captured,14/04/2024 10:15,other-kind,a clock time without an offset from UTC; the column is read as date,\
         \"add what is missing, or a layout with a part in brackets\",,LF3,14/04/2024 10:15\n\
         4,6,captured,\"to be\nasked\",unknown-form,not written in a form that this column's reading knows,\
         \"correct the value, or add a layout that reads it\",,LF4,\"to be\nasked\"\n\
         5,8,captured,00/00/0000,placeholder,a date only in form; it stands for nothing,,,LF5,00/00/0000\n"
    );
}

#[test]
fn short_rows_are_completed_and_long_ones_kept() {
    let bench =
        Bench::with("a.csv", "n,seen,m\n1\n2,13/04/2024\n3,14/04/2024,x,y\n4,15/04/2024,z\n");
    bench
        .run("convert a.csv -o b.csv")
        .stderr(
            "b.csv   4 rows\n  seen  → seen_typed  date  3 read, 1 missing\n  \
               2 rows had fewer cells than the header and were completed with empty ones (first in line 2)\n  \
               1 row has more cells than the header; all were kept (line 4)\n",
        )
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "n,seen,seen_typed,m\n1,,,\n2,13/04/2024,2024-04-13,\n3,14/04/2024,2024-04-14,x,y\n4,15/04/2024,2024-04-15,z\n"
    );
}

#[test]
fn replacing_the_raw_column_must_not_lose_a_value() {
    let bench = Bench::with("a.csv", "seen,n\n13/04/2024,1\n14/04/2024,2\nlost,3\n");
    bench
        .run("convert a.csv --replace-raw -o b.csv")
        .status(3)
        .stderr(
            "metachron: --replace-raw would lose 1 value of seen in a.csv that cannot be read; add \
             --rejects FILE to keep them, or leave the raw column in place\n",
        )
        .check();
    assert_eq!(bench.files(), ["a.csv"]);
    bench.run("convert a.csv --replace-raw --rejects r.csv --tolerate 1 -o b.csv --quiet").check();
    assert_eq!(bench.read("b.csv"), "seen,n\n2024-04-13,1\n2024-04-14,2\n,3\n");
    assert!(bench.read("r.csv").contains("\n3,4,seen,lost,unknown-form,"));
    bench
        .run("convert a.csv --replace-raw --rejects r.csv --tolerate 1 --into day --quiet")
        .stdout("day,n\n2024-04-13,1\n2024-04-14,2\n,3\n")
        .check();
}

#[test]
fn a_name_that_is_taken_gets_a_number() {
    Bench::with("a.csv", "seen,seen_typed\n13/04/2024,x\n14/04/2024,y\n")
        .run("convert a.csv")
        .stdout("seen,seen_typed_2,seen_typed\n13/04/2024,2024-04-13,x\n14/04/2024,2024-04-14,y\n")
        .stderr("standard output   2 rows\n  seen  → seen_typed_2  date  2 read\n")
        .check();
}

#[test]
fn further_texts_can_stand_for_nothing() {
    Bench::with("a.csv", "seen\n13/04/2024\n14/04/2024\nk.A.\n unbekannt \n")
        .run("convert a.csv --missing k.a.,UNBEKANNT --quiet")
        .stdout(
            "seen,seen_typed\n13/04/2024,2024-04-13\n14/04/2024,2024-04-14\nk.A.,\n unbekannt ,\n",
        )
        .check();
}

#[test]
fn a_single_column_keeps_its_empty_lines() {
    Bench::new()
        .run("convert - --quiet -o -")
        .stdin("seen\n13/04/2024\n\n14/04/2024\n")
        .stdout("seen,seen_typed\n13/04/2024,2024-04-13\n,\n14/04/2024,2024-04-14\n")
        .check();
}

#[test]
fn compact_digits_are_read_by_a_layout() {
    let bench = Bench::with("a.csv", "ring,day\nLF1,20240305\nLF2,5032024\n");
    bench
        .run("convert a.csv --column day")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 day        2 values could be dates in digits (2 different), but numbers can look so by chance; --column with\n\
             \x20            --order says that they are.\n\
             \x20            If it does hold dates, say how they are written by --set; how a value can be read is shown by:\n\
             \x20              metachron explain 5032024\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert a.csv --column day --set 'day: convert=false' -o a.out.csv\n",
        )
        .check();
    bench
        .run("convert a.csv --column day --layout '{year}{month:02}{day:02}' --layout '{day}{month:02}{year}' --quiet")
        .stdout("ring,day,day_typed\nLF1,20240305,2024-03-05\nLF2,5032024,2024-03-05\n")
        .check();
}

#[test]
fn dates_in_digits_are_found_where_chance_is_excluded() {
    let days = ["5082023", "17082023", "29082023", "3092023", "14092023", "30092023"];
    let rows: String = days
        .iter()
        .enumerate()
        .map(|(n, day)| format!("{},{day},{}:05\n", 84_213 + 7 * n, 5 + n))
        .collect();
    Bench::with("a.csv", format!("net,day,opened\n{rows}"))
        .run("convert a.csv --quiet")
        .stdout_has(&[
            "net,day,day_typed,opened,opened_typed\n84213,5082023,2023-08-05,5:05,05:05:00\n",
            "84248,30092023,2023-09-30,10:05,10:05:00\n",
        ])
        .check();
}

#[test]
fn every_byte_of_the_raw_columns_stays() {
    // Odd but legal: quotes where none are needed, doubled ones, breaks, mixed line ends, no last one.
    let text = "\u{FEFF}\"ring\";\" seen \";note\r\n\"LF;1\";13/04/2024;\"say \"\"tsip\"\"\n\"\n'LF2;\"14/04/2024\";a\"b\"\r\nx;;";
    let bench = Bench::with("a.csv", text);
    bench.run("convert a.csv -o b.csv --quiet").check();
    let typed = bench.read("b.csv");
    let mut raw = typed.clone();
    for cell in [";seen_typed", ";2024-04-13", ";2024-04-14"] {
        assert_eq!(raw.matches(cell).count(), 1, "{typed:?}");
        raw = raw.replacen(cell, "", 1);
    }
    assert_eq!(raw.strip_suffix("x;;;").map(|begin| format!("{begin}x;;")).as_deref(), Some(text));
}

#[test]
fn a_reader_that_goes_away_ends_it_quietly() {
    let rows: String = (0..100_000).map(|_| "13/04/2024,some text that fills a pipe\n").collect();
    let bench = Bench::with("a.csv", format!("seen,note\n{rows}14/04/2024,\n15/04/2024,\n"));
    for line in ["convert a.csv --order dmy", "survey a.csv --json"] {
        let mut child =
            bench.command(line).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().unwrap();
        drop(child.stdout.take());
        let mut stderr = String::new();
        child.stderr.take().unwrap().read_to_string(&mut stderr).unwrap();
        assert_eq!((child.wait().unwrap().code(), stderr.as_str()), (Some(0), ""), "{line}");
    }
}

/// Different marks between the parts are read where the order is known, and are a question where all values are so.
#[test]
fn marks_between_parts_may_differ() {
    let row = |at: u32| {
        let (a, b) = [(", ", "; "), (" . ", "."), ("-", "/")][at as usize % 3];
        let (year, month, day) = (2020 + at % 4, at % 12 + 1, at * 7 % 28 + 1);
        (format!("\"{year}{a}{month}{b}{day}\""), format!("{year}-{month:02}-{day:02}"))
    };
    let bench = Bench::with("a.csv", table("seen", (0..30).map(|at| row(at).0)));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "seen    date  leaning",
            "Different marks stand between the parts, as hands type dates: they may be something else.",
            "If the year comes first:",
            "If it is no date, or to leave it as it is for now:",
        ])
        .check();
    let typed = (0..30).map(|at| row(at).1).collect::<Vec<_>>();
    let converted = bench.run("convert a.csv --order ymd --quiet").output();
    let found: Vec<&str> =
        converted.lines().skip(1).filter_map(|line| line.rsplit(',').next()).collect();
    assert_eq!(found, typed);
    // Among dates that are written as usual they are typing errors, until somebody says the order.
    let usual = (1..40).map(|at| format!("2024-05-{:02}", at % 28 + 1));
    bench.write("b.csv", table("seen", usual.chain(["2024-05/17", "5.3-2024"].map(str::to_owned))));
    let decided = ["seen    date  decided  {year}-{month}-{day}    39        0           2"];
    bench.run("survey b.csv").stdout_has(&decided).check();
    bench
        .run("convert b.csv --order ymd --tolerate 1 --quiet")
        .stdout_has(&["2024-05/17,2024-05-17\n5.3-2024,\n"])
        .check();
    // Where the day comes first or the month, later days decide, and the marks stay a doubt.
    let either = |at: u32| format!("{}/{}-2024", at * 7 % 28 + 1, at % 12 + 1);
    bench.write("c.csv", table("seen", (0..30).map(either)));
    bench
        .run("survey c.csv")
        .stdout_has(&["seen    date  leaning", "If the day comes first:"])
        .check();
    // Measures are no dates.
    for mark in ["x", "/"] {
        let size = |at: u32| format!("{}.{} {mark} {}", at % 9 + 1, at % 5 + 1, 1_200 + at);
        bench.write("d.csv", table("size", (0..30).map(size)));
        bench.run("survey d.csv").stdout_has(&["size    -     not-a-date"]).check();
    }
}
