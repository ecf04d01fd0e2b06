//! Remembers recent values, since dates repeat.

use std::collections::BTreeMap;

use super::Outcome;
use crate::reading::Unfit;
use crate::text::fnv1a;
use crate::zone::Clock;

const SLOTS: usize = 2_048;
const LONGEST: usize = 39;
/// Different zones that are remembered.
const CLOCKS: usize = 4_096;

/// What one worker remembers while it applies one compiled reading.
#[derive(Debug)]
pub(super) struct Memory {
    buffer: String,
    slots: Vec<Slot>,
    /// Where clocks stood, by what the rows say of it.
    clocks: BTreeMap<String, Result<Clock, Unfit>>,
}

#[derive(Debug, Clone, Copy)]
struct Slot {
    /// The part of a split that the row belongs to.
    part: u16,
    length: u8,
    value: [u8; LONGEST],
    outcome: Outcome,
}

impl Default for Memory {
    fn default() -> Memory {
        // The outcome of the empty value is the same in every reading.
        let empty = Slot { part: 0, length: 0, value: [0; LONGEST], outcome: Outcome::Missing };
        Memory { buffer: String::new(), slots: vec![empty; SLOTS], clocks: BTreeMap::new() }
    }
}

impl Memory {
    /// One that remembers nothing.
    pub(super) fn none() -> Memory {
        Memory { buffer: String::new(), slots: Vec::new(), clocks: BTreeMap::new() }
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
        let slot = self.slots.get(slot_of(value))?;
        let same = slot.part == part
            && slot.value.get(..usize::from(slot.length)) == Some(value.as_bytes());
        same.then_some(slot.outcome)
    }

    pub(super) fn keep(&mut self, part: u16, value: &str, outcome: Outcome) {
        if value.len() > LONGEST {
            return;
        }
        if let Some(slot) = self.slots.get_mut(slot_of(value)) {
            slot.part = part;
            slot.length = value.len() as u8;
            slot.value[..value.len()].copy_from_slice(value.as_bytes());
            slot.outcome = outcome;
        }
    }
}

/// The low bits of its hash choose the slot of a value.
fn slot_of(value: &str) -> usize {
    let hash = fnv1a(value);
    (hash ^ (hash >> 32)) as usize % SLOTS
}
