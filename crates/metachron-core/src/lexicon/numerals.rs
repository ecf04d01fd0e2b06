//! Numbers in words, up to twelve, and halves: the few that people write before a unit of time, in English, German,
//! Norwegian and Danish, French, Spanish, Portuguese and Japanese (`numerals.txt`).

use std::collections::{BTreeSet, HashMap};
use std::sync::OnceLock;

use crate::text::{Accents, fold};

static TABLE: &str = include_str!("numerals.txt");

/// Bytes of the longest word.
const LONGEST: usize = 12;

/// What a word says: a number in decimal, and the languages in which it does.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct Numeral {
    meanings: Vec<(&'static str, BTreeSet<&'static str>)>,
}

impl Numeral {
    /// The number that it says in a language that has what `is_known` knows, and the languages of that number.
    pub fn where_known(
        &self,
        is_known: impl Fn(&str) -> bool,
    ) -> Option<(&'static str, &BTreeSet<&'static str>)> {
        let mut all = self.meanings.iter();
        let own = all.find(|(_, languages)| languages.iter().any(|own| is_known(own)))?;
        Some((own.0, &own.1))
    }

    /// Whether it says this number somewhere.
    pub fn says(&self, number: &str) -> bool {
        self.meanings.iter().any(|(own, _)| *own == number)
    }
}

/// The number that a word says, in any case.
pub(crate) fn numeral(word: &str) -> Option<&'static Numeral> {
    static WORDS: OnceLock<HashMap<String, Numeral>> = OnceLock::new();
    if word.is_empty() || word.len() > LONGEST {
        return None;
    }
    let words = WORDS.get_or_init(|| {
        let mut words: HashMap<String, Numeral> = HashMap::new();
        for line in TABLE.lines().filter(|line| !line.starts_with('#')) {
            let Some((said, own)) = line.split_once(": ") else { continue };
            let Some((languages, number)) = said.rsplit_once(' ') else { continue };
            for word in own.split(' ') {
                let entry = words.entry(fold(word, Accents::Kept)).or_default();
                entry.meanings.push((number, languages.split(' ').collect()));
            }
        }
        words
    });
    if !word.is_ascii() {
        return words.get(fold(word, Accents::Kept).as_str());
    }
    // Nearly every text begins with such a word: it is looked up without allocating.
    let mut lower = [0; LONGEST];
    let lower = lower.get_mut(..word.len())?;
    lower.copy_from_slice(word.as_bytes());
    lower.make_ascii_lowercase();
    words.get(std::str::from_utf8(lower).ok()?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_say_numbers_in_their_languages() {
        let says = |word: &str, language: &str| {
            numeral(word).and_then(|own| Some(own.where_known(|own| own == language)?.0))
        };
        assert_eq!(says("Two", "en"), Some("2"));
        assert_eq!(says("six", "fr"), Some("6"));
        assert_eq!(says("six", "en"), Some("6"));
        assert_eq!(says("en", "nb"), Some("1"));
        assert_eq!(says("onze", "pt"), Some("11"));
        assert_eq!(says("ÅTTE", "nb"), Some("8"));
        assert_eq!(says("半", "ja"), Some("0.5"));
        assert_eq!(says("to", "en"), None);
        assert_eq!(numeral("thirteen"), None);
        let lines = TABLE.lines().filter(|line| !line.starts_with('#'));
        let longest = lines.flat_map(str::split_whitespace).map(str::len).max();
        assert!(longest.is_some_and(|longest| longest <= LONGEST), "{longest:?}");
    }
}
