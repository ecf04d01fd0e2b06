//! The written forms of a column, with counts; at most 4,096 of them, of which a quarter are no dates.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::{Thinning, Witness};
use crate::candidates::Form;
use crate::text::fnv1a;

/// Of the shapes that are told apart, the share of those without a candidate: most columns hold nothing else.
const SHARE_WITHOUT: usize = 4;

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
        self.rows.add_up(other.rows);
        self.fits += other.fits;
        self.lowest.add_up(other.lowest);
        self.full_names |= other.full_names;
    }
}

/// What is pooled first: shapes without a candidate, then those with the highest hashes. Of one shape there may be values
/// of several forms, whose words stand for different things, and values of none.
type Rank = (bool, u64, String, Option<Box<Form>>);

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Shapes {
    kept: BTreeMap<Rank, Box<ShapeTally>>,
    /// How many of the kept ones have no candidate.
    without: usize,
    /// So many are told apart at most; the others are pooled.
    most: usize,
    /// Rows whose shapes are pooled.
    pub pooled: u64,
}

impl Default for Shapes {
    fn default() -> Shapes {
        Shapes { kept: BTreeMap::new(), without: 0, most: Thinning::NONE.shapes(), pooled: 0 }
    }
}

impl Shapes {
    /// How many are kept.
    pub(super) fn len(&self) -> usize {
        self.kept.len()
    }

    /// Tells so many apart at most from now on.
    pub(super) fn keep_only(&mut self, most: usize) {
        self.most = self.most.min(most);
        while self.kept.len() > self.most || self.without > self.most_without() {
            let Some(((no_candidate, ..), last)) = self.kept.pop_last() else { return };
            self.without -= usize::from(no_candidate);
            self.pooled += last.rows;
        }
    }

    /// So many are told apart at most.
    pub(super) fn most(&self) -> usize {
        self.most
    }

    /// So many without a candidate are told apart at most.
    pub(super) fn most_without(&self) -> usize {
        self.most / SHARE_WITHOUT
    }

    pub(super) fn add(&mut self, shape: String, form: Option<Box<Form>>, tally: ShapeTally) {
        let has_candidate = form.is_some();
        let rank = (!has_candidate, fnv1a(&shape), shape, form);
        match self.kept.get_mut(&rank) {
            Some(own) => own.add_up(tally),
            None => {
                self.kept.insert(rank, Box::new(tally));
                self.without += usize::from(!has_candidate);
            }
        }
        self.keep_only(self.most);
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
            self.kept.iter().map(|((_, _, shape, _), tally)| (shape.as_str(), &**tally)).collect();
        all.sort_by(|(a, x), (b, y)| y.rows.cmp(&x.rows).then(a.cmp(b)));
        all
    }
}

impl AddsUp for Shapes {
    fn add_up(&mut self, other: Shapes) {
        self.pooled += other.pooled;
        self.keep_only(other.most);
        for ((_, _, shape, form), tally) in other.kept {
            self.add(shape, form, *tally);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::candidates::Style;

    fn tally(row: u64) -> ShapeTally {
        let lowest = Witness { part: 0, row, value: String::new() };
        ShapeTally { rows: 1, fits: 0, lowest, full_names: false }
    }

    fn form(has_candidate: bool) -> Option<Box<Form>> {
        let (separators, alternatives) = ("/".to_owned(), Vec::new());
        let form = Form { style: Style::Parted, separators, measure: None, alternatives };
        has_candidate.then(|| Box::new(form))
    }

    #[test]
    fn values_of_one_shape_and_several_forms_are_told_apart() {
        let mut shapes = Shapes::default();
        shapes.add("0 ‹month›".to_owned(), form(true), tally(1));
        shapes.add("0 ‹month›".to_owned(), form(false), tally(2));
        shapes.add("0 ‹month›".to_owned(), form(true), tally(3));
        let rows: Vec<u64> = shapes.by_frequency().iter().map(|(_, own)| own.rows).collect();
        assert_eq!(rows, [2, 1]);
    }

    #[test]
    fn shapes_without_a_candidate_are_pooled_first() {
        let mut shapes = Shapes::default();
        let most = Thinning::NONE.shapes() as u64;
        for row in 0..2 * most {
            shapes.add(format!("a{row}"), form(row % 2 == 0), tally(row));
        }
        assert_eq!(shapes.pooled, most);
        assert!(shapes.by_frequency().iter().all(|(_, tally)| tally.lowest.row % 2 == 0));
    }

    #[test]
    fn any_cut_gives_the_same_shapes() {
        let names =
            (0..3 * Thinning::NONE.shapes() as u64).map(|row| (row, format!("s{}", row % 5_000)));
        let mut whole = Shapes::default();
        let mut parts = [Shapes::default(), Shapes::default(), Shapes::default()];
        for (row, name) in names {
            whole.add(name.clone(), form(row % 5 == 0), tally(row));
            parts[(row % 3) as usize].add(name, form(row % 5 == 0), tally(row));
        }
        let [a, mut b, c] = parts;
        b.add_up(c);
        b.add_up(a);
        assert_eq!(b, whole);
    }
}
