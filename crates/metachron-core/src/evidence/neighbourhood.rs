//! What stands in the columns beside one, and what its dates show there.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use serde::{Deserialize, Serialize};

use super::adds_up::{AddsUp, fields_add_up};
use super::few::Few;
use super::{DistinctDates, Fits, Thinning};
use crate::candidates::Form;

/// Different dates that are kept of each value of a neighbour, where there are few values.
pub(super) const DATES_BESIDE: usize = 128;
/// Different dates that are kept of a neighbour: the more values there are, the fewer of each.
const DATES_OF_NEIGHBOUR: usize = 16_384;

/// Rows of one form beside one value of a neighbour.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Beside {
    /// Rows by which orders fit.
    pub rows: Few<Fits, u64>,
    /// The different dates as they are written.
    pub dates: DistinctDates,
}

fields_add_up!(Beside: rows, dates);

impl Beside {
    pub(super) fn new() -> Beside {
        Beside { rows: Few::default(), dates: DistinctDates::up_to(DATES_BESIDE) }
    }

    /// Rows of which `holds` is true.
    pub fn count(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.rows.iter().filter(|(fits, _)| holds(**fits)).map(|(_, rows)| rows).sum()
    }
}

/// What stands beside one value of a neighbour, or is written in one way: by form.
pub type ByForm = Few<Form, Beside>;

/// Different dates that are kept of each of so many values.
pub(super) fn dates_beside(values: usize) -> usize {
    DATES_BESIDE.min(DATES_OF_NEIGHBOUR / values.next_power_of_two())
}

/// The different values of columns by name; none of a column that has too many of them.
pub(super) type ShownValues = BTreeMap<String, Option<BTreeSet<String>>>;

/// The different values of the first columns of a table, which all of its columns share.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct ValuesBeside(Arc<ShownValues>);

impl ValuesBeside {
    /// Of columns by name.
    pub(super) fn of(shown: ShownValues) -> ValuesBeside {
        ValuesBeside(Arc::new(shown))
    }

    /// Adds those of other rows: a column that has too many values here, there or together has too many.
    ///
    /// ```
    /// use metachron_core::evidence::ValuesBeside;
    /// let mut values = ValuesBeside::default();
    /// values.add(&ValuesBeside::default());
    /// assert_eq!(values, ValuesBeside::default());
    /// ```
    pub fn add(&mut self, other: &ValuesBeside) {
        if self.0.is_empty() {
            self.0 = Arc::clone(&other.0);
            return;
        }
        if Arc::ptr_eq(&self.0, &other.0) || self.0 == other.0 {
            return;
        }
        let shown = Arc::make_mut(&mut self.0);
        for (name, others) in other.0.iter() {
            let Some(own) = shown.get_mut(name) else {
                shown.insert(name.clone(), others.clone());
                continue;
            };
            match (&mut *own, others) {
                (Some(values), Some(others)) => {
                    let new = others.iter().filter(|value| !values.contains(*value)).cloned();
                    let new: Vec<String> = new.collect();
                    values.extend(new);
                    if values.len() > Thinning::NONE.values_beside() {
                        *own = None;
                    }
                }
                _ => *own = None,
            }
        }
    }
}

/// The votes of a column by what stands beside them.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Neighbourhood {
    /// The column itself, which is no neighbour of its own.
    own: String,
    shown: ValuesBeside,
    /// By column and value beside, what dates show whose order may be open.
    votes: BTreeMap<String, BTreeMap<String, ByForm>>,
}

/// What stands beside where no order is open.
static NOTHING: BTreeMap<String, ByForm> = BTreeMap::new();

impl Neighbourhood {
    pub(super) fn of(own: &str, shown: ValuesBeside) -> Neighbourhood {
        Neighbourhood { own: own.to_owned(), shown, votes: BTreeMap::new() }
    }

    /// The values of the first columns of the table.
    pub(super) fn shown(&self) -> &ValuesBeside {
        &self.shown
    }

    /// Has these values beside it, which are its own and perhaps those of other rows too.
    pub(super) fn show(&mut self, shown: ValuesBeside) {
        self.shown = shown;
    }

    /// The columns beside which do not have too many values, with what dates show beside each value.
    pub fn columns(&self) -> impl Iterator<Item = (&String, &BTreeMap<String, ByForm>)> {
        let few =
            self.shown.0.iter().filter(|(name, values)| values.is_some() && **name != self.own);
        few.map(|(name, _)| (name, self.votes.get(name).unwrap_or(&NOTHING)))
    }

    /// What dates show beside each value of the column of this name; none if there is no such column, or if it has too
    /// many values.
    pub fn column(&self, name: &str) -> Option<&BTreeMap<String, ByForm>> {
        self.values(name).map(|_| self.votes.get(name).unwrap_or(&NOTHING))
    }

    /// The different values of the column of this name, in whatever rows.
    fn values(&self, name: &str) -> Option<&BTreeSet<String>> {
        self.shown.0.get(name).filter(|_| name != self.own)?.as_ref()
    }

    /// Adds what dates of one form show beside a value; a column of too many values has none.
    pub(super) fn add(&mut self, name: &str, value: &str, form: &Form, mut own: Beside) {
        let Some(values) = self.values(name) else { return };
        own.dates.keep_only(dates_beside(values.len()));
        let by_form = self.votes.entry(name.to_owned()).or_default();
        let beside = by_form.entry(value.to_owned()).or_default();
        beside.or_insert_with(form.clone(), Beside::new).add_up(own);
    }

    /// About how many bytes it takes, apart from what all columns of the table share.
    pub(super) fn weight(&self) -> usize {
        let forms = self.votes.values().flat_map(BTreeMap::values).flat_map(ByForm::values);
        forms.map(|own| size_of::<Beside>() + own.dates.weight()).sum()
    }

    /// Passes over columns of more values.
    pub(super) fn keep_only(&mut self, values: usize) {
        let is_wide =
            |own: &Option<BTreeSet<String>>| own.as_ref().is_some_and(|own| own.len() > values);
        if self.shown.0.values().any(is_wide) {
            let shown = Arc::make_mut(&mut self.shown.0);
            shown.values_mut().filter(|own| is_wide(own)).for_each(|own| *own = None);
            self.prune();
        }
    }

    /// Keeps of each column what fits the number of its values.
    fn prune(&mut self) {
        let shown = &self.shown.0;
        self.votes.retain(|name, votes| {
            let Some(Some(values)) = shown.get(name) else { return false };
            let budget = dates_beside(values.len());
            let kept = votes.values_mut().flat_map(Few::values_mut);
            kept.for_each(|beside| beside.dates.keep_only(budget));
            true
        });
    }
}

impl AddsUp for Neighbourhood {
    fn add_up(&mut self, other: Neighbourhood) {
        if self.own.is_empty() {
            self.own = other.own;
        }
        self.votes.add_up(other.votes);
        self.shown.add(&other.shown);
        self.prune();
    }
}
