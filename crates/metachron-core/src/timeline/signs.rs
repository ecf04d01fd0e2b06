//! Signs that values may not be what they seem: each is improbable by chance, and shows at a glance.

use std::collections::BTreeMap;

use jiff::civil::{Date, Weekday};
use strum::{IntoStaticStr, VariantArray};

use super::rows_by_day::RowsByDay;
use super::rows_by_hour::RowsByHour;

/// Signs that values are not what they seem, by their names.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum SignKind {
    /// A few rows lie far from all others.
    Apart,
    /// A few rows lie after today.
    AfterToday,
    /// The days of a month stop at 12.
    #[strum(serialize = "days-stop-at-12")]
    DaysStop,
    /// Clock times stand at midnight, or at noon.
    ClocksStandStill,
    /// A day has far more rows than others.
    Spike,
    /// An hour is missing where clocks were put forward.
    SummerTime,
    /// Rows are in the order of their texts.
    SortedAsText,
    /// Rows lie outside of the time that the file's name says.
    OtherPeriod,
    /// An end lies before its beginning.
    EndBeforeStart,
}

/// Chance looks like this less than once in a billion times.
const BY_CHANCE: f64 = -20.7;
/// More of one kind than others have are so many times as many as the busiest of them: days and hours differ.
const BUSIER: f64 = 3.0;
/// Different days that are needed to know what is usual.
const DAYS: usize = 20;

/// A day that has far more rows than others.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Spike {
    /// It.
    pub date: Date,
    /// Its rows.
    pub rows: u64,
    /// The first of them.
    pub first: u64,
    /// Nineteen of twenty other days have so many at most.
    pub usual: u64,
}

/// A month that has no day above 12.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ShortMonth {
    /// Its first day.
    pub month: Date,
    /// Its different days.
    pub days: u64,
    /// Its rows.
    pub rows: u64,
    /// The first of them.
    pub first: u64,
}

/// Clock times that stand on one hour, without minutes, far more often than on others.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct StandInHour {
    /// The hour: midnight or noon.
    pub hour: u8,
    /// How many rows.
    pub rows: u64,
    /// The first of them.
    pub first: u64,
    /// Whether all rows stand there.
    pub is_all: bool,
}

/// The logarithm of the probability of so many events or more where so many are expected (Chernoff's bound of the tail of
/// Poisson's distribution).
fn ln_at_least(events: u64, expected: f64) -> f64 {
    let events = events as f64;
    if events <= expected { 0.0 } else { events - expected - events * (events / expected).ln() }
}

impl RowsByDay {
    /// The day that has more rows than any can have by chance, were it three times as busy as nearly all others.
    ///
    /// ```
    /// use jiff::civil::date;
    /// use metachron_core::timeline::Timeline;
    /// use metachron_core::typed::TypedValue;
    /// let mut timeline = Timeline::default();
    /// for row in 1..400 {
    ///     let day = if row % 4 == 0 { 1 } else { row / 4 };
    ///     let date = date(2024, 1, 1).saturating_add(jiff::Span::new().days(day));
    ///     timeline.observe(row as u64, TypedValue::Date(date), None);
    /// }
    /// assert_eq!(timeline.days.spike().unwrap().rows, 102);
    /// ```
    pub fn spike(&self) -> Option<Spike> {
        if self.len() < DAYS {
            return None;
        }
        let mut rows: Vec<u64> = self.iter().map(|(_, rows, _)| rows).collect();
        rows.sort_unstable();
        let most = rows.pop()?;
        let usual = *rows.get(rows.len() * 19 / 20)?;
        let (date, rows, first) = self.iter().find(|(_, rows, _)| *rows == most)?;
        let is_rare = ln_at_least(rows, 1.0 + BUSIER * usual as f64) < BY_CHANCE;
        is_rare.then_some(Spike { date, rows, first, usual })
    }

    /// Months whose days stop at 12: as if day and month stood in each other's place where both can be a month. The last
    /// month may only have begun.
    ///
    /// Of so many different days of a month, all are up to 12 by chance as often as drawing without putting back has it.
    pub fn months_that_stop(&self) -> Vec<ShortMonth> {
        let mut months: BTreeMap<Date, (u64, u64, u64, i8)> = BTreeMap::new();
        for (date, rows, first) in self.iter() {
            let own = months.entry(date.first_of_month()).or_insert((0, 0, first, 0));
            *own = (own.0 + 1, own.1 + rows, own.2.min(first), own.3.max(date.day()));
        }
        let all = months.len() as f64;
        let last = months.last_key_value().map(|(month, _)| *month);
        let stops = |month: Date, days: u64| {
            let length = f64::from(month.days_in_month());
            let ln: f64 =
                (0..days).map(|drawn| ((12.0 - drawn as f64) / (length - drawn as f64)).ln()).sum();
            // As many months are looked at.
            ln + all.ln() < RARE_MONTH
        };
        let short = months.into_iter().filter(|(month, (days, .., latest))| {
            *latest <= 12 && Some(*month) != last && stops(*month, *days)
        });
        short
            .map(|(month, (days, rows, first, _))| ShortMonth { month, days, rows, first })
            .collect()
    }

    /// Weekdays that never occur among days that are many enough to have each.
    pub fn absent_weekdays(&self) -> Vec<Weekday> {
        let mut seen = [false; 7];
        for (date, ..) in self.iter() {
            seen[date.weekday().to_monday_zero_offset() as usize] = true;
        }
        // One of seven is absent by chance so often.
        let ln = self.len() as f64 * (6.0_f64 / 7.0).ln();
        let absent = (0..7).filter(|at| ln < RARE_MONTH && !seen[*at as usize]);
        absent.filter_map(|at| Weekday::from_monday_zero_offset(at).ok()).collect()
    }

    /// Months of the year that never occur, although the days reach over more than two years.
    pub fn absent_months(&self) -> Vec<i8> {
        let Some((first, last)) = self.ends() else { return Vec::new() };
        let mut seen = [false; 12];
        for (date, ..) in self.iter() {
            seen[date.month() as usize - 1] = true;
        }
        let reaches = i32::from(last.year()) - i32::from(first.year()) > 2 && self.len() >= DAYS;
        (1..=12).filter(|month| reaches && !seen[*month as usize - 1]).collect()
    }
}

/// Chance looks like this less than once in ten thousand times.
const RARE_MONTH: f64 = -9.2;

impl RowsByHour {
    /// Midnight or noon, where clock times stand for none: all of them, or far more than on any other hour.
    pub fn stand_in(&self) -> Option<StandInHour> {
        let hours = self.hours();
        [0_u8, 12].into_iter().find_map(|hour| {
            let own = hours[usize::from(hour)];
            let others = hours.iter().enumerate().filter(|(at, _)| *at != usize::from(hour));
            let most = others.map(|(_, own)| own.whole).max().unwrap_or(0);
            let is_all = own.whole == self.rows() && own.whole > 0;
            let is_rare = ln_at_least(own.whole, 1.0 + BUSIER * most as f64) < BY_CHANCE;
            let found = StandInHour { hour, rows: own.whole, first: own.first_whole, is_all };
            (is_rare || is_all && own.whole > 1).then_some(found)
        })
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;

    use super::*;
    use crate::timeline::Timeline;
    use crate::typed::TypedValue;

    fn days(dates: impl IntoIterator<Item = Date>) -> RowsByDay {
        let mut timeline = Timeline::default();
        for (row, date) in (1..).zip(dates) {
            timeline.observe(row, TypedValue::Date(date), None);
        }
        timeline.days
    }

    /// Every day of a year, or those of which this holds.
    fn year(holds: impl Fn(Date) -> bool) -> Vec<Date> {
        let first = date(2024, 1, 1);
        let all = (0..366).map(|day| first.saturating_add(jiff::Span::new().days(day)));
        all.filter(|date| holds(*date)).collect()
    }

    #[test]
    fn months_that_stop_at_twelve_are_found_but_not_the_last() {
        let exchanged = days(year(|date| date.day() <= 12 || ![2, 5].contains(&date.month())));
        let found: Vec<i8> =
            exchanged.months_that_stop().iter().map(|own| own.month.month()).collect();
        assert_eq!(found, [2, 5]);
        let begun = days(year(|date| date <= jiff::civil::date(2024, 7, 12)));
        assert_eq!(begun.months_that_stop(), []);
        let payments = days(year(|date| date.day() % 5 == 0 && date.day() <= 10));
        assert_eq!(payments.months_that_stop(), [], "two days a month are no sign");
    }

    #[test]
    fn a_day_that_is_busy_as_some_are_is_no_spike() {
        let weekly = year(|_| true).into_iter().flat_map(|date| {
            let rows = if date.weekday() == Weekday::Saturday { 40 } else { 4 };
            vec![date; rows]
        });
        assert_eq!(days(weekly.clone()).spike(), None);
        let spike = days(weekly.chain(vec![date(2024, 1, 1); 400])).spike().unwrap();
        assert_eq!((spike.date, spike.rows, spike.usual), (date(2024, 1, 1), 404, 40));
    }

    #[test]
    fn weekdays_and_months_that_never_occur_need_time_to_occur() {
        let weekdays = days(year(|date| date.weekday().to_monday_zero_offset() < 5));
        assert_eq!(weekdays.absent_weekdays(), [Weekday::Saturday, Weekday::Sunday]);
        assert_eq!(days(year(|date| date.month() == 1 && date.day() < 6)).absent_weekdays(), []);
        let winters = (2019..2024).flat_map(|year| (1..=9).map(move |day| date(year, 1, day)));
        assert_eq!(days(winters).absent_months(), (2..=12).collect::<Vec<i8>>());
    }

    #[test]
    fn clocks_that_stand_at_midnight_are_none() {
        let clocks = |times: &[(i8, i8)]| {
            let mut timeline = Timeline::default();
            for (row, (hour, minute)) in (1..).zip(times) {
                let value = TypedValue::DateTime(date(2024, 3, 5).at(*hour, *minute, 0, 0));
                timeline.observe(row, value, None);
            }
            timeline.clocks.stand_in()
        };
        let hourly: Vec<(i8, i8)> = (0..240).map(|row| ((row % 24) as i8, 0)).collect();
        assert_eq!(clocks(&hourly), None);
        let mut some: Vec<(i8, i8)> =
            (0..100).map(|row| ((row % 24) as i8, (row % 59) as i8 + 1)).collect();
        some.extend([(0, 0); 30]);
        let found = clocks(&some).unwrap();
        assert_eq!((found.hour, found.rows, found.first, found.is_all), (0, 30, 101, false));
        assert!(clocks(&[(12, 0); 3]).unwrap().is_all);
    }
}
