//! Judges the families of a column one by one: the values of one form.

use std::collections::BTreeSet;

use super::answer::{Answer, Told};
use super::doubts::{doubt, may_be_chance};
use super::lengths::{lean_on_hours, reads};
use super::numbers::counted;
use super::signature::Parts;
use super::{Known, Reason};
use crate::candidates::{Form, Style, candidates};
use crate::evidence::{DistinctDates, Evidence, Fits, Group, Lens};
use crate::layout::{Field, Layout};
use crate::lexicon::{Format, Length, Locale};
use crate::moment::Kind;
use crate::reading::{Order, Repair};
use crate::text::normalise;

/// The values of one form, and what is known of their order.
pub(super) struct Family<'e> {
    pub form: &'e Form,
    pub group: &'e Group,
    pub style: Style,
    pub orders: Vec<Order>,
    /// Layouts by order, with the rows that have them, the most frequent first.
    pub layouts: Vec<(Order, Layout)>,
    /// Orders that are not excluded.
    pub in_play: Vec<Order>,
    pub state: State,
    pub reasons: Vec<Reason>,
}

/// What is known of the order of a family.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum State {
    Decided(Order),
    /// The analyst asked for an order that this form cannot have.
    Refused,
    Leaning(Order),
    Undecided,
    Mixed,
}

impl Family<'_> {
    /// Rows of this family that fit some order.
    pub(super) fn rows(&self) -> u64 {
        self.group.rows(|fits| reads(self.style, fits))
    }

    pub(super) fn layouts_of(&self, order: Order) -> impl Iterator<Item = &Layout> {
        self.layouts.iter().filter(move |(other, _)| *other == order).map(|(_, layout)| layout)
    }

    pub(super) fn has_short_years(&self) -> bool {
        self.layouts.iter().any(|(_, layout)| layout.has(Field::YearTwo))
    }
}

/// All families of a column, judged; forms that may be dates by chance only if they are `asked` for.
pub(super) fn families<'e>(
    evidence: &'e Evidence,
    lens: &Lens,
    known: &Known,
    asked: bool,
) -> Vec<Family<'e>> {
    let mut families: Vec<Family<'_>> = evidence
        .groups
        .iter()
        // Where nothing fits, nothing is said for or against an order.
        .filter(|(_, group)| group.rows(Fits::fits_any) > 0)
        .filter(|(form, group)| asked || !may_be_chance(form, group))
        .map(|(form, group)| {
            let mut family = judge(form, group, layouts(evidence, lens, form), lens, known);
            if let State::Decided(order) = family.state
                && !asked
                // An import that took the year for a day has shown that it is one.
                && !(known.repair == Some(Repair::MonthYear) && form.style == Style::CoarseOpen)
                && let Some(doubt) = doubt(form, group, order)
            {
                family.state = State::Leaning(order);
                // What speaks for the order stays; that the form has one reading is what is doubted.
                family.reasons.retain(|reason| *reason != Reason::OneForm);
                family.reasons.push(doubt);
            }
            family
        })
        .collect();
    lean_on_others(&mut families);
    lean_on_hours(&mut families);
    // The family with the most rows speaks first; equal ones keep the order of their separators.
    families.sort_by_key(|family| std::cmp::Reverse(family.rows()));
    families
}

/// The layouts of a family, found again from the first value of each of its shapes.
fn layouts(evidence: &Evidence, lens: &Lens, form: &Form) -> Vec<(Order, Layout)> {
    let mut buffer = String::new();
    let mut found: Vec<(Order, Layout)> = Vec::new();
    let shapes = evidence.shapes.by_frequency();
    let full_names = shapes.iter().any(|(_, tally)| tally.full_names);
    let length = if full_names { Length::Full } else { Length::Short };
    for (_, tally) in shapes.iter().filter(|(_, tally)| tally.fits > 0) {
        let value = normalise(&tally.lowest.value, &mut buffer);
        let Some(family) = candidates(value, lens.terms, Some(length), lens.asked) else {
            continue;
        };
        if family.form == *form {
            for candidate in family.candidates {
                let pair = (candidate.order, candidate.layout);
                if !found.contains(&pair) {
                    found.push(pair);
                }
            }
        }
    }
    found
}

fn judge<'e>(
    form: &'e Form,
    group: &'e Group,
    layouts: Vec<(Order, Layout)>,
    lens: &Lens,
    known: &Known,
) -> Family<'e> {
    // Seven digits are a year and a day of the year only where some of them are. What clock forms are
    // beside times of day is for the column as a whole.
    let occurs = |order: &&Order| match order {
        Order::Ordinal => group.rows(|fits| fits.fits(Order::Ordinal)) > 0,
        Order::HoursMinutes => form.style != Style::Time,
        _ => true,
    };
    let orders: Vec<Order> = form.orders.iter().filter(occurs).copied().collect();
    let mut family = Family {
        form,
        group,
        style: form.style,
        in_play: orders.to_vec(),
        orders: orders.to_vec(),
        layouts,
        state: State::Undecided,
        reasons: Vec::new(),
    };
    let told: Vec<(&Answer, Told)> = known
        .answers
        .iter()
        .filter_map(|answer| Some((answer, answer.told(lens)?)))
        .filter(|(_, told)| told.form == *form)
        .collect();
    match known.order {
        None if !told.is_empty() => narrow(&mut family, told),
        Some(order) if group.all_digits && family.orders.contains(&order) => {
            family.state = State::Decided(order);
            family.in_play = vec![order];
            family.reasons.push(Reason::GivenOrder(order));
        }
        Some(_) if group.all_digits => {
            family.state = State::Refused;
            family.in_play.clear();
        }
        None => match known.written_in.and_then(claim) {
            Some((locale, order)) if family.orders.contains(&order) => {
                hold_against(&mut family, locale, order);
            }
            _ => weigh(&mut family),
        },
        Some(_) => weigh(&mut family),
    }
    family
}

/// Years in which dates of our calendar usually lie: from the first printed almanacs to a century
/// after today.
const USUAL_FROM: i16 = 1500;
const USUAL_AHEAD: i16 = 100;

/// The years of a column whose dates for the most part lie where those of another calendar would:
/// Buddhist years are 543 ahead, Persian and Islamic ones some 600 behind.
pub(super) fn unusual_years(families: &[Family<'_>], known: &Known) -> Option<(i16, i16)> {
    let usual = USUAL_FROM..=known.as_of.year().saturating_add(USUAL_AHEAD);
    let (mut all, mut unusual) = (0, Vec::new());
    let dated = |family: &&Family<'_>| !matches!(family.style, Style::Time | Style::Length);
    for family in families.iter().filter(dated).filter(|family| !family.has_short_years()) {
        let State::Decided(order) = family.state else { continue };
        let year_at = Parts::place_of_year(order);
        for (written, _) in family.group.dates.iter().filter(|(_, fits)| fits.fits(order)) {
            all += 1;
            unusual.extend(Some(written[year_at]).filter(|year| !usual.contains(year)));
        }
    }
    let (first, last) = (*unusual.iter().min()?, *unusual.iter().max()?);
    (unusual.len() * 2 > all).then_some((first, last))
}

/// Leaves the orders that give every known answer. What then is open is a question as usual, and
/// so are values that only an order fits that is left out.
fn narrow(family: &mut Family<'_>, told: Vec<(&Answer, Told)>) {
    let group = family.group;
    let consistent = |order: &Order| told.iter().all(|(_, told)| told.consistent.contains(order));
    let left: Vec<Order> = family.orders.iter().copied().filter(consistent).collect();
    let refuted = told.iter().find(|(_, told)| told.consistent.is_empty());
    if left.is_empty() {
        family.state = State::Undecided;
        // One answer that nothing gives, or several that contradict each other.
        let refuted = refuted.or(told.last());
        family.reasons.extend(refuted.map(|(answer, told)| Reason::NothingGives {
            answer: (*answer).clone(),
            gives: told.gives.clone(),
        }));
        return;
    }
    let lost = |fits: Fits| fits.fits_any() && !left.iter().any(|order| fits.fits(*order));
    let answers: Vec<Answer> = told.iter().map(|(answer, _)| (*answer).clone()).collect();
    if let Some(lowest) = group.lowest(lost).cloned() {
        family.state = State::Mixed;
        let rows = group.rows(lost);
        family.reasons.push(Reason::AnswersContradicted { answers, rows, lowest });
        return;
    }
    family.in_play = left.clone();
    match left[..] {
        [only] => {
            family.state = State::Decided(only);
            family.reasons.push(Reason::Answered { answers, order: only });
        }
        _ => (family.state, family.reasons) = leaning(family, &left),
    }
}

/// The order that numbers have where the values were written.
fn claim(locale: Locale) -> Option<(Locale, Order)> {
    let layout = Layout::parse(locale.format(Format::DateShort)?).ok()?;
    Some((locale, layout.order()?))
}

/// Holds the evidence against the claim that dates have the order of a locale: one value that
/// only another order fits, and the claim is a question.
fn hold_against(family: &mut Family<'_>, locale: Locale, order: Order) {
    let against = |fits: Fits| !fits.fits(order) && fits.fits_any();
    let rows = family.group.rows(against);
    match family.group.lowest(against).cloned() {
        None => {
            family.state = State::Decided(order);
            family.in_play = vec![order];
            if family.orders.len() > 1 {
                family.reasons.push(Reason::Claimed { locale, order });
            } else {
                family.reasons.push(Reason::OneForm);
            }
        }
        Some(lowest) => {
            let group = family.group;
            let stays = |other: &Order| {
                *other == order || group.rows(|fits| against(fits) && fits.fits(*other)) > 0
            };
            family.in_play = family.orders.iter().copied().filter(stays).collect();
            family.state = State::Mixed;
            family.reasons.push(Reason::Contradicted { locale, order, rows, lowest });
        }
    }
}

/// Lets the votes decide.
fn weigh(family: &mut Family<'_>) {
    let group = family.group;
    let votes = |winner, loser| group.rows(|fits: Fits| fits.votes(winner, loser));
    let excluded = |loser: &Order| {
        family.orders.iter().any(|winner| {
            winner != loser
                && votes(*loser, *winner) == 0
                && (enough(&group.dates, *winner, *loser) || signed(family, *winner, *loser))
        })
    };
    // Lengths of time that nothing leaves open say themselves what they are, be they ever so few.
    if let [one, other] = family.orders[..]
        && one.is_of_length()
        && group.rows(|fits| fits.differ(&family.orders)) == 0
    {
        let winner = [(one, other), (other, one)].into_iter().find(|(own, _)| {
            let against = |rival: &Order| *rival != *own && votes(*rival, *own) > 0;
            !family.orders.iter().any(against)
        });
        if let Some((winner, _)) = winner {
            family.in_play = vec![winner];
            family.state = State::Decided(winner);
            family.reasons.push(Reason::OneForm);
            return;
        }
    }
    let in_play: Vec<Order> = family.orders.iter().copied().filter(|o| !excluded(o)).collect();
    let opposed = |order: Order| {
        family.orders.iter().copied().find(|rival| *rival != order && votes(*rival, order) > 0)
    };
    // Votes for a rival, even for one that is excluded otherwise, are never overlooked.
    let quarrel = in_play.iter().find_map(|order| {
        let mut rivals = family.orders.iter().copied();
        let rival = rivals.find(|rival| {
            rival != order && votes(*order, *rival) > 0 && votes(*rival, *order) > 0
        })?;
        Some([*order, rival])
    });
    let (state, reasons) = match (quarrel, &in_play[..]) {
        (Some([one, other]), _) => (State::Mixed, mixed(group, one, other)),
        (None, [winner]) if opposed(*winner).is_none() => {
            (State::Decided(*winner), decided(family, *winner))
        }
        (None, []) => leaning(family, &family.orders),
        (None, _) => leaning(family, &in_play),
    };
    let quarrelling: Vec<Order> = quarrel.into_iter().flatten().collect();
    family.in_play = match in_play[..] {
        [] => family.orders.clone(),
        _ => {
            let stays = |order: &Order| in_play.contains(order) || quarrelling.contains(order);
            family.orders.iter().copied().filter(stays).collect()
        }
    };
    family.state = state;
    family.reasons = reasons;
}

/// Different dates that vote, and all different dates that could have.
fn dates(group: &Group, winner: Order, loser: Order) -> (u64, u64) {
    let votes = group.dates.count(|fits| fits.votes(winner, loser));
    let all = group.dates.count(|_| true);
    (votes, all)
}

/// Whether the votes are too many for typing errors.
pub(super) fn enough(dates: &DistinctDates, winner: Order, loser: Order) -> bool {
    let votes = dates.count(|fits| fits.votes(winner, loser));
    let all = dates.count(|_| true);
    let least = if all > 12 { 3 } else { 2 };
    if dates.is_exact() {
        return votes >= least && votes * 100 > all * 3;
    }
    // Of a sample, the share must be above the bound by three standard errors.
    let share = votes as f64 / all.max(1) as f64;
    let error = (share * (1.0 - share) / all.max(1) as f64).sqrt();
    votes >= least && share - 3.0 * error > 0.03
}

/// Whether the two orders take the outer parts for day and year the other way round, and the
/// parts show which is which.
fn signed(family: &Family<'_>, winner: Order, loser: Order) -> bool {
    day_or_year(winner, loser)
        && family.has_short_years()
        && Parts::of(&family.group.dates, winner).signed()
        && !Parts::of(&family.group.dates, loser).signed()
}

fn day_or_year(one: Order, other: Order) -> bool {
    matches!((one, other), (Order::Dmy, Order::Ymd) | (Order::Ymd, Order::Dmy))
}

fn mixed(group: &Group, one: Order, other: Order) -> Vec<Reason> {
    let side = |a: Order, b: Order| {
        let lowest = group.lowest(|fits| fits.votes(a, b)).cloned()?;
        Some((a, group.rows(|fits| fits.votes(a, b)), lowest))
    };
    let both = group.rows(|fits| fits.fits(one) && fits.fits(other));
    match (side(one, other), side(other, one)) {
        (Some(one), Some(other)) => vec![Reason::Mixed { one, other, both }],
        _ => Vec::new(),
    }
}

fn decided(family: &Family<'_>, winner: Order) -> Vec<Reason> {
    let group = family.group;
    let mut reasons: Vec<Reason> = Vec::new();
    for loser in family.orders.iter().copied().filter(|order| *order != winner) {
        if !enough(&group.dates, winner, loser) {
            let Parts { day_values, year_values, .. } = Parts::of(&group.dates, winner);
            reasons.push(Reason::DaySignature { order: winner, day_values, year_values });
            continue;
        }
        let votes = group.rows(|fits| fits.votes(winner, loser));
        let same = reasons.iter_mut().find_map(|reason| match reason {
            Reason::Votes { rows, losers, .. } if *rows == votes => Some(losers),
            _ => None,
        });
        match same {
            Some(losers) => losers.push(loser),
            None => reasons.push(Reason::Votes { winner, losers: vec![loser], rows: votes }),
        }
    }
    if reasons.is_empty() {
        reasons.push(Reason::OneForm);
    }
    reasons
}

/// What soft evidence says where hard evidence does not suffice.
fn leaning(family: &Family<'_>, in_play: &[Order]) -> (State, Vec<Reason>) {
    let group = family.group;
    // A few votes, all for one side.
    for winner in in_play {
        for loser in in_play {
            let rows = group.rows(|fits| fits.votes(*winner, *loser));
            if rows > 0 {
                let (dates, of) = dates(group, *winner, *loser);
                let few = Reason::FewVotes { winner: *winner, rows, dates, of };
                return (State::Leaning(*winner), vec![few]);
            }
        }
    }
    if let [one, rival] = in_play
        && day_or_year(*one, *rival)
    {
        let parts = Parts::of(&group.dates, *one);
        let (order, rival, day_values, year_values) = if parts.day_values >= parts.year_values {
            (*one, *rival, parts.day_values, parts.year_values)
        } else {
            (*rival, *one, parts.year_values, parts.day_values)
        };
        let reason = Reason::DayOrYear { order, rival, day_values, year_values };
        return (State::Leaning(order), vec![reason]);
    }
    let rows = match in_play.contains(&Order::Months) {
        // Of amounts, those whose `m` is open.
        true => group.rows(|fits| fits.differ(in_play)),
        false => family.rows(),
    };
    (State::Undecided, vec![Reason::Ambiguous { orders: in_play.to_vec(), rows }])
}

/// A family without evidence of its own leans toward the order that another one has.
fn lean_on_others(families: &mut [Family<'_>]) {
    let decided: BTreeSet<Order> = families
        .iter()
        .filter(|family| family.orders.len() > 1)
        .filter_map(|family| match family.state {
            State::Decided(order) => Some(order),
            _ => None,
        })
        .collect();
    let mut decided = decided.into_iter();
    let (Some(order), None) = (decided.next(), decided.next()) else { return };
    for family in families {
        if family.state == State::Undecided && family.in_play.contains(&order) {
            family.state = State::Leaning(order);
            family.reasons.push(Reason::OtherForm { order, rows: family.rows() });
        }
    }
}

/// Rows by kind that fit some order, over all families.
pub(super) fn rows_by_kind(
    evidence: &Evidence,
    asked: bool,
    lens: &Lens,
    known: &Known,
) -> Vec<(Kind, u64)> {
    let groups =
        evidence.groups.iter().filter(|(form, group)| asked || !may_be_chance(form, group));
    let written = groups
        .flat_map(|(form, group)| group.tallies.iter().map(|tally| (form.style, tally)))
        .filter(|(style, ((fits, _), _))| reads(*style, *fits))
        .map(|(_, ((_, kind), tally))| (known.reads(*kind), tally.rows));
    let typed = evidence.typed.iter().map(|(kind, tally)| (known.reads(*kind), tally.rows));
    let mut kinds: Vec<(Kind, u64)> = Vec::new();
    for (kind, rows) in written.chain(typed).chain(counted(evidence, lens, known)) {
        match kinds.iter_mut().find(|(other, _)| *other == kind) {
            Some((_, others)) => *others += rows,
            None => kinds.push((kind, rows)),
        }
    }
    // The most frequent kind first; of equally frequent ones, the one that says most.
    kinds.sort_by_key(|(kind, rows)| std::cmp::Reverse((*rows, kind.precision())));
    kinds
}
