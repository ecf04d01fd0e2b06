//! The time that the name of a file says.

use jiff::civil::Date;

use crate::lexicon::Lexicon;
use crate::text::{TokenKind, tokens};
use crate::typed::{Anchor, TypedValue};

/// A month or a year that a name says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NamedPeriod(TypedValue);

impl NamedPeriod {
    /// The month or the year that a name says, if it says one alone and no day.
    ///
    /// ```
    /// use metachron_core::timeline::NamedPeriod;
    /// let said = |name| NamedPeriod::of(name).map(|period| period.value().to_string());
    /// assert_eq!(said("rings-2024-03"), Some("2024-03".to_owned()));
    /// assert_eq!(said("March 2024 final"), Some("2024-03".to_owned()));
    /// assert_eq!(said("rings_2024"), Some("2024".to_owned()));
    /// // A day says when the file was made, not of what.
    /// assert_eq!(said("export-2024-03-05"), None);
    /// ```
    pub fn of(name: &str) -> Option<NamedPeriod> {
        let words: Vec<&str> = tokens(name)
            .filter(|token| matches!(token.kind, TokenKind::Digits | TokenKind::Word))
            .map(|token| token.text)
            .collect();
        let run =
            |word: &str, length: usize| (word.len() == length).then(|| year(word.get(..4)?))?;
        if words.iter().any(|word| run(word, DAY).is_some()) || words.windows(3).any(is_day) {
            return None;
        }
        let pairs = words.windows(2).filter_map(|pair| {
            // Two numbers are a year and its month in this order only.
            let is_named = pair[0].parse::<u32>().is_err();
            let in_order = year(pair[0]).zip(month(pair[1]));
            in_order.or_else(|| year(pair[1]).zip(month(pair[0]).filter(|_| is_named)))
        });
        let runs = words.iter().filter_map(|word| run(word, MONTH).zip(month(word.get(4..)?)));
        let mut months: Vec<(i16, i8)> = pairs.chain(runs).collect();
        months.dedup();
        let years: Vec<i16> = words.iter().filter_map(|word| year(word)).collect();
        match (&months[..], &years[..]) {
            ([(year, month)], _) => {
                Some(NamedPeriod(TypedValue::Month(Date::new(*year, *month, 1).ok()?)))
            }
            ([], [year]) => Some(NamedPeriod(TypedValue::Year(Date::new(*year, 1, 1).ok()?))),
            _ => None,
        }
    }

    /// The month, or the year.
    pub fn value(self) -> TypedValue {
        self.0
    }

    /// Whether a day lies in it.
    pub fn holds(self, day: Date) -> bool {
        let end = |anchor| self.0.anchored(anchor).date();
        let ends = end(Anchor::Start).zip(end(Anchor::End));
        ends.is_some_and(|(first, last)| (first..=last).contains(&day))
    }
}

/// `202403` and `20240305`.
const MONTH: usize = 6;
const DAY: usize = 8;

/// A year of our time.
fn year(word: &str) -> Option<i16> {
    let year = word.parse::<i16>().ok().filter(|_| word.len() == 4);
    year.filter(|year| (1900..2100).contains(year))
}

/// A month in two digits, or by its name in any language.
fn month(word: &str) -> Option<i8> {
    let of_digits = word.parse::<i8>().ok().filter(|_| word.len() == 2);
    of_digits.filter(|own| (1..=12).contains(own)).or_else(|| {
        let senses = Lexicon::every().look_up(word).filter(|_| word.chars().count() > 2)?;
        senses.month.and_then(|(number, _)| i8::try_from(number).ok())
    })
}

/// Whether a year, a month and a day stand beside each other in digits, from either end.
fn is_day(words: &[&str]) -> bool {
    let digits = |word: &str, length: usize| {
        word.len() == length && word.bytes().all(|byte| byte.is_ascii_digit())
    };
    let [a, b, c] = words else { return false };
    digits(b, 2) && (digits(a, 4) && digits(c, 2) || digits(a, 2) && digits(c, 4))
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;

    use super::*;

    #[test]
    fn names_say_a_month_or_a_year_if_they_say_one_alone() {
        for (name, said) in [
            ("rings-2023-04", Some("2023-04")),
            ("rings_202304", Some("2023-04")),
            ("April2023", Some("2023-04")),
            ("märz_2023", Some("2023-03")),
            ("2023 Q1", Some("2023")),
            ("rings", None),
            ("04_2023", Some("2023")),
            ("export-20230402", None),
            ("02.04.2023", None),
            ("2023-04_2023-05", None),
            ("2022 to 2023", None),
            ("net 1234", None),
            ("aéééb ééé", None),
        ] {
            let found = NamedPeriod::of(name).map(|own| own.value().to_string());
            assert_eq!(found.as_deref(), said, "{name}");
        }
    }

    #[test]
    fn periods_hold_their_days() {
        let march = NamedPeriod::of("2024-03").unwrap();
        assert!(march.holds(date(2024, 3, 31)) && !march.holds(date(2024, 4, 1)));
        let year = NamedPeriod::of("2024").unwrap();
        assert!(year.holds(date(2024, 12, 31)) && !year.holds(date(2023, 12, 31)));
    }
}
