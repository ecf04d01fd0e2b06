//! Whether numbers below ten have a zero before them.

use serde::{Deserialize, Serialize};

use super::dates::WrittenDate;

/// How the first and the second number of a date of digits are written. Whoever writes `03/04/2024` and whoever
/// writes `3/4/2024` may be two different hands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct Padding(pub Zero, pub Zero);

/// Whether a zero stands before a number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Zero {
    /// It does.
    There,
    /// It does not, although the number is below ten.
    Absent,
    /// The number has two digits of its own.
    NotNeeded,
}

const ZEROS: [Zero; 3] = [Zero::There, Zero::Absent, Zero::NotNeeded];

impl Padding {
    /// That of what has no numbers.
    pub(super) const NONE: Padding = Padding(Zero::NotNeeded, Zero::NotNeeded);

    /// Every one, by its number.
    pub(super) fn all() -> impl Iterator<Item = Padding> {
        ZEROS.into_iter().flat_map(|first| ZEROS.map(|second| Padding(first, second)))
    }

    /// That of a date whose first two numbers have so many digits.
    pub(super) fn of(digits: [usize; 2], written: WrittenDate) -> Padding {
        let zero = |at: usize| match (written[at], digits[at]) {
            (..10, 1) => Zero::Absent,
            (..10, _) => Zero::There,
            _ => Zero::NotNeeded,
        };
        Padding(zero(0), zero(1))
    }

    pub(super) fn number(self) -> usize {
        let Padding(first, second) = self;
        first as usize * ZEROS.len() + second as usize
    }
}

/// How many digits the first two numbers of a text have.
pub(super) fn digits_of_parts(value: &str) -> [usize; 2] {
    let runs = value.split(|c: char| !c.is_ascii_digit()).filter(|run| !run.is_empty());
    let mut digits = runs.map(str::len);
    [digits.next().unwrap_or(0), digits.next().unwrap_or(0)]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_below_ten_tell_how_the_others_are_written() {
        let padding = |value, written| Padding::of(digits_of_parts(value), written);
        assert_eq!(padding("03/4/2024", [3, 4, 2024]), Padding(Zero::There, Zero::Absent));
        assert_eq!(padding("13/4/2024", [13, 4, 2024]), Padding(Zero::NotNeeded, Zero::Absent));
        assert_eq!(padding("13/11/2024 10:15", [13, 11, 2024]), Padding::NONE);
    }

    #[test]
    fn each_has_its_number() {
        assert!(Padding::all().enumerate().all(|(at, padding)| padding.number() == at));
    }
}
