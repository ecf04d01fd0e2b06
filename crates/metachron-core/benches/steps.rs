//! What a derived column costs beside reading its source: nanoseconds a value.
//!
//! `cargo bench -p metachron-core --bench steps` prints, for each chain of steps, what running it costs, and
//! what it costs to read the column that it begins with. Writing the result is not counted in either.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod timing;

use std::hint::black_box;

use metachron_core::apply::Outcome;
use metachron_core::evidence::ObserveOptions;
use metachron_core::infer::infer;
use metachron_core::steps::{Chain, Item, Notes, Setting, Type};
use metachron_core::verdict::Asserted;
use timing::{ROWS, best};

fn main() {
    let today = jiff::civil::date(2026, 1, 1);
    let day = |row: usize| {
        jiff::civil::date(2010, 1, 1) + jiff::Span::new().days((row * 7_919 % 1_800) as i64)
    };
    let dates = |row: usize| {
        let d = day(row);
        format!("{:02}/{:02}/{}", d.day(), d.month(), d.year())
    };
    let clocks = |row: usize| {
        format!("{} {:02}:{:02}:{:02}", day(row), row % 24, row * 7 % 60, row * 13 % 60)
    };
    let lengths = |row: usize| format!("{} h {} min", row * 7_919 % 40, row * 13 % 60);
    type Column<'c> = (&'c str, &'c dyn Fn(usize) -> String, &'c [&'c str]);
    let columns: [Column<'_>; 3] = [
        (
            "dd/mm/yyyy",
            &dates,
            &[
                "month",
                "weekday",
                "end month",
                "period week",
                "move +1 month",
                "since 2010-01-01 | as days",
            ],
        ),
        (
            "yyyy-mm-dd h:m:s",
            &clocks,
            &[
                "date",
                "time",
                "floor 15 minutes",
                "serial sheet-1900",
                "since 2010-01-01 | as hours",
            ],
        ),
        ("h min", &lengths, &["as hours", "round 5 minutes", "as minutes whole"]),
    ];
    println!("{:<18}{:<30}{:>8}{:>8}{:>8}", "ns a value", "steps", "read", "steps", "ratio");
    for (name, write, chains) in columns {
        let values: Vec<String> = (0..ROWS).map(write).collect();
        let known = Asserted::nothing(today);
        let inference =
            infer(values.iter().map(String::as_str), &ObserveOptions::default(), &known);
        let compiled = inference.compiled.unwrap();
        let mut scratch = compiled.scratch();
        let mut items = Vec::new();
        for (row, value) in (1..).zip(&values) {
            let Outcome::Read(fit) = scratch.apply(row, value.as_str()) else {
                unreachable!("every value is read")
            };
            items.push(Item::Typed(fit.moment));
        }
        let read = best(|| {
            for (row, value) in (1..).zip(&values) {
                black_box(scratch.apply(row, value.as_str()));
            }
        });
        for steps in chains {
            let chain = Chain::parse(&format!("x | {steps}")).unwrap();
            let of = Type::Of(compiled.reading().kind);
            let program = chain.compile(&[("x", of)], &Setting::new(today)).unwrap();
            let mut notes = Notes::default();
            let own = best(|| {
                for item in &items {
                    let made = program.run(std::slice::from_ref(item), &[], &mut notes);
                    black_box(made.unwrap());
                }
            });
            println!("{name:<18}{steps:<30}{read:>8.0}{own:>8.0}{:>8.2}", own / read);
        }
    }
}
