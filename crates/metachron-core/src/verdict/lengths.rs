//! Lengths of time: whether clock forms are some, and what is open about them.

use super::draft::Draft;
use super::families::{Family, State};
use super::judge::not_a_date;
use super::numbers::words_of;
use super::{Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::candidates::Style;
use crate::duration::{DAY, Unit};
use crate::evidence::{Evidence, Fits, Group, Lens, Witness};
use crate::layout::Layout;
use crate::lexicon::Locale;
use crate::moment::{Kind, Moment};
use crate::order::Order;
use crate::reading::{Clocks, Unfit, interpret};
use crate::text::normalise;

/// Words of columns that hold lengths of time, in several languages.
const WORDS: [&str; 28] = [
    "duration",
    "elapsed",
    "length",
    "hours",
    "hrs",
    "minutes",
    "mins",
    "min",
    "seconds",
    "secs",
    "effort",
    "runtime",
    "lasted",
    "took",
    "dauer",
    "stunden",
    "minuten",
    "duree",
    "durée",
    "duración",
    "duracion",
    "duração",
    "duracao",
    "durata",
    "duur",
    "varaktighet",
    "varighet",
    "kesto",
];

/// Whether a column's name speaks of lengths of time. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_lengths;
/// assert!(speaks_of_lengths("net_hours") && speaks_of_lengths("Dauer") && !speaks_of_lengths("opened"));
/// ```
pub fn speaks_of_lengths(name: &str) -> bool {
    words_of(name).split(' ').any(|word| WORDS.contains(&word))
}

/// Whether a value is read by one of the orders of its style: the length of time that a clock form may be
/// instead is none of them.
pub(super) fn reads(style: Style, fits: Fits) -> bool {
    match style {
        Style::Time => fits.fits(Order::None),
        _ => fits.fits_any(),
    }
}

/// Whether the clock forms of a column are lengths of time: enough values of it can be nothing else, since
/// they go beyond 24 hours or name their units.
pub(crate) fn are_lengths(evidence: &Evidence, lens: &Lens, known: &Known) -> bool {
    if lens.terms.clocks == Clocks::Elapsed || known.kind.is_some() || !lens.layouts.is_empty() {
        return false;
    }
    let of = |style: Style| evidence.groups.iter().filter(move |(form, _)| form.style == style);
    let count = |style: Style, holds: fn(Fits) -> bool| -> u64 {
        of(style).map(|(_, group): (_, &Group)| group.dates.count(holds)).sum()
    };
    let named = count(Style::Length, Fits::fits_any);
    let beyond = count(Style::Time, |fits| fits.votes(Order::HoursMinutes, Order::None));
    let clocks = count(Style::Time, Fits::fits_any);
    let (votes, all) = (named + beyond, named + clocks);
    clocks > 0 && votes >= if all > 12 { 3 } else { 2 } && votes * 100 > all * 3
}

/// Orders between hours and minutes, and minutes and seconds, lean to the latter where other values of the
/// column have all three and none of these goes beyond an hour's minutes.
pub(super) fn lean_on_hours(families: &mut [Family<'_>]) {
    let has_hours = |family: &Family<'_>| {
        family.style == Style::Length && family.form.separators == "::" && family.rows() > 0
    };
    let rows: u64 = families.iter().filter(|family| has_hours(family)).map(Family::rows).sum();
    if rows == 0 {
        return;
    }
    for family in families.iter_mut().filter(|family| family.state == State::Undecided) {
        let spans = family.group.tallies.values().filter_map(|t| t.spans.get(&Order::HoursMinutes));
        let longest = spans.map(|(_, latest)| *latest).max();
        let below_an_hour = longest.is_some_and(|longest| {
            matches!(longest, Moment::Duration(own) if own.nanos() < 60 * 3_600 * 1_000_000_000)
        });
        if below_an_hour && family.in_play.contains(&Order::MinutesSeconds) {
            family.state = State::Leaning(Order::MinutesSeconds);
            family.reasons.push(Reason::HoursElsewhere { rows });
        }
    }
}

/// What is said of lengths of time, and of clock forms that may be some.
pub(super) fn of_lengths(
    draft: &mut Draft,
    evidence: &Evidence,
    (families, kinds): (&[Family<'_>], &[(Kind, u64)]),
    kind: Kind,
    lens: &Lens,
    known: &Known,
) {
    let elapsed = lens.terms.clocks == Clocks::Elapsed;
    if kind == Kind::Time && known.kind.is_none() && !elapsed {
        of_times(draft, families, kinds, known);
    }
    if kind != Kind::Duration {
        return;
    }
    let clocks = families.iter().any(|family| family.form.separators.starts_with(':'));
    if elapsed && known.kind.is_none() && clocks {
        let spans = families.iter().flat_map(|family| family.group.tallies.values());
        let latest = spans.flat_map(|tally| tally.spans.values()).map(|(_, latest)| *latest).max();
        let beyond_a_day = latest.filter(
            |latest| matches!(latest, Moment::Duration(own) if own.nanos() > i128::from(DAY)),
        );
        draft.say_first(Reason::Elapsed { longest: beyond_a_day });
    }
    let Some((rows, lowest, why)) = untold(evidence, lens) else { return };
    let languages: Vec<Locale> = match why {
        Unfit::UnclearUnit { one: (_, a), other: (_, b) } => {
            [a, b].iter().filter_map(|tag| Locale::named(tag).ok()).collect()
        }
        _ => Vec::new(),
    };
    let units = if why == Unfit::NoUnit { &USUAL_UNITS[..] } else { &[] };
    let reason = Reason::Untold { rows, lowest, why };
    match (units, &languages[..]) {
        // What is left empty is said with its reason.
        ([], []) => draft.reasons.push(reason),
        _ => {
            let ways = languages.into_iter().map(Settle::WrittenIn);
            draft.ask(
                Verdict::Undecided,
                reason,
                ways.chain(units.iter().copied().map(Settle::Unit)),
            );
        }
    }
}

/// Units that numbers alone usually have.
const USUAL_UNITS: [Unit; 4] = [Unit::SECONDS, Unit::MINUTES, Unit::HOURS, Unit::DAYS];

/// Times of day that may be lengths of time.
fn of_times(draft: &mut Draft, families: &[Family<'_>], kinds: &[(Kind, u64)], known: &Known) {
    let hours = families.iter().filter(|family| family.form.separators == "h");
    let hours: u64 = hours.map(Family::rows).sum();
    let doubted = draft.reasons.iter().any(|r| matches!(r, Reason::MayBeDurations { .. }))
        || kinds.iter().any(|(kind, _)| *kind == Kind::Duration);
    let reason = match hours {
        0 if known.speaks_of_lengths && !doubted => Some(Reason::NameOfLengths),
        0 => None,
        rows => Some(Reason::HoursOrClock { rows }),
    };
    if reason.is_some() || doubted {
        let ways = [Kind::Time, Kind::Duration].map(Settle::Kind);
        match reason {
            Some(reason) => draft.ask(Verdict::Leaning, reason, ways),
            None => {
                draft.verdict = draft.verdict.max(Verdict::Leaning);
                draft.settle.extend(ways);
            }
        }
    }
}

/// Values written as lengths of time that cannot be read, with the first of them and why.
fn untold(evidence: &Evidence, lens: &Lens) -> Option<(u64, Witness, Unfit)> {
    let layout = Layout::parse("{amounts}").ok()?;
    let unfit = |fits: Fits| !fits.fits_any();
    let groups = evidence.groups.iter().filter(|(form, _)| form.style == Style::Length);
    let (mut rows, mut first): (u64, Option<&Witness>) = (0, None);
    for (_, group) in groups {
        rows += group.rows(unfit);
        first = match (first, group.lowest(unfit)) {
            (Some(a), Some(b)) => Some(a.min(b)),
            (a, b) => a.or(b),
        };
    }
    let lowest = first?.clone();
    let why = interpret(&layout, normalise(&lowest.value, &mut String::new()), lens.terms).err()?;
    (why != Unfit::Form).then_some((rows, lowest, why))
}

/// Lengths of time none of which can be read as it stands: what is missing is a question.
pub(super) fn open(
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
    counts: Counts,
) -> Option<Judgement> {
    let (rows, lowest, why) = untold(evidence, lens)?;
    let values = counts.rows - counts.missing - counts.placeholder;
    if known.kind.is_some_and(|kind| kind != Kind::Duration) || rows * 2 < values {
        return None;
    }
    let mut draft = Draft::of(&[]);
    of_lengths(&mut draft, evidence, (&[], &[]), Kind::Duration, lens, known);
    let Draft { verdict, reasons, settle } = draft;
    let counts = Counts { contested: rows, unreadable: values - rows, ..counts };
    let blank = not_a_date(counts, Reason::Untold { rows, lowest, why });
    Some(Judgement { verdict, kind: Some(Kind::Duration), reasons, settle, ..blank })
}
