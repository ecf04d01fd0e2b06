//! Maps and sets of mostly one or two entries, of which a table may have millions: a sorted list takes a tenth of the
//! room of a tree.

use std::collections::{BTreeMap, BTreeSet, btree_set};
use std::slice;

use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::adds_up::AddsUp;

/// A map of few entries, sorted by key. Saved as a map.
///
/// ```
/// use metachron_core::evidence::Few;
/// let orders: Few<&str, u64> = [("mdy", 2), ("dmy", 1)].into_iter().collect();
/// assert_eq!(orders.get(&"dmy"), Some(&1));
/// assert_eq!(orders.iter().next(), Some((&"dmy", &1)));
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Few<K, V>(Vec<(K, V)>);

impl<K, V> Default for Few<K, V> {
    fn default() -> Few<K, V> {
        Few(Vec::new())
    }
}

impl<K: Ord, V> Few<K, V> {
    fn place(&self, key: &K) -> Result<usize, usize> {
        self.0.binary_search_by(|(own, _)| own.cmp(key))
    }

    /// The value of this key.
    pub fn get(&self, key: &K) -> Option<&V> {
        self.place(key).ok().map(|at| &self.0[at].1)
    }

    /// The entries, sorted by key.
    pub fn iter(&self) -> impl Iterator<Item = (&K, &V)> {
        self.0.iter().map(|(key, value)| (key, value))
    }

    /// The values.
    pub fn values(&self) -> impl Iterator<Item = &V> {
        self.0.iter().map(|(_, value)| value)
    }

    pub(super) fn values_mut(&mut self) -> impl Iterator<Item = &mut V> {
        self.0.iter_mut().map(|(_, value)| value)
    }

    /// The value of this key, which is made if there is none.
    pub(super) fn or_insert_with(&mut self, key: K, value: impl FnOnce() -> V) -> &mut V {
        let at = self.place(&key).unwrap_or_else(|at| {
            // Mostly it stays the only one.
            self.0.reserve_exact(usize::from(at == 0));
            self.0.insert(at, (key, value()));
            at
        });
        &mut self.0[at].1
    }
}

impl<K: Ord, V> FromIterator<(K, V)> for Few<K, V> {
    fn from_iter<I: IntoIterator<Item = (K, V)>>(entries: I) -> Few<K, V> {
        let mut few = Few::default();
        for (key, value) in entries {
            few.or_insert_with(key, || value);
        }
        few
    }
}

impl<K: Ord, V: AddsUp> AddsUp for Few<K, V> {
    fn add_up(&mut self, other: Few<K, V>) {
        for (key, value) in other.0 {
            match self.place(&key) {
                Ok(at) => self.0[at].1.add_up(value),
                Err(at) => self.0.insert(at, (key, value)),
            }
        }
    }
}

impl<K: Serialize, V: Serialize> Serialize for Few<K, V> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.0.iter().map(|(key, value)| (key, value)))
    }
}

impl<'de, K: Deserialize<'de> + Ord, V: Deserialize<'de>> Deserialize<'de> for Few<K, V> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Few<K, V>, D::Error> {
        // Not every list of entries is sorted: the tree sorts it.
        Ok(Few(BTreeMap::deserialize(deserializer)?.into_iter().collect()))
    }
}

/// Keys of which there are mostly few: a sorted list, and a tree once there are many. Saved as a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Keys<K> {
    /// At most [`MOST_FEW`].
    Few(Vec<K>),
    /// More of them.
    Many(BTreeSet<K>),
}

/// A list of so many keys is gone through as fast as a tree.
const MOST_FEW: usize = 256;

impl<K: Ord> Keys<K> {
    pub(super) const fn new() -> Keys<K> {
        Keys::Few(Vec::new())
    }

    pub(super) fn len(&self) -> usize {
        match self {
            Keys::Few(list) => list.len(),
            Keys::Many(tree) => tree.len(),
        }
    }

    pub(super) fn last(&self) -> Option<&K> {
        match self {
            Keys::Few(list) => list.last(),
            Keys::Many(tree) => tree.last(),
        }
    }

    /// Whether the key is new.
    pub(super) fn insert(&mut self, key: K) -> bool {
        match self {
            Keys::Many(tree) => tree.insert(key),
            Keys::Few(list) => {
                let Err(at) = list.binary_search(&key) else { return false };
                if list.len() < MOST_FEW {
                    list.reserve_exact(usize::from(list.is_empty()));
                    list.insert(at, key);
                } else {
                    let mut tree: BTreeSet<K> = std::mem::take(list).into_iter().collect();
                    tree.insert(key);
                    *self = Keys::Many(tree);
                }
                true
            }
        }
    }

    /// Inserts keys that are sorted, and of which no two are equal.
    pub(super) fn insert_all(&mut self, keys: &[K])
    where
        K: Copy,
    {
        match self {
            Keys::Few(list) if list.len() + keys.len() <= MOST_FEW => {
                let own = std::mem::take(list);
                list.reserve_exact(own.len() + keys.len());
                let mut others = keys.iter().copied().peekable();
                for key in own {
                    while let Some(other) = others.next_if(|other| *other < key) {
                        list.push(other);
                    }
                    others.next_if_eq(&key);
                    list.push(key);
                }
                list.extend(others);
            }
            _ => keys.iter().for_each(|key| {
                self.insert(*key);
            }),
        }
    }

    /// Forgets them all; a list keeps its room.
    pub(super) fn clear(&mut self) {
        match self {
            Keys::Few(list) => list.clear(),
            Keys::Many(_) => *self = Keys::new(),
        }
    }

    pub(super) fn pop_last(&mut self) {
        match self {
            Keys::Few(list) => {
                list.pop();
            }
            Keys::Many(tree) => {
                tree.pop_last();
                if tree.len() <= MOST_FEW {
                    *self = Keys::Few(std::mem::take(tree).into_iter().collect());
                }
            }
        }
    }

    pub(super) fn iter(&self) -> KeysIter<'_, K> {
        match self {
            Keys::Few(list) => KeysIter::Few(list.iter()),
            Keys::Many(tree) => KeysIter::Many(tree.iter()),
        }
    }
}

/// Goes through keys from the lowest to the highest.
pub(super) enum KeysIter<'k, K> {
    Few(slice::Iter<'k, K>),
    Many(btree_set::Iter<'k, K>),
}

impl<'k, K> Iterator for KeysIter<'k, K> {
    type Item = &'k K;

    fn next(&mut self) -> Option<&'k K> {
        match self {
            KeysIter::Few(list) => list.next(),
            KeysIter::Many(tree) => tree.next(),
        }
    }

    fn size_hint(&self) -> (usize, Option<usize>) {
        match self {
            KeysIter::Few(list) => list.size_hint(),
            KeysIter::Many(tree) => tree.size_hint(),
        }
    }
}

impl<K: Serialize + Ord> Serialize for Keys<K> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(self.iter())
    }
}

impl<'de, K: Deserialize<'de> + Ord> Deserialize<'de> for Keys<K> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Keys<K>, D::Error> {
        let tree = BTreeSet::deserialize(deserializer)?;
        Ok(if tree.len() > MOST_FEW {
            Keys::Many(tree)
        } else {
            Keys::Few(tree.into_iter().collect())
        })
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        /// However keys come and go, they are those of a tree, and equal keys are kept in the same way.
        #[test]
        fn keys_are_those_of_a_tree(steps in prop::collection::vec((0_u16..900, prop::bool::weighted(0.7)), 0..1_600)) {
            let (mut keys, mut tree) = (Keys::new(), BTreeSet::new());
            for (key, is_in) in steps {
                if is_in {
                    prop_assert_eq!(keys.insert(key), tree.insert(key));
                } else {
                    keys.pop_last();
                    tree.pop_last();
                }
                prop_assert!(keys.iter().eq(&tree) && keys.last() == tree.last());
                prop_assert_eq!(matches!(keys, Keys::Few(_)), tree.len() <= MOST_FEW);
            }
        }
    }
}
