//! Pieces of sentences that several subjects share.

use std::borrow::Borrow;

use metachron_core::evidence::{Occurrences, Witness};
use metachron_core::order::{Alternative, Order};
use metachron_core::text::{counted, grouped};

/// What a way to take numbers is called in a sentence.
pub fn phrase(alternative: impl Borrow<Alternative>) -> &'static str {
    match alternative.borrow() {
        Alternative::Dmy => "day first",
        Alternative::Mdy => "month first",
        Alternative::Ymd => "year first",
        Alternative::Ydm => "year, day, month",
        Alternative::Ordinal => "year and day of the year",
        Alternative::Only => "as it stands",
        Alternative::HoursMinutes => "hours and minutes",
        Alternative::MinutesSeconds => "minutes and seconds",
        Alternative::Minutes => "minutes",
        Alternative::Months => "months",
    }
}

/// A count with a verb that agrees with it: `1 value is`, `1,204 values are`.
pub fn many(count: u64, what: &str, one: &str, several: &str) -> String {
    format!("{} {}", counted(count, what), if count == 1 { one } else { several })
}

/// Values that show something, with the verb that agrees.
pub fn values(rows: &Occurrences, one: &str, several: &str) -> String {
    many(rows.rows, "value", one, several)
}

/// The row that shows it: ` (first in row 3: "x")`.
pub fn first(rows: &Occurrences) -> String {
    let Some(Witness { row, value, .. }) = &rows.first else { return String::new() };
    format!(" (first in row {}: {value:?})", grouped(*row))
}

/// `a, b and c`; of many the first four.
pub fn list(texts: impl Iterator<Item = impl Into<String>>, last: &str, more: &str) -> String {
    const LISTED: usize = 4;
    match first_of(texts, LISTED, more).split_last() {
        Some((only, [])) => only.clone(),
        Some((end, rest)) => format!("{} {last} {end}", rest.join(", ")),
        None => String::new(),
    }
}

/// The first so many texts, and how many `more` there are, if that is not one alone.
pub fn first_of(
    texts: impl Iterator<Item = impl Into<String>>,
    listed: usize,
    more: &str,
) -> Vec<String> {
    let mut texts: Vec<String> = texts.map(Into::into).collect();
    if texts.len() > listed + 1 {
        let others = texts.len() - listed;
        texts.truncate(listed);
        texts.push(format!("{} {more}", grouped(others as u64)));
    }
    texts
}

/// `both day first and month first`, or all of them where they are more.
pub fn number_of_orders(orders: &[Alternative]) -> String {
    match orders {
        [one, other] => format!("both {} and {}", phrase(one), phrase(other)),
        [rest @ .., last] => {
            let rest: Vec<&str> = rest.iter().map(|order| phrase(order)).collect();
            format!("{} and {}", rest.join(", "), phrase(last))
        }
        [] => "no order".to_owned(),
    }
}

/// One in how many it happens by chance.
pub fn by_chance(power: u32) -> String {
    match power {
        0..=1 => "which also happens by chance".to_owned(),
        _ => format!("by chance less than {}", one_in(power)),
    }
}

/// One in ten to the power of this.
pub fn one_in(power: u32) -> String {
    match power {
        0..=9 => format!("1 in {}", grouped(10_u64.pow(power))),
        _ => format!("1 in 10^{power}"),
    }
}

/// The word for an order; other ways to take numbers have none.
pub fn order_name(alternative: Alternative) -> String {
    Order::try_from(alternative).map_or(String::new(), |order| order.to_string())
}
