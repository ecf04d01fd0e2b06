//! How improbable something is that looks like evidence: plain functions, each with its source.

mod sides;
mod signature;
mod by_order;
mod tails;
mod ranks;
mod permutation;
mod votes;

pub(super) use by_order::{OPEN, best_two, date_of};
pub(super) use permutation::{ln_clean_groups, ln_few_runs};
pub(super) use ranks::ln_ranks_above;
pub(super) use sides::{
    BESIDE, CERTAIN, LEAN, SIDE, ln_exchanged, ln_in_time, ln_left, ln_short_run, ln_without_late,
};
pub(super) use signature::{DayAndYear, places};
pub(super) use tails::{ln_at_most, power, share_range};
pub(super) use votes::{enough, exceed_typing_errors};

/// Whether a probability, of which this is the logarithm, is the expected one.
#[cfg(test)]
fn close(ln: f64, expected: f64) {
    assert!((ln.exp() - expected).abs() < 1e-12, "{} is not {expected}", ln.exp());
}
