//! Letters that stand for digits, and letters that stand for halves of the day.

use super::draw::{Days, Habit, Numbers, days, iso};
use super::table::{Cell, Table};

/// What a hand writes for some digits.
const LOOK_ALIKE: [(char, char); 4] = [('0', 'O'), ('1', 'l'), ('5', 'S'), ('8', 'B')];

/// The same text with one digit written as a letter, if it has any that looks like one.
fn with_a_letter(numbers: &mut Numbers, text: &str) -> String {
    let places: Vec<(usize, char)> = text
        .char_indices()
        .filter_map(|(at, digit)| {
            let letter = LOOK_ALIKE.iter().find(|(own, _)| *own == digit)?.1;
            Some((at, letter))
        })
        .collect();
    if places.is_empty() {
        return text.to_owned();
    }
    let (at, letter) = numbers.one(&places);
    let mut text = text.to_owned();
    text.replace_range(at..=at, &letter.to_string());
    text
}

/// Rows of which a share has such a letter; whoever reads them reads what was meant.
fn rows(
    numbers: &mut Numbers,
    share: u64,
    write: impl Fn(&mut Numbers) -> (String, String),
) -> Table {
    let rows = (0..4 + numbers.up_to(300)).map(|_| {
        let (text, truth) = write(numbers);
        let text = if numbers.percent(share) { with_a_letter(numbers, &text) } else { text };
        (Cell::Text(text), Some(truth))
    });
    Table::of(rows.collect())
}

/// Clock times with letters among their digits.
pub fn clocks(numbers: &mut Numbers) -> Table {
    let share = numbers.one(&[5, 20, 60, 100]);
    rows(numbers, share, |numbers| {
        let (hour, minute, second) = (numbers.below(24), numbers.below(60), numbers.below(60));
        let text = format!("{hour:02}:{minute:02}:{second:02}");
        (text.clone(), text)
    })
}

/// Dates with letters among their digits.
pub fn dates(numbers: &mut Numbers) -> Table {
    let (share, habit) = (numbers.one(&[5, 20, 60, 100]), Habit::regional(numbers));
    rows(numbers, share, move |numbers| {
        let day = days(numbers, 1, Days::Any)[0];
        (habit.write(day), iso(day))
    })
}

/// `9:15 A` and `12:30 P`.
pub fn one_letter_markers(numbers: &mut Numbers) -> Table {
    let is_small = numbers.half();
    let space = numbers.one(&[" ", ""]);
    let count = 12 + numbers.up_to(300);
    let rows = (0..count).map(|_| {
        let (hour, minute) = (numbers.below(24), numbers.below(60));
        let letter = match (hour < 12, is_small) {
            (true, false) => 'A',
            (false, false) => 'P',
            (true, true) => 'a',
            (false, true) => 'p',
        };
        let text = format!("{}:{minute:02}{space}{letter}", (hour + 11) % 12 + 1);
        (Cell::Text(text), Some(format!("{hour:02}:{minute:02}:00")))
    });
    Table::of(rows.collect())
}
