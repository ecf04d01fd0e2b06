//! How improbable something is that looks like evidence: plain functions, each with its source.

mod days;
mod sides;
mod by_order;
mod tails;
mod ranks;
mod running;
mod permutation;
mod votes;
mod signature;

pub(super) use by_order::{OPEN, best_two, date_of};
pub(super) use days::{DAYS_OF_MONTH, DAYS_OF_YEAR};
pub(super) use permutation::{ln_clean_groups, ln_few_runs};
pub(super) use ranks::ln_ranks_above;
pub(super) use running::ln_run_on;
pub(super) use sides::{
    BESIDE, CERTAIN, LEAN, SIDE, ln_exchanged, ln_in_time, ln_left, ln_months_without_late,
    ln_short_run, ln_without_late,
};
pub(super) use signature::DayAndYear;
pub(super) use tails::{ln_at_most, power, share_range};
pub(super) use votes::{ERRORS, enough, exceed_typing_errors};

/// Rows of which one hand, or one way of reading, explains the looks less often than that are worth a question.
pub(super) const BY_CHANCE: f64 = 1e-3;

/// Whether a probability, of which this is the logarithm, is the expected one.
#[cfg(test)]
fn close(ln: f64, expected: f64) {
    assert!((ln.exp() - expected).abs() < 1e-12, "{} is not {expected}", ln.exp());
}
