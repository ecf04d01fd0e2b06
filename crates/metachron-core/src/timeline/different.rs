//! The different values and their rows, exactly up to a limit.

use std::collections::HashMap;
use std::hash::BuildHasherDefault;

use crate::text::Stirring;
use crate::typed::TypedValue;

/// More are not told apart.
pub(super) const MOST: usize = 100_000;

/// The rows of a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RowsOfValue {
    /// The value.
    pub value: TypedValue,
    /// The first of its rows; the first of the table is 1.
    pub first: u64,
    /// The second of them, if there are several.
    pub second: Option<u64>,
    /// How many there are.
    pub rows: u64,
}

type Values = HashMap<TypedValue, RowsOfValue, BuildHasherDefault<Stirring>>;

/// The different values; none once there are too many.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Different(Option<Values>);

impl Default for Different {
    fn default() -> Different {
        Different(Some(Values::default()))
    }
}

impl RowsOfValue {
    /// Of one row.
    pub fn one(row: u64, value: TypedValue) -> RowsOfValue {
        RowsOfValue { value, first: row, second: None, rows: 1 }
    }

    /// These rows and others of the same value.
    #[must_use]
    pub fn and(self, other: RowsOfValue) -> RowsOfValue {
        let first = self.first.min(other.first);
        let behind = [Some(self.first.max(other.first)), self.second, other.second];
        let second = behind.into_iter().flatten().min();
        RowsOfValue { first, second, rows: self.rows + other.rows, ..self }
    }
}

impl Different {
    /// Adds rows.
    pub(super) fn add(&mut self, next: RowsOfValue) {
        let Some(all) = &mut self.0 else { return };
        all.entry(next.value).and_modify(|own| *own = own.and(next)).or_insert(next);
        self.0.take_if(|all| all.len() > MOST);
    }

    /// The same with other rows.
    pub(super) fn join(&mut self, other: Different) {
        match other.0 {
            Some(others) => others.into_values().for_each(|next| self.add(next)),
            None => self.0 = None,
        }
    }

    /// How many they are.
    pub(super) fn count(&self) -> Option<u64> {
        self.0.as_ref().map(|all| all.len() as u64)
    }

    /// All of them in the order of time.
    pub(super) fn in_order(&self) -> Option<Vec<RowsOfValue>> {
        let mut all: Vec<RowsOfValue> = self.0.as_ref()?.values().copied().collect();
        all.sort_unstable_by_key(|own| own.value);
        Some(all)
    }
}
