//! What tells the rows of a mixed column apart, and what only looks so.

use metachron_core::apply::{Compiled, Outcome};
use metachron_core::evidence::{Evidence, Neighbours, ObserveOptions, Observer};
use metachron_core::infer::{conclude, second_look};
use metachron_core::order::Alternative;
use metachron_core::reading::{Order, RowParts, RowPlace, Split, Written};
use metachron_core::text::Missing;
use metachron_core::verdict::{
    Asserted, Clue, Finding, FoundSplit, Judgement, Settle, Verdict, judge,
};

use super::nothing_known;
use super::scenarios::{Numbers, TABLES, Table, Truth, stations};

/// The evidence of a column among its neighbours.
fn evidence(
    values: &[String],
    beside: &[(&str, Vec<String>)],
    options: &ObserveOptions,
    split_by: &str,
) -> Evidence {
    let mut neighbours = Neighbours::of(beside.iter().map(|(name, _)| *name));
    let mut observer = Observer::new(options.clone(), 0);
    for (index, value) in values.iter().enumerate() {
        for (at, (_, cells)) in beside.iter().enumerate() {
            neighbours.see(at, &cells[index]);
        }
        let own = beside.iter().find(|(name, _)| *name == split_by);
        let place = RowPlace {
            beside: own.map_or("", |(_, cells)| &cells[index]),
            ..RowPlace::from(index as u64 + 1)
        };
        observer.observe_among(place, value.as_str(), &neighbours);
    }
    *observer.finish_among("captured", &neighbours)
}

fn judged(values: &[String], beside: &[(&str, Vec<String>)]) -> Judgement {
    let options = ObserveOptions::default();
    judge(&evidence(values, beside, &options, ""), &options, &nothing_known())
}

fn found(judgement: &Judgement) -> Option<&FoundSplit> {
    judgement.settle.iter().find_map(|way| match way {
        Settle::Split(found) => Some(found),
        _ => None,
    })
}

/// Of many dates a sample is kept, the same for all: whichever years they are of, stations are told apart.
#[test]
fn stations_are_told_apart_in_any_years() {
    for first in (1950..2050).step_by(3) {
        let mut numbers = Numbers(first as u64);
        let (mut captured, mut station) = (Vec::new(), Vec::new());
        for row in 0..3_000 {
            let year = first + numbers.below(4) as i32;
            let month = 1 + numbers.below(12);
            let day = 1 + numbers.below(if month == 2 { 28 } else { 30 });
            let is_abroad = row % 4 == 0;
            let [a, b] = if is_abroad { [month, day] } else { [day, month] };
            captured.push(format!("{a:02}/{b:02}/{year}"));
            let at_home = ["Skarholm", "Cabo Sereno", "Dar Wadi"][row % 3];
            station.push(if is_abroad { "Port Meridian" } else { at_home }.to_owned());
        }
        let judgement = judged(&captured, &[("station", station)]);
        assert!(found(&judgement).is_some(), "{first}: {:?}", judgement.findings);
    }
}

/// What a proposed reading makes of the rows: how many are read, and how many of these are wrong.
fn applied(
    judgement: &Judgement,
    values: &[String],
    truth: &[Truth],
    beside: &[(&str, Vec<String>)],
) -> (u64, u64) {
    let reading = judgement.reading.as_ref().unwrap();
    let by = reading.split.as_ref().and_then(Split::column).unwrap_or_default();
    let cells = beside.iter().find(|(name, _)| *name == by).map(|(_, cells)| cells);
    let compiled = Compiled::new(reading, Missing::usual());
    let (mut read, mut wrong) = (0, 0);
    for (index, (value, truth)) in values.iter().zip(truth).enumerate() {
        let beside = cells.map_or("", |cells| &cells[index]);
        let place = RowPlace { beside, ..RowPlace::from(index as u64 + 1) };
        if let Outcome::Read(fit) = compiled.apply(place, value.as_str()) {
            read += 1;
            let date =
                fit.moment.date().map(|d| (d.year().into(), d.month() as u32, d.day() as u32));
            wrong += u64::from(date != *truth);
        }
    }
    (read, wrong)
}

/// Splits that are offered read no row wrongly, and a column that was computed from the dates, or
/// that has nothing to do with them, is no clue.
#[test]
fn whole_tables_are_split_by_what_tells_them_apart_and_by_nothing_else() {
    const SEED: u64 = 20_261_124;
    const EACH: u32 = 200;
    let mut numbers = Numbers(SEED);
    println!("seed {SEED}\n{:<34}{:>8}{:>9}{:>8}", "scenario", "tables", "offered", "wrong");
    let mut failures = Vec::new();
    for scenario in TABLES {
        let (mut offered, mut name) = (0, "");
        let wrong_before = failures.len();
        for _ in 0..EACH {
            let Table { column, beside, clues } = scenario(&mut numbers);
            name = column.scenario;
            let judgement = judged(&column.values, &beside);
            let Some(split) = found(&judgement) else { continue };
            offered += 1;
            let (_, wrong) = applied(&judgement, &column.values, &column.truth, &beside);
            let is_clue = match &split.by {
                Clue::Column(by) => clues.contains(&by.as_str()),
                Clue::Rows => name == "an appended block",
                Clue::Clock => false,
            };
            if wrong > 0 || !is_clue {
                failures.push(format!("{name}: {wrong} wrong, {:?}", judgement.findings));
            }
        }
        println!("{name:<34}{EACH:>8}{offered:>9}{:>8}", failures.len() - wrong_before);
        // What tells the rows apart is found: without that, nothing would be shown above.
        if name == "stations of two habits" {
            assert!(offered * 10 >= EACH * 8, "only {offered} of {EACH} {name}");
        }
    }
    assert!(failures.is_empty(), "{}", failures[..failures.len().min(6)].join("\n"));
}

/// A network with a long history: every station writes in its own order, and each is told by a few of its dates.
#[test]
fn hundreds_of_stations_over_decades_are_told_apart() {
    let mut numbers = Numbers(20_261_129);
    let (mut values, mut truth, mut stations) = (Vec::new(), Vec::new(), Vec::new());
    for _ in 0..60_000 {
        let station = numbers.below(500);
        let (day, month, year) =
            (1 + numbers.below(28), 1 + numbers.below(12), 2004 + numbers.below(20));
        values.push(match station % 3 {
            0 => format!("{month}/{day}/{year}"),
            _ => format!("{day}/{month}/{year}"),
        });
        truth.push(Some((year as i32, month as u32, day as u32)));
        stations.push(format!("station {station}"));
    }
    let beside = [("station", stations)];
    let judgement = judged(&values, &beside);
    let split = found(&judgement).unwrap();
    let sides: Vec<usize> = split.sides.iter().map(|(_, stations)| stations.len()).collect();
    assert_eq!((&split.by, sides), (&Clue::Column("station".to_owned()), vec![333, 167]));
    assert_eq!(applied(&judgement, &values, &truth, &beside), (60_000, 0));
}

/// Evidence that is gathered apart and added says the same, blocks of rows apart.
#[test]
fn clues_add_up() {
    let mut numbers = Numbers(7);
    for _ in 0..20 {
        let Table { column, beside, .. } = stations(&mut numbers);
        let cut = column.values.len() / 3;
        let part = |part: u32, rows: std::ops::Range<usize>| {
            let mut neighbours = Neighbours::of(beside.iter().map(|(name, _)| *name));
            let mut observer = Observer::new(ObserveOptions::default(), part);
            for (row, index) in (1..).zip(rows) {
                for (at, (_, cells)) in beside.iter().enumerate() {
                    neighbours.see(at, &cells[index]);
                }
                observer.observe_among(row.into(), column.values[index].as_str(), &neighbours);
            }
            *observer.finish_among("captured", &neighbours)
        };
        let (a, b) = (part(0, 0..cut), part(1, cut..column.values.len()));
        let both = a.clone().merge(b.clone()).unwrap();
        assert_eq!(both, b.merge(a).unwrap());
        let whole = evidence(&column.values, &beside, &ObserveOptions::default(), "");
        // Shown values are too many in the one or the other, and so in the whole.
        assert_eq!(both.clues.clocks, whole.clues.clocks);
        for (name, clue) in whole.clues.neighbours.columns() {
            assert_eq!(both.clues.neighbours.column(name), Some(clue), "{name}");
        }
        let names = |own: &Evidence| -> Vec<String> {
            own.clues.neighbours.columns().map(|(name, _)| name.clone()).collect()
        };
        assert_eq!(names(&both), names(&whole));
    }
}

/// A new station on the next delivery: what can be read in one way is, the rest stays open.
#[test]
fn a_station_that_was_never_seen_is_not_guessed() {
    let mut numbers = Numbers(11);
    let mut seen = 0;
    for _ in 0..100 {
        let Table { column, mut beside, .. } = stations(&mut numbers);
        let judgement = judged(&column.values, &beside);
        if found(&judgement).is_none_or(|split| split.by != Clue::Column("station".to_owned())) {
            // Its country tells the same with fewer words; without it the station does.
            beside.retain(|(name, _)| *name != "land");
        }
        let judgement = judged(&column.values, &beside);
        let Some(FoundSplit { by: Clue::Column(by), .. }) = found(&judgement) else { continue };
        assert_eq!(by, "station");
        let new: Vec<(&str, Vec<String>)> = beside
            .iter()
            .map(|(name, cells)| (*name, cells.iter().map(|_| "Vestfjord".to_owned()).collect()))
            .collect();
        let (read, wrong) = applied(&judgement, &column.values, &column.truth, &new);
        assert_eq!(wrong, 0);
        let all = column.values.len() as u64;
        assert!(read > 0 && read < all, "{read} of {all}");
        seen += 1;
    }
    println!("a new station on the next delivery: {seen} of 100 split by station, 0 wrong");
    assert!(seen >= 80, "{seen}");
}

fn texts(values: &[&str]) -> Vec<String> {
    values.iter().map(|value| (*value).to_owned()).collect()
}

/// With few rows a clean split may be luck.
#[test]
fn few_rows_are_no_clue() {
    let values = texts(&["13/04/2024", "14/04/2024", "04/15/2024", "04/16/2024", "03/04/2024"]);
    let station = texts(&["A", "A", "B", "B", "A"]);
    let judgement = judged(&values, &[("station", station)]);
    assert_eq!(judgement.verdict, Verdict::Mixed);
    // Two of two clean by chance: 1 in 3.
    assert!(found(&judgement).is_none());
}

/// Where nothing tells the rows apart, it is estimated how many would be wrong.
#[test]
fn what_would_be_wrong_is_estimated() {
    let mut values: Vec<String> = Vec::new();
    for day in 13..=28 {
        // Three of four write the day first.
        values.extend((1..=3).map(|month| format!("{day:02}/{month:02}/2024")));
        values.push(format!("04/{day:02}/2024"));
    }
    values.extend(
        (1..=12).flat_map(|day| (1..=5).map(move |month| format!("{day:02}/{month:02}/2023"))),
    );
    let judgement = judged(&values, &[]);
    let wrong = judgement.findings.iter().find_map(|reason| match reason {
        Finding::Wrong { contested, orders } => Some((*contested, orders)),
        _ => None,
    });
    // Of 60 values five have the same day and month: 55 could be either, one in four month first.
    let (55, [dmy, mdy]) = wrong.unwrap() else { panic!("{:?}", judgement.findings) };
    assert_eq!((dmy.order, dmy.wrong, mdy.wrong), (Alternative::Dmy, 14, 41));
    assert!(dmy.least > 5 && dmy.least < 14 && dmy.most > 14 && dmy.most < 25, "{dmy:?}");
}

/// A single value against its station, and the station tells nothing.
#[test]
fn one_contradiction_is_one_too_many() {
    let mut numbers = Numbers(3);
    let Table { mut column, mut beside, .. } = stations(&mut numbers);
    beside.retain(|(name, _)| *name == "station");
    assert!(found(&judged(&column.values, &beside)).is_some());
    // A telling value of a station, once more with its first two parts exchanged.
    let exchanged = column.values.iter().zip(&beside[0].1).find_map(|(value, station)| {
        let mark = value.find(|c: char| !c.is_ascii_digit())?;
        let mark = &value[mark..mark + 1];
        let parts: Vec<&str> = value.splitn(3, mark).collect();
        let tells = parts[..2].iter().any(|part| part.parse::<u32>().is_ok_and(|n| n > 12));
        tells.then(|| {
            let text = format!("{}{mark}{}{mark}{}", parts[1], parts[0], parts[2]);
            (text, station.clone())
        })
    });
    let (value, station) = exchanged.unwrap();
    column.values.push(value);
    beside[0].1.push(station);
    let judgement = judged(&column.values, &beside);
    assert!(found(&judgement).is_none());
    // But it is said that it nearly does.
    let nearly = Finding::NearlySplit { column: "station".to_owned(), against: 1 };
    assert!(judgement.findings.contains(&nearly), "{:?}", judgement.findings);
}

/// What the analyst says of some rows is taken, and what speaks against it is counted.
#[test]
fn the_analyst_says_which_rows_are_written_how() {
    let values = texts(&[
        "03/04/2024",
        "13/04/2024",
        "03/04/2024",
        "04/13/2024",
        "14/04/2024",
        "05/06/2024",
    ]);
    let station = texts(&["S", "S", "P", "P", "P", "N"]);
    let beside = [("station", station)];
    let part = (vec!["P".to_owned()], Written::Order(Order::Mdy));
    let parts = RowParts::Column("station".to_owned(), vec![part]);
    for (otherwise, read, contested) in [(None, 3, 3), (Some(Written::Order(Order::Dmy)), 5, 1)] {
        let split = Some(Split { parts: parts.clone(), otherwise });
        let known = Asserted { split, ..nothing_known() };
        let first = evidence(&values, &beside, &ObserveOptions::default(), "station");
        let options = second_look(&first, &ObserveOptions::default(), &known).unwrap();
        let inference =
            conclude(&evidence(&values, &beside, &options, "station"), &options, &known);
        let judgement = &inference.judgement;
        assert_eq!(judgement.verdict, Verdict::Decided, "{:?}", judgement.findings);
        assert_eq!((judgement.counts.read, judgement.counts.contested), (read, contested));
        let compiled = inference.compiled.unwrap();
        let at = |row: u64, beside: &'static str| RowPlace { beside, ..RowPlace::from(row) };
        let read = |place, value: &'static str| compiled.apply(place, value);
        let Outcome::Read(fit) = read(at(3, "P"), "03/04/2024") else { panic!() };
        assert_eq!(fit.moment.to_string(), "2024-03-04");
        let other = read(at(5, "P"), "14/04/2024");
        assert!(matches!(other, Outcome::OfOtherRows(_)), "{other:?}");
        // The same text beside another station is another date: nothing is remembered across.
        let skarholm = read(at(1, "S"), "03/04/2024");
        match skarholm {
            Outcome::Read(fit) => assert_eq!(fit.moment.to_string(), "2024-04-03"),
            other => {
                assert!(matches!(other, Outcome::Contested(..)) && contested == 3, "{other:?}")
            }
        }
    }
}

/// Rows that are said to have an order that no value can have are a question, not a column of
/// unread rows.
#[test]
fn an_order_that_no_value_has_is_a_question() {
    let values = texts(&["03/04/2024", "13/04/2024"]);
    let part = (1..=u64::MAX, Written::Order(Order::Ymd));
    let split = Some(Split { parts: RowParts::Rows(vec![part]), otherwise: None });
    let known = Asserted { split, ..nothing_known() };
    let options = ObserveOptions::default();
    let evidence = evidence(&values, &[], &options, "");
    assert!(second_look(&evidence, &options, &known).is_none());
    let judgement = judge(&evidence, &options, &known);
    assert!(judgement.verdict.is_open());
    assert!(judgement.findings.contains(&Finding::NoSuchPart));
}
