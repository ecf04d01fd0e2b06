//! The votes of a column by what stands beside it, and by where they stand.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::{AddsUp, fields_add_up};
use super::in_step::InStep;
use super::neighbourhood::{ByForm, Neighbourhood};
use super::padding::Padding;
use super::vote_runs::VoteRuns;
use crate::candidates::Form;
use crate::order::Alternative;
use crate::typed::TypedValue;

/// About how many bytes the runs, stretches and steps of a form take, with a few dates of each.
pub(super) const OF_FORM: usize = 4_000;

/// How often the next row is not earlier, in one part of a table, as one order takes them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct TimeSteps {
    first: TypedValue,
    last: TypedValue,
    /// Rows whose date is another than that of the row before.
    pub all: u64,
    /// Of these, later ones.
    pub forward: u64,
}

impl TimeSteps {
    pub(super) fn from(moment: TypedValue) -> TimeSteps {
        TimeSteps { first: moment, last: moment, all: 0, forward: 0 }
    }

    pub(super) fn to(&mut self, moment: TypedValue) {
        if moment != self.last {
            self.all += 1;
            self.forward += u64::from(moment > self.last);
            self.last = moment;
        }
    }

    /// The steps of this part and the next.
    pub fn and(mut self, next: &TimeSteps) -> TimeSteps {
        self.to(next.first);
        TimeSteps {
            last: next.last,
            all: self.all + next.all,
            forward: self.forward + next.forward,
            ..self
        }
    }
}

/// Rows of a column beside those of another one with dates.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Pair {
    /// Rows in which this column has the earlier day.
    pub earlier: u64,
    /// Rows in which both have the same.
    pub same: u64,
    /// Rows in which this one has the later.
    pub later: u64,
}

fields_add_up!(Pair: earlier, same, later);

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Clues {
    /// By what stands beside them.
    pub neighbours: Neighbourhood,
    /// By the clock that is written beside the date.
    pub clocks: BTreeMap<String, ByForm>,
    /// By whether numbers below ten have a zero before them.
    pub paddings: BTreeMap<Padding, ByForm>,
    /// By part of the table.
    pub parts: BTreeMap<u32, ByForm>,
    /// By part of the table and form.
    pub runs: BTreeMap<(u32, Form), VoteRuns>,
    /// By part of the table, whether dates with the year first stand in time: those whose day could be a month, beside
    /// those whose day could not.
    pub year_first: BTreeMap<u32, InStep>,
    /// By form and order, then by part of the table.
    pub steps: BTreeMap<(Form, Alternative), BTreeMap<u32, TimeSteps>>,
    /// By the name of another column with dates, and by the order that is taken for those of both
    /// columns that leave it open.
    pub pairs: BTreeMap<(String, Alternative), Pair>,
}

impl Clues {
    /// The runs of a form, by part of the table.
    pub fn runs_of<'c>(&'c self, form: &'c Form) -> impl Iterator<Item = &'c VoteRuns> {
        self.runs.iter().filter(move |((_, own), _)| own == form).map(|(_, runs)| runs)
    }

    /// About how many bytes they take.
    pub(super) fn weight(&self) -> usize {
        self.neighbours.weight() + OF_FORM * self.runs.len()
    }

    /// The same, where parts have other numbers.
    pub(super) fn numbered(self, number: impl Fn(u32) -> u32) -> Clues {
        let runs = self.runs.into_iter().map(|((part, form), runs)| ((number(part), form), runs));
        let later = |parts: BTreeMap<u32, TimeSteps>| {
            parts.into_iter().map(|(part, steps)| (number(part), steps)).collect()
        };
        let steps = self.steps.into_iter().map(|(key, parts)| (key, later(parts)));
        let parts = self.parts.into_iter().map(|(part, forms)| (number(part), forms));
        let year_first = self.year_first.into_iter().map(|(part, own)| (number(part), own));
        Clues {
            runs: runs.collect(),
            year_first: year_first.collect(),
            steps: steps.collect(),
            parts: parts.collect(),
            ..self
        }
    }

    /// The clues of these rows and of the next ones, which stand so many rows further down.
    pub(super) fn join(&mut self, mut next: Clues, rows: u64) {
        for (key, runs) in std::mem::take(&mut next.runs) {
            self.runs.entry(key).or_insert_with(VoteRuns::new).join(runs, rows);
        }
        for (part, in_step) in std::mem::take(&mut next.year_first) {
            self.year_first.entry(part).or_insert_with(InStep::new).join(in_step);
        }
        for (key, parts) in std::mem::take(&mut next.steps) {
            let own = self.steps.entry(key).or_default();
            for (part, steps) in parts {
                let joined = own.get(&part).map_or(steps, |own| own.and(&steps));
                own.insert(part, joined);
            }
        }
        self.add_up(next);
    }
}

impl AddsUp for Clues {
    fn add_up(&mut self, other: Clues) {
        self.neighbours.add_up(other.neighbours);
        self.clocks.add_up(other.clocks);
        self.paddings.add_up(other.paddings);
        self.parts.add_up(other.parts);
        // A part of a table is looked at as a whole.
        self.runs.extend(other.runs);
        self.year_first.extend(other.year_first);
        for (key, parts) in other.steps {
            self.steps.entry(key).or_default().extend(parts);
        }
        self.pairs.add_up(other.pairs);
    }
}
