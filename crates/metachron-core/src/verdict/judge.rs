//! From evidence to verdict.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::answer::{agreeing, answers_elsewhere, by_answers};
use super::contenders::{contenders, example};
use super::doubts::may_be_chance;
use super::families::{Family, State, families, rows_by_kind, unusual_years};
use super::given::by_layouts;
use super::misread::misread;
use super::numbers;
use super::settle::{chosen_layouts, settlements};
use super::signals::{self, Signal};
use super::split::{self, FoundSplit};
use super::years::{Yearless, calendars_of, reaches_past_today, yearless};
use super::{Contender, Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::calendar::Calendar;
use crate::candidates::Style;
use crate::evidence::{Evidence, Fits, Lens, Witness};
use crate::layout::Layout;
use crate::lexicon::Languages;
use crate::moment::Kind;
use crate::reading::{Order, Reading, Repair};

/// Languages that are offered where names leave several.
const MOST_LANGUAGES: usize = 6;

/// What the evidence of a column amounts to.
///
/// ```
/// use metachron_core::evidence::{Lens, Observer};
/// use metachron_core::verdict::{Known, Verdict, judge};
///
/// let lens = Lens::default();
/// let mut observer = Observer::new(lens.clone(), 0);
/// for (row, value) in (1..).zip(["03/04/2024", "13/04/2024", "04/13/2024"]) {
///     observer.observe(row, value);
/// }
/// let known = Known::nothing(jiff::civil::date(2024, 6, 1));
/// let judgement = judge(&observer.finish(), &lens, &known);
/// assert_eq!(judgement.verdict, Verdict::Mixed);
/// assert_eq!(judgement.counts.contested, 1);
/// ```
pub fn judge(evidence: &Evidence, lens: &Lens, known: &Known) -> Judgement {
    let counts = Counts {
        rows: evidence.rows,
        missing: evidence.missing,
        placeholder: evidence.placeholder,
        ..Counts::default()
    };
    if !lens.layouts.is_empty() {
        return by_layouts(evidence, lens, known, counts);
    }
    let values = counts.rows - counts.missing - counts.placeholder;
    let asked = known.order.is_some()
        || known.kind.is_some()
        || !known.answers.is_empty()
        || lens.serials.is_some();
    let mut kinds = rows_by_kind(evidence, asked, known);
    let counted = numbers::counted(evidence, lens, known);
    if let Some((kind, rows)) = counted {
        match kinds.iter_mut().find(|(other, _)| *other == kind) {
            Some((_, others)) => *others += rows,
            None => kinds.push((kind, rows)),
        }
        kinds.sort_by_key(|(kind, rows)| std::cmp::Reverse((*rows, kind.precision())));
    }
    let fit = kinds.iter().map(|(_, rows)| rows).sum::<u64>();
    let kind = known.kind.map(|kind| known.reads(kind)).or(kinds.first().map(|(kind, _)| *kind));
    // Answers about numbers that no date in digits gives are about what they count.
    if lens.serials.is_none()
        && let [answer, ..] = &known.answers[..]
        && !answer.is_told(lens)
        && let Some(judgement) = numbers::open(evidence, known, counts)
    {
        return judgement;
    }
    let Some(kind) = kind.filter(|_| fit > 0 && (asked || fit * 2 >= values)) else {
        // Values that are dates in another language than the one that was said are no side issue.
        if let (rows, Some(lowest)) = &evidence.foreign
            && let Some(locale) = known.written_in
            && rows * 2 >= values
        {
            let reason = Reason::OtherLanguage { locale, rows: *rows, lowest: lowest.clone() };
            let counts = Counts { unreadable: values, ..counts };
            let settle = vec![Settle::Value(
                "Without --written-in for this column its names show the language.",
            )];
            return Judgement { verdict: Verdict::Undecided, settle, ..not_a_date(counts, reason) };
        }
        if let Some(judgement) = numbers::open(evidence, known, counts) {
            return judgement;
        }
        let reason = match (counts.rows, values) {
            (0, _) => Reason::NoRows,
            (_, 0) => Reason::AllMissing,
            _ => match by_chance(evidence) {
                Some((rows, dates)) if rows * 2 >= values => Reason::ByChance { rows, dates },
                other => Reason::NotDates { fit: fit + other.map_or(0, |(rows, _)| rows), values },
            },
        };
        return not_a_date(Counts { unreadable: values, ..counts }, reason);
    };
    let mut families = families(evidence, lens, known, asked);
    let signals = lean_on_signals(evidence, &mut families, lens, known);
    let mut reasons = reasons(&families);
    let states = families.iter().map(|family| verdict_of(family.state));
    let mut verdict = states.max().unwrap_or(Verdict::Decided);
    let typed: u64 = known.typed(evidence, kind).map(|tally| tally.rows).sum();
    if typed > 0 {
        reasons.insert(0, Reason::Typed { rows: typed });
    }
    if let Some(serials) = lens.serials {
        reasons.splice(0..0, numbers::reasons(evidence, serials));
    }
    let mut settle = Vec::new();
    if let Some((found, reason)) = misread(evidence, &families, known) {
        verdict = verdict.max(found);
        match reason {
            Reason::HalfSwapped { .. } => {
                settle.push(Settle::Repair(Repair::HalfSwapped, Vec::new()));
                settle.push(Settle::Repair(Repair::None, Vec::new()));
            }
            Reason::MonthYear { .. } => {
                settle.push(Settle::Repair(Repair::MonthYear, Vec::new()));
                settle.push(Settle::Repair(Repair::None, Vec::new()));
            }
            _ => {}
        }
        reasons.insert(0, reason);
    }
    if known.split.is_some() {
        verdict = verdict.max(Verdict::Undecided);
        reasons.insert(0, Reason::NoSuchPart);
    }
    let elsewhere = answers_elsewhere(evidence, lens, known);
    if !elsewhere.is_empty() {
        verdict = verdict.max(Verdict::Undecided);
        reasons.splice(0..0, elsewhere);
    }
    // What the analyst has said needs no asking.
    match evidence.languages() {
        _ if known.written_in.is_some() => {}
        Languages::None | Languages::English => {}
        Languages::One(locale) => reasons.push(Reason::NamesOf(locale)),
        Languages::Alike(languages) => reasons.push(Reason::NamesAlike(languages)),
        Languages::Several => reasons.push(Reason::NamesOfSeveral),
        Languages::Differ(difference)
            if let Some(locale) = by_answers(&difference, lens, known) =>
        {
            reasons.push(Reason::NamesOf(locale));
        }
        Languages::Differ(difference) => {
            verdict = verdict.max(Verdict::Undecided);
            let locales = difference.meanings.iter().flat_map(|(_, locales)| locales);
            settle.extend(locales.take(MOST_LANGUAGES).copied().map(Settle::WrittenIn));
            reasons.insert(0, Reason::NamesDiffer(difference));
        }
    }
    if verdict == Verdict::Decided
        && !known.century
        && let Some(reason) = reaches_past_today(evidence, &families, lens, known)
    {
        verdict = Verdict::Leaning;
        reasons.push(reason);
        settle.push(Settle::TwoDigitFrom(lens.terms.century.from));
        settle.push(Settle::TwoDigitFrom(known.as_of.year() - 99));
    }
    let calendar = lens.terms.lexicon.calendar();
    if calendar != Calendar::Gregorian {
        let usual = known.written_in.filter(|_| known.calendar.is_none());
        reasons.insert(0, Reason::InCalendar { calendar, usual });
    }
    if verdict == Verdict::Decided
        && known.calendar.is_none()
        && known.answers.is_empty()
        && let Some((first, last)) = unusual_years(&families, known)
    {
        verdict = Verdict::Leaning;
        reasons.insert(0, Reason::UnusualYears { first, last });
        let digits = families.iter().any(|family| family.group.all_digits);
        let calendars = calendars_of(first, last, known.as_of);
        // Where months have their names of ours, they are ours.
        let possible = calendars.filter(|calendar| digits || calendar.shares_months());
        settle.extend(possible.map(Settle::Calendar));
        settle.push(Settle::Calendar(Calendar::Gregorian));
    }
    for (other, rows) in kinds.iter().filter(|(other, _)| *other != kind) {
        reasons.push(Reason::OtherKind { kind: *other, rows: *rows });
    }
    if let Some(order) = known.order
        && let Some(reason) = would_fit(&families, order)
    {
        reasons.push(reason);
    }
    // Digits alone that are dates in digits are none of these.
    let digits = |family: &Family<'_>| {
        matches!(family.style, Style::Digits | Style::DigitsShortYear | Style::DigitsClock)
    };
    if lens.serials.is_none() && !families.iter().any(digits) {
        reasons.extend(numbers::beside_dates(evidence, known));
    }
    for (day, (rows, lowest)) in spikes(evidence) {
        reasons.push(Reason::Spike { day, rows, lowest });
    }
    if evidence.shapes.pooled > 0 {
        reasons.push(Reason::ManyShapes { rows: evidence.shapes.pooled });
    }
    let yearless = yearless(evidence, lens, known);
    let mut year_is_open = false;
    if let Some(Yearless { reason, suggested }) = yearless {
        year_is_open = suggested.is_some();
        reasons.insert(0, reason);
        if let Some(year) = suggested {
            verdict = verdict.max(Verdict::Undecided);
            settle.push(Settle::Year(year));
        }
    }
    let mut counts = count(evidence, &families, kind, known, counts);
    if let Some((_, rows)) = counted.filter(|(own, _)| *own == kind) {
        counts.read += rows;
        counts.unreadable -= rows.min(counts.unreadable);
    }
    counts.read -= evidence.open_years.min(counts.read);
    counts.contested += evidence.open_years;
    let example = example(&families);
    let mut contenders = contenders(&families, kind, example.as_ref(), lens, known);
    if year_is_open {
        // Whatever they give is a day of no year.
        for contender in &mut contenders {
            (contender.earliest, contender.latest, contender.example) = (None, None, None);
        }
    }
    let agreeing = agreeing(&contenders, lens, known);
    if agreeing.len() > 1 && counts.contested > 0 {
        let rows = counts.contested;
        reasons.insert(0, Reason::AnswersLeave { orders: agreeing, rows });
    }
    // That a form has one reading is worth saying only where there is nothing else to say.
    if reasons.len() > 1 {
        reasons.retain(|reason| *reason != Reason::OneForm);
    }
    let mut found = None;
    if verdict == Verdict::Mixed && known.order.is_none() && known.answers.is_empty() {
        found = split::find(evidence, &families, kind, known);
        let at = reasons.iter().position(|reason| matches!(reason, Reason::Mixed { .. }));
        let at = at.map_or(0, |at| at + 1);
        if let Some(found) = &found {
            reasons.insert(at, Reason::Split(found.clone()));
            settle.push(Settle::Split(found.clone()));
        } else {
            let estimate = split::estimate(&families);
            let nearly = split::nearly(evidence, &families);
            let nothing = estimate.is_some().then_some(Reason::NoSplit);
            let nearly = nearly.map(|(column, against)| Reason::NearlySplit { column, against });
            let wrong = estimate.map(|(contested, orders)| Reason::Wrong { contested, orders });
            reasons.splice(at..at, nearly.or(nothing).into_iter().chain(wrong));
        }
    }
    // What tells the rows apart makes other ways to settle them second to it.
    let mut others = match &found {
        Some(_) => Vec::new(),
        None => settlements(&families, kind, known),
    };
    let in_play = |contender: &&Contender| contender.survives && contender.example.is_some();
    // One answer says nothing of a column in which both orders occur.
    if verdict < Verdict::Mixed
        && let Some(example) = &example
        && let [first, _, ..] = contenders.iter().filter(in_play).collect::<Vec<_>>()[..]
        && let Some(moment) = first.example
    {
        // Before what only describes a value that would decide.
        let at = others.iter().position(|way| matches!(way, Settle::Value(_)));
        others.insert(at.unwrap_or(others.len()), Settle::Answer(example.value.clone(), moment));
    }
    settle.extend(others);
    let all_typed = families.is_empty() && (typed > 0 || counted.is_some());
    let chosen = match all_typed {
        true => Some(Vec::new()),
        false => chosen_layouts(&families, kind, known, None),
    };
    if verdict == Verdict::Decided && chosen.is_none() {
        // The analyst asked for an order that none of the written forms can have.
        verdict = Verdict::Undecided;
        let possible = contenders.iter().filter(|contender| contender.fits > 0);
        settle.extend(possible.map(|contender| Settle::Order(contender.order, 0)));
    }
    // What tells the rows apart is a reading to be accepted.
    let (chosen, split) = match found {
        Some(FoundSplit { layouts, split, .. }) => (Some(layouts), split),
        None => (chosen, None),
    };
    let reading = chosen.filter(|_| !year_is_open).map(|layouts| Reading {
        kind,
        layouts,
        split,
        serials: lens.serials,
        terms: lens.terms,
        years: lens.years.clone(),
        anchor: known.anchor,
        repair: known.repair.unwrap_or(Repair::None),
        contested: known.contested,
    });
    let fraction_digits = evidence
        .groups
        .values()
        .flat_map(|group| &group.tallies)
        .filter(|((_, other), _)| known.reads(*other) == kind)
        .map(|(_, tally)| tally.fraction_digits)
        .chain(known.typed(evidence, kind).map(|tally| tally.fraction_digits))
        .chain(counted.map(|_| evidence.given.fraction_digits))
        .max()
        .unwrap_or(0);
    Judgement {
        verdict,
        kind: Some(kind),
        reading,
        counts,
        fraction_digits,
        contenders,
        example,
        reasons,
        signals,
        origins: Vec::new(),
        settle,
    }
}

/// Families that nothing hard decides lean to what all soft evidence speaks for.
fn lean_on_signals(
    evidence: &Evidence,
    families: &mut [Family<'_>],
    lens: &Lens,
    known: &Known,
) -> Vec<Signal> {
    let mut all: Vec<Signal> = Vec::new();
    for family in families.iter_mut().filter(|family| verdict_of(family.state).is_open()) {
        let mut own = signals::of_family(evidence, family, lens.terms.century, known);
        own.extend(known.signals.clone());
        own.retain(|signal| family.in_play.contains(&signal.favours));
        if family.state == State::Undecided && !own.is_empty() {
            match signals::agreed(&own, &family.in_play) {
                Some(order) => {
                    family.state = State::Leaning(order);
                    family.reasons.push(Reason::Soft(own.clone()));
                }
                None => family.reasons.push(Reason::SoftDivided(own.clone())),
            }
        }
        all.extend(own.into_iter().filter(|signal| !all.contains(signal)).collect::<Vec<_>>());
    }
    all
}

/// Numbers that are dates, but may be so by chance, and how many are different.
fn by_chance(evidence: &Evidence) -> Option<(u64, u64)> {
    let chance = evidence.groups.iter().filter(|(form, group)| may_be_chance(form, group));
    let (mut rows, mut dates) = (0, 0);
    for (_, group) in chance {
        rows += group.rows(Fits::fits_any);
        dates += group.dates.count(Fits::fits_any);
    }
    (rows > 0).then_some((rows, dates))
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

pub(super) fn verdict_of(state: State) -> Verdict {
    match state {
        State::Decided(_) | State::Refused => Verdict::Decided,
        State::Leaning(_) => Verdict::Leaning,
        State::Undecided => Verdict::Undecided,
        State::Mixed => Verdict::Mixed,
    }
}

pub(super) fn not_a_date(counts: Counts, reason: Reason) -> Judgement {
    Judgement {
        verdict: Verdict::NotADate,
        kind: None,
        reading: None,
        counts,
        fraction_digits: 0,
        contenders: Vec::new(),
        example: None,
        reasons: vec![reason],
        signals: Vec::new(),
        origins: Vec::new(),
        settle: Vec::new(),
    }
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

/// What becomes of every row.
fn count(
    evidence: &Evidence,
    families: &[Family<'_>],
    kind: Kind,
    known: &Known,
    counts: Counts,
) -> Counts {
    let (mut read, mut contested) = (0, 0);
    for family in families {
        for ((fits, other), tally) in &family.group.tallies {
            if known.reads(*other) != kind {
                continue;
            }
            if fits.differ(&family.in_play) {
                contested += tally.rows;
            } else if family.in_play.iter().any(|order| fits.fits(*order)) {
                read += tally.rows;
            }
        }
    }
    read += known.typed(evidence, kind).map(|tally| tally.rows).sum::<u64>();
    let settled = counts.missing + counts.placeholder + read + contested;
    Counts { read, contested, unreadable: evidence.rows - settled, ..counts }
}

/// The layouts of a column whose all-digit dates have this order; none if none can have it.
pub(crate) fn layouts_in_order(
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
    order: Order,
) -> Option<Vec<Layout>> {
    let kinds = rows_by_kind(evidence, true, known);
    let kind = known.kind.map(|kind| known.reads(kind)).or(kinds.first().map(|(kind, _)| *kind))?;
    let families = families(evidence, lens, known, true);
    let mut layouts: Vec<Layout> = Vec::new();
    let mut possible = false;
    for family in &families {
        let own = match family.state {
            _ if family.group.all_digits && family.orders.contains(&order) => Some(order),
            State::Decided(own) | State::Leaning(own) => Some(own),
            _ => None,
        };
        possible |= own == Some(order);
        let own = own.into_iter().flat_map(|own| family.layouts_of(own));
        for layout in own.filter(|l| l.kind().map(|kind| known.reads(kind)) == Some(kind)) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
    }
    possible.then_some(layouts)
}
