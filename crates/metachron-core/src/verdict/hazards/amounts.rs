//! Numbers of lengths of time that may be other numbers: `1.500 min` beside `2,5 min`, `7.45 h` for a quarter to eight
//! hours.

use crate::duration::Unit;
use crate::layout::{Field, Layout, escape};
use crate::lexicon::{Locale, MOST_USED};
use crate::order::Alternative;
use crate::typed::{Kind, TypedValue};
use crate::verdict::as_written::AsWritten;
use crate::verdict::case::{Case, Subject, UnreadAmounts};
use crate::verdict::finding::LengthFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// Points that may stand between thousands, where other values show that they are no decimal marks, or nothing does.
pub(super) fn thousands(case: &Case<'_>) -> Vec<Found> {
    let amounts = &case.evidence.amounts;
    let decimals = amounts.decimal_commas > 0 || (amounts.whole > 0 && amounts.decimal_points == 0);
    let is_said = case.options.terms.written_in().is_some();
    if case.kind() != Some(Kind::Duration)
        || !case.is_of_layouts()
        || amounts.unclear_points.rows == 0
        || !decimals
        || is_said
    {
        return Vec::new();
    }
    let locales = || {
        let own = MOST_USED.iter().filter(|tag| amounts.are_in(tag));
        own.filter_map(|tag| Locale::named(tag).ok())
    };
    let with_comma = locales().find(|locale| locale.has_decimal_comma());
    let with_point = locales().find(|locale| !locale.has_decimal_comma());
    let ways = with_comma.into_iter().chain(with_point).map(Settle::WrittenIn);
    let finding = LengthFinding::MayBeThousands {
        rows: amounts.unclear_points.clone(),
        commas: amounts.decimal_commas,
    };
    vec![Found::ask(Verdict::Undecided, finding, ways).or_told(case)]
}

/// `1980s` as decades have it: all values are such numbers, the least and the greatest of them tens.
pub(super) fn decades(case: &Case<'_>) -> Vec<Found> {
    let shapes = case.evidence.shapes.by_frequency();
    let shapes: Vec<&str> =
        shapes.iter().filter(|(_, tally)| tally.fits > 0).map(|(shape, _)| *shape).collect();
    let are_decades = shapes == ["0000s"];
    if case.asserted.kind.is_some() || !case.is_of_forms_of(Kind::Duration) || !are_decades {
        return Vec::new();
    }
    let tallies = case.forms.iter().flat_map(|form| form.group.tallies.values());
    let mut ends =
        tallies.flat_map(|tally| tally.spans.values()).flat_map(|(first, last)| [first, last]);
    let is_decade = |moment: &TypedValue| match moment {
        TypedValue::Duration(own) => {
            let seconds = own.nanos() / 1_000_000_000;
            (1_000..=2_100).contains(&seconds) && seconds % 10 == 0
        }
        _ => false,
    };
    if !ends.all(is_decade) {
        return Vec::new();
    }
    let finding = LengthFinding::MayBeDecades { rows: case.fit() };
    vec![Found::ask(Verdict::Undecided, finding, [Settle::Kind(Kind::Duration)])]
}

/// Different fractions that tell where none of them is above 59 hundredths: of any hundredths six in ten are not.
const FRACTIONS: usize = 9;
/// Of these, so many do, where there are no others: decimal fractions of quarters are others.
const QUARTERS: [u8; 4] = [0, 15, 30, 45];

/// Fractions of hours that may be minutes.
pub(super) fn minutes(case: &Case<'_>) -> Vec<Found> {
    let hours = &case.evidence.amounts.hours;
    let own = || hours.hundredths.iter();
    let are_quarters = own().all(|own| QUARTERS.contains(own)) && own().any(|own| own % 10 == 5);
    let tells = own().count() >= FRACTIONS || (are_quarters && own().count() > 1);
    let is_given = matches!(case.subject, Subject::Layouts(Kind::Duration));
    let are_minutes = case.options.layouts.iter().any(|own| own.has(Field::Count(Unit::MINUTES)));
    if !(case.is_of_forms_of(Kind::Duration) || is_given && !are_minutes)
        || hours.others > 0
        || own().any(|own| *own > 59)
        || !tells
    {
        return Vec::new();
    }
    // Amounts would read such a value as well, so hours alone have a layout of their own.
    let clock = hours.ways.iter().flat_map(|(mark, behind)| {
        let behind = escape(behind);
        [format!("{{hours}}{mark}{{minutes}}{behind}"), format!("{{hours}}{behind}")]
    });
    let parsed = |text: String| Layout::parse(&text).ok();
    let ways = [
        Settle::Layouts(Alternative::HoursMinutes, clock.filter_map(parsed).collect()),
        Settle::AsWritten(
            AsWritten::DecimalFractions,
            parsed("{amounts}".to_owned()).into_iter().collect(),
        ),
    ];
    let finding = LengthFinding::FractionsOrMinutes(own().count());
    vec![Found::ask(Verdict::Leaning, finding, ways).or_told(case)]
}

/// Numbers with a unit that is one of time in some language only: they may be measures of anything.
pub(super) fn measures(case: &Case<'_>) -> Vec<Found> {
    let Subject::Measures(UnreadAmounts { rows, why }) = &case.subject else { return Vec::new() };
    vec![Found::note(LengthFinding::MayBeMeasures { rows: rows.clone(), why: *why })]
}
