//! Finds what is kept in a list by its bytes, at once.

use super::hash::quick_hash;

/// Of each thing in a list, half of its hash and its number, counted from one, in the place of the low bits or behind
/// it; half of the places at least are free. Their number is a power of two, or none yet.
#[derive(Debug, Clone, Default)]
pub(crate) struct Places {
    places: Vec<(u32, u32)>,
    taken: usize,
}

/// Places that there are at first.
const FEW: usize = 16;

impl Places {
    /// The number in its list of what has these bytes, if it is there.
    pub(crate) fn find(&self, bytes: &[u8], is_it: impl Fn(usize) -> bool) -> Option<usize> {
        let last = self.places.len().checked_sub(1)?;
        let half = half(bytes);
        let mut place = half as usize & last;
        loop {
            let (other, number) = self.places[place];
            let at = number.checked_sub(1)? as usize;
            if other == half && is_it(at) {
                return Some(at);
            }
            place = (place + 1) & last;
        }
    }

    /// Notes that what has these bytes is there now, with this number.
    pub(crate) fn add(&mut self, bytes: &[u8], at: usize) {
        if 2 * (self.taken + 1) > self.places.len() {
            let room = (4 * self.places.len()).max(FEW);
            let before = std::mem::replace(&mut self.places, vec![(0, 0); room]);
            before.into_iter().filter(|(_, number)| *number > 0).for_each(|own| self.put(own));
        }
        self.taken += 1;
        self.put((half(bytes), at as u32 + 1));
    }

    fn put(&mut self, own: (u32, u32)) {
        let last = self.places.len() - 1;
        let mut place = own.0 as usize & last;
        while self.places[place].1 > 0 {
            place = (place + 1) & last;
        }
        self.places[place] = own;
    }

    /// Nothing is there any more.
    pub(crate) fn clear(&mut self) {
        self.places.fill((0, 0));
        self.taken = 0;
    }

    /// About how many bytes they take.
    pub(crate) fn weight(&self) -> usize {
        self.places.len() * size_of::<(u32, u32)>()
    }
}

/// The low half of the hash: its bits are as good as any.
fn half(bytes: &[u8]) -> u32 {
    quick_hash(bytes) as u32
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_of_many_is_found_and_nothing_else() {
        let (mut places, mut texts) = (Places::default(), Vec::new());
        for round in 0..2 {
            for number in 0..5_000 {
                let text = format!("net {}", number * 7);
                let is_it = |at: usize| texts[at] == text;
                assert_eq!(places.find(text.as_bytes(), is_it), None, "{round}");
                places.add(text.as_bytes(), texts.len());
                texts.push(text);
            }
            for (at, text) in texts.iter().enumerate() {
                assert_eq!(places.find(text.as_bytes(), |own| texts[own] == *text), Some(at));
            }
            places.clear();
            texts.clear();
        }
    }
}
