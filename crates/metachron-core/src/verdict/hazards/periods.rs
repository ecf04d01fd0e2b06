//! Numbers beside a year that need not be months: `2024-05` is the fifth week where the name of the column speaks of
//! weeks, and `2024-3` the third quarter where no number of many goes beyond four.

use std::collections::BTreeSet;

use crate::layout::{Field, Layout, LayoutPart, escape};
use crate::typed::Kind;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{AsWritten, Settle, Verdict};
use crate::verdict::odds::CERTAIN;

/// Quarters of a year.
const QUARTERS: i16 = 4;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let rows = case.fit();
    // Given layouts have answered what a name speaks of, and perhaps of other rows than these.
    if matches!(case.subject, Subject::Layouts(Kind::Month)) && are_quarters(case) {
        return vec![Found::note(Finding::QuartersOrMonths { rows, by_name: false })];
    }
    if !case.is_of_forms_of(Kind::Month) || case.asserted.kind.is_some() {
        return Vec::new();
    }
    let asked = if case.asserted.speaks_of_weeks {
        let finding = Finding::WeeksOrMonths { rows };
        ask(case, AsWritten::Weeks, ["{weekyear}", "{week:02}"], finding)
    } else if have_quarters(case) && (case.asserted.speaks_of_quarters || are_quarters(case)) {
        let by_name = case.asserted.speaks_of_quarters;
        let finding = Finding::QuartersOrMonths { rows, by_name };
        ask(case, AsWritten::Quarters, ["{year}", "{quarter}"], finding)
    } else {
        None
    };
    asked.into_iter().collect()
}

/// The different months of a column, each with its year.
fn months(case: &Case<'_>) -> BTreeSet<[i16; 2]> {
    case.forms.iter().flat_map(months_of).collect()
}

/// Whether no month goes beyond the number of quarters.
fn have_quarters(case: &Case<'_>) -> bool {
    let months = months(case);
    !months.is_empty() && months.iter().all(|[_, month]| *month <= QUARTERS)
}

/// Whether so many different months would hardly all be quarters by chance. Whoever writes months so writes no zero before
/// them.
fn are_quarters(case: &Case<'_>) -> bool {
    let months = months(case);
    let numbers: BTreeSet<i16> = months.iter().map(|[_, month]| *month).collect();
    let by_chance = (f64::from(QUARTERS) / 12.0).powi(months.len() as i32);
    have_quarters(case)
        && by_chance * CERTAIN <= 1.0
        && numbers.len() == QUARTERS as usize
        && !are_padded(case)
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
