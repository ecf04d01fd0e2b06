//! Numbers that count from an origin: plausible origins side by side, and never one by itself.

use std::collections::BTreeSet;

use jiff::civil::Date;

use super::{Answer, Counts, Judgement, Known, Reason, Settle, Verdict};
use crate::epoch::{Epoch, Number};
use crate::evidence::{Evidence, Lens};
use crate::moment::{Kind, Moment};
use crate::reading::Serials;
use crate::text::normalise;

/// An origin from which the numbers of a column may count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Origin {
    /// The epoch.
    pub epoch: Epoch,
    /// The smallest number as it counts.
    pub earliest: Moment,
    /// The largest.
    pub latest: Moment,
}

/// Different numbers that are needed to look at a column at all.
const DIFFERENT: usize = 3;
/// The share of clock times among fractions that say enough, in percent.
const CLOCKS: u64 = 95;
/// Fractions that are needed for that.
const FRACTIONS: u64 = 8;
/// How many of a hundred different numbers must count to dates that are usual.
const USUAL: usize = 95;

/// Words of columns that hold dates, in several languages.
const WORDS: [&str; 38] = [
    "date",
    "dates",
    "datetime",
    "day",
    "time",
    "timestamp",
    "stamp",
    "when",
    "since",
    "until",
    "start",
    "end",
    "begin",
    "opened",
    "closed",
    "created",
    "updated",
    "modified",
    "captured",
    "released",
    "seen",
    "born",
    "birth",
    "birthdate",
    "dob",
    "epoch",
    "serial",
    "datum",
    "zeit",
    "tag",
    "fecha",
    "data",
    "jour",
    "giorno",
    "dia",
    "dato",
    "tarih",
    "дата",
];

/// Whether a column's name speaks of dates or times. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_dates;
/// assert!(speaks_of_dates("opened_at") && speaks_of_dates("Datum") && speaks_of_dates("startTime"));
/// assert!(!speaks_of_dates("weight") && !speaks_of_dates("update count"));
/// ```
pub fn speaks_of_dates(name: &str) -> bool {
    words_of(name).split(' ').any(|word| WORDS.contains(&word))
}

/// The words of a column's name in lower case, with spaces between them.
pub(super) fn words_of(name: &str) -> String {
    let mut words = String::new();
    let mut was_lower = false;
    for c in name.chars() {
        // `startTime` is two words.
        if c.is_uppercase() && was_lower {
            words.push(' ');
        }
        was_lower = c.is_lowercase();
        if c.is_alphabetic() {
            words.extend(c.to_lowercase());
        } else {
            words.push(' ');
        }
    }
    words
}

/// What numbers count, where known answers leave a single origin, and are no dates in digits.
pub(crate) fn counted_by_answers(
    evidence: &Evidence,
    lens: &Lens,
    known: &Known,
) -> Option<Serials> {
    let [first, ..] = &known.answers[..] else { return None };
    if lens.serials.is_some() || first.is_told(lens) {
        return None;
    }
    match &open(evidence, known, Counts { rows: evidence.numbers.rows, ..Counts::default() })?
        .origins[..]
    {
        [only] => Some(Serials { epoch: only.epoch, are_times: false }),
        _ => None,
    }
}

/// Rows that are counted as somebody has said, and what they are.
pub(super) fn counted(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<(Kind, u64)> {
    let serials = lens.serials?;
    let rows: u64 = evidence.given.read.values().sum();
    let kind = known.kind.unwrap_or(serials.epoch.kind(evidence.numbers.fractions > 0));
    (rows > 0).then_some((kind, rows))
}

/// What is said of numbers that somebody has said to count.
pub(super) fn reasons(evidence: &Evidence, serials: Serials, known: &Known) -> Vec<Reason> {
    let epoch = serials.epoch;
    let rows = evidence.given.read.values().sum();
    let mut reasons = vec![match &known.counted_beside {
        Some((column, same, of)) => {
            let column = column.clone();
            Reason::CountedBeside { epoch, rows, column, same: (*same, *of) }
        }
        None => Reason::Counted { epoch, rows },
    }];
    if let Some(lowest) = evidence.given.unfit_lowest.clone() {
        reasons.push(Reason::NotCounted { epoch, rows: evidence.given.unfit, lowest });
    }
    reasons
}

/// Numbers beside a column of dates, counted from every plausible origin.
///
/// ```
/// use metachron_core::verdict::OriginsBeside;
/// let epochs = ["sheet-1900", "sheet-1904"].map(|name| name.parse().unwrap());
/// let mut beside = OriginsBeside::new(epochs.to_vec());
/// for day in 0..10 {
///     let date = jiff::civil::date(2024, 3, 1 + day);
///     beside.observe(&(45352 + i64::from(day)).to_string(), date);
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

/// Different days that another column must have to settle an origin.
const DAYS_BESIDE: usize = 8;

impl OriginsBeside {
    /// Of these origins.
    pub fn new(epochs: Vec<Epoch>) -> OriginsBeside {
        let origins = epochs.into_iter().map(|epoch| (epoch, 0)).collect();
        OriginsBeside { origins, rows: 0, days: BTreeSet::new() }
    }

    /// Looks at a number and the day of the other column in the same row.
    pub fn observe(&mut self, value: &str, day: Date) {
        let mut buffer = String::new();
        let Some(number) = Number::parse(normalise(value, &mut buffer)) else { return };
        self.rows += 1;
        if self.days.len() < DAYS_BESIDE {
            self.days.insert(day);
        }
        for (epoch, same) in &mut self.origins {
            let own = epoch.read(number).ok().and_then(Moment::date);
            *same += u64::from(own == Some(day));
        }
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

/// Numbers that may count from some origin are a question, if anything but their size says that they
/// are dates.
pub(super) fn open(evidence: &Evidence, known: &Known, counts: Counts) -> Option<Judgement> {
    let numbers = &evidence.numbers;
    let values = counts.rows - counts.missing - counts.placeholder;
    let are_numbers = (numbers.rows + numbers.zeros) * 20 >= values * 19;
    let are_clocks =
        numbers.telling >= FRACTIONS && numbers.clocks * 100 >= numbers.telling * CLOCKS;
    let answered = !known.answers.is_empty();
    let speaks = known.speaks_of_dates || are_clocks || answered;
    if !are_numbers || !speaks || (numbers.sample().len() < DIFFERENT && !answered) {
        return None;
    }
    let plausible = |epoch: Epoch| {
        let read = numbers.sample().filter_map(|number| epoch.read(number).ok());
        let usual: Vec<Moment> =
            read.filter(|moment| epoch.is_usual(*moment, known.as_of)).collect();
        let are_enough = usual.len() * 100 >= numbers.sample().len() * USUAL;
        let (earliest, latest) = (usual.iter().min()?, usual.iter().max()?);
        are_enough.then_some(Origin { epoch, earliest: *earliest, latest: *latest })
    };
    // A workbook has an origin of its own: numbers that can count from it do.
    let own = known.own_epoch.filter(|own| {
        plausible(*own).is_some() && known.answers.iter().all(|answer| gives(*own, answer))
    });
    let origins: Vec<Origin> = Epoch::all()
        .filter(|epoch| own.is_none_or(|own| own == *epoch))
        .filter(|epoch| known.own_epoch.is_none_or(|own| own == *epoch || !is_sheet(*epoch)))
        // Differs from the 1900 system only before March 1900.
        .filter(|epoch| epoch.name() != Some("day-zero-1899"))
        .filter(|epoch| !are_clocks || epoch.kind(false) == Kind::Date)
        .filter_map(plausible)
        .filter(|origin| known.answers.iter().all(|answer| gives(origin.epoch, answer)))
        .collect();
    let kind = origins.first()?.epoch.kind(numbers.fractions > 0);
    let (rows, zeros) = (numbers.rows, numbers.zeros);
    let clocks = if are_clocks { (numbers.clocks, numbers.telling) } else { (0, 0) };
    let (own, by_name) = (own.is_some(), known.speaks_of_dates);
    let reason = Reason::MayCount { rows, zeros, clocks, by_name, own };
    let verdict = if origins.len() == 1 { Verdict::Leaning } else { Verdict::Undecided };
    Some(Judgement {
        verdict,
        kind: Some(kind),
        reading: None,
        counts: Counts {
            contested: rows,
            placeholder: counts.placeholder + zeros,
            unreadable: values - rows - zeros,
            ..counts
        },
        fraction_digits: 0,
        contenders: Vec::new(),
        example: None,
        reasons: vec![reason],
        signals: Vec::new(),
        settle: origins.iter().map(|origin| Settle::Epoch(origin.epoch)).collect(),
        origins,
    })
}

fn is_sheet(epoch: Epoch) -> bool {
    matches!(epoch.name(), Some("sheet-1900" | "sheet-1904"))
}

/// Numbers among the values of a column that holds dates otherwise, and what a spreadsheet would take
/// them for: an import may have left them.
pub(super) fn beside_dates(evidence: &Evidence, known: &Known) -> Option<Reason> {
    let sheets = Epoch::all()
        .filter(|epoch| is_sheet(*epoch) && known.own_epoch.is_none_or(|own| own == *epoch));
    let numbers = &evidence.numbers;
    let (epoch, read) = sheets
        .map(|epoch| {
            let read = numbers.sample().filter_map(move |number| epoch.read(number).ok());
            (epoch, read.collect::<Vec<Moment>>())
        })
        .next()?;
    let (earliest, latest) = (*read.iter().min()?, *read.iter().max()?);
    let usual = |moment: &Moment| epoch.is_usual(*moment, known.as_of);
    let all = read.len() == numbers.sample().len() && read.iter().all(usual);
    all.then_some(Reason::NumbersBeside { rows: numbers.rows, epoch, earliest, latest })
}

/// Whether a known answer is what its number counts.
pub(super) fn gives(epoch: Epoch, answer: &Answer) -> bool {
    let read = Number::parse(&answer.value).and_then(|number| epoch.read(number).ok());
    read.is_some_and(|moment| moment.to_string().starts_with(&answer.iso))
}
