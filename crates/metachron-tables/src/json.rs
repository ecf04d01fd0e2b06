//! JSON objects as rows: JSON Lines, and arrays of objects.
//!
//! Objects are cut out of the text as they stand, and so are the values in them: key order, number
//! spelling and white space stay what they are. Nested keys are called by their path, `site.name`.

use std::borrow::Cow;
use std::collections::HashMap;
use std::fmt;
use std::io::Read;
use std::ops::Range;

use serde::de::{Deserializer, MapAccess, Visitor};
use serde_json::value::RawValue;

use crate::blocks::Blocks;
use crate::cells::MOST_COLUMNS;
use crate::delimited::LONGEST_RECORD;
use crate::error::TableError;
use metachron_core::value::{Fault, Value};

/// Reads objects one after the other.
pub struct ObjectReader<R> {
    input: Blocks<R>,
    limit: usize,
    line: u64,
    cells: Vec<Option<Range<usize>>>,
    /// Where the column of each name stands among those that were given last.
    places: HashMap<String, usize>,
    tail: String,
    /// Whether an object was given.
    has_given: bool,
}

/// How deep objects may stand in one another; what is deeper was not written for a table.
const DEEPEST: usize = 128;

/// An object as it stands in the file.
#[derive(Debug, Clone, Copy)]
pub struct JsonRow<'r> {
    /// What stands between the object before and this one.
    before: &'r str,
    text: &'r str,
    /// Per column, the bytes of the value.
    cells: &'r [Option<Range<usize>>],
    line: u64,
    is_first: bool,
}

/// An object that is kept while others are read.
#[derive(Debug, Clone)]
pub struct KeptObject {
    before: String,
    text: String,
    cells: Vec<Option<Range<usize>>>,
    line: u64,
    is_first: bool,
}

impl KeptObject {
    /// The object.
    pub fn row(&self) -> JsonRow<'_> {
        let KeptObject { before, text, cells, line, is_first } = self;
        JsonRow { before, text, cells, line: *line, is_first: *is_first }
    }
}

impl<R: Read> ObjectReader<R> {
    /// Begins at the first byte.
    pub fn new(input: R) -> ObjectReader<R> {
        ObjectReader {
            input: Blocks::new(input),
            limit: LONGEST_RECORD,
            line: 1,
            cells: Vec::new(),
            places: HashMap::new(),
            tail: String::new(),
            has_given: false,
        }
    }

    /// The same, with another bound on the bytes of one record.
    #[must_use]
    pub fn limited(mut self, limit: usize) -> Self {
        self.limit = limit;
        self
    }

    /// The next object, or none at the end. Keys that are new are added to `names`.
    ///
    /// # Errors
    /// If the text is no JSON, if something other than an object stands where one belongs, or if
    /// an object has a key twice.
    pub fn next_row(&mut self, names: &mut Vec<String>) -> Result<Option<JsonRow<'_>>, TableError> {
        let (begin, end) = loop {
            match cut(self.input.unread()) {
                Cut::Object(begin, end) => break (begin, end),
                Cut::Wrong(at) => {
                    let before = &self.input.unread()[..at];
                    let line = self.line + memchr::memchr_iter(b'\n', before).count() as u64;
                    return Err(TableError::NotJson {
                        line,
                        why: "an object belongs here".to_owned(),
                    });
                }
                Cut::NeedMore if self.input.at_end() => {
                    let rest = self.input.unread();
                    if let Some(begin) = memchr::memchr(b'{', rest) {
                        let before = memchr::memchr_iter(b'\n', &rest[..begin]).count();
                        let line = self.line + before as u64;
                        let why = "the object that begins here is never closed".to_owned();
                        return Err(TableError::NotJson { line, why });
                    }
                    self.tail = String::from_utf8_lossy(rest).into_owned();
                    return Ok(None);
                }
                Cut::NeedMore if self.input.unread().len() >= self.limit => {
                    let (line, limit) = (self.line, self.limit);
                    return Err(TableError::TooLong { line, limit });
                }
                Cut::NeedMore => self.input.fill()?,
            }
        };
        let bytes = self.input.take(end);
        let line = self.line + memchr::memchr_iter(b'\n', &bytes[..begin]).count() as u64;
        self.line += memchr::memchr_iter(b'\n', bytes).count() as u64;
        let text = std::str::from_utf8(bytes).map_err(|error| TableError::NotUtf8 {
            line,
            column: 1,
            byte: bytes[error.valid_up_to()],
        })?;
        let (before, text) = text.split_at(begin);
        self.cells.clear();
        self.cells.resize(names.len(), None);
        for (place, name) in names.iter().enumerate().skip(self.places.len()) {
            self.places.insert(name.clone(), place);
        }
        let (cells, places) = (&mut self.cells, &mut self.places);
        let mut flat = Flatten { whole: text, line, names, cells, places };
        flat.object(text, "", 0)?;
        let is_first = !std::mem::replace(&mut self.has_given, true);
        Ok(Some(JsonRow { before, text, cells: &self.cells, line, is_first }))
    }

    /// What stands behind the last object; known once there is none any more.
    pub fn tail(&self) -> &str {
        &self.tail
    }
}

enum Cut {
    /// An object between these bytes.
    Object(usize, usize),
    /// Something else than an object, at this byte.
    Wrong(usize),
    NeedMore,
}

/// Finds the next object: what may stand before it is white space, a comma, the brackets of the
/// array, and a byte order mark.
fn cut(text: &[u8]) -> Cut {
    let passed = |byte: &u8| b" \t\r\n,[]\xEF\xBB\xBF\x1E".contains(byte);
    let Some(begin) = text.iter().position(|byte| !passed(byte)) else { return Cut::NeedMore };
    if text[begin] != b'{' {
        return Cut::Wrong(begin);
    }
    let mut depth = 0_usize;
    let mut at = begin;
    while let Some(offset) = text[at..].iter().position(|byte| b"{}[]\"".contains(byte)) {
        at += offset;
        match text[at] {
            b'{' | b'[' => depth += 1,
            b'"' => {
                // To the quotation mark that ends the string.
                loop {
                    match memchr::memchr2(b'"', b'\\', &text[at + 1..]) {
                        None => return Cut::NeedMore,
                        Some(offset) => at += offset + 1,
                    }
                    if text[at] == b'"' {
                        break;
                    }
                    at += 1;
                    if at >= text.len() {
                        return Cut::NeedMore;
                    }
                }
            }
            _ => {
                depth = depth.saturating_sub(1);
                if depth == 0 {
                    return Cut::Object(begin, at + 1);
                }
            }
        }
        at += 1;
    }
    Cut::NeedMore
}

/// Finds the values of an object and of those inside it.
struct Flatten<'a> {
    whole: &'a str,
    line: u64,
    names: &'a mut Vec<String>,
    cells: &'a mut Vec<Option<Range<usize>>>,
    places: &'a mut HashMap<String, usize>,
}

impl<'a> Flatten<'a> {
    fn object(&mut self, text: &'a str, path: &str, depth: usize) -> Result<(), TableError> {
        if depth > DEEPEST {
            let why = format!("more than {DEEPEST} objects stand in one another");
            return Err(TableError::NotJson { line: self.line, why });
        }
        let mut json = serde_json::Deserializer::from_str(text);
        let entries = json.deserialize_map(Entries).map_err(|error| {
            let line = self.line + error.line() as u64 - 1;
            TableError::NotJson { line, why: error.to_string() }
        })?;
        for (key, value) in entries {
            let name = if path.is_empty() { key.into_owned() } else { format!("{path}.{key}") };
            if value.starts_with('{') {
                self.object(value, &name, depth + 1)?;
            } else {
                self.value(name, value)?;
            }
        }
        Ok(())
    }

    fn value(&mut self, name: String, value: &'a str) -> Result<(), TableError> {
        let column = match self.places.get(&name) {
            Some(column) => *column,
            None if self.names.len() == MOST_COLUMNS => {
                return Err(TableError::TooWide { line: self.line, most: MOST_COLUMNS });
            }
            None => {
                self.places.insert(name.clone(), self.names.len());
                self.names.push(name);
                self.cells.push(None);
                self.names.len() - 1
            }
        };
        let start = value.as_ptr() as usize - self.whole.as_ptr() as usize;
        let twice = self.cells[column].replace(start..start + value.len()).is_some();
        if twice {
            let why = format!("key {:?} stands twice in one object", self.names[column]);
            return Err(TableError::NotJson { line: self.line, why });
        }
        Ok(())
    }
}

/// All keys of an object with their values as they stand, in order, repeated ones too.
struct Entries;

impl<'de> Visitor<'de> for Entries {
    type Value = Vec<(Cow<'de, str>, &'de str)>;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an object")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<Self::Value, A::Error> {
        let mut entries = Vec::new();
        while let Some(key) = map.next_key::<Cow<'de, str>>()? {
            entries.push((key, map.next_value::<&'de RawValue>()?.get()));
        }
        Ok(entries)
    }
}

impl<'r> JsonRow<'r> {
    /// The object with its own copy of the text.
    pub fn keep(&self) -> KeptObject {
        let JsonRow { before, text, cells, line, is_first } = *self;
        let (before, text, cells) = (before.to_owned(), text.to_owned(), cells.to_vec());
        KeptObject { before, text, cells, line, is_first }
    }

    /// The line where the object begins.
    pub fn line(&self) -> u64 {
        self.line
    }

    /// Whether no other object stands before it in the file.
    pub fn is_first(&self) -> bool {
        self.is_first
    }

    /// What stands in a column: the text of a string, anything else as it is spelled.
    pub fn cell<'b>(&self, column: usize, buffer: &'b mut String) -> Value<'b>
    where
        'r: 'b,
    {
        let Some(raw) = self.raw(column).filter(|raw| *raw != "null") else {
            return Value::Missing;
        };
        match raw.strip_prefix('"').and_then(|inside| inside.strip_suffix('"')) {
            None if raw.starts_with(|c: char| c == '-' || c.is_ascii_digit()) => Value::Number(raw),
            None => Value::Text(raw),
            Some(inside) if !inside.contains('\\') => Value::Text(inside),
            Some(inside) => {
                // It was parsed before, so it is a string; but half a pair of surrogates is no character
                // (RFC 8259, 8.2).
                match serde_json::from_str(raw) {
                    Ok(text) => {
                        *buffer = text;
                        Value::Text(buffer)
                    }
                    Err(_) => Value::Fault(Fault::NotText, inside),
                }
            }
        }
    }

    /// The value as it stands; none where the key is missing.
    pub fn raw(&self, column: usize) -> Option<&'r str> {
        self.text.get(self.place(column)?)
    }

    /// Where the value of a column stands in [`JsonRow::text`].
    pub fn place(&self, column: usize) -> Option<Range<usize>> {
        self.cells.get(column)?.clone()
    }

    /// The object as it stands.
    pub fn text(&self) -> &'r str {
        self.text
    }

    /// What stands between the object before and this one.
    pub fn before(&self) -> &'r str {
        self.before
    }
}

/// A text as a JSON string.
///
/// ```
/// use metachron_tables::json::quote;
/// assert_eq!(quote("say \"x\"\n"), r#""say \"x\"\n""#);
/// ```
pub fn quote(text: &str) -> String {
    serde_json::Value::from(text).to_string()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rows(text: &str) -> Result<(Vec<String>, Vec<Vec<String>>), TableError> {
        let mut reader = ObjectReader::new(text.as_bytes());
        let (mut names, mut rows, mut joined) = (Vec::new(), Vec::new(), String::new());
        while let Some(row) = reader.next_row(&mut names)? {
            joined.push_str(row.before());
            joined.push_str(row.text());
            let mut buffer = String::new();
            let cells = (0..row.cells.len()).map(|column| match row.cell(column, &mut buffer) {
                Value::Text(text) | Value::Number(text) => text.to_owned(),
                other => format!("{other:?}"),
            });
            rows.push(cells.collect());
        }
        assert_eq!(joined + reader.tail(), text);
        Ok((names, rows))
    }

    #[test]
    fn keys_are_columns_and_nested_keys_are_paths() {
        let text = "{\"ring\": \"LF1\", \"site\": {\"name\": \"Skarhölm\", \"at\": [1, {\"x\": 2}]}, \"n\": 1.50}\n\n\
                    {\"n\": null, \"seen\": \"say \\\"tsip\\\" \\u00e9\", \"site\": {}}\r\n";
        let (names, rows) = rows(text).unwrap();
        assert_eq!(names, ["ring", "site.name", "site.at", "n", "seen"]);
        assert_eq!(rows[0], ["LF1", "Skarhölm", "[1, {\"x\": 2}]", "1.50"]);
        assert_eq!(rows[1], ["Missing", "Missing", "Missing", "Missing", "say \"tsip\" é"]);
    }

    #[test]
    fn arrays_of_objects() {
        let (names, rows) = rows("[\n  {\"a\": \"x]\"},\n  {\"a\": \"}\\\\\"}\n]\n").unwrap();
        assert_eq!((names.len(), rows.len()), (1, 2));
        assert_eq!(rows[1], ["}\\"]);
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        for (text, line, why) in [
            ("{\"a\": 1}\n{\"a\": 1, \"a\": 2}\n", 2, "stands twice"),
            ("{\"a\": 1}\n17\n", 2, "an object belongs here"),
            ("{\"a\": 1}\n\n{\"a\": tru}\n", 3, "expected"),
            ("{\"a\": 1}\n{\"a\": \"open\n", 2, "never closed"),
            ("{\"a\": 1,\n \"b\" 2}\n", 2, "expected"),
        ] {
            match rows(text) {
                Err(TableError::NotJson { line: found, why: said }) => {
                    assert_eq!(found, line, "{text:?}: {said}");
                    assert!(said.contains(why), "{text:?}: {said}");
                }
                other => panic!("{text:?}: {other:?}"),
            }
        }
    }
}
