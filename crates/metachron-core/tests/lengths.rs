//! Lengths of time: what their written forms are, laws of sums and round trips, and what a column of them
//! comes to.
#![allow(clippy::unwrap_used)]

use metachron_core::candidates::candidates;
use metachron_core::duration::{Duration, UNITS, Unit};
use metachron_core::evidence::{ObserveOptions, Occurrences};
use metachron_core::infer::{Inference, infer};
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Lexicon, Locale, unit_word};
use metachron_core::reading::{Clocks, Terms, interpret, length_in_words};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::{Asserted, Finding, LengthFinding, Settle, Verdict};
use metachron_core::write::spell_length;
use proptest::prelude::*;

fn read(layout: &str, value: &str, terms: Terms) -> Result<String, String> {
    match interpret(&Layout::parse(layout).unwrap(), value, terms) {
        Ok(fit) => Ok(fit.moment.to_string()),
        Err(unfit) => Err(unfit.code().to_owned()),
    }
}

fn written_in(tag: &str) -> Terms {
    Terms { lexicon: Lexicon::of(Locale::named(tag).unwrap()), ..Terms::default() }
}

#[test]
fn amounts_with_their_units_are_read_in_any_order() {
    for (value, expected) in [
        ("1 day 4 hours 35 min", Ok("PT28H35M")),
        ("48 SECONDS", Ok("PT48S")),
        ("35 min 4 h", Ok("PT4H35M")),
        ("2 h 15 min 2 h", Ok("PT4H15M")),
        ("1h30m", Ok("PT1H30M")),
        ("1h30", Ok("PT1H30M")),
        ("1d 4h 35m 10s", Ok("PT28H35M10S")),
        ("2 hrs, 5 mins and 1 sec", Ok("PT2H5M1S")),
        ("1,5 Std.", Ok("PT1H30M")),
        ("1.25 hours", Ok("PT1H15M")),
        ("0,5 h", Ok("PT30M")),
        ("-1h 30m", Ok("-PT1H30M")),
        ("90 minutes", Ok("PT1H30M")),
        ("2 weeks", Ok("PT336H")),
        ("250 ms", Ok("PT0.25S")),
        ("3 years 2 months", Ok("P3Y2M")),
        ("1 Tag und 4 Stunden", Ok("PT28H")),
        ("4 timer og 5 minutter", Ok("PT4H5M")),
        ("3時間20分", Ok("PT3H20M")),
        ("2小时5分钟", Ok("PT2H5M")),
        ("5 часов 10 минут", Ok("PT5H10M")),
        ("٣ ساعات", Err("unknown-form")),
        ("3 m", Err("unclear-unit")),
        ("1 y 5 m", Err("unclear-unit")),
        ("5 d 3 m", Ok("PT120H3M")),
        ("2 s", Ok("PT2S")),
        // In Turkish company `s` is hours.
        ("2 s 30 dk", Ok("PT2H30M")),
        ("2 sa. 30 dk.", Ok("PT2H30M")),
        ("1 Tag 4 h", Ok("PT28H")),
        ("5 t", Err("unclear-unit")),
        ("35", Err("no-unit")),
        ("5 days 3", Err("no-unit")),
        ("1,500 h", Err("unclear-comma")),
        ("1.2 months", Err("out-of-range")),
        ("1.5 years", Ok("P1Y6M")),
        ("999999999999999999 days", Err("out-of-range")),
        ("3 kg", Err("unknown-form")),
        ("h", Err("unknown-form")),
        ("1 h and", Err("unknown-form")),
    ] {
        let read = read("{amounts}", value, Terms::default());
        let expected = expected.map(str::to_owned).map_err(str::to_owned);
        assert_eq!(read, expected, "{value}");
    }
}

/// The rows of a page that begin with a mark, as the texts of their cells.
fn rows_of(page: &str, begins: &str) -> Vec<Vec<String>> {
    let rows = page.lines().filter(|line| line.starts_with(begins));
    let cells = |line: &str| {
        let cells = line.trim_matches('|').split('|').map(|cell| cell.trim().replace('`', ""));
        cells.collect::<Vec<String>>()
    };
    rows.map(cells).collect()
}

const PAGE: &str = include_str!("../../../docs/durations.md");

#[test]
fn the_examples_of_the_page_are_so() {
    let terms = Terms { clocks: Clocks::Elapsed, ..Terms::default() };
    let rows = rows_of(PAGE, "| `");
    assert!(rows.len() > 15);
    for row in rows {
        let (value, gives) = (&row[0], &row[1]);
        let family = candidates(value, terms, None, None).unwrap();
        let read = family.candidates.iter().map(|own| interpret(&own.layout, value, terms));
        let read: Vec<String> = read.flatten().map(|fit| fit.moment.to_string()).collect();
        assert!(!read.is_empty() && read.iter().all(|own| own == gives), "{value}: {read:?}");
    }
}

#[test]
fn the_words_of_the_page_are_read() {
    let units = ["days", "hours", "minutes", "seconds"].map(|name| Unit::named(name).unwrap());
    let rows: Vec<Vec<String>> = rows_of(PAGE, "| ")
        .into_iter()
        .filter(|row| row.len() == 5 && row[0].contains('('))
        .collect();
    assert!(rows.len() >= 25);
    for row in rows {
        let language = row[0].split(['(', ')']).nth(1).unwrap();
        for (words, unit) in row[1..].iter().zip(units) {
            for word in words.split(", ") {
                let read = unit_word(word).and_then(|own| own.unit_in(Some(language)));
                assert_eq!(read, Some(unit), "{word} in {language}");
            }
        }
    }
}

#[test]
fn the_language_settles_words_of_several_meanings() {
    for (tag, value, expected) in [
        ("nb", "5 t", Ok("PT5H")),
        ("de", "5 T", Ok("PT120H")),
        ("es", "3 m", Ok("P3M")),
        ("en", "3 m", Err("unclear-unit")),
        ("ar", "3 ساعات", Ok("PT3H")),
        ("hi", "3 घंटे 5 मिनट", Ok("PT3H5M")),
    ] {
        let read = read("{amounts}", value, written_in(tag));
        let expected = expected.map(str::to_owned).map_err(str::to_owned);
        assert_eq!(read, expected, "{tag} {value}");
    }
}

#[test]
fn clock_forms_are_read_by_their_layouts() {
    for (layout, value, expected) in [
        ("{hours}:{minutes}", "27:15", Ok("PT27H15M")),
        ("{hours}:{minutes}", "1:75", Err("no-such-value")),
        ("{minutes}:{seconds}", "75:20", Ok("PT1H15M20S")),
        ("{hours}:{minutes}:{seconds}.{fraction}", "1:02:03.5", Ok("PT1H2M3.5S")),
        ("{hours}:{minutes}:{seconds}[.{fraction}]", "-0:00:01", Ok("-PT1S")),
        ("{days}:{hours}:{minutes}:{seconds}", "3:04:05:06", Ok("PT76H5M6S")),
        ("{days}:{hours}:{minutes}:{seconds}", "3:24:05:06", Err("no-such-value")),
        ("{days} days, {hours}:{minutes}:{seconds}", "2 days, 3:04:05", Ok("PT51H4M5S")),
        ("{hours:decimal}", "1,75", Ok("PT1H45M")),
        ("{days:decimal} d", "0.5 d", Ok("PT12H")),
        ("{years} y {months} m", "2 y 3 m", Ok("P2Y3M")),
        ("iso-8601-duration", "PT51H20M", Ok("PT51H20M")),
        ("iso-8601-duration", "P2W", Ok("PT336H")),
        ("iso-8601-duration", "PT1.5H", Ok("PT1H30M")),
        ("iso-8601-duration", "PT1.5H2M", Err("unknown-form")),
    ] {
        let read = read(layout, value, Terms::default());
        let expected = expected.map(str::to_owned).map_err(str::to_owned);
        assert_eq!(read, expected, "{layout} {value}");
    }
}

#[test]
fn layouts_of_lengths_have_nothing_of_dates() {
    for (layout, says) in [
        ("{hours}:{minute}", "{minute}"),
        ("{amounts} {hours}", "{hours}"),
        ("{year}-{days}", "{days}"),
        ("{fraction}", "{fraction}"),
        ("{hours:decimal}:{minutes}", "{hours:decimal}"),
    ] {
        let error = Layout::parse(layout).map(|own| own.to_string()).unwrap_err().to_string();
        assert!(error.contains(says) || error.contains("needs"), "{layout}: {error}");
    }
}

/// What a column comes to, with the layouts of its reading.
fn column(
    values: &[&str],
    terms: Terms,
    known: &Asserted,
) -> (Verdict, Option<Kind>, Vec<String>, Inference) {
    let inference = infer(
        values.iter().copied(),
        &ObserveOptions { terms, ..ObserveOptions::default() },
        known,
    );
    let judgement = inference.judgement.clone();
    let layouts = judgement
        .reading
        .map_or(Vec::new(), |reading| reading.layouts.iter().map(Layout::to_string).collect());
    (judgement.verdict, judgement.kind, layouts, inference)
}

/// Known of a column whose name speaks of lengths of time.
fn of_lengths() -> Asserted {
    Asserted { speaks_of_lengths: true, ..nothing() }
}

fn nothing() -> Asserted {
    Asserted::nothing(jiff::civil::date(2024, 6, 1))
}

#[test]
fn what_a_column_of_lengths_comes_to() {
    let elapsed = Terms { clocks: Clocks::Elapsed, ..Terms::default() };
    let hours = Terms { unit: Some(Unit::named("hours").unwrap()), ..elapsed };
    let durations = Some(Kind::Duration);
    let said = Asserted { kind: durations, ..nothing() };
    let named = Asserted { speaks_of_lengths: true, ..nothing() };
    use Verdict::{Decided, Leaning, NotADate, Undecided};
    for (values, terms, known, verdict, kind, layouts) in [
        (
            &["1 h 30 min", "45 min", "2 h"][..],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts}"][..],
        ),
        (
            &["2 Std. 15 Min.", "45 Min", "1 Tag"][..],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts}"][..],
        ),
        (
            &["10 Sek", "5 Sek", "1 Min", "1 Tag 3 Std"][..],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts}"][..],
        ),
        // Clock forms are times of day, until some cannot be.
        (
            &["1:30", "2:15", "23:10"],
            Terms::default(),
            nothing(),
            Decided,
            Some(Kind::Time),
            &["{hour}:{minute}"],
        ),
        (
            &["1:30:00", "2:15:00", "27:10:05", "30:00:00"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{hours}:{minutes}:{seconds}"],
        ),
        (&["1:30", "27:15", "30:00"], Terms::default(), nothing(), Undecided, durations, &[]),
        (
            &["1:30", "2:15", "3:10", "4:20", "27:15"],
            Terms::default(),
            nothing(),
            Leaning,
            Some(Kind::Time),
            &["{hour}:{minute}"],
        ),
        (
            &["1:30", "2:15", "23:10"],
            Terms::default(),
            named,
            Leaning,
            Some(Kind::Time),
            &["{hour}:{minute}"],
        ),
        (
            &["1h30", "2 h", "20 min", "3h15"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts}"],
        ),
        (
            &["7h", "5h", "12h"],
            Terms::default(),
            nothing(),
            Leaning,
            Some(Kind::Time),
            &["{hour}h"],
        ),
        (&["1:30", "100:00", "220:15"], Terms::default(), nothing(), Undecided, durations, &[]),
        // Hours and minutes, or minutes and seconds.
        (&["1:30", "2:15", "3:10"], elapsed, said.clone(), Undecided, durations, &[]),
        (
            &["1:30", "2:15.5", "3:10.25", "0:59.1"],
            elapsed,
            said.clone(),
            Decided,
            durations,
            &["{minutes}:{seconds}.{fraction}", "{minutes}:{seconds}"],
        ),
        (
            &["1:30", "2:15", "1:03:10"],
            elapsed,
            said.clone(),
            Leaning,
            durations,
            &["{minutes}:{seconds}", "{hours}:{minutes}:{seconds}"],
        ),
        (&["75:30", "2:15", "1:03:10"], elapsed, said.clone(), Undecided, durations, &[]),
        // Minutes or months.
        (
            &["2h 5m", "1h 7m", "3h 20m"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts:minutes}"],
        ),
        (
            &["2h 5m", "1h 7m", "3h 20m", "5m"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts:minutes}"],
        ),
        (&["5m", "7m", "1y 2m"], Terms::default(), nothing(), Undecided, durations, &[]),
        // Numbers without a unit.
        (&["35", "1.5", "2"], Terms::default(), nothing(), NotADate, None, &[]),
        (&["35", "1.5", "2"], elapsed, said.clone(), Undecided, durations, &[]),
        (&["35", "1.5", "2"], hours, said.clone(), Decided, durations, &["{hours:decimal}"]),
        (
            &["35 min", "40 min", "2"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["{amounts}"],
        ),
        (&["5 t", "3 t", "8 t"], Terms::default(), of_lengths(), Undecided, durations, &[]),
        // Tonnes, unless something speaks of lengths of time.
        (&["5 t", "3 t", "8 t"], Terms::default(), nothing(), NotADate, None, &[]),
        (
            &["PT3H", "PT4H30M", "P1D"],
            Terms::default(),
            nothing(),
            Decided,
            durations,
            &["iso-8601-duration"],
        ),
    ] {
        let (is, of, by, inference) = column(values, terms, &known);
        let by: Vec<&str> = by.iter().map(String::as_str).collect();
        let reasons = &inference.judgement.findings;
        assert_eq!((is, of), (verdict, kind), "{values:?} {reasons:?}");
        assert_eq!(by, layouts, "{values:?}");
        if is.is_open() {
            assert!(!inference.judgement.settle.is_empty(), "{values:?}: nothing would settle it");
        }
    }
}

#[test]
fn open_columns_say_what_settles_them() {
    let (_, _, _, open) = column(&["5 t", "3 t"], Terms::default(), &of_lengths());
    let tags = open.judgement.settle.iter().filter_map(|way| match way {
        Settle::WrittenIn(locale) => Some(locale.tag()),
        _ => None,
    });
    assert_eq!(tags.collect::<Vec<_>>(), ["de", "nb"]);
    let terms = Terms { clocks: Clocks::Elapsed, ..Terms::default() };
    let known = Asserted { kind: Some(Kind::Duration), ..nothing() };
    let (_, _, _, open) = column(&["35", "40"], terms, &known);
    let units = open.judgement.settle.iter().filter(|way| matches!(way, Settle::Unit(_)));
    assert_eq!(units.count(), 4);
    assert!(matches!(
        open.judgement.findings[0],
        Finding::Lengths(LengthFinding::UnreadAmounts { rows: Occurrences { rows: 2, .. }, .. })
    ));
}

#[test]
fn units_follow_the_table() {
    for (name, unit) in UNITS {
        assert_eq!(Unit::named(name), Ok(unit));
        assert_eq!(Unit::named(&name[..name.len() - 1]), Ok(unit));
    }
    assert_eq!(Unit::named("hour s"), Err(Some("hours")));
}

fn durations() -> impl Strategy<Value = Duration> {
    let nanos = prop_oneof![
        Just(0_i128),
        -1_000_000_000_000_000_000_000_i128..1_000_000_000_000_000_000_000
    ];
    let months = prop_oneof![Just(0_i64), -120_000_i64..120_000];
    (nanos, months).prop_map(|(nanos, months)| {
        let months = Duration::of(months, Unit::named("months").unwrap()).unwrap();
        Duration::of_nanos(nanos).unwrap().plus(months).unwrap()
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(500))]

    #[test]
    fn iso_8601_is_read_as_it_is_written(own in durations()) {
        prop_assert_eq!(own.to_string().parse::<Duration>(), Ok(own));
        prop_assert_eq!(length_in_words(&own.to_string(), Terms::default()), Some(own));
    }

    #[test]
    fn sums_are_exact_and_associative(a in durations(), b in durations(), c in durations()) {
        let left = a.plus(b).and_then(|sum| sum.plus(c));
        let right = b.plus(c).and_then(|sum| a.plus(sum));
        prop_assert_eq!(left, right);
        prop_assert_eq!(a.plus(b).unwrap().nanos(), a.nanos() + b.nanos());
        prop_assert_eq!(a.plus(a.negated()), Some(Duration::ZERO));
    }

    #[test]
    fn what_is_spelled_is_read_again(nanos in -10_000_000_000_000_000_i128..10_000_000_000_000_000) {
        for (layout, grain) in [
            ("{hours}:{minutes}:{seconds}.{fraction:9}", 1),
            ("{hours}:{minutes}:{seconds}", 1_000_000_000),
            ("{minutes}:{seconds}.{fraction:3}", 1_000_000),
            ("{days}:{hours}:{minutes}:{seconds}", 1_000_000_000),
            ("{hours}:{minutes}", 60_000_000_000),
            ("{seconds:decimal} s", 1),
        ] {
            let own = Duration::of_nanos(nanos / grain * grain).unwrap();
            let layout = Layout::parse(layout).unwrap();
            let text = spell_length(&layout, own).unwrap();
            let read = interpret(&layout, &text, Terms::default()).map(|fit| fit.moment);
            prop_assert_eq!(read, Ok(TypedValue::Duration(own)), "{} {}", layout, text);
        }
    }

    #[test]
    fn nothing_panics_and_length_is_never_a_date(value in "[-+0-9:., hmsdPT年分]{0,16}") {
        for layout in ["{amounts}", "{amounts:months}", "iso-8601-duration", "{hours}:{minutes}", "{days:decimal}"] {
            if let Ok(read) = read(layout, &value, Terms::default()) {
                prop_assert!(read.trim_start_matches('-').starts_with('P'), "{} {}", value, read);
            }
        }
    }
}
