//! How the numbers of lengths of time are written.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use super::Occurrences;
use super::adds_up::{AddsUp, fields_add_up};
use super::first_row::FirstRow;
use crate::lexicon::{UnitWord, unit_word};
use crate::reading::{NumberMarks, told};

/// Ways to write hours that are kept, and words for units.
const MOST: usize = 32;

/// See the module.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct AmountEvidence {
    /// Rows of amounts.
    pub rows: u64,
    /// Those with units that may be none of time: `183 mm`.
    pub measures: u64,
    /// Those with a single number, and a whole one.
    pub whole: u64,
    /// Rows with a comma that can only be a decimal mark.
    pub decimal_commas: u64,
    /// Rows with a point that can only be one.
    pub decimal_points: u64,
    /// Rows with a point that may as well stand between thousands: `1.500`.
    pub unclear_points: Occurrences,
    /// The words for units.
    words: Few<String>,
    /// Hours alone with a fraction of two digits.
    pub hours: HourFractions,
}

/// Fractions of hours that may be minutes.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct HourFractions {
    /// The different fractions of two digits.
    pub hundredths: BTreeSet<u8>,
    /// Rows with a fraction of another length: minutes have two digits.
    pub others: u64,
    /// What stands before and behind such a fraction, in the different ways it is written: `.` and ` h`.
    pub ways: Few<(char, String)>,
}

/// Different things, those that sort first if there are many.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Few<T: Ord>(BTreeSet<T>);

impl<T: Ord> Few<T> {
    /// Those that are kept.
    pub fn iter(&self) -> impl Iterator<Item = &T> {
        self.0.iter()
    }

    fn insert(&mut self, own: T) {
        self.0.insert(own);
        while self.0.len() > MOST {
            self.0.pop_last();
        }
    }
}

impl<T: Ord> Default for Few<T> {
    fn default() -> Few<T> {
        Few(BTreeSet::new())
    }
}

impl<T: Ord> AddsUp for Few<T> {
    fn add_up(&mut self, other: Few<T>) {
        other.0.into_iter().for_each(|own| self.insert(own));
    }
}

impl AmountEvidence {
    /// Looks at a value that is a length of time, and stands in so many rows.
    pub(super) fn observe(&mut self, rows: u64, value: &str, first: FirstRow<'_>) {
        let Some(told) = told(value) else { return };
        let amounts = told.amounts();
        let those = |are_so: bool| if are_so { rows } else { 0 };
        self.rows += rows;
        self.measures += those(amounts.iter().all(|own| own.word.may_be_measure()));
        let mut is_unclear = false;
        for own in amounts {
            match own.marks {
                NumberMarks::Decimal(',') => self.decimal_commas += rows,
                NumberMarks::Decimal(_) => self.decimal_points += rows,
                NumberMarks::Unclear('.') => is_unclear = true,
                NumberMarks::None => self.whole += those(amounts.len() == 1),
                _ => {}
            }
            let written = own.behind.trim_start();
            if !self.words.0.contains(written) {
                self.words.insert(written.to_owned());
            }
        }
        if is_unclear {
            first.note_all(rows, &mut self.unclear_points);
        }
        if let [own] = amounts
            && own.word.is_hours()
        {
            self.hours.observe(rows, &own.number, own.behind);
        }
    }

    /// Rows whose units may all be none of time, if some of them are marks: `75'`.
    pub fn marked(&self) -> u64 {
        let is_mark = |word: &String| unit_word(word).is_some_and(UnitWord::is_mark);
        if self.words.iter().any(is_mark) { self.measures } else { 0 }
    }

    /// Whether a language has all of its words for units.
    pub fn are_in(&self, language: &str) -> bool {
        self.words.iter().all(|word| unit_word(word).is_some_and(|word| word.is_in(language)))
    }
}

impl HourFractions {
    fn observe(&mut self, rows: u64, number: &str, behind: &str) {
        let Some((at, mark)) = number.char_indices().find(|(_, c)| matches!(c, '.' | ',')) else {
            return;
        };
        let fraction = &number[at + 1..];
        match fraction.parse() {
            Ok(hundredths) if fraction.len() == 2 => {
                self.hundredths.insert(hundredths);
                self.ways.insert((mark, behind.to_owned()));
            }
            _ => self.others += rows,
        }
    }
}

fields_add_up!(HourFractions: hundredths, others, ways);
fields_add_up!(AmountEvidence: rows, measures, whole, decimal_commas, decimal_points, unclear_points, words, hours);
