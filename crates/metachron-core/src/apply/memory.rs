//! Remembers recent values, since dates repeat.

use super::Outcome;
use crate::text::fnv1a;

const SLOTS: usize = 2_048;
const LONGEST: usize = 39;

/// What one thread remembers while it applies one compiled reading; belongs to the caller, so
/// that a compiled reading can be shared.
#[derive(Debug)]
pub struct Memory {
    buffer: String,
    slots: Vec<Slot>,
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
        Memory { buffer: String::new(), slots: vec![empty; SLOTS] }
    }
}

impl Memory {
    pub(super) fn buffer(&mut self) -> &mut String {
        &mut self.buffer
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
