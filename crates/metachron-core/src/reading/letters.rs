//! Letters, and where runs of them end.

use crate::lexicon::Lexicon;

/// Whether two characters are the same letter in any case.
pub(crate) fn same_letter(a: char, b: char) -> bool {
    a == b || a.to_lowercase().eq(b.to_lowercase())
}

/// Whether the place between two texts lies inside a run of digits or of letters.
pub(crate) fn inside_a_run(before: &str, after: &str) -> bool {
    match (before.chars().next_back(), after.chars().next()) {
        (Some(a), Some(b)) => {
            (a.is_ascii_digit() && b.is_ascii_digit()) || (a.is_alphabetic() && b.is_alphabetic())
        }
        _ => false,
    }
}

/// The length of the ending of an ordinal number at the beginning of `rest`.
pub(crate) fn ordinal_ending(rest: &str, lexicon: Lexicon) -> Option<usize> {
    lexicon.find(rest).filter(|found| found.senses.ordinal).map(|found| found.length)
}
