//! The different dates of a column as they are written, exactly up to a budget.
//!
//! Beyond the budget the dates with the lowest hashes are kept: a fair sample, which is the same
//! however the column was cut and merged.

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::few::Keys;
use super::latest::LatestHashes;
use super::{Fits, Thinning};

/// A date as it is written: three numbers from left to right.
pub type WrittenDate = [i16; 3];

/// A date with its hash, and how orders fit it.
pub(super) type Key = (u64, WrittenDate, Fits);

/// See the module. Saved without the hashes, which the dates give again.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(from = "SavedDates", into = "SavedDates")]
pub struct DistinctDates {
    /// By hash, so that the budget keeps the lowest.
    kept: Keys<Key>,
    budget: usize,
    over_budget: bool,
}

/// Dates as they are saved.
#[derive(Serialize, Deserialize)]
struct SavedDates {
    kept: Vec<(WrittenDate, Fits)>,
    budget: usize,
    over_budget: bool,
}

impl From<DistinctDates> for SavedDates {
    fn from(own: DistinctDates) -> SavedDates {
        let DistinctDates { kept, budget, over_budget } = own;
        let kept = kept.iter().map(|(_, written, fits)| (*written, *fits)).collect();
        SavedDates { kept, budget, over_budget }
    }
}

impl From<SavedDates> for DistinctDates {
    fn from(SavedDates { kept, budget, over_budget }: SavedDates) -> DistinctDates {
        let keys = kept.into_iter().map(|(written, fits)| (hash(written), written, fits));
        let mut keys: Vec<Key> = keys.collect();
        let mut dates = DistinctDates { kept: Keys::new(), budget, over_budget };
        dates.insert_all(&mut keys);
        dates
    }
}

impl Default for DistinctDates {
    fn default() -> DistinctDates {
        DistinctDates::up_to(Thinning::NONE.dates())
    }
}

impl DistinctDates {
    /// None yet; so many are kept at most.
    pub(super) fn up_to(budget: usize) -> DistinctDates {
        DistinctDates { kept: Keys::new(), budget, over_budget: false }
    }

    pub(super) fn insert(&mut self, written: WrittenDate, fits: Fits) {
        self.insert_hashed(hash(written), written, fits);
    }

    /// The same where the hash is known.
    pub(super) fn insert_hashed(&mut self, hash: u64, written: WrittenDate, fits: Fits) {
        let key = (hash, written, fits);
        let full = self.kept.len() >= self.budget;
        // Most are settled by their hashes.
        if full && self.kept.last().is_some_and(|last| last.0 < hash || *last < key) {
            self.over_budget = true;
            return;
        }
        if self.kept.insert(key) && full {
            self.kept.pop_last();
            self.over_budget = true;
        }
    }

    /// Inserts all of a list, in whatever order it is, and empties it.
    fn insert_all(&mut self, list: &mut Vec<Key>) {
        list.sort_unstable();
        list.dedup();
        self.insert_sorted(list);
        list.clear();
    }

    /// Inserts dates that are sorted, and of which no two are equal.
    pub(super) fn insert_sorted(&mut self, dates: &[Key]) {
        self.kept.insert_all(dates);
        self.keep_only(self.budget);
    }

    /// Notes whether there are dates that were not inserted because so many are kept.
    pub(super) fn note_over(&mut self, is_over: bool) {
        self.over_budget |= is_over;
    }

    /// Keeps so many at most from now on.
    pub(super) fn keep_only(&mut self, budget: usize) {
        self.budget = self.budget.min(budget);
        while self.kept.len() > self.budget {
            self.kept.pop_last();
            self.over_budget = true;
        }
    }

    /// Forgets them all.
    pub(super) fn clear(&mut self) {
        self.kept.clear();
        self.over_budget = false;
    }

    /// How many are kept.
    pub(super) fn len(&self) -> usize {
        self.kept.len()
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        const OF_DATE: usize = 40;
        OF_DATE * self.kept.len()
    }

    /// The highest hash that is kept, once the budget is used up: higher ones add nothing.
    pub(super) fn ceiling(&self) -> u64 {
        let is_full = self.kept.len() >= self.budget;
        self.kept.last().filter(|_| is_full).map_or(u64::MAX, |(hash, ..)| *hash)
    }

    /// How many different dates there are of which `holds` is true, among those kept.
    pub fn count(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.kept.iter().filter(|(_, _, fits)| holds(*fits)).count() as u64
    }

    /// The dates that are kept.
    pub fn iter(&self) -> impl Iterator<Item = (WrittenDate, Fits)> {
        self.kept.iter().map(|(_, written, fits)| (*written, *fits))
    }

    /// The hash up to which all different dates are kept. What is kept of several up to the lowest of these is a fair
    /// sample of them together.
    pub fn complete_to(&self) -> u64 {
        if self.is_exact() { u64::MAX } else { self.ceiling() }
    }

    /// The dates that are kept, up to this hash.
    pub fn iter_to(&self, hash: u64) -> impl Iterator<Item = (WrittenDate, Fits)> {
        let kept = self.kept.iter().take_while(move |(own, ..)| *own <= hash);
        kept.map(|(_, written, fits)| (*written, *fits))
    }

    /// Whether all different dates are kept, so that counts are exact.
    pub fn is_exact(&self) -> bool {
        !self.over_budget
    }
}

impl AddsUp for DistinctDates {
    fn add_up(&mut self, other: DistinctDates) {
        self.over_budget |= other.over_budget;
        self.keep_only(other.budget);
        for (hash, written, fits) in other.kept.iter() {
            self.insert_hashed(*hash, *written, *fits);
        }
    }
}

/// Different dates as they come row by row: keeps back those that add nothing, which have a hash above all that are kept,
/// or were seen lately. What is asked for every row stands in front.
#[derive(Debug)]
#[repr(C)]
pub(super) struct DateSieve {
    /// The highest hash that is kept, once so many are.
    ceiling: u64,
    /// What was seen.
    latest: LatestHashes,
    is_over: bool,
    /// Dates that are not yet among those that are kept.
    waiting: Vec<Key>,
    dates: DistinctDates,
}

/// So many dates wait for each other: to sort them in one by one would take longer.
const WAITING: usize = 64;
/// Fewer dates than these are sorted in one by one.
const FEW: usize = 16;

impl DateSieve {
    /// None yet; so many are kept at most.
    pub(super) fn up_to(budget: usize) -> DateSieve {
        let (ceiling, latest, is_over) = (u64::MAX, LatestHashes::default(), false);
        let waiting = Vec::new();
        DateSieve { ceiling, latest, is_over, waiting, dates: DistinctDates::up_to(budget) }
    }

    pub(super) fn observe(&mut self, hash: u64, written: WrittenDate, fits: Fits) {
        if hash > self.ceiling {
            self.is_over = true;
            return;
        }
        // The same numbers may fit differently: a weekday may stand before them.
        if self.latest.meet(fits.stirred_into(hash)) {
            return;
        }
        // Of millions of sieves most have few dates, and room for none that wait.
        if self.dates.len() < FEW {
            self.dates.insert_hashed(hash, written, fits);
            self.inserted();
            return;
        }
        self.waiting.push((hash, written, fits));
        if self.waiting.len() >= WAITING {
            self.settle();
        }
    }

    /// Has none wait any more.
    fn settle(&mut self) {
        self.dates.insert_all(&mut self.waiting);
        self.inserted();
    }

    fn inserted(&mut self) {
        self.ceiling = self.dates.ceiling();
        self.latest.fit(self.dates.len());
    }

    /// Keeps so many at most from now on.
    pub(super) fn keep_only(&mut self, budget: usize) {
        self.dates.keep_only(budget);
        self.ceiling = self.dates.ceiling();
    }

    /// About how many bytes it takes, apart from its own size.
    pub(super) fn weight(&self) -> usize {
        let waiting = size_of::<Key>() * self.waiting.capacity();
        self.dates.weight() + self.latest.weight() + waiting
    }

    /// The dates that are kept.
    pub(super) fn finish(mut self) -> DistinctDates {
        self.settle();
        self.dates.over_budget |= self.is_over;
        self.dates
    }
}

/// SplitMix64, a mixer that spreads neighbouring dates.
pub(super) fn hash([a, b, c]: WrittenDate) -> u64 {
    let mut z = (a as u16 as u64) << 32 | (b as u16 as u64) << 16 | c as u16 as u64;
    z = z.wrapping_add(0x9E37_79B9_7F4A_7C15);
    z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    z ^ (z >> 31)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn all_dates() -> impl Iterator<Item = WrittenDate> {
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
        even.add_up(odd);
        assert_eq!(even, whole);
        assert_eq!(whole.count(|_| true), Thinning::NONE.dates() as u64);
    }
}
