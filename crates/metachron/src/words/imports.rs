//! What an earlier import did, in sentences.

use std::fmt;

use metachron_core::text::{counted, grouped};
use metachron_core::verdict::{Harmed, ImportFinding};

use super::Words;
use super::pieces::{by_chance, many};

impl fmt::Display for Words<'_, ImportFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            ImportFinding::HalfSwapped { dates, late, texts, open, power } => {
                let chance = by_chance(*power);
                let have = |dates: u64| if dates == 1 { "has" } else { "have" };
                let late = match late {
                    0 => format!("none of {}", counted(*dates, "date")),
                    late => format!("only {} of {}", grouped(*late), counted(*dates, "date")),
                };
                let texts_have = match open {
                    0 => format!("all {}", counted(*texts, "date")),
                    open => format!("{} of {}", grouped(texts - open), counted(*texts, "date")),
                };
                write!(
                    f,
                    "An earlier import seems to have exchanged day and month: {late} {} a day above 12, and \
                     {texts_have} in another form {}. A swap leaves that pattern ({chance}).",
                    have(*dates),
                    if *texts == 1 { "does" } else { "do" },
                )
            }
            ImportFinding::Exchanged(rows) => write!(
                f,
                "Day and month of {} are exchanged back, because you say so; a day above 12 stays.",
                counted(*rows, "date")
            ),
            ImportFinding::MonthYear { years: (year, _), texts: texts @ 1.., .. } => write!(
                f,
                "An earlier import seems to have taken months with two-digit years (Apr-22) for days of \
                 {year}: all dates lie in that year, and the {} that were left as text have a year that is \
                 no day of theirs.",
                counted(*texts as u64, "month")
            ),
            ImportFinding::MonthYear {
                years: (year, last_year),
                days: (first, last),
                power,
                ..
            } => {
                let (lie, years) = match year == last_year {
                    true => (format!("{year}"), "that year"),
                    false => (format!("{year} and {last_year}"), "these years"),
                };
                let chance = by_chance(*power);
                write!(
                    f,
                    "An earlier import seems to have taken months with two-digit years (Apr-{last:02}) for \
                     days of {lie}: all dates lie in {years}, and their days run from {first} to {last} and \
                     no further ({chance})."
                )
            }
            ImportFinding::FormWithoutLateDays { dates, power } => write!(
                f,
                "None of {} that a program has written has a day above 12 ({}), and other values have: an \
                 earlier import may have exchanged their day and month. Compare a few with their source.",
                counted(*dates, "different date"),
                by_chance(*power),
            ),
            ImportFinding::NoLateDays { dates, missing, power } => {
                let empty = match missing {
                    0 => String::new(),
                    rows => format!(", and {} empty", many(*rows, "cell", "is", "are")),
                };
                let none = match dates {
                    1 => "Its one date has no day above 12".to_owned(),
                    _ => {
                        format!("None of {} has a day above 12", counted(*dates, "different date"))
                    }
                };
                write!(
                    f,
                    "{none} ({}){empty}. An earlier import that took days for months \
                     leaves a column so: dates that it could not read are lost, and the others have day and \
                     month exchanged. Compare a few with their source.",
                    by_chance(*power),
                )
            }
            ImportFinding::HarmedBeside(Harmed { name, is_certain: true }) => {
                write!(f, "It did so in {name:?} beside it.")
            }
            ImportFinding::HarmedBeside(Harmed { name, is_certain: false }) => {
                write!(f, "So it seems of {name:?} beside it, too.")
            }
            ImportFinding::HarmedPart(Harmed { name, is_certain }) => {
                let has = if *is_certain { "has" } else { "seems to have" };
                write!(
                    f,
                    "An earlier import {has} exchanged day and month in {name}, as it shows by itself. \
                     Survey and repair that file apart from the others."
                )
            }
            ImportFinding::NothingToRepair => write!(
                f,
                "There is nothing to repair: such an import leaves dates beside text, and this column \
                 has only one of them."
            ),
            ImportFinding::NotExchanged(dates) => write!(
                f,
                "{} a day above 12, which cannot have been a month: not every date was exchanged.",
                many(*dates, "different date", "has", "have")
            ),
            ImportFinding::YearsFromDays(1) => {
                write!(f, "The day of 1 date is the year of a month, because you say so.")
            }
            ImportFinding::YearsFromDays(rows) => {
                let dates = grouped(*rows);
                write!(f, "The days of {dates} dates are the years of months, because you say so.")
            }
        }
    }
}
