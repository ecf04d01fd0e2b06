//! The heart: observe → merge → judge → compile.
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
//! let mut memory = Default::default();
//! let outcome = inference.compiled.unwrap().apply(4, "2/4/2024", &mut memory);
//! assert!(format!("{outcome:?}").contains("2024-04-02"));
//! ```

use crate::apply::Compiled;
use crate::calendar::Calendar;
use crate::evidence::{Evidence, ObserveOptions, Observer};
use crate::layout::Layout;
use crate::lexicon::{Languages, Lexicon, Locale};
use crate::reading::{Clocks, Order, RowYear, Split, Terms, Written, Years};
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

/// Looks at all values of a column and concludes.
///
/// The evidence of a large table is gathered by one [`Observer`] a part and column, merged, and
/// given to [`conclude`]; this does the same for values at hand.
pub fn infer<'v>(
    values: impl IntoIterator<Item = &'v str>,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Inference {
    let values: Vec<&str> = values.into_iter().collect();
    let observe = |options: &ObserveOptions| {
        let mut observer = Observer::new(options.clone(), 0);
        for (row, value) in (1..).zip(&values) {
            observer.observe(row, *value);
        }
        observer.finish()
    };
    let options =
        &options.clone().marking(asserted.answers.iter().map(|answer| answer.value.as_str()));
    let evidence = observe(options);
    match closer(&evidence, options, asserted) {
        Some(closer) => conclude(&observe(&closer), &closer, asserted),
        None => conclude(&evidence, options, asserted),
    }
}

/// The lens for a second look, where the first has shown that all names are of one language: some
/// of them may be other months in others, and weekdays may have been taken for just some words.
///
/// So it is where values have no year: that of the first row is said, and the sequence of the first
/// look has shown where it turns; and where clock forms go on beyond a day.
pub fn closer(
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
        _ => return None,
    };
    Some(locale)
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
