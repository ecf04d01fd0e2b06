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
    // What is decided of other lengths of time stands in the readings of those that are open.
    let of_length = families.iter().flat_map(|f| &f.orders).any(|order| order.is_of_length());
    let mut all: Vec<Contender> = Order::EVERY
        .iter()
        .filter(|order| !of_length || order.is_of_length())
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
    let allows = |family: &&Family<'_>| family.orders.contains(&order);
    if !families.iter().any(|family| allows(&family)) {
        return None;
    }
    let decided = |family: &Family<'_>| order.is_of_length() && family.orders == [Order::None];
    let mut allowing: Vec<(&Family<'_>, Order)> = families
        .iter()
        .filter_map(|family| match decided(family) {
            true => Some((family, Order::None)),
            false => allows(&family).then_some((family, order)),
        })
        .collect();
    // What is its own comes first.
    allowing.sort_by_key(|(_, own)| *own != order);
    let mut layouts: Vec<Layout> = Vec::new();
    let (mut fits, mut contradictions) = (0, 0);
    let mut contradiction: Option<&Witness> = None;
    let mut span: Option<(Moment, Moment)> = None;
    for (family, own) in &allowing {
        for layout in family.layouts_of(*own) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
        for ((row, other), tally) in &family.group.tallies {
            if !row.fits(*own) {
                contradictions += tally.rows;
                contradiction = match contradiction {
                    Some(lowest) => Some(lowest.min(&tally.lowest)),
                    None => Some(&tally.lowest),
                };
                continue;
            }
            fits += tally.rows;
            let of_kind = known.reads(*other) == kind;
            if let Some(ends) = tally.spans.get(own).filter(|_| of_kind) {
                let anchored = |moment: Moment| known.anchor.map_or(moment, |a| moment.anchored(a));
                let (earliest, latest) = (anchored(ends.0), anchored(ends.1));
                let (a, b) = span.unwrap_or((earliest, latest));
                span = Some((a.min(earliest), b.max(latest)));
            }
        }
    }
    let mut of_order = allowing.iter().filter(|(_, own)| *own == order);
    let survives = of_order.any(|(family, _)| match family.state {
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
