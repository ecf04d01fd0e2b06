//! Words that were looked for lately: a column has the same few in all of its rows.

use std::cell::RefCell;

use super::{FoundWord, Lexicon};
use crate::text::quick_hash;

/// Words that a thread remembers.
const WORDS: usize = 1_024;
/// Bytes of the longest of them, with what stands behind it.
const LONGEST: usize = 16;

/// A word of ASCII letters and the character behind it: what is found may hang on that, but not on what follows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Word {
    /// The letters, then the character behind them; 0 at the end of a text.
    bytes: [u8; LONGEST],
    letters: u8,
}

impl Word {
    /// The word at the beginning of a text, if it is one of those that are remembered.
    fn at(text: &str) -> Option<Word> {
        let letters = text.bytes().take_while(u8::is_ascii_alphabetic).count();
        let behind = text.as_bytes().get(letters).copied().unwrap_or(0);
        if letters == 0 || letters + 1 > LONGEST || !behind.is_ascii() {
            return None;
        }
        let mut bytes = [0; LONGEST];
        bytes[..letters].copy_from_slice(&text.as_bytes()[..letters]);
        bytes[letters] = behind;
        Some(Word { bytes, letters: letters as u8 })
    }
}

#[derive(Debug, Clone, Copy)]
struct Remembered {
    lexicon: Lexicon,
    word: Word,
    found: Option<FoundWord>,
}

thread_local! {
    static RECENT: RefCell<Vec<Option<Remembered>>> = RefCell::new(vec![None; WORDS]);
}

/// What stands at the beginning of a text: remembered, or else found by `find`, which also tells the place of the last
/// character that it has looked at.
pub(super) fn remembering(
    lexicon: Lexicon,
    text: &str,
    find: impl Fn() -> (Option<FoundWord>, usize),
) -> Option<FoundWord> {
    let Some(word) = Word::at(text) else { return find().0 };
    let place = quick_hash(&word.bytes) as usize % WORDS;
    let known = RECENT.with_borrow(|recent| recent[place]);
    if let Some(known) = known.filter(|known| known.word == word && known.lexicon == lexicon) {
        return known.found;
    }
    let (found, last) = find();
    if last <= usize::from(word.letters) {
        RECENT.with_borrow_mut(|recent| recent[place] = Some(Remembered { lexicon, word, found }));
    }
    found
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::super::{Length, Locale};
    use super::*;

    /// Names of languages whose words run on, and what may follow a word.
    fn parts() -> Vec<String> {
        let mut parts: Vec<String> = [
            " ", ".", "-", "3", "12", "a", "m", "a. m.", "PM", "p.m.", "of", "thu ", "Thu 2",
            "Chủ", "é", "月", "st", "T",
        ]
        .map(str::to_owned)
        .to_vec();
        for tag in ["en", "de", "vi", "pt-BR", "ga", "eu", "es", "cs"] {
            let lexicon = Locale::named(tag).map(Lexicon::of).unwrap_or(Lexicon::every());
            for length in [Length::Full, Length::Short] {
                parts.extend((1..=12).map(|month| lexicon.month(month, length, true).to_owned()));
                parts.extend((1..=7).map(|day| lexicon.weekday(day, length).to_owned()));
            }
        }
        parts
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(20_000))]

        #[test]
        fn what_is_remembered_is_what_is_found(
            chosen in prop::collection::vec(any::<prop::sample::Index>(), 1..5),
            tag in prop::sample::select(vec!["", "en", "vi", "de"]),
        ) {
            let parts = parts();
            let text: String = chosen.iter().map(|at| at.get(&parts).as_str()).collect();
            let lexicon = Locale::named(tag).map(Lexicon::of).unwrap_or(Lexicon::every());
            prop_assert_eq!(lexicon.find(&text), lexicon.find_anew(&text).0, "{:?}", text);
        }
    }
}
