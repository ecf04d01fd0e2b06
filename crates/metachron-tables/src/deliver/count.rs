//! Times as integers, as columnar formats count them: from 1970-01-01 on, also at the ends of the calendar.

use jiff::civil::{Date, DateTime};
use jiff::tz::Offset;
use metachron_core::typed::TypedValue;

const EPOCH: Date = Date::constant(1970, 1, 1);

/// Days since 1970-01-01.
pub(super) fn days(date: Date) -> i32 {
    // A span of days between any two dates fits.
    EPOCH.until(date).map_or(0, |span| span.get_days())
}

/// Nanoseconds since 1970-01-01 of a clock time or a moment, since midnight of a time of day; none for what has no
/// clock.
pub(super) fn nanos(moment: TypedValue) -> Option<i128> {
    match moment {
        TypedValue::Time(time) => Some(of_clock(EPOCH.to_datetime(time))),
        TypedValue::DateTime(clock) => Some(of_clock(clock)),
        TypedValue::Instant(instant) => Some(of_clock(Offset::UTC.to_datetime(instant))),
        _ => None,
    }
}

fn of_clock(clock: DateTime) -> i128 {
    let time = clock.time();
    let seconds = i64::from(days(clock.date())) * 86_400
        + i64::from(time.hour()) * 3_600
        + i64::from(time.minute()) * 60
        + i64::from(time.second());
    i128::from(seconds) * 1_000_000_000 + i128::from(time.subsec_nanosecond())
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn days_are_counted_to_the_ends_of_the_calendar() {
        for (day, expected) in [
            (date(1970, 1, 1), 0),
            (date(1969, 12, 31), -1),
            (date(2000, 2, 29), 11_016),
            (date(1, 1, 1), -719_162),
            (date(9999, 12, 31), 2_932_896),
            (date(-9999, 1, 1), -4_371_587),
        ] {
            assert_eq!(days(day), expected, "{day}");
        }
    }
}
