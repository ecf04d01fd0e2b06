//! Inputs that nobody has thought of: nothing panics, and what can be done in two ways comes to the same.
//!
//! Each test is a short run that is always the same; `FUZZ_SECONDS=600 cargo test --release --test fuzz` goes on for
//! ten minutes with each, and prints how far it came with `--nocapture`.
#![allow(clippy::unwrap_used, clippy::panic, clippy::disallowed_methods, clippy::disallowed_macros)]

mod runner;

use std::sync::Arc;

use jiff::civil::date;
use jiff::tz::Offset;
use metachron_core::apply::LayoutProgram;
use metachron_core::duration::Duration;
use metachron_core::epoch::{Epoch, Number};
use metachron_core::evidence::{Evidence, ObserveOptions, ObservePlan, Observer};
use metachron_core::infer::{conclude, infer};
use metachron_core::layout::{Layout, STANDARDS};
use metachron_core::reading::{Terms, interpret};
use metachron_core::steps::{Chain, Condition, Item, Notes, Series, Setting, Type};
use metachron_core::text::normalise;
use metachron_core::timeline::Requirement;
use metachron_core::typed::Kind;
use metachron_core::verdict::Asserted;
use metachron_core::write::spell;
use runner::{Numbers, Target};

/// What values are made of, as their writers have them, and what breaks them.
const VALUES: &[&str] = &[
    "2024",
    "24",
    "3",
    "04",
    "13",
    "31",
    "12",
    "29",
    "02",
    "0000",
    "1900",
    "1582",
    "9999",
    "99999",
    "-",
    "/",
    ".",
    ":",
    "T",
    " ",
    ", ",
    "Z",
    "+02:00",
    "-0330",
    "+14",
    "UTC",
    "CET",
    "am",
    "PM",
    "a. m.",
    "noon",
    "Mar",
    "März",
    "listopada",
    "Dienstag",
    "Di",
    "1st",
    "31st",
    "Q3",
    "W53",
    "2024-W09",
    "-W5-",
    "P1D",
    "PT36H",
    "1h 20m",
    "90 min",
    "27:15",
    "5 m",
    "45210.5",
    "1709251200",
    "17092512001234",
    "-1",
    "1e9",
    "24:00",
    "23:59:60",
    "00:00:00.123456789",
    "١٢",
    "三月",
    "年",
    "令和",
    "平成",
    "元",
    "{",
    "}",
    "\u{202f}",
    "\u{2212}",
    "\u{feff}",
    "é",
    "ı",
    "İ",
    "ß",
    "\u{0}",
    "''",
    "of",
    "de",
    "d",
    "\u{1f4c5}",
    "Sept.",
    "sept",
    "Adar",
    "/Date(1709251200000)/",
    "20240301",
    "010203",
    "1:2:3",
    "½",
    "1,5",
    "n/a",
];

/// What layouts are made of.
const LAYOUTS: &[&str] = &[
    "{day}",
    "{day:02}",
    "{day:th}",
    "{day: 2}",
    "{month}",
    "{month:02}",
    "{month:name}",
    "{month:short}",
    "{year}",
    "{year:2}",
    "{year:era}",
    "{era}",
    "{hour}",
    "{hour:12}",
    "{hour:02}",
    "{minute}",
    "{second}",
    "{fraction}",
    "{fraction:3}",
    "{ampm}",
    "{noon}",
    "{offset}",
    "{offset:basic}",
    "{offset:colon}",
    "{zone}",
    "{weekday}",
    "{weekday:short}",
    "{yearday}",
    "{yearday:03}",
    "{week}",
    "{quarter}",
    "{any}",
    "{serial:sheet-1900}",
    "{serial:unix-seconds}",
    "{decimalyear:day}",
    "{hours}",
    "{minutes}",
    "{amount}",
    "{hourminute}",
    "[",
    "]",
    "/",
    "-",
    ".",
    " ",
    ", ",
    "T",
    "Z",
    "{",
    "}",
    "{{",
    "}}",
    "iso8601",
    "rfc3339",
    "rfc2822",
    "year",
    "de",
    "年",
    "\\",
    "|",
    "é",
    "{day:",
    "{:}",
    "{day:99999999999}",
    "{year:02}",
];

/// What steps and conditions are made of.
const STEPS: &[&str] = &[
    "x",
    "y",
    " | ",
    "|",
    "date",
    "time",
    "year",
    "month",
    "day",
    "floor 1 hour",
    "floor",
    "add 3 days",
    "add",
    "minus",
    "days",
    "hours",
    "between x and y",
    "in Asia/Tokyo",
    "in",
    "show \"{day}\"",
    "show",
    "round",
    "whole",
    "serial",
    "sheet-1900",
    "if",
    "else",
    "and",
    "or",
    "not",
    "is missing",
    "is",
    "=",
    "!=",
    "<",
    "<=",
    ">",
    ">=",
    "2024-03-05",
    "2024-03-05T10:15",
    "P1D",
    "PT1H",
    "\"",
    "'",
    "\\",
    "(",
    ")",
    ",",
    "1",
    "-1",
    "99999999999999999999",
    "0",
    "café",
    "\u{2212}",
    "\t",
    "\n",
    "start",
    "end",
    "of month",
    "weekday",
    "age",
    "every 15 minutes",
    "at most",
    "days after",
    "from",
    "to",
    "per",
    "unit",
    "yearly",
    "monthly",
    "matches",
    "contains",
    "begins with",
    "true",
    "false",
    "now",
    "today",
    "nanoseconds",
    "P99999999Y",
    "PT99999999999999H",
];

fn lossy(input: &[u8]) -> String {
    String::from_utf8_lossy(input).into_owned()
}

/// Values that are read by the layout of one input.
const VALUES_OF_A_LAYOUT: usize = 256;

/// Both engines read every value in the same way, by every standard and by whatever layout there is.
#[test]
fn values_are_read_alike_by_both_engines() {
    let compiled = |layout: Layout| (LayoutProgram::new(&layout), layout);
    let standards: Vec<(LayoutProgram, Layout)> =
        STANDARDS.iter().map(|own| compiled(Layout::parse(own.name).unwrap())).collect();
    let words: Vec<&str> =
        LAYOUTS.iter().copied().filter(|own| Layout::parse(own).is_ok()).collect();
    let target = Target { name: "values", runs: 1_000, dictionary: VALUES, seeds: Vec::new() };
    target.run(|input, n| {
        // Words that are layouts are one together now and then.
        let drawn: String = (0..=n.up_to(7)).map(|_| n.one(&words)).collect();
        let drawn = Layout::parse(&drawn).ok().map(compiled);
        let text = lossy(input);
        let marks: Vec<usize> = text.char_indices().map(|(at, _)| at).chain([text.len()]).collect();
        let _ = (text.parse::<Duration>(), text.parse::<Epoch>());
        let (mut value, mut buffer) = (text.clone(), String::new());
        for _ in 0..VALUES_OF_A_LAYOUT {
            let read = normalise(&value, &mut buffer);
            for (program, layout) in drawn.iter().chain([&standards[n.up_to(standards.len())]]) {
                let slow = interpret(layout, read, Terms::default());
                let fast = program.read(read, Terms::default());
                assert_eq!(slow, fast, "{layout} on {read:?}");
            }
            let _ = Number::parse(read);
            // The next one begins as the input does, or is made of other words.
            value.clear();
            value.push_str(&text[..if n.up_to(2) == 0 { marks[n.up_to(marks.len())] } else { 0 }]);
            (0..=n.up_to(5)).for_each(|_| value.push_str(n.one(VALUES)));
        }
    });
}

/// A layout is what it says it is, and what it writes it reads.
#[test]
fn layouts_say_what_they_are() {
    let day = date(2024, 3, 5).at(10, 15, 7, 0);
    let target = Target { name: "layouts", runs: 20_000, dictionary: LAYOUTS, seeds: Vec::new() };
    target.run(|input, _| {
        let text = lossy(input);
        let _ = (Layout::parse_yearless(&text), Layout::parse_to_write(&text));
        let Ok(layout) = Layout::parse(&text) else { return };
        let said = layout.to_string();
        let again =
            Layout::parse(&said).unwrap_or_else(|error| panic!("{text:?} is {said:?}: {error}"));
        assert_eq!(again, layout, "{text:?} is {said:?}");
        let _ = (layout.kind(), layout.order(), layout.exchanged().map(|own| own.to_string()));
        // What a layout writes in any calendar is text, whatever it leaves out.
        let _ = spell(&layout, day, Offset::UTC, Terms::default().lexicon);
    });
}

/// Whatever is said as steps, conditions, series or requirements is done or refused, with the place.
#[test]
fn steps_and_conditions_are_done_or_refused() {
    let setting = Setting::new(date(2024, 6, 1));
    let moment = |text: &str| {
        let own: jiff::civil::DateTime = text.parse().unwrap();
        Item::Typed(metachron_core::typed::TypedValue::DateTime(own))
    };
    let columns = [("x", Type::Of(Kind::DateTime)), ("y", Type::Raw)];
    let target = Target { name: "steps", runs: 20_000, dictionary: STEPS, seeds: Vec::new() };
    target.run(|input, _| {
        let text = lossy(input);
        let items = |names: &[usize]| -> Vec<Item> {
            let of = |at: &usize| match at {
                0 => moment("2024-03-05T10:15:00"),
                _ => Item::Text("5".to_owned()),
            };
            names.iter().map(of).collect()
        };
        for text in [text.clone(), format!("x | {text}")] {
            if let Ok(chain) = Chain::parse(&text).map_err(|error| error.marked())
                && let Ok(program) =
                    chain.compile(&columns, &setting).map_err(|error| error.marked())
            {
                let items = items(program.inputs());
                let _ = program.run(&items, &[], &mut Notes::default());
            }
            let _ = Condition::compile(&text, &columns, &setting).map_err(|error| error.marked());
        }
        let _ = (Series::parse(&text).map_err(|error| error.marked()), Requirement::parse(&text));
    });
}

/// Whether rows come to the same as what stands before the cut and behind it, joined.
fn is_joined(plan: &Arc<ObservePlan>, rows: &[String], cut: usize) -> bool {
    let seen = |rows: &[String], before: usize| {
        let mut observer = Observer::of(plan.clone());
        for (row, value) in (before as u64 + 1..).zip(rows) {
            observer.observe(row, value.as_str());
        }
        observer.finish()
    };
    let (before, behind) = rows.split_at(cut);
    seen(before, 0).join(seen(behind, cut)).unwrap() == seen(rows, 0)
}

/// The fewest of these rows that do not come to the same, before the cut and behind it.
fn fewest(plan: &Arc<ObservePlan>, mut rows: Vec<String>, mut cut: usize) -> [Vec<String>; 2] {
    for at in (0..rows.len()).rev() {
        let row = rows.remove(at);
        let moved = cut - usize::from(at < cut);
        match is_joined(plan, &rows, moved) {
            true => rows.insert(at, row),
            false => cut = moved,
        }
    }
    let behind = rows.split_off(cut);
    [rows, behind]
}

/// A column of whatever values: nothing panics, runs that are joined are the whole, and what is decided is read.
#[test]
fn columns_come_to_the_same_however_they_are_cut() {
    let target = Target { name: "columns", runs: 1_200, dictionary: VALUES, seeds: Vec::new() };
    let asserted = Asserted::nothing(date(2024, 6, 1));
    let plan = Arc::new(ObservePlan::new(ObserveOptions::default(), 0));
    target.run(|input, n| {
        let text = lossy(input);
        let mut values: Vec<String> = text.split('\n').map(str::to_owned).collect();
        for _ in 0..n.up_to(12) {
            values.push((0..=n.up_to(5)).map(|_| n.one(VALUES)).collect());
        }
        let cut = n.up_to(values.len() + 1);
        assert!(is_joined(&plan, &values, cut), "{:?}", fewest(&plan, values, cut));
        let inference =
            infer(values.iter().map(String::as_str), &ObserveOptions::default(), &asserted);
        if let Some(compiled) = inference.compiled {
            for (row, value) in (1..).zip(&values) {
                let _ = compiled.apply(row, value.as_str());
            }
        }
    });
}

/// Evidence that somebody has damaged is refused, or judged like any other.
#[test]
fn damaged_evidence_is_refused_or_judged() {
    let options = ObserveOptions::default();
    let asserted = Asserted::nothing(date(2024, 6, 1));
    let mut numbers = Numbers(5);
    let seeds = (0..12).map(|at| {
        let mut observer = Observer::new(options.clone(), 0);
        for row in 1..30 {
            let value: String = match at {
                0..=3 => format!("{}/{}/2024", 1 + numbers.up_to(28), 1 + numbers.up_to(12)),
                4..=6 => {
                    format!("2024-10-{:02} {:02}:15 CET", 1 + numbers.up_to(28), numbers.up_to(24))
                }
                _ => (0..=numbers.up_to(4)).map(|_| numbers.one(VALUES)).collect(),
            };
            observer.observe(row, value.as_str());
        }
        postcard::to_stdvec(&observer.finish()).unwrap()
    });
    let seeds = seeds.collect();
    let target = Target { name: "evidence", runs: 2_000, dictionary: &[], seeds };
    target.run(|input, _| {
        let Ok(evidence) = postcard::from_bytes::<Evidence>(input) else { return };
        let _ = conclude(&evidence, &options, &asserted);
        let _ = evidence.clone().of_later_parts(1).merge(evidence.clone());
        let _ = evidence.clone().join(evidence);
    });
}
