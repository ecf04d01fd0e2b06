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
/// let recognised = recognise(sample, None, None);
/// assert_eq!(recognised.dialect.delimiter, Delimiter::Semicolon);
/// assert_eq!(recognised.lines_before, 2);
/// ```
pub fn recognise(sample: &[u8], given: Option<Delimiter>, quote: Option<Quote>) -> Recognised {
    // A first line such as `sep=;` says it outright.
    let (said, body) = match separator_line(sample) {
        Some((delimiter, rest)) => (Some(delimiter), rest),
        None => (None, sample),
    };
    let lines_before = u64::from(said.is_some());
    let wanted = given.or(said);
    let candidates = Delimiter::ALL.into_iter().filter(|d| wanted.is_none_or(|w| w == *d));
    let tables =
        candidates.flat_map(|delimiter| variants(delimiter, body, quote)).filter_map(|dialect| {
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
    let dialect =
        |delimiter| Dialect { quote: quote.unwrap_or(Quote::Double), ..Dialect::from(delimiter) };
    let absent = |delimiter: &Delimiter| {
        !body.contains(&delimiter.byte())
            || records(body, dialect(*delimiter)).iter().all(|record| record.cells.len() < 2)
    };
    let delimiter = wanted.or(Delimiter::ALL.into_iter().find(absent)).unwrap_or(Delimiter::Comma);
    let dialect = dialect(delimiter);
    let records = records(body, dialect);
    let blank = records.iter().take_while(|record| record.is_blank()).count();
    Recognised {
        dialect,
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

/// The dialects with this delimiter for which the sample shows a sign, the usual one first; or those with the quotation
/// mark that is said.
fn variants(delimiter: Delimiter, sample: &[u8], quote: Option<Quote>) -> Vec<Dialect> {
    let usual = Dialect::from(delimiter);
    let single = Dialect { quote: Quote::Single, ..usual };
    if quote == Some(Quote::Single) {
        return vec![single];
    }
    let has = |text: &[u8]| memchr::memmem::find(sample, text).is_some();
    let mut variants = vec![usual];
    if has(b"\\\"") {
        variants.push(Dialect { escape: Escape::Backslash, ..usual });
    }
    if has(&[delimiter.byte(), b' ', b'"']) {
        variants.push(Dialect { spaced: true, ..usual });
    }
    if quote.is_none() && has(b"'") && single_quotes(sample, single) >= ENOUGH {
        variants.push(single);
    }
    variants
}

/// How much has to speak for single quotes, in bits: chance does not come so far once in 250.
const ENOUGH: i64 = 8;

/// How much speaks for single quotes rather than for apostrophes that happen to stand where fields begin, in bits.
///
/// By chance a field that begins with an apostrophe ends with one at most once in four, and holds a delimiter
/// between them as seldom. Where quotes are meant, hardly one in a hundred of them is not closed, or goes over a line.
fn single_quotes(sample: &[u8], dialect: Dialect) -> i64 {
    let mut reader = RecordReader::new(sample, dialect);
    let mut bits = 0;
    for _ in 0..RECORDS {
        let record = match reader.next_record() {
            Ok(Some(record)) => record,
            Ok(None) => break,
            // Never closed, unless the sample ends within a record.
            Err(_) => return bits - if sample.ends_with(b"\n") { 7 } else { 0 },
        };
        for field in (0..record.field_count()).map(|index| record.raw(index)) {
            let Some(inside) = field.strip_prefix('\'') else { continue };
            bits += match inside.strip_suffix('\'') {
                Some(inside) if inside.contains(['\n', '\r']) => -7,
                Some(inside) if inside.as_bytes().contains(&dialect.delimiter.byte()) => 4,
                Some(_) => 2,
                None => -7,
            };
        }
    }
    bits
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
                recognise(sample.as_bytes(), None, None).dialect.delimiter,
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
            assert_eq!(
                recognise(sample.as_bytes(), None, None).dialect.to_string(),
                said,
                "{sample:?}"
            );
        }
    }

    #[test]
    fn apostrophes_are_no_quotes() {
        for sample in [
            "ring,place,seen\n1,'t Hooft,13/04/2024\n2,Skarholm,14/04/2024\n3,Cabo',15/04/2024\n",
            "a,b\n'x,1\ny',2\n'z,3\nw',4\n",
            "a,b,c\n'1','2',x\n'3,4,y\n5,6',z\n7,'8,w\n",
            "n\n'1\n'2'\n'3\n",
        ] {
            let dialect = recognise(sample.as_bytes(), None, None).dialect;
            assert_eq!(dialect.quote, Quote::Double, "{sample:?}");
        }
        let quoted = "a,b\n'x','1'\n'y','2'\n'it''s','3'\n";
        assert_eq!(recognise(quoted.as_bytes(), None, None).dialect.quote, Quote::Single);
        for (said, few) in [(Quote::Single, "a,b\n'x',1\n"), (Quote::Double, quoted)] {
            assert_eq!(recognise(few.as_bytes(), None, Some(said)).dialect.quote, said);
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
