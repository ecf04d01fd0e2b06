//! Every locale: what it writes is read again, and nothing is read wrongly.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use std::collections::BTreeSet;

use jiff::civil::{Date, date};
use jiff::tz::Offset;
use metachron_core::candidates::{Candidate, candidates};
use metachron_core::evidence::Lens;
use metachron_core::infer::infer;
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Format, Lexicon, Locale};
use metachron_core::moment::Moment;
use metachron_core::reading::{Contested, Terms, interpret};
use metachron_core::text::normalise;
use metachron_core::verdict::{Known, Verdict};
use metachron_core::write::spell;

const FORMATS: [Format; 4] =
    [Format::DateFull, Format::DateLong, Format::DateMedium, Format::DateShort];

/// The first, the last and two other days of every month of a leap year, and one of another year.
fn days() -> impl Iterator<Item = Date> {
    let months = (1..=12).map(|month| date(2024, month, 1));
    months.flat_map(|first| {
        let last = first.last_of_month();
        [first, first.with().day(7).build().unwrap(), last.yesterday().unwrap(), last, {
            first.with().year(2019).day(13).build().unwrap()
        }]
    })
}

fn known() -> Known {
    Known {
        kind: None,
        order: None,
        written_in: None,
        answers: Vec::new(),
        calendar: None,
        year: None,
        anchor: None,
        century: false,
        contested: Contested::Empty,
        as_of: date(2026, 1, 1),
    }
}

/// The dates that a value could be, by the candidates that are wanted.
fn read(value: &str, lexicon: Lexicon, wanted: impl Fn(&Candidate) -> bool) -> BTreeSet<Date> {
    let mut buffer = String::new();
    let value = normalise(value, &mut buffer);
    let terms = Terms::of(lexicon);
    let family = candidates(value, terms, None, None);
    let candidates = family.into_iter().flat_map(|family| family.candidates).filter(wanted);
    candidates
        .filter_map(|candidate| match interpret(&candidate.layout, value, terms).ok()?.moment {
            Moment::Date(date) => Some(date),
            _ => None,
        })
        .collect()
}

#[test]
fn what_a_locale_writes_is_read_again() {
    // Of the locales with English month names that mean another month, single values are read as
    // English where no language is said; a column of them shows which it is.
    let not_english = ["bas", "dua", "st", "st-LS", "teo", "teo-KE"];
    let (mut right, mut refused) = (0_u64, 0_u64);
    for locale in Locale::all() {
        let lexicon = Lexicon::of(locale);
        for format in FORMATS {
            // Three of 3,064 forms fasten the month's name to letters in two ways.
            let Ok(layout) = Layout::parse(locale.format(format).unwrap()) else {
                refused += 60;
                continue;
            };
            let order = layout.order().unwrap();
            for day in days() {
                let value = spell(&layout, day.at(0, 0, 0, 0), Offset::UTC, lexicon);
                let found = read(&value, lexicon, |candidate| candidate.order == order);
                match found.len() {
                    0 => refused += 1,
                    _ => {
                        assert_eq!(found, BTreeSet::from([day]), "{locale} {format:?} {value:?}");
                        right += 1;
                    }
                }
                // Without the locale other orders may fit too, but one that fits is the right one.
                let found = read(&value, Lexicon::every(), |_| true);
                assert!(
                    found.is_empty() || found.contains(&day) || not_english.contains(&locale.tag()),
                    "{locale} {format:?} {value:?}: {found:?}"
                );
            }
        }
    }
    assert!(refused * 500 <= right + refused, "{right} right, {refused} refused");
}

#[test]
fn a_column_of_names_shows_its_language() {
    let (mut right, mut open) = (0_u64, 0_u64);
    for locale in Locale::all() {
        let lexicon = Lexicon::of(locale);
        for format in [Format::DateLong, Format::DateMedium] {
            let Ok(layout) = Layout::parse(locale.format(format).unwrap()) else { continue };
            let days: Vec<Date> = days().collect();
            let values: Vec<String> = days
                .iter()
                .map(|day| spell(&layout, day.at(0, 0, 0, 0), Offset::UTC, lexicon))
                .collect();
            let inference = infer(values.iter().map(String::as_str), &Lens::default(), &known());
            let Some(compiled) = inference.compiled else {
                open += 1;
                continue;
            };
            let mut memory = Default::default();
            for (day, value) in days.iter().zip(&values) {
                let outcome = compiled.apply(1, value.as_str(), &mut memory);
                match outcome {
                    metachron_core::apply::Outcome::Read(fit) => {
                        assert_eq!(fit.moment, Moment::Date(*day), "{locale} {value:?}");
                    }
                    _ => open += 1,
                }
            }
            right += 1;
        }
    }
    // CLDR has no names (`M01`) for two hundred of the open ones.
    assert!(right > 1_250, "{right} columns right, {open} open or with values unread");
}

#[test]
fn names_that_differ_are_a_question() {
    let values = ["3 listopad 2024", "14 listopad 2024", "20 listopad 2024"];
    let inference = infer(values, &Lens::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Undecided);
    let said = inference.judgement.reasons[0].to_string();
    assert_eq!(
        said,
        "\"listopad\" is October in Croatian; November in Czech and Polish, and nothing tells which."
    );
    // One name more settles it, with the column's own weekdays read too.
    let values = ["pt., 3 listopad 2023", "wt., 14 maj 2024", "pon., 20 maj 2024"];
    let inference = infer(values, &Lens::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Decided, "{:?}", inference.judgement.reasons);
    let reading = inference.judgement.reading.unwrap();
    assert_eq!(reading.terms.written_in().map(Locale::tag), Some("pl"));
    let mut memory = Default::default();
    let outcome = inference.compiled.unwrap().apply(1, values[0], &mut memory);
    assert!(format!("{outcome:?}").contains("2023-11-03"), "{outcome:?}");
}

#[test]
fn several_languages_in_one_column_are_read_together() {
    let values = ["3 avril 2024", "14 agosto 2024", "2 août 2024", "9 marzo 2024", "1 May 2024"];
    let inference = infer(values, &Lens::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Decided);
    assert_eq!(inference.judgement.reading.unwrap().terms.written_in(), None);
    assert_eq!(inference.judgement.counts.read, 5);
}

#[test]
fn a_locale_is_a_claim_that_evidence_can_contradict() {
    let british = Locale::named("en-GB").unwrap();
    let known = Known { written_in: Some(british), ..known() };
    let lens = Lens {
        terms: Terms { lexicon: Lexicon::of(british), ..Terms::default() },
        ..Lens::default()
    };
    let inference = infer(["03/04/2024", "05/06/2024"], &lens, &known);
    assert_eq!(inference.judgement.verdict, Verdict::Decided);
    let mut memory = Default::default();
    let outcome = inference.compiled.unwrap().apply(1, "03/04/2024", &mut memory);
    assert!(format!("{outcome:?}").contains("2024-04-03"));

    let inference = infer(["03/04/2024", "05/06/2024", "12/31/2024"], &lens, &known);
    assert_eq!(inference.judgement.verdict, Verdict::Mixed);
    assert_eq!(
        inference.judgement.reasons[0].to_string(),
        "You said en-GB, English (United Kingdom), which is day first, but 1 value cannot be that \
         (first in row 3: \"12/31/2024\")."
    );
}
