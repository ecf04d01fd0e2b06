//! What is known of the values seen lately: their shape, its candidates, and what these make of them.

use std::collections::HashMap;

use super::clues::{ClueGatherer, ClueKey};
use super::dates::{WrittenDate, hash};
use super::padding::{Padding, digits_of_parts};
use super::seen_value::SeenValue;
use super::{Days, Evidence, Fits, Group, ObserveOptions, ShapeTally, Shapes, Witness};
use crate::apply::LayoutProgram;
use crate::candidates::{Form, Shape, Style, candidates, without_zone};
use crate::layout::{FieldRole, Layout};
use crate::lexicon::{Lexicon, names, names_are_for_all_digits};
use crate::order::{Alternative, Order};
use crate::reading::{Fit, Terms};
use crate::text::{fnv1a, quick_hash};
use crate::typed::{Kind, TypedValue};

pub(super) struct KnownShape {
    pub tally: ShapeTally,
    pub family: Option<KnownFamily>,
    /// Whether a value of this shape is a date in another language than the one that was said.
    pub foreign: bool,
}

pub(super) struct KnownFamily {
    pub form: Form,
    pub programs: Vec<(Alternative, LayoutProgram)>,
    pub kind: Kind,
    pub named: bool,
    /// Year, day, month, where the year stands first and nobody considers that.
    pub year_day_month: Option<LayoutProgram>,
    /// Whether it has an hour and nothing that says whether that is before or after noon.
    pub is_clock: bool,
    /// Where clues to its order are gathered, if it is open.
    pub numbers: Option<ClueKey>,
    /// How many digits the first two numbers have.
    pub digits: [usize; 2],
    /// The number of its group.
    pub group: usize,
}

impl KnownShape {
    pub(super) fn of(
        value: &str,
        options: &ObserveOptions,
        groups: &mut Vec<(Form, Group)>,
        clues: &mut ClueGatherer,
        lowest: Witness,
    ) -> KnownShape {
        let family = KnownFamily::of(value, options, groups, clues);
        let every = Lexicon::every();
        let foreign = family.is_none()
            && options.terms.lexicon != every
            && candidates(value, Terms { lexicon: every, ..options.terms }, None, None).is_some();
        let tally = ShapeTally { rows: 0, fits: 0, lowest, full_names: false };
        KnownShape { tally, family, foreign }
    }
}

/// Shapes seen lately, and the values that had them.
#[derive(Default)]
pub(super) struct KnownShapes {
    pub all: Vec<(Shape, KnownShape)>,
    pub places: HashMap<Shape, usize>,
    /// Values seen lately, each in the place of its hash: values repeat, and finding out again what
    /// they are takes longer than comparing them.
    pub recent: Vec<Recent>,
    /// Shapes of values seen lately, whatever their digits are.
    pub blanked: Vec<Blanked>,
    /// How often one was remembered since there was last made room for them.
    remembered_blanked: usize,
    /// The run of rows at hand, among those that are seen one after the other.
    pub run: u32,
    /// So many are remembered at most.
    most_recent: usize,
    /// How often a value was remembered since there was last made room for them.
    remembered: usize,
    /// How many shapes have no candidate.
    without: usize,
}

/// What is remembered of a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Remembered {
    /// That it stands for nothing.
    Missing,
    /// Its shape: rows differ in what it is.
    Shape,
    /// All that it shows.
    Value,
}

/// A value that was seen lately.
pub(super) struct Recent {
    /// How many of its rows are not yet in the sums.
    pub rows: u64,
    /// The last run of rows that it was seen in.
    pub run: u32,
    /// What its candidates make of it; nothing of a value without any. Kept from value to value, so that room is made
    /// once.
    pub seen: Option<Box<SeenValue>>,
    shape: u32,
    pub is: Remembered,
    length: u8,
    /// The bytes of the value, in place: going after them elsewhere would take longer than all else.
    value: [u8; LONGEST_RECENT],
}

impl Recent {
    /// Nothing is remembered here: no value that is asked for is empty.
    const NONE: Recent = Recent {
        rows: 0,
        run: 0,
        seen: None,
        shape: 0,
        is: Remembered::Missing,
        length: 0,
        value: [0; LONGEST_RECENT],
    };

    fn bytes(&self) -> &[u8] {
        &self.value[..usize::from(self.length)]
    }

    /// The value as it was written.
    pub(super) fn raw(&self) -> &str {
        // It was copied from a text.
        std::str::from_utf8(self.bytes()).unwrap_or_default()
    }

    /// The number of its shape.
    pub(super) fn shape(&self) -> usize {
        self.shape as usize
    }

    /// Remembers another value, of which all rows but the first are yet to be counted.
    pub(super) fn become_value(
        &mut self,
        raw: &str,
        run: u32,
        (is, shape, seen): (Remembered, usize, Option<SeenValue>),
    ) {
        self.value[..raw.len()].copy_from_slice(raw.as_bytes());
        (self.length, self.is, self.shape) = (raw.len() as u8, is, shape as u32);
        (self.rows, self.run) = (0, run);
        match (&mut self.seen, seen) {
            (Some(room), Some(seen)) => **room = seen,
            (room, seen) => *room = seen.map(Box::new),
        }
    }
}

/// A value with its digits blanked out, and the shape of all such values.
pub(super) struct Blanked {
    text: [u8; LONGEST_RECENT],
    length: u8,
    /// Whether the names in all such values are known to be in the sums.
    pub has_names: bool,
    shape: u32,
}

impl Blanked {
    const NONE: Blanked =
        Blanked { text: [0; LONGEST_RECENT], length: 0, has_names: false, shape: 0 };

    /// A value with its digits blanked out, if it is short enough.
    fn of(value: &str) -> Option<Blanked> {
        let mut text = [0; LONGEST_RECENT];
        for (blank, byte) in text.get_mut(..value.len())?.iter_mut().zip(value.bytes()) {
            *blank = if byte.is_ascii_digit() { b'0' } else { byte };
        }
        Some(Blanked { text, length: value.len() as u8, ..Blanked::NONE })
    }

    fn bytes(&self) -> &[u8] {
        &self.text[..usize::from(self.length)]
    }

    /// The number of the shape.
    pub(super) fn shape(&self) -> usize {
        self.shape as usize
    }
}

/// Values with their digits blanked out that are remembered at first, and at most: powers of two.
const FEW_BLANKED: usize = 4;
const MOST_BLANKED: usize = 1_024;
/// Values that are remembered: so many at first, and more where that is not enough. A power of two, as is the next.
const FEW_RECENT: usize = 16;
/// So many at most, unless less is said.
pub(super) const MOST_RECENT: usize = 8_192;
/// Bytes of the longest of them, so that one takes 64 with all that belongs to it.
const LONGEST_RECENT: usize = 38;

impl KnownShapes {
    /// Nothing is known yet; so many values are remembered at most.
    pub(super) fn remembering(values: usize) -> KnownShapes {
        let most = values.clamp(FEW_RECENT, MOST_RECENT);
        // Places stay apart where twice as many are told apart.
        let most_recent = 1 << most.ilog2();
        KnownShapes { most_recent, ..KnownShapes::default() }
    }

    pub(super) fn find(&self, shape: &Shape) -> Option<usize> {
        self.places.get(shape).copied()
    }

    /// Where the shape is remembered that normalised values such as this one have whatever their digits are.
    pub(super) fn find_blanked(&self, value: &str) -> Option<usize> {
        let own = Blanked::of(value)?;
        let at = place_of(own.bytes(), self.blanked.len());
        let is_same = self.blanked.get(at)?.bytes() == own.bytes() && !value.is_empty();
        is_same.then_some(at)
    }

    /// Whether the names in a normalised value are in the sums of this run already. Once they were asked for they are.
    pub(super) fn has_names(
        &mut self,
        blanked: Option<usize>,
        value: &str,
        lexicon: Lexicon,
    ) -> bool {
        let Some(own) = blanked.and_then(|at| self.blanked.get_mut(at)) else { return false };
        let has_names = own.has_names;
        own.has_names = has_names || names_are_for_all_digits(value, lexicon);
        has_names
    }

    /// Remembers the shape of such values, if it does not hang on their digits; where that is.
    pub(super) fn remember_blanked(&mut self, value: &str, shape: usize) -> Option<usize> {
        let own = Blanked::of(value).filter(|_| Shape::is_for_all_digits(value))?;
        if self.remembered_blanked >= self.blanked.len() && self.blanked.len() < MOST_BLANKED {
            // What is forgotten is soon found again.
            let room = (4 * self.blanked.len()).clamp(FEW_BLANKED, MOST_BLANKED);
            self.blanked.clear();
            self.blanked.resize_with(room, || Blanked::NONE);
            self.remembered_blanked = 0;
        }
        self.remembered_blanked += 1;
        let at = place_of(own.bytes(), self.blanked.len());
        self.blanked[at] = Blanked { shape: shape as u32, ..own };
        Some(at)
    }

    /// Whether so many shapes are known that they should be settled.
    pub(super) fn are_many(&self, shapes: &Shapes) -> bool {
        self.all.len() >= 2 * shapes.most() || self.without >= 2 * shapes.most_without()
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        /// A shape is written twice, and its first row as well.
        const TEXTS: usize = 150;
        let of_shape = size_of::<(Shape, KnownShape)>() + size_of::<(Shape, usize)>() + TEXTS;
        let of_recent = size_of::<Recent>();
        let seen = self.recent.iter().filter(|own| own.seen.is_some()).count();
        let of_blanked = size_of::<Blanked>();
        self.all.len() * of_shape
            + self.blanked.len() * of_blanked
            + self.recent.len() * of_recent
            + seen * size_of::<SeenValue>()
    }

    pub(super) fn add(&mut self, shape: &Shape, known: KnownShape) -> usize {
        self.without += usize::from(known.family.is_none());
        self.all.push((shape.clone(), known));
        self.places.insert(shape.clone(), self.all.len() - 1);
        self.all.len() - 1
    }

    /// Where a value is remembered, if it is.
    pub(super) fn recall(&self, raw: &str) -> Option<usize> {
        let place = place_of(raw.as_bytes(), self.recent.len());
        let is_here = |at: &usize| {
            self.recent.get(*at).is_some_and(|own| own.bytes() == raw.as_bytes()) && !raw.is_empty()
        };
        [place, place ^ 1].into_iter().find(is_here)
    }

    /// Where a value is to be remembered, if it can be. What is remembered there has to be settled first.
    pub(super) fn place_for(&mut self, raw: &str) -> Option<usize> {
        if raw.is_empty() || raw.len() > LONGEST_RECENT {
            return None;
        }
        if self.remembered >= self.recent.len() && self.recent.len() < self.most_recent {
            self.make_room();
        }
        self.remembered += 1;
        Some(self.free_place(raw.as_bytes()))
    }

    /// The free one of the two places that a value may have, or that which is freed.
    fn free_place(&self, value: &[u8]) -> usize {
        let place = place_of(value, self.recent.len());
        match [place, place ^ 1].into_iter().find(|at| self.recent[*at].length == 0) {
            Some(free) => free,
            None => place ^ (self.remembered & 1),
        }
    }

    /// Makes room for four times as many values.
    fn make_room(&mut self) {
        let room = (4 * self.recent.len()).max(FEW_RECENT).min(self.most_recent);
        let before = std::mem::take(&mut self.recent);
        self.recent.resize_with(room, || Recent::NONE);
        // No more than two come to the same two places: they had the same two before.
        for own in before.into_iter().filter(|own| own.length > 0) {
            let place = self.free_place(own.bytes());
            self.recent[place] = own;
        }
        self.remembered = 0;
    }

    /// Adds the counts to the evidence and goes on to the next run of rows, where values are new again.
    pub(super) fn end_run(&mut self, evidence: &mut Evidence) {
        let seen = self.all.iter_mut().filter(|(_, own)| own.tally.rows > 0);
        let mut seen: Vec<(&Shape, &mut KnownShape)> =
            seen.map(|(shape, own)| (&*shape, own)).collect();
        seen.sort_by_key(|(shape, _)| *shape);
        for (shape, KnownShape { tally, family, .. }) in seen {
            let form = family.as_ref().map(|family| Box::new(family.form.clone()));
            let none = ShapeTally { rows: 0, fits: 0, full_names: false, ..tally.clone() };
            evidence.shapes.add(shape.text().to_owned(), form, std::mem::replace(tally, none));
        }
        self.blanked.iter_mut().for_each(|own| own.has_names = false);
        self.run += 1;
    }

    /// Adds the counts to the evidence, and forgets.
    pub(super) fn settle(&mut self, evidence: &mut Evidence) {
        self.end_run(evidence);
        *self = KnownShapes { run: self.run, ..KnownShapes::remembering(self.most_recent) };
    }
}

/// Where something is remembered among so many, a power of two. A value stands there or right beside: then it is seldom
/// that two push each other out in turn.
fn place_of(value: &[u8], room: usize) -> usize {
    quick_hash(value) as usize & room.saturating_sub(1)
}

impl KnownFamily {
    pub(super) fn of(
        value: &str,
        options: &ObserveOptions,
        groups: &mut Vec<(Form, Group)>,
        clues: &mut ClueGatherer,
    ) -> Option<KnownFamily> {
        let family = candidates(value, options.terms, None, options.asked)?;
        let first = &family.candidates.first()?.layout;
        let kind = first.kind()?;
        let is_open = family.all_digits && family.form.alternatives.len() > 1;
        let programs =
            family.candidates.iter().map(|c| (c.alternative, LayoutProgram::new(&c.layout)));
        let group = groups.iter().position(|(form, _)| *form == family.form).unwrap_or_else(|| {
            groups.push((family.form.clone(), Group::new(family.all_digits)));
            groups.len() - 1
        });
        Some(KnownFamily {
            programs: programs.collect(),
            group,
            kind,
            is_clock: is_clock(first),
            year_day_month: year_day_month(value, &family.form, options),
            // `Min` is Sunday somewhere, but not where it is a unit.
            named: family.form.style != Style::Length
                && names(without_zone(value, options.terms), options.terms.lexicon)
                    .next()
                    .is_some(),
            numbers: is_open.then(|| clues.numbers(&family.form, &around_date(first))),
            digits: digits_of_parts(value),
            form: family.form,
        })
    }

    /// What its candidates make of a value.
    pub(super) fn read(&self, value: &str, terms: Terms, asked: Option<Order>) -> SeenValue {
        let mut found: [Option<(Alternative, Fit)>; 6] = [None; 6];
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
        let first = found.iter().flatten().next();
        let dated = first.and_then(|(order, fit)| written(*order, fit));
        let day = |(order, fit): &(Alternative, Fit)| Some((*order, fit.written?));
        SeenValue {
            fits,
            dated,
            hash: dated.map_or(0, hash),
            padding: dated.map_or(Padding::NONE, |written| Padding::of(self.digits, written)),
            days: Days::of(found.iter().flatten().filter_map(day)),
            first: first.map(|(_, fit)| *fit),
            found,
        }
    }
}

fn year_day_month(value: &str, form: &Form, options: &ObserveOptions) -> Option<LayoutProgram> {
    let asked = options.asked.is_none().then_some(Order::Ydm).filter(|_| form.is_year_first())?;
    let candidates = candidates(value, options.terms, None, Some(asked))?.candidates;
    let own = candidates.iter().find(|own| own.alternative == Alternative::Ydm)?;
    Some(LayoutProgram::new(&own.layout))
}

fn is_clock(layout: &Layout) -> bool {
    let has = |role| layout.roles().any(|own| own == role);
    has(FieldRole::Hour) && !has(FieldRole::Half)
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

/// The three numbers of the date from left to right; of a time of day its own, and of a length of time three
/// that are below zero and hardly the same for another.
fn written(order: Alternative, fit: &Fit) -> Option<WrittenDate> {
    match fit.moment {
        TypedValue::Time(time) => {
            return Some([time.hour().into(), time.minute().into(), time.second().into()]);
        }
        TypedValue::Duration(own) => {
            let hash = fnv1a(format!("{} {}", own.months(), own.nanos()));
            let part = |shift: u32| -1 - ((hash >> shift) & 0x7FFF) as i16;
            return Some([part(0), part(15), part(30)]);
        }
        _ => {}
    }
    let date = fit.written?;
    let year = if fit.short_year { date.year().rem_euclid(100) } else { date.year() };
    Some(order.arrange(date.day().into(), date.month().into(), year))
}
