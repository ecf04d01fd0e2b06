//! What the values of each form say by themselves.

use crate::verdict::case::Case;
use crate::verdict::found::Found;

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
