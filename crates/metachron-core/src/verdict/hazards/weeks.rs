//! `2024-05` in a column whose name speaks of weeks: the fifth week of the year rather than May.

use crate::layout::{Field, Layout, LayoutPart, escape};
use crate::typed::Kind;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::model::{AsWritten, Settle, Verdict};

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let is_said = case.asserted.kind.is_some();
    if !case.asserted.speaks_of_weeks || !case.is_of_forms_of(Kind::Month) || is_said {
        return Vec::new();
    }
    let months = || case.forms.iter().flat_map(|form| form.layouts.iter().map(|(_, own)| own));
    let Some(weeks) = months().map(of_weeks).collect::<Option<Vec<Layout>>>() else {
        return Vec::new();
    };
    let ways = [
        Settle::AsWritten(AsWritten::Weeks, weeks),
        Settle::AsWritten(AsWritten::Months, months().cloned().collect()),
    ];
    vec![Found::ask(Verdict::Leaning, Finding::WeeksOrMonths { rows: case.fit() }, ways)]
}

/// The same with a week in place of the month; none where months have names.
fn of_weeks(months: &Layout) -> Option<Layout> {
    let [form] = months.alternatives() else { return None };
    let parts = form.parts.iter().map(|part| match part {
        LayoutPart::Field(Field::Year) => Some("{weekyear}".to_owned()),
        LayoutPart::Field(Field::Month(_)) => Some("{week:02}".to_owned()),
        LayoutPart::Text(text) => Some(escape(text)),
        LayoutPart::Space => Some(" ".to_owned()),
        LayoutPart::Field(_) => None,
    });
    Layout::parse(&parts.collect::<Option<String>>()?).ok()
}
