//! Repairs of what an import did: one that was said, and the question that one answers.

use super::marks::{by_programs_and_regions, dates_read, dates_shown};
use super::misfits::exchanged_in_place;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// What is repaired, if there is something that such an import could have written.
pub(super) fn said(case: &Case<'_>, repair: Repair) -> Option<Found> {
    match (repair, by_programs_and_regions(case)) {
        (Repair::None, _) => None,
        (Repair::HalfSwapped, (rows @ 1.., texts)) if texts > 0 || may_be_harmed(case) => {
            Some(Found::note(ImportFinding::Exchanged(rows)))
        }
        (Repair::Swapped, (rows, texts)) if rows + texts > 0 => {
            let late = dates_read(case).iter().filter(|[.., day]| *day > 12).count() as u64;
            Some(match late {
                0 => Found::note(ImportFinding::Exchanged(rows + texts)),
                // Such a day cannot have been a month.
                _ => {
                    let ways = ways(case, &[Repair::None]);
                    Found::ask(Verdict::Undecided, ImportFinding::NotExchanged(late), ways)
                }
            })
        }
        (Repair::MonthYear, (rows @ 1.., _)) => {
            Some(Found::note(ImportFinding::YearsFromDays(rows)))
        }
        // Dates would be changed that no import has touched.
        _ => {
            let ways = ways(case, &[Repair::None]);
            Some(Found::ask(Verdict::Undecided, ImportFinding::NothingToRepair, ways))
        }
    }
}

/// Whether the import has exchanged dates of another column, and may have exchanged all of these; or the rows show that it
/// exchanged what it could, and lost nothing.
fn may_be_harmed(case: &Case<'_>) -> bool {
    let is_beside = case.asserted.harmed_beside.is_some();
    is_beside && dates_shown(case).iter().all(|[.., day]| *day <= 12)
        || exchanged_in_place(case).is_some()
}

/// The ways to say each of these repairs.
pub(super) fn ways(case: &Case<'_>, repairs: &[Repair]) -> Vec<Settle> {
    let way = |repair: &Repair| Settle::Repair(*repair, case.options.layouts.clone());
    repairs.iter().map(way).collect()
}

/// A question that one of these repairs answers.
pub(super) fn ask(
    case: &Case<'_>,
    verdict: Verdict,
    finding: ImportFinding,
    repairs: &[Repair],
) -> Found {
    let asked = Found::ask(verdict, finding, ways(case, repairs));
    // What is beyond doubt is asked about whatever was said.
    if verdict == Verdict::Leaning { asked.or_told(case) } else { asked }
}
