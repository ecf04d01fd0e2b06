//! The number before a unit of time: in digits, with a fraction or a half, or in words.

use std::borrow::Cow;

use crate::lexicon::{UnitWord, numeral, runs_on};

/// A number as it stands before a unit.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Quantity<'v> {
    /// The number in decimal, with the marks that it is written with.
    pub number: Cow<'v, str>,
    /// The bytes that it takes.
    pub length: usize,
    /// Its words, if it is written in some: the unit is of a language that has them.
    words: Vec<&'v str>,
}

/// Words that stand between amounts. Source: CLDR 48.2, list patterns.
pub(super) const JOINS: [&str; 27] = [
    "and", "und", "et", "y", "e", "i", "og", "och", "en", "ja", "ve", "и", "і", "a", "és", "și",
    "και", "dan", "và", "&", "+", "و", "और", "및", "un", "ir", "in",
];

const HALF: &str = "0.5";
const ONE: &str = "1";
/// Fractions of one character, and those with a stroke.
const FRACTIONS: [(&str, &str); 6] =
    [("½", "5"), ("¼", "25"), ("¾", "75"), ("1/2", "5"), ("1/4", "25"), ("3/4", "75")];

/// The number at the beginning of a text.
pub(crate) fn quantity(text: &str) -> Option<Quantity<'_>> {
    if let Some((digits, length)) = fraction(text) {
        let number = Cow::Owned(format!("0.{digits}"));
        return Some(Quantity { number, length, words: Vec::new() });
    }
    if let Some(number) = number(text) {
        let is_whole = number.bytes().all(|byte| byte.is_ascii_digit());
        let behind = &text[number.len()..];
        let spaces = behind.len() - behind.trim_start_matches(' ').len();
        let (more, words) = match fraction(&behind[spaces..]) {
            _ if !is_whole => (None, Vec::new()),
            Some((digits, length)) => (Some((digits, spaces + length)), Vec::new()),
            None => match half_behind(behind) {
                Some((length, words)) => (Some(("5", length)), words),
                None => (None, Vec::new()),
            },
        };
        return Some(match more {
            Some((digits, length)) => Quantity {
                number: Cow::Owned(format!("{number}.{digits}")),
                length: number.len() + length,
                words,
            },
            None => Quantity { number: Cow::Borrowed(number), length: number.len(), words },
        });
    }
    in_words(text)
}

/// A number in words, such as `two and a half`, `half a`, `une demi-`.
fn in_words(text: &str) -> Option<Quantity<'_>> {
    let first = word(text)?;
    let said = numeral(first)?;
    let mut own = Quantity { number: Cow::Borrowed(ONE), length: first.len(), words: vec![first] };
    let next = |own: &Quantity<'_>| {
        let at = own.length + gap(&text[own.length..]);
        word(&text[at..]).map(|word| (word, at + word.len()))
    };
    if said.says(HALF) {
        own.number = Cow::Borrowed(HALF);
        if let Some((article, end)) = next(&own).filter(|(own, _)| says(own, ONE)) {
            (own.length, own.words) = (end, vec![first, article]);
        }
        return Some(own);
    }
    if said.says(ONE)
        && let Some((half, end)) = next(&own).filter(|(own, _)| says(own, HALF))
    {
        (own.number, own.length, own.words) = (Cow::Borrowed(HALF), end, vec![first, half]);
        return Some(own);
    }
    // Which number it is depends on the language, and so on the unit.
    own.number = Cow::Borrowed("");
    if let Some((length, words)) = half_behind(&text[own.length..]) {
        own.length += length;
        own.words.extend(words);
    }
    Some(own)
}

/// Whether a text begins with a number in words, or with a fraction.
pub(crate) fn begins_in_words(text: &str) -> bool {
    match text.chars().next() {
        Some(first) if first.is_alphabetic() => {
            word(text).is_some_and(|own| numeral(own).is_some())
        }
        Some(first) => !first.is_ascii() && fraction(text).is_some(),
        None => false,
    }
}

/// Whether a word is a number, or joins one to its half.
pub(crate) fn is_numeral(word: &str) -> bool {
    numeral(word).is_some()
}

fn says(word: &str, number: &str) -> bool {
    numeral(word).is_some_and(|own| own.says(number))
}

/// `and a half`, `og en halv`, `y media`: its bytes, with the spaces before it, and its words.
pub(crate) fn half_behind(text: &str) -> Option<(usize, Vec<&str>)> {
    let mut at = gap(text);
    let join = word(&text[at..]).filter(|word| JOINS.contains(word))?;
    at += join.len();
    at += gap(&text[at..]);
    let mut words = Vec::new();
    let mut own = word(&text[at..])?;
    if says(own, ONE) {
        words.push(own);
        at += own.len();
        at += gap(&text[at..]);
        own = word(&text[at..])?;
    }
    words.push(own);
    says(own, HALF).then_some((at + own.len(), words))
}

impl<'v> Quantity<'v> {
    /// The number, before a unit of this word; none if they are of different languages.
    pub fn before(&self, unit: &UnitWord) -> Option<Cow<'v, str>> {
        let Some((first, others)) = self.words.split_first() else {
            return Some(self.number.clone());
        };
        let (number, languages) = numeral(first)?.where_known(|language| unit.is_in(language))?;
        let share = |own: &&str| {
            numeral(own).is_some_and(|own| own.where_known(|own| languages.contains(own)).is_some())
        };
        others.iter().all(share).then_some(())?;
        Some(Cow::Owned(match (&*self.number, others) {
            ("", []) => number.to_owned(),
            ("", _) => format!("{number}.5"),
            (own, _) => own.to_owned(),
        }))
    }

    /// Whether it is written in words.
    pub fn is_in_words(&self) -> bool {
        !self.words.is_empty()
    }
}

/// The bytes of spaces and hyphens.
fn gap(text: &str) -> usize {
    text.len() - text.trim_start_matches([' ', '-']).len()
}

/// The first word; where words are not set apart, the longest number in words.
fn word(text: &str) -> Option<&str> {
    let first = text.chars().next().filter(|c| c.is_alphabetic())?;
    if !runs_on(first) {
        let end = text.find(|c: char| !c.is_alphabetic()).unwrap_or(text.len());
        return Some(&text[..end]);
    }
    let one = first.len_utf8();
    let two = text[one..].chars().next().map(|second| one + second.len_utf8());
    let longest = two.map(|two| &text[..two]).filter(|own| numeral(own).is_some());
    longest.or(Some(&text[..one]))
}

/// A fraction: its decimal digits, and its bytes.
fn fraction(text: &str) -> Option<(&'static str, usize)> {
    let goes_on =
        |length: usize| text[length..].starts_with(|c: char| c.is_ascii_digit() || c == '/');
    let mut all = FRACTIONS.iter().filter(|(own, _)| text.starts_with(own) && !goes_on(own.len()));
    all.next().map(|(own, digits)| (*digits, own.len()))
}

/// The number at the beginning of a text in digits, with the marks inside it.
pub(super) fn number(text: &str) -> Option<&str> {
    let is_part = |c: char| c.is_ascii_digit() || c == '.' || c == ',';
    let end = text.find(|c| !is_part(c)).unwrap_or(text.len());
    // A mark at the end belongs to what follows.
    let number = text[..end].trim_end_matches(['.', ',']);
    // Points between several numbers are those of a date.
    let is_one = number.matches('.').count() < 2;
    let begins = number.starts_with(|c: char| c.is_ascii_digit())
        || (number.len() > 1 && number.starts_with('.'));
    (begins && is_one).then_some(number)
}
