//! Remembers recent values, since dates repeat.

use std::collections::BTreeMap;

use super::Outcome;
use crate::reading::Unfit;
use crate::text::{Places, ShortText};
use crate::zone::Clock;

/// Values that are remembered at most; then it begins anew.
const MOST: usize = 8_192;
/// Different zones that are remembered.
const CLOCKS: usize = 4_096;

/// What one worker remembers while it applies one compiled reading.
#[derive(Debug, Default)]
pub(super) struct Memory {
    buffer: String,
    slots: Vec<Slot>,
    places: Places,
    /// Whether it is there for a single value.
    is_none: bool,
    /// Where clocks stood, by what the rows say of it.
    clocks: BTreeMap<String, Result<Clock, Unfit>>,
}

#[derive(Debug, Clone, Copy)]
struct Slot {
    /// The part of a split that the row belongs to.
    part: u16,
    value: ShortText,
    outcome: Outcome,
}

impl Memory {
    /// One that remembers nothing.
    pub(super) fn none() -> Memory {
        Memory { is_none: true, ..Memory::default() }
    }

    pub(super) fn buffer(&mut self) -> &mut String {
        &mut self.buffer
    }

    /// Where the clock of a row stood that says this of it.
    pub(super) fn clock(
        &mut self,
        said: &str,
        find: impl FnOnce() -> Result<Clock, Unfit>,
    ) -> Result<Clock, Unfit> {
        if said.is_empty() {
            return find();
        }
        if let Some(clock) = self.clocks.get(said) {
            return *clock;
        }
        let clock = find();
        if self.clocks.len() < CLOCKS {
            self.clocks.insert(said.to_owned(), clock);
        }
        clock
    }

    pub(super) fn recall(&self, part: u16, value: &str) -> Option<Outcome> {
        let is_it = |at: usize| {
            self.slots[at].part == part && self.slots[at].value.bytes() == value.as_bytes()
        };
        self.places.find(value.as_bytes(), is_it).map(|at| self.slots[at].outcome)
    }

    /// Remembers what a value that is not remembered has come to.
    pub(super) fn keep(&mut self, part: u16, value: &str, outcome: Outcome) {
        let Some(value) = ShortText::of(value).filter(|_| !self.is_none) else { return };
        if self.slots.len() >= MOST {
            self.slots.clear();
            self.places.clear();
        }
        self.places.add(value.bytes(), self.slots.len());
        self.slots.push(Slot { part, value, outcome });
    }
}
