//! The written forms of a column, with counts; at most 4,096 of them.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::Witness;
use super::adds_up::AddsUp;
use crate::text::fnv1a;

/// The most shapes that are told apart; the others are pooled.
pub(super) const MOST: usize = 4_096;

/// Values of one shape.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct ShapeTally {
    /// How many rows have it.
    pub rows: u64,
    /// How many of them fit a candidate.
    pub fits: u64,
    /// The first of them.
    pub lowest: Witness,
    /// Whether a month is called by a full name that is no short one.
    pub full_names: bool,
}

impl AddsUp for ShapeTally {
    fn add_up(&mut self, other: ShapeTally) {
        self.rows += other.rows;
        self.fits += other.fits;
        self.lowest.add_up(other.lowest);
        self.full_names |= other.full_names;
    }
}

/// What is pooled first: shapes without a candidate, then those with the highest hashes.
type Rank = (bool, u64, String);

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Shapes {
    kept: BTreeMap<Rank, ShapeTally>,
    /// Rows whose shapes are pooled.
    pub pooled: u64,
}

impl Shapes {
    pub(super) fn add(&mut self, shape: String, has_candidate: bool, tally: ShapeTally) {
        let rank = (!has_candidate, fnv1a(&shape), shape);
        match self.kept.get_mut(&rank) {
            Some(own) => own.add_up(tally),
            None => {
                self.kept.insert(rank, tally);
            }
        }
        if self.kept.len() > MOST
            && let Some((_, last)) = self.kept.pop_last()
        {
            self.pooled += last.rows;
        }
    }

    pub(super) fn each_lowest(&mut self, change: impl Fn(&mut Witness)) {
        self.kept.values_mut().for_each(|tally| change(&mut tally.lowest));
    }

    /// The shapes with their counts, the most frequent first.
    ///
    /// ```
    /// use metachron_core::evidence::{ObserveOptions, Observer};
    /// let mut observer = Observer::new(ObserveOptions::default(), 0);
    /// for (row, value) in (1..).zip(["13/04/2024", "14/04/2024", "n/a?"]) {
    ///     observer.observe(row, value);
    /// }
    /// let evidence = observer.finish();
    /// let (shape, tally) = evidence.shapes.by_frequency()[0];
    /// assert_eq!((shape, tally.rows), ("00/00/0000", 2));
    /// ```
    pub fn by_frequency(&self) -> Vec<(&str, &ShapeTally)> {
        let mut all: Vec<(&str, &ShapeTally)> =
            self.kept.iter().map(|((_, _, shape), tally)| (shape.as_str(), tally)).collect();
        all.sort_by(|(a, x), (b, y)| y.rows.cmp(&x.rows).then(a.cmp(b)));
        all
    }
}

impl AddsUp for Shapes {
    fn add_up(&mut self, other: Shapes) {
        self.pooled += other.pooled;
        for ((no_candidate, _, shape), tally) in other.kept {
            self.add(shape, !no_candidate, tally);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn tally(row: u64) -> ShapeTally {
        let lowest = Witness { part: 0, row, value: String::new() };
        ShapeTally { rows: 1, fits: 0, lowest, full_names: false }
    }

    #[test]
    fn shapes_without_a_candidate_are_pooled_first() {
        let mut shapes = Shapes::default();
        for row in 0..2 * MOST as u64 {
            shapes.add(format!("a{row}"), row % 2 == 0, tally(row));
        }
        assert_eq!(shapes.pooled, MOST as u64);
        assert!(shapes.by_frequency().iter().all(|(_, tally)| tally.lowest.row % 2 == 0));
    }

    #[test]
    fn any_cut_gives_the_same_shapes() {
        let names = (0..3 * MOST as u64).map(|row| (row, format!("s{}", row % 5_000)));
        let mut whole = Shapes::default();
        let mut parts = [Shapes::default(), Shapes::default(), Shapes::default()];
        for (row, name) in names {
            whole.add(name.clone(), row % 5 == 0, tally(row));
            parts[(row % 3) as usize].add(name, row % 5 == 0, tally(row));
        }
        let [a, mut b, c] = parts;
        b.add_up(c);
        b.add_up(a);
        assert_eq!(b, whole);
    }
}
