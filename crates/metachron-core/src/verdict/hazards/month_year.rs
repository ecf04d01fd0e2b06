//! An import took months and years (`Apr-22`) for days of its own year: all dates lie in one year or two, and their days
//! are a short run of numbers that two-digit years have. Honest days are spread over their time, or are always the
//! same few. Or it left months as text, and just those whose year is no day of theirs.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::marks::TOLD;
use super::repairs::ask;
use super::running_numbers::runs_on_from_one;
use crate::candidates::Style;
use crate::reading::Repair;
use crate::verdict::case::Case;
use crate::verdict::finding::ImportFinding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::model::Verdict;
use crate::verdict::odds::{CERTAIN, LEAN, ln_short_run, power};

/// Different texts that are needed, where they show what an import could not take for days.
const TEXTS: usize = 6;

/// Days that are years, where these are the different dates: year, month, day.
pub(super) fn found(case: &Case<'_>, dates: &BTreeSet<[i16; 3]>) -> Option<Found> {
    let years: BTreeSet<i16> = dates.iter().map(|[year, ..]| *year).collect();
    let days: BTreeSet<i16> = dates.iter().map(|[.., day]| *day).collect();
    let (year, last_year) = (*years.first()?, *years.last()?);
    let (first, last) = (*days.first()?, *days.last()?);
    // Days from 1 to 12 are all that can be a month, and no short run.
    if last_year - year > 1 || (first, last) == (1, 12) {
        return None;
    }
    // Digits that run on from 1 in every month are numbers rather than what an import has written.
    let runs_on =
        |form: &JudgedForm<'_>| form.style() == Style::Digits && runs_on_from_one(form.group);
    let are_numbers = case.forms.iter().any(runs_on);
    let ln = if are_numbers { 0.0 } else { ln_short_run(dates) };
    let texts = left_as_text(&case.forms, year);
    let verdict = if texts.is_some() || ln >= CERTAIN.ln() {
        Verdict::Misread
    } else if ln >= LEAN.ln() && case.is_of_forms() {
        // Who gave layouts has looked at what may be chance.
        Verdict::Leaning
    } else {
        return None;
    };
    let finding = ImportFinding::MonthYear {
        years: (year, last_year),
        days: (first, last),
        texts: texts.unwrap_or(0),
        power: power(-ln),
    };
    Some(ask(case, verdict, finding, &[Repair::MonthYear, Repair::None]))
}

/// Months that were taken for days of one year or two look so once in how many, as a power of ten; none where that is not
/// improbable, or where the dates lie in more years.
pub(super) fn power_against(dates: &BTreeSet<[i16; 3]>) -> Option<u32> {
    let (first, last) = (dates.first()?, dates.last()?);
    let power = power(ln_short_run(dates));
    (last[0] - first[0] <= 1 && power >= TOLD).then_some(power)
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
