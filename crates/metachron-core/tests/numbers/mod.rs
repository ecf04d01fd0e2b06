//! Chance for tests: the same for the same seed. It shares no code with the crates.

/// SplitMix64.
pub struct Numbers(pub u64);

#[allow(dead_code)]
impl Numbers {
    pub fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        z ^ (z >> 31)
    }

    pub fn below(&mut self, limit: u64) -> u64 {
        self.next() % limit
    }

    pub fn up_to(&mut self, limit: usize) -> usize {
        self.below(limit as u64) as usize
    }

    pub fn one<T: Copy>(&mut self, of: &[T]) -> T {
        of[self.up_to(of.len())]
    }
}
