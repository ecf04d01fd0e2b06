//! An import took months and years (`Apr-22`) for days of its own year: all dates lie in one year, and their days
//! are a run of numbers that two-digit years have, each of them in months all over the year. Days of an honest
//! column begin with 1 somewhere, or are not each in so many months. Or it left months as text, and just those
//! whose year is no day of theirs.

use std::collections::{BTreeMap, BTreeSet};

use jiff::civil::Date;

use super::marks::Marks;
use crate::candidates::Style;
use crate::order::Alternative;
use crate::reading::Repair;
use crate::typed::Kind;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::ImportFinding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};

/// Different texts that are needed, where they show what an import could not take for days.
const TEXTS: usize = 6;
/// Different months that each day must be in.
const MONTHS: usize = 6;

/// Days that are years, or that they become years as somebody said.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !matches!(case.subject, Subject::Layouts(_) | Subject::Forms(_)) {
        return Vec::new();
    }
    let marks = Marks::of(case);
    let found = match case.asserted.repair {
        Some(Repair::MonthYear) if marks.dates > 0 => {
            Found::note(ImportFinding::YearsFromDays(marks.rows))
        }
        Some(Repair::MonthYear) => {
            Found::ask(Verdict::Undecided, ImportFinding::NothingToRepair, [])
        }
        // Dates beside text that an import left are of another kind of harm.
        None if !marks.are_there() => match (shown(case), &case.subject) {
            (None, _) => return Vec::new(),
            (Some(finding), Subject::Layouts(_)) => Found::note(finding),
            (Some(finding), _) => {
                let ways = [Repair::MonthYear, Repair::None];
                let ways = ways.map(|repair| Settle::Repair(repair, Vec::new()));
                Found::ask(Verdict::Misread, finding, ways)
            }
        },
        _ => return Vec::new(),
    };
    vec![found]
}

fn shown(case: &Case<'_>) -> Option<ImportFinding> {
    let typed = case.evidence.typed.iter().filter(|(kind, _)| **kind == Kind::Date);
    let written = case.forms.iter().filter(|form| {
        let dates = form.group.tallies.keys().all(|(_, kind)| *kind == Kind::Date);
        form.style() == Style::Parted && form.alternatives == [Alternative::Ymd] && dates
    });
    let all = typed
        .flat_map(|(_, tally)| tally.dates.iter())
        .chain(written.flat_map(|form| form.group.dates.iter()));
    let mut years: BTreeSet<i16> = BTreeSet::new();
    let mut months: BTreeMap<i16, BTreeSet<i16>> = BTreeMap::new();
    for ([year, month, day], _) in all {
        years.insert(year);
        months.entry(day).or_default().insert(month);
    }
    let (first, last) = (*months.keys().next()?, *months.keys().next_back()?);
    let year = *years.first().filter(|_| years.len() == 1)?;
    let is_run = months.keys().copied().eq(first..=last) && first > 1 && last > first;
    let are_years = last <= case.asserted.as_of.year().rem_euclid(100) + 1;
    let everywhere = months.values().all(|months| months.len() >= MONTHS);
    let texts = left_as_text(&case.forms, year);
    let marks = (is_run && are_years && everywhere) || texts.is_some();
    marks.then_some(ImportFinding::MonthYear { year, first, last, texts: texts.unwrap_or(0) })
}

/// Different months with a two-digit year that were left as text, if none of them could be a day of
/// this year.
fn left_as_text(forms: &[JudgedForm<'_>], year: i16) -> Option<usize> {
    let open = forms.iter().filter(|form| form.style() == Style::CoarseOpen);
    let texts: BTreeSet<(i16, i16)> = open
        .flat_map(|form| form.group.dates.iter())
        .map(|([_, month, short], _)| (month, short))
        .collect();
    let is_day = |(month, short): &(i16, i16)| {
        let (month, day) = (i8::try_from(*month), i8::try_from(*short));
        month.is_ok_and(|month| day.is_ok_and(|day| Date::new(year, month, day).is_ok()))
    };
    (texts.len() >= TEXTS && !texts.iter().any(is_day)).then_some(texts.len())
}
