//! Drift: a new delivery that no longer is what its reading was saved for.

use std::collections::{BTreeMap, BTreeSet};

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use super::model::{Asserted, Judgement, Settle};
use super::own_orders::{OwnOrders, against_beside, told_beside, untold_beside};
use super::seen_shapes::{SeenShape, shapes, unpadded};
use crate::duration::Duration;
use crate::epoch::Epoch;
use crate::evidence::{ByForm, Evidence, Fits, Occurrences};
use crate::layout::Layout;
use crate::lexicon::{Difference, Languages};
use crate::order::Alternative;
use crate::reading::{Reading, Repair, RowPlace};
use crate::text::fnv1a;
use crate::typed::{Kind, TypedValue};

/// Shapes that are kept.
const MOST_SHAPES: usize = 32;
/// Rows in a hundred by which the unreadable ones may grow unsaid.
const UNREADABLE_GROWTH: f64 = 3.0;

/// Years behind which what was seen is no longer going on: dates of birth, of buildings, of books.
const GOES_ON: i16 = 2;

/// Whether values up to this one are of something that goes on to this day.
fn goes_on(latest: &str, as_of: Date) -> bool {
    let year = latest.get(..4).and_then(|year| year.parse::<i16>().ok());
    year.is_some_and(|year| as_of.year() - year <= GOES_ON)
}

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
    /// What tells the content for which a year was said: a hash of its different days.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub days: Option<String>,
    /// The origin of a spreadsheet from which numbers are counted.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub epoch: Option<String>,
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
    /// Values of the column that tells rows apart, which were never seen.
    NewValues {
        /// The column.
        column: String,
        /// The values.
        values: Vec<NewValue>,
        /// Rows that have one of them.
        rows: u64,
    },
    /// A value that lies earlier than any did, or after today.
    OutOfRange {
        /// That value.
        value: String,
        /// The range that was seen.
        seen: (String, String),
    },
    /// Not a single date tells the order, though some did.
    NothingTells {
        /// Different dates.
        dates: u64,
        /// How many of how many did.
        seen: (u64, u64),
    },
    /// The same of the rows beside single values of the column that tells rows apart.
    NothingTellsBeside {
        /// The values.
        values: Vec<String>,
        /// Rows that could be read either way: all of them.
        rows: u64,
    },
    /// The year that was said for other rows.
    OtherYear {
        /// That year.
        said: i16,
        /// The year that the first row of these may have.
        likely: i16,
    },
    /// Dates in another language than the saved one: names that both have may be other months here.
    OtherLanguage(Occurrences),
    /// All names are of another language as well, in which one of them is another month.
    NamesDiffer(Difference),
    /// The file counts from another origin than the saved one.
    OtherOrigin {
        /// The saved one.
        saved: String,
        /// That of the file.
        own: Epoch,
    },
    /// No value is later than the latest that was seen.
    NothingNew {
        /// The latest of these.
        latest: String,
        /// The latest that was seen.
        seen: String,
    },
    /// More rows are unreadable than were.
    MoreUnreadable {
        /// Unreadable and contested rows, and all rows.
        now: (u64, u64),
        /// The same when the reading was saved.
        seen: (u64, u64),
    },
}

/// A value of the column that tells rows apart, of which nothing is saved.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewValue {
    /// The value.
    pub value: String,
    /// Which of the column's orders its rows have, if they tell.
    pub tells: Option<Alternative>,
}

impl Drift {
    /// Whether the reading cannot be right for all rows. What is only new is worth a word.
    ///
    /// ```
    /// use metachron_core::verdict::Drift;
    /// let new = Drift::NewValues {
    ///     column: "station".into(),
    ///     values: Vec::new(),
    ///     rows: 3,
    /// };
    /// assert!(!new.is_contradiction() && new.code() == "new-value");
    /// ```
    pub fn is_contradiction(&self) -> bool {
        matches!(
            self,
            Drift::Contradiction { .. }
                | Drift::Flipped { .. }
                | Drift::OtherYear { .. }
                | Drift::OtherLanguage(_)
                | Drift::OtherOrigin { .. }
        )
    }

    /// A word for it.
    pub fn code(&self) -> &'static str {
        match self {
            Drift::Contradiction { .. } => "contradiction",
            Drift::Flipped { .. } => "order-flipped",
            Drift::NewShape { .. } => "new-shape",
            Drift::NewValues { .. } => "new-value",
            Drift::OutOfRange { .. } => "out-of-range",
            Drift::NothingTells { .. } | Drift::NothingTellsBeside { .. } => "nothing-tells",
            Drift::OtherYear { .. } => "other-year",
            Drift::OtherLanguage(_) => "other-language",
            Drift::NamesDiffer(_) => "names-differ",
            Drift::OtherOrigin { .. } => "other-origin",
            Drift::NothingNew { .. } => "nothing-new",
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
        // What a column leans to leaves no row contested either.
        let favoured = judgement.leans_to.as_ref().map(|_| 0);
        let contested = found.or(favoured).unwrap_or(counts.contested);
        let span = span(evidence, judgement, reading).filter(|_| found.is_none());
        let column = reading.split.as_ref().and_then(|split| split.column());
        let own = OwnOrders::of(evidence, reading);
        let (dates, telling) = own.telling();
        let mut shapes: Vec<(String, u64)> =
            shapes(evidence).into_values().map(|own| (own.shape, own.rows.rows)).collect();
        shapes.sort_by_key(|(_, rows)| std::cmp::Reverse(*rows));
        shapes.truncate(MOST_SHAPES);
        let epoch = reading.serials.map(|serials| serials.epoch);
        Some(Baseline {
            rows: counts.rows,
            unreadable: counts.unreadable + contested,
            shapes: shapes.into_iter().collect(),
            earliest: span.map(|(earliest, _)| earliest.to_string()),
            latest: span.map(|(_, latest)| latest.to_string()),
            dates,
            telling,
            against: own.against().rows,
            days: reading.years.as_ref().map(|_| days(evidence)),
            epoch: epoch.filter(|own| own.is_of_sheets()).map(|own| own.to_string()),
            beside: column.map_or(Vec::new(), |column| {
                values_beside(evidence, column)
                    .into_iter()
                    .map(|(value, ..)| value.clone())
                    .collect()
            }),
        })
    }

    /// How a delivery differs from what is asserted of it; a file may have an origin of its own.
    pub fn drift(
        &self,
        evidence: &Evidence,
        judgement: &Judgement,
        asserted: &Asserted,
    ) -> Vec<Drift> {
        let as_of = asserted.as_of;
        let Some(reading) = judgement.reading.as_ref() else { return Vec::new() };
        // Under the year of others nothing else can be said of these.
        if let Some(drift) = self.other_year(evidence, reading, as_of) {
            return vec![drift];
        }
        let mut all = Vec::new();
        all.extend(self.contradiction(evidence, reading));
        all.extend(self.language(evidence, asserted));
        all.extend(self.origin(asserted));
        let untold = together(untold_beside(evidence, reading));
        all.extend(
            untold.into_iter().map(|(values, rows)| Drift::NothingTellsBeside { values, rows }),
        );
        all.extend(self.new_shapes(evidence));
        if let Some(split) = &reading.split
            && let Some(column) = split.column()
        {
            let is_new = |value: &String| -> bool {
                let place = RowPlace { beside: value, ..RowPlace::from(1) };
                split.part_of(place).is_none() && !self.beside.contains(value)
            };
            let orders: Vec<Alternative> =
                split.orders().into_iter().map(Alternative::from).collect();
            let new = values_beside(evidence, column).into_iter().filter(|(own, ..)| is_new(own));
            let (values, rows): (Vec<NewValue>, Vec<u64>) = new
                .map(|(value, forms, rows)| {
                    (NewValue { value: value.clone(), tells: told_beside(forms, &orders) }, rows)
                })
                .unzip();
            if !values.is_empty() {
                let column = column.to_owned();
                all.push(Drift::NewValues { column, values, rows: rows.iter().sum() });
            }
        }
        // Times of day come again every day.
        if let (Some(from), Some(to)) = (&self.earliest, &self.latest)
            && reading.kind != Kind::Time
            && let Some((earliest, latest)) = span(evidence, judgement, reading)
        {
            let is_length = reading.kind == Kind::Duration;
            let (earliest, latest) = (earliest.to_string(), latest.to_string());
            let seen = || (from.clone(), to.clone());
            // Lengths of time go on in no calendar: only a shorter one than any is worth a word.
            let is_before = |one: &str, other: &str| match is_length {
                true => length(one) < length(other),
                false => one < other,
            };
            // What was seen is nothing new to itself.
            let is_same = (evidence.rows, &earliest, &latest) == (self.rows, from, to);
            if !is_same && !is_length && latest <= *to && goes_on(to, as_of) {
                all.push(Drift::NothingNew { latest: latest.clone(), seen: to.clone() });
            }
            let as_of = as_of.to_string();
            if is_before(&earliest, from) {
                all.push(Drift::OutOfRange { value: earliest, seen: seen() });
            }
            if !is_length && latest > as_of && *to <= as_of {
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

    /// A year is that of the rows for which it was said.
    fn other_year(&self, evidence: &Evidence, reading: &Reading, as_of: Date) -> Option<Drift> {
        let seen = self.days.as_ref()?;
        let (_, sequence) = evidence.sequences.first_key_value()?;
        let said = reading.years.as_ref()?.first;
        let is_other = days(evidence) != *seen || evidence.rows != self.rows;
        is_other.then_some(Drift::OtherYear { said, likely: sequence.likely_first_year(as_of) })
    }

    /// Names of another language, or that may be of one.
    fn language(&self, evidence: &Evidence, asserted: &Asserted) -> Option<Drift> {
        asserted.written_in?;
        // As many were unreadable when it was saved.
        if self.unreadable * evidence.rows < evidence.foreign.rows * self.rows {
            return Some(Drift::OtherLanguage(evidence.foreign.clone()));
        }
        match evidence.languages() {
            Languages::Differ(difference) if evidence.rows != self.rows => {
                Some(Drift::NamesDiffer(difference))
            }
            _ => None,
        }
    }

    /// That a workbook counts from another day than the saved one.
    fn origin(&self, asserted: &Asserted) -> Option<Drift> {
        let (saved, own) = (self.epoch.clone()?, asserted.own_epoch?);
        (saved != own.to_string()).then_some(Drift::OtherOrigin { saved, own })
    }

    fn contradiction(&self, evidence: &Evidence, reading: &Reading) -> Option<Drift> {
        let own = OwnOrders::of(evidence, reading);
        let rows = own.against();
        let (dates, telling) = own.telling();
        let seen_share = self.against as f64 / self.rows.max(1) as f64;
        // As many typing errors as there were are nothing new.
        if rows.rows > 0 && rows.rows as f64 > 3.0 * seen_share * evidence.rows as f64 {
            let to = own.other_order();
            if let Some(to) = to.filter(|_| telling == 0 && rows.rows > 1) {
                return Some(Drift::Flipped { to, rows });
            }
            let beside = against_beside(evidence, reading);
            return Some(Drift::Contradiction { rows, beside });
        }
        let seen = (self.telling, self.dates);
        (telling == 0 && dates > 0 && self.telling > 0)
            .then_some(Drift::NothingTells { dates, seen })
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

/// Values with the sum of their rows, if there are any.
fn together(all: impl IntoIterator<Item = (String, u64)>) -> Option<(Vec<String>, u64)> {
    let (values, rows): (Vec<String>, Vec<u64>) = all.into_iter().unzip();
    (!values.is_empty()).then(|| (values, rows.iter().sum()))
}

/// A hash of the different days of values without a year.
fn days(evidence: &Evidence) -> String {
    let groups = evidence.groups.values().flat_map(|group| group.dates.iter());
    let days: BTreeSet<[i16; 3]> = groups.map(|(written, _)| written).collect();
    format!("{:016x}", fnv1a(format!("{days:?}")))
}

/// The nanoseconds of a length of time in ISO 8601.
fn length(text: &str) -> Option<i128> {
    text.parse::<Duration>().ok().map(|own| own.nanos())
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
    let own: Vec<Alternative> =
        reading.layouts.iter().filter_map(Layout::order).map(Alternative::from).collect();
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

/// The values of a neighbour beside dates whose order is open, with these and how many rows they are.
fn values_beside<'e>(evidence: &'e Evidence, column: &str) -> Vec<(&'e String, &'e ByForm, u64)> {
    let clue = evidence.clues.neighbours.column(column);
    let values = clue.into_iter().flatten().map(|(value, forms)| {
        let rows = forms.values().map(|beside| beside.count(Fits::fits_any)).sum();
        (value, forms, rows)
    });
    values.filter(|(.., rows)| *rows > 0).collect()
}
