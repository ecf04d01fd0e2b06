//! The written form of a value with its content blanked out.

use super::coarse::{is_quarter, is_week};
use super::lengths;
use super::machine::has_run;
use crate::duration::Unit;
use crate::lexicon::{
    Half, Lexicon, Piece, PieceKind, Senses, names_are_for_all_digits, pieces, unit_word,
};
use crate::reading::{Terms, begins_in_words, is_numeral};
use crate::zone::{Abbreviation, Zones};

/// Shapes longer than this many pieces are no dates; they share one shape.
const MOST_PIECES: usize = 24;
/// Digit runs longer than this are all alike.
const LONGEST_RUN: usize = 19;

/// The written form of a value with its content blanked out. Values of one shape have the same candidates.
///
/// ```
/// use metachron_core::candidates::Shape;
/// use metachron_core::reading::Terms;
/// let shape = |value| Shape::of(value, Terms::default());
/// assert_eq!(shape("5 de março de 2024").text(), "0 de ‹month› de 0000");
/// // Noon is a time, and what is before noon is none.
/// assert_ne!(shape("5 March 2024 noon"), shape("5 March 2024 AM"));
/// ```
#[derive(Debug, Clone, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Shape {
    text: String,
    /// All that each of its words can stand for: the text names one of it.
    meanings: Vec<Meanings>,
}

impl Shape {
    /// The shape of a normalised value.
    pub fn of(value: &str, terms: Terms) -> Shape {
        let mut shape = Shape::default();
        shape.read(value, terms);
        shape
    }

    /// Becomes the shape of a normalised value.
    pub fn read(&mut self, value: &str, terms: Terms) {
        self.text.clear();
        self.meanings.clear();
        if lengths::is_iso(value) {
            self.text.extend(value.chars().map(|c| if c.is_ascii_digit() { '0' } else { c }));
            return;
        }
        let told = lengths::is_told(value);
        let may_be_machine = has_run(value);
        // Where the piece begins, and where the last zone's name ends.
        let (mut at, mut zone_ends) = (0, 0);
        for (index, piece) in pieces(value, terms.lexicon).enumerate() {
            let begins = at;
            at += piece.text.len();
            if begins < zone_ends {
                continue;
            }
            if index == MOST_PIECES {
                self.text.clear();
                self.meanings.clear();
                self.text.push_str("‹long text›");
                return;
            }
            match piece.kind {
                PieceKind::Digits if piece.text.len() > LONGEST_RUN => {
                    self.text.push_str("‹digits›");
                }
                PieceKind::Digits => self.text.extend(piece.text.chars().map(|_| '0')),
                PieceKind::Space => self.text.push(' '),
                PieceKind::Mark => self.text.push_str(piece.text),
                PieceKind::Name(_) | PieceKind::Connector | PieceKind::Stray | PieceKind::Word => {
                    self.meanings.push(Meanings::of(&piece, told, may_be_machine));
                    match zone_at(&value[begins..], terms.zones).filter(|_| begins > 0) {
                        Some(length) => {
                            self.text.push_str("‹zone›");
                            zone_ends = begins + length;
                        }
                        None if counts_days(&value[..begins], &piece, &value[at..]) => {
                            self.text.push_str(piece.text);
                        }
                        None => self.text.push_str(word(&piece, told, terms)),
                    }
                }
            }
        }
        // It may be a date in another language than the one that was said.
        if terms.lexicon != Lexicon::every() {
            let words = pieces(value, Lexicon::every()).take(MOST_PIECES);
            let words = words.filter(|piece| {
                !matches!(piece.kind, PieceKind::Digits | PieceKind::Space | PieceKind::Mark)
            });
            self.meanings.extend(words.map(|piece| Meanings::of(&piece, told, may_be_machine)));
        }
    }

    /// Whether all values that differ from this normalised one in their digits alone have one shape. Where digits may
    /// decide, it is false: `1/2 hour` is half an hour, and `1/7 hour` nothing; `T3` is a day of the week in Vietnamese,
    /// and `T0` none.
    ///
    /// ```
    /// use metachron_core::candidates::Shape;
    /// use metachron_core::lexicon::{Lexicon, Locale};
    /// let told = |value| Shape::is_for_all_digits(value, Lexicon::every());
    /// assert!(told("5 March 2024, 7:05 PM") && told("2024-03-05T07:05"));
    /// assert!(!told("1/2 hour") && !told("- 1/2h"));
    /// let vietnamese = Lexicon::of(Locale::named("vi").unwrap());
    /// assert!(!Shape::is_for_all_digits("2024-03-05T07:05", vietnamese));
    /// ```
    pub fn is_for_all_digits(value: &str, lexicon: Lexicon) -> bool {
        // Where no language is known, names that end in digits need their accents.
        let has_plain_names = lexicon.locale().is_none() && value.is_ascii();
        if !has_plain_names && !names_are_for_all_digits(value, lexicon) {
            return false;
        }
        let bytes = value.as_bytes();
        let is_of_words =
            |byte: &u8| byte.is_ascii_alphabetic() || !byte.is_ascii() || b"'\"".contains(byte);
        if !bytes.iter().any(is_of_words) {
            return true;
        }
        let unsigned = value.trim_start_matches(['-', '+']).trim_start_matches(' ');
        let has = |length, is_so: fn(&[u8]) -> bool| bytes.windows(length).any(is_so);
        // A duration of ISO 8601, and the name of a zone such as `Etc/GMT+5`.
        let is_name = |three: &[u8]| {
            three[0].is_ascii_alphabetic() && three[1] == b'/' && three[2].is_ascii_alphabetic()
        };
        if unsigned.starts_with(['P', 'p']) || has(3, is_name) {
            return false;
        }
        // Amounts: what marks between digits are depends on these, and so do fractions.
        let is_marked = |three: &[u8]| {
            three[0].is_ascii_digit() && b".,/".contains(&three[1]) && three[2].is_ascii_digit()
        };
        if !has(3, is_marked) && !unsigned.starts_with('.') {
            return true;
        }
        // A number, and perhaps a fraction behind it, then a word.
        let is_part = |c: char| c.is_ascii_digit() || ".,/".contains(c);
        let behind = unsigned.trim_start_matches(is_part).trim_start_matches(' ');
        let behind = behind.trim_start_matches(is_part).trim_start_matches([' ', '-']);
        let is_counted = unsigned.starts_with(|c: char| c.is_ascii_digit() || c == '.')
            && behind.as_bytes().first().is_some_and(is_of_words);
        !is_counted && !begins_in_words(unsigned)
    }

    /// Digits are zeros, words what they are.
    pub fn text(&self) -> &str {
        &self.text
    }

    pub(crate) fn into_text(self) -> String {
        self.text
    }
}

/// All that a word can stand for, each a bit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
struct Meanings(u16);

impl Meanings {
    fn of(piece: &Piece<'_>, told: bool, may_be_machine: bool) -> Meanings {
        // Of other words the text says whether they are units.
        let (senses, unit) = match piece.kind {
            PieceKind::Name(senses) => (senses, unit_word(piece.text)),
            _ => (Senses::default(), None),
        };
        // Standards have English names.
        let english = match may_be_machine {
            true => Lexicon::english().look_up(piece.text).unwrap_or_default(),
            false => Senses::default(),
        };
        let all = [
            senses.is_month(),
            senses.is_weekday(),
            // A clock time of its own, which the halves of the day are not.
            matches!(senses.half, Some(Half::Noon | Half::Midnight)),
            senses.half.is_some(),
            senses.era.is_some(),
            senses.ordinal,
            unit.is_some(),
            unit.is_some_and(|unit| unit.unit_in(None) == Some(Unit::DAYS)),
            told,
            told && is_numeral(piece.text),
            // A number with its unit: 三月 is March and three months.
            told && lengths::is_told(piece.text),
            is_quarter(piece.text),
            is_week(piece.text),
            english.is_month(),
            english.is_weekday(),
        ];
        Meanings(all.into_iter().rev().fold(0, |bits, is_so| bits << 1 | u16::from(is_so)))
    }
}

/// Whether a word counts the days before a clock: `2 days, 3:04:05`. Its layout has the word itself.
fn counts_days(before: &str, piece: &Piece<'_>, behind: &str) -> bool {
    let number = before.trim_matches(['+', '-', ' ']);
    let is_number = !number.is_empty() && number.bytes().all(|byte| byte.is_ascii_digit());
    is_number && behind.contains(':') && lengths::is_day(piece.text)
}

/// What a word is called in a shape.
fn word<'v>(piece: &Piece<'v>, told: bool, terms: Terms) -> &'v str {
    match name_of(piece) {
        // A month that is also a number stays one: `dez`.
        name if told && name != Some("‹month›") && is_numeral(piece.text) => "‹number›",
        // Weekdays stand in dates, but not where all words are units.
        None | Some("‹weekday›") if told => unit_of(piece, terms),
        Some(name) if told && name != piece.text && lengths::is_unit(piece.text, terms) => {
            unit_of(piece, terms)
        }
        // Programs write days before a clock.
        None if lengths::is_day(piece.text) => "‹day›",
        name => name.unwrap_or("‹word›"),
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
    use std::collections::btree_map::Entry;
    use std::collections::{BTreeMap, BTreeSet};

    use super::super::{candidates, whatever_names};
    use super::*;
    use crate::lexicon::{Length, Locale};
    use crate::text::normalise;

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
            ("3 days, 4:05:06", "0 days, 0:00:00"),
            ("3 kg 20 min", "0 ‹word› 00 min"),
            ("a.b.c.d.e.f.g.h.i.j.k.l.m.n", "‹long text›"),
        ] {
            assert_eq!(Shape::of(value, Terms::default()).text(), expected, "{value:?}");
        }
    }

    /// Names of months, weekdays and halves of the day: some for each set of all that a name can stand for.
    fn names() -> Vec<&'static str> {
        const OF_A_SET: usize = 12;
        let mut all: Vec<&str> = Vec::new();
        for lexicon in Locale::all().map(Lexicon::of) {
            for length in [Length::Full, Length::Short] {
                all.extend((1..=12).map(|month| lexicon.month(month, length, true)));
                all.extend((1..=7).map(|day| lexicon.weekday(day, length)));
            }
            let halves = [Half::Am, Half::Pm, Half::Noon, Half::Midnight];
            all.extend(halves.map(|half| lexicon.half(half)));
        }
        let mut sets: BTreeMap<Shape, BTreeSet<&str>> = BTreeMap::new();
        for name in all {
            let is_name =
                |piece: Piece<'_>| matches!(piece.kind, PieceKind::Name(_)) && piece.text == name;
            if pieces(name, Lexicon::every()).next().is_some_and(is_name) {
                let set = sets.entry(Shape::of(&format!("5 {name} 44"), Terms::default()));
                set.or_default().insert(name);
            }
        }
        sets.into_values().flat_map(|set| set.into_iter().take(OF_A_SET)).collect()
    }

    /// What values are put together from, amounts and names of zones above all.
    const PARTS: [&str; 71] = [
        "0",
        "1",
        "3",
        "12",
        "05",
        "2024",
        "1500",
        "1/2",
        "3/4",
        "½",
        ".",
        ",",
        "-",
        "+",
        "/",
        ":",
        " ",
        " ",
        " ",
        "h",
        "min",
        "hours",
        "day",
        "days",
        "March",
        "mars",
        "Di",
        "PM",
        "noon",
        "T",
        "Z",
        "P",
        "PT",
        "M",
        "W",
        "Q",
        "two",
        "and a half",
        "half",
        "Etc/GMT+",
        "Etc/GMT",
        "CET",
        "EST",
        "Mar/",
        "'",
        "\"",
        "Std.",
        "年",
        "月",
        "時間",
        "th",
        "Th",
        "Thg ",
        "Thứ ",
        "thang ",
        "tháng",
        "hai",
        "星期",
        "e",
        "05/Mar/2024:10:15:00 +0100",
        "Tue, 05 Mar 2024 10:15:00 +0100",
        "Tue Mar  5 10:15:00 2024",
        "20240305T101500Z",
        "2024-03-05T10:15:00.123+01:00",
        "2024-W10-2",
        "2024-065",
        "240305",
        "20240305",
        "1709629200",
        "10:15",
        "3/5/24",
    ];

    proptest::proptest! {
        #![proptest_config(proptest::prelude::ProptestConfig::with_cases(20_000))]

        #[test]
        fn digits_that_do_not_decide_change_no_shape(
            parts in proptest::collection::vec(proptest::sample::select(&PARTS[..]), 1..9),
            digits in proptest::collection::vec(b'0'..=b'9', 40),
            tag in proptest::sample::select(vec!["", "", "vi", "en", "zh", "ja", "de", "hu"]),
        ) {
            let lexicon = Locale::named(tag).map(Lexicon::of).unwrap_or(Lexicon::every());
            let terms = Terms { lexicon, ..Terms::default() };
            let value = parts.concat();
            let mut others = digits.into_iter().map(char::from).cycle();
            let other: String =
                value.chars().map(|c| if c.is_ascii_digit() { others.next().unwrap_or(c) } else { c }).collect();
            let (mut first, mut second) = (String::new(), String::new());
            let (value, other) = (normalise(&value, &mut first), normalise(&other, &mut second));
            let is_told = |value| Shape::is_for_all_digits(value, lexicon);
            proptest::prop_assert_eq!(is_told(value), is_told(other), "{:?} and {:?}", value, other);
            if is_told(value) {
                let shape = |value| Shape::of(value, terms);
                proptest::prop_assert_eq!(shape(value), shape(other), "{:?} and {:?}", value, other);
                let candidates = |value: &str| {
                    let family = candidates(value, terms, None, None)?;
                    let layouts = family.candidates.iter().map(|own| own.layout.to_string());
                    Some((family.form.clone(), family.all_digits, layouts.collect::<Vec<_>>()))
                };
                proptest::prop_assert_eq!(candidates(value), candidates(other), "{:?} and {:?}", value, other);
            }
        }
    }

    #[test]
    fn values_of_one_shape_have_the_same_candidates() {
        let around: [(&str, &str); 28] = [
            ("", ""),
            ("", " 2024"),
            ("2024 ", ""),
            ("2024", ""),
            ("", "2024"),
            ("3 ", ""),
            ("", " 3"),
            ("3", ""),
            ("3 ", " 2024"),
            ("", " 3, 2024"),
            ("3", "2024"),
            ("03-", "-24"),
            ("", "-24"),
            ("", ", 5 March 2024"),
            ("5 March 2024, ", ""),
            ("5/3/2024 ", ""),
            ("5/3/2024 3:05 ", ""),
            ("5/3/2024 ", " 3:05"),
            ("10:15 ", ""),
            ("", " 10:15"),
            ("-3 ", ""),
            ("1.5 ", ""),
            ("3 ", "."),
            ("20240305", ""),
            ("", ", 5 Mar 2024 10:15:00 +0100"),
            ("05/", "/2024:10:15:00 +0100"),
            ("1 hour ", " 5 min"),
            ("5 ", " 10:15"),
        ];
        // Full names and short ones stand in one form.
        let layouts = |value: &str| -> Option<Vec<String>> {
            let family = candidates(value, Terms::default(), None, None)?;
            Some(family.candidates.iter().map(|c| whatever_names(&c.layout.to_string())).collect())
        };
        let names = names();
        assert!(names.len() > 100);
        for (before, behind) in around {
            let mut first: BTreeMap<Shape, (String, Option<Vec<String>>)> = BTreeMap::new();
            for name in &names {
                let value = format!("{before}{name}{behind}");
                let own = layouts(&value);
                match first.entry(Shape::of(&value, Terms::default())) {
                    Entry::Vacant(place) => drop(place.insert((value, own))),
                    Entry::Occupied(other) => {
                        let (other, others) = other.get();
                        assert_eq!(&own, others, "{value:?} and {other:?}");
                    }
                }
            }
        }
    }
}
