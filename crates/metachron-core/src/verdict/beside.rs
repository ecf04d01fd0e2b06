//! What the rest of a table says of the order of one of its columns: its name, the other columns, what the file
//! itself is like.

use jiff::civil::Date;

use super::column_name::order_said_by;
use super::finding::{Finding, Harmed, ImportFinding};
use super::model::{Contender, Judgement, Verdict};
use super::odds::{best_two, date_of};
use super::signal::{DatePart, Signal, SignalKind};
use crate::evidence::{DaysOfMonth, Evidence, Pair};
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

/// What the rest of the table says of the order of the column at this place.
pub fn signals_beside(columns: &[TableColumn<'_>], at: usize, style: TableStyle) -> Vec<Signal> {
    let Some(own) = columns.get(at) else { return Vec::new() };
    let in_play: Vec<Alternative> =
        own.judgement.contenders.iter().filter(|c| c.survives).map(|c| c.alternative).collect();
    if in_play.len() < 2 {
        return Vec::new();
    }
    let others = || columns.iter().enumerate().filter(|(place, _)| *place != at).map(|(_, c)| c);
    let mut signals = Vec::new();
    signals.extend(named(own.name, &in_play));
    signals.extend(decided_beside(others(), &in_play));
    signals.extend(years_beside(others(), own.judgement));
    signals.extend(others().filter_map(|other| paired(own, other, &in_play)));
    signals.extend(
        own.evidence.clues.neighbours.iter().filter_map(|(name, values)| {
            part_of_date(own, name, values.by_value()?.keys(), &in_play)
        }),
    );
    if style.decimal_comma
        && in_play.contains(&Alternative::Dmy)
        && in_play.contains(&Alternative::Mdy)
    {
        signals.push(Signal { favours: Alternative::Dmy, what: SignalKind::DecimalComma });
    }
    signals
}

/// Another column than this one in which an import has exchanged day and month, or seems to have: it wrote this one as
/// well.
pub fn harmed_beside(columns: &[TableColumn<'_>], at: usize) -> Option<Harmed> {
    let others = columns.iter().enumerate().filter(|(place, _)| *place != at);
    harmed_among(others.map(|(_, other)| (other.name, other.judgement)))
}

/// The first of several columns, or files of one column, in which an import has exchanged day and month beyond doubt, or
/// else the first in which it seems to have.
pub fn harmed_among<'s>(all: impl Iterator<Item = (&'s str, &'s Judgement)>) -> Option<Harmed> {
    let is_certain = |judgement: &Judgement| {
        judgement.findings.iter().find_map(|finding| match finding {
            Finding::Imports(ImportFinding::HalfSwapped { .. }) => {
                Some(judgement.verdict == Verdict::Misread)
            }
            Finding::Imports(ImportFinding::Exchanged(_)) => Some(true),
            _ => None,
        })
    };
    let harmed = all.filter_map(|(name, judgement)| {
        Some(Harmed { name: name.to_owned(), is_certain: is_certain(judgement)? })
    });
    harmed.reduce(|first, next| if next.is_certain && !first.is_certain { next } else { first })
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

/// A column that is decided by votes, if all such are of one order.
fn decided_beside<'s>(
    others: impl Iterator<Item = &'s TableColumn<'s>>,
    in_play: &[Alternative],
) -> Option<Signal> {
    let voted = |judgement: &Judgement| {
        let votes = judgement.findings.iter().find_map(|reason| match reason {
            Finding::Votes { winner, .. } => Some(*winner),
            _ => None,
        });
        votes.filter(|_| judgement.verdict == Verdict::Decided)
    };
    let mut found: Option<(Alternative, &str)> = None;
    for (order, name) in others.filter_map(|other| Some((voted(other.judgement)?, other.name))) {
        match found {
            Some((first, _)) if first != order => return None,
            Some(_) => {}
            None => found = Some((order, name)),
        }
    }
    let (favours, column) = found.filter(|(order, _)| in_play.contains(order))?;
    Some(Signal { favours, what: SignalKind::Sibling { column: column.to_owned() } })
}

/// Years that lie where those of decided columns do, and those of the rivals do not.
fn years_beside<'s>(
    others: impl Iterator<Item = &'s TableColumn<'s>>,
    own: &Judgement,
) -> Option<Signal> {
    let years = |contender: &Contender| {
        let (earliest, latest) = (contender.earliest?.date()?, contender.latest?.date()?);
        Some((earliest.year(), latest.year()))
    };
    let decided = others.filter(|other| other.judgement.verdict == Verdict::Decided);
    let rest = decided
        .flat_map(|other| other.judgement.contenders.iter().filter(|c| c.survives))
        .filter_map(years)
        .reduce(|(a, b), (c, d)| (a.min(c), b.max(d)))?;
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
fn part_of_date<'v>(
    own: &TableColumn<'_>,
    name: &str,
    values: impl Iterator<Item = &'v String>,
    in_play: &[Alternative],
) -> Option<Signal> {
    let all = own.evidence.clues.neighbours.get(name)?.by_value()?;
    let values: Vec<&String> = values.filter(|value| !value.is_empty()).collect();
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
