//! The days on which honest dates lie.

/// Days of a year on the average.
pub(crate) const DAYS_OF_YEAR: f64 = 365.25;
/// Days of a month on the average.
pub(crate) const DAYS_OF_MONTH: f64 = DAYS_OF_YEAR / 12.0;
/// Days of the month on which something may happen and on no other: the ends of months are four.
pub(super) const FEW: usize = 4;
