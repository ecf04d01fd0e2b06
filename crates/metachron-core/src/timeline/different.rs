//! How many different values there are, exactly up to a limit.

use std::collections::HashSet;

use crate::typed::TypedValue;

/// More are not told apart.
pub(super) const MOST: usize = 100_000;

/// The different values; none once there are too many.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Different(Option<HashSet<TypedValue>>);

impl Default for Different {
    fn default() -> Different {
        Different(Some(HashSet::new()))
    }
}

impl Different {
    /// One more.
    pub(super) fn insert(&mut self, value: TypedValue) {
        if let Some(own) = &mut self.0 {
            own.insert(value);
            self.give_up_beyond();
        }
    }

    /// Those of both.
    pub(super) fn join(&mut self, other: Different) {
        match (&mut self.0, other.0) {
            (Some(own), Some(other)) => own.extend(other),
            _ => self.0 = None,
        }
        self.give_up_beyond();
    }

    fn give_up_beyond(&mut self) {
        self.0.take_if(|own| own.len() > MOST);
    }

    /// How many they are.
    pub(super) fn count(&self) -> Option<u64> {
        self.0.as_ref().map(|own| own.len() as u64)
    }
}
