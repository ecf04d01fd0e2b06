//! Drift: a new delivery that no longer is what its reading was saved for.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use super::model::{Judgement, Settle};
use super::odds::ln_at_most;
use super::seen_shapes::{SeenShape, shapes, unpadded};
use crate::candidates::Form;
use crate::evidence::{Beside, Evidence, Fits, Group, NeighbourVotes, Occurrences};
use crate::layout::Layout;
use crate::named::Named;
use crate::order::Alternative;
use crate::reading::{Reading, Repair, RowPlace};
use crate::typed::{Kind, TypedValue};

/// Shapes that are kept.
const MOST_SHAPES: usize = 32;
/// A delivery differs if it is so by chance less often than that.
const BY_CHANCE: f64 = 1e-3;
/// Rows in a hundred by which the unreadable ones may grow unsaid.
const UNREADABLE_GROWTH: f64 = 3.0;

/// What a column looked like when its reading was saved: a few figures of its evidence.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Baseline {
    /// All rows.
    pub rows: u64,
    /// Unreadable and contested rows.
    pub unreadable: u64,
    /// The shapes with their rows. Those that differ only in whether numbers below ten have a zero before
    /// them count as one, the most frequent of them.
    pub shapes: BTreeMap<String, u64>,
    /// The earliest value in ISO 8601, if there is one that an import has not changed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub earliest: Option<String>,
    /// The latest value.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub latest: Option<String>,
    /// Different all-digit dates whose order could be another.
    #[serde(skip_serializing_if = "is_zero")]
    pub dates: u64,
    /// Of these, those that only the reading's own order fits.
    #[serde(skip_serializing_if = "is_zero")]
    pub telling: u64,
    /// Rows that speak against the reading.
    #[serde(skip_serializing_if = "is_zero")]
    pub against: u64,
    /// The values of the column that tells rows apart.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub beside: Vec<String>,
}

fn is_zero(number: &u64) -> bool {
    *number == 0
}

/// How a delivery differs from what was seen.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Drift {
    /// Rows speak against the reading, more than did when it was saved.
    Contradiction {
        /// These.
        rows: Occurrences,
        /// The values of the column that tells rows apart in these rows, if one does.
        beside: Vec<String>,
    },
    /// Every row that tells an order tells another than the reading's.
    Flipped {
        /// The order that it is now.
        to: Alternative,
        /// The rows that say so.
        rows: Occurrences,
    },
    /// A shape that was not there.
    NewShape {
        /// The shape.
        shape: String,
        /// The rows that have it.
        rows: Occurrences,
    },
    /// A value of the column that tells rows apart, which was never seen.
    NewValue {
        /// The column.
        column: String,
        /// The value.
        value: String,
        /// Rows that have it.
        rows: u64,
    },
    /// A value that lies earlier than any did, or after today.
    OutOfRange {
        /// That value.
        value: String,
        /// The range that was seen.
        seen: (String, String),
    },
    /// Not a single date tells the order, though many did.
    NothingTells {
        /// Different dates.
        dates: u64,
        /// How many of how many did.
        seen: (u64, u64),
    },
    /// More rows are unreadable than were.
    MoreUnreadable {
        /// Unreadable and contested rows, and all rows.
        now: (u64, u64),
        /// The same when the reading was saved.
        seen: (u64, u64),
    },
}

impl Drift {
    /// Whether the reading cannot be right for all rows. What is only new is worth a word.
    ///
    /// ```
    /// use metachron_core::verdict::Drift;
    /// let new = Drift::NewValue { column: "station".into(), value: "Vestfjord".into(), rows: 3 };
    /// assert!(!new.is_contradiction() && new.code() == "new-value");
    /// ```
    pub fn is_contradiction(&self) -> bool {
        matches!(self, Drift::Contradiction { .. } | Drift::Flipped { .. })
    }

    /// A word for it.
    pub fn code(&self) -> &'static str {
        match self {
            Drift::Contradiction { .. } => "contradiction",
            Drift::Flipped { .. } => "order-flipped",
            Drift::NewShape { .. } => "new-shape",
            Drift::NewValue { .. } => "new-value",
            Drift::OutOfRange { .. } => "out-of-range",
            Drift::NothingTells { .. } => "nothing-tells",
            Drift::MoreUnreadable { .. } => "more-unreadable",
        }
    }
}

impl Baseline {
    /// The figures of a column that has a reading; none if it has none.
    pub fn of(evidence: &Evidence, judgement: &Judgement) -> Option<Baseline> {
        let reading = judgement.reading.as_ref()?;
        let counts = judgement.counts;
        // What is saved is what tells the rows apart, if something was found that does.
        let found = judgement.settle.iter().find_map(|way| match way {
            Settle::Split(found) => Some(found.contested),
            _ => None,
        });
        let contested = found.unwrap_or(counts.contested);
        let span = span(evidence, judgement, reading).filter(|_| found.is_none());
        let column = reading.split.as_ref().and_then(|split| split.column());
        let (dates, telling) = telling(evidence, reading);
        let mut shapes: Vec<(String, u64)> =
            shapes(evidence).into_values().map(|own| (own.shape, own.rows.rows)).collect();
        shapes.sort_by_key(|(_, rows)| std::cmp::Reverse(*rows));
        shapes.truncate(MOST_SHAPES);
        Some(Baseline {
            rows: counts.rows,
            unreadable: counts.unreadable + contested,
            shapes: shapes.into_iter().collect(),
            earliest: span.map(|(earliest, _)| earliest.to_string()),
            latest: span.map(|(_, latest)| latest.to_string()),
            dates,
            telling,
            against: against(evidence, reading).rows,
            beside: column.map_or(Vec::new(), |column| {
                values_beside(evidence, column).into_iter().map(|(value, _)| value).collect()
            }),
        })
    }

    /// How a delivery differs; `as_of` is today in ISO 8601.
    pub fn drift(&self, evidence: &Evidence, judgement: &Judgement, as_of: &str) -> Vec<Drift> {
        let Some(reading) = judgement.reading.as_ref() else { return Vec::new() };
        let mut all = Vec::new();
        all.extend(self.contradiction(evidence, reading));
        all.extend(self.new_shapes(evidence));
        if let Some(split) = &reading.split
            && let Some(column) = split.column()
        {
            let is_new = |value: &String| {
                let place = RowPlace { beside: value, ..RowPlace::from(1) };
                split.part_of(place).is_none() && !self.beside.contains(value)
            };
            let new = values_beside(evidence, column).into_iter().filter(|(v, _)| is_new(v));
            let column = || column.to_owned();
            all.extend(new.map(|(value, rows)| Drift::NewValue { column: column(), value, rows }));
        }
        if let (Some(from), Some(to)) = (&self.earliest, &self.latest)
            && let Some((earliest, latest)) = span(evidence, judgement, reading)
        {
            let (earliest, latest) = (earliest.to_string(), latest.to_string());
            let seen = || (from.clone(), to.clone());
            if earliest < *from {
                all.push(Drift::OutOfRange { value: earliest, seen: seen() });
            }
            if latest.as_str() > as_of && to.as_str() <= as_of {
                all.push(Drift::OutOfRange { value: latest, seen: seen() });
            }
        }
        let counts = judgement.counts;
        let unreadable = counts.unreadable + counts.contested;
        let percent = |part: u64, of: u64| part as f64 * 100.0 / of.max(1) as f64;
        if percent(unreadable, counts.rows)
            > percent(self.unreadable, self.rows) + UNREADABLE_GROWTH
        {
            let (now, seen) = ((unreadable, counts.rows), (self.unreadable, self.rows));
            all.push(Drift::MoreUnreadable { now, seen });
        }
        all
    }

    fn contradiction(&self, evidence: &Evidence, reading: &Reading) -> Option<Drift> {
        let rows = against(evidence, reading);
        let (dates, telling) = telling(evidence, reading);
        let seen_share = self.against as f64 / self.rows.max(1) as f64;
        // As many typing errors as there were are nothing new.
        if rows.rows > 0 && rows.rows as f64 > 3.0 * seen_share * evidence.rows as f64 {
            let to = other_order(evidence, reading);
            if let Some(to) = to.filter(|_| telling == 0 && rows.rows > 1) {
                return Some(Drift::Flipped { to, rows });
            }
            let beside = against_beside(evidence, reading);
            return Some(Drift::Contradiction { rows, beside });
        }
        let share = self.telling as f64 / self.dates.max(1) as f64;
        let unlikely = || ln_at_most(0, dates, share.min(0.99)) < BY_CHANCE.ln();
        (telling == 0 && share > 0.0 && unlikely())
            .then_some(Drift::NothingTells { dates, seen: (self.telling, self.dates) })
    }

    fn new_shapes(&self, evidence: &Evidence) -> Vec<Drift> {
        // Of a file with more shapes than are kept, nobody can say which are new.
        if self.shapes.len() >= MOST_SHAPES {
            return Vec::new();
        }
        let saved: BTreeSet<String> = self.shapes.keys().map(|shape| unpadded(shape)).collect();
        let new = shapes(evidence).into_iter().filter(|(unpadded, _)| !saved.contains(unpadded));
        new.map(|(_, SeenShape { shape, rows })| Drift::NewShape { shape, rows }).collect()
    }
}

/// The orders of a reading's all-digit layouts.
fn orders_of(reading: &Reading) -> Vec<Alternative> {
    let mut orders: Vec<Alternative> =
        reading.layouts.iter().filter_map(Layout::order).map(Alternative::from).collect();
    orders.sort();
    orders.dedup();
    orders
}

/// Groups whose order could be that of the reading, or another.
fn open_groups<'e>(
    evidence: &'e Evidence,
    own: &'e [Alternative],
) -> impl Iterator<Item = &'e Group> {
    let open = evidence.groups.iter().filter(|(form, group)| {
        group.all_digits
            && form.alternatives.len() > 1
            && form.alternatives.iter().any(|order| own.contains(order))
    });
    open.map(|(_, group)| group)
}

/// Rows that speak against a reading: they fit an order that it does not have, or not for them.
fn against(evidence: &Evidence, reading: &Reading) -> Occurrences {
    if reading.split.is_some() {
        return evidence.given.of_other_rows.clone();
    }
    let own = orders_of(reading);
    let holds = |fits: Fits| fits.fits_any() && !own.iter().any(|order| fits.fits(*order));
    open_groups(evidence, &own).map(|group| group.occurrences(holds)).sum()
}

/// The values of the column that tells rows apart in rows that speak against what is said of them.
fn against_beside(evidence: &Evidence, reading: &Reading) -> Vec<String> {
    let Some(split) = &reading.split else { return Vec::new() };
    let clue = split.column().and_then(|column| evidence.clues.neighbours.get(column)?.by_value());
    let is_against = |value: &str, forms: &BTreeMap<Form, Beside>| {
        let Some(own) = split.of(RowPlace { beside: value, ..RowPlace::from(1) }) else {
            return false;
        };
        let own: Vec<Alternative> =
            own.iter().filter_map(Layout::order).map(Alternative::from).collect();
        let holds = |fits: Fits| fits.fits_any() && !own.iter().any(|order| fits.fits(*order));
        forms.values().any(|beside| beside.count(holds) > 0)
    };
    let against = clue.into_iter().flatten().filter(|(value, forms)| is_against(value, forms));
    against.map(|(value, _)| value.clone()).collect()
}

/// The only order, other than the reading's, that rows against it have.
fn other_order(evidence: &Evidence, reading: &Reading) -> Option<Alternative> {
    let own = orders_of(reading);
    let against = |fits: Fits, other: Alternative| {
        fits.fits(other) && !own.iter().any(|order| fits.fits(*order))
    };
    let rows = |order: &Alternative| -> u64 {
        open_groups(evidence, &own).map(|group| group.rows(|fits| against(fits, *order))).sum()
    };
    let mut others = Alternative::all().filter(|o| !own.contains(o) && rows(o) > 0);
    others.next().filter(|_| others.next().is_none())
}

/// Different dates whose order could be another, and those that only the reading's own fits.
fn telling(evidence: &Evidence, reading: &Reading) -> (u64, u64) {
    let own = orders_of(reading);
    let [order] = own[..] else { return (0, 0) };
    let mut all = (0, 0);
    for (form, group) in evidence.groups.iter().filter(|(form, group)| {
        group.all_digits && form.alternatives.len() > 1 && form.alternatives.contains(&order)
    }) {
        let rival = form.alternatives.iter().copied().find(|other| *other != order);
        all.0 += group.dates.count(Fits::fits_any);
        all.1 += group.dates.count(|fits| rival.is_some_and(|rival| fits.votes(order, rival)));
    }
    all
}

/// The earliest and the latest value by the reading.
fn span(
    evidence: &Evidence,
    judgement: &Judgement,
    reading: &Reading,
) -> Option<(TypedValue, TypedValue)> {
    if reading.repair != Repair::None {
        return None;
    }
    let of_kind = |(earliest, _): &(TypedValue, TypedValue)| earliest.kind() == reading.kind;
    let own = orders_of(reading);
    let is_own = |order: Alternative| own.is_empty() || own.contains(&order);
    let kept = judgement.contenders.iter().filter(|c| c.survives && is_own(c.alternative));
    let judged = kept.filter_map(|contender| Some((contender.earliest?, contender.latest?)));
    let given = evidence.given.spans.iter().flatten().copied();
    let typed = evidence.typed.iter().filter(|(kind, _): &(&Kind, _)| **kind == reading.kind);
    judged
        .chain(given)
        .chain(typed.map(|(_, tally)| tally.span))
        .filter(of_kind)
        .reduce(|(a, b), (c, d)| (a.min(c), b.max(d)))
}

/// The values of a neighbour beside dates whose order is open, with their rows.
fn values_beside(evidence: &Evidence, column: &str) -> Vec<(String, u64)> {
    let clue = evidence.clues.neighbours.get(column).and_then(NeighbourVotes::by_value);
    let rows = |forms: &BTreeMap<Form, Beside>| -> u64 {
        forms.values().map(|beside| beside.count(Fits::fits_any)).sum()
    };
    let values = clue.into_iter().flatten().map(|(value, forms)| (value.clone(), rows(forms)));
    values.filter(|(_, rows)| *rows > 0).collect()
}
