//! Lengths of time: amounts with their units, ISO 8601, and, where they are known to be no times of day,
//! clock forms and plain numbers.

use super::{Candidate, Family, Measure, Style};
use crate::duration::{Duration, Unit};
use crate::layout::{Layout, escape};
use crate::lexicon::{Piece, PieceKind, runs_on, unit_word};
use crate::order::Alternative;
use crate::reading::{Clocks, Terms, begins_in_words, told};

/// Amounts whose words no date has: that of three numbers such as `1 hour 30 min 15 sec` is none.
pub(super) fn amounts(value: &str, pieces: &[Piece<'_>], terms: Terms) -> Option<Family> {
    let of_dates = |piece: &Piece<'_>| match piece.kind {
        PieceKind::Name(_) => is_month(piece, terms),
        PieceKind::Connector => piece.text.starts_with(runs_on),
        _ => false,
    };
    if !is_told(value) || pieces.iter().any(of_dates) {
        return None;
    }
    length(value, pieces, terms)
}

/// What can be nothing but a length of time, once it is no date: `1 day 4 hours`, `PT51H20M`,
/// `2 days, 3:04:05`.
pub(super) fn length(value: &str, pieces: &[Piece<'_>], terms: Terms) -> Option<Family> {
    if is_iso(value) {
        let layout = Layout::parse("iso-8601-duration").ok()?;
        return Some(Family::one(Style::Length, String::new(), layout).measured(Measure::Iso));
    }
    if let Some(layout) = days_and_clock(pieces) {
        let family = Family::one(Style::Length, String::new(), layout);
        return Some(family.measured(Measure::DaysAndClock));
    }
    let told = told(value).filter(|told| told.is_all_of(value) && told.names_units())?;
    // A month is no unit, whatever the word is in another language, unless it has its number in it: 三月.
    if pieces.iter().any(|piece| is_month(piece, terms) && !is_told(piece.text)) {
        return None;
    }
    match told.has_open_m(terms) {
        true => several(
            Measure::OpenM,
            &[
                (Alternative::Minutes, "{amounts:minutes}"),
                (Alternative::Months, "{amounts:months}"),
            ],
        ),
        false => several(Measure::Amounts, &[(Alternative::Only, "{amounts}")]),
    }
}

/// The same, and what is a length of time where it is known that clock forms are no times of day.
pub(super) fn elapsed(value: &str, pieces: &[Piece<'_>], terms: Terms) -> Option<Family> {
    if terms.clocks != Clocks::Elapsed {
        return None;
    }
    let unsigned = match pieces {
        [Piece { text: "-" | "+", .. }, rest @ ..] => rest,
        all => all,
    };
    clock(unsigned).or_else(|| number(unsigned, terms)).or_else(|| length(value, pieces, terms))
}

/// `27:15`, `1:02:03.5`, `3:04:05:06`. Two numbers are hours and minutes, or minutes and seconds; what has
/// a fraction ends with seconds.
fn clock(pieces: &[Piece<'_>]) -> Option<Family> {
    let (numbers, fraction) = split_fraction(pieces)?;
    let measure = Measure::Clock(u8::try_from(numbers).ok()?);
    let with = |text: &str| format!("{text}{fraction}");
    match numbers {
        2 => {
            let seconds = with("{minutes}:{seconds}");
            several(
                measure,
                &[
                    (Alternative::HoursMinutes, "{hours}:{minutes}"),
                    (Alternative::MinutesSeconds, seconds.as_str()),
                ],
            )
        }
        3 => several(measure, &[(Alternative::Only, &with("{hours}:{minutes}:{seconds}"))]),
        4 => several(measure, &[(Alternative::Only, &with("{days}:{hours}:{minutes}:{seconds}"))]),
        _ => None,
    }
}

/// Clock forms that no clock shows: `59:59.5`, since two numbers and a fraction are minutes and seconds, and
/// `100:00`.
pub(super) fn surely(pieces: &[Piece<'_>]) -> Option<Family> {
    let (numbers, fraction) = split_fraction(pieces)?;
    let is_long = pieces.first().is_some_and(|first| first.text.len() > 2);
    let surely = (numbers == 2 && !fraction.is_empty()) || (numbers <= 3 && is_long);
    if surely { clock(pieces) } else { None }
}

/// The layout of a clock form as a length of time, beside which it may be a time of day.
pub(super) fn beside_time(pieces: &[Piece<'_>]) -> Option<Candidate> {
    let (numbers, fraction) = split_fraction(pieces)?;
    let text = match numbers {
        2 if fraction.is_empty() => "{hours}:{minutes}",
        3 => "{hours}:{minutes}:{seconds}",
        _ => return None,
    };
    let layout = Layout::parse(&format!("{text}{fraction}")).ok()?;
    Some(Candidate { alternative: Alternative::HoursMinutes, layout })
}

/// How many numbers with colons between them there are, and the fraction behind them as layout.
fn split_fraction(pieces: &[Piece<'_>]) -> Option<(usize, String)> {
    let is_digits = |piece: &Piece<'_>| piece.kind == PieceKind::Digits;
    let (clock, fraction) = match pieces {
        [clock @ .., Piece { text: mark @ ("." | ","), .. }, last] if is_digits(last) => {
            (clock, format!("{mark}{{fraction}}"))
        }
        clock => (clock, String::new()),
    };
    let right = clock.len() % 2 == 1
        && clock.iter().enumerate().all(|(at, piece)| match at % 2 {
            0 => is_digits(piece),
            _ => piece.text == ":",
        });
    (right && clock.len() > 1).then_some((clock.len() / 2 + 1, fraction))
}

/// A number whose unit is said; without one it is a number of nothing.
fn number(pieces: &[Piece<'_>], terms: Terms) -> Option<Family> {
    let is_part =
        |piece: &Piece<'_>| piece.kind == PieceKind::Digits || matches!(piece.text, "." | ",");
    let digits = pieces.iter().filter(|piece| piece.kind == PieceKind::Digits).count();
    if digits == 0 || !pieces.iter().all(is_part) {
        return None;
    }
    match terms.unit {
        Some(unit) => several(
            Measure::Number,
            &[(Alternative::Only, &format!("{{{}:decimal}}", unit.name()))],
        ),
        None => several(Measure::Number, &[(Alternative::Only, "{amounts}")]),
    }
}

/// `1 day, 3:04:05`, as programs print what is longer than a day.
fn days_and_clock(pieces: &[Piece<'_>]) -> Option<Layout> {
    // The sign is read with the first number.
    let unsigned = match pieces {
        [Piece { text: "-" | "+", .. }, rest @ ..] => rest,
        all => all,
    };
    let [Piece { kind: PieceKind::Digits, .. }, rest @ ..] = unsigned else { return None };
    let at = rest.iter().position(|piece| piece.kind == PieceKind::Digits)?;
    let (between, clock) = rest.split_at(at);
    let mut words = between.iter().filter(|piece| piece.kind != PieceKind::Space);
    let word = words.next()?;
    if !is_day(word.text) || !words.all(|piece| matches!(piece.text, "," | "." | "and")) {
        return None;
    }
    let (numbers, fraction) = split_fraction(clock)?;
    let clock = match numbers {
        2 if fraction.is_empty() => "{hours}:{minutes}",
        3 => "{hours}:{minutes}:{seconds}",
        _ => return None,
    };
    let between: String = between.iter().map(|piece| piece.text).collect();
    Layout::parse(&format!("{{days}}{}{clock}{fraction}", escape(&between))).ok()
}

/// Whether a piece is the name of a month, and not meant as a unit.
fn is_month(piece: &Piece<'_>, terms: Terms) -> bool {
    matches!(piece.kind, PieceKind::Name(senses) if senses.is_month())
        && !is_unit(piece.text, terms)
}

/// Whether a word that is a month's name somewhere is meant as a unit.
pub(super) fn is_unit(word: &str, terms: Terms) -> bool {
    let language = terms.written_in().map(|locale| locale.language());
    unit_word(word).is_some_and(|own| own.is_meant_by(word, language))
}

/// Whether a word stands for days wherever it is used.
pub(super) fn is_day(word: &str) -> bool {
    unit_word(word).is_some_and(|word| word.unit_in(None) == Some(Unit::DAYS))
}

/// Whether a value is written as ISO 8601 has durations.
pub(super) fn is_iso(value: &str) -> bool {
    let unsigned = value.trim_start_matches(['-', '+']);
    unsigned.starts_with(['P', 'p']) && value.parse::<Duration>().is_ok()
}

/// Whether a value is amounts with their units and nothing else.
pub(super) fn is_told(value: &str) -> bool {
    let unsigned = value.trim_start_matches(['-', '+']).trim_start_matches(' ');
    let begins = unsigned.starts_with(|c: char| c.is_ascii_digit() || c == '.');
    let has_letters = value.contains(|c: char| !c.is_ascii() || c.is_ascii_alphabetic());
    let may_be =
        (begins && (has_letters || value.ends_with(['\'', '"']))) || begins_in_words(unsigned);
    may_be && told(value).is_some_and(|told| told.is_all_of(value))
}

fn several(measure: Measure, layouts: &[(Alternative, &str)]) -> Option<Family> {
    let candidates = layouts
        .iter()
        .map(|(order, layout)| {
            Some(Candidate { alternative: *order, layout: Layout::parse(layout).ok()? })
        })
        .collect::<Option<Vec<_>>>()?;
    Some(Family::new(Style::Length, String::new(), false, candidates).measured(measure))
}
