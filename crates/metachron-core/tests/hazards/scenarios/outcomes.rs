//! What becomes of the cases of all scenarios.

use super::draw::Numbers;
use super::{Of, Scenario};

/// What became of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Became {
    /// Converted, and every value as it is.
    Right,
    /// A question, or converted and something told of it.
    Asked,
    /// Not taken for dates.
    Left,
    /// So many values converted to something else.
    Wrong(u64),
}

/// A case that was judged.
pub struct Judged {
    pub became: Became,
    /// Whether an honest one should be converted.
    pub told: bool,
    /// What it is, and what was said of it.
    pub why: String,
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

/// Draws cases of every scenario and tells what became of them: `HAZARD_SEEDS` times `HAZARD_CASES` of each, those with
/// `HAZARD` in their name only, and shows what is wrong or needless if `HAZARD_SHOW` is there. None may be wrong, and
/// of the honest ones one in 200 may be asked about without need.
pub fn no_case_is_wrong<T>(scenarios: Vec<Scenario<T>>, each: u64, judge: impl Fn(&T) -> Judged) {
    let number = |name: &str, usual: u64| {
        std::env::var(name).ok().and_then(|own| own.parse().ok()).unwrap_or(usual)
    };
    let (seeds, each) = (number("HAZARD_SEEDS", 1), number("HAZARD_CASES", each));
    let only = std::env::var("HAZARD").unwrap_or_default();
    let shows = std::env::var("HAZARD_SHOW").is_ok();
    println!(
        "{:<44}{:>7}{:>7}{:>7}{:>7}{:>10}{:>7}",
        "scenario", "tried", "right", "asked", "left", "needless", "wrong"
    );
    let mut failures = Vec::new();
    let (mut sum, mut honest) = (Outcomes::default(), 0);
    for Scenario { name, of, draw } in scenarios {
        if !name.contains(&only) {
            continue;
        }
        let mut own = Outcomes::default();
        for seed in 0..seeds {
            let mut numbers = Numbers(20_261_128 + 1_000_003 * seed);
            for _ in 0..each {
                let Judged { became, told, why } = judge(&draw(&mut numbers));
                own.tried += 1;
                match became {
                    Became::Right => own.right += 1,
                    Became::Asked => own.asked += 1,
                    Became::Left => own.left += 1,
                    Became::Wrong(_) => own.wrong += 1,
                }
                let is_needless = of == Of::Honest && told && became != Became::Right;
                own.needless += u64::from(is_needless);
                if is_needless || matches!(became, Became::Wrong(_)) {
                    failures.push(format!("{name}: {became:?} of {why}"));
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
