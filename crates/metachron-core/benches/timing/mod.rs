//! How long a run takes, for benches.

use std::time::Instant;

/// Rows of a column.
pub const ROWS: usize = 200_000;
/// The best of so many runs counts: anything else on the machine only adds.
const RUNS: usize = 7;

/// The least time that a run takes, in nanoseconds a row.
pub fn best(mut run: impl FnMut()) -> f64 {
    let mut least = f64::INFINITY;
    for _ in 0..RUNS {
        let begin = Instant::now();
        run();
        least = least.min(begin.elapsed().as_nanos() as f64 / ROWS as f64);
    }
    least
}
