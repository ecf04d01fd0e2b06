//! What the numbers of a period add up to.

use crate::epoch::Number;

/// What is said of the numbers of a period.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Figure {
    /// What they add up to.
    Sum,
    /// That by how many they are.
    Mean,
    /// The least one.
    Least,
    /// The greatest one.
    Most,
}

/// Numbers added up: exact, whatever their order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Amounts {
    numbers: u64,
    /// None where it has more digits than can be held.
    sum: Option<Number>,
    ends: Option<(Number, Number)>,
}

/// No numbers, which add up to nothing.
impl Default for Amounts {
    fn default() -> Amounts {
        Amounts { numbers: 0, sum: Some(Number::from(0)), ends: None }
    }
}

impl Amounts {
    /// One more.
    pub fn add(&mut self, number: Number) {
        self.join(&Amounts { numbers: 1, sum: Some(number), ends: Some((number, number)) });
    }

    /// Those of two parts together.
    pub fn join(&mut self, other: &Amounts) {
        self.numbers += other.numbers;
        self.sum = self.sum.zip(other.sum).and_then(|(own, other)| own.plus(other));
        self.ends = match (self.ends, other.ends) {
            (Some((least, most)), Some((lesser, greater))) => Some((
                if lesser.is_below(least) { lesser } else { least },
                if most.is_below(greater) { greater } else { most },
            )),
            (own, other) => own.or(other),
        };
    }

    /// How many they are.
    pub fn numbers(&self) -> u64 {
        self.numbers
    }

    /// A figure; none of no numbers, but that these add up to nothing, and none where it has more digits than can be
    /// held. A mean has nine digits behind the point at most.
    pub fn figure(&self, figure: Figure) -> Option<Number> {
        match figure {
            Figure::Sum => self.sum,
            Figure::Mean => self.sum?.over(self.numbers),
            Figure::Least => self.ends.map(|(least, _)| least),
            Figure::Most => self.ends.map(|(_, most)| most),
        }
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    fn number(text: &str) -> Number {
        Number::parse(text).unwrap()
    }

    fn added(texts: &[&str]) -> Amounts {
        let mut amounts = Amounts::default();
        texts.iter().for_each(|text| amounts.add(number(text)));
        amounts
    }

    #[test]
    fn sums_are_exact() {
        let tenths = added(&["0.1"; 10]);
        assert_eq!(tenths.figure(Figure::Sum), Some(number("1")));
        assert_eq!(tenths.figure(Figure::Mean), Some(number("0.1")));
        let mixed = added(&["-3", "12.75", "2"]);
        let figures = [Figure::Sum, Figure::Mean, Figure::Least, Figure::Most];
        let found = figures.map(|figure| mixed.figure(figure).unwrap().to_string());
        assert_eq!(found, ["11.75", "3.916666667", "-3", "12.75"]);
        assert_eq!(Amounts::default().figure(Figure::Sum), Some(Number::from(0)));
        assert_eq!(Amounts::default().figure(Figure::Most), None);
        let long = added(&["1e35", "1e-30"]);
        assert_eq!(long.figure(Figure::Sum), None);
    }

    proptest! {
        #[test]
        fn parts_add_up_as_the_whole(values in prop::collection::vec(-1_000_000_i64..1_000_000, 0..40), cut in 0_usize..40) {
            let of = |values: &[i64]| {
                let mut amounts = Amounts::default();
                values.iter().for_each(|value| amounts.add(Number::ratio((*value).into(), 100)));
                amounts
            };
            let (first, second) = values.split_at(cut.min(values.len()));
            let mut joined = of(first);
            joined.join(&of(second));
            prop_assert_eq!(&joined, &of(&values));
            let sum: i64 = values.iter().sum();
            prop_assert_eq!(joined.figure(Figure::Sum), Some(Number::ratio(sum.into(), 100)));
        }
    }
}
