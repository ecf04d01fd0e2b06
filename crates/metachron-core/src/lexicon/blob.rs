//! The bytes of the lexicon, read in place: nothing is decoded before it is asked for.
//!
//! A heading of 20 bytes, the offsets of the sections and their end (u32), the sections; numbers
//! stand with their lowest byte first. `cargo run -p xtask -- lexicon` makes the bytes from CLDR 48.2
//! (Unicode-3.0 licence, see `LICENSE-UNICODE`).

use std::collections::HashSet;
use std::sync::OnceLock;

use crate::calendar::Calendar;

static BYTES: &[u8] = include_bytes!("cldr.bin");

const HEADING: &[u8] = b"METACHRON CLDR 48.2\0";

/// The sections, in their order.
#[derive(Clone, Copy)]
enum Section {
    /// Where each text begins (u32), and the end of the last.
    TextOffsets,
    Texts,
    /// [`LOCALE`] numbers (u16) a locale, sorted by tag.
    Locales,
    /// [`NAMES`] numbers of texts (u16) a set.
    Names,
    /// [`FORMATS`] numbers of texts (u16) a row.
    Formats,
    /// Pairs of texts: another tag, and the one that it stands for; sorted by the first.
    Aliases,
    /// Pairs of texts: a tag, and the same with its likely script and region; sorted.
    Likely,
    /// Texts: folded words that stand between the fields of dates, sorted.
    Connectors,
    /// Where each key begins and its first posting (u32 each), and the ends; sorted by key.
    Keys,
    KeyTexts,
    /// The set of names that the word belongs to (u16) and what it means there (u8), sorted.
    Postings,
    /// Pairs of hours (u8): when a part of the day begins, and when it is over.
    Periods,
    /// [`OTHERS`] sets of names (u16) a locale, for the months of other calendars.
    OtherMonths,
}

/// Numbers a locale: tag, tag with script and region, English name, calendar, digits, names, formats.
const LOCALE: usize = 7;
/// Texts a set of names: see [`Name`]; the last two are the language of its variants and the parts of
/// its day.
const NAMES: usize = 109;
/// Texts a row of formats: see [`LocaleFormat`].
const FORMATS: usize = 10;

/// Calendars with names of their own for months: Persian, Islamic, Hebrew, Indian, Coptic, Ethiopic.
const OTHERS: usize = 6;
/// Sets of names from this number on are those of such a calendar.
const FIRST_OTHER: u16 = 0x8000;

/// A name in a set.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Name {
    /// Beside a day, or alone; from 1.
    MonthFull {
        alone: bool,
        number: u8,
    },
    MonthShort {
        alone: bool,
        number: u8,
    },
    WeekdayFull(u8),
    WeekdayShort(u8),
    Am,
    Pm,
    Before,
    Since,
}

/// A written form of a locale.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LocaleFormat {
    /// `Tuesday, 5 March 2024`
    DateFull,
    /// `5 March 2024`
    DateLong,
    /// `5 Mar 2024`
    DateMedium,
    /// `05/03/2024`
    DateShort,
    /// `07:20:00`
    TimeMedium,
    /// `07:20`
    TimeShort,
}

fn section(section: Section) -> &'static [u8] {
    let offset = |index: usize| long(BYTES, HEADING.len() / 4 + index) as usize;
    let index = section as usize;
    &BYTES[offset(index)..offset(index + 1)]
}

fn long(bytes: &[u8], index: usize) -> u32 {
    let at = 4 * index;
    u32::from_le_bytes([bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]])
}

fn short(bytes: &[u8], index: usize) -> u16 {
    u16::from_le_bytes([bytes[2 * index], bytes[2 * index + 1]])
}

fn text(number: u16) -> &'static str {
    let offsets = section(Section::TextOffsets);
    let at = |index: usize| long(offsets, index) as usize;
    let bytes = &section(Section::Texts)[at(number.into())..at(usize::from(number) + 1)];
    std::str::from_utf8(bytes).unwrap_or_default()
}

pub(super) fn locale_count() -> u16 {
    (section(Section::Locales).len() / 2 / LOCALE) as u16
}

fn of_locale(locale: u16, index: usize) -> u16 {
    short(section(Section::Locales), usize::from(locale) * LOCALE + index)
}

pub(super) fn tag(locale: u16) -> &'static str {
    text(of_locale(locale, 0))
}

/// Language, script and region.
pub(super) fn maximized(locale: u16) -> &'static str {
    text(of_locale(locale, 1))
}

pub(super) fn english_name(locale: u16) -> &'static str {
    text(of_locale(locale, 2))
}

pub(super) fn calendar(locale: u16) -> &'static str {
    text(of_locale(locale, 3))
}

/// Its ten digits; empty for those of ASCII.
pub(super) fn digits(locale: u16) -> &'static str {
    text(of_locale(locale, 4))
}

/// The set of names that a locale has.
pub(super) fn names(locale: u16) -> u16 {
    of_locale(locale, 5)
}

pub(super) fn name(set: u16, name: Name) -> &'static str {
    let index = match name {
        Name::MonthFull { alone: false, number } => usize::from(number) - 1,
        Name::MonthShort { alone: false, number } => 12 + usize::from(number) - 1,
        Name::MonthFull { alone: true, number } => 24 + usize::from(number) - 1,
        Name::MonthShort { alone: true, number } => 36 + usize::from(number) - 1,
        Name::WeekdayFull(number) => 60 + usize::from(number) - 1,
        Name::WeekdayShort(number) => 67 + usize::from(number) - 1,
        Name::Am => 97,
        Name::Pm => 98,
        Name::Before => 103,
        Name::Since => 104,
    };
    text(short(section(Section::Names), usize::from(set) * NAMES + index))
}

/// A written form as a layout; empty where layouts lack a field of it.
pub(super) fn format(locale: u16, format: LocaleFormat) -> &'static str {
    format_at(locale, format as usize)
}

/// How a long or a medium date and a time are joined: `{1}, {0}`.
pub(super) fn joiner(locale: u16, long: bool) -> &'static str {
    format_at(locale, if long { 7 } else { 8 })
}

fn format_at(locale: u16, index: usize) -> &'static str {
    let row = usize::from(of_locale(locale, 6));
    text(short(section(Section::Formats), row * FORMATS + index))
}

/// The second text of the pair with this first one.
fn paired(pairs: Section, wanted: &str) -> Option<&'static str> {
    let pairs = section(pairs);
    let (mut low, mut high) = (0, pairs.len() / 4);
    while low < high {
        let middle = low.midpoint(high);
        match text(short(pairs, 2 * middle)).cmp(wanted) {
            std::cmp::Ordering::Equal => return Some(text(short(pairs, 2 * middle + 1))),
            std::cmp::Ordering::Less => low = middle + 1,
            std::cmp::Ordering::Greater => high = middle,
        }
    }
    None
}

/// What a tag stands for that is another name of one.
pub(super) fn alias(tag: &str) -> Option<&'static str> {
    paired(Section::Aliases, tag)
}

/// A tag with its likely script and region.
pub(super) fn likely(tag: &str) -> Option<&'static str> {
    paired(Section::Likely, tag)
}

/// The bytes of the longest connector.
pub(super) const LONGEST_CONNECTOR: usize = 32;

/// Whether a folded word stands between the fields of dates in some language.
pub(super) fn is_connector(word: &str) -> bool {
    static ALL: OnceLock<HashSet<&'static str>> = OnceLock::new();
    ALL.get_or_init(|| connectors().collect()).contains(word)
}

fn connectors() -> impl Iterator<Item = &'static str> {
    let connectors = section(Section::Connectors);
    (0..connectors.len() / 2).map(|index| text(short(connectors, index)))
}

/// The keys that begin with the bytes that were given so far, narrowed byte by byte.
#[derive(Clone, Copy)]
pub(super) struct Keys {
    low: usize,
    high: usize,
    length: usize,
}

/// Where the keys begin that begin with two given bytes, so that most words are settled at once.
static FIRST_TWO: OnceLock<Box<[u16]>> = OnceLock::new();

fn first_two() -> &'static [u16] {
    FIRST_TWO.get_or_init(|| {
        let count = key_count();
        let mut starts = vec![0; 1 << 16 | 1];
        let mut next = 0;
        for index in 0..count {
            let key = key(index);
            let second = key.get(1).copied().unwrap_or(0);
            let prefix = usize::from(key[0]) << 8 | usize::from(second);
            while next <= prefix {
                starts[next] = index as u16;
                next += 1;
            }
        }
        starts[next..].fill(count as u16);
        starts.into_boxed_slice()
    })
}

pub(super) fn key_count() -> usize {
    section(Section::Keys).len() / 8 - 1
}

impl Keys {
    /// The keys that begin with these two bytes.
    pub(super) fn with(first: u8, second: u8) -> Keys {
        let starts = first_two();
        let prefix = usize::from(first) << 8 | usize::from(second);
        Keys { low: starts[prefix].into(), high: starts[prefix + 1].into(), length: 2 }
    }

    pub(super) fn all() -> Keys {
        Keys { low: 0, high: key_count(), length: 0 }
    }

    pub(super) fn is_empty(self) -> bool {
        self.low == self.high
    }

    /// The keys that go on with this byte.
    pub(super) fn then(self, byte: u8) -> Keys {
        let at = self.length;
        let bound = |wanted: Option<u8>| {
            let (mut low, mut high) = (self.low, self.high);
            while low < high {
                let middle = low.midpoint(high);
                match key(middle).get(at).copied() < wanted {
                    true => low = middle + 1,
                    false => high = middle,
                }
            }
            low
        };
        let low = bound(Some(byte));
        let high = byte.checked_add(1).map_or(self.high, |next| bound(Some(next)));
        Keys { low, high, length: at + 1 }
    }

    /// The key that ends here.
    pub(super) fn complete(self) -> Option<usize> {
        (!self.is_empty() && key(self.low).len() == self.length).then_some(self.low)
    }
}

fn key(index: usize) -> &'static [u8] {
    let keys = section(Section::Keys);
    let at = |index: usize| long(keys, 2 * index) as usize;
    &section(Section::KeyTexts)[at(index)..at(index + 1)]
}

/// In which sets of names a key is, and what it means there (see [`super::Senses`]).
pub(super) fn postings(key: usize) -> impl Iterator<Item = (u16, u8)> {
    posting_bytes(key).chunks_exact(3).map(posting).take_while(|(set, _)| *set < FIRST_OTHER)
}

/// What a key means in the names of another calendar, in whatever language.
pub(super) fn postings_of(key: usize, calendar: Calendar) -> impl Iterator<Item = u8> {
    let all = posting_bytes(key).chunks_exact(3).map(posting);
    let others = all.skip_while(|(set, _)| *set < FIRST_OTHER);
    let of_calendar = move |set: u16| {
        (0..locale_count()).any(|locale| other_months(locale, calendar) == Some(set))
    };
    others.filter(move |(set, _)| of_calendar(*set)).map(|(_, code)| code)
}

/// The set of names that a locale has for the months of another calendar.
pub(super) fn other_months(locale: u16, calendar: Calendar) -> Option<u16> {
    let index = match calendar {
        Calendar::Persian => 0,
        Calendar::IslamicCivil | Calendar::IslamicTabular | Calendar::IslamicUmalqura => 1,
        Calendar::Hebrew => 2,
        Calendar::Indian => 3,
        Calendar::Coptic => 4,
        Calendar::Ethiopic | Calendar::EthiopicAmeteAlem => 5,
        Calendar::Gregorian
        | Calendar::Julian
        | Calendar::Buddhist
        | Calendar::Japanese
        | Calendar::Roc => {
            return None;
        }
    };
    Some(short(section(Section::OtherMonths), usize::from(locale) * OTHERS + index))
}

/// The hours of a part of the day.
pub(super) fn period(index: u8) -> (u8, u8) {
    let hours = section(Section::Periods);
    (hours[2 * usize::from(index)], hours[2 * usize::from(index) + 1])
}

/// What a key means in one set of names.
pub(super) fn postings_in(key: usize, set: u16) -> impl Iterator<Item = u8> {
    let (all, _) = posting_bytes(key).as_chunks::<3>();
    let from = all.partition_point(|bytes| posting(bytes).0 < set);
    all[from..].iter().map(|bytes| posting(bytes)).take_while(move |p| p.0 == set).map(|p| p.1)
}

fn posting(bytes: &[u8]) -> (u16, u8) {
    (u16::from_le_bytes([bytes[0], bytes[1]]), bytes[2])
}

fn posting_bytes(key: usize) -> &'static [u8] {
    let keys = section(Section::Keys);
    let at = |index: usize| 3 * long(keys, 2 * index + 1) as usize;
    &section(Section::Postings)[at(key)..at(key + 1)]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_bytes_are_what_the_reader_takes_them_for() {
        assert!(BYTES.starts_with(HEADING));
        assert_eq!(section(Section::Locales).len() % (2 * LOCALE), 0);
        assert_eq!(section(Section::Names).len() % (2 * NAMES), 0);
        assert_eq!(section(Section::Formats).len() % (2 * FORMATS), 0);
        assert_eq!(section(Section::Postings).len() % 3, 0);
        let others = section(Section::OtherMonths);
        assert_eq!(others.len(), 2 * OTHERS * usize::from(locale_count()));
        assert!((0..others.len() / 2).all(|index| short(others, index) >= FIRST_OTHER));
        assert!(section(Section::Periods).iter().all(|hour| *hour <= 24));
        std::str::from_utf8(section(Section::Texts)).unwrap();
        std::str::from_utf8(section(Section::KeyTexts)).unwrap();
    }

    #[test]
    fn what_is_searched_is_sorted_and_unique() {
        let keys = key_count();
        assert!(keys < usize::from(u16::MAX));
        assert!((1..keys).all(|index| key(index - 1) < key(index)));
        assert!((0..keys).all(|index| !key(index).is_empty() && !posting_bytes(index).is_empty()));
        let all = |index| posting_bytes(index).chunks_exact(3).map(posting);
        assert!((0..keys).all(|index| all(index).is_sorted_by(|a, b| a < b)));
        for pairs in [Section::Aliases, Section::Likely] {
            let pairs = section(pairs);
            let firsts = (0..pairs.len() / 4).map(|index| text(short(pairs, 2 * index)));
            assert!(firsts.is_sorted_by(|a, b| a < b));
        }
        assert!(connectors().is_sorted_by(|a, b| a < b));
        assert!(connectors().map(str::len).max() <= Some(LONGEST_CONNECTOR));
        assert!((0..locale_count()).map(tag).is_sorted_by(|a, b| a < b));
    }

    #[test]
    fn narrowing_by_two_bytes_is_narrowing_twice() {
        for first in 0..=255 {
            for second in 1..=255 {
                let (quick, slow) =
                    (Keys::with(first, second), Keys::all().then(first).then(second));
                assert_eq!((quick.low, quick.high), (slow.low, slow.high), "{first} {second}");
            }
        }
    }

    #[test]
    fn every_locale_is_complete() {
        assert_eq!(locale_count(), 766);
        let mut sets: Vec<u16> = Vec::new();
        for locale in 0..locale_count() {
            let set = names(locale);
            sets.push(set);
            assert_eq!(maximized(locale).split('-').count(), 3, "{}", tag(locale));
            assert!(!english_name(locale).is_empty() && !calendar(locale).is_empty());
            assert!(matches!(digits(locale).chars().count(), 0 | 10), "{}", tag(locale));
            for number in 1..=12 {
                for alone in [false, true] {
                    assert!(!name(set, Name::MonthFull { alone, number }).is_empty());
                    assert!(!name(set, Name::MonthShort { alone, number }).is_empty());
                }
            }
            for number in 1..=7 {
                assert!(!name(set, Name::WeekdayFull(number)).is_empty());
                assert!(!name(set, Name::WeekdayShort(number)).is_empty());
            }
            for one in [Name::Am, Name::Pm, Name::Before, Name::Since] {
                assert!(!name(set, one).is_empty(), "{} {one:?}", tag(locale));
            }
            for one in [
                LocaleFormat::DateFull,
                LocaleFormat::DateLong,
                LocaleFormat::DateMedium,
                LocaleFormat::DateShort,
            ] {
                assert!(!format(locale, one).is_empty(), "{} {one:?}", tag(locale));
            }
            assert!(joiner(locale, true).contains("{1}") && joiner(locale, false).contains("{0}"));
        }
        sets.sort_unstable();
        sets.dedup();
        assert_eq!(sets.len(), section(Section::Names).len() / 2 / NAMES, "no set is unused");
    }
}
