//! Steps: what each gives, what is refused with its place, and laws.
#![allow(clippy::unwrap_used, clippy::panic)]

use jiff::civil::{DateTime, date};
use metachron_core::duration::Duration;
use metachron_core::epoch::{Epoch, Number};
use metachron_core::steps::{Chain, Condition, Item, Notes, Setting, Type};
use metachron_core::typed::{Kind, TypedValue};
use proptest::prelude::*;

/// A value as ISO 8601 has it, with its type.
fn item(text: &str) -> (Item, Type) {
    let moment = if let Ok(moment) = text.parse::<jiff::Timestamp>() {
        TypedValue::Instant(moment)
    } else if !text.contains(':') && text.parse::<jiff::civil::Date>().is_ok() {
        TypedValue::Date(text.parse().unwrap())
    } else if let Ok(clock) = text.parse::<DateTime>() {
        TypedValue::DateTime(clock)
    } else if let Ok(time) = text.parse::<jiff::civil::Time>() {
        TypedValue::Time(time)
    } else if let Ok(length) = text.parse::<Duration>() {
        TypedValue::Duration(length)
    } else {
        return (Item::Text(text.to_owned()), Type::Raw);
    };
    (Item::Typed(moment), Type::Of(moment.kind()))
}

fn setting() -> Setting {
    Setting::new(date(2024, 6, 1))
}

/// What the steps give for a value called `x`.
fn gives(value: &str, steps: &str) -> String {
    let (item, of) = item(value);
    let chain = Chain::parse(&format!("x | {steps}")).unwrap_or_else(|e| panic!("{}", e.marked()));
    let program = chain
        .compile(&[("x", of)], &setting())
        .unwrap_or_else(|error| panic!("{error}\n{}", error.marked()));
    match program.run(&[item], &[], &mut Notes::default()) {
        Ok(item) => item.to_string(),
        Err(unmade) => unmade.code().to_owned(),
    }
}

#[test]
fn the_examples_of_the_page_are_so() {
    let page = include_str!("../../../docs/steps.md");
    let rows = page.lines().filter_map(|line| {
        let cells: Vec<&str> =
            line.strip_prefix("| ")?.trim_end_matches(" |").split(" | ").collect();
        match cells[..] {
            [value, steps, result] => Some((
                value.trim_matches('`'),
                steps.trim_matches('`').replace("\\|", "|"),
                result.trim_matches('`'),
            )),
            _ => None,
        }
    });
    let mut seen = Vec::new();
    for (value, steps, result) in
        rows.filter(|(value, ..)| value.starts_with(|c: char| c.is_ascii_digit() || c == 'P'))
    {
        assert_eq!(gives(value, &steps), result, "{value} | {steps}");
        seen.extend(steps.split(['|', ' ']).map(str::to_owned));
    }
    for name in metachron_core::steps::STEPS.iter().flat_map(|(names, ..)| names.split(' ')) {
        assert!(seen.iter().any(|step| step == name), "docs/steps.md has no example of {name}");
    }
}

#[test]
fn rounding_goes_down_also_before_1970_and_whole_cuts_toward_zero() {
    for (value, steps, expected) in [
        ("2024-03-05T23:00:00Z", "in Asia/Tokyo | serial sheet-1900", "45357.333333333333333"),
        ("2024-03-05", "show \"{weekday}\" in fr", "mardi"),
        ("2024-03-05T10:15", "show \"{month:short} {hour} h[, {day}]\"", "Mar 10 h, 5"),
        ("1969-12-31T23:35", "date", "1969-12-31"),
        ("1969-12-31T23:35", "floor 1 hour", "1969-12-31T23:00:00"),
        ("1969-12-31T23:35", "round 1 hour", "1970-01-01T00:00:00"),
        ("2024-03-05T10:07:30", "round 15 minutes", "2024-03-05T10:15:00"),
        ("2024-03-05T10:07:29", "round 15 minutes", "2024-03-05T10:00:00"),
        ("23:59", "round 1 hour", "00:00:00"),
        ("2024-03-05", "since 2024-03-07 | as weeks whole", "0"),
        ("2024-03-05", "until 2023-01-01 | as years whole", "-1"),
        ("2024-03-05T00:00", "since 2024-03-05T00:20 | as hours", "-0.333333333"),
        ("0001-01-01T00:00", "move -1 second", "0000-12-31T23:59:59"),
        ("9999-12-31", "move +1 day", "out-of-range"),
        ("23:30", "move +1 hour", "out-of-range"),
    ] {
        assert_eq!(gives(value, steps), expected, "{value} | {steps}");
    }
}

#[test]
fn durations_are_counted_shifted_and_shown() {
    for (value, steps, expected) in [
        ("P1M", "as hours", "no-fixed-length"),
        ("P1M", "as months whole", "1"),
        ("P1Y6M", "as years", "1.5"),
        ("PT36H", "as months whole", "no-fixed-length"),
        ("PT1H", "move +1 month", "P1MT1H"),
        ("-PT1H7M", "floor 15 minutes", "-PT1H15M"),
        ("PT1H7M30S", "round 15 minutes", "PT1H15M"),
        ("P1M", "floor 1 hour", "no-fixed-length"),
        ("PT7H", "floor 7 hours", "PT7H"),
        ("P1M", "show \"{days}\"", "no-fixed-length"),
        ("PT3733S", "show \"{hours}:{minutes}:{seconds}\"", "1:02:13"),
        ("-PT90S", "show \"{minutes}:{seconds}\"", "-1:30"),
        ("PT90S", "show \"{minutes}:{seconds}\" in fa digits", "۱:۳۰"),
        ("PT90S", "as iso", "PT1M30S"),
        ("2024-03-01", "since 2024-02-01 | show \"{days} days\"", "29 days"),
    ] {
        assert_eq!(gives(value, steps), expected, "{value} | {steps}");
    }
}

#[test]
fn ages_are_complete_years() {
    for (born, on, age) in [
        ("2000-02-29", "2023-02-28", "22"),
        ("2000-02-29", "2023-03-01", "23"),
        ("2000-02-29", "2024-02-29", "24"),
        ("1990-06-15", "2024-06-14", "33"),
        ("1990-06-15", "2024-06-15", "34"),
        ("2024-06-15", "1990-06-15", "-34"),
    ] {
        assert_eq!(gives(born, &format!("until {on} | as years whole")), age, "{born} {on}");
    }
}

#[test]
fn an_instant_shifted_by_days_keeps_its_clock_and_by_hours_what_has_passed() {
    let steps = |step: &str| format!("in Europe/Oslo | move {step}");
    for (step, expected) in [
        ("+1 day", "2024-03-31T12:00:00+02:00"),
        ("+24 hours", "2024-03-31T13:00:00+02:00"),
        ("+1 month", "2024-04-30T12:00:00+02:00"),
    ] {
        assert_eq!(gives("2024-03-30T11:00:00Z", &steps(step)), expected, "{step}");
    }
    // The day after, this clock time does not exist.
    assert_eq!(gives("2024-03-30T01:30:00Z", &steps("+1 day")), "skipped-clock");
}

#[test]
fn clamped_days_are_counted() {
    let chain = Chain::parse("x | move +1 month").unwrap();
    let program = chain.compile(&[("x", Type::Of(Kind::Date))], &setting()).unwrap();
    let mut notes = Notes::default();
    for (from, to) in
        [("2024-01-31", "2024-02-29"), ("2023-01-29", "2023-02-28"), ("2024-01-29", "2024-02-29")]
    {
        let moved = program.run(&[item(from).0], &[], &mut notes).unwrap();
        assert_eq!(moved.to_string(), to);
    }
    assert_eq!(notes.clamped, 2);
}

#[test]
fn what_does_not_fit_is_refused_with_its_place_and_what_would() {
    let columns = [
        ("seen", Type::Of(Kind::Date)),
        ("logged", Type::Of(Kind::Instant)),
        ("clock", Type::Of(Kind::Time)),
        ("caught", Type::Of(Kind::DateTime)),
        ("y", Type::Raw),
        ("m", Type::Raw),
        ("effort", Type::Of(Kind::Duration)),
    ];
    for (text, says, marked) in [
        ("effort | hour", "| as hours makes a number", "hour"),
        ("effort | since 2024-01-01 | as days", "but gets a duration", "since"),
        ("effort | floor 0 minutes", "above 0", "0"),
        ("effort | show \"{hour}\"", "a duration has no hour to show", "\"{hour}\""),
        ("seen | show \"{hours}\"", "a date has no hours to show", "\"{hours}\""),
        ("effort | as hours whole now", "only whole may follow", "whole"),
        ("seen | since effort | as days", "two ends of one kind", "effort"),
        ("effort | show \"{hours}\" in fa digit", "in ar-EG digits", "show"),
        ("seen | as hours", "did you mean since … | as hours?", "as"),
        ("seen | hour", "hour takes a datetime or a time, but gets a date", "hour"),
        ("logged | year", "put | in ZONE before it", "year"),
        ("logged | move +1 day", "put | in ZONE before it", "day"),
        ("logged | at Europe/Oslo", "in ZONE shows it there", "at"),
        ("caught | in Europe/Oslo", "at ZONE says where it was read", "in"),
        ("caught | at Europe/Olso", "did you mean Europe/Oslo?", "Europe/Olso"),
        ("sene | year", "did you mean \"seen\"?", "sene"),
        ("seen | yer", "did you mean year?", "yer"),
        ("seen | move 1 month", "with their sign", "1"),
        ("seen | move +1 fortnight", "is no unit", "fortnight"),
        ("seen | move +1 hour", "a date has no clock", "hour"),
        ("seen | floor 7 hours", "gets a date", "floor"),
        ("caught | floor 7 hours", "must go into a day", "7"),
        ("caught | floor 1 month", "no fixed length", "month"),
        ("seen | start moth", "did you mean month?", "moth"),
        ("seen | since caught | as days", "two ends of one kind", "caught"),
        ("seen | since 2024-13-01 | as days", "neither a column nor a date", "2024-13-01"),
        ("seen | since 2024-01-01 | as years", "as years whole", "years"),
        ("seen | since 2024-01-01", "in which unit", "1"),
        ("seen | serial sheet-1990", "did you mean sheet-1900?", "sheet-1990"),
        ("seen | show \"{dya}\"", "did you mean {day}?", "\"{dya}\""),
        ("seen | show \"{hour}:{minute}\"", "a date has no hour to show", "\"{hour}:{minute}\""),
        ("caught | show \"{hour}{offset}\"", "has no offset to show", "\"{hour}{offset}\""),
        ("seen | period month | show \"{day}\"", "a month has no day to show", "\"{day}\""),
        ("clock | show \"{day}.{month}.{year}\"", "a time has no", "\"{day}.{month}.{year}\""),
        ("logged | hour", "but gets an instant", "hour"),
        ("caught | serial unix-seconds", "put | at ZONE before it", "unix-seconds"),
        ("logged | serial sheet-1900", "put | in ZONE before it", "sheet-1900"),
        ("seen | show \"{day} {month:name} {year}\" in pt-XX", "no locale", "pt-XX"),
        ("seen | show \"{day}.{month}.{year}\" | year", "put show last", "year"),
        ("y | year", "nothing has read \"y\" yet", "y"),
        ("parts year=y day=m", "a day needs its month", "year=y"),
        ("parts month=m", "a date needs its year", "month=m"),
        ("parts date=seen time=caught", "time wants a column of times", "date=seen"),
        ("parts year=y month=m time=clock", "a time belongs to a day", "year=y"),
        ("caught | until now | as days", "put | at ZONE before it", "now"),
    ] {
        let error = Chain::parse(text).unwrap().compile(&columns, &setting()).unwrap_err();
        assert!(error.to_string().contains(says), "{text}: {error}");
        assert_eq!(&text[error.span.clone()], marked, "{text}: {error}");
    }
}

#[test]
fn parts_in_columns_of_their_own_are_joined() {
    let texts = |texts: &[&str]| -> Vec<Item> {
        texts
            .iter()
            .map(|text| if text.is_empty() { Item::Missing } else { Item::Text((*text).into()) })
            .collect()
    };
    let columns = [("y", Type::Raw), ("m", Type::Raw), ("d", Type::Raw)];
    let join = |chain: &str, values: &[&str]| {
        let program = Chain::parse(chain).unwrap().compile(&columns, &setting()).unwrap();
        match program.run(&texts(values), &[], &mut Notes::default()) {
            Ok(item) => item.to_string(),
            Err(unmade) => unmade.code().to_owned(),
        }
    };
    let whole = "parts year=y month=m day=d";
    for (values, expected) in [
        (["2024", "3", "5"], "2024-03-05"),
        (["2024", "March", "05"], "2024-03-05"),
        (["24", "mar.", "5"], "2024-03-05"),
        (["69", "12", "31"], "1969-12-31"),
        (["2024.0", "3.0", "5.0"], "2024-03-05"),
        (["2024", "2", "30"], "no-such-day"),
        (["2024", "13", "1"], "bounds"),
        (["2024", "3", ""], "part-missing"),
        (["", "", ""], ""),
        (["2024", "3", "x"], "unknown-form"),
    ] {
        let expected = if expected == "bounds" {
            join(whole, &["2024", "13", "1"])
        } else {
            expected.to_owned()
        };
        assert_eq!(join(whole, &values), expected, "{values:?}");
    }
    assert_ne!(join(whole, &["2024", "13", "1"]), "2025-01-01");
    // Without a day it is a month, without a month a year.
    assert_eq!(join("parts year=y month=m", &["2024", "3"]), "2024-03");
    assert_eq!(join("parts year=y", &["2024"]), "2024");
    // With a clock and a zone it is a moment.
    let columns = [("on", Type::Of(Kind::Date)), ("at", Type::Of(Kind::Time)), ("tz", Type::Raw)];
    let chain = Chain::parse("parts date=on time=at zone=tz").unwrap();
    let program = chain.compile(&columns, &setting()).unwrap();
    assert_eq!(program.gives(), Type::Of(Kind::Instant));
    let row = |zone: &str| [item("2024-10-27").0, item("02:30").0, Item::Text(zone.to_owned())];
    let run = |zone: &str| program.run(&row(zone), &[], &mut Notes::default());
    assert_eq!(run("Asia/Tokyo").unwrap().to_string(), "2024-10-26T17:30:00Z");
    assert_eq!(run("Europe/Oslo").unwrap_err().code(), "repeated-clock");
    assert_eq!(run("Skarholm").unwrap_err().code(), "unknown-zone");
}

#[test]
fn what_the_whole_table_shows_comes_first() {
    let chain = Chain::parse("x | since earliest | as days").unwrap();
    let program = chain.compile(&[("x", Type::Of(Kind::Date))], &setting()).unwrap();
    let rows = ["2024-03-05", "2024-03-01", "2024-03-09"].map(|text| item(text).0);
    let mut facts = vec![Item::Missing; program.facts().len()];
    rows.iter().for_each(|row| program.observe(std::slice::from_ref(row), &mut facts));
    let days =
        rows.map(|row| program.run(&[row], &facts, &mut Notes::default()).unwrap().to_string());
    assert_eq!(days, ["4", "0", "8"]);
    assert_eq!(program.run(&[Item::Missing], &facts, &mut Notes::default()), Ok(Item::Missing));
}

fn clocks() -> impl Strategy<Value = DateTime> {
    (-3_000_i16..6_000, 1_i16..=365, 0_i64..86_400_000_000_000).prop_map(|(year, day, nanos)| {
        let first = jiff::civil::date(year, 1, 1).at(0, 0, 0, 0);
        first + jiff::Span::new().days(day - 1).nanoseconds(nanos)
    })
}

fn run(chain: &str, columns: &[(&str, Type)], inputs: &[Item]) -> Item {
    let program = Chain::parse(chain).unwrap().compile(columns, &setting()).unwrap();
    program.run(inputs, &[], &mut Notes::default()).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2_000))]
    #[test]
    fn whatever_is_written_as_steps_or_as_a_condition_is_refused_with_its_place(
        text in "([a-zé星 ]{0,4}|\"|\\||[<>=!()]|is|and|between|date|move|\u{301}|café|2024-01-01){0,8}",
    ) {
        let columns = [("café", Type::Raw), ("x", Type::Of(Kind::Date))];
        let chain = Chain::parse(&text).and_then(|chain| chain.compile(&columns, &setting()).map(|_| ()));
        let condition = Condition::compile(&text, &columns, &setting()).map(|_| ());
        for wrong in [chain, condition].into_iter().filter_map(Result::err) {
            let marked = wrong.marked();
            prop_assert!(marked.starts_with(&text) && marked.ends_with('^'), "{}", marked);
        }
    }
}

proptest! {
    #[test]
    fn a_date_and_its_time_joined_are_what_they_were(clock in clocks()) {
        let whole = Item::Typed(TypedValue::DateTime(clock));
        let of = [("x", Type::Of(Kind::DateTime))];
        let date = run("x | date", &of, std::slice::from_ref(&whole));
        let time = run("x | time", &of, std::slice::from_ref(&whole));
        let parts = [("d", Type::Of(Kind::Date)), ("t", Type::Of(Kind::Time))];
        prop_assert_eq!(run("parts date=d time=t", &parts, &[date, time]), whole);
    }

    #[test]
    fn a_shift_and_back_is_nothing_where_no_day_is_clamped(
        clock in clocks(), months in -500_i64..500, days in -900_i64..900, seconds in -99_999_i64..99_999,
    ) {
        let whole = Item::Typed(TypedValue::DateTime(clock));
        let of = [("x", Type::Of(Kind::DateTime))];
        let there = run(&format!("x | move {days:+} days {seconds:+} seconds"), &of, std::slice::from_ref(&whole));
        let back = run(&format!("x | move {:+} seconds | move {:+} days", -seconds, -days), &of, &[there]);
        prop_assert_eq!(&back, &whole);
        let chain = Chain::parse(&format!("x | move {months:+} months")).unwrap();
        let program = chain.compile(&of, &setting()).unwrap();
        let mut notes = Notes::default();
        let there = program.run(std::slice::from_ref(&whole), &[], &mut notes).unwrap();
        if notes.clamped == 0 {
            prop_assert_eq!(run(&format!("x | move {:+} months", -months), &of, &[there]), whole);
        }
    }

    #[test]
    fn the_floor_is_never_later_and_less_than_a_step_away(clock in clocks(), minutes in prop::sample::select(vec![1_i64, 5, 15, 60, 720])) {
        let of = [("x", Type::Of(Kind::DateTime))];
        let whole = Item::Typed(TypedValue::DateTime(clock));
        let Item::Typed(TypedValue::DateTime(floor)) = run(&format!("x | floor {minutes} minutes"), &of, &[whole]) else {
            panic!()
        };
        prop_assert!(floor <= clock);
        prop_assert!(clock.duration_since(floor) < jiff::SignedDuration::from_mins(minutes));
        prop_assert_eq!(floor.date(), clock.date());
    }

    #[test]
    fn rounding_is_at_most_half_a_step_away(clock in clocks(), minutes in prop::sample::select(vec![1_i64, 5, 15, 60])) {
        let of = [("x", Type::Of(Kind::DateTime))];
        let whole = Item::Typed(TypedValue::DateTime(clock));
        let Item::Typed(TypedValue::DateTime(round)) = run(&format!("x | round {minutes} minutes"), &of, &[whole]) else {
            panic!()
        };
        prop_assert!(round.duration_since(clock).abs() <= jiff::SignedDuration::from_secs(minutes * 30));
    }

    #[test]
    fn spans_add_up(clocks in [clocks(), clocks(), clocks()]) {
        let of = ["a", "b", "c"].map(|name| (name, Type::Of(Kind::DateTime)));
        let items = clocks.map(|clock| Item::Typed(TypedValue::DateTime(clock)));
        // Inputs come in the order in which the steps name them.
        let nanos = |from: usize, to: usize| {
            let chain = format!("{} | since {} | as nanoseconds", of[to].0, of[from].0);
            let inputs = [items[to].clone(), items[from].clone()];
            run(&chain, &of, &inputs).to_string().parse::<i128>().unwrap()
        };
        prop_assert_eq!(nanos(0, 1) + nanos(1, 2), nanos(0, 2));
        prop_assert_eq!(nanos(0, 1), -nanos(1, 0));
    }

    #[test]
    fn complete_months_are_those_that_a_shift_reaches(clock in clocks(), months in 0_i64..2_000) {
        let of = [("x", Type::Of(Kind::DateTime)), ("y", Type::Of(Kind::DateTime))];
        let from = Item::Typed(TypedValue::DateTime(clock));
        let chain = Chain::parse(&format!("x | move {months:+} months")).unwrap();
        let mut notes = Notes::default();
        let to = chain.compile(&of, &setting()).unwrap().run(std::slice::from_ref(&from), &[], &mut notes).unwrap();
        let counted = run("y | since x | as months whole", &of, &[to, from]).to_string();
        // A day that the month lacks is reached on the first of the next one.
        prop_assert_eq!(counted, (months - notes.clamped as i64).to_string());
    }

    #[test]
    fn conditions_keep_the_laws_of_logic(number in -50_i64..50, a in -50_i64..50, b in -50_i64..50, missing in any::<bool>()) {
        let holds = |text: &str| {
            let condition = Condition::compile(text, &[("n", Type::Number)], &setting()).unwrap();
            let item = if missing { Item::Missing } else { Item::Number(Number::from(number)) };
            condition.holds(&mut |_| item.clone()).unwrap()
        };
        let (low, high) = (a.min(b), a.max(b));
        prop_assert_eq!(holds(&format!("n between {low} and {high}")), holds(&format!("n >= {low} and n <= {high}")));
        prop_assert_eq!(
            holds(&format!("not (n < {a} and n > {b})")),
            holds(&format!("not n < {a} or not n > {b}"))
        );
        prop_assert_eq!(holds(&format!("n = {a}")), !missing && number == a);
        prop_assert_eq!(holds(&format!("n != {a} or n = {a}")), !missing);
        prop_assert_eq!(holds("n is missing"), missing);
    }

    #[test]
    fn counted_and_read_again_it_is_the_same(clock in clocks(), at in 0_usize..20) {
        let epoch = Epoch::all().nth(at).unwrap();
        let kind = epoch.kind(true);
        let value = match kind {
            Kind::Date => TypedValue::Date(clock.date()),
            Kind::Instant => TypedValue::Instant(jiff::tz::Offset::UTC.to_timestamp(clock).unwrap()),
            _ => TypedValue::DateTime(clock),
        };
        let chain = Chain::parse(&format!("x | serial {epoch}")).unwrap();
        let program = chain.compile(&[("x", Type::Of(value.kind()))], &setting()).unwrap();
        if let Ok(Item::Number(number)) = program.run(&[Item::Typed(value)], &[], &mut Notes::default()) {
            let read = epoch.read(Number::parse(&number.to_string()).unwrap()).unwrap();
            let same = read == value || read.date() == value.date() && read.kind() == Kind::Date;
            // Units coarser than a nanosecond cut off what is finer.
            let near = |a: TypedValue, b: TypedValue| a.to_string()[..16] == b.to_string()[..16];
            prop_assert!(same || near(read, value), "{} {} {} {}", epoch, number, value, read);
        }
    }
}
