//! An order that nobody considers: values with the year first, of which those that cannot be read are year, day, month.

use crate::evidence::Group;
use crate::layout::Layout;
use crate::order::{Alternative, Order};
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// As many values in a hundred may be typing errors, and so many at all.
const TYPING_ERRORS: (u64, u64) = (3, 2);

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let turned = &case.evidence.turned;
    let own = |form: &&JudgedForm<'_>| form.form.alternatives == [Alternative::Ymd];
    let forms: Vec<&JudgedForm<'_>> = case.forms.iter().filter(own).collect();
    let rows: u64 = forms.iter().map(|form| form.rows()).sum();
    let are_needed = matches!(case.subject, Subject::None);
    let finding = || Finding::YearDayMonth { rows: turned.clone(), are_needed };
    let (percent, few) = TYPING_ERRORS;
    match case.subject {
        Subject::Forms(_) if turned.rows > 0 && case.may_doubt() => {
            if turned.rows <= few || turned.rows * 100 <= (rows + turned.rows) * percent {
                return vec![Found::note(finding())];
            }
            // Days above 12 show that year, month, day occurs as well.
            let telling = forms.iter().any(|form| has_late_days(form.group));
            let layouts: Vec<Layout> = forms
                .iter()
                .flat_map(|form| form.layouts.iter().map(|(_, own)| own.clone()))
                .collect();
            let both = layouts.iter().flat_map(both_ways).collect();
            let mut ways = vec![Settle::Order(Order::Ymd, turned.rows), Settle::Both(both)];
            if !telling {
                ways.insert(0, Settle::Order(Order::Ydm, 0));
            }
            vec![Found::ask(Verdict::Mixed, finding(), ways)]
        }
        // Most values cannot be read, and would be so.
        Subject::None if (case.fit() + turned.rows) * 2 >= case.values() && turned.rows > 0 => {
            vec![Found::note(finding())]
        }
        _ => Vec::new(),
    }
}

fn has_late_days(group: &Group) -> bool {
    let mut dates = group.dates.iter();
    dates.any(|([_, _, day], fits)| day > 12 && fits.fits(Alternative::Ymd))
}

/// A layout, and the same with day and month the other way round.
fn both_ways(layout: &Layout) -> Vec<Layout> {
    std::iter::once(layout.clone()).chain(layout.turned()).collect()
}
