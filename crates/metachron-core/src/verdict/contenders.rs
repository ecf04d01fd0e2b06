//! The orders of a column side by side.

use super::families::{Family, State};
use super::{Contender, Known};
use crate::evidence::{Lens, Witness};
use crate::layout::Layout;
use crate::moment::{Kind, Moment};
use crate::reading::{Order, Repair, interpret};
use crate::text::normalise;

/// The lowest row that orders in play take for different moments.
pub(super) fn example(families: &[Family<'_>]) -> Option<Witness> {
    families
        .iter()
        .filter_map(|family| family.group.lowest(|fits| fits.differ(&family.in_play)))
        .min()
        .cloned()
}

/// Every order that some family allows, those in play first.
pub(super) fn contenders(
    families: &[Family<'_>],
    kind: Kind,
    example: Option<&Witness>,
    lens: &Lens,
    known: &Known,
) -> Vec<Contender> {
    let mut all: Vec<Contender> = Order::EVERY
        .iter()
        .filter_map(|order| contender(*order, families, kind, example, lens, known))
        .collect();
    all.sort_by_key(|contender| !contender.survives);
    all
}

fn contender(
    order: Order,
    families: &[Family<'_>],
    kind: Kind,
    example: Option<&Witness>,
    lens: &Lens,
    known: &Known,
) -> Option<Contender> {
    let allowing: Vec<&Family<'_>> =
        families.iter().filter(|family| family.orders.contains(&order)).collect();
    if allowing.is_empty() {
        return None;
    }
    let mut layouts: Vec<Layout> = Vec::new();
    let (mut fits, mut contradictions) = (0, 0);
    let mut contradiction: Option<&Witness> = None;
    let mut span: Option<(Moment, Moment)> = None;
    for family in &allowing {
        for layout in family.layouts_of(order) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
        for ((row, other), tally) in &family.group.tallies {
            if !row.fits(order) {
                contradictions += tally.rows;
                contradiction = match contradiction {
                    Some(lowest) => Some(lowest.min(&tally.lowest)),
                    None => Some(&tally.lowest),
                };
                continue;
            }
            fits += tally.rows;
            let of_kind = known.reads(*other) == kind;
            if let Some(ends) = tally.spans.get(&order).filter(|_| of_kind) {
                let anchored = |moment: Moment| known.anchor.map_or(moment, |a| moment.anchored(a));
                let (earliest, latest) = (anchored(ends.0), anchored(ends.1));
                let (a, b) = span.unwrap_or((earliest, latest));
                span = Some((a.min(earliest), b.max(latest)));
            }
        }
    }
    let survives = allowing.iter().any(|family| match family.state {
        State::Decided(own) => own == order,
        _ => family.in_play.contains(&order),
    });
    let example = example.and_then(|witness| {
        let mut buffer = String::new();
        let value = normalise(&witness.value, &mut buffer);
        let read = |layout: &Layout| interpret(layout, value, lens.terms).ok();
        let moment = layouts.iter().find_map(read).map(|fit| fit.moment)?;
        Some(known.anchor.map_or(moment, |anchor| moment.anchored(anchor)))
    });
    // Where an import is undone, the ends of what it made are no ends of what it was made from.
    let span = span.filter(|_| matches!(known.repair, None | Some(Repair::None)));
    Some(Contender {
        order,
        survives,
        layouts,
        fits,
        contradictions,
        contradiction: contradiction.cloned(),
        earliest: span.map(|span| span.0),
        latest: span.map(|span| span.1),
        example,
    })
}
