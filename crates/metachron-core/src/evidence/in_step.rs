//! Whether values that could be read in several ways stand in time with those above them that can be read in one way
//! only.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::dates::WrittenDate;
use super::{DistinctDates, Fits};
use crate::order::Alternative;

/// Rows that go on in time lie so many days apart at most: fewer than the months of an exchange do.
const NEAR: i32 = 15;
/// Different dates that are kept of each order.
const DATES: usize = 256;
/// So many different dates, one behind the other, are held against the row above them: a month has no more early days.
/// What stands further below may have nothing to do with it.
const BELOW: usize = 20;

/// What the rows of one form show, in one part of a table.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct InStep {
    /// The first value that can be read in one way only, and the last one, as days.
    ends: Option<(i32, i32)>,
    /// Values that can be read in one way only and lie near the one above them, which is of another day.
    pub near: u64,
    /// All that have one of another day above them.
    pub all: u64,
    /// By order, the different dates that this one alone puts near the last value above them that can be read in one
    /// way only.
    pub alone: BTreeMap<Alternative, DistinctDates>,
    /// By order, the different dates that this one alone puts near the date right above them, if that could be read in
    /// several ways, too.
    pub in_line: BTreeMap<Alternative, DistinctDates>,
    /// Dates before the first such value, each another one than that above it: the first of them.
    before: Vec<(WrittenDate, Fits)>,
    /// How many such dates there are behind the last value, or behind the beginning.
    behind: usize,
    /// The last of them.
    last: Option<(WrittenDate, Fits)>,
}

/// A day as if all months had 31, as an order takes what is written: near days stay near.
fn day(written: WrittenDate, order: Alternative) -> i32 {
    let [day, month, year] = order.places().map(|at| i32::from(written[at]));
    (year * 12 + month) * 31 + day
}

/// Adds a date to those of the one order that puts it near the day above it, if only one does.
fn put_near(
    all: &mut BTreeMap<Alternative, DistinctDates>,
    (written, fits): (WrittenDate, Fits),
    above: impl Fn(Alternative) -> Option<i32>,
) {
    let is_near = |order: &Alternative| {
        above(*order).is_some_and(|above| (day(written, *order) - above).abs() <= NEAR)
    };
    let mut near = fits.fitting().filter(is_near);
    if let (Some(order), None) = (near.next(), near.next()) {
        all.entry(order).or_insert_with(|| DistinctDates::up_to(DATES)).insert(written, fits);
    }
}

impl InStep {
    pub(super) fn new() -> InStep {
        let (alone, in_line, before) = (BTreeMap::new(), BTreeMap::new(), Vec::new());
        InStep { ends: None, near: 0, all: 0, alone, in_line, before, behind: 0, last: None }
    }

    /// Adds the date of the next row, which fits some of these orders, and whether these make different things of it.
    pub(super) fn observe(
        &mut self,
        written: WrittenDate,
        (fits, differs): (Fits, bool),
        orders: &[Alternative],
    ) {
        if differs {
            let own = (written, fits);
            if self.last != Some(own) {
                self.note(own);
                self.follow(own);
                self.behind += 1;
                self.last = Some(own);
            }
        } else if let Some(order) = orders.iter().find(|order| fits.fits(**order)) {
            let own = day(written, *order);
            self.go_on((own, own));
            (self.behind, self.last) = (0, None);
        }
    }

    /// Adds a date that could be read in several ways, below the last value that cannot.
    fn note(&mut self, own: (WrittenDate, Fits)) {
        if self.behind >= BELOW {
            return;
        }
        match self.ends {
            Some((_, last)) => put_near(&mut self.alone, own, |_| Some(last)),
            None => self.before.push(own),
        }
    }

    /// Adds such a date right below another one.
    fn follow(&mut self, own: (WrittenDate, Fits)) {
        if let Some((written, fits)) = self.last {
            let above = |order| fits.fits(order).then(|| day(written, order));
            put_near(&mut self.in_line, own, above);
        }
    }

    /// Goes on to the first and the last of the next days.
    fn go_on(&mut self, (first, last): (i32, i32)) {
        if let Some((_, own)) = &mut self.ends {
            if first != *own {
                self.near += u64::from((first - *own).abs() <= NEAR);
                self.all += 1;
            }
            *own = last;
        } else {
            self.ends = Some((first, last));
        }
    }

    /// What these rows and the next ones show.
    pub(super) fn join(&mut self, next: InStep) {
        // What stands on both sides of the cut is one date.
        let first = next.before.first().copied();
        let cut = usize::from(first.is_some() && first == self.last);
        if let Some(first) = first.filter(|_| cut == 0) {
            self.follow(first);
        }
        for own in &next.before[cut..] {
            self.note(*own);
            self.behind += 1;
        }
        match next.ends {
            Some(ends) => {
                self.go_on(ends);
                (self.behind, self.last) = (next.behind, next.last);
            }
            None => {
                // Of many only the first are kept.
                self.behind += next.behind.saturating_sub(next.before.len());
                self.last = next.last.or(self.last);
            }
        }
        self.near += next.near;
        self.all.add_up(next.all);
        self.alone.add_up(next.alone);
        self.in_line.add_up(next.in_line);
    }
}
