//! What steps refer to beyond their row: today, now, and how texts are read.

use jiff::Timestamp;
use jiff::civil::Date;

use crate::reading::Terms;
use crate::text::Missing;

/// What steps are to be understood by.
#[derive(Debug, Clone)]
pub struct Setting {
    /// Zones, the language of names, two-digit years.
    pub terms: Terms,
    /// Whether somebody said in which hundred years two-digit years lie.
    pub century_is_said: bool,
    /// The texts that stand for nothing.
    pub missing: Missing,
    /// The day that counts as today.
    pub today: Date,
    /// The moment that counts as now.
    pub now: Timestamp,
}

impl Setting {
    /// The usual, on that day.
    pub fn new(today: Date) -> Setting {
        let now = jiff::tz::Offset::UTC.to_timestamp(today.at(0, 0, 0, 0));
        let now = now.unwrap_or(Timestamp::UNIX_EPOCH);
        Setting {
            terms: Terms::default(),
            century_is_said: false,
            missing: Missing::usual(),
            today,
            now,
        }
    }
}
