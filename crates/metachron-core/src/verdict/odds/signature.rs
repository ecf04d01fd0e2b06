//! Telling a day from a two-digit year: a day leaves a signature that a year does not. Typing errors blur it and do not
//! hide it.

use std::collections::BTreeSet;
use std::ops::Range;

use super::BY_CHANCE;
use super::days::DAYS_OF_MONTH;
use super::tails::ln_at_most;
use super::votes::exceed_typing_errors;
use crate::evidence::{DaysOfMonth, Group};
use crate::order::Alternative;

/// What the parts of two-digit dates look like under one order.
pub(crate) struct DayAndYear<'g> {
    group: &'g Group,
    order: Alternative,
    /// Different values that the part takes that would be the day, but for a few typing errors.
    pub day_values: usize,
    /// The same of the part that would be the year.
    pub year_values: usize,
    /// The fewest neighbouring years that hold all rows but for typing errors.
    years: Option<Range<i16>>,
}

/// Different values that a day takes at least: the days of the shortest month.
const DAY_VALUES: usize = 28;
/// Pairs of day and month with the days 29 to 31 that are needed.
const LATE_DAYS: usize = 20;
/// Of the days 29 to 31 of twelve months so many do not exist in any year.
const IMPOSSIBLE: f64 = 6.0 / 36.0;
/// Neighbouring years that a year spans at most.
const YEAR_SPAN: usize = 20;
/// Years before and after those of all others that are still near them.
const NEAR: i16 = 2;
/// A value is usual that has at least one in so many of the rows that it would have were all alike.
const USUAL: u64 = 4;

impl<'g> DayAndYear<'g> {
    /// The parts of all dates, as `order` takes them.
    pub(crate) fn of(group: &'g Group, order: Alternative) -> DayAndYear<'g> {
        let rows = |order: Option<Alternative>| -> DaysOfMonth {
            let own = group.days.iter().filter(|((own, _), _)| Some(*own) == order);
            own.map(|(_, rows)| *rows).sum()
        };
        // What is the year here is the day of another order.
        let [.., year_at] = order.places();
        let of_year = [Alternative::Dmy, Alternative::Ymd].into_iter();
        let years = rows(of_year.into_iter().find(|own| own.places()[0] == year_at));
        DayAndYear {
            group,
            order,
            day_values: usual(&rows(Some(order))),
            year_values: usual(&years),
            years: window(&years),
        }
    }

    /// Whether the one part is a day and the other cannot be.
    pub(crate) fn signed(&self) -> bool {
        let unfit = self.group.rows(|fits| !fits.fits(self.order));
        self.group.dates.is_exact()
            && !exceed_typing_errors(unfit, self.group.rows(|_| true))
            && self.day_values >= DAY_VALUES
            && self.respects_months()
    }

    /// Whether days from the 29th on occur in all months that have them, and hardly in any other.
    fn respects_months(&self) -> bool {
        let mut pairs = BTreeSet::new();
        let (mut all, mut impossible) = (0, 0);
        for (written, fits) in self.group.dates.iter() {
            let [day, month, year] = self.order.places().map(|at| written[at]);
            let is_late = (29..=31).contains(&day) && (1..=12).contains(&month);
            if !is_late || !self.is_near(year) {
                continue;
            }
            all += 1;
            match fits.fits(self.order) {
                true => pairs.extend([(day, month)]),
                false => impossible += 1,
            }
        }
        // A month of 28 to 30 days that took part shows that its end was respected.
        let short_month = pairs.iter().any(|(_, month)| [2, 4, 6, 9, 11].contains(month));
        // Years would be so by chance no more often than as many pairs as are needed, all of which exist.
        let likely = (1.0 - IMPOSSIBLE).ln() * (LATE_DAYS as f64 - 0.5);
        pairs.len() >= LATE_DAYS && short_month && ln_at_most(impossible, all, IMPOSSIBLE) < likely
    }

    /// Whether a year lies among those of all others.
    fn is_near(&self, year: i16) -> bool {
        let near = |years: &Range<i16>| (years.start - NEAR..years.end + NEAR).contains(&year);
        self.years.as_ref().is_some_and(near)
    }

    /// Whether the rows that only another order fits are typing errors: few, and by that order all far from the years of
    /// the others; nor is it by that order alone that other rows lie among them.
    pub(crate) fn are_errors(&self, rival: Alternative) -> bool {
        let votes = self.group.rows(|fits| fits.votes(rival, self.order));
        let all = self.group.rows(|_| true);
        if exceed_typing_errors(votes, all) || !self.group.dates.is_exact() {
            return false;
        }
        let year = |order: Alternative| order.places()[2];
        let dates = || self.group.dates.iter();
        let voters = || dates().filter(|(_, fits)| fits.votes(rival, self.order));
        let is_far = |(written, _): ([i16; 3], _)| !self.is_near(written[year(rival)]);
        if !voters().all(is_far) {
            return false;
        }
        // Of rows that lie elsewhere, chance puts so many among the years of the others once they are read otherwise.
        let elsewhere =
            dates().filter(|(_, fits)| fits.fits(self.order) && fits.fits(rival)).filter_map(
                |(written, _)| (!self.is_near(written[year(self.order)])).then_some(written),
            );
        let (mut count, mut among) = (0, 0);
        for written in elsewhere {
            count += 1;
            among += u64::from(self.is_near(written[year(rival)]));
        }
        let near = self.years.as_ref().map_or(0, |years| years.end - years.start + 2 * NEAR);
        let by_chance = (f64::from(near) / DAYS_OF_MONTH).min(0.99);
        among == 0 || ln_at_most(count - among, count, 1.0 - by_chance) > BY_CHANCE.ln()
    }
}

/// Values that have their share of the rows.
fn usual(rows: &DaysOfMonth) -> usize {
    let all = rows.all();
    let places = rows.by_day().len() as u64;
    rows.by_day().iter().filter(|own| **own > 0 && **own * places * USUAL >= all).count()
}

/// The fewest neighbouring values that hold all rows but for typing errors, unless these are too many for years.
fn window(rows: &DaysOfMonth) -> Option<Range<i16>> {
    let by_value = rows.by_day();
    let holds = |from: usize, length: usize| {
        let within: u64 = by_value[from..from + length].iter().sum();
        within > 0 && !exceed_typing_errors(rows.all() - within, rows.all())
    };
    let windows = (1..=YEAR_SPAN)
        .flat_map(|length| (0..=by_value.len() - length).map(move |from| (from, length)));
    let (from, length) = windows.into_iter().find(|(from, length)| holds(*from, *length))?;
    // Values are counted from one on.
    let first = i16::try_from(from).ok()? + 1;
    Some(first..first + i16::try_from(length).ok()?)
}
