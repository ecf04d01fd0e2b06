//! Rows counted per period, and what their numbers add up to.

use std::collections::BTreeMap;

use serde_json::Value;

use crate::harness::{Bench, table};

/// A clock time that is drawn, and what a calendar on paper says of it.
struct Drawn {
    text: String,
    periods: BTreeMap<&'static str, String>,
}

const LENGTHS: [u32; 12] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
const WEEKDAYS: [&str; 7] =
    ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

fn is_leap(year: u32) -> bool {
    year.is_multiple_of(4) && (!year.is_multiple_of(100) || year.is_multiple_of(400))
}

fn length(year: u32, month: u32) -> u32 {
    LENGTHS[month as usize - 1] + u32::from(month == 2 && is_leap(year))
}

/// The weekday, Monday being 0: 1 January 2018 was one.
fn weekday(year: u32, month: u32, day: u32) -> u32 {
    let years: u32 = (2018..year).map(|year| 365 + u32::from(is_leap(year))).sum();
    (years + ordinal(year, month, day) - 1) % 7
}

/// The day of the year.
fn ordinal(year: u32, month: u32, day: u32) -> u32 {
    (1..month).map(|month| length(year, month)).sum::<u32>() + day
}

/// The week of ISO 8601: that of its Thursday.
fn week(year: u32, month: u32, day: u32) -> String {
    let thursday = i64::from(ordinal(year, month, day)) + 3 - i64::from(weekday(year, month, day));
    let days = |year: u32| 365 + i64::from(is_leap(year));
    let (year, thursday) = match thursday {
        ..=0 => (year - 1, thursday + days(year - 1)),
        _ if thursday > days(year) => (year + 1, thursday - days(year)),
        _ => (year, thursday),
    };
    format!("{year}-W{:02}", (thursday - 1) / 7 + 1)
}

impl Drawn {
    fn at(number: u64) -> Drawn {
        let mixed = number.wrapping_mul(0x9E37_79B9_7F4A_7C15).rotate_left(23);
        let (year, month) = (2019 + (mixed % 5) as u32, (mixed / 5 % 12) as u32 + 1);
        let day = (mixed / 60 % u64::from(length(year, month))) as u32 + 1;
        let (hour, minute) = ((mixed / 3_000 % 24) as u32, (mixed / 90_000 % 60) as u32);
        let date = format!("{year}-{month:02}-{day:02}");
        let periods = BTreeMap::from([
            ("hour", format!("{date}T{hour:02}:00")),
            ("day", date.clone()),
            ("week", week(year, month, day)),
            ("month", format!("{year}-{month:02}")),
            ("quarter", format!("{year}-Q{}", (month - 1) / 3 + 1)),
            ("year", year.to_string()),
            ("weekday", WEEKDAYS[weekday(year, month, day) as usize].to_owned()),
            ("hour of day", format!("{hour:02}:00")),
        ]);
        Drawn { text: format!("{date} {hour:02}:{minute:02}"), periods }
    }
}

/// What a period has, added up in hundredths.
#[derive(Default, PartialEq, Debug)]
struct Added {
    rows: u64,
    numbers: i64,
    sum: i64,
    least: Option<i64>,
    most: Option<i64>,
}

#[test]
fn counts_are_those_of_a_count_by_hand() {
    let rows: Vec<(Drawn, &str, i64)> = (0..1_500)
        .map(|at| {
            let station = ["Skarholm", "Dar Wadi", "Hoshizaki"][(at * 7 % 11 % 3) as usize];
            (Drawn::at(at), station, (at as i64 * 37 % 9_973) - 2_000)
        })
        .collect();
    let hundredths = |own: i64| {
        let sign = if own < 0 { "-" } else { "" };
        format!("{sign}{}.{:02}", own.abs() / 100, own.abs() % 100)
    };
    let line = |(at, (drawn, station, weight)): (usize, &(Drawn, &str, i64))| match at % 50 {
        // No clock, and no weight.
        13 => format!(",{station},{}", hundredths(*weight)),
        27 => format!("{},{station},n/a", drawn.text),
        _ => format!("{},{station},{}", drawn.text, hundredths(*weight)),
    };
    let bench =
        Bench::with("a.csv", table("seen,station,weight", rows.iter().enumerate().map(line)));
    for by in [false, true] {
        for per in ["hour", "day", "week", "month", "quarter", "year", "weekday", "hour of day"] {
            // Hours of five years for each station are more lines than anybody reads.
            if per == "hour" && by {
                continue;
            }
            let mut expected: BTreeMap<(String, String), Added> = BTreeMap::new();
            for (at, (drawn, station, weight)) in rows.iter().enumerate() {
                if at % 50 == 13 {
                    continue;
                }
                let group = if by { (*station).to_owned() } else { String::new() };
                let added = expected.entry((drawn.periods[per].clone(), group)).or_default();
                added.rows += 1;
                if at % 50 != 27 {
                    added.numbers += 1;
                    added.sum += weight;
                    added.least = Some(added.least.map_or(*weight, |own| own.min(*weight)));
                    added.most = Some(added.most.map_or(*weight, |own| own.max(*weight)));
                }
            }
            let option = if by { "--by station" } else { "" };
            let text = bench
                .run(&format!(
                    "count a.csv --column seen --per '{per}' --sum weight --least weight --most weight {option} --json"
                ))
                .output();
            let report: Value = serde_json::from_str(&text).unwrap();
            let mut found = BTreeMap::new();
            let mut last = String::new();
            for line in report["lines"].as_array().unwrap() {
                let text = |key: &str| line[key].as_str().unwrap_or_default().to_owned();
                let figure = |name: &str| {
                    line["figures"][name].as_f64().map(|own| (own * 100.0).round() as i64)
                };
                let rows = line["rows"].as_u64().unwrap();
                // Periods follow each other without a gap, and those without rows are there.
                assert!(per == "weekday" || last <= text("period"), "{last} {line}");
                last = text("period");
                if rows == 0 {
                    assert_eq!(figure("sum of weight"), Some(0), "{line}");
                    continue;
                }
                let added = Added {
                    rows,
                    numbers: 0,
                    sum: figure("sum of weight").unwrap_or(0),
                    least: figure("least of weight"),
                    most: figure("most of weight"),
                };
                found.insert((text("period"), text("group")), added);
            }
            expected.values_mut().for_each(|added| added.numbers = 0);
            assert_eq!(found, expected, "per {per}, {option}");
            assert_eq!(report["undated"], 30, "{per}");
        }
    }
    // Of the cells that are no number the first is named.
    bench
        .run("count a.csv --column seen --per year --mean weight")
        .stdout_has(&[
            "1,500 rows by year of seen",
            "year  rows  mean of weight",
            "30 rows have no date in \"seen\" that can be read, and are counted nowhere.",
        ])
        .check();
}

#[test]
fn days_are_those_of_a_clock() {
    // From the evening of a day to the night of the next one, over a change of the clocks.
    let bench = Bench::with(
        "a.csv",
        "seen\n2024-10-26T21:30:00Z\n2024-10-26T22:30:00Z\n2024-10-27T00:30:00Z\n2024-10-27T01:30:00Z\n",
    );
    bench
        .run("count a.csv --column seen --per day")
        .stdout_has(&[
            "4 rows by day of seen, by the clock of UTC",
            "2024-10-26     2",
            "2024-10-27     2",
        ])
        .check();
    bench
        .run("count a.csv --column seen --per day --to-zone Europe/Oslo")
        .stdout_has(&["by the clock of Europe/Oslo", "2024-10-26     1", "2024-10-27     3"])
        .check();
    // The hour that came twice is counted as the clock shows it.
    bench
        .run("count a.csv --column seen --per hour --to-zone Europe/Oslo")
        .stdout_has(&["2024-10-27T02:00     2", "2024-10-27T01:00     0"])
        .check();
    // A zone in which clocks were read is that in which they are counted.
    bench.write("b.csv", "seen\n2024-10-26 23:30\n2024-10-27 00:30\n");
    bench
        .run("count b.csv --column seen --per day --zone Europe/Oslo")
        .stdout_has(&["by the clock of Europe/Oslo", "2024-10-26     1", "2024-10-27     1"])
        .check();
    bench
        .run("count b.csv --column seen --per day --set 'seen: zone=\"Europe/Oslo\"'")
        .stdout_has(&["by the clock of Europe/Oslo", "2024-10-26     1", "2024-10-27     1"])
        .check();
}

#[test]
fn lengths_of_time_and_derived_columns_add_up() {
    let rows = (1..=24).map(|at| {
        let (month, day) = (at % 12 + 1, at * 7 % 24 + 1);
        format!(
            "2024-{month:02}-{day:02},2024-{month:02}-{:02},{} min,{}",
            day + at % 5,
            at * 10,
            at % 2
        )
    });
    let bench = Bench::with("a.csv", table("caught,freed,watch,side", rows));
    bench
        .run("count a.csv --column caught --per quarter --sum watch --mean watch")
        .stdout_has(&["2024-Q1     6         PT11H        PT1H50M"])
        .check();
    bench
        .run("count a.csv --column caught --per year --make 'stay = freed | since caught | as days' --sum stay --where 'side = 1'")
        .stdout_has(&["12 rows by year of caught", "2024    12           24", "12 rows are left out by --where."])
        .check();
    // A derived date can be counted.
    bench
        .run("count a.csv --column after --make 'after = caught | move +1 month' --per month")
        .stdout_has(&["2024-02     2", "2025-01     2"])
        .check();
}

#[test]
fn counts_are_written_as_tables() {
    let bench =
        Bench::with("a.csv", "seen,n\n2024-01-05,\"1,500\"\n2024-03-07,2.5\n2024-03-08,4\n");
    let expected = "month,rows,sum of n\n2024-01,1,\n2024-02,0,0\n2024-03,2,6.5\n";
    bench
        .run("count a.csv --column seen --sum n -o b.csv")
        .stderr(
            "a.csv   3 rows by month of seen: 3 lines\n\
             \x20 1 cell is no number in \"n\", and added nowhere (first in row 1: \"1,500\").\n",
        )
        .check();
    assert_eq!(bench.read("b.csv"), expected);
    bench.run("count a.csv --column seen --sum n -o b.parquet --quiet").check();
    bench.run("convert b.parquet --set 'month: convert=false' --quiet").stdout(expected).check();
    bench.run("count a.csv --column seen --per weekday -o b.jsonl --quiet").check();
    assert!(bench.read("b.jsonl").starts_with("{\"weekday\":\"Monday\",\"rows\":0}\n"));
    // Names of columns are different ones, and a figure is told once.
    bench.write("c.csv", "seen,rows\n2024-01-05,1\n2024-01-06,2\n");
    bench.run("count c.csv --column seen --by rows --sum rows --sum rows -o d.csv --quiet").check();
    assert_eq!(
        bench.read("d.csv"),
        "month,rows,rows_2,sum of rows\n2024-01,1,1,1\n2024-01,2,1,2\n"
    );
    // With a decimal comma a point may stand between thousands.
    bench.write("e.csv", "seen,n\n2024-01-05,\"1,500\"\n2024-01-06,2.250\n");
    bench
        .run("count e.csv --column seen --per year --sum n")
        .status(1)
        .stderr_has(&["\"n\" has numbers with a point and numbers with a comma"])
        .check();
    bench.write("d.csv", "seen;n\n2024-01-05;1,5\n2024-01-06;2,25\n2024-01-07;1.500\n");
    bench
        .run("count d.csv --column seen --per year --sum n")
        .stdout_has(&[
            "2024     3      3.75",
            "1 cell is no number in \"n\", and added nowhere (first in row 3: \"1.500\")",
        ])
        .check();
}

#[test]
fn what_cannot_be_counted_is_said() {
    let bench = Bench::with(
        "a.csv",
        "seen,opened,ring,old\n03/04/2024,06:10,LF1,0001-01-01\n05/06/2024,07:20,LF2,9999-12-31\n",
    );
    for (options, status, says) in [
        ("", 2, "--column names the column whose dates are counted"),
        ("--column opened --column seen", 2, "--column names one column"),
        ("--column opened --per day", 2, "each value of \"opened\" is a time"),
        ("--column opened --per fortnight", 2, "--per \"fortnight\" is none of hour, day, week"),
        ("--column sen", 2, "a.csv has no column \"sen\"; did you mean \"seen\"?"),
        (
            "--column opened --per 'hour of day' --sum rings",
            2,
            "a.csv has no column \"rings\"; did you mean \"ring\"?",
        ),
        ("--column opened --per 'hour of day' --to-zone Europe/Oslo", 2, "--to-zone has no effect"),
        (
            "--column opened --per 'hour of day' --sum opened",
            2,
            "neither numbers nor lengths of time",
        ),
        ("--column seen", 3, "metachron count a.csv --column seen --set 'seen: order=dmy'"),
        (
            "--column old --keep-placeholders --calendar gregorian --per day",
            2,
            "lines for each day from the first to the last",
        ),
        (
            "--column opened --per 'hour of day' --json -o b.json",
            2,
            "--json says how the counts are printed",
        ),
        (
            "--column opened --per 'hour of day' --by rings",
            2,
            "a.csv has no column \"rings\"; did you mean",
        ),
        ("--column opened --per 'hour of day' -o a.csv", 2, "the output a.csv is the input"),
        ("--column opened --per 'hour of day' -o b.csv.gz", 1, "leave out .gz"),
        ("--column opened --per 'hour of day' -o b.xls", 1, "workbooks are written as .xlsx"),
    ] {
        bench.run(&format!("count a.csv {options}")).status(status).stderr_has(&[says]).check();
    }
    bench
        .run("count a.csv --column seen --order dmy --per year")
        .stdout_has(&["2024     2  ▄▄▄▄"])
        .check();
    bench.write("b.csv", "seen\n");
    bench
        .run("count b.csv --column seen --layout '{year}' --per year")
        .stdout("b.csv   0 rows by year of seen\n")
        .check();
    assert_eq!(bench.files(), ["a.csv", "b.csv"]);
}
