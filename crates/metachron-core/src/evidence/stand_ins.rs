//! Days that programs write where they have none.

use jiff::civil::{Date, date};

/// Whether a day is one that programs write where they have none: day zero of a clock, of a spreadsheet or of a
/// database, or the end of a century or of an age to come.
///
/// ```
/// use metachron_core::evidence::is_stand_in;
/// assert!(is_stand_in(jiff::civil::date(9999, 12, 31)));
/// assert!(!is_stand_in(jiff::civil::date(2024, 12, 31)));
/// ```
pub fn is_stand_in(day: Date) -> bool {
    const DAYS: [Date; 11] = [
        date(1, 1, 1),
        date(1753, 1, 1),
        date(1899, 12, 30),
        date(1899, 12, 31),
        date(1900, 1, 1),
        date(1904, 1, 1),
        date(1970, 1, 1),
        date(2099, 12, 31),
        date(2199, 12, 31),
        date(2999, 12, 31),
        date(9999, 12, 31),
    ];
    DAYS.contains(&day)
}
