//! The words of languages that stand in dates and times (CLDR 48.2, all 766 locales).

mod blob;
mod locale;
mod languages;
mod pieces;
mod units;
mod numerals;
mod recent;

use crate::text::{Accents, fold_char};

pub use crate::calendar::Era;
pub use blob::LocaleFormat;
pub use languages::{Difference, Languages};
pub use locale::{Locale, UnknownLocale};
pub(crate) use numerals::numeral;
pub(crate) use pieces::names_are_for_all_digits;
pub use pieces::{Piece, PieceKind, letter_of_half, names, pieces, runs_on};
pub use units::{MOST_USED, UnitWord, unit_word};

use crate::calendar::Calendar;
use blob::{Keys, Name};

/// Before or after noon.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Half {
    /// From midnight to noon.
    Am,
    /// From noon to midnight.
    Pm,
    /// Twelve o'clock by day.
    Noon,
    /// Twelve o'clock by night.
    Midnight,
    /// A part of the day: the hour when it begins, and the one when it is over.
    Within(u8, u8),
}

impl Half {
    /// The hour of 24 that an hour of 12 is; none if that is not so by day and not so by night, or
    /// both.
    ///
    /// ```
    /// use metachron_core::lexicon::Half;
    /// assert_eq!(Half::Pm.hour(12), Some(12));
    /// assert_eq!(Half::Within(21, 6).hour(11), Some(23)); // at night
    /// assert_eq!(Half::Within(21, 6).hour(1), Some(1));
    /// assert_eq!(Half::Within(6, 12).hour(3), None); // in the morning
    /// ```
    pub fn hour(self, hour: u8) -> Option<u8> {
        let (early, late) = (hour % 12, hour % 12 + 12);
        match self {
            Half::Am => Some(early),
            Half::Pm => Some(late),
            Half::Noon => (late == 12).then_some(12),
            Half::Midnight => (early == 0).then_some(0),
            Half::Within(from, before) => {
                let within = |hour: u8| match from < before {
                    true => (from..before).contains(&hour),
                    false => hour >= from || hour < before,
                };
                match (within(early), within(late)) {
                    (true, false) => Some(early),
                    (false, true) => Some(late),
                    _ => None,
                }
            }
        }
    }
}

/// Which of its names a month or weekday is called by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Length {
    /// `January`, and no short name.
    Full,
    /// `Jan`, and no full name.
    Short,
    /// `May`.
    Either,
}

/// What a word can stand for; each role at most once.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Senses {
    /// The month with this number, and which of its names it is.
    pub month: Option<(u8, Length)>,
    /// The day of the week with this number, Monday being 1 (ISO 8601-1).
    pub weekday: Option<(u8, Length)>,
    /// A marker of a 12-hour clock.
    pub half: Option<Half>,
    /// An era.
    pub era: Option<Era>,
    /// The ending of an ordinal number: `3rd`.
    pub ordinal: bool,
    /// A month, but another one from language to language.
    pub unclear_month: bool,
    /// A day of the week, but another one from language to language.
    pub unclear_weekday: bool,
}

impl Senses {
    /// Whether it is a month of some language.
    pub fn is_month(self) -> bool {
        self.month.is_some() || self.unclear_month
    }

    /// Which of its names a month is called by: the full one, where it is another month from language to language.
    pub fn month_length(self) -> Option<Length> {
        self.is_month().then(|| self.month.map_or(Length::Full, |(_, length)| length))
    }

    /// Whether it is a day of the week of some language.
    pub fn is_weekday(self) -> bool {
        self.weekday.is_some() || self.unclear_weekday
    }

    /// What one posting of the index says.
    fn of_code(code: u8) -> Senses {
        let mut senses = Senses::default();
        match code {
            1..=12 => senses.month = Some((code, Length::Full)),
            13..=24 => senses.month = Some((code - 12, Length::Short)),
            25..=36 => senses.month = Some((code - 24, Length::Short)),
            41..=47 => senses.weekday = Some((code - 40, Length::Full)),
            48..=54 => senses.weekday = Some((code - 47, Length::Short)),
            61 => senses.half = Some(Half::Am),
            62 => senses.half = Some(Half::Pm),
            65 | 66 => senses.era = Some(Era::ALL[usize::from(code) - 65]),
            71..=84 => senses.month = Some((code - 70, Length::Full)),
            85..=91 => senses.era = Some(Era::ALL[usize::from(code) - 83]),
            92..=98 => senses.era = Some(Era::ALL[usize::from(code) - 90]),
            99 => senses.era = Some(Era::OfCalendar),
            100 => senses.half = Some(Half::Noon),
            101 => senses.half = Some(Half::Midnight),
            102.. => {
                let (from, before) = blob::period(code - 102);
                senses.half = Some(Half::Within(from, before));
            }
            _ => senses.ordinal = true,
        }
        senses
    }
}

/// A word found at the beginning of a text.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct FoundWord {
    /// What it can stand for.
    pub senses: Senses,
    /// The bytes that it takes, without an abbreviation point behind it.
    pub length: usize,
}

/// The words of one language, with those of English beside them, or of all languages.
///
/// ```
/// use metachron_core::lexicon::{Length, Lexicon, Locale};
/// let portuguese = Lexicon::of(Locale::named("pt-BR").unwrap());
/// assert_eq!(portuguese.look_up("ABRIL").unwrap().month, Some((4, Length::Full)));
/// assert_eq!(portuguese.month(3, Length::Full, false), "março");
/// assert_eq!(Lexicon::every().look_up("marco").unwrap().month, Some((3, Length::Full)));
/// // October in Croatian, November in Polish and Czech:
/// assert_eq!(Lexicon::every().look_up("listopad").unwrap().month, None);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Lexicon {
    /// None stands for every language.
    locale: Option<Locale>,
    /// Whose months are meant.
    calendar: Calendar,
}

impl Lexicon {
    /// The words of every language: a word that English has is English; of the others those that
    /// mean the same wherever they are used.
    pub fn every() -> Lexicon {
        Lexicon { locale: None, calendar: Calendar::Gregorian }
    }

    /// The words of English.
    pub fn english() -> Lexicon {
        Lexicon::of(english())
    }

    /// The words of a locale; what it lacks is English.
    pub fn of(locale: Locale) -> Lexicon {
        Lexicon { locale: Some(locale), calendar: Calendar::Gregorian }
    }

    /// The same words, with the months of this calendar.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// use metachron_core::lexicon::Lexicon;
    /// assert_eq!(Lexicon::english().in_calendar(Calendar::Persian).calendar(), Calendar::Persian);
    /// ```
    #[must_use]
    pub fn in_calendar(self, calendar: Calendar) -> Lexicon {
        Lexicon { calendar, ..self }
    }

    /// The calendar whose months are meant.
    pub fn calendar(self) -> Calendar {
        self.calendar
    }

    /// The locale; none for every language.
    ///
    /// ```
    /// use metachron_core::lexicon::Lexicon;
    /// assert_eq!(Lexicon::english().locale().unwrap().tag(), "en");
    /// assert_eq!(Lexicon::every().locale(), None);
    /// ```
    pub fn locale(self) -> Option<Locale> {
        self.locale
    }

    /// The longest word of the lexicon at the beginning of a normalised text, if it ends there too:
    /// no letter follows, unless it is of a script that runs words together.
    ///
    /// ```
    /// use metachron_core::lexicon::Lexicon;
    /// assert_eq!(Lexicon::english().find("Sept. 2024").unwrap().length, 4);
    /// ```
    pub fn find(self, text: &str) -> Option<FoundWord> {
        recent::remembering(self, text, || self.find_anew(text))
    }

    /// Whether what is found at the beginning of a text may be another word if digits in it are others: `Thg 3` is a
    /// month as a whole.
    pub(crate) fn hangs_on_digits(self, text: &str) -> bool {
        let (_, last) = self.find_anew(text);
        text.bytes().take(last + 1).any(|byte| byte.is_ascii_digit())
    }

    /// The word, and the place of the last character that was looked at to find it.
    fn find_anew(self, text: &str) -> (Option<FoundWord>, usize) {
        // The index holds every name with its accents and without.
        let (exact, last) = self.find_folded(text, Accents::Kept);
        let found = match exact {
            None if !text.is_ascii() => self.find_folded(text, Accents::Dropped).0,
            exact => exact,
        };
        let Some(found) = found else { return (None, last) };
        // `Thu 2` is Monday in Vietnamese without its accents, but beside `Thu 29` the digit is that of a day: where
        // no language is known, such a name needs its accents.
        let name = &text[..found.length];
        if self.locale.is_none() && name.is_ascii() && name.ends_with(|c: char| c.is_ascii_digit())
        {
            let letters = text.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(text.len());
            return (self.find_folded(&text[..letters], Accents::Kept).0, last);
        }
        (Some(found), last)
    }

    fn find_folded(self, text: &str, accents: Accents) -> (Option<FoundWord>, usize) {
        let mut keys = Keys::all();
        let mut found = None;
        let mut characters = text.char_indices().peekable();
        // Two letters, the usual beginning, settle most words at once.
        if let [first, second, ..] = text.as_bytes()
            && first.is_ascii_alphabetic()
            && second.is_ascii_alphabetic()
        {
            keys = Keys::with(first.to_ascii_lowercase(), second.to_ascii_lowercase());
            characters.next();
        }
        let mut is_narrowed = characters.peek().is_some_and(|(at, _)| *at > 0);
        // Its end is looked at too, unless no word goes on so far.
        let mut last = text.len();
        while let Some((at, c)) = characters.next() {
            if !std::mem::take(&mut is_narrowed) {
                fold_char(c, accents, |piece| {
                    let mut utf8 = [0; 4];
                    for byte in piece.encode_utf8(&mut utf8).bytes() {
                        keys = keys.then(byte);
                    }
                });
            }
            if keys.is_empty() {
                last = at;
                break;
            }
            let ends = match characters.peek() {
                None => true,
                Some((_, next)) => !continues(c, *next),
            };
            if ends
                && let Some(key) = keys.complete()
                && let Some(senses) = self.senses(key)
            {
                found = Some(FoundWord { senses, length: at + c.len_utf8() });
            }
        }
        (found, last)
    }

    /// What a whole word can stand for, whatever its case, with or without accents and a point.
    ///
    /// ```
    /// use metachron_core::lexicon::{Length, Lexicon, Locale};
    /// let polish = Lexicon::of(Locale::named("pl").unwrap());
    /// assert_eq!(polish.look_up("kwietnia").unwrap().month, Some((4, Length::Full)));
    /// ```
    pub fn look_up(self, word: &str) -> Option<Senses> {
        let word = word.strip_suffix('.').unwrap_or(word);
        self.find(word).filter(|found| found.length == word.len()).map(|found| found.senses)
    }

    /// What a key stands for here.
    fn senses(self, key: usize) -> Option<Senses> {
        if self.calendar.has_own_months() {
            return self.with_other_months(key);
        }
        let Some(locale) = self.locale else { return everywhere(key) };
        // The locale's own words come first, role by role.
        let own = blob::postings_in(key, blob::names(locale.0));
        let mut gathered = Gathered::of(own, Mixed::OneLanguage);
        gathered.fill(in_english(key));
        gathered.settle()
    }

    /// What a key stands for where months are those of another calendar: of the locale and of
    /// English, or of all languages where none is said.
    fn with_other_months(self, key: usize) -> Option<Senses> {
        let gregorian = Lexicon { calendar: Calendar::Gregorian, ..self }.senses(key);
        let rest = gregorian.map(|senses| Senses { month: None, unclear_month: false, ..senses });
        let own = match self.locale {
            None => {
                let codes = blob::postings_of(key, self.calendar);
                Gathered::of(codes, Mixed::OneLanguage)
            }
            Some(locale) => {
                let of = |locale: Locale| {
                    let set = blob::other_months(locale.0, self.calendar);
                    let codes = set.into_iter().flat_map(|set| blob::postings_in(key, set));
                    Gathered::of(codes, Mixed::OneLanguage)
                };
                let mut own = of(locale);
                own.fill(of(english()));
                own
            }
        }
        .settle();
        let (own, rest) = (own.unwrap_or_default(), rest.unwrap_or_default());
        let (month, unclear_month) = (own.month, own.unclear_month);
        let all = Senses { month, unclear_month, era: own.era.or(rest.era), ..rest };
        (all != Senses::default()).then_some(all)
    }

    /// The name of a month, 1 to 12, beside a day or alone.
    ///
    /// ```
    /// use metachron_core::lexicon::{Length, Lexicon};
    /// assert_eq!(Lexicon::english().month(4, Length::Short, false), "Apr");
    /// ```
    pub fn month(self, number: u8, length: Length, alone: bool) -> &'static str {
        let number = (number.max(1) - 1) % 12 + 1;
        let name = match length {
            Length::Short => Name::MonthShort { alone, number },
            _ => Name::MonthFull { alone, number },
        };
        blob::name(self.writes(), name)
    }

    /// The name of a day of the week, Monday being 1.
    ///
    /// ```
    /// use metachron_core::lexicon::{Length, Lexicon};
    /// assert_eq!(Lexicon::english().weekday(1, Length::Full), "Monday");
    /// ```
    pub fn weekday(self, number: u8, length: Length) -> &'static str {
        let number = (number.max(1) - 1) % 7 + 1;
        let name = match length {
            Length::Short => Name::WeekdayShort(number),
            _ => Name::WeekdayFull(number),
        };
        blob::name(self.writes(), name)
    }

    /// The marker of a half of the day.
    pub fn half(self, half: Half) -> &'static str {
        let early = matches!(half, Half::Am | Half::Midnight);
        let name = if early { Name::Am } else { Name::Pm };
        blob::name(self.writes(), name)
    }

    /// The name of an era.
    pub fn era(self, era: Era) -> &'static str {
        let name = if era == Era::Before { Name::Before } else { Name::Since };
        blob::name(self.writes(), name)
    }

    /// The ending that makes a day's number an ordinal one in English: `st` for 21.
    ///
    /// ```
    /// use metachron_core::lexicon::Lexicon;
    /// assert_eq!(Lexicon::english().ordinal_ending(22), "nd");
    /// ```
    pub fn ordinal_ending(self, day: u8) -> &'static str {
        match (day / 10, day % 10) {
            (1, _) => "th",
            (_, 1) => "st",
            (_, 2) => "nd",
            (_, 3) => "rd",
            _ => "th",
        }
    }

    /// The names that are written: those of English where no language is said.
    fn writes(self) -> u16 {
        blob::names(self.locale.unwrap_or_else(english).0)
    }
}

fn in_english(key: usize) -> Gathered {
    let codes = blob::postings_in(key, blob::names(english().0));
    Gathered::of(codes.filter(|code| !is_narrow(*code)), Mixed::OneLanguage)
}

/// What a key stands for where no language is known.
fn everywhere(key: usize) -> Option<Senses> {
    static SENSES: std::sync::OnceLock<Vec<Option<Senses>>> = std::sync::OnceLock::new();
    let all = SENSES.get_or_init(|| {
        let senses = |key| {
            // `PM` is a month somewhere, but nowhere that English is not read first.
            in_english(key).settle().or_else(|| {
                let others = blob::postings(key).map(|(_, code)| code);
                let others = others.filter(|code| !needs_language(*code));
                Gathered::of(others, Mixed::Languages).settle()
            })
        };
        (0..blob::key_count()).map(senses).collect()
    });
    all.get(key).copied().flatten()
}

fn english() -> Locale {
    static ENGLISH: std::sync::OnceLock<Locale> = std::sync::OnceLock::new();
    // English is in the lexicon, as a test makes sure.
    *ENGLISH.get_or_init(|| Locale::named("en").unwrap_or(Locale(0)))
}

/// Whether a word is too short or too common to be looked for where no language is known: single
/// letters for months and eras, parts of the day.
fn needs_language(code: u8) -> bool {
    is_narrow(code) || matches!(code, 92..=98 | 102..)
}

/// Whether a word goes on from one character to the next.
fn continues(last: char, next: char) -> bool {
    last.is_alphabetic() && next.is_alphabetic() && !runs_on(last) && !runs_on(next)
}

const NARROW: std::ops::RangeInclusive<u8> = 25..=36;

fn is_narrow(code: u8) -> bool {
    NARROW.contains(&code)
}

/// Roles while they are gathered: a role that is found with two numbers is closed.
#[derive(Default)]
struct Gathered {
    month: Sense<(u8, Length)>,
    weekday: Sense<(u8, Length)>,
    half: Sense<Half>,
    era: Sense<Era>,
    ordinal: Sense<()>,
}

/// Whether names come from one language, where one that is full and short says neither, or from
/// several, where it says more if it is a full one anywhere.
#[derive(Clone, Copy)]
enum Mixed {
    OneLanguage,
    Languages,
}

#[derive(Default, Clone, Copy, PartialEq)]
enum Sense<T> {
    #[default]
    None,
    One(T),
    /// It differs from language to language.
    Several,
}

impl<T: Copy> Sense<T> {
    fn add(&mut self, other: T, merge: impl Fn(T, T) -> Option<T>) {
        *self = match *self {
            Sense::None => Sense::One(other),
            Sense::One(own) => merge(own, other).map_or(Sense::Several, Sense::One),
            Sense::Several => Sense::Several,
        };
    }

    fn fill(&mut self, other: Sense<T>) {
        if let Sense::None = self {
            *self = other;
        }
    }

    fn one(self) -> Option<T> {
        match self {
            Sense::One(one) => Some(one),
            _ => None,
        }
    }
}

impl Gathered {
    fn of(codes: impl Iterator<Item = u8>, mixed: Mixed) -> Gathered {
        let mut own = Gathered::default();
        let named = |(a, x): (u8, Length), (b, y): (u8, Length)| {
            let length = match (x == y, mixed) {
                (true, _) => x,
                (false, Mixed::OneLanguage) => Length::Either,
                (false, Mixed::Languages) => Length::Full,
            };
            (a == b).then_some((a, length))
        };
        fn same<T: PartialEq>(a: T, b: T) -> Option<T> {
            (a == b).then_some(a)
        }
        for senses in codes.map(Senses::of_code) {
            senses.month.into_iter().for_each(|month| own.month.add(month, named));
            senses.weekday.into_iter().for_each(|weekday| own.weekday.add(weekday, named));
            senses.half.into_iter().for_each(|half| own.half.add(half, same));
            senses.era.into_iter().for_each(|era| own.era.add(era, same));
            if senses.ordinal {
                own.ordinal.add((), same);
            }
        }
        own
    }

    fn fill(&mut self, other: Gathered) {
        self.month.fill(other.month);
        self.weekday.fill(other.weekday);
        self.half.fill(other.half);
        self.era.fill(other.era);
        self.ordinal.fill(other.ordinal);
    }

    /// The senses, or none if the word has nothing to do with this lexicon.
    fn settle(self) -> Option<Senses> {
        let senses = Senses {
            month: self.month.one(),
            weekday: self.weekday.one(),
            half: self.half.one(),
            era: self.era.one(),
            ordinal: self.ordinal.one().is_some(),
            unclear_month: self.month == Sense::Several,
            unclear_weekday: self.weekday == Sense::Several,
        };
        (senses != Senses::default()).then_some(senses)
    }
}
