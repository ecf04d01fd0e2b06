//! The heart: observe, join, judge, look again, compile.
//!
//! ```text
//! values -> observe -> join -> second look? -> judge -> compile
//! ```
//!
//! [`infer`] does it for values at hand. [`look`] does it for the columns of a table, however its rows are gone
//! through; nobody else goes these steps.
//!
//! ```
//! use metachron_core::evidence::ObserveOptions;
//! use metachron_core::infer::infer;
//! use metachron_core::verdict::{Asserted, Verdict};
//!
//! let asserted = Asserted::nothing(jiff::civil::date(2024, 6, 1));
//! let values = ["28/02/2024", "01/03/2024", "14/03/2024", "2/4/2024"];
//! let inference = infer(values, &ObserveOptions::default(), &asserted);
//! assert_eq!(inference.judgement.verdict, Verdict::Decided);
//!
//! let outcome = inference.compiled.unwrap().apply(4, "2/4/2024");
//! assert!(format!("{outcome:?}").contains("2024-04-02"));
//! ```

use std::convert::Infallible;

use crate::apply::Compiled;
use crate::calendar::Calendar;
use crate::evidence::{Evidence, ObserveOptions, Observer};
use crate::layout::Layout;
use crate::lexicon::{Languages, Lexicon, Locale};
use crate::order::Order;
use crate::reading::{Clocks, RowYear, Split, Terms, Written, Years};
use crate::text::normalise;
use crate::verdict::{
    Answer, Asserted, Finding, Judgement, Verdict, are_lengths, counted_by_answers, judge,
    language_by_answers, layouts_in_order,
};

/// A verdict, and the reading ready to be applied where it is decided.
#[derive(Debug, Clone)]
pub struct Inference {
    /// The verdict with all that led to it.
    pub judgement: Judgement,
    /// The reading, only where the verdict is [`Verdict::Decided`]: nothing softer converts.
    pub compiled: Option<Compiled>,
}

/// A column that has been looked at.
#[derive(Debug, Clone)]
pub struct Looked {
    /// What was seen.
    pub evidence: Box<Evidence>,
    /// How it was looked at.
    pub options: ObserveOptions,
    /// What was seen first, where it was looked at twice: only what was seen with the same options adds up.
    pub first_look: Option<Box<(Evidence, ObserveOptions)>>,
    /// What it amounts to.
    pub inference: Box<Inference>,
}

/// Looks at all values of a column and concludes.
///
/// ```
/// use metachron_core::evidence::ObserveOptions;
/// use metachron_core::infer::infer;
/// use metachron_core::verdict::{Asserted, Verdict};
/// let today = jiff::civil::date(2024, 6, 1);
/// let column = ["03/04/2024", "13/04/2024", "14/05/2024", "15/05/2024"];
/// let inference = infer(column, &ObserveOptions::default(), &Asserted::nothing(today));
/// assert_eq!(inference.judgement.verdict, Verdict::Decided);
/// ```
pub fn infer<'v>(
    values: impl IntoIterator<Item = &'v str>,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Inference {
    let values: Vec<&str> = values.into_iter().collect();
    let answers = asserted.answers.iter().map(|answer| answer.value.as_str());
    let column = (options.clone().marking(answers), asserted.clone());
    let pass = |columns: &[(usize, ObserveOptions)]| -> Result<Vec<Box<Evidence>>, Infallible> {
        let observed = |(_, options): &(usize, ObserveOptions)| {
            let mut observer = Observer::new(options.clone(), 0);
            for (row, value) in (1..).zip(&values) {
                observer.observe(row, *value);
            }
            Box::new(observer.finish())
        };
        Ok(columns.iter().map(observed).collect())
    };
    match look(std::slice::from_ref(&column), pass) {
        Ok(mut looked) if !looked.is_empty() => *looked.remove(0).inference,
        // A pass over values at hand gives evidence for each column.
        Ok(_) => conclude(&Evidence::empty(options), options, asserted),
        Err(never) => match never {},
    }
}

/// Looks at columns, and again at those of which the first look shows what a second needs; then concludes.
///
/// `pass` goes through all rows and gives the evidence of the columns that it is asked for, by their places and in the
/// order in which they are asked for.
///
/// # Errors
/// What stops a pass.
pub fn look<E>(
    columns: &[(ObserveOptions, Asserted)],
    mut pass: impl FnMut(&[(usize, ObserveOptions)]) -> Result<Vec<Box<Evidence>>, E>,
) -> Result<Vec<Looked>, E> {
    let options = columns.iter().map(|(options, _)| options.clone());
    let first: Vec<(usize, ObserveOptions)> = options.enumerate().collect();
    let evidence = pass(&first)?;
    let options = first.into_iter().map(|(_, options)| options);
    let mut looks: Vec<(Box<Evidence>, ObserveOptions)> =
        evidence.into_iter().zip(options).collect();
    let second: Vec<(usize, ObserveOptions)> = looks
        .iter()
        .zip(columns)
        .enumerate()
        .filter_map(|(at, ((evidence, options), (_, asserted)))| {
            Some((at, second_look(evidence, options, asserted)?))
        })
        .collect();
    let mut firsts: Vec<Option<Box<(Evidence, ObserveOptions)>>> = vec![None; looks.len()];
    if !second.is_empty() {
        for (evidence, (at, options)) in pass(&second)?.into_iter().zip(second) {
            let (first, by) = std::mem::replace(&mut looks[at], (evidence, options));
            firsts[at] = Some(Box::new((*first, by)));
        }
    }
    let all = looks.into_iter().zip(firsts).zip(columns);
    Ok(all
        .map(|(((evidence, options), first_look), (_, asserted))| {
            let inference = Box::new(conclude(&evidence, &options, asserted));
            Looked { evidence, options, first_look, inference }
        })
        .collect())
}

/// How to look a second time, where the first look has shown what that needs: that all names are of one language, so
/// that weekdays are not taken for just some words; where values have no year and that of the first row is said, at
/// which rows it turns; that clock forms go on beyond a day; a usual calendar; what numbers count; what only some rows
/// are written like.
pub fn second_look(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Option<ObserveOptions> {
    let locale = language(evidence, options, asserted);
    let calendar = calendar(evidence, options, asserted);
    let years = years(evidence, options, asserted);
    let split = split(evidence, options, asserted);
    let serials = options.serials.or(counted_by_answers(evidence, options, asserted));
    let clocks = match are_lengths(evidence, options, asserted) {
        true => Clocks::Elapsed,
        false => options.terms.clocks,
    };
    if serials == options.serials
        && clocks == options.terms.clocks
        && locale.is_none()
        && calendar.is_none()
        && years.is_none()
        && split.is_none()
    {
        return None;
    }
    let own = options.terms.lexicon;
    let lexicon = locale.map_or(own, |locale| Lexicon::of(locale).in_calendar(own.calendar()));
    let lexicon = calendar.map_or(lexicon, |calendar| lexicon.in_calendar(calendar));
    let year = years.as_ref().map(|years| years.first);
    let terms = Terms { lexicon, year, clocks, ..options.terms };
    let mut layouts = split.as_ref().map_or(options.layouts.clone(), Split::layouts);
    // Of rows of which nothing is said, those are read that can be read in one way.
    if split.as_ref().is_some_and(|split| split.otherwise.is_none()) {
        let every = [Order::Dmy, Order::Mdy, Order::Ymd].into_iter();
        let every = every.filter_map(|order| layouts_in_order(evidence, options, asserted, order));
        let new = every.flatten().filter(|layout| !layouts.contains(layout)).collect::<Vec<_>>();
        layouts.extend(new);
        layouts.dedup();
    }
    Some(ObserveOptions { terms, years, layouts, split, serials, ..options.clone() })
}

/// The layouts of rows of which only the order was said: those that the values have.
fn split(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Option<Split<Vec<Layout>>> {
    let said = asserted.split.as_ref().filter(|_| options.split.is_none())?;
    said.map(|written| match written {
        Written::Layouts(layouts) => Some(layouts.clone()),
        Written::Order(order) => layouts_in_order(evidence, options, asserted, *order),
    })
}

/// The calendar that is usual where the values were written, if they are no dates of ours, or dates
/// of unusual years.
fn calendar(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Option<Calendar> {
    let own = options.terms.lexicon.calendar();
    let usual = Calendar::of_cldr(asserted.written_in?.calendar())?;
    if asserted.calendar.is_some() || usual == own || own != Calendar::Gregorian {
        return None;
    }
    let judgement = judge(evidence, options, asserted);
    let unusual = |reason: &Finding| matches!(reason, Finding::UnusualYears { .. });
    let fails = judgement.verdict == Verdict::NotADate || judgement.findings.iter().any(unusual);
    fails.then_some(usual)
}

/// The language that the names have shown, where none was said.
fn language(evidence: &Evidence, options: &ObserveOptions, asserted: &Asserted) -> Option<Locale> {
    if options.terms.written_in().is_some() {
        return None;
    }
    let locale = match evidence.languages() {
        Languages::One(locale) => locale,
        // Which of them it is stays a question; the rest can be judged in any of them.
        Languages::Differ(difference) => {
            match language_by_answers(&difference, options, asserted) {
                Some(locale) => locale,
                None => *difference.meanings.first()?.1.first()?,
            }
        }
        // A name that is another month elsewhere can be read in any of those that have all of them.
        Languages::Alike(locales) if evidence.names.keys().any(|name| differs(name)) => {
            *locales.first()?
        }
        _ => return None,
    };
    Some(locale)
}

/// Whether a name alone may be another month or weekday from language to language.
fn differs(name: &str) -> bool {
    matches!(Languages::of([name]), Languages::Differ(_))
}

/// The years of rows whose values have none, from that of the first row or of a known answer.
fn years(evidence: &Evidence, options: &ObserveOptions, asserted: &Asserted) -> Option<Years> {
    let (_, sequence) = evidence.sequences.first_key_value().filter(|_| options.years.is_none())?;
    let by_answer = |answer: &Answer| {
        let row = evidence.marks.get(normalise(&answer.value, &mut String::new()))?.row;
        match (sequence.years(0).of_row(row), answer.year()?) {
            (RowYear::Known(turned), year) => Some(year - turned),
            (RowYear::Open(_), _) => None,
        }
    };
    let first = asserted.year.or_else(|| asserted.answers.iter().find_map(by_answer))?;
    Some(sequence.years(first))
}

/// Judges the evidence and compiles what is decided.
pub fn conclude(evidence: &Evidence, options: &ObserveOptions, asserted: &Asserted) -> Inference {
    let judgement = judge(evidence, options, asserted);
    let compiled = match (&judgement.reading, judgement.verdict) {
        (Some(reading), Verdict::Decided) => Some(Compiled::new(reading, options.missing.clone())),
        _ => None,
    };
    Inference { judgement, compiled }
}
