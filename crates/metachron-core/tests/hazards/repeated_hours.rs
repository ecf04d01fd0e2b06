//! Logs over an hour that came twice, whose truth is known: no row of it may be told to be of the other time.

use jiff::ToSpan;
use jiff::civil::{DateTime, date};
use metachron_core::reading::FoldObserver;
use metachron_core::zone::Zones;

use super::scenarios::draw::Numbers;
use super::scenarios::outcomes::{Became, Judged, no_case_is_wrong};
use super::scenarios::{Of, scenario};

/// Where clocks were put back: the zone, when in universal time, by how many minutes they were ahead of it before, and
/// back by how many.
const CHANGES: [(&str, DateTime, i64, i64); 4] = [
    ("Europe/Oslo", date(2024, 10, 27).at(1, 0, 0, 0), 120, 60),
    ("America/Chicago", date(2023, 11, 5).at(7, 0, 0, 0), -300, 60),
    ("America/Sao_Paulo", date(2018, 2, 18).at(2, 0, 0, 0), -120, 60),
    ("Australia/Lord_Howe", date(2024, 4, 6).at(15, 0, 0, 0), 660, 30),
];

/// What a clock showed in each row, and of which time the row is where its hour came twice.
struct Log {
    zone: &'static str,
    rows: Vec<(DateTime, Option<bool>)>,
    /// Whether the rows show of which time they are.
    told: bool,
}

/// Rows in the order of their time from some hours before the change to some hours after it.
fn log(numbers: &mut Numbers, gaps: &[u64]) -> Log {
    let (zone, change, ahead, back) = numbers.one(&CHANGES);
    let gap = numbers.one(gaps);
    let is_regular = numbers.half();
    // Minutes from the change on.
    let (mut at, end) = (-60 - numbers.below(300) as i64, 60 + numbers.below(300) as i64);
    let mut rows = Vec::new();
    while at < end {
        let ahead = if at < 0 { ahead } else { ahead - back };
        let is_twice = at >= -back && at < back;
        rows.push((change + (at + ahead).minutes(), is_twice.then_some(at >= 0)));
        at += if is_regular { gap as i64 } else { 1 + numbers.below(2 * gap) as i64 };
    }
    Log { zone, rows, told: is_regular && gap * 2 < back as u64 }
}

/// A log in the order of its time.
fn in_order(numbers: &mut Numbers) -> Log {
    log(numbers, &[1, 5, 10, 15, 20, 30, 60])
}

/// Moves a row of the hour down by some places, as one that came late.
fn late(numbers: &mut Numbers, mut log: Log) -> Log {
    let twice: Vec<usize> = (0..log.rows.len()).filter(|at| log.rows[*at].1.is_some()).collect();
    if !twice.is_empty() {
        let from = numbers.one(&twice);
        let row = log.rows.remove(from);
        let to = (from + 1 + numbers.up_to(3)).min(log.rows.len());
        log.rows.insert(to, row);
    }
    Log { told: false, ..log }
}

/// One row of the log came late; where gaps are of any width, nobody can see which.
fn one_late(numbers: &mut Numbers) -> Log {
    loop {
        let log = log(numbers, &[1, 5, 10, 15]);
        if log.told {
            return late(numbers, log);
        }
    }
}

/// Nothing was logged the one time, and one row of the other came late.
fn one_late_of_one_time(numbers: &mut Numbers) -> Log {
    let mut log = log(numbers, &[1, 5, 10, 15]);
    let lost = Some(numbers.half());
    log.rows.retain(|(_, time)| *time != lost);
    late(numbers, log)
}

/// One time has no rows.
fn one_time(numbers: &mut Numbers) -> Log {
    let mut log = log(numbers, &[1, 5, 10, 15, 30]);
    let lost = Some(numbers.half());
    log.rows.retain(|(_, time)| *time != lost);
    Log { told: false, ..log }
}

fn judged(log: &Log) -> Judged {
    let zone = Zones::bundled().named(log.zone).unwrap();
    let mut observer = FoldObserver::default();
    for (row, (clock, _)) in (1..).zip(&log.rows) {
        observer.observe(row, "", *clock, zone);
    }
    let folds = observer.finish();
    let twice =
        (1..).zip(&log.rows).filter_map(|(row, (_, time))| Some((folds.is_second(row), (*time)?)));
    let told: Vec<(Option<bool>, bool)> = twice.collect();
    let wrong =
        told.iter().filter(|(own, time)| own.is_some_and(|own| own != *time)).count() as u64;
    let became = match wrong {
        0 if told.iter().all(|(own, _)| own.is_some()) => Became::Right,
        0 => Became::Asked,
        wrong => Became::Wrong(wrong),
    };
    let twice = log.rows.iter().filter(|(_, time)| time.is_some());
    let shown: Vec<String> =
        twice.map(|(clock, time)| format!("{} {time:?}", clock.time())).collect();
    Judged { became, told: log.told, why: format!("{} {shown:?}", log.zone) }
}

#[test]
fn no_row_of_a_repeated_hour_is_silently_of_the_other_time() {
    let scenarios = vec![
        scenario(Of::Honest, "repeated hour, in order", in_order),
        scenario(Of::Harmed, "repeated hour, one row late", one_late),
        scenario(Of::Harmed, "repeated hour, one time lost", one_time),
        scenario(Of::Harmed, "repeated hour, one time lost, a row late", one_late_of_one_time),
    ];
    no_case_is_wrong(scenarios, 50, judged);
}
