//! Soft evidence: what speaks for one order and never decides.

use std::collections::BTreeSet;
use std::fmt;

use jiff::civil::Date;

use super::customs::{self, Custom};
use super::families::Family;
use super::signature::places;
use super::{Judgement, Known, Reason, Verdict};
use crate::evidence::{Evidence, Pair, Steps};
use crate::lexicon::Lexicon;
use crate::order::Order;
use crate::reading::Century;
use crate::text::{counted, grouped};

/// Something that speaks for one order, with its figure.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Signal {
    /// The order that it speaks for.
    pub favours: Order,
    /// What it is.
    pub what: Soft,
}

/// What speaks for an order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Soft {
    /// Rows go forward in time: these of so many steps, and those of the best rival.
    Sorted {
        /// Steps forward, and all steps.
        own: (u64, u64),
        /// The same under the rival.
        rival: (Order, u64, u64),
    },
    /// Under the rival so many different dates lie after today.
    AfterToday {
        /// The rival.
        rival: Order,
        /// Different dates after today.
        dates: u64,
        /// All different dates.
        of: u64,
        /// Today.
        as_of: Date,
    },
    /// All dates have the same day of the month, as reports and exports of periods have.
    SameDay {
        /// That day.
        day: i8,
        /// Different dates.
        dates: usize,
    },
    /// A point stands between the parts.
    Points {
        /// Locales of CLDR that write this order so.
        locales: usize,
    },
    /// Both parts have two digits, or some have one.
    Padding {
        /// Whether zeros are put before them.
        padded: bool,
        /// How usual that is.
        custom: Custom,
    },
    /// The clock beside the dates counts to twelve or to 24.
    Clock {
        /// How far it counts.
        hours: u8,
        /// How usual that is.
        custom: Custom,
    },
    /// Another column of the table has this order beyond doubt.
    Sibling {
        /// Its name.
        column: String,
    },
    /// The years lie where those of the rest of the table do.
    Years {
        /// The years of the rest.
        rest: (i16, i16),
        /// The years of the rival.
        rival: (Order, i16, i16),
    },
    /// It is never on the other side of another date.
    Beside {
        /// The other column.
        column: String,
        /// Whether it is never before it; else never after it.
        never_before: bool,
        /// Under the rival, rows on the wrong side, and all rows.
        rival: (Order, u64, u64),
    },
    /// Another column says what a part of the date is.
    Part {
        /// The other column.
        column: String,
        /// What it holds.
        part: &'static str,
        /// Different dates that agree, and all that were looked at.
        own: (u64, u64),
        /// The same under the rival.
        rival: (Order, u64, u64),
    },
    /// The column's name says so.
    Name {
        /// The part of the name.
        word: String,
    },
    /// Fields are separated by semicolons, and numbers have a decimal comma.
    DecimalComma,
}

impl Soft {
    /// Whether it makes a column lean. How regions pad and tell the time does not: programs write
    /// either way wherever they run, so it is shown and no more.
    pub fn leans(&self) -> bool {
        !matches!(self, Soft::Padding { .. } | Soft::Clock { .. })
    }
}

/// What the table itself is like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Habits {
    /// Fields are separated by semicolons, and numbers have a decimal comma.
    pub decimal_comma: bool,
}

/// A column of a table that was looked at.
#[derive(Debug, Clone, Copy)]
pub struct Sibling<'s> {
    /// Its name.
    pub name: &'s str,
    /// What was seen.
    pub evidence: &'s Evidence,
    /// What it amounts to by itself.
    pub judgement: &'s Judgement,
}

/// Steps that are needed to tell whether rows are sorted.
const STEPS: u64 = 8;
/// Different dates that are needed for what dates have in common.
const DATES: usize = 6;

/// What the values of a family say by themselves.
pub(super) fn of_family(
    evidence: &Evidence,
    family: &Family<'_>,
    century: Century,
    known: &Known,
) -> Vec<Signal> {
    let signals = [
        sorted(evidence, family),
        after_today(family, century, known.as_of),
        same_day(family, century),
        customs::points(family),
        customs::padding(evidence, family),
        customs::clock(family),
    ];
    signals.into_iter().flatten().collect()
}

/// The order for which all signals speak that speak for one in play.
pub(super) fn agreed(signals: &[Signal], in_play: &[Order]) -> Option<Order> {
    let favoured: BTreeSet<Order> =
        signals.iter().map(|signal| signal.favours).filter(|o| in_play.contains(o)).collect();
    match favoured.into_iter().collect::<Vec<_>>()[..] {
        [order] => Some(order),
        _ => None,
    }
}

/// The order with the best figure and the best of its rivals.
pub(super) fn best_two<T: Copy>(
    in_play: &[Order],
    figure: impl Fn(Order) -> Option<T>,
    better: impl Fn(&T) -> f64,
) -> Option<((Order, T), (Order, T))> {
    let all: Option<Vec<(Order, T)>> =
        in_play.iter().map(|order| Some((*order, figure(*order)?))).collect();
    let mut all = all?;
    all.sort_by(|(_, a), (_, b)| better(b).total_cmp(&better(a)));
    match all[..] {
        [first, second, ..] => Some((first, second)),
        _ => None,
    }
}

fn sorted(evidence: &Evidence, family: &Family<'_>) -> Option<Signal> {
    let steps = |order: Order| {
        let parts = evidence.clues.steps.get(&(family.form.clone(), order))?;
        let mut parts = parts.values();
        let first = *parts.next()?;
        let joined: Steps = parts.fold(first, |joined, next| joined.and(next));
        Some((joined.forward, joined.all))
    };
    let share = |(forward, all): &(u64, u64)| *forward as f64 / (*all).max(1) as f64;
    let ((order, own), (rival, other)) = best_two(&family.in_play, steps, share)?;
    let tells = own.1 >= STEPS && share(&own) >= 0.95 && share(&other) <= 0.85;
    tells.then_some(Signal {
        favours: order,
        what: Soft::Sorted { own, rival: (rival, other.0, other.1) },
    })
}

/// A date as an order takes it.
fn date_of(written: [i16; 3], order: Order, century: Option<Century>) -> Option<Date> {
    let [day, month, year] = places(order).map(|at| written[at]);
    let year = century.map_or(year, |century| century.place(year));
    Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()
}

/// The different dates of a family as an order takes them.
fn dates_of(family: &Family<'_>, order: Order, century: Century) -> Vec<Date> {
    let century = Some(century).filter(|_| family.has_short_years());
    let fitting = family.group.dates.iter().filter(|(_, fits)| fits.fits(order));
    fitting.filter_map(|(written, _)| date_of(written, order, century)).collect()
}

fn after_today(family: &Family<'_>, century: Century, as_of: Date) -> Option<Signal> {
    let after = |order: Order| {
        let dates = dates_of(family, order, century);
        Some((dates.iter().filter(|date| **date > as_of).count() as u64, dates.len() as u64))
    };
    let ((order, own), (rival, (dates, of))) =
        best_two(&family.in_play, after, |(after, _)| -(*after as f64))?;
    (own.0 == 0 && dates >= 2)
        .then_some(Signal { favours: order, what: Soft::AfterToday { rival, dates, of, as_of } })
}

fn same_day(family: &Family<'_>, century: Century) -> Option<Signal> {
    let day = |order: Order| {
        let dates = dates_of(family, order, century);
        let days: BTreeSet<i8> = dates.iter().map(|date| date.day()).collect();
        match days.into_iter().collect::<Vec<_>>()[..] {
            [day] if dates.len() >= DATES => Some((day, dates.len())),
            _ => None,
        }
    };
    let mut same = family.in_play.iter().filter_map(|order| Some((*order, day(*order)?)));
    let (Some((favours, (day, dates))), None) = (same.next(), same.next()) else { return None };
    Some(Signal { favours, what: Soft::SameDay { day, dates } })
}

/// What the rest of the table says of the order of the column at this place.
pub fn signals_beside(columns: &[Sibling<'_>], at: usize, habits: Habits) -> Vec<Signal> {
    let Some(own) = columns.get(at) else { return Vec::new() };
    let in_play: Vec<Order> =
        own.judgement.contenders.iter().filter(|c| c.survives).map(|c| c.order).collect();
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
            part_of_date(own, name, values.as_ref()?.keys(), &in_play)
        }),
    );
    if habits.decimal_comma && in_play.contains(&Order::Dmy) && in_play.contains(&Order::Mdy) {
        signals.push(Signal { favours: Order::Dmy, what: Soft::DecimalComma });
    }
    signals
}

/// Words in names of columns, in languages of which none writes the month first.
const WORDS: [&str; 12] = [
    "datum", "fecha", "data", "dato", "tarih", "дата", "jour", "giorno", "dia", "día", "tag",
    "päivä",
];

/// What a column's name says: the order itself, or a language.
fn named(name: &str, in_play: &[Order]) -> Option<Signal> {
    let lower = name.to_lowercase();
    let words: Vec<&str> = lower.split(|c: char| !c.is_alphabetic()).collect();
    let order_of = |word: &str, next: Option<&&str>| match (word, next.copied()) {
        ("dd" | "d" | "tt" | "jj", Some("mm" | "m")) | ("dmy" | "ddmmyyyy" | "ddmmyy", _) => {
            Some(Order::Dmy)
        }
        ("mm" | "m", Some("dd" | "d")) | ("mdy" | "mmddyyyy" | "mmddyy", _) => Some(Order::Mdy),
        ("yyyy" | "yy", Some("mm" | "m")) | ("ymd" | "yyyymmdd" | "yymmdd", _) => Some(Order::Ymd),
        _ => None,
    };
    let said = words.iter().enumerate().find_map(|(at, word)| {
        let next = words.get(at + 1);
        let order = order_of(word, next)?;
        let both =
            next.filter(|_| word.len() <= 4).map_or(String::new(), |next| format!("/{next}"));
        Some((order, format!("{word}{both}")))
    });
    let by_language = || {
        let word = words.iter().find(|word| WORDS.contains(word))?;
        in_play.contains(&Order::Mdy).then(|| (Order::Dmy, (*word).to_owned()))
    };
    let (favours, word) = said.or_else(by_language)?;
    in_play.contains(&favours).then_some(Signal { favours, what: Soft::Name { word } })
}

/// A column that is decided by votes, if all such are of one order.
fn decided_beside<'s>(
    others: impl Iterator<Item = &'s Sibling<'s>>,
    in_play: &[Order],
) -> Option<Signal> {
    let voted = |judgement: &Judgement| {
        let votes = judgement.reasons.iter().find_map(|reason| match reason {
            Reason::Votes { winner, .. } => Some(*winner),
            _ => None,
        });
        votes.filter(|_| judgement.verdict == Verdict::Decided)
    };
    let mut found: Option<(Order, &str)> = None;
    for (order, name) in others.filter_map(|other| Some((voted(other.judgement)?, other.name))) {
        match found {
            Some((first, _)) if first != order => return None,
            Some(_) => {}
            None => found = Some((order, name)),
        }
    }
    let (favours, column) = found.filter(|(order, _)| in_play.contains(order))?;
    Some(Signal { favours, what: Soft::Sibling { column: column.to_owned() } })
}

/// Years that lie where those of decided columns do, and those of the rivals do not.
fn years_beside<'s>(
    others: impl Iterator<Item = &'s Sibling<'s>>,
    own: &Judgement,
) -> Option<Signal> {
    let years = |contender: &super::Contender| {
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
    let spans: Option<Vec<(Order, (i16, i16))>> =
        in_play.map(|contender| Some((contender.order, years(contender)?))).collect();
    let (inside, outside): (Vec<_>, Vec<_>) =
        spans?.into_iter().partition(|(_, span)| within(*span));
    match (&inside[..], &outside[..]) {
        ([(favours, _)], [(rival, (first, last)), ..]) => {
            let what = Soft::Years { rest, rival: (*rival, *first, *last) };
            Some(Signal { favours: *favours, what })
        }
        _ => None,
    }
}

/// Rows that are needed to tell on which side of another date one lies.
const ROWS: u64 = 12;

/// The ends of a span: one order has this column always on the same side of the other, the rivals
/// have not.
fn paired(own: &Sibling<'_>, other: &Sibling<'_>, in_play: &[Order]) -> Option<Signal> {
    let mirrored =
        |Pair { earlier, same, later }: Pair| Pair { earlier: later, same, later: earlier };
    let pair = |order: Order| {
        let key = |name: &str| (name.to_owned(), order);
        let seen = own.evidence.clues.pairs.get(&key(other.name)).copied();
        seen.or_else(|| other.evidence.clues.pairs.get(&key(own.name)).copied().map(mirrored))
    };
    let pairs: Option<Vec<(Order, Pair)>> =
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
                what: Soft::Beside { column, never_before, rival },
            });
        }
    }
    None
}

/// A column that holds the weekday, the month, the year or the day of the dates.
fn part_of_date<'v>(
    own: &Sibling<'_>,
    name: &str,
    values: impl Iterator<Item = &'v String>,
    in_play: &[Order],
) -> Option<Signal> {
    let all = own.evidence.clues.neighbours.get(name)?.as_ref()?;
    let values: Vec<&String> = values.filter(|value| !value.is_empty()).collect();
    let (part, number_of) = part_of(&values)?;
    let agreeing = |order: Order| {
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
        what: Soft::Part {
            column: name.to_owned(),
            part: part.name(),
            own: figures,
            rival: (rival, other.0, other.1),
        },
    })
}

/// A part of a date.
#[derive(Clone, Copy, PartialEq, Eq)]
enum DatePart {
    Weekday,
    Month,
    Year,
    Day,
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

    fn name(self) -> &'static str {
        match self {
            DatePart::Weekday => "weekday",
            DatePart::Month => "month",
            DatePart::Year => "year",
            DatePart::Day => "day",
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

impl fmt::Display for Signal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let own = capital(self.favours.phrase());
        let percent = |(part, all): (u64, u64)| format!("{} of {}", grouped(part), grouped(all));
        match &self.what {
            Soft::Sorted { own: steps, rival: (rival, forward, all) } => write!(
                f,
                "{own}, {} steps from row to row go forward in time; {}, {}.",
                percent(*steps),
                rival.phrase(),
                percent((*forward, *all))
            ),
            Soft::AfterToday { rival, dates, of, as_of } => write!(
                f,
                "{}, {} of {} would lie after {as_of}; {}, none.",
                capital(rival.phrase()),
                grouped(*dates),
                counted(*of, "different date"),
                self.favours.phrase()
            ),
            Soft::SameDay { day, dates } => write!(
                f,
                "{own}, all {} have the day {day}, as reports of whole months do.",
                counted(*dates as u64, "different date")
            ),
            Soft::Points { locales } => write!(
                f,
                "Points stand between the parts, as in {} of CLDR that are {}, and in none that is not.",
                counted(*locales as u64, "locale"),
                self.favours.phrase()
            ),
            Soft::Padding { padded, custom } => {
                let what = if *padded { "Two digits" } else { "One digit" };
                write!(f, "{what} for a day or month below ten: {custom}.")
            }
            Soft::Clock { hours, custom } => {
                write!(f, "A clock of {hours} hours: {custom}.")
            }
            Soft::Sibling { column } => {
                write!(f, "{column:?} is {} beyond doubt.", self.favours.phrase())
            }
            Soft::Years { rest: (first, last), rival: (rival, from, to) } => write!(
                f,
                "{own}, its years lie where those of the other columns do ({first} to {last}); {}, they \
                 run from {from} to {to}.",
                rival.phrase()
            ),
            Soft::Beside { column, never_before, rival: (rival, wrong, all) } => {
                let side = if *never_before { "before" } else { "after" };
                write!(
                    f,
                    "{own}, it is never {side} {column:?} in the same row; {}, in {} rows.",
                    rival.phrase(),
                    percent((*wrong, *all))
                )
            }
            Soft::Part { column, part, own: agree, rival: (rival, other, of) } => write!(
                f,
                "{column:?} has the {part} of {} different dates {}, of {} {}; it may have been computed \
                 from a wrong reading.",
                percent(*agree),
                self.favours.phrase(),
                percent((*other, *of)),
                rival.phrase()
            ),
            Soft::Name { word } => {
                write!(f, "The name of the column says {word:?}: {}.", self.favours.phrase())
            }
            Soft::DecimalComma => write!(
                f,
                "Semicolons separate fields and numbers have a decimal comma, as where the day comes first."
            ),
        }
    }
}

fn capital(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or(String::new(), |first| first.to_uppercase().chain(chars).collect())
}
