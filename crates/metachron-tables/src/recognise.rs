//! How a file of delimited text is written, found out from its beginning.

use crate::delimited::RecordReader;
use crate::dialect::{Delimiter, Dialect, Escape, Quote};
use crate::frame;

/// Records that are looked at.
const RECORDS: usize = 200;

/// What a sample of a file says of its dialect and of the line where its header stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Recognised {
    /// The dialect.
    pub dialect: Dialect,
    /// Lines before the header, titles and empty lines.
    pub lines_before: u64,
    /// Whether numbers are written with a comma.
    pub decimal_comma: bool,
}

/// Recognises the dialect that cuts the beginning of a file into a header and records of its
/// width. Without any, the file has a single column, and a delimiter is given that does not occur in it outside of
/// quotation marks.
///
/// ```
/// use metachron_tables::{dialect::Delimiter, recognise::recognise};
/// let sample = b"Stations report\n\nring;captured;weight\nSK-1;03.04.2024;12,5\nSK-2;04.04.2024;11,0\n";
/// let recognised = recognise(sample, None);
/// assert_eq!(recognised.dialect.delimiter, Delimiter::Semicolon);
/// assert_eq!(recognised.lines_before, 2);
/// ```
pub fn recognise(sample: &[u8], given: Option<Delimiter>) -> Recognised {
    // A first line such as `sep=;` says it outright.
    let (said, body) = match separator_line(sample) {
        Some((delimiter, rest)) => (Some(delimiter), rest),
        None => (None, sample),
    };
    let lines_before = u64::from(said.is_some());
    let wanted = given.or(said);
    let candidates = Delimiter::ALL.into_iter().filter(|d| wanted.is_none_or(|w| w == *d));
    let tables = candidates.flat_map(|delimiter| variants(delimiter, body)).filter_map(|dialect| {
        let records = records(body, dialect);
        let fit = frame::fit(&records)?;
        // Of dialects that cut equally well, the one that leaves no quotation marks around values.
        let quality = (fit.score, std::cmp::Reverse(still_quoted(&records)));
        let lines_before = lines_before + fit.lines_before;
        let decimal_comma = frame::has_decimal_comma(&records);
        Some((quality, Recognised { dialect, lines_before, decimal_comma }))
    });
    // Of equally good ones the first.
    let best = tables.reduce(|best, other| if other.0 > best.0 { other } else { best });
    if let Some((_, recognised)) = best {
        return recognised;
    }
    let absent = |delimiter: &Delimiter| {
        !body.contains(&delimiter.byte())
            || records(body, (*delimiter).into()).iter().all(|record| record.cells.len() < 2)
    };
    let delimiter = wanted.or(Delimiter::ALL.into_iter().find(absent)).unwrap_or(Delimiter::Comma);
    let records = records(body, delimiter.into());
    let blank = records.iter().take_while(|record| record.is_blank()).count();
    Recognised {
        dialect: delimiter.into(),
        lines_before: lines_before + blank as u64,
        decimal_comma: frame::has_decimal_comma(&records),
    }
}

/// The delimiter of a line `sep=;`, and what follows the line.
fn separator_line(sample: &[u8]) -> Option<(Delimiter, &[u8])> {
    let rest = sample.strip_prefix(b"sep=").or_else(|| sample.strip_prefix(b"\"sep="))?;
    let end = rest.iter().position(|byte| *byte == b'\n')?;
    let text = std::str::from_utf8(&rest[..end]).ok()?.trim_end_matches(['\r', '"']);
    Some((Delimiter::named(text)?, &rest[end + 1..]))
}

/// How many values still stand in quotation marks.
fn still_quoted(records: &[frame::FrameRecord]) -> usize {
    let quoted = |cell: &&String| {
        let inside = |quote| cell.len() > 1 && cell.starts_with(quote) && cell.ends_with(quote);
        inside('"') || inside('\'')
    };
    records.iter().flat_map(|record| &record.cells).filter(quoted).count()
}

/// The dialects with this delimiter for which the sample shows a sign, the usual one first.
fn variants(delimiter: Delimiter, sample: &[u8]) -> Vec<Dialect> {
    let usual = Dialect::from(delimiter);
    let has = |text: &[u8]| memchr::memmem::find(sample, text).is_some();
    let mut variants = vec![usual];
    if has(b"\\\"") {
        variants.push(Dialect { escape: Escape::Backslash, ..usual });
    }
    if has(&[delimiter.byte(), b' ', b'"']) {
        variants.push(Dialect { spaced: true, ..usual });
    }
    if has(&[delimiter.byte(), b'\'']) {
        variants.push(Dialect { quote: Quote::Single, ..usual });
    }
    variants
}

/// The first records of a sample; a last one that may be cut off is left out.
fn records(sample: &[u8], dialect: Dialect) -> Vec<frame::FrameRecord> {
    let mut reader = RecordReader::new(sample, dialect);
    let mut records = Vec::new();
    let mut buffer = String::new();
    while records.len() <= RECORDS {
        match reader.next_record() {
            Ok(Some(record)) => records.push(frame::FrameRecord {
                line: record.line(),
                cells: (0..record.field_count())
                    .map(|index| record.value(index, &mut buffer).trim().to_owned())
                    .collect(),
            }),
            Ok(None) | Err(_) => break,
        }
    }
    if records.len() > 2 && !sample.ends_with(b"\n") {
        records.pop();
    }
    records
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn recognises_delimiters() {
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
            ("entered\nMarch 5, 2024\nMarch 6, 2024\nMarch 7, 2024\n", Delimiter::Tab),
            ("entered\n\"March 5, 2024\"\n\"March 6, 2024\"\n", Delimiter::Comma),
            ("sep=|\na,b|c\n1,2|3\n", Delimiter::Pipe),
        ] {
            assert_eq!(
                recognise(sample.as_bytes(), None).dialect.delimiter,
                delimiter,
                "{sample:?}"
            );
        }
    }

    #[test]
    fn recognises_the_rest_of_the_dialect() {
        for (sample, said) in [
            ("a,b\n\"x\"\"y\",2\n", "comma"),
            ("a,b\n\"x\\\"y, z\",2\n\"x\\\", z\",2\n", "comma, backslash escapes"),
            ("a, b\n1, \"x, y\"\n2, \"z, y\"\n", "comma, spaces after delimiters"),
            ("a;b\n1;'x;y'\n2;'z;y'\n", "semicolon, single quotes"),
            ("a;b\n1;don't\n2;won't\n", "semicolon"),
        ] {
            assert_eq!(recognise(sample.as_bytes(), None).dialect.to_string(), said, "{sample:?}");
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
