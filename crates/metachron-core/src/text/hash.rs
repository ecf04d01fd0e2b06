//! A hash that is the same on every machine and in every run.

/// FNV-1a, 64 bits (Fowler, Noll, Vo 1991; draft-eastlake-fnv).
pub fn fnv1a(bytes: impl AsRef<[u8]>) -> u64 {
    const BASIS: u64 = 0xcbf2_9ce4_8422_2325;
    const PRIME: u64 = 0x0100_0000_01b3;
    bytes.as_ref().iter().fold(BASIS, |hash, byte| (hash ^ u64::from(*byte)).wrapping_mul(PRIME))
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
