//! Rows that go on in time, apart from those that could be read either way: these stand near the others only once day
//! and month are exchanged, or all rows are sorted only so.

use std::collections::BTreeMap;

use super::dates_by_order::sorted;
use super::misfits::{DecidedForm, Misfits, decided_forms, may_be_exchanged};
use crate::evidence::{DistinctDates, Fits, InStep};
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::odds::{ERRORS, power};

/// One in so many rows may tell of an order that the others speak against.
const FEW: u64 = 5;

/// A date stands within half a month of the row above it by chance with this probability, where rows cover a year.
const NEAR_BY_CHANCE: f64 = 0.1;

/// So many steps between dates that can be read in one way only show how rows go on.
const OTHERS: u64 = 3;

/// What is near, of the rows of a form.
type Near = fn(&InStep) -> &BTreeMap<Alternative, DistinctDates>;

/// Forms that are decided, and whose rows speak against it.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let found = decided_forms(case).filter_map(|decided| {
        let parts: Vec<&InStep> =
            case.evidence.clues.runs_of(decided.form.form).map(|runs| &runs.in_step).collect();
        let finding = far_from_others(&parts, decided.order, decided.exchanged);
        let finding = finding.or_else(|| sorted_elsewhere(case, &decided));
        Some(Found::doubt(decided.at, finding?).or_told(case))
    });
    found.chain(year_first(case)).collect()
}

/// Dates with the year first, of which an import has exchanged day and month where it could.
fn year_first(case: &Case<'_>) -> Option<Found> {
    let at = case.forms.iter().position(|form| form.form.is_year_first())?;
    let parts: Vec<&InStep> = case.evidence.clues.year_first.values().collect();
    // Dates that are all early have a hazard of their own.
    let have_others = parts.iter().map(|own| own.all).sum::<u64>() >= OTHERS;
    let finding = far_from_others(&parts, Alternative::Ymd, Alternative::Ydm);
    let finding = finding.filter(|_| have_others && may_be_exchanged(case))?;
    Some(Found::doubt(at, finding).or_told(case))
}

/// Dates that stand near those above them only once they are exchanged: near what can be read in one way only, or near
/// each other.
fn far_from_others(
    parts: &[&InStep],
    order: Alternative,
    exchanged: Alternative,
) -> Option<Finding> {
    let steps = |count: fn(&InStep) -> u64| parts.iter().map(|own| count(own)).sum();
    let (near, all): (u64, u64) = (steps(|own| own.near), steps(|own| own.all));
    let far = (all - near + 1) as f64 / (all + 2) as f64;
    // Rows in no order, or sorted by their text, say nothing.
    if far > 0.5 {
        return None;
    }
    let share = far.max(ERRORS);
    let near = |look: Near, order: Alternative| {
        let dates = parts.iter().filter_map(move |own| look(own).get(&order));
        dates.flat_map(DistinctDates::iter).map(|(written, _)| written).collect::<Vec<_>>()
    };
    let beside_others = |look: Near| {
        let misfits = Misfits::of(near(look, exchanged).into_iter(), order);
        (misfits, near(look, order).len() as u64)
    };
    let found = |dates: u64, others: u64, ln: f64| Finding::OutOfStep {
        order: exchanged,
        dates,
        of: others + dates,
        power: power(ln),
    };
    // What does not stand near the rows above may do so by chance once it is exchanged.
    let (misfits, others) = beside_others(|own| &own.alone);
    let below = misfits.ln_by_chance(others, share);
    let below = below.map(|ln| found(misfits.dates, others, ln));
    below.or_else(|| {
        let (misfits, others) = beside_others(|own| &own.in_line);
        let ln = misfits.ln_in_line(others, share * NEAR_BY_CHANCE)?;
        Some(found(misfits.dates, others, ln))
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
