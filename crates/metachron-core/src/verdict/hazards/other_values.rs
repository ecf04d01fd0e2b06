//! Values that are not what the column is for the most part.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::dates_by_order::dates_of;
use super::lengths_of_time::{beside_times, either};
use crate::evidence::{Evidence, Fits, Occurrences, is_stand_in};
use crate::layout::Field;
use crate::order::Alternative;
use crate::typed::Kind;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::Finding;
use crate::verdict::form::JudgedForm;
use crate::verdict::found::Found;
use crate::verdict::odds::date_of;

/// Different dates around it, itself among them, that it has at most.
const NEAR: usize = 2;

/// Cells that their file has typed.
pub(super) fn typed_cells(case: &Case<'_>) -> Vec<Found> {
    let rows = if case.is_of_forms() { case.typed_rows() } else { 0 };
    (rows > 0).then(|| Found::note(Finding::Typed(rows))).into_iter().collect()
}

/// Values of other kinds: a column is read as one.
pub(super) fn other_kinds(case: &Case<'_>) -> Vec<Found> {
    let kinds: Vec<(Kind, u64)> = match case.subject {
        Subject::Layouts(_) => {
            let read = case.evidence.given.read.iter();
            read.filter(|(kind, _)| !case.is_own(**kind))
                .map(|(kind, rows)| (*kind, *rows))
                .collect()
        }
        Subject::Forms(own) => {
            case.kinds.iter().copied().filter(|(kind, _)| *kind != own).collect()
        }
        _ => Vec::new(),
    };
    kinds
        .into_iter()
        .map(|(kind, rows)| {
            let note = Found::note(Finding::OtherKind { kind, rows });
            match beside_times(case).filter(|_| kind == Kind::Duration) {
                // Times of day among lengths of time may be some as well.
                Some(effect) => Found { effect, ways: either().to_vec(), ..note },
                None => note,
            }
        })
        .collect()
}

/// Rows that the asked order does not fit, but another one would.
pub(super) fn of_another_order(case: &Case<'_>) -> Vec<Found> {
    let Some(order) = case.asserted.order.filter(|_| case.is_of_forms()) else {
        return Vec::new();
    };
    let lost = |fits: Fits| !fits.fits(order.into()) && fits.fits_any();
    let digits = case.forms.iter().filter(|form| form.group.all_digits);
    let rows: Occurrences = digits.map(|form| form.group.occurrences(lost)).sum();
    (rows.rows > 0).then(|| Found::note(Finding::WouldFit(rows))).into_iter().collect()
}

/// Days that stand for none: hardly anything else lies in the year before or after.
pub(super) fn stand_ins(case: &Case<'_>) -> Vec<Found> {
    let spikes = if case.is_of_layouts() { spikes(case.evidence) } else { Vec::new() };
    let note = |(day, rows)| Found::note(Finding::Spike { day, rows });
    spikes.into_iter().map(note).collect()
}

/// Years below 100 that lie among all others once a century is put before them: something took two digits for a year.
pub(super) fn lost_centuries(case: &Case<'_>) -> Vec<Found> {
    let have_full_years =
        |form: &&JudgedForm<'_>| form.layouts.iter().all(|(_, own)| own.has(Field::Year));
    let forms = case.forms.iter().filter(have_full_years);
    let written = forms.filter_map(|form| Some(dates_of(case, form, case.order_of(form)?)));
    let typed = case.evidence.typed.values().flat_map(|tally| tally.dates.iter());
    let typed = typed.filter_map(|(own, _)| date_of(own, Alternative::Ymd, None));
    let dates: BTreeSet<Date> =
        written.flatten().chain(typed).filter(|day| !is_stand_in(*day)).collect();
    let (lost, others): (Vec<Date>, Vec<Date>) =
        dates.into_iter().partition(|day| day.year() < 100);
    let (Some(example), Some(first), Some(last)) = (lost.first(), others.first(), others.last())
    else {
        return Vec::new();
    };
    let among_others = |day: &Date| {
        [1900, 2000]
            .iter()
            .any(|century| (first.year()..=last.year()).contains(&(century + day.year())))
    };
    let finding = Finding::LostCentury {
        dates: lost.len() as u64,
        example: *example,
        others: (first.year(), last.year()),
    };
    lost.iter().all(among_others).then(|| Found::note(finding)).into_iter().collect()
}

/// Shapes beyond those that are told apart.
pub(super) fn many_shapes(case: &Case<'_>) -> Vec<Found> {
    let rows = if case.is_of_forms() { case.evidence.shapes.pooled } else { 0 };
    (rows > 0).then(|| Found::note(Finding::ManyShapes(rows))).into_iter().collect()
}

fn spikes(evidence: &Evidence) -> Vec<(Date, Occurrences)> {
    let years: BTreeSet<i16> = evidence
        .groups
        .values()
        .flat_map(|group| &group.tallies)
        .flat_map(|(_, tally)| tally.spans.values())
        .chain(evidence.typed.values().map(|tally| &tally.span))
        .flat_map(|(earliest, latest)| [*earliest, *latest])
        .filter_map(|moment| moment.date())
        .map(|date| date.year())
        .collect();
    let dates = |day: Date| {
        let near = |year: i16| (year - day.year()).abs() <= 1;
        let written = evidence.groups.values().map(|group| &group.dates);
        let typed = evidence.typed.values().map(|tally| &tally.dates);
        let others = written.chain(typed).flat_map(|dates| dates.iter());
        // The year is the largest part.
        others.filter(|(written, _)| written.iter().max().is_some_and(|part| near(*part))).count()
    };
    let stands_alone = |day: &Date| years.len() > 1 && dates(*day) <= NEAR;
    let all = evidence.spikes.iter().filter(|(day, _)| stands_alone(day));
    all.map(|(day, spike)| (*day, spike.clone())).collect()
}
