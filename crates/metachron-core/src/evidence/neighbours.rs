//! The other columns of a table, as far as they may tell rows apart.

use std::sync::{Arc, OnceLock};

use jiff::civil::Date;

use super::Thinning;
use super::neighbourhood::ShownValues;
use crate::order::Alternative;
use crate::text::{Places, trimmed};

/// Columns that are looked at beside each column.
const MOST_NEIGHBOURS: usize = 32;
/// A longer value is no office, device or country.
const LONGEST: usize = 200;

/// What stands in the other columns of a row. Filled once a row for all columns that are observed.
///
/// ```
/// use metachron_core::evidence::Neighbours;
/// let mut neighbours = Neighbours::of(["station", "captured"]);
/// neighbours.see(0, "Skarholm");
/// assert!(neighbours.wants(0) && !neighbours.wants(2));
/// ```
#[derive(Debug, Clone, Default)]
pub struct Neighbours {
    columns: Vec<Neighbour>,
    /// The number of the value of each in this row.
    now: Vec<ValueNumber>,
    /// The days in the row at hand, each with the place of its column.
    days: Vec<(usize, Days)>,
    /// How many values of each are told apart.
    thinning: Thinning,
    /// The values of all of them, once they were asked for.
    shown: OnceLock<Arc<ShownValues>>,
}

/// The number of a value in a row; none in a column of too many values.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct ValueNumber(u16);

impl ValueNumber {
    const NONE: ValueNumber = ValueNumber(u16::MAX);

    pub(super) fn get(self) -> Option<usize> {
        (self != ValueNumber::NONE).then_some(usize::from(self.0))
    }
}

#[derive(Debug, Clone)]
struct Neighbour {
    name: String,
    /// The different values by number.
    values: Vec<String>,
    places: Places,
    dropped: bool,
}

impl Neighbour {
    /// Passes over it from now on.
    fn drop_values(&mut self) {
        self.dropped = true;
        (self.values, self.places) = (Vec::new(), Places::default());
    }

    /// The number of a value, if it was seen.
    fn number(&self, value: &str) -> Option<ValueNumber> {
        let is_it = |at: usize| self.values[at] == value;
        self.places.find(value.as_bytes(), is_it).map(|at| ValueNumber(at as u16))
    }

    /// Adds a value, and gives it a number.
    fn add(&mut self, value: &str) -> ValueNumber {
        let at = self.values.len();
        self.places.add(value.as_bytes(), at);
        self.values.push(value.to_owned());
        ValueNumber(at as u16)
    }
}

/// The day of a value, as each order takes it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Days {
    by: [Option<(Alternative, Date)>; MOST_ORDERS],
}

/// Orders of which the day of a value is kept.
const MOST_ORDERS: usize = 3;

impl Days {
    /// The day of a value that leaves no order open.
    pub(super) fn only(day: Date) -> Days {
        Days { by: [Some((Alternative::Only, day)), None, None] }
    }

    /// The days of a value by order; none if it has none.
    pub(super) fn of(all: impl Iterator<Item = (Alternative, Date)>) -> Option<Days> {
        let mut days = Days::default();
        for (place, day) in days.by.iter_mut().zip(all) {
            *place = Some(day);
        }
        days.by[0].is_some().then_some(days)
    }

    /// Whether there are several orders.
    pub(super) fn is_open(&self) -> bool {
        self.by[1].is_some()
    }

    pub(super) fn orders(&self) -> impl Iterator<Item = Alternative> {
        self.by.iter().flatten().map(|(order, _)| *order)
    }

    /// The day in this order, or the only one that there is.
    pub(super) fn by(&self, order: Alternative) -> Option<Date> {
        let own = self.by.iter().flatten().find(|(own, _)| *own == order).map(|(_, day)| *day);
        own.or(self.by[0].filter(|_| !self.is_open()).map(|(_, day)| day))
    }
}

impl Neighbours {
    /// The columns of a table, by name from left to right; those behind the first few are no
    /// neighbours to any column.
    pub fn of<'n>(names: impl IntoIterator<Item = &'n str>) -> Neighbours {
        // A column is no neighbour of itself.
        let names = names.into_iter().take(MOST_NEIGHBOURS + 1);
        let column = |name: &str| Neighbour {
            name: name.to_owned(),
            values: Vec::new(),
            places: Places::default(),
            dropped: false,
        };
        let columns: Vec<Neighbour> = names.map(column).collect();
        Neighbours { now: vec![ValueNumber::NONE; columns.len()], columns, ..Neighbours::default() }
    }

    /// How many columns are looked at.
    pub fn len(&self) -> usize {
        self.columns.len()
    }

    /// Whether none is.
    pub fn is_empty(&self) -> bool {
        self.columns.is_empty()
    }

    /// Whether the column at this place may still tell rows apart.
    ///
    /// ```
    /// use metachron_core::evidence::Neighbours;
    /// let mut neighbours = Neighbours::of(["ring"]);
    /// for number in 0..1_000 {
    ///     neighbours.see(0, &number.to_string()); // there are no thousand offices
    /// }
    /// assert!(!neighbours.wants(0));
    /// ```
    pub fn wants(&self, at: usize) -> bool {
        self.columns.get(at).is_some_and(|column| !column.dropped)
    }

    /// Notes what stands in the column at this place in the row at hand. A column that shows too
    /// many values is passed over for good.
    pub fn see(&mut self, at: usize, value: &str) {
        let most = self.thinning.values_beside();
        let Some(column) = self.columns.get_mut(at).filter(|column| !column.dropped) else {
            return;
        };
        let value = trimmed(value);
        let now = &mut self.now[at];
        // Sources often stand in runs.
        if now.get().and_then(|now| column.values.get(now)).is_some_and(|last| last == value) {
            return;
        }
        *now = match column.number(value) {
            Some(number) => number,
            None if column.values.len() >= most || value.len() > LONGEST => {
                self.shown.take();
                column.drop_values();
                ValueNumber::NONE
            }
            None => {
                self.shown.take();
                column.add(value)
            }
        };
    }

    /// Tells fewer values apart from now on; columns of more of them are passed over for good.
    pub fn thin(&mut self, thinning: Thinning) {
        self.thinning = self.thinning.max(thinning);
        self.shown.take();
        let most = self.thinning.values_beside();
        let columns = self.columns.iter_mut().zip(&mut self.now);
        for (column, now) in columns.filter(|(column, _)| column.values.len() > most) {
            column.drop_values();
            *now = ValueNumber::NONE;
        }
    }

    /// Notes the day in the column at this place in the row at hand.
    pub fn note(&mut self, at: usize, day: Option<Days>) {
        if at < self.columns.len() {
            self.days.extend(day.map(|day| (at, day)));
        }
    }

    /// Forgets the days of the row before.
    pub fn next_row(&mut self) {
        self.days.clear();
    }

    /// The days in the row at hand, as far as they are noted, each with the place of its column.
    pub(super) fn days(&self) -> &[(usize, Days)] {
        &self.days
    }

    /// The number of the value in each column of the row at hand.
    pub(super) fn now(&self) -> &[ValueNumber] {
        &self.now
    }

    pub(super) fn name(&self, at: usize) -> &str {
        self.columns.get(at).map_or("", |column| &column.name)
    }

    /// The different values of all of them.
    pub(super) fn shown(&self) -> Arc<ShownValues> {
        let values = |at| Some(self.values(at)?.iter().cloned().collect());
        let shown = || {
            let columns = self.columns.iter().enumerate();
            Arc::new(columns.map(|(at, own)| (own.name.clone(), values(at))).collect())
        };
        self.shown.get_or_init(shown).clone()
    }

    /// The values of a column, if there are not too many.
    pub(super) fn values(&self, at: usize) -> Option<&[String]> {
        self.columns.get(at).filter(|column| !column.dropped).map(|column| &column.values[..])
    }
}
