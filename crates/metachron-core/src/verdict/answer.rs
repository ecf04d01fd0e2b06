//! Known answers: a raw value and what it is, which narrows the readings of a column.

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, Time};

use crate::candidates::{Form, candidates};
use crate::duration::Duration;
use crate::evidence::ObserveOptions;
use crate::lexicon::Lexicon;
use crate::order::Alternative;
use crate::reading::{Fit, Terms, interpret};
use crate::text::normalise;
use crate::typed::TypedValue;

/// A raw value and its right answer.
///
/// ```
/// use metachron_core::verdict::Answer;
/// let answer = Answer::parse("03/04/2024=2024-04-03").unwrap();
/// assert_eq!(answer.value, "03/04/2024");
/// assert!(Answer::parse("03/04/2024=3 April").is_none());
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// The value as it is written.
    pub value: String,
    /// The answer as it was given, in ISO 8601.
    pub iso: String,
    is: Is,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Is {
    /// The day, whatever its clock time.
    Date(Date),
    DateTime(DateTime),
    Instant(Timestamp),
    Time(Time),
    Duration(Duration),
    /// A month, quarter, week or year: its ISO text is compared.
    Period,
}

impl Answer {
    /// Takes `RAW=ISO` apart at its last `=`; none if that is no ISO 8601.
    pub fn parse(text: &str) -> Option<Answer> {
        let (value, iso) = text.rsplit_once('=')?;
        let (value, iso) = (value.trim(), iso.trim());
        let is_digit = |at: usize| iso.as_bytes().get(at).is_some_and(u8::is_ascii_digit);
        let is = match iso.len() {
            _ if iso.trim_start_matches('-').starts_with('P') => Is::Duration(iso.parse().ok()?),
            10 => Is::Date(iso.parse().ok()?),
            4..=8 if is_digit(0) && is_digit(3) => Is::Period,
            _ if iso.contains('T') => match iso.parse() {
                Ok(instant) => Is::Instant(instant),
                Err(_) => Is::DateTime(iso.parse().ok()?),
            },
            _ => Is::Time(iso.parse().ok()?),
        };
        (!value.is_empty()).then(|| Answer { value: value.to_owned(), iso: iso.to_owned(), is })
    }

    /// The year of the answer, if it has a day.
    pub(crate) fn year(&self) -> Option<i16> {
        match self.is {
            Is::Date(date) => Some(date.year()),
            Is::DateTime(clock) => Some(clock.year()),
            Is::Instant(_) | Is::Time(_) | Is::Duration(_) | Is::Period => None,
        }
    }

    /// Whether the answer is a length of time.
    ///
    /// ```
    /// use metachron_core::verdict::Answer;
    /// assert!(Answer::parse("1:30=PT1M30S").unwrap().is_length());
    /// ```
    pub fn is_length(&self) -> bool {
        matches!(self.is, Is::Duration(_))
    }

    /// Whether this is what a reading gives.
    fn is_given(&self, fit: &Fit) -> bool {
        match (self.is, fit.moment) {
            (
                Is::Date(date),
                TypedValue::Date(_) | TypedValue::DateTime(_) | TypedValue::Instant(_),
            ) => fit.written == Some(date),
            (Is::DateTime(own), TypedValue::DateTime(other)) => own == other,
            (Is::Instant(own), TypedValue::Instant(other)) => own == other,
            (Is::Time(own), TypedValue::Time(other)) => own == other,
            (Is::Duration(own), TypedValue::Duration(other)) => own == other,
            (Is::Period, moment) => moment.to_string() == self.iso,
            _ => false,
        }
    }

    /// Whether some candidate of the value gives it.
    pub(crate) fn is_given_by_some(&self, options: &ObserveOptions) -> bool {
        self.checked(options).is_some_and(|check| !check.consistent.is_empty())
    }

    /// What the candidates of the value make of it.
    pub(crate) fn checked(&self, options: &ObserveOptions) -> Option<AnswerCheck> {
        self.checked_in(options, options.terms.lexicon)
    }

    fn checked_in(&self, options: &ObserveOptions, lexicon: Lexicon) -> Option<AnswerCheck> {
        let mut buffer = String::new();
        let value = normalise(&self.value, &mut buffer);
        let terms = Terms { lexicon, year: self.year().or(options.terms.year), ..options.terms };
        let family = candidates(value, terms, None, options.asked)?;
        let read = |layout| interpret(layout, value, terms).ok();
        let gives: Vec<(Alternative, Option<Fit>)> =
            family.candidates.iter().map(|c| (c.alternative, read(&c.layout))).collect();
        let right = gives.iter().filter(|(_, fit)| fit.is_some_and(|fit| self.is_given(&fit)));
        let consistent = right.map(|(order, _)| *order).collect();
        // Numbers that have become dates of far years are worth no word.
        let counts = |fit: &Option<Fit>| fit.is_none_or(|fit| family.form.style.counts(&fit));
        let gives = gives.iter().filter(|(_, fit)| counts(fit));
        let gives = gives.map(|(order, fit)| (*order, fit.map(|fit| fit.moment))).collect();
        Some(AnswerCheck { form: family.form, consistent, gives })
    }

    /// Whether some candidate gives the answer in the words of this lexicon.
    pub(crate) fn fits_in(&self, options: &ObserveOptions, lexicon: Lexicon) -> bool {
        self.checked_in(options, lexicon).is_some_and(|check| !check.consistent.is_empty())
    }
}

/// What an answer comes to of the form that its value has.
pub(crate) struct AnswerCheck {
    pub form: Form,
    /// The orders that give the answer.
    pub consistent: Vec<Alternative>,
    /// What every order gives.
    pub gives: Vec<(Alternative, Option<TypedValue>)>,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn answers_are_iso_8601() {
        for (text, understood) in [
            ("5082023=2023-08-05", true),
            ("a=b=2023-08-05", true),
            ("3/4/24 7:05=2024-04-03T07:05", true),
            ("3/4/24 7:05 +1=2024-04-03T06:05:00Z", true),
            ("7.05pm=19:05:00", true),
            ("Apr-22=2022-04", true),
            ("Q3 24=2024-Q3", true),
            ("1:30=PT1M30S", true),
            ("1:30=P", false),
            ("3/4/24=3/4/24", false),
            ("3/4/24", false),
            ("=2024-04-03", false),
            ("3/4/24=2024-13-01", false),
        ] {
            assert_eq!(Answer::parse(text).is_some(), understood, "{text}");
        }
    }
}
