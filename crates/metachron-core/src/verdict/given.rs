//! Layouts that the analyst gave.

use std::collections::BTreeMap;

use super::families::families;
use super::judge::not_a_date;
use super::misread::misread;
use super::years::{Yearless, yearless};
use super::{Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::evidence::{Evidence, Lens};
use crate::layout::Layout;
use crate::moment::Kind;
use crate::reading::{Reading, Repair};

/// The analyst's layouts: they are taken as they are, and what they make of the rows is counted.
pub(super) fn by_layouts(
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
    counts: Counts,
) -> Judgement {
    let given = &evidence.given;
    let one = lens.layouts.first().and_then(Layout::kind);
    let kind = known.kind.or(one).or(given.kind());
    let Some(kind) = kind.map(|kind| known.reads(kind)) else {
        let unreadable = counts.rows - counts.missing - counts.placeholder;
        let reason = Reason::NotDates { fit: 0, values: unreadable };
        return not_a_date(Counts { unreadable, ..counts }, reason);
    };
    let mut reasons = vec![match &lens.split {
        Some(split) => Reason::GivenSplit(split.clone()),
        None => Reason::GivenLayouts(lens.layouts.clone()),
    }];
    if given.of_other_rows > 0 {
        let (rows, lowest) = (given.of_other_rows, given.of_other_lowest.clone());
        reasons.push(Reason::OfOtherRows { rows, lowest });
    }
    if given.fit_elsewhere > 0 {
        reasons.push(Reason::WouldFit { rows: given.fit_elsewhere, lowest: None });
    }
    let disagree: u64 = given.contested.values().sum();
    if disagree > 0 {
        let lowest = given.contested_lowest.clone();
        reasons.push(Reason::LayoutsDisagree { rows: disagree, lowest });
    }
    for (other, rows) in given.read.iter().filter(|(other, _)| known.reads(**other) != kind) {
        reasons.push(Reason::OtherKind { kind: *other, rows: *rows });
    }
    let of_kind = |rows: &BTreeMap<Kind, u64>| -> u64 {
        rows.iter().filter(|(other, _)| known.reads(**other) == kind).map(|(_, rows)| rows).sum()
    };
    let preferred = known.contested == crate::reading::Contested::Prefer;
    let (read, contested) = if preferred {
        (of_kind(&given.read) + of_kind(&given.contested), given.of_other_rows)
    } else {
        (of_kind(&given.read), disagree + given.of_other_rows)
    };
    let typed: u64 = known.typed(evidence, kind).map(|tally| tally.rows).sum();
    let read = read + typed;
    let open_years = evidence.open_years.min(read);
    let (read, contested) = (read - open_years, contested + open_years);
    let unreadable = counts.rows - counts.missing - counts.placeholder - read - contested;
    if let Some(Yearless { reason, .. }) = yearless(evidence, lens, known) {
        reasons.push(reason);
    }
    let (mut verdict, mut settle) = (Verdict::Decided, Vec::new());
    // Who says how texts are written has not said what became of the dates beside them.
    let families = families(evidence, &Lens { layouts: Vec::new(), ..lens.clone() }, known, true);
    if let Some((found, reason)) = misread(evidence, &families, known) {
        if matches!(reason, Reason::HalfSwapped { .. }) && found == Verdict::Misread {
            verdict = found;
            let ways = [Repair::HalfSwapped, Repair::None];
            settle.extend(ways.map(|repair| Settle::Repair(repair, lens.layouts.clone())));
        }
        // Dates would be exchanged that no import has touched.
        if reason == Reason::NothingToRepair {
            verdict = Verdict::Undecided;
        }
        reasons.insert(0, reason);
    }
    Judgement {
        verdict,
        kind: Some(kind),
        reading: Some(Reading {
            split: lens.split.clone(),
            ..known.reading(kind, lens.layouts.clone(), lens)
        }),
        counts: Counts { read, contested, unreadable, ..counts },
        fraction_digits: given.fraction_digits,
        contenders: Vec::new(),
        example: None,
        reasons,
        signals: Vec::new(),
        origins: Vec::new(),
        settle,
    }
}
