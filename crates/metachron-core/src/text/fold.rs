//! Makes words comparable: without case, in one decomposition, on request without accents.

use unicode_normalization::char::{decompose_compatible, is_combining_mark};

/// Whether accents count.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Accents {
    /// `é` is another letter than `e`.
    Kept,
    /// `é` is `e`, and so are letters with a stroke through them.
    Dropped,
}

/// What a character becomes, piece by piece: lower-case, decomposed (Unicode Standard Annex 15,
/// compatibility decomposition), and where asked for without the accents of European scripts.
///
/// ```
/// use metachron_core::text::{Accents, fold};
/// assert_eq!(fold("DÉC", Accents::Dropped), "dec");
/// assert_eq!(fold("déc", Accents::Kept), fold("DE\u{301}C", Accents::Kept));
/// ```
pub fn fold(text: &str, accents: Accents) -> String {
    let mut folded = String::with_capacity(text.len());
    for c in text.chars() {
        fold_char(c, accents, |piece| folded.push(piece));
    }
    folded
}

/// The pieces of one character; see [`fold`].
pub(crate) fn fold_char(c: char, accents: Accents, mut push: impl FnMut(char)) {
    if c.is_ascii() {
        push(c.to_ascii_lowercase());
        return;
    }
    for lower in c.to_lowercase() {
        decompose_compatible(lower, |piece| match accents {
            Accents::Kept => push(piece),
            Accents::Dropped if is_accent(piece) => {}
            Accents::Dropped => push(plain(piece)),
        });
    }
}

/// The marks of European scripts (block Combining Diacritical Marks). The vowel signs of others
/// are letters of theirs, and stay.
fn is_accent(c: char) -> bool {
    matches!(c, '\u{0300}'..='\u{036F}') && is_combining_mark(c)
}

/// Letters that no decomposition takes apart.
fn plain(c: char) -> char {
    match c {
        'ı' => 'i',
        'ł' => 'l',
        'đ' | 'ð' => 'd',
        'ø' => 'o',
        'ħ' => 'h',
        'ŧ' => 't',
        _ => c,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn accents_go_only_where_asked() {
        for (text, kept, dropped) in [
            ("Août", "aou\u{302}t", "aout"),
            ("KASIM", "kasim", "kasim"),
            ("Kasım", "kasım", "kasim"),
            ("STYCZEŃ", "styczen\u{301}", "styczen"),
            ("МАЙ", "маи\u{306}", "маи"),
            ("ﺃﺑﺮﻳﻞ", "ا\u{654}بريل", "ا\u{654}بريل"),
            ("กุมภาพันธ์", "กุมภาพันธ์", "กุมภาพันธ์"),
        ] {
            assert_eq!(fold(text, Accents::Kept), kept, "{text}");
            assert_eq!(fold(text, Accents::Dropped), dropped, "{text}");
        }
    }
}
