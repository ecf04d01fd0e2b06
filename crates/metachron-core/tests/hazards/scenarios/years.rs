//! Years of two digits, and what programs write where they have no date.

use super::draw::{Day, Days, Habit, Numbers, civil, days, iso, last_day};
use super::table::{Cell, Table};

/// Two digits each.
fn short(order: &str, (year, month, day): Day) -> String {
    let year = year % 100;
    match order {
        "dmy" => format!("{day:02}.{month:02}.{year:02}"),
        "mdy" => format!("{month:02}.{day:02}.{year:02}"),
        _ => format!("{year:02}.{month:02}.{day:02}"),
    }
}

/// What such a text says by an order, with years from 1969 to 2068.
fn read(order: &str, text: &str) -> Option<String> {
    let mut parts = text.split('.').filter_map(|part| part.parse::<u32>().ok());
    let parts = [parts.next()?, parts.next()?, parts.next()?];
    let [day, month, year] = match order {
        "dmy" => parts,
        "mdy" => [parts[1], parts[0], parts[2]],
        _ => [parts[2], parts[1], parts[0]],
    };
    let year = if year < 69 { 2000 + year } else { 1900 + year } as i32;
    let exists = (1..=12).contains(&month) && (1..=last_day(year, month)).contains(&day);
    exists.then(|| iso((year, month, day)))
}

fn some_days(numbers: &mut Numbers, size: usize, span: u64) -> Vec<Day> {
    let first = 5_300 + numbers.below(2_000) as i64;
    let mut all: Vec<i64> = (0..size).map(|_| first + numbers.below(span) as i64).collect();
    if numbers.half() {
        all.sort_unstable();
    }
    all.into_iter().map(civil).collect()
}

/// Thousands of dates with a few typing errors, each of which is what it says, if it says anything.
pub fn typing_errors(numbers: &mut Numbers) -> Table {
    let order = numbers.one(&["dmy", "mdy", "ymd"]);
    let (size, span) = (1_000 + numbers.up_to(4_000), 400 + numbers.below(2_000));
    let errors = 1 + numbers.below(3);
    let rows = some_days(numbers, size, span).into_iter().map(|day| {
        let mut text = short(order, day);
        if numbers.percent(errors) {
            let at = numbers.one(&[0, 1, 3, 4, 6, 7]);
            text.replace_range(at..=at, &numbers.below(10).to_string());
        }
        let truth = read(order, &text);
        (Cell::Text(text), truth)
    });
    // They may well be asked about, but never be read by another order.
    Table { told: false, ..Table::of(rows.collect()) }
}

/// Thousands of dates of few years, and a few dozen with the year at the other end.
pub fn year_at_the_other_end(numbers: &mut Numbers) -> Table {
    let [order, other] = numbers.one(&[["dmy", "ymd"], ["ymd", "dmy"]]);
    let (size, span) = (1_000 + numbers.up_to(4_000), 400 + numbers.below(700));
    let share = 2 + numbers.below(8);
    let rows = some_days(numbers, size, span).into_iter().map(|day| {
        let own = if numbers.percent(share) { other } else { order };
        (Cell::Text(short(own, day)), Some(iso(day)))
    });
    Table::of(rows.collect())
}

/// Dates of birth from 1930 on.
pub fn births(numbers: &mut Numbers) -> Table {
    let order = numbers.one(&["dmy", "mdy"]);
    let size = 40 + numbers.up_to(600);
    let rows = (0..size).map(|_| {
        let day = civil(-25_500 + numbers.below(30_000) as i64);
        (Cell::Text(short(order, day)), Some(iso(day)))
    });
    Table::of(rows.collect())
}

/// Dates of recent years.
pub fn recent(numbers: &mut Numbers) -> Table {
    let order = numbers.one(&["dmy", "mdy"]);
    let (size, span) = (600 + numbers.up_to(600), 1_000 + numbers.below(1_000));
    let rows = some_days(numbers, size, span);
    let rows = rows.into_iter().map(|day| (Cell::Text(short(order, day)), Some(iso(day))));
    Table::of(rows.collect())
}

/// Every day of some years, each of them in several rows, in their order.
pub fn every_day(numbers: &mut Numbers) -> Table {
    let order = numbers.one(&["dmy", "mdy"]);
    let (first, count) = (3_500 + numbers.below(2_000) as i64, 800 + numbers.below(3_000) as i64);
    let each = numbers.one(&[1, 2, 5, 8]);
    let rows = (0..count * each).map(|row| civil(first + row / each));
    let rows = rows.map(|day| (Cell::Text(short(order, day)), Some(iso(day))));
    Table::of(rows.collect())
}

/// What a program writes where it has no date.
const STAND_INS: [Day; 3] = [(2099, 12, 31), (9999, 12, 31), (2999, 12, 31)];

/// Days up to the twelfth alone, and a program that writes its stand-ins in the order that the dates have not.
pub fn stand_ins_alone_tell(numbers: &mut Numbers) -> Table {
    let habit = Habit::regional(numbers);
    let (size, stand_in) = (5 + numbers.up_to(200), numbers.one(&STAND_INS));
    let rows = days(numbers, size, Days::Any).into_iter().map(|(year, month, day)| {
        match numbers.percent(20) {
            true => (Cell::Text(habit.turned().write(stand_in)), Some(iso(stand_in))),
            false => {
                let day = (year, month, (day - 1) % 12 + 1);
                (Cell::Text(habit.write(day)), Some(iso(day)))
            }
        }
    });
    Table::of(rows.collect())
}

/// Dates that tell their order, and stand-ins among them.
pub fn stand_ins_beside(numbers: &mut Numbers) -> Table {
    let habit = Habit::regional(numbers);
    let (size, stand_in) = (60 + numbers.up_to(600), numbers.one(&STAND_INS));
    let rows = days(numbers, size, Days::Any).into_iter().map(|day| {
        let day = if numbers.percent(20) { stand_in } else { day };
        (Cell::Text(habit.write(day)), Some(iso(day)))
    });
    Table::of(rows.collect())
}
