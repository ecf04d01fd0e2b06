//! Years of two digits that stand at the other end, in all rows or in some: read as all others, these lie in other years, and among
//! the years of the others once day and year are exchanged.

use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::odds::{BY_CHANCE, DayAndYear, power};

/// Forms with years of two digits that are read by one order.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let forms = case.forms.iter().enumerate();
    let forms = forms.filter(|(_, form)| case.order_is_unsaid() && form.has_short_years());
    let found = forms.filter_map(|(at, form)| {
        let order = case.order_of(form)?;
        let [day, month, year] = order.places();
        let rival = form.taking([year, month, day])?;
        let [own, other] = [order, rival].map(|order| DayAndYear::of(form.group, order));
        if other.signed() && !own.signed() {
            let DayAndYear { day_values, year_values, .. } = other;
            let finding = Finding::TurnedEnds { order: rival, day_values, year_values };
            return Some(Found::doubt(at, finding).or_told(case));
        }
        // Most rows stand at the other end where fewer years hold most of them there.
        let turned = other.elsewhere(order).filter(|_| other.is_narrower_than(&own));
        let by_chance = |(_, ln): &(u64, f64)| *ln < BY_CHANCE.ln();
        let (dates, ln) = turned.filter(by_chance).or_else(|| own.elsewhere(rival))?;
        let finding = Finding::OtherEnd { order: rival, dates, power: power(ln) };
        (ln < BY_CHANCE.ln()).then(|| Found::doubt(at, finding).or_told(case))
    });
    found.collect()
}
