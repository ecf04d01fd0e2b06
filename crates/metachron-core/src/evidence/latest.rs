//! Hashes that were seen lately: of what comes in every row, most came before.

/// Hashes but 0, each in the place of its low bits: a few places at first, and more where many things are kept. There are as
/// many places as a power of two.
#[derive(Debug)]
pub(super) struct LatestHashes(Vec<u64>);

/// Places at first.
const FEW: usize = 8;

impl Default for LatestHashes {
    fn default() -> LatestHashes {
        LatestHashes(vec![0; FEW])
    }
}

impl LatestHashes {
    /// Whether a hash was seen since another one was in its place; then it is there.
    pub(super) fn meet(&mut self, hash: u64) -> bool {
        let mask = self.0.len() - 1;
        let latest = &mut self.0[hash as usize & mask];
        let was_there = *latest == hash;
        *latest = hash;
        was_there
    }

    /// Has twice as many places as so many things, or more: then few of them share one. Others may be forgotten.
    pub(super) fn fit(&mut self, kept: usize) {
        let places = self.0.len();
        if kept > (places - 1) / 2 {
            self.0.clear();
            self.0.resize(4 * places, 0);
        }
    }

    /// About how many bytes they take, apart from their own size.
    pub(super) fn weight(&self) -> usize {
        size_of::<u64>() * self.0.capacity()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_has_a_place_of_its_own_is_met_again() {
        let mut latest = LatestHashes::default();
        for kept in 1..=500 {
            latest.fit(kept);
        }
        assert!((1..=500).all(|hash| !latest.meet(hash)));
        assert!((1..=500).all(|hash| latest.meet(hash)));
        // One of two in the same place is forgotten.
        let other = 1 + (1 << 40);
        assert!(!latest.meet(other) && !latest.meet(1) && latest.meet(1));
    }
}
