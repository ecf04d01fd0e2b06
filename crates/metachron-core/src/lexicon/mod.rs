//! The words of a language that stand in dates and times.

mod english;

use std::fmt;

/// Before or after noon.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Half {
    /// From midnight to noon.
    Am,
    /// From noon to midnight.
    Pm,
}

/// What a word stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Meaning {
    /// The month with this number; whether the word is its full name, its short one, or both.
    Month(u8, Length),
    /// The day of the week with this number, Monday being 1 (ISO 8601-1).
    Weekday(u8, Length),
    /// A marker of a 12-hour clock.
    Half(Half),
    /// The ending of an ordinal number: `3rd`.
    Ordinal,
}

/// Which of its names a month or weekday is called by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Length {
    /// `January`, and no short name.
    Full,
    /// `Jan`, and no full name.
    Short,
    /// `May`.
    Either,
}

/// The words of one language.
///
/// ```
/// use metachron_core::lexicon::{Length, Lexicon, Meaning};
/// let lexicon = Lexicon::english();
/// assert_eq!(lexicon.look_up("APR"), Some(Meaning::Month(4, Length::Short)));
/// assert_eq!(lexicon.month(4, Length::Full), "April");
/// ```
#[derive(Clone)]
pub struct Lexicon {
    language: &'static str,
    /// Lower-case words with their meaning, sorted by word.
    words: &'static [(&'static str, Meaning)],
    months: &'static [(&'static str, &'static str); 12],
    weekdays: &'static [(&'static str, &'static str); 7],
}

impl fmt::Debug for Lexicon {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("Lexicon").field(&self.language).finish()
    }
}

impl Lexicon {
    /// The words of English.
    pub fn english() -> Lexicon {
        Lexicon {
            language: "en",
            words: &english::WORDS,
            months: &english::MONTHS,
            weekdays: &english::WEEKDAYS,
        }
    }

    /// The language's tag (BCP 47).
    pub fn language(&self) -> &'static str {
        self.language
    }

    /// What a word stands for, whatever its letters' case.
    pub fn look_up(&self, word: &str) -> Option<Meaning> {
        let mut lower = [0; 16];
        let lower = lower.get_mut(..word.len())?;
        lower.copy_from_slice(word.as_bytes());
        lower.make_ascii_lowercase();
        let found = self.words.binary_search_by(|(known, _)| known.as_bytes().cmp(lower));
        found.ok().map(|index| self.words[index].1)
    }

    /// The name of a month, 1 to 12.
    pub fn month(&self, number: u8, length: Length) -> &'static str {
        by_length(self.months[usize::from(number - 1) % 12], length)
    }

    /// The name of a day of the week, Monday being 1.
    pub fn weekday(&self, number: u8, length: Length) -> &'static str {
        by_length(self.weekdays[usize::from(number - 1) % 7], length)
    }

    /// The marker of a half of the day.
    pub fn half(&self, half: Half) -> &'static str {
        match half {
            Half::Am => "am",
            Half::Pm => "pm",
        }
    }

    /// The ending that makes a day's number an ordinal one: `st` for 21.
    pub fn ordinal_ending(&self, day: u8) -> &'static str {
        match (day / 10, day % 10) {
            (1, _) => "th",
            (_, 1) => "st",
            (_, 2) => "nd",
            (_, 3) => "rd",
            _ => "th",
        }
    }
}

fn by_length((full, short): (&'static str, &'static str), length: Length) -> &'static str {
    if length == Length::Short { short } else { full }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_sorted_and_unique() {
        assert!(english::WORDS.is_sorted_by(|a, b| a.0 < b.0));
        assert!(english::WORDS.iter().all(|(word, _)| *word == word.to_ascii_lowercase()));
    }

    #[test]
    fn every_name_is_a_word() {
        let lexicon = Lexicon::english();
        for length in [Length::Full, Length::Short] {
            for number in 1..=12 {
                let found = lexicon.look_up(lexicon.month(number, length));
                assert!(matches!(found, Some(Meaning::Month(n, _)) if n == number));
            }
            for number in 1..=7 {
                let found = lexicon.look_up(lexicon.weekday(number, length));
                assert!(matches!(found, Some(Meaning::Weekday(n, _)) if n == number));
            }
        }
        for half in [Half::Am, Half::Pm] {
            assert_eq!(lexicon.look_up(lexicon.half(half)), Some(Meaning::Half(half)));
        }
        for day in 1..=31 {
            assert_eq!(lexicon.look_up(lexicon.ordinal_ending(day)), Some(Meaning::Ordinal));
        }
    }

    #[test]
    fn ordinals() {
        let lexicon = Lexicon::english();
        let spelled: Vec<String> = [1, 2, 3, 4, 11, 12, 13, 21, 22, 23, 30, 31]
            .map(|day| format!("{day}{}", lexicon.ordinal_ending(day)))
            .to_vec();
        assert_eq!(spelled.join(" "), "1st 2nd 3rd 4th 11th 12th 13th 21st 22nd 23rd 30th 31st");
    }
}
