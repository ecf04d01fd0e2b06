//! What is said of single columns on the command line: `--set`, `--when` and names of new columns.

use std::collections::BTreeMap;
use std::ops::RangeInclusive;

use metachron_core::reading::{Order, RowParts, Written};
use toml_edit::Value;

use super::decisions::{Decisions, When};
use super::keys::{GROWING, texts, unknown_key};
use super::wrong::Wrong;
use crate::message::{is_hidden, plain, quoted};

/// A column's name as `--set` takes it: bare, or as a TOML string.
pub fn set_name(name: &str) -> String {
    if is_bare(name) { name.to_owned() } else { toml_text(name) }
}

/// Whether a name needs no quotation marks.
fn is_bare(name: &str) -> bool {
    !name.is_empty() && name.chars().all(|c| c.is_alphanumeric() || c == '_')
}

/// A text as TOML has it on one line, with what cannot be seen as escapes (TOML 1.0, basic strings).
fn toml_text(text: &str) -> String {
    if plain(text) == text {
        return Value::from(text).to_string();
    }
    let mut written = String::from("\"");
    for c in text.chars() {
        match c {
            '"' | '\\' => written.extend(['\\', c]),
            c if is_hidden(c) => written += &format!("\\U{:08X}", u32::from(c)),
            c => written.push(c),
        }
    }
    written + "\""
}

/// A value on one line, likewise.
fn toml_value(value: &Value) -> String {
    let pairs = |table: &toml_edit::InlineTable| {
        let pair =
            |(key, value): (&str, &Value)| format!("{} = {}", toml_key(key), toml_value(value));
        table.iter().map(pair).collect::<Vec<_>>().join(", ")
    };
    match value {
        Value::String(text) => toml_text(text.value()),
        Value::Array(all) => {
            format!("[{}]", all.iter().map(toml_value).collect::<Vec<_>>().join(", "))
        }
        Value::InlineTable(table) => format!("{{ {} }}", pairs(table)),
        other => other.to_string().trim().to_owned(),
    }
}

fn toml_key(key: &str) -> String {
    if plain(key) == key { toml_edit::Key::new(key).to_string() } else { toml_text(key) }
}

/// A value as `--set` takes it: a bare word where that is no TOML, or as TOML.
pub fn set_value(value: &Value) -> String {
    let is_bare = |text: &str| {
        let plain = |c: char| c.is_alphanumeric() || "_-/".contains(c);
        !text.is_empty() && text.chars().all(plain) && text.parse::<Value>().is_err()
    };
    match value.as_str() {
        Some(text) if is_bare(text) => text.to_owned(),
        _ => toml_value(value),
    }
}

/// A column's name as steps take it.
pub fn step_name(name: &str) -> String {
    match is_bare(name) {
        true => name.to_owned(),
        false => format!("\"{}\"", name.replace('\\', "\\\\").replace('"', "\\\"")),
    }
}

/// Takes `NAME = …` apart, as an option for new columns has it.
///
/// # Errors
/// If it names no column.
pub fn named(option: &str, text: &str, example: &str) -> Result<(String, String), Wrong> {
    let wrong = |why: &str| Wrong::general(format!("{option} {} {why}; {example}", quoted(text)));
    let (name, rest) = text.split_once('=').ok_or_else(|| wrong("has no ="))?;
    let name = name.trim().trim_matches('"').to_owned();
    if name.is_empty() || name.contains('|') {
        return Err(wrong("names no column"));
    }
    Ok((name, rest.trim().to_owned()))
}

/// Takes `COLUMN: key=value, key=value` apart, as `--set` has it.
///
/// # Errors
/// What is wrong, and an example of what would be right.
pub fn parse_set(text: &str) -> Result<(String, Decisions), Wrong> {
    let example = "write --set 'captured: order=dmy, two_digit_from=1950'";
    let wrong = |why: &str| Wrong::general(format!("--set {} {why}; {example}", quoted(text)));
    let (column, rest) = column_of(text).ok_or_else(|| wrong("names no column"))?;
    let mut decisions = Decisions::default();
    each_key(rest, |key, value| decisions.set(key, value))
        .map_err(|wrong| wrong.within("--set", text))?;
    Ok((column, decisions))
}

/// The column that a `--set` speaks of, and its keys with their values; none if it is not written so.
pub fn keys_of_set(text: &str) -> Option<(String, Vec<(String, Value)>)> {
    let (column, rest) = column_of(text)?;
    let mut keys = Vec::new();
    let take = |key: &str, value: &Value| {
        keys.push((key.to_owned(), value.clone()));
        Ok(())
    };
    each_key(rest, take).ok()?;
    Some((column, keys))
}

/// Refuses to be told the same of a column twice.
///
/// # Errors
/// What is said twice.
pub fn refuse_twice(sets: &[String]) -> Result<(), Wrong> {
    let mut said: BTreeMap<(String, String), &str> = BTreeMap::new();
    for text in sets {
        let Some((column, keys)) = keys_of_set(text) else { continue };
        for (key, _) in keys.into_iter().filter(|(key, _)| !GROWING.contains(&key.as_str())) {
            if let Some(other) = said.insert((column.clone(), key.clone()), text) {
                return Err(Wrong::general(format!(
                    "--set {} and --set {} both say {key}; leave one out",
                    quoted(other),
                    quoted(text)
                )));
            }
        }
    }
    Ok(())
}

/// A `--set` that speaks of this column.
pub fn set_text(column: &str, keys: &[(String, Value)]) -> String {
    let said = keys.iter().map(|(key, value)| format!("{key}={}", set_value(value)));
    format!("{}: {}", set_name(column), said.collect::<Vec<_>>().join(", "))
}

/// The column before the colon.
fn column_of(text: &str) -> Option<(String, &str)> {
    let (name, rest) = name_before(text, &[":"])?;
    Some((name, &rest[1..]))
}

/// A name and what follows from one of these on; a name with other characters stands in double
/// quotes.
fn name_before<'t>(text: &'t str, ends: &[&str]) -> Option<(String, &'t str)> {
    let text = text.trim_start();
    if let Some(quote @ ('"' | '\'')) = text.chars().next() {
        // The first quotation mark that ends a TOML string ends the name.
        return text.match_indices(quote).skip(1).find_map(|(end, _)| {
            let name = text[..=end].parse::<Value>().ok()?;
            let rest = &text[end + 1..];
            let rest =
                if ends.iter().all(|end| end.starts_with(' ')) { rest } else { rest.trim_start() };
            ends.iter()
                .any(|end| rest.starts_with(end))
                .then_some((name.as_str()?.to_owned(), rest))
        });
    }
    let end = ends.iter().filter_map(|end| text.find(end)).min()?;
    let name = text[..end].trim();
    (!name.is_empty()).then(|| (name.to_owned(), &text[end..]))
}

/// Takes `key=value, key=value` one by one.
fn each_key(
    text: &str,
    mut take: impl FnMut(&str, &Value) -> Result<(), Wrong>,
) -> Result<(), Wrong> {
    let mut rest = text;
    while !rest.trim().is_empty() {
        let no_value = || Wrong::general(format!("{} has no =", quoted(rest.trim())));
        let (key, after) = rest.split_once('=').ok_or_else(no_value)?;
        let (value, left) = value_of(after);
        take(key.trim(), &value)?;
        rest = left;
    }
    Ok(())
}

/// The value up to the comma that ends it, read as TOML; a bare word is text.
fn value_of(text: &str) -> (Value, &str) {
    let commas = text.match_indices(',').map(|(at, _)| at);
    for end in commas.chain([text.len()]) {
        let candidate = text[..end].trim();
        if let Ok(value) = candidate.parse::<Value>() {
            return (value, text.get(end + 1..).unwrap_or(""));
        }
    }
    let end = text.find(',').unwrap_or(text.len());
    (Value::from(text[..end].trim()), text.get(end + 1..).unwrap_or(""))
}

/// A range of rows as `4813..` or `1..4812` has it.
///
/// # Errors
/// What is wrong with it.
pub fn rows(text: &str) -> Result<RangeInclusive<u64>, Wrong> {
    let wrong =
        || Wrong::new("rows", format!("{} are no range such as 1..4812 or 4813..", quoted(text)));
    let (first, last) = text.trim().split_once("..").ok_or_else(wrong)?;
    let first: u64 = first.trim().parse().map_err(|_| wrong())?;
    let last = match last.trim() {
        "" => u64::MAX,
        last => last.parse().map_err(|_| wrong())?,
    };
    if first == 0 || last < first { Err(wrong()) } else { Ok(first..=last) }
}

/// The range as it is written.
pub fn rows_text(rows: &RangeInclusive<u64>) -> String {
    match *rows.end() {
        u64::MAX => format!("{}..", rows.start()),
        last => format!("{}..{last}", rows.start()),
    }
}

/// Takes `COLUMN where NAME=VALUE: order=mdy` apart, or `COLUMN rows 4813..: order=mdy`.
///
/// # Errors
/// What is wrong, and an example of what would be right.
pub fn parse_when(text: &str) -> Result<(String, SaidOfRows), Wrong> {
    let example = "write --when 'captured where station=Port Meridian: order=mdy'";
    let at = |wrong: Wrong| wrong.within("--when", text);
    let lacks = |what: &str| Wrong::general(format!("--when {} {what}; {example}", quoted(text)));
    let (column, rest) = name_before(text, &[" where ", " rows "])
        .ok_or_else(|| lacks("does not say of which rows of which column it speaks"))?;
    let (rest, by_rows) = match rest.strip_prefix(" rows ") {
        Some(rest) => (rest, true),
        None => (rest.strip_prefix(" where ").unwrap_or(rest), false),
    };
    if by_rows {
        let (range, keys) = rest.split_once(':').ok_or_else(|| lacks("has no colon"))?;
        let part = (rows(range).map_err(at)?, part(keys, text)?);
        return Ok((column, SaidOfRows::of(RowParts::Rows(vec![part]), None)));
    }
    let (name, rest) = name_before(rest, &["="]).ok_or_else(|| lacks("has no ="))?;
    let rest = &rest[1..];
    // The first colon behind what TOML takes for a value, or else the first one.
    let ends = || rest.match_indices(':').map(|(end, _)| end);
    let toml = ends().find_map(|end| Some((rest[..end].trim().parse::<Value>().ok()?, end)));
    let (values, end) = match toml {
        Some((value @ (Value::String(_) | Value::Array(_)), end)) => {
            (texts("where", &value).map_err(at)?, end)
        }
        _ => {
            let end = ends().next().ok_or_else(|| lacks("has no colon"))?;
            (vec![rest[..end].trim().to_owned()], end)
        }
    };
    let part = (values, part(&rest[end + 1..], text)?);
    Ok((column, SaidOfRows::of(RowParts::Column(name, vec![part]), None)))
}

/// What is said of some rows: how they are written, where their clocks stood, or both.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SaidOfRows {
    /// How they are written.
    pub when: Option<When>,
    /// Where their clocks stood.
    pub zones: Option<RowParts<String>>,
}

/// What is said of one part of the rows.
pub type SaidOfPart = (Option<Written>, Option<String>);

impl SaidOfRows {
    /// Of what is said of each part.
    pub fn of(parts: RowParts<SaidOfPart>, digest: Option<String>) -> SaidOfRows {
        fn some<W>(parts: RowParts<W>) -> Option<RowParts<W>> {
            let none = match &parts {
                RowParts::Column(_, parts) => parts.is_empty(),
                RowParts::Rows(parts) => parts.is_empty(),
            };
            (!none).then_some(parts)
        }
        let written = some(parts.filter_map(|(written, _)| written.clone()));
        let zones = some(parts.filter_map(|(_, zone)| zone.clone()));
        SaidOfRows { when: written.map(|parts| When { parts, digest }), zones }
    }

    /// Says the same in the decisions for a column, beside what is said of other rows; false if
    /// different things tell the rows apart.
    #[must_use]
    pub fn join(self, decisions: &mut Decisions) -> bool {
        fn both<T>(own: &mut Option<T>, more: Option<T>, and: fn(T, T) -> Option<T>) -> bool {
            let several = own.is_some() && more.is_some();
            *own = match (own.take(), more) {
                (Some(own), Some(more)) => and(own, more),
                (own, more) => own.or(more),
            };
            !several || own.is_some()
        }
        both(&mut decisions.when, self.when, When::and)
            && both(&mut decisions.clocks.of_rows, self.zones, RowParts::and)
    }
}

/// The keys behind the colon of a `--when`, which say how its rows are written and where their clocks
/// stood.
fn part(keys: &str, whole: &str) -> Result<SaidOfPart, Wrong> {
    let at = |wrong: Wrong| wrong.within("--when", whole);
    let mut decisions = Decisions::default();
    each_key(keys, |key, value| part_key(&mut decisions, key, value)).map_err(at)?;
    match (decisions.written, decisions.clocks.zone) {
        (None, None) => {
            Err(at(Wrong::general("say order=…, layouts=… or zone=… behind the colon")))
        }
        said => Ok(said),
    }
}

/// Takes a key that says how some rows of a column are written, or where their clocks stood.
///
/// # Errors
/// If it is no such key, or its value is wrong.
pub fn part_key(decisions: &mut Decisions, key: &str, value: &Value) -> Result<(), Wrong> {
    if !PART_KEYS.contains(&key) {
        return Err(unknown_key(key, PART_KEYS));
    }
    decisions.set(key, value)?;
    match decisions.written {
        Some(Written::Order(Order::Ydm)) => {
            Err(Wrong::general("no region writes ydm; give layouts"))
        }
        _ => Ok(()),
    }
}

/// Two things that are said of the same rows and differ.
///
/// # Errors
/// Of which rows.
pub fn check_rows(column: &str, decisions: &Decisions) -> Result<(), Wrong> {
    let written = decisions.when.as_ref().and_then(|when| when.parts.contradiction());
    let zones = decisions.clocks.of_rows.as_ref().and_then(RowParts::contradiction);
    match written.or(zones) {
        None => Ok(()),
        Some(rows) => Err(Wrong::general(format!(
            "two things are said of the same rows of {} ({rows}); keep one of them",
            quoted(column)
        ))),
    }
}

/// What can be said of some rows.
const PART_KEYS: [&str; 3] = ["order", "layouts", "zone"];

/// A value of another column as `--when` takes it: bare, or as TOML.
pub fn when_values(values: &[String]) -> String {
    let bare = |value: &str| {
        !value.is_empty()
            && value.chars().all(|c| c.is_alphanumeric() || " _-./".contains(c))
            && value.trim() == value
    };
    match values {
        [one] if bare(one) => one.clone(),
        many => Value::from(many.iter().collect::<toml_edit::Array>()).to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use metachron_core::reading::Contested;

    #[test]
    fn set_takes_bare_words_numbers_and_lists() {
        let (column, decisions) = parse_set(
            "\"net opened\": layouts=[\"{day}, {month} {year}\", '{year}-{month}-{day}'], two_digit_from=1950, contested=prefer",
        )
        .unwrap();
        assert_eq!(column, "net opened");
        assert_eq!(decisions.two_digit_from, Some(1950));
        assert_eq!(decisions.contested, Some(Contested::Prefer));
        assert!(matches!(decisions.written, Some(Written::Layouts(layouts)) if layouts.len() == 2));
        assert_eq!(
            parse_set("seen: order=dmy").unwrap().1.written,
            Some(Written::Order(Order::Dmy))
        );
    }

    #[test]
    fn names_come_back_as_they_were() {
        for name in ["", "seen", "net opened", "a: b", "5\" pipe", "tab\there", "=x", "année"] {
            let (column, _) = parse_set(&format!("{}: order=dmy", set_name(name))).unwrap();
            assert_eq!(column, name);
        }
    }

    #[test]
    fn set_says_what_is_wrong() {
        for (text, expected) in [
            ("order=dmy", "names no column"),
            ("seen: ordr=dmy", "did you mean order?"),
            ("seen: order=dym", "none of dmy, mdy, ymd, ydm"),
            ("seen: order", "has no ="),
            ("seen: layouts=[\"{day}.{mnth}.{year}\"]", "did you mean {month}?"),
            ("seen: order=dmy, layouts=\"{day}.{month}.{year}\"", "exclude each other"),
            ("seen: two_digit_from=9950", "from 100 to 9900"),
            (
                "seen: written_in=pt-XX",
                "\"pt-XX\" is no locale that CLDR 48.2 has; did you mean pt",
            ),
            ("seen: known=\"3/4/24\"", "its right answer in ISO 8601"),
            ("seen: accepted=yes", "accepted cannot be \"yes\""),
            ("seen: layouts=[\"{hour}:{minute}\", \"{day}.{month}.{year}\"]", "one kind"),
        ] {
            let error = parse_set(text).unwrap_err().to_string();
            assert!(error.contains(expected), "{text}: {error}");
        }
    }

    #[test]
    fn when_says_which_rows_are_written_how() {
        let parts =
            |text: &str| parse_when(text).map(|(column, rows)| (column, rows.when.unwrap().parts));
        let month_first = || Written::Order(Order::Mdy);
        let by = |column: &str, name: &str, values: &[&str]| {
            let values = values.iter().map(|value| (*value).to_owned()).collect();
            Ok((
                column.to_owned(),
                RowParts::Column(name.to_owned(), vec![(values, month_first())]),
            ))
        };
        for (text, expected) in [
            (
                "seen where station=Port Meridian: order=mdy",
                by("seen", "station", &["Port Meridian"]),
            ),
            ("seen where station = 12: order=mdy", by("seen", "station", &["12"])),
            (
                "\"net opened\" where \"a=b\"=[\"x: y\", ''] : order=mdy",
                by("net opened", "a=b", &["x: y", ""]),
            ),
            ("seen where at=\"10:30\": order=mdy", by("seen", "at", &["10:30"])),
            (
                "seen rows 4813..: order=mdy",
                Ok(("seen".to_owned(), RowParts::Rows(vec![(4813..=u64::MAX, month_first())]))),
            ),
        ] {
            assert_eq!(parts(text), expected, "{text}");
        }
        for (text, expected) in [
            ("seen: order=mdy", "does not say of which rows"),
            ("seen where station: order=mdy", "has no colon"),
            ("seen where station=Skarholm", "has no colon"),
            ("seen where station=Skarholm:", "say order=…, layouts=… or zone=…"),
            ("seen where station=Skarholm: kind=date", "there is no key \"kind\""),
            ("seen where station=Skarholm: order=ydm", "give layouts"),
            ("seen rows 9..3: order=mdy", "no range such as"),
        ] {
            let error = parts(text).unwrap_err().to_string();
            assert!(error.contains(expected), "{text}: {error}");
        }
    }

    #[test]
    fn values_come_back_as_they_were() {
        for values in [&["Port Meridian"][..], &["a", "b"], &[""], &["x: y"], &[" a"], &["it's"]] {
            let values: Vec<String> = values.iter().map(|value| (*value).to_owned()).collect();
            let text = format!("seen where station={}: order=mdy", when_values(&values));
            let (_, when) = parse_when(&text).unwrap();
            assert!(
                matches!(when.when.unwrap().parts, RowParts::Column(_, parts) if parts[0].0 == values),
                "{text}"
            );
        }
    }
}
