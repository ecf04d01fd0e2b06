//! Clock times that came twice, told apart by the rows around them.

use std::collections::BTreeMap;

use jiff::civil::DateTime;

use crate::zone::{Placed, Zone};

/// Which of the two times a row of a repeated hour is of, where the sequence proves it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Folds {
    second: BTreeMap<u64, bool>,
}

impl Folds {
    /// Whether a row is of the second time; none where the sequence does not prove it.
    pub fn is_second(&self, row: u64) -> Option<bool> {
        self.second.get(&row).copied()
    }
}

/// Looks at the rows of a log in their order, and at those of each clock apart from the others.
///
/// A log goes forward. Where its clock goes back once while it shows an hour that came twice, the
/// rows up to there are of the first time, and those from there on of the second. Without a step back nothing is proved,
/// and one that leaves a far wider gap than rows usually have is that of a row which came late.
///
/// ```
/// use metachron_core::reading::FoldObserver;
/// use metachron_core::zone::Zones;
/// let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
/// let mut observer = FoldObserver::default();
/// for (row, clock) in (1..).zip(["01:50", "02:20", "02:50", "02:20", "02:50", "03:20"]) {
///     observer.observe(row, "", format!("2024-10-27T{clock}").parse().unwrap(), oslo);
/// }
/// let folds = observer.finish();
/// assert_eq!([2, 3, 4, 5].map(|row| folds.is_second(row).unwrap()), [false, false, true, true]);
/// ```
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct FoldObserver {
    clocks: BTreeMap<String, Log>,
}

/// What one clock showed, as far as it bears on repeated hours.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
struct Log {
    /// What it showed first and last.
    ends: Option<(DateTime, DateTime)>,
    /// The repeated hours that it showed, in their order.
    hours: Vec<Hour>,
}

/// Neighbouring rows in which a clock shows one repeated hour.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Hour {
    bounds: (DateTime, DateTime),
    rows: Vec<u64>,
    /// Where among the rows the clock goes back: the first place, and how many there are.
    turns: Option<(usize, u64)>,
    /// By how much it goes back there, and the widest gap between other rows, in seconds.
    back: i64,
    widest: i64,
    /// What the clock shows in its first row and in its last.
    ends: (DateTime, DateTime),
    /// What it showed in the row before, and what it shows in the row behind.
    before: Option<DateTime>,
    behind: Option<DateTime>,
}

impl FoldObserver {
    /// Looks at what a clock of this name showed in a row.
    pub fn observe(&mut self, row: u64, name: &str, clock: DateTime, zone: Zone) {
        if !self.clocks.contains_key(name) {
            self.clocks.insert(name.to_owned(), Log::default());
        }
        let Some(log) = self.clocks.get_mut(name) else { return };
        let bounds = match zone.place(clock) {
            Placed::Twice(..) => zone.change_around(clock),
            _ => None,
        };
        let hours = bounds.map(|bounds| Hour {
            bounds,
            rows: vec![row],
            turns: None,
            back: 0,
            widest: 0,
            ends: (clock, clock),
            before: None,
            behind: None,
        });
        log.join(Log { ends: Some((clock, clock)), hours: hours.into_iter().collect() });
    }

    /// What these rows and the next ones have shown; equal to looking at all of them in one go.
    #[must_use]
    pub fn join(mut self, next: FoldObserver) -> FoldObserver {
        for (name, log) in next.clocks {
            self.clocks.entry(name).or_default().join(log);
        }
        self
    }

    /// What all rows have shown.
    pub fn finish(self) -> Folds {
        let mut folds = Folds::default();
        for hour in self.clocks.into_values().flat_map(|log| log.hours) {
            hour.close(&mut folds);
        }
        folds
    }
}

impl Log {
    /// Adds what the next rows showed.
    fn join(&mut self, next: Log) {
        let Some((first, last)) = next.ends else { return };
        let Some((own_first, own_last)) = self.ends else {
            *self = next;
            return;
        };
        let mut hours = next.hours.into_iter().peekable();
        let is_first = |hour: &Hour| hour.before.is_none() && hour.ends.0 == first;
        let mut open = self.hours.last_mut().filter(|hour| hour.behind.is_none());
        match (&mut open, hours.next_if(is_first)) {
            (Some(hour), Some(more)) if hour.bounds == more.bounds => hour.go_on(more),
            (hour, more) => {
                if let Some(hour) = hour {
                    hour.behind = Some(first);
                }
                let more = more.map(|more| Hour { before: Some(own_last), ..more });
                self.hours.extend(more);
            }
        }
        self.hours.extend(hours);
        self.ends = Some((own_first, last));
    }
}

impl Hour {
    /// Adds the next rows of the same hour.
    fn go_on(&mut self, next: Hour) {
        let rows = self.rows.len();
        let border = (next.ends.0 < self.ends.1).then_some((rows, 1));
        let behind = next.turns.map(|(at, turns)| (rows + at, turns));
        for (at, turns) in [border, behind].into_iter().flatten() {
            let (first, all) = self.turns.unwrap_or((at, 0));
            self.turns = Some((first, all + turns));
        }
        let step = seconds(self.ends.1, next.ends.0);
        self.back = self.back.max(next.back).max(-step);
        self.widest = self.widest.max(next.widest).max(step);
        self.rows.extend(next.rows);
        (self.ends.1, self.behind) = (next.ends.1, next.behind);
    }

    /// Whether the step back is that of a clock which was put back: the gap that it leaves is hardly wider than others. A
    /// row that came late by a minute would leave an hour without rows.
    fn is_of_the_clock(&self) -> bool {
        let before = self.before.map_or(0, |before| seconds(before, self.ends.0));
        let behind = self.behind.map_or(0, |behind| seconds(self.ends.1, behind));
        let usual = self.widest.max(before).max(behind);
        let gap = seconds(self.bounds.0, self.bounds.1) - self.back;
        gap * 2 <= usual * 3
    }

    /// Tells the rows apart if the clock goes back once and forward otherwise.
    fn close(self, folds: &mut Folds) {
        let Some((turn, 1)) = self.turns else { return };
        let goes_on = self.before.is_none_or(|before| before <= self.ends.0)
            && self.behind.is_none_or(|behind| behind >= self.bounds.1);
        if goes_on && self.is_of_the_clock() {
            let rows = self.rows.into_iter().enumerate();
            folds.second.extend(rows.map(|(at, row)| (row, at >= turn)));
        }
    }
}

fn seconds(from: DateTime, to: DateTime) -> i64 {
    to.duration_since(from).as_secs()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::zone::Zones;

    fn second(clocks: &[(&str, &str)]) -> Vec<Option<bool>> {
        let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
        let mut observer = FoldObserver::default();
        for (row, (name, clock)) in (1..).zip(clocks) {
            observer.observe(row, name, format!("2024-10-27T{clock}").parse().unwrap(), oslo);
        }
        let folds = observer.finish();
        (1..=clocks.len() as u64).map(|row| folds.is_second(row)).collect()
    }

    #[test]
    fn only_a_single_step_back_proves_which_is_which() {
        let (no, first, second_time) = (None, Some(false), Some(true));
        // No step back: all may be of either time.
        assert_eq!(second(&[("", "01:30"), ("", "02:10"), ("", "02:40"), ("", "03:10")]), [no; 4]);
        // Two steps back: no log.
        assert_eq!(second(&[("", "02:40"), ("", "02:10"), ("", "02:05"), ("", "03:10")]), [no; 4]);
        // Back to before the hour: not in order.
        assert_eq!(second(&[("", "02:40"), ("", "02:10"), ("", "01:10")]), [no; 3]);
        // Later than the first row of the hour: not in order.
        assert_eq!(second(&[("", "03:40"), ("", "02:30"), ("", "02:10")]), [no; 3]);
        // The log ends in the hour.
        assert_eq!(
            second(&[("", "01:10"), ("", "02:40"), ("", "02:10")]),
            [no, first, second_time]
        );
        // Each clock by itself.
        assert_eq!(
            second(&[
                ("a", "01:45"),
                ("a", "02:40"),
                ("b", "02:10"),
                ("a", "02:05"),
                ("b", "02:20")
            ]),
            [no, first, no, second_time, no]
        );
        // A row that came late by a minute: otherwise there would be an hour without rows.
        let late = ["01:50", "02:10", "02:20", "02:19", "02:30", "02:40", "02:50", "03:10"];
        assert_eq!(second(&late.map(|clock| ("", clock))), [no; 8]);
        // Nothing says how wide gaps are.
        assert_eq!(second(&[("", "02:40"), ("", "02:10")]), [no; 2]);
    }

    #[test]
    fn logs_cut_anywhere_are_the_whole_log() {
        let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
        let clocks =
            ["01:50", "02:20", "02:50", "02:20", "02:50", "03:20", "02:10", "02:05", "04:00"];
        let seen = |rows: std::ops::Range<usize>| {
            let mut observer = FoldObserver::default();
            for row in rows {
                let clock = format!("2024-10-27T{}", clocks[row]).parse().unwrap();
                observer.observe(row as u64 + 1, ["", "b"][row % 5 / 4], clock, oslo);
            }
            observer
        };
        for first in 0..=clocks.len() {
            for second in first..=clocks.len() {
                let joined = seen(0..first).join(seen(first..second));
                assert_eq!(joined.join(seen(second..clocks.len())), seen(0..clocks.len()));
            }
        }
    }
}
