//! Years that may be counted by another calendar than ours.

use jiff::civil::Date;

use crate::calendar::Calendar;
use crate::candidates::Style;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::{Effect, Found};
use crate::verdict::model::{Settle, Verdict};

/// Years in which dates of our calendar usually lie: from the first printed almanacs to a century
/// after today.
const USUAL_FROM: i16 = 1500;
const USUAL_AHEAD: i16 = 100;

/// Most years lie where those of another calendar would: Buddhist years are 543 ahead, Persian and Islamic ones
/// some 600 behind.
pub(super) fn unusual_years(case: &Case<'_>) -> Vec<Found> {
    let said = case.asserted.calendar.is_some() || !case.asserted.answers.is_empty();
    let Some((first, last)) = years(case).filter(|_| case.is_of_layouts() && !said) else {
        return Vec::new();
    };
    let digits = case.forms.iter().any(|form| form.group.all_digits);
    // Where months have their names of ours, they are ours.
    let possible = calendars_of(first, last, case.asserted.as_of)
        .filter(|calendar| digits || calendar.shares_months());
    let found = Found {
        effect: Effect::LeanAtLeast,
        ways: possible.chain([Calendar::Gregorian]).map(Settle::Calendar).collect(),
        ..Found::note(Finding::UnusualYears { first, last })
    };
    vec![found.or_told(case)]
}

/// Years of two digits, written where another calendar than ours is the usual one: nothing tells which it is.
pub(super) fn short_years(case: &Case<'_>) -> Vec<Found> {
    let calendar = case.options.terms.lexicon.calendar();
    let usual = case.asserted.written_in.and_then(|own| Calendar::of_cldr(own.calendar()));
    let said = case.asserted.calendar.is_some() || !case.asserted.answers.is_empty();
    let Some(usual) = usual.filter(|own| !said && *own != Calendar::Gregorian) else {
        return Vec::new();
    };
    let short = case.forms.iter().filter(|form| form.has_short_years());
    let rows: u64 = short.map(JudgedForm::rows).sum();
    if rows == 0 || calendar != Calendar::Gregorian || !case.is_of_forms() {
        return Vec::new();
    }
    let ways = [usual, Calendar::Gregorian].map(Settle::Calendar);
    vec![Found::ask(Verdict::Undecided, Finding::ShortYears { rows, usual }, ways)]
}

/// Dates are counted by another calendar, as somebody said or as is usual where they were written.
pub(super) fn other_calendar(case: &Case<'_>) -> Vec<Found> {
    let calendar = case.options.terms.lexicon.calendar();
    if calendar == Calendar::Gregorian || !case.is_of_forms() {
        return Vec::new();
    }
    let usual = case.asserted.written_in.filter(|_| case.asserted.calendar.is_none());
    vec![Found::note(Finding::InCalendar { calendar, usual })]
}

/// The first and the last unusual year, if most are.
fn years(case: &Case<'_>) -> Option<(i16, i16)> {
    let usual = USUAL_FROM..=case.asserted.as_of.year().saturating_add(USUAL_AHEAD);
    let (mut all, mut unusual) = (0, Vec::new());
    for form in case.forms.iter().filter(|form| !form.has_short_years()) {
        let Some(alternative) = case.order_of(form) else { continue };
        if matches!(form.style(), Style::Time | Style::Length) {
            continue;
        }
        let [.., year_at] = alternative.places();
        for (written, _) in form.group.dates.iter().filter(|(_, fits)| fits.fits(alternative)) {
            all += 1;
            unusual.extend(Some(written[year_at]).filter(|year| !usual.contains(year)));
        }
    }
    let (first, last) = (*unusual.iter().min()?, *unusual.iter().max()?);
    (unusual.len() * 2 > all).then_some((first, last))
}

/// The calendars by which these years lie in the last two hundred, or in the next few.
fn calendars_of(first: i16, last: i16, as_of: Date) -> impl Iterator<Item = Calendar> {
    let candidates =
        [Calendar::Buddhist, Calendar::Persian, Calendar::IslamicUmalqura, Calendar::IslamicCivil];
    let usual = as_of.year() - 200..=as_of.year() + 5;
    let lies = move |calendar: &Calendar, year: i16| {
        calendar.to_iso(year.into(), 1, 1).is_some_and(|day| usual.contains(&day.year()))
    };
    candidates.into_iter().filter(move |calendar| lies(calendar, first) && lies(calendar, last))
}
