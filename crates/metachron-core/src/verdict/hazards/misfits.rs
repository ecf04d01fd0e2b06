//! Dates of a form that is decided which fit in only once day and month are exchanged: a statistic for several hazards.
//! An import has exchanged them, or another hand wrote them.

use std::collections::BTreeMap;

use crate::evidence::{DistinctDates, InStep};
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::odds::{BY_CHANCE, ERRORS, ln_at_most, power};

/// A file has such a series of dates by itself with this probability: rows of every month on the same day.
const SERIES: f64 = 0.03;

/// A date stands within half a month of the row above it by chance with this probability, where rows cover a year.
const NEAR_BY_CHANCE: f64 = 0.1;

/// So many steps between dates that can be read in one way only show how rows go on.
const OTHERS: u64 = 3;

/// A form that is decided for an order.
pub(super) struct DecidedForm<'c, 'e> {
    /// Its place in the case.
    pub at: usize,
    pub form: &'c JudgedForm<'e>,
    pub order: Alternative,
    /// The order that takes its day for the month.
    pub exchanged: Alternative,
}

/// Whether it is open what was done to dates: who has said an order, or what an import did, has looked at the rows.
pub(super) fn may_be_exchanged(case: &Case<'_>) -> bool {
    case.order_is_unsaid() && case.asserted.repair.is_none()
}

/// The forms that are decided, and could be read with day and month exchanged.
pub(super) fn decided_forms<'c, 'e>(
    case: &'c Case<'e>,
) -> impl Iterator<Item = DecidedForm<'c, 'e>> {
    let forms = case.forms.iter().enumerate().filter(|_| may_be_exchanged(case));
    forms.filter_map(|(at, form)| {
        let order = case.order_of(form)?;
        let [day, month, year] = order.places();
        let exchanged = form.taking([month, day, year])?;
        Some(DecidedForm { at, form, order, exchanged })
    })
}

/// Different dates that fit in only once day and month are exchanged.
pub(super) struct Misfits {
    pub dates: u64,
    /// How many there are on each day of the month, as they are taken.
    by_day: BTreeMap<i16, u64>,
}

impl Misfits {
    /// These dates, as `order` takes them.
    pub(super) fn of(dates: impl Iterator<Item = [i16; 3]>, order: Alternative) -> Misfits {
        let [day, ..] = order.places();
        let mut by_day = BTreeMap::new();
        dates.for_each(|written| *by_day.entry(written[day]).or_default() += 1);
        Misfits { dates: by_day.values().sum(), by_day }
    }

    /// The logarithm of the probability of so many by chance, beside so many others, where each date is one of them with
    /// this probability. Dates that are always on the same days of the month all are together, so that their days count
    /// once each.
    pub(super) fn ln_by_chance(&self, others: u64, share: f64) -> Option<f64> {
        let of_dates = ln_at_most(others, others + self.dates, 1.0 - share);
        let of_days = self.by_day.len() as f64 * share.ln();
        Some(of_dates.max(of_days)).filter(|ln| *ln < BY_CHANCE.ln())
    }

    /// The same of dates that stand near the row right above them: several on one day of the month may be a series, such
    /// as the first of every month, and a single one is there by chance.
    pub(super) fn ln_in_line(&self, others: u64, share: f64) -> Option<f64> {
        let (singles, series): (Vec<u64>, Vec<u64>) =
            self.by_day.values().partition(|dates| **dates == 1);
        let singles = singles.len() as u64;
        let ln =
            series.len() as f64 * SERIES.ln() + ln_at_most(others, others + singles, 1.0 - share);
        Some(ln).filter(|ln| *ln < BY_CHANCE.ln())
    }
}

/// What is near, of the rows of a form.
type Near = fn(&InStep) -> &BTreeMap<Alternative, DistinctDates>;

/// Dates that stand near those above them only once they are exchanged: near what can be read in one way only, or near
/// each other.
pub(super) fn far_from_others(
    parts: &[&InStep],
    order: Alternative,
    exchanged: Alternative,
) -> Option<Finding> {
    let steps = |count: fn(&InStep) -> u64| parts.iter().map(|own| count(own)).sum();
    let (near, all): (u64, u64) = (steps(|own| own.near), steps(|own| own.all));
    let far = (all.saturating_sub(near) + 1) as f64 / (all + 2) as f64;
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

/// Dates with the year first that stand so: an import has read them by another order where it could.
pub(super) fn exchanged_in_place(case: &Case<'_>) -> Option<Finding> {
    let parts: Vec<&InStep> = case.evidence.clues.year_first.values().collect();
    // Dates that are all early have a hazard of their own.
    let have_others = parts.iter().map(|own| own.all).sum::<u64>() >= OTHERS;
    far_from_others(&parts, Alternative::Ymd, Alternative::Ydm).filter(|_| have_others)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn dates_on_one_day_of_the_month_count_once() {
        let misfits = |days: &[i16]| {
            let months = (1..=12).flat_map(|month| days.iter().map(move |day| [*day, month, 2024]));
            Misfits::of(months, Alternative::Dmy)
        };
        assert_eq!(misfits(&[1]).ln_by_chance(0, 0.03), None);
        let several = misfits(&[3, 4, 5]);
        assert_eq!((several.dates, several.by_day.len()), (36, 3));
        assert!(several.ln_by_chance(10, 0.03) < Some(1e-4_f64.ln()));
        // One day may be that of a series, and two may not.
        assert_eq!(misfits(&[3]).ln_in_line(10, 0.003), None);
        assert!(misfits(&[3, 4]).ln_in_line(10, 0.003) < Some(1e-3_f64.ln()));
        // Where every second fits in by chance, three days say nothing.
        assert_eq!(several.ln_by_chance(10, 0.5), None);
    }
}
