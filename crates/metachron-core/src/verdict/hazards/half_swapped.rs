//! An import took days for months. It turned those values into dates that its order allowed, with day and month
//! exchanged wherever both were possible, and left the others as the text that they were. So hardly a date that
//! it made has a day above 12, and hardly a text that it left has none.

use super::marks::Marks;
use crate::reading::Repair;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// An honest column that looks misread is as improbable as one in ten to the power of that.
const MISREAD: u32 = 6;

/// Exchanged dates, or that they are exchanged back as somebody said.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if case.kind().is_none() || !matches!(case.subject, Subject::Layouts(_) | Subject::Forms(_)) {
        return Vec::new();
    }
    let marks = Marks::of(case);
    let Marks { dates, late, texts, open, rows } = marks;
    let found = match case.asserted.repair {
        Some(Repair::HalfSwapped) if marks.has_both() => {
            Found::note(ImportFinding::Exchanged(rows))
        }
        // Dates would be exchanged that no import has touched.
        Some(Repair::HalfSwapped) => {
            Found::ask(Verdict::Undecided, ImportFinding::NothingToRepair, [])
        }
        // Until it is known what the import did, neither half can be trusted.
        None if marks.are_there() => {
            let power = marks.power();
            let finding = ImportFinding::HalfSwapped { dates, late, texts, open, power };
            let verdict = if power >= MISREAD { Verdict::Misread } else { Verdict::Leaning };
            match case.subject {
                // Who says how texts are written has said that they may be trusted.
                Subject::Layouts(_) if verdict == Verdict::Leaning => Found::note(finding),
                _ => {
                    let ways = [Repair::HalfSwapped, Repair::None];
                    let layouts = || case.options.layouts.clone();
                    let ways = ways.map(|repair| Settle::Repair(repair, layouts()));
                    Found::ask(verdict, finding, ways)
                }
            }
        }
        _ => return Vec::new(),
    };
    vec![found]
}
