//! Why a cell is empty, and what would help.

use metachron_core::apply::Outcome;
use metachron_core::reading::Unfit;
use metachron_core::value::Value;

use super::words;

/// Why a cell is not what it should be.
pub fn why_unread(outcome: &Outcome, value: &Value<'_>) -> String {
    match outcome {
        Outcome::Contested(one, other) => format!("{one} by one layout, {other} by another"),
        Outcome::OfOtherRows(moment) => {
            format!("it could be {moment}, but only by the layout of other rows")
        }
        Outcome::Placeholder => "a date only in form; it stands for nothing".to_owned(),
        Outcome::Unreadable(Unfit::Fault) => {
            format!("the file holds the error {} in place of a value", value.to_text())
        }
        Outcome::Unreadable(unfit) => words(unfit).to_string(),
        Outcome::Missing | Outcome::Read(_) => String::new(),
    }
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
