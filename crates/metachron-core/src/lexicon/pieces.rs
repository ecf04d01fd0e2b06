//! Cuts a normalised value into digits, words that the lexicon may know, and what stands between.

use super::{FoundWord, Half, Lexicon, Locale, Senses, blob};
use crate::text::{Accents, TokenKind, fold, tokens};

/// What a piece of a value is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PieceKind {
    /// ASCII digits.
    Digits,
    /// A word with what it can stand for.
    Name(Senses),
    /// A word that stands between the fields of dates in some language: `de`, `年`.
    Connector,
    /// Such a word of one letter right beside digits, where it connects nothing: a typing error, or a unit.
    Stray,
    /// Any other letters.
    Word,
    /// A run of white space.
    Space,
    /// One character that is none of these.
    Mark,
}

/// A piece of a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Piece<'a> {
    /// What it is.
    pub kind: PieceKind,
    /// The piece itself.
    pub text: &'a str,
}

/// The pieces of a normalised value, from left to right; joined, they are the value again.
///
/// ```
/// use metachron_core::lexicon::{Lexicon, PieceKind, pieces};
/// let texts: Vec<&str> = pieces("3 de abril", Lexicon::every()).map(|piece| piece.text).collect();
/// assert_eq!(texts, ["3", " ", "de", " ", "abril"]);
/// let names = pieces("5 tháng 3, 2024", Lexicon::every());
/// assert_eq!(names.filter(|piece| matches!(piece.kind, PieceKind::Name(_))).count(), 1);
/// ```
pub fn pieces(value: &str, lexicon: Lexicon) -> impl Iterator<Item = Piece<'_>> {
    let mut rest = value;
    let (mut before, mut behind_era) = (Before::Nothing, false);
    std::iter::from_fn(move || {
        let token = tokens(rest).next()?;
        let (kind, length) = match token.kind {
            // The first year of an era has a character of its own.
            TokenKind::Word if behind_era && rest.starts_with('元') => {
                (PieceKind::Digits, '元'.len_utf8())
            }
            TokenKind::Digits => (PieceKind::Digits, token.text.len()),
            TokenKind::Space => (PieceKind::Space, token.text.len()),
            TokenKind::Mark => (PieceKind::Mark, token.text.len()),
            TokenKind::Word if is_half_alone(value, rest, token.text, lexicon) => {
                let half = letter_of_half(token.text);
                (PieceKind::Name(Senses { half, ..Senses::default() }), token.text.len())
            }
            TokenKind::Word => word(rest, token.text, before, lexicon),
        };
        before = match kind {
            PieceKind::Digits => Before::Digits(length),
            _ => Before::Other,
        };
        behind_era = matches!(kind, PieceKind::Name(senses) if senses.era.is_some());
        let (text, after) = rest.split_at(length);
        rest = after;
        Some(Piece { kind, text })
    })
}

/// What a letter alone is behind a clock: `9:15 A`, `12:30p`.
///
/// ```
/// use metachron_core::lexicon::{Half, letter_of_half};
/// assert_eq!(letter_of_half("P"), Some(Half::Pm));
/// assert_eq!(letter_of_half("X"), None);
/// ```
pub fn letter_of_half(word: &str) -> Option<Half> {
    match word {
        "A" | "a" => Some(Half::Am),
        "P" | "p" => Some(Half::Pm),
        _ => None,
    }
}

/// Whether a letter behind a clock says the half of the day by itself, and does not begin a longer marker such as
/// `p. m.`.
fn is_half_alone(value: &str, rest: &str, letters: &str, lexicon: Lexicon) -> bool {
    let longer = || lexicon.find(rest).is_some_and(|found| found.senses.half.is_some());
    let before = &value[..value.len() - rest.len()];
    letter_of_half(letters).is_some() && ends_in_a_clock(before) && !longer()
}

/// Whether a text ends in a colon and digits, and perhaps white space.
fn ends_in_a_clock(text: &str) -> bool {
    let minutes = text.trim_end();
    let hours = minutes.trim_end_matches(|c: char| c.is_ascii_digit());
    hours.len() < minutes.len() && hours.ends_with(':')
}

/// The names of months and weekdays in a normalised value.
///
/// ```
/// use metachron_core::lexicon::{Lexicon, names};
/// let found: Vec<&str> = names("Wed, 3 April 2024", Lexicon::english()).map(|(name, _)| name).collect();
/// assert_eq!(found, ["Wed", "April"]);
/// ```
pub fn names(value: &str, lexicon: Lexicon) -> impl Iterator<Item = (&str, Senses)> {
    pieces(value, lexicon).filter_map(|piece| match piece.kind {
        PieceKind::Name(senses) if senses.is_month() || senses.is_weekday() => {
            Some((piece.text, senses))
        }
        _ => None,
    })
}

/// Whether all normalised values that differ from this one in their digits alone have the same names.
pub(crate) fn names_are_for_all_digits(value: &str, lexicon: Lexicon) -> bool {
    let begins = |(at, c): &(usize, char)| {
        let before = value[..*at].chars().next_back();
        c.is_alphabetic()
            && before.is_none_or(|before| !before.is_ascii_alphabetic() || !c.is_ascii())
    };
    !value.char_indices().filter(begins).any(|(at, _)| lexicon.hangs_on_digits(&value[at..]))
}

/// What stands before a word.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Before {
    Nothing,
    /// So many digits.
    Digits(usize),
    Other,
}

fn word(rest: &str, letters: &str, before: Before, lexicon: Lexicon) -> (PieceKind, usize) {
    // `5日` is the fifth day, though 日 alone is Sunday.
    let first = letters.chars().next().map_or(0, char::len_utf8);
    if matches!(before, Before::Digits(_)) && is_unit(&letters[..first]) {
        return (PieceKind::Connector, first);
    }
    if let Some(FoundWord { senses, length, .. }) = lexicon.find(rest)
        && (lexicon.locale().is_some() || stands_out(rest, length, before == Before::Nothing))
        && !lexicon.locale().is_some_and(|locale| is_joint(&rest[..length], senses, locale))
    {
        return (PieceKind::Name(senses), length);
    }
    // Words that run together are cut before the next one that is known.
    let end = letters
        .char_indices()
        .skip(1)
        .find(|(at, c)| runs_on(*c) && lexicon.find(&rest[*at..]).is_some())
        .map_or(letters.len(), |(at, _)| at);
    let word = &letters[..end];
    let before_digits = rest[end..].starts_with(|c: char| c.is_ascii_digit());
    let kind = match is_connector(word) {
        true if is_stray(word, before, before_digits) => PieceKind::Stray,
        true => PieceKind::Connector,
        false => PieceKind::Word,
    };
    (kind, end)
}

/// Whether a word that English has for before noon is that between date and clock in this language: `am` in Welsh.
fn is_joint(word: &str, senses: Senses, locale: Locale) -> bool {
    senses.half.is_some() && locale.joints().any(|joint| joint == word)
}

/// Whether a letter alone stands right beside digits and is no part of how dates are written: `1S`, `O4` and `2l` are
/// typing errors. `T` joins a date and a clock (ISO 8601-1:2019, 5.4.2.1), `h` follows an hour, and `r.` and `m.` a
/// year (Polish, Lithuanian); endings of several letters are of some language.
fn is_stray(word: &str, before: Before, before_digits: bool) -> bool {
    let is_letter = word.len() == 1 && word.starts_with(|c: char| c.is_ascii_alphabetic());
    let is_glued = matches!(before, Before::Digits(_)) || before_digits;
    let closes_year = before == Before::Digits(4) && !before_digits && matches!(word, "r" | "m");
    is_letter && is_glued && !closes_year && !matches!(word, "T" | "t" | "h" | "H")
}

fn is_connector(word: &str) -> bool {
    // Folding decomposes letters, so a folded word is never shorter: longer ones need no lookup.
    word.len() <= blob::LONGEST_CONNECTOR && blob::is_connector(&fold(word, Accents::Kept))
}

/// Whether a name stands out where no language is known: two letters can be anything (`SK-0417`)
/// unless a point, a comma or a space follows them.
fn stands_out(rest: &str, length: usize, is_first: bool) -> bool {
    let (name, after) = rest.split_at(length);
    // `de` is a day of some language, and `de mai` a month of another, but in more languages `de`
    // stands between the parts of dates. With a capital, as in `Di`, it is a name.
    let first = name.split(' ').next().unwrap_or(name);
    let is_capital = first.starts_with(char::is_uppercase);
    if ENGLISH_WORDS.contains(&name) {
        return false;
    }
    // In capitals throughout, `DE` between others connects: `4 DE FEBRERO DE 2018`.
    let is_loud = !is_first && first.len() > 1 && first.chars().all(char::is_uppercase);
    let goes_on =
        after.strip_prefix(' ').is_some_and(|next| next.starts_with(char::is_alphanumeric));
    if (!is_capital || is_loud && goes_on) && is_connector(first) && !is_english(name) {
        return false;
    }
    let short = name.chars().count() < 3 && !name.chars().any(runs_on);
    !short || is_english(name) || after.starts_with(['.', ',', ' '])
}

/// Common English words of two letters that are weekdays somewhere; with a capital they may be.
const ENGLISH_WORDS: [&str; 19] = [
    "as", "at", "be", "by", "do", "he", "in", "is", "it", "me", "my", "no", "on", "or", "so", "to",
    "up", "us", "we",
];

fn is_english(name: &str) -> bool {
    Lexicon::english().look_up(name).is_some()
}

/// The marks of year, month, day, hour, minute and second behind a number, in Chinese, Japanese
/// and Korean.
fn is_unit(letter: &str) -> bool {
    matches!(
        letter,
        "年" | "月"
            | "日"
            | "號"
            | "号"
            | "時"
            | "时"
            | "分"
            | "秒"
            | "년"
            | "월"
            | "일"
            | "시"
            | "분"
            | "초"
    )
}

/// Whether a letter belongs to a script that writes words without a space between them.
/// Source: Unicode 16.0, blocks; Unicode Standard Annex 14, classes ID and SA.
pub fn runs_on(letter: char) -> bool {
    matches!(letter as u32,
        0x0E00..=0x0EFF // Thai, Lao
        | 0x0F00..=0x0FFF // Tibetan
        | 0x1000..=0x109F // Myanmar
        | 0x1780..=0x17FF // Khmer
        | 0x2E80..=0x31FF // radicals, kana
        | 0x3400..=0x9FFF // Han
        | 0xA000..=0xA4CF // Yi
        | 0xAC00..=0xD7A3 // Hangul: its units stand behind numbers
        | 0xF900..=0xFAFF
        | 0x20000..=0x3FFFF)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn cut(value: &str) -> Vec<&str> {
        pieces(value, Lexicon::every()).map(|piece| piece.text).collect()
    }

    #[test]
    fn names_and_units_are_pieces_of_their_own() {
        assert_eq!(cut("2024年3月5日火曜日"), ["2024", "年", "3", "月", "5", "日", "火曜日"]);
        assert_eq!(cut("2024년 3월 5일 화요일")[..4], ["2024", "년", " ", "3"]);
        assert_eq!(cut("令和元年5月1日")[..3], ["令和", "元", "年"]);
        assert_eq!(cut("ngày 5 tháng 12"), ["ngày", " ", "5", " ", "tháng 12"]);
        assert_eq!(cut("7:20 p.m."), ["7", ":", "20", " ", "p.m", "."]);
        assert_eq!(cut("Marianne"), ["Marianne"]);
    }

    proptest! {
        #[test]
        fn nothing_is_lost(value in ".*") {
            prop_assert_eq!(cut(&value).concat(), value);
        }
    }
}
