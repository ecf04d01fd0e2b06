//! Pieces of sentences that several subjects share.

use std::fmt;

use crate::evidence::Witness;
use crate::order::Order;
use crate::text::grouped;

/// Ends a sentence with the row that shows it.
pub(super) fn row(f: &mut fmt::Formatter<'_>, lowest: Option<&Witness>) -> fmt::Result {
    match lowest {
        Some(Witness { row, value, .. }) => {
            write!(f, " (first in row {}: {value:?}).", grouped(*row))
        }
        None => write!(f, "."),
    }
}

/// `a, b and c`; of many the first four.
pub(super) fn list<'t>(texts: impl Iterator<Item = &'t str>, last: &str, more: &str) -> String {
    const LISTED: usize = 4;
    let mut texts: Vec<String> = texts.map(str::to_owned).collect();
    if texts.len() > LISTED + 1 {
        let others = texts.len() - LISTED;
        texts.truncate(LISTED);
        texts.push(format!("{others} {more}"));
    }
    match texts.split_last() {
        Some((only, [])) => only.clone(),
        Some((end, rest)) => format!("{} {last} {end}", rest.join(", ")),
        None => String::new(),
    }
}

pub(super) fn number_of_orders(orders: &[Order]) -> String {
    match orders {
        [one, other] => format!("both {} and {}", one.phrase(), other.phrase()),
        [rest @ .., last] => {
            let rest: Vec<&str> = rest.iter().map(|order| order.phrase()).collect();
            format!("{} and {}", rest.join(", "), last.phrase())
        }
        [] => "no order".to_owned(),
    }
}
