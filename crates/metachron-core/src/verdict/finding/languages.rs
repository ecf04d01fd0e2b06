//! The language of the names.

use crate::evidence::Occurrences;
use crate::lexicon::{Difference, Locale};

/// The language of the names.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LanguageFinding {
    /// All names are of this language.
    NamesOf(Locale),
    /// Several languages have all the names, and mean the same by them.
    NamesAlike(Vec<Locale>),
    /// No language has all the names.
    NamesOfSeveral,
    /// Several languages have all the names, and mean different months by them.
    NamesDiffer(Difference),
    /// The analyst has said where the values were written, but they are of another language.
    OtherLanguage {
        /// Where.
        locale: Locale,
        /// Values that are dates in another language.
        rows: Occurrences,
    },
}
