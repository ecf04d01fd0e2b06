//! Whatever the dialect: the values that were written are read, and every byte comes back.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use metachron_tables::delimited::RecordReader;
use metachron_tables::dialect::{Delimiter, Dialect, Escape, Quote};
use proptest::prelude::*;

fn dialects() -> impl Strategy<Value = Dialect> {
    let quote = prop_oneof![Just(Quote::Double), Just(Quote::Single)];
    let escape = prop_oneof![Just(Escape::Doubled), Just(Escape::Backslash)];
    (0..4usize, quote, escape, any::<bool>()).prop_map(|(delimiter, quote, escape, spaced)| {
        Dialect { delimiter: Delimiter::ALL[delimiter], quote, escape, spaced }
    })
}

/// A cell as a program of this dialect writes it, in quotes where it needs them or just so.
fn written(cell: &str, dialect: Dialect, in_quotes: bool) -> String {
    let quote = char::from(dialect.quote.byte());
    let needs = [quote, char::from(dialect.delimiter.byte()), '\n', '\r', '\\', ' '];
    if !in_quotes && !cell.contains(needs) {
        return cell.to_owned();
    }
    let inside = match dialect.escape {
        Escape::Doubled => cell.replace(quote, &format!("{quote}{quote}")),
        Escape::Backslash => cell.replace('\\', "\\\\").replace(quote, &format!("\\{quote}")),
    };
    format!("{quote}{inside}{quote}")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1_000))]

    #[test]
    fn values_and_bytes_come_back(
        dialect in dialects(),
        rows in proptest::collection::vec(proptest::collection::vec(("[aé,;|\t'\"\\\\ \r\n]{0,6}", any::<bool>()), 1..5), 1..6),
        end in prop_oneof![Just("\n"), Just("\r\n"), Just("\r")],
        last_end in any::<bool>(),
    ) {
        let between = format!("{}{}", char::from(dialect.delimiter.byte()), if dialect.spaced { " " } else { "" });
        let lines: Vec<String> = rows
            .iter()
            .map(|row| row.iter().map(|(cell, quoted)| written(cell, dialect, *quoted || dialect.spaced || row.len() == 1)).collect::<Vec<_>>().join(&between))
            .collect();
        let text = lines.join(end) + if last_end { end } else { "" };
        let mut reader = RecordReader::new(text.as_bytes(), dialect);
        let (mut back, mut joined, mut buffer) = (Vec::new(), String::new(), String::new());
        while let Some(record) = reader.next_record().unwrap() {
            joined.push_str(record.text());
            let kept = record.keep();
            let values = (0..record.field_count()).map(|index| record.value(index, &mut buffer).to_owned());
            let values: Vec<String> = values.collect();
            prop_assert_eq!(kept.record().raw_span(0, values.len()), record.raw_span(0, values.len()));
            back.push(values);
        }
        let expected: Vec<Vec<String>> = rows.iter().map(|row| row.iter().map(|(cell, _)| cell.clone()).collect()).collect();
        prop_assert_eq!(back, expected);
        prop_assert_eq!(joined, text);
    }
}
