//! Dates that lie outside the time of all that can be read in one way only, and in it once day and month are exchanged.

use jiff::civil::Date;
use jiff::{Span, ToSpan};

use super::misfits::{DecidedForm, Misfits, decided_forms};
use crate::evidence::Fits;
use crate::order::Alternative;
use crate::typed::TypedValue;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::odds::{ERRORS, date_of, power};

/// Different dates that are needed to know the time in which a column lies.
const DATES: usize = 12;
/// One in so many of them may lie outside it, at either end.
const OUTSIDE: usize = 100;

/// Forms that are decided, and whose dates speak against it.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let found = decided_forms(case).filter_map(|decided| {
        Some(Found::doubt(decided.at, outside(case, &decided)?).or_told(case))
    });
    found.collect()
}

fn outside(case: &Case<'_>, decided: &DecidedForm<'_, '_>) -> Option<Finding> {
    let DecidedForm { form, order, exchanged, .. } = *decided;
    let century = Some(case.options.terms.century).filter(|_| form.has_short_years());
    let month = |written: [i16; 3], order: Alternative| {
        date_of(written, order, century).map(Date::first_of_month)
    };
    let dates = form.group.dates.iter().filter(|(_, fits)| fits.fits(order));
    let (open, told): (Vec<_>, Vec<_>) =
        dates.partition(|(_, fits)| fits.differ(&[order, exchanged]));
    let mut months: Vec<Date> =
        told.iter().filter_map(|(written, _)| month(*written, order)).collect();
    if months.len() < DATES {
        return None;
    }
    months.sort_unstable();
    let few = months.len() / OUTSIDE;
    let (from, to) = (*months.get(few)?, *months.get(months.len() - 1 - few)?);
    let is_inside = |(written, fits): &([i16; 3], Fits), order: Alternative, more: Span| {
        let time = from.saturating_sub(more)..=to.saturating_add(more);
        fits.fits(order) && month(*written, order).is_some_and(|own| time.contains(&own))
    };
    // A column may begin or end early in a month.
    let (inside, outside): (Vec<_>, Vec<_>) =
        open.into_iter().partition(|date| is_inside(date, order, 1.month()));
    let alone = outside.iter().filter(|date| is_inside(date, exchanged, Span::new()));
    let misfits = Misfits::of(alone.map(|(written, _)| *written), order);
    // An honest date lies before the first of so many, or behind the last, once in half as many.
    let honest = ERRORS + 2.0 / (months.len() + 1) as f64;
    let ln = misfits.ln_by_chance(inside.len() as u64, honest)?;
    Some(Finding::OutOfTime {
        order: exchanged,
        dates: misfits.dates,
        months: (TypedValue::Month(from), TypedValue::Month(to)),
        power: power(ln),
    })
}
