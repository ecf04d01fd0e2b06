//! From evidence to verdict.

use super::answer::agreeing;
use super::contenders::{contenders, example};
use super::doubts::may_be_chance;
use super::draft::{
    Draft, of_calendars, of_cells, of_centuries, of_claims, of_imports, of_missing_years,
    of_mixtures, of_names, of_other_values, of_places,
};
use super::families::{Family, State, families, rows_by_kind};
use super::given::by_layouts;
use super::lengths;
use super::numbers;
use super::settle::{chosen_layouts, settlements};
use super::signals::{self, Signal};
use super::split::FoundSplit;
use super::{Contender, Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::candidates::Style;
use crate::evidence::{Evidence, Fits, Lens, Witness};
use crate::layout::Layout;
use crate::moment::Kind;
use crate::reading::{Order, Reading};

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
    let kinds = rows_by_kind(evidence, asked, lens, known);
    let fit = kinds.iter().map(|(_, rows)| rows).sum::<u64>();
    // Answers about numbers that no date in digits gives are about what they count.
    let about_counts = || known.answers.first().is_some_and(|answer| !answer.is_told(lens));
    if lens.serials.is_none()
        && about_counts()
        && let Some(judgement) = numbers::open(evidence, known, counts)
    {
        return judgement;
    }
    let kind = known.kind.map(|kind| known.reads(kind)).or(kinds.first().map(|(kind, _)| *kind));
    let Some(kind) = kind.filter(|_| fit > 0 && (asked || fit * 2 >= values)) else {
        return lengths::open(evidence, lens, known, counts)
            .unwrap_or_else(|| without_kind(evidence, known, counts, fit));
    };
    let mut families = families(evidence, lens, known, asked);
    // Lengths of time beside times of day are of another kind.
    families.retain(|family| kind != Kind::Time || family.style != Style::Length);
    let signals = lean_on_signals(evidence, &mut families, lens, known);
    let mut draft = Draft::of(&families);
    of_cells(&mut draft, evidence, kind, lens, known);
    of_imports(&mut draft, evidence, &families, known);
    of_claims(&mut draft, evidence, lens, known);
    of_names(&mut draft, evidence, lens, known);
    of_centuries(&mut draft, evidence, &families, lens, known);
    of_calendars(&mut draft, &families, lens, known);
    of_other_values(&mut draft, evidence, &families, &kinds, kind, lens, known);
    of_places(&mut draft, evidence, kind, lens, known);
    lengths::of_lengths(&mut draft, evidence, (&families, &kinds), kind, lens, known);
    let year_is_open = of_missing_years(&mut draft, evidence, lens, known);
    let counts = count(evidence, &families, kind, lens, known, counts);
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
        draft.say_first(Reason::AnswersLeave { orders: agreeing, rows: counts.contested });
    }
    // That a form has one reading is worth saying only where there is nothing else to say.
    if draft.reasons.len() > 1 {
        draft.reasons.retain(|reason| *reason != Reason::OneForm);
    }
    let found = of_mixtures(&mut draft, evidence, &families, kind, known);
    // What tells the rows apart makes other ways to settle them second to it.
    if found.is_none() {
        let ways = settlements(&families, kind, known);
        draft.settle.extend(with_an_answer(ways, draft.verdict, example.as_ref(), &contenders));
    }
    // Cells and numbers need no layouts.
    let needs_none = known.typed(evidence, kind).next().is_some()
        || numbers::counted(evidence, lens, known).is_some();
    let chosen = match families.is_empty() && needs_none {
        true => Some(Vec::new()),
        false => chosen_layouts(&families, kind, known, None),
    };
    if draft.verdict == Verdict::Decided && chosen.is_none() {
        // The analyst asked for an order that none of the written forms can have.
        draft.verdict = Verdict::Undecided;
        let possible = contenders.iter().filter(|contender| contender.fits > 0);
        draft.settle.extend(possible.map(|contender| Settle::Order(contender.order, 0)));
    }
    // What tells the rows apart is a reading to be accepted.
    let (chosen, split) = match found {
        Some(FoundSplit { layouts, split, .. }) => (Some(layouts), split),
        None => (chosen, None),
    };
    let reading = chosen
        .filter(|_| !year_is_open)
        .map(|layouts| Reading { split, ..known.reading(kind, layouts, lens) });
    let Draft { verdict, reasons, settle } = draft;
    Judgement {
        verdict,
        kind: Some(kind),
        reading,
        counts,
        fraction_digits: fraction_digits(evidence, kind, lens, known),
        contenders,
        example,
        reasons,
        signals,
        origins: Vec::new(),
        settle,
    }
}

/// A column of which nobody can say what its values are.
fn without_kind(evidence: &Evidence, known: &Known, counts: Counts, fit: u64) -> Judgement {
    let values = counts.rows - counts.missing - counts.placeholder;
    let unreadable = Counts { unreadable: values, ..counts };
    // Values that are dates in another language than the one that was said are no side issue.
    if let (rows, Some(lowest)) = &evidence.foreign
        && let Some(locale) = known.written_in
        && rows * 2 >= values
    {
        let reason = Reason::OtherLanguage { locale, rows: *rows, lowest: lowest.clone() };
        let settle = vec![Settle::Value(
            "Without --written-in for this column its names show the language.",
        )];
        return Judgement { verdict: Verdict::Undecided, settle, ..not_a_date(unreadable, reason) };
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
    not_a_date(unreadable, reason)
}

/// These ways to settle a column, and a known answer; one answer says nothing of a column in which
/// both orders occur.
fn with_an_answer(
    mut ways: Vec<Settle>,
    verdict: Verdict,
    example: Option<&Witness>,
    contenders: &[Contender],
) -> Vec<Settle> {
    let in_play = |contender: &&Contender| contender.survives && contender.example.is_some();
    if verdict < Verdict::Mixed
        && let Some(example) = example
        && let [first, _, ..] = contenders.iter().filter(in_play).collect::<Vec<_>>()[..]
        && let Some(moment) = first.example
    {
        // Before what only describes a value that would decide.
        let at = ways.iter().position(|way| matches!(way, Settle::Value(_)));
        ways.insert(at.unwrap_or(ways.len()), Settle::Answer(example.value.clone(), moment));
    }
    ways
}

/// The most digits of a fraction of a second.
fn fraction_digits(evidence: &Evidence, kind: Kind, lens: &Lens, known: &Known) -> u8 {
    let written = evidence
        .groups
        .values()
        .flat_map(|group| &group.tallies)
        .filter(|((_, other), _)| known.reads(*other) == kind)
        .map(|(_, tally)| tally.fraction_digits);
    let typed = known.typed(evidence, kind).map(|tally| tally.fraction_digits);
    let counted = lens.serials.map(|_| evidence.given.fraction_digits);
    written.chain(typed).chain(counted).max().unwrap_or(0)
}

/// Families that nothing hard decides lean to what all soft evidence speaks for.
fn lean_on_signals(
    evidence: &Evidence,
    families: &mut [Family<'_>],
    lens: &Lens,
    known: &Known,
) -> Vec<Signal> {
    let mut all: Vec<Signal> = Vec::new();
    for family in families.iter_mut().filter(|family| {
        // What speaks of days does not speak of lengths.
        verdict_of(family.state).is_open() && family.style != Style::Length
    }) {
        let mut own = signals::of_family(evidence, family, lens.terms.century, known);
        own.extend(known.signals.clone());
        own.retain(|signal| family.in_play.contains(&signal.favours));
        let leaning: Vec<Signal> = own.iter().filter(|own| own.what.leans()).cloned().collect();
        if family.state == State::Undecided && !leaning.is_empty() {
            match signals::agreed(&leaning, &family.in_play) {
                Some(order) => {
                    family.state = State::Leaning(order);
                    family.reasons.push(Reason::Soft(leaning));
                }
                None => family.reasons.push(Reason::SoftDivided(leaning)),
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

/// What becomes of every row.
fn count(
    evidence: &Evidence,
    families: &[Family<'_>],
    kind: Kind,
    lens: &Lens,
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
    let counted = numbers::counted(evidence, lens, known).filter(|(own, _)| *own == kind);
    read += counted.map_or(0, |(_, rows)| rows);
    let settled = counts.missing + counts.placeholder + read + contested;
    let unreadable = evidence.rows - settled;
    // Rows of which the sequence does not say the year.
    let open_years = evidence.open_years;
    let (read, contested) = (read - open_years.min(read), contested + open_years);
    Counts { read, contested, unreadable, ..counts }
}

/// The layouts of a column whose all-digit dates have this order; none if none can have it.
pub(crate) fn layouts_in_order(
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
    order: Order,
) -> Option<Vec<Layout>> {
    let kinds = rows_by_kind(evidence, true, lens, known);
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
