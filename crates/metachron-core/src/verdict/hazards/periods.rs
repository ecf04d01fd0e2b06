//! Numbers beside a year that need not be months: `2024-05` is the fifth week where the name of the column speaks of
//! weeks, and `2024-3` the third quarter where no number of many goes beyond four.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::dates_by_order::dates_of;
use crate::layout::{Field, Layout, LayoutPart, escape};
use crate::typed::Kind;
use crate::verdict::as_written::AsWritten;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::odds::CERTAIN;

/// Quarters of a year.
const QUARTERS: i8 = 4;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let rows = case.fit();
    let quarters = Quarters::of(case);
    // Given layouts have answered what a name speaks of, and perhaps of other rows than these.
    if matches!(case.subject, Subject::Layouts(Kind::Month)) && quarters.are_likely {
        return vec![Found::note(Finding::QuartersOrMonths { rows, by_name: false })];
    }
    if !case.is_of_forms_of(Kind::Month) || case.asserted.kind.is_some() {
        return Vec::new();
    }
    let by_name = case.asserted.speaks_of_quarters;
    let asked = if case.asserted.speaks_of_weeks {
        let finding = Finding::WeeksOrMonths { rows };
        ask(case, AsWritten::Weeks, ["{weekyear}", "{week:02}"], finding)
    } else if quarters.are_likely || (quarters.are_possible && by_name) {
        let finding = Finding::QuartersOrMonths { rows, by_name };
        ask(case, AsWritten::Quarters, ["{year}", "{quarter}"], finding)
    } else {
        None
    };
    asked.into_iter().collect()
}

/// Whether the months of a column may be quarters.
struct Quarters {
    /// No month goes beyond their number.
    are_possible: bool,
    /// So many different months would hardly all be quarters by chance. Whoever writes months so writes no zero before
    /// them.
    are_likely: bool,
}

impl Quarters {
    fn of(case: &Case<'_>) -> Quarters {
        let dates = case.forms.iter().filter_map(|form| {
            let order = case.order_of(form)?;
            Some(dates_of(case, form, order))
        });
        let months: BTreeSet<Date> = dates.flatten().collect();
        let numbers: BTreeSet<i8> = months.iter().map(|first| first.month()).collect();
        let are_possible = numbers.last().is_some_and(|last| *last <= QUARTERS);
        let by_chance = (f64::from(QUARTERS) / 12.0).powi(months.len() as i32);
        let are_many = by_chance * CERTAIN <= 1.0 && numbers.len() == QUARTERS as usize;
        Quarters { are_possible, are_likely: are_possible && are_many && !are_padded(case) }
    }
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
