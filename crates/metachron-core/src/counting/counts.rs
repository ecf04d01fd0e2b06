//! Rows per period, and per group: what rows add up to.

use std::collections::BTreeMap;

use super::amounts::Amounts;
use super::per::{Per, Slot};
use crate::epoch::Number;

/// More lines than this are read by nobody: a longer period says the same.
pub const MOST_LINES: u64 = 200_000;

/// Rows per period, and per group.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Counts {
    per: Per,
    /// How many columns of numbers are added up.
    width: usize,
    groups: BTreeMap<String, BTreeMap<Slot, Cell>>,
}

#[derive(Debug, Clone, PartialEq, Eq, Default)]
struct Cell {
    rows: u64,
    amounts: Vec<Amounts>,
}

/// A period of a group, with its rows.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Line<'c> {
    /// The period.
    pub slot: Slot,
    /// The group.
    pub group: &'c str,
    /// How many rows; zero where nothing is.
    pub rows: u64,
    /// What the columns of numbers add up to.
    pub amounts: Vec<Amounts>,
}

impl Counts {
    /// Of no rows yet, with so many columns of numbers.
    pub fn new(per: Per, width: usize) -> Counts {
        Counts { per, width, groups: BTreeMap::new() }
    }

    /// A row of a group, with what stands in the columns of numbers.
    pub fn add(&mut self, group: String, slot: Slot, numbers: &[Option<Number>]) {
        let cell = self.groups.entry(group).or_default().entry(slot).or_default();
        cell.rows += 1;
        cell.amounts.resize(self.width, Amounts::default());
        for (amounts, number) in cell.amounts.iter_mut().zip(numbers) {
            number.iter().for_each(|number| amounts.add(*number));
        }
    }

    /// Those of two parts together.
    pub fn join(&mut self, other: Counts) {
        for (group, slots) in other.groups {
            let own = self.groups.entry(group).or_default();
            for (slot, cell) in slots {
                let own = own.entry(slot).or_default();
                own.rows += cell.rows;
                own.amounts.resize(self.width, Amounts::default());
                own.amounts.iter_mut().zip(&cell.amounts).for_each(|(own, other)| own.join(other));
            }
        }
    }

    /// The first and the last period that has rows.
    fn ends(&self) -> Option<(Slot, Slot)> {
        let firsts = self.groups.values().filter_map(|slots| slots.first_key_value());
        let lasts = self.groups.values().filter_map(|slots| slots.last_key_value());
        Some((*firsts.map(|(slot, _)| slot).min()?, *lasts.map(|(slot, _)| slot).max()?))
    }

    /// Every period from the first to the last one with rows, of those that come again all, each for every group.
    ///
    /// # Errors
    /// How many lines there would be, if they are more than [`MOST_LINES`].
    pub fn lines(&self) -> Result<impl Iterator<Item = Line<'_>>, u64> {
        let ends = self.ends().map(|ends| self.per.cycle().unwrap_or(ends));
        let periods = ends.map_or(0, |(first, last)| first.through(last));
        let lines = periods.saturating_mul(self.groups.len() as u64);
        if lines > MOST_LINES {
            return Err(lines);
        }
        let first = ends.map(|(first, _)| first);
        let slots = std::iter::successors(first, |slot| Some(slot.next()));
        let slots = slots.take(usize::try_from(periods).unwrap_or(0));
        Ok(slots.flat_map(move |slot| {
            self.groups.iter().map(move |(group, slots)| {
                let cell = slots.get(&slot);
                Line {
                    slot,
                    group,
                    rows: cell.map_or(0, |cell| cell.rows),
                    amounts: cell.map_or_else(
                        || vec![Amounts::default(); self.width],
                        |cell| cell.amounts.clone(),
                    ),
                }
            })
        }))
    }
}
