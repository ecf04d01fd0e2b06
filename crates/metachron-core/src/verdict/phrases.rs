//! Reasons as sentences.

use std::fmt;

use super::wording::{list, number_of_orders, row};
use super::{Answer, Clue, Estimate, FoundSplit, Reason, Signal};
use super::{length_phrases, place_phrases};
use crate::layout::Layout;
use crate::lexicon::{Difference, Length, Lexicon};
use crate::reading::{Order, Split};
use crate::text::{counted, grouped};

impl fmt::Display for Reason {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Reason::NoRows => write!(f, "There are no rows."),
            Reason::AllMissing => write!(f, "Every value is missing."),
            Reason::NotDates { fit: 0, .. } => {
                write!(f, "No value is written in a form that dates have.")
            }
            Reason::NotDates { fit, values } => write!(
                f,
                "Only {} of {} can be read as dates, less than half.",
                grouped(*fit),
                counted(*values, "value")
            ),
            Reason::ByChance { rows, dates } => write!(
                f,
                "{} could be dates in digits ({} different), but numbers can look so by chance; \
                 --column with --order says that they are.",
                counted(*rows, "value"),
                grouped(*dates)
            ),
            Reason::MayBeDurations { rows, lowest } => {
                let (values, verb) =
                    (counted(*rows, "value"), if *rows == 1 { "is" } else { "are" });
                write!(
                    f,
                    "{values} {verb} no time of day: these may be durations, not clock times"
                )?;
                row(f, Some(lowest))
            }
            Reason::HoursOrClock { .. }
            | Reason::NameOfLengths
            | Reason::Elapsed { .. }
            | Reason::HoursElsewhere { .. }
            | Reason::Untold { .. } => length_phrases::of_lengths(self, f),
            Reason::MayBeNumbers { rows, lowest } => {
                let (values, verb) =
                    (counted(*rows, "value"), if *rows == 1 { "does" } else { "do" });
                write!(f, "{values} {verb} not exist: these may be running numbers of a year")?;
                row(f, Some(lowest))
            }
            Reason::DayOrYearAlone => write!(
                f,
                "The two digits beside the month's name are likely a year; they could be a day whose \
                 year is missing."
            ),
            Reason::RunningNumbers => write!(
                f,
                "The last two digits run on from 01 in every month and never reach its end: they may \
                 be running numbers and no days."
            ),
            Reason::Typed { rows: 1 } => write!(f, "1 cell is typed as a date or time already."),
            Reason::Typed { rows } => {
                write!(f, "{} cells are typed as dates or times already.", grouped(*rows))
            }
            Reason::HalfSwapped { dates, late, texts, open, power } => {
                let chance = by_chance(*power);
                write!(
                    f,
                    "An earlier import seems to have exchanged day and month: {} of {} have a day above \
                     12, and {} of {} in another form have none ({chance}).",
                    grouped(*late),
                    counted(*dates, "date"),
                    grouped(*open),
                    counted(*texts, "date"),
                )
            }
            Reason::Exchanged { rows } => write!(
                f,
                "Day and month of {} are exchanged back, because you say so; a day above 12 stays.",
                counted(*rows, "date")
            ),
            Reason::MonthYear { year, texts: texts @ 1.., .. } => write!(
                f,
                "An earlier import seems to have taken months with two-digit years (Apr-22) for days of \
                 {year}: all dates lie in that year, and the {} that were left as text have a year that is \
                 no day of theirs.",
                counted(*texts as u64, "month")
            ),
            Reason::MonthYear { year, first, last, .. } => write!(
                f,
                "An earlier import seems to have taken months with two-digit years (Apr-{last}) for days of \
                 {year}: all dates lie in that year, their days run from {first} to {last}, and each is in \
                 six months or more."
            ),
            Reason::NothingToRepair => write!(
                f,
                "There is nothing to repair: such an import leaves dates beside text, and this column \
                 has only one of them."
            ),
            Reason::YearsFromDays { rows } => write!(
                f,
                "{}, because you say so.",
                match rows {
                    1 => "The day of 1 date is the year of a month".to_owned(),
                    _ => format!("The days of {} dates are the years of months", grouped(*rows)),
                }
            ),
            Reason::Counted { epoch, rows } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} counted by {epoch}, because you say so.",
                    counted(*rows, "number")
                )
            }
            Reason::CountedBeside { epoch, rows, column, same: (same, of) } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} counted by {epoch}: so they are the day of {column:?} in {} of {} rows that \
                     have both, and by no other origin.",
                    counted(*rows, "number"),
                    grouped(*same),
                    grouped(*of)
                )
            }
            Reason::NotCounted { epoch, rows, lowest } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(f, "{} {verb} no date by {epoch}", counted(*rows, "number"))?;
                row(f, Some(lowest))
            }
            Reason::NumbersBeside { rows, epoch, earliest, latest } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} not written as a date: as an import may have left them, by {epoch} \
                     from {earliest} to {latest} (--epoch {epoch} reads {}).",
                    counted(*rows, "number"),
                    if *rows == 1 { "it" } else { "them" }
                )
            }
            Reason::MayCount { rows, zeros, clocks: (clocks, telling), by_name, own } => {
                let name = if *by_name { "the name of the column speaks of dates" } else { "" };
                let clocks = match clocks {
                    0 => String::new(),
                    _ => format!(
                        "{} of {} fractions are clock times",
                        grouped(*clocks),
                        grouped(*telling)
                    ),
                };
                let both = if name.is_empty() || clocks.is_empty() { "" } else { ", and " };
                let rows = counted(*rows, "number");
                let from = match own {
                    true => "may be dates, counted from the workbook's own origin",
                    false => "may count days or seconds from some origin",
                };
                write!(f, "{rows} {from}: {name}{both}{clocks}.")?;
                match zeros {
                    0 => Ok(()),
                    1 => write!(f, " 1 value is zero, which stands for nothing."),
                    zeros => {
                        write!(f, " {} values are zero, which stands for nothing.", grouped(*zeros))
                    }
                }
            }
            Reason::Soft(signals) => {
                let favoured = signals.first().map_or("", |signal| signal.favours.phrase());
                write!(f, "Only soft evidence speaks for {favoured}.{}", sentences(signals))
            }
            Reason::SoftDivided(signals) => {
                write!(f, "Soft evidence speaks for either.{}", sentences(signals))
            }
            Reason::Spike { day, rows, lowest } => {
                let verb = if *rows == 1 { "is" } else { "are" };
                write!(
                    f,
                    "{} {verb} {day}, which programs often write where they have no date; --missing with \
                     the raw text leaves them empty",
                    counted(*rows, "value")
                )?;
                row(f, Some(lowest))
            }
            Reason::Split(found) => split(f, found),
            Reason::NoSplit => write!(f, "Nothing beside them tells them apart."),
            Reason::NearlySplit { column, against } => write!(
                f,
                "{column:?} would tell them apart, were it not for {} that {} against it.",
                counted(*against, "value"),
                if *against == 1 { "speaks" } else { "speak" }
            ),
            Reason::Wrong { contested, orders: [one, other] } => {
                let wrong = |Estimate { order, wrong, least, most }: &Estimate| {
                    let range = format!("{} to {}", grouped(*least), grouped(*most));
                    format!("{}, about {} ({range})", order.phrase(), grouped(*wrong))
                };
                write!(
                    f,
                    "Of the {} that could be either so many would \
                     be wrong if all were read {}; {} (with 95 % probability).",
                    grouped(*contested),
                    wrong(one),
                    wrong(other)
                )
            }
            Reason::GivenSplit(split) => given_split(f, split),
            Reason::OfOtherRows { rows, lowest } => {
                let fit = if *rows == 1 { "fits" } else { "fit" };
                write!(
                    f,
                    "{} {fit} only what you said of other rows, and {} left open",
                    counted(*rows, "value"),
                    if *rows == 1 { "is" } else { "are" }
                )?;
                row(f, lowest.as_ref())
            }
            Reason::NoSuchPart => write!(
                f,
                "You said of some rows in which order they are, but no value is written in a form that \
                 can have it."
            ),
            Reason::OneForm => {
                write!(f, "Each shape has one reading only.")
            }
            Reason::Votes { winner: winner @ (Order::Minutes | Order::Months), rows, .. } => {
                write!(f, "In {} \"m\" can only be {}.", counted(*rows, "value"), winner.phrase())
            }
            Reason::Votes { winner, losers, rows } => {
                let losers: Vec<&str> = losers.iter().map(|loser| loser.phrase()).collect();
                let (rows, losers) = (counted(*rows, "value"), losers.join(" or "));
                write!(f, "{rows} can only be {}, none only {losers}.", winner.phrase())
            }
            Reason::FewVotes { winner, dates, of, .. } => {
                let few = match dates {
                    1 => "a typing error would explain it",
                    _ => "so few that typing errors would explain them",
                };
                let what = if winner.is_of_length() { "different value" } else { "different date" };
                let (dates, of) = (grouped(*dates), counted(*of, what));
                write!(f, "Only {dates} of {of} cannot be anything but {}: {few}.", winner.phrase())
            }
            Reason::Ambiguous { orders, rows } => {
                if orders.iter().any(|order| order.is_of_length()) {
                    return length_phrases::ambiguous(f, orders, *rows);
                }
                let day_or_month = orders.contains(&Order::Dmy) && orders.contains(&Order::Mdy);
                let why = if day_or_month {
                    "no value has a part above 12 that would tell day from month"
                } else {
                    "no value tells day from year"
                };
                match rows {
                    1 => write!(f, "The one date fits {}: {why}.", number_of_orders(orders)),
                    _ => {
                        let dates = grouped(*rows);
                        write!(f, "All {dates} dates fit {}: {why}.", number_of_orders(orders))
                    }
                }
            }
            Reason::Mixed { one: (a, a_rows, a_row), other: (b, b_rows, b_row), both } => write!(
                f,
                "{} can only be {} (first in row {}: {:?}), {} only {} (row {}: {:?}), {} could be either.",
                counted(*a_rows, "value"),
                a.phrase(),
                grouped(a_row.row),
                a_row.value,
                grouped(*b_rows),
                b.phrase(),
                grouped(b_row.row),
                b_row.value,
                grouped(*both)
            ),
            Reason::DaySignature { order, day_values, year_values } => write!(
                f,
                "The {} part takes {day_values} values up to 31 and respects the lengths of the months, \
                 the {} part only {year_values} neighbouring ones: the days stand {}.",
                place_of_day(*order),
                place_of_year(*order),
                place_of_day(*order)
            ),
            Reason::DayOrYear { order, rival, day_values, year_values } => write!(
                f,
                "Years of two digits: {} is likelier, as the {} part takes {day_values} values and the \
                 {} one {year_values}, but {} is not excluded.",
                order.phrase(),
                place_of_day(*order),
                place_of_year(*order),
                rival.phrase()
            ),
            Reason::AnswersLeave { orders, rows } => {
                let names: Vec<&str> = orders.iter().map(|order| order.phrase()).collect();
                let names = names.join(" as well as ");
                let rows = counted(*rows, "row");
                write!(f, "What you know is right read {names}; these differ on {rows}.")
            }
            Reason::NoYear { rows } => {
                let have = if *rows == 1 { "has" } else { "have" };
                write!(f, "{} {have} a day and no year.", counted(*rows, "value"))
            }
            Reason::YearOfFirst { year, turns, open } => {
                write!(f, "The values have no year; that of the first row is {year}")?;
                match turns.as_slice() {
                    [] => write!(f, ", and no other begins.")?,
                    [turn] => write!(f, ", and another begins at row {}.", grouped(*turn))?,
                    [first, .., last] => write!(
                        f,
                        ", and {} more begin from row {} to row {}.",
                        turns.len(),
                        grouped(*first),
                        grouped(*last)
                    )?,
                }
                match open {
                    0 => Ok(()),
                    _ => write!(f, " {} in no order leave the year open.", counted(*open, "row")),
                }
            }
            Reason::OtherForm { order, rows } => write!(
                f,
                "{} with other separators have no telling value of their own; the rest is {}.",
                counted(*rows, "date"),
                order.phrase()
            ),
            Reason::Century { latest, as_of } => write!(
                f,
                "Years of two digits reach {latest}, after {as_of}; they may belong to the century before."
            ),
            Reason::NamesOf(locale) => {
                write!(f, "The names are {} ({locale}).", locale.language_name())
            }
            Reason::NamesAlike(locales) => write!(
                f,
                "The names are the same months in {}.",
                list(locales.iter().map(|locale| locale.language_name()), "and", "more languages")
            ),
            Reason::NamesOfSeveral => {
                write!(
                    f,
                    "The names are of several languages; each is the same month in all that have it."
                )
            }
            Reason::NamesDiffer(Difference { name, meanings, is_month }) => {
                let english = Lexicon::english();
                let full = Length::Full;
                let meanings: Vec<String> = meanings
                    .iter()
                    .map(|(number, locales)| {
                        let meaning = match is_month {
                            true => english.month(*number, full, true),
                            false => english.weekday(*number, full),
                        };
                        let languages = locales.iter().map(|locale| locale.language_name());
                        format!("{meaning} in {}", list(languages, "and", "more languages"))
                    })
                    .collect();
                write!(f, "{name:?} is {}, and nothing tells which.", meanings.join("; "))
            }
            Reason::Claimed { locale, order } => {
                write!(f, "You said {locale}, {}: {}.", locale.name(), order.phrase())
            }
            Reason::Contradicted { locale, order, rows, lowest } => {
                let values = counted(*rows, "value");
                write!(
                    f,
                    "You said {locale}, {}, which is {}, but {values} cannot be that",
                    locale.name(),
                    order.phrase()
                )?;
                row(f, Some(lowest))
            }
            Reason::OtherLanguage { locale, rows, lowest } => {
                let verb = if *rows == 1 { "is a date" } else { "are dates" };
                write!(
                    f,
                    "You said {locale}, {}, but {} {verb} in another language",
                    locale.name(),
                    counted(*rows, "value")
                )?;
                row(f, Some(lowest))
            }
            Reason::InCalendar { calendar, usual } => {
                write!(f, "Years, months and days are those of {}", calendar.phrase())?;
                match usual {
                    Some(locale) => write!(f, ", as is usual where {} is written.", locale.name()),
                    None => write!(f, "."),
                }
            }
            Reason::UnusualYears { first, last } => {
                let years = match first == last {
                    true => format!("The year is {first}: it"),
                    false => format!("The years run from {first} to {last}: they"),
                };
                write!(f, "{years} may be counted by another calendar.")
            }
            Reason::Answered { answers, order } => {
                write!(f, "You said that {}: ", answers_said(answers))?;
                match order {
                    Order::None => write!(f, "so it is read."),
                    order => write!(f, "that is {}.", order.phrase()),
                }
            }
            Reason::AnswersContradicted { answers, rows, lowest } => {
                write!(
                    f,
                    "You said that {}, but {} cannot be read so",
                    answers_said(answers),
                    counted(*rows, "value")
                )?;
                row(f, Some(lowest))
            }
            Reason::NothingGives { answer, gives } => {
                let gives: Vec<String> = gives
                    .iter()
                    .map(|(order, moment)| match moment {
                        Some(moment) => format!("{} gives {moment}", order.phrase()),
                        None => format!("{} does not fit it", order.phrase()),
                    })
                    .collect();
                write!(
                    f,
                    "You said that {answer}, but no reading gives that: {}.",
                    gives.join(", ")
                )
            }
            Reason::AnswerElsewhere(answer) => {
                write!(
                    f,
                    "You said that {answer}, but no value of the column is written like that."
                )
            }
            Reason::GivenOrder(order) => write!(f, "You said {} ({order}).", order.phrase()),
            Reason::GivenLayouts(layouts) => {
                let layouts: Vec<String> = layouts.iter().map(Layout::to_string).collect();
                write!(f, "You gave {}.", layouts.join(" and "))
            }
            Reason::WouldFit { rows, lowest } => {
                let (verb, values) = if *rows == 1 { ("does", "fits") } else { ("do", "fit") };
                write!(
                    f,
                    "{} {verb} not fit that, but {values} another order or layout",
                    counted(*rows, "value")
                )?;
                row(f, lowest.as_ref())
            }
            Reason::LayoutsDisagree { rows, lowest } => {
                write!(f, "The layouts disagree about {}", counted(*rows, "value"))?;
                row(f, lowest.as_ref())
            }
            Reason::OtherKind { kind, rows } => write!(
                f,
                "{} {} {}; a column is read as one kind.",
                counted(*rows, "value"),
                if *rows == 1 { "is" } else { "are each" },
                kind.phrase()
            ),
            Reason::UnclearAbbreviation { .. }
            | Reason::OutOfSeason { .. }
            | Reason::SeasonalOffsets { .. }
            | Reason::PutBack { .. }
            | Reason::PlacedBy(_) => place_phrases::of_places(self, f),
            Reason::ManyShapes { rows } => write!(
                f,
                "More than 4,096 shapes; those of {} were not told apart.",
                counted(*rows, "value")
            ),
        }
    }
}

/// What tells the rows of a mixed column apart.
fn split(f: &mut fmt::Formatter<'_>, found: &FoundSplit) -> fmt::Result {
    let side = |(order, values): &(Order, Vec<String>)| {
        let values: Vec<String> = values.iter().map(|value| shown(value, &found.by)).collect();
        let preposition = if found.by == Clue::Rows { "in" } else { "for" };
        let values = list(values.iter().map(String::as_str), "and", "more");
        format!("{} {preposition} {values}", order.phrase())
    };
    let sides = found.sides.iter().map(side).collect::<Vec<_>>().join("; ");
    let (votes, chance) = (grouped(found.votes), by_chance(found.power));
    let agree = format!("all {votes} telling values agree; {chance}");
    match &found.by {
        Clue::Column(name) => write!(f, "{name:?} tells them apart: {sides} ({agree}).")?,
        Clue::Clock => {
            write!(f, "What stands beside the date tells them apart: {sides} ({agree}).")?;
        }
        Clue::Rows => write!(
            f,
            "Where they stand tells them apart, as if files had been put together: {sides} ({agree}). \
             That is so in this file alone, and of no use for the next delivery."
        )?,
    }
    let others: Vec<String> = found
        .as_well
        .iter()
        .filter_map(|clue| match clue {
            Clue::Column(name) => Some(format!("{name:?}")),
            Clue::Clock | Clue::Rows => None,
        })
        .collect();
    if !others.is_empty() {
        let verb = if others.len() == 1 { "does" } else { "do" };
        write!(f, " So {verb} {}.", list(others.iter().map(String::as_str), "and", "more"))?;
    }
    if !found.open.is_empty() {
        let open: Vec<String> = found.open.iter().map(|value| shown(value, &found.by)).collect();
        let open = list(open.iter().map(String::as_str), "or", "more");
        write!(f, " No value tells of {open}.")?;
    }
    match found.contested {
        0 => Ok(()),
        rows => write!(f, " {} would stay open and be left empty.", counted(rows, "value")),
    }
}

/// What is soft, one after the other.
fn sentences(signals: &[Signal]) -> String {
    signals.iter().map(|signal| format!(" {signal}")).collect()
}

/// A value of what tells rows apart.
fn shown(value: &str, by: &Clue) -> String {
    match by {
        Clue::Column(_) if value.is_empty() => "none".to_owned(),
        Clue::Column(_) => value.to_owned(),
        Clue::Clock if value.is_empty() => "dates alone".to_owned(),
        Clue::Clock => format!("dates with {:?}", value.trim()),
        Clue::Rows => match value.split_once("..") {
            Some((first, "")) => format!("the rows from {first} on"),
            Some((first, last)) => format!("rows {first} to {last}"),
            None => value.to_owned(),
        },
    }
}

fn given_split(f: &mut fmt::Formatter<'_>, split: &Split<Vec<Layout>>) -> fmt::Result {
    let by = match split.column() {
        Some(name) => format!("by {name:?}"),
        None => "by rows".to_owned(),
    };
    let layouts: Vec<String> = split.layouts().iter().map(Layout::to_string).collect();
    write!(f, "You said which rows are written how, {by}: {}.", layouts.join(" and "))
}

/// One in how many it happens by chance.
fn by_chance(power: u32) -> String {
    match power {
        0..=2 => "which also happens by chance".to_owned(),
        3..=9 => format!("by chance less than 1 in {}", grouped(10_u64.pow(power))),
        _ => format!("by chance less than 1 in 10^{power}"),
    }
}

fn answers_said(answers: &[Answer]) -> String {
    answers.iter().map(Answer::to_string).collect::<Vec<_>>().join(" and ")
}

fn place_of_day(order: Order) -> &'static str {
    match order {
        Order::Dmy => "first",
        Order::Mdy | Order::Ydm => "second",
        Order::Ymd | Order::Ordinal => "last",
        _ => "only",
    }
}

fn place_of_year(order: Order) -> &'static str {
    match order {
        Order::Dmy | Order::Mdy => "last",
        Order::Ymd | Order::Ydm | Order::Ordinal => "first",
        _ => "only",
    }
}
