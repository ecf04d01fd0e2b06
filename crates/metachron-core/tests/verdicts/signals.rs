//! Soft evidence: it leans, it never decides, and it says its figure.

use metachron_core::evidence::{Evidence, Lens, Neighbours, Observer};
use metachron_core::reading::Order;
use metachron_core::verdict::{
    Habits, Judgement, Known, Reason, Sibling, Signal, Verdict, judge, signals_beside,
};

/// A table's columns as they are judged, the first one in the light of the others.
fn judged(columns: &[(&str, &[String])], habits: Habits) -> Judgement {
    let lens = Lens::default();
    let known = Known::nothing(jiff::civil::date(2025, 6, 30));
    let mut neighbours = Neighbours::of(columns.iter().map(|(name, _)| *name));
    let mut observers: Vec<Observer> =
        columns.iter().map(|_| Observer::new(lens.clone(), 0)).collect();
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
        .map(|(observer, (name, _))| observer.finish_among(name, &neighbours))
        .collect();
    let judgements: Vec<Judgement> =
        evidence.iter().map(|evidence| judge(evidence, &lens, &known)).collect();
    let siblings: Vec<Sibling<'_>> = columns
        .iter()
        .zip(&evidence)
        .zip(&judgements)
        .map(|(((name, _), evidence), judgement)| Sibling { name, evidence, judgement })
        .collect();
    let signals = signals_beside(&siblings, 0, habits);
    judge(&evidence[0], &lens, &Known { signals, ..known.clone() })
}

fn says(signals: &[Signal]) -> Vec<(Order, String)> {
    signals.iter().map(|signal| (signal.favours, signal.to_string())).collect()
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
    let decided = texts((0..60).map(|n| format!("{:02}/{:02}/2024", 1 + n % 12, 1 + n % 28)));
    let habits = Habits::default();
    let semicolons = Habits { decimal_comma: true };
    // As they come in the year, month first.
    let mut in_order = days.clone();
    in_order.sort_unstable();
    let sorted = month_first(&in_order);
    let starts = texts((1..=12).map(|month| format!("{month:02}/01/2024")));
    let spring =
        (3..=4).flat_map(|month| (1..=12).map(move |day| format!("{month:02}/{day:02}/2025")));
    let ahead = texts(spring);
    let points = texts(days.iter().map(|(a, b)| format!("{a:02}.{b:02}.2024")));
    type Case<'c> = (&'c str, Vec<(&'c str, &'c [String])>, Habits, Order, &'c str);
    let cases: Vec<Case<'_>> = vec![
        (
            "sorted",
            vec![("seen", &sorted)],
            habits,
            Order::Mdy,
            "59 of 59 steps from row to row go forward",
        ),
        ("month starts", vec![("seen", &starts)], habits, Order::Mdy, "have the day 1,"),
        (
            "after today",
            vec![("seen", &ahead)],
            habits,
            Order::Mdy,
            "12 of 24 different dates would lie after 2025-06-30",
        ),
        (
            "points",
            vec![("seen", &points)],
            habits,
            Order::Dmy,
            "locales of CLDR that are day first",
        ),
        (
            "a sibling",
            vec![("seen", &open), ("caught", &decided)],
            habits,
            Order::Mdy,
            "\"caught\" is month first beyond doubt",
        ),
        (
            "weekdays",
            vec![("seen", &open), ("on", &weekdays)],
            habits,
            Order::Mdy,
            "\"on\" has the weekday of",
        ),
        (
            "months",
            vec![("seen", &open), ("m", &months)],
            habits,
            Order::Mdy,
            "\"m\" has the month of",
        ),
        (
            "the end of a span",
            vec![("seen", &open), ("released", &released)],
            habits,
            Order::Mdy,
            "never after \"released\" in the same row; day first, in",
        ),
        ("its name", vec![("seen (dd/mm/yyyy)", &open)], habits, Order::Dmy, "says \"dd/mm\""),
        ("its name's language", vec![("fecha", &open)], habits, Order::Dmy, "says \"fecha\""),
        ("decimal commas", vec![("seen", &open)], semicolons, Order::Dmy, "decimal comma"),
    ];
    for (name, columns, habits, order, expected) in cases {
        let judgement = judged(&columns, habits);
        assert_eq!(judgement.verdict, Verdict::Leaning, "{name}: {:?}", judgement.reasons);
        let all = says(&judgement.signals);
        assert!(
            all.iter().any(|(favours, says)| *favours == order && says.contains(expected)),
            "{name}: {all:?}"
        );
        assert!(judgement.reasons.iter().any(|reason| matches!(reason, Reason::Soft(_))), "{name}");
        // Nothing soft converts: the reading that is favoured is shown, not taken.
        assert!(judgement.verdict.is_open());
    }
}

#[test]
fn without_a_signal_nothing_leans() {
    let open = month_first(&open_days());
    let ring = texts(0..60);
    let net = texts((0..60).map(|n| n % 5));
    let judgement = judged(&[("seen", &open), ("ring", &ring), ("net", &net)], Habits::default());
    assert_eq!(judgement.verdict, Verdict::Undecided, "{:?}", judgement.reasons);
    assert!(judgement.signals.iter().all(|signal| !signal.what.leans()), "{:?}", judgement.signals);
}

#[test]
fn signals_that_disagree_are_shown_and_favour_nothing() {
    let open = month_first(&open_days());
    let decided = texts((0..60).map(|n| format!("{:02}/{:02}/2024", 1 + n % 12, 1 + n % 28)));
    let judgement = judged(&[("datum", &open), ("caught", &decided)], Habits::default());
    assert_eq!(judgement.verdict, Verdict::Undecided);
    assert!(judgement.reasons.iter().any(|reason| matches!(reason, Reason::SoftDivided(_))));
}

#[test]
fn what_is_decided_or_mixed_stays_so_whatever_is_soft() {
    let decided = texts((13..=28).map(|day| format!("{day}.04.2024")));
    let judgement = judged(&[("mm/dd", &decided)], Habits::default());
    assert_eq!(judgement.verdict, Verdict::Decided);
    let mixed = texts(["13.04.2024", "14.04.2024", "04.15.2024", "04.16.2024", "03.04.2024"]);
    let judgement = judged(&[("mm/dd", &mixed)], Habits::default());
    assert_eq!(judgement.verdict, Verdict::Mixed);
    assert!(!judgement.signals.is_empty());
}

#[test]
fn days_that_programs_write_where_they_have_none_are_reported() {
    let of = |stand_in: &str, rest: i16| {
        let mut values = texts((1..=28).map(|day| format!("{rest}-03-{day:02}")));
        values.extend(std::iter::repeat_n(stand_in.to_owned(), 4));
        judged(&[("seen", &values)], Habits::default()).reasons.into_iter().find_map(|reason| {
            match reason {
                Reason::Spike { day, rows, lowest } => Some((day.to_string(), rows, lowest.row)),
                _ => None,
            }
        })
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
    for (values, favours, hours) in [(padded, Order::Dmy, "24"), (plain, Order::Mdy, "12")] {
        let judgement = judged(&[("seen", &values)], Habits::default());
        assert_eq!(judgement.verdict, Verdict::Undecided);
        let said = says(&judgement.signals);
        assert_eq!(said.len(), 2, "{said:?}");
        assert!(said.iter().all(|(order, _)| *order == favours), "{said:?}");
        assert!(said[0].1.contains("for a day or month below ten: so do"), "{said:?}");
        assert!(said[1].1.starts_with(&format!("A clock of {hours} hours: so do")), "{said:?}");
        assert!(said[1].1.contains("of 30 that are month first") || favours == Order::Mdy);
    }
    // Hyphens are nobody's custom.
    let hyphens = texts(days.iter().map(|(month, day)| format!("{month:02}-{day:02}-2024")));
    assert!(says(&judged(&[("seen", &hyphens)], Habits::default()).signals).is_empty());
}
