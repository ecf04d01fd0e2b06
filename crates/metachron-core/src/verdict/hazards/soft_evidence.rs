//! What speaks softly for one order of a form that nothing decides.

use super::customs;
use super::dates_by_order::{after_today, same_day, sorted};
use crate::candidates::Style;
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::found::{Found, Strength};
use crate::verdict::signal::Signal;

use std::collections::BTreeSet;

/// Forms that nothing decides lean to what all soft evidence speaks for.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let open = case.forms.iter().enumerate();
    let open = open.filter(|(_, form)| case.is_of_forms() && form.state == State::Undecided);
    open.filter_map(|(at, form)| {
        let mut leading = of_form(case, form);
        leading.retain(|signal| signal.what.leans());
        if leading.is_empty() {
            return None;
        }
        let to = agreed(&leading, &form.in_play);
        let finding = if to.is_some() { Finding::Soft } else { Finding::SoftDivided };
        Some(Found::lead(at, (Strength::Soft, to), finding(leading)))
    })
    .collect()
}

/// All signals for the forms that their own values leave open, each once.
pub(in crate::verdict) fn signals(case: &Case<'_>) -> Vec<Signal> {
    let mut all: Vec<Signal> = Vec::new();
    for form in case.forms.iter().filter(|form| form.state.is_open()) {
        let own = of_form(case, form);
        all.extend(own.into_iter().filter(|signal| !all.contains(signal)).collect::<Vec<_>>());
    }
    all
}

/// What the values of a form say by themselves, and what the rest of the table says. What speaks of days does not
/// speak of lengths.
fn of_form(case: &Case<'_>, form: &JudgedForm<'_>) -> Vec<Signal> {
    if form.style() == Style::Length {
        return Vec::new();
    }
    let own = [
        sorted(case, form, &form.in_play),
        after_today(case, form),
        same_day(case, form),
        customs::points(form),
        customs::padding(case, form),
        customs::clock(form),
    ];
    let beside = case.asserted.signals.iter().cloned();
    let all = own.into_iter().flatten().chain(beside);
    all.filter(|signal| form.in_play.contains(&signal.favours)).collect()
}

/// The order for which all signals speak that speak for one in play.
fn agreed(signals: &[Signal], in_play: &[Alternative]) -> Option<Alternative> {
    let favoured: BTreeSet<Alternative> =
        signals.iter().map(|signal| signal.favours).filter(|own| in_play.contains(own)).collect();
    match favoured.into_iter().collect::<Vec<_>>()[..] {
        [order] => Some(order),
        _ => None,
    }
}
