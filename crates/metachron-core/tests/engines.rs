//! The two engines agree, and reading undoes writing.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::Offset;
use metachron_core::apply::LayoutProgram;
use metachron_core::candidates::candidates;
use metachron_core::layout::{Layout, STANDARDS};
use metachron_core::lexicon::Lexicon;
use metachron_core::reading::{Century, Fit, Terms, Unfit, interpret};
use metachron_core::text::normalise;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::write::spell;
use proptest::prelude::*;

/// Reads with both engines, which must agree.
fn read(layout: &Layout, value: &str) -> Result<Fit, Unfit> {
    read_on(layout, value, Terms::default())
}

/// The same on other terms.
fn read_on(layout: &Layout, value: &str, terms: Terms) -> Result<Fit, Unfit> {
    let mut buffer = String::new();
    let value = normalise(value, &mut buffer);
    let slow = interpret(layout, value, terms);
    let fast = LayoutProgram::new(layout).read(value, terms);
    assert_eq!(slow, fast, "{layout} on {value:?}");
    fast
}

const DATES: [&str; 24] = [
    "{day}/{month}/{year}",
    "{month}/{day}/{year}",
    "{year}/{month}/{day}",
    "{day:02}.{month:02}.{year}",
    "{day}-{month}-{year}",
    "{day} {month} {year}",
    "{year}-{month:02}-{day:02}",
    "{day}/{month}/{year:2}",
    "{month}/{day}/{year:2}",
    "{year:2}-{month:02}-{day:02}",
    "{day}. {month}. {year}",
    "{day} {month:name} {year}",
    "{month:name} {day}, {year}",
    "{month:short} {day:th}, {year}",
    "{day}-{month:short}-{year}",
    "{day:02}{month:short}{year}",
    "{year} {month:short} {day}",
    "{weekday}, {day} {month:name} {year}",
    "{weekday:short} {month:short} {day: 2} {year}",
    "{day:th} of {month:name} {year}",
    "{day}.{month:short}.{year}",
    "{day}{month:02}{year}",
    "{year}{month:02}{day:02}",
    "{day:02}{month:02}{year:2}",
];

const CLOCKS: [&str; 11] = [
    "",
    " {hour}:{minute}",
    " {hour:02}:{minute}:{second}",
    ", {hour}:{minute}:{second}.{fraction}",
    "T{hour:02}:{minute:02}:{second:02},{fraction:3}",
    " {hour:12}:{minute} {ampm}",
    " at {hour:12:02}:{minute}:{second}{ampm}",
    "T{hour:02}:{minute}:{second}{offset}",
    " {hour}:{minute} {offset:basic}",
    "[ {hour}:{minute}[:{second}[.{fraction}]]]",
    "T{hour:02}{minute:02}{second:02}[.{fraction:6}]{offset:colon}",
];

fn clocks() -> impl Strategy<Value = (DateTime, Offset)> {
    let date = (1i16..=9998, 1i8..=12, 1i8..=31);
    let time = (0i8..24, 0i8..60, 0i8..60, prop_oneof![Just(0), 0i32..1_000_000_000]);
    (date, time, -23 * 60..=23 * 60i32).prop_map(|((y, m, d), (h, min, s, n), offset)| {
        let last = Date::new(y, m, 1).unwrap().days_in_month();
        let date = Date::new(y, m, d.min(last)).unwrap();
        let time = Time::new(h, min, s, n).unwrap();
        (DateTime::from_parts(date, time), Offset::from_seconds(offset * 60).unwrap())
    })
}

/// What is left of a clock time once a layout has written it.
fn kept(layout: &str, clock: DateTime, offset: Offset) -> TypedValue {
    let has = |field: &str| layout.contains(field);
    let short = |year: i16| Century::default().place(year.rem_euclid(100));
    let year = if has("{year:2}") { short(clock.year()) } else { clock.year() };
    // The caller has made sure that the other century has this day.
    let date = Date::new(year, clock.month(), clock.day()).unwrap();
    let nanos = match () {
        () if has("{fraction:3}") => clock.subsec_nanosecond() / 1_000_000 * 1_000_000,
        () if has("{fraction:6}") => clock.subsec_nanosecond() / 1_000 * 1_000,
        () if has("{fraction}") => clock.subsec_nanosecond(),
        () => 0,
    };
    let second = if has("second") { clock.second() } else { 0 };
    let time = Time::new(clock.hour(), clock.minute(), second, nanos).unwrap();
    match Layout::parse(layout).unwrap().kind().unwrap() {
        Kind::Date => TypedValue::Date(date),
        Kind::Time => TypedValue::Time(time),
        Kind::DateTime => TypedValue::DateTime(DateTime::from_parts(date, time)),
        Kind::Instant => {
            TypedValue::Instant(offset.to_timestamp(DateTime::from_parts(date, time)).unwrap())
        }
        Kind::Month => TypedValue::Month(date.first_of_month()),
        Kind::Quarter => {
            TypedValue::Quarter(Date::new(year, (date.month() - 1) / 3 * 3 + 1, 1).unwrap())
        }
        Kind::Week => {
            let since_monday = date.weekday().to_monday_zero_offset();
            TypedValue::Week(date.checked_sub(jiff::Span::new().days(since_monday)).unwrap())
        }
        Kind::Year => TypedValue::Year(date.first_of_year()),
        Kind::Duration => unreachable!("no clock is written as a length of time"),
    }
}

/// Eras, zones, counts, parts of the day, no year, and a sign behind what may be empty.
const STRANGE: &[&str] = &[
    "{era}{year:era}年{month}月{day}日",
    "{era} {year:era}/{month}/{day} {noon}",
    "{year:era}.{month}.{day} {hour:12}:{minute} {ampm}",
    "{year:era}{month:02}{day:02}",
    "{day:02}{year:era}.{month}",
    "{any}{year}/{month}[ {any}]",
    "{year}/{month}/{day} {hour}:{minute} {zone}",
    "{month}/{day}[ {hour}:{minute}]",
    "/Date({serial:unix-milliseconds})/",
    "{any}{serial:unix-seconds}",
    "{hour}.{fraction}",
    "{any}{decimalyear:month}",
    "{decimalyear:day}[ {any}]",
    "{decimalyear:week}.{any}",
    "{day}/{month}/{year} {hourminute}",
];

/// Less than a day's precision, and dates that are said without a month.
const OTHERS: &[&str] = &[
    "{year}-{yearday:03}",
    "{yearday}. {year}",
    "{weekyear}-W{week:02}-{weekday:number}",
    "{weekyear}W{week:02}{weekday:number}T{hour:02}{minute}",
    "{weekday}, {week}/{weekyear}",
    "{year}-{month:02}",
    "{month:short}-{year:2}",
    "{month}/{year}",
    "Q{quarter} {year}",
    "{quarter}Q{year:2}",
    "KW {week}/{weekyear}",
    "{weekyear}-W{week:02}",
    "{year}",
    "{decimalyear:quarter}",
    "{decimalyear:month}",
    "in {decimalyear:week}",
    "{decimalyear:day}",
    "{year}-{yearday:03} {hourminute}",
];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn reading_undoes_writing((clock, offset) in clocks(), d in 0..DATES.len(), c in 0..CLOCKS.len()) {
        let text = format!("{}{}", DATES[d], CLOCKS[c]);
        let layout = Layout::parse(&text).unwrap();
        if text.contains("{year:2}") {
            // 29 February of one century may not exist in the next; a weekday may differ.
            let year = Century::default().place(clock.year().rem_euclid(100));
            prop_assume!(Date::new(year, clock.month(), clock.day()).is_ok());
        }
        let written = spell(&layout, clock, offset, Lexicon::english());
        let fit = read(&layout, &written);
        prop_assert_eq!(fit.map(|fit| fit.moment), Ok(kept(&text, clock, offset)), "{} as {}", written, text);
    }

    #[test]
    fn other_ways_to_say_a_date_come_back((clock, offset) in clocks(), which in 0..OTHERS.len()) {
        let text = OTHERS[which];
        let layout = Layout::parse(text).unwrap();
        // 29 February of one century may not exist in the next.
        let year = Century::default().place(clock.year().rem_euclid(100));
        prop_assume!(!text.contains("{year:2}") || Date::new(year, clock.month(), clock.day()).is_ok());
        // A week may begin in the year before the first.
        prop_assume!(clock.year() > 1);
        // A year has 52 weeks where its fraction says them.
        prop_assume!(!text.contains("year:week") || clock.date().iso_week_date().week() < 53);
        let written = spell(&layout, clock, offset, Lexicon::english());
        let fit = read(&layout, &written);
        prop_assert_eq!(fit.map(|fit| fit.moment), Ok(kept(text, clock, offset)), "{} as {}", written, text);
    }

    #[test]
    fn one_of_the_candidates_of_a_written_date_gives_it_back((clock, offset) in clocks(), d in 0..21usize, c in 0..9usize) {
        // Compact digits have no candidates, a bare offset needs its form.
        let text = format!("{}{}", DATES[d], CLOCKS[c]);
        prop_assume!(!text.contains("{year:2}"));
        let layout = Layout::parse(&text).unwrap();
        let written = spell(&layout, clock, offset, Lexicon::english());
        let mut buffer = String::new();
        let value = normalise(&written, &mut buffer);
        let family = candidates(value, Terms::default(), None, None);
        let family = family.ok_or_else(|| TestCaseError::fail(format!("no candidate for {written:?}")))?;
        let moments: Vec<TypedValue> =
            family.candidates.iter().filter_map(|c| read(&c.layout, value).ok()).map(|fit| fit.moment).collect();
        prop_assert!(moments.contains(&kept(&text, clock, offset)), "{} gives {:?}", written, moments);
    }

    #[test]
    fn the_engines_agree_on_whatever_looks_like_a_date(
        d in 0..DATES.len(), c in 0..CLOCKS.len(),
        value in "[0-3]?[0-9][/. -]{0,2}([0-1]?[0-9]|Mar\\.?|May|Sept)[/., -]{0,2}[0-9]{1,4}[T ,]{0,2}([0-2]?[0-9]:?[0-6][0-9](:[0-6][0-9])?([.,][0-9]{1,3})?)? ?(am|p\\.m\\.|Z|[+-][0-9]{1,2}(:?[0-9]{2})?)?",
    ) {
        let _ = read(&Layout::parse(&format!("{}{}", DATES[d], CLOCKS[c])).unwrap(), &value);
    }

    #[test]
    fn the_engines_agree_on_any_text(
        d in 0..DATES.len(), value in "\\PC{0,20}",
    ) {
        let _ = read(&Layout::parse(DATES[d]).unwrap(), &value);
        let _ = read(&Layout::parse(&format!("{{any}}{}{{any}}", DATES[d])).unwrap(), &value);
    }

    #[test]
    fn the_engines_agree_on_standards(
        which in 0..STANDARDS.len(),
        value in "[+-]?[0-9]{2,8}-?(W?[0-9]{1,3})?-?[0-9]{0,2}[T ]?([0-9]{2}:?){0,3}([.,][0-9]{0,10})?(Z|[+-][0-9]{2}:?[0-9]{0,2})?(\\[!?[A-Za-z/]{0,9}=?[a-z]{0,3}\\]?)?",
        text in "(Tue, |Tuesday, )?[0-9]{1,2}[ -/](Mar|Nov)[ -/][0-9]{2,4}[ :][0-9]{2}:[0-9]{2}(:[0-9]{2})? ?(GMT|EST|Z|[+-][0-9]{4})?( \\([a-z]{1,4}\\))?",
    ) {
        let layout = Layout::parse(STANDARDS[which].name).unwrap();
        let _ = read(&layout, &value);
        let _ = read(&layout, &text);
    }

    #[test]
    fn the_engines_agree_on_eras_zones_and_counts(
        which in 0..STRANGE.len(),
        value in "(令和|平成|R|AD)? ?(元|[0-9]{1,4})[年/.]?(元|[0-9]{0,2})[月/.]?[0-9]{0,2}日?( [0-9]{1,2}:[0-9]{2})? ?(noon|midnight|pm|Europe/Oslo|Etc/GMT\\+5)?",
        count in "/?(Date)?\\(?[+-]{0,2}[0-9]{1,20}([.,][0-9]{0,12})?\\)?/?",
    ) {
        let layout = Layout::parse_yearless(STRANGE[which]).unwrap();
        let _ = read(&layout, &value);
        let _ = read(&layout, &count);
    }

    #[test]
    fn text_around_a_date_is_skipped_but_never_cut_into(before in "[a-z #]{0,6}", after in "[a-z #]{0,6}", day in 1..=31u8) {
        let layout = Layout::parse("{any}{day}/{month}/{year}{any}").unwrap();
        let fit = read(&layout, &format!("{before}{day}/1/2024{after}"));
        prop_assert_eq!(fit.map(|fit| fit.moment), Ok(TypedValue::Date(Date::new(2024, 1, day as i8).unwrap())));
        let digits = format!("{before}9{day:02}/1/2024{after}");
        prop_assert_eq!(read(&layout, &digits), Err(Unfit::Form));
    }
}

#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
struct Corpus {
    case: Vec<Case>,
}

#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
struct Case {
    layout: String,
    value: String,
    gives: Option<String>,
    fails: Option<String>,
}

#[test]
fn corpus_of_values() {
    let corpus: Corpus =
        toml_edit::de::from_str(include_str!("../../../corpus/values.toml")).unwrap();
    assert!(corpus.case.len() > 60);
    for Case { layout, value, gives, fails } in corpus.case {
        let parsed = Layout::parse(&layout).unwrap();
        let read = read(&parsed, &value);
        match (gives, fails) {
            (Some(gives), None) => {
                let moment = read.map(|fit| fit.moment.to_string());
                assert_eq!(moment, Ok(gives), "{layout} on {value:?}");
            }
            // What it fails by is told elsewhere, and the sentence is checked there.
            (None, Some(_)) => assert!(read.is_err(), "{layout} on {value:?}"),
            _ => panic!("{layout} on {value:?} must either give or fail"),
        }
    }
}

#[derive(serde::Deserialize)]
#[serde(deny_unknown_fields)]
struct StandardCases {
    valid: Vec<(String, String)>,
    invalid: Vec<(String, String)>,
}

#[test]
fn corpus_of_standards() {
    let corpus: std::collections::BTreeMap<String, StandardCases> =
        toml_edit::de::from_str(include_str!("../../../corpus/standards.toml")).unwrap();
    let named: Vec<&str> = corpus.keys().map(String::as_str).collect();
    let all: Vec<&str> = STANDARDS.iter().map(|standard| standard.name).collect();
    assert_eq!(named, all);
    let terms = Terms { today: Some(jiff::civil::date(2026, 11, 23)), ..Terms::default() };
    let mut wrong = Vec::new();
    let (mut valid, mut invalid) = (0, 0);
    for (name, cases) in &corpus {
        let layout = Layout::parse(name).unwrap();
        valid += cases.valid.len();
        invalid += cases.invalid.len();
        for (value, gives) in &cases.valid {
            let moment = read_on(&layout, value, terms).map(|fit| fit.moment.to_string());
            if moment.as_ref() != Ok(gives) {
                wrong.push(format!("{name}: {value:?} is {gives}, read as {moment:?}"));
            }
        }
        for (value, _) in &cases.invalid {
            match read_on(&layout, value, terms) {
                Err(_) => {}
                Ok(fit) => wrong.push(format!("{name}: {value:?} is read as {}", fit.moment)),
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    assert!(valid >= 250 && invalid >= 150, "{valid} valid, {invalid} invalid");
}
