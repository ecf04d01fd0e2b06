//! Figures of several orders held against each other.

use jiff::civil::Date;

use super::days::DAYS_OF_YEAR;
use crate::order::Alternative;
use crate::reading::Century;

/// The share of days and months of which both could be a month, among all days of a year.
pub(crate) const OPEN: f64 = 12.0 * 12.0 / DAYS_OF_YEAR;

/// The order with the best figure and the best of its rivals.
pub(crate) fn best_two<T: Copy>(
    in_play: &[Alternative],
    figure: impl Fn(Alternative) -> Option<T>,
    better: impl Fn(&T) -> f64,
) -> Option<((Alternative, T), (Alternative, T))> {
    let all: Option<Vec<(Alternative, T)>> =
        in_play.iter().map(|order| Some((*order, figure(*order)?))).collect();
    let mut all = all?;
    all.sort_by(|(_, a), (_, b)| better(b).total_cmp(&better(a)));
    match all[..] {
        [first, second, ..] => Some((first, second)),
        _ => None,
    }
}

/// A date as an order takes it.
pub(crate) fn date_of(
    written: [i16; 3],
    order: Alternative,
    century: Option<Century>,
) -> Option<Date> {
    let [day, month, year] = order.places().map(|at| written[at]);
    let year = century.map_or(year, |century| century.place(year));
    Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()
}
