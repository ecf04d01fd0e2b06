//! What is known of the values seen lately: their shape, its candidates, and what these make of them.

use std::collections::HashMap;
use std::num::NonZero;

use super::dates::{WrittenDate, hash};
use super::gatherer::{ClueGatherer, ClueKey};
use super::group_sums::GroupSums;
use super::padding::{Padding, digits_of_parts};
use super::seen_value::SeenValue;
use super::{Evidence, ObserveOptions, ShapeTally, Shapes, Witness};
use crate::apply::LayoutProgram;
use crate::candidates::{Form, Shape, Style, candidates, without_zone};
use crate::layout::{FieldRole, Layout};
use crate::lexicon::{Lexicon, names, names_are_for_all_digits};
use crate::order::{Alternative, Order};
use crate::reading::{Fit, Terms};
use crate::text::{ByText, Repeats, ShortText, fnv1a};
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
        groups: &mut Vec<GroupSums>,
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

    /// Where clues to the order of its values are gathered, if that is open.
    pub(super) fn numbers(&self) -> Option<ClueKey> {
        self.family.as_ref().and_then(|family| family.numbers)
    }
}

/// Shapes seen lately, and the values that had them.
#[derive(Default)]
pub(super) struct KnownShapes {
    pub all: Vec<(Shape, KnownShape)>,
    pub places: HashMap<Shape, usize>,
    /// Values seen lately: values repeat, and finding out again what they are takes longer than comparing them.
    pub recent: RecentValues,
    /// Shapes of values seen lately, whatever their digits are.
    pub blanked: ByText<Blanked>,
    /// The run of rows at hand, among those that are seen one after the other.
    pub run: u32,
    /// So many are remembered at most.
    most_recent: usize,
    /// Whether they are worth that.
    repeats: Repeats,
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
    /// The first of them, if they are the first of this run of rows.
    pub first_row: Option<NonZero<u64>>,
    /// The last run of rows that it was seen in.
    pub run: u32,
    /// Whether it stands as it is once it is normalised.
    pub is_normal: bool,
    shape: u32,
    /// The number of what its candidates make of it; none of a value without any.
    seen: Option<u32>,
    pub is: Remembered,
}

impl Recent {
    /// The number of its shape.
    pub(super) fn shape(&self) -> usize {
        self.shape as usize
    }
}

/// Values that were seen lately, found by their texts as they were written.
#[derive(Default)]
pub(super) struct RecentValues {
    pub all: ByText<Recent>,
    seen: Vec<SeenValue>,
}

impl RecentValues {
    /// What candidates make of the value of this number.
    pub(super) fn seen(&self, at: usize) -> Option<&SeenValue> {
        self.all[at].seen.and_then(|number| self.seen.get(number as usize))
    }

    fn forget(&mut self) {
        self.all.clear();
        self.seen.clear();
    }

    /// About how many bytes they take.
    fn weight(&self) -> usize {
        self.all.weight() + self.seen.capacity() * size_of::<SeenValue>()
    }
}

/// The shape of all values that are alike once their digits are blanked out.
pub(super) struct Blanked {
    /// Whether the names in all such values are known to be in the sums.
    pub has_names: bool,
    shape: u32,
}

impl Blanked {
    /// The number of the shape.
    pub(super) fn shape(&self) -> usize {
        self.shape as usize
    }
}

/// Values with their digits blanked out that are remembered at most.
const MOST_BLANKED: usize = 1_024;
/// Values that are remembered, at least.
const FEW_RECENT: usize = 16;
/// So many at most, unless less is said.
pub(super) const MOST_RECENT: usize = 8_192;

impl KnownShapes {
    /// Nothing is known yet; so many values are remembered at most.
    pub(super) fn remembering(values: usize) -> KnownShapes {
        let most_recent = values.clamp(FEW_RECENT, MOST_RECENT);
        KnownShapes { most_recent, ..KnownShapes::default() }
    }

    pub(super) fn find(&self, shape: &Shape) -> Option<usize> {
        self.places.get(shape).copied()
    }

    /// Where the shape is remembered that normalised values such as this one have whatever their digits are.
    pub(super) fn find_blanked(&self, value: &str) -> Option<usize> {
        self.blanked.find_short(ShortText::of(value)?.with_zeros())
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
    pub(super) fn remember_blanked(
        &mut self,
        value: &str,
        shape: usize,
        lexicon: Lexicon,
    ) -> Option<usize> {
        let text = ShortText::of(value)?.with_zeros();
        if !Shape::is_for_all_digits(value, lexicon) {
            return None;
        }
        if self.blanked.len() >= MOST_BLANKED {
            // What is forgotten is soon found again.
            self.blanked.clear();
        }
        Some(self.blanked.add_short(text, Blanked { has_names: false, shape: shape as u32 }))
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
        self.all.len() * of_shape + self.blanked.weight() + self.recent.weight()
    }

    pub(super) fn add(&mut self, shape: &Shape, known: KnownShape) -> usize {
        self.without += usize::from(known.family.is_none());
        self.all.push((shape.clone(), known));
        self.places.insert(shape.clone(), self.all.len() - 1);
        self.all.len() - 1
    }

    /// Whether values have to be forgotten before another one is remembered; first their rows have to be in the sums.
    pub(super) fn are_all_remembered(&self) -> bool {
        self.recent.all.len() >= self.most_recent
    }

    /// Forgets all values.
    pub(super) fn forget_values(&mut self) {
        self.repeats.forget(self.recent.all.len());
        self.recent.forget();
    }

    /// Whether the next value is worth being looked for and remembered.
    pub(super) fn remembers(&mut self) -> bool {
        self.repeats.are_likely()
    }

    /// The number of a value, if it is remembered.
    pub(super) fn find_value(&mut self, raw: &str) -> Option<usize> {
        let found = self.recent.all.find(raw)?;
        self.repeats.note();
        Some(found)
    }

    /// Remembers a value of a shape, of which this was seen, if it is short enough; and whether it is normalised.
    pub(super) fn remember(
        &mut self,
        (raw, is_normal): (&str, bool),
        (is, shape): (Remembered, usize),
        seen: Option<&SeenValue>,
    ) {
        let Some(raw) = ShortText::of(raw) else { return };
        let seen = seen.map(|seen| {
            self.recent.seen.push(*seen);
            self.recent.seen.len() as u32 - 1
        });
        let (run, shape) = (self.run, shape as u32);
        let own = Recent { rows: 0, first_row: None, run, is_normal, shape, seen, is };
        self.recent.all.add_short(raw, own);
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
        self.blanked.iter_mut().for_each(|(_, own)| own.has_names = false);
        self.run += 1;
    }

    /// Adds the counts to the evidence, and forgets.
    pub(super) fn settle(&mut self, evidence: &mut Evidence) {
        self.end_run(evidence);
        *self = KnownShapes { run: self.run, ..KnownShapes::remembering(self.most_recent) };
    }
}

impl KnownFamily {
    pub(super) fn of(
        value: &str,
        options: &ObserveOptions,
        groups: &mut Vec<GroupSums>,
        clues: &mut ClueGatherer,
    ) -> Option<KnownFamily> {
        let family = candidates(value, options.terms, None, options.asked)?;
        let first = &family.candidates.first()?.layout;
        let kind = first.kind()?;
        let is_open = family.all_digits && family.form.alternatives.len() > 1;
        let programs =
            family.candidates.iter().map(|c| (c.alternative, LayoutProgram::new(&c.layout)));
        let group = groups.iter().position(|own| own.form == family.form).unwrap_or_else(|| {
            groups.push(GroupSums::of(family.form.clone(), family.all_digits));
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
        let mut seen = SeenValue::NOTHING;
        for (index, (order, program)) in self.programs.iter().enumerate() {
            let read = program.read(value, terms).ok();
            let read = read.filter(|fit| asked.is_some() || self.form.style.counts(fit));
            seen.take(index, *order, read);
        }
        let order = seen.taken().next().map(|own| own.order);
        if let Some((order, fit)) = order.zip(seen.first)
            && let Some(written) = written(order, &fit)
        {
            (seen.dated, seen.hash) = (Some(written), hash(written));
            seen.padding = Padding::of(self.digits, written);
        }
        seen.settle(&self.form.alternatives);
        seen
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
