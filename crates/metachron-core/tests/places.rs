//! Where clocks stood: what evidence says of it, however a table is cut, and what the rows around a repeated
//! hour prove.
#![allow(clippy::unwrap_used, clippy::panic)]

use jiff::Timestamp;
use jiff::civil::date;
use metachron_core::evidence::{Evidence, ObserveOptions, Observer};
use metachron_core::infer::infer;
use metachron_core::reading::FoldObserver;
use metachron_core::verdict::{Asserted, Finding, Verdict, ZoneFinding};
use metachron_core::zone::{Abbreviation, Placed, Zone, Zones};
use proptest::prelude::*;

fn known() -> Asserted {
    Asserted::nothing(date(2025, 6, 30))
}

fn zone(name: &str) -> Zone {
    Zones::bundled().named(name).unwrap()
}

/// Moments as a clock in a zone writes them, with what stands behind.
fn written(
    at: Zone,
    from: &str,
    minutes: i64,
    rows: i64,
    behind: impl Fn(Timestamp) -> String,
) -> Vec<String> {
    let first: Timestamp = from.parse().unwrap();
    (0..rows)
        .map(|row| {
            let moment = first + jiff::SignedDuration::from_mins(row * minutes);
            let clock = at.shows(moment);
            let time = clock.strftime("%H:%M");
            format!("{} {time}{}", clock.date(), behind(moment))
        })
        .collect()
}

fn reasons(values: &[String]) -> (Verdict, Vec<Finding>) {
    let judgement =
        infer(values.iter().map(String::as_str), &ObserveOptions::default(), &known()).judgement;
    (judgement.verdict, judgement.findings)
}

#[test]
fn abbreviations_of_several_meanings_are_a_question_and_others_are_read() {
    let oslo = zone("Europe/Oslo");
    let named =
        |at: Zone| move |moment| format!(" {}", at.showing_at(moment).unwrap().abbreviation);
    let values = written(oslo, "2024-01-05T06:00:00Z", 7 * 1_440, 50, named(oslo));
    let (verdict, found) = reasons(&values);
    assert_eq!(verdict, Verdict::Decided, "{found:?}");
    let chicago = zone("America/Chicago");
    let values = written(chicago, "2024-01-05T06:00:00Z", 7 * 1_440, 50, named(chicago));
    let (verdict, found) = reasons(&values);
    assert_eq!(verdict, Verdict::Undecided);
    let asked = |reason: &&Finding| {
        matches!(reason, Finding::Zones(ZoneFinding::UnclearAbbreviation { .. }))
    };
    // CST and CDT, of which Havana uses both and Shanghai one.
    assert_eq!(found.iter().filter(asked).count(), 2, "{found:?}");
}

#[test]
fn the_same_abbreviation_all_year_is_reported() {
    let values =
        written(zone("America/New_York"), "2024-01-05T06:00:00Z", 7 * 1_440, 50, |_| " EST".into());
    let (verdict, found) = reasons(&values);
    assert_eq!(verdict, Verdict::Decided, "{found:?}");
    let told = found.iter().find_map(|reason| match reason {
        Finding::Zones(ZoneFinding::OutOfSeason { rows, of, .. }) => Some((*rows, *of)),
        _ => None,
    });
    // From 10 March to 3 November.
    assert_eq!(told, Some((34, 50)), "{found:?}");
}

#[test]
fn no_abbreviation_of_one_meaning_is_taken_for_a_name() {
    // Whatever the words of 766 locales are: `EST` is a month of one of them.
    let mut asked = Vec::new();
    for letters in 0..26_usize.pow(4) + 26_usize.pow(3) {
        let (mut rest, length) = match letters.checked_sub(26_usize.pow(3)) {
            Some(rest) => (rest, 4),
            None => (letters, 3),
        };
        let mut text = String::new();
        for _ in 0..length {
            text.push(char::from(b'A' + (rest % 26) as u8));
            rest /= 26;
        }
        let Some(name) = Abbreviation::new(&text).filter(|name| name.only_meaning(2024).is_some())
        else {
            continue;
        };
        let values: Vec<String> =
            (1..13).map(|n| format!("2024-{n:02}-{:02} 10:15 {name}", n + 12)).collect();
        let (verdict, found) = reasons(&values);
        if verdict != Verdict::Decided {
            asked.push((text, found));
        }
    }
    assert!(asked.is_empty(), "{asked:?}");
}

#[test]
fn offsets_point_to_zones_only_where_they_change_with_the_season() {
    let offset = |at: Zone| move |moment| metachron_core::zone::offset_text(at.offset_at(moment));
    let seasonal = |at: Zone| {
        let values = written(at, "2024-01-05T06:00:00Z", 7 * 1_440, 50, offset(at));
        reasons(&values).1.into_iter().find_map(|reason| match reason {
            Finding::Zones(ZoneFinding::SeasonalOffsets { zones, .. }) => {
                Some(zones.iter().map(|z| z.name()).collect::<Vec<_>>())
            }
            _ => None,
        })
    };
    assert_eq!(seasonal(zone("Europe/Oslo")), Some(vec!["Europe/Berlin"]));
    assert_eq!(seasonal(zone("Australia/Melbourne")), Some(vec!["Australia/Sydney"]));
    assert_eq!(seasonal(zone("Asia/Tokyo")), None);
}

fn observed(part: u32, values: &[String]) -> Evidence {
    let mut observer = Observer::new(ObserveOptions::default(), part);
    for (row, value) in (1..).zip(values) {
        observer.observe(row, value.as_str());
    }
    observer.finish()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn parts_add_up_to_the_same_whatever_their_order(
        at in prop::sample::select(vec!["Europe/Oslo", "America/Chicago", "Asia/Kolkata"]),
        form in 0_usize..3, cuts in (0_usize..60, 0_usize..60),
    ) {
        let at = zone(at);
        let values = written(at, "2024-10-20T00:00:00Z", 411, 60, |moment| match form {
            0 => metachron_core::zone::offset_text(at.offset_at(moment)),
            1 => format!(" {}", at.showing_at(moment).unwrap().abbreviation),
            _ => String::new(),
        });
        let (from, to) = (cuts.0.min(cuts.1), cuts.0.max(cuts.1));
        let parts = [&values[..from], &values[from..to], &values[to..]];
        let [a, b, c] = [0, 1, 2].map(|part| observed(part as u32, parts[part]));
        let forward = a.clone().merge(b.clone()).unwrap().merge(c.clone()).unwrap();
        let backward = c.merge(a).unwrap().merge(b).unwrap();
        prop_assert_eq!(&forward.zones, &backward.zones);
        prop_assert_eq!(forward, backward);
    }

    #[test]
    fn what_the_sequence_of_a_log_proves_is_so(
        at in prop::sample::select(vec![
            ("Europe/Oslo", "2024-10-27T01:00:00Z"), ("America/New_York", "2024-11-03T06:00:00Z"),
            ("Australia/Lord_Howe", "2024-04-06T15:00:00Z"), ("Africa/Casablanca", "2024-03-10T02:00:00Z"),
        ]),
        minutes in 1_i64..40, before in 0_i64..300, gap in 0_usize..40,
    ) {
        let (name, change) = at;
        let zone = zone(name);
        let change: Timestamp = change.parse().unwrap();
        let first = change - jiff::SignedDuration::from_mins(120 + before);
        let mut moments: Vec<Timestamp> = (0..=600 / minutes)
            .map(|row| first + jiff::SignedDuration::from_mins(row * minutes))
            .collect();
        // A row that the logger has lost.
        if gap < moments.len() {
            moments.remove(gap);
        }
        let mut observer = FoldObserver::default();
        for (row, moment) in (1..).zip(&moments) {
            observer.observe(row, "", zone.shows(*moment), zone);
        }
        let folds = observer.finish();
        let mut proved = 0;
        for (row, moment) in (1..).zip(&moments) {
            let Some(late) = folds.is_second(row) else { continue };
            let Placed::Twice(early, second) = zone.place(zone.shows(*moment)) else { panic!() };
            prop_assert_eq!(if late { second } else { early }, *moment);
            proved += 1;
        }
        // With rows in both halves of every hour that came twice, all of them are told apart.
        if minutes <= 10 && gap >= moments.len() {
            prop_assert!(proved >= 60 / minutes, "{} in {}", proved, name);
        }
    }
}
