//! Every way to read a single value.

use jiff::civil::Date;

use crate::calendar::Calendar;
use crate::candidates::{Family, Shape, Style, candidates, without_zone};
use crate::epoch::{Epoch, Number};
use crate::evidence::ObserveOptions;
use crate::layout::Layout;
use crate::lexicon::{Languages, Lexicon, Locale, names};
use crate::order::{Alternative, Order};
use crate::reading::{Clocks, Fit, Terms, Unfit, interpret};
use crate::text::{is_placeholder, normalise};
use crate::typed::TypedValue;

/// What a value is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Explanation {
    /// It stands for nothing.
    Missing,
    /// It is a date only in form.
    Placeholder,
    /// No date is written so; its shape.
    NoDate(String),
    /// It can be read in these ways, or nearly.
    Ways(Vec<Way>),
}

/// One way to read a value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Way {
    /// The layout.
    pub layout: Layout,
    /// The language of its names, where that matters.
    pub written_in: Option<Locale>,
    /// The calendar that it is counted by.
    pub calendar: Calendar,
    /// What it gives, or why it does not fit.
    pub result: Result<Fit, Unfit>,
}

/// Every way to read a value: by the layouts that are given if there are any, otherwise by all that its
/// form allows; in every language in which a name of it is another month.
///
/// ```
/// use metachron_core::evidence::ObserveOptions;
/// use metachron_core::explain::{Explanation, explain};
/// let Explanation::Ways(ways) = explain("13/04/2024", &ObserveOptions::default()) else { panic!() };
/// let said: Vec<String> = ways
///     .iter()
///     .map(|way| match &way.result {
///         Ok(fit) => format!("{} {}", way.layout, fit.moment),
///         Err(unfit) => format!("{} {}", way.layout, unfit.code()),
///     })
///     .collect();
/// assert_eq!(said, [
///     "{day}/{month}/{year} 2024-04-13",
///     "{month}/{day}/{year} no-such-value",
/// ]);
/// ```
pub fn explain(value: &str, options: &ObserveOptions) -> Explanation {
    let mut buffer = String::new();
    let value = normalise(value, &mut buffer);
    if options.missing.contains(value) {
        return Explanation::Missing;
    }
    if is_placeholder(value) {
        return Explanation::Placeholder;
    }
    let mut ways: Vec<Way> = Vec::new();
    for (lexicon, clocks) in views(value, options) {
        let terms = Terms { lexicon, clocks, ..options.terms };
        let family = candidates(value, terms, None, options.asked);
        let (style, layouts) = match (options.layouts.as_slice(), family) {
            ([], None) => continue,
            ([], Some(family)) => {
                // What a clock form is as a length of time is looked at by itself.
                let style = family.form.style;
                let own = family.candidates.into_iter();
                let own =
                    own.filter(|c| style != Style::Time || c.alternative == Alternative::Only);
                (Some(style), own.map(|c| c.layout).collect())
            }
            (given, _) => (None, given.to_vec()),
        };
        // Of the calendars of a locale, the one that gives years of our time.
        let is_ours = |way: &Way| way.result.is_ok_and(|fit| fit.is_of_our_time());
        if lexicon.calendar() != options.terms.lexicon.calendar() && ways.iter().any(is_ours) {
            continue;
        }
        ways.extend(layouts.into_iter().filter_map(|layout| {
            let year_is_open = |fit: &Fit| fit.yearless && terms.year.is_none();
            let result = match interpret(&layout, value, terms) {
                Ok(fit) if year_is_open(&fit) => Err(Unfit::NoYear),
                result => result.and_then(Fit::settled),
            };
            let counts = |fit: &Fit| style.is_none_or(|style| style.counts(fit));
            let (written_in, calendar) = (lexicon.locale(), lexicon.calendar());
            let way = Way { layout, written_in, calendar, result };
            result.as_ref().map_or(true, counts).then_some(way)
        }));
    }
    // That a form cannot hold the value is worth saying only where nothing else is.
    if ways.iter().any(|way| way.result != Err(Unfit::Form)) {
        ways.retain(|way| way.result != Err(Unfit::Form));
    }
    if ways.is_empty() {
        return Explanation::NoDate(Shape::of(value, options.terms).into_text());
    }
    Explanation::Ways(ways)
}

/// What a number may count, from every origin that gives a date of our time.
///
/// ```
/// use metachron_core::explain::counts;
/// let ways = counts("45000", jiff::civil::date(2024, 6, 1));
/// assert!(ways.iter().any(|(_, day)| day.to_string() == "2023-03-15"));
/// ```
pub fn counts(value: &str, today: Date) -> Vec<(Epoch, TypedValue)> {
    let mut buffer = String::new();
    let Some(number) = Number::parse(normalise(value, &mut buffer)) else { return Vec::new() };
    // What differs from the 1900 system before March 1900 only, is no other way.
    let all = Epoch::all().filter(|epoch| epoch.name() != Some("day-zero-1899"));
    all.filter_map(|epoch| Some((epoch, epoch.read(number).ok()?)))
        .filter(|(epoch, moment)| epoch.is_usual(*moment, today))
        .collect()
}

/// The orders of all ways that fit, where they differ in what they give.
pub fn rivals(ways: &[Way]) -> Vec<Order> {
    let fitting: Vec<(&Way, Fit)> =
        ways.iter().filter_map(|way| Some((way, way.result.ok()?))).collect();
    let differ = fitting.iter().any(|(_, fit)| fit.moment != fitting[0].1.moment);
    let mut orders: Vec<Order> =
        fitting.iter().filter(|_| differ).filter_map(|(way, _)| way.layout.order()).collect();
    orders.sort();
    orders.dedup();
    orders
}

/// The lexicons by which a value is read, and clock forms as times of day or as lengths of time.
fn views(value: &str, options: &ObserveOptions) -> Vec<(Lexicon, Clocks)> {
    let own = options.terms.clocks;
    let mut views: Vec<(Lexicon, Clocks)> =
        lexicons(value, options).into_iter().map(|lexicon| (lexicon, own)).collect();
    let is_clock = |family: Family| family.form.style == Style::Time;
    if own == Clocks::OfDay
        && options.layouts.is_empty()
        && candidates(value, options.terms, None, options.asked).is_some_and(is_clock)
    {
        let elapsed = Terms { clocks: Clocks::Elapsed, ..options.terms };
        // A clock of twelve hours is no length of time.
        if !candidates(value, elapsed, None, options.asked).is_some_and(is_clock) {
            views.push((options.terms.lexicon, Clocks::Elapsed));
        }
    }
    views
}

/// The lexicon of the options, or one of each language in which a name of the value is another month.
fn lexicons(value: &str, options: &ObserveOptions) -> Vec<Lexicon> {
    let own = options.terms.lexicon;
    if let Some(locale) = own.locale() {
        // The usual calendar there, if a year or a name looks like it.
        let usual = Calendar::of_cldr(locale.calendar()).filter(|usual| *usual != own.calendar());
        return match usual.map(|usual| own.in_calendar(usual)) {
            Some(usual) if own.calendar() == Calendar::Gregorian => vec![own, usual],
            _ => vec![own],
        };
    }
    let is_length = |family: Family| family.form.style == Style::Length;
    if candidates(value, options.terms, None, options.asked).is_some_and(is_length) {
        return vec![own];
    }
    match Languages::of(names(without_zone(value, options.terms), own).map(|(name, _)| name)) {
        Languages::One(locale) => vec![Lexicon::of(locale)],
        Languages::Differ(difference) => {
            let one_of_each = difference.meanings.iter().filter_map(|(_, locales)| locales.first());
            one_of_each.copied().map(Lexicon::of).collect()
        }
        _ => vec![own],
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ways(value: &str) -> Vec<String> {
        match explain(value, &ObserveOptions::default()) {
            Explanation::Ways(ways) => ways
                .iter()
                .map(|way| {
                    let locale = way.written_in.map(Locale::tag).unwrap_or("any");
                    match &way.result {
                        Ok(fit) => format!("{locale} {}", fit.moment),
                        Err(unfit) => format!("{locale} {}", unfit.code()),
                    }
                })
                .collect(),
            other => vec![format!("{other:?}")],
        }
    }

    #[test]
    fn a_value_is_read_in_every_way_there_is() {
        for (value, expected) in [
            ("03/04/05", vec!["any 2005-04-03", "any 2005-03-04", "any 2003-04-05"]),
            ("3 listopad 2024", vec!["hr 2024-10-03", "cs 2024-11-03"]),
            ("3 kwietnia 2024", vec!["any 2024-04-03"]),
            ("31/02/2024", vec!["any no-such-day", "any no-such-value"]),
            ("5082023", vec!["any 2023-08-05", "any 2023-05-08"]),
            ("7:20 PM", vec!["any 19:20:00"]),
            ("1:30", vec!["any 01:30:00", "any PT1H30M", "any PT1M30S"]),
            ("27:15", vec!["any no-such-value", "any PT27H15M", "any PT27M15S"]),
            ("3 m", vec!["any PT3M", "any P3M"]),
            ("1 day 4 hours", vec!["any PT28H"]),
            ("2 Std. 15 Min.", vec!["any PT2H15M"]),
            ("n/a", vec!["Missing"]),
            ("00/00/0000", vec!["Placeholder"]),
            ("SK-0417", vec!["NoDate(\"‹word›-0000\")"]),
        ] {
            assert_eq!(ways(value), expected, "{value}");
        }
    }
}
