//! Dates of digits alone, and clock times alone.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use jiff::Span;
use jiff::civil::{Date, date};
use metachron_core::apply::Outcome;
use metachron_core::evidence::{ObserveOptions, Occurrences};
use metachron_core::infer::{Inference, infer};
use metachron_core::order::Order;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::{Asserted, Finding, NumberFinding, Settle, Verdict};
use proptest::prelude::*;

fn known(order: Option<Order>) -> Asserted {
    Asserted { order, ..Asserted::nothing(date(2026, 11, 23)) }
}

fn judged(values: &[String]) -> Inference {
    infer(values.iter().map(String::as_str), &ObserveOptions::default(), &known(None))
}

fn days(count: i64) -> impl Iterator<Item = Date> {
    (0..count).map(|day| date(2023, 11, 3).saturating_add(Span::new().days(3 * day)))
}

fn verdict_of(values: &[String]) -> (Verdict, Vec<String>) {
    let judgement = judged(values).judgement;
    let layouts = judgement
        .reading
        .map_or(Vec::new(), |reading| reading.layouts.iter().map(ToString::to_string).collect());
    (judgement.verdict, layouts)
}

#[test]
fn compact_dates_are_decided_where_chance_is_excluded() {
    let ymd: Vec<String> = days(40).map(|day| day.strftime("%Y%m%d").to_string()).collect();
    assert_eq!(verdict_of(&ymd), (Verdict::Decided, vec!["{year}{month:02}{day:02}".to_owned()]));
    // Without their zeros, as numbers lose them.
    let dmy: Vec<String> =
        days(40).map(|day| format!("{}{:02}{}", day.day(), day.month(), day.year())).collect();
    assert!(dmy.iter().any(|value| value.len() == 7) && dmy.iter().any(|value| value.len() == 8));
    assert_eq!(verdict_of(&dmy), (Verdict::Decided, vec!["{day}{month:02}{year}".to_owned()]));
    let mdy: Vec<String> =
        days(40).map(|day| format!("{}{:02}{}", day.month(), day.day(), day.year())).collect();
    assert_eq!(verdict_of(&mdy), (Verdict::Decided, vec!["{month}{day:02}{year}".to_owned()]));
    // Three dates may be numbers, and an order says that they are none.
    let few = &ymd[..3];
    let inference = judged(few);
    assert_eq!(inference.judgement.verdict, Verdict::NotADate);
    assert!(matches!(inference.judgement.findings[..], [Finding::ByChance { rows: 3, dates: 3 }]));
    let values = few.iter().map(String::as_str);
    let inference = infer(values, &ObserveOptions::default(), &known(Some(Order::Ymd)));
    assert_eq!(inference.judgement.verdict, Verdict::Decided);
}

#[test]
fn a_clock_behind_a_compact_date_leaves_its_order_open() {
    let layout = |date: &str, form: &str| {
        let values: Vec<String> = days(40).map(|day| day.strftime(form).to_string()).collect();
        let clock = "{hour:02}{minute:02}[{second:02}[{fraction:3}]]";
        assert_eq!(verdict_of(&values), (Verdict::Decided, vec![format!("{date}{clock}")]));
    };
    layout("{year}{month:02}{day:02}", "%Y%m%d1245");
    layout("{day:02}{month:02}{year}", "%d%m%Y1245");
    layout("{month:02}{day:02}{year}", "%m%d%Y124503");
    // 13 February 2010 at 15:30, or in 2020 at 10:15:30.
    let few = ["130220101530", "210220101145", "270220110958"];
    let asserted = known(Some(Order::Dmy));
    let judgement = infer(few, &ObserveOptions::default(), &asserted).judgement;
    assert_eq!(judgement.verdict, Verdict::Leaning);
    assert!(judgement.findings.contains(&Finding::TwelveDigits { rows: 3, unread: 0 }));
    // No clock shows 58 hours.
    let seconds = ["130220101530", "210220105845"];
    let judgement = infer(seconds, &ObserveOptions::default(), &asserted).judgement;
    assert!(judgement.findings.contains(&Finding::TwelveDigits { rows: 1, unread: 1 }));
    // In 2024 no hour of a day was meant.
    let years = ["130220241530", "210220241145"];
    let judgement = infer(years, &ObserveOptions::default(), &asserted).judgement;
    assert_eq!(judgement.verdict, Verdict::Decided);
}

/// 22003 is 20 February 2003, and 22,003 days after 1960.
#[test]
fn five_digits_may_count_days() {
    let named = Asserted { speaks_of_dates: true, ..known(None) };
    let judged = |values: &[String]| {
        infer(values.iter().map(String::as_str), &ObserveOptions::default(), &named).judgement
    };
    // Days since 1960 of three years.
    let counts: Vec<String> = (0..90).map(|at| (21_915 + at * 13).to_string()).collect();
    let judgement = judged(&counts);
    assert_eq!(judgement.verdict, Verdict::Undecided);
    let finding = Finding::Numbers(NumberFinding::DigitsOrCounts { rows: 90 });
    assert!(judgement.findings.contains(&finding), "{:?}", judgement.findings);
    assert!(judgement.settle.contains(&Settle::Epoch("days-1960".parse().unwrap())));
    // Months and days up to September: they would count to days that nobody writes down.
    let digits: Vec<String> =
        (0..90).map(|at| format!("{}{:02}{}", 1 + at % 9, 1 + at % 28, 15 + at % 7)).collect();
    assert_eq!(judged(&digits).verdict, Verdict::Decided);
}

#[test]
fn years_of_two_digits_leave_the_order_open() {
    // No day above 12, and years that could be days.
    let values: Vec<String> = (1..=12)
        .flat_map(|month| [6, 11].map(|day| format!("{day:02}{month:02}{:02}", 10 + month % 3)))
        .collect();
    let inference = judged(&values);
    assert_eq!(
        inference.judgement.verdict,
        Verdict::Undecided,
        "{:?}",
        inference.judgement.findings
    );
    assert_eq!(inference.compiled.map(|_| ()), None);
}

#[test]
fn numbers_that_run_on_in_every_month_only_lean() {
    let values: Vec<String> = (1..=12)
        .flat_map(|month| (1..=9).map(move |number| format!("2024{month:02}{number:02}")))
        .collect();
    let inference = judged(&values);
    assert_eq!(inference.judgement.verdict, Verdict::Leaning);
    assert!(inference.judgement.findings.contains(&Finding::RunningNumbers { in_years: false }));
    // The first of every month is a usual date.
    let values: Vec<String> = (1..=12).map(|month| format!("2024{month:02}01")).collect();
    assert_eq!(judged(&values).judgement.verdict, Verdict::Decided);
}

#[test]
fn years_far_away_are_numbers() {
    // As day first these would be days of the years 610 to 621.
    let values: Vec<String> = (10..=21).map(|year| format!("200506{year:02}")).collect();
    let inference = judged(&values);
    let layouts = inference.judgement.reading.unwrap().layouts;
    assert_eq!(layouts[0].to_string(), "{year}{month:02}{day:02}");
}

#[test]
fn times_alone_are_times() {
    for (values, layout, first) in [
        (["7:20", "23:59", "0:05"], "{hour}:{minute}", "07:20:00"),
        (["7:20 PM", "11:59 am", "12:05 a.m."], "{hour:12}:{minute} {ampm}", "19:20:00"),
        (["14h30", "7h05", "23h59"], "{hour}h{minute}", "14:30:00"),
        (
            ["7:20:05,25", "8:20:05,5", "9:20:05,125"],
            "{hour}:{minute}:{second},{fraction}",
            "07:20:05.25",
        ),
    ] {
        let values = values.map(str::to_owned);
        let inference = judged(&values);
        assert_eq!(inference.judgement.verdict, Verdict::Decided, "{values:?}");
        assert_eq!(inference.judgement.kind, Some(Kind::Time));
        let compiled = inference.compiled.unwrap();
        assert_eq!(compiled.reading().layouts[0].to_string(), layout);
        let Outcome::Read(fit) = compiled.apply(1, values[0].as_str()) else {
            panic!("{values:?}")
        };
        assert_eq!(fit.moment.to_string(), first);
    }
    // An hour that no clock shows is no time.
    let values = ["7:20", "27:15", "0:05"].map(str::to_owned);
    let judgement = judged(&values).judgement;
    assert_eq!((judgement.verdict, judgement.counts.unreadable), (Verdict::Leaning, 1));
    for number in ["12.30", "7", "3,5"] {
        let values = [number.to_owned(), number.to_owned()];
        assert_eq!(judged(&values).judgement.verdict, Verdict::NotADate, "{number}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    /// Numbers of so many digits are never converted unasked, whatever they are.
    #[test]
    fn random_numbers_stay_numbers(
        width in 5..=8_u32,
        seeds in proptest::collection::vec(any::<u64>(), 1..60),
    ) {
        let least = 10_u64.pow(width - 1);
        let values: Vec<String> =
            seeds.iter().map(|seed| (least + seed % (9 * least)).to_string()).collect();
        let inference = judged(&values);
        prop_assert_ne!(inference.judgement.verdict, Verdict::Decided, "{:?}", values);
    }

    /// Where a column is decided, every value is the day that was written.
    #[test]
    fn compact_dates_come_back(
        first in 0..20_000_i64,
        steps in proptest::collection::vec(1..400_i64, 1..60),
        form in 0..6_usize,
    ) {
        let mut day = date(1970, 1, 1).saturating_add(Span::new().days(first));
        let mut days = vec![day];
        for step in steps {
            day = day.saturating_add(Span::new().days(step));
            days.push(day);
        }
        let values: Vec<String> = days
            .iter()
            .map(|day| {
                let (year, month, number) = (day.year(), day.month(), day.day());
                match form {
                    0 => format!("{year}{month:02}{number:02}"),
                    1 => format!("{number:02}{month:02}{year}"),
                    2 => format!("{month:02}{number:02}{year}"),
                    3 => format!("{number}{month:02}{year}"),
                    4 => format!("{month}{number:02}{year}"),
                    _ => format!("{:02}{month:02}{number:02}", year % 100),
                }
            })
            .collect();
        let inference = judged(&values);
        if let Some(compiled) = inference.compiled {
            // Two digits of a year may belong to another century: that is asked elsewhere.
            prop_assume!(form != 5);
            for (day, value) in days.iter().zip(&values) {
                match compiled.apply(1, value.as_str()) {
                    Outcome::Read(fit) => prop_assert_eq!(fit.moment, TypedValue::Date(*day)),
                    other => prop_assert!(false, "{} {:?}", value, other),
                }
            }
        }
    }
}

#[test]
fn less_than_a_day_stays_what_it_is() {
    let check = |values: &[&str], verdict: Verdict, kind: Kind| {
        let inference = infer(values.iter().copied(), &ObserveOptions::default(), &known(None));
        let judgement = &inference.judgement;
        assert_eq!((judgement.verdict, judgement.kind), (verdict, Some(kind)), "{values:?}");
        inference
    };
    for (values, kind, first) in [
        (["2024-03", "2024-04", "2024-12"], Kind::Month, "2024-03"),
        (["3/2024", "12/2024", "1/2025"], Kind::Month, "2024-03"),
        (["März 2024", "April 2024", "Mai 2024"], Kind::Month, "2024-03"),
        (["Apr '22", "May '23", "Jun '21"], Kind::Month, "2022-04"),
        (["Q3 2024", "Q4 2024", "Q1 2025"], Kind::Quarter, "2024-Q3"),
        (["2024-W05", "2024-W06", "2020-W53"], Kind::Week, "2024-W05"),
    ] {
        let compiled = check(&values, Verdict::Decided, kind).compiled.unwrap();
        let Outcome::Read(fit) = compiled.apply(1, values[0]) else { panic!("{values:?}") };
        assert_eq!(fit.moment.to_string(), first);
    }
    // A day without a year is written like this too.
    check(&["Apr-22", "May-23", "Jun-21"], Verdict::Leaning, Kind::Month);
    // Numbers of a year go on after 12.
    let inference = check(&["11/2024", "12/2024", "13/2024"], Verdict::Leaning, Kind::Month);
    assert!(matches!(
        inference.judgement.findings[..],
        [Finding::MayBeNumbers(Occurrences { rows: 1, .. })]
    ));
    // A month among days says no day.
    let values = ["13/04/2024", "14/04/2024", "05/05/2024", "05/2024"];
    let inference = check(&values, Verdict::Decided, Kind::Date);
    assert_eq!(inference.judgement.counts.unreadable, 1);
}
