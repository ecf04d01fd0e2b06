//! What adds up: what two sets of rows show is shown by both together, in whatever order they are taken.

use std::collections::{BTreeMap, BTreeSet};

use super::Witness;
use crate::typed::TypedValue;

/// What adds up with another of its kind.
pub(super) trait AddsUp {
    fn add_up(&mut self, other: Self);
}

/// Implements [`AddsUp`] for a struct, field by field.
macro_rules! fields_add_up {
    ($type:ty: $($field:ident),+) => {
        impl AddsUp for $type {
            fn add_up(&mut self, other: Self) {
                $(self.$field.add_up(other.$field);)+
            }
        }
    };
}
pub(super) use fields_add_up;

/// Numbers of rows, which no table has too many of to count: what is damaged may say that it has.
impl AddsUp for u64 {
    fn add_up(&mut self, other: u64) {
        *self = self.saturating_add(other);
    }
}

/// The first of both rows.
impl AddsUp for Witness {
    fn add_up(&mut self, other: Witness) {
        if other < *self {
            *self = other;
        }
    }
}

/// The earliest and the latest of both.
impl AddsUp for (TypedValue, TypedValue) {
    fn add_up(&mut self, (earliest, latest): (TypedValue, TypedValue)) {
        *self = (self.0.min(earliest), self.1.max(latest));
    }
}

impl<T: AddsUp> AddsUp for Option<T> {
    fn add_up(&mut self, other: Option<T>) {
        match (self, other) {
            (Some(own), Some(other)) => own.add_up(other),
            (own @ None, other) => *own = other,
            (Some(_), None) => {}
        }
    }
}

impl<K: Ord, V: AddsUp> AddsUp for BTreeMap<K, V> {
    fn add_up(&mut self, other: BTreeMap<K, V>) {
        for (key, value) in other {
            match self.get_mut(&key) {
                Some(own) => own.add_up(value),
                None => {
                    self.insert(key, value);
                }
            }
        }
    }
}

impl<T: Ord> AddsUp for BTreeSet<T> {
    fn add_up(&mut self, other: BTreeSet<T>) {
        self.extend(other);
    }
}

/// What stands at the same place in both is added.
impl<T: AddsUp, const N: usize> AddsUp for [T; N] {
    fn add_up(&mut self, other: [T; N]) {
        self.iter_mut().zip(other).for_each(|(own, other)| own.add_up(other));
    }
}

/// The longer of both lists; what stands at the same place in both is added.
impl<T: AddsUp> AddsUp for Vec<T> {
    fn add_up(&mut self, other: Vec<T>) {
        let mut others = other.into_iter();
        self.iter_mut().zip(&mut others).for_each(|(own, other)| own.add_up(other));
        self.extend(others);
    }
}
