//! Several files of one source, or of sources that differ.

use super::draw::{Day, Days, Habit, Numbers, days, iso};
use super::imports::{Shown, left};
use super::table::{Cell, Table};

type Rows = Vec<(Cell, Option<String>)>;

/// The rows of some days, written by `write`.
fn rows(numbers: &mut Numbers, write: impl Fn(Day) -> Cell) -> Rows {
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
    let size = 20 + numbers.size();
    let all = days(numbers, size, way).into_iter();
    all.map(|day| (write(day), Some(iso(day)))).collect()
}

/// A table of all files, in any order.
fn together(numbers: &mut Numbers, mut files: Vec<Rows>) -> Table {
    let first = numbers.up_to(files.len());
    files.rotate_left(first);
    let mut cuts = Vec::new();
    for file in &files[..files.len() - 1] {
        cuts.push(cuts.last().copied().unwrap_or(0) + file.len());
    }
    Table { files: cuts, ..Table::of(files.concat()) }
}

/// Files of one habit, the others written otherwise by `other`.
fn beside(numbers: &mut Numbers, other: impl Fn(Habit, Day) -> Cell) -> Table {
    let habit = Habit { padded: false, ..Habit::regional(numbers) };
    let count = 1 + numbers.up_to(4);
    let mut files: Vec<Rows> =
        (0..count).map(|_| rows(numbers, |day| Cell::Text(habit.write(day)))).collect();
    files.push(rows(numbers, |day| other(habit, day)));
    together(numbers, files)
}

/// Some files, and one in which an import exchanged day and month where it could.
pub fn one_half_swapped(numbers: &mut Numbers) -> Table {
    let shown = numbers.one(&[Shown::Iso, Shown::Named, Shown::Digits, Shown::OtherMark]);
    beside(numbers, |habit, day| left(shown, day, habit))
}

/// Some files, and one in which days and months stand the other way round.
pub fn one_turned(numbers: &mut Numbers) -> Table {
    beside(numbers, |habit, day| Cell::Text(habit.turned().write(day)))
}

/// Some files, and one that is right and written otherwise.
pub fn one_by_a_program(numbers: &mut Numbers) -> Table {
    beside(numbers, |_, day| Cell::Text(iso(day)))
}
