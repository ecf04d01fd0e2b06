//! What the values of each form say by themselves.

use std::collections::BTreeMap;

use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::form::State;
use crate::verdict::found::Found;
use crate::verdict::ruled_out::RuledOut;

/// The findings of every form, as they were weighed when the case was built.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let forms = case.forms.iter().enumerate().filter(|_| case.is_of_forms());
    let own = |finding| Found::note(finding);
    forms
        .flat_map(|(at, form)| {
            let findings = form.findings.iter().cloned().map(own);
            findings.map(move |found| Found { about: Some(at), ..found })
        })
        .collect()
}

/// The other orders, by the rows that fit only the one that is taken.
pub(super) fn ruled_out(case: &Case<'_>) -> Vec<RuledOut> {
    let mut rows: BTreeMap<Alternative, u64> = BTreeMap::new();
    for form in &case.forms {
        let State::Decided(own) = form.state else { continue };
        for rival in form.alternatives.iter().filter(|rival| **rival != own) {
            *rows.entry(*rival).or_default() += form.group.rows(|fits| fits.votes(own, *rival));
        }
    }
    // What another form is read by is not ruled out for the column.
    let is_taken = |order| case.forms.iter().any(|form| form.state == State::Decided(order));
    let rows = rows.into_iter().filter(|(order, rows)| *rows > 0 && !is_taken(*order));
    rows.map(|(order, rows)| RuledOut::Order { order, rows }).collect()
}
