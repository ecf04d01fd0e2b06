//! Two-digit years that reach past today: they may belong to the century before.

use jiff::civil::Date;

use crate::apply::repaired;
use crate::order::Alternative;
use crate::reading::Repair;
use crate::typed::{Anchor, TypedValue};
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::{Effect, Found};
use crate::verdict::model::Settle;

/// Years that lie after today, where nobody said in which century they lie.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if case.asserted.century || !case.is_of_layouts() {
        return Vec::new();
    }
    let as_of = case.asserted.as_of;
    let Some(latest) = latest_after_today(case) else { return Vec::new() };
    let found = Found {
        effect: Effect::LeanAtLeast,
        ways: case.options.terms.century.first_years(as_of).map(Settle::TwoDigitFrom).to_vec(),
        ..Found::note(Finding::Century { latest, as_of })
    };
    vec![found.or_told(case)]
}

fn latest_after_today(case: &Case<'_>) -> Option<TypedValue> {
    let as_of = case.asserted.as_of;
    let short = case.forms.iter().filter(|form| form.has_short_years());
    let decided = short.filter_map(|form| Some((form, case.order_of(form)?)));
    let written = decided.flat_map(|(form, alternative)| {
        let tallies = form.group.tallies.values();
        tallies.filter_map(move |tally| tally.spans.get(&alternative).map(|(_, latest)| *latest))
    });
    let first_day = |moment: &TypedValue| moment.anchored(Anchor::Start).date();
    written
        .chain(undone(case))
        .filter(|latest| first_day(latest).is_some_and(|date| date > as_of))
        .max()
}

/// Days that become years have two digits, too.
fn undone<'c>(case: &'c Case<'_>) -> impl Iterator<Item = TypedValue> + 'c {
    let undoes = case.asserted.repair == Some(Repair::MonthYear);
    let typed = case.evidence.typed.values().flat_map(|tally| tally.dates.iter());
    let written = case.forms.iter().filter(|form| form.alternatives == [Alternative::Ymd]);
    let all = typed.chain(written.flat_map(|form| form.group.dates.iter()));
    let century = case.options.terms.century;
    all.filter(move |_| undoes).filter_map(move |([year, month, day], _)| {
        let date = Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()?;
        Some(repaired(TypedValue::Date(date), Repair::MonthYear, century))
    })
}
