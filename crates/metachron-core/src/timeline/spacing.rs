//! How far the values of a column lie from each other, in the order of time.

use std::collections::BTreeMap;
use std::fmt;

use jiff::civil::DateTime;

use super::{RowsOfValue, Seen};
use crate::counting::{Per, Slot};
use crate::duration::{DAY, UNITS, Unit};
use crate::typed::{TypedValue, days_from_1970};

/// The length of a step from a value to the next one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Step {
    /// So many months of the calendar, from one day of the month to the same one, or from its last day to its last.
    Months(i32),
    /// So many nanoseconds.
    Nanos(i128),
}

/// Steps of one length.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Steps {
    /// How many.
    pub count: u64,
    /// The first of them: from where to where.
    pub first: Gap,
}

/// From a value to the next different one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Gap {
    /// The last value before it.
    pub from: Seen,
    /// The first one behind it.
    pub to: Seen,
}

/// Rows whose value an earlier one has too.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Repeats {
    /// How many.
    pub rows: u64,
    /// The earliest value that has any: a row, and the next one that has it.
    pub first: Option<(Seen, u64)>,
}

/// Periods without a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Holes {
    /// Which periods.
    pub per: Per,
    /// The last period that had a value.
    last: Option<Slot>,
    /// How many have none between the first value and the last.
    pub count: u64,
    /// The first of them.
    pub first: Option<Slot>,
}

/// The steps between the values of a column, added up in the order of time.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Spacing {
    last: Option<(Seen, Option<DateTime>)>,
    /// How many values there are, each counted once.
    pub different: u64,
    /// Rows that have a value of another row.
    pub repeats: Repeats,
    /// The steps by their length in nanoseconds; none once they are of too many lengths.
    nanos: Option<BTreeMap<i128, Steps>>,
    /// The same by months; under none those from one day of a month to another one.
    months: BTreeMap<Option<i32>, Steps>,
    /// The longest ones, the longest first.
    pub longest: Vec<Gap>,
    /// Periods without a value.
    pub holes: Vec<Holes>,
}

/// Steps of more lengths have no rule.
const MOST_LENGTHS: usize = 4_096;
/// The longest steps that are kept.
const LONGEST: usize = 3;

impl Spacing {
    /// Of no values yet; periods of these kinds that have no value are counted.
    ///
    /// ```
    /// use jiff::civil::date;
    /// use metachron_core::timeline::{Seen, Spacing};
    /// use metachron_core::typed::TypedValue;
    /// let mut spacing = Spacing::new(&[]);
    /// for (row, day) in [(1, 1), (2, 2), (3, 3), (4, 5), (5, 6), (6, 7)] {
    ///     spacing.observe(Seen { row, value: TypedValue::Date(date(2024, 3, day)) }, None);
    /// }
    /// let rule = spacing.rule().unwrap();
    /// assert_eq!((rule.step.to_string(), rule.kept, rule.steps), ("1 day".to_owned(), 4, 5));
    /// ```
    pub fn new(pers: &[Per]) -> Spacing {
        let holes = |per: &Per| Holes { per: *per, last: None, count: 0, first: None };
        Spacing {
            nanos: Some(BTreeMap::new()),
            holes: pers.iter().map(holes).collect(),
            ..Spacing::default()
        }
    }

    /// Takes in the next value in the order of time, those of equal ones in the order of their rows, and what its clock
    /// shows, if it has one.
    pub fn observe(&mut self, next: Seen, shown: Option<DateTime>) {
        for holes in &mut self.holes {
            holes.observe(next.value, shown);
        }
        let Some((last, _)) = self.last.filter(|(last, _)| last.value != next.value) else {
            match self.last {
                Some((last, _)) => {
                    self.repeats.rows += 1;
                    self.repeats.first.get_or_insert((last, next.row));
                }
                None => {
                    self.different = 1;
                    self.last = Some((next, shown));
                }
            }
            return;
        };
        self.different += 1;
        self.last = Some((next, shown));
        let gap = Gap { from: last, to: next };
        note(self.months.entry(months(last.value, next.value)), gap);
        let length = gap.nanos();
        if let Some(own) = &mut self.nanos {
            note(own.entry(length), gap);
        }
        self.nanos.take_if(|own| own.len() > MOST_LENGTHS);
        let place = self.longest.partition_point(|own| own.nanos() >= length);
        if place < LONGEST {
            self.longest.insert(place, gap);
            self.longest.truncate(LONGEST);
        }
    }

    /// Takes in all rows of the next value in the order of time.
    pub fn observe_all(&mut self, next: &RowsOfValue, shown: Option<DateTime>) {
        let first = Seen { row: next.first, value: next.value };
        self.observe(first, shown);
        if let Some(second) = next.second {
            self.repeats.rows += next.rows - 1;
            self.repeats.first.get_or_insert((first, second));
        }
    }

    /// The most frequent step, if at least half of all have it.
    pub fn rule(&self) -> Option<Rule<'_>> {
        let steps = self.different.saturating_sub(1);
        // Months before days, which may be as many in February.
        let (step, own) = self.lengths().max_by_key(|(_, own)| own.count)?;
        let rule = Rule { step, kept: own.count, steps, spacing: self };
        (own.count * 2 >= steps && own.count > 1).then_some(rule)
    }

    /// The steps of a length, if there are any.
    pub fn steps_of(&self, nanos: i128) -> Option<Steps> {
        self.nanos.as_ref()?.get(&nanos).copied()
    }

    /// Steps that are not of this length: how many, and one of them.
    pub fn unlike(&self, step: Step) -> (u64, Option<Gap>) {
        let mut unlike = (0, None);
        let mut add = |own: &Steps| {
            unlike.0 += own.count;
            unlike.1.get_or_insert(own.first);
        };
        match step {
            Step::Months(months) => {
                self.months
                    .iter()
                    .filter(|(own, _)| **own != Some(months))
                    .for_each(|(_, own)| add(own));
            }
            Step::Nanos(nanos) => match &self.nanos {
                Some(lengths) => {
                    lengths.iter().filter(|(own, _)| **own != nanos).for_each(|(_, own)| add(own));
                }
                // Of so many lengths nearly all are others.
                None => {
                    unlike = (self.different.saturating_sub(1), self.longest.first().copied());
                }
            },
        }
        unlike
    }

    /// The steps by their length: in nanoseconds, and those that are whole months as such once more.
    fn lengths(&self) -> impl Iterator<Item = (Step, &Steps)> {
        let nanos = self.nanos.iter().flatten().map(|(nanos, own)| (Step::Nanos(*nanos), own));
        let months = self.months.iter();
        nanos.chain(months.filter_map(|(own, steps)| Some((Step::Months((*own)?), steps))))
    }

    /// Those that are longer than one, in the same unit.
    fn longer(&self, than: Step) -> impl Iterator<Item = (Step, &Steps)> {
        self.lengths().filter(move |(own, _)| match (own, than) {
            (Step::Months(own), Step::Months(than)) => *own > than,
            (Step::Nanos(own), Step::Nanos(than)) => *own > than,
            _ => false,
        })
    }
}

/// A step that most values keep.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Rule<'s> {
    /// Its length.
    pub step: Step,
    /// How many steps have it.
    pub kept: u64,
    /// How many steps there are.
    pub steps: u64,
    spacing: &'s Spacing,
}

impl Rule<'_> {
    /// Steps that are longer, and the values that would fill them, where they are so many times as long.
    pub fn gaps(&self) -> (u64, u64) {
        let (mut gaps, mut missing) = (0, 0);
        for (step, own) in self.spacing.longer(self.step) {
            gaps += own.count;
            let times = match (step, self.step) {
                (Step::Months(long), Step::Months(own)) if own > 0 => i128::from(long / own),
                (Step::Nanos(long), Step::Nanos(own)) if own > 0 => long / own,
                _ => 1,
            };
            missing += own.count * u64::try_from(times - 1).unwrap_or(0);
        }
        (gaps, missing)
    }

    /// Steps that are shorter.
    pub fn shorter(&self) -> u64 {
        self.steps - self.kept - self.gaps().0
    }
}

impl Gap {
    /// Its length in nanoseconds.
    pub fn nanos(&self) -> i128 {
        place(self.to.value) - place(self.from.value)
    }

    /// Its length as one says it.
    pub fn step(&self) -> Step {
        Step::Nanos(self.nanos())
    }
}

impl Holes {
    fn observe(&mut self, value: TypedValue, shown: Option<DateTime>) {
        let slot = match shown {
            Some(clock) => Some(self.per.slot_of(clock)),
            None => self.per.slot(value),
        };
        let Some(slot) = slot else { return };
        if let Some(last) = self.last {
            // A clock that is put back stands in a period that was there.
            let between = last.through(slot).saturating_sub(2);
            if between > 0 {
                self.count += between;
                self.first.get_or_insert(last.next());
            }
        }
        self.last = Some(self.last.map_or(slot, |last| last.max(slot)));
    }
}

fn note<K: Ord>(entry: std::collections::btree_map::Entry<'_, K, Steps>, gap: Gap) {
    entry.or_insert(Steps { count: 0, first: gap }).count += 1;
}

/// Months from one day of a month to the same one of another, or from its last day to the last one.
fn months(from: TypedValue, to: TypedValue) -> Option<i32> {
    if matches!(from, TypedValue::Instant(_) | TypedValue::Week(_)) {
        return None;
    }
    let (first, second) = (from.date()?, to.date()?);
    if let (TypedValue::DateTime(from), TypedValue::DateTime(to)) = (from, to)
        && from.time() != to.time()
    {
        return None;
    }
    let are_last = first.last_of_month() == first && second.last_of_month() == second;
    let months = (i32::from(second.year()) - i32::from(first.year())) * 12
        + i32::from(second.month())
        - i32::from(first.month());
    (months > 0 && (first.day() == second.day() || are_last)).then_some(months)
}

/// Nanoseconds on a line: from the beginning of 1970 by the clock that a value shows, from midnight of a time; a length of
/// time by itself.
///
/// ```
/// use metachron_core::timeline::place;
/// use metachron_core::typed::TypedValue;
/// let day = TypedValue::Date(jiff::civil::date(1970, 1, 2));
/// assert_eq!(place(day), 86_400_000_000_000);
/// ```
pub fn place(value: TypedValue) -> i128 {
    let of_day = |date: jiff::civil::Date| {
        let days = days_from_1970(date.year().into(), date.month().into(), date.day().into());
        i128::from(days) * i128::from(DAY)
    };
    let of_time = |time: jiff::civil::Time| {
        let [hour, minute, second] = [time.hour(), time.minute(), time.second()].map(i128::from);
        ((hour * 60 + minute) * 60 + second) * 1_000_000_000 + i128::from(time.subsec_nanosecond())
    };
    match value {
        TypedValue::Time(time) => of_time(time),
        TypedValue::DateTime(clock) => of_day(clock.date()) + of_time(clock.time()),
        TypedValue::Instant(moment) => moment.as_nanosecond(),
        TypedValue::Duration(own) => own.rank(),
        TypedValue::Date(date)
        | TypedValue::Month(date)
        | TypedValue::Quarter(date)
        | TypedValue::Week(date)
        | TypedValue::Year(date) => of_day(date),
    }
}

/// What a clock shows that stands at a place: the counterpart of [`place`]; none beyond the calendar.
///
/// ```
/// use metachron_core::timeline::{clock_at, place};
/// use metachron_core::typed::TypedValue;
/// let clock = jiff::civil::date(1821, 3, 5).at(10, 15, 0, 0);
/// assert_eq!(clock_at(place(TypedValue::DateTime(clock))), Some(clock));
/// ```
pub fn clock_at(place: i128) -> Option<DateTime> {
    let days = i64::try_from(place.div_euclid(i128::from(DAY))).ok()?;
    let nanos = i64::try_from(place.rem_euclid(i128::from(DAY))).ok()?;
    let first = jiff::civil::date(1970, 1, 1);
    let day = first.checked_add(jiff::Span::new().try_days(days).ok()?).ok()?;
    day.at(0, 0, 0, 0).checked_add(jiff::Span::new().nanoseconds(nanos)).ok()
}

/// As one says it: `10 minutes`, `1 week`, `3 months`.
impl fmt::Display for Step {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (count, name) = match self {
            Step::Months(months) if months % 12 == 0 => (i128::from(months / 12), "years"),
            Step::Months(months) => (i128::from(*months), "months"),
            Step::Nanos(nanos) => {
                let mut units = UNITS
                    .iter()
                    .filter_map(|(name, unit)| Some((i128::from(unit.nanos()?), *name)));
                let (unit, name) =
                    units.find(|(unit, _)| nanos % unit == 0).unwrap_or((1, "nanoseconds"));
                (nanos / unit, name)
            }
        };
        let name = if count == 1 { name.trim_end_matches('s') } else { name };
        write!(f, "{count} {name}")
    }
}

impl Step {
    /// So many of a unit, such as `10 minutes`.
    ///
    /// ```
    /// use metachron_core::timeline::Step;
    /// assert_eq!(Step::parse("10 minutes").unwrap().to_string(), "10 minutes");
    /// assert_eq!(Step::parse("90 minutes").unwrap().to_string(), "90 minutes");
    /// assert_eq!(Step::parse("12 months").unwrap().to_string(), "1 year");
    /// assert_eq!(Step::parse("0 days"), None);
    /// ```
    pub fn parse(text: &str) -> Option<Step> {
        let (count, unit) = text.trim().split_once(' ').unwrap_or(("1", text.trim()));
        let count: i64 = count.parse().ok().filter(|count| *count > 0)?;
        match Unit::named(unit.trim()).ok()? {
            Unit::Months(months) => {
                i32::try_from(months.checked_mul(count)?).ok().map(Step::Months)
            }
            Unit::Days(days) => {
                Some(Step::Nanos(i128::from(days) * i128::from(DAY) * i128::from(count)))
            }
            Unit::Nanos(nanos) => Some(Step::Nanos(i128::from(nanos) * i128::from(count))),
        }
    }
}

#[cfg(test)]
mod tests {
    use jiff::civil::{Date, date};
    use proptest::prelude::*;

    use super::*;

    fn spacing(days: impl IntoIterator<Item = Date>, pers: &[Per]) -> Spacing {
        let mut spacing = Spacing::new(pers);
        for (row, day) in (1..).zip(days) {
            spacing.observe(Seen { row, value: TypedValue::Date(day) }, None);
        }
        spacing
    }

    #[test]
    fn months_are_a_rule_although_they_differ_in_days() {
        let ends = [date(2024, 1, 31), date(2024, 2, 29), date(2024, 3, 31), date(2024, 4, 30)];
        let firsts = (1..=12).map(|month| date(2023, month, 1));
        let all = [spacing(ends, &[]), spacing(firsts, &[])];
        for own in &all {
            let rule = own.rule().unwrap();
            assert_eq!((rule.step, rule.kept), (Step::Months(1), own.different - 1));
            assert_eq!(own.unlike(Step::Months(1)), (0, None));
            assert_eq!(rule.gaps(), (0, 0));
        }
    }

    #[test]
    fn gaps_are_told_with_what_would_fill_them() {
        let days = [1, 2, 2, 3, 4, 8, 9, 10, 12].map(|day| date(2024, 3, day));
        let own = spacing(days, &[Per::Day, Per::Month]);
        let rule = own.rule().unwrap();
        assert_eq!((rule.step.to_string(), rule.kept, rule.steps), ("1 day".to_owned(), 5, 7));
        assert_eq!((rule.gaps(), rule.shorter()), ((2, 4), 0));
        assert_eq!((own.repeats.rows, own.repeats.first.unwrap().1), (1, 3));
        assert_eq!(
            (own.longest[0].step().to_string(), own.longest[0].from.row),
            ("4 days".to_owned(), 5)
        );
        let holes: Vec<_> = own
            .holes
            .iter()
            .map(|own| (own.count, own.first.map(|slot| slot.to_string())))
            .collect();
        assert_eq!(holes, [(4, Some("2024-03-05".to_owned())), (0, None)]);
    }

    proptest! {
        #[test]
        fn steps_add_up_to_the_whole(mut days in prop::collection::vec(0_i64..400, 1..80)) {
            days.sort_unstable();
            let from = date(2024, 1, 1);
            let own = spacing(days.iter().map(|day| from.saturating_add(jiff::Span::new().days(*day))), &[Per::Day]);
            let mut different = days.clone();
            different.dedup();
            prop_assert_eq!(own.different, different.len() as u64);
            prop_assert_eq!(own.repeats.rows, (days.len() - different.len()) as u64);
            let steps: Vec<i64> = different.windows(2).map(|pair| pair[1] - pair[0]).collect();
            let missing: i64 = steps.iter().map(|step| step - 1).sum();
            prop_assert_eq!(own.holes[0].count, missing as u64);
            let unlike = steps.iter().filter(|step| **step != 2).count() as u64;
            prop_assert_eq!(own.unlike(Step::parse("2 days").unwrap()).0, unlike);
            let longest = own.longest.first().map(|gap| gap.nanos() / i128::from(DAY));
            prop_assert_eq!(longest, steps.iter().max().map(|step| i128::from(*step)));
        }
    }
}
