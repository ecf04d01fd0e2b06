//! Numbers that count from an origin, against arithmetic of its own.
#![allow(clippy::unwrap_used, clippy::panic)]

use jiff::civil::{Date, DateTime, date};
use metachron_core::epoch::{Epoch, NotCounted, Number};
use metachron_core::typed::{Kind, TypedValue};
use proptest::prelude::*;

fn epoch(name: &str) -> Epoch {
    name.parse().unwrap()
}

fn read(name: &str, number: &str) -> Result<String, NotCounted> {
    epoch(name).read(Number::parse(number).unwrap()).map(|moment| moment.to_string())
}

/// The Julian day number of a Gregorian date (Fliegel and Van Flandern, Communications of the ACM 11,
/// 1968, 657), which counts from noon.
fn julian_day(year: i64, month: i64, day: i64) -> i64 {
    let a = (month - 14) / 12;
    (1461 * (year + 4800 + a)) / 4 + (367 * (month - 2 - 12 * a)) / 12
        - (3 * ((year + 4900 + a) / 100)) / 4
        + day
        - 32_075
}

/// Days from 1970-01-01.
fn unix_day(year: i64, month: i64, day: i64) -> i64 {
    julian_day(year, month, day) - julian_day(1970, 1, 1)
}

#[test]
fn every_epoch_reads_what_others_say_that_it_is() {
    for (name, number, expected) in [
        ("sheet-1900", "1", "1900-01-01"),
        ("sheet-1900", "59", "1900-02-28"),
        ("sheet-1900", "61", "1900-03-01"),
        ("sheet-1900", "45210", "2023-10-11"),
        ("sheet-1900", "45210.8125", "2023-10-11T19:30:00"),
        ("sheet-1900", "45210,8125", "2023-10-11T19:30:00"),
        ("sheet-1900", "45210.8127", "2023-10-11T19:30:17"),
        ("sheet-1900", "45210.333333333336", "2023-10-11T08:00:00"),
        ("sheet-1900", "0.25", "1899-12-31T06:00:00"),
        ("sheet-1900", "2958465", "9999-12-31"),
        ("sheet-1900", "4.521E4", "2023-10-11"),
        ("sheet-1904", "1", "1904-01-02"),
        ("sheet-1904", "43748", "2023-10-11"),
        ("sheet-1904", "-1", "1903-12-31"),
        ("day-zero-1899", "60", "1900-02-28"),
        ("day-zero-1899", "-1.5", "1899-12-28T12:00:00"),
        ("unix-seconds", "1700000000", "2023-11-14T22:13:20Z"),
        ("unix-seconds", "-0.5", "1969-12-31T23:59:59.5Z"),
        ("unix-milliseconds", "1700000000123", "2023-11-14T22:13:20.123Z"),
        ("unix-microseconds", "1700000000123456", "2023-11-14T22:13:20.123456Z"),
        ("unix-nanoseconds", "1700000000123456789", "2023-11-14T22:13:20.123456789Z"),
        ("seconds-1582", "12219379200", "1970-01-01T00:00:00"),
        ("days-1960", "3653", "1970-01-01"),
        ("seconds-1960", "315619200", "1970-01-01T00:00:00"),
        ("hundred-nanoseconds-0001", "621355968000000001", "1970-01-01T00:00:00.0000001"),
        ("hundred-nanoseconds-1601", "116444736000000000", "1970-01-01T00:00:00Z"),
        ("day-one-0001", "1", "0001-01-01"),
        ("day-one-0001", "719163", "1970-01-01"),
        ("day-one-0000", "1", "0000-01-01"),
        ("day-one-0000", "719529", "1970-01-01"),
        ("julian-day", "2451545", "2000-01-01T12:00:00"),
        ("julian-day", "0", "-004713-11-24T12:00:00"),
        ("julian-day", "2460232.5", "2023-10-15T00:00:00"),
        ("modified-julian-day", "51544", "2000-01-01"),
        ("seconds-2001", "0.0", "2001-01-01T00:00:00Z"),
        ("yyyymmdd", "20231011", "2023-10-11"),
        ("yyyyddd", "2024366", "2024-12-31"),
        ("century-yymmdd", "1231011", "2023-10-11"),
        ("century-yymmdd", "991231", "1999-12-31"),
        ("1582-10-14/seconds", "12219379200", "1970-01-01T00:00:00"),
        ("-4713-11-24T12:00/days", "2451545", "2000-01-01T12:00:00"),
        ("2000-01-01T00:00:00Z/minutes", "90", "2000-01-01T01:30:00Z"),
        ("1858-11-17/days", "51544.25", "2000-01-01T06:00:00"),
    ] {
        assert_eq!(read(name, number).as_deref(), Ok(expected), "{name} {number}");
    }
}

#[test]
fn what_is_no_date_says_why() {
    for (name, number, why) in [
        ("sheet-1900", "60", NotCounted::Phantom),
        ("sheet-1900", "60.75", NotCounted::Phantom),
        ("sheet-1900", "-1", NotCounted::BeforeOrigin),
        ("sheet-1900", "2958466", NotCounted::OutOfRange),
        ("unix-seconds", "1e30", NotCounted::OutOfRange),
        ("julian-day", "99999999999999999999", NotCounted::OutOfRange),
        ("yyyymmdd", "20230229", NotCounted::NoSuchDay),
        ("yyyymmdd", "20231011.5", NotCounted::NoSuchDay),
        ("yyyyddd", "2023366", NotCounted::NoSuchDay),
        ("yyyyddd", "2023000", NotCounted::NoSuchDay),
        ("century-yymmdd", "1231311", NotCounted::NoSuchDay),
    ] {
        assert_eq!(read(name, number), Err(why), "{name} {number}");
    }
    for text in ["", "-", ".", "NaN", "inf", "1e999", "12a", "1 000", "1.2.3", "--1", "0x10"] {
        assert!(Number::parse(text).is_none(), "{text}");
    }
    for text in ["sheet-1990", "1582-10-14", "1582-10-14/fortnights", "1582-13-14/days", ""] {
        assert!(text.parse::<Epoch>().is_err(), "{text}");
    }
    assert_eq!("sheet-1990".parse::<Epoch>().unwrap_err().near, Some("sheet-1900"));
}

/// Every day that a spreadsheet has, by the arithmetic above.
#[test]
fn both_spreadsheet_systems_are_exact_to_the_day() {
    for serial in 1..=2_958_465_i64 {
        if serial % 97 != 0 && serial > 500 {
            continue;
        }
        let Ok(moment) = epoch("sheet-1900").read(Number::parse(&serial.to_string()).unwrap())
        else {
            assert_eq!(serial, 60);
            continue;
        };
        let read = moment.date().unwrap();
        let day = unix_day(read.year().into(), read.month().into(), read.day().into());
        let origin = unix_day(1899, 12, if serial < 60 { 31 } else { 30 });
        assert_eq!(day - origin, serial);
    }
}

const ALL: [&str; 20] = [
    "sheet-1900",
    "sheet-1904",
    "day-zero-1899",
    "unix-seconds",
    "unix-milliseconds",
    "unix-microseconds",
    "unix-nanoseconds",
    "seconds-1582",
    "days-1960",
    "seconds-1960",
    "hundred-nanoseconds-0001",
    "hundred-nanoseconds-1601",
    "day-one-0001",
    "day-one-0000",
    "julian-day",
    "modified-julian-day",
    "seconds-2001",
    "yyyymmdd",
    "yyyyddd",
    "century-yymmdd",
];

#[test]
fn every_name_is_listed_once() {
    assert_eq!(Epoch::all().map(|epoch| epoch.name().unwrap()).collect::<Vec<_>>(), ALL);
    for name in ALL {
        assert_eq!(epoch(name).to_string(), name);
    }
    for text in
        ["1582-10-14/seconds", "-004713-11-24T12:00:00/days", "2000-01-01T00:00:00Z/milliseconds"]
    {
        assert_eq!(epoch(text).to_string(), text);
    }
}

fn any_clock() -> impl Strategy<Value = DateTime> {
    (-9_999..=9_999_i16, 1..=366_i64, 0..86_400_i64).prop_map(|(year, day, second)| {
        let first = date(year, 1, 1).at(0, 0, 0, 0);
        let span = jiff::Span::new().days((day - 1).min(364)).seconds(second);
        first.checked_add(span).unwrap()
    })
}

proptest! {
    /// Whatever an epoch can count, it reads again as it was.
    #[test]
    fn what_is_counted_is_read_again(clock in any_clock(), nanos in 0..1_000_000_000_i32, name in 0..ALL.len()) {
        let epoch = epoch(ALL[name]);
        let moments = match epoch.kind(true) {
            Kind::Instant => {
                // A second before the end of the range, so that its nanoseconds are within.
                let clock = clock.date().min(date(9_999, 12, 29)).max(date(-9_999, 1, 3)).to_datetime(clock.time());
                let instant = jiff::tz::Offset::UTC.to_timestamp(clock).unwrap();
                let fine = match ALL[name] {
                    "unix-nanoseconds" => instant.checked_add(jiff::SignedDuration::new(0, nanos)).unwrap(),
                    _ => instant,
                };
                vec![TypedValue::Instant(fine)]
            }
            Kind::DateTime if epoch.kind(false) == Kind::DateTime => vec![TypedValue::DateTime(clock)],
            _ => vec![TypedValue::Date(clock.date()), TypedValue::DateTime(clock)],
        };
        for moment in moments {
            let Some(number) = epoch.count(moment) else { continue };
            let again = Number::parse(&number.to_string());
            prop_assert_eq!(again, Some(number));
            let read = epoch.read(number);
            // Midnight is a day where days are counted.
            let expected = match moment {
                TypedValue::DateTime(clock)
                    if number.is_whole() && epoch.kind(false) == Kind::Date =>
                {
                    TypedValue::Date(clock.date())
                }
                moment => moment,
            };
            prop_assert_eq!(read, Ok(expected), "{} of {}", number, moment);
        }
    }

    /// Day numbers are what the Julian day number says.
    #[test]
    fn day_numbers_agree_with_julian_days(year in 0..=9_999_i64, month in 1..=12_i64, day in 1..=28_i64) {
        let date = TypedValue::Date(Date::new(year as i16, month as i8, day as i8).unwrap());
        let jdn = julian_day(year, month, day);
        for (name, at_1970) in [("day-one-0001", 719_163), ("day-one-0000", 719_529),
            ("modified-julian-day", 40_587), ("days-1960", 3_653), ("sheet-1904", 24_107)] {
            let number = epoch(name).count(date).unwrap().to_string();
            prop_assert_eq!(number, (jdn - julian_day(1970, 1, 1) + at_1970).to_string(), "{}", name);
        }
    }
}

#[test]
fn fractions_that_are_clock_times_are_told_from_amounts() {
    let is_clock = |text: &str| Number::parse(text).unwrap().is_clock();
    for minute in 1..1_440_u64 {
        let cut = format!("45210.{:09}", minute * 1_000_000_000 / 1_440);
        // What ends early says too little; nothing says no.
        assert_ne!(is_clock(&cut), Some(false), "{cut}");
    }
    assert_eq!(is_clock("45210.333333333336"), Some(true));
    assert_eq!(is_clock("45210.25"), None);
    let amounts = (1..1_000_u64).map(|n| format!("45210.{:09}", n * 982_451_653 % 1_000_000_000));
    let clocks = amounts.filter(|text| is_clock(text) == Some(true)).count();
    assert!(clocks < 10, "{clocks}");
}
