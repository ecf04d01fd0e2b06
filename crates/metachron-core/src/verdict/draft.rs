//! A judgement in the making: what is said of a column, subject by subject.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::answer::{answers_elsewhere, by_answers};
use super::families::{Family, unusual_years};
use super::judge::verdict_of;
use super::misread::misread;
use super::numbers;
use super::split::{self, FoundSplit};
use super::years::{Yearless, calendars_of, reaches_past_today, yearless};
use super::{Known, Reason, Settle, Verdict};
use crate::calendar::Calendar;
use crate::candidates::Style;
use crate::evidence::{Evidence, Lens, Witness};
use crate::lexicon::Languages;
use crate::moment::Kind;
use crate::reading::{Order, Repair};
use crate::zone::Abbreviation;

/// Languages that are offered where names leave several.
const MOST_LANGUAGES: usize = 6;

/// A judgement in the making.
pub(super) struct Draft {
    pub verdict: Verdict,
    pub reasons: Vec<Reason>,
    pub settle: Vec<Settle>,
}

impl Draft {
    /// What the families come to by themselves.
    pub(super) fn of(families: &[Family<'_>]) -> Draft {
        let states = families.iter().map(|family| verdict_of(family.state));
        let verdict = states.max().unwrap_or(Verdict::Decided);
        Draft { verdict, reasons: reasons(families), settle: Vec::new() }
    }

    pub(super) fn say_first(&mut self, reason: Reason) {
        self.reasons.insert(0, reason);
    }

    /// Says first why a column is this, or worse, and what would settle it.
    pub(super) fn ask(
        &mut self,
        verdict: Verdict,
        why: Reason,
        settle: impl IntoIterator<Item = Settle>,
    ) {
        self.verdict = self.verdict.max(verdict);
        self.say_first(why);
        self.settle.extend(settle);
    }
}

/// Cells that their file has typed, and numbers that somebody has said to count.
pub(super) fn of_cells(
    draft: &mut Draft,
    evidence: &Evidence,
    kind: Kind,
    lens: &Lens,
    known: &Known,
) {
    let rows: u64 = known.typed(evidence, kind).map(|tally| tally.rows).sum();
    if rows > 0 {
        draft.say_first(Reason::Typed { rows });
    }
    if let Some(serials) = lens.serials {
        draft.reasons.splice(0..0, numbers::reasons(evidence, serials, known));
    }
}

/// What an earlier import has done.
pub(super) fn of_imports(
    draft: &mut Draft,
    evidence: &Evidence,
    families: &[Family<'_>],
    known: &Known,
) {
    let Some((verdict, reason)) = misread(evidence, families, known) else { return };
    let undone = match reason {
        Reason::HalfSwapped { .. } => Some(Repair::HalfSwapped),
        Reason::MonthYear { .. } => Some(Repair::MonthYear),
        _ => None,
    };
    let ways = undone.into_iter().flat_map(|undone| [undone, Repair::None]);
    draft.ask(verdict, reason, ways.map(|repair| Settle::Repair(repair, Vec::new())));
}

/// What the analyst has said and no value bears out.
pub(super) fn of_claims(draft: &mut Draft, evidence: &Evidence, lens: &Lens, known: &Known) {
    if known.split.is_some() {
        draft.ask(Verdict::Undecided, Reason::NoSuchPart, []);
    }
    let elsewhere = answers_elsewhere(evidence, lens, known);
    for reason in elsewhere.into_iter().rev() {
        draft.ask(Verdict::Undecided, reason, []);
    }
}

/// The language of the names, unless it was said: that needs no asking.
pub(super) fn of_names(draft: &mut Draft, evidence: &Evidence, lens: &Lens, known: &Known) {
    if known.written_in.is_some() {
        return;
    }
    match evidence.languages() {
        Languages::None | Languages::English => {}
        Languages::One(locale) => draft.reasons.push(Reason::NamesOf(locale)),
        Languages::Alike(languages) => draft.reasons.push(Reason::NamesAlike(languages)),
        Languages::Several => draft.reasons.push(Reason::NamesOfSeveral),
        Languages::Differ(difference)
            if let Some(locale) = by_answers(&difference, lens, known) =>
        {
            draft.reasons.push(Reason::NamesOf(locale));
        }
        Languages::Differ(difference) => {
            let locales = difference.meanings.iter().flat_map(|(_, locales)| locales);
            let ways: Vec<Settle> =
                locales.take(MOST_LANGUAGES).copied().map(Settle::WrittenIn).collect();
            draft.ask(Verdict::Undecided, Reason::NamesDiffer(difference), ways);
        }
    }
}

/// Two-digit years that reach past today, where nobody said in which century they lie.
pub(super) fn of_centuries(
    draft: &mut Draft,
    evidence: &Evidence,
    families: &[Family<'_>],
    lens: &Lens,
    known: &Known,
) {
    if draft.verdict != Verdict::Decided || known.century {
        return;
    }
    if let Some(reason) = reaches_past_today(evidence, families, lens, known) {
        draft.verdict = Verdict::Leaning;
        draft.reasons.push(reason);
        let first_years = [lens.terms.century.from, known.as_of.year() - 99];
        draft.settle.extend(first_years.map(Settle::TwoDigitFrom));
    }
}

/// The calendar, and years that may be of another one.
pub(super) fn of_calendars(draft: &mut Draft, families: &[Family<'_>], lens: &Lens, known: &Known) {
    let calendar = lens.terms.lexicon.calendar();
    if calendar != Calendar::Gregorian {
        let usual = known.written_in.filter(|_| known.calendar.is_none());
        draft.say_first(Reason::InCalendar { calendar, usual });
    }
    if draft.verdict == Verdict::Decided
        && known.calendar.is_none()
        && known.answers.is_empty()
        && let Some((first, last)) = unusual_years(families, known)
    {
        let digits = families.iter().any(|family| family.group.all_digits);
        let calendars = calendars_of(first, last, known.as_of);
        // Where months have their names of ours, they are ours.
        let possible = calendars.filter(|calendar| digits || calendar.shares_months());
        let ways = possible.chain([Calendar::Gregorian]).map(Settle::Calendar);
        draft.ask(Verdict::Leaning, Reason::UnusualYears { first, last }, ways);
    }
}

/// Where the clocks stood, as the values say it or somebody does.
pub(super) fn of_places(
    draft: &mut Draft,
    evidence: &Evidence,
    kind: Kind,
    lens: &Lens,
    known: &Known,
) {
    let (places, zones) = (&evidence.places, lens.terms.zones);
    if let Some(zoning) = known.zoning.as_ref().filter(|_| kind == Kind::Instant) {
        draft.reasons.push(Reason::PlacedBy(zoning.clone()));
        return;
    }
    for (text, own) in &places.abbreviations {
        let Some(name) = Abbreviation::new(text) else { continue };
        if own.unclear > 0 {
            let why = Reason::UnclearAbbreviation { name, rows: own.unclear };
            let ways = name.meanings().iter().map(|meaning| meaning.place);
            draft.ask(Verdict::Undecided, why, ways.map(|at| Settle::Abbreviation(name, at)));
        } else if own.out_of_season > 0
            && let Some(meaning) = name.meanings().first()
        {
            let (rows, of) = (own.out_of_season, own.rows);
            draft.reasons.push(Reason::OutOfSeason { name, place: meaning.place, rows, of });
        }
    }
    if kind == Kind::Instant {
        let seasonal = places.seasonal(zones);
        if !seasonal.is_empty() {
            let offsets = places.offsets.keys().copied().collect();
            draft.reasons.push(Reason::SeasonalOffsets { offsets, zones: seasonal });
        }
    }
    if kind == Kind::DateTime
        && let Some(back) = places.backs.first()
    {
        let zones = places.put_back(zones);
        if !zones.is_empty() {
            let (back, rows) = (back.clone(), places.steps_back);
            draft.reasons.push(Reason::PutBack { back, rows, zones });
        }
    }
}

/// Values that are not what the column is for the most part.
pub(super) fn of_other_values(
    draft: &mut Draft,
    evidence: &Evidence,
    families: &[Family<'_>],
    kinds: &[(Kind, u64)],
    kind: Kind,
    lens: &Lens,
    known: &Known,
) {
    for (other, rows) in kinds.iter().filter(|(other, _)| *other != kind) {
        draft.reasons.push(Reason::OtherKind { kind: *other, rows: *rows });
    }
    draft.reasons.extend(known.order.and_then(|order| would_fit(families, order)));
    // Digits alone that are dates in digits count nothing.
    let digits = |family: &Family<'_>| {
        matches!(family.style, Style::Digits | Style::DigitsShortYear | Style::DigitsClock)
    };
    if lens.serials.is_none() && !families.iter().any(digits) {
        draft.reasons.extend(numbers::beside_dates(evidence, known));
    }
    for (day, (rows, lowest)) in spikes(evidence) {
        draft.reasons.push(Reason::Spike { day, rows, lowest });
    }
    if evidence.shapes.pooled > 0 {
        draft.reasons.push(Reason::ManyShapes { rows: evidence.shapes.pooled });
    }
}

/// Values without a year; true if nobody has said which the first has.
pub(super) fn of_missing_years(
    draft: &mut Draft,
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
) -> bool {
    match yearless(evidence, lens, known) {
        None => false,
        Some(Yearless { reason, suggested: None }) => {
            draft.say_first(reason);
            false
        }
        Some(Yearless { reason, suggested: Some(year) }) => {
            draft.ask(Verdict::Undecided, reason, [Settle::Year(year)]);
            true
        }
    }
}

/// What tells the rows of a mixed column apart, or how many would be wrong.
pub(super) fn of_mixtures(
    draft: &mut Draft,
    evidence: &Evidence,
    families: &[Family<'_>],
    kind: Kind,
    known: &Known,
) -> Option<FoundSplit> {
    if draft.verdict != Verdict::Mixed || known.order.is_some() || !known.answers.is_empty() {
        return None;
    }
    // Behind the sentence that there are votes for both.
    let is_mixed = |reason: &Reason| matches!(reason, Reason::Mixed { .. });
    let at = draft.reasons.iter().position(is_mixed).map_or(0, |at| at + 1);
    let found = split::find(evidence, families, kind, known);
    if let Some(found) = &found {
        draft.reasons.insert(at, Reason::Split(found.clone()));
        draft.settle.push(Settle::Split(found.clone()));
        return Some(found.clone());
    }
    let estimate = split::estimate(families);
    let nearly = split::nearly(evidence, families)
        .map(|(column, against)| Reason::NearlySplit { column, against });
    let nothing = estimate.is_some().then_some(Reason::NoSplit);
    let wrong = estimate.map(|(contested, orders)| Reason::Wrong { contested, orders });
    draft.reasons.splice(at..at, nearly.or(nothing).into_iter().chain(wrong));
    None
}

/// The reasons of all families, those of open ones first; a reason that several have, once.
fn reasons(families: &[Family<'_>]) -> Vec<Reason> {
    let open = |family: &&Family<'_>| verdict_of(family.state).is_open();
    let mut all: Vec<Reason> = Vec::new();
    let ordered = families.iter().filter(open).chain(families.iter().filter(|f| !open(f)));
    for reason in ordered.flat_map(|family| &family.reasons) {
        if !all.contains(reason) {
            all.push(reason.clone());
        }
    }
    all
}

/// Rows that the asked order does not fit but another one would.
fn would_fit(families: &[Family<'_>], order: Order) -> Option<Reason> {
    let lost = |fits: crate::evidence::Fits| !fits.fits(order) && fits.fits_any();
    let digits = families.iter().filter(|family| family.group.all_digits);
    let (mut rows, mut lowest) = (0, None);
    for family in digits {
        rows += family.group.rows(lost);
        let candidate = family.group.lowest(lost);
        lowest = match (lowest, candidate) {
            (Some(a), Some(b)) => Some(std::cmp::min(a, b)),
            (a, b) => a.or(b),
        };
    }
    (rows > 0).then(|| Reason::WouldFit { rows, lowest: lowest.cloned() })
}

/// Days that stand for none: several rows, and nothing else in the year before or after.
fn spikes(evidence: &Evidence) -> Vec<(Date, (u64, Witness))> {
    const ROWS: u64 = 3;
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
    let stands_alone = |day: &Date| years.len() > 1 && dates(*day) <= 2;
    let all = evidence.spikes.iter().filter(|(day, (rows, _))| *rows >= ROWS && stands_alone(day));
    all.map(|(day, spike)| (*day, spike.clone())).collect()
}
