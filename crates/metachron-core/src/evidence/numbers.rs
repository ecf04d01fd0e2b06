//! The numbers of a column, as far as they may count from an origin.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::latest::LatestHashes;
use crate::epoch::Number;
use crate::text::fnv1a;

/// Different numbers that are kept: a fair sample of them.
const SAMPLE: usize = 1_024;

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct NumberEvidence {
    /// How many values are numbers, zeros apart.
    pub rows: u64,
    /// How many are zero.
    pub zeros: u64,
    /// How many have a fraction.
    pub fractions: u64,
    /// Fractions with enough digits to say whether they are a clock time.
    pub telling: u64,
    /// Of these, those that are one: a whole number of seconds of a day.
    pub clocks: u64,
    /// The smallest and the largest.
    pub span: Option<(Number, Number)>,
    /// Different numbers, those with the lowest hashes.
    sample: BTreeMap<u64, Number>,
}

impl NumberEvidence {
    /// Different numbers, or a fair sample of them.
    pub fn sample(&self) -> impl ExactSizeIterator<Item = Number> {
        self.sample.values().copied()
    }

    /// Looks at a number that stands in so many rows; `latest` are those that were looked at lately.
    pub(super) fn observe(
        &mut self,
        rows: u64,
        number: Number,
        value: &str,
        latest: &mut LatestHashes,
    ) {
        let those = |are_so: bool| if are_so { rows } else { 0 };
        if number.is_zero() {
            self.zeros += rows;
            return;
        }
        self.rows += rows;
        self.fractions += those(!number.is_whole());
        if let Some(is_clock) = number.is_clock() {
            self.telling += rows;
            self.clocks += those(is_clock);
        }
        let hash = fnv1a(value);
        // What is kept, or is not because so many are, stays so.
        if !latest.meet(hash) {
            self.widen(number);
            self.keep(hash, number);
            latest.fit(self.sample.len());
        }
    }

    fn widen(&mut self, number: Number) {
        let (least, most) = self.span.unwrap_or((number, number));
        let least = if number.is_below(least) { number } else { least };
        let most = if most.is_below(number) { number } else { most };
        self.span = Some((least, most));
    }

    fn keep(&mut self, hash: u64, number: Number) {
        let is_full = self.sample.len() >= SAMPLE;
        if is_full && self.sample.last_key_value().is_some_and(|(highest, _)| *highest < hash) {
            return;
        }
        if self.sample.insert(hash, number).is_none() && is_full {
            self.sample.pop_last();
        }
    }
}

impl AddsUp for NumberEvidence {
    fn add_up(&mut self, other: NumberEvidence) {
        self.rows.add_up(other.rows);
        self.zeros += other.zeros;
        self.fractions += other.fractions;
        self.telling += other.telling;
        self.clocks += other.clocks;
        if let Some((least, most)) = other.span {
            self.widen(least);
            self.widen(most);
        }
        for (hash, number) in other.sample {
            self.keep(hash, number);
        }
    }
}
