//! From a clock time to a moment: what a value says of its zone, and what is said for it.

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::Offset;
use strum::{IntoStaticStr, VariantArray};

use super::{RowPlace, Split, Unfit};
use crate::zone::{Abbreviation, Clock, Placed, Zones};

/// What a value itself says of where its clock stood.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Stated {
    /// Nothing, or that it is no clock time.
    #[default]
    Nothing,
    /// Universal time, which says nothing of the clocks there.
    Universal,
    /// An offset from UTC.
    Offset(Offset),
    /// A zone, or what somebody has said of it.
    Clock(Clock),
    /// An abbreviation, and what the clock showed: what it means may depend on the zone.
    Abbreviation(Abbreviation, DateTime),
}

/// What becomes of a clock time over which the clocks were put forward.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum SkippedClock {
    /// It is refused.
    #[default]
    Reject,
    /// It has the offset that held before.
    Before,
    /// It has the offset that held after.
    After,
}

/// What becomes of a clock time that came twice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum RepeatedClock {
    /// It is refused.
    #[default]
    Reject,
    /// It is the first.
    First,
    /// It is the second.
    Second,
    /// The rows around it show which, or it is refused.
    BySequence,
}

/// How clock times are read where the clocks were changed, and what an offset counts for that its zone
/// never had.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Changes {
    /// Clock times that never were.
    pub skipped: SkippedClock,
    /// Clock times that came twice.
    pub repeated: RepeatedClock,
    /// Whether an offset is right, whatever the zone says.
    pub offset_wins: bool,
}

/// What was decided about a clock time that its clocks never showed, or showed twice.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Moved {
    /// It never was; it has the offset of one side of the change.
    Skipped,
    /// It came twice; it is one of them.
    Repeated,
}

impl Stated {
    /// Where the clock stood, if anything says it.
    pub fn clock(self) -> Option<Clock> {
        match self {
            Stated::Clock(clock) => Some(clock),
            Stated::Offset(offset) => Some(Clock::Fixed(offset)),
            Stated::Universal => Some(Clock::UTC),
            Stated::Abbreviation(..) | Stated::Nothing => None,
        }
    }
}

impl Changes {
    /// The moment at which a clock showed a time.
    ///
    /// ```
    /// use metachron_core::reading::{Changes, Unfit};
    /// use metachron_core::zone::{Clock, Zones};
    /// let oslo = Clock::named("Europe/Oslo", Zones::bundled()).unwrap();
    /// let placed = |hour| Changes::default().place(jiff::civil::date(2024, 3, 31).at(hour, 30, 0, 0), oslo);
    /// assert_eq!(placed(1).unwrap().0.to_string(), "2024-03-31T00:30:00Z");
    /// assert!(matches!(placed(2), Err(Unfit::SkippedClock { .. }))); // the clocks were put forward
    /// ```
    ///
    /// # Errors
    /// If it never did, or twice, and nothing says what to do.
    pub fn place(self, clock: DateTime, at: Clock) -> Result<(Timestamp, Option<Moved>), Unfit> {
        self.place_in_row(clock, at, || None)
    }

    /// The same in a row of a table whose sequence may show of which of two times it is.
    ///
    /// # Errors
    /// As for [`Changes::place`].
    pub fn place_in_row(
        self,
        clock: DateTime,
        at: Clock,
        is_second: impl FnOnce() -> Option<bool>,
    ) -> Result<(Timestamp, Option<Moved>), Unfit> {
        match (at.place(clock), at) {
            (Placed::Once(moment), _) => Ok((moment, None)),
            (Placed::Skipped(before, after), Clock::Zone(zone)) => match self.skipped {
                SkippedClock::Reject => Err(Unfit::SkippedClock { zone, clock }),
                SkippedClock::Before => Ok((before, Some(Moved::Skipped))),
                SkippedClock::After => Ok((after, Some(Moved::Skipped))),
            },
            (Placed::Twice(first, second), Clock::Zone(zone)) => {
                let late = match self.repeated {
                    RepeatedClock::Reject => None,
                    RepeatedClock::First => Some(false),
                    RepeatedClock::Second => Some(true),
                    RepeatedClock::BySequence => is_second(),
                };
                let late = late.ok_or(Unfit::RepeatedClock { zone, clock })?;
                Ok((if late { second } else { first }, Some(Moved::Repeated)))
            }
            // An offset that never changes skips and repeats nothing.
            (Placed::OutOfRange | Placed::Skipped(..) | Placed::Twice(..), _) => {
                Err(Unfit::OutOfRange)
            }
        }
    }
}

/// Where the clocks of a column stood.
///
/// ```
/// use metachron_core::reading::{RowPlace, Zoning};
/// use metachron_core::zone::{Clock, Zones};
/// let zones = Zones::bundled();
/// let mapped = vec![("Skarholm".to_owned(), Clock::named("Europe/Oslo", zones).unwrap())];
/// let zoning = Zoning::Column { name: "station".into(), mapped };
/// let at = |zone| zoning.clock(RowPlace { zone, ..RowPlace::from(1) }, zones).map(|c| c.to_string());
/// assert_eq!(at("Skarholm").unwrap(), "Europe/Oslo");
/// assert_eq!(at("Asia/Tokyo").unwrap(), "Asia/Tokyo");
/// assert!(at("Hoshizaki").is_err());
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Zoning {
    /// All in one place.
    All(Clock),
    /// Some rows here, some there.
    Parts(Split<Clock>),
    /// Another column names the zone of each row.
    Column {
        /// Its name.
        name: String,
        /// What its values mean that are no zones.
        mapped: Vec<(String, Clock)>,
    },
}

impl Zoning {
    /// The column that says it row by row, if one does.
    pub fn column(&self) -> Option<&str> {
        match self {
            Zoning::All(_) => None,
            Zoning::Parts(split) => split.column(),
            Zoning::Column { name, .. } => Some(name),
        }
    }

    /// Where the clock of a row stood.
    ///
    /// # Errors
    /// If nothing says it.
    pub fn clock(&self, place: RowPlace<'_>, zones: Zones) -> Result<Clock, Unfit> {
        match self {
            Zoning::All(clock) => Ok(*clock),
            Zoning::Parts(split) => {
                let place = RowPlace { beside: place.zone, ..place };
                split.of(place).copied().ok_or(Unfit::NoZone)
            }
            Zoning::Column { mapped, .. } => {
                let name = place.zone.trim();
                let own = mapped.iter().find(|(text, _)| text == name).map(|(_, clock)| *clock);
                match own.or_else(|| Clock::named(name, zones)) {
                    Some(clock) => Ok(clock),
                    None if name.is_empty() => Err(Unfit::NoZone),
                    None => Err(Unfit::NoSuchZone),
                }
            }
        }
    }
}
