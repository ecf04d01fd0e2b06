//! What is known of the values seen lately: their shape, its candidates, and what these make of them.

use std::collections::HashMap;
use std::sync::Arc;

use super::clues::{ClueGatherer, ClueKey};
use super::dates::WrittenDate;
use super::padding::{Padding, digits_of_parts};
use super::{Evidence, Fits, Group, ObserveOptions, ShapeTally, Shapes, Tally, Witness};
use crate::apply::LayoutProgram;
use crate::candidates::{Form, Shape, Style, candidates, without_zone};
use crate::layout::{FieldRole, Layout};
use crate::lexicon::{Lexicon, names};
use crate::order::{Alternative, Order};
use crate::reading::{Fit, Terms};
use crate::text::fnv1a;
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

/// What the candidates of a family make of a value.
#[derive(Debug, Clone, Copy)]
pub(super) struct SeenValue {
    pub fits: Fits,
    pub found: [Option<(Alternative, Fit)>; 6],
    /// The date as it is written.
    pub dated: Option<WrittenDate>,
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
    /// So many are remembered at most.
    most_recent: usize,
    /// How often a value was remembered since there was last made room for them.
    remembered: usize,
    /// How many shapes have no candidate.
    without: usize,
}

/// A value that was seen, its shape, and what its candidates make of it.
#[derive(Clone)]
pub(super) struct Recent {
    /// The bytes of the value, in place: going after them elsewhere would take longer than all else.
    value: [u8; LONGEST_RECENT],
    length: u8,
    is_seen: bool,
    shape: usize,
    /// Kept from value to value, so that room is made once.
    seen: Option<Arc<SeenValue>>,
}

impl Recent {
    const NONE: Recent =
        Recent { value: [0; LONGEST_RECENT], length: 0, is_seen: false, shape: 0, seen: None };

    fn value(&self) -> &[u8] {
        &self.value[..usize::from(self.length)]
    }
}

/// Values that are remembered: so many at first, and more where that is not enough.
const FEW_RECENT: usize = 16;
/// So many at most, unless less is said.
pub(super) const MOST_RECENT: usize = 2_048;
/// Bytes of the longest of them, so that one takes 64 with all that belongs to it.
const LONGEST_RECENT: usize = 46;

impl KnownShapes {
    /// Nothing is known yet; so many values are remembered at most.
    pub(super) fn remembering(values: usize) -> KnownShapes {
        KnownShapes { most_recent: values.clamp(FEW_RECENT, MOST_RECENT), ..KnownShapes::default() }
    }

    pub(super) fn find(&self, shape: &Shape) -> Option<usize> {
        self.places.get(shape).copied()
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
        self.all.len() * of_shape + self.recent.len() * of_recent + seen * size_of::<SeenValue>()
    }

    pub(super) fn add(&mut self, shape: &Shape, known: KnownShape) -> usize {
        self.without += usize::from(known.family.is_none());
        self.all.push((shape.clone(), known));
        self.places.insert(shape.clone(), self.all.len() - 1);
        self.all.len() - 1
    }

    /// The shape of a value that is remembered, and what its candidates make of it.
    pub(super) fn recall(&self, value: &str) -> Option<(usize, Option<Arc<SeenValue>>)> {
        let recent = self.recent.get(place_of(value.as_bytes(), self.recent.len()))?;
        let is_same = !value.is_empty() && recent.value() == value.as_bytes();
        let seen = recent.seen.as_ref().filter(|_| recent.is_seen).cloned();
        is_same.then_some((recent.shape, seen))
    }

    pub(super) fn remember(&mut self, value: &str, shape: usize) {
        let value = value.as_bytes();
        if value.len() > LONGEST_RECENT {
            return;
        }
        if self.remembered >= self.recent.len() && self.recent.len() < self.most_recent {
            self.make_room();
        }
        self.remembered += 1;
        let place = place_of(value, self.recent.len());
        let recent = &mut self.recent[place];
        recent.value[..value.len()].copy_from_slice(value);
        (recent.length, recent.shape, recent.is_seen) = (value.len() as u8, shape, false);
    }

    /// Makes room for four times as many values.
    fn make_room(&mut self) {
        let room = (4 * self.recent.len()).max(FEW_RECENT).min(self.most_recent);
        let before = std::mem::take(&mut self.recent);
        self.recent.resize(room, Recent::NONE);
        for own in before.into_iter().filter(|own| own.length > 0) {
            let place = place_of(own.value(), room);
            self.recent[place] = own;
        }
        self.remembered = 0;
    }

    /// Keeps what the candidates make of a value that was just remembered.
    pub(super) fn keep(recent: &mut [Recent], value: &str, seen: &SeenValue) {
        let place = place_of(value.as_bytes(), recent.len());
        if let Some(recent) = recent.get_mut(place).filter(|r| r.value() == value.as_bytes()) {
            match recent.seen.as_mut().and_then(Arc::get_mut) {
                Some(room) => *room = *seen,
                None => recent.seen = Some(Arc::new(*seen)),
            }
            recent.is_seen = true;
        }
    }

    /// Adds the counts to the evidence, and forgets.
    pub(super) fn settle(&mut self, evidence: &mut Evidence) {
        let mut settled = std::mem::take(&mut self.all);
        (self.places, self.recent) = Default::default();
        (self.remembered, self.without) = (0, 0);
        settled.sort_by(|(a, _), (b, _)| a.cmp(b));
        for (shape, KnownShape { tally, family, .. }) in settled {
            let form = family.map(|family| Box::new(family.form));
            evidence.shapes.add(shape.into_text(), form, tally);
        }
    }
}

/// Where a value is remembered among so many.
fn place_of(value: &[u8], room: usize) -> usize {
    let hash = fnv1a(value);
    (hash ^ (hash >> 32)) as usize % room.max(1)
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

    /// How the first two numbers of a date are written.
    pub(super) fn padding(&self, dated: Option<WrittenDate>) -> Padding {
        dated.map_or(Padding::NONE, |written| Padding::of(self.digits, written))
    }

    /// Counts a value of which all else is known already.
    pub(super) fn count_again(&self, seen: &SeenValue, group: &mut Group) {
        group.note_days(seen.found.iter().flatten(), self.padding(seen.dated));
        if let Some(tally) = group.tallies.get_mut(&(seen.fits, self.kind)) {
            tally.rows += 1;
            let first = seen.found.iter().flatten().next();
            tally.leap_seconds += u64::from(first.is_some_and(|(_, fit)| fit.leap_second));
        }
    }

    pub(super) fn observe(
        &self,
        value: &str,
        terms: Terms,
        asked: Option<Order>,
        group: &mut Group,
        witness: impl FnOnce() -> Witness,
    ) -> SeenValue {
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
        group.note_days(found.iter().flatten(), self.padding(dated));
        SeenValue { fits, found, dated }
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
