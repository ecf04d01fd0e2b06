//! What a check finds in the values of a table, and what it requires of them.

use std::collections::{BTreeMap, BTreeSet};

use serde_json::Value;

use crate::harness::{Bench, table};

const LENGTHS: [i64; 12] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

/// The day so many days after 1 January 2023, by a calendar on paper.
fn day(mut number: i64) -> String {
    let is_leap = |year: i64| year % 4 == 0;
    let mut year = 2023;
    while number >= 365 + i64::from(is_leap(year)) {
        number -= 365 + i64::from(is_leap(year));
        year += 1;
    }
    for (month, length) in (1..).zip(LENGTHS) {
        let length = length + i64::from(month == 2 && is_leap(year));
        if number < length {
            return format!("{year}-{month:02}-{:02}", number + 1);
        }
        number -= length;
    }
    unreachable!()
}

/// The same with a clock time, so many minutes after its midnight.
fn clock(minutes: i64) -> String {
    let minute = minutes.rem_euclid(1440);
    format!("{}T{:02}:{:02}", day(minutes.div_euclid(1440)), minute / 60, minute % 60)
}

fn column(name: &str, rows: impl IntoIterator<Item = String>) -> String {
    table(name, rows)
}

/// What a check of a file finds and notes: the codes with the message of each.
fn checked(
    bench: &Bench,
    line: &str,
    status: i32,
) -> (BTreeMap<String, String>, BTreeMap<String, String>) {
    let text = bench.run(&format!("check {line} --json")).status(status).output();
    let report: Value = serde_json::from_str(&text).unwrap();
    let list = |key: &str| {
        let all = report[key].as_array().cloned().unwrap_or_default();
        let text = |own: &Value, key: &str| own[key].as_str().unwrap().to_owned();
        all.iter().map(|own| (text(own, "code"), text(own, "message"))).collect()
    };
    (list("findings"), list("notes"))
}

#[test]
fn signs_of_something_wrong_are_found_and_told_with_a_row() {
    let every_day = |count: i64| (0..count).map(day);
    let files: [(&str, &str, String, &str); 10] = [
        (
            "apart",
            "a.csv",
            column("seen", std::iter::once("1923-05-01".to_owned()).chain(every_day(300))),
            "1 row lies 100 years before all others: 1923-05-01 (row 1). --fixes takes right answers for single cells",
        ),
        (
            "after-today",
            "a.csv",
            column("seen", every_day(80).chain(["2023-04-01".to_owned()])),
            "1 row lies after today (first in row 81: 2023-04-01). --as-of says another day, --fixes takes right answers",
        ),
        (
            "days-stop-at-12",
            "a.csv",
            column(
                "seen",
                (0..200).map(day).filter(|day| !day.starts_with("2023-02") || day[8..] <= *"12"),
            ),
            "The days of 2023-02 stop at 12, in 12 rows (first in row 32): as if day and month stood in each other's place \
             where both can be a month. metachron survey with --column seen shows how else they can be read",
        ),
        (
            "clocks-stand-still",
            "a.csv",
            column("seen", (0..40).map(|at| day(at) + "T00:00")),
            "All 40 clock times are midnight: perhaps these are days. --make 'day = seen | date' writes them so",
        ),
        (
            "clocks-stand-still",
            "a.csv",
            column(
                "seen",
                (0..400)
                    .map(|at| if at % 7 == 3 { day(at) + "T12:00" } else { clock(at * 1507 + 3) }),
            ),
            "57 clock times are exactly noon (first in row 4), far more than any other hour has: perhaps days whose clock \
             time was not known",
        ),
        (
            "spike",
            "a.csv",
            column("seen", (0..600).map(|at| if at % 3 == 1 { day(4) } else { day(at / 3) })),
            "202 rows have 2023-01-05 (first in row 2), and of the other days hardly any has more than 2: perhaps it stands \
             for a date that was not known. --missing with the text of these cells makes them empty",
        ),
        (
            "summer-time",
            "a.csv",
            column(
                "seen",
                (0..600)
                    .map(|at| clock((82 * 24 + at) * 60))
                    .filter(|at| !at.starts_with("2023-03-26T02")),
            ),
            "An hour is missing behind 2023-03-26T01:00:00 (row 50): there the clocks of Europe/Berlin and others with the \
             same rules were put forward. These are clock times of a place; --zone reads them as moments",
        ),
        (
            "sorted-as-text",
            "a.csv",
            {
                let mut days: Vec<String> = every_day(120)
                    .map(|day| format!("{}.{}.{}", &day[8..], &day[5..7], &day[..4]))
                    .collect();
                days.sort();
                column("seen", days)
            },
            "Rows are in the order of their texts, not of time: row 5 (2023-01-02) stands behind row 4 (2023-04-01). \
             --sort-by seen writes them in the order of time",
        ),
        (
            "other-period",
            "rings-march-2023.csv",
            column("seen", (59..90).map(day).chain([day(91)])),
            "The file is called 2023-03, and 1 of 32 rows is of another month (first in row 32: 2023-04-02). --where \
             leaves rows out",
        ),
        (
            "end-before-start",
            "a.csv",
            table(
                "caught,seen",
                (0..60).map(|at| {
                    let later = if at == 41 { at - 3 } else { at + 2 + at % 5 };
                    format!("{},{}", day(at), day(later))
                }),
            ),
            "1 row has seen before caught (first in row 42: 2023-02-08 before 2023-02-11); in 59 rows it is the other way \
             around. --where 'seen | since caught | as hours < 0' writes them alone",
        ),
    ];
    for (code, file, text, message) in files {
        let bench = Bench::with(file, text);
        let as_of = if code == "after-today" { "2023-03-21" } else { "2026-01-01" };
        let (findings, _) = checked(&bench, &format!("{file} --as-of {as_of}"), 4);
        let expected = BTreeMap::from([(code.to_owned(), message.to_owned())]);
        assert_eq!(findings, expected, "{code}");
        // What is right as it is can be said to be, here and for later files.
        let column = "seen";
        let allowed = format!("--set '{column}: allow={code}'");
        let (findings, notes) = checked(&bench, &format!("{file} --as-of {as_of} {allowed}"), 0);
        assert!(findings.is_empty() && notes.contains_key(code), "{findings:?} {notes:?}");
        bench.run(&format!("survey {file} --save a.toml --as-of {as_of} {allowed}")).output();
        assert!(
            bench.read("a.toml").contains(&format!("allow = [\"{code}\"]")),
            "{}",
            bench.read("a.toml")
        );
        checked(&bench, &format!("{file} --readings a.toml --as-of {as_of}"), 0);
    }
}

#[test]
fn what_is_advised_works() {
    let bench = Bench::with(
        "a.csv",
        table(
            "\"caught at\",seen,logged",
            (0..60).map(|at| {
                let later = if at == 41 { at - 3 } else { at + 2 };
                format!("{},{},{}T00:00", day(at), day(later), day(at * 7 % 60))
            }),
        ),
    );
    let (findings, _) = checked(&bench, "a.csv", 4);
    for (code, column, rows) in
        [("end-before-start", "seen", 1), ("clocks-stand-still", "logged", 60)]
    {
        let says = &findings[code];
        // An option with what it is given, up to the next word that is no part of it.
        let at = says.find("--").unwrap();
        let option = says[at..].split("' writes").next().unwrap();
        bench.run(&format!("convert a.csv {option}' -o b.csv --quiet")).output();
        assert_eq!(bench.read("b.csv").lines().count(), rows + 1, "{column}: {option}");
    }
    bench.run("convert a.csv --sort-by logged -o b.csv --quiet").output();
    let (findings, _) = checked(&bench, "b.csv --column logged_typed", 4);
    assert!(!findings.contains_key("sorted-as-text"), "{findings:?}");
}

#[test]
fn honest_tables_show_no_sign() {
    let weekdays = (0..400).filter(|at| (at + 6) % 7 < 5);
    for (name, text, noted) in [
        ("every day", column("seen", (0..500).map(day)), "Every day without a gap"),
        ("begun month", column("seen", (0..71).map(day)), "Sorted"),
        (
            "working days",
            column("seen", weekdays.clone().map(day)),
            "Never on a Saturday or Sunday",
        ),
        (
            "a busy weekday",
            column("seen", (0..300).flat_map(|at| vec![day(at); if at % 7 == 0 { 30 } else { 3 }])),
            "Sorted",
        ),
        (
            "every hour",
            column("seen", (0..2_000).map(|at| clock(at * 60))),
            "Every hour without a gap",
        ),
        (
            "every ten minutes with gaps",
            column("seen", (0..2_000).filter(|at| at / 7 % 40 != 3).map(|at| clock(at * 10))),
            "Every 10 minutes in 1,935 of 1,943 steps, but for 8 gaps, which 56 values would fill, the longest 80 minutes \
             from 2023-01-01T03:20:00 (row 21)",
        ),
        (
            "months",
            column("seen", (1..=12).map(|month| format!("2023-{month:02}-01"))),
            "Every month without a gap",
        ),
        (
            "payments",
            column("paid", (0..24).map(|at| format!("202{}-{:02}-10", at / 12, at % 12 + 1))),
            "Sorted",
        ),
    ] {
        let bench = Bench::with("a.csv", text);
        let (findings, notes) = checked(&bench, "a.csv --as-of 2026-01-01", 0);
        assert_eq!(findings, BTreeMap::new(), "{name}");
        assert!(notes.values().any(|note| note == noted), "{name}: {notes:?}");
    }
}

#[test]
fn what_is_required_is_a_finding_where_it_does_not_hold() {
    let rows = [0, 10, 20, 20, 40, 30, 2_000].map(clock);
    let bench = Bench::with("a.csv", column("seen", rows));
    for (required, broken) in [
        (
            "sorted",
            "1 row lies before the one above, first row 6 (2023-01-01T00:30:00) behind row 5 (2023-01-01T00:40:00)",
        ),
        (
            "unique",
            "1 row has the value of another, the earliest 2023-01-01T00:20:00 in rows 3 and 4",
        ),
        ("within 2023-01-01..2023-01-01", "1 row is not (first in row 7: 2023-01-02T09:20:00)"),
        ("within ..2023-01-01T00:30", "2 rows are not (first in row 5: 2023-01-01T00:40:00)"),
        ("complete hour", "32 hours have no row, the first 2023-01-01T01:00"),
        (
            "regular 10 minutes",
            "1 of 5 steps is not, such as that from 2023-01-01T00:40:00 (row 5) to 2023-01-02T09:20:00 (row 7)",
        ),
        ("within 2023-01..2023-01", ""),
        ("complete day", ""),
    ] {
        let line = format!("a.csv --column seen --require '{required}'");
        let (findings, notes) = checked(&bench, &line, if broken.is_empty() { 0 } else { 4 });
        match broken {
            "" => assert_eq!(notes["kept"], format!("As required: {required}")),
            broken => {
                assert_eq!(findings["required"], format!("Required is {required}, but {broken}"))
            }
        }
    }
    // It is saved, and holds for later files.
    bench.run("survey a.csv --set 'seen: require=\"sorted, complete day\"' --save a.toml").output();
    assert!(bench.read("a.toml").contains("require = [\"sorted\", \"complete day\"]"));
    let (findings, notes) = checked(&bench, "a.csv --readings a.toml", 4);
    assert_eq!(findings.keys().collect::<Vec<_>>(), ["required"]);
    assert_eq!(notes["kept"], "As required: complete day");
    bench.write("b.csv", column("seen", (0..40).map(|at| clock(at * 10))));
    checked(&bench, "b.csv --readings a.toml", 0);
    for (required, says) in [
        (
            "sortd",
            "is none of sorted, unique, within FROM..TO, complete PERIOD, regular AMOUNT UNIT",
        ),
        ("within 2023", "has no range in ISO 8601, such as within 2024-01-01..2024-12-31"),
        ("complete weekday", "names none of hour, day, week, month, quarter, year"),
        ("regular often", "has no amount of a unit, such as regular 10 minutes"),
        (
            "within PT1H..",
            "\"seen\" cannot be required to be \"within PT1H..\": each of its values is a clock time",
        ),
    ] {
        bench
            .run(&format!("check a.csv --column seen --require '{required}'"))
            .status(2)
            .stderr_has(&[says])
            .check();
    }
}

#[test]
fn names_of_files_say_a_month_where_they_say_one_alone() {
    let march = column("seen", (59..90).map(day));
    for (name, is_told) in [
        ("rings-2023-04.csv", true),
        ("rings_202304.csv", true),
        ("April 2023.csv", true),
        ("rings-2022.csv", true),
        ("2023-03.csv", false),
        ("rings-2023.csv", false),
        ("märz_2023.csv", false),
        ("export-2023-04-02.csv", false),
        ("export-20230402.csv", false),
        ("2023-04_2023-05.csv", false),
        ("rings.csv", false),
    ] {
        let bench = Bench::with(name, march.clone());
        let (findings, _) = checked(&bench, &format!("'{name}'"), if is_told { 4 } else { 0 });
        assert_eq!(findings.contains_key("other-period"), is_told, "{name}: {findings:?}");
    }
    // Read the other way around they would be of the month: that is the likelier story.
    let swapped = (1..=12).map(|day| format!("{day:02}/03/2023"));
    let bench = Bench::with("march-2023.csv", column("seen", swapped));
    let (findings, _) = checked(&bench, "march-2023.csv --set 'seen: order=mdy'", 4);
    assert!(
        findings["other-period"]
            .contains("with day and month in each other's place 11 would be of it"),
        "{findings:?}"
    );
}

#[test]
fn the_page_says_what_was_found_and_what_is_worth_knowing() {
    let rows = (0..60).map(|at| format!("{},{}", day(at), if at == 7 { "n/k" } else { "x" }));
    let bench = Bench::with("a.csv", table("seen,note", rows));
    bench
        .run("check a.csv --column seen --require 'sorted, unique, within ..2023-02-20' --as-of 2023-02-25")
        .status(4)
        .stdout(
            "a.csv   CSV, comma, UTF-8, header in line 1, 60 rows\n\
             \n\
             \x20 column  kind  verdict  read  missing  unreadable  contested\n\
             \x20 seen    date  decided    60        0           0          0\n\
             \n\
             \x20 seen       Required is within ..2023-02-20, but 9 rows are not (first in row 52: 2023-02-21).\n\
             \n\
             \x20 seen       4 rows lie after today (first in row 57: 2023-02-26). Sorted. Every day without a gap. As\n\
             \x20            required: sorted, unique.\n",
        )
        .check();
}

#[test]
fn figures_are_those_of_a_recount_where_rows_are_many_and_shuffled() {
    // More than are held in memory: they are sorted on disk.
    const ROWS: i64 = 400_000;
    let minutes = (0..ROWS).map(|at| {
        let place = at * 179_426_549 % ROWS;
        // Some are missing, some come twice.
        match place % 1_000 {
            17 => place + 1,
            500..503 => place - 100,
            _ => place,
        }
    });
    let minutes: Vec<i64> = minutes.map(|place| place * 5).collect();
    let bench = Bench::with("a.csv", column("seen", minutes.iter().map(|own| clock(*own))));
    let line = "check a.csv --column seen --require 'sorted, unique, complete hour, regular 5 minutes' --json";
    let report: Value = serde_json::from_str(&bench.run(line).status(4).output()).unwrap();
    let finding = |required: &str| {
        let all = report["findings"].as_array().unwrap();
        let is_own = |own: &&Value| {
            own["message"].as_str().unwrap().starts_with(&format!("Required is {required}, "))
        };
        all.iter().find(is_own).cloned()
    };
    let falls = minutes.windows(2).filter(|pair| pair[1] < pair[0]).count();
    assert_eq!(finding("sorted").unwrap()["rows"], falls);
    let different: BTreeSet<i64> = minutes.iter().copied().collect();
    assert_eq!(finding("unique").unwrap()["rows"], minutes.len() - different.len());
    let sorted: Vec<i64> = different.iter().copied().collect();
    let unlike = sorted.windows(2).filter(|pair| pair[1] - pair[0] != 5).count();
    assert_eq!(finding("regular 5 minutes").unwrap()["rows"], unlike);
    assert_eq!(finding("complete hour"), None);
    let gaps: Vec<i64> =
        sorted.windows(2).map(|pair| pair[1] - pair[0]).filter(|step| *step > 5).collect();
    let missing: i64 = gaps.iter().map(|gap| gap / 5 - 1).sum();
    let notes = report["notes"].as_array().unwrap();
    let regular =
        notes.iter().find(|own| own["code"] == "regular").unwrap()["message"].as_str().unwrap();
    let grouped = |number: i64| format!("{},{:03}", number / 1_000, number % 1_000);
    let says = format!("{} gaps, which {} values would fill", gaps.len(), grouped(missing));
    assert!(regular.contains(&says), "{regular} lacks {says}");
    // Counted per day they are as many.
    let counts: Value =
        serde_json::from_str(&bench.run("count a.csv --column seen --per day --json").output())
            .unwrap();
    let mut expected: BTreeMap<String, u64> = BTreeMap::new();
    minutes.iter().for_each(|own| *expected.entry(day(own / 1440)).or_default() += 1);
    let found = counts["lines"].as_array().unwrap().iter();
    let found: BTreeMap<String, u64> = found
        .map(|line| (line["period"].as_str().unwrap().to_owned(), line["rows"].as_u64().unwrap()))
        .collect();
    assert_eq!(found, expected);
}
