//! Makes values comparable: one kind of space, of digit and of apostrophe, no invisible marks.

/// The value without surrounding space, and with its characters in their plain form:
///
/// - every space (no-break, thin, ideographic …) becomes a space,
/// - decimal digits of every script become ASCII digits, full-width forms their ASCII forms,
/// - typographic apostrophes become `'`, hyphens of every kind and the minus sign `-`,
/// - zero-width and bidirectional marks go.
///
/// A plain ASCII value, the usual case, is returned as it stands and `buffer` is not touched.
///
/// ```
/// use metachron_core::text::normalise;
/// let mut buffer = String::new();
/// assert_eq!(normalise(" ٠٣/٠٤/٢٠٢٤\u{200F}", &mut buffer), "03/04/2024");
/// ```
pub fn normalise<'a>(value: &'a str, buffer: &'a mut String) -> &'a str {
    if value.is_ascii() {
        return value.trim_ascii();
    }
    buffer.clear();
    buffer.extend(value.chars().filter_map(plain));
    buffer.trim()
}

/// The value without surrounding space of any kind: as `str::trim` has it, and at once where there is none.
///
/// ```
/// use metachron_core::text::trimmed;
/// assert_eq!((trimmed("net 4"), trimmed("\u{3000}net 4 ")), ("net 4", "net 4"));
/// ```
#[inline]
pub fn trimmed(value: &str) -> &str {
    match value.as_bytes() {
        [b'!'..=b'~'] | [b'!'..=b'~', .., b'!'..=b'~'] => value,
        _ => value.trim(),
    }
}

/// Whether a character is an invisible mark, which values lose.
pub(crate) fn is_invisible(c: char) -> bool {
    plain(c).is_none()
}

/// The plain form of a character, or none if it is an invisible mark.
fn plain(c: char) -> Option<char> {
    match c {
        _ if c.is_ascii() => Some(c),
        '\u{200B}'..='\u{200F}'
        | '\u{202A}'..='\u{202E}'
        | '\u{2060}'..='\u{2069}'
        | '\u{061C}'
        | '\u{FEFF}' => None,
        '\u{FF01}'..='\u{FF5E}' => char::from_u32(c as u32 - 0xFF01 + 0x21),
        // Hyphens and the minus sign; dashes are other marks.
        '\u{2010}' | '\u{2011}' | '\u{2212}' => Some('-'),
        '\u{2018}' | '\u{2019}' | '\u{02BC}' => Some('\''),
        _ if c.is_whitespace() => Some(' '),
        _ => Some(ascii_digit(c).unwrap_or(c)),
    }
}

/// The ASCII digit of the same value, if `c` is a decimal digit (Unicode general category Nd).
fn ascii_digit(c: char) -> Option<char> {
    let code = c as u32;
    let index = DIGIT_ZEROS.partition_point(|zero| *zero <= code);
    let zero = DIGIT_ZEROS[index.checked_sub(1)?];
    char::from_digit(code - zero, 10)
}

/// The zeros of the scripts with ten consecutive decimal digits.
/// Source: Unicode 16.0, DerivedGeneralCategory, category Nd.
const DIGIT_ZEROS: [u32; 66] = [
    0x0660, 0x06F0, 0x07C0, 0x0966, 0x09E6, 0x0A66, 0x0AE6, 0x0B66, 0x0BE6, 0x0C66, 0x0CE6, 0x0D66,
    0x0DE6, 0x0E50, 0x0ED0, 0x0F20, 0x1040, 0x1090, 0x17E0, 0x1810, 0x1946, 0x19D0, 0x1A80, 0x1A90,
    0x1B50, 0x1BB0, 0x1C40, 0x1C50, 0xA620, 0xA8D0, 0xA900, 0xA9D0, 0xA9F0, 0xAA50, 0xABF0, 0xFF10,
    0x104A0, 0x10D30, 0x11066, 0x110F0, 0x11136, 0x111D0, 0x112F0, 0x11450, 0x114D0, 0x11650,
    0x116C0, 0x11730, 0x118E0, 0x11950, 0x11C50, 0x11D50, 0x11DA0, 0x11F50, 0x16A60, 0x16AC0,
    0x16B50, 0x1D7CE, 0x1D7D8, 0x1D7E2, 0x1D7EC, 0x1D7F6, 0x1E140, 0x1E2F0, 0x1E4F0, 0x1FBF0,
];

#[cfg(test)]
mod tests {
    use super::*;

    fn plainly(value: &str) -> String {
        normalise(value, &mut String::new()).to_owned()
    }

    #[test]
    fn digits_of_every_script_are_digits() {
        assert!(DIGIT_ZEROS.is_sorted(), "the search relies on it");
        for zero in DIGIT_ZEROS {
            for value in 0..10 {
                let digit = char::from_u32(zero + value).unwrap();
                assert!(digit.is_numeric(), "U+{:04X}", zero + value);
                assert_eq!(plainly(&digit.to_string()), value.to_string());
            }
        }
    }

    #[test]
    fn spaces_marks_and_widths() {
        for (raw, plain) in [
            ("  3/4/2024\t", "3/4/2024"),
            ("3\u{00A0}April\u{202F}2024", "3 April 2024"),
            ("\u{FEFF}2024-03-05", "2024-03-05"),
            ("２０２４／０３／０５", "2024/03/05"),
            ("\u{3000}2024\u{3000}", "2024"),
            ("5 o\u{2019}clock", "5 o'clock"),
            ("Überall", "Überall"),
        ] {
            assert_eq!(plainly(raw), plain, "{raw:?}");
        }
    }
}
