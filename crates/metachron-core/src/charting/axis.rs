//! Axes: from where to where, and where the ticks stand.

use jiff::civil::{Date, DateTime};

use super::labels::Labels;
use crate::duration::DAY;
use crate::timeline::{Step, clock_at};

/// An axis of time, of times of day, or of lengths of time.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Axis {
    /// Where it begins, in nanoseconds: see [`place`](crate::timeline::place).
    pub from: i128,
    /// Where it ends.
    pub to: i128,
    /// From one tick to the next.
    pub step: Step,
    /// The ticks, from the left.
    pub ticks: Vec<Tick>,
}

/// A tick of an axis.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tick {
    /// Where it stands.
    pub at: i128,
    /// What stands at it.
    pub label: String,
    /// What that is part of, where it is another than at the tick before: the day of a clock time, the year of a day.
    pub part_of: Option<String>,
}

const SECOND: i128 = 1_000_000_000;
const MINUTE: i128 = 60 * SECOND;
const HOUR: i128 = 60 * MINUTE;

/// The steps that are read at a glance, from the smallest on.
const STEPS: [Step; 42] = {
    const fn nanos(count: i128, unit: i128) -> Step {
        Step::Nanos(count * unit)
    }
    [
        nanos(1, SECOND / 1_000),
        nanos(10, SECOND / 1_000),
        nanos(100, SECOND / 1_000),
        nanos(1, SECOND),
        nanos(2, SECOND),
        nanos(5, SECOND),
        nanos(10, SECOND),
        nanos(15, SECOND),
        nanos(30, SECOND),
        nanos(1, MINUTE),
        nanos(2, MINUTE),
        nanos(5, MINUTE),
        nanos(10, MINUTE),
        nanos(15, MINUTE),
        nanos(30, MINUTE),
        nanos(1, HOUR),
        nanos(2, HOUR),
        nanos(3, HOUR),
        nanos(6, HOUR),
        nanos(12, HOUR),
        nanos(1, DAY as i128),
        nanos(2, DAY as i128),
        nanos(7, DAY as i128),
        nanos(14, DAY as i128),
        Step::Months(1),
        Step::Months(2),
        Step::Months(3),
        Step::Months(6),
        Step::Months(12),
        Step::Months(24),
        Step::Months(60),
        Step::Months(120),
        Step::Months(240),
        Step::Months(600),
        Step::Months(1_200),
        Step::Months(2_400),
        Step::Months(6_000),
        Step::Months(12_000),
        Step::Months(24_000),
        Step::Months(60_000),
        Step::Months(120_000),
        Step::Months(240_000),
    ]
};

/// More ticks are read by nobody.
const MOST_TICKS: usize = 400;

impl Axis {
    /// An axis of the calendar, with so many ticks at most, or with this step.
    ///
    /// # Errors
    /// How many ticks the step would make, if they are too many.
    pub fn of_calendar(
        (from, to): (i128, i128),
        most: usize,
        step: Option<Step>,
        labels: Labels,
    ) -> Result<Axis, u64> {
        let fits = |step: &Step| {
            about(*step, to - from) <= most as i128
                && places(*step, from, to, most + 1).len() <= most
        };
        let chosen =
            step.unwrap_or_else(|| STEPS.into_iter().find(fits).unwrap_or(STEPS[STEPS.len() - 1]));
        let ticks = about(chosen, to - from);
        if ticks > MOST_TICKS as i128 {
            return Err(u64::try_from(ticks).unwrap_or(u64::MAX));
        }
        let mut last = None;
        let ticks = places(chosen, from, to, MOST_TICKS + 2).into_iter().filter_map(|at| {
            let (label, part_of) = labels.of_tick(clock_at(at)?, chosen);
            let is_new = last.as_ref() != Some(&part_of) && !part_of.is_empty();
            last = Some(part_of.clone());
            Some(Tick { at, label, part_of: is_new.then_some(part_of) })
        });
        Ok(Axis { from, to, step: chosen, ticks: ticks.collect() })
    }

    /// An axis of the hours of a day.
    ///
    /// # Errors
    /// As [`Axis::of_calendar`].
    pub fn of_day(most: usize, step: Option<Step>) -> Result<Axis, u64> {
        let mut axis = Axis::of_calendar((0, i128::from(DAY)), most, step, Labels::english())?;
        axis.ticks.iter_mut().for_each(|tick| tick.part_of = None);
        if let Some(last) = axis.ticks.last_mut().filter(|tick| tick.at == i128::from(DAY)) {
            last.label = "24:00".to_owned();
        }
        Ok(axis)
    }

    /// An axis of lengths of time: ticks at multiples of the step.
    ///
    /// # Errors
    /// As [`Axis::of_calendar`].
    pub fn of_lengths(
        (from, to): (i128, i128),
        most: usize,
        step: Option<Step>,
    ) -> Result<Axis, u64> {
        let nanos = |step: &Step| match step {
            Step::Nanos(nanos) => *nanos,
            Step::Months(months) => i128::from(*months) * 2_629_746 * SECOND,
        };
        let fits = |step: &Step| (to - from) / nanos(step) < most as i128;
        let chosen =
            step.unwrap_or_else(|| STEPS.into_iter().find(fits).unwrap_or(STEPS[STEPS.len() - 1]));
        let ticks = (to - from) / nanos(&chosen);
        if ticks > MOST_TICKS as i128 {
            return Err(u64::try_from(ticks).unwrap_or(u64::MAX));
        }
        let length = nanos(&chosen);
        let first = -(-from).div_euclid(length);
        let label = |times: i128| match (times, chosen) {
            (0, _) => "0".to_owned(),
            (times, Step::Months(months)) => {
                Step::Months(months * i32::try_from(times).unwrap_or(i32::MAX)).to_string()
            }
            (times, Step::Nanos(_)) => in_units(times * length),
        };
        let ticks = (first..=to.div_euclid(length)).map(|times| Tick {
            at: times * length,
            label: label(times),
            part_of: None,
        });
        Ok(Axis { from, to, step: chosen, ticks: ticks.collect() })
    }

    /// Where a place lies on the axis, from 0 to 1.
    pub fn share(&self, at: i128) -> f64 {
        let length = (self.to - self.from).max(1);
        (at - self.from) as f64 / length as f64
    }
}

/// A length as one says it at a tick: `90 min`, `2 h`, `3 d`.
fn in_units(nanos: i128) -> String {
    let units =
        [(i128::from(DAY), "d"), (HOUR, "h"), (MINUTE, "min"), (SECOND, "s"), (1_000_000, "ms")];
    let (unit, name) = units.into_iter().find(|(unit, _)| nanos % unit == 0).unwrap_or((1, "ns"));
    format!("{} {name}", nanos / unit)
}

/// About how many steps a length has.
fn about(step: Step, length: i128) -> i128 {
    match step {
        Step::Nanos(nanos) => length / nanos.max(1),
        Step::Months(months) => length / (i128::from(months.max(1)) * 2_629_746 * SECOND),
    }
}

/// The boundaries of the calendar between two places, so many at most: weeks begin on Monday, years of several at their
/// multiples.
fn places(step: Step, from: i128, to: i128, most: usize) -> Vec<i128> {
    match step {
        Step::Nanos(step) => {
            let week = 7 * i128::from(DAY);
            // The first Monday after 1970 began.
            let zero = if step % week == 0 { 4 * i128::from(DAY) } else { 0 };
            let first = -(-(from - zero)).div_euclid(step) * step + zero;
            let all = std::iter::successors(Some(first), |at| Some(at + step));
            all.take_while(|at| *at <= to).take(most).collect()
        }
        Step::Months(step) => {
            let Some(first) = clock_at(from).map(DateTime::date) else { return Vec::new() };
            let months = i32::from(first.year()) * 12 + i32::from(first.month()) - 1;
            let place = |months: i32| {
                let year = i16::try_from(months.div_euclid(12)).ok()?;
                let month = i8::try_from(months.rem_euclid(12)).ok()? + 1;
                let day = Date::new(year, month, 1).ok()?;
                Some(crate::timeline::place(crate::typed::TypedValue::Date(day)))
            };
            let begin = months.div_euclid(step) * step;
            let all = std::iter::successors(Some(begin), |months| Some(months + step));
            let all = all.map_while(place).skip_while(|at| *at < from);
            all.take_while(|at| *at <= to).take(most).collect()
        }
    }
}

/// An axis of numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct NumberAxis {
    /// Where it begins.
    pub from: f64,
    /// Where it ends.
    pub to: f64,
    /// The ticks, from below.
    pub ticks: Vec<(f64, String)>,
}

impl NumberAxis {
    /// An axis that holds these numbers, with about so many ticks at round numbers.
    ///
    /// ```
    /// use metachron_core::charting::NumberAxis;
    /// let axis = NumberAxis::of((0.0, 230.0), 5);
    /// let labels: Vec<&str> = axis.ticks.iter().map(|(_, label)| label.as_str()).collect();
    /// assert_eq!(labels, ["0", "50", "100", "150", "200", "250"]);
    /// ```
    pub fn of((least, most): (f64, f64), ticks: usize) -> NumberAxis {
        // A single value has room around it.
        let room = if most > least { 0.0 } else { least.abs().max(1.0) / 2.0 };
        let (least, most) = (least - if least == 0.0 { 0.0 } else { room }, most + room);
        let rough = (most - least) / ticks.max(1) as f64;
        let power = 10_f64.powf(rough.log10().floor());
        let step = [1.0, 2.0, 5.0, 10.0]
            .map(|own| own * power)
            .into_iter()
            .find(|step| *step >= rough * 0.999);
        let step = step.unwrap_or(power * 10.0);
        let (first, last) = ((least / step).floor(), (most / step).ceil());
        let digits = (-(step.log10().floor())).max(0.0) as usize;
        let label = |number: f64| {
            let text = format!("{number:.digits$}");
            let (whole, fraction) =
                text.split_once('.').map_or((text.as_str(), None), |(a, b)| (a, Some(b)));
            let sign = if whole.starts_with('-') { "-" } else { "" };
            let whole = whole
                .trim_start_matches('-')
                .parse()
                .map_or(whole.to_owned(), crate::text::grouped);
            fraction
                .map_or(format!("{sign}{whole}"), |fraction| format!("{sign}{whole}.{fraction}"))
        };
        let count = (last - first) as usize;
        let ticks = (0..=count).map(|at| (first + at as f64) * step);
        let ticks = ticks.map(|number| (number, label(number))).collect();
        NumberAxis { from: first * step, to: last * step, ticks }
    }

    /// An axis from nothing to so many rows, with ticks at whole numbers.
    ///
    /// ```
    /// use metachron_core::charting::NumberAxis;
    /// let labels = |most| NumberAxis::of_counts(most, 5).ticks.into_iter().map(|(_, label)| label).collect::<Vec<_>>();
    /// assert_eq!(labels(2), ["0", "1", "2"]);
    /// assert_eq!(labels(9), ["0", "2", "4", "6", "8", "10"]);
    /// ```
    pub fn of_counts(most: u64, ticks: usize) -> NumberAxis {
        let ticks = ticks.min(usize::try_from(most.max(1)).unwrap_or(ticks));
        NumberAxis::of((0.0, most.max(1) as f64), ticks)
    }

    /// Where a number lies on the axis, from 0 to 1.
    pub fn share(&self, number: f64) -> f64 {
        (number - self.from) / (self.to - self.from).max(f64::MIN_POSITIVE)
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;
    use proptest::prelude::*;

    use super::*;
    use crate::timeline::place;
    use crate::typed::TypedValue;

    fn at(text: &str) -> i128 {
        place(TypedValue::DateTime(text.parse().unwrap()))
    }

    fn axis(from: &str, to: &str, step: Option<&str>) -> Axis {
        let step = step.map(|text| Step::parse(text).unwrap());
        Axis::of_calendar((at(from), at(to)), 8, step, Labels::english()).unwrap()
    }

    fn texts(axis: &Axis) -> Vec<String> {
        let text = |tick: &Tick| match &tick.part_of {
            Some(part_of) => format!("{} | {part_of}", tick.label),
            None => tick.label.clone(),
        };
        axis.ticks.iter().map(text).collect()
    }

    #[test]
    fn ticks_stand_on_boundaries_of_the_calendar() {
        for (from, to, step, expected) in [
            (
                "2024-01-20T00:00",
                "2024-12-31T00:00",
                None,
                vec!["Mar | 2024", "May", "Jul", "Sep", "Nov"],
            ),
            (
                "2023-11-20T00:00",
                "2024-02-10T00:00",
                Some("1 month"),
                vec!["Dec | 2023", "Jan | 2024", "Feb"],
            ),
            (
                "2024-03-01T00:00",
                "2024-03-25T00:00",
                Some("1 week"),
                vec!["4 Mar | 2024", "11 Mar", "18 Mar", "25 Mar"],
            ),
            (
                "2024-03-05T10:02",
                "2024-03-05T10:07",
                Some("2 minutes"),
                vec!["10:02 | 5 Mar 2024", "10:04", "10:06"],
            ),
            (
                "2024-03-05T20:00",
                "2024-03-06T14:00",
                Some("6 hours"),
                vec!["00:00 | 6 Mar 2024", "06:00", "12:00"],
            ),
            (
                "2024-03-05T10:00:00",
                "2024-03-05T10:00:31",
                Some("10 seconds"),
                vec!["10:00:00 | 5 Mar 2024", "10:00:10", "10:00:20", "10:00:30"],
            ),
            (
                "1987-05-05T00:00",
                "2024-01-01T00:00",
                None,
                vec!["1990", "1995", "2000", "2005", "2010", "2015", "2020"],
            ),
        ] {
            assert_eq!(texts(&axis(from, to, step)), expected, "{from} to {to}");
        }
    }

    #[test]
    fn ticks_are_called_as_a_region_calls_days() {
        let of = |tag: &str, step: &str| {
            let labels = Labels::of(crate::lexicon::Locale::named(tag).unwrap());
            let step = Step::parse(step).unwrap();
            let ends = (at("2024-03-04T00:00"), at("2024-03-10T00:00"));
            let axis = Axis::of_calendar(ends, 8, Some(step), labels).unwrap();
            axis.ticks[0].label.clone()
        };
        let found = ["de-DE", "en-US", "ja-JP", "fa-IR"].map(|tag| of(tag, "1 week"));
        assert_eq!(found[..3], ["4 März", "Mar 4", "3/4"]);
        assert!(found[3].contains("مارس"), "{}", found[3]);
    }

    #[test]
    fn lengths_and_days_have_axes_too() {
        let hour = 3_600_000_000_000;
        let axis = Axis::of_lengths((0, 5 * hour), 8, None).unwrap();
        assert_eq!(texts(&axis), ["0", "1 h", "2 h", "3 h", "4 h", "5 h"]);
        let axis = Axis::of_lengths((-hour / 2, hour), 4, Some(Step::parse("30 minutes").unwrap()))
            .unwrap();
        assert_eq!(texts(&axis), ["-30 min", "0", "30 min", "1 h"]);
        let day = Axis::of_day(10, Some(Step::parse("6 hours").unwrap())).unwrap();
        assert_eq!(texts(&day), ["00:00", "06:00", "12:00", "18:00", "24:00"]);
        assert!(Axis::of_day(10, Some(Step::parse("1 second").unwrap())).is_err());
    }

    #[test]
    fn numbers_have_round_ticks() {
        let texts = |ends| {
            NumberAxis::of(ends, 4).ticks.into_iter().map(|(_, text)| text).collect::<Vec<_>>()
        };
        assert_eq!(texts((-3.0, 7.0)), ["-5", "0", "5", "10"]);
        assert_eq!(texts((1_200.0, 4_100.0)), ["1,000", "2,000", "3,000", "4,000", "5,000"]);
        assert_eq!(texts((0.01, 0.04)), ["0.01", "0.02", "0.03", "0.04"]);
        assert_eq!(texts((-0.5, 0.0)), ["-0.6", "-0.4", "-0.2", "0.0"]);
        let alone = NumberAxis::of((7.0, 7.0), 4);
        assert!(alone.from < 7.0 && alone.to > 7.0);
    }

    proptest! {
        #[test]
        fn no_axis_has_too_many_ticks_or_ticks_outside(days in -700_000_i64..2_900_000, length in 1_i64..3_000_000_000_000) {
            let from = place(TypedValue::Date(date(1970, 1, 1).saturating_add(jiff::Span::new().days(days))));
            let to = from + i128::from(length) * 1_000_000;
            let axis = Axis::of_calendar((from, to), 12, None, Labels::english()).unwrap();
            prop_assert!(axis.ticks.len() <= 12, "{}", axis.ticks.len());
            prop_assert!(axis.ticks.iter().all(|tick| (from..=to).contains(&tick.at)));
            prop_assert!(axis.ticks.windows(2).all(|pair| pair[0].at < pair[1].at));
        }
    }
}
