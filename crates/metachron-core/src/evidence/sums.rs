//! What values show wherever they stand: sums that know no order of rows.

use super::first_row::FirstRow;
use super::group_sums::GroupSums;
use super::known::KnownShape;
use super::latest::LatestHashes;
use super::observe_plan::ObservePlan;
use super::seen_value::SeenValue;
use super::stand_ins::is_stand_in;
use super::{Evidence, Tally};
use crate::candidates::{Style, without_zone};
use crate::epoch::Number;
use crate::lexicon::{Length, names};
use crate::reading::{Fit, Terms, Unfit};

/// Evidence of values, as far as it is the same in whatever order they stand.
pub(super) struct Sums {
    /// What the rows add up to, as far as it is not in the groups.
    pub evidence: Box<Evidence>,
    /// The groups by number.
    pub groups: Vec<GroupSums>,
    /// What the layouts that were said make of a value.
    read: Vec<Result<Fit, Unfit>>,
    /// Numbers that were seen lately.
    numbers: LatestHashes,
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
    /// Which layouts are those of these rows, where rows differ.
    pub own: Option<&'v [usize]>,
}

impl Sums {
    pub(super) fn of(evidence: Evidence) -> Sums {
        let (groups, read, numbers) = (Vec::new(), Vec::new(), LatestHashes::default());
        Sums { evidence: Box::new(evidence), groups, read, numbers }
    }

    /// The evidence of the rows so far, without the clues; then it is that of none.
    pub(super) fn take(&mut self, plan: &ObservePlan) -> Box<Evidence> {
        let none = Box::new(plan.no_evidence());
        let mut evidence = std::mem::replace(&mut self.evidence, none);
        self.numbers = LatestHashes::default();
        evidence.zones.finish();
        // Of placeholders alone nothing is said.
        evidence.groups = self.groups.iter_mut().filter_map(GroupSums::take).collect();
        evidence
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        self.groups.iter().map(GroupSums::weight).sum::<usize>()
            + self.evidence.weight()
            + self.numbers.weight()
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
        let mut seen = family.read(value, terms, options.asked);
        if !plan.given.is_empty() {
            seen.take_for(given);
        }
        Some(seen)
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
        first: FirstRow<'_>,
    ) {
        let SameRows { value, rows, met, own } = same;
        let is_new = met != Met::Again;
        if met != Met::New {
            self.read_given(plan, value, terms);
        }
        let (options, evidence) = (&plan.options, &mut *self.evidence);
        match known.tally.rows {
            0 => known.tally.lowest = first.witness(),
            _ => first.lower(&mut known.tally.lowest),
        }
        known.tally.rows += rows;
        if seen.is_none() && Sums::is_placeholder(plan, value) {
            evidence.placeholder += rows;
            return;
        }
        if may_be_number(value)
            && let Some(number) = Number::parse(value)
        {
            evidence.numbers.observe(rows, number, value, &mut self.numbers);
        }
        if is_new && options.marked.iter().any(|marked| marked == value) {
            let own = evidence.marks.entry(value.to_owned()).or_insert_with(|| first.witness());
            first.lower(own);
        }
        let counted = options.serials.and_then(|serials| serials.read(value));
        let fits = seen.map(|seen| seen.fits).unwrap_or_default();
        if let Some(family) = known.family.as_ref().filter(|_| counted.is_none())
            && let Some(seen) = seen
        {
            let sums = &mut self.groups[family.group];
            if let Some(written) = seen.dated.filter(|_| is_new) {
                sums.observe(seen.hash, written, fits);
            }
            let group = &mut sums.group;
            let key = (fits, family.kind);
            let tally = match group.tallies.get_mut(&key) {
                Some(tally) => tally,
                None => group.tallies.entry(key).or_insert(Tally::new(first.witness())),
            };
            first.lower(&mut tally.lowest);
            tally.count(rows, is_new, seen);
            group.note_days(rows, seen);
            let written = seen.taken().next().and_then(|own| own.written);
            if let Some(day) = written.filter(|day| is_stand_in(*day)) {
                first.note_all(rows, evidence.spikes.entry(day).or_default());
            }
            if !fits.fits_any()
                && let Some(other) = &family.year_day_month
                && other.read(value, terms).is_ok()
            {
                first.note_all(rows, &mut evidence.year_day_month);
            }
            if family.form.style == Style::Length {
                evidence.amounts.observe(rows, value, first);
            }
            known.tally.fits += if fits.fits_any() { rows } else { 0 };
        }
        if known.foreign {
            first.note_all(rows, &mut evidence.foreign);
        }
        if let Some(counted) = counted {
            evidence.given.observe(rows, &[counted], None, false, first);
        } else if !plan.given.is_empty() {
            evidence.given.observe(rows, &self.read, own, fits.fits_any(), first);
        }
        if let Some(fit) = seen.and_then(|seen| seen.first) {
            evidence.zones.observe(rows, &fit, options.terms.zones, first);
        }
    }

    /// Notes the names in the normalised value of the next row.
    pub(super) fn note_names(
        &mut self,
        plan: &ObservePlan,
        known: &mut KnownShape,
        value: &str,
        row: FirstRow<'_>,
    ) {
        let terms = plan.options.terms;
        for (name, senses) in names(without_zone(value, terms), terms.lexicon) {
            known.tally.full_names |= matches!(senses.month, Some((_, Length::Full)));
            self.evidence.note_name(name, row);
        }
    }
}

impl Tally {
    /// Counts rows of a value.
    fn count(&mut self, rows: u64, is_new: bool, seen: &SeenValue) {
        self.rows += rows;
        if is_new {
            for own in seen.taken() {
                self.widen(own.order, own.moment);
                self.fraction_digits = self.fraction_digits.max(own.fraction_digits);
            }
        }
        self.leap_seconds += if seen.leap_second { rows } else { 0 };
    }
}

/// Whether a value is worth being looked at as a number.
fn may_be_number(value: &str) -> bool {
    const LONGEST: usize = 30;
    value.len() <= LONGEST
        && value.bytes().all(|byte| byte.is_ascii_digit() || b"+-.,eE".contains(&byte))
}
