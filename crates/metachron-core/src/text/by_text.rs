//! What is remembered of texts.

use super::{Places, ShortText, TextKey};

/// Things that are found again by their texts, in the order in which they came. Only short texts are remembered.
///
/// ```
/// use metachron_core::text::ByText;
/// let mut nets = ByText::default();
/// let at = nets.add("net 7", 12.5).unwrap();
/// assert_eq!((nets.find("net 7"), nets.find("net 8")), (Some(at), None));
/// assert_eq!(nets[at], 12.5);
/// assert_eq!(nets.iter_mut().map(|(text, _)| text.to_owned()).collect::<Vec<_>>(), ["net 7"]);
/// ```
#[derive(Debug, Clone)]
pub struct ByText<T> {
    all: Vec<T>,
    /// Their texts, which are hardly asked for.
    texts: Vec<ShortText>,
    places: Places,
}

impl<T> Default for ByText<T> {
    fn default() -> ByText<T> {
        ByText { all: Vec::new(), texts: Vec::new(), places: Places::default() }
    }
}

impl<T> ByText<T> {
    /// The number of what has this text.
    pub fn find(&self, text: &str) -> Option<usize> {
        self.find_bytes(text.as_bytes())
    }

    /// The same of a text that is short.
    pub(crate) fn find_short(&self, text: ShortText) -> Option<usize> {
        self.find_bytes(text.bytes())
    }

    fn find_bytes(&self, bytes: &[u8]) -> Option<usize> {
        self.places.find(TextKey::of(bytes), bytes, |at| self.texts[at].bytes())
    }

    /// Adds what has a text that is not there yet; gives back its number, or it itself where the text is too long.
    ///
    /// # Errors
    /// The text is too long.
    pub fn add(&mut self, text: &str, own: T) -> Result<usize, T> {
        match ShortText::of(text) {
            Some(short) => Ok(self.add_short(short, own)),
            None => Err(own),
        }
    }

    /// The same with a text that is short.
    pub(crate) fn add_short(&mut self, text: ShortText, own: T) -> usize {
        let at = self.all.len();
        self.places.add(text.bytes());
        self.all.push(own);
        self.texts.push(text);
        at
    }

    /// The text of this number.
    pub(crate) fn text(&self, at: usize) -> &str {
        self.texts[at].text()
    }

    /// What has this number, if there is such.
    pub(crate) fn get_mut(&mut self, at: usize) -> Option<&mut T> {
        self.all.get_mut(at)
    }

    /// About how many bytes they take.
    pub(crate) fn weight(&self) -> usize {
        self.all.capacity() * (size_of::<ShortText>() + size_of::<T>()) + self.places.weight()
    }

    /// All of them, each with its text.
    pub fn iter_mut(&mut self) -> impl Iterator<Item = (&str, &mut T)> {
        self.texts.iter().map(ShortText::text).zip(&mut self.all)
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.all.len()
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }

    /// Forgets them all.
    pub fn clear(&mut self) {
        self.all.clear();
        self.texts.clear();
        self.places.clear();
    }
}

impl<T> std::ops::Index<usize> for ByText<T> {
    type Output = T;

    fn index(&self, at: usize) -> &T {
        &self.all[at]
    }
}

impl<T> std::ops::IndexMut<usize> for ByText<T> {
    fn index_mut(&mut self, at: usize) -> &mut T {
        &mut self.all[at]
    }
}
