//! An import took days for months. It turned those values into dates that its order allowed, with day and month
//! exchanged wherever both were possible, and left the others as the text that they were. So hardly a date that
//! it made has a day above 12, and hardly a text that it left has none.

use super::marks::{Marks, by_programs_and_regions};
use crate::reading::Repair;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// Exchanged dates, or that they are exchanged back as somebody said.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if case.kind().is_none() || !matches!(case.subject, Subject::Layouts(_) | Subject::Forms(_)) {
        return Vec::new();
    }
    let marks = Marks::of(case);
    let found = match case.asserted.repair {
        Some(Repair::HalfSwapped) => match by_programs_and_regions(case) {
            (rows @ 1.., 1..) => Found::note(ImportFinding::Exchanged(rows)),
            // Dates would be exchanged that no import has touched.
            _ => Found::ask(Verdict::Undecided, ImportFinding::NothingToRepair, []),
        },
        // Until it is known what the import did, neither half can be trusted.
        None if marks.are_there() => {
            let Marks { dates, texts, are_alike, .. } = marks;
            let finding = ImportFinding::HalfSwapped {
                dates: dates.all(),
                late: dates.late(),
                texts: texts.all(),
                open: texts.early(),
                power: marks.power(),
            };
            let verdict = if marks.are_certain() { Verdict::Misread } else { Verdict::Leaning };
            match case.subject {
                // Who says how texts are written has said that they may be trusted.
                Subject::Layouts(_) if verdict == Verdict::Leaning => Found::note(finding),
                _ => {
                    // What is written as the texts are cannot be told from them and exchanged.
                    let repairs = [Repair::HalfSwapped, Repair::None].into_iter();
                    let repairs = repairs.filter(|repair| *repair == Repair::None || !are_alike);
                    let layouts = || case.options.layouts.clone();
                    let ways = repairs.map(|repair| Settle::Repair(repair, layouts()));
                    Found::ask(verdict, finding, ways)
                }
            }
        }
        _ => return Vec::new(),
    };
    vec![found]
}
