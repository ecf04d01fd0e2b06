//! Whatever can be said on the command line can be saved, and does the same when it is read back: every saying alone and
//! in pairs, options against a readings file, byte for byte.

use std::collections::BTreeSet;

use crate::harness::{Bench, table};

/// A table, and what may be said of it.
struct Case {
    table: String,
    sayings: &'static [&'static str],
}

const DAY: &str = "2026-01-01";

/// What a conversion comes to: its exit status, what it writes, and the columns that it asks about.
type Outcome = (i32, Option<String>, BTreeSet<String>);

fn outcome(bench: &Bench, line: &str) -> Outcome {
    let _ = std::fs::remove_file(bench.path().join("out.csv"));
    let output = bench.command(line).output().unwrap();
    let stderr = String::from_utf8(output.stderr).unwrap();
    let status = output.status.code().unwrap();
    // A column's paragraph begins with its name, two spaces in.
    let asked = stderr.lines().filter(|_| status == 3).filter_map(|line| {
        let name = line.strip_prefix("  ")?;
        (!name.starts_with([' ', 'T'])).then(|| name.split(' ').next().unwrap().to_owned())
    });
    let written = std::fs::read_to_string(bench.path().join("out.csv")).ok();
    (status, written, asked.collect())
}

fn holds(case: &Case, sayings: &[&str]) {
    let bench = Bench::with("t.csv", &case.table);
    let said = sayings.join(" ");
    let line = format!("convert t.csv {said} --as-of {DAY} -o out.csv");
    let by_options = outcome(&bench, &line);
    // What excludes the other is refused, whoever says it.
    if !matches!(by_options.0, 0 | 3 | 4) {
        assert!(sayings.len() > 1, "$ metachron {line} ends with {}", by_options.0);
        return;
    }
    let save = format!("survey t.csv {said} --as-of {DAY} --save t.toml");
    let saved = bench.command(&save).output().unwrap();
    assert!(
        saved.status.success(),
        "$ metachron {save}\n{}",
        String::from_utf8_lossy(&saved.stderr)
    );
    // Which columns are converted is said of one run.
    let words: Vec<&str> = said.split(' ').collect();
    let chosen = words.windows(2).filter(|pair| pair[0] == "--column");
    let chosen: String = chosen.map(|pair| format!(" --column {}", pair[1])).collect();
    let read = format!("convert t.csv{chosen} --readings t.toml --as-of {DAY} -o out.csv");
    let by_file = outcome(&bench, &read);
    assert_eq!(by_options, by_file, "{said}\n{}", bench.read("t.toml"));
    // Saved again it says the same.
    if sayings.len() > 1 {
        return;
    }
    let first = bench.read("t.toml");
    let again = format!("survey t.csv --readings t.toml --as-of {DAY} --save t.toml");
    assert!(bench.command(&again).output().unwrap().status.success(), "{again}\n{first}");
    let again = outcome(&bench, &read);
    assert_eq!(
        by_options,
        again,
        "saved again: {said}\n{first}\n--- again\n{}",
        bench.read("t.toml")
    );
}

fn holds_alone_and_in_pairs(case: &Case) {
    for (at, one) in case.sayings.iter().enumerate() {
        holds(case, &[one]);
        for other in &case.sayings[at + 1..] {
            holds(case, &[one, other]);
        }
    }
}

#[test]
fn of_dates() {
    let rows = (0..40).map(|at| {
        let (day, month) = (at * 7 % 28 + 1, at * 5 % 12 + 1);
        let seen = if at == 11 { "n/s".to_owned() } else { format!("{day:02}/{month:02}/2024") };
        let due = format!("{day:02}.{month:02}.{}", at % 5 + 20);
        let end =
            if at == 7 { "9999-12-31".to_owned() } else { format!("2024-{month:02}-{day:02}") };
        let open = format!("{:02}/{:02}/2023", at % 12 + 1, at * 5 % 12 + 1);
        let station = ["Skarholm", "Port Meridian", "Dar Wadi"][at % 3];
        format!("LF{at},{station},{seen},{due},{end},{open}")
    });
    holds_alone_and_in_pairs(&Case {
        table: table("ring,station,seen,due,end,open", rows),
        sayings: &[
            "--set 'open: order=dmy'",
            "--set 'open: order=mdy'",
            "--set 'open: layouts=\"{month}/{day}/{year}\"'",
            "--set 'open: layouts=[\"{day}/{month}/{year}\", \"{month}/{day}/{year}\"], contested=prefer'",
            "--set 'open: known=\"03/11/2023=2023-03-11\"'",
            "--set 'open: convert=false'",
            "--set 'open: kind=date'",
            "--set 'seen: into=\"day seen\"'",
            "--set 'seen: missing=[\"n/s\"]'",
            "--set 'due: two_digit_from=1925'",
            "--set 'ring: convert=false'",
            "--when 'open where station=Skarholm: order=mdy' --set 'open: order=dmy'",
            "--when 'open rows 1..20: order=mdy' --when 'open rows 21..: order=dmy'",
            "--column open --order dmy",
            "--missing n/s",
            "--keep-placeholders",
            "--two-digit-from 1990",
            "--written-in de",
            "--make 'month = seen | month'",
            "--make 'later = end | move +1 month' --where 'ring != LF3'",
            "--sort-by end,ring",
            "--series 'visit = 2024-01-31 / 1 month' --by station",
        ],
    });
}

#[test]
fn of_clocks() {
    let rows = (0..30).map(|at| {
        let (day, hour) = (25 + at / 10, at % 10);
        let station = ["Skarholm", "Port Meridian"][at % 2];
        let zone = ["Europe/Oslo", "America/Chicago"][at % 2];
        let at_ist = format!("2024-03-{:02} 10:15 IST", at + 1);
        format!("{at},{station},{zone},2024-10-{day} {hour:02}:{:02},{at_ist}", at * 7 % 60)
    });
    holds_alone_and_in_pairs(&Case {
        table: table("n,station,zone,clock,told", rows),
        sayings: &[
            "--set 'clock: zone=Europe/Oslo'",
            "--set 'clock: zone_from=zone'",
            "--set 'clock: zone_from=station, zones={ Skarholm = \"Europe/Oslo\", \"Port Meridian\" = \"America/Chicago\" }'",
            "--set 'clock: zone=Europe/Oslo, repeated_clock=first'",
            "--set 'clock: zone=Europe/Oslo, skipped_clock=after'",
            "--set 'clock: zone=Europe/Oslo, repeated_clock=by-sequence, sequence_by=station'",
            "--set 'told: abbreviations={ IST = \"Asia/Kolkata\" }'",
            "--set 'told: abbreviations={ IST = \"Asia/Jerusalem\" }, offset_wins=true'",
            "--when 'clock where station=Skarholm: zone=Europe/Oslo' --when 'clock where station=Port Meridian: zone=America/Chicago'",
            "--when 'clock rows 1..9: zone=Europe/Oslo' --set 'clock: zone=America/Chicago'",
            "--abbreviation IST=Europe/Dublin",
            "--repeated-clock second --set 'told: abbreviations={ IST = \"Asia/Kolkata\" }'",
            "--column clock --zone Europe/Oslo",
            "--set 'told: convert=false'",
        ],
    });
}

#[test]
fn of_numbers_periods_and_lengths() {
    let rows = (0..30).map(|at| {
        let month = at % 12 + 1;
        let (opened, awake) = (45_000 + at * 3, 100 + at * 37);
        let (noted, effort) = (format!("{} March", at + 1), format!("{} h", at + 1));
        format!("{at},{opened}.25,{awake},2024-{month:02},{noted},{effort},{:02}/05/1751", at + 1)
    });
    holds_alone_and_in_pairs(&Case {
        table: table("n,opened,awake,period,noted,effort,old", rows),
        sayings: &[
            "--set 'opened: epoch=sheet-1900'",
            "--set 'opened: epoch=1970-01-01/hours'",
            "--set 'opened: epoch=sheet-1904, kind=time'",
            "--set 'awake: kind=duration, unit=minutes'",
            "--set 'awake: unit=seconds'",
            "--set 'period: anchor=end'",
            "--set 'period: anchor=start'",
            "--set 'noted: year=2023'",
            "--set 'noted: convert=false'",
            "--set 'opened: convert=false' --set 'noted: convert=false'",
            "--set 'effort: written_in=de'",
            "--set 'old: reform=1752-09-14'",
            "--set 'old: calendar=buddhist'",
            "--make 'hours = effort | as hours'",
        ],
    });
}

#[test]
fn of_imports() {
    let rows = (0..60).map(|at| {
        let (day, month) = (at * 11 % 28 + 1, at * 5 % 12 + 1);
        let seen = match day {
            13.. => format!("{day:02}/{month:02}/2024"),
            _ => format!("2024-{day:02}-{month:02}"),
        };
        format!("{at},{seen}")
    });
    holds_alone_and_in_pairs(&Case {
        table: table("n,seen", rows),
        sayings: &[
            "--set 'seen: repair=half-swapped'",
            "--set 'seen: repair=none'",
            "--repair half-swapped",
            "--set 'seen: convert=false'",
            "--set 'seen: into=day'",
            "--set 'seen: layouts=[\"{day}/{month}/{year}\", \"{year}-{month}-{day}\"]'",
        ],
    });
}

/// Years of two digits that reach past today: what is only assumed of them is not saved as if it had been said.
#[test]
fn of_centuries() {
    let rows = (0..60).map(|at| {
        format!("LF{at},{:02}.{:02}.{}", at * 7 % 28 + 1, at * 5 % 12 + 1, 30 + at * 11 % 70)
    });
    holds_alone_and_in_pairs(&Case {
        table: table("ring,born", rows),
        sayings: &[
            "--set 'born: into=birth'",
            "--set 'born: order=dmy'",
            "--set 'born: layouts=\"{day}.{month}.{year:2}\"'",
            "--set 'born: two_digit_from=1927'",
            "--two-digit-from 1969",
            "--set 'born: convert=false'",
            "--missing x",
        ],
    });
}
