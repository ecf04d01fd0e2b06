//! A value: one cell, as it arrived.

use std::borrow::Cow;

use crate::typed::TypedValue;

/// What stands in a cell.
///
/// ```
/// use metachron_core::value::Value;
/// assert_eq!(Value::from("03/04/2024"), Value::Text("03/04/2024"));
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Value<'v> {
    /// There is no cell, or it is empty by its format's own means.
    Missing,
    /// Text.
    Text(&'v str),
    /// A number, as it is spelled.
    Number(&'v str),
    /// A value that its file has typed already.
    Typed(TypedValue),
    /// What the file has in place of a value, as it can be shown.
    Fault(Fault, &'v str),
}

/// Why what stands in a cell is no value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fault {
    /// The file holds an error, such as `#N/A`.
    Error,
    /// A number stands where the file keeps dates, times or lengths, and is beyond what they can be.
    OutOfRange,
    /// A formula whose result was never stored.
    NotCalculated,
    /// Bytes that are no text; shown as what they are, in hexadecimal digits or escapes.
    NotText,
}

impl<'v> From<&'v str> for Value<'v> {
    fn from(text: &'v str) -> Value<'v> {
        Value::Text(text)
    }
}

impl<'v> Value<'v> {
    /// The value as text: a typed one in ISO 8601, a missing one empty.
    ///
    /// ```
    /// use metachron_core::value::Value;
    /// assert_eq!(Value::Text("3.4.2024").to_text(), "3.4.2024");
    /// assert_eq!(Value::Missing.to_text(), "");
    /// ```
    pub fn to_text(self) -> Cow<'v, str> {
        match self {
            Value::Missing => "".into(),
            Value::Text(text) | Value::Number(text) | Value::Fault(_, text) => text.into(),
            Value::Typed(moment) => moment.to_string().into(),
        }
    }
}
