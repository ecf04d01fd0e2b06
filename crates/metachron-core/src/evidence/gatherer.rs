//! Gathers clues row by row.

use std::cmp::Ordering;
use std::collections::BTreeMap;

use super::adds_up::AddsUp;
use super::clues::{Clues, OF_FORM, Pair, TimeSteps};
use super::dates::{DateSieve, WrittenDate};
use super::few::Few;
use super::gathered_beside::GatheredBeside;
use super::in_step::InStep;
use super::neighbourhood::{Beside, DATES_BESIDE, Neighbourhood};
use super::padding::Padding;
use super::seen_value::SeenValue;
use super::vote_runs::VoteRuns;
use super::{Days, Fits, Neighbours};
use crate::candidates::Form;
use crate::order::Alternative;

/// Gathers the clues of a part of a column.
#[derive(Default)]
pub(super) struct ClueGatherer {
    /// The clues of each form by number.
    forms: Vec<OfForm>,
    clocks: Vec<String>,
    year_first: Option<InStep>,
    /// By the number of another column.
    pairs: Vec<Vec<(Alternative, Pair)>>,
}

/// A form and a clock by their numbers.
#[derive(Debug, Clone, Copy)]
pub(super) struct ClueKey {
    form: usize,
    clock: usize,
}

/// What the rows of one form show.
struct OfForm {
    form: Form,
    beside: GatheredBeside,
    /// By the number of the clock.
    by_clock: Vec<Option<Sieve>>,
    /// With zeros and without.
    by_padding: Vec<Option<Sieve>>,
    runs: VoteRuns,
    steps: Vec<(Alternative, TimeSteps)>,
}

/// What dates show that are written in one way.
struct Sieve {
    rows: Few<Fits, u64>,
    dates: DateSieve,
}

impl ClueGatherer {
    /// The numbers of a form whose orders differ, and of what is written around its date.
    pub(super) fn numbers(&mut self, form: &Form, clock: &str) -> ClueKey {
        let form_number = self.forms.iter().position(|own| own.form == *form);
        let form = form_number.unwrap_or_else(|| {
            self.forms.push(OfForm::new(form.clone()));
            self.forms.len() - 1
        });
        let clock_number = self.clocks.iter().position(|other| other == clock);
        let clock = clock_number.unwrap_or_else(|| {
            self.clocks.push(clock.to_owned());
            self.clocks.len() - 1
        });
        ClueKey { form, clock }
    }

    /// Adds how a value of this form is written that stands in so many rows.
    pub(super) fn count(&mut self, ClueKey { form, clock }: ClueKey, rows: u64, seen: &SeenValue) {
        let own = &mut self.forms[form];
        sieve_at(&mut own.by_clock, clock).observe(rows, seen);
        sieve_at(&mut own.by_padding, seen.padding.number()).observe(rows, seen);
    }

    /// Adds where a value of this form stands.
    pub(super) fn observe(
        &mut self,
        ClueKey { form, .. }: ClueKey,
        standing: (u64, &str),
        seen: &SeenValue,
        neighbours: &Neighbours,
    ) {
        let OfForm { form, beside, runs, steps, .. } = &mut self.forms[form];
        beside.observe(seen, neighbours);
        runs.observe(standing, seen, &form.alternatives);
        for own in seen.taken() {
            match steps.iter_mut().find(|(order, _)| *order == own.order) {
                Some((_, steps)) => steps.to(own.moment),
                None => steps.push((own.order, TimeSteps::from(own.moment))),
            }
        }
    }

    /// Forgets what stands beside columns that tell no rows apart any more.
    pub(super) fn forget_beside(&mut self, neighbours: &Neighbours) {
        self.forms.iter_mut().for_each(|own| own.beside.settle(neighbours));
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        let forms = self.forms.iter().map(OfForm::weight).sum::<usize>();
        let pairs: usize = self.pairs.iter().map(|pairs| pairs.capacity()).sum();
        forms + pairs * size_of::<(Alternative, Pair)>()
    }

    /// Adds a date that is written year, month, day, and that nobody would read otherwise.
    pub(super) fn observe_year_first(&mut self, written: WrittenDate) {
        const ORDERS: [Alternative; 2] = [Alternative::Ymd, Alternative::Ydm];
        let [_, month, day] = written;
        let fits = Fits::default().with(Alternative::Ymd, Some(0));
        let fits = match day {
            ..=12 => fits.with(Alternative::Ydm, Some(u8::from(month != day))),
            _ => fits,
        };
        let own = self.year_first.get_or_insert_with(InStep::new);
        own.observe(written, (fits, fits.differ(&ORDERS)), &ORDERS);
    }

    /// Adds the days of a row beside those of the columns with dates to its left.
    pub(super) fn pair(&mut self, own: &Days, neighbours: &Neighbours) {
        for (at, other) in neighbours.days() {
            // Where one leaves the order open, so it is taken for both.
            let open = if own.is_open() { own } else { other };
            if !open.is_open() {
                continue;
            }
            if self.pairs.len() <= *at {
                self.pairs.resize_with(at + 1, Vec::new);
            }
            let pairs = &mut self.pairs[*at];
            for order in open.orders() {
                let (Some(a), Some(b)) = (own.by(order), other.by(order)) else { continue };
                let at = pairs.iter().position(|(known, _)| *known == order).unwrap_or_else(|| {
                    pairs.push((order, Pair::default()));
                    pairs.len() - 1
                });
                let pair = &mut pairs[at].1;
                *match a.cmp(&b) {
                    Ordering::Less => &mut pair.earlier,
                    Ordering::Equal => &mut pair.same,
                    Ordering::Greater => &mut pair.later,
                } += 1;
            }
        }
    }

    /// The clues of the rows so far, in this part and in the column of this name, whose neighbours these are; then it
    /// is those of none. The forms keep their numbers.
    pub(super) fn take(&mut self, part: u32, neighbours: &Neighbours, own: &str) -> Clues {
        let neighbourhood = Neighbourhood::of(own, neighbours.shown());
        let mut clues = Clues { neighbours: neighbourhood, ..Clues::default() };
        for of_form in self.forms.iter_mut().filter(|own| !own.by_clock.is_empty()) {
            let none = OfForm::new(of_form.form.clone());
            let OfForm { form, beside, by_clock, by_padding, runs, steps } =
                std::mem::replace(of_form, none);
            beside.finish(&form, neighbours, &mut clues.neighbours);
            for (clock, sieve) in self.clocks.iter().zip(by_clock) {
                let Some(own) = sieve.map(Sieve::finish) else { continue };
                let of_part = clues.parts.entry(part).or_default();
                of_part.or_insert_with(form.clone(), Beside::new).add_up(own.clone());
                let of_clock = clues.clocks.entry(clock.clone()).or_default();
                of_clock.or_insert_with(form.clone(), || own);
            }
            for (padding, sieve) in Padding::all().zip(by_padding) {
                if let Some(own) = sieve.map(Sieve::finish) {
                    let padded = clues.paddings.entry(padding).or_default();
                    padded.or_insert_with(form.clone(), || own);
                }
            }
            for (order, steps) in steps {
                clues.steps.insert((form.clone(), order), BTreeMap::from([(part, steps)]));
            }
            clues.runs.insert((part, form), runs);
        }
        for (at, pairs) in std::mem::take(&mut self.pairs).into_iter().enumerate() {
            for (order, pair) in pairs {
                clues.pairs.insert((neighbours.name(at).to_owned(), order), pair);
            }
        }
        clues.year_first = self.year_first.take().into_iter().map(|own| (part, own)).collect();
        clues
    }
}

impl OfForm {
    fn new(form: Form) -> OfForm {
        OfForm {
            form,
            beside: GatheredBeside::default(),
            by_clock: Vec::new(),
            by_padding: Vec::new(),
            runs: VoteRuns::new(),
            steps: Vec::new(),
        }
    }

    fn weight(&self) -> usize {
        let sieves = self.by_clock.iter().chain(&self.by_padding).flatten();
        let sieves: usize = sieves.map(|sieve| sieve.dates.weight()).sum();
        OF_FORM + self.beside.weight() + sieves
    }
}

fn sieve_at(sieves: &mut Vec<Option<Sieve>>, at: usize) -> &mut Sieve {
    if sieves.len() <= at {
        sieves.resize_with(at + 1, || None);
    }
    sieves[at].get_or_insert_with(|| Sieve {
        rows: Few::default(),
        dates: DateSieve::up_to(DATES_BESIDE),
    })
}

impl Sieve {
    fn observe(&mut self, rows: u64, seen: &SeenValue) {
        *self.rows.or_insert_with(seen.fits, || 0) += rows;
        if let Some(written) = seen.dated {
            self.dates.observe(seen.hash, written, seen.fits);
        }
    }

    fn finish(self) -> Beside {
        Beside { rows: self.rows, dates: self.dates.finish() }
    }
}
