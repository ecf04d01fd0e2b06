//! Values with a day and no year.

use crate::verdict::case::{Case, Yearless};
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// Nobody has said in which year the first row lies.
pub(super) fn open(case: &Case<'_>) -> Vec<Found> {
    match case.yearless().filter(|_| case.is_of_forms()) {
        Some(Yearless::Open { rows, first }) => {
            vec![Found::ask(Verdict::Undecided, Finding::NoYear(rows), [Settle::Year(first)])]
        }
        _ => Vec::new(),
    }
}

/// The year of the first row is known, and the sequence shows where others begin.
pub(super) fn told(case: &Case<'_>) -> Vec<Found> {
    let finding = match case.yearless().filter(|_| case.kind().is_some()) {
        Some(Yearless::Told(years)) => Finding::YearOfFirst {
            year: years.first,
            turns: years.turns,
            open: case.evidence.open_years,
        },
        // Layouts that the analyst gave read what they read.
        Some(Yearless::Open { rows, .. }) if !case.is_of_forms() => Finding::NoYear(rows),
        _ => return Vec::new(),
    };
    vec![Found::note(finding)]
}
