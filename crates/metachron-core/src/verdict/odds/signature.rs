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
    /// The fewest neighbouring years that hold most rows.
    most: Option<Range<i16>>,
}

/// Different values that a day takes at least: the days of the shortest month.
const DAY_VALUES: usize = 28;
/// Pairs of day and month with the days 29 to 31 that are needed.
const LATE_DAYS: usize = 20;
/// Of the days 29 to 31 of twelve months so many do not exist in any year.
const IMPOSSIBLE: f64 = 6.0 / 36.0;
/// Neighbouring years that a year spans at most.
const YEAR_SPAN: usize = 20;
/// So many of so many rows are most.
const MOST: (u64, u64) = (4, 5);
/// Years before and after those of all others that are still near them.
const NEAR: i16 = 2;
/// A value is usual that has at least one in so many of the rows that it would have were all alike.
const USUAL: u64 = 4;

impl<'g> DayAndYear<'g> {
    /// The parts of all dates, as `order` takes them.
    pub(crate) fn of(group: &'g Group, order: Alternative) -> DayAndYear<'g> {
        let rows = |order: Option<Alternative>| group.days(|own, _| Some(own) == order);
        // What is the year here is the day of another order.
        let [.., year_at] = order.places();
        let of_year = [Alternative::Dmy, Alternative::Ymd].into_iter();
        let years = rows(of_year.into_iter().find(|own| own.places()[0] == year_at));
        DayAndYear {
            group,
            order,
            day_values: usual(&rows(Some(order))),
            year_values: usual(&years),
            years: window(&years, |own| !exceed_typing_errors(years.all() - own, years.all())),
            most: window(&years, |own| own * MOST.1 >= years.all() * MOST.0),
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
    /// the others; nor does it put other rows among these.
    pub(crate) fn are_errors(&self, rival: Alternative) -> bool {
        let votes = self.group.rows(|fits| fits.votes(rival, self.order));
        if exceed_typing_errors(votes, self.group.rows(|_| true)) || !self.group.dates.is_exact() {
            return false;
        }
        let [.., year] = rival.places();
        let mut voters = self.group.dates.iter().filter(|(_, fits)| fits.votes(rival, self.order));
        voters.all(|(written, _)| !self.is_near(written[year]))
            && self.elsewhere(rival).is_none_or(|(_, ln)| ln > BY_CHANCE.ln())
    }

    /// Whether fewer neighbouring years hold most rows than by another order.
    pub(crate) fn is_narrower_than(&self, other: &DayAndYear<'_>) -> bool {
        let span = |own: &DayAndYear<'_>| own.most.as_ref().map_or(usize::MAX, Range::len);
        span(self) < span(other)
    }

    /// Different dates that lie elsewhere than most rows and among the years of these by another order, which takes the
    /// outer parts the other way round; with the logarithm of the probability that so many do by chance. None where
    /// all years are those of most rows.
    pub(crate) fn elsewhere(&self, rival: Alternative) -> Option<(u64, f64)> {
        let years = self.most.as_ref()?;
        let part = |order: Alternative| order.places()[2];
        let both = self.group.dates.iter();
        let both = both.filter(|(_, fits)| fits.fits(self.order) && fits.fits(rival));
        let (mut own, mut others) = (Among::default(), Among::default());
        for (written, _) in both {
            let is_own = years.contains(&written[part(self.order)]);
            let side = if is_own { &mut own } else { &mut others };
            side.all += 1;
            side.count += u64::from(years.contains(&written[part(rival)]));
        }
        // Of the days of those that are right so many are such a number anyway.
        let share = (own.count + 1) as f64 / (own.all + 2) as f64;
        let share = share.max((years.end - years.start) as f64 / DAYS_OF_MONTH).min(0.99);
        let missing = others.all - others.count;
        (others.count > 0).then(|| (others.count, ln_at_most(missing, others.all, 1.0 - share)))
    }
}

/// How many dates there are, and of how many a part is among the years of most rows.
#[derive(Default)]
struct Among {
    all: u64,
    count: u64,
}

/// Values that have their share of the rows.
fn usual(rows: &DaysOfMonth) -> usize {
    let all = rows.all();
    let places = rows.by_day().len() as u64;
    rows.by_day().iter().filter(|own| **own > 0 && **own * places * USUAL >= all).count()
}

/// The fewest neighbouring values that hold enough of all rows, unless these are too many for years.
fn window(rows: &DaysOfMonth, is_enough: impl Fn(u64) -> bool) -> Option<Range<i16>> {
    let by_value = rows.by_day();
    let holds = |from: usize, length: usize| {
        let within: u64 = by_value[from..from + length].iter().sum();
        within > 0 && is_enough(within)
    };
    let windows = (1..=YEAR_SPAN)
        .flat_map(|length| (0..=by_value.len() - length).map(move |from| (from, length)));
    let (from, length) = windows.into_iter().find(|(from, length)| holds(*from, *length))?;
    // Values are counted from one on.
    let first = i16::try_from(from).ok()? + 1;
    Some(first..first + i16::try_from(length).ok()?)
}
