//! The words for units of time (CLDR 48.2, patterns for durations, 112 languages).
//!
//! `units.tsv` has a line for each word and unit, with the languages that use it so;
//! `cargo run -p xtask -- units` makes it.

use std::collections::{BTreeSet, HashMap};
use std::hash::BuildHasherDefault;
use std::sync::OnceLock;

use super::{Lexicon, Locale};
use crate::duration::Unit;
use crate::text::{Accents, Stirring, fold};

static TABLE: &str = include_str!("units.tsv");

/// What a word for a unit can stand for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct UnitWord {
    /// The units, each with the languages in which it is meant.
    meanings: Vec<(Unit, Languages)>,
    /// Whether it is a mark: `75'` is minutes wherever it is a length of time, and feet elsewhere.
    is_mark: bool,
    /// One or two Latin letters can be anything, unless English has them or the language is known.
    is_short: bool,
}

/// Languages as the table has them: sorted, with spaces between them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Languages(&'static str);

impl Languages {
    fn all(self) -> impl Iterator<Item = &'static str> {
        self.0.split_terminator(' ')
    }

    fn have(self, language: &str) -> bool {
        self.all().any(|own| own == language)
    }
}

/// The unit that a word may stand for: in any case, with or without accents and the point of an
/// abbreviation.
///
/// ```
/// use metachron_core::lexicon::unit_word;
/// let word = unit_word("Std.").unwrap();
/// assert_eq!(word.unit_in(Some("de")).unwrap().name(), "hours");
/// // Hours in Danish, days in German, weeks in Czech:
/// assert_eq!(unit_word("t").unwrap().unit_in(None), None);
/// assert!(unit_word("kg").is_none());
/// ```
pub fn unit_word(word: &str) -> Option<&'static UnitWord> {
    type Words = HashMap<&'static str, UnitWord, BuildHasherDefault<Stirring>>;
    static WORDS: OnceLock<Words> = OnceLock::new();
    let words = WORDS.get_or_init(|| {
        let mut words = Words::default();
        for line in TABLE.lines() {
            let mut cells = line.split('\t');
            if let (Some(word), Some(unit), Some(languages)) =
                (cells.next(), cells.next(), cells.next())
                && let Ok(unit) = Unit::named(unit)
            {
                let is_short = word.chars().count() < 3 && word.is_ascii();
                let own = UnitWord { meanings: Vec::new(), is_mark: false, is_short };
                let own = words.entry(word).or_insert(own);
                own.meanings.push((unit, Languages(languages)));
            }
        }
        for (mark, unit) in MARKS {
            let meanings = vec![(unit, Languages(""))];
            words.insert(mark, UnitWord { meanings, is_mark: true, is_short: true });
        }
        words
    });
    let word = word.trim_end_matches('.');
    if word.is_empty() || word.len() > LONGEST {
        return None;
    }
    words
        .get(fold(word, Accents::Kept).as_str())
        .or_else(|| words.get(fold(word, Accents::Dropped).as_str()))
}

/// Languages in which tables are written most, roughly in this order; any order of them would do, since it
/// says only which of several meanings are named first.
pub const MOST_USED: [&str; 20] = [
    "en", "de", "fr", "es", "pt", "it", "nl", "nb", "sv", "da", "pl", "cs", "fi", "tr", "ru", "uk",
    "hu", "ro", "el", "id",
];

/// Minutes and seconds as marks. Source: ISO 80000-3:2019, of angles, from which people take them.
const MARKS: [(&str, Unit); 5] = [
    ("'", Unit::MINUTES),
    ("′", Unit::MINUTES),
    ("''", Unit::SECONDS),
    ("\"", Unit::SECONDS),
    ("″", Unit::SECONDS),
];

/// Bytes of the longest word that is looked up.
const LONGEST: usize = 64;

impl UnitWord {
    /// The unit that it stands for in a language; where none is said, or it has no such word: in English,
    /// where `m` is months as well as minutes; else what it stands for wherever it is used.
    pub fn unit_in(&self, language: Option<&str>) -> Option<Unit> {
        if self.is_mark {
            return self.meanings.first().map(|(unit, _)| *unit);
        }
        let of = |language: &str| {
            let mut units = self.meanings.iter().filter(|(_, all)| all.have(language));
            match (units.next(), units.next()) {
                (Some((unit, _)), None) => Some(*unit),
                _ => None,
            }
        };
        let in_english = || match self.is_in("en") {
            true => of("en"),
            false => match &self.meanings[..] {
                [(unit, _)] if !self.is_short => Some(*unit),
                _ => None,
            },
        };
        match language.filter(|language| self.is_in(language)) {
            Some(language) => of(language),
            None => in_english(),
        }
    }

    /// Whether it stands for hours and nothing else where it is not used for something else in English.
    pub fn is_hours(&self) -> bool {
        self.unit_in(None) == Some(Unit::HOURS)
    }

    /// Whether it stands for this unit in some language, and is no word that is too short to tell.
    pub(crate) fn is_surely(&self, unit: Unit) -> bool {
        !self.is_short && self.meanings.iter().any(|(own, _)| *own == unit)
    }

    /// Whether it is so short that it may be no unit of time at all: `183 mm`, unless English has it.
    pub fn may_be_measure(&self) -> bool {
        self.is_mark || (self.is_short && !self.is_in("en"))
    }

    /// Whether a language has the word.
    pub(crate) fn is_in(&self, language: &str) -> bool {
        self.is_mark || self.meanings.iter().any(|(_, all)| all.have(language))
    }

    /// Whether it is a mark, which no language has of its own.
    pub fn is_mark(&self) -> bool {
        self.is_mark
    }

    /// Whether it stands for minutes as well as for months in that language, or wherever it is used, like `m`
    /// does.
    pub fn is_minutes_or_months(&self, language: Option<&str>) -> bool {
        let has = |unit: Unit| {
            let own = self.meanings.iter().filter(|(own, _)| *own == unit);
            own.flat_map(|(_, all)| all.all()).any(|own| match language {
                Some(language) if self.is_in(language) => own == language,
                _ => own == "en" || !self.is_in("en"),
            })
        };
        has(Unit::MINUTES) && has(Unit::MONTHS)
    }

    /// The languages in which it stands for anything.
    pub fn languages(&self) -> BTreeSet<&'static str> {
        self.meanings.iter().flat_map(|(_, all)| all.all()).collect()
    }

    /// Whether people who write it mean the unit rather than the month that it is called in a rarer language:
    /// `Sek` is seconds, and `dez` December. Where a language is known, its own word counts.
    pub(crate) fn is_meant_by(&self, word: &str, language: Option<&str>) -> bool {
        if let Some(language) = language {
            return self.is_in(language);
        }
        let is_month = |language: &str| {
            let lexicon = Locale::named(language).map(Lexicon::of);
            lexicon.is_ok_and(|own| own.look_up(word).is_some_and(|senses| senses.is_month()))
        };
        MOST_USED.iter().any(|own| self.is_in(own)) && !MOST_USED.iter().any(|own| is_month(own))
    }

    /// What it may stand for, each with the most used of its languages, those of the most used ones first.
    pub fn meanings(&self) -> Vec<(Unit, &'static str)> {
        let rank = |language: &str| MOST_USED.iter().position(|own| *own == language);
        let rank = |language: &str| rank(language).unwrap_or(MOST_USED.len());
        let best = |all: &Languages| all.all().min_by_key(|own| rank(own));
        let all = self.meanings.iter().filter_map(|(unit, all)| Some((*unit, best(all)?)));
        let mut all: Vec<(Unit, &str)> = all.collect();
        all.sort_by_key(|(_, language)| rank(language));
        all
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_most_used_languages_have_words_of_their_own() {
        for (language, hours, minutes, days) in [
            ("en", "hours", "minutes", "days"),
            ("zh", "小时", "分钟", "天"),
            ("hi", "घंटे", "मिनट", "दिन"),
            ("es", "horas", "minutos", "días"),
            ("fr", "heures", "minutes", "jours"),
            ("ar", "ساعات", "دقائق", "أيام"),
            ("bn", "ঘন্টা", "মিনিট", "দিন"),
            ("pt", "horas", "minutos", "dias"),
            ("ru", "часов", "минут", "дней"),
            ("ur", "گھنٹے", "منٹ", "دن"),
            ("id", "jam", "menit", "hari"),
            ("de", "Stunden", "Minuten", "Tage"),
            ("ja", "時間", "分", "日"),
            ("tr", "saat", "dakika", "gün"),
            ("vi", "giờ", "phút", "ngày"),
            ("ko", "시간", "분", "일"),
            ("it", "ore", "minuti", "giorni"),
            ("fa", "ساعت", "دقیقه", "روز"),
            ("pl", "godziny", "minuty", "dni"),
            ("uk", "годин", "хвилин", "днів"),
            ("nl", "uur", "minuten", "dagen"),
            ("th", "ชั่วโมง", "นาที", "วัน"),
            ("ro", "ore", "minute", "zile"),
            ("el", "ώρες", "λεπτά", "ημέρες"),
            ("cs", "hodiny", "minuty", "dny"),
            ("hu", "óra", "perc", "nap"),
            ("sv", "timmar", "minuter", "dygn"),
            ("nb", "timer", "minutter", "døgn"),
            ("da", "timer", "minutter", "dage"),
            ("fi", "tuntia", "minuuttia", "päivää"),
            ("ta", "மணிநேரம்", "நிமிடங்கள்", "நாட்கள்"),
            ("te", "గంటలు", "నిమిషాలు", "రోజులు"),
            ("mr", "तास", "मिनिटे", "दिवस"),
        ] {
            for (word, unit) in [(hours, Unit::HOURS), (minutes, Unit::MINUTES), (days, Unit::DAYS)]
            {
                let found = unit_word(word).and_then(|word| word.unit_in(Some(language)));
                assert_eq!(found, Some(unit), "{word} in {language}");
            }
        }
    }

    #[test]
    fn months_of_the_most_used_languages_are_no_units() {
        for (word, language, is_meant) in [
            ("Sek", None, true),
            ("dag", None, true),
            ("dez", None, false),
            ("sept", None, false),
            ("set", None, false),
            ("sek", Some("de"), true),
            ("dag", Some("de"), false),
        ] {
            let own = unit_word(word).unwrap();
            assert_eq!(own.is_meant_by(word, language), is_meant, "{word} {language:?}");
        }
    }

    #[test]
    fn a_word_of_several_meanings_has_none_without_a_language() {
        for (word, language, unit) in [
            ("t", None, None),
            ("t", Some("nb"), Some(Unit::HOURS)),
            ("t", Some("de"), Some(Unit::DAYS)),
            ("h", None, Some(Unit::HOURS)),
            ("HRS", None, Some(Unit::HOURS)),
            ("m", None, None),
            ("m", Some("es"), Some(Unit::MONTHS)),
            ("días", None, Some(Unit::DAYS)),
            ("dias", None, Some(Unit::DAYS)),
            ("dk.", None, None),
            ("dk.", Some("tr"), Some(Unit::MINUTES)),
            ("dak", None, Some(Unit::MINUTES)),
            ("год", Some("uk"), Some(Unit::HOURS)),
            ("год", Some("ru"), Some(Unit::YEARS)),
        ] {
            let found = unit_word(word).unwrap();
            assert_eq!(found.unit_in(language), unit, "{word} {language:?}");
        }
        assert!(unit_word("m").unwrap().is_minutes_or_months(None));
        assert!(!unit_word("t").unwrap().is_minutes_or_months(None));
        assert!(!unit_word("m").unwrap().is_minutes_or_months(Some("es")));
    }
}
