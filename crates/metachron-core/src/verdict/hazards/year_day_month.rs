//! An order that nobody considers: values with the year first, of which those that cannot be read are year, day, month.

use crate::candidates::Form;
use crate::evidence::{Group, ObserveOptions};
use crate::layout::Layout;
use crate::order::{Alternative, Order};
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::odds::exceed_typing_errors;
use crate::verdict::weighing::layouts;

/// So many values may be typing errors, however few there are.
const FEW: u64 = 2;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let turned = &case.evidence.year_day_month;
    let own = |form: &&JudgedForm<'_>| form.form.alternatives == [Alternative::Ymd];
    let forms: Vec<&JudgedForm<'_>> = case.forms.iter().filter(own).collect();
    let rows: u64 = forms.iter().map(|form| form.rows()).sum();
    let are_needed = matches!(case.subject, Subject::None);
    let finding = || Finding::YearDayMonth { rows: turned.clone(), are_needed };
    match case.subject {
        Subject::Forms(_) if turned.rows > 0 && case.order_is_inferred() => {
            if turned.rows <= FEW || !exceed_typing_errors(turned.rows, rows + turned.rows) {
                return vec![Found::note(finding())];
            }
            // Days above 12 show that year, month, day occurs as well.
            let telling = forms.iter().any(|form| has_late_days(form.group));
            let both = forms.iter().flat_map(|form| in_both_orders(case, form.form)).collect();
            let mut ways = vec![Settle::Order(Order::Ymd, turned.rows), Settle::Both(both)];
            if !telling {
                ways.insert(0, Settle::Order(Order::Ydm, 0));
            }
            vec![Found::ask(Verdict::Mixed, finding(), ways)]
        }
        // What layouts do not read was said of other rows, perhaps.
        Subject::Layouts(_) if turned.rows > FEW => vec![Found::note(finding())],
        // Most values cannot be read, and would be so.
        Subject::None
            if case.fit().saturating_add(turned.rows) >= case.values().div_ceil(2)
                && turned.rows > 0 =>
        {
            vec![Found::note(finding())]
        }
        _ => Vec::new(),
    }
}

fn has_late_days(group: &Group) -> bool {
    let mut dates = group.dates.iter();
    dates.any(|([_, _, day], fits)| day > 12 && fits.fits(Alternative::Ymd))
}

/// The layouts of a form, and the same with day and month the other way round.
fn in_both_orders(case: &Case<'_>, form: &Form) -> impl Iterator<Item = Layout> {
    let alternatives = vec![Alternative::Ymd, Alternative::Ydm];
    let form = Form { alternatives, ..form.clone() };
    let options = ObserveOptions { asked: Some(Order::Ydm), ..case.options.clone() };
    layouts(case.evidence, &options, &form).into_iter().map(|(_, layout)| layout)
}
