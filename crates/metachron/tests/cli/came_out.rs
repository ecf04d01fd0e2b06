//! What came out of a conversion, at a glance and for programs.

use std::collections::{BTreeMap, BTreeSet};

use serde_json::Value;

use crate::harness::{Bench, table};

#[test]
fn what_came_out_is_shown_beside_what_went_in() {
    let rows = (1..=40).map(|day| match day {
        1 => "05.03.1924".to_owned(),
        _ => format!("{:02}.{:02}.2024", (day - 1) % 28 + 1, (day - 1) / 28 + 3),
    });
    let others = (1..=160).map(|row| format!("{:02}/0{}/2024", row % 28 + 1, row % 2 + 5));
    let bench = Bench::with("a.csv", table("captured", rows.chain(others)));
    bench
        .run("convert a.csv -o b.csv")
        .stderr(
            "b.csv   200 rows\n\
             \x20 captured  → captured_typed  date  200 read\n\
             \n\
             \x20 came out        from        to          different  rows over time\n\
             \x20 captured_typed  1924-03-05  2024-06-28         68  1924 ▁···················█ 2024\n\
             \x20 captured_typed: 1 row lies 100 years before all others: 1924-03-05 (row 1).\n\
             \n\
             \x20 captured  \"02/06/2024\" → 2024-06-02   \"05.03.1924\" → 1924-03-05   \"06.04.2024\" → 2024-04-06\n",
        )
        .check();
    bench.run("convert a.csv -o b.csv --quiet").stderr("").check();
    bench
        .run("convert a.csv -o b.csv --quiet --compare")
        .status(2)
        .stderr("metachron: --compare shows what came out, and --quiet shows nothing\n")
        .check();
}

#[test]
fn a_closer_look_has_what_another_reading_makes_of_values() {
    let days = ["03/04/2024", "25/04/2024", "04/04/2024", "", "28/05/2024", "1. Mai 2024"];
    let bench = Bench::with("a.csv", table("captured", days.map(str::to_owned)));
    bench
        .run("convert a.csv -o b.csv --compare --make 'month = captured | start month'")
        .stderr(
            "b.csv   6 rows\n\
             \x20 captured  → captured_typed  date  5 read, 1 missing\n\
             \x20           → month           date  5 made, 1 missing\n\
             \n\
             \x20 came out        from        to          different  rows over time\n\
             \x20 captured_typed  2024-04-03  2024-05-28          5  2024-04 █▆ 2024-05\n\
             \x20 month           2024-04-01  2024-05-01          2  2024-04-01 █·····························▆ 2024-05-01\n\
             \n\
             \x20               row  captured       captured_typed  in words      otherwise\n\
             \x20 first           1  \"03/04/2024\"   2024-04-03      3 April 2024  2024-03-04 (month first)\n\
             \x20 last            6  \"1. Mai 2024\"  2024-05-01      1 May 2024\n\
             \x20 by chance       3  \"04/04/2024\"   2024-04-04      4 April 2024\n\
             \x20 by chance       5  \"28/05/2024\"   2024-05-28      28 May 2024\n\
             \x20 least likely    5                 2024-05-28      1 row         27 days from any other\n\
             \x20 least likely    2                 2024-04-25      1 row         6 days from any other\n",
        )
        .check();
}

#[test]
fn a_terminal_without_utf_8_is_shown_ascii() {
    let bench =
        Bench::with("a.csv", table("seen", (1..=28).map(|day| format!("2024-03-{day:02}"))));
    for (locale, is_ascii) in [("C", true), ("nb_NO.ISO-8859-1", true), ("nb_NO.UTF-8", false)] {
        for line in [
            "convert a.csv -o b.csv",
            "check a.csv",
            "chart a.csv --column seen --on-screen",
            "count a.csv --column seen",
        ] {
            let output = bench.command(line).env("LC_ALL", locale).output().unwrap();
            let said = [output.stdout, output.stderr].concat();
            assert!(!is_ascii || said.is_ascii(), "{locale} {line}");
        }
        bench
            .run("convert a.csv -o b.csv")
            .env("LC_ALL", locale)
            .stderr_has(&[if is_ascii { "seen  > seen_typed" } else { "seen  → seen_typed" }])
            .check();
    }
}

/// A clock time that is drawn.
fn drawn(number: u64) -> String {
    let mixed = number.wrapping_mul(0x9E37_79B9_7F4A_7C15).rotate_left(23);
    let [month, day, hour, minute] =
        [mixed % 12 + 1, mixed / 12 % 28 + 1, mixed / 336 % 24, mixed / 8_064 % 4 * 15];
    format!("{}-{month:02}-{day:02}T{hour:02}:{minute:02}", 2019 + mixed / 40_000 % 3)
}

#[test]
fn the_report_of_a_run_has_what_a_recount_finds() {
    let texts: Vec<String> = (0..3_000).map(drawn).collect();
    let bench = Bench::with("a.csv", table("seen,n", texts.iter().map(|text| format!("{text},7"))));
    bench.run("convert a.csv -o b.csv --run-report run.json --where 'seen < 2021-06-01'").output();
    let run: Value = serde_json::from_str(&bench.read("run.json")).unwrap();
    let found = &run["columns"][0]["came_out"];
    let kept: Vec<(u64, &String)> =
        (1..).zip(&texts).filter(|(_, text)| text.as_str() < "2021-06-01").collect();
    let earliest = kept.iter().map(|(_, text)| *text).min().unwrap();
    let latest = kept.iter().map(|(_, text)| *text).max().unwrap();
    let first = |value: &String| kept.iter().find(|(_, text)| *text == value).unwrap().0;
    for (end, value) in [("earliest", earliest), ("latest", latest)] {
        assert_eq!(found[end]["value"], format!("{value}:00"));
        assert_eq!(found[end]["row"], first(value));
    }
    let different: BTreeSet<&&String> = kept.iter().map(|(_, text)| text).collect();
    assert_eq!(found["different"], different.len());
    let mut months: BTreeMap<&str, u64> = BTreeMap::new();
    kept.iter().for_each(|(_, text)| *months.entry(&text[..7]).or_default() += 1);
    // Every month has rows.
    let counts: Vec<u64> = months.values().copied().collect();
    let strip = &found["over_time"];
    assert_eq!(strip["counts"], serde_json::to_value(counts).unwrap());
    assert_eq!((&strip["per"], &strip["step"]), (&"month".into(), &1.into()));
    assert_eq!((&strip["first"], &strip["last"]), (&"2019-01".into(), &"2021-05".into()));
    // The days that lie furthest from others.
    let days: BTreeSet<&str> = kept.iter().map(|(_, text)| &text[..10]).collect();
    let ordinals: Vec<i64> = days.iter().map(|day| ordinal(day)).collect();
    let furthest = (0..ordinals.len())
        .map(|at| {
            let before = at.checked_sub(1).map(|before| ordinals[at] - ordinals[before]);
            let after = ordinals.get(at + 1).map(|after| after - ordinals[at]);
            before.into_iter().chain(after).min().unwrap()
        })
        .max()
        .unwrap();
    let unlikely = found["least_likely"].as_array().unwrap();
    assert_eq!((unlikely.len(), &unlikely[0]["distance"]), (2, &furthest.into()));
    // Every example is what its row holds, and what was written for it.
    for example in found["examples"].as_array().unwrap() {
        let row = example["row"].as_u64().unwrap();
        assert_eq!(example["raw"], texts[row as usize - 1]);
        assert_eq!(example["typed"], format!("{}:00", texts[row as usize - 1]));
    }
}

/// The days from the end of 2018 on.
fn ordinal(day: &str) -> i64 {
    const LENGTHS: [i64; 12] = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
    let number = |range: std::ops::Range<usize>| day[range].parse::<i64>().unwrap();
    let (year, month, day) = (number(0..4), number(5..7) as usize, number(8..10));
    let leaps = (2019..year).filter(|year| year % 4 == 0).count() as i64;
    let leap = i64::from(year % 4 == 0 && month > 2);
    (year - 2019) * 365 + leaps + leap + LENGTHS[..month - 1].iter().sum::<i64>() + day
}
