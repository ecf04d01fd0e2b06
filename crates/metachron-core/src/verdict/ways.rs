//! What would settle the forms of a column that are open.

use super::case::Case;
use super::finding::Finding;
use super::form::{JudgedForm, State};
use super::model::{Settle, Telling};
use crate::evidence::Fits;
use crate::layout::Layout;
use crate::order::{Alternative, Order};

/// One layout list for the whole column: what is decided or favoured, or `order` where a form
/// is open. None if something stays open.
pub(super) fn chosen_layouts(
    forms: &[JudgedForm<'_>],
    case: &Case<'_>,
    order: Option<Alternative>,
) -> Option<Vec<Layout>> {
    let mut layouts: Vec<Layout> = Vec::new();
    for form in forms {
        let chosen = match (form.state, order) {
            (State::Decided(own), _) => own,
            (State::Refused, _) => continue,
            (_, Some(order)) if form.in_play.contains(&order) => order,
            (State::Leaning(own), _) => own,
            (State::Undecided | State::Mixed, _) => return None,
        };
        let of_kind = |layout: &&Layout| layout.kind().is_some_and(|own| case.is_own(own));
        for layout in form.layouts_of(chosen).filter(of_kind) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
    }
    (!layouts.is_empty()).then_some(layouts)
}

/// Whether known answers are what nothing gives: values that would decide may be there already.
fn is_refuted(form: &JudgedForm<'_>) -> bool {
    form.findings.iter().any(|finding| matches!(finding, Finding::NothingGives { .. }))
}

/// What would settle the open forms.
pub(super) fn ways(forms: &[JudgedForm<'_>], case: &Case<'_>) -> Vec<Settle> {
    let open: Vec<&JudgedForm<'_>> = forms.iter().filter(|form| form.state.is_open()).collect();
    if open.is_empty() {
        return Vec::new();
    }
    let mut orders: Vec<Alternative> = open.iter().flat_map(|form| form.in_play.clone()).collect();
    // What is favoured comes first.
    let favoured =
        |order: &Alternative| open.iter().any(|form| form.state == State::Leaning(*order));
    orders.sort_by_key(|order| (!favoured(order), *order));
    orders.dedup();
    let mut settle: Vec<Settle> = Vec::new();
    for order in &orders {
        // `--order` speaks of all-digit dates only and is strict; where it would leave other
        // written forms unread, the layouts say the same without that.
        let digits = open.iter().all(|form| form.group.all_digits);
        let strict =
            forms.iter().filter(|form| form.group.all_digits).all(|form| match form.state {
                State::Decided(own) => own == *order,
                _ => form.alternatives.contains(order),
            });
        if digits
            && strict
            && let Ok(asked) = Order::try_from(*order)
        {
            let lost = |fits: Fits| !fits.fits(*order) && fits.fits_any();
            let unreadable = open.iter().map(|f| f.group.rows(lost)).sum();
            settle.push(Settle::Order(asked, unreadable));
        } else if let Some(layouts) = chosen_layouts(forms, case, Some(*order)) {
            settle.push(Settle::Layouts(*order, layouts));
        }
    }
    if open.iter().any(|form| form.state == State::Mixed) {
        let mut both: Vec<Layout> = Vec::new();
        for order in &orders {
            both.extend(chosen_layouts(forms, case, Some(*order)).unwrap_or_default());
        }
        let mut seen: Vec<Layout> = Vec::new();
        both.retain(|layout| {
            let new = !seen.contains(layout);
            seen.push(layout.clone());
            new
        });
        settle.push(Settle::Both(both));
    } else if orders.len() > 1 && !open.iter().any(|form| is_refuted(form)) {
        // A form that is doubted has what would tell; more of it decides nothing.
        let has = |order: Alternative| orders.contains(&order);
        settle.push(Settle::Value(if has(Alternative::Months) {
            Telling::HoursBesideM
        } else if has(Alternative::MinutesSeconds) {
            Telling::Fractions
        } else if has(Alternative::Dmy) && has(Alternative::Mdy) {
            Telling::LateDays
        } else {
            Telling::WholeMonths
        }));
    }
    settle
}
