//! Dates with different marks between their parts, in a column in which all are written so: numbers of something else may
//! be.

use crate::candidates::Style;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::State;
use crate::verdict::found::Found;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let forms = case.forms.iter().enumerate().filter(|_| case.order_is_inferred());
    let own = forms.filter(|(_, form)| {
        form.style() == Style::Uneven && matches!(form.state, State::Decided(_))
    });
    own.map(|(at, _)| Found::doubt(at, Finding::UnevenMarks)).collect()
}
