//! What the values of a column say for and against each candidate.
//!
//! Evidence is a sum. The rows of a table may be observed in several runs, which are joined in their order; several
//! tables are merged, in any order. It holds no rows, and its size has a bound.

mod fits;
mod dates;
mod given;
mod neighbours;
mod clues;
mod numbers;
mod options;
mod sequence;
mod zones;
mod shapes;
mod known;
mod observer;

use std::collections::BTreeMap;
use std::fmt;

use jiff::civil::Date;

use serde::{Deserialize, Serialize};

use crate::candidates::Form;
use crate::lexicon::Languages;
use crate::order::Alternative;
use crate::typed::{Kind, TypedValue};

pub use clues::{Beside, Clue, Clues, Pair, Run, Runs, Steps};
pub use dates::DistinctDates;
pub use fits::Fits;
pub use given::Given;
pub(crate) use known::around_date;
pub use neighbours::{Days, Neighbours};
pub use numbers::Numbers;
pub use observer::Observer;
pub use options::ObserveOptions;
pub use sequence::Sequence;
pub use shapes::{ShapeTally, Shapes};
pub use zones::{Abbreviated, Back, ZoneEvidence};

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

    fn merge(&mut self, other: Tally) {
        self.rows += other.rows;
        self.lowest = self.lowest.clone().min(other.lowest);
        for (order, (earliest, latest)) in other.spans {
            self.widen(order, earliest);
            self.widen(order, latest);
        }
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
        self.leap_seconds += other.leap_seconds;
    }

    fn widen(&mut self, order: Alternative, moment: TypedValue) {
        let span = self.spans.entry(order).or_insert((moment, moment));
        *span = (span.0.min(moment), span.1.max(moment));
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
}

/// How many cells are of which type.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Cells {
    /// Text.
    pub text: u64,
    /// Numbers.
    pub number: u64,
    /// Values that their file has typed as dates or times.
    pub typed: u64,
    /// Errors in place of a value.
    pub fault: u64,
}

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
}

impl TypedTally {
    fn merge(&mut self, other: TypedTally) {
        self.rows += other.rows;
        self.span = (self.span.0.min(other.span.0), self.span.1.max(other.span.1));
        self.fraction_digits = self.fraction_digits.max(other.fraction_digits);
        self.dates.merge(other.dates);
    }
}

/// All that is known of a column.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Evidence {
    /// What shaped it, as text: only what was gathered with the same options adds up.
    options: String,
    /// All rows.
    pub rows: u64,
    /// Rows that stand for nothing.
    pub missing: u64,
    /// Rows that are dates only in form.
    pub placeholder: u64,
    /// What the cells are, apart from those that stand for nothing.
    pub cells: Cells,
    /// Cells that are typed already, by kind.
    pub typed: BTreeMap<Kind, TypedTally>,
    /// The written forms.
    pub shapes: Shapes,
    /// Groups by their form.
    pub groups: BTreeMap<Form, Group>,
    /// The names of months and weekdays, by their folded form, with the first row of each.
    pub names: BTreeMap<String, Witness>,
    /// Rows that are dates in another language than the one that was said, and the first of them.
    pub foreign: (u64, Option<Witness>),
    /// What the analyst's layouts make of it, if there are any.
    pub given: Given,
    /// The votes by what stands beside them, and by where they stand.
    pub clues: Clues,
    /// Values that are numbers.
    pub numbers: Numbers,
    /// Rows on days that programs write where they have none, and the first of each.
    pub spikes: BTreeMap<Date, (u64, Witness)>,
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
        Evidence {
            options: options.digest(),
            rows: 0,
            missing: 0,
            placeholder: 0,
            cells: Cells::default(),
            typed: BTreeMap::new(),
            shapes: Shapes::default(),
            groups: BTreeMap::new(),
            names: BTreeMap::new(),
            foreign: (0, None),
            given: Given::default(),
            clues: Clues::default(),
            numbers: Numbers::default(),
            spikes: BTreeMap::new(),
            sequences: BTreeMap::new(),
            open_years: 0,
            marks: BTreeMap::new(),
            zones: ZoneEvidence::default(),
        }
    }

    /// Whether it was gathered with these options.
    pub fn was_gathered_with(&self, options: &ObserveOptions) -> bool {
        self.options == options.digest()
    }

    /// The same evidence as that of later parts of a table: parts are numbered that much higher.
    #[must_use]
    pub fn of_later_parts(mut self, by: u32) -> Evidence {
        self.each_witness(|witness| witness.part += by);
        self.clues = self.clues.of_later_parts(by);
        let sequences = self.sequences.into_iter().map(|(part, sequence)| (part + by, sequence));
        self.sequences = sequences.collect();
        self
    }

    fn each_witness(&mut self, change: impl Fn(&mut Witness)) {
        self.shapes.each_lowest(&change);
        for tally in self.groups.values_mut().flat_map(|group| group.tallies.values_mut()) {
            change(&mut tally.lowest);
        }
        self.names.values_mut().for_each(&change);
        self.zones.each_lowest(&change);
        self.marks.values_mut().for_each(&change);
        self.spikes.values_mut().for_each(|(_, lowest)| change(lowest));
        let Given { contested_lowest, unfit_lowest, of_other_lowest, .. } = &mut self.given;
        let given = [contested_lowest, unfit_lowest, of_other_lowest];
        given.into_iter().chain([&mut self.foreign.1]).flatten().for_each(&change);
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
        next.each_witness(|witness| witness.row += rows);
        self.clues.join(std::mem::take(&mut next.clues), rows);
        self.zones.join(std::mem::take(&mut next.zones));
        for (part, sequence) in std::mem::take(&mut next.sequences) {
            self.sequences.entry(part).or_default().join(sequence, rows);
        }
        // Everything else is a sum, whatever the order of its parts.
        let zones = std::mem::take(&mut self.zones);
        Ok(Evidence { zones, ..self.merge(next)? })
    }

    /// What the names of months and weekdays say of their language.
    pub fn languages(&self) -> Languages {
        Languages::of(self.names.keys().map(String::as_str))
    }

    fn add_name(&mut self, name: String, witness: Witness) {
        let lowest = self.names.entry(name).or_insert_with(|| witness.clone());
        if witness < *lowest {
            *lowest = witness;
        }
        if self.names.len() > MOST_NAMES {
            self.names.pop_last();
        }
    }

    /// The evidence of these rows and those.
    ///
    /// # Errors
    /// If the two were gathered with different options.
    pub fn merge(mut self, other: Evidence) -> Result<Evidence, DifferentOptions> {
        if self.options != other.options {
            return Err(DifferentOptions);
        }
        self.rows += other.rows;
        self.missing += other.missing;
        self.placeholder += other.placeholder;
        self.cells.text += other.cells.text;
        self.cells.number += other.cells.number;
        self.cells.typed += other.cells.typed;
        self.cells.fault += other.cells.fault;
        for (kind, tally) in other.typed {
            match self.typed.get_mut(&kind) {
                Some(own) => own.merge(tally),
                None => {
                    self.typed.insert(kind, tally);
                }
            }
        }
        self.shapes.merge(other.shapes);
        for (form, group) in other.groups {
            match self.groups.get_mut(&form) {
                Some(own) => own.merge(group),
                None => {
                    self.groups.insert(form, group);
                }
            }
        }
        for (name, witness) in other.names {
            self.add_name(name, witness);
        }
        self.foreign.0 += other.foreign.0;
        self.foreign.1 = lower(self.foreign.1.take(), other.foreign.1);
        self.given.merge(other.given);
        self.clues.merge(other.clues);
        self.numbers.merge(other.numbers);
        self.zones.merge(other.zones);
        for (day, (rows, lowest)) in other.spikes {
            match self.spikes.get_mut(&day) {
                Some(own) => *own = (own.0 + rows, own.1.clone().min(lowest)),
                None => {
                    self.spikes.insert(day, (rows, lowest));
                }
            }
        }
        // A part of a table is looked at as a whole.
        self.sequences.extend(other.sequences);
        self.open_years += other.open_years;
        for (value, witness) in other.marks {
            let lowest = self.marks.entry(value).or_insert_with(|| witness.clone());
            *lowest = lowest.clone().min(witness);
        }
        Ok(self)
    }
}

impl Group {
    fn new(all_digits: bool) -> Group {
        Group { all_digits, tallies: BTreeMap::new(), dates: DistinctDates::default() }
    }

    fn merge(&mut self, other: Group) {
        for (key, tally) in other.tallies {
            match self.tallies.get_mut(&key) {
                Some(own) => own.merge(tally),
                None => {
                    self.tallies.insert(key, tally);
                }
            }
        }
        self.dates.merge(other.dates);
    }

    /// Rows of which `holds` is true.
    pub fn rows(&self, holds: impl Fn(Fits) -> bool) -> u64 {
        self.matching(holds).map(|(_, tally)| tally.rows).sum()
    }

    /// The lowest row of which `holds` is true.
    pub fn lowest(&self, holds: impl Fn(Fits) -> bool) -> Option<&Witness> {
        self.matching(holds).map(|(_, tally)| &tally.lowest).min()
    }

    fn matching(
        &self,
        holds: impl Fn(Fits) -> bool,
    ) -> impl Iterator<Item = (&(Fits, Kind), &Tally)> {
        self.tallies.iter().filter(move |((fits, _), _)| holds(*fits))
    }
}

fn lower(a: Option<Witness>, b: Option<Witness>) -> Option<Witness> {
    match (a, b) {
        (Some(a), Some(b)) => Some(a.min(b)),
        (a, b) => a.or(b),
    }
}
