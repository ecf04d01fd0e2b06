//! Every locale: what it writes is read again, and nothing is read wrongly.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use std::collections::BTreeSet;

use jiff::civil::{Date, date};
use jiff::tz::Offset;
use metachron_core::calendar::Calendar;
use metachron_core::candidates::{Candidate, candidates};
use metachron_core::evidence::ObserveOptions;
use metachron_core::infer::infer;
use metachron_core::layout::{Field, Layout};
use metachron_core::lexicon::{Lexicon, Locale, LocaleFormat};
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::{Terms, interpret};
use metachron_core::text::normalise;
use metachron_core::typed::TypedValue;
use metachron_core::verdict::{Asserted, Finding, LanguageFinding, Verdict};
use metachron_core::write::spell;

const FORMATS: [LocaleFormat; 4] = [
    LocaleFormat::DateFull,
    LocaleFormat::DateLong,
    LocaleFormat::DateMedium,
    LocaleFormat::DateShort,
];

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

fn known() -> Asserted {
    Asserted::nothing(date(2026, 1, 1))
}

/// What a value could be, by the candidates that are wanted.
fn read(value: &str, lexicon: Lexicon, wanted: impl Fn(&Candidate) -> bool) -> Vec<TypedValue> {
    let mut buffer = String::new();
    let value = normalise(value, &mut buffer);
    let terms = Terms::of(lexicon);
    let family = candidates(value, terms, None, None);
    let candidates = family.into_iter().flat_map(|family| family.candidates).filter(wanted);
    let fits = candidates.filter_map(|own| interpret(&own.layout, value, terms).ok());
    fits.map(|fit| fit.moment).collect()
}

/// The dates that a value could be.
fn dates(value: &str, lexicon: Lexicon, wanted: impl Fn(&Candidate) -> bool) -> BTreeSet<Date> {
    let date = |own| if let TypedValue::Date(date) = own { Some(date) } else { None };
    read(value, lexicon, wanted).into_iter().filter_map(date).collect()
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
                let found =
                    dates(&value, lexicon, |candidate| candidate.alternative == order.into());
                match found.len() {
                    0 => refused += 1,
                    _ => {
                        assert_eq!(found, BTreeSet::from([day]), "{locale} {format:?} {value:?}");
                        right += 1;
                    }
                }
                // Without the locale other orders may fit too, but one that fits is the right one.
                let found = dates(&value, Lexicon::every(), |_| true);
                assert!(
                    found.is_empty() || found.contains(&day) || not_english.contains(&locale.tag()),
                    "{locale} {format:?} {value:?}: {found:?}"
                );
            }
        }
    }
    assert!(refused * 500 <= right + refused, "{right} right, {refused} refused");
}

/// What others write: see the head of the file.
#[test]
fn what_an_independent_library_writes_is_read() {
    let lines = include_str!("../../../corpus/written-dates.tsv").lines();
    let (mut locales, mut right, mut refused) = (BTreeSet::new(), 0_u64, Vec::new());
    for line in lines.filter(|line| !line.starts_with('#')) {
        let cells: Vec<&str> = line.split('\t').collect();
        let [tag, style, weekdays, digits, months @ ..] = &cells[..] else { panic!("{line}") };
        let locale = Locale::named(tag).unwrap();
        locales.insert(locale);
        let format = match *style {
            "full" => LocaleFormat::DateFull,
            "long" => LocaleFormat::DateLong,
            "medium" => LocaleFormat::DateMedium,
            _ => LocaleFormat::DateShort,
        };
        let order = Layout::parse(locale.format(format).unwrap()).ok().and_then(|l| l.order());
        let weekdays: Vec<&str> = weekdays.split('|').collect();
        let terms = Terms::of(Lexicon::of(locale));
        for (month, template) in (1..).zip(months) {
            let mut layouts: Vec<(usize, Vec<Candidate>)> = Vec::new();
            for day in 1..=date(2024, month, 1).days_in_month() {
                let right_one = date(2024, month, day);
                let written = |width: usize| -> String {
                    let plain = format!("{day:0width$}");
                    let own: Vec<char> = digits.chars().collect();
                    let local = |c: char| own.get(c as usize - '0' as usize).copied().unwrap_or(c);
                    plain.chars().map(local).collect()
                };
                let weekday = weekdays.get(right_one.weekday().to_sunday_zero_offset() as usize);
                let value = template
                    .replace("{d}", &written(1))
                    .replace("{D}", &written(2))
                    .replace("{w}", weekday.unwrap_or(&""));
                let mut buffer = String::new();
                let value = normalise(&value, &mut buffer);
                // Days of as many digits have the same shape.
                let width = if day < 10 { 1 } else { 2 };
                if !layouts.iter().any(|(own, _)| *own == width) {
                    let family = candidates(value, terms, None, None);
                    let all = family.map_or(Vec::new(), |family| family.candidates);
                    let wanted = |candidate: &Candidate| {
                        order.is_none_or(|o| Alternative::from(o) == candidate.alternative)
                    };
                    layouts.push((width, all.into_iter().filter(wanted).collect()));
                }
                let known = layouts.iter().filter(|(own, _)| *own == width);
                let found: BTreeSet<TypedValue> = known
                    .flat_map(|(_, all)| all)
                    .filter_map(|candidate| interpret(&candidate.layout, value, terms).ok())
                    .map(|fit| fit.moment)
                    .collect();
                match found.len() {
                    0 => refused.push(format!("{tag} {style} {value:?}")),
                    _ => {
                        let wanted = BTreeSet::from([TypedValue::Date(right_one)]);
                        assert_eq!(found, wanted, "{tag} {style} {value:?}");
                        right += 1;
                    }
                }
            }
        }
    }
    assert!(locales.len() >= 140, "{} locales", locales.len());
    let all = right + refused.len() as u64;
    assert!(right * 1_000 >= all * 995, "{right} of {all} right; not {:#?}", &refused[..40]);
}

#[test]
fn days_of_other_calendars_are_read() {
    let lines = include_str!("../../../corpus/other-calendars.tsv").lines();
    let (mut right, mut refused) = (0, Vec::new());
    for line in lines.filter(|line| !line.starts_with('#')) {
        let [tag, calendar, iso, text] = line.split('\t').collect::<Vec<_>>()[..] else {
            panic!("{line}")
        };
        let lexicon = Lexicon::of(Locale::named(tag).unwrap());
        let lexicon = lexicon.in_calendar(Calendar::named(calendar).unwrap());
        // Where the month is a number it stands behind the day, or behind the year.
        let found = dates(text, lexicon, |candidate| {
            candidate.alternative != Alternative::Mdy
                || candidate.layout.has(Field::MonthName)
                || candidate.layout.has(Field::MonthShort)
        });
        match found.len() {
            0 => refused.push(line),
            _ => {
                assert_eq!(found, BTreeSet::from([iso.parse().unwrap()]), "{line}");
                right += 1;
            }
        }
    }
    // Turkish writes the era before the day, which no form of ours has.
    let all = right + refused.len();
    assert!(right * 100 >= all * 95, "{right} of {all} right; not {refused:#?}");
}

#[test]
fn a_column_of_names_shows_its_language() {
    let (mut right, mut open) = (0_u64, 0_u64);
    for locale in Locale::all() {
        let lexicon = Lexicon::of(locale);
        for format in [LocaleFormat::DateLong, LocaleFormat::DateMedium] {
            let Ok(layout) = Layout::parse(locale.format(format).unwrap()) else { continue };
            let days: Vec<Date> = days().collect();
            let values: Vec<String> = days
                .iter()
                .map(|day| spell(&layout, day.at(0, 0, 0, 0), Offset::UTC, lexicon))
                .collect();
            let inference =
                infer(values.iter().map(String::as_str), &ObserveOptions::default(), &known());
            let Some(compiled) = inference.compiled else {
                open += 1;
                continue;
            };
            for (day, value) in days.iter().zip(&values) {
                let outcome = compiled.apply(1, value.as_str());
                match outcome {
                    metachron_core::apply::Outcome::Read(fit) => {
                        assert_eq!(fit.moment, TypedValue::Date(*day), "{locale} {value:?}");
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
    let inference = infer(values, &ObserveOptions::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Undecided);
    let Finding::Languages(LanguageFinding::NamesDiffer(difference)) =
        &inference.judgement.findings[0]
    else {
        panic!("{:?}", inference.judgement.findings);
    };
    let tags = |locales: &[Locale]| locales.iter().map(|l| l.tag()).collect::<Vec<_>>();
    let meanings: Vec<_> = difference.meanings.iter().map(|(m, l)| (*m, tags(l))).collect();
    assert_eq!(difference.name, "listopad");
    assert_eq!(meanings, [(10, vec!["hr"]), (11, vec!["cs", "pl"])]);
    // One name more settles it, with the column's own weekdays read too.
    let values = ["pt., 3 listopad 2023", "wt., 14 maj 2024", "pon., 20 maj 2024"];
    let inference = infer(values, &ObserveOptions::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Decided, "{:?}", inference.judgement.findings);
    let reading = inference.judgement.reading.unwrap();
    assert_eq!(reading.terms.written_in().map(Locale::tag), Some("pl"));
    let outcome = inference.compiled.unwrap().apply(1, values[0]);
    assert!(format!("{outcome:?}").contains("2023-11-03"), "{outcome:?}");
}

#[test]
fn several_languages_in_one_column_are_read_together() {
    let values = ["3 avril 2024", "14 agosto 2024", "2 août 2024", "9 marzo 2024", "1 May 2024"];
    let inference = infer(values, &ObserveOptions::default(), &known());
    assert_eq!(inference.judgement.verdict, Verdict::Decided);
    assert_eq!(inference.judgement.reading.unwrap().terms.written_in(), None);
    assert_eq!(inference.judgement.counts.read, 5);
}

#[test]
fn a_locale_is_a_claim_that_evidence_can_contradict() {
    let british = Locale::named("en-GB").unwrap();
    let known = Asserted { written_in: Some(british), ..known() };
    let options = ObserveOptions {
        terms: Terms { lexicon: Lexicon::of(british), ..Terms::default() },
        ..ObserveOptions::default()
    };
    let inference = infer(["03/04/2024", "05/06/2024"], &options, &known);
    assert_eq!(inference.judgement.verdict, Verdict::Decided);
    let outcome = inference.compiled.unwrap().apply(1, "03/04/2024");
    assert!(format!("{outcome:?}").contains("2024-04-03"));

    let inference = infer(["03/04/2024", "05/06/2024", "12/31/2024"], &options, &known);
    assert_eq!(inference.judgement.verdict, Verdict::Mixed);
    let [Finding::Contradicted { locale, order, rows }, ..] = &inference.judgement.findings[..]
    else {
        panic!("{:?}", inference.judgement.findings);
    };
    let first = rows.first.as_ref().unwrap();
    let said = (locale.tag(), *order, rows.rows, first.row, first.value.as_str());
    assert_eq!(said, ("en-GB", Alternative::Dmy, 1, 3, "12/31/2024"));
}

#[test]
fn dates_with_clocks_of_a_locale_are_read_again() {
    let (mut right, mut refused) = (0_u64, Vec::new());
    for locale in Locale::all() {
        let lexicon = Lexicon::of(locale);
        let joined = FORMATS.into_iter().flat_map(|date| {
            let times = [LocaleFormat::TimeMedium, LocaleFormat::TimeShort];
            times.into_iter().filter_map(move |time| locale.joined(date, time))
        });
        // A few forms fasten the name of the month to letters, and are no layouts.
        let layouts = joined.filter_map(|text| Layout::parse(&text).ok());
        for (layout, order) in layouts.filter_map(|own| Some((own.clone(), own.order()?))) {
            for (day, hour, minute) in [(3, 0, 30), (3, 7, 5), (29, 12, 30), (29, 21, 59)] {
                let moment = date(2024, 10, day).at(hour, minute, 0, 0);
                let value = spell(&layout, moment, Offset::UTC, lexicon);
                let found = read(&value, lexicon, |own| own.alternative == order.into());
                match found.is_empty() {
                    true => refused.push(format!("{locale}: {value}")),
                    false => {
                        let is_own = |own: &TypedValue| *own == TypedValue::DateTime(moment);
                        assert!(found.iter().all(is_own), "{locale} {value:?}: {found:?}");
                        right += 1;
                    }
                }
            }
        }
    }
    assert!(refused.len() as u64 * 500 <= right, "{right} right, refused: {refused:#?}");
}
