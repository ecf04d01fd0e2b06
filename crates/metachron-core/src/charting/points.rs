//! Points of a chart, thinned honestly: where they are more than can be seen, the least and the greatest of each column of
//! pixels.

/// Points that are drawn as they are; more are thinned.
pub const MOST_POINTS: usize = 4_000;

/// The points of a series.
#[derive(Debug, Clone, PartialEq)]
pub struct Points {
    from: i128,
    to: i128,
    /// All of them, while they are few.
    all: Option<Vec<(i128, f64)>>,
    /// What each column of pixels holds.
    columns: Vec<Option<PixelColumn>>,
    count: u64,
}

/// The points in a column of pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PixelColumn {
    /// How many.
    pub count: u64,
    /// The least number.
    pub least: f64,
    /// The greatest.
    pub most: f64,
}

impl Points {
    /// None yet, between two places of an axis that is so many pixels long.
    ///
    /// ```
    /// use metachron_core::charting::Points;
    /// let mut points = Points::new((0, 100), 10);
    /// points.add(17, 2.5);
    /// points.add(3, 1.5);
    /// assert_eq!(points.all().unwrap(), [(3, 1.5), (17, 2.5)]);
    /// ```
    pub fn new((from, to): (i128, i128), pixels: usize) -> Points {
        Points { from, to, all: Some(Vec::new()), columns: vec![None; pixels.max(1)], count: 0 }
    }

    /// One more; what lies outside of the axis is not there.
    pub fn add(&mut self, at: i128, number: f64) {
        if at < self.from || at > self.to || !number.is_finite() {
            return;
        }
        self.count += 1;
        let pixels = self.columns.len() as i128;
        let column = (at - self.from) * pixels / (self.to - self.from).max(1);
        let column = usize::try_from(column.min(pixels - 1)).unwrap_or(0);
        let own = self.columns[column].get_or_insert(PixelColumn {
            count: 0,
            least: number,
            most: number,
        });
        own.count += 1;
        own.least = own.least.min(number);
        own.most = own.most.max(number);
        if let Some(all) = &mut self.all {
            all.push((at, number));
        }
        self.all.take_if(|all| all.len() > MOST_POINTS);
    }

    /// Those of two runs of rows together.
    #[must_use]
    pub fn join(mut self, other: Points) -> Points {
        self.count += other.count;
        for (own, other) in self.columns.iter_mut().zip(other.columns) {
            *own = match (*own, other) {
                (Some(own), Some(other)) => Some(PixelColumn {
                    count: own.count + other.count,
                    least: own.least.min(other.least),
                    most: own.most.max(other.most),
                }),
                (own, other) => own.or(other),
            };
        }
        self.all = self.all.zip(other.all).map(|(mut own, other)| {
            own.extend(other);
            own
        });
        self.all.take_if(|all| all.len() > MOST_POINTS);
        self
    }

    /// All points in the order of time, if they are few enough to be seen.
    pub fn all(&self) -> Option<Vec<(i128, f64)>> {
        let mut all = self.all.clone()?;
        all.sort_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)));
        Some(all)
    }

    /// The columns of pixels that hold any, by their place from the left.
    pub fn columns(&self) -> impl Iterator<Item = (usize, PixelColumn)> {
        self.columns.iter().enumerate().filter_map(|(at, own)| own.map(|own| (at, own)))
    }

    /// How many there are.
    pub fn count(&self) -> u64 {
        self.count
    }

    /// The least number and the greatest.
    pub fn ends(&self) -> Option<(f64, f64)> {
        let all = self.columns().map(|(_, own)| (own.least, own.most));
        all.reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        #[test]
        fn no_extreme_is_lost_and_parts_add_up(
            points in prop::collection::vec((0_i64..1_000, -50_i32..50), 1..200), cut in 0_usize..200,
        ) {
            let of = |points: &[(i64, i32)]| {
                let mut own = Points::new((0, 999), 40);
                points.iter().for_each(|(at, number)| own.add((*at).into(), f64::from(*number)));
                own
            };
            let whole = of(&points);
            let (first, second) = points.split_at(cut.min(points.len()));
            prop_assert_eq!(&of(first).join(of(second)), &whole);
            let numbers = || points.iter().map(|(_, number)| f64::from(*number));
            let ends = (numbers().fold(f64::MAX, f64::min), numbers().fold(f64::MIN, f64::max));
            prop_assert_eq!(whole.ends(), Some(ends));
            prop_assert_eq!(whole.columns().map(|(_, own)| own.count).sum::<u64>(), points.len() as u64);
        }
    }

    #[test]
    fn many_points_are_columns() {
        let mut points = Points::new((0, 9_999), 100);
        (0..10_000).for_each(|at| points.add(at, (at % 7) as f64));
        assert_eq!(points.all(), None);
        assert!(
            points.columns().all(|(_, own)| (own.least, own.most, own.count) == (0.0, 6.0, 100))
        );
    }
}
