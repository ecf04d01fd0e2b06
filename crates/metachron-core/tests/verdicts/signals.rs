//! SignalKind evidence: it leans, it never decides, and it says its figure.

use metachron_core::evidence::{Evidence, Neighbours, ObserveOptions, Observer};
use metachron_core::order::Alternative;
use metachron_core::verdict::{
    Asserted, Finding, Judgement, Signal, Surroundings, TableColumn, TableStyle, Verdict, judge,
};

/// A table's columns as they are judged, the first one in the light of the others.
fn judged(columns: &[(&str, &[String])], style: TableStyle) -> Judgement {
    let options = ObserveOptions::default();
    let known = Asserted::nothing(jiff::civil::date(2025, 6, 30));
    let mut neighbours = Neighbours::of(columns.iter().map(|(name, _)| *name));
    let mut observers: Vec<Observer> =
        columns.iter().map(|_| Observer::new(options.clone(), 0)).collect();
    for row in 0..columns[0].1.len() {
        neighbours.next_row();
        for (at, (_, cells)) in columns.iter().enumerate() {
            neighbours.see(at, &cells[row]);
        }
        for (at, observer) in observers.iter_mut().enumerate() {
            let value = columns[at].1[row].as_str();
            let day = observer.observe_among((row as u64 + 1).into(), value, &neighbours);
            neighbours.note(at, day);
        }
    }
    let evidence: Vec<Evidence> = observers
        .into_iter()
        .zip(columns)
        .map(|(observer, (name, _))| *observer.finish_among(name, &neighbours))
        .collect();
    let judgements: Vec<Judgement> =
        evidence.iter().map(|evidence| judge(evidence, &options, &known)).collect();
    let beside: Vec<TableColumn<'_>> = columns
        .iter()
        .zip(&evidence)
        .zip(&judgements)
        .map(|(((name, _), evidence), judgement)| TableColumn { name, evidence, judgement })
        .collect();
    let signals = Surroundings::of(&beside, style).signals(0);
    judge(&evidence[0], &options, &Asserted { signals, ..known.clone() })
}

/// The signals with their figures.
fn says(signals: &[Signal]) -> Vec<(Alternative, String)> {
    signals.iter().map(|signal| (signal.favours, format!("{:?}", signal.what))).collect()
}

fn texts<T: ToString>(values: impl IntoIterator<Item = T>) -> Vec<String> {
    values.into_iter().map(|value| value.to_string()).collect()
}

/// Days of the first twelve days of months, month first; shuffled, so that nothing is sorted.
fn open_days() -> Vec<(u32, u32)> {
    (0..60).map(|n| (1 + n * 7 % 12, 1 + (n * 5 + n / 12) % 12)).collect()
}

fn month_first(days: &[(u32, u32)]) -> Vec<String> {
    texts(days.iter().map(|(month, day)| format!("{month:02}/{day:02}/2024")))
}

#[test]
fn each_signal_leans_and_says_its_figure() {
    let days = open_days();
    let open = month_first(&days);
    let weekday = |(month, day): &(u32, u32)| {
        let date = jiff::civil::date(2024, *month as i8, *day as i8);
        ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]
            [date.weekday().to_monday_zero_offset() as usize]
    };
    let after = |(month, day): &(u32, u32)| {
        jiff::civil::date(2024, *month as i8, *day as i8).tomorrow().unwrap()
    };
    let weekdays = texts(days.iter().map(weekday));
    let months = texts(days.iter().map(|(month, _)| month));
    let released = texts(days.iter().map(after));
    let decided = texts((0..60).map(|n| format!("{:02}/{:02}/2024", 1 + n % 12, 1 + n * 5 % 28)));
    let style = TableStyle::default();
    let semicolons = TableStyle { decimal_comma: true };
    // As they come in the year, month first.
    let mut in_order = days.clone();
    in_order.sort_unstable();
    let sorted = month_first(&in_order);
    let starts = texts((1..=12).map(|month| format!("{month:02}/01/2024")));
    let spring =
        (3..=4).flat_map(|month| (1..=12).map(move |day| format!("{month:02}/{day:02}/2025")));
    let ahead = texts(spring);
    let points = texts(days.iter().map(|(a, b)| format!("{a:02}.{b:02}.2024")));
    type Case<'c> = (&'c str, Vec<(&'c str, &'c [String])>, TableStyle, Alternative, &'c str);
    let cases: Vec<Case<'_>> = vec![
        (
            "sorted",
            vec![("seen", &sorted)],
            style,
            Alternative::Mdy,
            "Sorted { own: (59, 59), rival: (Dmy,",
        ),
        (
            "month starts",
            vec![("seen", &starts)],
            style,
            Alternative::Mdy,
            "SameDay { day: 1, dates: 12 }",
        ),
        (
            "after today",
            vec![("seen", &ahead)],
            style,
            Alternative::Mdy,
            "AfterToday { rival: Dmy, dates: 12, of: 24, as_of: 2025-06-30 }",
        ),
        ("points", vec![("seen", &points)], style, Alternative::Dmy, "Points { locales: "),
        (
            "a sibling",
            vec![("seen", &open), ("caught", &decided)],
            style,
            Alternative::Mdy,
            "Sibling { column: \"caught\" }",
        ),
        (
            "weekdays",
            vec![("seen", &open), ("on", &weekdays)],
            style,
            Alternative::Mdy,
            "Part { column: \"on\", part: Weekday, ",
        ),
        (
            "months",
            vec![("seen", &open), ("m", &months)],
            style,
            Alternative::Mdy,
            "Part { column: \"m\", part: Month, ",
        ),
        (
            "the end of a span",
            vec![("seen", &open), ("released", &released)],
            style,
            Alternative::Mdy,
            "Beside { column: \"released\", never_before: false, rival: (Dmy, ",
        ),
        (
            "its name",
            vec![("seen (dd/mm/yyyy)", &open)],
            style,
            Alternative::Dmy,
            "Name { word: \"dd/mm\" }",
        ),
        (
            "its name's language",
            vec![("fecha", &open)],
            style,
            Alternative::Dmy,
            "Name { word: \"fecha\" }",
        ),
        ("decimal commas", vec![("seen", &open)], semicolons, Alternative::Dmy, "DecimalComma"),
    ];
    for (name, columns, style, order, expected) in cases {
        let judgement = judged(&columns, style);
        assert_eq!(judgement.verdict, Verdict::Leaning, "{name}: {:?}", judgement.findings);
        let all = says(&judgement.signals);
        assert!(
            all.iter().any(|(favours, says)| *favours == order && says.contains(expected)),
            "{name}: {all:?}"
        );
        assert!(
            judgement.findings.iter().any(|reason| matches!(reason, Finding::Soft(_))),
            "{name}"
        );
        // Nothing soft converts: the reading that is favoured is shown, not taken.
        assert!(judgement.verdict.is_open());
    }
}

#[test]
fn without_a_signal_nothing_leans() {
    let open = month_first(&open_days());
    let ring = texts(0..60);
    let net = texts((0..60).map(|n| n % 5));
    let judgement =
        judged(&[("seen", &open), ("ring", &ring), ("net", &net)], TableStyle::default());
    assert_eq!(judgement.verdict, Verdict::Undecided, "{:?}", judgement.findings);
    assert!(judgement.signals.iter().all(|signal| !signal.what.leans()), "{:?}", judgement.signals);
}

#[test]
fn signals_that_disagree_are_shown_and_favour_nothing() {
    let open = month_first(&open_days());
    let decided = texts((0..60).map(|n| format!("{:02}/{:02}/2024", 1 + n % 12, 1 + n * 5 % 28)));
    let judgement = judged(&[("datum", &open), ("caught", &decided)], TableStyle::default());
    assert_eq!(judgement.verdict, Verdict::Undecided);
    assert!(judgement.findings.iter().any(|reason| matches!(reason, Finding::SoftDivided(_))));
}

#[test]
fn what_is_decided_or_mixed_stays_so_whatever_is_soft() {
    let decided = texts((13..=28).map(|day| format!("{day}.04.2024")));
    let judgement = judged(&[("mm/dd", &decided)], TableStyle::default());
    assert_eq!(judgement.verdict, Verdict::Decided);
    let mixed = texts(["13.04.2024", "14.04.2024", "04.15.2024", "04.16.2024", "03.04.2024"]);
    let judgement = judged(&[("mm/dd", &mixed)], TableStyle::default());
    assert_eq!(judgement.verdict, Verdict::Mixed);
    assert!(!judgement.signals.is_empty());
}

#[test]
fn days_that_programs_write_where_they_have_none_are_reported() {
    let of = |stand_in: &str, rest: i16| {
        let mut values = texts((1..=28).map(|day| format!("{rest}-03-{day:02}")));
        values.extend(std::iter::repeat_n(stand_in.to_owned(), 4));
        judged(&[("seen", &values)], TableStyle::default()).findings.into_iter().find_map(
            |reason| match reason {
                Finding::Spike { day, rows } => {
                    Some((day.to_string(), rows.rows, rows.first.unwrap().row))
                }
                _ => None,
            },
        )
    };
    assert_eq!(of("1970-01-01", 2024), Some(("1970-01-01".to_owned(), 4, 29)));
    assert_eq!(of("1900-01-01", 2024), Some(("1900-01-01".to_owned(), 4, 29)));
    // Among dates of its time it is a day like any other.
    assert_eq!(of("1970-01-01", 1970), None);
    assert_eq!(of("2024-01-01", 2020), None);
}

#[test]
fn how_regions_pad_and_tell_the_time_is_shown_and_does_not_lean() {
    let days = open_days();
    let padded = texts(days.iter().map(|(month, day)| format!("{month:02}/{day:02}/2024 14:05")));
    let plain = texts(days.iter().map(|(month, day)| format!("{month}/{day}/2024 2:05 PM")));
    for (values, favours, hours) in
        [(padded, Alternative::Dmy, "24"), (plain, Alternative::Mdy, "12")]
    {
        let judgement = judged(&[("seen", &values)], TableStyle::default());
        assert_eq!(judgement.verdict, Verdict::Undecided);
        let said = says(&judgement.signals);
        assert_eq!(said.len(), 2, "{said:?}");
        assert!(said.iter().all(|(order, _)| *order == favours), "{said:?}");
        assert!(said[0].1.starts_with("Padding { padded: "), "{said:?}");
        assert!(said[1].1.starts_with(&format!("Clock {{ hours: {hours}, custom: ")), "{said:?}");
        assert!(said[1].1.contains("rival: (Mdy, ") || favours == Alternative::Mdy);
    }
    // Hyphens are nobody's custom.
    let hyphens = texts(days.iter().map(|(month, day)| format!("{month:02}-{day:02}-2024")));
    assert!(says(&judged(&[("seen", &hyphens)], TableStyle::default()).signals).is_empty());
}
