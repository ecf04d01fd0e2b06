//! The written form of a value with its content blanked out.

use crate::lexicon::{Lexicon, Piece, PieceKind, Senses, pieces};

/// Shapes longer than this many pieces are no dates; they share one shape.
const MOST_PIECES: usize = 24;
/// Digit runs longer than this are all alike.
const LONGEST_RUN: usize = 19;

/// Writes the shape of a normalised value into `shape`: digits become zeros, words what they are.
///
/// ```
/// use metachron_core::candidates::shape_of;
/// use metachron_core::lexicon::Lexicon;
/// let mut shape = String::new();
/// shape_of("5 de março de 2024", Lexicon::every(), &mut shape);
/// assert_eq!(shape, "0 de ‹month› de 0000");
/// ```
pub fn shape_of(value: &str, lexicon: Lexicon, shape: &mut String) {
    shape.clear();
    for (index, piece) in pieces(value, lexicon).enumerate() {
        if index == MOST_PIECES {
            shape.clear();
            shape.push_str("‹long text›");
            return;
        }
        match piece.kind {
            PieceKind::Digits if piece.text.len() > LONGEST_RUN => shape.push_str("‹digits›"),
            PieceKind::Digits => shape.extend(piece.text.chars().map(|_| '0')),
            PieceKind::Space => shape.push(' '),
            PieceKind::Mark => shape.push_str(piece.text),
            PieceKind::Name(_) | PieceKind::Connector | PieceKind::Word => {
                shape.push_str(name_of(&piece).unwrap_or("‹word›"));
            }
        }
    }
}

/// What a piece of a value is called in its shape: everything that decides about candidates keeps
/// its identity.
fn name_of<'a>(piece: &Piece<'a>) -> Option<&'a str> {
    match piece.kind {
        PieceKind::Name(senses) if senses.is_month() && senses.is_weekday() => {
            Some("‹month or weekday›")
        }
        PieceKind::Name(senses) if senses.is_month() => Some("‹month›"),
        PieceKind::Name(senses) if senses.is_weekday() => Some("‹weekday›"),
        PieceKind::Name(Senses { half: Some(_), .. }) => Some("‹am/pm›"),
        PieceKind::Name(Senses { era: Some(_), .. }) => Some("‹era›"),
        PieceKind::Name(Senses { ordinal: true, .. }) => Some("‹th›"),
        PieceKind::Name(_) => Some("‹name›"),
        PieceKind::Connector => Some(piece.text),
        PieceKind::Word => matches!(
            piece.text,
            "T" | "t" | "Z" | "z" | "UTC" | "utc" | "GMT" | "gmt" | "at" | "h" | "H"
        )
        .then_some(piece.text),
        PieceKind::Digits | PieceKind::Space | PieceKind::Mark => None,
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
            ("2024-03-05T10:15:00Z", "0000-00-00T00:00:00Z"),
            ("5 March 2024", "0 ‹month› 0000"),
            ("Dienstag, 5. März 2024", "‹weekday›, 0. ‹month› 0000"),
            ("2024年3月5日", "0000年0月0日"),
            ("12345678901234567890", "‹digits›"),
            ("a.b.c.d.e.f.g.h.i.j.k.l.m.n", "‹long text›"),
        ] {
            let mut shape = String::new();
            shape_of(value, Lexicon::every(), &mut shape);
            assert_eq!(shape, expected, "{value:?}");
        }
    }
}
