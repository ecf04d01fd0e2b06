//! Dates of a form that is decided which fit in only once day and month are exchanged: a statistic for several hazards.
//! An import has exchanged them, or another hand wrote them.

use std::collections::BTreeMap;

use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::form::JudgedForm;
use crate::verdict::odds::{BY_CHANCE, ln_at_most};

/// A file has such a series of dates by itself with this probability: rows of every month on the same day.
const SERIES: f64 = 0.03;

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
