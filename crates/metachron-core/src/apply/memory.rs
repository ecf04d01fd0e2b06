//! Remembers recent values, since dates repeat.

use std::collections::BTreeMap;

use super::Outcome;
use crate::reading::Unfit;
use crate::text::ByText;
use crate::zone::Clock;

/// Values that are remembered at most; then it begins anew.
const MOST: usize = 8_192;
/// Different zones that are remembered.
const CLOCKS: usize = 4_096;

/// What one worker remembers while it applies one compiled reading.
#[derive(Debug, Default)]
pub(super) struct Memory {
    buffer: String,
    /// What values have come to, by the part of a split that the row belongs to.
    known: Vec<ByText<Outcome>>,
    /// How many there are.
    remembered: usize,
    /// Whether it is there for a single value.
    is_none: bool,
    /// Where clocks stood, by what the rows say of it.
    clocks: BTreeMap<String, Result<Clock, Unfit>>,
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

    pub(super) fn recall(&self, part: usize, value: &str) -> Option<Outcome> {
        let known = self.known.get(part)?;
        known.find(value).map(|at| known[at])
    }

    /// Remembers what a value that is not remembered has come to.
    pub(super) fn keep(&mut self, part: usize, value: &str, outcome: Outcome) {
        if self.is_none {
            return;
        }
        if self.remembered >= MOST {
            self.known.iter_mut().for_each(ByText::clear);
            self.remembered = 0;
        }
        if self.known.len() <= part {
            self.known.resize_with(part + 1, ByText::default);
        }
        self.remembered += usize::from(self.known[part].add(value, outcome).is_ok());
    }
}
