//! The votes of a column by what stands beside it, and by where they stand.

use std::cmp::Ordering;
use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::{AddsUp, fields_add_up};
use super::dates::{DateSieve, WrittenDate};
use super::few::Few;
use super::in_step::InStep;
use super::neighbourhood::{Beside, ByForm, DATES_BESIDE, Neighbourhood, dates_beside};
use super::padding::Padding;
use super::seen_value::SeenValue;
use super::stretches::Stretches;
use super::{Days, DistinctDates, Fits, Neighbours};
use crate::candidates::Form;
use crate::order::Alternative;
use crate::typed::TypedValue;

/// Different dates that are kept of each run of votes.
const DATES_IN_RUN: usize = 64;
/// About how many bytes the runs, stretches and steps of a form take, with a few dates of each.
const OF_FORM: usize = 4_000;
/// Runs of votes that are kept; appended files are few.
const MOST_RUNS: usize = 64;

/// Rows of a table from the first to the last of votes that follow each other, each of which some alternative has
/// in common with the one before.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct VoteRun {
    /// The row of the first vote.
    pub first: u64,
    /// The row of the last one.
    pub last: u64,
    /// The alternatives that fit all of them; none where they contradict each other.
    pub alternatives: Vec<Alternative>,
    /// Votes.
    pub votes: u64,
    /// The different dates from the first row on, voting or not.
    pub dates: DistinctDates,
    /// Rows behind the last vote that orders take for different moments.
    pub open_behind: u64,
}

/// The runs of votes of one form.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct VoteRuns {
    /// The runs; none if there are too many.
    pub runs: Option<Vec<VoteRun>>,
    /// Rows in a row without a vote.
    pub stretches: Stretches,
    /// Whether what could be read in several ways stands in time with what cannot.
    pub in_step: InStep,
    /// Rows whose text stands behind that of the one before, and rows whose text stands before it.
    pub steps: (u64, u64),
    /// The text of the first row and of the last.
    ends: Option<(String, String)>,
    /// What the first vote fits, and what the last one does.
    votes: Option<(Vec<Alternative>, Vec<Alternative>)>,
    /// Rows before the first vote that alternatives take for different moments.
    open_before: u64,
    /// The different dates before the first vote.
    dates_before: DistinctDates,
}

impl VoteRuns {
    fn new() -> VoteRuns {
        VoteRuns {
            runs: Some(Vec::new()),
            stretches: Stretches::new(),
            in_step: InStep::new(),
            steps: (0, 0),
            ends: None,
            votes: None,
            open_before: 0,
            dates_before: DistinctDates::up_to(DATES_IN_RUN),
        }
    }

    /// Adds a vote, which fits some of these alternatives.
    fn vote(&mut self, row: u64, fits: Fits, possible: &[Alternative]) {
        let Some(runs) = &mut self.runs else { return };
        let fitting = || possible.iter().copied().filter(|own| fits.fits(*own));
        let goes_on = |last: &[Alternative]| last.iter().any(|own| fits.fits(*own));
        match (runs.last_mut(), &mut self.votes) {
            (Some(run), Some((_, last))) if goes_on(last) => {
                (run.last, run.open_behind) = (row, 0);
                run.alternatives.retain(|own| fits.fits(*own));
                run.votes += 1;
                last.clear();
                last.extend(fitting());
            }
            (_, votes) => {
                let fitting: Vec<Alternative> = fitting().collect();
                let dates = DistinctDates::up_to(DATES_IN_RUN);
                let (first, last, alternatives) = (row, row, fitting.clone());
                runs.push(VoteRun { first, last, alternatives, votes: 1, dates, open_behind: 0 });
                match votes {
                    Some((_, last)) => *last = fitting,
                    None => *votes = Some((fitting.clone(), fitting)),
                }
            }
        }
        self.give_up_if_many();
    }

    fn give_up_if_many(&mut self) {
        if self.runs.as_ref().is_some_and(|runs| runs.len() > MOST_RUNS) {
            (self.runs, self.votes) = (None, None);
        }
    }

    /// The runs of these rows and of the next ones, which stand so many rows further down.
    fn join(&mut self, next: VoteRuns, rows: u64) {
        self.stretches.join(next.stretches, rows);
        self.in_step.join(next.in_step);
        let mut others = next.runs;
        for run in others.iter_mut().flatten() {
            (run.first, run.last) = (run.first + rows, run.last + rows);
        }
        match self.runs.as_mut().map(|runs| runs.last_mut()) {
            // Rows before the next vote stand behind the last one here.
            Some(Some(run)) => {
                run.open_behind += next.open_before;
                run.dates.add_up(next.dates_before);
            }
            Some(None) => {
                self.open_before += next.open_before;
                self.dates_before.add_up(next.dates_before);
            }
            None => {}
        }
        match (&mut self.runs, others) {
            (Some(runs), Some(mut others)) => {
                let goes_on = match (&self.votes, &next.votes) {
                    (Some((_, last)), Some((first, _))) => {
                        last.iter().any(|own| first.contains(own))
                    }
                    _ => false,
                };
                if let Some(run) = runs.last_mut().filter(|_| goes_on) {
                    let first = others.remove(0);
                    run.alternatives.retain(|own| first.alternatives.contains(own));
                    (run.last, run.open_behind) = (first.last, first.open_behind);
                    run.votes += first.votes;
                    run.dates.add_up(first.dates);
                }
                runs.extend(others);
                self.votes = match (self.votes.take(), next.votes) {
                    (Some((first, _)), Some((_, last))) => Some((first, last)),
                    (own, next) => own.or(next),
                };
            }
            (own, _) => (*own, self.votes) = (None, None),
        }
        self.give_up_if_many();
        if let Some((first, last)) = next.ends {
            self.step(&first);
            if let Some((_, own)) = &mut self.ends {
                *own = last;
            }
        }
        self.steps = (self.steps.0 + next.steps.0, self.steps.1 + next.steps.1);
    }

    /// Whether the rows are sorted by their text: then each first part has its own block.
    pub fn are_sorted_as_text(&self) -> bool {
        let (up, down) = self.steps;
        let hardly = |one: u64, other: u64| one * 10 < other;
        hardly(up, down) || hardly(down, up)
    }

    fn step(&mut self, value: &str) {
        let Some((_, last)) = &mut self.ends else {
            self.ends = Some((value.to_owned(), value.to_owned()));
            return;
        };
        match value.cmp(last.as_str()) {
            Ordering::Greater => self.steps.0 += 1,
            Ordering::Less => self.steps.1 += 1,
            Ordering::Equal => return,
        }
        last.clear();
        last.push_str(value);
    }
}

/// How often the next row is not earlier, in one part of a table, as one order takes them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct TimeSteps {
    first: TypedValue,
    last: TypedValue,
    /// Rows whose date is another than that of the row before.
    pub all: u64,
    /// Of these, later ones.
    pub forward: u64,
}

impl TimeSteps {
    fn from(moment: TypedValue) -> TimeSteps {
        TimeSteps { first: moment, last: moment, all: 0, forward: 0 }
    }

    fn to(&mut self, moment: TypedValue) {
        if moment != self.last {
            self.all += 1;
            self.forward += u64::from(moment > self.last);
            self.last = moment;
        }
    }

    /// The steps of this part and the next.
    pub fn and(mut self, next: &TimeSteps) -> TimeSteps {
        self.to(next.first);
        TimeSteps {
            last: next.last,
            all: self.all + next.all,
            forward: self.forward + next.forward,
            ..self
        }
    }
}

/// Rows of a column beside those of another one with dates.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Pair {
    /// Rows in which this column has the earlier day.
    pub earlier: u64,
    /// Rows in which both have the same.
    pub same: u64,
    /// Rows in which this one has the later.
    pub later: u64,
}

fields_add_up!(Pair: earlier, same, later);

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Clues {
    /// By what stands beside them.
    pub neighbours: Neighbourhood,
    /// By the clock that is written beside the date.
    pub clocks: BTreeMap<String, ByForm>,
    /// By whether numbers below ten have a zero before them.
    pub paddings: BTreeMap<Padding, ByForm>,
    /// By part of the table.
    pub parts: BTreeMap<u32, ByForm>,
    /// By part of the table and form.
    pub runs: BTreeMap<(u32, Form), VoteRuns>,
    /// By part of the table, whether dates with the year first stand in time: those whose day could be a month, beside
    /// those whose day could not.
    pub year_first: BTreeMap<u32, InStep>,
    /// By form and order, then by part of the table.
    pub steps: BTreeMap<(Form, Alternative), BTreeMap<u32, TimeSteps>>,
    /// By the name of another column with dates, and by the order that is taken for those of both
    /// columns that leave it open.
    pub pairs: BTreeMap<(String, Alternative), Pair>,
}

impl Clues {
    /// The runs of a form, by part of the table.
    pub fn runs_of<'c>(&'c self, form: &'c Form) -> impl Iterator<Item = &'c VoteRuns> {
        self.runs.iter().filter(move |((_, own), _)| own == form).map(|(_, runs)| runs)
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        self.neighbours.weight() + OF_FORM * self.runs.len()
    }

    pub(super) fn of_later_parts(self, by: u32) -> Clues {
        let runs = self.runs.into_iter().map(|((part, form), runs)| ((part + by, form), runs));
        let later = |parts: BTreeMap<u32, TimeSteps>| {
            parts.into_iter().map(|(part, steps)| (part + by, steps)).collect()
        };
        let steps = self.steps.into_iter().map(|(key, parts)| (key, later(parts)));
        let parts = self.parts.into_iter().map(|(part, forms)| (part + by, forms));
        let year_first = self.year_first.into_iter().map(|(part, own)| (part + by, own));
        Clues {
            runs: runs.collect(),
            year_first: year_first.collect(),
            steps: steps.collect(),
            parts: parts.collect(),
            ..self
        }
    }

    /// The clues of these rows and of the next ones, which stand so many rows further down.
    pub(super) fn join(&mut self, mut next: Clues, rows: u64) {
        for (key, runs) in std::mem::take(&mut next.runs) {
            self.runs.entry(key).or_insert_with(VoteRuns::new).join(runs, rows);
        }
        for (part, in_step) in std::mem::take(&mut next.year_first) {
            self.year_first.entry(part).or_insert_with(InStep::new).join(in_step);
        }
        for (key, parts) in std::mem::take(&mut next.steps) {
            let own = self.steps.entry(key).or_default();
            for (part, steps) in parts {
                let joined = own.get(&part).map_or(steps, |own| own.and(&steps));
                own.insert(part, joined);
            }
        }
        self.add_up(next);
    }
}

impl AddsUp for Clues {
    fn add_up(&mut self, other: Clues) {
        self.neighbours.add_up(other.neighbours);
        self.clocks.add_up(other.clocks);
        self.paddings.add_up(other.paddings);
        self.parts.add_up(other.parts);
        // A part of a table is looked at as a whole.
        self.runs.extend(other.runs);
        self.year_first.extend(other.year_first);
        for (key, parts) in other.steps {
            self.steps.entry(key).or_default().extend(parts);
        }
        self.pairs.add_up(other.pairs);
    }
}

/// Gathers the clues of a part of a column.
#[derive(Default)]
pub(super) struct ClueGatherer {
    /// Forms by number.
    forms: Vec<Form>,
    clocks: Vec<String>,
    /// Of each form, neighbour and value by number, what stands there.
    beside: Vec<Vec<Vec<Option<Sieve>>>>,
    /// Of each form and clock by number, what is written so.
    by_clock: Vec<Vec<Option<Sieve>>>,
    /// Of each form, what is written with zeros and without.
    by_padding: Vec<Vec<Option<Sieve>>>,
    runs: Vec<VoteRuns>,
    year_first: Option<InStep>,
    steps: Vec<Vec<(Alternative, TimeSteps)>>,
    pairs: Vec<Vec<(Alternative, Pair)>>,
}

/// A form and a clock by their numbers.
#[derive(Debug, Clone, Copy)]
pub(super) struct ClueKey {
    form: usize,
    clock: usize,
}

/// What dates show beside a value. There are many of these, and what is asked for every row stands in front, so that it
/// is in one place of memory.
#[repr(C)]
struct Sieve {
    /// Rows by which orders fit; there are few ways.
    rows: [(Fits, u32); 6],
    dates: DateSieve,
    /// Rows that are too many for what is counted above.
    more: Few<Fits, u64>,
}

impl ClueGatherer {
    /// The numbers of a form whose orders differ, and of what is written around its date.
    pub(super) fn numbers(&mut self, form: &Form, clock: &str) -> ClueKey {
        let form_number = match self.forms.iter().position(|other| other == form) {
            Some(number) => number,
            None => {
                self.forms.push(form.clone());
                self.beside.push(Vec::new());
                self.by_clock.push(Vec::new());
                self.by_padding.push(Vec::new());
                self.runs.push(VoteRuns::new());
                self.steps.push(Vec::new());
                self.forms.len() - 1
            }
        };
        let clock_number = self.clocks.iter().position(|other| other == clock);
        let clock = clock_number.unwrap_or_else(|| {
            self.clocks.push(clock.to_owned());
            self.clocks.len() - 1
        });
        ClueKey { form: form_number, clock }
    }

    /// Adds how a value of this form is written that stands in so many rows.
    pub(super) fn count(&mut self, ClueKey { form, clock }: ClueKey, rows: u64, seen: &SeenValue) {
        let hashed = seen.dated.map(|written| (written, seen.hash));
        sieve_at(&mut self.by_clock[form], clock).observe(rows, seen.fits, hashed);
        let padding = seen.padding.number();
        sieve_at(&mut self.by_padding[form], padding).observe(rows, seen.fits, hashed);
    }

    /// Adds where a value of this form stands.
    pub(super) fn observe(
        &mut self,
        ClueKey { form, .. }: ClueKey,
        (row, value): (u64, &str),
        seen: &SeenValue,
        neighbours: &Neighbours,
    ) {
        let fits = seen.fits;
        let hashed = seen.dated.map(|written| (written, seen.hash));
        let columns = &mut self.beside[form];
        if columns.len() != neighbours.len() {
            columns.resize_with(neighbours.len(), Vec::new);
        }
        for (values, now) in columns.iter_mut().zip(neighbours.now()) {
            match now.map(usize::from) {
                Some(now) => match values.get_mut(now) {
                    Some(Some(sieve)) => sieve.observe(1, fits, hashed),
                    _ => first_beside(values, now).observe(1, fits, hashed),
                },
                // What stood there is of no use once it has too many values.
                None if values.is_empty() => {}
                None => *values = Vec::new(),
            }
        }
        self.runs[form].step(value);
        self.run(form, row, fits, hashed);
        for own in seen.taken() {
            self.step(form, own.order, own.moment);
        }
    }

    /// Forgets what stands beside columns that tell no rows apart any more.
    pub(super) fn forget_beside(&mut self, neighbours: &Neighbours) {
        for columns in &mut self.beside {
            for (at, values) in columns.iter_mut().enumerate() {
                if neighbours.values(at).is_none() {
                    *values = Vec::new();
                }
            }
        }
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        let beside = self.beside.iter().flatten().chain(&self.by_clock).chain(&self.by_padding);
        let beside: usize = beside.flatten().flatten().map(|sieve| sieve.dates.weight()).sum();
        let places: usize = self.beside.iter().flatten().map(|values| values.capacity()).sum();
        let pairs: usize = self.pairs.iter().map(|pairs| pairs.capacity()).sum();
        beside
            + places * size_of::<Option<Sieve>>()
            + pairs * size_of::<(Alternative, Pair)>()
            + self.forms.len() * OF_FORM
    }

    /// Adds a date that is written year, month, day, and that nobody would read otherwise.
    pub(super) fn observe_year_first(&mut self, written: WrittenDate) {
        const ORDERS: [Alternative; 2] = [Alternative::Ymd, Alternative::Ydm];
        let [_, month, day] = written;
        let fits = Fits::default().with(Alternative::Ymd, Some(0));
        let fits = match day {
            ..=12 => fits.with(Alternative::Ydm, Some(u8::from(month != day))),
            _ => fits,
        };
        self.year_first.get_or_insert_with(InStep::new).observe(written, fits, &ORDERS);
    }

    /// Adds what an order makes of the value.
    fn step(&mut self, form: usize, order: Alternative, moment: TypedValue) {
        let steps = &mut self.steps[form];
        match steps.iter_mut().find(|(other, _)| *other == order) {
            Some((_, steps)) => steps.to(moment),
            None => steps.push((order, TimeSteps::from(moment))),
        }
    }

    /// Adds the days of a row beside those of the columns with dates to its left.
    pub(super) fn pair(&mut self, own: &Days, neighbours: &Neighbours) {
        for (at, other) in neighbours.days() {
            // Where one leaves the order open, so it is taken for both.
            let open = if own.is_open() { own } else { other };
            if !open.is_open() {
                continue;
            }
            if self.pairs.len() <= *at {
                self.pairs.resize_with(at + 1, Vec::new);
            }
            let pairs = &mut self.pairs[*at];
            for order in open.orders() {
                let (Some(a), Some(b)) = (own.by(order), other.by(order)) else { continue };
                let at = pairs.iter().position(|(known, _)| *known == order).unwrap_or_else(|| {
                    pairs.push((order, Pair::default()));
                    pairs.len() - 1
                });
                let pair = &mut pairs[at].1;
                *match a.cmp(&b) {
                    Ordering::Less => &mut pair.earlier,
                    Ordering::Equal => &mut pair.same,
                    Ordering::Greater => &mut pair.later,
                } += 1;
            }
        }
    }

    fn run(&mut self, form: usize, row: u64, fits: Fits, hashed: Option<(WrittenDate, u64)>) {
        let possible = &self.forms[form].alternatives;
        let fitting = possible.iter().filter(|own| fits.fits(**own)).count();
        let is_vote = (1..possible.len()).contains(&fitting);
        let is_open = !is_vote && fits.differ(possible);
        let runs = &mut self.runs[form];
        if is_vote {
            runs.vote(row, fits, possible);
            runs.stretches.vote();
        } else if is_open {
            runs.stretches.note(row, hashed, fits);
        }
        if let Some((written, _)) = hashed {
            runs.in_step.observe(written, fits, possible);
        }
        let (open, dates) = match &mut runs.runs {
            None => return,
            Some(all) => match all.last_mut() {
                Some(run) => (&mut run.open_behind, &mut run.dates),
                None => (&mut runs.open_before, &mut runs.dates_before),
            },
        };
        *open += u64::from(is_open);
        if let Some((written, hash)) = hashed {
            dates.insert_hashed(hash, written, fits);
        }
    }

    /// The clues of the rows so far, of the forms that they have; the forms keep their numbers.
    pub(super) fn take(&mut self) -> ClueGatherer {
        fn taken<T>(all: &mut [Vec<T>]) -> Vec<Vec<T>> {
            all.iter_mut().map(std::mem::take).collect()
        }
        let new = |runs: &mut VoteRuns| std::mem::replace(runs, VoteRuns::new());
        let mut all = ClueGatherer {
            forms: self.forms.clone(),
            clocks: self.clocks.clone(),
            beside: taken(&mut self.beside),
            by_clock: taken(&mut self.by_clock),
            by_padding: taken(&mut self.by_padding),
            runs: self.runs.iter_mut().map(new).collect(),
            year_first: self.year_first.take(),
            steps: taken(&mut self.steps),
            pairs: std::mem::take(&mut self.pairs),
        };
        for at in (0..all.forms.len()).rev() {
            if !all.by_clock[at].is_empty() {
                continue;
            }
            all.forms.remove(at);
            all.beside.remove(at);
            all.by_clock.remove(at);
            all.by_padding.remove(at);
            all.runs.remove(at);
            all.steps.remove(at);
        }
        all
    }

    /// The clues of the part, `own` being the column that was observed.
    pub(super) fn finish(self, part: u32, neighbours: &Neighbours, own: &str) -> Clues {
        let neighbourhood = Neighbourhood::of(own, neighbours.shown());
        let mut clues = Clues { neighbours: neighbourhood, ..Clues::default() };
        for (form, columns) in self.forms.iter().zip(self.beside) {
            for (at, sieves) in columns.into_iter().enumerate() {
                let (name, values) = (neighbours.name(at), neighbours.values(at));
                for (value, sieve) in values.unwrap_or_default().iter().zip(sieves) {
                    if let Some(beside) = sieve.map(Sieve::finish) {
                        clues.neighbours.add(name, value, form, beside);
                    }
                }
            }
        }
        for (form, sieves) in self.forms.iter().zip(self.by_clock) {
            for (clock, sieve) in self.clocks.iter().zip(sieves) {
                let Some(own) = sieve.map(Sieve::finish) else { continue };
                let of_part = clues.parts.entry(part).or_default();
                of_part.or_insert_with(form.clone(), Beside::new).add_up(own.clone());
                let of_clock = clues.clocks.entry(clock.clone()).or_default();
                of_clock.or_insert_with(form.clone(), || own);
            }
        }
        for (form, sieves) in self.forms.iter().zip(self.by_padding) {
            for (padding, sieve) in Padding::all().zip(sieves) {
                if let Some(own) = sieve.map(Sieve::finish) {
                    let padded = clues.paddings.entry(padding).or_default();
                    padded.or_insert_with(form.clone(), || own);
                }
            }
        }
        for (at, pairs) in self.pairs.into_iter().enumerate() {
            for (order, pair) in pairs {
                clues.pairs.insert((neighbours.name(at).to_owned(), order), pair);
            }
        }
        for (form, steps) in self.forms.iter().zip(self.steps) {
            for (order, steps) in steps {
                clues.steps.insert((form.clone(), order), BTreeMap::from([(part, steps)]));
            }
        }
        clues.year_first = self.year_first.into_iter().map(|own| (part, own)).collect();
        let runs = self.forms.into_iter().zip(self.runs);
        clues.runs = runs.map(|(form, runs)| ((part, form), runs)).collect();
        clues
    }
}

/// The sieve of a value that stands beside for the first time. Where there are more values, less is kept of each.
fn first_beside(values: &mut Vec<Option<Sieve>>, now: usize) -> &mut Sieve {
    let budget = dates_beside(values.len());
    sieve_at(values, now);
    let less = dates_beside(values.len());
    if less < budget {
        values.iter_mut().flatten().for_each(|sieve| sieve.dates.keep_only(less));
    }
    sieve_at(values, now)
}

fn sieve_at(sieves: &mut Vec<Option<Sieve>>, at: usize) -> &mut Sieve {
    if sieves.len() <= at {
        sieves.resize_with(at + 1, || None);
    }
    sieves[at].get_or_insert_with(Sieve::new)
}

impl Sieve {
    fn new() -> Sieve {
        Sieve {
            rows: [(Fits::NONE, 0); 6],
            dates: DateSieve::up_to(DATES_BESIDE),
            more: Few::default(),
        }
    }

    fn observe(&mut self, rows: u64, fits: Fits, hashed: Option<(WrittenDate, u64)>) {
        let place = self.rows.iter_mut().find(|(other, rows)| *other == fits || *rows == 0);
        let sum = |own: &mut (Fits, u32)| own.1.checked_add(u32::try_from(rows).ok()?);
        match place.and_then(|own| Some((sum(own)?, own))) {
            Some((sum, own)) => *own = (fits, sum),
            None => *self.more.or_insert_with(fits, || 0) += rows,
        }
        if let Some((written, hash)) = hashed {
            self.dates.observe(hash, written, fits);
        }
    }

    fn finish(mut self) -> Beside {
        for (fits, rows) in self.rows.into_iter().filter(|(_, rows)| *rows > 0) {
            *self.more.or_insert_with(fits, || 0) += u64::from(rows);
        }
        Beside { rows: self.more, dates: self.dates.finish() }
    }
}
