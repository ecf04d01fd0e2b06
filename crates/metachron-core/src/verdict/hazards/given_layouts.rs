//! Layouts that the analyst gave: they are taken as they are, and what they make of the rows is told.

use super::mixed_sources::estimate;
use crate::evidence::Occurrences;
use crate::layout::Layout;
use crate::reading::Contested;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::mixture::Estimate;

/// What was given, and rows that it does not fit, or fits in several ways.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let Subject::Layouts(_) = case.subject else { return Vec::new() };
    let given = &case.evidence.given;
    let mut findings = vec![match &case.options.split {
        Some(split) => Finding::GivenSplit(split.clone()),
        None => Finding::GivenLayouts(case.options.layouts.clone()),
    }];
    if given.of_other_rows.rows > 0 {
        findings.push(Finding::OfOtherRows(given.of_other_rows.clone()));
    }
    if given.fit_elsewhere > 0 {
        findings.push(Finding::WouldFit(Occurrences { rows: given.fit_elsewhere, first: None }));
    }
    let rows: u64 = given.contested.values().sum();
    if rows > 0 {
        let rows = Occurrences { rows, first: given.contested_first.clone() };
        findings.push(match case.asserted.contested {
            Contested::Empty => Finding::LayoutsDisagree(rows),
            Contested::Prefer => Finding::Preferred { rows, wrong: preferred(case) },
        });
    }
    findings.into_iter().map(Found::note).collect()
}

/// How many values are wrong if all are read by the first layout that has an order.
fn preferred(case: &Case<'_>) -> Option<Estimate> {
    let order = case.options.layouts.iter().find_map(Layout::order)?;
    let (_, estimates) = estimate(case)?;
    estimates.into_iter().find(|estimate| estimate.order == order.into())
}
