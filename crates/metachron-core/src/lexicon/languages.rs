//! Which languages the names of a column belong to.

use std::collections::BTreeMap;

use super::blob::{self, Keys};
use super::{Locale, Senses, english, is_narrow};
use crate::text::{Accents, fold};

/// What the names of a column, taken together, say of their language.
///
/// ```
/// use metachron_core::lexicon::{Languages, Locale};
/// let polish = Locale::named("pl").unwrap();
/// assert_eq!(Languages::of(["stycznia", "listopada", "maja"]), Languages::One(polish));
/// assert_eq!(Languages::of(["March", "May"]), Languages::English);
/// assert_eq!(Languages::of(["avril", "agosto"]), Languages::Several);
/// assert!(matches!(Languages::of(["listopad"]), Languages::Differ(_)));
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Languages {
    /// There are no names.
    None,
    /// English has them all.
    English,
    /// One language has them all; its main locale.
    One(Locale),
    /// Several languages have them all, and mean the same by them; the main locale of each.
    Alike(Vec<Locale>),
    /// Several languages have them all, and do not mean the same.
    Differ(Difference),
    /// No language has them all.
    Several,
}

/// A name that is another month, or another weekday, from language to language.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Difference {
    /// The name, in its folded form.
    pub name: String,
    /// The numbers of the months or weekdays that it can be, with the languages in which it is.
    pub meanings: Vec<(u8, Vec<Locale>)>,
    /// Whether it is a month.
    pub is_month: bool,
}

impl Languages {
    /// What these words say together. Only names of months and weekdays count.
    pub fn of<'w>(words: impl IntoIterator<Item = &'w str>) -> Languages {
        let mut all_words: Vec<&str> = Vec::new();
        // Per set of names, what each word means in it.
        let mut alive: Option<BTreeMap<u16, Vec<NameMeaning>>> = None;
        for word in words {
            let meanings = meanings(word);
            all_words.push(word);
            alive = Some(match alive {
                None => meanings.into_iter().map(|(set, meaning)| (set, vec![meaning])).collect(),
                Some(mut alive) => {
                    alive.retain(|set, _| meanings.contains_key(set));
                    for (set, all) in &mut alive {
                        all.push(meanings[set]);
                    }
                    alive
                }
            });
        }
        let Some(alive) = alive else { return Languages::None };
        if alive.contains_key(&blob::names(english().0)) {
            return Languages::English;
        }
        let mut meanings = alive.values();
        let Some(first) = meanings.next() else { return Languages::Several };
        if let Some(other) = meanings.find(|other| *other != first)
            && let Some(at) = (0..first.len()).find(|at| first[*at] != other[*at])
        {
            return Languages::Differ(Difference::of(all_words[at], at, &alive));
        }
        match main_locales(alive.keys().copied())[..] {
            [only] => Languages::One(only),
            ref several => Languages::Alike(several.to_vec()),
        }
    }
}

impl Difference {
    fn of(name: &str, at: usize, alive: &BTreeMap<u16, Vec<NameMeaning>>) -> Difference {
        let is_month = alive.values().any(|meanings| meanings[at].0.is_some());
        let number = |meaning: NameMeaning| if is_month { meaning.0 } else { meaning.1 };
        let mut sets: BTreeMap<u8, Vec<u16>> = BTreeMap::new();
        for (set, meanings) in alive {
            if let Some(number) = number(meanings[at]) {
                sets.entry(number).or_default().push(*set);
            }
        }
        let meanings = sets.into_iter().map(|(number, sets)| (number, main_locales(sets)));
        Difference { name: name.to_owned(), meanings: meanings.collect(), is_month }
    }
}

/// The main locale of each language that has one of these sets of names.
fn main_locales(sets: impl IntoIterator<Item = u16>) -> Vec<Locale> {
    let mut locales: Vec<Locale> = sets.into_iter().map(main_locale).collect();
    locales.sort_by_key(|locale| (locale.tag().len(), *locale));
    let mut seen: Vec<&str> = Vec::new();
    locales.retain(|locale| {
        let is_new = !seen.contains(&locale.language());
        seen.push(locale.language());
        is_new
    });
    locales
}

/// A month and a weekday.
type NameMeaning = (Option<u8>, Option<u8>);

/// What a word means in every set of names that has it.
fn meanings(word: &str) -> BTreeMap<u16, NameMeaning> {
    let mut found: BTreeMap<u16, NameMeaning> = BTreeMap::new();
    for accents in [Accents::Kept, Accents::Dropped] {
        let mut keys = Keys::all();
        for byte in fold(word, accents).bytes() {
            keys = keys.then(byte);
        }
        let postings = keys.complete().into_iter().flat_map(blob::postings);
        for (set, code) in postings.filter(|(_, code)| !is_narrow(*code)) {
            let senses = Senses::of_code(code);
            let (month, weekday) = found.entry(set).or_default();
            *month = month.or(senses.month.map(|(number, _)| number));
            *weekday = weekday.or(senses.weekday.map(|(number, _)| number));
        }
        if !found.is_empty() {
            break;
        }
    }
    found
}

/// The locale with the shortest tag that has this set of names.
fn main_locale(set: u16) -> Locale {
    let having = Locale::all().filter(|locale| blob::names(locale.0) == set);
    having.min_by_key(|locale| (locale.tag().len(), *locale)).unwrap_or_else(english)
}
