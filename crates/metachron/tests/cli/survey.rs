//! `metachron survey`

use crate::harness::{Bench, table};

const CAPTURES: &str = "\
ring,captured,released,seen,logged,entered
LF1,13/04/2024,03/04/2024,03/04/2024,2024-04-13T06:10:00+02:00,\"April 13, 2024\"
LF2,14/04/2024,04/05/2024,13/04/2024,-,\"April 14, 2024\"
LF3,15/04/2024,07/07/2024,04/13/2024,2024-02-30T06:10:00Z,\"May 1, 2024\"
LF4,,05/06/2024,05/05/2024,2024-04-15T06:10:00.5Z,\"May 2, 2024\"
";

#[test]
fn overview() {
    Bench::with("captures.csv", CAPTURES)
        .run("survey captures.csv")
        .stdout(
            r#"captures.csv   CSV, comma, UTF-8, header in line 1, 4 rows

  column    kind     verdict     read  missing  unreadable  open  read by
  ring      -        not-a-date
  captured  date     decided        3        1           0     0  {day}/{month}/{year}
  released  date     leaning        0        0           0     4  {day}/{month}/{year} or {month}/{day}/{year}
  seen      date     mixed          0        0           0     4  {day}/{month}/{year} and
                                                                  {month}/{day}/{year}
  logged    instant  decided        2        1           1     0  rfc-3339
  entered   date     decided        4        0           0     0  {month:name} {day}, {year}

  released   All 4 dates fit both day first and month first: no value has a part above 12 that would tell day
             from month. Only hints speak for day first. "captured" is day first beyond doubt.
               day first    2024-04-03 to 2024-07-07  "03/04/2024" is 3 April 2024
               month first  2024-03-04 to 2024-07-07  "03/04/2024" is 4 March 2024
             If the day comes first:
               metachron convert captures.csv --set 'released: order=dmy' -o captures.out.csv
             If the month comes first:
               metachron convert captures.csv --set 'released: order=mdy' -o captures.out.csv
             If you know the right date of one value, say it, for example:
               metachron convert captures.csv --set 'released: known="03/04/2024=2024-04-03"' -o captures.out.csv
             A few more values with a day above 12 would decide it.
             If it is no date, or to leave it as it is for now:
               metachron convert captures.csv --set 'released: convert=false' -o captures.out.csv

  seen       1 value can only be day first (first in row 2: "13/04/2024"), 1 only month first (row 3:
             "04/13/2024"), 2 could be either.
               day first    2024-04-03 to 2024-05-05  "03/04/2024" is 3 April 2024
               month first  2024-03-04 to 2024-05-05  "03/04/2024" is 4 March 2024
             If the day comes first and the 1 value that does not fit is a typing error, to be left empty:
               metachron convert captures.csv --set 'seen: order=dmy' -o captures.out.csv
             If the month comes first and the 1 value that does not fit is a typing error, to be left empty:
               metachron convert captures.csv --set 'seen: order=mdy' -o captures.out.csv
             If both orders occur, to read what has one meaning and leave the rest empty:
               metachron convert captures.csv --set 'seen: layouts=["{day}/{month}/{year}", "{month}/{day}/{year}"]' -o captures.out.csv
             If it is no date, or to leave it as it is for now:
               metachron convert captures.csv --set 'seen: convert=false' -o captures.out.csv

  captured   3 values can only be day first, none only month first.
  logged     Can be read in one way only.
  entered    Can be read in one way only.

  ring: No dates.

  To take what survey leans to (released: the day comes first), and leave seen as it is:
    metachron convert captures.csv --set 'released: order=dmy' --set 'seen: convert=false' -o captures.out.csv
  To convert the decided ones now, and leave released and seen as they are:
    metachron convert captures.csv --set 'released: convert=false' --set 'seen: convert=false' -o captures.out.csv
"#,
        )
        .check();
}

#[test]
fn detail_of_a_column() {
    Bench::with("captures.csv", CAPTURES)
        .run("survey captures.csv --column seen")
        .stdout_has(&[
            "seen   date, mixed\n  0 read, 0 missing, 0 unreadable, 4 open\n",
            "  shape       rows  first in\n  00/00/0000     4  row 1: \"03/04/2024\"\n",
            "  day first    in play  {day}/{month}/{year}     3               1  2024-04-03  2024-05-05\n",
            "  day first is first contradicted in row 3: \"04/13/2024\"\n",
        ])
        .check();
}

#[test]
fn what_survey_suggests_can_be_pasted() {
    let bench = Bench::with("a b.csv", CAPTURES.replace("released", "let go"));
    let text = bench.run("survey 'a b.csv'").stdout_has(&[]).check();
    let suggestions: Vec<&str> =
        text.lines().filter_map(|line| line.trim().strip_prefix("metachron ")).collect();
    // The last two answer for all columns; a typing error of another column is left.
    let [_, .., leaning, decided] = suggestions[..] else { panic!("{text}") };
    assert!(
        leaning.contains("--set '\"let go\": order=dmy' --set 'seen: convert=false'"),
        "{leaning}"
    );
    for line in [leaning, decided] {
        bench.run(line).status(4).stderr_has(&["a b.out.csv   4 rows", "convert = false"]).check();
    }
    // One of several questions leaves the others.
    let [seen] = suggestions
        .iter()
        .filter(|line| line.ends_with("--set 'seen: order=dmy' -o 'a b.out.csv'"))
        .collect::<Vec<_>>()[..]
    else {
        panic!("{text}")
    };
    bench.run(seen).status(3).stderr_has(&["1 of 5 date columns is open"]).check();
}

/// The shape of the JSON report; a field more or less is an error.
mod schema {
    #![allow(dead_code)]
    use serde::Deserialize;

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Report {
        pub report: String,
        pub version: u32,
        pub source: Source,
        pub columns: Vec<Column>,
        pub all_at_once: Vec<Settle>,
        pub zone_data: String,
        pub metachron: String,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Source {
        pub file: String,
        pub format: String,
        pub compression: Option<String>,
        pub dialect: Option<String>,
        pub part: Option<Part>,
        pub encoding: Option<String>,
        pub header_line: Option<u64>,
        pub preamble: Vec<Line>,
        pub footers: Vec<Line>,
        pub columns: usize,
        pub rows: u64,
        pub notes: Vec<String>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Part {
        pub kind: String,
        pub name: String,
        pub others: Vec<String>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Line {
        pub line: u64,
        pub text: String,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Column {
        pub name: String,
        pub kind: Option<String>,
        pub verdict: String,
        pub reading: Option<Reading>,
        pub rows: Rows,
        pub cells: Cells,
        pub shapes: Vec<Shape>,
        pub candidates: Vec<Candidate>,
        pub example: Option<Value>,
        pub reasons: Vec<String>,
        pub signals: Vec<serde_json::Value>,
        #[serde(default)]
        pub ruled_out: Vec<serde_json::Value>,
        pub settle: Vec<Settle>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Reading {
        pub kind: String,
        pub layouts: Vec<String>,
        pub two_digit_from: Option<i16>,
        pub contested: Option<String>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Rows {
        pub read: u64,
        pub missing: u64,
        pub placeholder: u64,
        pub unreadable: u64,
        pub contested: u64,
        pub open: u64,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Cells {
        pub text: u64,
        pub number: u64,
        pub typed: u64,
        pub fault: u64,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Shape {
        pub shape: String,
        pub rows: u64,
        pub example: Value,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Value {
        pub row: u64,
        pub value: String,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Candidate {
        pub reading: CandidateReading,
        pub in_play: bool,
        pub fits: u64,
        pub contradictions: u64,
        pub contradiction: Option<Value>,
        pub earliest: Option<String>,
        pub latest: Option<String>,
        pub example: Option<String>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct CandidateReading {
        pub order: String,
        pub layouts: Vec<String>,
    }

    #[derive(Deserialize)]
    #[serde(deny_unknown_fields)]
    pub struct Settle {
        pub message: String,
        pub options: Option<String>,
        pub command: Option<String>,
    }
}

#[test]
fn json_says_the_same() {
    let bench = Bench::with("captures.csv", CAPTURES);
    let text = bench.run("survey captures.csv --json").stdout_has(&[]).check();
    let report: schema::Report = serde_json::from_str(&text).unwrap();
    assert_eq!((report.report.as_str(), report.version, report.source.rows), ("survey", 1, 4));
    let verdicts: Vec<(&str, &str)> =
        report.columns.iter().map(|c| (c.name.as_str(), c.verdict.as_str())).collect();
    assert_eq!(
        verdicts,
        [
            ("ring", "not-a-date"),
            ("captured", "decided"),
            ("released", "leaning"),
            ("seen", "mixed"),
            ("logged", "decided"),
            ("entered", "decided"),
        ]
    );
    let seen = &report.columns[3];
    assert!(seen.reading.is_none());
    assert_eq!((seen.rows.read, seen.rows.contested, seen.rows.open), (0, 0, 4));
    assert_eq!(seen.candidates[0].contradiction.as_ref().unwrap().value, "04/13/2024");
    assert_eq!(seen.settle[0].options.as_deref(), Some("--set 'seen: order=dmy'"));
    assert_eq!(report.columns[1].reading.as_ref().unwrap().layouts, ["{day}/{month}/{year}"]);
}

#[test]
fn every_dialect_is_recognised_from_the_content() {
    for (delimiter, name, format) in [
        (',', "comma", "CSV"),
        ('\t', "tab", "TSV"),
        (';', "semicolon", "CSV"),
        ('|', "pipe", "CSV"),
    ] {
        let text = "ring\u{1}seen\nLF1\u{1}\"13/04/2024\"\nLF2\u{1}14/04/2024\n";
        Bench::with("captures.txt", text.replace('\u{1}', &delimiter.to_string()))
            .run("survey captures.txt")
            .stdout_has(&[
                &format!("captures.txt   {format}, {name}, UTF-8, header in line 1, 2 rows\n"),
                "seen    date  decided     {day}/{month}/{year}     2 ",
            ])
            .check();
    }
}

#[test]
fn standard_input_is_a_file_too() {
    Bench::new()
        .run("survey -")
        .stdin("\u{FEFF}seen\r\n13/04/2024\r\n14/04/2024\r\n")
        .stdout(
            "standard input   CSV, one column (comma before new ones), UTF-8 with BOM, header in \
             line 1, 2 rows\n\
             \n\
             \x20 column  kind  verdict  read by               read  missing  unreadable\n\
             \x20 seen    date  decided  {day}/{month}/{year}     2        0           0\n\
             \n\
             \x20 seen       2 values can only be day first, none only month first.\n",
        )
        .check();
}

#[test]
fn odd_lines_are_reported() {
    let text = "ring,seen,seen,\nLF1,13/04/2024\n\nLF2,14/04/2024,x,y,z\nLF3,15/04/2024,,\n";
    Bench::with("captures.csv", text)
        .run("survey captures.csv")
        .stdout_has(&[
            "  1 empty line that is no row (line 3)\n",
            "  1 row with fewer cells than the header; convert completes it with empty ones (line 2)\n",
            "  1 row with more cells than the header; the last ones belong to no column (line 4)\n",
            "  another column named seen is called seen_2\n",
            "  a column without a name is called column_4\n",
        ])
        .check();
}

#[test]
fn two_digit_years_after_today_are_a_question() {
    let bench = Bench::with("born.csv", "born\n13/04/38\n14/05/39\n15/06/40\n77/01/13\n");
    bench.run("survey born.csv --as-of 2024-06-01").stdout_has(&["mixed"]).check();
    bench.write("born.csv", "born\n4/13/38\n5/14/39\n6/15/40\n");
    bench
        .run("survey born.csv --as-of 2024-06-01")
        .stdout_has(&[
            "none only day first or year first. Years of two digits reach",
            "metachron convert born.csv --as-of 2024-06-01 --set 'born: two_digit_from=1925' -o born.out.csv",
        ])
        .check();
    bench
        .run("convert born.csv --as-of 2024-06-01 --two-digit-from 1925 --quiet")
        .stdout("born,born_typed\n4/13/38,1938-04-13\n5/14/39,1939-05-14\n6/15/40,1940-06-15\n")
        .check();
}

#[test]
fn colours_repeat_what_a_word_says() {
    let bench = Bench::with("captures.csv", CAPTURES);
    let painted =
        bench.run("survey captures.csv --color always").stdout_has(&["\u{1b}[32mdecided"]).check();
    let bare = bench.run("survey captures.csv").stdout_has(&[]).check();
    let mut stripped = String::new();
    for (index, piece) in painted.split('\u{1b}').enumerate() {
        stripped.push_str(if index == 0 { piece } else { piece.split_once('m').unwrap().1 });
    }
    assert_eq!(stripped, bare);
}

#[test]
fn letters_beside_digits_are_no_text_of_a_layout() {
    let bench = Bench::with("clocks.csv", "at\n9:15 A\n12:30 P\n12:30 A\n3:05 P\n");
    bench
        .run("convert clocks.csv --quiet")
        .stdout(
            "at,at_typed\n9:15 A,09:15:00\n12:30 P,12:30:00\n12:30 A,00:30:00\n3:05 P,15:05:00\n",
        )
        .check();
    bench.write(
        "typed.csv",
        "at\n2024-03-04 10:15:01\n2024-03-05 10:15:02S\n2024-03-17 10:15:03\n2024-03-1l 10:15:04\n",
    );
    bench
        .run("convert typed.csv --quiet --tolerate 2")
        .stdout(
            "at,at_typed\n2024-03-04 10:15:01,2024-03-04T10:15:01\n2024-03-05 10:15:02S,\n\
             2024-03-17 10:15:03,2024-03-17T10:15:03\n2024-03-1l 10:15:04,\n",
        )
        .check();
}

#[test]
fn letters_beside_digits_are_typing_errors_in_months_and_days_too() {
    let bench = Bench::with("months.csv", "m\nMar 2024\nApr O2024\nMay 2024\nJun 2024\n");
    bench
        .run("convert months.csv --quiet --tolerate 1")
        .stdout("m,m_typed\nMar 2024,2024-03\nApr O2024,\nMay 2024,2024-05\nJun 2024,2024-06\n")
        .check();
    bench.write("days.csv", "at\n1l March\n12 March\n13 March\n14 March\n");
    bench
        .run("convert days.csv --year 2024 --quiet --tolerate 1")
        .stdout(
            "at,at_typed\n1l March,\n12 March,2024-03-12\n13 March,2024-03-13\n\
             14 March,2024-03-14\n",
        )
        .check();
}

#[test]
fn seasons_and_running_numbers_are_a_question() {
    let bench = Bench::with("seasons.csv", "season\n2003/04\n2004/05\n2005/06\n2006/07\n");
    let seasons = "In all 4 different values the second number is the year behind the first";
    bench.run("convert seasons.csv").status(3).stderr_has(&[seasons]).check();
    let cases: String = (1..=40).map(|number| format!("2024-{number:03}\n")).collect();
    bench.write("cases.csv", format!("case\n{cases}"));
    let running = "The last three digits run on from 001 in every year: they may be";
    bench.run("convert cases.csv").status(3).stderr_has(&[running]).check();
}

#[test]
fn parts_of_a_day_are_no_days_of_1899() {
    let bench = Bench::with("parts.csv", "at\n0.25\n0.5\n0.75\n");
    let asked = "3 numbers are below one: parts of a day,";
    bench.run("convert parts.csv --epoch sheet-1900").status(3).stderr_has(&[asked]).check();
    bench
        .run("convert parts.csv --epoch sheet-1900 --column at --kind time --quiet")
        .stdout("at,at_typed\n0.25,06:00:00\n0.5,12:00:00\n0.75,18:00:00\n")
        .check();
}

#[test]
fn what_was_ruled_out_is_told_with_its_figures() {
    let (mut table, mut harmed) = ("station,seen\n".to_owned(), "seen\n".to_owned());
    for at in 0..120 {
        let (year, month, day) = (2023 + at % 2, at % 12 + 1, at * 11 % 28 + 1);
        let station = ["Skarholm", "Cabo Sereno"][at / 2 % 2];
        table.push_str(&format!("{station},{day:02}/{month:02}/{year} {:02}:30\n", at % 24));
        harmed.push_str(&match day {
            1..=12 => format!("{year}-{day:02}-{month:02}\n"),
            _ => format!("{day:02}/{month:02}/{year}\n"),
        });
    }
    let bench = Bench::with("a.csv", &table);
    bench.write("b.csv", harmed);
    bench
        .run("survey a.csv --column seen")
        .stdout_has(&[
            "       Ruled out: month first (68 values); an import that lost days above 12 (48 different dates); ",
            "hand (each of 2 values of \"station\" tells); a clock of twelve hours (",
        ])
        .check();
    let json = bench.run("survey a.csv --json").output();
    let facts: serde_json::Value = serde_json::from_str(&json).unwrap();
    let ruled_out = facts["columns"][1]["ruled_out"].as_array().unwrap();
    let told = |own: &serde_json::Value| {
        (own["hazard"].as_str().unwrap().to_owned(), own["shown_by"].as_u64())
    };
    assert_eq!(told(&ruled_out[0]), ("other-order".to_owned(), Some(68)));
    assert!(
        ruled_out.iter().any(|own| told(own) == ("twelve-hours".to_owned(), Some(60))),
        "{json}"
    );
    // Of a column that is open nothing is ruled out.
    let json = bench.run("survey b.csv --json").output();
    let facts: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(
        (&facts["columns"][0]["verdict"], facts["columns"][0].get("ruled_out")),
        (&"misread".into(), None)
    );
    // Dates beside texts that no import has touched.
    let honest: String = (0..400)
        .map(|at| {
            let (year, month, day) = (2019 + at / 84, at % 12 + 1, at * 11 % 28 + 1);
            if at % 5 < 3 {
                format!("{year}-{month:02}-{day:02}\n")
            } else {
                format!("{day:02}/{month:02}/{year}\n")
            }
        })
        .collect();
    bench.write("c.csv", format!("seen\n{honest}"));
    bench
        .run("survey c.csv --column seen")
        .stdout_has(&[
            "Ruled out: month first (",
            "an import that exchanged day and month (less than 1 in ",
        ])
        .check();
}

/// A table of sixty columns: those without dates in one line, equal reasons once, and a last line that counts.
#[test]
fn a_wide_table_is_told_on_two_screens() {
    let header: Vec<String> = (0..60).map(|at| format!("c{at:02}")).collect();
    let row = |row: u32| -> String {
        let cell = |at: u32| match at % 6 {
            0 => format!("2024-{:02}-{:02}", row % 12 + 1, (row + at) % 28 + 1),
            1 => format!("{:02}/{:02}/2024", (row + at) % 27 + 1, row % 12 + 1),
            _ => format!("x{at}"),
        };
        (0..60).map(cell).collect::<Vec<_>>().join(",")
    };
    let bench = Bench::with("a.csv", table(&header.join(","), (0..120).map(row)));
    let told = bench
        .run("survey a.csv")
        .stdout_has(&["20 date columns of 60: 20 decided, 0 open", "c02, c03, c04, c05, c08"])
        .check();
    assert!(told.lines().count() < 60, "{told}");
    assert!(told.lines().filter(|line| line.contains("not-a-date")).count() == 0, "{told}");
    // Few columns have a line each.
    bench.write(
        "b.csv",
        table("seen,ring", (0..9).map(|at| format!("2024-03-{:02},LF{at}", at + 1))),
    );
    bench.run("survey b.csv").stdout_has(&["ring    -     not-a-date"]).check();
}

#[test]
fn what_is_asked_of_several_columns_alike_is_asked_once() {
    let day = |row: usize, seed: usize| {
        format!("{:02}/{:02}/2024", row * seed % 12 + 1, row * 5 % 12 + 1)
    };
    let rows = (0..60).map(|row| [1, 5, 7, 11].map(|seed| day(row, seed)).join(","));
    let bench = Bench::with("a.csv", table("ringed,seen,found,read", rows));
    for line in ["survey a.csv", "convert a.csv -o b.csv"] {
        let status = if line.starts_with("survey") { 0 } else { 3 };
        let output = bench.command(line).output().unwrap();
        assert_eq!(output.status.code(), Some(status));
        let said = String::from_utf8([output.stdout, output.stderr].concat()).unwrap();
        let all = ["ringed", "seen", "found", "read"]
            .map(|name| format!("--set '{name}: order=dmy'"))
            .join(" ");
        assert!(
            said.contains(
                "  ringed, seen, found, read: All 60 dates fit both day first and month first"
            ),
            "{said}"
        );
        assert_eq!(said.matches("If the day comes first in all 4 of them:").count(), 1, "{said}");
        assert!(said.contains(&format!("metachron convert a.csv {all} -o ")), "{said}");
        assert_eq!(said.matches("All 60 dates").count(), 1, "{said}");
    }
    // Each printed answer is run by the harness.
    bench.run("convert a.csv -o b.csv").status(3).stderr_has(&["in all 4 of them"]).check();
    // Two are asked about one by one.
    bench
        .run("survey a.csv --set 'found: order=dmy' --set 'read: convert=false'")
        .stdout_has(&["  ringed     All 60 dates", "  seen       All 60 dates"])
        .check();
}
