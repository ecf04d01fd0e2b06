//! What the values of a column say for and against each candidate.
//!
//! Evidence is a sum. The rows of a table may be observed in several runs, which are joined in their order; several
//! tables are merged, in any order. It holds no rows, and its size has a bound.

mod adds_up;
mod first_row;
mod amounts;
mod few;
mod fits;
mod thinning;
mod latest;
mod dates;
mod days;
mod given;
mod neighbourhood;
mod neighbours;
mod padding;
mod stretches;
mod in_step;
mod seen_value;
mod vote_runs;
mod clues;
mod gathered_beside;
mod gatherer;
mod clock_hours;
mod numbers;
mod options;
mod sequence;
mod zones;
mod shapes;
mod stand_ins;
mod group_sums;
mod known;
mod observe_plan;
mod sums;
mod observer;

use std::collections::BTreeMap;
use std::fmt;
use std::iter::Sum;
use std::ops::AddAssign;

use jiff::civil::Date;

use serde::{Deserialize, Serialize};

use crate::candidates::Form;
use crate::lexicon::Languages;
use crate::order::Alternative;
use crate::text::{Accents, fold};
use crate::typed::{Kind, TypedValue};
use adds_up::{AddsUp, fields_add_up};
use first_row::FirstRow;
use seen_value::{SeenValue, Taken};

pub use amounts::{AmountEvidence, HourFractions};
pub use clock_hours::ClockHours;
pub use clues::{Clues, Pair, TimeSteps};
pub use dates::DistinctDates;
pub use days::DaysOfMonth;
pub use few::Few;
pub use fits::Fits;
pub use given::Given;
pub use in_step::InStep;
pub(crate) use known::around_date;
pub use neighbourhood::{Beside, ByForm, Neighbourhood, ValuesBeside};
pub use neighbours::{Days, Neighbours};
pub use numbers::NumberEvidence;
pub use observe_plan::ObservePlan;
pub use observer::Observer;
pub use options::ObserveOptions;
pub use padding::{Padding, Zero};
pub use sequence::Sequence;
pub use shapes::{ShapeTally, Shapes};
pub use stand_ins::is_stand_in;
pub use stretches::{Stretch, Stretches};
pub use thinning::Thinning;
pub use vote_runs::{VoteRun, VoteRuns};
pub use zones::{Abbreviated, Back, ZoneEvidence, zones_that_skipped};

/// A row that shows something.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Witness {
    /// The part of the table.
    pub part: u32,
    /// The row in that part; the first is 1.
    pub row: u64,
    /// The raw value.
    pub value: String,
}

/// Rows that have something in common: how many there are, and the first of them.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Occurrences {
    /// How many there are.
    pub rows: u64,
    /// The first of them, where it is known.
    pub first: Option<Witness>,
}

fields_add_up!(Occurrences: rows, first);

impl AddAssign for Occurrences {
    fn add_assign(&mut self, other: Occurrences) {
        self.add_up(other);
    }
}

impl Sum for Occurrences {
    fn sum<I: Iterator<Item = Occurrences>>(all: I) -> Occurrences {
        let mut sum = Occurrences::default();
        all.for_each(|own| sum += own);
        sum
    }
}

impl Occurrences {
    /// One more; rows are noted in their order.
    pub fn note(&mut self, witness: impl FnOnce() -> Witness) {
        self.rows += 1;
        self.first.get_or_insert_with(witness);
    }
}

/// Rows that are alike in what they show.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Tally {
    /// How many there are.
    pub rows: u64,
    /// The lowest of them.
    pub lowest: Witness,
    /// Per order, the earliest and the latest moment.
    pub spans: BTreeMap<Alternative, (TypedValue, TypedValue)>,
    /// The most digits of a fraction of a second.
    pub fraction_digits: u8,
    /// Rows that stand in a leap second.
    pub leap_seconds: u64,
}

impl Tally {
    fn new(lowest: Witness) -> Tally {
        Tally { rows: 0, lowest, spans: BTreeMap::new(), fraction_digits: 0, leap_seconds: 0 }
    }

    fn widen(&mut self, order: Alternative, moment: TypedValue) {
        self.spans.entry(order).or_insert((moment, moment)).add_up((moment, moment));
    }
}

impl AddsUp for Tally {
    fn add_up(&mut self, other: Tally) {
        self.rows.add_up(other.rows);
        self.lowest.add_up(other.lowest);
        self.spans.add_up(other.spans);
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
        self.leap_seconds += other.leap_seconds;
    }
}

/// Values of one form.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Group {
    /// Whether the month is a number.
    pub all_digits: bool,
    /// Rows by which orders fit, and by what they are when read.
    pub tallies: BTreeMap<(Fits, Kind), Tally>,
    /// The different dates as they are written.
    pub dates: DistinctDates,
    /// Rows by day of the month, as each alternative takes them, and by their padding.
    pub days: BTreeMap<(Alternative, Padding), DaysOfMonth>,
}

/// How many cells are of which type.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct CellTypes {
    /// Text.
    pub text: u64,
    /// Numbers.
    pub number: u64,
    /// Values that their file has typed as dates or times.
    pub typed: u64,
    /// Errors in place of a value.
    pub fault: u64,
}

fields_add_up!(CellTypes: text, number, typed, fault);

/// Cells of one kind that are typed already.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct TypedTally {
    /// How many there are.
    pub rows: u64,
    /// The earliest and the latest.
    pub span: (TypedValue, TypedValue),
    /// The most digits of a fraction of a second.
    pub fraction_digits: u8,
    /// The different dates, written year first.
    pub dates: DistinctDates,
    /// Rows by day of the month.
    pub days: DaysOfMonth,
}

impl AddsUp for TypedTally {
    fn add_up(&mut self, other: TypedTally) {
        self.rows.add_up(other.rows);
        self.span.add_up(other.span);
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
        self.dates.add_up(other.dates);
        self.days.add_up(other.days);
    }
}

/// All that is known of a column.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Evidence {
    /// What shaped it, as text: only what was gathered with the same options adds up.
    options: Box<str>,
    /// How much of what it shows is kept.
    pub thinned: Thinning,
    /// All rows.
    pub rows: u64,
    /// Rows that stand for nothing.
    pub missing: u64,
    /// Rows that are dates only in form.
    pub placeholder: u64,
    /// What the cells are, apart from those that stand for nothing.
    pub cells: CellTypes,
    /// Cells that are typed already, by kind.
    pub typed: BTreeMap<Kind, TypedTally>,
    /// The written forms.
    pub shapes: Shapes,
    /// Groups by their form.
    pub groups: BTreeMap<Form, Group>,
    /// The names of months and weekdays, by their folded form, with the first row of each.
    pub names: BTreeMap<String, Witness>,
    /// Rows that are dates in another language than the one that was said.
    pub foreign: Occurrences,
    /// What the analyst's layouts make of it, if there are any.
    pub given: Given,
    /// The votes by what stands beside them, and by where they stand.
    pub clues: Clues,
    /// Values that are numbers.
    pub numbers: NumberEvidence,
    /// Rows that nothing reads but year, day, month.
    pub year_day_month: Occurrences,
    /// The hours of clocks that say nothing of before or after noon.
    pub clock_hours: ClockHours,
    /// How the numbers of lengths of time are written.
    pub amounts: AmountEvidence,
    /// Rows on days that programs write where they have none.
    pub spikes: BTreeMap<Date, Occurrences>,
    /// The sequence of values without a year, by part.
    pub sequences: BTreeMap<u32, Sequence>,
    /// Rows of which the sequence does not say the year.
    pub open_years: u64,
    /// Where marked values stand first.
    pub marks: BTreeMap<String, Witness>,
    /// What speaks of zones.
    pub zones: ZoneEvidence,
}

/// The most names that are kept; no language has as many.
const MOST_NAMES: usize = 512;

/// Evidence that was gathered with different options cannot be added.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DifferentOptions;

impl fmt::Display for DifferentOptions {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(
            "evidence gathered with different missing texts, layouts or words cannot be added",
        )
    }
}

impl std::error::Error for DifferentOptions {}

impl Evidence {
    /// The evidence of no rows.
    pub fn empty(options: &ObserveOptions) -> Evidence {
        Evidence::of_digest(options.digest().into())
    }

    /// The evidence of no rows, gathered with these options.
    fn of_digest(options: Box<str>) -> Evidence {
        Evidence {
            options,
            thinned: Thinning::NONE,
            rows: 0,
            missing: 0,
            placeholder: 0,
            cells: CellTypes::default(),
            typed: BTreeMap::new(),
            shapes: Shapes::default(),
            groups: BTreeMap::new(),
            names: BTreeMap::new(),
            foreign: Occurrences::default(),
            given: Given::default(),
            clues: Clues::default(),
            numbers: NumberEvidence::default(),
            year_day_month: Occurrences::default(),
            clock_hours: ClockHours::default(),
            amounts: AmountEvidence::default(),
            spikes: BTreeMap::new(),
            sequences: BTreeMap::new(),
            open_years: 0,
            marks: BTreeMap::new(),
            zones: ZoneEvidence::default(),
        }
    }

    /// Whether it was gathered with these options.
    ///
    /// ```
    /// use metachron_core::evidence::{Evidence, ObserveOptions};
    /// let options = ObserveOptions::default();
    /// assert!(Evidence::empty(&options).was_gathered_with(&options));
    /// ```
    pub fn was_gathered_with(&self, options: &ObserveOptions) -> bool {
        *self.options == *options.digest()
    }

    /// Whether it was gathered with the options of the other one.
    pub fn was_gathered_as(&self, other: &Evidence) -> bool {
        self.options == other.options
    }

    /// The same evidence as that of later parts of a table: parts are numbered that much higher.
    #[must_use]
    pub fn of_later_parts(self, by: u32) -> Evidence {
        self.numbered(|part| part.saturating_add(by))
    }

    /// The same evidence of a single part as that of the first one.
    #[must_use]
    pub fn of_first_part(self) -> Evidence {
        self.numbered(|_| 0)
    }

    fn numbered(mut self, part: impl Fn(u32) -> u32) -> Evidence {
        self.each_witness(|witness| witness.part = part(witness.part));
        self.clues = self.clues.numbered(&part);
        let sequences = self.sequences.into_iter().map(|(own, sequence)| (part(own), sequence));
        self.sequences = sequences.collect();
        self
    }

    /// What it shares with the other columns of its table.
    pub fn values_beside(&self) -> &ValuesBeside {
        self.clues.neighbours.shown()
    }

    /// Has it share these values with the other columns: its own, and perhaps those of other rows. Evidence that shares
    /// the same values with what it adds up with has nothing to add up of them.
    pub fn share(&mut self, values: ValuesBeside) {
        self.clues.neighbours.show(values);
    }

    fn each_witness(&mut self, change: impl Fn(&mut Witness)) {
        self.shapes.each_lowest(&change);
        for tally in self.groups.values_mut().flat_map(|group| group.tallies.values_mut()) {
            change(&mut tally.lowest);
        }
        self.names.values_mut().for_each(&change);
        self.zones.each_lowest(&change);
        self.marks.values_mut().for_each(&change);
        let Given { contested_first, unfit, of_other_rows, .. } = &mut self.given;
        let rows = self.spikes.values_mut().chain([
            unfit,
            of_other_rows,
            &mut self.foreign,
            &mut self.year_day_month,
            &mut self.amounts.unclear_points,
        ]);
        rows.filter_map(|own| own.first.as_mut()).chain(contested_first).for_each(&change);
    }

    /// The evidence of these rows and of the next ones of the same table: it equals that of all of them looked at in
    /// one go, in every field.
    ///
    /// ```
    /// use metachron_core::evidence::{ObserveOptions, Observer};
    /// let seen = |values: &[&str]| {
    ///     let mut observer = Observer::new(ObserveOptions::default(), 0);
    ///     (1..).zip(values).for_each(|(row, value)| {
    ///         observer.observe(row, *value);
    ///     });
    ///     observer.finish()
    /// };
    /// let whole = seen(&["13/04/2024", "04/05/2024", "04/14/2024"]);
    /// let joined = seen(&["13/04/2024"]).join(seen(&["04/05/2024", "04/14/2024"])).unwrap();
    /// assert_eq!(joined, whole);
    /// ```
    ///
    /// # Errors
    /// If the two were gathered with different options.
    pub fn join(mut self, mut next: Evidence) -> Result<Evidence, DifferentOptions> {
        let rows = self.rows;
        next.each_witness(|witness| witness.row.add_up(rows));
        self.clues.join(std::mem::take(&mut next.clues), rows);
        self.zones.join(std::mem::take(&mut next.zones));
        self.clock_hours.join(std::mem::take(&mut next.clock_hours));
        for (part, sequence) in std::mem::take(&mut next.sequences) {
            self.sequences.entry(part).or_default().join(sequence, rows);
        }
        // Everything else is a sum, whatever the order of its parts.
        let zones = std::mem::take(&mut self.zones);
        let clock_hours = std::mem::take(&mut self.clock_hours);
        Ok(Evidence { zones, clock_hours, ..self.merge(next)? })
    }

    /// What the names of months and weekdays say of their language.
    ///
    /// ```
    /// use metachron_core::evidence::{ObserveOptions, Observer};
    /// use metachron_core::lexicon::Languages;
    /// let mut observer = Observer::new(ObserveOptions::default(), 0);
    /// observer.observe(1, "3 maaliskuuta 2024");
    /// assert!(matches!(observer.finish().languages(), Languages::One(locale) if locale.tag() == "fi"));
    /// ```
    pub fn languages(&self) -> Languages {
        Languages::of(self.names.keys().map(String::as_str))
    }

    /// A name of the next row.
    fn note_name(&mut self, name: &str, row: FirstRow<'_>) {
        if !self.names.contains_key(name) {
            let folded = fold(name, Accents::Kept);
            if !self.names.contains_key(&folded) {
                self.add_name(folded, row.witness());
            }
        }
    }

    fn add_name(&mut self, name: String, witness: Witness) {
        self.names.entry(name).or_insert_with(|| witness.clone()).add_up(witness);
        if self.names.len() > MOST_NAMES {
            self.names.pop_last();
        }
    }

    /// The evidence of these rows and those.
    ///
    /// ```
    /// use metachron_core::evidence::{ObserveOptions, Observer};
    /// let seen = |part, value| {
    ///     let mut observer = Observer::new(ObserveOptions::default(), part);
    ///     observer.observe(1, value);
    ///     observer.finish()
    /// };
    /// let both = seen(0, "13/04/2024").merge(seen(1, "")).unwrap();
    /// assert_eq!((both.rows, both.missing), (2, 1));
    /// ```
    ///
    /// # Errors
    /// If the two were gathered with different options.
    pub fn merge(mut self, other: Evidence) -> Result<Evidence, DifferentOptions> {
        self.add(other)?;
        Ok(self)
    }

    /// Adds the evidence of those rows to that of these, as [`merge`](Evidence::merge) does.
    ///
    /// # Errors
    /// If the two were gathered with different options.
    pub fn add(&mut self, other: Evidence) -> Result<(), DifferentOptions> {
        if self.options != other.options {
            return Err(DifferentOptions);
        }
        self.rows.add_up(other.rows);
        self.missing += other.missing;
        self.placeholder += other.placeholder;
        self.cells.add_up(other.cells);
        self.typed.add_up(other.typed);
        self.shapes.add_up(other.shapes);
        self.groups.add_up(other.groups);
        for (name, witness) in other.names {
            self.add_name(name, witness);
        }
        self.foreign.add_up(other.foreign);
        self.given.add_up(other.given);
        self.clues.add_up(other.clues);
        self.numbers.add_up(other.numbers);
        self.year_day_month.add_up(other.year_day_month);
        self.clock_hours.add_up(other.clock_hours);
        self.amounts.add_up(other.amounts);
        self.zones.add_up(other.zones);
        self.spikes.add_up(other.spikes);
        // A part of a table is looked at as a whole.
        self.sequences.extend(other.sequences);
        self.open_years.add_up(other.open_years);
        self.marks.add_up(other.marks);
        // What adds up is kept as thin as the thinner of both.
        self.thin(self.thinned.max(other.thinned));
        Ok(())
    }

    /// About how many bytes it takes. What grows with the values is counted; a tree takes up to twice as much as its
    /// entries.
    pub fn weight(&self) -> usize {
        const OF_SHAPE: usize = 300;
        let typed: usize = self.typed.values().map(|own| own.dates.weight()).sum();
        size_of::<Evidence>()
            + OF_SHAPE * (self.shapes.len() + self.names.len())
            + self.groups.values().map(Group::weight).sum::<usize>()
            + typed
            + self.clues.weight()
    }

    /// Keeps less from now on.
    pub fn thin(&mut self, thinning: Thinning) {
        self.thinned = self.thinned.max(thinning);
        self.keep_as_thin();
    }

    /// Keeps no more than it says it does.
    fn keep_as_thin(&mut self) {
        if self.thinned == Thinning::NONE {
            return;
        }
        self.shapes.keep_only(self.thinned.shapes());
        let groups = self.groups.values_mut().map(|group| &mut group.dates);
        let typed = self.typed.values_mut().map(|tally| &mut tally.dates);
        groups.chain(typed).for_each(|dates| dates.keep_only(self.thinned.dates()));
        self.clues.neighbours.keep_only(self.thinned.values_beside());
    }
}

fields_add_up!(Group: tallies, dates, days);

impl Group {
    fn new(all_digits: bool) -> Group {
        let (tallies, days) = (BTreeMap::new(), BTreeMap::new());
        Group { all_digits, tallies, dates: DistinctDates::default(), days }
    }

    fn weight(&self) -> usize {
        const OF_TALLY: usize = 700;
        self.dates.weight() + OF_TALLY * self.tallies.len()
    }

    /// Counts rows by the day of the month that each alternative takes them for.
    fn note_days(&mut self, rows: u64, seen: &SeenValue) {
        for Taken { order, written, .. } in seen.taken() {
            if let Some(day) = written {
                self.days.entry((*order, seen.padding)).or_default().note_all(rows, *day);
            }
        }
    }

    /// Rows by day of the month, as the wanted alternatives take them where they are padded so.
    pub fn days(&self, wanted: impl Fn(Alternative, Padding) -> bool) -> DaysOfMonth {
        let own = self.days.iter().filter(|((order, padding), _)| wanted(*order, *padding));
        own.map(|(_, rows)| *rows).sum()
    }

    /// Rows of which `holds` is true.
    pub fn rows(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.matching(holds).map(|(_, tally)| tally.rows).sum()
    }

    /// The lowest row of which `holds` is true.
    pub fn lowest(&self, holds: impl Fn(Fits) -> bool) -> Option<&Witness> {
        self.matching(holds).map(|(_, tally)| &tally.lowest).min()
    }

    /// How many rows there are of which `holds` is true, and the first of them.
    ///
    /// ```
    /// use metachron_core::evidence::{Fits, ObserveOptions, Observer};
    /// let mut observer = Observer::new(ObserveOptions::default(), 0);
    /// observer.observe(1, "13/04/2024");
    /// observer.observe(2, "31/02/2024");
    /// let evidence = observer.finish();
    /// let group = evidence.groups.values().next().unwrap();
    /// let unfit = group.occurrences(|fits| !fits.fits_any());
    /// assert_eq!((unfit.rows, unfit.first.unwrap().row), (1, 2));
    /// ```
    pub fn occurrences(&self, holds: impl Fn(Fits) -> bool) -> Occurrences {
        Occurrences { rows: self.rows(&holds), first: self.lowest(&holds).cloned() }
    }

    fn matching(
        &self,
        holds: impl Fn(Fits) -> bool,
    ) -> impl Iterator<Item = (&(Fits, Kind), &Tally)> {
        self.tallies.iter().filter(move |((fits, _), _)| holds(*fits))
    }
}
