//! Rows that go on in time, apart from those that could be read either way: these stand near the others only once day
//! and month are exchanged, or all rows are sorted only so.

use super::dates_by_order::sorted;
use super::misfits::{
    DecidedForm, decided_forms, exchanged_in_place, far_from_others, may_be_exchanged,
};
use super::repairs::ways;
use crate::evidence::{Fits, InStep};
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;

/// One in so many rows may tell of an order that the others speak against.
const FEW: u64 = 5;

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
    let finding = exchanged_in_place(case).filter(|_| may_be_exchanged(case))?;
    let ways = ways(case, &[Repair::HalfSwapped, Repair::None]);
    Some(Found { ways, ..Found::doubt(at, finding) }.or_told(case))
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
