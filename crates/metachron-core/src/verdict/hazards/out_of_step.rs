//! Rows that go on in time, apart from those that could be read either way: these stand near the others only once day
//! and month are exchanged, or all rows are sorted only so.

use super::dates_by_order::sorted;
use super::misfits::{DecidedForm, Misfits, decided_forms};
use crate::evidence::{DistinctDates, Fits, InStep};
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::odds::{ERRORS, power};

/// One in so many rows may tell of an order that the others speak against.
const FEW: u64 = 5;

/// Forms that are decided, and whose rows speak against it.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let found = decided_forms(case).filter_map(|decided| {
        let finding = far_from_others(case, &decided).or_else(|| sorted_elsewhere(case, &decided));
        Some(Found::doubt(decided.at, finding?).or_told(case))
    });
    found.collect()
}

/// Dates that stand near those above them only once they are exchanged.
fn far_from_others(case: &Case<'_>, decided: &DecidedForm<'_, '_>) -> Option<Finding> {
    let parts = || case.evidence.clues.runs_of(decided.form.form).map(|runs| &runs.in_step);
    let steps = |count: fn(&InStep) -> u64| parts().map(count).sum();
    let (near, all): (u64, u64) = (steps(|own| own.near), steps(|own| own.all));
    let far = (all - near + 1) as f64 / (all + 2) as f64;
    // Rows in no order, or sorted by their text, say nothing.
    if far > 0.5 {
        return None;
    }
    let alone = |order: Alternative| {
        let dates = parts().filter_map(move |own| own.alone.get(&order));
        dates.flat_map(DistinctDates::iter).map(|(written, _)| written)
    };
    let misfits = Misfits::of(alone(decided.exchanged), decided.order);
    let others = alone(decided.order).count() as u64;
    // What does not stand near the rows above may do so by chance once it is exchanged.
    let ln = misfits.ln_by_chance(others, far.max(ERRORS))?;
    Some(Finding::OutOfStep {
        order: decided.exchanged,
        dates: misfits.dates,
        of: others + misfits.dates,
        power: power(ln),
    })
}

/// Rows that are sorted, as another order takes them.
fn sorted_elsewhere(case: &Case<'_>, decided: &DecidedForm<'_, '_>) -> Option<Finding> {
    let DecidedForm { form, order, .. } = decided;
    // Who sorts rows by their text brings first parts together that are alike, whatever they are.
    if case.evidence.clues.runs_of(form.form).any(|runs| runs.are_sorted_as_text()) {
        return None;
    }
    let signal = sorted(case, form, &form.alternatives)?;
    // Where many rows are not among those that are sorted, these are not the whole story.
    let telling = form.group.rows(|fits: Fits| fits.votes(*order, signal.favours));
    let speaks_against = signal.favours != *order && telling * FEW <= form.rows();
    speaks_against.then_some(Finding::SortedElsewhere(signal))
}
