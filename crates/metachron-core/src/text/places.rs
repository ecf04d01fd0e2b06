//! Finds what is kept in a list by its bytes, at once.

use super::key::TextKey;

/// What the things of a list are found by. Of each there is half of its hash and its number, counted from one, in the
/// place of the low bits or behind it; half of the places at least are free. Their number is a power of two, or none yet.
#[derive(Debug, Clone, Default)]
pub(crate) struct Places {
    places: Vec<(u32, u32)>,
    /// The keys of the things in the list, in its order.
    keys: Vec<TextKey>,
}

/// Places that there are at first.
const FEW: usize = 16;

impl Places {
    /// The number in the list of what has these bytes, whose key this is, if it is there; those of a thing in the list are
    /// asked for where a key does not tell.
    #[inline]
    pub(crate) fn find<'k>(
        &self,
        key: TextKey,
        bytes: &[u8],
        bytes_of: impl Fn(usize) -> &'k [u8],
    ) -> Option<usize> {
        let last = self.places.len().checked_sub(1)?;
        let half = key.hash(bytes) as u32;
        let mut place = half as usize & last;
        loop {
            let (other, number) = self.places[place];
            let at = number.checked_sub(1)? as usize;
            if other == half && self.keys[at] == key && (key.is_whole() || bytes_of(at) == bytes) {
                return Some(at);
            }
            place = (place + 1) & last;
        }
    }

    /// Notes that a thing with these bytes is added to the list, at its end.
    pub(crate) fn add(&mut self, bytes: &[u8]) {
        if 2 * (self.keys.len() + 1) > self.places.len() {
            let room = (4 * self.places.len()).max(FEW);
            let before = std::mem::replace(&mut self.places, vec![(0, 0); room]);
            before.into_iter().filter(|(_, number)| *number > 0).for_each(|own| self.put(own));
        }
        let key = TextKey::of(bytes);
        self.keys.push(key);
        self.put((key.hash(bytes) as u32, self.keys.len() as u32));
    }

    fn put(&mut self, own: (u32, u32)) {
        let last = self.places.len() - 1;
        let mut place = own.0 as usize & last;
        while self.places[place].1 > 0 {
            place = (place + 1) & last;
        }
        self.places[place] = own;
    }

    /// The list is empty again.
    pub(crate) fn clear(&mut self) {
        self.places.fill((0, 0));
        self.keys.clear();
    }

    /// About how many bytes they take.
    pub(crate) fn weight(&self) -> usize {
        self.places.len() * size_of::<(u32, u32)>() + self.keys.capacity() * size_of::<TextKey>()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn find(places: &Places, texts: &[String], text: &str) -> Option<usize> {
        let bytes = text.as_bytes();
        places.find(TextKey::of(bytes), bytes, |at| texts[at].as_bytes())
    }

    #[test]
    fn each_of_many_is_found_and_nothing_else() {
        let (mut places, mut texts) = (Places::default(), Vec::<String>::new());
        for round in 0..2 {
            for number in 0..5_000 {
                let text = match number % 2 {
                    0 => format!("net {}", number * 7),
                    _ => format!("the net of number {} at Skarholm", number * 7),
                };
                assert_eq!(find(&places, &texts, &text), None, "{round}");
                places.add(text.as_bytes());
                texts.push(text);
            }
            for (at, text) in texts.iter().enumerate() {
                assert_eq!(find(&places, &texts, text), Some(at));
            }
            places.clear();
            texts.clear();
        }
    }
}
