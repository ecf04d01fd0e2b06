//! Errors in what the analyst wrote: what, where, and what was probably meant.

use std::fmt;
use std::ops::Range;

/// What is wrong with a layout.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LayoutErrorKind {
    /// A word in braces that names no field, and the one that was probably meant.
    UnknownField(Option<&'static str>),
    /// A name of a standard that we do not know, or a layout without any field.
    NoField(Option<&'static str>),
    /// `{`, `}`, `[` or `]` without its counterpart.
    Unbalanced(char),
    /// The same field twice.
    Repeated(&'static str),
    /// A field that speaks of the date in another way than the rest.
    Excluded(&'static str),
    /// A field that makes no sense without another one.
    Needs(&'static str),
    /// A field of a date without the others that make a day, or a period, of it.
    NeedsDate,
    /// Digit fields of variable width that touch.
    TouchingDigits,
    /// Words or letters that touch.
    TouchingWords,
    /// More parts in brackets than can be tried.
    TooManyOptional,
    /// More than two fields that pass over any text.
    TooManyAny,
    /// A part in brackets without which the layout yields another kind of value.
    ChangesKind,
}

/// A layout that cannot be used, with the place.
///
/// ```
/// use metachron_core::layout::Layout;
/// let error = Layout::parse("{day}.{mnth}.{year}").unwrap_err();
/// assert_eq!(
///     error.to_string(),
///     r#"{mnth} in "{day}.{mnth}.{year}" is no field; did you mean {month}?"#
/// );
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LayoutError {
    /// The whole layout.
    pub layout: String,
    /// The bytes of the layout that are wrong.
    pub span: Range<usize>,
    /// What is wrong with them.
    pub kind: LayoutErrorKind,
}

impl LayoutError {
    /// The layout with the wrong place underlined, on two lines.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// let error = Layout::parse("{day}.{mnth}.{year}").unwrap_err();
    /// assert_eq!(error.marked(), "{day}.{mnth}.{year}\n      ^^^^^^");
    /// ```
    pub fn marked(&self) -> String {
        let before = self.layout[..self.span.start].chars().count();
        let marked = self.layout[self.span.clone()].chars().count().max(1);
        format!("{}\n{}{}", self.layout, " ".repeat(before), "^".repeat(marked))
    }
}

impl fmt::Display for LayoutError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let LayoutError { layout, span, kind } = self;
        let place = &layout[span.clone()];
        match kind {
            LayoutErrorKind::UnknownField(near) => {
                write!(f, "{place} in \"{layout}\" is no field")?;
                near.map_or(Ok(()), |near| write!(f, "; did you mean {{{near}}}?"))
            }
            LayoutErrorKind::NoField(near) => {
                write!(f, "layout \"{layout}\" has no field such as {{day}}")?;
                near.map_or(Ok(()), |near| write!(f, "; did you mean the standard {near}?"))
            }
            LayoutErrorKind::Unbalanced(mark) => write!(
                f,
                "{mark} in \"{layout}\" has no counterpart; the character itself is written {mark}{mark}"
            ),
            LayoutErrorKind::Repeated(role) => {
                write!(f, "{place} in \"{layout}\" is a second {role}")
            }
            LayoutErrorKind::Excluded(role) => write!(
                f,
                "{place} in \"{layout}\" is a {role}, but the rest says it in another way"
            ),
            LayoutErrorKind::Needs(what) => write!(f, "{place} in \"{layout}\" needs {what}"),
            LayoutErrorKind::NeedsDate => write!(
                f,
                "{place} in \"{layout}\" needs the rest of its date: {{year}}, a month and {{day}}"
            ),
            LayoutErrorKind::TouchingDigits => write!(
                f,
                "{place} in \"{layout}\" touches digits of variable width: \
                 give all but one a fixed width, such as {{month:02}}"
            ),
            LayoutErrorKind::TouchingWords => {
                write!(
                    f,
                    "{place} in \"{layout}\" touches other letters, so nobody can tell where it begins"
                )
            }
            LayoutErrorKind::TooManyAny => write!(f, "{{any}} may stand twice at most"),
            LayoutErrorKind::TooManyOptional => {
                write!(f, "layout \"{layout}\" has more than 6 parts in brackets")
            }
            LayoutErrorKind::ChangesKind => write!(
                f,
                "without the part in brackets, \"{layout}\" reads another kind of value; write two layouts"
            ),
        }
    }
}

impl std::error::Error for LayoutError {}

/// The candidate that was probably meant, if one is near enough.
///
/// ```
/// use metachron_core::error::nearest;
/// assert_eq!(nearest("capturd", ["ring", "captured"]), Some("captured"));
/// assert_eq!(nearest("weight", ["ring", "captured"]), None);
/// ```
pub fn nearest<'a>(word: &str, candidates: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    let word = word.to_lowercase();
    let allowed = (word.chars().count() / 3).max(1);
    candidates
        .into_iter()
        .map(|candidate| (strsim::damerau_levenshtein(&word, &candidate.to_lowercase()), candidate))
        .filter(|(distance, _)| *distance <= allowed)
        .min_by_key(|(distance, _)| *distance)
        .map(|(_, candidate)| candidate)
}
