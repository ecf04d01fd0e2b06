//! Every hazard with its scenario and its honest look-alike.

pub mod draw;
pub mod outcomes;
pub mod table;

mod imports;
mod writers;

mod deliveries;
mod files;
mod languages;
mod letters;
mod meanings;
mod no_dates;
mod origins;
mod years;

use draw::Numbers;
use imports::{BESIDE, SHOWN, Shown};
use table::Table;
use writers::APART;

/// What a scenario shows.
#[derive(Clone, Copy, PartialEq)]
pub enum Of {
    Harmed,
    Honest,
}

type Draw = fn(&mut Numbers) -> Table;

pub struct Scenario<T> {
    pub name: String,
    pub of: Of,
    pub draw: Box<dyn Fn(&mut Numbers) -> T>,
}

pub fn scenario<T>(
    of: Of,
    name: impl Into<String>,
    draw: impl Fn(&mut Numbers) -> T + 'static,
) -> Scenario<T> {
    Scenario { name: name.into(), of, draw: Box::new(draw) }
}

/// Every one whose case is a table.
pub fn scenarios() -> Vec<Scenario<Table>> {
    let mut all = Vec::new();
    let drawn = |of, name: &str, shown: Shown, draw: fn(&mut Numbers, Shown) -> Table| {
        scenario(of, format!("{name}, {shown:?}"), move |numbers| draw(numbers, shown))
    };
    for shown in SHOWN {
        all.push(drawn(Of::Harmed, "half-swapped", shown, imports::half_swapped));
        all.push(drawn(Of::Honest, "two honest forms", shown, imports::two_honest_forms));
        all.push(drawn(Of::Harmed, "months for days", shown, imports::months_for_days));
        all.push(drawn(Of::Honest, "days of a year", shown, imports::days_of_a_year));
    }
    for apart in APART {
        let drawn = |of, name: &str, draw: fn(&mut Numbers, writers::Apart) -> Table| {
            scenario(of, format!("{name}, by {apart:?}"), move |numbers| draw(numbers, apart))
        };
        all.push(drawn(Of::Harmed, "a hand that nothing tells", writers::untold));
        all.push(drawn(Of::Honest, "one habit", writers::one_habit));
    }
    for change in deliveries::CHANGES {
        let drawn = |of, name: &str, draw: fn(&mut Numbers, deliveries::Change) -> Table| {
            scenario(of, format!("{name}, {change:?}"), move |numbers| draw(numbers, change))
        };
        all.push(drawn(Of::Harmed, "the next delivery", deliveries::changed));
    }
    all.push(scenario(Of::Honest, "the next delivery, as before", deliveries::unchanged));
    let pairs: [(&str, Draw, Draw); 9] = [
        ("twelve hours", meanings::hours_of_a_day, meanings::twelve_hours),
        ("year, day, month", meanings::year_month_day, meanings::year_day_month),
        ("minutes behind a point", meanings::decimal_hours, meanings::minutes_behind_a_point),
        ("thousands", no_dates::decimal_minutes, no_dates::points_between_thousands),
        ("numbers of months", no_dates::dates_in_digits, no_dates::numbers_of_months),
        ("numbers of years", no_dates::days_of_the_year, no_dates::numbers_of_years),
        ("seasons", no_dates::months, no_dates::seasons),
        ("quarters", no_dates::plain_months, no_dates::quarters),
        ("short years", years::recent, years::year_at_the_other_end),
    ];
    for (name, before, now) in pairs {
        let name = format!("the next delivery, {name}");
        all.push(scenario(Of::Harmed, name, deliveries::after(before, now)));
    }
    for (name, same) in [
        ("hours of a day", meanings::hours_of_a_day as Draw),
        ("year, month, day", meanings::year_month_day),
        ("decimal hours", meanings::decimal_hours),
        ("dates in digits", no_dates::dates_in_digits),
        ("days of the year", no_dates::days_of_the_year),
    ] {
        let name = format!("the next delivery, {name}");
        all.push(scenario(Of::Honest, name, deliveries::after(same, same)));
    }
    for shown in BESIDE {
        all.push(drawn(
            Of::Harmed,
            "half-swapped below the whole",
            shown,
            imports::half_swapped_below,
        ));
        all.push(drawn(Of::Harmed, "harmed as the column beside", shown, imports::harmed_beside));
        all.push(drawn(Of::Honest, "right beside a harmed one", shown, imports::right_beside));
    }
    for (of, name, draw) in [
        (Of::Harmed, "files, one of them half-swapped", files::one_half_swapped as Draw),
        (Of::Harmed, "files, one of them turned", files::one_turned),
        (Of::Honest, "files, one of them by a program", files::one_by_a_program),
        (Of::Harmed, "rows that go on the other way round", writers::rows_that_go_on),
        (Of::Honest, "rows of early days", writers::rows_of_early_days),
        (Of::Harmed, "exchanged in place, sorted", imports::exchanged_in_place),
        (Of::Honest, "sorted by a program", imports::sorted_by_a_program),
        (Of::Harmed, "names that collide", languages::names_that_collide),
        (Of::Honest, "names of one language", languages::names_of_one_language),
        (Of::Harmed, "the next delivery, another language", languages::another_language_next),
        (Of::Harmed, "numbers from 1904", origins::from_1904),
        (Of::Harmed, "numbers from 1899", origins::from_1899),
        (Of::Harmed, "numbers from 1970", origins::from_1970),
        (Of::Harmed, "twelve hours", meanings::twelve_hours),
        (Of::Harmed, "hours that no watch begins at noon", meanings::hours_without_noon),
        (Of::Honest, "hours of a day", meanings::hours_of_a_day),
        (Of::Harmed, "lengths like clocks", meanings::lengths_like_clocks),
        (Of::Honest, "times of watches", meanings::times_of_watches),
        (Of::Harmed, "twelve digits with seconds", meanings::seconds_at_the_end),
        (Of::Honest, "twelve digits with full years", meanings::minutes_at_the_end),
        (Of::Harmed, "year, day, month", meanings::year_day_month),
        (Of::Honest, "year, month, day", meanings::year_month_day),
        (Of::Harmed, "minutes behind a point", meanings::minutes_behind_a_point),
        (Of::Honest, "decimal hours", meanings::decimal_hours),
        (Of::Harmed, "numbers that run on in months", no_dates::numbers_of_months),
        (Of::Honest, "dates in digits", no_dates::dates_in_digits),
        (Of::Harmed, "numbers that run on in years", no_dates::numbers_of_years),
        (Of::Honest, "days of the year", no_dates::days_of_the_year),
        (Of::Harmed, "seasons", no_dates::seasons),
        (Of::Harmed, "quarters", no_dates::quarters),
        (Of::Harmed, "months in digits", no_dates::months_in_digits),
        (Of::Harmed, "weeks in digits", no_dates::weeks_in_digits),
        (Of::Honest, "days of 2020 in digits", no_dates::days_of_2020),
        (Of::Honest, "months of years", no_dates::months),
        (Of::Honest, "months without zeros", no_dates::plain_months),
        (Of::Harmed, "measures", no_dates::measures),
        (Of::Harmed, "points between thousands", no_dates::points_between_thousands),
        (Of::Honest, "decimal minutes", no_dates::decimal_minutes),
        (Of::Harmed, "clocks with letters for digits", letters::clocks),
        (Of::Harmed, "dates with letters for digits", letters::dates),
        (Of::Honest, "one letter for the half of the day", letters::one_letter_markers),
        (Of::Harmed, "short years, the other way round", years::year_at_the_other_end),
        (Of::Honest, "short years, typing errors", years::typing_errors),
        (Of::Harmed, "births in short years", years::births),
        (Of::Honest, "recent short years", years::recent),
        (Of::Honest, "every day of short years", years::every_day),
        (Of::Harmed, "only stand-ins tell", years::stand_ins_alone_tell),
        (Of::Honest, "stand-ins beside dates that tell", years::stand_ins_beside),
    ] {
        all.push(scenario(of, name, draw));
    }
    all
}
