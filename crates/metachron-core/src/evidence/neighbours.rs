//! The other columns of a table, as far as they may tell rows apart.

use std::sync::OnceLock;

use jiff::civil::Date;

use super::Thinning;
use super::neighbourhood::ValuesBeside;
use crate::order::Alternative;
use crate::text::{Places, TextKey, trimmed};

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
    /// The numbers of the values of all of them, row by row: of the row at hand, or of some more.
    numbers: Vec<ValueNumber>,
    /// How many of these rows were gone on to: the last of them is at hand.
    begun: usize,
    /// The days in the row at hand, each with the place of its column.
    days: Vec<(usize, Days)>,
    /// How many values of each are told apart.
    thinning: Thinning,
    /// The values of all of them, once they were asked for.
    shown: OnceLock<ValuesBeside>,
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
    /// The value that was seen last: sources often stand in runs.
    last: Option<(TextKey, ValueNumber)>,
    dropped: bool,
}

impl Neighbour {
    fn of(name: &str) -> Neighbour {
        let name = name.to_owned();
        Neighbour {
            name,
            values: Vec::new(),
            places: Places::default(),
            last: None,
            dropped: false,
        }
    }

    /// Passes over it from now on.
    fn drop_values(&mut self) {
        self.dropped = true;
        (self.values, self.places, self.last) = (Vec::new(), Places::default(), None);
    }

    /// The number of a value, if it was seen.
    fn number(&self, key: TextKey, value: &str) -> Option<ValueNumber> {
        let found = self.places.find(key, value.as_bytes(), |at| self.values[at].as_bytes());
        found.map(|at| ValueNumber(at as u16))
    }

    /// Adds a value, and gives it a number.
    fn add(&mut self, value: &str) -> ValueNumber {
        let at = self.values.len();
        self.places.add(value.as_bytes());
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
        let columns: Vec<Neighbour> = names.map(Neighbour::of).collect();
        let numbers = vec![ValueNumber::NONE; columns.len()];
        Neighbours { numbers, begun: 1, columns, ..Neighbours::default() }
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
        self.see_in(self.begun.saturating_sub(1), at, trimmed(value));
    }

    /// Begins so many rows that follow each other: what stands in them is seen ahead, and then they are gone through, each
    /// from [`next_row`](Neighbours::next_row) on.
    ///
    /// ```
    /// use metachron_core::evidence::Neighbours;
    /// let mut neighbours = Neighbours::of(["station", "captured"]);
    /// neighbours.begin(2);
    /// for (row, station) in ["Skarholm", "Dar Wadi"].iter().enumerate() {
    ///     neighbours.see_in(row, 0, station);
    /// }
    /// for captured in ["03/04/2024", "04/03/2024"] {
    ///     neighbours.next_row(); // here `captured` is observed beside its station
    /// }
    /// ```
    pub fn begin(&mut self, rows: usize) {
        self.numbers.clear();
        self.numbers.resize(rows.max(1) * self.columns.len(), ValueNumber::NONE);
        self.begun = 0;
    }

    /// Notes what stands, trimmed, in the column at this place in one of the rows that were begun; the first is 0.
    #[inline]
    pub fn see_in(&mut self, row: usize, at: usize, value: &str) {
        let width = self.columns.len();
        let Some(column) = self.columns.get_mut(at).filter(|column| !column.dropped) else {
            return;
        };
        let Some(own) = self.numbers.get_mut(row * width + at) else { return };
        let key = TextKey::of(value.as_bytes());
        if let Some((last, number)) = column.last
            && last == key
            && key.is_whole()
        {
            *own = number;
            return;
        }
        if let Some(number) = column.number(key, value) {
            (*own, column.last) = (number, Some((key, number)));
            return;
        }
        self.see_new(row, at, value);
    }

    /// Notes a value that is new in the column at this place.
    fn see_new(&mut self, row: usize, at: usize, value: &str) {
        let (most, width) = (self.thinning.values_beside(), self.columns.len());
        self.shown.take();
        let column = &mut self.columns[at];
        if column.values.len() >= most || value.len() > LONGEST {
            column.drop_values();
            self.forget_numbers(at);
        } else {
            self.numbers[row * width + at] = column.add(value);
        }
    }

    /// Forgets the numbers of the column at this place.
    fn forget_numbers(&mut self, at: usize) {
        let own = self.numbers.iter_mut().skip(at).step_by(self.columns.len());
        own.for_each(|own| *own = ValueNumber::NONE);
    }

    /// Tells fewer values apart from now on; columns of more of them are passed over for good.
    pub fn thin(&mut self, thinning: Thinning) {
        self.thinning = self.thinning.max(thinning);
        self.shown.take();
        let most = self.thinning.values_beside();
        for at in 0..self.columns.len() {
            if self.columns[at].values.len() > most {
                self.columns[at].drop_values();
                self.forget_numbers(at);
            }
        }
    }

    /// Notes the day in the column at this place in the row at hand.
    pub fn note(&mut self, at: usize, day: Option<Days>) {
        if at < self.columns.len() {
            self.days.extend(day.map(|day| (at, day)));
        }
    }

    /// Goes on to the next row: one of those that were begun, or else one whose values are seen from now on.
    pub fn next_row(&mut self) {
        self.days.clear();
        if self.numbers.len() > self.begun * self.columns.len() {
            self.begun += 1;
        }
    }

    /// The days in the row at hand, as far as they are noted, each with the place of its column.
    pub(super) fn days(&self) -> &[(usize, Days)] {
        &self.days
    }

    /// The number of the value in each column of the row at hand.
    pub(super) fn now(&self) -> &[ValueNumber] {
        let (width, row) = (self.columns.len(), self.begun.saturating_sub(1));
        &self.numbers[row * width..][..width]
    }

    pub(super) fn name(&self, at: usize) -> &str {
        self.columns.get(at).map_or("", |column| &column.name)
    }

    /// The different values of all of them.
    pub(super) fn shown(&self) -> ValuesBeside {
        let values = |at| Some(self.values(at)?.iter().cloned().collect());
        let shown = || {
            let columns = self.columns.iter().enumerate();
            ValuesBeside::of(columns.map(|(at, own)| (own.name.clone(), values(at))).collect())
        };
        self.shown.get_or_init(shown).clone()
    }

    /// The values of a column, if there are not too many.
    pub(super) fn values(&self, at: usize) -> Option<&[String]> {
        self.columns.get(at).filter(|column| !column.dropped).map(|column| &column.values[..])
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        #[test]
        fn values_seen_ahead_have_the_numbers_of_those_seen_row_by_row(
            rows in prop::collection::vec(("[a-c]{0,2}", "net [0-9]{1,3} of the station at Skarholm"), 0..900),
            ahead in 1..300_usize,
        ) {
            let none = Neighbours::of(["station", "net"]);
            let (mut by_row, mut by_block) = (none.clone(), none);
            for rows in rows.chunks(ahead) {
                by_block.begin(rows.len());
                for (row, (station, net)) in rows.iter().enumerate() {
                    by_block.see_in(row, 0, station);
                    by_block.see_in(row, 1, net);
                }
                for (station, net) in rows {
                    by_row.next_row();
                    by_row.see(0, station);
                    by_row.see(1, net);
                    by_block.next_row();
                    prop_assert_eq!(by_row.now()[0], by_block.now()[0]);
                    // What is passed over from one of these rows on is so in all of them.
                    if by_block.wants(1) {
                        prop_assert_eq!(by_row.now()[1], by_block.now()[1]);
                    }
                }
            }
            prop_assert_eq!(by_row.wants(1), by_block.wants(1));
            prop_assert_eq!(by_row.shown(), by_block.shown());
        }
    }
}
