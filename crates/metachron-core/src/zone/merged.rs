//! Zones whose clocks before 1970 are left to those of another: which they are, and how many moments that is about.

use std::collections::BTreeMap;

use jiff::Timestamp;

use super::{Clock, Zone};

/// A zone, and the one whose clocks this zone data has for it before 1970.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Merged {
    /// The zone.
    pub zone: Zone,
    /// The one whose clocks stand for its own.
    pub other: Zone,
}

impl Clock {
    /// The zone whose clocks stand for those of this one at a moment, where this zone data has left those out.
    ///
    /// ```
    /// use metachron_core::zone::{Clock, Zones};
    /// let oslo = Clock::named("Europe/Oslo", Zones::bundled()).unwrap();
    /// let merged = oslo.merged_at("1942-06-01T00:00Z".parse().unwrap()).unwrap();
    /// assert_eq!(merged.other.name(), "Europe/Berlin");
    /// assert_eq!(oslo.merged_at("1972-06-01T00:00Z".parse().unwrap()), None);
    /// ```
    pub fn merged_at(self, moment: Timestamp) -> Option<Merged> {
        let Clock::Zone(zone) = self else { return None };
        let other = (moment < Timestamp::UNIX_EPOCH).then(|| zone.merged_with()).flatten()?;
        Some(Merged { zone, other })
    }
}

/// How many rows have moments by the clocks of merged zones: what rows add up to.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct MergedRows(BTreeMap<(&'static str, &'static str), u64>);

impl MergedRows {
    /// These rows and the next ones.
    pub fn join(&mut self, next: MergedRows) {
        for (zones, rows) in next.0 {
            *self.0.entry(zones).or_default() += rows;
        }
    }

    /// So many more rows.
    pub fn count(&mut self, Merged { zone, other }: Merged, rows: u64) {
        *self.0.entry((zone.name(), other.name())).or_default() += rows;
    }

    /// The zone, the one whose clocks stand for its own, and how many rows.
    pub fn iter(&self) -> impl Iterator<Item = (&'static str, &'static str, u64)> {
        self.0.iter().map(|((zone, other), rows)| (*zone, *other, *rows))
    }
}
