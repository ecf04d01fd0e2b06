//! Clock forms that may be lengths of time, and lengths of time that say too little.

use crate::candidates::{Measure, Style};
use crate::duration::{DAY, Unit};
use crate::evidence::{ClockHours, Occurrences};
use crate::lexicon::Locale;
use crate::order::Alternative;
use crate::reading::{Clocks, Unfit};
use crate::typed::{Kind, TypedValue};
use crate::verdict::case::{Case, Subject, UnreadAmounts};
use crate::verdict::finding::LengthFinding;
use crate::verdict::form::{JudgedForm, State, reads};
use crate::verdict::found::{Effect, Found, Strength};
use crate::verdict::model::{Settle, Verdict};

/// Nanoseconds of 60 hours: what is below may be minutes and seconds.
const SIXTY_HOURS: i128 = 60 * 3_600 * 1_000_000_000;

/// Amounts whose unit is missing, or another one from language to language.
pub(super) fn unclear_amounts(case: &Case<'_>) -> Vec<Found> {
    let Some(UnreadAmounts { rows, why }) = unread(case) else { return Vec::new() };
    let ways = ways(why);
    let finding = LengthFinding::UnreadAmounts { rows, why };
    let ask = (!ways.is_empty()).then(|| Found::ask(Verdict::Undecided, finding, ways));
    ask.into_iter().collect()
}

/// Amounts that cannot be read whatever is said: they are left empty, and told with the reason.
pub(super) fn unreadable_amounts(case: &Case<'_>) -> Vec<Found> {
    let Some(UnreadAmounts { rows, why }) = unread(case) else { return Vec::new() };
    let finding = LengthFinding::UnreadAmounts { rows, why };
    ways(why).is_empty().then(|| Found::note(finding)).into_iter().collect()
}

fn unread(case: &Case<'_>) -> Option<UnreadAmounts> {
    let judges = case.is_of_forms() || matches!(case.subject, Subject::Amounts(_));
    case.unread_amounts().filter(|_| judges && case.kind() == Some(Kind::Duration))
}

fn ways(why: Unfit) -> Vec<Settle> {
    match why {
        Unfit::UnclearUnit { one: (_, one), other: (_, other) } => {
            let locales = [one, other].into_iter().filter_map(|tag| Locale::named(tag).ok());
            locales.map(Settle::WrittenIn).collect()
        }
        Unfit::NoUnit => Unit::USUAL.map(Settle::Unit).to_vec(),
        _ => Vec::new(),
    }
}

/// Amounts whose units are marks: minutes and seconds, or feet and inches.
pub(super) fn marks(case: &Case<'_>) -> Vec<Found> {
    let rows = case.evidence.amounts.marked();
    let is_doubted = case.may_doubt() && case.is_of_forms_of(Kind::Duration);
    if !is_doubted || case.asserted.speaks_of_lengths || rows * 2 <= case.evidence.amounts.rows {
        return Vec::new();
    }
    let finding = LengthFinding::MinutesOrFeet(rows);
    vec![Found::ask(Verdict::Leaning, finding, [Settle::Kind(Kind::Duration)])]
}

/// Clock forms are lengths of time, as other values have shown.
pub(super) fn elapsed(case: &Case<'_>) -> Vec<Found> {
    let elapsed = case.options.terms.clocks == Clocks::Elapsed && case.asserted.kind.is_none();
    let is_clock = |form: &JudgedForm<'_>| matches!(form.form.measure, Some(Measure::Clock(_)));
    let of_lengths = case.is_of_forms_of(Kind::Duration);
    if !elapsed || !of_lengths || !case.forms.iter().any(is_clock) {
        return Vec::new();
    }
    let tallies = case.forms.iter().flat_map(|form| form.group.tallies.values());
    let longest = tallies.flat_map(|tally| tally.spans.values()).map(|(_, latest)| *latest).max();
    let longest = longest.filter(
        |longest| matches!(longest, TypedValue::Duration(own) if own.nanos() > i128::from(DAY)),
    );
    vec![Found::note(LengthFinding::Elapsed(longest))]
}

/// Times of day that may be lengths of time: hours alone, or a column whose name speaks of lengths.
pub(super) fn times_of_day(case: &Case<'_>) -> Vec<Found> {
    if !may_be_times(case) {
        return Vec::new();
    }
    let hours = case.forms.iter().filter(|form| form.form.measure == Some(Measure::Hours));
    let rows: u64 = hours.map(JudgedForm::rows).sum();
    let finding = match rows {
        0 if case.asserted.speaks_of_lengths && !are_doubted(case) => LengthFinding::NameOfLengths,
        0 if are_of_the_night(&case.evidence.clock_hours) => {
            LengthFinding::NightOrLengths(case.evidence.clock_hours.rows.iter().sum())
        }
        0 => return Vec::new(),
        rows => LengthFinding::HoursOrClock(rows),
    };
    vec![Found::ask(Verdict::Leaning, finding, either())]
}

/// So many clock times are all before noon by chance once in a million.
const CLOCKS: u64 = 20;
/// Times in the first two hours of the day, of which one may be a typing error.
const AT_NIGHT: u64 = 2;

/// Whether clock times lie in the first hours of the day, and none at noon or after it: who is awake behind midnight is so
/// before it as well, but lengths of time are short. A log that goes on in time through one night is none of them.
fn are_of_the_night(clock: &ClockHours) -> bool {
    let goes_on = clock.steps > 0 && clock.back == 0;
    clock.rows.iter().sum::<u64>() >= CLOCKS
        && clock.rows[..2].iter().sum::<u64>() >= AT_NIGHT
        && clock.rows[12..].iter().all(|rows| *rows == 0)
        && !goes_on
}

/// Clock forms that no clock shows: a clock ends at 24, what goes beyond may have been measured.
pub(super) fn beyond_a_clock(case: &Case<'_>) -> Vec<Found> {
    if !case.may_doubt() {
        return Vec::new();
    }
    let ways = || if may_be_times(case) { either().to_vec() } else { Vec::new() };
    let found = |(at, form): (usize, &JudgedForm<'_>)| {
        let finding = LengthFinding::MayBeDurations(beyond(form)?);
        Some(Found { ways: ways(), ..Found::doubt(at, finding) })
    };
    case.forms.iter().enumerate().filter_map(found).collect()
}

/// Two numbers with a colon are likely minutes and seconds where other values have hours as well and none of
/// these goes beyond an hour's minutes.
pub(super) fn hours_elsewhere(case: &Case<'_>) -> Vec<Found> {
    let has_hours = |form: &&JudgedForm<'_>| form.form.measure == Some(Measure::Clock(3));
    let rows: u64 = case.forms.iter().filter(has_hours).map(JudgedForm::rows).sum();
    if rows == 0 || !case.is_of_forms() {
        return Vec::new();
    }
    let own = Alternative::MinutesSeconds;
    let found = |(at, form): (usize, &JudgedForm<'_>)| {
        let tallies = form.group.tallies.values();
        let spans = tallies.filter_map(|tally| tally.spans.get(&Alternative::HoursMinutes));
        let longest = spans.map(|(_, latest)| *latest).max()?;
        let below = matches!(longest, TypedValue::Duration(own) if own.nanos() < SIXTY_HOURS);
        let leads = below && form.in_play.contains(&own);
        let finding = LengthFinding::HoursElsewhere(rows);
        leads.then(|| Found::lead(at, (Strength::OtherClocks, Some(own)), finding))
    };
    case.forms.iter().enumerate().filter_map(found).collect()
}

/// Lengths of time in a column of times of day.
pub(super) fn beside_times(case: &Case<'_>) -> Option<Effect> {
    may_be_times(case).then_some(Effect::Ask(Verdict::Leaning))
}

/// What settles whether times of day are lengths of time.
pub(super) fn either() -> [Settle; 2] {
    [Kind::Time, Kind::Duration].map(Settle::Kind)
}

/// Whether the column is read as times of day and nobody has said that it is.
fn may_be_times(case: &Case<'_>) -> bool {
    let of_times = case.is_of_forms_of(Kind::Time);
    of_times && case.asserted.kind.is_none() && case.options.terms.clocks != Clocks::Elapsed
}

fn are_doubted(case: &Case<'_>) -> bool {
    case.kinds.iter().any(|(kind, _)| *kind == Kind::Duration)
        || (case.may_doubt() && case.forms.iter().any(|form| beyond(form).is_some()))
}

/// Values of a form of clock times that no clock shows.
fn beyond(form: &JudgedForm<'_>) -> Option<Occurrences> {
    let decided = matches!(form.state, State::Decided(_)) && form.style() == Style::Time;
    let unfit = form.group.occurrences(|fits| !reads(form.style(), fits));
    (decided && unfit.rows > 0).then_some(unfit)
}
