//! What holds for any table.

use std::collections::BTreeSet;
use std::ops::Range;

use proptest::prelude::*;

use metachron_core::layout::Layout;
use metachron_core::order::Order;
use metachron_core::verdict::Verdict;

use super::judged::inferred;
use super::scenarios::table::{Cell, Table};

/// A day of some year, anywhere in it.
fn days(count: Range<usize>) -> impl Strategy<Value = Vec<(i16, u32, u32)>> {
    prop::collection::vec((2019_i16..2025, 1_u32..=12, 1_u32..=28), count)
}

/// Rows of two stations: the first writes the month first, the second the day.
fn table(own: &[(i16, u32, u32)], others: &[(i16, u32, u32)], with_clue: bool) -> Table {
    let truth = |(year, month, day): &(i16, u32, u32)| format!("{year}-{month:02}-{day:02}");
    let month_first = |(year, month, day): &(i16, u32, u32)| format!("{month:02}/{day:02}/{year}");
    let day_first = |(year, month, day): &(i16, u32, u32)| format!("{day:02}/{month:02}/{year}");
    let own = own.iter().map(|day| (Cell::Text(month_first(day)), Some(truth(day))));
    let others = others.iter().map(|day| (Cell::Text(day_first(day)), Some(truth(day))));
    let count = own.len();
    let mut table = Table::of(own.chain(others).collect());
    if with_clue {
        let station = |at| if at < count { "Port Meridian" } else { "Skarholm" };
        let stations = (0..table.cells.len()).map(|at| station(at).to_owned());
        table.beside = vec![("station", stations.collect())];
    }
    table
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    /// Added rows never turn rows of another station to a reading that its own values speak against: more than typing
    /// errors would explain.
    #[test]
    fn added_rows_do_not_decide_for_others(own in days(5..12), others in days(0..800)) {
        let telling: BTreeSet<_> = own.iter().filter(|(_, _, day)| *day > 12).collect();
        prop_assume!(telling.len() > 3);
        let judgement = inferred(&table(&own, &others, true)).judgement;
        if let (Verdict::Decided, Some(reading)) = (judgement.verdict, judgement.reading) {
            let order = reading.layouts.first().and_then(Layout::order);
            prop_assert_eq!(order, Some(Order::Mdy), "{:?}", judgement.findings);
        }
    }

    /// Without what tells the rows of a table apart there is a question where there was a split, and never a decision.
    #[test]
    fn without_the_clue_a_split_is_a_question(own in days(0..60), others in days(0..60)) {
        let with = inferred(&table(&own, &others, true)).judgement;
        if with.verdict == Verdict::Mixed {
            let without = inferred(&table(&own, &others, false)).judgement;
            prop_assert!(without.verdict.is_open(), "{:?}", without.findings);
        }
    }
}
