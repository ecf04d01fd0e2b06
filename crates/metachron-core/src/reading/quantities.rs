//! The number before a unit of time: in digits, with a fraction or a half, or in words.

use std::borrow::Cow;

use crate::lexicon::{UnitWord, numeral, runs_on};

/// A number as it stands before a unit.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Quantity<'v> {
    /// The number in decimal, with the marks that it is written with; none where its first word says it, which depends on
    /// the language, and so on the unit.
    number: Option<Cow<'v, str>>,
    /// The marks among its digits.
    pub marks: NumberMarks,
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
        return Some(in_digits(Cow::Owned(format!("0.{digits}")), length));
    }
    let Some(number) = number(text) else { return in_words(text) };
    let marks = NumberMarks::of(number);
    let whole = Quantity { marks, ..in_digits(Cow::Borrowed(number), number.len()) };
    if marks != NumberMarks::None {
        return Some(whole);
    }
    let behind = &text[number.len()..];
    let spaces = behind.len() - behind.trim_start_matches(' ').len();
    if let Some((digits, length)) = fraction(&behind[spaces..]) {
        let number = Cow::Owned(format!("{number}.{digits}"));
        return Some(in_digits(number, whole.length + spaces + length));
    }
    Some(match half_behind(behind) {
        Some((length, words)) => {
            let number = Cow::Owned(format!("{number}.5"));
            Quantity { words, ..in_digits(number, whole.length + length) }
        }
        None => whole,
    })
}

fn in_digits(number: Cow<'_, str>, length: usize) -> Quantity<'_> {
    Quantity { number: Some(number), marks: NumberMarks::None, length, words: Vec::new() }
}

/// A number in words, such as `two and a half`, `half a`, `une demi-`.
fn in_words(text: &str) -> Option<Quantity<'_>> {
    let first = word(text)?;
    let said = numeral(first)?;
    let at = first.len() + gap(&text[first.len()..]);
    let second = word(&text[at..]);
    let with_second = |is_own: &str| second.filter(|own| says(own, is_own));
    let (number, length, others) = match (with_second(ONE), with_second(HALF)) {
        (Some(article), _) if said.says(HALF) => (Some(HALF), at + article.len(), vec![article]),
        _ if said.says(HALF) => (Some(HALF), first.len(), Vec::new()),
        (_, Some(half)) if said.says(ONE) => (Some(HALF), at + half.len(), vec![half]),
        _ => {
            let (more, words) = half_behind(&text[first.len()..]).unwrap_or_default();
            (None, first.len() + more, words)
        }
    };
    let words = std::iter::once(first).chain(others).collect();
    let number = number.map(Cow::Borrowed);
    Some(Quantity { number, marks: NumberMarks::None, length, words })
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

/// Whether a word is a number.
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
        let Some((first, others)) = self.words.split_first() else { return self.number.clone() };
        let (said, languages) = numeral(first)?.where_known(|language| unit.is_in(language))?;
        let share = |own: &&str| {
            numeral(own).is_some_and(|own| own.where_known(|own| languages.contains(own)).is_some())
        };
        others.iter().all(share).then_some(())?;
        Some(match (&self.number, others) {
            (Some(number), _) => number.clone(),
            (None, []) => Cow::Borrowed(said),
            // The others are those of a half.
            (None, _) => Cow::Owned(format!("{said}.5")),
        })
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

/// What the marks inside a number are.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum NumberMarks {
    /// There are none.
    None,
    /// One, and it is the decimal mark.
    Decimal(char),
    /// This one stands between thousands, for there are several or another one stands behind it.
    Thousands(char),
    /// One with three digits behind it: either.
    Unclear(char),
    /// They are of no number.
    Wrong,
}

impl NumberMarks {
    pub(crate) fn of(number: &str) -> NumberMarks {
        let marks = || number.match_indices(['.', ',']).map(|(_, mark)| mark);
        let Some(first) = marks().next().and_then(|mark| mark.chars().next()) else {
            return NumberMarks::None;
        };
        let count = marks().count();
        // The whole number, if the first mark stands between its thousands.
        let end = number.find(|c: char| matches!(c, '.' | ',') && c != first);
        let mut groups = number[..end.unwrap_or(number.len())].split(first);
        let begins = groups.next().is_some_and(|own| (1..=3).contains(&own.len()) && own != "0");
        let are_thousands = begins && groups.all(|own| own.len() == 3);
        match (count, are_thousands) {
            (1, true) => NumberMarks::Unclear(first),
            (1, false) => NumberMarks::Decimal(first),
            (_, true) if end.is_none_or(|end| !number[end + 1..].contains(['.', ','])) => {
                NumberMarks::Thousands(first)
            }
            _ => NumberMarks::Wrong,
        }
    }
}
