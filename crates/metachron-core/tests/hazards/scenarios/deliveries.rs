//! The next delivery: what comes after a file whose reading was saved, as it was or otherwise.

use super::draw::{Day, Days, Habit, Numbers, days, iso};
use super::imports::months_taken;
use super::table::{Cell, Table};
use super::writers::foreign;

/// What is otherwise than before.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Change {
    /// All rows are written in the other order.
    Turned,
    /// Some rows are, anywhere among the others.
    SomeTurned,
    /// Rows below the others are, and none of them tells.
    BlockBelow,
    /// An import exchanged day and month where it could, and shows the rest in the order of the source.
    HalfSwapped,
    /// An import took months for days of its own year.
    MonthsForDays,
}

pub const CHANGES: [Change; 5] = [
    Change::Turned,
    Change::SomeTurned,
    Change::BlockBelow,
    Change::HalfSwapped,
    Change::MonthsForDays,
];

/// So many days that tell how they are written.
fn telling(numbers: &mut Numbers, size: usize) -> Vec<Day> {
    loop {
        let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
        let all = days(numbers, size, way);
        if all.iter().filter(|(_, _, day)| *day > 12).count() * 4 >= all.len() {
            return all;
        }
    }
}

fn written(days: &[Day], habit: Habit) -> Vec<(Cell, Option<String>)> {
    days.iter().map(|day| (Cell::Text(habit.write(*day)), Some(iso(*day)))).collect()
}

/// A file of which the order is known beyond doubt.
fn before(numbers: &mut Numbers, habit: Habit) -> Option<Box<Table>> {
    let size = 40 + numbers.up_to(400);
    let all = telling(numbers, size);
    Some(Box::new(Table::of(written(&all, habit))))
}

/// A delivery in which something has changed.
pub fn changed(numbers: &mut Numbers, change: Change) -> Table {
    let habit = Habit::regional(numbers);
    let before = before(numbers, habit);
    let rows = match change {
        Change::Turned => {
            let size = 1 + numbers.size();
            let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly, Days::MonthStarts]);
            written(&days(numbers, size, way), habit.turned())
        }
        Change::SomeTurned => {
            let size = 30 + numbers.size();
            let share = 10 + numbers.below(40);
            let all = telling(numbers, size);
            let mut rows = Vec::new();
            for (at, day) in all.into_iter().enumerate() {
                // Some of them show it.
                let is_other = if at < 4 { day.2 > 12 } else { numbers.percent(share) };
                rows.extend(written(&[day], if is_other { habit.turned() } else { habit }));
            }
            rows
        }
        Change::BlockBelow => {
            let size = 120 + numbers.size();
            let mut rows = written(&telling(numbers, size), habit);
            let others = 40 + numbers.up_to(200);
            rows.extend(written(&foreign(numbers, others, 20, |_| true), habit.turned()));
            rows
        }
        Change::HalfSwapped => {
            let size = 60 + numbers.size();
            let shown = |day: Day| match day {
                (year, month, day @ ..=12) => {
                    Habit { padded: true, ..habit }.write((year, day, month))
                }
                day => Habit { padded: false, ..habit }.write(day),
            };
            let all = telling(numbers, size);
            all.into_iter().map(|day| (Cell::Text(shown(day)), Some(iso(day)))).collect()
        }
        Change::MonthsForDays => months_taken(numbers, |day| Cell::Text(habit.write(day))),
    };
    Table { before, told: false, ..Table::of(rows) }
}

/// A delivery that is written as the one before it.
pub fn unchanged(numbers: &mut Numbers) -> Table {
    let habit = Habit::regional(numbers);
    let before = before(numbers, habit);
    let (size, way) = (1 + numbers.size(), numbers.one(&super::draw::EVERY_WAY));
    Table { before, ..Table::of(written(&days(numbers, size, way), habit)) }
}

/// A delivery after another one, each drawn by itself.
pub fn after(
    before: impl Fn(&mut Numbers) -> Table,
    now: impl Fn(&mut Numbers) -> Table,
) -> impl Fn(&mut Numbers) -> Table {
    move |numbers| Table { before: Some(Box::new(before(numbers))), ..now(numbers) }
}
