//! What an import did.

use super::draw::{Day, Days, EVERY_WAY, Habit, Numbers, days, iso, last_day, month_name, serial};
use super::table::{Cell, Table};

/// How a program shows a date that it has read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Shown {
    Iso,
    IsoMidnight,
    Typed,
    TypedMidnight,
    Named,
    NamedInFull,
    Digits,
    Serial,
    /// As the source writes, but with zeros, which the source does not write.
    Padded,
    /// As the source writes, with another mark.
    OtherMark,
}

pub const SHOWN: [Shown; 10] = [
    Shown::Iso,
    Shown::IsoMidnight,
    Shown::Typed,
    Shown::TypedMidnight,
    Shown::Named,
    Shown::NamedInFull,
    Shown::Digits,
    Shown::Serial,
    Shown::Padded,
    Shown::OtherMark,
];

pub fn show(shown: Shown, day: Day, source: Habit) -> Cell {
    let (year, month, of_month) = day;
    Cell::Text(match shown {
        Shown::Typed => return Cell::Date(day),
        Shown::TypedMidnight => return Cell::Moment(day, 0, 0),
        Shown::Serial => return Cell::Number(serial(day).to_string()),
        Shown::Iso => iso(day),
        Shown::IsoMidnight => format!("{} 00:00:00", iso(day)),
        Shown::Named => format!("{of_month:02}-{}-{year}", month_name(month)),
        Shown::NamedInFull => format!("{} {of_month}, {year}", month_name(month)),
        Shown::Digits => format!("{year}{month:02}{of_month:02}"),
        Shown::Padded => Habit { padded: true, ..source }.write(day),
        Shown::OtherMark => {
            let mark = if source.mark == '.' { '/' } else { '.' };
            Habit { mark, ..source }.write(day)
        }
    })
}

fn midnight(shown: Shown, day: Day) -> String {
    match shown {
        Shown::IsoMidnight | Shown::TypedMidnight => format!("{}T00:00:00", iso(day)),
        _ => iso(day),
    }
}

/// Enough different dates on both sides that somebody could see it.
fn sides(all: &[Day]) -> (usize, usize) {
    let mut all = all.to_vec();
    all.sort_unstable();
    all.dedup();
    let late = all.iter().filter(|(_, _, day)| *day > 12).count();
    (all.len() - late, late)
}

/// An import by the other order: it turned what it could, and left the rest as text.
pub fn half_swapped(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: false, ..Habit::regional(numbers) };
    let exceptions = numbers.one(&[0, 0, 0, 5, 10, 20, 40]);
    let all = loop {
        let size = match exceptions {
            40 => 6_000 + numbers.up_to(10_000),
            _ => numbers.size() + 10,
        };
        let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly]);
        let all = days(numbers, size, way);
        let (open, late) = sides(&all);
        // The more exceptions, the more dates it takes to see what they hide.
        let enough = match exceptions {
            // Where only zeros tell, months of two digits tell nothing.
            0 if shown == Shown::Padded => 30,
            0 => 12,
            5 => 60,
            10 => 100,
            20 => 250,
            _ => 700,
        };
        if open >= enough / 3 && late >= enough / 3 && open + late > enough {
            break all;
        }
    };
    let rows = all.into_iter().map(|day| {
        let is_exception = numbers.percent(exceptions);
        let cell = match day.2 {
            // Typed again by hand, or written by something that was right.
            ..=12 if is_exception => Cell::Text(source.write(day)),
            _ if is_exception => show(shown, day, source),
            _ => left(shown, day, source),
        };
        (cell, Some(midnight(shown, day)))
    });
    Table::of(rows.collect())
}

/// A sorted file of which an import has read every date, by the other order where it could, and writes all of them as
/// programs do. Rows lie a week apart at most; otherwise they do not show how they go on.
pub fn exchanged_in_place(numbers: &mut Numbers) -> Table {
    let size = 240 + numbers.size();
    let all = days(numbers, size, Days::Sorted).into_iter();
    let rows = all.map(|(year, month, day)| {
        let shown = if day <= 12 { (year, day, month) } else { (year, month, day) };
        (Cell::Text(iso(shown)), Some(iso((year, month, day))))
    });
    Table::of(rows.collect())
}

/// A sorted file of dates as programs write them.
pub fn sorted_by_a_program(numbers: &mut Numbers) -> Table {
    let (size, way) = (2 + numbers.size(), numbers.one(&EVERY_WAY));
    let all = days(numbers, size, way).into_iter();
    // Now and then a row came late, or a date is mistyped.
    let mut rows: Vec<_> = all.map(|day| (Cell::Text(iso(day)), Some(iso(day)))).collect();
    for _ in 0..rows.len() / 40 {
        let (from, to) = (numbers.up_to(rows.len()), numbers.up_to(rows.len()));
        rows.swap(from, to);
    }
    Table::of(rows)
}

/// What an import by the other order left of a day: it turned what it could, or let the text stand.
pub fn left(shown: Shown, day: Day, source: Habit) -> Cell {
    match day {
        (year, month, of_month @ ..=12) => show(shown, (year, of_month, month), source),
        _ => Cell::Text(source.write(day)),
    }
}

/// Two programs, both right.
pub fn two_honest_forms(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: false, ..Habit::regional(numbers) };
    let (one, other) = (numbers.one(&EVERY_WAY), numbers.one(&EVERY_WAY));
    let size = numbers.size();
    let (first, second) = (days(numbers, size, one), days(numbers, size, other));
    let share = 10 + numbers.below(80);
    let mut texts = Vec::new();
    let rows = first.into_iter().zip(second).map(|(first, second)| {
        if numbers.percent(share) {
            (show(shown, first, source), Some(midnight(shown, first)))
        } else {
            texts.push(second);
            (Cell::Text(source.write(second)), Some(iso(second)))
        }
    });
    let rows: Vec<_> = rows.collect();
    let (_, late) = sides(&texts);
    let least = if texts.len() > 12 { 3 } else { 2 };
    let told = texts.is_empty() || (late >= least && late * 100 > texts.len() * 3);
    // What the program shows beside text in the source's own order is told by its own votes only.
    let is_open = matches!(shown, Shown::Padded | Shown::OtherMark | Shown::Serial);
    // A few numbers may be dates by chance.
    let few = shown == Shown::Digits && rows.len() - texts.len() < 30;
    Table { told: told && !is_open && !few, ..Table::of(rows) }
}

/// Months and years that an import took for days of its own year.
pub fn months_for_days(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: numbers.half(), ..Habit::regional(numbers) };
    Table::of(months_taken(numbers, |day| show(shown, day, source)))
}

/// The rows of such months, and what they are.
pub fn months_taken(
    numbers: &mut Numbers,
    shown: impl Fn(Day) -> Cell,
) -> Vec<(Cell, Option<String>)> {
    let import = 2022 + numbers.below(5) as i32;
    let (first, size) = (1 + numbers.below(18) as u32, 24 + numbers.up_to(300));
    let span = 3 + numbers.below(8) as u32;
    let in_order = numbers.half();
    let rows = (0..size).map(|index| {
        let (year, month) = match in_order {
            true => (first + (index as u32 / 12) % span, index as u32 % 12 + 1),
            false => (first + numbers.below(span.into()) as u32, 1 + numbers.below(12) as u32),
        };
        (shown((import, month, year)), Some(format!("{}-{month:02}", 2000 + year)))
    });
    rows.collect()
}

/// Days of one year, every day of the month among them.
pub fn days_of_a_year(numbers: &mut Numbers, shown: Shown) -> Table {
    let year = 2018 + numbers.below(8) as i32;
    let size = 30 + numbers.size();
    let way = numbers.one(&[Days::Any, Days::Weekly, Days::MonthStarts, Days::TwoAMonth]);
    let source = Habit { padded: true, ..Habit::regional(numbers) };
    let rows = days(numbers, size, way).into_iter().map(|(_, month, day)| {
        let day = (year, month, day.min(last_day(year, month)));
        (show(shown, day, source), Some(midnight(shown, day)))
    });
    let rows: Vec<_> = rows.collect();
    let is_open = matches!(shown, Shown::Padded | Shown::OtherMark | Shown::Serial);
    Table { told: !is_open, ..Table::of(rows) }
}

/// The same rows twice: as their source wrote them, and as an import left them.
pub fn half_swapped_below(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: false, ..Habit::regional(numbers) };
    let all = loop {
        let size = 60 + numbers.size();
        let way = numbers.one(&[Days::Any, Days::Sorted]);
        let all = days(numbers, size, way);
        let mut early: Vec<Day> = all.iter().copied().filter(|own| own.2 <= 12).collect();
        early.sort_unstable();
        early.dedup();
        let mut months: Vec<(i32, u32)> = early.iter().map(|own| (own.0, own.2)).collect();
        months.sort_unstable();
        months.dedup();
        let kinds = (1..=12).filter(|month| early.iter().any(|own| own.1 == *month)).count();
        if early.len() > 20 && months.len() > 8 && kinds > 4 {
            break all;
        }
    };
    let whole = all.iter().map(|day| (Cell::Text(source.write(*day)), Some(iso(*day))));
    let mut rows: Vec<_> = whole.collect();
    rows.extend(all.iter().map(|day| (left(shown, *day, source), Some(midnight(shown, *day)))));
    Table::of(rows)
}

/// Ways in which an import shows what it has read, apart from how the source wrote it.
pub const BESIDE: [Shown; 3] = [Shown::Iso, Shown::Typed, Shown::Named];

/// A column that an import has half swapped, with as many dates as it takes to see it.
fn swapped(numbers: &mut Numbers, shown: Shown, source: Habit) -> Table {
    let all = loop {
        let size = numbers.one(&[20, 40, 200]);
        let all = days(numbers, size, Days::Any);
        let (open, late) = sides(&all);
        if open >= 8 && late >= 8 {
            break all;
        }
    };
    let rows = all.into_iter();
    Table::of(rows.map(|day| (left(shown, day, source), Some(midnight(shown, day)))).collect())
}

/// A column of which the same import has lost what it could not read, beside one that shows what it did.
pub fn harmed_beside(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: false, ..Habit::regional(numbers) };
    let sibling = swapped(numbers, shown, source);
    let size = 12 + numbers.up_to(200);
    let rows = days(numbers, size, Days::Any).into_iter().map(|day| match day.2 {
        ..=12 => (left(shown, day, source), Some(midnight(shown, day))),
        _ => (Cell::Text(String::new()), None),
    });
    Table { sibling: Some(Box::new(sibling)), ..Table::of(rows.collect()) }
}

/// A column that no import has read, with days of all months, beside one that was harmed.
pub fn right_beside(numbers: &mut Numbers, shown: Shown) -> Table {
    let source = Habit { padded: false, ..Habit::regional(numbers) };
    let sibling = swapped(numbers, shown, source);
    let size = 30 + numbers.up_to(300);
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::TwoAMonth, Days::Weekly]);
    let rows =
        days(numbers, size, way).into_iter().map(|day| (show(shown, day, source), Some(iso(day))));
    Table { sibling: Some(Box::new(sibling)), ..Table::of(rows.collect()) }
}
