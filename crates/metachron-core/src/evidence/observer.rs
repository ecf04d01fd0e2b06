//! Looks at values one after the other and keeps what they show.

use std::collections::HashMap;

use jiff::civil::{Date, date};

use super::clues::{ClueGatherer, Numbers};
use super::dates::Written;
use super::shapes::MOST;
use super::{
    Days, DistinctDates, Evidence, Fits, Given, Group, Lens, Neighbours, ShapeTally, Tally,
    TypedTally, Witness,
};
use crate::apply::Program;
use crate::candidates::{Form, candidates, shape_of};
use crate::epoch::Number;
use crate::layout::Layout;
use crate::lexicon::{Length, Lexicon, names};
use crate::moment::{Kind, Moment};
use crate::reading::{Fit, Order, Place, RowYear, Split, Terms, Unfit};
use crate::text::{Accents, fnv1a, fold, normalise};
use crate::value::Value;

/// Gathers the evidence of a part of a column.
///
/// ```
/// use metachron_core::evidence::{Lens, Observer};
/// let mut observer = Observer::new(Lens::default(), 0);
/// observer.observe(1, "03/04/2024");
/// observer.observe(2, "");
/// let evidence = observer.finish();
/// assert_eq!((evidence.rows, evidence.missing), (2, 1));
/// ```
pub struct Observer {
    lens: Lens,
    part: u32,
    evidence: Evidence,
    /// Shapes seen lately, with what was made of them.
    known: KnownShapes,
    /// The groups by number.
    groups: Vec<(Form, Group)>,
    given: Vec<Program>,
    /// Which of those are for which rows.
    split: Option<Split<Vec<usize>>>,
    clues: ClueGatherer,
    shape: String,
    buffer: String,
}

struct KnownShape {
    tally: ShapeTally,
    family: Option<KnownFamily>,
    /// Whether a value of this shape is a date in another language than the one that was said.
    foreign: bool,
}

struct KnownFamily {
    form: Form,
    programs: Vec<(Order, Program)>,
    kind: Kind,
    named: bool,
    /// Where clues to its order are gathered, if it is open.
    numbers: Option<Numbers>,
    /// The number of its group.
    group: usize,
}

/// What the candidates of a family make of a value.
#[derive(Debug, Clone, Copy)]
struct Seen {
    fits: Fits,
    found: [Option<(Order, Fit)>; 6],
    /// The date as it is written.
    dated: Option<Written>,
}

impl Observer {
    /// Begins a part of a table. Parts are numbered so that rows can be named.
    pub fn new(lens: Lens, part: u32) -> Observer {
        let evidence = Evidence::empty(&lens);
        let given = lens.layouts.iter().map(Program::new).collect();
        let split = lens.split.as_ref().and_then(|split| split.places(&lens.layouts));
        let (shape, buffer) = (String::new(), String::new());
        let (known, clues) = (KnownShapes::default(), ClueGatherer::default());
        let groups = Vec::new();
        Observer { lens, part, evidence, known, groups, given, split, clues, shape, buffer }
    }

    /// Looks at the value of a row; the first row of a part is 1.
    pub fn observe<'v>(&mut self, row: u64, value: impl Into<Value<'v>>) {
        self.observe_among(row.into(), value, &Neighbours::default());
    }

    /// The same with what stands in the other columns of the row. Gives back the day, if it has one.
    pub fn observe_among<'v>(
        &mut self,
        place: Place<'_>,
        value: impl Into<Value<'v>>,
        neighbours: &Neighbours,
    ) -> Option<Days> {
        self.evidence.rows += 1;
        let mut days = None;
        match value.into() {
            Value::Missing => self.evidence.missing += 1,
            Value::Fault(_) => self.evidence.cells.fault += 1,
            Value::Typed(moment) => {
                self.evidence.cells.typed += 1;
                self.evidence.observe_typed(moment);
                days = moment.date().map(Days::only);
                if let Some(day) = moment.date().filter(is_stand_in) {
                    let value = moment.to_string();
                    let lowest = || Witness { part: self.part, row: place.row, value };
                    self.evidence.spikes.entry(day).or_insert_with(|| (0, lowest())).0 += 1;
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
        place: Place<'_>,
        raw: &str,
        neighbours: &Neighbours,
        days: &mut Option<Days>,
    ) -> bool {
        let row = place.row;
        let value = normalise(raw, &mut self.buffer);
        if self.lens.missing.contains(value) {
            return false;
        }
        let witness = || Witness { part: self.part, row, value: raw.to_owned() };
        let lexicon = self.lens.terms.lexicon;
        let (known, recalled) = match self.known.recall(value) {
            Some(recalled) => recalled,
            None => {
                shape_of(value, lexicon, &mut self.shape);
                let place = match self.known.find(&self.shape) {
                    Some(place) => place,
                    None => {
                        if self.known.all.len() == 2 * MOST {
                            self.known.settle(&mut self.evidence);
                        }
                        let (groups, clues) = (&mut self.groups, &mut self.clues);
                        let shape = KnownShape::of(value, &self.lens, groups, clues, witness());
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
        let serials = self.lens.serials;
        let missing = &self.lens.missing;
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
        if self.lens.marked.iter().any(|marked| marked == value) {
            let mark = self.evidence.marks.entry(value.to_owned());
            mark.or_insert_with(witness);
        }
        let (terms, year_is_open) = match self.lens.years.as_ref().map(|years| years.of_row(row)) {
            // The first look: the sequence has yet to show the years.
            None => (Terms { year: None, ..self.lens.terms }, false),
            Some(RowYear::Known(year)) => (Terms { year: Some(year), ..self.lens.terms }, false),
            Some(RowYear::Open(_)) => (Terms { year: None, ..self.lens.terms }, true),
        };
        let mut fits = Fits::default();
        let mut first = None;
        // A number is what it counts, and nothing else.
        let counted = serials.and_then(|serials| serials.read(value));
        if let Some(family) = known.family.as_ref().filter(|_| counted.is_none()) {
            let (_, group) = &mut self.groups[family.group];
            let seen = match recalled {
                Some(seen) => {
                    family.count_again(&seen, group);
                    seen
                }
                None => {
                    let seen = family.observe(value, terms, self.lens.asked, group, witness);
                    if family.named {
                        for (name, senses) in names(value, lexicon) {
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
                    if self.lens.years.is_none() {
                        KnownShapes::keep(recent, value, seen);
                    }
                    seen
                }
            };
            let Seen { found, dated, .. } = seen;
            fits = seen.fits;
            first = found.iter().flatten().next().map(|(_, fit)| *fit);
            let day = |(order, fit): &(Order, Fit)| Some((*order, fit.written?));
            *days = Days::of(found.iter().flatten().filter_map(day));
            if let Some(day) = first.and_then(|fit| fit.written).filter(is_stand_in) {
                self.evidence.spikes.entry(day).or_insert_with(|| (0, witness())).0 += 1;
            }
            if let Some(numbers) = family.numbers {
                self.clues.observe(numbers, (row, value), fits, dated, neighbours);
                for (order, fit) in found.iter().flatten() {
                    self.clues.step(numbers, *order, fit.moment);
                }
            }
            known.tally.fits += u64::from(fits.fits_any());
        }
        if known.foreign {
            self.evidence.foreign.0 += 1;
            if self.evidence.foreign.1.is_none() {
                self.evidence.foreign.1 = Some(witness());
            }
        }
        if let Some(counted) = counted {
            self.evidence.given.observe(&[counted], None, false, witness);
        } else if !self.given.is_empty() {
            let read: Vec<Result<Fit, Unfit>> =
                self.given.iter().map(|program| program.read(value, terms)).collect();
            first = read.iter().flatten().next().copied();
            let part = self.split.as_ref().and_then(|split| split.of(place));
            let own = part.map(Vec::as_slice);
            self.evidence.given.observe(&read, own, fits.fits_any(), witness);
        }
        if let Some(fit) = first.filter(|fit| fit.yearless) {
            self.evidence.open_years += u64::from(year_is_open);
            self.evidence.sequences.entry(self.part).or_default().observe(row, fit.moment);
        }
        true
    }

    /// The evidence of all values that were looked at.
    pub fn finish(self) -> Evidence {
        self.finish_among("", &Neighbours::default())
    }

    /// The same for the column of this name, whose other columns were looked at too.
    pub fn finish_among(mut self, own: &str, neighbours: &Neighbours) -> Evidence {
        self.known.settle(&mut self.evidence);
        self.evidence.clues = self.clues.finish(self.part, neighbours, own);
        // Of placeholders alone nothing is said.
        let groups = self.groups.into_iter().filter(|(_, group)| !group.tallies.is_empty());
        self.evidence.groups = groups.collect();
        self.evidence
    }
}

impl Evidence {
    fn observe_typed(&mut self, moment: Moment) {
        let tally = self.typed.entry(moment.kind()).or_insert_with(|| TypedTally {
            rows: 0,
            span: (moment, moment),
            fraction_digits: 0,
            dates: DistinctDates::default(),
        });
        tally.rows += 1;
        tally.span = (tally.span.0.min(moment), tally.span.1.max(moment));
        tally.fraction_digits = tally.fraction_digits.max(moment.fraction_digits());
        if let Some(date) = moment.date() {
            let written = [date.year(), date.month().into(), date.day().into()];
            tally.dates.insert(written, Fits::default());
        }
    }
}

impl KnownShape {
    fn of(
        value: &str,
        lens: &Lens,
        groups: &mut Vec<(Form, Group)>,
        clues: &mut ClueGatherer,
        lowest: Witness,
    ) -> KnownShape {
        let family = KnownFamily::of(value, lens, groups, clues);
        let every = Lexicon::every();
        let foreign = family.is_none()
            && lens.terms.lexicon != every
            && candidates(value, Terms { lexicon: every, ..lens.terms }, None, None).is_some();
        let tally = ShapeTally { rows: 0, fits: 0, lowest, full_names: false };
        KnownShape { tally, family, foreign }
    }
}

/// Shapes seen lately, and the values that had them.
#[derive(Default)]
struct KnownShapes {
    all: Vec<(String, KnownShape)>,
    places: HashMap<String, usize>,
    /// Values seen lately, each in the place of its hash: values repeat, and finding out again what
    /// they are takes longer than comparing them.
    recent: Vec<Recent>,
}

/// A value that was seen, its shape, and what its candidates make of it.
#[derive(Clone, Default)]
struct Recent {
    value: String,
    shape: usize,
    /// Kept from value to value, so that room is made once.
    seen: Option<Box<Seen>>,
    is_seen: bool,
}

/// Values that are remembered.
const RECENT: usize = 2_048;
/// Longer values are not.
const LONGEST_RECENT: usize = 64;

impl KnownShapes {
    fn find(&self, shape: &str) -> Option<usize> {
        self.places.get(shape).copied()
    }

    fn add(&mut self, shape: &str, known: KnownShape) -> usize {
        self.all.push((shape.to_owned(), known));
        self.places.insert(shape.to_owned(), self.all.len() - 1);
        self.all.len() - 1
    }

    fn recall(&self, value: &str) -> Option<(usize, Option<Seen>)> {
        let recent = self.recent.get(place_of(value))?;
        let is_same = !value.is_empty() && recent.value == value;
        let seen = recent.seen.as_deref().filter(|_| recent.is_seen).copied();
        is_same.then_some((recent.shape, seen))
    }

    fn remember(&mut self, value: &str, shape: usize) {
        if value.len() > LONGEST_RECENT {
            return;
        }
        if self.recent.is_empty() {
            self.recent.resize(RECENT, Recent::default());
        }
        let recent = &mut self.recent[place_of(value)];
        recent.value.clear();
        recent.value.push_str(value);
        (recent.shape, recent.is_seen) = (shape, false);
    }

    /// Keeps what the candidates make of a value that was just remembered.
    fn keep(recent: &mut [Recent], value: &str, seen: Seen) {
        if let Some(recent) = recent.get_mut(place_of(value)).filter(|r| r.value == value) {
            match &mut recent.seen {
                Some(room) => **room = seen,
                None => recent.seen = Some(Box::new(seen)),
            }
            recent.is_seen = true;
        }
    }

    /// Adds the counts to the evidence, and forgets.
    fn settle(&mut self, evidence: &mut Evidence) {
        let mut settled = std::mem::take(&mut self.all);
        self.places.clear();
        self.recent.clear();
        settled.sort_by(|(a, _), (b, _)| a.cmp(b));
        for (shape, KnownShape { tally, family, .. }) in settled {
            evidence.shapes.add(shape, family.is_some(), tally);
        }
    }
}

/// Where a value is remembered.
fn place_of(value: &str) -> usize {
    let hash = fnv1a(value);
    (hash ^ (hash >> 32)) as usize % RECENT
}

impl KnownFamily {
    fn of(
        value: &str,
        lens: &Lens,
        groups: &mut Vec<(Form, Group)>,
        clues: &mut ClueGatherer,
    ) -> Option<KnownFamily> {
        let family = candidates(value, lens.terms, None, lens.asked)?;
        let first = &family.candidates.first()?.layout;
        let kind = first.kind()?;
        let is_open = family.all_digits && family.form.orders.len() > 1;
        let programs = family.candidates.iter().map(|c| (c.order, Program::new(&c.layout)));
        let group = groups.iter().position(|(form, _)| *form == family.form).unwrap_or_else(|| {
            groups.push((family.form.clone(), Group::new(family.all_digits)));
            groups.len() - 1
        });
        Some(KnownFamily {
            programs: programs.collect(),
            group,
            kind,
            named: names(value, lens.terms.lexicon).next().is_some(),
            numbers: is_open.then(|| clues.numbers(&family.form, &around_date(first))),
            form: family.form,
        })
    }

    /// Counts a value of which all else is known already.
    fn count_again(&self, seen: &Seen, group: &mut Group) {
        if let Some(tally) = group.tallies.get_mut(&(seen.fits, self.kind)) {
            tally.rows += 1;
            let first = seen.found.iter().flatten().next();
            tally.leap_seconds += u64::from(first.is_some_and(|(_, fit)| fit.leap_second));
        }
    }

    fn observe(
        &self,
        value: &str,
        terms: Terms,
        asked: Option<Order>,
        group: &mut Group,
        witness: impl FnOnce() -> Witness,
    ) -> Seen {
        let mut found: [Option<(Order, Fit)>; 6] = [None; 6];
        let mut fits = Fits::default();
        for (index, (order, program)) in self.programs.iter().enumerate() {
            let read = program.read(value, terms).ok();
            let read = read.filter(|fit| asked.is_some() || self.form.style.counts(fit));
            let result = read.map(|fit| {
                let equal =
                    found.iter().flatten().position(|(_, other)| other.moment == fit.moment);
                equal.unwrap_or(index) as u8
            });
            fits = fits.with(*order, result);
            found[index] = read.map(|fit| (*order, fit));
        }
        let tally = match group.tallies.get_mut(&(fits, self.kind)) {
            Some(tally) => tally,
            None => group.tallies.entry((fits, self.kind)).or_insert(Tally::new(witness())),
        };
        tally.rows += 1;
        for (order, fit) in found.iter().flatten() {
            tally.widen(*order, fit.moment);
            tally.fraction_digits = tally.fraction_digits.max(fit.fraction_digits);
        }
        let first = found.iter().flatten().next();
        let dated = first.and_then(|(order, fit)| written(*order, fit));
        if let Some((_, fit)) = first {
            tally.leap_seconds += u64::from(fit.leap_second);
        }
        if let Some(written) = dated {
            group.dates.insert(written, fits);
        }
        Seen { fits, found, dated }
    }
}

/// Whether a value is worth being looked at as a number.
fn may_be_number(value: &str) -> bool {
    const LONGEST: usize = 30;
    value.len() <= LONGEST
        && value.bytes().all(|byte| byte.is_ascii_digit() || b"+-.,eE".contains(&byte))
}

/// Whether a day is one that programs write where they have none: day zero of a clock, of a
/// spreadsheet or of a database, or the end of a century to come.
fn is_stand_in(day: &Date) -> bool {
    const DAYS: [Date; 8] = [
        date(1, 1, 1),
        date(1753, 1, 1),
        date(1899, 12, 30),
        date(1899, 12, 31),
        date(1900, 1, 1),
        date(1904, 1, 1),
        date(1970, 1, 1),
        date(2099, 12, 31),
    ];
    DAYS.contains(day)
}

/// What a layout has around its date, such as a clock.
pub(crate) fn around_date(layout: &Layout) -> String {
    let text = layout.to_string();
    let fields = ["{day", "{month", "{year"];
    let first = fields.iter().filter_map(|field| text.find(field)).min().unwrap_or(0);
    let last = fields.iter().filter_map(|field| text.rfind(field)).max().unwrap_or(0);
    let end = text[last..].find('}').map_or(text.len(), |end| last + end + 1);
    format!("{}{}", &text[..first], &text[end..])
}

/// The three numbers of the date from left to right.
fn written(order: Order, fit: &Fit) -> Option<Written> {
    let date = fit.written?;
    let year = if fit.short_year { date.year().rem_euclid(100) } else { date.year() };
    Some(order.arrange(date.day().into(), date.month().into(), year))
}

impl Given {
    fn observe(
        &mut self,
        read: &[Result<Fit, Unfit>],
        own: Option<&[usize]>,
        fits_elsewhere: bool,
        witness: impl FnOnce() -> Witness,
    ) {
        self.fits.resize(read.len(), 0);
        self.spans.resize(read.len(), None);
        let is_own = |at: &usize| own.is_none_or(|own| own.contains(at));
        for (index, fit) in read.iter().enumerate().filter(|(at, _)| is_own(at)) {
            let Ok(fit) = fit else { continue };
            self.fits[index] += 1;
            let (earliest, latest) = self.spans[index].unwrap_or((fit.moment, fit.moment));
            self.spans[index] = Some((earliest.min(fit.moment), latest.max(fit.moment)));
            self.fraction_digits = self.fraction_digits.max(fit.fraction_digits);
        }
        let mut fitting = read
            .iter()
            .enumerate()
            .filter(|(at, _)| is_own(at))
            .filter_map(|(_, r)| r.as_ref().ok());
        match fitting.next() {
            None if read.iter().any(Result::is_ok) => {
                self.of_other_rows += 1;
                if self.of_other_lowest.is_none() {
                    self.of_other_lowest = Some(witness());
                }
            }
            None => {
                self.unfit += 1;
                self.fit_elsewhere += u64::from(fits_elsewhere);
                if self.unfit_lowest.is_none() {
                    self.unfit_lowest = Some(witness());
                }
            }
            Some(first) if fitting.any(|other| other.moment != first.moment) => {
                *self.contested.entry(first.moment.kind()).or_default() += 1;
                if self.contested_lowest.is_none() {
                    self.contested_lowest = Some(witness());
                }
            }
            Some(first) => *self.read.entry(first.moment.kind()).or_default() += 1,
        }
    }
}
