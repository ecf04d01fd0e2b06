//! The hands that may have written one form of a column: rows that something sets apart, whatever it is. A statistic
//! for several hazards.

use std::collections::BTreeMap;

use crate::candidates::Form;
use crate::evidence::{Beside, Fits, Padding, Zero};
use crate::verdict::case::Case;
use crate::verdict::mixture::Clue;

/// The rows of a form that something sets apart from its others.
pub(super) struct Hand<'e> {
    /// The value of the clue that they share.
    pub value: String,
    /// What they show, by how they are padded where that sets them apart.
    pub rows: Vec<(Option<Padding>, &'e Beside)>,
}

impl Hand<'_> {
    /// Rows of which `holds` is true.
    pub(super) fn count(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.rows.iter().map(|(_, own)| own.count(&holds)).sum()
    }

    /// Whether all different dates are kept.
    pub(super) fn is_exact(&self) -> bool {
        self.rows.iter().all(|(_, own)| own.dates.is_exact())
    }

    /// Different dates, or a fair sample of them.
    pub(super) fn dates(&self) -> impl Iterator<Item = ([i16; 3], Fits)> {
        self.rows.iter().flat_map(|(_, own)| own.dates.iter())
    }
}

/// All hands that a form may have, by what sets them apart.
pub(super) fn hands<'e>(case: &Case<'e>, form: &Form) -> Vec<(Clue, Vec<Hand<'e>>)> {
    let clues = &case.evidence.clues;
    let mut all: Vec<(Clue, Vec<Hand<'e>>)> = Vec::new();
    for (name, values) in &clues.neighbours {
        let hands = values.by_value().into_iter().flatten();
        let hands = hands.filter_map(|(value, forms)| hand(value.clone(), forms, form));
        all.push((Clue::Column(name.clone()), hands.collect()));
    }
    all.push((Clue::Clock, by_clock(case, form)));
    all.push((Clue::Padding, by_padding(&clues.paddings, form)));
    let parts = clues.parts.iter();
    let parts = parts.filter_map(|(part, forms)| hand(part.to_string(), forms, form));
    all.push((Clue::File, parts.collect()));
    // Where there is only one, nothing is set apart.
    all.retain(|(_, hands)| hands.len() > 1);
    all
}

/// The hands that differ in what they write beside the date.
pub(super) fn by_clock<'e>(case: &Case<'e>, form: &Form) -> Vec<Hand<'e>> {
    let clocks = case.evidence.clues.clocks.iter();
    clocks.filter_map(|(clock, forms)| hand(clock.clone(), forms, form)).collect()
}

fn hand<'e>(value: String, forms: &'e BTreeMap<Form, Beside>, form: &Form) -> Option<Hand<'e>> {
    Some(Hand { value, rows: vec![(None, forms.get(form)?)] })
}

/// The hands that differ in whether they put a zero before the same number. Whoever always writes `03/4/2024` is
/// one hand.
fn by_padding<'e>(
    paddings: &'e BTreeMap<Padding, BTreeMap<Form, Beside>>,
    form: &Form,
) -> Vec<Hand<'e>> {
    let differ: Vec<usize> =
        [0, 1].into_iter().filter(|at| by_zero(paddings, form, *at).len() > 1).collect();
    match differ[..] {
        [at] => by_zero(paddings, form, at),
        // Both numbers tell; where one of them needs no zero, the other one says whose it is.
        [_, _] => hands_of(paddings, form, |Padding([first, second])| first.min(second)),
        _ => Vec::new(),
    }
}

/// The hands that put a zero before the number at this place and that do not, as far as it is below ten.
pub(super) fn by_zero<'e>(
    paddings: &'e BTreeMap<Padding, BTreeMap<Form, Beside>>,
    form: &Form,
    at: usize,
) -> Vec<Hand<'e>> {
    hands_of(paddings, form, |Padding(zeros)| zeros[at])
}

fn hands_of<'e>(
    paddings: &'e BTreeMap<Padding, BTreeMap<Form, Beside>>,
    form: &Form,
    zero: impl Fn(Padding) -> Zero,
) -> Vec<Hand<'e>> {
    let mut hands: BTreeMap<&str, Vec<(Option<Padding>, &Beside)>> = BTreeMap::new();
    for (padding, forms) in paddings {
        let value = match zero(*padding) {
            Zero::There => "padded",
            Zero::Absent => "bare",
            // What both would write alike is of neither.
            Zero::NotNeeded => continue,
        };
        if let Some(beside) = forms.get(form) {
            hands.entry(value).or_default().push((Some(*padding), beside));
        }
    }
    hands.into_iter().map(|(value, rows)| Hand { value: value.to_owned(), rows }).collect()
}
