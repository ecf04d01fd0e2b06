//! The rows of each day.

use std::collections::BTreeMap;

use jiff::civil::Date;

use crate::typed::days_from_1970;

/// The rows of each day that has any.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct RowsByDay {
    /// By days from 1970-01-01.
    rows: BTreeMap<i32, OfDay>,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct OfDay {
    date: Date,
    rows: u64,
    /// The first of them.
    first: u64,
}

/// A day that lies far from the others.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Remote {
    /// It.
    pub date: Date,
    /// Its rows.
    pub rows: u64,
    /// The first of them.
    pub first: u64,
    /// Days to the nearest other one that has rows.
    pub distance: u64,
}

impl RowsByDay {
    /// So many rows of a day, of which this is the first.
    pub(super) fn note(&mut self, date: Date, rows: u64, first: u64) {
        let day = days_from_1970(date.year().into(), date.month().into(), date.day().into());
        self.add(day, OfDay { date, rows, first });
    }

    fn add(&mut self, day: i32, other: OfDay) {
        let own = self.rows.entry(day).or_insert(OfDay { rows: 0, ..other });
        own.rows += other.rows;
        own.first = own.first.min(other.first);
    }

    pub(super) fn join(&mut self, next: RowsByDay) {
        next.rows.into_iter().for_each(|(day, other)| self.add(day, other));
    }

    /// How many different days there are.
    pub fn len(&self) -> usize {
        self.rows.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }

    /// The days with how many rows, from the earliest on, and the first row of each.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = (Date, u64, u64)> {
        self.rows.values().map(|own| (own.date, own.rows, own.first))
    }

    /// The first and the last.
    pub(super) fn ends(&self) -> Option<(Date, Date)> {
        let first = self.rows.first_key_value().map(|(_, own)| own.date);
        first.zip(self.rows.last_key_value().map(|(_, own)| own.date))
    }

    /// The days that lie furthest from any other, the furthest first: the least likely ones.
    pub fn remote(&self, most: usize) -> Vec<Remote> {
        let days: Vec<(&i32, &OfDay)> = self.rows.iter().collect();
        let to = |at: Option<usize>, day: i32| {
            at.and_then(|at| days.get(at)).map(|(other, _)| day.abs_diff(**other))
        };
        let all = days.iter().enumerate().filter_map(|(at, (day, own))| {
            let before = to(at.checked_sub(1), **day);
            let after = to(Some(at + 1), **day);
            let distance = before.into_iter().chain(after).min()?;
            let OfDay { date, rows, first } = **own;
            Some(Remote { date, rows, first, distance: distance.into() })
        });
        let mut all: Vec<Remote> = all.collect();
        all.sort_by_key(|own| (std::cmp::Reverse(own.distance), own.rows, own.date));
        all.truncate(most);
        all
    }

    /// What lies apart from the rest, if a few rows do: before it, and behind it.
    ///
    /// Few is one row in a hundred at most; apart are days that lie further from the next ones than these, without
    /// the outermost hundredth at each end, lie from each other.
    ///
    /// ```
    /// use jiff::civil::date;
    /// use metachron_core::timeline::Timeline;
    /// use metachron_core::typed::TypedValue;
    ///
    /// let mut timeline = Timeline::default();
    /// timeline.observe(1, TypedValue::Date(date(1924, 3, 5)), None);
    /// for row in 2..400 {
    ///     let day = date(2024, 1, 1).saturating_add(jiff::Span::new().days(row));
    ///     timeline.observe(row as u64, TypedValue::Date(day), None);
    /// }
    /// let [before, behind] = timeline.days.apart();
    /// assert_eq!((before.unwrap().rows, behind), (1, None));
    /// ```
    pub fn apart(&self) -> [Option<Apart>; 2] {
        let all: u64 = self.rows.values().map(|own| own.rows).sum();
        let few = all / OUTER;
        // The first day up to which there are more than a few rows.
        fn inner<'d>(days: impl Iterator<Item = (&'d i32, &'d OfDay)>, few: u64) -> Option<i32> {
            let mut rows = 0;
            for (day, own) in days {
                rows += own.rows;
                if rows > few {
                    return Some(*day);
                }
            }
            None
        }
        let from = inner(self.rows.iter(), few);
        let to = inner(self.rows.iter().rev(), few);
        let (Some(from), Some(to)) = (from, to) else { return [None, None] };
        // A file of one day has neighbours all the same.
        let usual = to.saturating_sub(from).max(MONTH);
        let before = self.rows.range(..from);
        let behind = self.rows.range(to.saturating_add(1)..);
        [
            apart(before.map(|(day, own)| (*day, own)), from, usual),
            apart(behind.rev().map(|(day, own)| (*day, own)), to, usual),
        ]
    }
}

/// One in so many rows is few.
const OUTER: u64 = 100;
/// Days.
const MONTH: i32 = 31;

/// Days that lie apart from the rest.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Apart {
    /// The outermost.
    pub outermost: Date,
    /// The one next to the rest.
    pub nearest: Date,
    /// Their rows.
    pub rows: u64,
    /// The first of these.
    pub first: u64,
    /// Days to the rest.
    pub distance: u64,
}

/// Of outer days, from the outermost on, those that lie apart from the inner ones.
fn apart<'d>(
    outer: impl Iterator<Item = (i32, &'d OfDay)>,
    inner: i32,
    usual: i32,
) -> Option<Apart> {
    let mut found: Option<Apart> = None;
    let mut so_far: Option<(i32, Apart)> = None;
    let far =
        |from: i32, to: i32| Some(from.abs_diff(to)).filter(|own| *own > usual.unsigned_abs());
    for (day, own) in outer {
        if let Some((last, all)) = so_far
            && let Some(distance) = far(last, day)
        {
            found = Some(Apart { distance: distance.into(), ..all });
        }
        let new = Apart {
            outermost: own.date,
            nearest: own.date,
            rows: own.rows,
            first: own.first,
            distance: 0,
        };
        let all = so_far.map_or(new, |(_, all)| Apart {
            nearest: own.date,
            rows: all.rows + own.rows,
            first: all.first.min(own.first),
            ..all
        });
        so_far = Some((day, all));
    }
    if let Some((last, all)) = so_far
        && let Some(distance) = far(last, inner)
    {
        found = Some(Apart { distance: distance.into(), ..all });
    }
    found
}
