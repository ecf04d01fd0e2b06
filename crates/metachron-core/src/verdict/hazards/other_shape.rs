//! A form without evidence of its own, beside others that are decided for one order.

use std::collections::BTreeSet;

use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::State;
use crate::verdict::found::{Found, Strength};

/// Forms that nothing decides lean to the order that all others are decided for.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let forms = case.forms.iter().filter(|_| case.is_of_forms());
    let open_to_several = forms.filter(|form| form.alternatives.len() > 1);
    let decided: BTreeSet<Alternative> = open_to_several
        .filter_map(|form| match form.state {
            State::Decided(alternative) => Some(alternative),
            _ => None,
        })
        .collect();
    let mut decided = decided.into_iter();
    let (Some(order), None) = (decided.next(), decided.next()) else { return Vec::new() };
    let open = case.forms.iter().enumerate().filter(|(_, form)| form.in_play.contains(&order));
    let open = open.filter(|(_, form)| form.state == State::Undecided);
    let lead = |at, rows| {
        Found::lead(at, (Strength::OtherForms, Some(order)), Finding::OtherForm { order, rows })
    };
    open.map(|(at, form)| lead(at, form.rows())).collect()
}
