//! The heart: observe → merge → judge → compile.
//!
//! ```
//! use metachron_core::evidence::Lens;
//! use metachron_core::infer::infer;
//! use metachron_core::verdict::{Known, Verdict};
//!
//! let known = Known::nothing(jiff::civil::date(2024, 6, 1));
//! let values = ["28/02/2024", "01/03/2024", "14/03/2024", "2/4/2024"];
//! let inference = infer(values, &Lens::default(), &known);
//! assert_eq!(inference.judgement.verdict, Verdict::Decided);
//!
//! let mut memory = Default::default();
//! let outcome = inference.compiled.unwrap().apply(4, "2/4/2024", &mut memory);
//! assert!(format!("{outcome:?}").contains("2024-04-02"));
//! ```

use crate::apply::Compiled;
use crate::calendar::Calendar;
use crate::evidence::{Evidence, Lens, Observer};
use crate::layout::Layout;
use crate::lexicon::{Languages, Lexicon, Locale};
use crate::reading::{Clocks, Order, RowYear, Split, Terms, Written, Years};
use crate::text::normalise;
use crate::verdict::{
    Answer, Judgement, Known, Reason, Verdict, are_lengths, by_answers, counted_by_answers, judge,
    layouts_in_order,
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
    lens: &Lens,
    known: &Known,
) -> Inference {
    let values: Vec<&str> = values.into_iter().collect();
    let observe = |lens: &Lens| {
        let mut observer = Observer::new(lens.clone(), 0);
        for (row, value) in (1..).zip(&values) {
            observer.observe(row, *value);
        }
        observer.finish()
    };
    let lens = &lens.clone().marking(known.answers.iter().map(|answer| answer.value.as_str()));
    let evidence = observe(lens);
    match closer(&evidence, lens, known) {
        Some(closer) => conclude(&observe(&closer), &closer, known),
        None => conclude(&evidence, lens, known),
    }
}

/// The lens for a second look, where the first has shown that all names are of one language: some
/// of them may be other months in others, and weekdays may have been taken for just some words.
///
/// So it is where values have no year: that of the first row is said, and the sequence of the first
/// look has shown where it turns; and where clock forms go on beyond a day.
pub fn closer(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Lens> {
    let locale = language(evidence, lens, known);
    let calendar = calendar(evidence, lens, known);
    let years = years(evidence, lens, known);
    let split = split(evidence, lens, known);
    let serials = lens.serials.or(counted_by_answers(evidence, lens, known));
    let clocks = match are_lengths(evidence, lens, known) {
        true => Clocks::Elapsed,
        false => lens.terms.clocks,
    };
    if serials == lens.serials
        && clocks == lens.terms.clocks
        && locale.is_none()
        && calendar.is_none()
        && years.is_none()
        && split.is_none()
    {
        return None;
    }
    let own = lens.terms.lexicon;
    let lexicon = locale.map_or(own, |locale| Lexicon::of(locale).in_calendar(own.calendar()));
    let lexicon = calendar.map_or(lexicon, |calendar| lexicon.in_calendar(calendar));
    let year = years.as_ref().map(|years| years.first);
    let terms = Terms { lexicon, year, clocks, ..lens.terms };
    let mut layouts = split.as_ref().map_or(lens.layouts.clone(), Split::layouts);
    // Of rows of which nothing is said, those are read that can be read in one way.
    if split.as_ref().is_some_and(|split| split.otherwise.is_none()) {
        let every = [Order::Dmy, Order::Mdy, Order::Ymd].into_iter();
        let every = every.filter_map(|order| layouts_in_order(evidence, lens, known, order));
        let new = every.flatten().filter(|layout| !layouts.contains(layout)).collect::<Vec<_>>();
        layouts.extend(new);
        layouts.dedup();
    }
    Some(Lens { terms, years, layouts, split, serials, ..lens.clone() })
}

/// The layouts of rows of which only the order was said: those that the values have.
fn split(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Split<Vec<Layout>>> {
    let said = known.split.as_ref().filter(|_| lens.split.is_none())?;
    said.map(|written| match written {
        Written::Layouts(layouts) => Some(layouts.clone()),
        Written::Order(order) => layouts_in_order(evidence, lens, known, *order),
    })
}

/// The calendar that is usual where the values were written, if they are no dates of ours, or dates
/// of unusual years.
fn calendar(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Calendar> {
    let own = lens.terms.lexicon.calendar();
    let usual = Calendar::of_cldr(known.written_in?.calendar())?;
    if known.calendar.is_some() || usual == own || own != Calendar::Gregorian {
        return None;
    }
    let judgement = judge(evidence, lens, known);
    let unusual = |reason: &Reason| matches!(reason, Reason::UnusualYears { .. });
    let fails = judgement.verdict == Verdict::NotADate || judgement.reasons.iter().any(unusual);
    fails.then_some(usual)
}

/// The language that the names have shown, where none was said.
fn language(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Locale> {
    if lens.terms.written_in().is_some() {
        return None;
    }
    let locale = match evidence.languages() {
        Languages::One(locale) => locale,
        // Which of them it is stays a question; the rest can be judged in any of them.
        Languages::Differ(difference) => match by_answers(&difference, lens, known) {
            Some(locale) => locale,
            None => *difference.meanings.first()?.1.first()?,
        },
        _ => return None,
    };
    Some(locale)
}

/// The years of rows whose values have none, from that of the first row or of a known answer.
fn years(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Years> {
    let (_, sequence) = evidence.sequences.first_key_value().filter(|_| lens.years.is_none())?;
    let by_answer = |answer: &Answer| {
        let row = evidence.marks.get(normalise(&answer.value, &mut String::new()))?.row;
        match (sequence.years(0).of_row(row), answer.year()?) {
            (RowYear::Known(turned), year) => Some(year - turned),
            (RowYear::Open(_), _) => None,
        }
    };
    let first = known.year.or_else(|| known.answers.iter().find_map(by_answer))?;
    Some(sequence.years(first))
}

/// Judges the evidence and compiles what is decided.
pub fn conclude(evidence: &Evidence, lens: &Lens, known: &Known) -> Inference {
    let judgement = judge(evidence, lens, known);
    let compiled = match (&judgement.reading, judgement.verdict) {
        (Some(reading), Verdict::Decided) => Some(Compiled::new(reading, lens.missing.clone())),
        _ => None,
    };
    Inference { judgement, compiled }
}
