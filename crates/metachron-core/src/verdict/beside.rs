//! What the rest of a table says of the order of one of its columns: its name, the other columns, what the file
//! itself is like.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use jiff::civil::Date;

use super::column_name::order_said_by;
use super::finding::{Finding, Harmed, ImportFinding};
use super::model::{Contender, Judgement, Verdict};
use super::odds::{best_two, date_of};
use super::signal::{DatePart, Signal, SignalKind};
use crate::evidence::{ByForm, DaysOfMonth, Evidence, Pair};
use crate::lexicon::Lexicon;
use crate::order::Alternative;

/// What the table itself is like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct TableStyle {
    /// Fields are separated by semicolons, and numbers have a decimal comma.
    pub decimal_comma: bool,
}

/// A column of a table that was looked at.
#[derive(Debug, Clone, Copy)]
pub struct TableColumn<'s> {
    /// Its name.
    pub name: &'s str,
    /// What was seen.
    pub evidence: &'s Evidence,
    /// What it amounts to by itself.
    pub judgement: &'s Judgement,
}

/// Different dates that are needed for what dates have in common.
const DATES: usize = 6;

/// The columns of a table, and what they say of each other.
pub struct Surroundings<'s> {
    columns: &'s [TableColumn<'s>],
    style: TableStyle,
    /// The order that all columns have which are decided by votes, and the first of them.
    voted: Option<(Alternative, &'s str)>,
    /// The years of decided columns.
    years: Option<(i16, i16)>,
    /// Where columns stand whose days were held against those of the column of this name.
    paired_with: HashMap<&'s str, BTreeSet<usize>>,
    places: HashMap<&'s str, usize>,
    /// Columns that an import has harmed beyond doubt, then those that it seems to have harmed: two of each are enough.
    harmed: [Vec<usize>; 2],
}

impl<'s> Surroundings<'s> {
    /// What these columns say of each other.
    pub fn of(columns: &'s [TableColumn<'s>], style: TableStyle) -> Surroundings<'s> {
        let mut paired_with: HashMap<&str, BTreeSet<usize>> = HashMap::new();
        let mut harmed = [Vec::new(), Vec::new()];
        for (at, column) in columns.iter().enumerate() {
            for (other, _) in column.evidence.clues.pairs.keys() {
                paired_with.entry(other.as_str()).or_default().insert(at);
            }
            if let Some(is_certain) = is_harmed(column.judgement) {
                harmed[usize::from(!is_certain)].push(at);
            }
        }
        let places = columns.iter().enumerate().map(|(at, column)| (column.name, at)).collect();
        let (voted, years) = (voted(columns), years_of_decided(columns));
        Surroundings { columns, style, voted, years, paired_with, places, harmed }
    }

    /// What the rest of the table says of the order of the column at this place, which is open.
    pub fn signals(&self, at: usize) -> Vec<Signal> {
        let Some(own) = self.columns.get(at) else { return Vec::new() };
        let in_play: Vec<Alternative> =
            own.judgement.contenders.iter().filter(|c| c.survives).map(|c| c.alternative).collect();
        if in_play.len() < 2 {
            return Vec::new();
        }
        let mut signals = Vec::new();
        signals.extend(named(own.name, &in_play));
        signals.extend(self.voted.and_then(|voted| decided_beside(voted, &in_play)));
        signals.extend(self.years.and_then(|years| years_beside(years, own.judgement)));
        let paired = self.paired(at).filter_map(|other| paired(own, other, &in_play));
        signals.extend(paired);
        signals.extend(
            own.evidence
                .clues
                .neighbours
                .columns()
                .filter_map(|(name, values)| part_of_date(name, values, &in_play)),
        );
        if self.style.decimal_comma
            && in_play.contains(&Alternative::Dmy)
            && in_play.contains(&Alternative::Mdy)
        {
            signals.push(Signal { favours: Alternative::Dmy, what: SignalKind::DecimalComma });
        }
        signals
    }

    /// The columns whose days were held against those of this one, from left to right.
    fn paired(&self, at: usize) -> impl Iterator<Item = &'s TableColumn<'s>> {
        let own = &self.columns[at];
        let left =
            own.evidence.clues.pairs.keys().filter_map(|(name, _)| self.places.get(name.as_str()));
        let right = self.paired_with.get(own.name).into_iter().flatten();
        let all: BTreeSet<usize> =
            left.chain(right).copied().filter(|other| *other != at).collect();
        all.into_iter().map(|at| &self.columns[at])
    }

    /// Another column than the one at this place in which an import has exchanged day and month, or seems to have: it
    /// wrote this one as well.
    pub fn harmed(&self, at: usize) -> Option<Harmed> {
        let other = |all: &Vec<usize>| all.iter().copied().find(|other| *other != at);
        let [certain, likely] = &self.harmed;
        let (at, is_certain) = match (other(certain), other(likely)) {
            (Some(at), _) => (at, true),
            (None, likely) => (likely?, false),
        };
        Some(Harmed { name: self.columns[at].name.to_owned(), is_certain })
    }
}

/// The first of several files of one column in which an import has exchanged day and month beyond doubt, or
/// else the first in which it seems to have.
pub fn harmed_among<'s>(all: impl Iterator<Item = (&'s str, &'s Judgement)>) -> Option<Harmed> {
    most_harmed(all.filter_map(|(name, judgement)| {
        Some(Harmed { name: name.to_owned(), is_certain: is_harmed(judgement)? })
    }))
}

/// The first that an import has harmed beyond doubt, or else the first that it seems to have harmed.
pub fn most_harmed(harmed: impl Iterator<Item = Harmed>) -> Option<Harmed> {
    harmed.reduce(|first, next| if next.is_certain && !first.is_certain { next } else { first })
}

/// Whether an import has exchanged day and month of a column beyond doubt, or seems to have; none if neither.
pub fn is_harmed(judgement: &Judgement) -> Option<bool> {
    judgement.findings.iter().find_map(|finding| match finding {
        Finding::Imports(ImportFinding::HalfSwapped { .. }) => {
            Some(judgement.verdict == Verdict::Misread)
        }
        Finding::Imports(ImportFinding::Exchanged(_)) => Some(true),
        _ => None,
    })
}

/// Whether the days of a column leave it possible that an import has exchanged them: none is above 12.
pub fn has_no_late_day(column: &TableColumn<'_>) -> bool {
    let is_in_play = |order: Alternative| {
        column.judgement.contenders.iter().any(|own| own.survives && own.alternative == order)
    };
    let groups = column.evidence.groups.values();
    let groups = groups.map(|group| group.days(|order, _| is_in_play(order)));
    let days: DaysOfMonth =
        groups.chain(column.evidence.typed.values().map(|tally| tally.days)).sum();
    days.all() > 0 && days.late() == 0
}

/// What a column's name says of its order.
fn named(name: &str, in_play: &[Alternative]) -> Option<Signal> {
    let (favours, word) = order_said_by(name, in_play.contains(&Alternative::Mdy))?;
    in_play.contains(&favours).then_some(Signal { favours, what: SignalKind::Name { word } })
}

/// The order of all columns that are decided by votes, and the first of them; none if they differ.
fn voted<'s>(columns: &'s [TableColumn<'s>]) -> Option<(Alternative, &'s str)> {
    let voted = |judgement: &Judgement| {
        let votes = judgement.findings.iter().find_map(|reason| match reason {
            Finding::Votes { winner, .. } => Some(*winner),
            _ => None,
        });
        votes.filter(|_| judgement.verdict == Verdict::Decided)
    };
    let mut all = columns.iter().filter_map(|own| Some((voted(own.judgement)?, own.name)));
    let first = all.next()?;
    all.all(|(order, _)| order == first.0).then_some(first)
}

/// A column that is decided by votes.
fn decided_beside(
    (favours, column): (Alternative, &str),
    in_play: &[Alternative],
) -> Option<Signal> {
    let what = SignalKind::Sibling { column: column.to_owned() };
    in_play.contains(&favours).then_some(Signal { favours, what })
}

/// The years in which a contender has a column.
fn years(contender: &Contender) -> Option<(i16, i16)> {
    Some((contender.earliest?.date()?.year(), contender.latest?.date()?.year()))
}

/// The years of all decided columns.
fn years_of_decided(columns: &[TableColumn<'_>]) -> Option<(i16, i16)> {
    let decided = columns.iter().filter(|own| own.judgement.verdict == Verdict::Decided);
    decided
        .flat_map(|own| own.judgement.contenders.iter().filter(|c| c.survives))
        .filter_map(years)
        .reduce(|(a, b), (c, d)| (a.min(c), b.max(d)))
}

/// Years that lie where those of decided columns do, and those of the rivals do not.
fn years_beside(rest: (i16, i16), own: &Judgement) -> Option<Signal> {
    let within = |(first, last): (i16, i16)| first >= rest.0 - 1 && last <= rest.1 + 1;
    let in_play = own.contenders.iter().filter(|contender| contender.survives);
    let spans: Option<Vec<(Alternative, (i16, i16))>> =
        in_play.map(|contender| Some((contender.alternative, years(contender)?))).collect();
    let (inside, outside): (Vec<_>, Vec<_>) =
        spans?.into_iter().partition(|(_, span)| within(*span));
    match (&inside[..], &outside[..]) {
        ([(favours, _)], [(rival, (first, last)), ..]) => {
            let what = SignalKind::Years { rest, rival: (*rival, *first, *last) };
            Some(Signal { favours: *favours, what })
        }
        _ => None,
    }
}

/// Rows that are needed to tell on which side of another date one lies.
const ROWS: u64 = 12;

/// The ends of a span: one order has this column always on the same side of the other, the rivals
/// have not.
fn paired(
    own: &TableColumn<'_>,
    other: &TableColumn<'_>,
    in_play: &[Alternative],
) -> Option<Signal> {
    let mirrored =
        |Pair { earlier, same, later }: Pair| Pair { earlier: later, same, later: earlier };
    let pair = |order: Alternative| {
        let key = |name: &str| (name.to_owned(), order);
        let seen = own.evidence.clues.pairs.get(&key(other.name)).copied();
        seen.or_else(|| other.evidence.clues.pairs.get(&key(own.name)).copied().map(mirrored))
    };
    let pairs: Option<Vec<(Alternative, Pair)>> =
        in_play.iter().map(|order| Some((*order, pair(*order)?))).collect();
    let pairs = pairs?;
    let all = |pair: &Pair| pair.earlier + pair.same + pair.later;
    for never_before in [true, false] {
        let wrong = |pair: &Pair| if never_before { pair.earlier } else { pair.later };
        let (clean, other_side): (Vec<_>, Vec<_>) =
            pairs.iter().partition(|(_, pair)| wrong(pair) == 0);
        if let ([(favours, pair)], [(rival, worse), ..]) = (&clean[..], &other_side[..])
            && all(pair) >= ROWS
            && wrong(worse) * 20 >= all(worse)
        {
            let rival = (*rival, wrong(worse), all(worse));
            let column = other.name.to_owned();
            return Some(Signal {
                favours: *favours,
                what: SignalKind::Beside { column, never_before, rival },
            });
        }
    }
    None
}

/// A column that holds the weekday, the month, the year or the day of the dates.
fn part_of_date(
    name: &str,
    all: &BTreeMap<String, ByForm>,
    in_play: &[Alternative],
) -> Option<Signal> {
    let values: Vec<&String> = all.keys().filter(|value| !value.is_empty()).collect();
    let (part, number_of) = part_of(&values)?;
    let agreeing = |order: Alternative| {
        let (mut agree, mut of) = (0, 0);
        for value in &values {
            let number = number_of(value)?;
            for beside in all.get(*value)?.values() {
                for (written, _) in beside.dates.iter().filter(|(_, fits)| fits.fits(order)) {
                    let Some(date) = date_of(written, order, None) else { continue };
                    of += 1;
                    agree += u64::from(part.of(date) == number);
                }
            }
        }
        (of >= DATES as u64).then_some((agree, of))
    };
    let share = |(agree, of): &(u64, u64)| *agree as f64 / *of as f64;
    let ((favours, figures), (rival, other)) = best_two(in_play, agreeing, share)?;
    let tells = share(&figures) >= 0.98 && share(&other) <= 0.8;
    tells.then_some(Signal {
        favours,
        what: SignalKind::Part {
            column: name.to_owned(),
            part,
            own: figures,
            rival: (rival, other.0, other.1),
        },
    })
}

impl DatePart {
    fn of(self, date: Date) -> i16 {
        match self {
            DatePart::Weekday => date.weekday().to_monday_one_offset().into(),
            DatePart::Month => date.month().into(),
            DatePart::Year => date.year(),
            DatePart::Day => date.day().into(),
        }
    }
}

/// Takes a text for the number of a part.
type NumberOf = fn(&str) -> Option<i16>;

/// What part of a date all these values could be, and how to take one for it.
fn part_of(values: &[&String]) -> Option<(DatePart, NumberOf)> {
    let all = |number: NumberOf, range: std::ops::RangeInclusive<i16>| {
        values.len() > 1
            && values.iter().all(|value| number(value).is_some_and(|n| range.contains(&n)))
    };
    fn digits(text: &str) -> Option<i16> {
        text.parse().ok()
    }
    fn month(text: &str) -> Option<i16> {
        Lexicon::every().look_up(text)?.month.map(|(month, _)| i16::from(month))
    }
    fn weekday(text: &str) -> Option<i16> {
        Lexicon::every().look_up(text)?.weekday.map(|(weekday, _)| i16::from(weekday))
    }
    let ways: [(DatePart, NumberOf, _); 5] = [
        (DatePart::Weekday, weekday, 1..=7),
        (DatePart::Month, month, 1..=12),
        (DatePart::Month, digits, 1..=12),
        (DatePart::Day, digits, 1..=31),
        (DatePart::Year, digits, 1500..=2200),
    ];
    ways.into_iter().find(|(_, number, range)| all(*number, range.clone())).map(|(p, n, _)| (p, n))
}
