//! What values say of the zones in which they were written: abbreviations, offsets that change with
//! the season, and clocks that go back an hour.

use std::collections::{BTreeMap, BTreeSet};

use jiff::civil::DateTime;
use serde::{Deserialize, Serialize};

use super::Witness;
use super::adds_up::{AddsUp, fields_add_up};
use super::first_row::FirstRow;
use crate::reading::{Fit, Stated};
use crate::typed::TypedValue;
use crate::zone::{Placed, Zone, Zones};

/// Zones whose clocks change by the season, one for each set of rules that is widely kept.
const SEASONAL: [&str; 18] = [
    "Europe/London",
    "Europe/Berlin",
    "Europe/Helsinki",
    "America/New_York",
    "America/Chicago",
    "America/Denver",
    "America/Los_Angeles",
    "America/Anchorage",
    "America/Halifax",
    "America/St_Johns",
    "America/Santiago",
    "Atlantic/Azores",
    "Africa/Casablanca",
    "Africa/Cairo",
    "Asia/Jerusalem",
    "Asia/Beirut",
    "Australia/Sydney",
    "Pacific/Auckland",
];

/// Rows that go back that are told one by one.
const BACKS: usize = 32;

/// How often an abbreviation occurs.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Abbreviated {
    /// Rows that have it.
    pub rows: u64,
    /// Rows in which it has several meanings.
    pub unclear: u64,
    /// Rows in which the clocks of a place that uses it are called something else, since it is the
    /// other season there.
    pub out_of_season: u64,
    /// The first of all.
    pub lowest: Witness,
}

fields_add_up!(Abbreviated: rows, unclear, out_of_season, lowest);

/// A row whose clock is earlier than that of the row before.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Back {
    /// The row.
    pub row: Witness,
    /// What the clock showed in the row before.
    pub from: DateTime,
    /// What it shows in this one.
    pub to: DateTime,
}

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct ZoneEvidence {
    /// Abbreviations of zones.
    pub abbreviations: BTreeMap<String, Abbreviated>,
    /// Rows by their offset in seconds.
    pub offsets: BTreeMap<i32, u64>,
    /// Seasonal zones that had another offset at some moment.
    refuted: BTreeSet<String>,
    /// Steps from row to row of clocks without a zone, and those of them that go back.
    pub steps: u64,
    /// How many go back.
    pub steps_back: u64,
    /// The first of those.
    pub backs: BTreeSet<Back>,
    /// The first row that has a clock without a zone, and what it showed.
    first: Option<(Witness, DateTime)>,
    /// What the last of them showed.
    last: Option<DateTime>,
    /// The zones that are not refuted, while a part is looked at.
    #[serde(skip)]
    open: Option<Vec<Zone>>,
}

/// Seasonal zones whose clocks skipped this time.
///
/// ```
/// use metachron_core::evidence::zones_that_skipped;
/// use metachron_core::zone::Zones;
/// let zones = zones_that_skipped(jiff::civil::date(2024, 3, 31).at(2, 30, 0, 0), Zones::bundled());
/// assert!(zones.iter().any(|zone| zone.name() == "Europe/Berlin"));
/// ```
pub fn zones_that_skipped(clock: DateTime, zones: Zones) -> Vec<Zone> {
    let all = SEASONAL.iter().filter_map(|name| zones.named(name));
    all.filter(|zone| matches!(zone.place(clock), Placed::Skipped(..))).collect()
}

impl ZoneEvidence {
    /// Looks at what a value says of where its clock stood, and which stands in so many rows.
    pub(super) fn observe(&mut self, rows: u64, fit: &Fit, zones: Zones, first: FirstRow<'_>) {
        match (fit.moment, fit.stated) {
            (TypedValue::Instant(_), Stated::Abbreviation(name, clock)) => {
                let unclear = name.only_meaning(clock.year()).is_none();
                let called = |zone: Zone| zone.place_called(clock, name.letters()).is_some();
                let place = name.meanings_in(clock.year()).next().and_then(|m| m.zone(zones));
                let own = self.abbreviations.entry(name.to_string()).or_insert_with(|| {
                    let lowest = first.witness();
                    Abbreviated { rows: 0, unclear: 0, out_of_season: 0, lowest }
                });
                first.lower(&mut own.lowest);
                let those = |are_so: bool| if are_so { rows } else { 0 };
                own.rows += rows;
                own.unclear += those(unclear);
                own.out_of_season += those(!unclear && place.is_some_and(|zone| !called(zone)));
            }
            (TypedValue::Instant(moment), Stated::Offset(offset)) => {
                *self.offsets.entry(offset.seconds()).or_default() += rows;
                let mut open = self.open.take().unwrap_or_else(|| self.possible(zones));
                open.retain(|zone| {
                    let holds = zone.offset_at(moment) == offset;
                    if !holds {
                        self.refuted.insert(zone.name().to_owned());
                    }
                    holds
                });
                self.open = Some(open);
            }
            _ => {}
        }
    }

    /// Goes on to what the clock of the next row shows.
    pub(super) fn go_on(&mut self, clock: DateTime, row: FirstRow<'_>) {
        if self.first.is_none() {
            self.first = Some((row.witness(), clock));
        }
        self.step(clock, || row.witness());
        self.last = Some(clock);
    }

    /// What lies between the last clock and this one.
    fn step(&mut self, clock: DateTime, witness: impl Fn() -> Witness) {
        let Some(from) = self.last else { return };
        self.steps += 1;
        if clock < from {
            self.steps_back += 1;
            if self.backs.len() < BACKS {
                self.backs.insert(Back { row: witness(), from, to: clock });
            }
        }
    }

    fn possible(&self, zones: Zones) -> Vec<Zone> {
        let open = |name: &&str| !self.refuted.contains(*name);
        SEASONAL.into_iter().filter(open).filter_map(|name| zones.named(name)).collect()
    }

    /// Seasonal zones that had every offset at its moment, where offsets differ.
    pub fn seasonal(&self, zones: Zones) -> Vec<Zone> {
        if self.offsets.len() < 2 { Vec::new() } else { self.possible(zones) }
    }

    /// Seasonal zones in whose change every step back lies, where the clock goes forward otherwise.
    pub fn put_back(&self, zones: Zones) -> Vec<Zone> {
        let few = self.steps_back > 0
            && self.steps_back * 50 <= self.steps
            && self.steps_back == self.backs.len() as u64;
        let twice = |zone: Zone, clock| matches!(zone.place(clock), Placed::Twice(..));
        let explains = |zone: &Zone| {
            self.backs.iter().all(|back| twice(*zone, back.from) || twice(*zone, back.to))
        };
        let all = SEASONAL.iter().filter_map(|name| zones.named(name));
        if few { all.filter(explains).collect() } else { Vec::new() }
    }

    pub(super) fn each_lowest(&mut self, change: impl Fn(&mut Witness)) {
        self.abbreviations.values_mut().for_each(|own| change(&mut own.lowest));
        self.first.iter_mut().for_each(|(row, _)| change(row));
        let backs = std::mem::take(&mut self.backs).into_iter().map(|mut back| {
            change(&mut back.row);
            back
        });
        self.backs = backs.collect();
    }

    /// What these rows and the next ones show.
    pub(super) fn join(&mut self, next: ZoneEvidence) {
        if let Some((row, clock)) = &next.first {
            self.step(*clock, || row.clone());
        }
        let first = self.first.clone().or(next.first.clone());
        let last = next.last.or(self.last);
        self.add_up(next);
        (self.first, self.last) = (first, last);
    }

    /// What is known once a run of rows has been looked at.
    pub(super) fn finish(&mut self) {
        self.open = None;
    }
}

impl AddsUp for ZoneEvidence {
    fn add_up(&mut self, other: ZoneEvidence) {
        self.abbreviations.add_up(other.abbreviations);
        self.offsets.add_up(other.offsets);
        self.refuted.extend(other.refuted);
        self.steps.add_up(other.steps);
        self.steps_back.add_up(other.steps_back);
        self.backs.extend(other.backs);
        while self.backs.len() > BACKS {
            self.backs.pop_last();
        }
        // No clock goes on from one table to another.
        (self.first, self.last, self.open) = (None, None, None);
    }
}
