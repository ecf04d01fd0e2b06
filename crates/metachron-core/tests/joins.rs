//! Runs of rows, joined in their order, are what is seen when all rows are looked at in one go: in every field, and
//! wherever the table is cut.
#![allow(clippy::unwrap_used)]

#[path = "verdicts/scenarios.rs"]
#[allow(dead_code)]
mod scenarios;

use metachron_core::evidence::{Evidence, Neighbours, ObserveOptions, Observer, Thinning};
use metachron_core::infer::infer;
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Lexicon, Locale};
use metachron_core::reading::{Clocks, RowPlace, Serials, Terms};
use metachron_core::typed::TypedValue;
use metachron_core::value::Value;
use metachron_core::verdict::Asserted;
use proptest::prelude::*;
use scenarios::{ALL, Numbers, TABLES};

/// What stands in a row of two columns.
type Row = (Cell, String);

#[derive(Debug, Clone)]
enum Cell {
    Text(String),
    Typed(TypedValue),
}

impl Cell {
    fn value(&self) -> Value<'_> {
        match self {
            Cell::Text(text) => Value::Text(text),
            Cell::Typed(moment) => Value::Typed(*moment),
        }
    }
}

/// What rows show, of which so many stand before them.
fn seen(rows: &[Row], before: u64, options: &ObserveOptions) -> Evidence {
    let mut observer = Observer::new(options.clone(), 3);
    let neighbours = look(&mut observer, rows, before);
    *observer.finish_among("seen", &neighbours)
}

/// Looks at the rows of a run, beside those of other columns.
fn look(observer: &mut Observer, rows: &[Row], before: u64) -> Neighbours {
    let mut neighbours = Neighbours::of(["seen", "beside", "row"]);
    for (row, (cell, beside)) in (before + 1..).zip(rows) {
        neighbours.next_row();
        neighbours.see(0, "");
        neighbours.see(1, beside);
        // Its values tell single rows apart.
        neighbours.see(2, &row.to_string());
        let days = observer.observe_among(RowPlace::from(row), cell.value(), &neighbours);
        neighbours.note(0, days);
    }
    neighbours
}

/// Values of every kind that evidence knows, as tables have them.
fn rows(seed: u64) -> Vec<Row> {
    let mut numbers = Numbers(seed);
    let which = numbers.below(ALL.len() as u64 + TABLES.len() as u64 + 5) as usize;
    let column = |values: Vec<String>| values.into_iter().map(Cell::Text).collect::<Vec<_>>();
    let mut cells: Vec<Cell> = match which {
        at if at < ALL.len() => column(ALL[at](&mut numbers).values),
        at if at < ALL.len() + TABLES.len() => {
            column(TABLES[at - ALL.len()](&mut numbers).column.values)
        }
        _ => (0..20 + numbers.below(120)).map(|row| other(&mut numbers, which, row)).collect(),
    };
    cells.truncate(700);
    let most = [8, 80, 600][numbers.below(3) as usize];
    let offices = 1 + numbers.below(most);
    cells.into_iter().map(|cell| (cell, format!("office {}", numbers.below(offices)))).collect()
}

/// Clocks without a zone and with one, days without a year, amounts, numbers, typed cells, nothing.
fn other(n: &mut Numbers, which: usize, row: u64) -> Cell {
    let (day, hour, minute) = (1 + n.below(28), n.below(24), n.below(60));
    let text = match (which + n.below(2) as usize) % 6 {
        0 => format!("2024-10-{day:02} {hour:02}:{minute:02}"),
        1 => format!("2024-10-{day:02}T{hour:02}:{minute:02}:00+0{}:00", n.below(3)),
        2 => format!(
            "2024-10-{day:02} {hour:02}:{minute:02} {}",
            ["CET", "IST"][n.below(2) as usize]
        ),
        3 => {
            format!("{} {}", day, ["Nov", "Dec", "Jan", "März", "listopad"][(row / 9 % 5) as usize])
        }
        4 => ["5 m", "2 h", "", "n/a", "27:15", "1:30", "0", "45210.5"][n.below(8) as usize]
            .to_owned(),
        _ => {
            let date =
                jiff::civil::date(1899 + n.below(200) as i16, 1 + n.below(12) as i8, day as i8);
            return Cell::Typed(TypedValue::Date(date));
        }
    };
    Cell::Text(text)
}

/// The ways in which columns are looked at.
fn options(seed: u64) -> ObserveOptions {
    let layouts = |texts: &[&str]| texts.iter().map(|text| Layout::parse(text).unwrap()).collect();
    let usual = ObserveOptions::default();
    match seed % 5 {
        0 => ObserveOptions {
            layouts: layouts(&["{day}/{month}/{year}", "{month}/{day}/{year}"]),
            ..usual
        },
        1 => ObserveOptions {
            serials: Some(Serials { epoch: "sheet-1900".parse().unwrap(), are_times: false }),
            ..usual
        },
        2 => ObserveOptions { terms: Terms { clocks: Clocks::Elapsed, ..usual.terms }, ..usual },
        3 => usual.marking(["3/4/2024", "2024-10-03 10:15"]),
        _ => usual,
    }
}

/// The runs between the cuts, each with how many rows there are before it.
fn runs<'r>(rows: &'r [Row], cuts: &[usize]) -> Vec<(&'r [Row], u64)> {
    let mut cuts: Vec<usize> = cuts.iter().map(|cut| cut % (rows.len() + 1)).collect();
    cuts.extend([0, rows.len()]);
    cuts.sort_unstable();
    cuts.windows(2).map(|ends| (&rows[ends[0]..ends[1]], ends[0] as u64)).collect()
}

fn joined(rows: &[Row], cuts: &[usize], options: &ObserveOptions) -> Evidence {
    let seen = runs(rows, cuts).into_iter().map(|(run, before)| seen(run, before, options));
    seen.reduce(|all, next| all.join(next).unwrap()).unwrap()
}

/// The same where one observer goes through all of them, and remembers what it has seen.
fn joined_by_one(rows: &[Row], cuts: &[usize], options: &ObserveOptions) -> Evidence {
    let mut observer = Observer::new(options.clone(), 3);
    let seen = runs(rows, cuts).into_iter().map(|(run, before)| {
        let neighbours = look(&mut observer, run, before);
        *observer.end_run("seen", &neighbours)
    });
    seen.reduce(|all, next| all.join(next).unwrap()).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn runs_joined_in_order_are_the_whole(
        seed in any::<u64>(),
        cuts in prop::collection::vec(any::<usize>(), 0..9),
    ) {
        let (rows, options) = (rows(seed), options(seed));
        let (joined, whole) = (joined(&rows, &cuts, &options), seen(&rows, 0, &options));
        // What differs, said shortly.
        macro_rules! equal {
            ($($field:ident)*) => { $(prop_assert_eq!(&joined.$field, &whole.$field);)* };
        }
        equal! {
            rows missing placeholder cells typed shapes groups names foreign given numbers spikes sequences
            open_years marks zones
        }
        prop_assert_eq!(&joined_by_one(&rows, &cuts, &options), &whole);
        prop_assert_eq!(&joined.clues.neighbours, &whole.clues.neighbours);
        prop_assert_eq!(&joined.clues.clocks, &whole.clues.clocks);
        prop_assert_eq!(&joined.clues.runs, &whole.clues.runs);
        prop_assert_eq!(&joined.clues.steps, &whole.clues.steps);
        prop_assert_eq!(joined, whole);
    }
}

#[test]
fn a_long_table_beyond_every_budget_is_the_sum_of_its_runs() {
    // More different dates, shapes, offices and blocks than are kept.
    let mut numbers = Numbers(7);
    let rows: Vec<Row> = (0..60_000)
        .map(|row: u64| {
            let (day, month, year) =
                (1 + numbers.below(28), 1 + numbers.below(12), 1900 + numbers.below(300));
            let text = match numbers.below(5) {
                // More shapes than are kept: six marks of four kinds, and one of two.
                0 => {
                    let mark =
                        |place: u32| ["n-", "n.", "n#", "n:"][(row >> (2 * place)) as usize & 3];
                    (0..6).map(mark).chain([["n-", "n."][(row >> 12) as usize & 1]]).collect()
                }
                1 => format!("{month}/{day}/{year}"),
                _ => format!("{day}/{month}/{year}"),
            };
            (Cell::Text(text), format!("office {}", numbers.below(500)))
        })
        .collect();
    let options = ObserveOptions::default();
    let whole = seen(&rows, 0, &options);
    assert!(whole.shapes.pooled > 0, "the budget of shapes is used up");
    assert!(whole.groups.values().any(|group| !group.dates.is_exact()), "and that of dates");
    assert!(joined(&rows, &[1, 9_000, 9_001, 20_000, 39_999], &options) == whole);
}

/// What is kept of a column that takes too much room is a fair part of it: what is counted stays whole, and parts that
/// were thinned earlier or later come to the same.
#[test]
fn what_is_thinned_is_part_of_the_whole() {
    let mut numbers = Numbers(3);
    let rows: Vec<(String, String)> = (0..4_000)
        .map(|row: u64| {
            let date = format!(
                "{}/{}/{}",
                1 + numbers.below(12),
                1 + numbers.below(12),
                1900 + numbers.below(200)
            );
            let text = if row.is_multiple_of(40) { format!("n{row}") } else { date };
            (text, format!("office {}", numbers.below(100)))
        })
        .collect();
    let thinnest = std::iter::successors(Some(Thinning::NONE), |own| own.more()).nth(6).unwrap();
    let seen = |rows: &[(String, String)], thinned_at: usize| {
        let mut observer = Observer::new(ObserveOptions::default(), 0);
        let mut neighbours = Neighbours::of(["seen", "office", "half"]);
        for (at, (value, office)) in rows.iter().enumerate() {
            if at == thinned_at {
                let before = observer.weight();
                neighbours.thin(thinnest);
                observer.thin(thinnest, &neighbours);
                assert!(observer.weight() < before || at == 0);
            }
            neighbours.see(1, office);
            neighbours.see(2, ["a", "b"][at % 2]);
            observer.observe_among((at as u64 + 1).into(), value.as_str(), &neighbours);
        }
        *observer.finish_among("seen", &neighbours)
    };
    let whole = seen(&rows, usize::MAX);
    let thin = seen(&rows, 0);
    assert_eq!((thin.rows, thin.cells, &thin.names), (whole.rows, whole.cells, &whole.names));
    assert_eq!(thin.clues.steps, whole.clues.steps);
    // Eight values are told apart, and no hundred.
    let columns = |own: &Evidence| -> Vec<String> {
        own.clues.neighbours.columns().map(|(name, _)| name.clone()).collect()
    };
    assert_eq!(
        (columns(&thin), columns(&whole)),
        (vec!["half".into()], vec!["half".into(), "office".into()])
    );
    let dates =
        |own: &Evidence| own.groups.values().map(|group| group.dates.count(|_| true)).sum::<u64>();
    assert_eq!((dates(&thin), dates(&whole) > 3_000), (256, true));
    let shapes =
        |own: &Evidence| own.shapes.by_frequency().iter().map(|(_, tally)| tally.rows).sum::<u64>();
    assert_eq!(shapes(&thin) + thin.shapes.pooled, shapes(&whole) + whole.shapes.pooled);
    // However late it is thinned, or together with what it is.
    assert!(seen(&rows, 1_500) == thin);
    let (first, last) = (seen(&rows[..1_000], 0), seen(&rows[1_000..], usize::MAX));
    let joined = first.join(last).unwrap();
    assert_eq!(columns(&joined), columns(&thin));
    assert_eq!(
        (joined.thinned, &joined.groups, &joined.shapes),
        (thin.thinned, &thin.groups, &thin.shapes)
    );
}

/// Values whose words stand for several things, or are other ones from language to language.
const OF_MANY_MEANINGS: [&str; 25] = [
    "三月",
    "三年",
    "Adar",
    "listopada",
    "dez",
    "dez horas",
    "5 m",
    "März",
    "noon",
    "2 h",
    "00:15",
    "1 day, 3:04:05",
    "2 days, 3:04:05",
    "5 Dia 10:15",
    "5 Kun 10:15",
    "3 marzo 2024",
    "3 kilos 2024",
    "3 März 2024",
    "05/Mar/2024:10:15:00 +0100",
    "05/mars/2024:10:15:00 +0100",
    "Tue, 5 Mar 2024 10:15:00 +0100",
    "Di, 5 Mär 2024 10:15:00 +0100",
    "Mar 2024",
    "5 March 2024 noon",
    "5 March 2024 PM",
];

/// What is known of a shape is right for every value of it, whichever came first.
#[test]
fn values_of_one_shape_are_read_alike() {
    let rows = |texts: [&str; 2]| texts.map(|text| (Cell::Text(text.to_owned()), String::new()));
    let german = Lexicon::of(Locale::named("de").unwrap());
    for lexicon in [Lexicon::every(), german] {
        let terms = Terms { lexicon, ..Terms::default() };
        let options = ObserveOptions { terms, ..ObserveOptions::default() };
        for first in OF_MANY_MEANINGS {
            for second in OF_MANY_MEANINGS {
                let rows = rows([first, second]);
                let whole = seen(&rows, 0, &options);
                assert!(joined(&rows, &[1], &options) == whole, "{first} {second}");
            }
        }
    }
}

/// What becomes of two values does not depend on which of them comes first.
#[test]
fn values_are_read_alike_whichever_comes_first() {
    let asserted = Asserted::nothing(jiff::civil::date(2024, 6, 1));
    let options = ObserveOptions::default();
    let read = |values: [&str; 2]| {
        let inference = infer(values, &options, &asserted);
        inference.compiled.map(|compiled| values.map(|value| compiled.apply(1, value)))
    };
    for first in OF_MANY_MEANINGS {
        for second in OF_MANY_MEANINGS {
            let other_way = read([second, first]).map(|[a, b]| [b, a]);
            assert_eq!(read([first, second]), other_way, "{first} {second}");
        }
    }
}
