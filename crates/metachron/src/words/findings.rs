//! What was found about a column, in sentences.

use std::fmt;

use metachron_core::layout::Layout;
use metachron_core::order::Alternative;
use metachron_core::reading::Split;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::{Answer, Apart, Clue, Estimate, Finding, FoundSplit, Signal};

use super::lengths::ambiguous;
use super::pieces::{by_chance, first, list, many, number_of_orders, phrase, values};
use super::{Words, words};

/// What may have happened to dates that fit in only in another order.
const EXCHANGED: &str = "an import may have exchanged day and month, or another hand wrote them";

impl fmt::Display for Words<'_, Finding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            Finding::Numbers(own) => write!(f, "{}", words(own)),
            Finding::Lengths(own) => write!(f, "{}", words(own)),
            Finding::Zones(own) => write!(f, "{}", words(own)),
            Finding::Imports(own) => write!(f, "{}", words(own)),
            Finding::Languages(own) => write!(f, "{}", words(own)),
            Finding::NoRows => write!(f, "There are no rows."),
            Finding::AllMissing => write!(f, "Every value is missing."),
            Finding::NotDates { fit: 0, .. } => {
                write!(f, "No dates.")
            }
            Finding::NotDates { fit, values } => write!(
                f,
                "Only {} of {} can be read as dates, less than half.",
                grouped(*fit),
                counted(*values, "value")
            ),
            Finding::ByChance { rows, dates } => write!(
                f,
                "{} could be dates in digits ({} different), but numbers can look so by chance; \
                 --column with --order says that they are.",
                counted(*rows, "value"),
                grouped(*dates)
            ),
            Finding::MayBeNumbers(rows) => write!(
                f,
                "{} not exist: all of them may be running numbers{}.",
                values(rows, "does", "do"),
                first(rows)
            ),
            Finding::DayOrYearAlone => write!(
                f,
                "The two digits beside the month's name are likely a year; they could be a day whose \
                 year is missing."
            ),
            Finding::RunningNumbers { in_years } => {
                let (digits, one, period) = match in_years {
                    true => ("three", "001", "year"),
                    false => ("two", "01", "month"),
                };
                write!(
                    f,
                    "The last {digits} digits run on from {one} in every {period}: they may be running numbers \
                     and no days."
                )
            }
            Finding::Preferred { rows, wrong } => {
                let values = values(rows, "is read", "are read");
                write!(f, "{values} by the layout that stands first, although others read ")?;
                let them = if rows.rows == 1 { "it" } else { "them" };
                write!(f, "{them} otherwise{}", first(rows))?;
                if let Some(Estimate { wrong, least, most, .. }) = wrong {
                    let (wrong, least, most) = (grouped(*wrong), grouped(*least), grouped(*most));
                    write!(f, "; about {wrong} ({least} to {most}) are likely wrong")?;
                }
                f.write_str(".")
            }
            Finding::YearDayMonth { rows, are_needed } => write!(
                f,
                "{} can be nothing but year, day, month{}{}.",
                counted(rows.rows, "value"),
                first(rows),
                if *are_needed { "; --column with --order ydm reads all of them so" } else { "" }
            ),
            Finding::WeeksOrMonths { rows } => write!(
                f,
                "{} could be months, and the name of the column speaks of weeks.",
                counted(*rows, "value")
            ),
            Finding::QuartersOrMonths { rows, by_name: true } => write!(
                f,
                "{} could be months, and the name of the column speaks of quarters.",
                counted(*rows, "value")
            ),
            Finding::QuartersOrMonths { rows, by_name: false } => write!(
                f,
                "{} could be months, but none of them goes beyond 4: they may be quarters.",
                counted(*rows, "value")
            ),
            Finding::TwelveDigits { rows, unread } => {
                let values = counted(*rows, "value");
                write!(
                    f,
                    "{values} of twelve digits may have a year of four digits, or of two with"
                )?;
                f.write_str(" seconds at the end")?;
                if *unread > 0 {
                    let are = many(*unread, "other", "is", "are");
                    write!(f, "; {are} no moment with a year of four digits")?;
                }
                f.write_str(".")
            }
            Finding::TwelveHours { rows, back } => {
                write!(f, "The clocks of all {} show hours from 1 to 12", counted(*rows, "value"))?;
                if *back > 0 {
                    let back = many(*back, "time", "goes", "go");
                    write!(f, ", and {back} back from one row to the next of the same day")?;
                }
                write!(f, ": they may be hours of twelve, and nothing says which are after noon.")
            }
            Finding::UntoldHand { apart, rows, dates, order, power } => write!(
                f,
                "{} {} either way, although the others are {} ({} different dates; {}): another hand may \
                 have written them, and nothing tells its order.",
                set_apart(apart),
                many(*rows, "value", "could be read", "could all be read"),
                phrase(order),
                grouped(*dates),
                by_chance(*power),
            ),
            Finding::OutOfStep { order, dates, of, power } => write!(
                f,
                "{} of {} different dates that fit several orders lie near the rows above them only if they are {} \
                 ({}): {EXCHANGED}.",
                grouped(*dates),
                grouped(*of),
                phrase(order),
                by_chance(*power),
            ),
            Finding::OutOfTime { order, dates, months: (from, to), power } => write!(
                f,
                "{} outside the time of those that can be read in one way only ({from} to {to}), and in it if \
                 they are {} ({}): {EXCHANGED}.",
                many(*dates, "different date", "lies", "lie"),
                phrase(order),
                by_chance(*power),
            ),
            Finding::OtherEnd { order, dates, power } => write!(
                f,
                "{} in other years than most, and in these if {} ({}): another hand may have written the year at \
                 the other end.",
                many(*dates, "different date", "lies", "lie"),
                if *dates == 1 {
                    format!("it is {}", phrase(order))
                } else {
                    format!("they are {}", phrase(order))
                },
                by_chance(*power),
            ),
            Finding::SortedElsewhere(signal) => write!(
                f,
                "{} The values that tell the order may be typing errors, or of another hand.",
                words(signal)
            ),
            Finding::ShortYears { rows, usual } => write!(
                f,
                "{} of two digits, and where they were written the usual calendar is {}: nothing tells \
                 which calendar counts them.",
                many(*rows, "year", "is", "are"),
                usual.phrase()
            ),
            Finding::UnevenMarks => write!(
                f,
                "Different marks stand between the parts, as hands type dates: they may be something else."
            ),
            Finding::Seasons(seasons) => write!(
                f,
                "In all {} the second number is the year behind the first: these may be seasons (2003/04), \
                 and no months.",
                counted(*seasons, "different value")
            ),
            Finding::Typed(rows) => {
                let cells = many(
                    *rows,
                    "cell",
                    "is typed as a date or time",
                    "are typed as dates or times",
                );
                write!(f, "{cells} already.")
            }
            Finding::Soft(signals) => {
                let favoured = signals.first().map_or("", |signal| phrase(signal.favours));
                write!(f, "Only hints speak for {favoured}.{}", sentences(signals))
            }
            Finding::SoftDivided(signals) => {
                write!(f, "Hints speak for either.{}", sentences(signals))
            }
            Finding::Spike { day, rows } => write!(
                f,
                "{} {day}, which programs often write where they have no date; --missing with the raw text \
                 leaves {} empty{}.",
                values(rows, "is", "are"),
                if rows.rows == 1 { "it" } else { "them" },
                first(rows)
            ),
            Finding::LostCentury { dates, example, others: (first, last) } => {
                write!(
                    f,
                    "{} before the year 100, such as {example}, and all others in {first} to \
                 {last}: something took years of two digits as they stand. Correct them at their source.",
                    if *dates == 1 {
                        "1 date lies".to_owned()
                    } else {
                        format!("{} different dates lie", grouped(*dates))
                    },
                )
            }
            Finding::Split(found) => split(f, found),
            Finding::NoSplit { of_all: true } => write!(f, "Nothing beside them tells them apart."),
            Finding::NoSplit { of_all: false } => write!(
                f,
                "Nothing beside them that there was room to look at tells them apart; --max-evidence gives it more."
            ),
            Finding::NearlySplit { column, against } => write!(
                f,
                "{column:?} would tell them apart, were it not for {} against it.",
                many(*against, "value", "that speaks", "that speak")
            ),
            Finding::Wrong { contested, orders: [one, other] } => {
                let range = |Estimate { least, most, .. }: &Estimate| {
                    format!("{} to {}", grouped(*least), grouped(*most))
                };
                write!(
                    f,
                    "If all {} were read {}, about {} would be wrong (95 %: {}); {}, about {} ({}).",
                    counted(*contested, "unclear value"),
                    phrase(one.order),
                    grouped(one.wrong),
                    range(one),
                    phrase(other.order),
                    grouped(other.wrong),
                    range(other)
                )
            }
            Finding::GivenSplit(split) => given_split(f, split),
            Finding::OfOtherRows(rows) => write!(
                f,
                "{} left open{}.",
                values(
                    rows,
                    "fits only what you said of other rows, and is",
                    "fit only what you said of other rows, and are"
                ),
                first(rows)
            ),
            Finding::NoSuchPart => write!(
                f,
                "You said of some rows in which order they are, but no value is written in a form that \
                 can have it."
            ),
            Finding::OneForm => write!(f, "Can be read in one way only."),
            Finding::Votes {
                winner: winner @ (Alternative::Minutes | Alternative::Months),
                rows,
                ..
            } => {
                write!(f, "In {} \"m\" can only be {}.", counted(*rows, "value"), phrase(winner))
            }
            Finding::Votes { winner, losers, rows, are_all } => {
                let losers: Vec<&str> = losers.iter().map(|loser| phrase(loser)).collect();
                let (rows, losers) = (counted(*rows, "value"), losers.join(" or "));
                let winner = phrase(winner);
                match are_all {
                    true => write!(f, "{rows} can only be {winner}, none only {losers}."),
                    false => {
                        write!(f, "{rows} can be {winner} but not {losers}, none the reverse.")
                    }
                }
            }
            Finding::FewVotes { winner, loser, dates, of, .. } => {
                let few = match dates {
                    1 => "a typing error would explain it",
                    _ => "so few that typing errors would explain them",
                };
                let what = if winner.is_of_length() { "different value" } else { "different date" };
                let (dates, of) = (grouped(*dates), counted(*of, what));
                let (winner, loser) = (phrase(winner), phrase(loser));
                write!(f, "Only {dates} of {of} can be {winner} but not {loser}: {few}.")
            }
            Finding::Ambiguous { orders, rows } => {
                if orders.iter().any(|order| order.is_of_length()) {
                    return ambiguous(f, orders, *rows);
                }
                let day_or_month =
                    orders.contains(&Alternative::Dmy) && orders.contains(&Alternative::Mdy);
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
            Finding::Mixed { one: (a, a_rows, a_row), other: (b, b_rows, b_row), both } => write!(
                f,
                "{} can only be {} (first in row {}: {:?}), {} only {} (row {}: {:?}), {} could be either.",
                counted(*a_rows, "value"),
                phrase(a),
                grouped(a_row.row),
                a_row.value,
                grouped(*b_rows),
                phrase(b),
                grouped(b_row.row),
                b_row.value,
                grouped(*both)
            ),
            Finding::FarByOtherOrder { order, rows } => write!(
                f,
                "{} only {} and would then lie far from the years of all others{}: taken for typing errors.",
                values(rows, "fits", "fit"),
                phrase(order),
                first(rows)
            ),
            Finding::TurnedEnds { order, day_values, year_values } => write!(
                f,
                "The values look like {}: the {}.",
                phrase(order),
                ends(*order, *day_values, *year_values)
            ),
            Finding::DaySignature { order, day_values, year_values } => write!(
                f,
                "The {}: the days stand {}.",
                ends(*order, *day_values, *year_values),
                place_of_day(*order)
            ),
            Finding::DayOrYear { order, rival, day_values, year_values } => write!(
                f,
                "Years of two digits: {} is likelier, as the {} part takes {day_values} values and the \
                 {} one {year_values}, but {} is not excluded.",
                phrase(order),
                place_of_day(*order),
                place_of_year(*order),
                phrase(rival)
            ),
            Finding::AnswersLeave { orders, rows } => {
                let names: Vec<&str> = orders.iter().map(|order| phrase(order)).collect();
                let names = names.join(" as well as ");
                let rows = counted(*rows, "row");
                write!(f, "What you know is right read {names}; these differ on {rows}.")
            }
            Finding::NoYear(rows) => {
                write!(f, "{} a day and no year.", many(*rows, "value", "has", "have"))
            }
            Finding::YearOfFirst { year, turns, open } => {
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
            Finding::OtherForm { order, rows } => write!(
                f,
                "{} with other separators {} no telling value of {} own; the rest is {}.",
                counted(*rows, "date"),
                if *rows == 1 { "has" } else { "have" },
                if *rows == 1 { "its" } else { "their" },
                phrase(order)
            ),
            Finding::Century { latest, as_of } => write!(
                f,
                "Years of two digits reach {latest}, after {as_of}; they may belong to the century before."
            ),
            Finding::Claimed { locale, order } => {
                write!(f, "You said {locale}, {}: {}.", locale.name(), phrase(order))
            }
            Finding::Contradicted { locale, order, rows } => write!(
                f,
                "You said {locale}, {}, which is {}, but {} cannot be that{}.",
                locale.name(),
                phrase(order),
                counted(rows.rows, "value"),
                first(rows)
            ),
            Finding::InCalendar { calendar, usual } => {
                write!(f, "Years, months and days are those of {}", calendar.phrase())?;
                match usual {
                    Some(locale) => write!(f, ", as is usual where {} is written.", locale.name()),
                    None => write!(f, "."),
                }
            }
            Finding::UnusualYears { first, last } => {
                let years = match first == last {
                    true => format!("The year is {first}: it"),
                    false => format!("The years run from {first} to {last}: they"),
                };
                write!(f, "{years} may be counted by another calendar.")
            }
            Finding::Answered { answers, order } => {
                write!(f, "You said that {}: ", answers_said(answers))?;
                match order {
                    Alternative::Only => write!(f, "so it is read."),
                    order => write!(f, "that is {}.", phrase(order)),
                }
            }
            Finding::AnswersContradicted { answers, rows } => write!(
                f,
                "You said that {}, but {} cannot be read so{}.",
                answers_said(answers),
                counted(rows.rows, "value"),
                first(rows)
            ),
            Finding::NothingGives { answer, gives } => {
                let gives: Vec<String> = gives
                    .iter()
                    .map(|(order, moment)| match moment {
                        Some(moment) => format!("{} gives {moment}", phrase(order)),
                        None => format!("{} does not fit it", phrase(order)),
                    })
                    .collect();
                write!(
                    f,
                    "You said that {}, but no reading gives that: {}.",
                    answer_said(answer),
                    gives.join(", ")
                )
            }
            Finding::AnswerElsewhere(answer) => {
                write!(
                    f,
                    "You said that {}, but no value of the column is written like that.",
                    answer_said(answer)
                )
            }
            Finding::GivenOrder(order) => {
                write!(f, "You said {} ({order}).", phrase(Alternative::from(*order)))
            }
            Finding::GivenLayouts(layouts) => {
                let layouts: Vec<String> = layouts.iter().map(Layout::to_string).collect();
                write!(f, "You gave {}.", layouts.join(" and "))
            }
            Finding::WouldFit(rows) => write!(
                f,
                "{} another order or layout{}.",
                values(
                    rows,
                    "does not fit what was said, but fits",
                    "do not fit what was said, but fit"
                ),
                first(rows)
            ),
            Finding::LayoutsDisagree(rows) => {
                let values = counted(rows.rows, "value");
                write!(f, "The layouts disagree about {values}{}.", first(rows))
            }
            Finding::OtherKind { kind, rows } => write!(
                f,
                "{} {}; a column is read as one kind.",
                many(*rows, "value", "is", "are each"),
                kind.phrase()
            ),
            Finding::ManyShapes(rows) => {
                let values = counted(*rows, "value");
                write!(f, "More than 4,096 shapes; those of {values} were not told apart.")
            }
        }
    }
}

/// What tells the rows of a mixed column apart.
fn split(f: &mut fmt::Formatter<'_>, found: &FoundSplit) -> fmt::Result {
    let side = |(order, values): &(Alternative, Vec<String>)| {
        let values: Vec<String> = values.iter().map(|value| shown(value, &found.by)).collect();
        let preposition = if found.by == Clue::Rows { "in" } else { "for" };
        let values = list(values.iter().map(String::as_str), "and", "more");
        format!("{} {preposition} {values}", phrase(order))
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
            _ => None,
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

/// Which rows something sets apart: `Where "station" is Skarholm,`.
fn set_apart(apart: &Apart) -> String {
    match apart {
        Apart::Beside { column, value } if value.is_empty() => {
            format!("Where {column:?} is empty,")
        }
        Apart::Beside { column, value } => format!("Where {column:?} is {value},"),
        Apart::Clock(clock) if clock.is_empty() => "Of dates alone,".to_owned(),
        Apart::Clock(clock) => format!("Of dates with {:?},", clock.trim()),
        Apart::Padded(true) => "With a zero before numbers below ten,".to_owned(),
        Apart::Padded(false) => "Without a zero before numbers below ten,".to_owned(),
        Apart::File(part) => format!("In file {} of those that were put together,", part + 1),
        Apart::Rows { first, last } => format!("In rows {first} to {last},"),
    }
}

/// What is soft, one after the other.
fn sentences(signals: &[Signal]) -> String {
    signals.iter().map(|signal| format!(" {}", words(signal))).collect()
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

fn answers_said(answers: &[Answer]) -> String {
    answers.iter().map(answer_said).collect::<Vec<_>>().join(" and ")
}

/// What is known of one value: `"03/04/2024" is 2024-04-03`.
fn answer_said(answer: &Answer) -> String {
    format!("{:?} is {}", answer.value, answer.iso)
}

/// What tells the part that is the day from the part that is the year.
fn ends(order: Alternative, day_values: usize, year_values: usize) -> String {
    format!(
        "{} part takes {day_values} values up to 31 and respects the lengths of the months, the {} part only \
         {year_values} neighbouring ones",
        place_of_day(order),
        place_of_year(order)
    )
}

fn place_of_day(order: Alternative) -> &'static str {
    match order {
        Alternative::Dmy => "first",
        Alternative::Mdy | Alternative::Ydm => "second",
        Alternative::Ymd | Alternative::Ordinal => "last",
        _ => "only",
    }
}

fn place_of_year(order: Alternative) -> &'static str {
    match order {
        Alternative::Dmy | Alternative::Mdy => "last",
        Alternative::Ymd | Alternative::Ydm | Alternative::Ordinal => "first",
        _ => "only",
    }
}
