//! Runs of votes in a part of a table, one after the other.

use std::cmp::Ordering;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::in_step::InStep;
use super::seen_value::SeenValue;
use super::stretches::Stretches;
use super::{DistinctDates, Fits};
use crate::order::Alternative;

/// Different dates that are kept of each run of votes.
const DATES_IN_RUN: usize = 64;
/// Runs of votes that are kept; appended files are few.
const MOST_RUNS: usize = 64;

/// Rows of a table from the first to the last of votes that follow each other, each of which some alternative has
/// in common with the one before.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct VoteRun {
    /// The row of the first vote.
    pub first: u64,
    /// The row of the last one.
    pub last: u64,
    /// The alternatives that fit all of them; none where they contradict each other.
    pub alternatives: Vec<Alternative>,
    /// Votes.
    pub votes: u64,
    /// The different dates from the first row on, voting or not.
    pub dates: DistinctDates,
    /// Rows behind the last vote that orders take for different moments.
    pub open_behind: u64,
}

/// The runs of votes of one form.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct VoteRuns {
    /// The runs; none if there are too many.
    pub runs: Option<Vec<VoteRun>>,
    /// Rows in a row without a vote.
    pub stretches: Stretches,
    /// Whether what could be read in several ways stands in time with what cannot.
    pub in_step: InStep,
    /// Rows whose text stands behind that of the one before, and rows whose text stands before it.
    pub steps: (u64, u64),
    /// The text of the first row and of the last.
    ends: Option<(String, String)>,
    /// What the first vote fits, and what the last one does.
    votes: Option<(Vec<Alternative>, Vec<Alternative>)>,
    /// Rows before the first vote that alternatives take for different moments.
    open_before: u64,
    /// The different dates before the first vote.
    dates_before: DistinctDates,
}

impl VoteRuns {
    pub(super) fn new() -> VoteRuns {
        VoteRuns {
            runs: Some(Vec::new()),
            stretches: Stretches::new(),
            in_step: InStep::new(),
            steps: (0, 0),
            ends: None,
            votes: None,
            open_before: 0,
            dates_before: DistinctDates::up_to(DATES_IN_RUN),
        }
    }

    /// Adds the value of the next row, of which this was seen, among these alternatives.
    pub(super) fn observe(
        &mut self,
        (row, value): (u64, &str),
        seen: &SeenValue,
        possible: &[Alternative],
    ) {
        self.step(value);
        let SeenValue { fits, hash, dated, is_vote, differs, .. } = *seen;
        let is_open = !is_vote && differs;
        if is_vote {
            self.vote(row, fits, possible);
            self.stretches.vote();
        } else if is_open {
            self.stretches.note(row, dated.map(|written| (written, hash)), fits);
        }
        if let Some(written) = dated {
            self.in_step.observe(written, (fits, differs), possible);
        }
        let (open, dates) = match &mut self.runs {
            None => return,
            Some(all) => match all.last_mut() {
                Some(run) => (&mut run.open_behind, &mut run.dates),
                None => (&mut self.open_before, &mut self.dates_before),
            },
        };
        *open += u64::from(is_open);
        if let Some(written) = dated {
            dates.insert_hashed(hash, written, fits);
        }
    }

    /// Adds a vote, which fits some of these alternatives.
    fn vote(&mut self, row: u64, fits: Fits, possible: &[Alternative]) {
        let Some(runs) = &mut self.runs else { return };
        let fitting = || possible.iter().copied().filter(|own| fits.fits(*own));
        let goes_on = |last: &[Alternative]| last.iter().any(|own| fits.fits(*own));
        match (runs.last_mut(), &mut self.votes) {
            (Some(run), Some((_, last))) if goes_on(last) => {
                (run.last, run.open_behind) = (row, 0);
                run.alternatives.retain(|own| fits.fits(*own));
                run.votes += 1;
                last.clear();
                last.extend(fitting());
            }
            (_, votes) => {
                let fitting: Vec<Alternative> = fitting().collect();
                let dates = DistinctDates::up_to(DATES_IN_RUN);
                let (first, last, alternatives) = (row, row, fitting.clone());
                runs.push(VoteRun { first, last, alternatives, votes: 1, dates, open_behind: 0 });
                match votes {
                    Some((_, last)) => *last = fitting,
                    None => *votes = Some((fitting.clone(), fitting)),
                }
            }
        }
        self.give_up_if_many();
    }

    fn give_up_if_many(&mut self) {
        if self.runs.as_ref().is_some_and(|runs| runs.len() > MOST_RUNS) {
            (self.runs, self.votes) = (None, None);
        }
    }

    /// The runs of these rows and of the next ones, which stand so many rows further down.
    pub(super) fn join(&mut self, next: VoteRuns, rows: u64) {
        self.stretches.join(next.stretches, rows);
        self.in_step.join(next.in_step);
        let mut others = next.runs;
        for run in others.iter_mut().flatten() {
            (run.first, run.last) = (run.first + rows, run.last + rows);
        }
        match self.runs.as_mut().map(|runs| runs.last_mut()) {
            // Rows before the next vote stand behind the last one here.
            Some(Some(run)) => {
                run.open_behind.add_up(next.open_before);
                run.dates.add_up(next.dates_before);
            }
            Some(None) => {
                self.open_before.add_up(next.open_before);
                self.dates_before.add_up(next.dates_before);
            }
            None => {}
        }
        match (&mut self.runs, others) {
            (Some(runs), Some(mut others)) => {
                let goes_on = match (&self.votes, &next.votes) {
                    (Some((_, last)), Some((first, _))) => {
                        last.iter().any(|own| first.contains(own))
                    }
                    _ => false,
                };
                if let Some(run) = runs.last_mut().filter(|_| goes_on) {
                    let first = others.remove(0);
                    run.alternatives.retain(|own| first.alternatives.contains(own));
                    (run.last, run.open_behind) = (first.last, first.open_behind);
                    run.votes.add_up(first.votes);
                    run.dates.add_up(first.dates);
                }
                runs.extend(others);
                self.votes = match (self.votes.take(), next.votes) {
                    (Some((first, _)), Some((_, last))) => Some((first, last)),
                    (own, next) => own.or(next),
                };
            }
            (own, _) => (*own, self.votes) = (None, None),
        }
        self.give_up_if_many();
        if let Some((first, last)) = next.ends {
            self.step(&first);
            if let Some((_, own)) = &mut self.ends {
                *own = last;
            }
        }
        self.steps = (self.steps.0 + next.steps.0, self.steps.1 + next.steps.1);
    }

    /// Whether the rows are sorted by their text: then each first part has its own block.
    pub fn are_sorted_as_text(&self) -> bool {
        let (up, down) = self.steps;
        let hardly = |one: u64, other: u64| one * 10 < other;
        hardly(up, down) || hardly(down, up)
    }

    fn step(&mut self, value: &str) {
        let Some((_, last)) = &mut self.ends else {
            self.ends = Some((value.to_owned(), value.to_owned()));
            return;
        };
        match value.cmp(last.as_str()) {
            Ordering::Greater => self.steps.0 += 1,
            Ordering::Less => self.steps.1 += 1,
            Ordering::Equal => return,
        }
        last.clear();
        last.push_str(value);
    }
}
