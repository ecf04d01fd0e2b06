//! What layouts that the analyst gave make of a column.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::first_row::FirstRow;
use super::{Occurrences, Witness};
use crate::reading::{Fit, Unfit};
use crate::typed::{Kind, TypedValue};

/// What layouts that the analyst gave make of the column.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Given {
    /// Rows that at least one layout fits, all with the same result, by what they are.
    pub read: BTreeMap<Kind, u64>,
    /// Rows that the layouts take for different moments, by what the first of them gives.
    pub contested: BTreeMap<Kind, u64>,
    /// The first of them.
    pub contested_first: Option<Witness>,
    /// Rows that none fits.
    pub unfit: Occurrences,
    /// Rows that none fits but a candidate would.
    pub fit_elsewhere: u64,
    /// Rows that only a layout of other rows fits.
    pub of_other_rows: Occurrences,
    /// Per layout, the rows that it fits.
    pub fits: Vec<u64>,
    /// Per layout, the earliest and the latest moment.
    pub spans: Vec<Option<(TypedValue, TypedValue)>>,
    /// The most digits of a fraction of a second.
    pub fraction_digits: u8,
}

impl AddsUp for Given {
    fn add_up(&mut self, other: Given) {
        self.read.add_up(other.read);
        self.contested.add_up(other.contested);
        self.contested_first.add_up(other.contested_first);
        self.unfit.add_up(other.unfit);
        self.fit_elsewhere += other.fit_elsewhere;
        self.of_other_rows.add_up(other.of_other_rows);
        self.fits.add_up(other.fits);
        self.spans.add_up(other.spans);
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
    }
}

impl Given {
    /// The kind that most rows are of; of equally frequent ones, the one that says most.
    pub fn kind(&self) -> Option<Kind> {
        let all = self.read.keys().chain(self.contested.keys());
        let rows = |kind: &Kind| {
            [&self.read, &self.contested].iter().filter_map(|rows| rows.get(kind)).sum::<u64>()
        };
        all.copied().max_by_key(|kind| (rows(kind), kind.precision()))
    }

    /// Looks at what the layouts make of a value that stands in so many rows.
    pub(super) fn observe(
        &mut self,
        rows: u64,
        read: &[Result<Fit, Unfit>],
        own: Option<&[usize]>,
        fits_elsewhere: bool,
        first_row: FirstRow<'_>,
    ) {
        self.fits.resize(read.len(), 0);
        self.spans.resize(read.len(), None);
        let is_own = |at: &usize| own.is_none_or(|own| own.contains(at));
        for (index, fit) in read.iter().enumerate().filter(|(at, _)| is_own(at)) {
            let Ok(fit) = fit else { continue };
            self.fits[index] += rows;
            self.spans[index].add_up(Some((fit.moment, fit.moment)));
            self.fraction_digits = self.fraction_digits.max(fit.fraction_digits);
        }
        let mut fitting = read
            .iter()
            .enumerate()
            .filter(|(at, _)| is_own(at))
            .filter_map(|(_, r)| r.as_ref().ok());
        match fitting.next() {
            None if read.iter().any(Result::is_ok) => {
                first_row.note_all(rows, &mut self.of_other_rows);
            }
            None => {
                first_row.note_all(rows, &mut self.unfit);
                self.fit_elsewhere += if fits_elsewhere { rows } else { 0 };
            }
            Some(first) if fitting.any(|other| other.moment != first.moment) => {
                *self.contested.entry(first.moment.kind()).or_default() += rows;
                first_row.lower_any(&mut self.contested_first);
            }
            Some(first) => *self.read.entry(first.moment.kind()).or_default() += rows,
        }
    }
}
