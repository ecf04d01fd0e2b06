//! From evidence to verdict.

use std::collections::BTreeMap;

use jiff::civil::Date;

use super::answer::{Answer, Told};
use super::contenders::{contenders, example};
use super::doubts::may_be_chance;
use super::families::{Family, State, families, rows_by_kind, unusual_years};
use super::misread::Marks;
use super::{Contender, Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::calendar::Calendar;
use crate::evidence::{Evidence, Fits, Lens};
use crate::layout::Layout;
use crate::lexicon::{Difference, Languages, Lexicon, Locale};
use crate::moment::Kind;
use crate::reading::{Order, Reading, Repair, Years};

/// An honest column that looks misread is as improbable as one in ten to the power of that.
const MISREAD: u32 = 6;
/// Languages that are offered where names leave several.
const MOST_LANGUAGES: usize = 6;

/// What the evidence of a column amounts to.
///
/// ```
/// use metachron_core::evidence::{Lens, Observer};
/// use metachron_core::verdict::{Known, Verdict, judge};
/// use metachron_core::reading::Contested;
///
/// let lens = Lens::default();
/// let mut observer = Observer::new(lens.clone(), 0);
/// for (row, value) in (1..).zip(["03/04/2024", "13/04/2024", "04/13/2024"]) {
///     observer.observe(row, value);
/// }
/// let known = Known {
///     kind: None,
///     order: None,
///     written_in: None,
///     answers: Vec::new(),
///     calendar: None,
///     year: None,
///     anchor: None,
///     repair: None,
///     century: false,
///     contested: Contested::Empty,
///     as_of: jiff::civil::date(2024, 6, 1),
/// };
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
    let asked = known.order.is_some() || known.kind.is_some() || !known.answers.is_empty();
    let kinds = rows_by_kind(evidence, asked, known);
    let fit = kinds.iter().map(|(_, rows)| rows).sum::<u64>();
    let kind = known.kind.map(|kind| known.reads(kind)).or(kinds.first().map(|(kind, _)| *kind));
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
    let families = families(evidence, lens, known, asked);
    let mut reasons = reasons(&families);
    let states = families.iter().map(|family| verdict_of(family.state));
    let mut verdict = states.max().unwrap_or(Verdict::Decided);
    if let Some(tally) = evidence.typed.get(&kind) {
        reasons.insert(0, Reason::Typed { rows: tally.rows });
    }
    let mut settle = Vec::new();
    if let Some((found, reason)) = misread(evidence, &families, known) {
        verdict = verdict.max(found);
        if found.is_open() && reason != Reason::NothingToRepair {
            settle.push(Settle::Repair(Repair::HalfSwapped));
            settle.push(Settle::Repair(Repair::None));
        }
        reasons.insert(0, reason);
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
        && let Some(reason) = reaches_past_today(&families, known)
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
    let mut others = settlements(&families, kind, known);
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
    let all_typed = families.is_empty() && evidence.typed.contains_key(&kind);
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
    let reading = chosen.filter(|_| !year_is_open).map(|layouts| Reading {
        kind,
        layouts,
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
        .chain(evidence.typed.get(&kind).map(|tally| tally.fraction_digits))
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
        settle,
    }
}

/// What an earlier import has done to the column, or may have done.
fn misread(
    evidence: &Evidence,
    families: &[Family<'_>],
    known: &Known,
) -> Option<(Verdict, Reason)> {
    let marks = Marks::of(evidence, families);
    let Marks { dates, late, texts, open, rows } = marks;
    match known.repair {
        Some(Repair::None) => None,
        Some(Repair::HalfSwapped) if marks.has_both() => {
            Some((Verdict::Decided, Reason::Exchanged { rows }))
        }
        Some(Repair::HalfSwapped) => Some((Verdict::Undecided, Reason::NothingToRepair)),
        // Until it is known what the import did, neither half can be trusted.
        None if marks.are_there() => {
            let power = marks.power();
            let verdict = if power >= MISREAD { Verdict::Misread } else { Verdict::Leaning };
            Some((verdict, Reason::HalfSwapped { dates, late, texts, open, power }))
        }
        None => None,
    }
}

/// The orders still in play that give every known answer.
fn agreeing(contenders: &[Contender], lens: &Lens, known: &Known) -> Vec<Order> {
    let gives = |order: Order| {
        let given = |answer: &Answer| {
            answer.told(lens).is_some_and(|told| told.consistent.contains(&order))
        };
        !known.answers.is_empty() && known.answers.iter().all(given)
    };
    let in_play = contenders.iter().filter(|contender| contender.survives);
    in_play.map(|contender| contender.order).filter(|order| gives(*order)).collect()
}

/// The calendars by which these years lie in the last two hundred, or in the next few.
fn calendars_of(first: i16, last: i16, as_of: Date) -> impl Iterator<Item = Calendar> {
    let candidates =
        [Calendar::Buddhist, Calendar::Persian, Calendar::IslamicUmalqura, Calendar::IslamicCivil];
    let usual = as_of.year() - 200..=as_of.year() + 5;
    let lies = move |calendar: &Calendar, year: i16| {
        calendar.to_iso(year.into(), 1, 1).is_some_and(|day| usual.contains(&day.year()))
    };
    candidates.into_iter().filter(move |calendar| lies(calendar, first) && lies(calendar, last))
}

/// What is said of values without a year.
struct Yearless {
    reason: Reason,
    /// The year that the first row may have, where none was said.
    suggested: Option<i16>,
}

fn yearless(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Yearless> {
    let rows = evidence.sequences.values().map(|sequence| sequence.rows).sum::<u64>();
    let (_, sequence) = evidence.sequences.first_key_value().filter(|_| rows > 0)?;
    let years = match (&lens.years, known.year) {
        (Some(years), _) => Some(years.clone()),
        (None, year) => year.map(|year| sequence.years(year)),
    };
    if let Some(Years { first, turns, .. }) = years {
        let reason = Reason::YearOfFirst { year: first, turns, open: evidence.open_years };
        return Some(Yearless { reason, suggested: None });
    }
    // The last row lies before today.
    let turned = i16::try_from(sequence.years(0).turns.len()).unwrap_or(0);
    let this_year = known.as_of.year() - turned;
    let later = sequence.ends_after(known.as_of);
    let suggested = Some(if later { this_year - 1 } else { this_year });
    Some(Yearless { reason: Reason::NoYear { rows }, suggested })
}

/// The language in which a name is what a known answer says, if there is one.
pub(crate) fn by_answers(difference: &Difference, lens: &Lens, known: &Known) -> Option<Locale> {
    let right = |locale: &Locale| {
        !known.answers.is_empty()
            && known.answers.iter().all(|answer| answer.fits_in(lens, Lexicon::of(*locale)))
    };
    let mut right =
        difference.meanings.iter().filter_map(|(_, locales)| locales.iter().find(|l| right(l)));
    match (right.next(), right.next()) {
        (Some(locale), None) => Some(*locale),
        _ => None,
    }
}

/// Answers for values that are written as none of the column is.
fn answers_elsewhere(evidence: &Evidence, lens: &Lens, known: &Known) -> Vec<Reason> {
    let is_there = |told: &Told| evidence.groups.contains_key(&told.form);
    let elsewhere =
        known.answers.iter().filter(|answer| !answer.told(lens).as_ref().is_some_and(is_there));
    elsewhere.cloned().map(Reason::AnswerElsewhere).collect()
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

fn verdict_of(state: State) -> Verdict {
    match state {
        State::Decided(_) | State::Refused => Verdict::Decided,
        State::Leaning(_) => Verdict::Leaning,
        State::Undecided => Verdict::Undecided,
        State::Mixed => Verdict::Mixed,
    }
}

fn not_a_date(counts: Counts, reason: Reason) -> Judgement {
    Judgement {
        verdict: Verdict::NotADate,
        kind: None,
        reading: None,
        counts,
        fraction_digits: 0,
        contenders: Vec::new(),
        example: None,
        reasons: vec![reason],
        settle: Vec::new(),
    }
}

/// The analyst's layouts: they are taken as they are, and what they make of the rows is counted.
fn by_layouts(evidence: &Evidence, lens: &Lens, known: &Known, counts: Counts) -> Judgement {
    let given = &evidence.given;
    let one = lens.layouts.first().and_then(Layout::kind);
    let kind = known.kind.or(one).or(given.kind());
    let Some(kind) = kind.map(|kind| known.reads(kind)) else {
        let unreadable = counts.rows - counts.missing - counts.placeholder;
        let reason = Reason::NotDates { fit: 0, values: unreadable };
        return not_a_date(Counts { unreadable, ..counts }, reason);
    };
    let mut reasons = vec![Reason::GivenLayouts(lens.layouts.clone())];
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
        (of_kind(&given.read) + of_kind(&given.contested), 0)
    } else {
        (of_kind(&given.read), disagree)
    };
    let typed = evidence.typed.get(&kind).map_or(0, |tally| tally.rows);
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
        if found == Verdict::Misread {
            verdict = found;
            let ways = [Repair::HalfSwapped, Repair::None];
            settle.extend(ways.map(|repair| Settle::LayoutsAnd(lens.layouts.clone(), repair)));
        }
        reasons.insert(0, reason);
    }
    Judgement {
        verdict,
        kind: Some(kind),
        reading: Some(Reading {
            kind,
            layouts: lens.layouts.clone(),
            terms: lens.terms,
            years: lens.years.clone(),
            anchor: known.anchor,
            repair: known.repair.unwrap_or(Repair::None),
            contested: known.contested,
        }),
        counts: Counts { read, contested, unreadable, ..counts },
        fraction_digits: given.fraction_digits,
        contenders: Vec::new(),
        example: None,
        reasons,
        settle,
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

fn reaches_past_today(families: &[Family<'_>], known: &Known) -> Option<Reason> {
    families
        .iter()
        .filter(|family| family.has_short_years())
        .filter_map(|family| match family.state {
            State::Decided(order) => Some((family, order)),
            _ => None,
        })
        .flat_map(|(family, order)| {
            let tallies = family.group.tallies.values();
            tallies.filter_map(move |tally| tally.spans.get(&order).map(|span| span.1))
        })
        .filter(|latest| latest.date().is_some_and(|date| date > known.as_of))
        .max()
        .map(|latest| Reason::Century { latest, as_of: known.as_of })
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
    read += evidence.typed.get(&kind).map_or(0, |tally| tally.rows);
    let settled = counts.missing + counts.placeholder + read + contested;
    Counts { read, contested, unreadable: evidence.rows - settled, ..counts }
}

/// One layout list for the whole column: what is decided or favoured, or `order` where a family
/// is open. None if something stays open.
pub(super) fn chosen_layouts(
    families: &[Family<'_>],
    kind: Kind,
    known: &Known,
    order: Option<Order>,
) -> Option<Vec<Layout>> {
    let mut layouts: Vec<Layout> = Vec::new();
    for family in families {
        let chosen = match (family.state, order) {
            (State::Decided(own), _) => own,
            (State::Refused, _) => continue,
            (_, Some(order)) if family.in_play.contains(&order) => order,
            (State::Leaning(own), _) => own,
            (State::Undecided | State::Mixed, _) => return None,
        };
        let of_kind = |layout: &&Layout| layout.kind().map(|own| known.reads(own)) == Some(kind);
        for layout in family.layouts_of(chosen).filter(of_kind) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
    }
    (!layouts.is_empty()).then_some(layouts)
}

/// What would settle the open families.
fn settlements(families: &[Family<'_>], kind: Kind, known: &Known) -> Vec<Settle> {
    let open: Vec<&Family<'_>> =
        families.iter().filter(|family| verdict_of(family.state).is_open()).collect();
    if open.is_empty() {
        return Vec::new();
    }
    let mut orders: Vec<Order> = open.iter().flat_map(|family| family.in_play.clone()).collect();
    orders.sort();
    orders.dedup();
    let mut settle: Vec<Settle> = Vec::new();
    for order in &orders {
        // `--order` speaks of all-digit dates only and is strict; where it would leave other
        // written forms unread, the layouts say the same without that.
        let digits = open.iter().all(|family| family.group.all_digits);
        let strict = families.iter().filter(|family| family.group.all_digits).all(|family| {
            match family.state {
                State::Decided(own) => own == *order,
                _ => family.orders.contains(order),
            }
        });
        if digits && strict && *order != Order::Ordinal {
            let lost = |fits: crate::evidence::Fits| !fits.fits(*order) && fits.fits_any();
            let unreadable = open.iter().map(|f| f.group.rows(lost)).sum();
            settle.push(Settle::Order(*order, unreadable));
        } else if let Some(layouts) = chosen_layouts(families, kind, known, Some(*order)) {
            settle.push(Settle::Layouts(*order, layouts));
        }
    }
    if open.iter().any(|family| family.state == State::Mixed) {
        let mut both: Vec<Layout> = Vec::new();
        for order in &orders {
            both.extend(chosen_layouts(families, kind, known, Some(*order)).unwrap_or_default());
        }
        let mut seen: Vec<Layout> = Vec::new();
        both.retain(|layout| {
            let new = !seen.contains(layout);
            seen.push(layout.clone());
            new
        });
        settle.push(Settle::Both(both));
    } else if orders != [Order::None] {
        let both_day_month = orders.contains(&Order::Dmy) && orders.contains(&Order::Mdy);
        settle.push(Settle::Value(if both_day_month {
            "A few more values with a day above 12 would decide it."
        } else {
            "Values that run through all days of the month would decide it."
        }));
    }
    settle
}
