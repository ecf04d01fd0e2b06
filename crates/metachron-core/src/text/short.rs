//! Short texts in place: going after their bytes elsewhere would take longer than all else that is done with them.

/// A text of no more than [`LONGEST`] bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct ShortText {
    length: u8,
    bytes: [u8; LONGEST],
}

/// Bytes of the longest: dates with a clock and a zone are shorter.
const LONGEST: usize = 38;

impl ShortText {
    /// A text, if it is short enough.
    pub(crate) fn of(text: &str) -> Option<ShortText> {
        let mut bytes = [0; LONGEST];
        bytes.get_mut(..text.len())?.copy_from_slice(text.as_bytes());
        Some(ShortText { length: text.len() as u8, bytes })
    }

    /// The same with a zero for each digit.
    pub(crate) fn with_zeros(mut self) -> ShortText {
        // A loop of this form is one of vectors.
        for byte in &mut self.bytes {
            *byte = if byte.is_ascii_digit() { b'0' } else { *byte };
        }
        self
    }

    pub(crate) fn bytes(&self) -> &[u8] {
        &self.bytes[..usize::from(self.length)]
    }

    pub(crate) fn text(&self) -> &str {
        // It was copied from a text, in which digits are characters.
        std::str::from_utf8(self.bytes()).unwrap_or_default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_text_is_what_it_was() {
        let long = "3 März 2024, 10:15:00 Uhr in Skarholm";
        assert_eq!(long.len(), LONGEST);
        let short = ShortText::of(long).unwrap();
        assert_eq!(short.text(), long);
        assert_eq!(short.with_zeros().text(), "0 März 0000, 00:00:00 Uhr in Skarholm");
        assert!(ShortText::of(&format!("{long}.")).is_none());
        assert_eq!(ShortText::of("").map(|own| own.bytes().len()), Some(0));
    }
}
