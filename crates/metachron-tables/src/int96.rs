//! Timestamps in 96 bits: nanoseconds of the day, then the Julian day (Apache Parquet format, INT96). They count in UTC.

use std::fmt;
use std::str::FromStr;

use parquet::data_type::Int96;

/// The Julian day of 1970-01-01.
const EPOCH: i64 = 2_440_588;
/// Nanoseconds of a day.
const DAY: i128 = metachron_core::duration::DAY as i128;

/// What 96 bits hold, which need not be a moment. Shown as both numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct JulianMoment {
    day: i32,
    of_day: u64,
}

impl JulianMoment {
    pub(crate) fn of(bits: &Int96) -> JulianMoment {
        let [low, high, day] = [0, 1, 2].map(|at| bits.data().get(at).copied().unwrap_or(0));
        JulianMoment { day: day as i32, of_day: u64::from(high) << 32 | u64::from(low) }
    }

    pub(crate) fn bits(self) -> Int96 {
        let mut bits = Int96::new();
        bits.set_data(self.of_day as u32, (self.of_day >> 32) as u32, self.day as u32);
        bits
    }

    /// The moment so many nanoseconds after 1970-01-01; none beyond the days that can be counted.
    pub(crate) fn of_nanos(nanos: i128) -> Option<JulianMoment> {
        let day = nanos.div_euclid(DAY) + i128::from(EPOCH);
        Some(JulianMoment {
            day: i32::try_from(day).ok()?,
            of_day: u64::try_from(nanos.rem_euclid(DAY)).ok()?,
        })
    }

    /// Nanoseconds since 1970-01-01; none where there are more of them than a day has.
    pub(crate) fn nanos(self) -> Option<i128> {
        let of_day = i128::from(self.of_day);
        (of_day < DAY).then(|| i128::from(i64::from(self.day) - EPOCH) * DAY + of_day)
    }
}

impl fmt::Display for JulianMoment {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {}", self.day, self.of_day)
    }
}

impl FromStr for JulianMoment {
    type Err = std::num::ParseIntError;

    fn from_str(text: &str) -> Result<JulianMoment, Self::Err> {
        let (day, of_day) = text.split_once(' ').unwrap_or((text, ""));
        Ok(JulianMoment { day: day.parse()?, of_day: of_day.parse()? })
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::JulianMoment;

    #[test]
    fn the_epoch_is_a_known_julian_day() {
        let moment = JulianMoment::of_nanos(1).unwrap();
        assert_eq!(moment.to_string(), "2440588 1");
        assert_eq!(moment.bits().data(), [1, 0, 2_440_588]);
    }

    proptest! {
        #[test]
        fn it_is_the_same_in_each_form(day: i32, of_day: u64) {
            let moment = JulianMoment { day, of_day };
            prop_assert_eq!(JulianMoment::of(&moment.bits()), moment);
            prop_assert_eq!(moment.to_string().parse(), Ok(moment));
            prop_assert_eq!(moment.nanos().is_some(), of_day < 86_400_000_000_000);
            if let Some(nanos) = moment.nanos() {
                prop_assert_eq!(JulianMoment::of_nanos(nanos), Some(moment));
            }
        }
    }
}
