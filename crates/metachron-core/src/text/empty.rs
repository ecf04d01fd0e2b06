//! Values that stand for nothing, and values that are dates only in form.

use std::collections::BTreeSet;
use std::sync::{Arc, LazyLock};

use super::normalise;

/// Texts that stand for nothing whoever wrote them, in lower case.
const USUAL: [&str; 10] = ["", "-", "--", "#n/a", "?", "n/a", "na", "nan", "none", "null"];

/// So many texts are compared faster one by one.
const FEW: usize = 32;

/// What stands between the numbers of a date only in form.
const MARKS: [char; 3] = ['/', '-', '.'];

/// The texts that stand for nothing in a column.
///
/// ```
/// use metachron_core::text::Missing;
/// let missing = Missing::usual().and(["k.A."]);
/// assert!(missing.contains("N/A") && missing.contains("k.a.") && !missing.contains("0"));
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Missing {
    /// Shared by all columns of which nothing else is said.
    texts: Arc<BTreeSet<String>>,
    /// The length of the longest text: most values are longer, which settles it at once.
    longest: usize,
    /// Whether dates only in form are values like any other.
    keeps_placeholders: bool,
}

impl Missing {
    /// The empty text, `-`, `N/A` and their like.
    pub fn usual() -> Missing {
        static OWN: LazyLock<Missing> = LazyLock::new(|| {
            let (texts, longest, keeps_placeholders) = (Arc::default(), 0, false);
            Missing { texts, longest, keeps_placeholders }.and(USUAL)
        });
        OWN.clone()
    }

    /// These texts too.
    pub fn and<T: AsRef<str>>(mut self, texts: impl IntoIterator<Item = T>) -> Missing {
        let mut buffer = String::new();
        for text in texts {
            let text = normalise(text.as_ref(), &mut buffer).to_lowercase();
            self.longest = self.longest.max(text.len());
            Arc::make_mut(&mut self.texts).insert(text);
        }
        self
    }

    /// The same, where dates only in form are read like any other value.
    #[must_use]
    pub fn keeping_placeholders(self, keeps_placeholders: bool) -> Missing {
        Missing { keeps_placeholders, ..self }
    }

    /// Whether dates only in form are values like any other.
    pub fn keeps_placeholders(&self) -> bool {
        self.keeps_placeholders
    }

    /// Whether a normalised value is a date only in form, and stands for nothing.
    ///
    /// ```
    /// use metachron_core::text::Missing;
    /// assert!(Missing::usual().is_placeholder("0000-00-00"));
    /// assert!(!Missing::usual().keeping_placeholders(true).is_placeholder("0000-00-00"));
    /// ```
    pub fn is_placeholder(&self, value: &str) -> bool {
        !self.keeps_placeholders && is_placeholder(value)
    }

    /// Whether a normalised value stands for nothing, whatever its letters' case.
    ///
    /// ```
    /// use metachron_core::text::Missing;
    /// let missing = Missing::usual().and(["unknown"]);
    /// assert!(missing.contains("n/a") && missing.contains("unknown") && !missing.contains("0"));
    /// ```
    pub fn contains(&self, value: &str) -> bool {
        let is_ascii = value.is_ascii();
        // Lower case may be shorter than upper case, but never by as much as a factor of three.
        let longest = if is_ascii { self.longest } else { 3 * self.longest };
        value.is_empty()
            || (value.len() <= longest
                && match is_ascii && self.texts.len() <= FEW {
                    true => self.texts.iter().any(|own| own.eq_ignore_ascii_case(value)),
                    false => self.texts.contains(&value.to_lowercase()),
                })
    }

    /// The texts in lower case, sorted.
    pub fn texts(&self) -> impl Iterator<Item = &str> {
        self.texts.iter().map(String::as_str)
    }
}

/// Whether a normalised value is a date only in form: all zeros, the day zero of 1900 that
/// spreadsheets show for an empty cell, or the last day of the year 9999, which databases keep for
/// "never", in any order and with any clock time.
///
/// ```
/// use metachron_core::text::is_placeholder;
/// assert!(is_placeholder("00/00/0000") && is_placeholder("1900-01-00"));
/// assert!(is_placeholder("31/12/9999") && is_placeholder("9999-12-31T23:59:59Z"));
/// assert!(!is_placeholder("00:00") && !is_placeholder("0"));
/// ```
pub fn is_placeholder(value: &str) -> bool {
    let bytes = value.as_bytes();
    let may_belong = |b: &u8| matches!(b, b'0'..=b'3' | b'9') || MARKS.contains(&(*b).into());
    // Other digits, in nearly every value, settle it at once.
    let end = bytes.iter().position(|b| !may_belong(b)).unwrap_or(bytes.len());
    if !matches!(bytes.get(end), None | Some(b' ' | b'T' | b't')) {
        return false;
    }
    let (date, clock) = value.split_at(end);
    let mut parts = date.split(MARKS).filter(|part| !part.is_empty());
    let (Some(a), Some(b), Some(c), None) =
        (parts.next(), parts.next(), parts.next(), parts.next())
    else {
        return false;
    };
    // Whatever the clock says, it is no day that anybody meant.
    let is_last_day = date.starts_with(|c: char| c.is_ascii_digit())
        && ["9999", "12", "31"].iter().all(|part| [a, b, c].contains(part));
    let is_empty_day =
        matches!((a, b, c), ("1900", "01" | "1", "00" | "0") | ("00" | "0", "01" | "1", "1900"));
    let is_zero = |text: &str| text.bytes().all(|b| b"0/-.:Tt ".contains(&b));
    is_last_day || (is_zero(clock) && (is_empty_day || is_zero(date)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn usual_texts_are_in_lower_case_and_normal() {
        for text in USUAL {
            assert_eq!(normalise(text, &mut String::new()), text.to_lowercase());
            assert!(Missing::usual().contains(&text.to_uppercase()));
        }
    }

    #[test]
    fn placeholders() {
        for value in [
            "0000-00-00",
            "00.00.0000 00:00:00",
            "0/0/0000",
            "00/01/1900",
            "0000-00-00T00:00",
            "9999-12-31",
            "12/31/9999",
            "31.12.9999 00:00",
            "9999-12-31T23:59:59.999Z",
        ] {
            assert!(is_placeholder(value), "{value}");
        }
        for value in [
            "2000-01-01",
            "00:00:00",
            "0",
            "0.0",
            "00-00-00x",
            "1900-01-01",
            "0-0-1",
            "9999-12-30",
            "9999",
            "99991231",
            "LF9999-12-31",
        ] {
            assert!(!is_placeholder(value), "{value}");
        }
    }
}
