//! The ways to read the forms of a column, side by side.

use super::case::Case;
use super::form::{JudgedForm, State};
use super::model::Contender;
use crate::evidence::Witness;
use crate::layout::Layout;
use crate::named::Named;
use crate::order::Alternative;
use crate::reading::{Repair, interpret};
use crate::text::normalise;
use crate::typed::TypedValue;

/// The lowest row that orders in play take for different moments.
pub(super) fn example(case: &Case<'_>) -> Option<Witness> {
    case.forms
        .iter()
        .filter_map(|form| form.group.lowest(|fits| fits.differ(&form.in_play)))
        .min()
        .cloned()
}

/// Every way in which some form can be read, those in play first.
pub(super) fn contenders(case: &Case<'_>) -> Vec<Contender> {
    // What is decided of other lengths of time stands in the readings of those that are open.
    let of_length = case.forms.iter().flat_map(|f| &f.alternatives).any(|own| own.is_of_length());
    let example = example(case);
    let mut all: Vec<Contender> = Alternative::all()
        .filter(|alternative| !of_length || alternative.is_of_length())
        .filter_map(|alternative| contender(alternative, case, example.as_ref()))
        .collect();
    all.sort_by_key(|contender| !contender.survives);
    all
}

fn contender(
    alternative: Alternative,
    case: &Case<'_>,
    example: Option<&Witness>,
) -> Option<Contender> {
    let (forms, asserted) = (&case.forms, case.asserted);
    let allows = |form: &&JudgedForm<'_>| form.alternatives.contains(&alternative);
    if !forms.iter().any(|form| allows(&form)) {
        return None;
    }
    let decided = |form: &JudgedForm<'_>| {
        alternative.is_of_length() && form.alternatives == [Alternative::Only]
    };
    let mut allowing: Vec<(&JudgedForm<'_>, Alternative)> = forms
        .iter()
        .filter_map(|form| match decided(form) {
            true => Some((form, Alternative::Only)),
            false => allows(&form).then_some((form, alternative)),
        })
        .collect();
    // Layouts of this very alternative come before those of lengths that are decided anyway.
    allowing.sort_by_key(|(_, own)| *own != alternative);
    let mut layouts: Vec<Layout> = Vec::new();
    let (mut fits, mut contradictions) = (0, 0);
    let mut contradiction: Option<&Witness> = None;
    let mut span: Option<(TypedValue, TypedValue)> = None;
    for (form, own) in &allowing {
        for layout in form.layouts_of(*own) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
        for ((row, other), tally) in &form.group.tallies {
            if !row.fits(*own) {
                contradictions += tally.rows;
                contradiction = match contradiction {
                    Some(lowest) => Some(lowest.min(&tally.lowest)),
                    None => Some(&tally.lowest),
                };
                continue;
            }
            fits += tally.rows;
            let of_kind = case.is_own(*other);
            if let Some(ends) = tally.spans.get(own).filter(|_| of_kind) {
                let anchored =
                    |moment: TypedValue| asserted.anchor.map_or(moment, |a| moment.anchored(a));
                let (earliest, latest) = (anchored(ends.0), anchored(ends.1));
                let (a, b) = span.unwrap_or((earliest, latest));
                span = Some((a.min(earliest), b.max(latest)));
            }
        }
    }
    let mut of_order = allowing.iter().filter(|(_, own)| *own == alternative);
    let survives = of_order.any(|(form, _)| match form.state {
        State::Decided(own) => own == alternative,
        _ => form.in_play.contains(&alternative),
    });
    let example = example.and_then(|witness| {
        let mut buffer = String::new();
        let value = normalise(&witness.value, &mut buffer);
        let read = |layout: &Layout| interpret(layout, value, case.options.terms).ok();
        let moment = layouts.iter().find_map(read).map(|fit| fit.moment)?;
        Some(asserted.anchor.map_or(moment, |anchor| moment.anchored(anchor)))
    });
    // Where an import is undone, the ends of what it made are no ends of what it was made from; and whatever
    // values without a year give is a day of no year.
    let is_open = case.year_is_open();
    let span = span.filter(|_| matches!(asserted.repair, None | Some(Repair::None)) && !is_open);
    Some(Contender {
        alternative,
        survives,
        layouts,
        fits,
        contradictions,
        contradiction: contradiction.cloned(),
        earliest: span.map(|span| span.0),
        latest: span.map(|span| span.1),
        example: example.filter(|_| !is_open),
    })
}
