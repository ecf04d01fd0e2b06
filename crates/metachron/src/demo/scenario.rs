//! The Longshore Flyway: made-up bird-ringing stations along a migration route.

use std::fmt::Write;

use jiff::civil::{Date, date};
use metachron_core::layout::Layout;
use metachron_core::lexicon::Lexicon;
use metachron_core::write::spell;

/// Stations, their usual offset from UTC in hours, and whether they write the month first.
const STATIONS: [(&str, i8, bool); 6] = [
    ("Skarholm", 1, false),
    ("Port Meridian", -6, true),
    ("Cabo Sereno", -3, false),
    ("Dar Wadi", 1, false),
    ("Hoshizaki", 9, false),
    ("Laguna Norte", -6, true),
];

const SPECIES: [&str; 6] =
    ["garden warbler", "northern wheatear", "barn swallow", "reed bunting", "grey plover", "robin"];

const ROWS: u64 = 2_480;

/// Numbers that look random and are the same in every run (SplitMix64).
struct Numbers(u64);

impl Numbers {
    fn below(&mut self, bound: u64) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let z = (self.0 ^ (self.0 >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        (z ^ (z >> 31)) % bound
    }
}

/// A day of 2024.
fn day_of_2024(ordinal: u64) -> Date {
    date(2024, 1, 1).saturating_add(jiff::Span::new().days((ordinal % 366) as i64))
}

/// One row for each capture, sorted by day as the office files them.
///
/// - `captured` is day first, and some are missing.
/// - `released` is the day of the ring check, always early in a month: nothing tells day from month.
/// - `seen` is written as each station is used to.
/// - `logged` comes from the station's computer, with its offset.
/// - `entered` is typed by the office.
pub fn captures() -> String {
    let mut numbers = Numbers(2_024);
    let mut text =
        String::from("ring,station,species,captured,released,seen,logged,entered,weight\r\n");
    for row in 0..ROWS {
        let (station, offset, month_first) = STATIONS[numbers.below(6) as usize];
        let species = SPECIES[numbers.below(6) as usize];
        let captured = day_of_2024(row * 366 / ROWS);
        let released = date(2024, numbers.below(12) as i8 + 1, numbers.below(12) as i8 + 1);
        let seen = day_of_2024(numbers.below(366));
        let (hour, minute, second) = (5 + numbers.below(14), numbers.below(60), numbers.below(60));
        let captured_text = match row {
            _ if row % 275 == 41 => String::new(),
            _ => written("{day:02}/{month:02}/{year}", captured),
        };
        let seen = written(
            if month_first { "{month}/{day}/{year}" } else { "{day}/{month}/{year}" },
            seen,
        );
        let logged = match row {
            _ if row % 206 == 97 => "-".to_owned(),
            311 => "2024-02-30T06:12:44+01:00".to_owned(),
            1_702 => "battery low".to_owned(),
            _ => format!("{captured}T{hour:02}:{minute:02}:{second:02}{offset:+03}:00"),
        };
        let later = captured.saturating_add(jiff::Span::new().days(numbers.below(9) as i64));
        let entered = written("{month:name} {day}, {year}", later);
        let weight = 9 + numbers.below(30);
        let tenth = numbers.below(10);
        // Writing to a string cannot fail.
        let _ = write!(
            text,
            "LF{:05},{station},{species},{captured_text},{},{seen},{logged},\"{entered}\",{weight}.{tenth}\r\n",
            10_000 + row,
            written("{day:02}/{month:02}/{year}", released),
        );
    }
    text
}

/// A short list from the ringing trainees: tabs, and a twelve-hour clock.
pub fn ringing() -> String {
    let rows = [
        ("Astrid", "14.03.2024 7:05 am"),
        ("Benicio", "14.03.2024 12:40 pm"),
        ("Chiyo", "2.04.2024 6:55 am"),
        ("Driss", "30.04.2024 12:10 am"),
    ];
    let rows: String = rows.iter().map(|(who, opened)| format!("{who}\t{opened}\t12\n")).collect();
    format!("trainee\tnet opened\tnets\n{rows}")
}

fn written(layout: &str, day: Date) -> String {
    match Layout::parse(layout) {
        Ok(layout) => {
            let clock = day.at(0, 0, 0, 0);
            spell(&layout, clock, jiff::tz::Offset::UTC, &Lexicon::english())
        }
        Err(error) => error.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_scenario_is_the_same_in_every_run() {
        assert_eq!(captures(), captures());
        assert_eq!(captures().lines().count() as u64, ROWS + 1);
    }
}
