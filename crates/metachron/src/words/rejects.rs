//! Why a cell is empty, and what would help.

use jiff::civil::Date;
use metachron_core::apply::Outcome;
use metachron_core::reading::Unfit;
use metachron_core::value::{Fault, Value};

use super::words;

/// Why a cell is not what it should be.
pub fn why_unread(outcome: &Outcome, value: &Value<'_>) -> String {
    match outcome {
        Outcome::Contested(one, other) => format!("{one} by one layout, {other} by another"),
        Outcome::OfOtherRows(moment) => {
            format!("it could be {moment}, but only by the layout of other rows")
        }
        Outcome::Placeholder => "a date only in form; it stands for nothing".to_owned(),
        Outcome::Unreadable(Unfit::Fault(fault)) => in_place_of_value(*fault, &value.to_text()),
        Outcome::Unreadable(unfit) => words(unfit).to_string(),
        Outcome::Missing | Outcome::Read(_) => String::new(),
    }
}

/// What stands where a value should.
fn in_place_of_value(fault: Fault, shown: &str) -> String {
    match fault {
        Fault::Error => format!("the file holds the error {shown} in place of a value"),
        Fault::OutOfRange => {
            let what = format!("the file has {shown} as a date or time, but none has that number");
            match date_of_digits(shown) {
                Some(date) => format!("{what}; its digits are those of {date}"),
                None => what,
            }
        }
        Fault::NotCalculated => "a formula stands here whose result is not stored".to_owned(),
        Fault::NotText => format!("the bytes {shown} are no text"),
    }
}

/// The date whose year, month and day are the digits of a number.
fn date_of_digits(number: &str) -> Option<Date> {
    let digits = number.len() == 8 && number.bytes().all(|byte| byte.is_ascii_digit());
    digits.then(|| Date::strptime("%Y%m%d", number).ok())?
}

/// What would settle it.
pub fn what_helps(outcome: &Outcome) -> &'static str {
    let unfit = match outcome {
        Outcome::Contested(..) => return "--contested prefer, or a single layout",
        Outcome::OfOtherRows(_) => return "correct the value, or what tells the rows apart",
        Outcome::Unreadable(unfit) => unfit,
        Outcome::Placeholder | Outcome::Missing | Outcome::Read(_) => return "",
    };
    match unfit {
        Unfit::Form => "correct the value, or add a layout that reads it",
        Unfit::OtherKind { .. } => "add what is missing, or a layout with a part in brackets",
        Unfit::SkippedClock { .. } => "--skipped-clock before or after, or correct the value",
        Unfit::RepeatedClock { .. } => {
            "--repeated-clock first, second or by-sequence, or correct the value"
        }
        Unfit::Fault(Fault::NotCalculated) => "open the workbook, let it calculate, and save it",
        Unfit::NoUnit => "--unit, or write the unit",
        Unfit::NoLastUnit => "write the unit",
        Unfit::MinutesOrMonths => "--layout {amounts:minutes} or {amounts:months}",
        Unfit::UnclearUnit { .. } => "--written-in, or write the unit out",
        Unfit::UnclearComma => "--written-in, or write the number with a decimal point",
        Unfit::NoZone => "name the zone in the row, or say it with --zone or --when",
        Unfit::NoSuchZone => "zones = { … } in a readings file, or correct the zone",
        Unfit::UnclearAbbreviation(_) => "--abbreviation NAME=ZONE",
        Unfit::OffsetNotOfZone { .. } | Unfit::OtherAbbreviation { .. } => {
            "--offset-wins, or correct the value or the zone"
        }
        _ => "correct the value",
    }
}
