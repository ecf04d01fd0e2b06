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
pub(super) use sides::{DaysOfMonth, LN_CERTAIN, LN_LEAN, LN_SIDE, ln_in_time, ln_short_run};
pub(super) use signature::{DayAndYear, places};
pub(super) use tails::{ln_at_most, share_range};
pub(super) use votes::enough;
