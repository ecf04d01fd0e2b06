//! The shapes of a column as they are compared between deliveries: without zeros before digits.

use std::collections::BTreeMap;

use crate::evidence::{Evidence, Occurrences};

/// Shapes that differ only in the zeros before numbers below ten.
pub(super) struct SeenShape {
    /// The most frequent of them.
    pub shape: String,
    /// The rows of all.
    pub rows: Occurrences,
}

/// The shapes by what they have in common without such zeros; missing values have none.
pub(super) fn shapes(evidence: &Evidence) -> BTreeMap<String, SeenShape> {
    let mut shapes: BTreeMap<String, SeenShape> = BTreeMap::new();
    for (shape, tally) in evidence.shapes.by_frequency() {
        let own = shapes
            .entry(unpadded(shape))
            .or_insert_with(|| SeenShape { shape: shape.to_owned(), rows: Occurrences::default() });
        own.rows += Occurrences { rows: tally.rows, first: Some(tally.lowest.clone()) };
    }
    shapes
}

/// A shape in which one digit stands for two as well: days and months have one or two.
pub(super) fn unpadded(shape: &str) -> String {
    let mut unpadded = String::new();
    let mut digits = 0;
    let close = |unpadded: &mut String, digits: &mut usize| {
        let run = if *digits == 2 { 1 } else { *digits };
        unpadded.extend(std::iter::repeat_n('0', run));
        *digits = 0;
    };
    for c in shape.chars() {
        if c == '0' {
            digits += 1;
        } else {
            close(&mut unpadded, &mut digits);
            unpadded.push(c);
        }
    }
    close(&mut unpadded, &mut digits);
    unpadded
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn shapes_do_not_tell_one_digit_from_two() {
        for (shape, expected) in [
            ("00/0/0000", "0/0/0000"),
            ("0000-00-00T00:00", "0000-0-0T0:0"),
            ("‹month› 00, 0000", "‹month› 0, 0000"),
            ("00000000", "00000000"),
            ("", ""),
        ] {
            assert_eq!(unpadded(shape), expected);
        }
    }
}
