//! Who wrote which row: hands that write day and month the other way round than all others, and of which not a
//! single value tells.

use super::draw::{Day, Days, Habit, Numbers, civil, days, iso};
use super::table::{Cell, Table};

const STATIONS: [&str; 8] = [
    "Skarholm",
    "Port Meridian",
    "Cabo Sereno",
    "Dar Wadi",
    "Hoshizaki",
    "Laguna Norte",
    "Ostrava Ridge",
    "Kingfisher Cay",
];

/// What sets the rows of a hand apart.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Apart {
    Station,
    Clock,
    Padding,
    File,
    Above,
    Below,
}

pub const APART: [Apart; 6] =
    [Apart::Station, Apart::Clock, Apart::Padding, Apart::File, Apart::Above, Apart::Below];

/// Days of which none goes beyond the twelfth.
fn early(numbers: &mut Numbers, size: usize) -> Vec<Day> {
    let all = days(numbers, size, Days::Any);
    all.into_iter().map(|(year, month, day)| (year, month, (day - 1) % 12 + 1)).collect()
}

/// The rows of two hands, the second of them set apart.
fn rows_of(
    numbers: &mut Numbers,
    apart: Apart,
    (first, own): (Habit, Vec<Day>),
    (second, others): (Habit, Vec<Day>),
) -> Table {
    let padded = apart == Apart::Padding;
    let (first, second) = match padded {
        true => (Habit { padded: false, ..first }, Habit { padded: true, ..second }),
        false => (first, second),
    };
    let stations = 1 + numbers.up_to(7);
    let mut rows: Vec<(bool, String, Day, &'static str)> = Vec::new();
    for day in own {
        rows.push((false, first.write(day), day, STATIONS[1 + numbers.up_to(stations)]));
    }
    for day in others {
        rows.push((true, second.write(day), day, STATIONS[0]));
    }
    match apart {
        Apart::Above => rows.sort_by_key(|(is_other, ..)| !is_other),
        Apart::File | Apart::Below => {}
        _ => {
            for at in (1..rows.len()).rev() {
                rows.swap(at, numbers.up_to(at + 1));
            }
        }
    }
    let size = rows.len();
    let cut = rows.iter().position(|(is_other, ..)| *is_other).unwrap_or(0);
    let clock = |is_other: bool, numbers: &mut Numbers| match (apart, is_other) {
        (Apart::Clock, true) => (" 00:00", "T00:00:00"),
        (Apart::Clock, false) if numbers.half() => (" 00:00:00", "T00:00:00"),
        (Apart::Clock, false) => (" 00:00:00", "T00:00:00"),
        _ => ("", ""),
    };
    let cells = rows.iter().map(|(is_other, text, day, _)| {
        let (shown, truth) = clock(*is_other, numbers);
        (Cell::Text(format!("{text}{shown}")), Some(format!("{}{truth}", iso(*day))))
    });
    let mut table = Table::of(cells.collect());
    let at = |all: &[(bool, String, Day, &'static str)]| {
        all.iter().map(|(.., station)| (*station).to_owned()).collect()
    };
    if apart == Apart::Station {
        let any = (0..size).map(|_| format!("net {}", numbers.below(6))).collect();
        table.beside = vec![("station", at(&rows)), ("net", any)];
    }
    if apart == Apart::File && cut > 0 {
        table.files = vec![cut];
    }
    table
}

/// Days of which none tells in which order they are written, and which have so many months at least of what the other
/// hand would take for months, among those that can be seen: with fewer it may well not tell either.
pub fn foreign(
    numbers: &mut Numbers,
    size: usize,
    least: usize,
    is_seen: impl Fn(Day) -> bool,
) -> Vec<Day> {
    loop {
        let all = early(numbers, size);
        let others = all.iter().filter(|own| own.1 != own.2 && own.1 > 1 && is_seen(**own));
        let mut months: Vec<(i32, u32)> = others.map(|(year, _, day)| (*year, *day)).collect();
        months.sort_unstable();
        months.dedup();
        if months.len() >= least {
            return all;
        }
    }
}

/// A hand that writes the other way round, and no value of it tells.
pub fn untold(numbers: &mut Numbers, apart: Apart) -> Table {
    let first = Habit::regional(numbers);
    let second = first.turned();
    let (size, others) = (120 + numbers.size(), 40 + numbers.up_to(200));
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
    let own = loop {
        let own = days(numbers, size, way);
        // In which order the first hand writes what has a zero or not, or nobody could tell whether the second does.
        let told = own.iter().filter(|(_, month, day)| *month < 10 && *day > 12).count();
        if apart != Apart::Padding || told * 4 > own.len() {
            break own;
        }
    };
    let others = match apart {
        Apart::Above | Apart::Below => foreign(numbers, others, 20, |_| true),
        // What both would write alike is of neither.
        Apart::Padding => foreign(numbers, others, 14, |(_, month, day)| month < 10 || day < 10),
        _ => foreign(numbers, others, 14, |_| true),
    };
    rows_of(numbers, apart, (first, own), (second, others))
}

/// Rows that go on in time below a sorted file, written the other way round: few, and none of them tells.
pub fn rows_that_go_on(numbers: &mut Numbers) -> Table {
    let habit = Habit::regional(numbers);
    let size = 200 + numbers.up_to(600);
    let (from, span) = (5_000 + numbers.below(3_000) as i64, 150 + numbers.below(250));
    let mut all: Vec<i64> = (0..size).map(|_| from + numbers.below(span) as i64).collect();
    all.sort_unstable();
    let mut last = all[size - 1];
    let mut others: Vec<Day> = Vec::new();
    // Several days of at least two months: fewer may be some of every month as well.
    let is_seen = |others: &[Day]| {
        let of_month = |month: u32| others.iter().filter(|own| own.1 == month).count();
        (1..=12).filter(|month| of_month(*month) > 3).count() > 1
    };
    while !is_seen(&others) {
        last += 1 + numbers.below(3) as i64;
        others.extend(Some(civil(last)).filter(|(_, month, day)| *day <= 12 && day != month));
    }
    let own = all.into_iter().map(civil).map(|day| (habit.write(day), day));
    let others = others.into_iter().map(|day| (habit.turned().write(day), day));
    Table::of(own.chain(others).map(|(text, day)| (Cell::Text(text), Some(iso(day)))).collect())
}

/// Rows of a sorted file that go on in time, and have early days for a while.
pub fn rows_of_early_days(numbers: &mut Numbers) -> Table {
    let habit = Habit::regional(numbers);
    let size = 200 + numbers.up_to(600);
    let mut last = 5_000 + numbers.below(3_000) as i64;
    let mut rows = Vec::new();
    while rows.len() < size {
        last += numbers.below(4) as i64;
        let day = civil(last);
        // Later days of many months are missing.
        if day.2 <= 12 || (day.0 * 12 + day.1 as i32) % 3 == 0 {
            rows.push((Cell::Text(habit.write(day)), Some(iso(day))));
        }
    }
    Table::of(rows)
}

/// One habit; what is set apart is a short time, the first of every month, or like all others.
pub fn one_habit(numbers: &mut Numbers, apart: Apart) -> Table {
    let habit = Habit::regional(numbers);
    let size = 40 + numbers.size();
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
    let own = days(numbers, size, way);
    let (year, month) = (2012 + numbers.below(10) as i32, 1 + numbers.below(12) as u32);
    let others: Vec<Day> = match numbers.below(4) {
        0 => (1..=3 + numbers.below(9) as u32).map(|day| (year, month, day)).collect(),
        1 => days(numbers, 40, Days::MonthStarts),
        2 => {
            let few = 1 + numbers.up_to(6);
            early(numbers, few)
        }
        _ => {
            let many = numbers.size();
            days(numbers, many, Days::Any)
        }
    };
    let late = own.iter().filter(|(_, _, day)| *day > 12).count();
    let told = late * 10 > own.len() + others.len() && late >= 3;
    Table { told, ..rows_of(numbers, apart, (habit, own), (habit, others)) }
}
