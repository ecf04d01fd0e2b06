//! What numbers may be as they stand, without counting from anything: years, years with a fraction, a year and its month
//! or week, hours and minutes.

use std::collections::BTreeSet;

use super::as_written::{AsWritten, PlainKind};
use super::model::{Asserted, Settle};
use crate::epoch::Number;
use crate::evidence::{Evidence, NumberEvidence};
use crate::layout::{Layout, YearPart};
use crate::named::Named;
use crate::reading::DecimalYear;
use crate::typed::Kind;

/// Numbers of other things that look like these by chance: one column in a million may.
const BY_CHANCE: f64 = 1e-6;
/// The years in which numbers that are years lie.
const YEARS: (i64, i64) = (1500, 2101);
/// Of the parts of all the years that a series runs through, it has so many at least, in percent.
const RUNS_ON: usize = 50;
/// Different years that make a series.
const SERIES: usize = 5;
/// Of so many different numbers one may be a typing error.
const ERRORS: usize = 33;

/// What numbers may be as they stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct PlainNumbers {
    /// What they are then.
    pub what: PlainKind,
    /// Whether other numbers hardly look so: no name must speak of dates.
    pub is_likely: bool,
    /// How a fraction of nothing is written that some have: `517.0`.
    pub nothing: Option<&'static str>,
}

impl PlainNumbers {
    /// What the numbers of a column may be, if they may be anything of these.
    pub fn of(evidence: &Evidence, asserted: &Asserted) -> Option<PlainNumbers> {
        let numbers = &evidence.numbers;
        let (what, is_likely) = years(numbers)
            .or_else(|| clocks(numbers))
            .or_else(|| periods_of_years(numbers, asserted.speaks_of_weeks))?;
        Some(PlainNumbers { what, is_likely, nothing: fraction_of_nothing(evidence) })
    }

    /// What they become.
    pub fn kind(self) -> Kind {
        match self.what {
            PlainKind::Years => Kind::Year,
            PlainKind::DecimalYears(part) => part.kind(),
            PlainKind::YearMonths | PlainKind::CompactMonths => Kind::Month,
            PlainKind::CompactWeeks => Kind::Week,
            PlainKind::Clocks => Kind::Time,
        }
    }

    /// The layout that reads them so.
    pub fn way(self) -> Option<Settle> {
        let behind = self.nothing.map_or(String::new(), |nothing| format!("[{nothing}]"));
        let layout = match self.what {
            PlainKind::Years => format!("{{year}}{behind}"),
            PlainKind::DecimalYears(part) => format!("{{decimalyear:{}}}", part.name()),
            PlainKind::YearMonths => "{year}.{month:02}".to_owned(),
            PlainKind::CompactMonths => format!("{{year}}{{month:02}}{behind}"),
            PlainKind::CompactWeeks => format!("{{weekyear}}{{week:02}}{behind}"),
            PlainKind::Clocks => format!("{{hourminute}}{behind}"),
        };
        let layout = Layout::parse(&layout).ok()?;
        Some(Settle::AsWritten(AsWritten::Numbers(self.what), vec![layout]))
    }
}

/// How the fraction of whole numbers is written, where they have one: `1990.0`.
pub(super) fn fraction_of_nothing(evidence: &Evidence) -> Option<&'static str> {
    const FRACTIONS: [&str; 4] = [".0", ".00", ",0", ",00"];
    let shapes = evidence.shapes.by_frequency();
    let of = |shape: &str| FRACTIONS.into_iter().find(|own| shape.ends_with(own));
    shapes.iter().find_map(|(shape, _)| of(shape))
}

/// Whether all numbers lie where years do, with a fraction or without.
pub(super) fn are_among_years(numbers: &NumberEvidence) -> bool {
    let (from, to) = (Number::from(YEARS.0), Number::from(YEARS.1));
    let is_year = |number: Number| !number.is_below(from) && number.is_below(to);
    numbers.rows > 0 && numbers.sample().all(is_year)
}

/// The first and the last of whole numbers that lie where years do and run on.
pub(super) fn run_on_as_years(numbers: &NumberEvidence) -> Option<(i16, i16)> {
    let all: BTreeSet<i16> = numbers
        .sample()
        .map(|number| i16::try_from(number.whole()?).ok())
        .collect::<Option<_>>()?;
    let (first, last) = (*all.first()?, *all.last()?);
    let through = usize::from(first.abs_diff(last)) + 1;
    let run_on = all.len() >= SERIES && all.len() * 100 >= through * RUNS_ON;
    (run_on && are_among_years(numbers) && numbers.fractions == 0).then_some((first, last))
}

/// Numbers that lie where years do, and whether others hardly look so.
fn years(numbers: &NumberEvidence) -> Option<(PlainKind, bool)> {
    if !are_among_years(numbers) {
        return None;
    }
    if numbers.fractions == 0 {
        return Some((PlainKind::Years, false));
    }
    let all: Vec<(i16, u128, u32)> = numbers.sample().filter_map(year_and_fraction).collect();
    let month = |(year, fraction, scale): &(i16, u128, u32)| match (scale, fraction) {
        // October without its last zero.
        (1, 1) => Some((*year, 10)),
        (2, month @ 1..=12) => Some((*year, *month as i16)),
        _ => None,
    };
    if let Some(months) = all.iter().map(month).collect::<Option<BTreeSet<_>>>() {
        return Some((PlainKind::YearMonths, are_all_periods(&months, MONTHS)));
    }
    // Whatever names quarters names months and days as well.
    YearPart::all().find_map(|part| decimal_years(&all, part))
}

/// Numbers whose fractions all name such a part of a year, which others hardly do.
fn decimal_years(all: &[(i16, u128, u32)], part: YearPart) -> Option<(PlainKind, bool)> {
    let own = |(year, fraction, scale): &(i16, u128, u32)| {
        DecimalYear::of(*year, *fraction, *scale, part)
    };
    let fit: Vec<_> =
        all.iter().map(own).filter_map(|year| Some((year, year.first_day().ok()?))).collect();
    if (all.len() - fit.len()) * ERRORS > all.len() {
        return None;
    }
    let chance: f64 = fit.iter().map(|(year, _)| year.chance().ln()).sum();
    if chance > BY_CHANCE.ln() {
        return None;
    }
    let days: BTreeSet<_> = fit.iter().map(|(_, day)| *day).collect();
    let (first, last) = (days.first()?, days.last()?);
    // Parts between the first and the last, both of them among them.
    let of_year = usize::try_from(part.of(first.year())).ok()?;
    let between = usize::try_from((*last - *first).get_days()).ok()?;
    let through = between * of_year / 365 + 1;
    let is_likely = days.len() * 100 >= through * RUNS_ON;
    Some((PlainKind::DecimalYears(part), is_likely))
}

/// A year, its fraction as a number, and the digits of that.
fn year_and_fraction(number: Number) -> Option<(i16, u128, u32)> {
    let (whole, fraction, scale) = number.parts()?;
    Some((i16::try_from(whole).ok()?, fraction, scale))
}

/// The years that are written together with a month or week.
const CENTURIES: (i64, i64) = (1900, 2100);
/// The days of a month.
const DAYS: i16 = 31;
/// Months of a year.
const MONTHS: i16 = 12;
/// Weeks that every year has; some have one more (ISO 8601).
const WEEKS: i16 = 52;

/// Numbers of six digits that are all a year and its month, or its week, and whether others hardly look so.
fn periods_of_years(numbers: &NumberEvidence, speaks_of_weeks: bool) -> Option<(PlainKind, bool)> {
    if numbers.fractions > 0 {
        return None;
    }
    let read = numbers.sample().map(|number| {
        let number = i64::try_from(number.whole()?).ok()?;
        let (year, period) = (number.div_euclid(100), number.rem_euclid(100));
        let is_year = (CENTURIES.0..CENTURIES.1).contains(&year);
        let is_period = is_year && (1..=i64::from(WEEKS) + 1).contains(&period);
        is_period.then_some((year as i16, period as i16))
    });
    let periods: BTreeSet<(i16, i16)> = read.collect::<Option<_>>()?;
    let last = periods.iter().map(|(_, period)| *period).max()?;
    // Up to the last day of a month they are the days of dates in digits.
    if speaks_of_weeks || last > DAYS {
        let is_likely = speaks_of_weeks || are_all_periods(&periods, WEEKS);
        return Some((PlainKind::CompactWeeks, is_likely));
    }
    let is_likely = are_all_periods(&periods, MONTHS);
    (last <= MONTHS).then_some((PlainKind::CompactMonths, is_likely))
}

/// Whether years and their periods run on, through more than one year, up to the last of a year: what is numbered anew
/// each year ends anywhere.
fn are_all_periods(periods: &BTreeSet<(i16, i16)>, of_year: i16) -> bool {
    let (Some((first, _)), Some((last, _))) = (periods.first(), periods.last()) else {
        return false;
    };
    let through = usize::from(first.abs_diff(*last) + 1) * usize::from(of_year.unsigned_abs());
    let different: BTreeSet<i16> = periods.iter().map(|(_, period)| *period).collect();
    first != last
        && periods.len() > usize::from(of_year.unsigned_abs())
        && periods.len() * 100 >= through * RUNS_ON
        && (1..=of_year).all(|period| different.contains(&period))
}

/// Of all numbers with three or four digits up to 2400 so many end as a minute does.
const ENDS_AS_MINUTE: f64 = 0.6;
/// Different minutes, and different hours, without which numbers that end so are years or round.
const MINUTES: usize = 10;
const HOURS: usize = 4;
/// Minutes from this one on are a sixth of all; of rooms on a floor, or exercises of a chapter, hardly any is.
const LATE: i128 = 50;
/// Of so many times of day one is that late, at least.
const LATE_ONE_IN: usize = 16;

/// Whole numbers up to 2400 whose last two digits are all below 60: hours and minutes.
fn clocks(numbers: &NumberEvidence) -> Option<(PlainKind, bool)> {
    if numbers.fractions > 0 {
        return None;
    }
    let read = numbers.sample().map(|number| match number.parts()? {
        (whole @ 0..=2400, ..) if whole % 100 < 60 => Some((whole / 100, whole % 100)),
        _ => None,
    });
    let read: Vec<(i128, i128)> = read.collect::<Option<_>>()?;
    let beyond_an_hour = read.iter().filter(|(hour, _)| *hour > 0).count();
    let hours: BTreeSet<i128> = read.iter().map(|(hour, _)| *hour).collect();
    let minutes: BTreeSet<i128> = read.iter().map(|(_, minute)| *minute).collect();
    let is_clock = beyond_an_hour as f64 * ENDS_AS_MINUTE.ln() < BY_CHANCE.ln()
        && hours.len() >= HOURS
        && read.iter().filter(|(_, minute)| *minute >= LATE).count() * LATE_ONE_IN >= read.len()
        && minutes.len() >= MINUTES;
    is_clock.then_some((PlainKind::Clocks, true))
}
