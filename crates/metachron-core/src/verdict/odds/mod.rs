//! How improbable something is that looks like evidence: plain functions, each with its source.

mod signature;
mod by_order;
mod tails;
mod permutation;
mod votes;

pub(super) use by_order::{OPEN, best_two, date_of};
pub(super) use permutation::{ln_clean_groups, ln_few_runs};
pub(super) use signature::DayAndYear;
pub(super) use tails::{ln_at_most, share_range};
pub(super) use votes::enough;
