//! An import took months and years (`Apr-22`) for days of its own year: all dates lie in one year or two, and their days
//! are a short run of numbers that two-digit years have. Honest days are spread over their time, or are always the
//! same few. Or it left months as text, and just those whose year is no day of theirs.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::marks::{Marks, by_programs_and_regions, dates_shown};
use crate::candidates::Style;
use crate::reading::Repair;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::ImportFinding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::odds::{LN_CERTAIN, LN_LEAN, ln_short_run};

/// Different texts that are needed, where they show what an import could not take for days.
const TEXTS: usize = 6;

/// Days that are years, or that they become years as somebody said.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !matches!(case.subject, Subject::Layouts(_) | Subject::Forms(_)) {
        return Vec::new();
    }
    let marks = Marks::of(case);
    let found = match case.asserted.repair {
        Some(Repair::MonthYear) => match by_programs_and_regions(case) {
            (0, _) => Found::ask(Verdict::Undecided, ImportFinding::NothingToRepair, []),
            (rows, _) => Found::note(ImportFinding::YearsFromDays(rows)),
        },
        // Dates beside text that an import left are of another kind of harm.
        None if !marks.are_there() => {
            let Some((finding, verdict)) = shown(case) else { return Vec::new() };
            match case.subject {
                // Who says how dates are written has said that they may be trusted.
                Subject::Layouts(_) if verdict == Verdict::Leaning => Found::note(finding),
                _ => {
                    let layouts = || case.options.layouts.clone();
                    let ways = [Repair::MonthYear, Repair::None];
                    let ways = ways.map(|repair| Settle::Repair(repair, layouts()));
                    Found::ask(verdict, finding, ways)
                }
            }
        }
        _ => return Vec::new(),
    };
    vec![found]
}

/// Whether days are years, as far as that can be seen.
pub(super) fn is_shown(case: &Case<'_>) -> bool {
    shown(case).is_some()
}

/// What shows that days are years, and how sure that is.
fn shown(case: &Case<'_>) -> Option<(ImportFinding, Verdict)> {
    let dates: BTreeSet<[i16; 3]> = dates_shown(case).into_iter().collect();
    let years: BTreeSet<i16> = dates.iter().map(|[year, ..]| *year).collect();
    let days: BTreeSet<i16> = dates.iter().map(|[.., day]| *day).collect();
    let (year, last_year) = (*years.first()?, *years.last()?);
    let (first, last) = (*days.first()?, *days.last()?);
    // Days from 1 to 12 are all that can be a month, and no short run.
    if last_year - year > 1 || (first, last) == (1, 12) {
        return None;
    }
    // Digits that run on from 1 in every month are numbers rather than what an import has written.
    let are_digits = case.forms.iter().all(|form| form.style() == Style::Digits);
    let are_numbers = first == 1 && are_digits && !case.forms.is_empty();
    let ln = if !are_numbers { ln_short_run(&dates) } else { 0.0 };
    let texts = left_as_text(&case.forms, year);
    let verdict = match ln {
        _ if texts.is_some() => Verdict::Misread,
        LN_CERTAIN.. => Verdict::Misread,
        LN_LEAN.. => Verdict::Leaning,
        _ => return None,
    };
    let power = (ln / std::f64::consts::LN_10).max(0.0) as u32;
    let (years, days) = ((year, last_year), (first, last));
    let finding = ImportFinding::MonthYear { years, days, texts: texts.unwrap_or(0), power };
    Some((finding, verdict))
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
