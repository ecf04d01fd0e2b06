//! The orders that a reading has for what is in a column, and rows that speak for them or against.

use std::collections::BTreeSet;

use crate::candidates::Form;
use crate::evidence::{ByForm, Evidence, Fits, Group, Occurrences};
use crate::layout::Layout;
use crate::named::Named;
use crate::order::Alternative;
use crate::reading::{Reading, RowPlace, Unfit, interpret};
use crate::text::normalise;

/// The groups of dates in digits whose order could be another, each with the orders in which a reading has its form.
pub(super) struct OwnOrders<'e> {
    evidence: &'e Evidence,
    reading: &'e Reading,
    groups: Vec<(&'e Form, &'e Group, Vec<Alternative>)>,
}

impl<'e> OwnOrders<'e> {
    pub(super) fn of(evidence: &'e Evidence, reading: &'e Reading) -> OwnOrders<'e> {
        let open = evidence
            .groups
            .iter()
            .filter(|(form, group)| group.all_digits && form.alternatives.len() > 1);
        let with_orders = open.map(|(form, group)| (form, group, orders_of(group, reading)));
        let groups = with_orders.filter(|(.., own)| !own.is_empty()).collect();
        OwnOrders { evidence, reading, groups }
    }

    /// Rows that speak against the reading: they fit an order that it does not have for their form, or not for them.
    pub(super) fn against(&self) -> Occurrences {
        if self.reading.split.is_some() {
            return self.evidence.given.of_other_rows.clone();
        }
        let rows = self.groups.iter().map(|(_, group, own)| {
            group.occurrences(|fits| fits.fits_any() && !own.iter().any(|order| fits.fits(*order)))
        });
        rows.sum()
    }

    /// The only order, other than the reading's, that rows against it have.
    pub(super) fn other_order(&self) -> Option<Alternative> {
        let rows = |order: &Alternative| -> u64 {
            let against = self.groups.iter().map(|(_, group, own)| {
                group.rows(|fits| fits.fits(*order) && !own.iter().any(|own| fits.fits(*own)))
            });
            against.sum()
        };
        let mut others = Alternative::all().filter(|order| rows(order) > 0);
        others.next().filter(|_| others.next().is_none())
    }

    /// Different dates whose order could be another, and those that only the order of their form fits.
    pub(super) fn telling(&self) -> (u64, u64) {
        let mut all = (0, 0);
        for (form, group, own) in &self.groups {
            let [order] = own[..] else { continue };
            let Some(rival) = rival(form, order) else { continue };
            all.0 += group.dates.count(Fits::fits_any);
            all.1 += group.dates.count(|fits| fits.votes(order, rival));
        }
        all
    }
}

/// The orders in which a reading has the form of a group: those of layouts that could be of its values.
fn orders_of(group: &Group, reading: &Reading) -> Vec<Alternative> {
    let is_of = |layout: &Layout| {
        let mut values = group.tallies.values().map(|tally| &tally.lowest.value);
        values.any(|raw| {
            let value = normalise(raw, &mut String::new()).to_owned();
            !matches!(interpret(layout, &value, reading.terms), Err(Unfit::Form))
        })
    };
    let own = reading.layouts.iter().filter(|layout| is_of(layout));
    let orders: BTreeSet<Alternative> =
        own.filter_map(Layout::order).map(Alternative::from).collect();
    orders.into_iter().collect()
}

/// The values of the column that tells rows apart in rows that speak against what is said of them.
pub(super) fn against_beside(evidence: &Evidence, reading: &Reading) -> Vec<String> {
    let against = parts_beside(evidence, reading).into_iter().filter(|(_, own, forms)| {
        let holds = |fits: Fits| fits.fits_any() && !own.iter().any(|order| fits.fits(*order));
        forms.values().any(|beside| beside.count(holds) > 0)
    });
    against.map(|(value, ..)| value.to_owned()).collect()
}

/// Parts of a split of which not a single row tells its order, with their rows.
pub(super) fn untold_beside(evidence: &Evidence, reading: &Reading) -> Vec<(String, u64)> {
    let untold = parts_beside(evidence, reading).into_iter().filter_map(|(value, own, forms)| {
        let [order] = own[..] else { return None };
        let open: u64 = forms.values().map(|beside| beside.count(Fits::fits_any)).sum();
        let telling = forms.iter().filter_map(|(form, beside)| {
            let rival = rival(form, order)?;
            Some(beside.count(|fits| fits.votes(order, rival) || fits.votes(rival, order)))
        });
        (open > 0 && telling.sum::<u64>() == 0).then(|| (value.to_owned(), open))
    });
    untold.collect()
}

/// So many different dates that can only be in one order tell it, where none speaks against it.
const TELLING: u64 = 3;

/// Which of these orders the rows beside a value have, if they tell.
pub(super) fn told_beside(forms: &ByForm, orders: &[Alternative]) -> Option<Alternative> {
    let votes = |order: Alternative, rival: Alternative| -> u64 {
        forms.values().map(|beside| beside.count(|fits| fits.votes(order, rival))).sum()
    };
    let tells = |order: &Alternative| {
        let mut rivals = orders.iter().filter(|rival| *rival != order);
        rivals.all(|rival| votes(*order, *rival) >= TELLING && votes(*rival, *order) == 0)
    };
    orders.iter().copied().filter(|_| orders.len() > 1).find(tells)
}

/// The order that a form may have instead.
fn rival(form: &Form, order: Alternative) -> Option<Alternative> {
    form.alternatives.iter().copied().find(|other| *other != order)
}

/// The values of the column that tells rows apart, with the orders that a reading has for them and what stands beside.
fn parts_beside<'e>(
    evidence: &'e Evidence,
    reading: &Reading,
) -> Vec<(&'e str, Vec<Alternative>, &'e ByForm)> {
    let Some(split) = &reading.split else { return Vec::new() };
    let clue = split.column().and_then(|column| evidence.clues.neighbours.column(column));
    let parts = clue.into_iter().flatten().filter_map(|(value, forms)| {
        let own = split.of(RowPlace { beside: value, ..RowPlace::from(1) })?;
        let own = own.iter().filter_map(Layout::order).map(Alternative::from).collect();
        Some((value.as_str(), own, forms))
    });
    parts.collect()
}
