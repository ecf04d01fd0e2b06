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
    let plain = PlainNumbers::of(evidence, asserted).filter(|_| !answered);
    // Years with a fraction look like days with a clock time: only a name makes them worth a question.
    let are_clocks = are_clocks && !are_among_years(numbers);
    let is_plain = plain.is_some_and(|own| own.is_likely);
    // Numbers that are called years, and lie where these do, are left as they are.
    let speaks = speaks && !(asserted.speaks_of_years && are_among_years(numbers));
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
    origins: Vec<OriginBeside>,
    rows: u64,
    /// Different days, as many as are needed.
    days: BTreeSet<Date>,
}

/// An origin, and what it gives beside the other column.
#[derive(Debug, Clone)]
struct OriginBeside {
    epoch: Epoch,
    /// Rows in which it gives what the other column holds.
    same: u64,
    /// Seconds by which the other column's clock is ahead of UTC in these rows, as many as are needed.
    ahead: BTreeSet<i64>,
}

impl OriginBeside {
    fn keep(&mut self, ahead: impl IntoIterator<Item = i64>) {
        self.ahead.extend(ahead);
        while self.ahead.len() > CLOCKS_BESIDE + 1 {
            self.ahead.pop_last();
        }
    }
}

/// Offsets from UTC that the clocks of a column have at most, if they are the moments that are counted: a zone has two
/// in a year. Events of the same day on quarters of an hour are apart by any of them.
const CLOCKS_BESIDE: usize = 4;

/// By how many seconds the clock of another column is ahead of UTC, if it shows a counted moment: it stands quarters of an
/// hour from UTC. Zero where it holds the same day or moment, none where it holds another.
fn ahead(own: TypedValue, beside: TypedValue) -> Option<i64> {
    const QUARTER: i64 = 900;
    const FARTHEST: i64 = 14 * 3_600;
    match (own, beside) {
        (TypedValue::Instant(own), TypedValue::Instant(beside)) => {
            (own.as_second() == beside.as_second()).then_some(0)
        }
        (TypedValue::Instant(own), TypedValue::DateTime(clock)) => {
            // A clock without seconds shows the minute that has begun.
            let own = match clock.second() {
                0 => own.as_second().div_euclid(60) * 60,
                _ => own.as_second(),
            };
            let ahead = Offset::UTC.to_timestamp(clock).ok()?.as_second() - own;
            (ahead % QUARTER == 0 && ahead.abs() <= FARTHEST).then_some(ahead)
        }
        (own, beside) => (own.date() == beside.date()).then_some(0),
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
        let origins = epochs.into_iter();
        let origins = origins.map(|epoch| OriginBeside { epoch, same: 0, ahead: BTreeSet::new() });
        OriginsBeside { origins: origins.collect(), rows: 0, days: BTreeSet::new() }
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
        for origin in &mut self.origins {
            let own = origin.epoch.read(number).ok();
            if let Some(ahead) = own.and_then(|own| ahead(own, beside)) {
                origin.same += 1;
                origin.keep([ahead]);
            }
        }
    }

    /// What these rows and others have shown.
    #[must_use]
    pub fn join(mut self, other: OriginsBeside) -> OriginsBeside {
        self.rows += other.rows;
        for (own, other) in self.origins.iter_mut().zip(other.origins) {
            own.same += other.same;
            own.keep(other.ahead);
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
        let mut often = self.origins.iter().filter(|own| own.same * 2 >= self.rows);
        match (often.next(), often.next()) {
            (Some(OriginBeside { epoch, same, ahead }), None)
                if same * 100 >= self.rows * 97 && ahead.len() <= CLOCKS_BESIDE =>
            {
                Some((*epoch, *same, self.rows))
            }
            _ => None,
        }
    }
}
