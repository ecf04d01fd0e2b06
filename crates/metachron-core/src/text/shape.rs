//! The written form of a value with its content blanked out.

use super::{TokenKind, tokens};

/// Shapes longer than this many tokens are no dates; they share one shape.
const MOST_TOKENS: usize = 24;
/// Digit runs longer than this are all alike.
const LONGEST_RUN: usize = 19;

/// Writes the shape of a normalised value into `shape`.
///
/// Digits become zeros; `name_of` says what a word is called (`‹month›`), or that it stands for
/// itself (`T`, `of`) by returning it, or that it is just some word by returning none.
///
/// ```
/// use metachron_core::text::shape_of;
/// let mut shape = String::new();
/// shape_of("5 March 2024", |word| (word == "March").then_some("‹month›"), &mut shape);
/// assert_eq!(shape, "0 ‹month› 0000");
/// ```
pub fn shape_of<'v>(
    value: &'v str,
    mut name_of: impl FnMut(&'v str) -> Option<&'v str>,
    shape: &mut String,
) {
    shape.clear();
    for (index, token) in tokens(value).enumerate() {
        if index == MOST_TOKENS {
            shape.clear();
            shape.push_str("‹long text›");
            return;
        }
        match token.kind {
            TokenKind::Digits if token.text.len() > LONGEST_RUN => shape.push_str("‹digits›"),
            TokenKind::Digits => shape.extend(token.text.chars().map(|_| '0')),
            TokenKind::Word => shape.push_str(name_of(token.text).unwrap_or("‹word›")),
            TokenKind::Space => shape.push(' '),
            TokenKind::Mark => shape.push_str(token.text),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blanks_the_content_out() {
        for (value, expected) in [
            ("03/04/2024", "00/00/0000"),
            ("3/4/2024  7:05", "0/0/0000 0:00"),
            ("SK-0417", "‹word›-0000"),
            ("2024-03-05T10:15:00Z", "0000-00-00‹T›00:00:00‹word›"),
            ("12345678901234567890", "‹digits›"),
            ("a.b.c.d.e.f.g.h.i.j.k.l.m.n", "‹long text›"),
        ] {
            let mut shape = String::new();
            shape_of(value, |word| (word == "T").then_some("‹T›"), &mut shape);
            assert_eq!(shape, expected, "{value:?}");
        }
    }
}
