//! What is wrong with steps, with the place.

use std::fmt;
use std::ops::Range;

/// Steps that cannot be used.
///
/// ```
/// use metachron_core::typed::Kind;
/// use metachron_core::steps::{Chain, Setting, Type};
/// let setting = Setting::new(jiff::civil::date(2024, 6, 1));
/// let chain = Chain::parse("seen | yaer").unwrap();
/// let error = chain.compile(&[("seen", Type::Of(Kind::Date))], &setting).unwrap_err();
/// assert_eq!(error.to_string(), "\"yaer\" is no step; did you mean year?");
/// assert_eq!(error.marked(), "seen | yaer\n       ^^^^");
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct StepError {
    /// The whole text.
    pub text: String,
    /// The bytes that are wrong.
    pub span: Range<usize>,
    /// What is wrong with them.
    pub says: String,
    /// What they name that there is not: a column, or something else where no name comes near.
    pub unknown: Option<Unknown>,
}

/// Something that steps name, of which there is a list.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unknown {
    /// A column of the table, or one that was derived before.
    Column,
    /// A step.
    Step,
    /// A time zone.
    Zone,
    /// An origin of numbers.
    Epoch,
}

impl StepError {
    /// A mistake in these bytes of a text; characters of which a part is meant are meant whole.
    pub(super) fn new(text: &str, span: Range<usize>, says: impl Into<String>) -> StepError {
        let span = text.floor_char_boundary(span.start)..text.ceil_char_boundary(span.end);
        StepError { text: text.to_owned(), span, says: says.into(), unknown: None }
    }

    /// The same of a name that there is not: the one that comes near, or else of which list it is not.
    pub(super) fn or_near(self, near: Option<&str>, unknown: Unknown) -> StepError {
        match near {
            Some(near) => {
                StepError { says: format!("{}; did you mean {near}?", self.says), ..self }
            }
            None => StepError { unknown: Some(unknown), ..self },
        }
    }

    /// The text with the wrong place underlined, on two lines.
    pub fn marked(&self) -> String {
        let before = self.text[..self.span.start].chars().count();
        let marked = self.text[self.span.clone()].chars().count().max(1);
        format!("{}\n{}{}", self.text, " ".repeat(before), "^".repeat(marked))
    }
}

impl fmt::Display for StepError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.says)
    }
}

impl std::error::Error for StepError {}
