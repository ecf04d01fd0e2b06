//! Names of months that two languages have for different months.

use super::draw::{Day, Days, Numbers, days, iso};
use super::table::{Cell, Table};

/// Croatian, Polish and Czech, as their dates have them.
const LANGUAGES: [[&str; 12]; 3] = [
    [
        "siječnja",
        "veljače",
        "ožujka",
        "travnja",
        "svibnja",
        "lipnja",
        "srpnja",
        "kolovoza",
        "rujna",
        "listopada",
        "studenoga",
        "prosinca",
    ],
    [
        "stycznia",
        "lutego",
        "marca",
        "kwietnia",
        "maja",
        "czerwca",
        "lipca",
        "sierpnia",
        "września",
        "października",
        "listopada",
        "grudnia",
    ],
    [
        "ledna",
        "února",
        "března",
        "dubna",
        "května",
        "června",
        "července",
        "srpna",
        "září",
        "října",
        "listopadu",
        "prosince",
    ],
];

/// The same, short.
const SHORT: [[&str; 12]; 3] = [
    ["sij", "velj", "ožu", "tra", "svi", "lip", "srp", "kol", "ruj", "lis", "stu", "pro"],
    ["sty", "lut", "mar", "kwi", "maj", "cze", "lip", "sie", "wrz", "paź", "lis", "gru"],
    ["led", "úno", "bře", "dub", "kvě", "čvn", "čvc", "srp", "zář", "říj", "lis", "pro"],
];

fn table(all: &[Day], names: &[&str; 12]) -> Table {
    let rows = all.iter().map(|own| {
        let (year, month, day) = *own;
        let text = format!("{day}. {} {year}", names[month as usize - 1]);
        (Cell::Text(text), Some(iso(*own)))
    });
    Table::of(rows.collect())
}

/// Days of those months whose name another language has for another month.
fn colliding(numbers: &mut Numbers, language: usize, all: &[[&str; 12]; 3]) -> Vec<Day> {
    let names = &all[language];
    let collides = |month: usize| {
        let others = (0..all.len()).filter(|other| *other != language);
        others
            .flat_map(|other| all[other].iter().enumerate())
            .any(|(at, name)| at != month && *name == names[month])
    };
    let months: Vec<u32> = (0..12).filter(|at| collides(*at)).map(|at| at as u32 + 1).collect();
    let (size, year) = (1 + numbers.size(), 2012 + numbers.below(12) as i32);
    let day = |numbers: &mut Numbers| {
        (year + numbers.below(2) as i32, numbers.one(&months), 1 + numbers.below(28) as u32)
    };
    (0..size).map(|_| day(numbers)).collect()
}

/// Only such months: nothing says of which language they are.
pub fn names_that_collide(numbers: &mut Numbers) -> Table {
    let (all, language) = match numbers.half() {
        // In full no Czech name is another month elsewhere.
        true => (&LANGUAGES, numbers.up_to(2)),
        false => (&SHORT, numbers.up_to(3)),
    };
    let own = colliding(numbers, language, all);
    table(&own, &all[language])
}

/// Months of the whole year: their names are of one language.
pub fn names_of_one_language(numbers: &mut Numbers) -> Table {
    let all = numbers.one(&[&LANGUAGES, &SHORT]);
    let language = numbers.up_to(3);
    let size = 40 + numbers.size();
    let own = days(numbers, size, Days::MonthStarts);
    table(&own, &all[language])
}

/// After a delivery in one language, one in another, of which the first has all names.
pub fn another_language_next(numbers: &mut Numbers) -> Table {
    let all = numbers.one(&[&LANGUAGES, &SHORT]);
    let (before, now) = match numbers.half() {
        true => (0, 1),
        false => (1, 0),
    };
    let size = 40 + numbers.size();
    let first = table(&days(numbers, size, Days::MonthStarts), &all[before]);
    let shared = |month: u32| all[before].contains(&all[now][month as usize - 1]);
    let own = loop {
        let mut own = colliding(numbers, now, all);
        own.retain(|(_, month, _)| shared(*month));
        if !own.is_empty() {
            break own;
        }
    };
    Table { before: Some(Box::new(first)), told: false, ..table(&own, &all[now]) }
}
