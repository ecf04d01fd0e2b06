//! Forms with less than a day's precision: months, quarters, weeks.

use super::{Family, Style, month_field, whatever_names};
use crate::layout::{Layout, escape};
use crate::lexicon::{Length, Piece, PieceKind};

/// A month, a quarter or a week, if the value is written as one. Bare years are numbers.
pub(super) fn coarse(pieces: &[Piece<'_>], name_length: Option<Length>) -> Option<Family> {
    let (open, text) = month(pieces, name_length)
        .or_else(|| quarter_or_week(pieces).map(|layout| (false, layout)))?;
    let layout = Layout::parse(&text).ok()?;
    let style = if open { Style::CoarseOpen } else { Style::Coarse };
    Some(Family::one(style, whatever_names(&text), layout))
}

/// `2024-03`, `03/2024`, `April 2022`, `2024 mars`, `Apr-22`, `Apr22`; whether the digits may be a day.
fn month(pieces: &[Piece<'_>], name_length: Option<Length>) -> Option<(bool, String)> {
    let (first, rest) = pieces.split_first()?;
    let (last, between) = rest.split_last()?;
    let joint: String = between.iter().map(|piece| piece.text).collect();
    let joins = |piece: &Piece<'_>| {
        matches!(piece.kind, PieceKind::Space | PieceKind::Connector)
            || matches!(piece.text, "-" | "/" | "." | "," | "'")
    };
    if !between.iter().all(joins) {
        return None;
    }
    let mut joint = escape(&joint);
    let name = |piece: &Piece<'_>| match piece.kind {
        PieceKind::Name(senses) => month_field(senses, name_length),
        _ => None,
    };
    let digits = |piece: &Piece<'_>| match piece.kind {
        PieceKind::Digits => piece.text.len(),
        _ => 0,
    };
    match (name(first), digits(first), name(last), digits(last)) {
        // Numbers with a point between them are decimal numbers.
        (None, 4, None, 2) if joint == "-" || joint == "/" => {
            Some((false, format!("{{year}}{joint}{{month:02}}")))
        }
        (None, 1 | 2, None, 4) if joint == "-" || joint == "/" => {
            Some((false, format!("{{month}}{joint}{{year}}")))
        }
        (Some(name), _, None, width @ (2 | 4)) => {
            // The point of an abbreviation belongs to the name.
            if let Some(rest) = joint.strip_prefix('.').filter(|rest| !rest.is_empty()) {
                joint = rest.to_owned();
            }
            let year = if width == 4 { "{year}" } else { "{year:2}" };
            // An apostrophe stands for the century.
            Some((width == 2 && !joint.ends_with('\''), format!("{name}{joint}{year}")))
        }
        (None, 4, Some(name), _) if !joint.is_empty() => {
            Some((false, format!("{{year}}{joint}{name}")))
        }
        _ => None,
    }
}

pub(super) fn is_quarter(word: &str) -> bool {
    word.eq_ignore_ascii_case("q")
}

pub(super) fn is_week(word: &str) -> bool {
    ["w", "kw", "wk", "week", "uke", "vecka"].iter().any(|own| word.eq_ignore_ascii_case(own))
}

/// `Q3 2024`, `2024-Q3`, `3Q24`, `2024-W05`, `KW 5/2024`.
fn quarter_or_week(pieces: &[Piece<'_>]) -> Option<String> {
    let texts: Vec<(PieceKind, &str)> =
        pieces.iter().map(|piece| (piece.kind, piece.text)).collect();
    let year = |text: &str| match text.len() {
        4 => Some("{year}"),
        2 => Some("{year:2}"),
        _ => None,
    };
    let spaced = |pieces: &[(PieceKind, &str)]| {
        let joint: String = pieces.iter().map(|(_, text)| *text).collect();
        let joins = |c: char| matches!(c, ' ' | '-' | '/' | '.' | ',');
        joint.chars().all(joins).then(|| escape(&joint))
    };
    use PieceKind::Digits;
    match texts.as_slice() {
        [(Digits, number), (_, q), (Digits, last)] if is_quarter(q) && number.len() == 1 => {
            Some(format!("{{quarter}}{q}{}", year(last)?))
        }
        [(_, word), rest @ .., (Digits, last)] if is_quarter(word) || is_week(word) => {
            let at = rest.iter().position(|(kind, _)| *kind == Digits)?;
            let (before, after) = (spaced(&rest[..at])?, spaced(&rest[at + 1..])?);
            let number = rest[at].1;
            if after.is_empty() {
                return None;
            }
            match is_quarter(word) {
                true if number.len() == 1 => {
                    Some(format!("{word}{before}{{quarter}}{after}{}", year(last)?))
                }
                false if number.len() <= 2 && last.len() == 4 => {
                    Some(format!("{word}{before}{{week}}{after}{{weekyear}}"))
                }
                _ => None,
            }
        }
        [(Digits, first), rest @ .., (_, word), (Digits, number)] if first.len() == 4 => {
            let joint = spaced(rest)?;
            if is_quarter(word) && number.len() == 1 {
                return Some(format!("{{year}}{joint}{word}{{quarter}}"));
            }
            (is_week(word) && number.len() == 2)
                .then(|| format!("{{weekyear}}{joint}{word}{{week:02}}"))
        }
        _ => None,
    }
}
