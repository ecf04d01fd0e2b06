//! Readings files: saved, edited, used.

use crate::harness::{Bench, table};

const TABLE: &str =
    "captured,released,ring\n13 April 2024,03/04/2024,LF1\n14 April 2024,04/05/2024,LF2\n";

fn surveyed() -> Bench {
    let bench = Bench::with("a.csv", TABLE);
    bench
        .run("survey a.csv --as-of 2024-06-01 --save a.toml")
        .stdout_has(&["undecided"])
        .stderr("metachron: decisions saved in a.toml; review them, then\n  metachron convert a.csv --as-of 2024-06-01 --readings a.toml -o a.out.csv\n")
        .check();
    bench
}

#[test]
fn what_is_saved_can_be_read() {
    let bench = surveyed();
    assert_eq!(
        bench.read("a.toml"),
        r#"# Decisions for a.csv, saved on 2024-06-01 by metachron 0.1.0.
# Use them: metachron convert a.csv --readings a.toml -o a.out.csv
# Each [[column]] says how its values are read. What was not decided waits until accepted = true stands there.
metachron = 1

[source]
delimiter = ","

[[column]]
# why: Can be read in one way only.
from = "captured"
into = "captured_typed"
kind = "date"
verdict = "decided"
layouts = ["{day} {month:name} {year}"]
seen = { rows = 2, unreadable = 0, shapes = { "00 ‹month› 0000" = 2 }, earliest = "2024-04-13", latest = "2024-04-14" }

[[column]]
# why: All 2 dates fit both day first and month first: no value has a part above 12 that would tell day from month.
# Add order = "dmy" or order = "mdy" (then accepted = true), or convert = false
from = "released"
into = "released_typed"
kind = "date"
verdict = "undecided"
"#
    );
    bench
        .run("convert a.csv --readings a.toml")
        .status(3)
        .stderr_has(&[
            "1 of 2 date columns is open",
            "convert a.csv --readings a.toml --set 'released: order=dmy'",
        ])
        .check();
}

#[test]
fn a_person_has_to_accept() {
    let bench = surveyed();
    let saved = bench.read("a.toml");
    let typed = "captured,captured_typed,released,released_typed,ring\n\
                 13 April 2024,2024-04-13,03/04/2024,2024-04-03,LF1\n14 April 2024,2024-04-14,04/05/2024,2024-05-04,LF2\n";
    bench.write("a.toml", format!("{saved}order = \"dmy\"\n"));
    bench
        .run("convert a.csv --readings a.toml --quiet")
        .status(3)
        .stderr_has(&["The readings file has a reading for it that nobody has accepted yet."])
        .check();
    bench.write("a.toml", format!("{saved}order = \"dmy\"\naccepted = true\n"));
    bench.run("convert a.csv --readings a.toml --quiet").stdout(typed).check();
    bench.write("a.toml", format!("{saved}convert = false\n"));
    bench
        .run("convert a.csv --readings a.toml -o b.csv")
        .stderr("b.csv   2 rows\n  captured  → captured_typed  date  2 read\n  released                          left alone (convert = false)\n")
        .check();
}

#[test]
fn a_second_save_keeps_comments_and_what_was_accepted() {
    let bench = surveyed();
    let edited =
        bench.read("a.toml").replace("[source]", "# From the office in March.\n[source]").replace(
            "verdict = \"undecided\"",
            "verdict = \"undecided\" # Astrid says so\norder = \"mdy\"\naccepted = true",
        );
    bench.write("a.toml", &edited);
    bench.write("a.csv", TABLE.replace("captured", "caught"));
    bench
        .run("survey a.csv --save a.toml")
        .stdout_has(&[])
        .stderr(
            "metachron: a.toml: released is accepted there and stays as it is\n\
             metachron: decisions saved in a.toml, which also reads \"captured\"; a.csv has no such column, so take it out there first\n",
        )
        .check();
    let again = bench.read("a.toml");
    for kept in [
        "# From the office in March.",
        "# Astrid says so",
        "order = \"mdy\"\naccepted = true",
        "from = \"captured\"",
        "from = \"caught\"",
    ] {
        assert!(again.contains(kept), "no {kept} in\n{again}");
    }
}

#[test]
fn converting_with_what_is_saved_equals_converting_at_once() {
    let table = "a;b;c\n13.04.24 7:05;5 March 2024;2024-03-05T10:15:00.25+01:00\n\
                 14.04.24 7:05;6 Mar 2024;2024-03-06T10:15:00Z\n31.04.24 24:00;x;-\n15.5.24 8:00;7 May 2024;\n";
    let bench = Bench::with("a.csv", table);
    let options = "--set 'a: order=dmy'";
    let at_once = bench
        .run(&format!("convert a.csv {options} --quiet"))
        .status(4)
        .stdout(
            "a;a_typed;b;b_typed;c;c_typed\n\
             13.04.24 7:05;2024-04-13T07:05:00;5 March \
             2024;2024-03-05;2024-03-05T10:15:00.25+01:00;2024-03-05T09:15:00.25Z\n\
             14.04.24 7:05;2024-04-14T07:05:00;6 Mar \
             2024;2024-03-06;2024-03-06T10:15:00Z;2024-03-06T10:15:00.00Z\n\
             31.04.24 24:00;;x;;-;\n\
             15.5.24 8:00;2024-05-15T08:00:00;7 May 2024;2024-05-07;;\n",
        )
        .stderr(
            "metachron: 1 row has an unreadable or contested cell (row 3); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    bench
        .run(&format!("survey a.csv {options} --save a.toml"))
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.csv --readings a.toml -o a.out.csv\n",
        )
        .check();
    bench
        .run("convert a.csv --readings a.toml --quiet")
        .status(4)
        .stdout(&at_once)
        .stderr(
            "metachron: 1 row has an unreadable or contested cell (row 3); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    assert!(bench.read("a.toml").contains("two_digit_from = 1969"), "always saved");
}

#[test]
fn what_is_wrong_with_a_readings_file_is_said_with_its_line() {
    let bench = Bench::with("a.csv", TABLE);
    for (text, expected) in [
        (
            "metachron = 1\n[[column]]\nfrom = \"captured\"\nordr = \"dmy\"\n",
            "a.toml, line 4: there is no key \"ordr\"; did you mean order?",
        ),
        (
            "metachron = 1\n[[column]]\nfrom = \"captured\"\norder = \"dym\"\n",
            "a.toml, line 4: order \"dym\" is none of dmy, mdy, ymd, ydm",
        ),
        (
            "metachron = 1\n[sourc]\n",
            "a.toml, line 2: there is no key \"sourc\"; did you mean source?",
        ),
        (
            "metachron = 1\n[[column]]\norder = \"dmy\"\n",
            "a.toml, line 2: a [[column]] names its column: from = \"captured\"",
        ),
        (
            "metachron = 1\n[[column]]\nfrom = \"captured\"\n[[column]]\nfrom = \"captured\"\n",
            "a.toml, line 4: column \"captured\" stands here twice",
        ),
        (
            "metachron = 2\n",
            "a.toml, line 1: version 2 is newer than this program knows (1); use the program that wrote it",
        ),
        ("delimiter = \",\"\n", "a.toml, line 1: a readings file begins with: metachron = 1"),
        ("metachron = 1\n[[column]\n", "a.toml, line 2: "),
        (
            "metachron = 1\n[[column]]\nfrom = \"capturd\"\n",
            "a.toml reads a column \"capturd\" that a.csv does not have; if it is called \"captured\" now, write from = \
             \"captured\" in a.toml",
        ),
    ] {
        bench.write("a.toml", text);
        bench
            .run("convert a.csv --readings a.toml")
            .status(1)
            .stderr_has(&[&format!("metachron: {expected}")])
            .check();
    }
    bench.write("a.toml", "ring,seen\n");
    bench
        .run("survey a.csv --save a.toml")
        .status(1)
        .stdout_has(&[])
        .stderr("metachron: a.toml, line 1: key with no value, expected `=`\n")
        .check();
    assert_eq!(bench.read("a.toml"), "ring,seen\n", "what is no readings file is not written over");
}

/// Which century is meant stays a question until somebody has answered it.
#[test]
fn a_century_that_is_assumed_is_not_saved() {
    let bench = Bench::with(
        "a.csv",
        table("born", (0..60).map(|at| format!("{:02}.05.{}", at * 7 % 28 + 1, 30 + at * 11 % 70))),
    );
    for accept in ["", " --accept leaning"] {
        let _ = std::fs::remove_file(bench.path().join("a.toml"));
        bench.run(&format!("survey a.csv --as-of 2026-01-01 --save a.toml{accept}")).output();
        let saved = bench.read("a.toml");
        assert!(!saved.contains("\ntwo_digit_from"), "{saved}");
        let adds = "# Add two_digit_from = 1969 or two_digit_from = 1927 (then accepted = true)";
        assert!(saved.contains(adds), "{saved}");
        let convert = "convert a.csv --as-of 2026-01-01 --readings a.toml --quiet";
        bench.run(convert).status(3).stderr_has(&["two_digit_from=1927"]).check();
        bench.write("a.toml", format!("{saved}two_digit_from = 1927\naccepted = true\n"));
        bench.run(convert).stdout_has(&["01.05.30,1930-05-01\n"]).check();
    }
}

/// Two columns that are saved one after the other stand side by side, each with its own rows.
#[test]
fn saving_twice_adds_up() {
    let rows = (0..60).map(|at| {
        let (day, month) = (1 + at * 11 % 28, 1 + at * 5 % 12);
        let by = |month_first: bool| match month_first {
            true => format!("{month:02}/{day:02}/2024"),
            false => format!("{day:02}/{month:02}/2024"),
        };
        let station = ["Skarholm", "Port Meridian"][at % 2];
        format!("{station},{},{}", by(at % 2 == 1), by(at % 2 == 0))
    });
    let bench = Bench::with("a.csv", table("station,seen,entered", rows));
    for column in ["seen", "entered"] {
        bench.run(&format!("survey a.csv --column {column} --save a.toml --accept split")).output();
        // A person writes something beside it.
        let text = bench
            .read("a.toml")
            .replace("from = \"seen\"", "# Astrid has seen it.\nfrom = \"seen\"");
        bench.write("a.toml", text);
    }
    bench.run("survey a.csv --save b.toml --accept split").output();
    bench.run("convert a.csv --readings a.toml -o a.out.csv").output();
    bench.run("convert a.csv --readings b.toml -o b.out.csv").output();
    assert_eq!(bench.read("a.out.csv"), bench.read("b.out.csv"));
    assert!(
        bench.read("b.out.csv").contains("Skarholm,01/01/2024,2024-01-01,01/01/2024,2024-01-01")
    );
    let saved = bench.read("a.toml");
    assert!(saved.contains("# Astrid has seen it.\n"), "{saved}");
    let whens: Vec<&str> =
        saved.lines().filter(|line| line.starts_with('[') || line.starts_with("  [")).collect();
    let column = ["[[column]]", "  [[column.when]]", "  [[column.when]]"];
    assert_eq!(whens, [&["[source]"][..], &column, &column].concat());
    // Reasons are those of the last time.
    assert_eq!(saved.matches("# why: ").count(), bench.read("b.toml").matches("# why: ").count());
}

#[test]
fn two_things_of_the_same_rows_are_an_error() {
    let bench = Bench::with("a.csv", "station,seen\nSkarholm,03/04/2024\n");
    let when = |order: &str| {
        format!(
            "  [[column.when]]\n  where = {{ station = [\"Skarholm\"] }}\n  order = \"{order}\"\n"
        )
    };
    let file = |orders: [&str; 2]| {
        format!("metachron = 1\n\n[[column]]\nfrom = \"seen\"\n{}", orders.map(when).concat())
    };
    bench.write("a.toml", file(["dmy", "mdy"]));
    let says =
        "two things are said of the same rows of \"seen\" (\"Skarholm\"); keep one of them\n";
    bench
        .run("convert a.csv --readings a.toml")
        .status(1)
        .stderr(format!("metachron: a.toml, line 3: {says}"))
        .check();
    bench.write("a.toml", file(["dmy", "dmy"]));
    bench.run("convert a.csv --readings a.toml --quiet").stdout_has(&["2024-04-03"]).check();
    let both = "--when 'seen where station=Skarholm: order=dmy' --when 'seen where station=Skarholm: order=mdy'";
    bench
        .run(&format!("convert a.csv {both}"))
        .status(2)
        .stderr(format!("metachron: --when: {says}"))
        .check();
}

/// What is said beside a readings file adds to it or replaces what says the same, and nothing else.
#[test]
fn what_is_said_beside_a_file_leaves_the_rest() {
    let bench = Bench::with(
        "a.csv",
        "station,seen\nSkarholm,03/04/2024\nPort Meridian,03/04/2024\nDar Wadi,03/04/2024\n",
    );
    bench.write(
        "a.toml",
        "metachron = 1\n\n[[column]]\nfrom = \"seen\"\nmissing = [\"-\"]\n\n\
         [[column.when]]\nwhere = { station = [\"Skarholm\"] }\norder = \"dmy\"\n\n\
         [[column.when]]\nwhere = { station = [\"Port Meridian\"] }\norder = \"mdy\"\n",
    );
    let table = |dar_wadi: &str, skarholm: &str| {
        format!(
            "station,seen,seen_typed\nSkarholm,03/04/2024,{skarholm}\nPort Meridian,03/04/2024,2024-03-04\n\
             Dar Wadi,03/04/2024,{dar_wadi}\n"
        )
    };
    let convert =
        |said: &str| bench.run(&format!("convert a.csv --readings a.toml {said} --quiet"));
    // Nobody knows how the new station writes.
    convert("")
        .status(4)
        .stdout(table("", "2024-04-03"))
        .stderr_has(&["unreadable or contested"])
        .check();
    let dar_wadi = "--when 'seen where station=Dar Wadi: order=mdy'";
    convert(dar_wadi).stdout(table("2024-03-04", "2024-04-03")).check();
    convert("--set 'seen: order=dmy'").stdout(table("2024-04-03", "2024-04-03")).check();
    let both = "--when 'seen where station=[\"Skarholm\", \"Dar Wadi\"]: order=mdy'";
    convert(both).stdout(table("2024-03-04", "2024-03-04")).check();
    // Two things that tell rows apart are one too many.
    convert("--when 'seen rows 1..2: order=mdy'")
        .status(2)
        .stderr("metachron: --when tells the rows of \"seen\" apart otherwise than a.toml does; take its [[column.when]] out there, or leave out --readings\n")
        .check();
    // The file can be told, too.
    bench.run(&format!("survey a.csv --readings a.toml --save a.toml {dar_wadi}")).output();
    convert("").stdout(table("2024-03-04", "2024-04-03")).check();
    assert!(bench.read("a.toml").contains("missing = [\"-\"]"));
}

/// A delivery with a new office, a new city and a new text that stands for nothing: check prints the lines that tell the
/// file so, and once they are pasted nothing is found any more.
#[test]
fn a_file_is_told_of_what_is_new() {
    let delivery = |stations: &[&str], has_news: bool| {
        let rows = (0..60).map(|at| {
            let (day, month) = (1 + at * 11 % 28, 1 + at * 5 % 12);
            let station = stations[at % stations.len()];
            let seen = match station {
                _ if has_news && at % 13 == 5 => "not seen".to_owned(),
                "Port Meridian" => format!("{month:02}/{day:02}/2024"),
                _ => format!("{day:02}/{month:02}/2024"),
            };
            format!("{station},{seen},2024-03-{day:02} 10:15")
        });
        table("station,seen,clock", rows)
    };
    let bench = Bench::with("a.csv", delivery(&["Skarholm", "Port Meridian"], false));
    bench.write("b.csv", delivery(&["Skarholm", "Port Meridian", "Tokyo"], true));
    let zones = "zones={ Skarholm = \"Europe/Oslo\", \"Port Meridian\" = \"America/Chicago\" }";
    bench
        .run(&format!(
            "survey a.csv --save a.toml --accept split --set 'clock: zone_from=station, {zones}'"
        ))
        .output();
    let add = "metachron survey b.csv --readings a.toml --save a.toml";
    let ways = [
        format!("{add} --when 'seen where station=Tokyo: order=dmy'"),
        format!("{add} --set 'seen: missing=[\"not seen\"]'"),
        format!("{add} --set 'clock: zones={{ Tokyo = \"Asia/Tokyo\" }}'"),
    ];
    let expected: Vec<&str> = ways.iter().map(String::as_str).collect();
    bench
        .run("check b.csv --readings a.toml")
        .status(4)
        .stdout_has(&["seen    date     decided    48        0           5          7"])
        .stdout_has(&expected)
        .check();
    for way in &ways {
        bench.run(way.strip_prefix("metachron ").unwrap()).output();
    }
    bench.run("check b.csv --readings a.toml").stdout_has(&["Nothing was found."]).check();
    bench.run("convert b.csv --readings a.toml --quiet -o b.out.csv").check();
    for cell in [
        "Tokyo,23/11/2024,2024-11-23",
        "Tokyo,23/11/2024,2024-11-23,2024-03-23 10:15,2024-03-23T01:15:00Z",
    ] {
        assert!(bench.read("b.out.csv").contains(cell), "{}", bench.read("b.out.csv"));
    }
    // What was decided before still holds.
    bench.run("check a.csv --readings a.toml").output();
}

/// A new written form is offered by what its first value would be.
#[test]
fn a_new_form_can_be_added() {
    let rows = |from: usize| {
        (from..from + 30).map(|at| format!("{:02}/{:02}/2024", 1 + at % 28, 1 + at % 12))
    };
    let bench = Bench::with("a.csv", table("seen", rows(0)));
    bench.write(
        "b.csv",
        table("seen", rows(3).chain(["2024.03.05".to_owned(), "2024.04.17".to_owned()])),
    );
    bench.run("survey a.csv --save a.toml").output();
    let add = "survey b.csv --readings a.toml --save a.toml --set 'seen: layouts=[\"{day}/{month}/{year}\", \"{year}.{month}.{day}\"]'";
    bench
        .run("check b.csv --readings a.toml")
        .status(4)
        .stdout_has(&["If \"2024.03.05\" is 2024-03-05, to tell a.toml so:\n", add])
        .check();
    bench.run(add).output();
    bench.run("check b.csv --readings a.toml").stdout_has(&["Nothing was found."]).check();
}
