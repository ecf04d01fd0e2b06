//! Layouts that the analyst gave: they are taken as they are, and what they make of the rows is told.

use crate::evidence::Occurrences;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;

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
        let first = given.contested_first.clone();
        findings.push(Finding::LayoutsDisagree(Occurrences { rows, first }));
    }
    findings.into_iter().map(Found::note).collect()
}
