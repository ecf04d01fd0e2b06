//! Where the clocks stood.

use crate::evidence::Back;
use crate::reading::Zoning;
use crate::zone::{Abbreviation, Zone};

/// Where the clocks stood.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum ZoneFinding {
    /// An abbreviation of a zone has several meanings.
    UnclearAbbreviation {
        /// The abbreviation.
        name: Abbreviation,
        /// Rows in which it has.
        rows: u64,
    },
    /// An abbreviation of one season stands beside dates of the other.
    OutOfSeason {
        /// The abbreviation.
        name: Abbreviation,
        /// A place where it is used in its season only.
        place: &'static str,
        /// How many.
        rows: u64,
        /// All rows that have it.
        of: u64,
    },
    /// Offsets change as the clocks of these zones do.
    SeasonalOffsets {
        /// The offsets, in seconds.
        offsets: Vec<i32>,
        /// The zones.
        zones: Vec<Zone>,
    },
    /// The clock goes back where the clocks of these zones were put back.
    PutBack {
        /// The first row that goes back.
        back: Back,
        /// How many do.
        rows: u64,
        /// The zones.
        zones: Vec<Zone>,
    },
    /// Clock times were read where somebody has said that the clocks stood.
    PlacedBy(Zoning),
}
