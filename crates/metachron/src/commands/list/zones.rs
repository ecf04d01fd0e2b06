//! Time zones, and what their clocks show.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::civil::{Date, DateTime};
use jiff::tz::Offset;
use metachron_core::zone::{Zone, Zones, offset_text};
use serde::Serialize;

use super::like;
use crate::args;
use crate::message::{Failure, quoted};
use crate::report::Grid;

/// A moment as it is typed: a day is its first moment in UTC.
pub fn moment(text: &str) -> Result<Timestamp, Failure> {
    let day = || text.parse::<Date>().ok().map(|day| day.at(0, 0, 0, 0));
    let clock = || text.parse::<DateTime>().ok().or_else(day);
    let utc = || Offset::UTC.to_timestamp(clock()?).ok();
    text.parse().ok().or_else(utc).ok_or_else(|| {
        Failure::usage(format!(
            "--at {} is no moment such as 2024-07-01 or 2024-07-01T12:00Z",
            quoted(text)
        ))
    })
}

/// A zone at some moment.
#[derive(Debug, Serialize)]
pub struct ZoneFacts {
    zone: &'static str,
    /// Names by which it was called before.
    old_names: Vec<&'static str>,
    offset: String,
    abbreviation: Option<String>,
    summer_time: bool,
    /// When its clocks change next, and to which offset.
    next_change: Option<String>,
    next_offset: Option<String>,
}

impl ZoneFacts {
    fn of(zone: Zone, zones: Zones, at: Timestamp) -> Option<ZoneFacts> {
        let showing = zone.showing_at(at)?;
        let next = zone.next_change(at);
        let named = showing.abbreviation.starts_with(|c: char| c.is_ascii_alphabetic());
        let is_old = |other: &Zone| other.is_old_name() && other.current_name() == zone.name();
        Some(ZoneFacts {
            zone: zone.name(),
            old_names: zones.all().filter(is_old).map(Zone::name).collect(),
            offset: offset_text(showing.offset),
            abbreviation: named.then_some(showing.abbreviation),
            summer_time: showing.is_summer,
            next_change: next.as_ref().map(|(when, _)| when.to_string()),
            next_offset: next.map(|(_, then)| offset_text(then.offset)),
        })
    }
}

/// The zones that are asked for, each once: by its old name one is found, and listed by its current one.
pub fn all(list: &args::List, zones: Zones, at: Timestamp) -> Vec<ZoneFacts> {
    let mut names = BTreeSet::new();
    let mut found: Vec<ZoneFacts> = zones
        .all()
        .filter(|zone| like(list, &[zone.name(), &zone.name().replace('_', " ")]))
        .filter_map(|zone| zones.named(zone.current_name()))
        .filter(|zone| names.insert(zone.name()))
        .filter_map(|zone| ZoneFacts::of(zone, zones, at))
        .collect();
    found.sort_by_key(|zone| zone.zone);
    found
}

/// What was found, to be read.
pub fn view(found: &[ZoneFacts], at: Timestamp, zones: Zones, width: usize) -> String {
    let mut grid = Grid::new(&["zone", "offset", "called", "next change", "old names"]);
    for zone in found {
        let called = match (&zone.abbreviation, zone.summer_time) {
            (Some(name), true) => format!("{name}, summer time"),
            (Some(name), false) => name.clone(),
            (None, true) => "summer time".to_owned(),
            (None, false) => "-".to_owned(),
        };
        let next = match (&zone.next_change, &zone.next_offset) {
            (Some(when), Some(offset)) => format!("{when} to {offset}"),
            _ => "-".to_owned(),
        };
        let old = zone.old_names.join(", ");
        grid.push(vec![zone.zone.to_owned(), zone.offset.clone(), called, next, old]);
    }
    let mut view = String::new();
    grid.write_wrapped(&mut view, 0, width);
    let release = zones.version().unwrap_or("of no stated release");
    let second = Timestamp::from_second(at.as_second()).unwrap_or(at);
    view.push_str(&format!("\nAt {second}, by the IANA Time Zone Database {release}.\n"));
    view
}
