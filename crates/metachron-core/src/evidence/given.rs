//! What layouts that the analyst gave make of a column.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::{Witness, lower};
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
    pub contested_lowest: Option<Witness>,
    /// Rows that none fits.
    pub unfit: u64,
    /// The first of them.
    pub unfit_lowest: Option<Witness>,
    /// Rows that none fits but a candidate would.
    pub fit_elsewhere: u64,
    /// Rows that only a layout of other rows fits.
    pub of_other_rows: u64,
    /// The first of them.
    pub of_other_lowest: Option<Witness>,
    /// Per layout, the rows that it fits.
    pub fits: Vec<u64>,
    /// Per layout, the earliest and the latest moment.
    pub spans: Vec<Option<(TypedValue, TypedValue)>>,
    /// The most digits of a fraction of a second.
    pub fraction_digits: u8,
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

    pub(super) fn merge(&mut self, other: Given) {
        for (own, others) in [(&mut self.read, other.read), (&mut self.contested, other.contested)]
        {
            for (kind, rows) in others {
                *own.entry(kind).or_default() += rows;
            }
        }
        self.contested_lowest = lower(self.contested_lowest.take(), other.contested_lowest);
        self.unfit += other.unfit;
        self.unfit_lowest = lower(self.unfit_lowest.take(), other.unfit_lowest);
        self.fit_elsewhere += other.fit_elsewhere;
        self.of_other_rows += other.of_other_rows;
        self.of_other_lowest = lower(self.of_other_lowest.take(), other.of_other_lowest);
        self.fits.resize(self.fits.len().max(other.fits.len()), 0);
        self.spans.resize(self.spans.len().max(other.spans.len()), None);
        for (own, fits) in self.fits.iter_mut().zip(other.fits) {
            *own += fits;
        }
        for (own, span) in self.spans.iter_mut().zip(other.spans) {
            *own = match (*own, span) {
                (Some(a), Some(b)) => Some((a.0.min(b.0), a.1.max(b.1))),
                (a, b) => a.or(b),
            };
        }
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
    }

    pub(super) fn observe(
        &mut self,
        read: &[Result<Fit, Unfit>],
        own: Option<&[usize]>,
        fits_elsewhere: bool,
        witness: impl FnOnce() -> Witness,
    ) {
        self.fits.resize(read.len(), 0);
        self.spans.resize(read.len(), None);
        let is_own = |at: &usize| own.is_none_or(|own| own.contains(at));
        for (index, fit) in read.iter().enumerate().filter(|(at, _)| is_own(at)) {
            let Ok(fit) = fit else { continue };
            self.fits[index] += 1;
            let (earliest, latest) = self.spans[index].unwrap_or((fit.moment, fit.moment));
            self.spans[index] = Some((earliest.min(fit.moment), latest.max(fit.moment)));
            self.fraction_digits = self.fraction_digits.max(fit.fraction_digits);
        }
        let mut fitting = read
            .iter()
            .enumerate()
            .filter(|(at, _)| is_own(at))
            .filter_map(|(_, r)| r.as_ref().ok());
        match fitting.next() {
            None if read.iter().any(Result::is_ok) => {
                self.of_other_rows += 1;
                if self.of_other_lowest.is_none() {
                    self.of_other_lowest = Some(witness());
                }
            }
            None => {
                self.unfit += 1;
                self.fit_elsewhere += u64::from(fits_elsewhere);
                if self.unfit_lowest.is_none() {
                    self.unfit_lowest = Some(witness());
                }
            }
            Some(first) if fitting.any(|other| other.moment != first.moment) => {
                *self.contested.entry(first.moment.kind()).or_default() += 1;
                if self.contested_lowest.is_none() {
                    self.contested_lowest = Some(witness());
                }
            }
            Some(first) => *self.read.entry(first.moment.kind()).or_default() += 1,
        }
    }
}
