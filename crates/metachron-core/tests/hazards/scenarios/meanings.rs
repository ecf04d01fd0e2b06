//! Values that mean something else than they seem to: hours of twelve, an order that nobody considers, minutes behind a
//! point.

use super::draw::{Day, Numbers, civil, iso};
use super::table::{Cell, Table};

/// Days of which each has some rows, in their order.
fn watches(numbers: &mut Numbers) -> Vec<Day> {
    let first = 5_000 + numbers.below(3_000) as i64;
    let count = 12 + numbers.up_to(60) as i64;
    (0..count).map(|at| civil(first + at)).collect()
}

/// Clock times from some hour to another, in their order or in none.
fn clocks(numbers: &mut Numbers, hours: std::ops::Range<u64>, in_order: bool) -> Vec<(u32, u32)> {
    let count = 4 + numbers.up_to(10);
    let mut minutes: Vec<u64> = (0..count)
        .map(|_| hours.start * 60 + numbers.below((hours.end - hours.start) * 60))
        .collect();
    if in_order {
        minutes.sort_unstable();
    }
    minutes.into_iter().map(|own| ((own / 60) as u32, (own % 60) as u32)).collect()
}

fn table(
    numbers: &mut Numbers,
    hours: std::ops::Range<u64>,
    in_order: bool,
    shown: fn(u32) -> u32,
) -> Table {
    let mut rows = Vec::new();
    for day in watches(numbers) {
        for (hour, minute) in clocks(numbers, hours.clone(), in_order) {
            let text = format!("{} {}:{minute:02}", iso(day), shown(hour));
            rows.push((Cell::Text(text), Some(format!("{}T{hour:02}:{minute:02}:00", iso(day)))));
        }
    }
    Table::of(rows)
}

/// Twelve-hour clocks without a marker, from the early morning until late.
pub fn twelve_hours(numbers: &mut Numbers) -> Table {
    let in_order = numbers.half();
    table(numbers, 6..21, in_order, |hour| (hour + 11) % 12 + 1)
}

/// The same of nets that are looked at every two hours, and never at noon.
pub fn hours_without_noon(numbers: &mut Numbers) -> Table {
    let (first, minute) = (numbers.one(&[7, 9]), numbers.below(60));
    let mut rows = Vec::new();
    for day in watches(numbers) {
        for hour in (first..=17 + first % 4).step_by(2) {
            let text = format!("{} {}:{minute:02}", iso(day), (hour + 11) % 12 + 1);
            rows.push((Cell::Text(text), Some(format!("{}T{hour:02}:{minute:02}:00", iso(day)))));
        }
    }
    Table::of(rows)
}

/// Hours of a day, among them those of watches that begin after midnight and end at noon.
pub fn hours_of_a_day(numbers: &mut Numbers) -> Table {
    let in_order = numbers.half();
    let hours = match in_order {
        true => numbers.one(&[(6, 21), (1, 13), (0, 24), (3, 12), (8, 17)]),
        // What is in no order must show hours that a clock of twelve has not, or lack those around noon.
        false => numbers.one(&[(6, 21), (0, 24), (3, 12), (5, 12), (8, 17)]),
    };
    table(numbers, hours.0..hours.1, in_order, |hour| hour)
}

/// Twelve digits, their date in one of three orders, with whatever stands behind it.
fn twelve_digits(
    numbers: &mut Numbers,
    count: usize,
    first: i64,
    days: u64,
    is_short: bool,
) -> Table {
    let order = numbers.below(3);
    let rows = (0..count).map(|_| {
        let day = civil(first + numbers.below(days) as i64);
        let (year, month, number) = day;
        let (hour, minute) = (numbers.below(24), numbers.below(60));
        let second = if is_short { numbers.below(60) } else { 0 };
        let year = if is_short { format!("{:02}", year % 100) } else { format!("{year}") };
        let date = match order {
            0 => format!("{number:02}{month:02}{year}"),
            1 => format!("{month:02}{number:02}{year}"),
            _ => format!("{year}{month:02}{number:02}"),
        };
        let seconds = if is_short { format!("{second:02}") } else { String::new() };
        let text = format!("{date}{hour:02}{minute:02}{seconds}");
        (Cell::Text(text), Some(format!("{}T{hour:02}:{minute:02}:{second:02}", iso(day))))
    });
    Table::of(rows.collect())
}

/// Twelve digits with years of two digits and seconds: of 2019 to 2022, where they look most like full years.
pub fn seconds_at_the_end(numbers: &mut Numbers) -> Table {
    let most = numbers.one(&[1, 4, 8, 40, 400]);
    let count = 1 + numbers.up_to(most);
    let (first, days) = (6_880 + numbers.below(1_000) as i64, numbers.one(&[1, 30, 365]));
    twelve_digits(numbers, count, first, days, true)
}

/// Twelve digits with full years and no seconds.
pub fn minutes_at_the_end(numbers: &mut Numbers) -> Table {
    let (count, first) = (40 + numbers.up_to(600), numbers.below(8_000) as i64);
    twelve_digits(numbers, count, first, 400, false)
}

fn day_of_2023(numbers: &mut Numbers) -> Day {
    civil(8_341 + numbers.below(365) as i64)
}

/// Year, day, month in a part of the rows: one in ten or more.
pub fn year_day_month(numbers: &mut Numbers) -> Table {
    let (count, share) = (40 + numbers.up_to(600), 15 + numbers.below(85));
    let rows = (0..count).map(|_| {
        let day = day_of_2023(numbers);
        let (year, month, number) = day;
        let text = match numbers.percent(share) {
            true => format!("{year}-{number:02}-{month:02}"),
            false => iso(day),
        };
        (Cell::Text(text), Some(iso(day)))
    });
    Table::of(rows.collect())
}

/// Year, month, day with a few typing errors.
pub fn year_month_day(numbers: &mut Numbers) -> Table {
    let (count, errors) = (40 + numbers.up_to(600), numbers.below(3));
    let rows = (0..count).map(|at| {
        let (year, month, number) = day_of_2023(numbers);
        let is_error = (at as u64) < errors;
        let month = if is_error { month + 12 } else { month };
        let truth = (!is_error).then(|| iso((year, month, number)));
        (Cell::Text(format!("{year}-{month:02}-{number:02}")), truth)
    });
    Table::of(rows.collect())
}

fn worked(numbers: &mut Numbers, fraction: impl Fn(&mut Numbers) -> (u64, u64)) -> Table {
    let rows = (0..30 + numbers.up_to(300)).map(|_| {
        let hours = 4 + numbers.below(6);
        let (shown, minutes) = fraction(numbers);
        let truth =
            if minutes == 0 { format!("PT{hours}H") } else { format!("PT{hours}H{minutes}M") };
        (Cell::Text(format!("{hours}.{shown:02} h")), Some(truth))
    });
    Table::of(rows.collect())
}

/// `7.45 h` for a quarter to eight hours.
pub fn minutes_behind_a_point(numbers: &mut Numbers) -> Table {
    let step = numbers.one(&[1, 5, 15]);
    worked(numbers, move |numbers| {
        let minutes = numbers.below(60 / step) * step;
        (minutes, minutes)
    })
}

/// Decimal fractions of hours: hundredths that are whole minutes, quarters, halves.
pub fn decimal_hours(numbers: &mut Numbers) -> Table {
    let step = numbers.one(&[5, 25, 50]);
    worked(numbers, move |numbers| {
        let hundredths = numbers.below(100 / step) * step;
        (hundredths, hundredths * 60 / 100)
    })
}

/// Minutes as clocks show hours and minutes, with a zero before the hours or without.
fn like_a_clock(numbers: &mut Numbers, minutes: u64) -> String {
    match numbers.half() {
        true => format!("{:02}:{:02}", minutes / 60, minutes % 60),
        false => format!("{}:{:02}", minutes / 60, minutes % 60),
    }
}

/// Lengths of watches, written as a clock shows hours and minutes: most are short.
pub fn lengths_like_clocks(numbers: &mut Numbers) -> Table {
    let longest = numbers.one(&[120, 240, 480, 660]);
    let rows = (0..60 + numbers.up_to(300)).map(|_| {
        let minutes = 5 + numbers.below(longest - 5);
        let truth = match (minutes / 60, minutes % 60) {
            (0, minutes) => format!("PT{minutes}M"),
            (hours, 0) => format!("PT{hours}H"),
            (hours, minutes) => format!("PT{hours}H{minutes}M"),
        };
        (Cell::Text(like_a_clock(numbers, minutes)), Some(truth))
    });
    Table::of(rows.collect())
}

/// Times of day at which somebody is awake: in the morning, at night, by day.
pub fn times_of_watches(numbers: &mut Numbers) -> Table {
    let (first, hours) = numbers.one(&[(4, 6), (20, 10), (7, 12)]);
    let rows = (0..60 + numbers.up_to(300)).map(|_| {
        let minutes = (first * 60 + numbers.below(hours * 60)) % 1_440;
        let truth = format!("{:02}:{:02}:00", minutes / 60, minutes % 60);
        (Cell::Text(like_a_clock(numbers, minutes)), Some(truth))
    });
    Table::of(rows.collect())
}
