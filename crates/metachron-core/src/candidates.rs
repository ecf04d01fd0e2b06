//! The layouts that a value of some shape could have.

use crate::layout::{Layout, escape};
use crate::lexicon::{Length, Lexicon, Meaning};
use crate::moment::Kind;
use crate::reading::{Century, Order, Unfit, WrittenOffset, interpret};
use crate::text::{Token, TokenKind, tokens};

/// One way to read a shape.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Candidate {
    /// The order of its date.
    pub order: Order,
    /// The layout.
    pub layout: Layout,
}

/// All ways to read a shape.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Family {
    /// What stands between the parts of the date. Shapes that share it are judged together.
    pub separators: String,
    /// Whether the month is a number, so that an order of digits can be asked for.
    pub all_digits: bool,
    /// The candidates, at least one, in the order of [`Order`].
    pub candidates: Vec<Candidate>,
}

/// What a word is called in a shape: everything that decides about candidates keeps its identity.
pub fn name_of<'a>(word: &'a str, lexicon: &Lexicon) -> Option<&'a str> {
    match lexicon.look_up(word) {
        Some(Meaning::Month(..)) => Some("‹month›"),
        Some(Meaning::Weekday(..)) => Some("‹weekday›"),
        Some(Meaning::Half(_)) => Some("‹am/pm›"),
        Some(Meaning::Ordinal) => Some("‹th›"),
        None => matches!(
            word.as_bytes(),
            [b'a' | b'A' | b'p' | b'P' | b'm' | b'M' | b'T' | b't' | b'Z' | b'z']
                | b"UTC"
                | b"utc"
                | b"GMT"
                | b"gmt"
                | b"of"
                | b"at"
        )
        .then_some(word),
    }
}

/// Every way to read a normalised value, or none if it cannot be a date.
///
/// `name_length` says by which of its names to call the month, where a single value leaves it
/// open (`May`). An order that no region writes is tried only when it is `asked` for.
///
/// ```
/// use metachron_core::candidates::candidates;
/// use metachron_core::lexicon::Lexicon;
/// let family = candidates("03/04/2024 9:15", &Lexicon::english(), None, None).unwrap();
/// let layouts: Vec<String> =
///     family.candidates.iter().map(|candidate| candidate.layout.to_string()).collect();
/// assert_eq!(layouts, [
///     "{day}/{month}/{year} {hour}:{minute}",
///     "{month}/{day}/{year} {hour}:{minute}",
/// ]);
/// ```
pub fn candidates(
    value: &str,
    lexicon: &Lexicon,
    name_length: Option<Length>,
    asked: Option<Order>,
) -> Option<Family> {
    let tokens: Vec<Token<'_>> = tokens(value).collect();
    let mut cursor = Cursor { tokens: &tokens, lexicon };
    let weekday = cursor.weekday()?;
    let first = cursor.date_part(name_length)?;
    let between_first = cursor.separator();
    let second = cursor.date_part(name_length)?;
    let mut between_second = cursor.separator();
    let third = cursor.date_part(name_length)?;
    // The point of an abbreviated month belongs to the month: `Mar. 5, 2024`.
    let after_month = |part: &DatePart, text: &str| match text.strip_prefix('.') {
        Some(rest) if part.is_month() && rest.starts_with([' ', ',']) => rest.to_owned(),
        _ => text.to_owned(),
    };
    let between_first = after_month(&first, &between_first);
    between_second = after_month(&second, &between_second);
    let clock = cursor.clock()?;
    let parts = [first, second, third];
    let all_digits = !parts.iter().any(DatePart::is_month);
    let separators = if all_digits {
        (between_first == between_second && between_first.trim().len() <= 1)
            .then(|| between_first.clone())?
    } else {
        let place = parts.iter().position(DatePart::is_month)?;
        let long_year = parts.iter().any(|part| part.digits() == 4);
        let year = if long_year { 4 } else { 2 };
        format!("‹month {}, year of {year}›{between_first}|{between_second}", place + 1)
    };
    if all_digits && separators.is_empty() {
        return None;
    }
    let standard = rfc_3339(value, lexicon);
    let candidates: Vec<Candidate> = orders(&parts, asked)
        .into_iter()
        .filter_map(|order| {
            let [a, b, c] = fields(order, &parts)?;
            let text = format!(
                "{weekday}{a}{}{b}{}{c}{clock}",
                escape(&between_first),
                escape(&between_second)
            );
            let layout = match &standard {
                Some(standard) if order == Order::Ymd => standard.clone(),
                _ => Layout::parse(&text).ok()?,
            };
            Some(Candidate { order, layout })
        })
        .collect();
    (!candidates.is_empty()).then_some(Family { separators, all_digits, candidates })
}

/// The kind that a value would have in a form of its own, if it can be read at all.
///
/// ```
/// use metachron_core::{candidates::kind_alone, lexicon::Lexicon, moment::Kind};
/// assert_eq!(kind_alone("3/4/2024 9:15", &Lexicon::english()), Some(Kind::DateTime));
/// assert_eq!(kind_alone("13/13/2024", &Lexicon::english()), None);
/// ```
pub fn kind_alone(value: &str, lexicon: &Lexicon) -> Option<Kind> {
    let family = candidates(value, lexicon, None, None)?;
    let fits = |candidate: &&Candidate| {
        interpret(&candidate.layout, value, Century::default(), lexicon).is_ok()
    };
    family.candidates.iter().find(fits).map(|candidate| candidate.layout.kind())
}

/// The standard's layout, if the value is written as RFC 3339 has it.
fn rfc_3339(value: &str, lexicon: &Lexicon) -> Option<Layout> {
    let layout = Layout::parse("rfc-3339").ok()?;
    let read = interpret(&layout, value, Century::default(), lexicon);
    (read != Err(Unfit::Form)).then_some(layout)
}

/// A part of a date as it is written.
#[derive(Debug)]
enum DatePart {
    /// So many digits; whether an ordinal ending follows.
    Digits(usize, bool),
    /// The field that reads a month's name.
    Month(&'static str),
}

impl DatePart {
    fn is_month(&self) -> bool {
        matches!(self, DatePart::Month(_))
    }

    fn digits(&self) -> usize {
        match self {
            DatePart::Digits(digits, _) => *digits,
            DatePart::Month(_) => 0,
        }
    }
}

/// The orders that values of this form could have.
fn orders(parts: &[DatePart; 3], asked: Option<Order>) -> Vec<Order> {
    let widths = parts.each_ref().map(DatePart::digits);
    let small = |digits: usize| digits == 1 || digits == 2;
    let mut orders = match (parts, widths) {
        ([DatePart::Month(_), ..], [_, day, 2 | 4]) if small(day) => vec![Order::Mdy],
        ([_, DatePart::Month(_), _], [day, _, 4]) if small(day) => vec![Order::Dmy],
        ([_, DatePart::Month(_), _], [4, _, day]) if small(day) => vec![Order::Ymd],
        ([_, DatePart::Month(_), _], [first, _, last])
            if small(first) && small(last) && first.max(last) == 2 =>
        {
            vec![Order::Dmy, Order::Ymd]
        }
        ([DatePart::Digits(..), DatePart::Digits(..), DatePart::Digits(..)], [a, b, c])
            if small(b) =>
        {
            match (a, c) {
                _ if small(a) && c == 4 => vec![Order::Dmy, Order::Mdy],
                _ if a == 4 && small(c) => vec![Order::Ymd],
                _ if small(a) && small(c) && a.max(c) == 2 => {
                    vec![Order::Dmy, Order::Mdy, Order::Ymd]
                }
                _ => Vec::new(),
            }
        }
        _ => Vec::new(),
    };
    let digits_only = !parts.iter().any(DatePart::is_month);
    if digits_only && asked == Some(Order::Ydm) && orders.contains(&Order::Ymd) {
        orders.push(Order::Ydm);
    }
    orders
}

/// The fields of the three parts in this order.
fn fields(order: Order, parts: &[DatePart; 3]) -> Option<[&'static str; 3]> {
    #[derive(Clone, Copy)]
    enum Role {
        Day,
        Month,
        Year,
    }
    let roles = order.arrange(Role::Day, Role::Month, Role::Year);
    let mut fields = [""; 3];
    for ((field, role), part) in fields.iter_mut().zip(roles).zip(parts) {
        *field = match (role, part) {
            (Role::Month, DatePart::Month(field)) => field,
            (Role::Month, DatePart::Digits(_, false)) => "{month}",
            (Role::Day, DatePart::Digits(_, false)) => "{day}",
            (Role::Day, DatePart::Digits(_, true)) => "{day:th}",
            (Role::Year, DatePart::Digits(4, false)) => "{year}",
            (Role::Year, DatePart::Digits(_, false)) => "{year:2}",
            _ => return None,
        };
    }
    Some(fields)
}

/// What is left of a value's tokens.
struct Cursor<'a> {
    tokens: &'a [Token<'a>],
    lexicon: &'a Lexicon,
}

impl<'a> Cursor<'a> {
    fn peek(&self, kind: TokenKind) -> Option<&'a str> {
        self.tokens.first().filter(|token| token.kind == kind).map(|token| token.text)
    }

    fn take(&mut self, kind: TokenKind) -> Option<&'a str> {
        let text = self.peek(kind)?;
        self.tokens = &self.tokens[1..];
        Some(text)
    }

    fn take_mark(&mut self, mark: &str) -> Option<&'a str> {
        self.peek(TokenKind::Mark).filter(|text| *text == mark)?;
        self.take(TokenKind::Mark)
    }

    fn meaning(&self) -> Option<Meaning> {
        self.lexicon.look_up(self.peek(TokenKind::Word)?)
    }

    /// A weekday and what follows it, as layout; nothing if there is none.
    fn weekday(&mut self) -> Option<String> {
        let Some(Meaning::Weekday(_, length)) = self.meaning() else {
            return Some(String::new());
        };
        self.take(TokenKind::Word);
        let field = if length == Length::Full { "{weekday}" } else { "{weekday:short}" };
        let after = self.separator();
        let after = after.strip_prefix('.').unwrap_or(&after);
        (!after.is_empty()).then(|| format!("{field}{}", escape(after)))
    }

    /// Digits, an ordinal number or a month's name.
    fn date_part(&mut self, name_length: Option<Length>) -> Option<DatePart> {
        if let Some(Meaning::Month(_, length)) = self.meaning() {
            self.take(TokenKind::Word);
            let length = name_length.unwrap_or(length);
            let full = length == Length::Full;
            return Some(DatePart::Month(if full { "{month:name}" } else { "{month:short}" }));
        }
        let digits = self.take(TokenKind::Digits)?;
        let ordinal = self.meaning() == Some(Meaning::Ordinal);
        if ordinal {
            self.take(TokenKind::Word);
        }
        (digits.len() <= 4).then_some(DatePart::Digits(digits.len(), ordinal))
    }

    /// Spaces and punctuation between two parts of a date, one space for a run of them.
    fn separator(&mut self) -> String {
        let mut text = String::new();
        loop {
            if self.take(TokenKind::Space).is_some() {
                text.push(' ');
            } else if let Some(mark) =
                self.peek(TokenKind::Mark).filter(|mark| matches!(*mark, "/" | "-" | "." | ","))
            {
                self.take(TokenKind::Mark);
                text.push_str(mark);
            } else if self.peek(TokenKind::Word) == Some("of") && text == " " {
                self.take(TokenKind::Word);
                text.push_str("of");
            } else {
                return text;
            }
        }
    }

    /// Everything after the date, as layout: nothing, or a clock with what joins and follows it.
    fn clock(&mut self) -> Option<String> {
        if self.tokens.is_empty() {
            return Some(String::new());
        }
        let mut layout = self.joint()?;
        self.take(TokenKind::Digits).filter(|digits| digits.len() <= 2)?;
        let mut rest = String::new();
        if self.take_mark(":").is_some() {
            self.take(TokenKind::Digits).filter(|digits| digits.len() == 2)?;
            rest.push_str(":{minute}");
            if self.take_mark(":").is_some() {
                self.take(TokenKind::Digits).filter(|digits| digits.len() == 2)?;
                rest.push_str(":{second}");
                if let Some(mark) = self.take_mark(".").or_else(|| self.take_mark(",")) {
                    self.take(TokenKind::Digits)?;
                    rest.push_str(mark);
                    rest.push_str("{fraction}");
                }
            }
        }
        let whole_hour = rest.is_empty();
        let half = self.half();
        layout.push_str(if half.is_some() { "{hour:12}" } else { "{hour}" });
        layout.push_str(&rest);
        match half {
            Some(half) => layout.push_str(half),
            None if whole_hour => return None,
            None => layout.push_str(&self.offset()?),
        }
        self.tokens.is_empty().then_some(layout)
    }

    /// What joins a date and a clock.
    fn joint(&mut self) -> Option<String> {
        if let Some(letter) = self.peek(TokenKind::Word).filter(|w| w.eq_ignore_ascii_case("t")) {
            self.take(TokenKind::Word);
            return Some(letter.to_owned());
        }
        let comma = if self.take_mark(",").is_some() { "," } else { "" };
        self.take(TokenKind::Space)?;
        if self.peek(TokenKind::Word) == Some("at") {
            self.take(TokenKind::Word);
            self.take(TokenKind::Space)?;
            return Some(format!("{comma} at "));
        }
        Some(format!("{comma} "))
    }

    /// `pm`, ` p.m.`, as layout.
    fn half(&mut self) -> Option<&'static str> {
        let (space, rest) = match self.tokens {
            [space, rest @ ..] if space.kind == TokenKind::Space => (true, rest),
            rest => (false, rest),
        };
        let word = |token: &Token<'_>| self.lexicon.look_up(token.text);
        let after = match rest {
            [half, rest @ ..] if matches!(word(half), Some(Meaning::Half(_))) => rest,
            [a, point, m, rest @ ..]
                if point.text == "."
                    && matches!(a.text, "a" | "A" | "p" | "P")
                    && matches!(m.text, "m" | "M") =>
            {
                rest
            }
            _ => return None,
        };
        self.tokens = match after {
            [point, rest @ ..] if point.text == "." => rest,
            rest => rest,
        };
        Some(if space { " {ampm}" } else { "{ampm}" })
    }

    /// Nothing, or an offset that takes all the rest.
    fn offset(&mut self) -> Option<String> {
        if self.tokens.is_empty() {
            return Some(String::new());
        }
        let space = if self.take(TokenKind::Space).is_some() { " " } else { "" };
        let rest: String = self.tokens.iter().map(|token| token.text).collect();
        let (_, length) = WrittenOffset::read(rest.as_bytes(), crate::layout::OffsetForm::Any)?;
        self.tokens = &[];
        (length == rest.len()).then(|| format!("{space}{{offset}}"))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn layouts(value: &str) -> Vec<String> {
        candidates(value, &Lexicon::english(), None, None).map_or(Vec::new(), |family| {
            family.candidates.iter().map(|candidate| candidate.layout.to_string()).collect()
        })
    }

    #[test]
    fn arrangements() {
        for (value, expected) in [
            ("3/4/2024", vec!["{day}/{month}/{year}", "{month}/{day}/{year}"]),
            (
                "03-04-24",
                vec!["{day}-{month}-{year:2}", "{month}-{day}-{year:2}", "{year:2}-{month}-{day}"],
            ),
            ("5. 3. 2024", vec!["{day}. {month}. {year}", "{month}. {day}. {year}"]),
            ("2024-03-05", vec!["{year}-{month}-{day}"]),
            ("2024-03-05T10:15:00+01:00", vec!["rfc-3339"]),
            (
                "2024-03-05 10:15:00.25 +0100",
                vec!["{year}-{month}-{day} {hour}:{minute}:{second}.{fraction} {offset}"],
            ),
            ("5 March 2024", vec!["{day} {month:name} {year}"]),
            ("Tue, Mar. 5th, 2024", vec!["{weekday:short}, {month:short} {day:th}, {year}"]),
            ("05-Mar-24", vec!["{day}-{month:short}-{year:2}", "{year:2}-{month:short}-{day}"]),
            ("05Mar2024", vec!["{day}{month:short}{year}"]),
            ("5 of March, 2024", vec!["{day} of {month:name}, {year}"]),
            (
                "3/4/2024 7 pm",
                vec![
                    "{day}/{month}/{year} {hour:12} {ampm}",
                    "{month}/{day}/{year} {hour:12} {ampm}",
                ],
            ),
            (
                "5 March 2024 at 7:05 p.m.",
                vec!["{day} {month:name} {year} at {hour:12}:{minute} {ampm}"],
            ),
        ] {
            assert_eq!(layouts(value), expected, "{value}");
        }
    }

    #[test]
    fn what_cannot_be_a_date_has_no_candidate() {
        for value in [
            "",
            "SK-0417",
            "3/4",
            "1.2",
            "10:15",
            "3/4-2024",
            "3/4/2024 x",
            "3/4/2024 10",
            "192.168.10.24",
            "555 12 34",
            "5/3/4",
            "20240305",
            "2024 5 March",
            "Mon",
            "3/4/20245",
            "March 2024 5",
            "5 March 2024 10:15 +",
            "2024-03-05T",
            "Tue5 March 2024",
        ] {
            assert_eq!(layouts(value), Vec::<String>::new(), "{value}");
        }
    }

    #[test]
    fn an_order_that_nobody_writes_is_tried_when_asked_for() {
        let family = candidates("2024-05-03", &Lexicon::english(), None, Some(Order::Ydm)).unwrap();
        let orders: Vec<Order> = family.candidates.iter().map(|c| c.order).collect();
        assert_eq!(orders, [Order::Ymd, Order::Ydm]);
    }
}
