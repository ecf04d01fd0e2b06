//! Whether values that could be read in several ways stand in time with those above them that can be read in one way
//! only.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::dates::WrittenDate;
use super::{DistinctDates, Fits};
use crate::named::Named;
use crate::order::Alternative;

/// Rows that go on in time lie so many days apart at most: fewer than the months of an exchange do.
const NEAR: i32 = 15;
/// Different dates that are kept of each order.
const DATES: usize = 256;

/// What the rows of one form show, in one part of a table.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct InStep {
    /// The first value that can be read in one way only, and the last one, as days.
    ends: Option<(i32, i32)>,
    /// Values that can be read in one way only and lie near the one above them.
    pub near: u64,
    /// All that have one above them.
    pub all: u64,
    /// By order, the different dates that this one alone puts near the last value above them that can be read in one
    /// way only.
    pub alone: BTreeMap<Alternative, DistinctDates>,
    /// The different dates before the first such value.
    before: DistinctDates,
}

/// A day as if all months had 31, as an order takes what is written: near days stay near.
fn day(written: WrittenDate, order: Alternative) -> i32 {
    let [day, month, year] = order.places().map(|at| i32::from(written[at]));
    (year * 12 + month) * 31 + day
}

impl InStep {
    pub(super) fn new() -> InStep {
        InStep {
            ends: None,
            near: 0,
            all: 0,
            alone: BTreeMap::new(),
            before: DistinctDates::default(),
        }
    }

    /// Adds the date of the next row, which fits some of these orders.
    pub(super) fn observe(&mut self, written: WrittenDate, fits: Fits, orders: &[Alternative]) {
        if fits.differ(orders) {
            match self.ends {
                Some((_, last)) => self.note(last, written, fits),
                None => self.before.insert(written, fits),
            }
        } else if let Some(order) = orders.iter().find(|order| fits.fits(**order)) {
            let own = day(written, *order);
            self.go_on((own, own));
        }
    }

    /// Adds a date that could be read in several ways, below this day.
    fn note(&mut self, last: i32, written: WrittenDate, fits: Fits) {
        let is_near =
            |order: &Alternative| fits.fits(*order) && (day(written, *order) - last).abs() <= NEAR;
        let mut near = Alternative::all().filter(is_near);
        if let (Some(order), None) = (near.next(), near.next()) {
            let alone = self.alone.entry(order).or_insert_with(|| DistinctDates::up_to(DATES));
            alone.insert(written, fits);
        }
    }

    /// Goes on to the first and the last of the next days.
    fn go_on(&mut self, (first, last): (i32, i32)) {
        if let Some((_, own)) = &mut self.ends {
            self.near += u64::from((first - *own).abs() <= NEAR);
            self.all += 1;
            *own = last;
        } else {
            self.ends = Some((first, last));
        }
    }

    /// What these rows and the next ones show.
    pub(super) fn join(&mut self, next: InStep) {
        match self.ends {
            Some((_, last)) => {
                next.before.iter().for_each(|(written, fits)| self.note(last, written, fits));
            }
            None => self.before.add_up(next.before),
        }
        next.ends.into_iter().for_each(|ends| self.go_on(ends));
        self.near += next.near;
        self.all += next.all;
        self.alone.add_up(next.alone);
    }
}
