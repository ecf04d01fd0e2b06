//! What somebody may say that nobody has thought of: it is understood or refused, and what is understood is said again
//! in the same way.
#![allow(clippy::unwrap_used, clippy::panic, clippy::disallowed_methods, clippy::disallowed_macros)]

#[path = "../../../metachron-core/tests/fuzz/runner.rs"]
mod runner;

use runner::Target;
use toml_edit::Value;

use super::ReadingsFile;
use super::syntax::{keys_of_set, parse_set, parse_when, set_text};

/// What `--set`, `--when` and readings files are made of.
const WORDS: &[&str] = &[
    "seen",
    "\"seen \"",
    "'a b'",
    ":",
    " : ",
    ",",
    ", ",
    "=",
    "order",
    "order=dmy",
    "order=mdy",
    "layouts",
    "[",
    "]",
    "\"",
    "'",
    "{day}/{month}/{year}",
    "[\"{day}.{month}.{year}\", \"iso-8601\"]",
    "two_digit_from=1950",
    "year=2024",
    "year=99999",
    "zone=Europe/Oslo",
    "zone=Mars/Base",
    "zone_from=zone",
    "convert=false",
    "convert=perhaps",
    "kind=date",
    "kind=duration",
    "unit=hours",
    "epoch=sheet-1900",
    "epoch=9",
    "calendar=buddhist",
    "written_in=nb-NO",
    "known=\"03/04=2024-04-03\"",
    "known",
    "repair=half-swapped",
    "missing=[\"x\"]",
    "into=b",
    "abbreviations={CET=\"Europe/Oslo\"}",
    "where",
    " where ",
    "station=Port Meridian",
    "station=\"a, b\", c",
    "rows",
    " rows ",
    "1..4812",
    "4813..",
    "..",
    "0..0",
    "5..1",
    "true",
    "{}",
    "\\",
    "\\u{1f4c5}",
    "é",
    "\u{0}",
    "\n",
    "#",
    "[columns.seen]\n",
    "[columns.\"a b\"]\n",
    "version = 1\n",
    "order = \"dmy\"\n",
    "layouts = [\"{day}/{month}/{year}\"]\n",
    "[source]\n",
    "delimiter = \";\"\n",
    "[[columns.seen.rows]]\n",
    "accepted = true\n",
    "1950",
    "-1",
    "99999999999999999999",
    "1e9",
    "1979-05-27",
    "[made]\n",
    "x = \"seen | year\"\n",
    "keep",
    "require=sorted",
    "allow=spikes",
    "reform=1752-09-14",
    "precision=minute",
];

#[test]
fn what_is_set_is_said_again_in_the_same_way() {
    let seeds = [
        "captured: order=dmy, two_digit_from=1950",
        "\"a: b\": layouts=[\"{day}/{month}/{year}\"], known=\"03/04/2024=2024-04-03\"",
        "captured where station=Port Meridian: order=mdy",
        "captured rows 1..4812: order=mdy",
    ];
    let seeds = seeds.map(|text| text.as_bytes().to_vec()).into();
    Target { name: "sets", runs: 6_000, dictionary: WORDS, seeds }.run(|input, _| {
        let text = String::from_utf8_lossy(input);
        let _ = parse_when(&text);
        let Ok((column, decisions)) = parse_set(&text) else { return };
        if let Some((name, keys)) = keys_of_set(&text) {
            assert_eq!(name, column);
            let again = set_text(&name, &keys);
            assert_eq!(
                parse_set(&again).unwrap(),
                (name, decisions.clone()),
                "{text:?} is {again:?}"
            );
        }
        // What would be saved says the same.
        let said: Vec<(String, Value)> =
            decisions.said().into_iter().map(|(key, value)| (key.to_owned(), value)).collect();
        if !said.is_empty() {
            let again = set_text(&column, &said);
            assert_eq!(parse_set(&again).unwrap().1, decisions, "{text:?} is {again:?}");
        }
    });
}

#[test]
fn any_readings_file_is_read_or_refused() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("readings.toml");
    let whole = "version = 1\n\n[source]\ndelimiter = \";\"\n\n[columns.seen]\nlayouts = [\"{day}/{month}/{year}\"]\n\
                 two_digit_from = 1950\n\n[columns.\"a b\"]\norder = \"mdy\"\nzone = \"Europe/Oslo\"\n";
    let seeds = vec![whole.as_bytes().to_vec()];
    Target { name: "readings", runs: 3_000, dictionary: WORDS, seeds }.run(|input, _| {
        std::fs::write(&path, input).unwrap();
        if let Ok(read) = ReadingsFile::read(&path) {
            read.columns().for_each(|name| assert!(read.column(name).is_some()));
        }
    });
}
