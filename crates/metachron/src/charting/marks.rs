//! What is drawn of counts and numbers.

use std::collections::BTreeMap;

use metachron_core::charting::Points;

/// What is drawn.
#[derive(Debug)]
pub enum SeriesMarks {
    /// How many rows from here to there.
    Bars(Vec<(i128, i128, f64)>),
    /// Points; those of a run are joined, and gaps lie between runs.
    Runs(Vec<Vec<(i128, f64)>>),
    /// The least and the greatest number of each column of pixels.
    Columns(Vec<(usize, f64, f64)>),
}

impl SeriesMarks {
    /// Counts as bars; those of several groups as points in the middle of their periods, with zeros between.
    pub fn of_counts(counts: &BTreeMap<(i128, i128), u64>, has_groups: bool) -> SeriesMarks {
        let all = counts.iter().map(|((from, to), rows)| (*from, *to, *rows as f64));
        if !has_groups {
            return SeriesMarks::Bars(all.collect());
        }
        let mut run: Vec<(i128, f64)> = Vec::new();
        let mut last: Option<i128> = None;
        for (from, to, rows) in all {
            // The line goes down to nothing where periods are without a row.
            if let Some(last) = last.filter(|last| *last < from) {
                run.extend([(last, 0.0), (from, 0.0)]);
            }
            run.push((from + (to - from) / 2, rows));
            last = Some(to);
        }
        SeriesMarks::Runs(vec![run])
    }

    /// Points in runs: a gap is five times as long as the usual step.
    pub fn of_points(points: &Points) -> SeriesMarks {
        const GAP: i128 = 5;
        let Some(all) = points.all() else {
            return SeriesMarks::Columns(
                points.columns().map(|(at, own)| (at, own.least, own.most)).collect(),
            );
        };
        let mut steps: Vec<i128> =
            all.windows(2).map(|pair| pair[1].0 - pair[0].0).filter(|step| *step > 0).collect();
        steps.sort_unstable();
        let usual = steps.get(steps.len() / 2).copied().unwrap_or(0);
        // Several numbers at one time are no line.
        let at_once = all.windows(2).filter(|pair| pair[1].0 == pair[0].0).count();
        let usual = if at_once * 20 > all.len() { -1 } else { usual };
        let mut runs: Vec<Vec<(i128, f64)>> = Vec::new();
        for (at, number) in all {
            match runs.last_mut().and_then(|run| run.last().copied().map(|last| (run, last))) {
                Some((run, (last, _))) if at - last <= GAP * usual => run.push((at, number)),
                _ => runs.push(vec![(at, number)]),
            }
        }
        SeriesMarks::Runs(runs)
    }
}
