//! What tells a text from others by a few words of the machine: going through its bytes would take longer.

use super::hash::{quick_hash, stir};

/// The length of a text, and its bytes from both ends: all of them, if there are no more than [`WHOLE`].
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct TextKey {
    length: usize,
    first: u64,
    last: u64,
}

/// Bytes of the longest text that is told by its key alone.
const WHOLE: usize = 16;

impl TextKey {
    #[inline]
    pub(crate) fn of(bytes: &[u8]) -> TextKey {
        let length = bytes.len();
        if let (Some(first), Some(last)) = (bytes.first_chunk(), bytes.last_chunk()) {
            let [first, last] = [first, last].map(|own| u64::from_le_bytes(*own));
            return TextKey { length, first, last };
        }
        let first = match (bytes.first_chunk(), bytes.last_chunk()) {
            (Some(first), Some(last)) => {
                let [first, last] = [first, last].map(|own| u64::from(u32::from_le_bytes(*own)));
                first << 32 | last
            }
            _ => match bytes {
                [] => 0,
                [only] => (*only).into(),
                [first, .., last] => {
                    let bytes = [*first, bytes[length / 2], *last, 0];
                    u32::from_le_bytes(bytes).into()
                }
            },
        };
        TextKey { length, first, last: 0 }
    }

    /// Whether no other text has it.
    #[inline]
    pub(crate) fn is_whole(self) -> bool {
        self.length <= WHOLE
    }

    /// A hash of these bytes, whose key this is.
    #[inline]
    pub(crate) fn hash(self, bytes: &[u8]) -> u64 {
        match self.is_whole() {
            true => stir(stir(self.length as u64, self.first), self.last),
            false => quick_hash(bytes),
        }
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        #[test]
        fn short_texts_are_told_apart_by_their_keys(one in "[ab\0]{0,17}", other in "[ab\0]{0,17}") {
            let [key, other_key] = [&one, &other].map(|text| TextKey::of(text.as_bytes()));
            prop_assert_eq!(key.is_whole(), one.len() <= WHOLE);
            if key.is_whole() {
                prop_assert_eq!(key == other_key, one == other);
            }
            if one == other {
                prop_assert_eq!(key.hash(one.as_bytes()), other_key.hash(other.as_bytes()));
            }
        }
    }
}
