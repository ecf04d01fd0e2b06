//! What the values of one form say by themselves of how they are to be read: votes, known answers, and what was
//! claimed of their source.

use super::answer::{Answer, AnswerCheck};
use super::finding::Finding;
use super::form::{JudgedForm, State};
use super::model::Asserted;
use super::odds::{DayAndYear, enough};
use crate::candidates::{Form, Style, candidates};
use crate::evidence::{Evidence, Fits, Group, ObserveOptions};
use crate::layout::Layout;
use crate::lexicon::{Length, Locale, LocaleFormat};
use crate::order::Alternative;
use crate::text::normalise;

/// Lets the values of a form speak.
pub(super) fn weighed<'e>(
    form: &'e Form,
    group: &'e Group,
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> JudgedForm<'e> {
    judge(form, group, layouts(evidence, options, form), options, asserted)
}

/// The layouts of a form, found again from the first value of each of its shapes.
pub(super) fn layouts(
    evidence: &Evidence,
    options: &ObserveOptions,
    form: &Form,
) -> Vec<(Alternative, Layout)> {
    let mut buffer = String::new();
    let mut found: Vec<(Alternative, Layout)> = Vec::new();
    let shapes = evidence.shapes.by_frequency();
    let full_names = shapes.iter().any(|(_, tally)| tally.full_names);
    let length = if full_names { Length::Full } else { Length::Short };
    for (_, tally) in shapes.iter().filter(|(_, tally)| tally.fits > 0) {
        let value = normalise(&tally.lowest.value, &mut buffer);
        let Some(family) = candidates(value, options.terms, Some(length), options.asked) else {
            continue;
        };
        if family.form == *form {
            for candidate in family.candidates {
                let pair = (candidate.alternative, candidate.layout);
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
    layouts: Vec<(Alternative, Layout)>,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> JudgedForm<'e> {
    // Seven digits are a year and a day of the year only where some of them are. What clock forms are
    // beside times of day is for the column as a whole.
    let occurs = |order: &&Alternative| match order {
        Alternative::Ordinal => group.rows(|fits| fits.fits(Alternative::Ordinal)) > 0,
        Alternative::HoursMinutes => form.style != Style::Time,
        _ => true,
    };
    let possible: Vec<Alternative> = form.alternatives.iter().filter(occurs).copied().collect();
    let mut own = JudgedForm {
        form,
        group,
        in_play: possible.clone(),
        alternatives: possible,
        layouts,
        state: State::Undecided,
        findings: Vec::new(),
    };
    let answered: Vec<(&Answer, AnswerCheck)> = asserted
        .answers
        .iter()
        .filter_map(|answer| Some((answer, answer.checked(options)?)))
        .filter(|(_, check)| check.form == *form)
        .collect();
    match asserted.order {
        None if !answered.is_empty() => narrow(&mut own, answered),
        Some(order) if group.all_digits && own.alternatives.contains(&order.into()) => {
            own.state = State::Decided(order.into());
            own.in_play = vec![order.into()];
            own.findings.push(Finding::GivenOrder(order));
        }
        Some(_) if group.all_digits => {
            own.state = State::Refused;
            own.in_play.clear();
        }
        None => match asserted.written_in.and_then(claim) {
            Some((locale, order)) if own.alternatives.contains(&order) => {
                hold_against(&mut own, locale, order);
            }
            _ => weigh(&mut own),
        },
        Some(_) => weigh(&mut own),
    }
    own
}

/// Leaves the orders that give every known answer. What then is open is a question as usual, and
/// so are values that only an order fits that is left out.
fn narrow(form: &mut JudgedForm<'_>, answered: Vec<(&Answer, AnswerCheck)>) {
    let group = form.group;
    let consistent =
        |order: &Alternative| answered.iter().all(|(_, check)| check.consistent.contains(order));
    let left: Vec<Alternative> = form.alternatives.iter().copied().filter(consistent).collect();
    let refuted = answered.iter().find(|(_, check)| check.consistent.is_empty());
    if left.is_empty() {
        form.state = State::Undecided;
        // One answer that nothing gives, or several that contradict each other.
        let refuted = refuted.or(answered.last());
        form.findings.extend(refuted.map(|(answer, check)| Finding::NothingGives {
            answer: (*answer).clone(),
            gives: check.gives.clone(),
        }));
        return;
    }
    let lost = |fits: Fits| fits.fits_any() && !left.iter().any(|order| fits.fits(*order));
    let answers: Vec<Answer> = answered.iter().map(|(answer, _)| (*answer).clone()).collect();
    let rows = group.occurrences(lost);
    if rows.rows > 0 {
        form.state = State::Mixed;
        form.findings.push(Finding::AnswersContradicted { answers, rows });
        return;
    }
    form.in_play = left.clone();
    match left[..] {
        [only] => {
            form.state = State::Decided(only);
            form.findings.push(Finding::Answered { answers, order: only });
        }
        _ => (form.state, form.findings) = leaning(form, &left),
    }
}

/// The order that numbers have where the values were written.
fn claim(locale: Locale) -> Option<(Locale, Alternative)> {
    let layout = Layout::parse(locale.format(LocaleFormat::DateShort)?).ok()?;
    Some((locale, layout.order()?.into()))
}

/// Holds the evidence against the claim that dates have the order of a locale: one value that
/// only another order fits, and the claim is a question.
fn hold_against(form: &mut JudgedForm<'_>, locale: Locale, order: Alternative) {
    let against = |fits: Fits| !fits.fits(order) && fits.fits_any();
    let group = form.group;
    let rows = group.occurrences(against);
    if rows.rows > 0 {
        let stays = |other: &Alternative| {
            *other == order || group.rows(|fits| against(fits) && fits.fits(*other)) > 0
        };
        form.in_play = form.alternatives.iter().copied().filter(stays).collect();
        form.state = State::Mixed;
        form.findings.push(Finding::Contradicted { locale, order, rows });
        return;
    }
    form.state = State::Decided(order);
    form.in_play = vec![order];
    form.findings.push(match form.alternatives.len() {
        1 => Finding::OneForm,
        _ => Finding::Claimed { locale, order },
    });
}

/// Lets the votes decide.
fn weigh(form: &mut JudgedForm<'_>) {
    let group = form.group;
    let excluded = |loser: &Alternative| {
        form.alternatives.iter().any(|winner| {
            winner != loser
                && (enough(&group.dates, *winner, *loser) || signed(form, *winner, *loser))
                && speaking(form, *loser, *winner) == 0
        })
    };
    // Lengths of time that nothing leaves open say themselves what they are, be they ever so few.
    if let [one, other] = form.alternatives[..]
        && one.is_of_length()
        && group.rows(|fits| fits.differ(&form.alternatives)) == 0
    {
        let winner = [(one, other), (other, one)].into_iter().find(|(own, _)| {
            let against = |rival: &Alternative| *rival != *own && speaking(form, *rival, *own) > 0;
            !form.alternatives.iter().any(against)
        });
        if let Some((winner, _)) = winner {
            form.in_play = vec![winner];
            form.state = State::Decided(winner);
            form.findings.push(Finding::OneForm);
            return;
        }
    }
    let in_play: Vec<Alternative> =
        form.alternatives.iter().copied().filter(|o| !excluded(o)).collect();
    let opposed = |order: Alternative| {
        let mut rivals = form.alternatives.iter().copied();
        rivals.find(|rival| *rival != order && speaking(form, *rival, order) > 0)
    };
    // Votes for a rival, even for one that is excluded otherwise, are never overlooked. Where one order fits whatever
    // another fits, two of the others do not quarrel: neither is needed.
    let is_one_enough = in_play.iter().any(|order| opposed(*order).is_none());
    let quarrel = in_play.iter().filter(|_| !is_one_enough).find_map(|order| {
        let mut rivals = form.alternatives.iter().copied();
        let rival = rivals.find(|rival| {
            rival != order
                && speaking(form, *order, *rival) > 0
                && speaking(form, *rival, *order) > 0
        })?;
        Some([*order, rival])
    });
    let (state, reasons) = match (quarrel, &in_play[..]) {
        (Some([one, other]), _) => (State::Mixed, mixed(group, one, other)),
        (None, [winner]) if opposed(*winner).is_none() => {
            (State::Decided(*winner), decided(form, *winner))
        }
        (None, []) => leaning(form, &form.alternatives),
        (None, _) => leaning(form, &in_play),
    };
    let quarrelling: Vec<Alternative> = quarrel.into_iter().flatten().collect();
    form.in_play = match in_play[..] {
        [] => form.alternatives.clone(),
        _ => {
            let stays =
                |order: &Alternative| in_play.contains(order) || quarrelling.contains(order);
            form.alternatives.iter().copied().filter(stays).collect()
        }
    };
    form.state = state;
    form.findings = reasons;
}

/// Rows that speak for an order and against another; none where they are typing errors, as their years show.
fn speaking(form: &JudgedForm<'_>, order: Alternative, other: Alternative) -> u64 {
    let rows = form.group.rows(|fits| fits.votes(order, other));
    let are_errors = || DayAndYear::of(form.group, other).are_errors(order);
    if rows > 0 && form.has_short_years() && are_errors() { 0 } else { rows }
}

/// Different dates that vote, and all different dates that could have.
fn dates(group: &Group, winner: Alternative, loser: Alternative) -> (u64, u64) {
    let votes = group.dates.count(|fits| fits.votes(winner, loser));
    let all = group.dates.count(|_| true);
    (votes, all)
}

/// Whether the two orders take the outer parts for day and year the other way round, and the
/// parts show which is which.
fn signed(form: &JudgedForm<'_>, winner: Alternative, loser: Alternative) -> bool {
    day_or_year(winner, loser)
        && form.has_short_years()
        && DayAndYear::of(form.group, winner).signed()
        && !DayAndYear::of(form.group, loser).signed()
}

fn day_or_year(one: Alternative, other: Alternative) -> bool {
    matches!(
        (one, other),
        (Alternative::Dmy, Alternative::Ymd) | (Alternative::Ymd, Alternative::Dmy)
    )
}

fn mixed(group: &Group, one: Alternative, other: Alternative) -> Vec<Finding> {
    let side = |a: Alternative, b: Alternative| {
        let lowest = group.lowest(|fits| fits.votes(a, b)).cloned()?;
        Some((a, group.rows(|fits| fits.votes(a, b)), lowest))
    };
    let both = group.rows(|fits| fits.fits(one) && fits.fits(other));
    match (side(one, other), side(other, one)) {
        (Some(one), Some(other)) => vec![Finding::Mixed { one, other, both }],
        _ => Vec::new(),
    }
}

fn decided(form: &JudgedForm<'_>, winner: Alternative) -> Vec<Finding> {
    let group = form.group;
    let mut reasons: Vec<Finding> = Vec::new();
    for loser in form.alternatives.iter().copied().filter(|order| *order != winner) {
        if !enough(&group.dates, winner, loser) {
            let DayAndYear { day_values, year_values, .. } = DayAndYear::of(group, winner);
            reasons.push(Finding::DaySignature { order: winner, day_values, year_values });
            continue;
        }
        let votes = group.rows(|fits| fits.votes(winner, loser));
        // Against several orders speak rows that fit none of them.
        let joint = |losers: &[Alternative]| {
            group.rows(|fits| {
                losers.iter().all(|own| fits.votes(winner, *own)) && fits.votes(winner, loser)
            })
        };
        let same = reasons.iter_mut().find_map(|reason| match reason {
            Finding::Votes { rows, losers, .. } if *rows == votes && joint(losers) == votes => {
                Some(losers)
            }
            _ => None,
        });
        match same {
            Some(losers) => losers.push(loser),
            None => reasons.push(Finding::Votes {
                winner,
                losers: vec![loser],
                rows: votes,
                are_all: false,
            }),
        }
    }
    for reason in &mut reasons {
        if let Finding::Votes { losers, are_all, .. } = reason {
            *are_all = losers.len() + 1 == form.alternatives.len();
        }
    }
    if reasons.is_empty() {
        reasons.push(Finding::OneForm);
    }
    let others = form.alternatives.iter().filter(|order| **order != winner);
    let far = others.map(|order| {
        let rows = group.occurrences(|fits| fits.votes(*order, winner));
        Finding::FarByOtherOrder { order: *order, rows }
    });
    let has_rows =
        |own: &Finding| matches!(own, Finding::FarByOtherOrder { rows, .. } if rows.rows > 0);
    reasons.extend(far.filter(has_rows));
    reasons
}

/// What soft evidence says where hard evidence does not suffice.
fn leaning(form: &JudgedForm<'_>, in_play: &[Alternative]) -> (State, Vec<Finding>) {
    let group = form.group;
    // A few votes, all for one side; first for an order that none speak against.
    let is_opposed =
        |own: &&Alternative| in_play.iter().any(|rival| speaking(form, *rival, **own) > 0);
    let (opposed, others): (Vec<&Alternative>, Vec<&Alternative>) =
        in_play.iter().partition(is_opposed);
    for winner in others.into_iter().chain(opposed) {
        for loser in in_play {
            let rows = speaking(form, *winner, *loser);
            if rows > 0 {
                let (dates, of) = dates(group, *winner, *loser);
                let (winner, loser) = (*winner, *loser);
                let few = Finding::FewVotes { winner, loser, rows, dates, of };
                return (State::Leaning(winner), vec![few]);
            }
        }
    }
    if let [one, rival] = in_play
        && day_or_year(*one, *rival)
    {
        let parts = DayAndYear::of(group, *one);
        let (order, rival, day_values, year_values) = if parts.day_values >= parts.year_values {
            (*one, *rival, parts.day_values, parts.year_values)
        } else {
            (*rival, *one, parts.year_values, parts.day_values)
        };
        let reason = Finding::DayOrYear { order, rival, day_values, year_values };
        return (State::Leaning(order), vec![reason]);
    }
    let rows = match in_play.contains(&Alternative::Months) {
        // Of amounts, those whose `m` is open.
        true => group.rows(|fits| fits.differ(in_play)),
        false => form.rows(),
    };
    (State::Undecided, vec![Finding::Ambiguous { orders: in_play.to_vec(), rows }])
}
