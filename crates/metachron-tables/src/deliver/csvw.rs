//! A description of delimited text for other programs: W3C Metadata Vocabulary for Tabular Data (CSVW, 17 December
//! 2015), one table with the datatypes of its columns.

use metachron_core::typed::Kind;
use serde_json::{Map, Value, json};

use super::{Holds, OutputField};
use crate::dialect::Delimiter;

/// How moments are written in the text that is described.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Moments {
    /// With `Z` or an offset.
    Offset,
    /// In a form that the vocabulary has no pattern for.
    Other,
}

/// The description of a table that stands at `url`, as JSON.
///
/// ```
/// use metachron_core::typed::Kind;
/// use metachron_tables::deliver::{Holds, Moments, OutputField, describe};
/// use metachron_tables::dialect::Delimiter;
/// let field = OutputField { holds: Holds::Of(Kind::Date), ..OutputField::text("captured on") };
/// let text = describe("captures.csv", Delimiter::Comma, "utf-8", &[field], Moments::Offset);
/// assert!(text.contains(r#""format": "yyyy-MM-dd""#) && text.contains(r#""name": "captured%20on""#));
/// ```
pub fn describe(
    url: &str,
    delimiter: Delimiter,
    encoding: &str,
    fields: &[OutputField],
    moments: Moments,
) -> String {
    let columns: Vec<Value> = fields.iter().map(|field| column(field, moments)).collect();
    let table = json!({
        "@context": "http://www.w3.org/ns/csvw",
        "url": url,
        "dialect": {
            "delimiter": char::from(delimiter.byte()).to_string(),
            "encoding": encoding,
            // Otherwise lines that begin with # would be no rows.
            "commentPrefix": null,
        },
        "tableSchema": { "columns": columns },
    });
    let mut text = format!("{table:#}");
    text.push('\n');
    text
}

fn column(field: &OutputField, moments: Moments) -> Value {
    let mut column = Map::new();
    column.insert("name".to_owned(), name(&field.name).into());
    column.insert("titles".to_owned(), field.name.clone().into());
    column.insert("datatype".to_owned(), datatype(field, moments));
    column.insert("null".to_owned(), json!([""]));
    Value::Object(column)
}

/// The datatype of a column (section 5.11), with the pattern of its texts (section 6.4 of the Model for Tabular
/// Data).
fn datatype(field: &OutputField, moments: Moments) -> Value {
    let time = match field.digits {
        0 => "HH:mm:ss".to_owned(),
        // The most digits that a value has.
        digits => format!("HH:mm:ss.{}", "S".repeat(usize::from(digits))),
    };
    let of = |base: &str, format: String| json!({ "base": base, "format": format });
    match field.holds {
        Holds::Text => "string".into(),
        Holds::Number => "decimal".into(),
        Holds::Whole => "integer".into(),
        Holds::Truth => of("boolean", "true|false".to_owned()),
        Holds::Of(Kind::Date) => of("date", "yyyy-MM-dd".to_owned()),
        Holds::Of(Kind::Time) => of("time", time),
        Holds::Of(Kind::DateTime) => of("dateTime", format!("yyyy-MM-ddT{time}")),
        Holds::Of(Kind::Instant) if moments == Moments::Offset => {
            of("dateTimeStamp", format!("yyyy-MM-ddT{time}XXX"))
        }
        Holds::Of(Kind::Duration) => "duration".into(),
        Holds::Of(Kind::Month) => "gYearMonth".into(),
        Holds::Of(Kind::Year) => "gYear".into(),
        // Weeks and quarters have no datatype.
        Holds::Of(Kind::Instant | Kind::Week | Kind::Quarter) => "string".into(),
    }
}

/// A name as variables of URI templates may have it (RFC 6570, section 2.3); one that begins with `_` is reserved.
fn name(title: &str) -> String {
    let mut name = String::new();
    for byte in title.bytes() {
        match byte {
            b'_' if name.is_empty() => name.push_str("%5F"),
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'_' => name.push(char::from(byte)),
            byte => name.push_str(&format!("%{byte:02X}")),
        }
    }
    name
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn descriptions_follow_the_rules_of_the_vocabulary() {
        let of = |name: &str, kind, digits| OutputField {
            holds: Holds::Of(kind),
            digits,
            ..OutputField::text(name)
        };
        let fields = [
            OutputField::text("ring"),
            of("_day", Kind::Date, 0),
            of("clock", Kind::DateTime, 3),
            of("at", Kind::Instant, 0),
            of("stay", Kind::Duration, 0),
            of("week", Kind::Week, 0),
            OutputField { holds: Holds::Truth, ..OutputField::text("Fläche m²") },
        ];
        let text = describe("a b.csv", Delimiter::Tab, "utf-8", &fields, Moments::Offset);
        let read: Value = serde_json::from_str(&text).unwrap();
        assert_eq!(read["@context"], "http://www.w3.org/ns/csvw");
        assert_eq!(
            (&read["url"], &read["dialect"]["delimiter"]),
            (&"a b.csv".into(), &"\t".into())
        );
        let columns = read["tableSchema"]["columns"].as_array().unwrap();
        let names: Vec<&str> = columns.iter().map(|c| c["name"].as_str().unwrap()).collect();
        // Section 5.6: unique, and a variable of a URI template.
        assert_eq!(
            names,
            ["ring", "%5Fday", "clock", "at", "stay", "week", "Fl%C3%A4che%20m%C2%B2"]
        );
        let types: Vec<String> = columns.iter().map(|c| c["datatype"].to_string()).collect();
        assert_eq!(
            types,
            [
                "\"string\"",
                r#"{"base":"date","format":"yyyy-MM-dd"}"#,
                r#"{"base":"dateTime","format":"yyyy-MM-ddTHH:mm:ss.SSS"}"#,
                r#"{"base":"dateTimeStamp","format":"yyyy-MM-ddTHH:mm:ssXXX"}"#,
                "\"duration\"",
                "\"string\"",
                r#"{"base":"boolean","format":"true|false"}"#,
            ]
        );
        assert_eq!(columns[0]["titles"], "ring");
    }
}
