//! Rows of one column that are written in different ways, told apart by something beside the value.

use std::collections::BTreeSet;
use std::ops::RangeInclusive;

use crate::layout::Layout;
use crate::order::Order;

/// How the values of some rows are written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Written {
    /// All-digit dates in this order.
    Order(Order),
    /// By these layouts, all of one kind.
    Layouts(Vec<Layout>),
}

/// Where a value stands, as far as its reading depends on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RowPlace<'p> {
    /// The row; the first is 1.
    pub row: u64,
    /// What stands in the column that tells the rows of a split apart.
    pub beside: &'p str,
    /// What stands in the column that tells their zones.
    pub zone: &'p str,
}

impl<'p> From<u64> for RowPlace<'p> {
    fn from(row: u64) -> RowPlace<'p> {
        RowPlace { row, beside: "", zone: "" }
    }
}

/// What tells the rows of a split apart.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum RowParts<W> {
    /// The value of another column, by its name: the values of each part.
    Column(String, Vec<(Vec<String>, W)>),
    /// The rows themselves, in this file and no other.
    Rows(Vec<(RangeInclusive<u64>, W)>),
}

impl<W> RowParts<W> {
    /// Those parts of which something is said, with what it is.
    pub fn filter_map<V>(&self, mut say: impl FnMut(&W) -> Option<V>) -> RowParts<V> {
        match self {
            RowParts::Column(name, parts) => {
                let parts = parts.iter().filter_map(|(values, w)| Some((values.clone(), say(w)?)));
                RowParts::Column(name.clone(), parts.collect())
            }
            RowParts::Rows(parts) => {
                let parts = parts.iter().filter_map(|(rows, w)| Some((rows.clone(), say(w)?)));
                RowParts::Rows(parts.collect())
            }
        }
    }

    /// The parts of both; none if different things tell them apart.
    ///
    /// ```
    /// use metachron_core::reading::RowParts;
    /// let rows = |rows, said| RowParts::Rows(vec![(rows, said)]);
    /// assert_eq!(rows(1..=9, 'a').and(rows(10..=19, 'b')), Some(RowParts::Rows(vec![(1..=9, 'a'), (10..=19, 'b')])));
    /// ```
    pub fn and(self, other: RowParts<W>) -> Option<RowParts<W>> {
        match (self, other) {
            (RowParts::Column(name, mut own), RowParts::Column(another, others))
                if name == another =>
            {
                own.extend(others);
                Some(RowParts::Column(name, own))
            }
            (RowParts::Rows(mut own), RowParts::Rows(others)) => {
                own.extend(others);
                Some(RowParts::Rows(own))
            }
            _ => None,
        }
    }

    /// These parts, and of the weaker ones those rows of which these say nothing. Rows that are told apart by something
    /// else are other rows: then only these count.
    ///
    /// ```
    /// use metachron_core::reading::RowParts;
    /// let by = |parts: &[(&[&str], char)]| {
    ///     let parts = parts.iter().map(|(values, said)| (values.iter().map(|v| v.to_string()).collect(), *said));
    ///     RowParts::Column("station".to_owned(), parts.collect())
    /// };
    /// let saved = by(&[(&["Skarholm", "Dar Wadi"], 'd'), (&["Port Meridian"], 'm')]);
    /// let said = by(&[(&["Dar Wadi"], 'm')]);
    /// assert_eq!(said.over(saved), by(&[(&["Skarholm"], 'd'), (&["Port Meridian"], 'm'), (&["Dar Wadi"], 'm')]));
    /// ```
    #[must_use]
    pub fn over(self, weaker: RowParts<W>) -> RowParts<W> {
        match (self, weaker) {
            (RowParts::Column(name, own), RowParts::Column(another, others)) if name == another => {
                let is_left =
                    |value: &String| !own.iter().any(|(values, _)| values.contains(value));
                let left = others.into_iter().map(|(values, said)| {
                    (values.into_iter().filter(|value| is_left(value)).collect::<Vec<_>>(), said)
                });
                let mut all: Vec<_> = left.filter(|(values, _)| !values.is_empty()).collect();
                all.extend(own);
                RowParts::Column(name, all)
            }
            (own, _) => own,
        }
    }

    /// Whether both speak of the same row.
    pub fn meets(&self, other: &RowParts<W>) -> bool {
        match (self, other) {
            (RowParts::Column(name, own), RowParts::Column(another, others)) => {
                let values = |parts: &[(Vec<String>, W)]| -> Vec<String> {
                    parts.iter().flat_map(|(values, _)| values.clone()).collect()
                };
                name != another || values(own).iter().any(|value| values(others).contains(value))
            }
            _ => true,
        }
    }
}

impl<W: PartialEq> RowParts<W> {
    /// Rows of which two things are said that differ: the value beside them, or the first of them.
    ///
    /// ```
    /// use metachron_core::reading::RowParts;
    /// let parts = RowParts::Rows(vec![(1..=9, 'a'), (5..=19, 'b')]);
    /// assert_eq!(parts.contradiction().as_deref(), Some("row 5"));
    /// assert_eq!(RowParts::Rows(vec![(1..=9, 'a'), (5..=19, 'a')]).contradiction(), None);
    /// ```
    pub fn contradiction(&self) -> Option<String> {
        match self {
            RowParts::Column(_, parts) => {
                parts.iter().enumerate().find_map(|(at, (values, said))| {
                    let others = parts[at + 1..].iter().filter(|(_, other)| other != said);
                    let mut twice = others
                        .flat_map(|(others, _)| others.iter().filter(|own| values.contains(own)));
                    twice.next().map(|value| format!("{value:?}"))
                })
            }
            RowParts::Rows(parts) => parts.iter().enumerate().find_map(|(at, (rows, said))| {
                let mut others = parts[at + 1..].iter().filter(|(_, other)| other != said);
                others.find_map(|(others, _)| {
                    let first = rows.start().max(others.start());
                    let meets = first <= rows.end().min(others.end());
                    meets.then(|| format!("row {first}"))
                })
            }),
        }
    }
}

/// A column whose rows are written in several ways.
///
/// ```
/// use metachron_core::reading::{Order, RowParts, RowPlace, Split, Written};
/// let month_first = (vec!["Port Meridian".to_owned()], Written::Order(Order::Mdy));
/// let split = Split { parts: RowParts::Column("station".into(), vec![month_first]), otherwise: None };
/// assert!(split.of(RowPlace { beside: "Port Meridian", ..RowPlace::from(1) }).is_some());
/// assert!(split.of(RowPlace { beside: "Skarholm", ..RowPlace::from(1) }).is_none());
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Split<W> {
    /// The parts, and what tells them apart.
    pub parts: RowParts<W>,
    /// How rows of no part are written; where nothing is said, only values that can be read in one
    /// way are.
    pub otherwise: Option<W>,
}

impl Split<Vec<Layout>> {
    /// The orders in which parts told apart by another column are written.
    pub fn orders(&self) -> Vec<Order> {
        let RowParts::Column(_, parts) = &self.parts else { return Vec::new() };
        let layouts = parts.iter().flat_map(|(_, layouts)| layouts);
        let orders: BTreeSet<Order> = layouts.filter_map(Layout::order).collect();
        orders.into_iter().collect()
    }
}

impl<W> Split<W> {
    /// How a row is written; none if nothing says so.
    pub fn of(&self, place: RowPlace<'_>) -> Option<&W> {
        self.way(self.part_of(place)?)
    }

    /// The part that a row belongs to; rows of no part are one behind the others, if something is
    /// said of them.
    pub(crate) fn part_of(&self, place: RowPlace<'_>) -> Option<usize> {
        let (own, behind) = match &self.parts {
            RowParts::Column(_, parts) => {
                let lists =
                    |(values, _): &(Vec<String>, W)| values.iter().any(|v| v == place.beside);
                (parts.iter().position(lists), parts.len())
            }
            RowParts::Rows(parts) => {
                (parts.iter().position(|(rows, _)| rows.contains(&place.row)), parts.len())
            }
        };
        own.or(self.otherwise.as_ref().map(|_| behind))
    }

    /// How the rows of a part are written.
    pub(crate) fn way(&self, part: usize) -> Option<&W> {
        let own = match &self.parts {
            RowParts::Column(_, parts) => parts.get(part).map(|(_, written)| written),
            RowParts::Rows(parts) => parts.get(part).map(|(_, written)| written),
        };
        own.or(self.otherwise.as_ref())
    }

    /// The column that tells the rows apart, if one does.
    ///
    /// ```
    /// use metachron_core::reading::{RowParts, Split};
    /// let parts = RowParts::Column("station".to_owned(), vec![(vec!["Skarholm".to_owned()], 'x')]);
    /// assert_eq!(Split { parts, otherwise: None }.column(), Some("station"));
    /// ```
    pub fn column(&self) -> Option<&str> {
        match &self.parts {
            RowParts::Column(name, _) => Some(name),
            RowParts::Rows(_) => None,
        }
    }

    /// How the rows are written, part by part.
    pub fn ways(&self) -> Vec<&W> {
        let mut ways: Vec<&W> = match &self.parts {
            RowParts::Column(_, parts) => parts.iter().map(|(_, written)| written).collect(),
            RowParts::Rows(parts) => parts.iter().map(|(_, written)| written).collect(),
        };
        ways.extend(&self.otherwise);
        ways
    }

    /// The same split with something else said of each part; none if it cannot be said of one.
    pub fn map<V>(&self, mut say: impl FnMut(&W) -> Option<V>) -> Option<Split<V>> {
        let parts = match &self.parts {
            RowParts::Column(name, parts) => {
                let parts = parts.iter().map(|(values, w)| Some((values.clone(), say(w)?)));
                RowParts::Column(name.clone(), parts.collect::<Option<_>>()?)
            }
            RowParts::Rows(parts) => {
                let parts = parts.iter().map(|(rows, w)| Some((rows.clone(), say(w)?)));
                RowParts::Rows(parts.collect::<Option<_>>()?)
            }
        };
        let otherwise = match &self.otherwise {
            Some(written) => Some(say(written)?),
            None => None,
        };
        Some(Split { parts, otherwise })
    }
}

impl Split<Vec<Layout>> {
    /// All layouts of all parts, each once.
    pub fn layouts(&self) -> Vec<Layout> {
        let mut all: Vec<Layout> = Vec::new();
        for layout in self.ways().into_iter().flatten() {
            if !all.contains(layout) {
                all.push(layout.clone());
            }
        }
        all
    }

    /// Where the layouts of each part stand among `all`.
    pub(crate) fn places(&self, all: &[Layout]) -> Option<Split<Vec<usize>>> {
        let at = |layout: &Layout| all.iter().position(|other| other == layout);
        self.map(|layouts| layouts.iter().map(at).collect())
    }
}
