//! The written form of a value with its content blanked out.

use super::lengths;
use crate::lexicon::{Piece, PieceKind, Senses, pieces, unit_word};
use crate::reading::{Terms, is_numeral};
use crate::zone::{Abbreviation, Zones};

/// Shapes longer than this many pieces are no dates; they share one shape.
const MOST_PIECES: usize = 24;
/// Digit runs longer than this are all alike.
const LONGEST_RUN: usize = 19;

/// Writes the shape of a normalised value into `shape`: digits become zeros, words what they are.
///
/// ```
/// use metachron_core::candidates::shape_of;
/// use metachron_core::reading::Terms;
/// let mut shape = String::new();
/// shape_of("5 de março de 2024", Terms::default(), &mut shape);
/// assert_eq!(shape, "0 de ‹month› de 0000");
/// ```
pub fn shape_of(value: &str, terms: Terms, shape: &mut String) {
    shape.clear();
    if lengths::is_iso(value) {
        shape.extend(value.chars().map(|c| if c.is_ascii_digit() { '0' } else { c }));
        return;
    }
    let told = lengths::is_told(value);
    // Where the piece begins, and where the last zone's name ends.
    let (mut at, mut zone_ends) = (0, 0);
    for (index, piece) in pieces(value, terms.lexicon).enumerate() {
        let begins = at;
        at += piece.text.len();
        if begins < zone_ends {
            continue;
        }
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
            PieceKind::Name(_) | PieceKind::Connector | PieceKind::Stray | PieceKind::Word
                if begins > 0
                    && let Some(length) = zone_at(&value[begins..], terms.zones) =>
            {
                shape.push_str("‹zone›");
                zone_ends = begins + length;
            }
            PieceKind::Name(_) | PieceKind::Connector | PieceKind::Stray | PieceKind::Word => {
                shape.push_str(match name_of(&piece) {
                    // A month may be a number with its unit as well: 三月.
                    Some("‹month›") if told && lengths::is_told(piece.text) => {
                        "‹month or length›"
                    }
                    // A month that is also a number stays one: `dez`.
                    name if told && name != Some("‹month›") && is_numeral(piece.text) => {
                        "‹number›"
                    }
                    // Weekdays stand in dates, but not where all words are units.
                    None | Some("‹weekday›") if told => unit_of(&piece, terms),
                    Some(name)
                        if told && name != piece.text && lengths::is_unit(piece.text, terms) =>
                    {
                        unit_of(&piece, terms)
                    }
                    // Programs write days before a clock.
                    None if lengths::is_day(piece.text) => "‹day›",
                    name => name.unwrap_or("‹word›"),
                });
            }
        }
    }
}

/// A value without the zone at its end: `EST` is a month in some language, but not behind a clock.
pub fn without_zone(value: &str, terms: Terms) -> &str {
    let mut at = 0;
    for piece in pieces(value, terms.lexicon) {
        if at > 0
            && let Some(length) = zone_at(&value[at..], terms.zones)
            && matches!(&value[at + length..], "" | ")")
        {
            return &value[..at];
        }
        at += piece.text.len();
    }
    value
}

/// The bytes of a zone's name at the beginning of a text: one with a stroke (`Europe/Oslo`), or an
/// abbreviation in capitals that is known, or said. Plain words such as `Cuba` are none.
pub(super) fn zone_at(text: &str, zones: Zones) -> Option<usize> {
    if !text.starts_with(|c: char| c.is_ascii_uppercase()) {
        return None;
    }
    let word = text.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(text.len());
    if text[word..].starts_with('/') {
        let (zone, length) = zones.read(text)?;
        return zone.map(|_| length);
    }
    let capitals = text[..word].bytes().all(|byte| byte.is_ascii_uppercase());
    let name = Abbreviation::new(&text[..word]).filter(|_| capitals)?;
    let ours = !matches!(&text[..word], "UTC" | "GMT");
    (ours && (name.is_known() || zones.said_of(name).is_some())).then_some(word)
}

/// What a word is called in the shape of amounts with their units.
fn unit_of(piece: &Piece<'_>, terms: Terms) -> &'static str {
    let language = terms.written_in().map(|locale| locale.language());
    match unit_word(piece.text) {
        Some(word) if word.is_minutes_or_months(language) => "‹m›",
        Some(_) => "‹unit›",
        None => "‹word›",
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
        PieceKind::Connector | PieceKind::Stray => Some(piece.text),
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
            ("2024-03-05 10:15 Europe/Oslo", "0000-00-00 00:00 ‹zone›"),
            ("5/3/2024 2:15 PM EST", "0/0/0000 0:00 ‹am/pm› ‹zone›"),
            ("5/3/2024 2:15 +0200 (CEST)", "0/0/0000 0:00 +0000 (‹zone›)"),
            ("5/3/2024 net/ring", "0/0/0000 ‹word›/‹word›"),
            ("12345678901234567890", "‹digits›"),
            ("1 day 4 hours 35 min", "0 ‹unit› 0 hours 00 min"),
            ("1,5 Std.", "0,0 ‹unit›."),
            ("10 Sek", "00 ‹unit›"),
            ("10 dez", "00 ‹month›"),
            ("2h 5m", "0h 0m"),
            ("PT51H20M", "PT00H00M"),
            ("3 days, 4:05:06", "0 ‹day›, 0:00:00"),
            ("3 kg 20 min", "0 ‹word› 00 min"),
            ("a.b.c.d.e.f.g.h.i.j.k.l.m.n", "‹long text›"),
        ] {
            let mut shape = String::new();
            shape_of(value, Terms::default(), &mut shape);
            assert_eq!(shape, expected, "{value:?}");
        }
    }
}
