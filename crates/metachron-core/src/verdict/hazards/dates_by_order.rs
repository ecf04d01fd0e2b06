//! What the dates of a form are like as each order takes them: sorted, after today, all on one day of the month.

use std::collections::BTreeSet;

use jiff::civil::Date;

use crate::evidence::TimeSteps;
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::form::JudgedForm;
use crate::verdict::odds::{best_two, date_of};
use crate::verdict::signal::{Signal, SignalKind};

/// Steps that are needed to tell whether rows are sorted.
const STEPS: u64 = 8;
/// Different dates that are needed for what dates have in common.
const DATES: usize = 6;

/// As one of these orders takes them, rows are sorted, and not as any other does.
pub(super) fn sorted(
    case: &Case<'_>,
    form: &JudgedForm<'_>,
    orders: &[Alternative],
) -> Option<Signal> {
    let steps = |order: Alternative| {
        let parts = case.evidence.clues.steps.get(&(form.form.clone(), order))?;
        let mut parts = parts.values();
        let first = *parts.next()?;
        let joined: TimeSteps = parts.fold(first, |joined, next| joined.and(next));
        Some((joined.forward, joined.all))
    };
    let share = |(forward, all): &(u64, u64)| *forward as f64 / (*all).max(1) as f64;
    let ((order, own), (rival, other)) = best_two(orders, steps, share)?;
    let tells = own.1 >= STEPS && share(&own) >= 0.95 && share(&other) <= 0.85;
    tells.then_some(Signal {
        favours: order,
        what: SignalKind::Sorted { own, rival: (rival, other.0, other.1) },
    })
}

/// The different dates of a form as an order takes them.
pub(super) fn dates_of(case: &Case<'_>, form: &JudgedForm<'_>, order: Alternative) -> Vec<Date> {
    let century = Some(case.options.terms.century).filter(|_| form.has_short_years());
    let fitting = form.group.dates.iter().filter(|(_, fits)| fits.fits(order));
    fitting.filter_map(|(written, _)| date_of(written, order, century)).collect()
}

pub(super) fn after_today(case: &Case<'_>, form: &JudgedForm<'_>) -> Option<Signal> {
    let as_of = case.asserted.as_of;
    let after = |order: Alternative| {
        let dates = dates_of(case, form, order);
        Some((dates.iter().filter(|date| **date > as_of).count() as u64, dates.len() as u64))
    };
    let ((order, own), (rival, (dates, of))) =
        best_two(&form.in_play, after, |(after, _)| -(*after as f64))?;
    (own.0 == 0 && dates >= 2).then_some(Signal {
        favours: order,
        what: SignalKind::AfterToday { rival, dates, of, as_of },
    })
}

pub(super) fn same_day(case: &Case<'_>, form: &JudgedForm<'_>) -> Option<Signal> {
    let day = |order: Alternative| {
        let dates = dates_of(case, form, order);
        let days: BTreeSet<i8> = dates.iter().map(|date| date.day()).collect();
        match days.into_iter().collect::<Vec<_>>()[..] {
            [day] if dates.len() >= DATES => Some((day, dates.len())),
            _ => None,
        }
    };
    let mut same = form.in_play.iter().filter_map(|order| Some((*order, day(*order)?)));
    let (Some((favours, (day, dates))), None) = (same.next(), same.next()) else { return None };
    Some(Signal { favours, what: SignalKind::SameDay { day, dates } })
}
