//! Closed lists of things that options, files and reports call by a word.

use strum::VariantArray;

use crate::error::nearest;

/// Something that has a word of its own: an order, a kind, a calendar.
///
/// The words are those of the variants, in lower case with hyphens.
///
/// ```
/// use metachron_core::named::Named;
/// use metachron_core::order::Order;
/// assert_eq!(Order::named("mdy"), Ok(Order::Mdy));
/// assert_eq!(Order::named("mdyy"), Err(Some("mdy")));
/// assert_eq!(Order::names().collect::<Vec<_>>(), ["dmy", "mdy", "ymd", "ydm"]);
/// assert_eq!(Order::Ymd.name(), "ymd");
/// ```
pub trait Named: VariantArray + Copy + Into<&'static str> {
    /// Its word.
    fn name(self) -> &'static str {
        self.into()
    }

    /// All of them, in the order in which they are declared.
    fn all() -> impl Iterator<Item = Self> {
        Self::VARIANTS.iter().copied()
    }

    /// Their words.
    fn names() -> impl Iterator<Item = &'static str> {
        Self::all().map(Self::name)
    }

    /// What has this word.
    ///
    /// # Errors
    /// If nothing has it: the word that comes near, if one does.
    fn named(word: &str) -> Result<Self, Option<&'static str>> {
        Self::all().find(|own| own.name() == word).ok_or_else(|| nearest(word, Self::names()))
    }
}

impl<T: VariantArray + Copy + Into<&'static str>> Named for T {}
