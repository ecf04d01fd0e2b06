//! What would settle an open column.

use super::families::{Family, State};
use super::judge::verdict_of;
use super::{Known, Settle};
use crate::layout::Layout;
use crate::moment::Kind;
use crate::reading::Order;

/// One layout list for the whole column: what is decided or favoured, or `order` where a family
/// is open. None if something stays open.
pub(super) fn chosen_layouts(
    families: &[Family<'_>],
    kind: Kind,
    known: &Known,
    order: Option<Order>,
) -> Option<Vec<Layout>> {
    let mut layouts: Vec<Layout> = Vec::new();
    for family in families {
        let chosen = match (family.state, order) {
            (State::Decided(own), _) => own,
            (State::Refused, _) => continue,
            (_, Some(order)) if family.in_play.contains(&order) => order,
            (State::Leaning(own), _) => own,
            (State::Undecided | State::Mixed, _) => return None,
        };
        let of_kind = |layout: &&Layout| layout.kind().map(|own| known.reads(own)) == Some(kind);
        for layout in family.layouts_of(chosen).filter(of_kind) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
    }
    (!layouts.is_empty()).then_some(layouts)
}

/// What would settle the open families.
pub(super) fn settlements(families: &[Family<'_>], kind: Kind, known: &Known) -> Vec<Settle> {
    let open: Vec<&Family<'_>> =
        families.iter().filter(|family| verdict_of(family.state).is_open()).collect();
    if open.is_empty() {
        return Vec::new();
    }
    let mut orders: Vec<Order> = open.iter().flat_map(|family| family.in_play.clone()).collect();
    // What is favoured comes first.
    let favoured = |order: &Order| open.iter().any(|family| family.state == State::Leaning(*order));
    orders.sort_by_key(|order| (!favoured(order), *order));
    orders.dedup();
    let mut settle: Vec<Settle> = Vec::new();
    for order in &orders {
        // `--order` speaks of all-digit dates only and is strict; where it would leave other
        // written forms unread, the layouts say the same without that.
        let digits = open.iter().all(|family| family.group.all_digits);
        let strict = families.iter().filter(|family| family.group.all_digits).all(|family| {
            match family.state {
                State::Decided(own) => own == *order,
                _ => family.orders.contains(order),
            }
        });
        if digits && strict && *order != Order::Ordinal {
            let lost = |fits: crate::evidence::Fits| !fits.fits(*order) && fits.fits_any();
            let unreadable = open.iter().map(|f| f.group.rows(lost)).sum();
            settle.push(Settle::Order(*order, unreadable));
        } else if let Some(layouts) = chosen_layouts(families, kind, known, Some(*order)) {
            settle.push(Settle::Layouts(*order, layouts));
        }
    }
    if open.iter().any(|family| family.state == State::Mixed) {
        let mut both: Vec<Layout> = Vec::new();
        for order in &orders {
            both.extend(chosen_layouts(families, kind, known, Some(*order)).unwrap_or_default());
        }
        let mut seen: Vec<Layout> = Vec::new();
        both.retain(|layout| {
            let new = !seen.contains(layout);
            seen.push(layout.clone());
            new
        });
        settle.push(Settle::Both(both));
    } else if orders != [Order::None] {
        let has = |order: Order| orders.contains(&order);
        settle.push(Settle::Value(if has(Order::Months) {
            "Values that have hours or seconds beside \"m\" would decide it."
        } else if has(Order::MinutesSeconds) {
            "A few values with a fraction, such as 1:30.5, would decide it: that ends with seconds."
        } else if has(Order::Dmy) && has(Order::Mdy) {
            "A few more values with a day above 12 would decide it."
        } else {
            "Values that run through all days of the month would decide it."
        }));
    }
    settle
}
