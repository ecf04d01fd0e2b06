//! How the numbers of lengths of time are written.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use super::adds_up::AddsUp;
use super::{Occurrences, Witness};
use crate::reading::{Marks, told};

/// Ways to write hours that are kept.
const MOST_WAYS: usize = 8;

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
    /// Languages that have all of the words for units; none before there is one.
    languages: Option<BTreeSet<String>>,
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
    pub ways: BTreeSet<(char, String)>,
}

impl AmountEvidence {
    /// Looks at a value that is a length of time.
    pub(super) fn observe(&mut self, value: &str, witness: impl FnOnce() -> Witness) {
        let Some(told) = told(value) else { return };
        let mut is_unclear = false;
        self.rows += 1;
        self.measures += u64::from(told.amounts().iter().all(|(_, word)| word.may_be_measure()));
        for (number, word) in told.amounts() {
            match Marks::of(number) {
                Marks::Decimal(',') => self.decimal_commas += 1,
                Marks::Decimal(_) => self.decimal_points += 1,
                Marks::Unclear('.') => is_unclear = true,
                _ => {}
            }
            let own = || word.languages().into_iter().map(str::to_owned);
            match &mut self.languages {
                Some(all) => all.retain(|all| word.is_in(all)),
                languages => *languages = Some(own().collect()),
            }
        }
        if is_unclear {
            self.unclear_points.note(witness);
        }
        if let [(number, _)] = told.amounts() {
            self.whole += u64::from(Marks::of(number) == Marks::None);
        }
        if let [(number, word)] = told.amounts()
            && word.is_hours()
        {
            self.hours.observe(number, &value[value.find(number).unwrap_or(0) + number.len()..]);
        }
    }

    /// The languages that have all of its words.
    pub fn languages(&self) -> impl Iterator<Item = &str> {
        self.languages.iter().flatten().map(String::as_str)
    }
}

impl HourFractions {
    fn observe(&mut self, number: &str, behind: &str) {
        let Some((mark, fraction)) = number
            .char_indices()
            .find_map(|(at, c)| matches!(c, '.' | ',').then(|| (c, &number[at + 1..])))
        else {
            return;
        };
        match fraction.parse() {
            Ok(hundredths) if fraction.len() == 2 => {
                self.hundredths.insert(hundredths);
                self.add_ways([(mark, behind.to_owned())]);
            }
            _ => self.others += 1,
        }
    }

    fn add_ways(&mut self, ways: impl IntoIterator<Item = (char, String)>) {
        self.ways.extend(ways);
        while self.ways.len() > MOST_WAYS {
            self.ways.pop_last();
        }
    }
}

impl AddsUp for HourFractions {
    fn add_up(&mut self, other: HourFractions) {
        self.hundredths.extend(other.hundredths);
        self.others += other.others;
        self.add_ways(other.ways);
    }
}

impl AddsUp for AmountEvidence {
    fn add_up(&mut self, other: AmountEvidence) {
        self.rows += other.rows;
        self.measures += other.measures;
        self.whole += other.whole;
        self.decimal_commas += other.decimal_commas;
        self.decimal_points += other.decimal_points;
        self.unclear_points.add_up(other.unclear_points);
        self.languages = match (self.languages.take(), other.languages) {
            (Some(own), Some(other)) => Some(own.intersection(&other).cloned().collect()),
            (own, other) => own.or(other),
        };
        self.hours.add_up(other.hours);
    }
}
