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
/// rows up to there are of the first time, and those from there on of the second. Without a step back nothing is proved.
/// Nor does one prove anything that may as well be that of a row which came late: where the log goes forward without that
/// row, rows are too few for both times, or the gaps between them are others than usual.
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
    /// What it showed in the first rows, and in the last ones.
    first: Vec<DateTime>,
    last: Vec<DateTime>,
    /// The repeated hours that it showed, in their order.
    hours: Vec<Hour>,
}

/// Rows on either side of a repeated hour that show how wide the gaps of a log are.
const AROUND: usize = 8;
/// Gaps that are needed for that.
const GAPS: usize = 3;

/// Neighbouring rows in which a clock shows one repeated hour.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Hour {
    bounds: (DateTime, DateTime),
    /// Each row, and what the clock shows there.
    rows: Vec<(u64, DateTime)>,
    /// What it showed in the rows before, and what it shows in the rows behind.
    before: Vec<DateTime>,
    behind: Vec<DateTime>,
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
        let (before, behind) = (Vec::new(), Vec::new());
        let hour = bounds.map(|bounds| Hour { bounds, rows: vec![(row, clock)], before, behind });
        log.join(Log { first: vec![clock], last: vec![clock], hours: hour.into_iter().collect() });
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
            if let Some(turn) = hour.turn() {
                let rows = hour.rows.iter().enumerate();
                folds.second.extend(rows.map(|(at, (row, _))| (*row, at >= turn)));
            }
        }
        folds
    }
}

impl Log {
    /// Adds what the next rows showed.
    fn join(&mut self, next: Log) {
        let is_open = self.hours.last().is_some_and(|own| own.behind.is_empty());
        for own in self.hours.iter_mut().rev().take_while(|own| own.behind.len() < AROUND) {
            own.behind.extend(&next.first);
            own.behind.truncate(AROUND);
        }
        let mut hours = next.hours.into_iter().peekable();
        if let Some(own) = self.hours.last_mut().filter(|_| is_open)
            && let Some(more) =
                hours.next_if(|more| more.before.is_empty() && more.bounds == own.bounds)
        {
            own.rows.extend(more.rows);
            own.behind = more.behind;
        }
        for mut hour in hours {
            let missing = AROUND - hour.before.len();
            let from = self.last.len().saturating_sub(missing);
            hour.before.splice(..0, self.last[from..].iter().copied());
            self.hours.push(hour);
        }
        self.first.extend(next.first);
        self.first.truncate(AROUND);
        self.last.extend(next.last);
        self.last.drain(..self.last.len().saturating_sub(AROUND));
    }
}

impl Hour {
    /// Which of the rows is the first of the second time: the clock goes back there, and forward otherwise.
    fn turn(&self) -> Option<usize> {
        let mut turns = (1..self.rows.len()).filter(|at| self.rows[*at].1 < self.rows[*at - 1].1);
        let (Some(turn), None) = (turns.next(), turns.next()) else { return None };
        let (first, last) = (self.rows.first()?.1, self.bounds.1);
        let goes_on = self.before.last().is_none_or(|before| *before <= first)
            && self.behind.first().is_none_or(|behind| *behind >= last);
        (goes_on && self.rows_late(turn) > 1 && self.is_of_the_clock(turn)).then_some(turn)
    }

    /// How many rows came late at least, or early, if the clock was not put back: without them it goes forward.
    fn rows_late(&self, turn: usize) -> usize {
        let (first_time, second_time) = self.rows.split_at(turn);
        let without_early = (0..=turn).map(|kept| {
            let late = match first_time[..kept].last() {
                Some((_, last)) => second_time.partition_point(|(_, clock)| clock <= last),
                None => 0,
            };
            turn - kept + late
        });
        without_early.min().unwrap_or(0)
    }

    /// Whether the step back is that of a clock which was put back, and not that of a row which came late: there are as
    /// many rows as usual in both times together, and the gaps between them are usual ones, too.
    fn is_of_the_clock(&self, turn: usize) -> bool {
        let put_back = seconds(self.bounds.0, self.bounds.1);
        let (first, second) = self.rows.split_at(turn);
        let shown = |rows: &[(u64, DateTime)]| rows.iter().map(|(_, clock)| *clock).collect();
        let (first, second): (Vec<DateTime>, Vec<DateTime>) = (shown(first), shown(second));
        let (Some(above), Some(below)) = (first.last(), second.first()) else { return false };
        let step = seconds(*above, *below) + put_back;
        let first: Vec<DateTime> = self.before.last().into_iter().chain(&first).copied().collect();
        let second: Vec<DateTime> = second.iter().chain(self.behind.first()).copied().collect();
        let others = [gaps(&first), gaps(&second)].concat();

        let around = [gaps(&self.before), gaps(&self.behind)].concat();
        let usual = if around.len() >= GAPS { &around } else { &others };
        let (Some(median), Some(widest)) = (median(usual), usual.iter().max()) else {
            return false;
        };

        // Rather than one of them only.
        let count = others.len() as i64 + 1;
        let passed = others.iter().sum::<i64>() + step;
        let fill_both = 2 * count * median >= passed + passed - put_back;
        let differs_by = |gap: i64, part: i64| (gap - median).abs() * part > median;
        // Most gaps of a logger are equal, but for a fifth of them.
        let are_equal = usual.iter().filter(|gap| !differs_by(**gap, 5)).count() * 2 > usual.len();
        let are_usual = match are_equal {
            true => !others.iter().chain([&step]).any(|gap| differs_by(*gap, 2)),
            false => step * 2 <= widest * 3,
        };
        fill_both && are_usual
    }
}

/// The gaps between what a clock shows in neighbouring rows, where it goes forward.
fn gaps(clocks: &[DateTime]) -> Vec<i64> {
    let all = clocks.windows(2).map(|pair| seconds(pair[0], pair[1]));
    all.filter(|gap| *gap >= 0).collect()
}

fn median(gaps: &[i64]) -> Option<i64> {
    let mut sorted = gaps.to_vec();
    sorted.sort_unstable();
    sorted.get(sorted.len() / 2).copied()
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
        // One row may have come late.
        assert_eq!(second(&[("", "01:10"), ("", "02:40"), ("", "02:10")]), [no; 3]);
        // The log ends in the hour.
        assert_eq!(
            second(&["01:40", "02:10", "02:40", "02:10", "02:40"].map(|clock| ("", clock))),
            [no, first, first, second_time, second_time]
        );
        // Each clock by itself.
        assert_eq!(
            second(&[
                ("a", "01:40"),
                ("a", "02:10"),
                ("a", "02:40"),
                ("b", "02:20"),
                ("a", "02:10"),
                ("b", "02:30"),
                ("a", "02:40")
            ]),
            [no, first, first, no, second_time, no, second_time]
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
