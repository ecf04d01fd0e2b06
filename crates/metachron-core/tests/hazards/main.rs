//! Every hazard with its scenario and its honest look-alike: columns with known truth, none of which may be
//! converted to something else without a question.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod deliveries;
mod draw;
mod imports;
mod judged;
mod laws;
mod letters;
mod meanings;
mod no_dates;
mod writers;
mod years;

use draw::Numbers;
use imports::{BESIDE, SHOWN, Shown};
use judged::{Became, Table, became};
use writers::APART;

/// What a scenario shows.
#[derive(Clone, Copy, PartialEq)]
enum Of {
    Harmed,
    Honest,
}

type Draw = fn(&mut Numbers) -> Table;

struct Scenario {
    name: String,
    of: Of,
    draw: Box<dyn Fn(&mut Numbers) -> Table>,
}

fn scenario(
    of: Of,
    name: impl Into<String>,
    draw: impl Fn(&mut Numbers) -> Table + 'static,
) -> Scenario {
    Scenario { name: name.into(), of, draw: Box::new(draw) }
}

fn scenarios() -> Vec<Scenario> {
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
    let pairs: [(&str, Draw, Draw); 8] = [
        ("twelve hours", meanings::hours_of_a_day, meanings::twelve_hours),
        ("year, day, month", meanings::year_month_day, meanings::year_day_month),
        ("minutes behind a point", meanings::decimal_hours, meanings::minutes_behind_a_point),
        ("thousands", no_dates::decimal_minutes, no_dates::points_between_thousands),
        ("numbers of months", no_dates::dates_in_digits, no_dates::numbers_of_months),
        ("numbers of years", no_dates::days_of_the_year, no_dates::numbers_of_years),
        ("seasons", no_dates::months, no_dates::seasons),
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
        (Of::Harmed, "twelve hours", meanings::twelve_hours as Draw),
        (Of::Harmed, "hours that no watch begins at noon", meanings::hours_without_noon),
        (Of::Honest, "hours of a day", meanings::hours_of_a_day),
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
        (Of::Honest, "months of years", no_dates::months),
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

#[derive(Default)]
struct Outcomes {
    tried: u64,
    right: u64,
    asked: u64,
    left: u64,
    wrong: u64,
    needless: u64,
}

#[test]
fn no_hazard_is_silently_wrong() {
    let number = |name: &str, usual: u64| {
        std::env::var(name).ok().and_then(|own| own.parse().ok()).unwrap_or(usual)
    };
    let (seeds, each) = (number("HAZARD_SEEDS", 1), number("HAZARD_CASES", 12));
    let only = std::env::var("HAZARD").unwrap_or_default();
    let shows = std::env::var("HAZARD_SHOW").is_ok();
    println!(
        "{:<44}{:>7}{:>7}{:>7}{:>7}{:>10}{:>7}",
        "scenario", "tried", "right", "asked", "left", "needless", "wrong"
    );
    let mut failures = Vec::new();
    let (mut sum, mut honest) = (Outcomes::default(), 0);
    for Scenario { name, of, draw } in scenarios() {
        if !name.contains(&only) {
            continue;
        }
        let mut own = Outcomes::default();
        for seed in 0..seeds {
            let mut numbers = Numbers(20_261_128 + 1_000_003 * seed);
            for _ in 0..each {
                let table = draw(&mut numbers);
                let (became, judgement) = became(&table);
                own.tried += 1;
                match became {
                    Became::Right => own.right += 1,
                    Became::Asked => own.asked += 1,
                    Became::Left => own.left += 1,
                    Became::Wrong(_) => own.wrong += 1,
                }
                let is_needless = of == Of::Honest && table.told && became != Became::Right;
                own.needless += u64::from(is_needless);
                if is_needless || matches!(became, Became::Wrong(_)) {
                    let cells = &table.cells[..table.cells.len().min(12)];
                    failures.push(format!(
                        "{name}: {became:?} of {}\n  {cells:?}\n  {:?}",
                        table.cells.len(),
                        judgement.findings
                    ));
                    if shows {
                        println!("{}", failures.last().unwrap());
                    }
                }
            }
        }
        let Outcomes { tried, right, asked, left, wrong, needless } = own;
        println!("{name:<44}{tried:>7}{right:>7}{asked:>7}{left:>7}{needless:>10}{wrong:>7}");
        sum.tried += tried;
        sum.wrong += wrong;
        sum.needless += needless;
        honest += if of == Of::Honest { tried } else { 0 };
    }
    println!("{} tried, {} wrong, {} needless", sum.tried, sum.wrong, sum.needless);
    assert!(sum.needless * 200 <= honest, "{}", failures[..failures.len().min(6)].join("\n"));
    assert_eq!(sum.wrong, 0, "{}", failures[..failures.len().min(6)].join("\n"));
}
