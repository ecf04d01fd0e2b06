//! What values show wherever they stand: sums that know no order of rows.

use super::known::KnownShape;
use super::observe_plan::ObservePlan;
use super::seen_value::SeenValue;
use super::stand_ins::is_stand_in;
use super::{Evidence, Group, Tally, Witness};
use crate::candidates::{Form, Style, without_zone};
use crate::epoch::Number;
use crate::lexicon::{Length, names};
use crate::reading::{Fit, Terms, Unfit};
use crate::text::{Accents, fold};

/// Evidence of values, as far as it is the same in whatever order they stand.
pub(super) struct Sums {
    /// What the rows add up to, as far as it is not in the groups.
    pub evidence: Box<Evidence>,
    /// The groups by number.
    pub groups: Vec<(Form, Group)>,
    /// What the layouts that were said make of a value.
    read: Vec<Result<Fit, Unfit>>,
}

/// How a value is met.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Met {
    /// It was read just now.
    New,
    /// It is remembered, and new in this run of rows.
    NewInRun,
    /// It was counted in this run of rows before.
    Again,
}

/// Rows that have the same value.
#[derive(Clone, Copy)]
pub(super) struct SameRows<'v> {
    /// The value.
    pub value: &'v str,
    /// How many they are.
    pub rows: u64,
    /// How it is met.
    pub met: Met,
    /// Whether its names are in the sums already.
    pub has_names: bool,
    /// Which layouts are those of these rows, where rows differ.
    pub own: Option<&'v [usize]>,
}

impl Sums {
    pub(super) fn of(evidence: Evidence) -> Sums {
        Sums { evidence: Box::new(evidence), groups: Vec::new(), read: Vec::new() }
    }

    /// The evidence of the rows so far, without the clues; then it is that of none.
    pub(super) fn take(&mut self, plan: &ObservePlan) -> Box<Evidence> {
        let none = Box::new(plan.no_evidence());
        let mut evidence = std::mem::replace(&mut self.evidence, none);
        evidence.zones.finish();
        // Of placeholders alone nothing is said.
        let groups = self.groups.iter_mut().filter(|(_, group)| !group.tallies.is_empty());
        let taken = groups.map(|(form, group)| {
            let none = Group::new(group.all_digits);
            (form.clone(), std::mem::replace(group, none))
        });
        evidence.groups = taken.collect();
        evidence
    }

    /// Whether a normalised value is a date only in form.
    fn is_placeholder(plan: &ObservePlan, value: &str) -> bool {
        let missing = &plan.options.missing;
        let is_zero = || plan.options.serials.is_some_and(|own| own.is_placeholder(value));
        missing.is_placeholder(value) || (!missing.keeps_placeholders() && is_zero())
    }

    /// What its candidates and the layouts that were said make of a normalised value; nothing where there are none.
    pub(super) fn see(
        &mut self,
        plan: &ObservePlan,
        known: &KnownShape,
        value: &str,
        terms: Terms,
    ) -> Option<SeenValue> {
        let options = &plan.options;
        if Sums::is_placeholder(plan, value) {
            return None;
        }
        // A number is what it counts, and nothing else.
        if options.serials.is_some_and(|serials| serials.read(value).is_some()) {
            return None;
        }
        self.read_given(plan, value, terms);
        let given = self.read.iter().flatten().next().copied();
        let Some(family) = &known.family else {
            return given.map(SeenValue::of_given);
        };
        let seen = family.read(value, terms, options.asked);
        Some(if plan.given.is_empty() { seen } else { SeenValue { first: given, ..seen } })
    }

    /// What the layouts that were said make of a normalised value.
    fn read_given(&mut self, plan: &ObservePlan, value: &str, terms: Terms) {
        self.read.clear();
        self.read.extend(plan.given.iter().map(|program| program.read(value, terms)));
    }

    /// Counts rows of a normalised value of a shape, of which this was seen.
    pub(super) fn count(
        &mut self,
        plan: &ObservePlan,
        known: &mut KnownShape,
        (same, terms): (SameRows<'_>, Terms),
        seen: Option<&SeenValue>,
        witness: impl Fn() -> Witness,
    ) {
        let SameRows { value, rows, met, has_names, own } = same;
        let is_new = met != Met::Again;
        if met != Met::New {
            self.read_given(plan, value, terms);
        }
        let (options, evidence) = (&plan.options, &mut *self.evidence);
        if known.tally.rows == 0 {
            known.tally.lowest = witness();
        }
        known.tally.rows += rows;
        if Sums::is_placeholder(plan, value) {
            evidence.placeholder += rows;
            return;
        }
        if may_be_number(value)
            && let Some(number) = Number::parse(value)
        {
            evidence.numbers.observe(rows, number, value);
        }
        if is_new && options.marked.iter().any(|marked| marked == value) {
            evidence.marks.entry(value.to_owned()).or_insert_with(&witness);
        }
        let counted = options.serials.and_then(|serials| serials.read(value));
        let fits = seen.map(|seen| seen.fits).unwrap_or_default();
        if let Some(family) = known.family.as_ref().filter(|_| counted.is_none())
            && let Some(seen) = seen
        {
            let (_, group) = &mut self.groups[family.group];
            let key = (fits, family.kind);
            let tally = match group.tallies.get_mut(&key) {
                Some(tally) => tally,
                None => group.tallies.entry(key).or_insert(Tally::new(witness())),
            };
            tally.count(rows, is_new, seen);
            if let Some(written) = seen.dated.filter(|_| is_new) {
                group.dates.insert_hashed(seen.hash, written, fits);
            }
            group.note_days(rows, seen.found.iter().flatten(), seen.padding);
            if family.named && !has_names {
                for (name, senses) in
                    names(without_zone(value, options.terms), options.terms.lexicon)
                {
                    known.tally.full_names |= matches!(senses.month, Some((_, Length::Full)));
                    if !evidence.names.contains_key(name) {
                        let folded = fold(name, Accents::Kept);
                        if !evidence.names.contains_key(&folded) {
                            evidence.add_name(folded, witness());
                        }
                    }
                }
            }
            let first = seen.found.iter().flatten().next();
            if let Some(day) =
                first.and_then(|(_, fit)| fit.written).filter(|day| is_stand_in(*day))
            {
                evidence.spikes.entry(day).or_default().note_all(rows, &witness);
            }
            if !fits.fits_any()
                && let Some(other) = &family.year_day_month
                && other.read(value, terms).is_ok()
            {
                evidence.year_day_month.note_all(rows, &witness);
            }
            if family.form.style == Style::Length {
                evidence.amounts.observe(rows, value, &witness);
            }
            known.tally.fits += if fits.fits_any() { rows } else { 0 };
        }
        if known.foreign {
            evidence.foreign.note_all(rows, &witness);
        }
        if let Some(counted) = counted {
            evidence.given.observe(rows, &[counted], None, false, &witness);
        } else if !plan.given.is_empty() {
            evidence.given.observe(rows, &self.read, own, fits.fits_any(), &witness);
        }
        if let Some(fit) = seen.and_then(|seen| seen.first) {
            evidence.zones.observe(rows, &fit, options.terms.zones, witness);
        }
    }
}

impl Tally {
    /// Counts rows of a value.
    fn count(&mut self, rows: u64, is_new: bool, seen: &SeenValue) {
        self.rows += rows;
        if is_new {
            for (order, fit) in seen.found.iter().flatten() {
                self.widen(*order, fit.moment);
                self.fraction_digits = self.fraction_digits.max(fit.fraction_digits);
            }
        }
        let first = seen.found.iter().flatten().next();
        self.leap_seconds += if first.is_some_and(|(_, fit)| fit.leap_second) { rows } else { 0 };
    }
}

/// Whether a value is worth being looked at as a number.
fn may_be_number(value: &str) -> bool {
    const LONGEST: usize = 30;
    value.len() <= LONGEST
        && value.bytes().all(|byte| byte.is_ascii_digit() || b"+-.,eE".contains(&byte))
}
