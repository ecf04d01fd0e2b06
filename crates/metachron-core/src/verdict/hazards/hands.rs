//! The hands that may have written one form of a column: rows that something sets apart, whatever it is. A statistic
//! for several hazards.

use crate::candidates::Form;
use crate::evidence::{Beside, ByForm, DistinctDates, Fits, Padding, Zero};
use crate::verdict::case::Case;
use crate::verdict::mixture::Apart;

/// The rows of a form that something sets apart from its others.
pub(super) struct Hand<'e> {
    /// What sets them apart.
    pub apart: Apart,
    /// How they are padded, where that does.
    pub paddings: Vec<Padding>,
    /// What they show.
    rows: Vec<&'e Beside>,
}

impl<'e> Hand<'e> {
    fn of(apart: Apart, forms: &'e ByForm, form: &Form) -> Option<Hand<'e>> {
        Some(Hand { apart, paddings: Vec::new(), rows: vec![forms.get(form)?] })
    }

    /// Rows of which `holds` is true.
    pub(super) fn count(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.rows.iter().map(|own| own.count(&holds)).sum()
    }

    /// Whether all different dates are kept.
    pub(super) fn is_exact(&self) -> bool {
        self.rows.iter().all(|own| own.dates.is_exact())
    }

    /// Different dates, or those that are kept of them.
    pub(super) fn dates(&self) -> impl Iterator<Item = ([i16; 3], Fits)> {
        self.rows.iter().flat_map(|own| own.dates.iter())
    }
}

/// Different dates of several hands, or a fair sample of them.
pub(super) fn sample<'h>(hands: &'h [&Hand<'_>]) -> impl Iterator<Item = ([i16; 3], Fits)> + 'h {
    let kept = || hands.iter().flat_map(|hand| &hand.rows).map(|own| &own.dates);
    let complete_to = kept().map(DistinctDates::complete_to).min().unwrap_or(u64::MAX);
    kept().flat_map(move |dates| dates.iter_to(complete_to))
}

/// All hands that a form may have, once for each way in which its rows are set apart.
pub(super) fn hands<'e>(case: &Case<'e>, form: &Form) -> Vec<Vec<Hand<'e>>> {
    let clues = &case.evidence.clues;
    let mut all: Vec<Vec<Hand<'e>>> = Vec::new();
    for (column, values) in clues.neighbours.columns() {
        let hands = values.iter().filter_map(|(value, forms)| {
            let apart = Apart::Beside { column: column.clone(), value: value.clone() };
            Hand::of(apart, forms, form)
        });
        all.push(hands.collect());
    }
    all.push(by_clock(case, form));
    all.push(by_padding(case, form));
    let files = clues.parts.iter();
    let files = files.filter_map(|(part, forms)| Hand::of(Apart::File(*part), forms, form));
    all.push(files.collect());
    // Where there is only one, nothing is set apart.
    all.retain(|hands| hands.len() > 1);
    all
}

/// The hands that differ in what they write beside the date.
pub(super) fn by_clock<'e>(case: &Case<'e>, form: &Form) -> Vec<Hand<'e>> {
    let clocks = case.evidence.clues.clocks.iter();
    clocks.filter_map(|(clock, forms)| Hand::of(Apart::Clock(clock.clone()), forms, form)).collect()
}

/// The hands that differ in whether they put a zero before the same number. Whoever always writes `03/4/2024` is
/// one hand.
fn by_padding<'e>(case: &Case<'e>, form: &Form) -> Vec<Hand<'e>> {
    let hands = [0, 1].map(|at| by_zero(case, form, at));
    match hands.map(|hands| (hands.len() > 1).then_some(hands)) {
        // Both numbers tell; where one of them needs no zero, the other one says whose it is.
        [Some(_), Some(_)] => hands_of(case, form, |Padding(first, second)| first.min(second)),
        [Some(hands), None] | [None, Some(hands)] => hands,
        [None, None] => Vec::new(),
    }
}

/// The hands that put a zero before the number at this place and that do not, as far as it is below ten.
pub(super) fn by_zero<'e>(case: &Case<'e>, form: &Form, at: usize) -> Vec<Hand<'e>> {
    hands_of(case, form, |Padding(first, second)| if at == 0 { first } else { second })
}

fn hands_of<'e>(case: &Case<'e>, form: &Form, zero: impl Fn(Padding) -> Zero) -> Vec<Hand<'e>> {
    let of = |wanted: Zero| {
        let all = case.evidence.clues.paddings.iter();
        let own = all.filter(|(padding, _)| zero(**padding) == wanted);
        let own = own.filter_map(|(padding, forms)| Some((*padding, forms.get(form)?)));
        let (paddings, rows): (Vec<Padding>, Vec<&Beside>) = own.unzip();
        let apart = Apart::Padded(wanted == Zero::There);
        (!rows.is_empty()).then_some(Hand { apart, paddings, rows })
    };
    // What both would write alike is of neither.
    [Zero::Absent, Zero::There].into_iter().filter_map(of).collect()
}
