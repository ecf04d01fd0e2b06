//! What it costs to place a clock time in its zone, and to show a moment there, beside one conversion of the
//! library that the rules come from.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

use std::hint::black_box;
use std::time::Instant;

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{Offset, TimeZone};
use metachron_core::zone::{Placed, Zones};

const VALUES: usize = 200_000;

/// Nanoseconds a value, the best of several rounds.
fn nanos<T: Copy>(values: &[T], mut each: impl FnMut(T)) -> f64 {
    let rounds = (0..15).map(|_| {
        let start = Instant::now();
        values.iter().for_each(|value| each(*value));
        start.elapsed().as_nanos() as f64 / values.len() as f64
    });
    rounds.fold(f64::INFINITY, f64::min)
}

fn main() {
    println!("{:<18}{:<9}{:>8}{:>10}{:>8}", "ns a value", "", "ours", "library", "ratio");
    for name in ["Europe/Oslo", "America/Chicago", "Africa/Casablanca", "Asia/Tokyo"] {
        let zone = Zones::bundled().named(name).unwrap();
        let library = TimeZone::get(name).unwrap();
        let mut state = 20_261_123_u64;
        let mut random = || {
            state ^= state << 13;
            state ^= state >> 7;
            state ^= state << 17;
            Timestamp::from_second((state % 1_900_000_000) as i64).unwrap()
        };
        let mut moments: Vec<Timestamp> = (0..VALUES).map(|_| random()).collect();
        for order in ["random", "sorted"] {
            let clocks: Vec<DateTime> =
                moments.iter().map(|moment| Offset::UTC.to_datetime(*moment)).collect();
            let ours = nanos(&clocks, |clock| {
                black_box(matches!(zone.place(black_box(clock)), Placed::Once(_)));
            });
            let theirs = nanos(&clocks, |clock| {
                let _ = black_box(library.to_ambiguous_timestamp(black_box(clock)).unambiguous());
            });
            println!("{name:<18}{order:<9}{ours:>8.1}{theirs:>10.1}{:>8.2}  to UTC", ours / theirs);
            let ours = nanos(&moments, |moment| {
                black_box(zone.shows(black_box(moment)));
            });
            let theirs = nanos(&moments, |moment| {
                black_box(library.to_datetime(black_box(moment)));
            });
            println!(
                "{name:<18}{order:<9}{ours:>8.1}{theirs:>10.1}{:>8.2}  to a clock",
                ours / theirs
            );
            moments.sort_unstable();
        }
    }
}
