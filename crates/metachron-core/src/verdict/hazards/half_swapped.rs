//! An import took days for months. It turned those values into dates that its order allowed, with day and month
//! exchanged wherever both were possible, and left the others as the text that they were. So hardly a date that
//! it made has a day above 12, and hardly a text that it left has none.

use super::marks::Marks;
use super::repairs::ask;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::found::Found;
use crate::verdict::model::Verdict;

/// Until it is known what the import did, neither half can be trusted.
pub(super) fn found(case: &Case<'_>, marks: &Marks) -> Found {
    let Marks { dates, texts, are_alike, .. } = marks;
    let finding = ImportFinding::HalfSwapped {
        dates: dates.all(),
        late: dates.late(),
        texts: texts.all(),
        open: texts.early(),
        power: marks.power(),
    };
    let verdict = if marks.are_certain() { Verdict::Misread } else { Verdict::Leaning };
    // What is written as the texts are cannot be told from them and exchanged.
    let repairs: &[Repair] = match are_alike {
        true => &[Repair::None],
        false => &[Repair::HalfSwapped, Repair::None],
    };
    ask(case, verdict, finding, repairs)
}
