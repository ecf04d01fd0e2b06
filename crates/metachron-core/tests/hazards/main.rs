//! Every hazard with its scenario and its honest look-alike: columns with known truth, none of which may be
//! converted to something else without a question.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod judged;
mod laws;
mod scenarios;

use judged::{Became, became};
use scenarios::draw::Numbers;
use scenarios::{Of, Scenario, scenarios};

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
