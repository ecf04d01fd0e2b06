//! A new delivery beside the readings file of the last one.

use crate::harness::{Bench, table};

/// Captures of two stations through a year, and when they were entered, as these would write them.
fn delivery(year: i32, captured: impl Fn(u32, u32, &str) -> String, stations: [&str; 2]) -> String {
    let mut text = "station,captured,entered\n".to_owned();
    for row in 0..60 {
        let station = stations[row as usize % 2];
        let (day, month) = (1 + row * 11 % 28, 1 + row * 5 % 12);
        let captured = captured(day, month, station);
        text.push_str(&format!("{station},{captured}/{year},{day:02}.{month:02}.{year}\n"));
    }
    text
}

fn by_station(day: u32, month: u32, station: &str) -> String {
    match station {
        "Port Meridian" => format!("{month:02}/{day:02}"),
        _ => format!("{day:02}/{month:02}"),
    }
}

const STATIONS: [&str; 2] = ["Skarholm", "Port Meridian"];

fn saved() -> Bench {
    let bench = Bench::with("first.csv", delivery(2024, by_station, STATIONS));
    bench
        .run("survey first.csv --as-of 2025-12-01 --save flyway.toml --accept split")
        .stdout_has(&["tells them apart"])
        .stderr(
            "metachron: captured is taken as found: \"station\" tells its rows apart\n\
             metachron: decisions saved in flyway.toml; review them, then\n\
             \x20 metachron convert first.csv --as-of 2025-12-01 --readings flyway.toml -o first.out.csv\n",
        )
        .check();
    bench
}

#[test]
fn a_delivery_like_the_last_one_passes() {
    let bench = saved();
    let toml = bench.read("flyway.toml");
    assert!(
        toml.contains(
            "seen = { rows = 60, unreadable = 0, shapes = { \"00/00/0000\" = 60 }, beside = [\"Port Meridian\", \"Skarholm\"] }"
        ),
        "{toml}"
    );
    assert!(toml.contains("earliest = \"2024-01-01\", latest = \"2024-12-26\""), "{toml}");
    bench.write("second.csv", delivery(2025, by_station, STATIONS));
    bench
        .run("check second.csv --readings flyway.toml --as-of 2026-01-01")
        .stdout_has(&["captured  date  decided    60", "Nothing was found."])
        .check();
    bench
        .run("convert second.csv --readings flyway.toml --as-of 2026-01-01 -o out.csv")
        .stderr(
            "out.csv   60 rows\n\
             \x20 captured  → captured_typed  date  60 read, 0 contested; 30 day first, 30 month \
             first by station\n\
             \x20 entered   → entered_typed   date  60 read\n",
        )
        .check();
}

#[test]
fn what_cannot_be_right_stops_and_says_where() {
    let bench = saved();
    // Skarholm has taken to writing the month first.
    let month_first = |day: u32, month: u32, _: &str| format!("{month:02}/{day:02}");
    bench.write("second.csv", delivery(2025, month_first, STATIONS));
    let check = "check second.csv --readings flyway.toml --as-of 2026-01-01";
    bench
        .run(check)
        .status(4)
        .stdout_has(&["values of Skarholm speak against the saved reading (first in row 3:"])
        .check();
    bench
        .run("convert second.csv --readings flyway.toml -o out.csv")
        .status(3)
        .stderr_has(&[
            "second.csv is not what flyway.toml was saved for; nothing was written",
            "metachron survey second.csv --column captured",
        ])
        .check();
    assert!(!bench.files().contains(&"out.csv".to_owned()));
    let json = bench.run(&format!("{check} --json")).status(4).stdout_has(&[""]).check();
    let report: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!((&report["report"], &report["version"]), (&"check".into(), &1.into()));
    let codes: Vec<&str> = report["findings"]
        .as_array()
        .unwrap()
        .iter()
        .map(|finding| finding["code"].as_str().unwrap())
        .collect();
    assert_eq!(codes, ["contested", "contradiction", "more-unreadable"], "{json}");
    // So has who enters them.
    let flipped = delivery(2025, by_station, STATIONS).replace('.', "-");
    let swapped: Vec<String> = flipped
        .lines()
        .map(|line| match line.rsplit_once(',') {
            Some((rest, date)) if date.len() == 10 => {
                format!("{rest},{}.{}.{}", &date[3..5], &date[..2], &date[6..])
            }
            _ => line.to_owned(),
        })
        .collect();
    bench.write("third.csv", swapped.join("\n") + "\n");
    bench
        .run("convert third.csv --readings flyway.toml --as-of 2026-01-01 -o out.csv")
        .status(3)
        .stderr_has(&[
            "entered    The order has turned:",
            "can only be month first",
            "--set 'entered: layouts=[\"{day}.{month}.{year}\"]' -o out.csv",
        ])
        .check();
    // Whoever says how it is read, has looked.
    bench
        .run("convert third.csv --readings flyway.toml --set 'entered: order=mdy' -o out.csv --as-of 2026-01-01")
        .stderr(
            "out.csv   60 rows\n\
             \x20 captured  → captured_typed  date  60 read, 0 contested; 30 day first, 30 month \
             first by station\n\
             \x20 entered   → entered_typed   date  60 read\n",
        )
        .check();
}

#[test]
fn what_is_only_new_is_worth_a_word() {
    let bench = saved();
    let second = delivery(2025, by_station, ["Skarholm", "Vestfjord"]);
    // A form, a year and a day to come that were not there.
    let second = second.replacen(",12.06.2025", ",2025-06-12", 1);
    let second = second.replacen(".2025\n", ".1999\n", 1).replacen("23.11.2025", "23.11.2199", 1);
    bench.write("second.csv", second);
    let expected = [
        "30 rows are from station \"Vestfjord\", unknown to the readings file",
        "1 value has a shape that was not there: 0000-00-00 (first in row 2: \"2025-06-12\")",
        "1999-01-01 lies outside of what was seen (2024-01-01 to 2024-12-26)",
        "2199-11-23 lies outside of what was seen",
    ];
    bench
        .run("check second.csv --readings flyway.toml --as-of 2026-01-01")
        .status(4)
        .stdout_has(&expected[..2])
        .check();
    bench
        .run(
            "convert second.csv --readings flyway.toml --as-of 2026-01-01 -o out.csv --tolerate 60",
        )
        .stderr_has(&expected)
        .check();
}

/// Rows of several new stations, of which each may be written in its own way.
#[test]
fn new_stations_are_asked_about_each_by_itself() {
    let bench = Bench::new();
    let row = |at: u32| {
        let (day, month) = (at * 11 % 27 + 1, at * 5 % 12 + 1);
        let early = at % 9 + 1;
        match at % 4 {
            0 => format!("Nordby,{day:02}/{month:02}/2025"),
            1 => format!("Bay Point,{month:02}/{day:02}/2025"),
            2 => format!("Lyngvik,{early:02}/{month:02}/2025"),
            _ => format!("Skarholm,{day:02}/{month:02}/2025"),
        }
    };
    bench.write(
        "a.csv",
        table(
            "station,seen",
            (0..120).map(|at| {
                let (day, month) = (at * 11 % 27 + 1, at * 5 % 12 + 1);
                match at % 2 {
                    0 => format!("Skarholm,{day:02}/{month:02}/2024"),
                    _ => format!("Port Meridian,{month:02}/{day:02}/2024"),
                }
            }),
        ),
    );
    bench.write("b.csv", table("station,seen", (0..120).map(row)));
    bench
        .run("survey a.csv --save a.toml --accept split --quiet")
        .stdout_has(&[])
        .stderr_has(&["decisions saved in a.toml"])
        .check();
    let told = bench
        .run("check b.csv --readings a.toml")
        .status(4)
        .stdout_has(&[
            "90 rows are from station \"Bay Point\", \"Lyngvik\" or \"Nordby\", unknown to the readings file",
            "If \"Nordby\" is day first, to tell a.toml so:\n",
            "--when 'seen where station=Nordby: order=dmy'\n",
            "If \"Bay Point\" is month first, to tell a.toml so:\n",
            "If \"Lyngvik\" is day first, to tell a.toml so:\n",
            "If \"Lyngvik\" is month first, to tell a.toml so:\n",
        ])
        .check();
    assert!(!told.contains("\"Nordby\" is month first"), "{told}");
}

#[test]
fn a_delivery_in_which_nothing_tells_the_order_is_unlike_the_last() {
    let bench = saved();
    let early = |row: u32| {
        format!("Skarholm,01/01/2025,{:02}.{:02}.2025\n", 1 + row % 12, 1 + row / 4 % 12)
    };
    let text: String = (0..48).map(early).collect();
    bench.write("second.csv", format!("station,captured,entered\n{text}"));
    bench
        .run("check second.csv --readings flyway.toml --as-of 2026-01-01")
        .status(4)
        .stdout_has(&["None of 48 different dates tells the order, which is taken on trust; when it was saved,"])
        .check();
}

#[test]
fn a_check_without_a_readings_file_names_what_is_open() {
    let bench =
        Bench::with("a.csv", "ring,seen,caught\nLF1,03/04/2024,2024-04-03\nLF2,05/06/2024,soon\n");
    bench
        .run("check a.csv")
        .status(4)
        .stdout_has(&[
            "It is undecided; metachron survey says what would settle it.",
            "caught     1 value is unreadable (1 unknown-form in row 2).",
        ])
        .check();
    bench.write("b.csv", "ring,caught\nLF1,2024-04-03\n");
    bench
        .run("check b.csv")
        .stdout(
            "b.csv   CSV, comma, UTF-8, header in line 1, 1 row\n\
         \n\
         \x20 column  kind  verdict  read  missing  unreadable  contested\n\
         \x20 caught  date  decided     1        0           0          0\n\
         \n\
         \x20 Nothing was found.\n",
        )
        .check();
    bench.write("c.csv", "ring\nLF1\n");
    bench
        .run("check c.csv")
        .stdout(
            "c.csv   CSV, one column (comma before new ones), UTF-8, header in line 1, 1 row\n\
         \n\
         \x20 No column holds dates.\n",
        )
        .check();
    bench
        .run("check gone.csv")
        .status(1)
        .stderr("metachron: gone.csv: there is no such file\n")
        .check();
}

fn save(bench: &Bench, survey: &str) {
    let said = bench.run(survey).status(0).stdout_has(&["seen"]);
    said.stderr_has(&["metachron: decisions saved in a.toml"]).check();
}

/// Days of a year in an order of their own, written in this way.
fn days(year: i16, written: impl Fn(i16, i16, i16) -> String) -> String {
    let rows = (0..60).map(|at| written(year, at % 12 + 1, at * 11 % 28 + 1));
    table("seen", rows)
}

#[test]
fn further_options_leave_what_was_seen() {
    let first = |year, month, day| format!("{day:02}/{month:02}/{year}");
    let turned = |year, month, day| format!("{month:02}/{day:02}/{year}");
    let bench = Bench::with("a.csv", days(2024, first));
    bench.write("b.csv", days(2025, turned));
    save(&bench, "survey a.csv --save a.toml");
    for option in ["", " --kind date", " --written-in en", " --two-digit-from 1950", " --missing x"]
    {
        let said = bench.run(&format!("convert b.csv --readings a.toml{option}")).status(3);
        said.stderr_has(&["The order has turned: "]).check();
    }
    // Another order is another reading.
    bench
        .run("convert b.csv --readings a.toml --column seen --order mdy --quiet")
        .stdout_has(&["\n02/12/2025,2025-02-12\n"])
        .check();
}

#[test]
fn each_form_has_the_order_that_it_was_saved_with() {
    let saved = |year, month: i16, day| match month % 2 {
        0 => format!("{day:02}/{month:02}/{year}"),
        _ => format!("{month:02}.{day:02}.{year}"),
    };
    let exchanged = |year, month: i16, day| match month % 2 {
        0 => format!("{month:02}/{day:02}/{year}"),
        _ => format!("{day:02}.{month:02}.{year}"),
    };
    let bench = Bench::with("a.csv", days(2024, saved));
    bench.write("b.csv", days(2025, exchanged));
    bench.write("c.csv", days(2025, saved));
    save(&bench, "survey a.csv --save a.toml");
    bench
        .run("convert b.csv --readings a.toml")
        .status(3)
        .stderr_has(&["values speak against the saved reading"])
        .check();
    let table = bench.run("convert c.csv --readings a.toml --quiet").output();
    assert!(table.contains("\n06/04/2025,2025-04-06\n"), "{table}");
}

#[test]
fn a_part_of_which_nothing_tells_is_taken_on_trust() {
    let bench = Bench::with("a.csv", "");
    let drawn = |late: i16| {
        let rows = (0..80_i16).map(|at| {
            let (month, day) = (at % 12 + 1, at * 11 % 28 + 1);
            match at % 2 {
                0 => format!("Skarholm,{:02}/{month:02}/2024", day.min(late)),
                _ => format!("Port Meridian,{month:02}/{day:02}/2024"),
            }
        });
        table("station,seen", rows)
    };
    bench.write("a.csv", drawn(28));
    bench.write("b.csv", drawn(12));
    save(&bench, "survey a.csv --save a.toml --accept split");
    // What a person has accepted stays so beside other options.
    for option in ["--two-digit-from 1950", "--kind date", "--missing x"] {
        let said =
            bench.run(&format!("convert a.csv --readings a.toml --column seen {option} --quiet"));
        said.stdout_has(&["Skarholm,23/03/2024,2024-03-23", "Port Meridian,02/12/2024,2024-02-12"])
            .check();
    }
    bench
        .run("check b.csv --readings a.toml")
        .status(4)
        .stdout_has(&["None of 40 values of Skarholm tells the order, which is taken on trust."])
        .check();
}

#[test]
fn a_year_is_that_of_the_rows_for_which_it_was_said() {
    let bench = Bench::with("a.csv", "seen\n3 Mar\n9 Apr\n2 May\n");
    bench.write("b.csv", "seen\n1 Mar\n9 Apr\n7 May\n");
    save(&bench, "survey a.csv --year 2024 --column seen --save a.toml");
    bench
        .run("convert a.csv --readings a.toml --quiet")
        .stdout_has(&["2 May,2024-05-02\n"])
        .check();
    bench
        .run("convert b.csv --readings a.toml --as-of 2025-06-01")
        .status(3)
        .stderr_has(&[
            "The year of the first row, 2024, was said for other rows.",
            "metachron convert b.csv --readings a.toml --as-of 2025-06-01 --set 'seen: year=2025' -o b.out.csv",
        ])
        .check();
    bench
        .run("convert b.csv --readings a.toml --as-of 2025-06-01 --set 'seen: year=2025' --quiet")
        .stdout_has(&["7 May,2025-05-07\n"])
        .check();
}

#[test]
fn names_of_another_language_are_not_read_by_the_saved_one() {
    const POLISH: &str = "stycznia lutego marca kwietnia maja czerwca lipca sierpnia września października listopada grudnia";
    let drawn = |months: &str| {
        let rows = months.split(' ').map(|month| format!("13 {month} 2024"));
        table("seen", rows)
    };
    let bench = Bench::with("a.csv", drawn(POLISH));
    // In Croatian that month is October.
    bench.write("b.csv", drawn("srpnja listopada prosinca"));
    bench.write("c.csv", "seen\n3 listopada 2025\n");
    save(&bench, "survey a.csv --column seen --save a.toml");
    bench
        .run("convert b.csv --readings a.toml")
        .status(3)
        .stderr_has(&["2 values are dates of another language than the saved one, in which other names may be"])
        .check();
    bench
        .run("check c.csv --readings a.toml")
        .status(4)
        .stdout_has(&[
            "\"listopada\" is October in Croatian; November in Polish",
            "saved language is taken on trust.",
        ])
        .check();
    // Names that are the same in two languages are read by either, and a layout alone says no language.
    bench.write("a.csv", drawn("lipca listopada grudnia"));
    bench.run("convert a.csv --quiet").stdout_has(&["13 listopada 2024,2024-11-13\n"]).check();
    bench
        .run("convert c.csv --layout '{day} {month:name} {year}'")
        .status(3)
        .stderr_has(&["If the names are Croatian:", "written_in=hr' -o c.out.csv"])
        .check();
    let said = bench.run("convert c.csv --written-in hr --quiet");
    said.stdout("seen,seen_typed\n3 listopada 2025,2025-10-03\n").check();
}

/// A saved reading says how the source writes, never what this file means: what a survey would ask is told.
#[test]
fn what_values_may_mean_is_told_under_a_saved_reading_too() {
    let days = |count: u32| (0..count).map(|at| (1 + at * 5 % 12, 1 + at * 11 % 28));
    let clocks = |hour: fn(u32) -> u32| {
        let rows = days(60).enumerate().map(move |(at, (month, day))| {
            format!("2023-{month:02}-{day:02} {}:05", hour(at as u32 * 7))
        });
        table("seen", rows)
    };
    let iso = |write: fn(u32, u32) -> String| table("seen", days(60).map(|(m, d)| write(m, d)));
    let hours = |fraction: fn(u32) -> u32| {
        table("effort", (0..60).map(move |at| format!("{}.{:02} h", 1 + at % 9, fraction(at))))
    };
    let told = [
        (clocks(|at| at % 24), clocks(|at| 1 + at % 12), "show hours from 1 to 12"),
        (
            iso(|month, day| format!("2023-{month:02}-{day:02}")),
            iso(|month, day| format!("2024-{day:02}-{month:02}")),
            "can be nothing but year, day, month",
        ),
        (
            iso(|month, day| format!("2023-{month:02}-{day:02}")),
            iso(|month, day| format!("2024-{month:02}-{:02}", 1 + day % 12)),
            "different dates has a day above 12",
        ),
        (hours(|at| at * 17 % 100), hours(|at| at % 60), "none above .59: they may be minutes"),
    ];
    for (first, next, warning) in told {
        let bench = Bench::with("a.csv", first);
        bench.write("b.csv", next);
        bench.run("survey a.csv --save a.toml").output();
        let own = bench.command("convert a.csv --readings a.toml -o c.csv").output().unwrap();
        assert!(!String::from_utf8_lossy(&own.stderr).contains(warning));
        let next = bench.command("convert b.csv --readings a.toml -o c.csv").output().unwrap();
        let said = String::from_utf8_lossy(&next.stderr);
        assert!(said.contains(warning), "{warning}: {said}");
    }
    // Years that became days stop it: what was saved cannot be right for them.
    let bench = Bench::with("a.csv", iso(|month, day| format!("{day:02}/{month:02}/2023")));
    bench.write("b.csv", iso(|month, day| format!("{:02}/{month:02}/2024", 17 + day % 7)));
    bench.run("survey a.csv --save a.toml").output();
    bench
        .run("convert b.csv --readings a.toml -o c.csv")
        .status(3)
        .stderr_has(&["taken months with two-digit years", "repair=month-year"])
        .check();
}

/// Rows that go on in time, three a day through spring. Of the first twelve days of a month, an import has exchanged
/// two of the three.
fn through_spring(is_harmed: bool) -> String {
    let mut text = "ringed\n".to_owned();
    for (month, days) in [(3, 31), (4, 30), (5, 31), (6, 8)] {
        for (day, row) in (1..=days).flat_map(|day| (0..3).map(move |row| (day, row))) {
            let (first, second) = match is_harmed && day <= 12 && row < 2 {
                true => (month, day),
                false => (day, month),
            };
            text.push_str(&format!("{first:02}/{second:02}/2024\n"));
        }
    }
    text
}

#[test]
fn dates_that_fit_in_only_once_exchanged_are_asked_about_and_told() {
    let bench = Bench::with("first.csv", through_spring(false));
    bench
        .run("survey first.csv --as-of 2025-12-01 --save spring.toml")
        .stdout_has(&["ringed  date  decided"])
        .stderr_has(&["metachron: decisions saved in spring.toml"])
        .check();
    bench.write("second.csv", through_spring(true));
    // 40 different dates are exchanged, and of 20 of these the month is none of spring's, nor beside it.
    let near = "38 of 76 different dates that fit several orders lie near the rows above them only if they are month first";
    let outside = "20 different dates lie outside the time of those that can be read in one way only (2024-03 to 2024-06)";
    let asked = ["38 of 76 different dates", "dates lie outside the time"];
    bench.run("convert second.csv -o out.csv").status(3).stderr_has(&asked).check();
    bench
        .run("convert second.csv --readings spring.toml --as-of 2026-01-01 -o out.csv")
        .stderr_has(&[near, outside])
        .check();
    bench
        .run("check second.csv --readings spring.toml --as-of 2026-01-01")
        .status(4)
        .stdout_has(&asked)
        .check();
    // In no order only the time in which they lie tells.
    let mut rows: Vec<String> = through_spring(true).lines().skip(1).map(str::to_owned).collect();
    rows.sort_by_key(|row| {
        row.bytes().rev().fold(0_u32, |sum, own| sum.wrapping_mul(31) ^ u32::from(own))
    });
    bench.write("third.csv", format!("ringed\n{}\n", rows.join("\n")));
    bench
        .run("survey third.csv --column ringed")
        .stdout_has(&["20 different dates lie outside"])
        .check();
}

#[test]
fn numbers_beyond_the_days_of_a_month_are_a_question() {
    let cases = |month: u32| (1..=45).map(move |number| format!("2024{month:02}{number:02}\n"));
    let bench =
        Bench::with("cases.csv", format!("case\n{}", (1..=6).flat_map(cases).collect::<String>()));
    let asked = "all of them may be running numbers (first in row 32: \"20240132\")";
    bench.run("convert cases.csv").status(3).stderr_has(&[asked]).check();
}

/// What differs in the file itself is named, with the line that reads it.
#[test]
fn titles_marks_and_encodings_that_differ_are_named() {
    let file = |titles: usize, mark: &str| {
        let titles = "Longshore Flyway\n".repeat(titles);
        let rows = (13..19).map(|day| format!("LF{day}{mark}{day}. März 2024{mark}Øresund\n"));
        format!("{titles}ring{mark}seen{mark}place\n{}", rows.collect::<String>())
    };
    let latin =
        |text: &str| text.chars().map(|c| u8::try_from(u32::from(c)).unwrap()).collect::<Vec<u8>>();
    let bench = Bench::with("a.csv", latin(&file(2, ";")));
    bench.run("survey a.csv --save a.toml").output();
    for (name, content, says, option) in [
        (
            "b.csv",
            latin(&file(3, ";")),
            "titles are 3 lines here, 2 lines when it was saved",
            "--skip-lines 3",
        ),
        (
            "c.csv",
            latin(&file(0, ";")),
            "titles are none here, 2 lines when it was saved",
            "--skip-lines 0",
        ),
        (
            "d.csv",
            latin(&file(2, ",")),
            "fields are separated by comma here, by semicolon when it was saved",
            "--delimiter comma",
        ),
        (
            "e.csv",
            file(2, ";").into_bytes(),
            "it is utf-8 here, windows-1252 when it was saved",
            "--encoding utf-8",
        ),
    ] {
        bench.write(name, content);
        let line = format!("convert {name} --readings a.toml {option} -o out.csv");
        bench
            .run(&format!("convert {name} --readings a.toml -o out.csv"))
            .status(3)
            .stderr(format!(
                "metachron: {name} is written otherwise than a.toml has it: {says}\n\n  To read it so:\n    \
                 metachron {line}\n"
            ))
            .check();
        bench.run(&line).output();
        assert!(bench.read("out.csv").contains("13. März 2024"), "{name}");
    }
    // Where no letter tells, an encoding is like another.
    bench.write("f.csv", "Flyway\nFlyway\nring;seen;place\nLF1;13. Mai 2024;Skarholm\n");
    bench
        .run("convert f.csv --readings a.toml --quiet")
        .stdout_has(&["13. Mai 2024;2024-05-13"])
        .check();
}
