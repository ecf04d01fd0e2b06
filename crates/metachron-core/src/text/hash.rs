//! A hash that is the same on every machine and in every run.

use std::hash::Hasher;

/// FNV-1a, 64 bits (Fowler, Noll, Vo 1991; draft-eastlake-fnv).
pub fn fnv1a(bytes: impl AsRef<[u8]>) -> u64 {
    const BASIS: u64 = 0xcbf2_9ce4_8422_2325;
    const PRIME: u64 = 0x0100_0000_01b3;
    bytes.as_ref().iter().fold(BASIS, |hash, byte| (hash ^ u64::from(*byte)).wrapping_mul(PRIME))
}

/// Stirs eight bytes into a hash by a product (Knuth, The Art of Computer Programming, volume 3, 6.4). Two that differ in
/// one of the two alone never come to the same.
///
/// ```
/// use metachron_core::text::stir;
/// assert_ne!(stir(stir(0, 1), 2), stir(stir(0, 2), 1));
/// ```
#[inline]
pub fn stir(hash: u64, lot: u64) -> u64 {
    const FACTOR: u64 = 0x9E37_79B9_7F4A_7C15;
    let product = (hash ^ lot).wrapping_mul(FACTOR);
    product ^ (product >> 32)
}

/// Stirs what is hashed, for maps that are kept nowhere.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Stirring(u64);

impl Hasher for Stirring {
    fn write(&mut self, bytes: &[u8]) {
        self.0 = stir(self.0, quick_hash(bytes));
    }

    fn write_u8(&mut self, own: u8) {
        self.write_u64(own.into());
    }

    fn write_u16(&mut self, own: u16) {
        self.write_u64(own.into());
    }

    fn write_u32(&mut self, own: u32) {
        self.write_u64(own.into());
    }

    fn write_usize(&mut self, own: usize) {
        self.write_u64(own as u64);
    }

    fn write_u64(&mut self, own: u64) {
        self.0 = stir(self.0, own);
    }

    fn finish(&self) -> u64 {
        // Maps take their places from the low bits, and what they compare first from the high ones.
        self.0 ^ self.0.rotate_left(32)
    }
}

/// A hash that is made quickly and kept nowhere, for places in a table: its low bits are as good as any.
pub(crate) fn quick_hash(bytes: &[u8]) -> u64 {
    let length = bytes.len() as u64;
    // The last lot may have some bytes of the one before it once more.
    if let Some(last) = bytes.last_chunk::<8>() {
        let lots = bytes[..bytes.len() - 1].as_chunks::<8>().0;
        let hash = lots.iter().fold(length, |hash, lot| stir(hash, u64::from_le_bytes(*lot)));
        return stir(hash, u64::from_le_bytes(*last));
    }
    let lot = match (bytes.first_chunk::<4>(), bytes.last_chunk::<4>()) {
        (Some(first), Some(last)) => {
            u64::from(u32::from_le_bytes(*first)) << 32 | u64::from(u32::from_le_bytes(*last))
        }
        _ => bytes.iter().fold(0, |lot, byte| lot << 8 | u64::from(*byte)),
    };
    stir(length, lot)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn as_others_compute_it() {
        for (text, hash) in [
            ("", 0xcbf2_9ce4_8422_2325),
            ("a", 0xaf63_dc4c_8601_ec8c),
            ("foobar", 0x8594_4171_f739_67e8),
        ] {
            assert_eq!(fnv1a(text), hash, "{text:?}");
        }
    }
}
