//! Several sources wrote one column in different orders. What tells their rows apart is another column, the clock
//! beside the date, or where files were put one behind the other.

use std::collections::BTreeMap;

use crate::evidence::{Beside, ByForm, Clues, DistinctDates, Fits, Thinning, around_date};
use crate::layout::Layout;
use crate::order::Alternative;
use crate::reading::{RowParts, Split};
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::found::Found;
use crate::verdict::mixture::{Clue, Estimate, FoundSplit};
use crate::verdict::model::Settle;
use crate::verdict::odds::{
    BY_CHANCE, OPEN, enough, ln_at_most, ln_clean_groups, ln_few_runs, power, share_range,
};

/// Blocks of rows can be cut anywhere, so more is demanded of them.
const BLOCKS_BY_CHANCE: f64 = 1e-6;
/// A side without a date that could be of the other side, or with improbably few of them, has been
/// told from the dates themselves, as a column does that was computed from them.
const FROM_THE_DATES: f64 = 1e-2;

/// What tells the rows of mixed forms apart, or how many would be wrong under each order.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let about = case.forms.iter().position(|form| form.state == State::Mixed);
    let said = case.asserted.order.is_some() || !case.asserted.answers.is_empty();
    if about.is_none() || said || !case.is_of_forms() {
        return Vec::new();
    }
    let note = |finding| Found { about, ..Found::note(finding) };
    if let Some(found) = find(case) {
        let ways = vec![Settle::Split(found.clone())];
        return vec![Found { ways, ..note(Finding::Split(found)) }];
    }
    let estimate = estimate(case);
    let nearly = nearly(case).map(|(column, against)| Finding::NearlySplit { column, against });
    let of_all = case.evidence.thinned == Thinning::NONE;
    let nothing = estimate.is_some().then_some(Finding::NoSplit { of_all });
    let wrong = estimate.map(|(contested, orders)| Finding::Wrong { contested, orders });
    nearly.or(nothing).into_iter().chain(wrong).map(note).collect()
}

/// The forms that are mixed, each with two orders that have votes against each other.
struct Quarrels<'f, 'e> {
    case: &'f Case<'e>,
    mixed: Vec<(&'f JudgedForm<'e>, [Alternative; 2])>,
}

/// How many contested rows would be wrong under each of two orders, if their orders are as frequent
/// as among the telling rows. How sure that is, is judged by different dates, since rows repeat.
pub(super) fn estimate(case: &Case<'_>) -> Option<(u64, [Estimate; 2])> {
    let mut mixed = case.forms.iter().filter(|form| form.state == State::Mixed);
    let (Some(form), None) = (mixed.next(), mixed.next()) else { return None };
    let quarrel = form.quarrel()?;
    let [one, other] = quarrel;
    let contested = form.group.rows(|fits| fits.differ(&form.in_play));
    let dates = quarrel.map(|side| side_votes(&form.group.dates, quarrel, side)).iter().sum();
    let rows = |side: Alternative, rival: Alternative| {
        form.group.rows(|fits| fits.votes(side, rival)) as f64
    };
    let share = rows(other, one) / (rows(other, one) + rows(one, other));
    let wrong = |order: Alternative, share: f64| {
        let (low, high) = share_range(share, dates);
        let of = |share: f64| (contested as f64 * share).round() as u64;
        Estimate { order, wrong: of(share), least: of(low), most: of(high) }
    };
    let estimates = [wrong(one, share), wrong(other, 1.0 - share)];
    // An estimate that says anything between none and all says nothing.
    let says = |estimate: &Estimate| estimate.most - estimate.least < contested;
    estimates.iter().all(says).then_some((contested, estimates))
}

/// Votes of a hundred that may speak against what nearly tells rows apart.
const NEARLY: u64 = 3;

/// The column that would tell the rows of a mixed column apart, were it not for a few values: typing
/// errors, perhaps.
fn nearly(case: &Case<'_>) -> Option<(String, u64)> {
    let mut mixed = case.forms.iter().filter(|form| form.state == State::Mixed);
    let (Some(form), None) = (mixed.next(), mixed.next()) else { return None };
    let [one, other] = form.quarrel()?;
    let against = |values: &BTreeMap<String, ByForm>| {
        let (mut all, mut against, mut sides, mut told) = (0, 0, [false; 2], 0);
        for beside in values.values().filter_map(|forms| forms.get(form.form)) {
            let votes = |side, rival| beside.count(|fits| fits.votes(side, rival));
            let (first, second) = (votes(one, other), votes(other, one));
            all += first + second;
            against += first.min(second);
            told += u64::from(first + second > 0);
            sides[usize::from(second > first)] |= first != second;
        }
        // Each value must have its say more than a few times.
        let tells = sides == [true; 2] && told * 8 <= all && against * 100 <= all * NEARLY;
        (tells && against > 0).then_some(against)
    };
    let named = case.evidence.clues.neighbours.columns();
    named
        .filter_map(|(name, values)| Some((name.clone(), against(values)?)))
        .min_by_key(|(_, against)| *against)
}

/// What tells the rows of the mixed forms apart, if something does.
fn find(case: &Case<'_>) -> Option<FoundSplit> {
    let mixed = case.forms.iter().filter(|form| form.state == State::Mixed);
    let mixed: Option<Vec<_>> = mixed.map(|form| Some((form, form.quarrel()?))).collect();
    let quarrels = Quarrels { case, mixed: mixed.filter(|all| !all.is_empty())? };
    let Clues { neighbours, clocks, .. } = &case.evidence.clues;
    let tried = 1 + neighbours.columns().count();
    let by_clock = quarrels.by_values(clocks, tried).and_then(|found| found.by_clock());
    let by_column = neighbours.columns().filter_map(|(name, values)| {
        let found = quarrels.by_values(values, tried)?;
        Some(found.by_column(name))
    });
    // What leaves the fewest rows open, then what says it with the fewest words.
    let words = |found: &FoundSplit| found.sides.iter().map(|(_, what)| what.len()).sum::<usize>();
    let mut all: Vec<FoundSplit> = by_clock.into_iter().chain(by_column).collect();
    all.sort_by_key(|found| (found.contested, words(found), std::cmp::Reverse(found.power)));
    let mut all = all.into_iter();
    let Some(best) = all.next() else {
        // Files that were put together are a clue to this table only.
        return quarrels.by_rows(&case.evidence.clues);
    };
    let as_well = all.filter(|other| other.contested == best.contested).map(|other| other.by);
    Some(FoundSplit { as_well: as_well.collect(), ..best })
}

/// Values of a clue, told apart.
struct ByValues<'q, 'f, 'e> {
    quarrels: &'q Quarrels<'f, 'e>,
    /// By the order of each mixed form.
    sides: BTreeMap<Vec<Option<Alternative>>, Vec<String>>,
    open: Vec<String>,
    contested: u64,
    power: u32,
}

impl<'f, 'e> Quarrels<'f, 'e> {
    /// Tells the values of a clue apart, if no value is of two minds, every side has evidence of
    /// its own, and chance does not explain it.
    fn by_values<'q>(
        &'q self,
        values: &BTreeMap<String, ByForm>,
        tried: usize,
    ) -> Option<ByValues<'q, 'f, 'e>> {
        let mut found = ByValues {
            quarrels: self,
            sides: BTreeMap::new(),
            open: Vec::new(),
            contested: 0,
            power: 0,
        };
        let mut orders: BTreeMap<&String, Vec<Option<Alternative>>> = BTreeMap::new();
        let mut ln = (tried as f64).ln();
        for (form, quarrel) in &self.mixed {
            let mut sizes = Vec::new();
            let mut votes = 0;
            let mut sides: BTreeMap<Alternative, Side> = BTreeMap::new();
            for (value, forms) in values {
                let mut own = None;
                if let Some(beside) = forms.get(form.form) {
                    let contradicted =
                        |order| beside.count(|fits| fits.fits_any() && !fits.fits(order)) > 0;
                    own = order_of(form, &beside.dates, contradicted).ok()?;
                    let [one, other] =
                        quarrel.map(|order| side_votes(&beside.dates, *quarrel, order));
                    sizes.push(one + other);
                    votes += one;
                    if let Some(order) = own {
                        let side = sides.entry(order).or_default();
                        side.add(&beside.dates, *quarrel);
                        side.add_rows(beside, *quarrel);
                    } else {
                        found.contested += beside.count(|fits| fits.differ(&form.in_play));
                    }
                }
                orders.entry(value).or_default().push(own);
            }
            if sides.len() < 2 || sides.values().any(|side| side.is_from_the_dates(form)) {
                return None;
            }
            ln += ln_clean_groups(&sizes, votes);
        }
        found.power = power_below(ln, BY_CHANCE)?;
        for (value, orders) in orders {
            let rows = |(form, _): &(&JudgedForm<'_>, _)| {
                let beside = values.get(value).and_then(|forms| forms.get(form.form));
                beside.is_some_and(|beside| beside.count(|fits| fits.differ(&form.in_play)) > 0)
            };
            let mut said = orders.iter().flatten();
            let first = said.next();
            // One and the same source does not write its forms in different orders.
            if said.any(|order| Some(order) != first) {
                return None;
            }
            if first.is_some() {
                found.sides.entry(orders).or_default().push(value.clone());
            } else if self.mixed.iter().any(rows) {
                found.open.push(value.clone());
            }
        }
        Some(found)
    }

    /// Tells blocks of rows apart, where a single file has a single mixed form.
    fn by_rows(&self, clues: &Clues) -> Option<FoundSplit> {
        let [(form, quarrel)] = self.mixed[..] else { return None };
        let mut parts = clues.runs_of(form.form);
        let (Some(all), None) = (parts.next(), parts.next()) else { return None };
        let runs = all.runs.as_ref().filter(|_| !all.are_sorted_as_text())?;
        let mut sides: BTreeMap<Alternative, Side> = BTreeMap::new();
        let (mut votes, mut contested) = ([0, 0], 0);
        let mut blocks = Vec::new();
        for (at, run) in runs.iter().enumerate() {
            let contradicted = |order| !run.alternatives.contains(&order);
            let order = order_of(form, &run.dates, contradicted).ok()??;
            sides.entry(order).or_default().add(&run.dates, quarrel);
            for (votes, side) in votes.iter_mut().zip(quarrel) {
                *votes += side_votes(&run.dates, quarrel, side);
            }
            let is_last = at + 1 == runs.len();
            let first = if at == 0 { 1 } else { run.first };
            let last = if is_last { u64::MAX } else { run.last };
            contested += if is_last { 0 } else { run.open_behind };
            blocks.push((first..=last, order));
        }
        if sides.len() < 2 || sides.values().any(|side| side.is_from_the_dates(form)) {
            return None;
        }
        let power =
            power_below(ln_few_runs(votes[0], votes[1], runs.len() as u64), BLOCKS_BY_CHANCE)?;
        let mut said: BTreeMap<Alternative, Vec<String>> = BTreeMap::new();
        for (rows, order) in &blocks {
            let rows = match (*rows.start(), *rows.end()) {
                (first, u64::MAX) => format!("{first}.."),
                (first, last) => format!("{first}..{last}"),
            };
            said.entry(*order).or_default().push(rows);
        }
        let parts = blocks.into_iter().map(|(rows, order)| (rows, self.layouts(&[Some(order)])));
        let split = Split { parts: RowParts::Rows(parts.collect()), otherwise: None };
        Some(FoundSplit {
            by: Clue::Rows,
            sides: said.into_iter().collect(),
            open: Vec::new(),
            contested,
            votes: self.votes(),
            power,
            as_well: Vec::new(),
            layouts: split.layouts(),
            split: Some(split),
        })
    }

    /// Rows that only one order of a mixed form fits.
    fn votes(&self) -> u64 {
        let votes = |(form, [one, other]): &(&JudgedForm<'_>, [Alternative; 2])| {
            let (one, other) = (*one, *other);
            form.group.rows(|fits| fits.votes(one, other) || fits.votes(other, one))
        };
        self.mixed.iter().map(votes).sum()
    }

    /// The layouts of all forms, the mixed ones having these orders.
    fn layouts(&self, orders: &[Option<Alternative>]) -> Vec<Layout> {
        let mut orders = orders.iter().copied();
        let mut layouts: Vec<Layout> = Vec::new();
        for form in &self.case.forms {
            let order = match form.state {
                State::Decided(order) => Some(order),
                State::Mixed => orders.next().flatten(),
                _ => None,
            };
            let Some(order) = order else { continue };
            for layout in form.layouts_of(order) {
                let of_kind = layout.kind().is_some_and(|kind| self.case.is_own(kind));
                if of_kind && !layouts.contains(layout) {
                    layouts.push(layout.clone());
                }
            }
        }
        layouts
    }
}

impl ByValues<'_, '_, '_> {
    fn by_column(self, name: &str) -> FoundSplit {
        let layouts = |orders: &Vec<Option<Alternative>>| self.quarrels.layouts(orders);
        let parts = self.sides.iter().map(|(orders, values)| (values.clone(), layouts(orders)));
        let parts = RowParts::Column(name.to_owned(), parts.collect());
        let split = Split { parts, otherwise: None };
        let layouts = split.layouts();
        self.found(Clue::Column(name.to_owned()), layouts, Some(split))
    }

    /// Clocks tell themselves apart: each layout has its own. None if two parts share one.
    fn by_clock(self) -> Option<FoundSplit> {
        if !self.open.is_empty() || self.quarrels.mixed.len() > 1 {
            return None;
        }
        let mut layouts = Vec::new();
        for (orders, clocks) in &self.sides {
            let own = self
                .quarrels
                .layouts(orders)
                .into_iter()
                .filter(|layout| clocks.iter().any(|clock| around_date(layout) == *clock));
            layouts.extend(own);
        }
        Some(self.found(Clue::Clock, layouts, None))
    }

    fn found(
        self,
        by: Clue,
        layouts: Vec<Layout>,
        split: Option<Split<Vec<Layout>>>,
    ) -> FoundSplit {
        let mut sides: BTreeMap<Alternative, Vec<String>> = BTreeMap::new();
        for (orders, values) in self.sides {
            if let Some(order) = orders.into_iter().flatten().next() {
                sides.entry(order).or_default().extend(values);
            }
        }
        FoundSplit {
            by,
            sides: sides.into_iter().collect(),
            open: self.open,
            contested: self.contested,
            votes: self.quarrels.votes(),
            power: self.power,
            as_well: Vec::new(),
            layouts,
            split,
        }
    }
}

/// The different dates of a side. Of each value only some are kept, and of all values the same: what several have
/// is one date.
#[derive(Default)]
struct Side {
    dates: BTreeMap<[i16; 3], bool>,
    /// Rows with a date that could be of either side, and all that have one, where they are counted.
    rows: (u64, u64),
}

impl Side {
    /// Adds dates, each with whether it could be of either side.
    fn add(&mut self, dates: &DistinctDates, [one, other]: [Alternative; 2]) {
        let fitting = dates.iter().filter(|(_, fits)| fits.fits_any());
        let either = |fits: Fits| fits.fits(one) && fits.fits(other);
        self.dates.extend(fitting.map(|(written, fits)| (written, either(fits))));
    }

    /// Adds the rows beside a value, whose dates were added.
    fn add_rows(&mut self, beside: &Beside, [one, other]: [Alternative; 2]) {
        self.rows.0 += beside.count(|fits| fits.fits(one) && fits.fits(other));
        self.rows.1 += beside.count(Fits::fits_any);
    }

    /// Of many dates a sample is kept, which is the same for all sides: it alone may have few that could be of either.
    fn is_from_the_dates(&self, form: &JudgedForm<'_>) -> bool {
        let contested = form.group.rows(|fits| fits.differ(&form.in_play)) > 0;
        let dates = self.dates.len() as u64;
        let open = self.dates.values().filter(|is_open| **is_open).count() as u64;
        let by_rows = match self.rows {
            (_, 0) => 0,
            (open, all) => (dates as f64 * open as f64 / all as f64).round() as u64,
        };
        let few = || ln_at_most(open.max(by_rows), dates, OPEN) < FROM_THE_DATES.ln();
        contested && (open == 0 || few())
    }
}

/// Different dates of two quarrelling orders that only this one fits.
fn side_votes(dates: &DistinctDates, [one, other]: [Alternative; 2], side: Alternative) -> u64 {
    let rival = if side == one { other } else { one };
    dates.count(|fits| fits.votes(side, rival))
}

/// The order of the dates of a part: none if it has no evidence of its own.
///
/// # Errors
/// If every order is contradicted by a row.
fn order_of(
    form: &JudgedForm<'_>,
    dates: &DistinctDates,
    contradicted: impl Fn(Alternative) -> bool,
) -> Result<Option<Alternative>, ()> {
    let left: Vec<Alternative> =
        form.in_play.iter().copied().filter(|order| !contradicted(*order)).collect();
    if left.is_empty() {
        return Err(());
    }
    let wins = |order: &Alternative| {
        form.in_play.iter().all(|rival| rival == order || enough(dates, *order, *rival))
    };
    Ok(left.into_iter().find(wins))
}

/// How improbable it is by chance; none if chance may explain it.
fn power_below(ln: f64, bound: f64) -> Option<u32> {
    (ln < bound.ln()).then(|| power(ln))
}
