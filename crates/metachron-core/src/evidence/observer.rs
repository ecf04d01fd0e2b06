//! Looks at values one after the other and keeps what they show.

use std::num::NonZero;
use std::sync::Arc;

use super::adds_up::AddsUp;
use super::first_row::FirstRow;
use super::gatherer::ClueGatherer;
use super::known::{KnownFamily, KnownShape, KnownShapes, Remembered};
use super::observe_plan::ObservePlan;
use super::seen_value::SeenValue;
use super::stand_ins::is_stand_in;
use super::sums::{Met, SameRows, Sums};
use super::{
    Days, DaysOfMonth, DistinctDates, Evidence, Fits, Neighbours, ObserveOptions, Thinning,
    TypedTally, Witness,
};
use crate::candidates::Shape;
use crate::reading::{RowPlace, RowYear, Terms};
use crate::text::normalise;
use crate::typed::TypedValue;
use crate::value::Value;

/// Gathers the evidence of rows of a part of a column.
///
/// ```
/// use metachron_core::evidence::{ObserveOptions, Observer};
/// let mut observer = Observer::new(ObserveOptions::default(), 0);
/// observer.observe(1, "03/04/2024");
/// observer.observe(2, "");
/// let evidence = observer.finish();
/// assert_eq!((evidence.rows, evidence.missing), (2, 1));
/// ```
pub struct Observer {
    plan: Arc<ObservePlan>,
    /// Shapes and values seen lately, with what was made of them, and their rows that are not yet in the sums.
    known: KnownShapes,
    /// What values show wherever they stand.
    sums: Sums,
    /// What they show by where they stand.
    clues: ClueGatherer,
    /// The shape of a value.
    shape: Shape,
    /// A value once it is normalised.
    buffer: String,
}

impl Observer {
    /// Begins with a plan of its own.
    pub fn new(options: ObserveOptions, part: u32) -> Observer {
        Observer::of(Arc::new(ObservePlan::new(options, part)))
    }

    /// Begins with some rows of a part that is looked at by this plan.
    pub fn of(plan: Arc<ObservePlan>) -> Observer {
        Observer {
            known: KnownShapes::remembering(plan.remembered),
            sums: Sums::of(plan.no_evidence()),
            clues: ClueGatherer::default(),
            shape: Shape::default(),
            buffer: String::new(),
            plan,
        }
    }

    /// Looks at the value of the next row, which has this number in its table; the first is 1.
    ///
    /// Evidence counts the rows that this observer has seen, so that runs of rows can be joined.
    pub fn observe<'v>(&mut self, row: u64, value: impl Into<Value<'v>>) {
        self.observe_among(row.into(), value, &Neighbours::default());
    }

    /// The same with what stands in the other columns of the row. Gives back the day, if it has one.
    pub fn observe_among<'v>(
        &mut self,
        place: RowPlace<'_>,
        value: impl Into<Value<'v>>,
        neighbours: &Neighbours,
    ) -> Option<Days> {
        let evidence = &mut self.sums.evidence;
        evidence.rows += 1;
        let mut days = None;
        match value.into() {
            Value::Missing => evidence.missing += 1,
            Value::Fault(..) => evidence.cells.fault += 1,
            Value::Typed(moment) => {
                evidence.cells.typed += 1;
                evidence.observe_typed(moment);
                days = moment.date().map(Days::only);
                if let Some(day) = moment.date().filter(|day| is_stand_in(*day)) {
                    let (part, row, value) = (self.plan.part, evidence.rows, moment.to_string());
                    evidence.spikes.entry(day).or_default().note(|| Witness { part, row, value });
                }
            }
            Value::Number(raw) if self.observe_text(place, raw, neighbours, &mut days) => {
                self.sums.evidence.cells.number += 1;
            }
            Value::Text(raw) if self.observe_text(place, raw, neighbours, &mut days) => {
                self.sums.evidence.cells.text += 1;
            }
            Value::Number(_) | Value::Text(_) => self.sums.evidence.missing += 1,
        }
        if let Some(days) = &days {
            self.clues.pair(days, neighbours);
        }
        days
    }

    /// Looks at a text; false if it stands for nothing.
    fn observe_text(
        &mut self,
        place: RowPlace<'_>,
        raw: &str,
        neighbours: &Neighbours,
        days: &mut Option<Days>,
    ) -> bool {
        let row = self.sums.evidence.rows;
        let mut shape = None;
        let remembers = self.known.remembers();
        if remembers && let Some(at) = self.known.find_value(raw) {
            let run = self.known.run;
            let own = &mut self.known.recent.all[at];
            match own.is {
                Remembered::Missing => return false,
                Remembered::Shape => shape = Some(own.shape()),
                Remembered::Value => {
                    own.rows += 1;
                    if own.run != run {
                        (own.run, own.first_row) = (run, NonZero::new(row));
                        self.name_again(at, raw);
                    }
                    *days = self.stand(at, (row, raw), neighbours);
                    return true;
                }
            }
        }
        let plan = Arc::clone(&self.plan);
        let options = &plan.options;
        let mut buffer = std::mem::take(&mut self.buffer);
        let value = normalise(raw, &mut buffer);
        let is_told = !options.missing.contains(value);
        let is_normal = value.len() == raw.len() && value == raw;
        let remembered = (raw, is_normal);
        let remembered = (remembers && shape.is_none()).then_some(remembered);
        match is_told {
            true => {
                let known = match shape {
                    Some(shape) => (shape, None),
                    None => self.shape_of(value, raw),
                };
                let value = (place, raw, value);
                self.look_anew(&plan, value, known, remembered, neighbours, days);
            }
            false => self.remember(remembered, (Remembered::Missing, 0), None),
        }
        self.buffer = buffer;
        is_told
    }

    /// Remembers a value, if it is to be remembered, and forgets others where these are too many.
    fn remember(
        &mut self,
        value: Option<(&str, bool)>,
        is: (Remembered, usize),
        seen: Option<&SeenValue>,
    ) {
        let Some(value) = value else { return };
        if self.known.are_all_remembered() {
            self.settle_values();
            self.known.forget_values();
        }
        self.known.remember(value, is, seen);
    }

    /// Looks at what a remembered value shows because it follows those before it. Gives back its day.
    fn stand(
        &mut self,
        at: usize,
        (row, raw): (u64, &str),
        neighbours: &Neighbours,
    ) -> Option<Days> {
        let Observer { plan, known, sums, clues, buffer, .. } = self;
        let seen = known.recent.seen(at)?;
        let family = known.all[known.recent.all[at].shape()].1.family.as_ref();
        let value = match known.recent.all[at].is_normal {
            true => raw,
            false => normalise(raw, buffer),
        };
        let standing = Standing { row, raw, value };
        standing.observe(plan, (&mut *sums.evidence, clues), (seen, family), neighbours);
        seen.days
    }

    /// Notes the names of a remembered value, which is the first of its rows in this run.
    fn name_again(&mut self, at: usize, raw: &str) {
        let Observer { plan, known, sums, buffer, .. } = self;
        let shape = known.recent.all[at].shape();
        let is_named = |family: &KnownFamily| family.named && known.recent.seen(at).is_some();
        if !known.all[shape].1.family.as_ref().is_some_and(is_named) {
            return;
        }
        let value = normalise(raw, buffer);
        let blanked = known.find_blanked(value);
        if !known.has_names(blanked, value, plan.options.terms.lexicon) {
            let (part, row) = (plan.part, sums.evidence.rows);
            sums.note_names(plan, &mut known.all[shape].1, value, FirstRow { part, row, raw });
        }
    }

    /// The number of the shape of a normalised value, and where it is remembered for values with other digits.
    fn shape_of(&mut self, value: &str, raw: &str) -> (usize, Option<usize>) {
        if let Some(at) = self.known.find_blanked(value) {
            return (self.known.blanked[at].shape(), Some(at));
        }
        self.shape.read(value, self.plan.options.terms);
        let shape = self.known.find(&self.shape).unwrap_or_else(|| {
            if self.known.are_many(&self.sums.evidence.shapes) {
                self.settle();
            }
            let Observer { plan, sums, clues, .. } = self;
            let (part, row) = (plan.part, sums.evidence.rows);
            let witness = Witness { part, row, value: raw.to_owned() };
            let known = KnownShape::of(value, &plan.options, &mut sums.groups, clues, witness);
            self.known.add(&self.shape, known)
        });
        let lexicon = self.plan.options.terms.lexicon;
        (shape, self.known.remember_blanked(value, shape, lexicon))
    }

    /// Looks at a value of which nothing is remembered but perhaps its shape, and perhaps remembers it.
    fn look_anew(
        &mut self,
        plan: &ObservePlan,
        (place, raw, value): (RowPlace<'_>, &str, &str),
        (shape, blanked): (usize, Option<usize>),
        remembered: Option<(&str, bool)>,
        neighbours: &Neighbours,
        days: &mut Option<Days>,
    ) {
        let ObservePlan { options, part, split, .. } = plan;
        let row = self.sums.evidence.rows;
        let first = FirstRow { part: *part, row, raw };
        let (terms, year_is_open) =
            match options.years.as_ref().map(|years| years.of_row(place.row)) {
                // The first look: the sequence has yet to show the years.
                None => (Terms { year: None, ..options.terms }, false),
                Some(RowYear::Known(year)) => (Terms { year: Some(year), ..options.terms }, false),
                Some(RowYear::Open(_)) => (Terms { year: None, ..options.terms }, true),
            };
        let seen = self.sums.see(plan, &self.known.all[shape].1, value, terms);
        let own = split.as_ref().and_then(|split| split.of(place)).map(Vec::as_slice);
        let is_named = seen.is_some()
            && self.known.all[shape].1.family.as_ref().is_some_and(|family| family.named)
            && !self.known.has_names(blanked, value, options.terms.lexicon);
        let (_, known) = &mut self.known.all[shape];
        let same = SameRows { value, rows: 1, met: Met::New, own };
        self.sums.count(plan, known, (same, terms), seen.as_ref(), first);
        if is_named {
            self.sums.note_names(plan, known, value, first);
        }
        if let Some(seen) = &seen {
            *days = seen.days;
            let evidence = &mut *self.sums.evidence;
            evidence.open_years += u64::from(year_is_open && seen.yearless);
            let standing = Standing { row, raw, value };
            let family = known.family.as_ref();
            standing.observe(plan, (evidence, &mut self.clues), (seen, family), neighbours);
            if let Some(numbers) = known.numbers() {
                self.clues.count(numbers, 1, seen);
            }
        }
        // Equal values of different rows may be different dates.
        match options.years.is_some() || split.is_some() {
            true => self.remember(remembered, (Remembered::Shape, shape), None),
            false => self.remember(remembered, (Remembered::Value, shape), seen.as_ref()),
        }
    }

    /// Adds the rows of a remembered value to the sums.
    fn settle_value(&mut self, at: usize) {
        let Observer { plan, known, sums, clues, buffer, .. } = self;
        let KnownShapes { all, recent, .. } = known;
        let own = &mut recent.all[at];
        if own.rows == 0 {
            return;
        }
        let (rows, first_row) = (std::mem::take(&mut own.rows), own.first_row.take());
        // Whatever other rows show is known from a row before them.
        let (met, row) = match first_row {
            Some(row) => (Met::NewInRun, row.get()),
            None => (Met::Again, sums.evidence.rows),
        };
        let own = &recent.all[at];
        let raw = recent.all.text(at);
        let same = SameRows { value: normalise(raw, buffer), rows, met, own: None };
        let terms = Terms { year: None, ..plan.options.terms };
        let first = FirstRow { part: plan.part, row, raw };
        let (known, seen) = (&mut all[own.shape()].1, recent.seen(at));
        sums.count(plan, known, (same, terms), seen, first);
        if let (Some(numbers), Some(seen)) = (known.numbers(), seen) {
            clues.count(numbers, rows, seen);
        }
    }

    /// Adds the rows of all remembered values to the sums.
    fn settle_values(&mut self) {
        (0..self.known.recent.all.len()).for_each(|at| self.settle_value(at));
    }

    /// Adds all that is remembered to the sums, and forgets.
    fn settle(&mut self) {
        self.settle_values();
        self.known.settle(&mut self.sums.evidence);
    }

    /// About how many bytes it takes, counted as those of evidence are.
    pub fn weight(&self) -> usize {
        size_of::<Observer>() + self.known.weight() + self.clues.weight() + self.sums.weight()
    }

    /// Keeps less from now on, and of what stands beside no more than the `neighbours` that are as thin.
    pub fn thin(&mut self, thinning: Thinning, neighbours: &Neighbours) {
        self.settle();
        let Sums { evidence, groups, .. } = &mut self.sums;
        evidence.thin(thinning);
        let dates = evidence.thinned.dates();
        groups.iter_mut().for_each(|own| own.keep_only(dates));
        self.clues.forget_beside(neighbours);
    }

    /// The evidence of the run of rows that ends here, for a column of this name whose other columns were looked at too.
    /// What is seen next is of another run: joined in their order, the runs are the whole. What is remembered of
    /// values goes on, and changes no result.
    ///
    /// ```
    /// use metachron_core::evidence::{Neighbours, ObserveOptions, Observer};
    /// let mut observer = Observer::new(ObserveOptions::default(), 0);
    /// let mut run = |values: [&str; 2]| {
    ///     (1..).zip(values).for_each(|(row, value)| observer.observe(row, value));
    ///     observer.end_run("seen", &Neighbours::default())
    /// };
    /// let (first, next) = (run(["03/04/2024", "13/04/2024"]), run(["03/04/2024", "04/05/2024"]));
    /// assert_eq!(first.join(*next).unwrap().rows, 4);
    /// ```
    pub fn end_run(&mut self, own: &str, neighbours: &Neighbours) -> Box<Evidence> {
        self.settle_values();
        self.known.end_run(&mut self.sums.evidence);
        let mut evidence = self.sums.take(&self.plan);
        evidence.clues = self.clues.take(self.plan.part, neighbours, own);
        evidence
    }

    /// The evidence of all values that were looked at.
    pub fn finish(self) -> Evidence {
        *self.finish_among("", &Neighbours::default())
    }

    /// The same for the column of this name, whose other columns were looked at too.
    pub fn finish_among(mut self, own: &str, neighbours: &Neighbours) -> Box<Evidence> {
        let thinned = self.sums.evidence.thinned;
        let mut evidence = self.end_run(own, neighbours);
        // Some of it may be younger than what was thinned.
        evidence.thin(thinned);
        evidence
    }
}

impl Evidence {
    fn observe_typed(&mut self, moment: TypedValue) {
        let tally = self.typed.entry(moment.kind()).or_insert_with(|| TypedTally {
            rows: 0,
            span: (moment, moment),
            fraction_digits: 0,
            dates: DistinctDates::default(),
            days: DaysOfMonth::default(),
        });
        tally.rows += 1;
        tally.span.add_up((moment, moment));
        tally.fraction_digits = tally.fraction_digits.max(moment.fraction_digits());
        if let Some(date) = moment.date() {
            let written = [date.year(), date.month().into(), date.day().into()];
            tally.dates.insert(written, Fits::default());
            tally.days.note(date);
        }
    }
}

/// A value where it stands.
struct Standing<'v> {
    row: u64,
    raw: &'v str,
    /// The same, normalised.
    value: &'v str,
}

impl Standing<'_> {
    /// Looks at what it shows because it follows those before it.
    fn observe(
        self,
        plan: &ObservePlan,
        (evidence, clues): (&mut Evidence, &mut ClueGatherer),
        (seen, family): (&SeenValue, Option<&KnownFamily>),
        neighbours: &Neighbours,
    ) {
        let Standing { row, raw, value } = self;
        let part = plan.part;
        if let Some(family) = family {
            if let Some(numbers) = family.numbers {
                clues.observe(numbers, (row, value), seen, neighbours);
            }
            if let Some(written) = seen.dated.filter(|_| family.year_day_month.is_some()) {
                clues.observe_year_first(written);
            }
            if let Some(first) = seen.taken().next().filter(|_| family.is_clock) {
                evidence.clock_hours.observe(first.moment);
            }
        }
        if let Some(clock) = seen.clock {
            evidence.zones.go_on(clock, FirstRow { part, row, raw });
        }
        if let Some(first) = seen.first.as_ref().filter(|_| seen.yearless) {
            evidence.sequences.entry(part).or_default().observe(row, first.moment);
        }
    }
}
