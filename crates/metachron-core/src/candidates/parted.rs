//! Dates of three parts: in digits with the same between them, or with other marks, and those with a month's name.

use super::cursor::{Cursor, Ends, WrittenPart};
use super::{Candidate, Family, Style};
use crate::layout::{Layout, escape};
use crate::lexicon::{Length, Piece, runs_on};
use crate::order::{Alternative, Order};
use crate::reading::Terms;

/// A date whose parts have the same between them, or a month's name among them.
pub(super) fn parted(
    pieces: &[Piece<'_>],
    name_length: Option<Length>,
    asked: Option<Order>,
    terms: Terms,
) -> Option<Family> {
    let (zones, small_years) = (terms.zones, terms.lexicon.calendar().has_small_years());
    let mut cursor = Cursor { pieces, zones };
    let prefix = cursor.separator();
    // A letter right before a number belongs to it: `S22.4.29`.
    if prefix.ends_with(|c: char| c.is_alphabetic() && !runs_on(c)) {
        return None;
    }
    let weekday = cursor.weekday()?;
    let first = cursor.date_part(name_length)?;
    let between_first = cursor.separator_behind(&first);
    let second = cursor.date_part(name_length)?;
    let between_second = cursor.separator_behind(&second);
    let third = cursor.date_part(name_length)?;
    let after = cursor.behind_date(Ends::with(&third))?;
    let parts = [first, second, third];
    let all_digits = !parts.iter().any(WrittenPart::is_month);
    let by_units = units(&between_first, &between_second);
    let separators = if all_digits {
        let even = between_first == between_second && is_plain(&between_first);
        (even || by_units).then(|| between_first.clone())?
    } else {
        let place = parts.iter().position(WrittenPart::is_month)?;
        let long_year = parts.iter().any(|part| part.digits() == 4);
        let year = if long_year { 4 } else { 2 };
        format!("‹month {}, year of {year}›{between_first}|{between_second}", place + 1)
    };
    if all_digits && separators.is_empty() {
        return None;
    }
    let possible =
        if by_units { vec![Alternative::Ymd] } else { orders(&parts, asked, small_years) };
    let (prefix, one, other) = (escape(&prefix), escape(&between_first), escape(&between_second));
    let all = in_orders(possible, &parts, small_years, |[a, b, c]| {
        format!("{prefix}{weekday}{a}{one}{b}{other}{c}{after}")
    });
    (!all.is_empty()).then(|| Family::new(Style::Parted, separators, all_digits, all))
}

/// Digits with different marks between them, as hands type them: `2023, 4; 17`. Without four digits of a year they are a
/// date only where an order is asked for.
pub(super) fn uneven(pieces: &[Piece<'_>], asked: Option<Order>, terms: Terms) -> Option<Family> {
    let mut cursor = Cursor { pieces, zones: terms.zones };
    let first = cursor.date_part(None)?;
    let between_first = cursor.marks();
    let second = cursor.date_part(None)?;
    let between_second = cursor.marks();
    let third = cursor.date_part(None)?;
    let parts = [first, second, third];
    let has_year = parts.iter().any(|part| part.digits() == 4);
    let are_digits = parts.iter().all(|part| matches!(part, WrittenPart::Digits(_, false)));
    let are_apart = !between_first.is_empty() && !between_second.is_empty();
    if !are_digits || !are_apart || !(has_year || asked.is_some()) {
        return None;
    }
    let after = cursor.behind_date(Ends::with(&parts[2]))?;
    let (one, other) = (escape(&between_first), escape(&between_second));
    let all = in_orders(orders(&parts, asked, false), &parts, false, |[a, b, c]| {
        format!("{a}{one}{b}{other}{c}{after}")
    });
    // Whoever types them so types them in many ways: these are judged together.
    (!all.is_empty()).then(|| Family::new(Style::Uneven, String::new(), true, all))
}

/// The candidates of some orders, whose layouts are written from the fields in that order.
fn in_orders(
    possible: Vec<Alternative>,
    parts: &[WrittenPart; 3],
    small_years: bool,
    write: impl Fn([String; 3]) -> String,
) -> Vec<Candidate> {
    let candidate = |order: Alternative| {
        let layout = Layout::parse(&write(fields(order, parts, small_years)?)).ok()?;
        Some(Candidate { alternative: order, layout })
    };
    possible.into_iter().filter_map(candidate).collect()
}

/// Whether the same text stands between parts of digits: one mark, spaces, or a word.
fn is_plain(between: &str) -> bool {
    let marks = between.chars().filter(|c| !c.is_whitespace() && !c.is_alphabetic()).count();
    marks <= 1
}

/// Whether the parts are marked as year and month: `2024年3月5日`.
fn units(first: &str, second: &str) -> bool {
    first.starts_with(['年', '년']) && second.starts_with(['月', '월'])
}

/// The orders that values of this form could have.
fn orders(parts: &[WrittenPart; 3], asked: Option<Order>, small_years: bool) -> Vec<Alternative> {
    // Three digits are a year where years are small.
    let width = |part: &WrittenPart| match part.digits() {
        3 if small_years => 4,
        digits => digits,
    };
    let widths = parts.each_ref().map(width);
    let small = |digits: usize| digits == 1 || digits == 2;
    let mut orders = match (parts, widths) {
        ([WrittenPart::Month(_), ..], [_, day, 2 | 4]) if small(day) => vec![Alternative::Mdy],
        ([_, WrittenPart::Month(_), _], [day, _, 4]) if small(day) => vec![Alternative::Dmy],
        ([_, WrittenPart::Month(_), _], [4, _, day]) if small(day) => vec![Alternative::Ymd],
        ([_, WrittenPart::Month(_), _], [first, _, last])
            if small(first) && small(last) && first.max(last) == 2 =>
        {
            vec![Alternative::Dmy, Alternative::Ymd]
        }
        (_, [a, b, c]) if small(b) && !parts.iter().any(WrittenPart::is_month) => match (a, c) {
            _ if small(a) && c == 4 => vec![Alternative::Dmy, Alternative::Mdy],
            _ if a == 4 && small(c) => vec![Alternative::Ymd],
            _ if small(a) && small(c) && a.max(c) == 2 => {
                vec![Alternative::Dmy, Alternative::Mdy, Alternative::Ymd]
            }
            _ => Vec::new(),
        },
        _ => Vec::new(),
    };
    let digits_only = !parts.iter().any(WrittenPart::is_month);
    if digits_only && asked == Some(Order::Ydm) && orders.contains(&Alternative::Ymd) {
        orders.push(Alternative::Ydm);
    }
    orders
}

/// The fields of the three parts in this order.
fn fields(order: Alternative, parts: &[WrittenPart; 3], small_years: bool) -> Option<[String; 3]> {
    #[derive(Clone, Copy)]
    enum Role {
        Day,
        Month,
        Year,
    }
    let roles = order.arrange(Role::Day, Role::Month, Role::Year);
    let mut fields = [const { String::new() }; 3];
    for ((field, role), part) in fields.iter_mut().zip(roles).zip(parts) {
        *field = match (role, part) {
            (Role::Month, WrittenPart::Month(field)) => *field,
            (Role::Month, WrittenPart::Digits(_, false)) => "{month}",
            (Role::Day, WrittenPart::Digits(_, false)) => "{day}",
            (Role::Day, WrittenPart::Digits(_, true)) => "{day:th}",
            (Role::Year, WrittenPart::EraYear(layout)) => layout.as_str(),
            (Role::Year, WrittenPart::Digits(1..=3, false)) if small_years => "{year:era}",
            (Role::Year, WrittenPart::Digits(4, false)) => "{year}",
            (Role::Year, WrittenPart::Digits(_, false)) => "{year:2}",
            _ => return None,
        }
        .to_owned();
    }
    Some(fields)
}
