//! Rows that something sets apart, and of which not a single one tells its order, while the others do: votes do not
//! cross to another hand. It is another hand where the same one would have told by now.

use std::collections::{BTreeMap, BTreeSet};

use super::hands::{Hand, hands, sample};
use crate::evidence::{Fits, VoteRuns};
use crate::order::{Alternative, Order};
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::found::Found;
use crate::verdict::mixture::Apart;
use crate::verdict::model::Settle;
use crate::verdict::odds::{BY_CHANCE, OPEN, power};
use crate::verdict::ruled_out::RuledOut;

/// Blocks of rows can be cut anywhere, so so much more is demanded of them.
const BLOCKS: f64 = 100.0;

/// Of each form that is decided, the rows set apart that are least likely of the same hand.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let forms = case.forms.iter().enumerate().filter(|_| case.order_is_unsaid());
    let found = forms.filter_map(|(at, form)| {
        let finding = of_form(case, form)?;
        let ways = apart(form, &finding).into_iter().collect();
        Some(Found { ways, ..Found::doubt(at, finding).or_told(case) })
    });
    found.collect()
}

/// That the hand writes in the other order, where a column tells it from the others.
fn apart(form: &JudgedForm<'_>, finding: &Finding) -> Option<Settle> {
    let Finding::UntoldHand { apart: Apart::Beside { column, value }, .. } = finding else {
        return None;
    };
    let Decision { order, rival } = Decision::of(form)?;
    Some(Settle::AllBut {
        column: column.clone(),
        value: value.clone(),
        order: Order::try_from(rival).ok()?,
        usual: Order::try_from(order).ok()?,
    })
}

/// Two orders, the first of which is decided against the other.
struct Decision {
    order: Alternative,
    rival: Alternative,
}

impl Decision {
    fn of(form: &JudgedForm<'_>) -> Option<Decision> {
        let State::Decided(order) = form.state else { return None };
        let rival = match order {
            Alternative::Dmy => Alternative::Mdy,
            Alternative::Mdy => Alternative::Dmy,
            _ => return None,
        };
        form.alternatives.contains(&rival).then_some(Decision { order, rival })
    }

    fn tells(&self, fits: Fits) -> bool {
        fits.votes(self.order, self.rival)
    }

    /// The logarithm of the probability that dates of this hand which are spread so do not tell.
    fn ln_by_chance<D: Iterator<Item = ([i16; 3], Fits)>>(&self, dates: D, others: Share) -> f64 {
        let open = dates.filter(|(_, fits)| fits.differ(&[self.order, self.rival]));
        others.ln_untold() * self.draws(open) as f64
    }

    /// Whether the hand has so many dates that chance could not explain it if none of them told.
    fn could_be_foreign(&self, hand: &Hand<'_>) -> bool {
        let dates = hand.dates().filter(|(_, fits)| fits.fits(self.order));
        OPEN.ln() * (self.draws(dates) as f64) < BY_CHANCE.ln()
    }

    /// How often a day was drawn: days that follow each other in one month tell together, and the first of a month
    /// never tells.
    fn draws(&self, dates: impl Iterator<Item = ([i16; 3], Fits)>) -> usize {
        let mut months: BTreeSet<(i16, i16)> = BTreeSet::new();
        let mut has_firsts = false;
        for (written, _) in dates {
            let [day, month, year] = self.order.places().map(|at| written[at]);
            if day == 1 {
                has_firsts = true;
            } else {
                months.insert((year, month));
            }
        }
        months.len() + usize::from(has_firsts)
    }

    /// The days of the month.
    fn days(&self, dates: impl Iterator<Item = ([i16; 3], Fits)>) -> BTreeSet<i16> {
        let [day, ..] = self.order.places();
        dates.filter(|(_, fits)| fits.fits(self.order)).map(|(written, _)| written[day]).collect()
    }

    /// How many of different dates tell.
    fn share(&self, dates: impl Iterator<Item = ([i16; 3], Fits)>) -> Share {
        let mut share = Share::default();
        for (_, fits) in dates.filter(|(_, fits)| fits.fits_any()) {
            share.all += 1;
            share.telling += u64::from(self.tells(fits));
        }
        share
    }
}

/// Different dates, and those that tell.
#[derive(Debug, Clone, Copy, Default)]
struct Share {
    telling: u64,
    all: u64,
}

impl Share {
    /// These without those.
    fn without(self, other: Share) -> Share {
        let telling = self.telling.saturating_sub(other.telling);
        Share { telling, all: self.all.saturating_sub(other.all) }
    }

    /// This, or the other where less of it tells.
    fn or_less(self, other: Share) -> Share {
        if self.ln_untold() < other.ln_untold() { other } else { self }
    }

    /// The logarithm of the share that does not tell: not below that of any days, however few were seen.
    fn ln_untold(self) -> f64 {
        let untold = self.all.saturating_sub(self.telling);
        ((untold as f64 + 1.0) / (self.all as f64 + 1.0)).max(OPEN).ln()
    }
}

fn of_form(case: &Case<'_>, form: &JudgedForm<'_>) -> Option<Finding> {
    let decision = Decision::of(form)?;
    let telling = form.group.rows(|fits| decision.tells(fits));
    // Where no value tells, somebody has said the order of all.
    if telling == 0 {
        return None;
    }
    let all = hands(case, form.form);
    let tried = all.iter().flatten().filter(|hand| decision.could_be_foreign(hand)).count().max(1);
    let mut least: Option<(f64, Finding)> = None;
    let mut consider = |ln: f64, apart: &Apart, rows: u64, dates: u64| {
        if ln < BY_CHANCE.ln() && least.as_ref().is_none_or(|(other, _)| ln < *other) {
            let (apart, order, power) = (apart.clone(), decision.order, power(ln));
            least = Some((ln, Finding::UntoldHand { apart, rows, dates, order, power }));
        }
    };
    for hands in &all {
        let (untold, told): (Vec<&Hand<'_>>, Vec<&Hand<'_>>) =
            hands.iter().partition(|hand| hand.count(|fits| decision.tells(fits)) == 0);
        let (share, days) = (decision.share(sample(&told)), decision.days(sample(&told)));
        for hand in untold {
            // What has other days of the month than all others was computed from the dates.
            if decision.days(hand.dates()).is_disjoint(&days) {
                continue;
            }
            let ln = decision.ln_by_chance(hand.dates(), share) + (tried as f64).ln();
            let dates = decision.share(hand.dates()).all;
            consider(ln, &hand.apart, hand.count(Fits::fits_any), dates);
        }
    }
    let whole = decision.share(form.group.dates.iter());
    let open = form.group.rows(|fits| fits.differ(&[decision.order, decision.rival]));
    // Where the day stands first, rows that are sorted by their text have all that does not tell in one place.
    let in_place = |runs: &VoteRuns| {
        let together: u64 = runs.stretches.all().map(|(stretch, _)| stretch.rows).sum();
        decision.order == Alternative::Dmy && runs.are_sorted_as_text() && together * 10 > open * 9
    };
    for runs in case.evidence.clues.runs_of(form.form).filter(|runs| !in_place(runs)) {
        for (stretch, is_edge) in runs.stretches.all() {
            let (first, last) = (stretch.first, stretch.last);
            let rows = Share { telling, all: form.rows().saturating_sub(stretch.rows) };
            let own = decision.share(stretch.dates.iter());
            // Rows repeat, so that what says less counts; of very many different dates only some are kept.
            let others = match stretch.dates.is_exact() {
                true => whole.without(own).or_less(rows),
                false => rows,
            };
            // A stretch between votes may begin behind any of them.
            let tried = if is_edge { 2 } else { telling };
            let ln = decision.ln_by_chance(stretch.dates.iter(), others)
                + (tried as f64).ln()
                + BLOCKS.ln();
            consider(ln, &Apart::Rows { first, last }, stretch.rows, own.all);
        }
    }
    least.map(|(_, finding)| finding)
}

/// Columns of which every value has rows that tell.
pub(super) fn ruled_out(case: &Case<'_>) -> Vec<RuledOut> {
    let mut columns: BTreeMap<String, u64> = BTreeMap::new();
    for form in &case.forms {
        let Some(decision) = Decision::of(form) else { continue };
        let all_tell = |hands: &&Vec<Hand<'_>>| {
            hands.iter().all(|hand| hand.count(|fits| decision.tells(fits)) > 0)
        };
        // Values of one row each are no hands.
        let are_hands = |hands: &&Vec<Hand<'_>>| hands.len() as u64 * 2 <= form.rows();
        for hands in hands(case, form.form).iter().filter(are_hands).filter(all_tell) {
            if let Some(Apart::Beside { column, .. }) = hands.first().map(|hand| &hand.apart) {
                let values = columns.entry(column.clone()).or_default();
                *values = (*values).max(hands.len() as u64);
            }
        }
    }
    columns.into_iter().map(|(column, values)| RuledOut::OtherHand { column, values }).collect()
}
