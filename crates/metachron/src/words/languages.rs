//! The language of the names, in sentences.

use std::fmt;

use metachron_core::lexicon::{Difference, Length, Lexicon};
use metachron_core::verdict::LanguageFinding;

use super::Words;
use super::pieces::{first, list, values};

impl fmt::Display for Words<'_, LanguageFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            LanguageFinding::NamesOf(locale) => {
                write!(f, "The names are {} ({locale}).", locale.language_name())
            }
            LanguageFinding::NamesAlike(locales) => write!(
                f,
                "The names are the same months in {}.",
                list(locales.iter().map(|locale| locale.language_name()), "and", "more languages")
            ),
            LanguageFinding::NamesOfSeveral => write!(
                f,
                "The names are of several languages; each is the same month in all that have it."
            ),
            LanguageFinding::NamesDiffer(Difference { name, meanings, is_month }) => {
                let english = Lexicon::english();
                let full = Length::Full;
                let meanings: Vec<String> = meanings
                    .iter()
                    .map(|(number, locales)| {
                        let meaning = match is_month {
                            true => english.month(*number, full, true),
                            false => english.weekday(*number, full),
                        };
                        let languages = locales.iter().map(|locale| locale.language_name());
                        format!("{meaning} in {}", list(languages, "and", "more languages"))
                    })
                    .collect();
                write!(f, "{name:?} is {}, and nothing tells which.", meanings.join("; "))
            }
            LanguageFinding::OtherLanguage { locale, rows } => write!(
                f,
                "You said {locale}, {}, but {} in another language{}.",
                locale.name(),
                values(rows, "is a date", "are dates"),
                first(rows)
            ),
        }
    }
}
