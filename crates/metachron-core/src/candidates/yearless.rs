//! Dates without a year: `5. März`, `Mar  5 10:11:12`, `123:14:05:09.250`.

use super::cursor::{Cursor, Ends, WrittenPart};
use super::{Family, Style, whatever_names};
use crate::layout::{Layout, escape};
use crate::lexicon::{Length, Piece, PieceKind};
use crate::zone::Zones;

/// A day and a month's name, or a day of the year with a clock. Two numbers alone can be anything.
pub(super) fn yearless(
    pieces: &[Piece<'_>],
    name_length: Option<Length>,
    zones: Zones,
) -> Option<Family> {
    let text = named(pieces, name_length, zones).or_else(|| day_of_year(pieces))?;
    let layout = Layout::parse_yearless(&text).ok()?;
    Some(Family::one(Style::Yearless, whatever_names(&text), layout))
}

/// `Saturday, 3 May`, `May 3rd`, `3 de maio, 14:05`.
fn named(pieces: &[Piece<'_>], name_length: Option<Length>, zones: Zones) -> Option<String> {
    let mut cursor = Cursor { pieces, zones };
    let weekday = cursor.weekday()?;
    let first = cursor.date_part(name_length)?;
    let between = cursor.separator_behind(&first);
    let second = cursor.date_part(name_length)?;
    let field = |part: &WrittenPart| match part {
        WrittenPart::Month(field) => Some(*field),
        WrittenPart::Digits(1 | 2, true) => Some("{day:th}"),
        WrittenPart::Digits(1 | 2, false) => Some("{day}"),
        WrittenPart::Digits(..) | WrittenPart::EraYear(_) => None,
    };
    if first.is_month() == second.is_month() {
        return None;
    }
    let (first, second) = (field(&first)?, field(&second)?);
    let after = cursor.behind_date(Ends::Short)?;
    Some(format!("{weekday}{first}{}{second}{after}", escape(&between)))
}

/// `123:14:05:09.250`, as instruments count.
fn day_of_year(pieces: &[Piece<'_>]) -> Option<String> {
    let clock = match pieces {
        [clock @ .., point, digits] if clock.len() == 7 && point.text == "." => {
            (digits.kind == PieceKind::Digits).then_some(clock)?
        }
        clock => clock,
    };
    let widths = [3, 2, 2, 2];
    let right = clock.len() == 7
        && clock.iter().enumerate().all(|(at, piece)| match at % 2 {
            0 => piece.kind == PieceKind::Digits && piece.text.len() == widths[at / 2],
            _ => piece.text == ":",
        });
    right.then(|| "{yearday:03}:{hour:02}:{minute:02}:{second:02}[.{fraction}]".to_owned())
}
