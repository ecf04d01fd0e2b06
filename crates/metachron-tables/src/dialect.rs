//! How a delimited file is written: recognised from its content.

use std::fmt;

use crate::delimited::RecordReader;

/// What stands between the fields of a record.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Delimiter {
    /// `,`
    Comma,
    /// A tab character.
    Tab,
    /// `;`
    Semicolon,
    /// `|`
    Pipe,
}

impl Delimiter {
    /// Every delimiter, in the order in which they are tried.
    pub const ALL: [Delimiter; 4] =
        [Delimiter::Comma, Delimiter::Tab, Delimiter::Semicolon, Delimiter::Pipe];

    /// The byte itself.
    pub fn byte(self) -> u8 {
        match self {
            Delimiter::Comma => b',',
            Delimiter::Tab => b'\t',
            Delimiter::Semicolon => b';',
            Delimiter::Pipe => b'|',
        }
    }

    /// The delimiter that is this text: the character, or its name.
    pub fn named(text: &str) -> Option<Delimiter> {
        Delimiter::ALL.into_iter().find(|delimiter| {
            text.as_bytes() == [delimiter.byte()]
                || text == delimiter.to_string()
                || (text == "\\t" && *delimiter == Delimiter::Tab)
        })
    }

    /// The usual name of files that are delimited so.
    pub fn format(self) -> &'static str {
        match self {
            Delimiter::Tab => "TSV",
            _ => "CSV",
        }
    }
}

impl fmt::Display for Delimiter {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Delimiter::Comma => "comma",
            Delimiter::Tab => "tab",
            Delimiter::Semicolon => "semicolon",
            Delimiter::Pipe => "pipe",
        })
    }
}

/// Records that are looked at.
const RECORDS: usize = 200;

/// The delimiter that cuts the beginning of a file into records of equal width.
///
/// A delimiter is believed when it stands in the first record and in at least half of all; the one
/// that gives most records the width of the first wins. Without any, the file has a single column,
/// and a delimiter that does not occur in it is returned.
///
/// ```
/// use metachron_tables::dialect::{Delimiter, recognise};
/// let sample = b"ring;captured;weight\nSK-0417;03.04.2024;12,5\nSK-0418;04.04.2024;11,0\n";
/// assert_eq!(recognise(sample), Delimiter::Semicolon);
/// assert_eq!(recognise(b"entered\nMarch 5, 2024\n"), Delimiter::Tab);
/// ```
pub fn recognise(sample: &[u8]) -> Delimiter {
    let widths = Delimiter::ALL.map(|delimiter| (delimiter, widths(sample, delimiter)));
    let believed = widths.iter().filter_map(|(delimiter, widths)| {
        let first = *widths.first().filter(|first| **first > 1)?;
        let equal = widths.iter().filter(|width| **width == first).count();
        let cut = widths.iter().filter(|width| **width > 1).count();
        (cut * 2 >= widths.len()).then_some((equal * 1_000 / widths.len(), first, *delimiter))
    });
    // Of equally good ones the first in the list wins.
    let best = believed.rev().max_by_key(|(share, width, _)| (*share, *width));
    let absent = widths.iter().find(|(_, widths)| widths.iter().all(|width| *width == 1));
    match (best, absent) {
        (Some((_, _, delimiter)), _) => delimiter,
        (None, Some((delimiter, _))) => *delimiter,
        (None, None) => Delimiter::Comma,
    }
}

/// The number of fields of each record, without blank lines and a last one that may be cut off.
fn widths(sample: &[u8], delimiter: Delimiter) -> Vec<usize> {
    let mut records = RecordReader::new(sample, delimiter);
    let mut widths = Vec::new();
    while widths.len() <= RECORDS {
        match records.next_record() {
            Ok(Some(record)) if record.is_blank() => {}
            Ok(Some(record)) => widths.push(record.field_count()),
            Ok(None) | Err(_) => break,
        }
    }
    // A sample may end in the middle of a record.
    if widths.len() > 2 && !sample.ends_with(b"\n") {
        widths.pop();
    }
    widths
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn recognises() {
        for (sample, delimiter) in [
            ("a,b\n1,2\n", Delimiter::Comma),
            ("a\tb\n1,5\t2,5\n1,5\t2,5\n", Delimiter::Tab),
            ("a|b|c\n1|2|3\n", Delimiter::Pipe),
            ("a;b\n\"x,y,z\";2\n", Delimiter::Semicolon),
            ("a,b;c,d\n1,2;3,4\n1,2;3,4\n", Delimiter::Comma),
            ("n,seen,m\n1\n2,13/04/2024\n3,14/04/2024,x,y\n", Delimiter::Comma),
            ("captured\n03/04/2024\n", Delimiter::Comma),
            ("captured\n", Delimiter::Comma),
            ("", Delimiter::Comma),
            ("note\nfirst, then\nnone\n", Delimiter::Tab),
        ] {
            assert_eq!(recognise(sample.as_bytes()), delimiter, "{sample:?}");
        }
    }

    #[test]
    fn names() {
        for delimiter in Delimiter::ALL {
            assert_eq!(Delimiter::named(&delimiter.to_string()), Some(delimiter));
            let character = char::from(delimiter.byte()).to_string();
            assert_eq!(Delimiter::named(&character), Some(delimiter));
        }
        assert_eq!(Delimiter::named("\\t"), Some(Delimiter::Tab));
        assert_eq!(Delimiter::named("colon"), None);
    }
}
