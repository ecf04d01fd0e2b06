//! Numbers beside a year that need not be months: `2024-05` is the fifth week where the name of the column speaks of
//! weeks, and `2024-3` the third quarter where no number of many goes beyond four.

use std::collections::BTreeSet;

use crate::layout::{Field, Layout, LayoutPart, escape};
use crate::typed::Kind;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{AsWritten, Settle, Verdict};
use crate::verdict::odds::CERTAIN;

/// Quarters of a year.
const QUARTERS: i16 = 4;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_forms_of(Kind::Month) || case.asserted.kind.is_some() {
        return Vec::new();
    }
    let rows = case.fit();
    let asked = if case.asserted.speaks_of_weeks {
        let finding = Finding::WeeksOrMonths { rows };
        ask(case, AsWritten::Weeks, ["{weekyear}", "{week:02}"], finding)
    } else if may_be_quarters(case) {
        let by_name = case.asserted.speaks_of_quarters;
        let finding = Finding::QuartersOrMonths { rows, by_name };
        ask(case, AsWritten::Quarters, ["{year}", "{quarter}"], finding)
    } else {
        None
    };
    asked.into_iter().collect()
}

/// Whether all numbers are quarters of a year, and the name speaks of them, or many different ones would hardly be so by
/// chance. Whoever writes months so writes no zero before them.
fn may_be_quarters(case: &Case<'_>) -> bool {
    let months: BTreeSet<[i16; 2]> = case.forms.iter().flat_map(months_of).collect();
    let numbers: BTreeSet<i16> = months.iter().map(|[_, month]| *month).collect();
    let are_quarters = numbers.last().is_some_and(|last| *last <= QUARTERS);
    let by_chance = (f64::from(QUARTERS) / 12.0).powi(months.len() as i32);
    let are_likely =
        by_chance * CERTAIN <= 1.0 && numbers.len() == QUARTERS as usize && !are_padded(case);
    are_quarters && (case.asserted.speaks_of_quarters || are_likely)
}

/// Whether months below ten have a zero before them: two digits by themselves.
fn are_padded(case: &Case<'_>) -> bool {
    let shapes = case.evidence.shapes.by_frequency();
    let mut runs = shapes
        .iter()
        .filter(|(_, tally)| tally.fits > 0)
        .flat_map(|(shape, _)| shape.split(|c: char| c != '0'));
    runs.any(|digits| digits.len() == 2)
}

/// The different months of a form, each with its year.
fn months_of(form: &JudgedForm<'_>) -> impl Iterator<Item = [i16; 2]> {
    form.alternatives.first().into_iter().flat_map(|order| {
        let [_, month, year] = order.places();
        form.group.dates.iter().map(move |(written, _)| [written[year], written[month]])
    })
}

/// A question that the layouts answer: with this in place of year and month, or as they are; none where months have
/// names.
fn ask(case: &Case<'_>, what: AsWritten, fields: [&str; 2], finding: Finding) -> Option<Found> {
    let months = || case.forms.iter().flat_map(|form| form.layouts.iter().map(|(_, own)| own));
    let others: Vec<Layout> =
        months().map(|months| with_fields(months, fields)).collect::<Option<_>>()?;
    let ways = [
        Settle::AsWritten(what, others),
        Settle::AsWritten(AsWritten::Months, months().cloned().collect()),
    ];
    Some(Found::ask(Verdict::Leaning, finding, ways))
}

fn with_fields(months: &Layout, [year, period]: [&str; 2]) -> Option<Layout> {
    let [form] = months.alternatives() else { return None };
    let parts = form.parts.iter().map(|part| match part {
        LayoutPart::Field(Field::Year) => Some(year.to_owned()),
        LayoutPart::Field(Field::Month(_)) => Some(period.to_owned()),
        LayoutPart::Text(text) => Some(escape(text)),
        LayoutPart::Space => Some(" ".to_owned()),
        LayoutPart::Field(_) => None,
    });
    Layout::parse(&parts.collect::<Option<String>>()?).ok()
}
