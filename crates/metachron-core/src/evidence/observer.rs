//! Looks at values one after the other and keeps what they show.

use std::sync::Arc;

use super::adds_up::AddsUp;
use super::clues::ClueGatherer;
use super::known::{KnownShape, KnownShapes, MOST_RECENT, SeenValue};
use super::stand_ins::is_stand_in;
use super::{
    Days, DaysOfMonth, DistinctDates, Evidence, Fits, Group, Neighbours, ObserveOptions, Thinning,
    TypedTally, Witness,
};
use crate::apply::LayoutProgram;
use crate::candidates::{Form, Shape, Style, without_zone};
use crate::epoch::Number;
use crate::lexicon::{Length, names};
use crate::order::Alternative;
use crate::reading::{Fit, RowPlace, RowYear, Split, Terms, Unfit};
use crate::text::{Accents, fold, normalise};
use crate::typed::TypedValue;
use crate::value::Value;

/// How a part of a column is looked at: fixed before the first row, and shared by all who look at its rows.
pub struct ObservePlan {
    options: ObserveOptions,
    /// The number of the part in its table.
    part: u32,
    /// The layouts that the analyst gave.
    given: Vec<LayoutProgram>,
    /// Which of those are for which rows, where rows differ.
    split: Option<Split<Vec<usize>>>,
    /// How many values are remembered, so that nothing has to be found out again.
    remembered: usize,
}

impl ObservePlan {
    /// With these options. Parts of a table are numbered so that rows can be named.
    ///
    /// ```
    /// use std::sync::Arc;
    /// use metachron_core::evidence::{ObserveOptions, ObservePlan, Observer};
    /// let plan = Arc::new(ObservePlan::new(ObserveOptions::default(), 0));
    /// let (mut rows, mut next) = (Observer::of(plan.clone()), Observer::of(plan));
    /// rows.observe(1, "03/04/2024");
    /// next.observe(2, "13/04/2024");
    /// assert_eq!(rows.finish().join(next.finish()).unwrap().rows, 2);
    /// ```
    pub fn new(options: ObserveOptions, part: u32) -> ObservePlan {
        let given = options.layouts.iter().map(LayoutProgram::new).collect();
        let split = options.split.as_ref().and_then(|split| split.places(&options.layouts));
        ObservePlan { options, part, given, split, remembered: MOST_RECENT }
    }

    /// The same, where no more values are remembered than there is room for beside other columns. It changes no result.
    #[must_use]
    pub fn remembering(self, values: usize) -> ObservePlan {
        ObservePlan { remembered: values, ..self }
    }
}

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
    /// Shapes seen lately, with what was made of them, and their rows that are not yet in the evidence.
    known: KnownShapes,
    /// What the rows add up to, as far as it is not in the groups and clues.
    evidence: Box<Evidence>,
    /// The groups by number.
    groups: Vec<(Form, Group)>,
    clues: ClueGatherer,
    /// The shape of a value.
    shape: Shape,
    /// What the layouts that were said make of it.
    read: Vec<Result<Fit, Unfit>>,
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
        let evidence = Box::new(Evidence::empty(&plan.options));
        let (shape, buffer) = (Shape::default(), String::new());
        let known = KnownShapes::remembering(plan.remembered);
        let clues = ClueGatherer::default();
        Observer {
            plan,
            known,
            evidence,
            groups: Vec::new(),
            clues,
            shape,
            read: Vec::new(),
            buffer,
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
        self.evidence.rows += 1;
        let mut days = None;
        match value.into() {
            Value::Missing => self.evidence.missing += 1,
            Value::Fault(..) => self.evidence.cells.fault += 1,
            Value::Typed(moment) => {
                self.evidence.cells.typed += 1;
                self.evidence.observe_typed(moment);
                days = moment.date().map(Days::only);
                if let Some(day) = moment.date().filter(|day| is_stand_in(*day)) {
                    let value = moment.to_string();
                    let lowest =
                        || Witness { part: self.plan.part, row: self.evidence.rows, value };
                    self.evidence.spikes.entry(day).or_default().note(lowest);
                }
            }
            Value::Number(raw) if self.observe_text(place, raw, neighbours, &mut days) => {
                self.evidence.cells.number += 1;
            }
            Value::Text(raw) if self.observe_text(place, raw, neighbours, &mut days) => {
                self.evidence.cells.text += 1;
            }
            Value::Number(_) | Value::Text(_) => self.evidence.missing += 1,
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
        let ObservePlan { options, part, given, split, .. } = &*self.plan;
        let (part, row) = (*part, self.evidence.rows);
        let value = normalise(raw, &mut self.buffer);
        if options.missing.contains(value) {
            return false;
        }
        let witness = || Witness { part, row, value: raw.to_owned() };
        let Terms { lexicon, zones, .. } = options.terms;
        let (known, recalled) = match self.known.recall(value) {
            Some(recalled) => recalled,
            None => {
                self.shape.read(value, options.terms);
                let place = match self.known.find(&self.shape) {
                    Some(place) => place,
                    None => {
                        if self.known.are_many(&self.evidence.shapes) {
                            self.known.settle(&mut self.evidence);
                        }
                        let (groups, clues) = (&mut self.groups, &mut self.clues);
                        let shape = KnownShape::of(value, options, groups, clues, witness());
                        self.known.add(&self.shape, shape)
                    }
                };
                self.known.remember(value, place);
                (place, None)
            }
        };
        let KnownShapes { all, recent, .. } = &mut self.known;
        let (_, known) = &mut all[known];
        known.tally.rows += 1;
        let serials = options.serials;
        let missing = &options.missing;
        let is_zero = || serials.is_some_and(|serials| serials.is_placeholder(value));
        if missing.is_placeholder(value) || (!missing.keeps_placeholders() && is_zero()) {
            self.evidence.placeholder += 1;
            return true;
        }
        if may_be_number(value)
            && let Some(number) = Number::parse(value)
        {
            self.evidence.numbers.observe(number, value);
        }
        if options.marked.iter().any(|marked| marked == value) {
            let mark = self.evidence.marks.entry(value.to_owned());
            mark.or_insert_with(witness);
        }
        let (terms, year_is_open) =
            match options.years.as_ref().map(|years| years.of_row(place.row)) {
                // The first look: the sequence has yet to show the years.
                None => (Terms { year: None, ..options.terms }, false),
                Some(RowYear::Known(year)) => (Terms { year: Some(year), ..options.terms }, false),
                Some(RowYear::Open(_)) => (Terms { year: None, ..options.terms }, true),
            };
        let mut fits = Fits::default();
        let mut first = None;
        // A number is what it counts, and nothing else.
        let counted = serials.and_then(|serials| serials.read(value));
        if let Some(family) = known.family.as_ref().filter(|_| counted.is_none()) {
            let (_, group) = &mut self.groups[family.group];
            let newly;
            let seen = match &recalled {
                Some(seen) => {
                    family.count_again(seen, group);
                    &**seen
                }
                None => {
                    let seen = family.observe(value, terms, options.asked, group, witness);
                    if family.named {
                        for (name, senses) in names(without_zone(value, options.terms), lexicon) {
                            known.tally.full_names |=
                                matches!(senses.month, Some((_, Length::Full)));
                            if !self.evidence.names.contains_key(name) {
                                let folded = fold(name, Accents::Kept);
                                if !self.evidence.names.contains_key(&folded) {
                                    self.evidence.add_name(folded, witness());
                                }
                            }
                        }
                    }
                    // The year of a row makes equal values different.
                    if options.years.is_none() {
                        KnownShapes::keep(recent, value, &seen);
                    }
                    newly = seen;
                    &newly
                }
            };
            let SeenValue { found, dated, .. } = seen;
            let dated = *dated;
            fits = seen.fits;
            first = found.iter().flatten().next().map(|(_, fit)| *fit);
            let day = |(order, fit): &(Alternative, Fit)| Some((*order, fit.written?));
            *days = Days::of(found.iter().flatten().filter_map(day));
            if let Some(day) = first.and_then(|fit| fit.written).filter(|day| is_stand_in(*day)) {
                self.evidence.spikes.entry(day).or_default().note(witness);
            }
            if let Some(numbers) = family.numbers {
                let written = (dated, family.padding(dated));
                self.clues.observe(numbers, (row, value), fits, written, neighbours);
                for (order, fit) in found.iter().flatten() {
                    self.clues.step(numbers, *order, fit.moment);
                }
            }
            if let Some(written) = dated.filter(|_| family.year_day_month.is_some()) {
                self.clues.observe_year_first(written);
            }
            if !fits.fits_any()
                && let Some(other) = &family.year_day_month
                && other.read(value, terms).is_ok()
            {
                self.evidence.year_day_month.note(witness);
            }
            if let Some((_, fit)) = found.iter().flatten().next().filter(|_| family.is_clock) {
                self.evidence.clock_hours.observe(fit.moment);
            }
            if family.form.style == Style::Length {
                self.evidence.amounts.observe(value, witness);
            }
            known.tally.fits += u64::from(fits.fits_any());
        }
        if known.foreign {
            self.evidence.foreign.note(witness);
        }
        if let Some(counted) = counted {
            self.evidence.given.observe(&[counted], None, false, witness);
        } else if !given.is_empty() {
            let read = &mut self.read;
            read.clear();
            read.extend(given.iter().map(|program| program.read(value, terms)));
            first = read.iter().flatten().next().copied();
            let own = split.as_ref().and_then(|split| split.of(place)).map(Vec::as_slice);
            self.evidence.given.observe(read, own, fits.fits_any(), witness);
        }
        if let Some(fit) = &first {
            self.evidence.zones.observe(fit, zones, witness);
        }
        if let Some(fit) = first.filter(|fit| fit.yearless) {
            self.evidence.open_years += u64::from(year_is_open);
            self.evidence.sequences.entry(part).or_default().observe(row, fit.moment);
        }
        true
    }

    /// About how many bytes it takes. What grows with the values is counted; a tree or a list takes up to twice as much
    /// as its entries.
    pub fn weight(&self) -> usize {
        const OF_SHAPE: usize = 300;
        const OF_TALLY: usize = 700;
        let Evidence { shapes, groups, typed, names, .. } = &*self.evidence;
        let groups = self.groups.iter().map(|(_, group)| group).chain(groups.values());
        let groups: usize =
            groups.map(|group| group.dates.weight() + OF_TALLY * group.tallies.len()).sum();
        let typed: usize = typed.values().map(|own| own.dates.weight()).sum();
        size_of::<Observer>()
            + size_of::<Evidence>()
            + self.known.weight()
            + self.clues.weight()
            + OF_SHAPE * (shapes.len() + names.len())
            + groups
            + typed
    }

    /// Keeps less from now on, and of what stands beside no more than the `neighbours` that are as thin.
    pub fn thin(&mut self, thinning: Thinning, neighbours: &Neighbours) {
        self.known.settle(&mut self.evidence);
        self.evidence.thin(thinning);
        let dates = self.evidence.thinned.dates();
        self.groups.iter_mut().for_each(|(_, group)| group.dates.keep_only(dates));
        self.clues.forget_beside(neighbours);
    }

    /// The evidence of all values that were looked at.
    pub fn finish(self) -> Evidence {
        *self.finish_among("", &Neighbours::default())
    }

    /// The same for the column of this name, whose other columns were looked at too.
    pub fn finish_among(mut self, own: &str, neighbours: &Neighbours) -> Box<Evidence> {
        self.known.settle(&mut self.evidence);
        self.evidence.zones.finish();
        self.evidence.clues = self.clues.finish(self.plan.part, neighbours, own);
        // Of placeholders alone nothing is said.
        let groups = self.groups.into_iter().filter(|(_, group)| !group.tallies.is_empty());
        self.evidence.groups = groups.collect();
        // Some of it may be younger than what was thinned.
        self.evidence.keep_as_thin();
        self.evidence
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

/// Whether a value is worth being looked at as a number.
fn may_be_number(value: &str) -> bool {
    const LONGEST: usize = 30;
    value.len() <= LONGEST
        && value.bytes().all(|byte| byte.is_ascii_digit() || b"+-.,eE".contains(&byte))
}
