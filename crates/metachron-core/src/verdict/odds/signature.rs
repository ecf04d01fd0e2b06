//! Telling a day from a two-digit year: a day leaves a signature that a year does not.

use std::collections::BTreeSet;

use crate::evidence::DistinctDates;
use crate::order::Alternative;

/// What the parts of two-digit dates look like under one order.
pub(crate) struct DayAndYear {
    /// Different values of the part that would be the day.
    pub day_values: usize,
    /// Different values of the part that would be the year.
    pub year_values: usize,
    signed: bool,
}

/// Different values that a day takes at least: the days of the shortest month.
const DAY_VALUES: usize = 28;
/// Pairs of day and month with the days 29 to 31 that are needed.
const LATE_DAYS: usize = 20;
/// Neighbouring years that a year spans at most.
const YEAR_SPAN: i16 = 20;

impl DayAndYear {
    /// The parts of all dates, as `order` takes them.
    pub(crate) fn of(dates: &DistinctDates, order: Alternative) -> DayAndYear {
        let mut days = BTreeSet::new();
        let mut years = BTreeSet::new();
        let mut late_days = BTreeSet::new();
        let mut impossible = false;
        for (written, fits) in dates.iter() {
            impossible |= !fits.fits(order);
            let [day_at, month_at, year_at] = order.places();
            let (day, month) = (written[day_at], written[month_at]);
            days.insert(day);
            years.insert(written[year_at]);
            if day >= 29 {
                late_days.insert((day, month));
            }
        }
        // A month of 28 to 30 days that took part shows that its end was respected.
        let short_month = late_days.iter().any(|(_, month)| [2, 4, 6, 9, 11].contains(month));
        let span = years.last().zip(years.first()).map_or(0, |(last, first)| last - first + 1);
        DayAndYear {
            day_values: days.len(),
            year_values: years.len(),
            signed: dates.is_exact()
                && !impossible
                && days.len() >= DAY_VALUES
                && late_days.len() >= LATE_DAYS
                && short_month
                && span <= YEAR_SPAN,
        }
    }

    /// Whether the one part is a day and the other cannot be.
    pub(crate) fn signed(&self) -> bool {
        self.signed
    }
}
