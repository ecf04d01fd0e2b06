//! Whether the votes of a column are too many for typing errors.

use super::by_order::date_of;
use super::tails::ln_at_most;
use crate::evidence::{DistinctDates, is_stand_in};
use crate::order::Alternative;

/// Different dates beyond which three votes are needed rather than two.
const FEW_DATES: u64 = 12;
/// Votes of a hundred different dates that typing errors may explain.
const TYPING_ERRORS: u64 = 3;
/// The same as a share.
pub(crate) const ERRORS: f64 = TYPING_ERRORS as f64 / 100.0;
/// A sample of a column with that many shows so many votes with this probability: three standard deviations.
const BY_CHANCE: f64 = 1.35e-3;

/// Whether so many of all are more than typing errors explain.
pub(crate) fn exceed_typing_errors(count: u64, all: u64) -> bool {
    count * 100 > all * TYPING_ERRORS
}

/// Whether the votes for a winner are too many for typing errors: 2, or 3 where there are more than 12 different
/// dates, and more than 3 % of them. What programs write where they have no date has no vote. Of a sample, so many must
/// be that improbable if 3 % of all were.
pub(crate) fn enough(dates: &DistinctDates, winner: Alternative, loser: Alternative) -> bool {
    let stands_in = |written| date_of(written, winner, None).is_some_and(is_stand_in);
    let votes = dates.iter().filter(|(_, fits)| fits.votes(winner, loser));
    let votes = votes.filter(|(written, _)| !stands_in(*written)).count() as u64;
    let all = dates.count(|_| true);
    let least = if all > FEW_DATES { 3 } else { 2 };
    if dates.is_exact() {
        return votes >= least && exceed_typing_errors(votes, all);
    }
    votes >= least && ln_at_most(all - votes, all, 1.0 - ERRORS) < BY_CHANCE.ln()
}
