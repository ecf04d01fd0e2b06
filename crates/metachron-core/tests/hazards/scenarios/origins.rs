//! Numbers that count days, from one origin or another, beside dates that show from which.

use super::draw::{Days, Numbers, civil, days, iso, serial};
use super::table::{Cell, Table};

/// Days from 1899-12-30 to 2000-03-01.
const BEFORE_2000: i64 = 36_586;

/// Numbers from an origin so many days after that of most spreadsheets, and dates that lie up to so many days away.
fn counted(numbers: &mut Numbers, after: i64, away: u64) -> Table {
    let size = 20 + numbers.size();
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
    let all = days(numbers, size, way);
    let beside: Vec<_> = all
        .iter()
        .map(|day| civil(serial(*day) - BEFORE_2000 + numbers.below(away + 1) as i64))
        .collect();
    let rows =
        all.iter().map(|day| (Cell::Text((serial(*day) - after).to_string()), Some(iso(*day))));
    let sibling = beside.iter().map(|day| (Cell::Text(iso(*day)), Some(iso(*day))));
    let sibling = Some(Box::new(Table::of(sibling.collect())));
    Table { sibling, ..Table::of(rows.collect()) }
}

/// Numbers that count from 1904.
pub fn from_1904(numbers: &mut Numbers) -> Table {
    let away = numbers.one(&[0, 1, 3, 400]);
    Table { told: false, ..counted(numbers, 1_462, away) }
}

/// Numbers that count from the end of 1899.
pub fn from_1899(numbers: &mut Numbers) -> Table {
    let away = numbers.one(&[0, 1, 3, 400]);
    Table { told: false, ..counted(numbers, 0, away) }
}

/// Numbers that count from 1970.
pub fn from_1970(numbers: &mut Numbers) -> Table {
    let away = numbers.one(&[0, 1, 3, 400]);
    Table { told: false, ..counted(numbers, 25_569, away) }
}
