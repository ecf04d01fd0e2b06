//! What would settle a column, as command lines to paste.

use std::path::Path;

use metachron_core::calendar::Calendar;
use metachron_core::layout::Layout;
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::Repair;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::{AsWritten, Clue, FoundSplit, Settle, Telling};
use metachron_tables::address::{is_address, shown_address};
use serde::Serialize;

use crate::choices::{Choices, suggested_output, suggested_readings};
use crate::choices::{set_name, when_values};
use crate::message::shell_word;
use crate::survey::SurveyedColumn;
use crate::words::{order_name, phrase};

/// Something that would settle a column.
#[derive(Debug, Serialize)]
pub struct SettleFacts {
    /// When it is right.
    pub message: String,
    /// The options that say it, if it can be said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub options: Option<String>,
    /// The whole command line.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub command: Option<String>,
}

/// When a first year of two-digit years is right, and the option that says it.
pub fn two_digit_from(year: i16) -> (String, String) {
    let message = format!("If two-digit years run from {year} to {}", year + 99);
    (message, format!("--two-digit-from {year}"))
}

/// What a suggested command line says of its inputs and outputs.
#[derive(Debug)]
pub struct Paste {
    /// The inputs, as a shell takes them.
    pub inputs: String,
    /// The option for the output.
    pub output: String,
    /// The readings file that belongs to them.
    pub readings: String,
}

impl Paste {
    /// For these inputs.
    pub fn of(paths: &[&Path]) -> Paste {
        // Addresses of servers stand there without their password.
        let word = |path: &&Path| match is_address(path) {
            true => shell_word(&shown_address(&path.to_string_lossy())),
            false => shell_word(&path.to_string_lossy()),
        };
        let words: Vec<String> = paths.iter().map(word).collect();
        let output = match paths {
            [path] => format!("-o {}", shell_word(&suggested_output(path))),
            _ => "--output-dir converted".to_owned(),
        };
        let readings = match paths {
            [path] => suggested_readings(path),
            _ => "readings.toml".to_owned(),
        };
        Paste { inputs: words.join(" "), output, readings: shell_word(&readings) }
    }
}

/// A way to settle a column, with the command line that says it.
pub fn settle(
    way: &Settle,
    column: &SurveyedColumn,
    paste: &Paste,
    choices: &Choices,
) -> Vec<SettleFacts> {
    if let Settle::Split(found) = way {
        return settle_split(found, column, paste, choices);
    }
    let layouts = |layouts: &[Layout]| {
        let option = |layout: &Layout| format!("--layout {}", shell_word(&layout.to_string()));
        layouts.iter().map(option).collect::<Vec<_>>().join(" ")
    };
    let (message, options) = match way {
        Settle::Order(order, 0) => {
            (format!("If {}", if_order((*order).into())), Some(format!("--order {order}")))
        }
        Settle::Order(order, lost) => (
            format!("If {} and {}", if_order((*order).into()), typing_errors(*lost)),
            Some(format!("--order {order}")),
        ),
        Settle::Calendar(Calendar::Gregorian) => (
            "If these years are of the usual calendar".to_owned(),
            Some("--calendar gregorian".to_owned()),
        ),
        Settle::Calendar(calendar) => {
            (format!("If it is {}", calendar.phrase()), Some(format!("--calendar {calendar}")))
        }
        Settle::Abbreviation(name, place) => (
            format!("If {name} is that of {place}"),
            Some(format!("--abbreviation {name}={place}")),
        ),
        Settle::Epoch(epoch) => {
            let (zero, unit) = epoch.described().unwrap_or(("", "numbers"));
            let message = match zero {
                "" => format!("If they are dates in digits ({epoch})"),
                zero => format!("If they count {unit} from {zero}"),
            };
            (message, Some(format!("--epoch {epoch}")))
        }
        Settle::Kind(kind) => {
            let message = match kind {
                Kind::Duration => "If they are lengths of time",
                _ => "If they were read off a clock",
            };
            (message.to_owned(), Some(format!("--kind {kind}")))
        }
        Settle::Unit(unit) => {
            let message = format!("If numbers alone are {}", unit.name());
            (message, Some(format!("--kind duration --unit {}", unit.name())))
        }
        Settle::Layouts(Alternative::Only, list) => {
            let kind = list.first().and_then(|layout| layout.kind()).map_or("", Kind::name);
            (format!("If each of them is a {kind}, or a typing error"), Some(layouts(list)))
        }
        Settle::Layouts(order, list) => (format!("If {}", if_order(*order)), Some(layouts(list))),
        Settle::AsWritten(what, list) => {
            let message = match what {
                AsWritten::DecimalFractions => "If their fractions are decimal",
                AsWritten::HoursOfDay => "If they are hours of a day of 24",
                AsWritten::Weeks => "If they are weeks of a year (ISO 8601)",
                AsWritten::Quarters => "If they are quarters of a year",
                AsWritten::Months => "If they are months",
                AsWritten::FullYears => "If their years have four digits",
                AsWritten::ShortYears => "If their years have two digits",
            };
            (message.to_owned(), Some(layouts(list)))
        }
        Settle::Both(list) => (
            "If both orders occur, to read what has one meaning and leave the rest empty"
                .to_owned(),
            Some(layouts(list)),
        ),
        Settle::Answer(value, moment) => (
            match moment {
                TypedValue::Duration(_) => {
                    "If you know how long one of them is, say it, for example"
                }
                _ => "If you know the right date of one value, say it, for example",
            }
            .to_owned(),
            Some(format!("--known {}", shell_word(&format!("{value}={moment}")))),
        ),
        Settle::Repair(repair, list) => {
            let options = format!("{} --repair {}", layouts(list), repair.name());
            (if_repaired(*repair).to_owned(), Some(options.trim_start().to_owned()))
        }
        Settle::Year(year) => {
            (format!("If the first row is of {year}"), Some(format!("--year {year}")))
        }
        Settle::WrittenIn(locale) => {
            let language = locale.language_name();
            let message = match column.inference.judgement.kind {
                Some(Kind::Duration) => format!("If they are written in {language}"),
                _ => format!("If the names are {language}"),
            };
            (message, Some(format!("--written-in {locale}")))
        }
        Settle::TwoDigitFrom(year) => {
            let (message, option) = two_digit_from(*year);
            (message, Some(option))
        }
        Settle::Split(_) => return Vec::new(),
        Settle::AllBut { column: other, value, order, usual } => {
            let (name, values) = (set_name(&column.plan.name), std::slice::from_ref(value));
            let said =
                format!("{name} where {}={}: order={order}", set_name(other), when_values(values));
            let phrased = phrase(Alternative::from(*order));
            let message = format!("If {value:?} is {phrased} and the others are not");
            (message, Some(format!("--order {usual} --when {}", shell_word(&said))))
        }
        Settle::Value(telling) => (would_decide(*telling).to_owned(), None),
    };
    vec![settled(message, options, way, column, paste, choices)]
}

/// The whole command line for these options.
fn settled(
    message: String,
    options: Option<String>,
    way: &Settle,
    column: &SurveyedColumn,
    paste: &Paste,
    choices: &Choices,
) -> SettleFacts {
    let command = options.as_ref().map(|options| {
        let Paste { inputs, output, .. } = paste;
        let mut repeated = choices.repeated(Some(way));
        repeated.push_str(&choices.repeated_about(&column.plan.name, way));
        let name = shell_word(&column.plan.name);
        format!("metachron convert {inputs}{repeated} --column {name} {options} {output}")
    });
    SettleFacts { message, options, command }
}

/// How to keep what tells rows apart, and how to use it at once.
fn settle_split(
    found: &FoundSplit,
    column: &SurveyedColumn,
    paste: &Paste,
    choices: &Choices,
) -> Vec<SettleFacts> {
    let Paste { inputs, readings, .. } = paste;
    let repeated = choices.repeated(None);
    let name = shell_word(&column.plan.name);
    let options = format!("--save {readings} --accept split");
    let save = format!("metachron survey {inputs}{repeated} --column {name} {options}");
    let mut ways = vec![SettleFacts {
        message: "If that is so, to keep it for this and later files".to_owned(),
        options: Some(options),
        command: Some(save),
    }];
    let part = |(order, values): &(Alternative, Vec<String>)| match &found.by {
        Clue::Column(other) => vec![format!(
            "{} where {}={}: order={}",
            set_name(&column.plan.name),
            set_name(other),
            when_values(values),
            order_name(*order)
        )],
        Clue::Rows => {
            let rows = values.iter();
            rows.map(|rows| {
                format!("{} rows {rows}: order={}", set_name(&column.plan.name), order_name(*order))
            })
            .collect()
        }
        Clue::Clock => Vec::new(),
    };
    let options: Vec<String> = match &found.by {
        Clue::Clock => found
            .layouts
            .iter()
            .map(|layout| format!("--layout {}", shell_word(&layout.to_string())))
            .collect(),
        _ => found
            .sides
            .iter()
            .flat_map(part)
            .map(|said| format!("--when {}", shell_word(&said)))
            .collect(),
    };
    let message = "To convert this file so".to_owned();
    let way = Settle::Split(found.clone());
    ways.push(settled(message, Some(options.join(" ")), &way, column, paste, choices));
    ways
}

fn if_repaired(repair: Repair) -> &'static str {
    match repair {
        Repair::HalfSwapped => "If that is so, to exchange them back",
        Repair::MonthYear => "If that is so, to make months of them again",
        Repair::None => "If every date is right as it stands",
    }
}

fn if_order(order: Alternative) -> &'static str {
    match order {
        Alternative::Dmy => "the day comes first",
        Alternative::Mdy => "the month comes first",
        Alternative::Ymd => "the year comes first",
        Alternative::Ydm => "the order is year, day, month",
        Alternative::Ordinal => "they are a year and the day of that year",
        Alternative::Only => "that is what they are",
        Alternative::HoursMinutes => "they are hours and minutes",
        Alternative::MinutesSeconds => "they are minutes and seconds",
        Alternative::Minutes => "\"m\" is minutes",
        Alternative::Months => "\"m\" is months",
    }
}

/// A kind of value that would decide.
fn would_decide(telling: Telling) -> &'static str {
    match telling {
        Telling::LateDays => "A few more values with a day above 12 would decide it.",
        Telling::WholeMonths => "Values that run through all days of the month would decide it.",
        Telling::HoursBesideM => "Values that have hours or seconds beside \"m\" would decide it.",
        Telling::Fractions => {
            "A few values with a fraction, such as 1:30.5, would decide it: that ends with seconds."
        }
        Telling::NamesThemselves => {
            "Without --written-in for this column its names show the language."
        }
    }
}

fn typing_errors(rows: u64) -> String {
    match rows {
        1 => "the 1 value that does not fit is a typing error, to be left empty".to_owned(),
        _ => {
            let rows = metachron_core::text::grouped(rows);
            format!("the {rows} values that do not fit are typing errors, to be left empty")
        }
    }
}
