//! The different dates of a column as they are written, exactly up to a budget.
//!
//! Beyond the budget the dates with the lowest hashes are kept: a fair sample, which is the same
//! however the column was cut and merged.

use std::collections::BTreeMap;

use super::Fits;

/// A date as it is written: three numbers from left to right.
pub type Written = [i16; 3];

/// More different dates than four decades have days.
const BUDGET: usize = 16_384;

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct DistinctDates {
    /// By hash, so that the budget keeps the lowest.
    kept: BTreeMap<(u64, Written, Fits), ()>,
    over_budget: bool,
}

impl DistinctDates {
    pub(super) fn insert(&mut self, written: Written, fits: Fits) {
        let key = (hash(written), written, fits);
        let full = self.kept.len() >= BUDGET;
        if full && self.kept.last_key_value().is_some_and(|(highest, ())| *highest < key) {
            self.over_budget = true;
            return;
        }
        if self.kept.insert(key, ()).is_none() && full {
            self.kept.pop_last();
            self.over_budget = true;
        }
    }

    pub(super) fn merge(&mut self, other: DistinctDates) {
        self.over_budget |= other.over_budget;
        for (_, written, fits) in other.kept.into_keys() {
            self.insert(written, fits);
        }
    }

    /// How many different dates there are of which `holds` is true, among those kept.
    pub fn count(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.kept.keys().filter(|(_, _, fits)| holds(*fits)).count() as u64
    }

    /// The dates that are kept.
    pub fn iter(&self) -> impl Iterator<Item = (Written, Fits)> {
        self.kept.keys().map(|(_, written, fits)| (*written, *fits))
    }

    /// Whether all different dates are kept, so that counts are exact.
    pub fn is_exact(&self) -> bool {
        !self.over_budget
    }
}

/// SplitMix64, a mixer that spreads neighbouring dates.
fn hash([a, b, c]: Written) -> u64 {
    let mut z = (a as u16 as u64) << 32 | (b as u16 as u64) << 16 | c as u16 as u64;
    z = z.wrapping_add(0x9E37_79B9_7F4A_7C15);
    z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    z ^ (z >> 31)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn all_dates() -> impl Iterator<Item = Written> {
        (1..=28).flat_map(|d| (1..=12).flat_map(move |m| (1900..1960).map(move |y| [d, m, y])))
    }

    #[test]
    fn counts_different_dates_not_rows() {
        let mut dates = DistinctDates::default();
        for _ in 0..3 {
            dates.insert([3, 4, 2024], Fits::default());
        }
        assert_eq!(dates.count(|_| true), 1);
        assert!(dates.is_exact());
    }

    #[test]
    fn beyond_the_budget_any_cut_gives_the_same_sample() {
        let mut whole = DistinctDates::default();
        let mut parts = [DistinctDates::default(), DistinctDates::default()];
        for (index, date) in all_dates().enumerate() {
            whole.insert(date, Fits::default());
            parts[index % 2].insert(date, Fits::default());
        }
        let [mut even, odd] = parts;
        assert!(even.is_exact() && !whole.is_exact());
        even.merge(odd);
        assert_eq!(even, whole);
        assert_eq!(whole.count(|_| true), BUDGET as u64);
    }
}
