//! What dates show beside the values of other columns, gathered row by row and added up for many rows at once: dates
//! that are sorted once are sorted beside every column.

use super::dates::{Key, WrittenDate};
use super::neighbourhood::{Beside, Neighbourhood, dates_beside};
use super::neighbours::ValueNumber;
use super::seen_value::SeenValue;
use super::{Fits, Neighbours};
use crate::candidates::Form;

/// Rows of one form, and what dates show beside the values of each column.
#[derive(Default)]
pub(super) struct GatheredBeside {
    columns: Vec<OfColumn>,
    waiting: Waiting,
}

/// What stands beside the values of a column by number.
#[derive(Default)]
struct OfColumn {
    all: Vec<Beside>,
    /// The highest hash that is kept of each, once so many are.
    ceilings: Vec<u64>,
    /// Dates that are new beside each.
    new: Vec<Vec<Key>>,
}

/// Rows that are not yet added up.
#[derive(Default)]
struct Waiting {
    /// The different ways in which orders fit; there are few.
    ways: Vec<Fits>,
    rows: Vec<WaitingRow>,
    /// The numbers of the values in all columns beside, row by row.
    numbers: Vec<ValueNumber>,
}

/// A row that is not yet added up.
#[derive(Clone, Copy)]
struct WaitingRow {
    /// The hash of its date; 0 of none.
    hash: u64,
    date: Option<WrittenDate>,
    /// The number of the way in which orders fit.
    way: u16,
}

/// Numbers of values that wait at most.
const NUMBERS: usize = 131_072;

impl GatheredBeside {
    /// Adds a row with a value of which this was seen.
    pub(super) fn observe(&mut self, seen: &SeenValue, neighbours: &Neighbours) {
        let now = neighbours.now();
        if now.is_empty() {
            return;
        }
        if self.waiting.numbers.len() + now.len() > NUMBERS {
            self.settle(neighbours);
        }
        let Waiting { ways, rows, numbers } = &mut self.waiting;
        let way = ways.iter().position(|own| *own == seen.fits).unwrap_or_else(|| {
            ways.push(seen.fits);
            ways.len() - 1
        });
        let hash = if seen.dated.is_some() { seen.hash } else { 0 };
        rows.push(WaitingRow { hash, date: seen.dated, way: way as u16 });
        numbers.extend_from_slice(now);
    }

    /// Adds up the rows that wait, and forgets what stands beside columns that tell no rows apart any more.
    pub(super) fn settle(&mut self, neighbours: &Neighbours) {
        self.columns.resize_with(neighbours.len(), OfColumn::default);
        for (at, column) in self.columns.iter_mut().enumerate() {
            match neighbours.values(at) {
                Some(values) => column.fit(values.len()),
                None => *column = OfColumn::default(),
            }
        }
        let waiting = &mut self.waiting;
        // Dates above those that are kept everywhere change nothing.
        let ceiling = self.columns.iter().flat_map(|own| &own.ceilings).max();
        let dates = waiting.dates_to(ceiling.copied().unwrap_or(u64::MAX).max(1));
        for (at, column) in self.columns.iter_mut().enumerate() {
            if column.all.is_empty() {
                continue;
            }
            let own = waiting.numbers.get(at..).unwrap_or_default();
            let numbers = || own.iter().step_by(neighbours.len());
            column.count(waiting, numbers());
            column.add(&dates, |row| own.get(row as usize * neighbours.len()).copied());
        }
        waiting.rows.clear();
        waiting.numbers.clear();
    }

    /// About how many bytes it takes.
    pub(super) fn weight(&self) -> usize {
        let beside = self.columns.iter().flat_map(|own| &own.all);
        let of_value = size_of::<Beside>() + size_of::<u64>() + size_of::<Vec<Key>>();
        beside.map(|own| own.dates.weight() + of_value).sum::<usize>()
            + self.waiting.rows.capacity() * size_of::<WaitingRow>()
            + self.waiting.numbers.capacity() * size_of::<ValueNumber>()
    }

    /// All of it, for a column of this form.
    pub(super) fn finish(mut self, form: &Form, neighbours: &Neighbours, all: &mut Neighbourhood) {
        self.settle(neighbours);
        for (at, column) in self.columns.into_iter().enumerate() {
            let (name, values) = (neighbours.name(at), neighbours.values(at));
            for (value, beside) in values.unwrap_or_default().iter().zip(column.all) {
                if beside.rows.iter().next().is_some() {
                    all.add(name, value, form, beside);
                }
            }
        }
    }
}

impl OfColumn {
    /// Has room for so many values, of each of which the fewer dates are kept the more they are.
    fn fit(&mut self, values: usize) {
        self.all.resize_with(values, Beside::new);
        self.new.resize_with(values, Vec::new);
        let budget = dates_beside(values);
        self.all.iter_mut().for_each(|own| own.dates.keep_only(budget));
        self.ceilings.clear();
        self.ceilings.extend(self.all.iter().map(|own| own.dates.ceiling()));
    }

    /// Counts rows, which have these numbers, by the ways in which orders fit.
    fn count<'n>(&mut self, waiting: &Waiting, numbers: impl Iterator<Item = &'n ValueNumber>) {
        let Waiting { ways, rows, .. } = waiting;
        let mut counts = vec![0_u64; self.all.len() * ways.len()];
        let mut is_over = vec![false; self.all.len()];
        for (row, number) in rows.iter().zip(numbers) {
            let Some(value) = number.get() else { continue };
            counts[value * ways.len() + usize::from(row.way)] += 1;
            is_over[value] |= row.hash > self.ceilings[value];
        }
        let counts = counts.chunks(ways.len().max(1)).zip(is_over);
        for (own, (counts, is_over)) in self.all.iter_mut().zip(counts) {
            for (fits, rows) in ways.iter().zip(counts).filter(|(_, rows)| **rows > 0) {
                *own.rows.or_insert_with(*fits, || 0) += rows;
            }
            own.dates.note_over(is_over);
        }
    }

    /// Adds dates, which are sorted, each with its row, which has a number.
    fn add(&mut self, dates: &[(Key, u32)], number: impl Fn(u32) -> Option<ValueNumber>) {
        for (date, row) in dates {
            let Some(value) = number(*row).and_then(ValueNumber::get) else { continue };
            if date.0 > self.ceilings[value] {
                continue;
            }
            let new = &mut self.new[value];
            if new.last() != Some(date) {
                new.push(*date);
            }
        }
        for (own, new) in self.all.iter_mut().zip(&mut self.new) {
            own.dates.insert_sorted(new);
            new.clear();
        }
    }
}

impl Waiting {
    /// The dates up to this hash, sorted, each with its row. Hashes are spread evenly: each is put about where it belongs
    /// at once, and next to few others.
    fn dates_to(&self, ceiling: u64) -> Vec<(Key, u32)> {
        let dates = || {
            let dated = self.rows.iter().zip(0..).filter(|(own, _)| own.hash <= ceiling);
            dated.filter_map(|(own, row)| {
                let fits = self.ways[usize::from(own.way)];
                Some(((own.hash, own.date?, fits), row))
            })
        };
        let bits = self.rows.len().max(2).ilog2();
        let place = |hash: u64| ((hash << ceiling.leading_zeros()) >> (u64::BITS - bits)) as usize;
        // Where the dates of each place begin, and behind them the end.
        let mut ends = vec![0_usize; (1 << bits) + 1];
        dates().for_each(|((hash, ..), _)| ends[place(hash) + 1] += 1);
        for at in 1..ends.len() {
            ends[at] += ends[at - 1];
        }
        let Some(first) = dates().next() else { return Vec::new() };
        let mut sorted = vec![first; ends[1 << bits]];
        for (key, row) in dates() {
            let own = &mut ends[place(key.0)];
            sorted[*own] = (key, row);
            *own += 1;
        }
        let mut begin = 0;
        for end in &ends[..1 << bits] {
            if *end > begin + 1 {
                sorted[begin..*end].sort_unstable();
            }
            begin = *end;
        }
        sorted
    }
}
