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
#[derive(Debug, Default)]
pub struct FoldObserver {
    clocks: BTreeMap<String, Run>,
    folds: Folds,
}

/// What one clock showed last, and the repeated hour that it may be in.
#[derive(Debug, Default)]
struct Run {
    last: Option<DateTime>,
    hour: Option<Hour>,
}

#[derive(Debug)]
struct Hour {
    bounds: (DateTime, DateTime),
    rows: Vec<u64>,
    /// Where among the rows the clock goes back.
    turn: Option<usize>,
    /// Whether all goes forward but there.
    goes_forward: bool,
}

impl FoldObserver {
    /// Looks at what a clock of this name showed in a row.
    pub fn observe(&mut self, row: u64, name: &str, clock: DateTime, zone: Zone) {
        if !self.clocks.contains_key(name) {
            self.clocks.insert(name.to_owned(), Run::default());
        }
        let Some(run) = self.clocks.get_mut(name) else { return };
        let bounds = match zone.place(clock) {
            Placed::Twice(..) => zone.change_around(clock),
            _ => None,
        };
        let last = run.last.replace(clock);
        if let Some(hour) = &mut run.hour
            && bounds == Some(hour.bounds)
        {
            if last.is_some_and(|last| clock < last) {
                hour.goes_forward &= hour.turn.is_none();
                hour.turn = Some(hour.rows.len());
            }
            hour.rows.push(row);
            return;
        }
        if let Some(mut hour) = run.hour.take() {
            hour.goes_forward &= clock >= hour.bounds.1;
            hour.close(&mut self.folds);
        }
        run.hour = bounds.map(|bounds| Hour {
            bounds,
            rows: vec![row],
            turn: None,
            goes_forward: last.is_none_or(|last| last <= clock),
        });
    }

    /// What all rows have shown.
    pub fn finish(mut self) -> Folds {
        for run in self.clocks.into_values() {
            if let Some(hour) = run.hour {
                hour.close(&mut self.folds);
            }
        }
        self.folds
    }
}

impl Hour {
    fn close(self, folds: &mut Folds) {
        let Some(turn) = self.turn.filter(|_| self.goes_forward) else { return };
        let rows = self.rows.into_iter().enumerate();
        folds.second.extend(rows.map(|(at, row)| (row, at >= turn)));
    }
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
        assert_eq!(second(&[("", "02:40"), ("", "02:10")]), [first, second_time]);
        // Each clock by itself.
        assert_eq!(
            second(&[("a", "02:40"), ("b", "02:10"), ("a", "02:05"), ("b", "02:20")]),
            [first, no, second_time, no]
        );
    }
}
