//! Dates of a form that is decided which fit in only once day and month are exchanged: a statistic for several hazards.
//! An import has exchanged them, or another hand wrote them.

use std::collections::BTreeSet;

use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::form::JudgedForm;
use crate::verdict::odds::{BY_CHANCE, ln_at_most};

/// A form that is decided for an order.
pub(super) struct DecidedForm<'c, 'e> {
    /// Its place in the case.
    pub at: usize,
    pub form: &'c JudgedForm<'e>,
    pub order: Alternative,
    /// The order that takes its day for the month.
    pub exchanged: Alternative,
}

/// The forms that are decided, and could be read with day and month exchanged. Who has said what an import did has
/// looked at the rows.
pub(super) fn decided_forms<'c, 'e>(
    case: &'c Case<'e>,
) -> impl Iterator<Item = DecidedForm<'c, 'e>> {
    let is_open = case.order_is_unsaid() && case.asserted.repair.is_none();
    let forms = case.forms.iter().enumerate().filter(move |_| is_open);
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
    /// The days of the month on which they are as they are taken.
    days: u64,
}

impl Misfits {
    /// These dates, as `order` takes them.
    pub(super) fn of(dates: impl Iterator<Item = [i16; 3]>, order: Alternative) -> Misfits {
        let [day, ..] = order.places();
        let days: Vec<i16> = dates.map(|written| written[day]).collect();
        let kinds: BTreeSet<&i16> = days.iter().collect();
        Misfits { dates: days.len() as u64, days: kinds.len() as u64 }
    }

    /// The logarithm of the probability of so many by chance, beside so many others, where each date is one of them with
    /// this probability. Dates that are always on the same days of the month all are together, so that their days count
    /// once each.
    pub(super) fn ln_by_chance(&self, others: u64, share: f64) -> Option<f64> {
        let of_dates = ln_at_most(others, others + self.dates, 1.0 - share);
        let of_days = self.days as f64 * share.ln();
        Some(of_dates.max(of_days)).filter(|ln| *ln < BY_CHANCE.ln())
    }
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
        assert_eq!((several.dates, several.days), (36, 3));
        assert!(several.ln_by_chance(10, 0.03) < Some(1e-4_f64.ln()));
        // Where every second fits in by chance, three days say nothing.
        assert_eq!(several.ln_by_chance(10, 0.5), None);
    }
}
