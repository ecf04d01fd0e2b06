//! Origins from which numbers may count: plausible ones side by side, and never one by itself.

use std::collections::BTreeSet;

use jiff::civil::Date;
use jiff::tz::Offset;

use super::answer::Answer;
use super::model::{Asserted, Judgement, Origin, Settle, Verdict};
use super::plain_numbers::{PlainNumbers, are_among_years};
use crate::epoch::{Epoch, Number};
use crate::evidence::{Evidence, NumberEvidence, ObserveOptions};
use crate::reading::Serials;
use crate::text::normalise;
use crate::typed::{Kind, TypedValue};

/// Different numbers that are needed to look at a column at all.
const DIFFERENT: usize = 3;
/// The share of clock times among fractions that say enough, in percent.
const CLOCKS: u64 = 95;
/// Fractions that are needed for that.
const FRACTIONS: u64 = 8;
/// How many of a hundred different numbers must count to dates that are usual.
const USUAL: usize = 95;

/// Numbers that may count from some origin.
pub(super) struct CountingNumbers {
    /// What they may be as they stand.
    pub plain: Option<PlainNumbers>,
    /// Where from; at least one if they are nothing as they stand.
    pub origins: Vec<Origin>,
    /// What they likely become.
    pub kind: Kind,
    /// Fractions that are clock times, and all that say enough; zeros where too few are.
    pub clocks: (u64, u64),
    /// Whether they count from the origin that the file has of its own.
    pub is_own: bool,
}

impl CountingNumbers {
    /// Those that stand for something, and the zeros that do not: as a time of day zero is midnight.
    pub fn rows(&self, numbers: &NumberEvidence) -> (u64, u64) {
        match self.kind {
            Kind::Time => (numbers.rows + numbers.zeros, 0),
            _ => (numbers.rows, numbers.zeros),
        }
    }
}

/// Numbers among so many values that may count from some origin, if anything but their size says that they are
/// dates: its name or its digits speak of them, clock times in their fractions, a known answer.
pub(super) fn counting_numbers(
    evidence: &Evidence,
    asserted: &Asserted,
    values: u64,
    speaks: bool,
) -> Option<CountingNumbers> {
    let numbers = &evidence.numbers;
    let are_numbers = (numbers.rows + numbers.zeros) * 20 >= values * 19;
    let are_clocks =
        numbers.telling >= FRACTIONS && numbers.clocks * 100 >= numbers.telling * CLOCKS;
    let answered = !asserted.answers.is_empty();
    let plain = PlainNumbers::of(evidence).filter(|_| !answered);
    // Years with a fraction look like days with a clock time: only a name makes them worth a question.
    let are_clocks = are_clocks && !are_among_years(numbers);
    let is_plain = plain.is_some_and(|own| own.is_likely);
    if !are_numbers
        || !(speaks || are_clocks || answered || is_plain)
        || (numbers.sample().len() < DIFFERENT && !answered)
    {
        return None;
    }
    let plausible = |epoch: Epoch| {
        let read = numbers.sample().filter_map(|number| epoch.read(number).ok());
        let usual: Vec<TypedValue> =
            read.filter(|moment| epoch.is_usual(*moment, asserted.as_of)).collect();
        let are_enough = usual.len() * 100 >= numbers.sample().len() * USUAL;
        let (earliest, latest) = (usual.iter().min()?, usual.iter().max()?);
        are_enough.then_some(Origin { epoch, earliest: *earliest, latest: *latest })
    };
    // A workbook has an origin of its own: numbers that can count from it do.
    let own = asserted.own_epoch.filter(|own| {
        plausible(*own).is_some() && asserted.answers.iter().all(|answer| gives(*own, answer))
    });
    let origins: Vec<Origin> = Epoch::all()
        .filter(|epoch| own.is_none_or(|own| own == *epoch))
        .filter(|epoch| asserted.own_epoch.is_none_or(|own| own == *epoch || !epoch.is_of_sheets()))
        // Differs from the 1900 system only before March 1900.
        .filter(|epoch| epoch.name() != Some("day-zero-1899"))
        .filter(|epoch| !are_clocks || epoch.kind(false) == Kind::Date)
        .filter_map(plausible)
        .filter(|origin| asserted.answers.iter().all(|answer| gives(origin.epoch, answer)))
        .collect();
    let counted = origins.first().map(|own| own.epoch.kind(numbers.fractions > 0));
    let kind = plain.map(PlainNumbers::kind).or(counted)?;
    let clocks = if are_clocks { (numbers.clocks, numbers.telling) } else { (0, 0) };
    Some(CountingNumbers { plain, origins, kind, clocks, is_own: own.is_some() })
}

/// What numbers count, where known answers leave a single origin, and are no dates in digits.
pub(crate) fn counted_by_answers(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Option<Serials> {
    let [first, ..] = &asserted.answers[..] else { return None };
    if options.serials.is_some() || first.is_given_by_some(options) {
        return None;
    }
    match &counting_numbers(evidence, asserted, evidence.numbers.rows, asserted.speaks_of_dates)?
        .origins[..]
    {
        [only] => Some(Serials { epoch: only.epoch, are_times: false }),
        _ => None,
    }
}

/// The origin by which a spreadsheet would show the numbers of a file, which may have one of its own.
pub(super) fn sheet_epoch(own: Option<Epoch>) -> Option<Epoch> {
    Epoch::all().find(|epoch| epoch.is_of_sheets() && own.is_none_or(|own| own == *epoch))
}

/// What numbers are by an origin, if there are some and all of them lie where dates usually do.
pub(super) fn all_usual(
    numbers: &NumberEvidence,
    epoch: Epoch,
    as_of: Date,
) -> Option<Vec<TypedValue>> {
    let usual = |moment: &TypedValue| epoch.is_usual(*moment, as_of);
    let read = numbers.sample().map(|number| epoch.read(number).ok().filter(usual));
    let read: Vec<TypedValue> = read.collect::<Option<_>>()?;
    (!read.is_empty()).then_some(read)
}

/// Whether a known answer is what its number counts.
pub(super) fn gives(epoch: Epoch, answer: &Answer) -> bool {
    let read = Number::parse(&answer.value).and_then(|number| epoch.read(number).ok());
    read.is_some_and(|moment| moment.to_string().starts_with(&answer.iso))
}

/// Numbers beside a column of dates, counted from every plausible origin.
///
/// ```
/// use metachron_core::typed::TypedValue;
/// use metachron_core::verdict::OriginsBeside;
/// let epochs = ["sheet-1900", "sheet-1904"].map(|name| name.parse().unwrap());
/// let mut beside = OriginsBeside::new(epochs.to_vec());
/// for day in 0..10 {
///     let date = jiff::civil::date(2024, 3, 1 + day);
///     beside.observe(&(45352 + i64::from(day)).to_string(), TypedValue::Date(date));
/// }
/// let (epoch, same, rows) = beside.settles().unwrap();
/// assert_eq!((epoch.name(), same, rows), (Some("sheet-1900"), 10, 10));
/// ```
#[derive(Debug, Clone)]
pub struct OriginsBeside {
    /// The origins, each with the rows in which it gives the day of the other column.
    origins: Vec<(Epoch, u64)>,
    rows: u64,
    /// Different days, as many as are needed.
    days: BTreeSet<Date>,
}

/// Whether a counted moment is what another column says: the same day, the same moment, or the same moment as the clock
/// of some zone shows it, quarters of an hour from UTC.
fn are_same(own: TypedValue, beside: TypedValue) -> bool {
    const QUARTER: i64 = 900;
    const FARTHEST: i64 = 14 * 3_600;
    match (own, beside) {
        (TypedValue::Instant(own), TypedValue::Instant(beside)) => {
            own.as_second() == beside.as_second()
        }
        (TypedValue::Instant(own), TypedValue::DateTime(clock)) => {
            let seconds = Offset::UTC.to_timestamp(clock).map(|as_utc| as_utc.as_second());
            // A clock without seconds shows the minute that has begun.
            let shown = |own: i64| if clock.second() == 0 { own.div_euclid(60) * 60 } else { own };
            seconds.is_ok_and(|seconds| {
                let apart = seconds - shown(own.as_second());
                apart % QUARTER == 0 && apart.abs() <= FARTHEST
            })
        }
        (own, beside) => own.date() == beside.date(),
    }
}

/// Different days that another column must have to settle an origin.
const DAYS_BESIDE: usize = 8;

impl OriginsBeside {
    /// The origins that the dates beside a column of numbers may show, of which one was perhaps said; none where there
    /// is nothing to show.
    pub fn possible(
        judgement: &Judgement,
        evidence: &Evidence,
        asserted: &Asserted,
        said: Option<Epoch>,
    ) -> Vec<Epoch> {
        let numbers = &evidence.numbers;
        let are_numbers = numbers.rows + numbers.zeros + evidence.missing == evidence.rows;
        // Numbers of which nothing speaks may be the moments of another column, counted since 1970.
        if judgement.verdict == Verdict::NotADate && are_numbers && numbers.fractions == 0 {
            let moments = Epoch::all().filter(|epoch| epoch.kind(false) == Kind::Instant);
            let usual = |epoch: &Epoch| all_usual(numbers, *epoch, asserted.as_of).is_some();
            return moments.filter(usual).collect();
        }
        let asked = judgement.settle.iter().filter_map(|way| match way {
            Settle::Epoch(epoch) => Some(*epoch),
            _ => None,
        });
        let mut epochs: Vec<Epoch> = said.into_iter().chain(asked).collect();
        // A workbook counts from one origin, and may hold numbers that were copied from one of another.
        if epochs.iter().any(|epoch| epoch.is_of_sheets()) {
            let sheets = Epoch::all().filter(|epoch| epoch.is_of_sheets());
            let others: Vec<Epoch> = sheets.filter(|epoch| !epochs.contains(epoch)).collect();
            epochs.extend(others);
        }
        // What was said is held against something else, or not at all.
        if said.is_some() && epochs.len() < 2 { Vec::new() } else { epochs }
    }

    /// Of these origins.
    pub fn new(epochs: Vec<Epoch>) -> OriginsBeside {
        let origins = epochs.into_iter().map(|epoch| (epoch, 0)).collect();
        OriginsBeside { origins, rows: 0, days: BTreeSet::new() }
    }

    /// Looks at a number and what the other column holds in the same row.
    pub fn observe(&mut self, value: &str, beside: TypedValue) {
        let mut buffer = String::new();
        let Some(number) = Number::parse(normalise(value, &mut buffer)) else { return };
        let Some(day) = beside.date() else { return };
        self.rows += 1;
        self.days.insert(day);
        if self.days.len() > DAYS_BESIDE {
            self.days.pop_last();
        }
        for (epoch, same) in &mut self.origins {
            let own = epoch.read(number).ok();
            *same += u64::from(own.is_some_and(|own| are_same(own, beside)));
        }
    }

    /// What these rows and others have shown.
    #[must_use]
    pub fn join(mut self, other: OriginsBeside) -> OriginsBeside {
        self.rows += other.rows;
        for (own, (_, same)) in self.origins.iter_mut().zip(other.origins) {
            own.1 += same;
        }
        self.days.extend(other.days);
        while self.days.len() > DAYS_BESIDE {
            self.days.pop_last();
        }
        self
    }

    /// The one origin that gives the other column's day in all rows but typing errors, with those rows
    /// and all; none where another one gives it in half of them, or days are too few.
    pub fn settles(&self) -> Option<(Epoch, u64, u64)> {
        if self.days.len() < DAYS_BESIDE {
            return None;
        }
        let mut often = self.origins.iter().filter(|(_, same)| same * 2 >= self.rows);
        match (often.next(), often.next()) {
            (Some((epoch, same)), None) if same * 100 >= self.rows * 97 => {
                Some((*epoch, *same, self.rows))
            }
            _ => None,
        }
    }
}
