//! The keys of a readings file, of `--set` and of the plain options, and what their values may be.

use jiff::civil::Date;
use metachron_core::calendar::Calendar;
use metachron_core::duration::{UNITS, Unit};
use metachron_core::epoch::{Epoch, UnknownEpoch};
use metachron_core::error::nearest;
use metachron_core::layout::Layout;
use metachron_core::lexicon::Locale;
use metachron_core::order::Order;
use metachron_core::reading::{Contested, Repair};
use metachron_core::typed::{Anchor, Kind};
use metachron_core::verdict::{Answer, Verdict};
use toml_edit::Value;

use crate::message::{plain, quoted};
use crate::words::wrong_layout;

/// What is wrong with a key that does not exist.
pub fn unknown_key<'k>(key: &str, keys: impl IntoIterator<Item = &'k str>) -> String {
    match nearest(key, keys) {
        Some(near) => format!("there is no key {}; did you mean {near}?", quoted(key)),
        None => format!("there is no key {}", quoted(key)),
    }
}

pub fn wrong(key: &str, value: &Value) -> String {
    format!("{key} cannot be {}", value.to_string().trim())
}

pub fn text(key: &str, value: &Value) -> Result<String, String> {
    value.as_str().map(str::to_owned).ok_or_else(|| wrong(key, value))
}

pub fn whole(key: &str, value: &Value) -> Result<i64, String> {
    value.as_integer().ok_or_else(|| wrong(key, value))
}

pub fn truth(key: &str, value: &Value) -> Result<bool, String> {
    value.as_bool().ok_or_else(|| wrong(key, value))
}

/// A list of texts; a single text is a list of one.
pub fn texts(key: &str, value: &Value) -> Result<Vec<String>, String> {
    match value.as_array() {
        Some(array) => array.iter().map(|item| text(key, item)).collect(),
        None => Ok(vec![text(key, value)?]),
    }
}

/// The order of this name.
pub fn order(name: &str) -> Result<Order, String> {
    name.parse().map_err(|()| format!("order {} is none of dmy, mdy, ymd, ydm", quoted(name)))
}

/// The kind of this name.
pub fn kind(name: &str) -> Result<Kind, String> {
    let kinds = || Kind::ALL.iter().map(|(_, name)| *name).collect::<Vec<_>>().join(", ");
    name.parse().map_err(|()| format!("kind {} is none of {}", quoted(name), kinds()))
}

/// The unit of this name.
pub fn unit(name: &str) -> Result<Unit, String> {
    Unit::named(name).map_err(|near| {
        let near = near.map_or(String::new(), |near| format!("; did you mean {near}?"));
        let names: Vec<&str> = UNITS.iter().map(|(name, _)| *name).collect();
        format!("unit {} is none of {}{near}", quoted(name), names.join(", "))
    })
}

pub fn verdict(name: &str) -> Result<Verdict, String> {
    let found = Verdict::ALL.iter().find(|(_, n)| *n == name).map(|(verdict, _)| *verdict);
    found.ok_or_else(|| {
        let names: Vec<&str> = Verdict::ALL.iter().map(|(_, name)| *name).collect();
        format!("verdict {} is none of {}", quoted(name), names.join(", "))
    })
}

/// The locale of this tag.
pub fn written_in(tag: &str) -> Result<Locale, String> {
    Locale::named(tag).map_err(|unknown| {
        let like = "metachron list locales --like TEXT finds them";
        format!("{}; {like}", plain(&unknown.to_string()).trim_end_matches('?'))
    })
}

/// Asserted answers, each `RAW=ISO`.
pub fn answers(texts: &[String]) -> Result<Vec<Answer>, String> {
    let answer = |text: &String| {
        Answer::parse(text).ok_or_else(|| {
            format!(
                "known {} is not a value and its right answer in ISO 8601, such as 03/04/2024=2024-04-03",
                quoted(text)
            )
        })
    };
    texts.iter().map(answer).collect()
}

/// What becomes of contested rows.
pub fn contested(name: &str) -> Result<Contested, String> {
    match name {
        "empty" => Ok(Contested::Empty),
        "prefer" => Ok(Contested::Prefer),
        _ => Err(format!("contested {} is neither empty nor prefer", quoted(name))),
    }
}

/// A year that can be written.
pub fn year(year: i64) -> Result<i16, String> {
    let written = i16::try_from(year).ok().filter(|year| (-9999..=9999).contains(year));
    written.ok_or_else(|| format!("year {year} cannot be written; give one from -9999 to 9999"))
}

/// The calendar of this name.
pub fn calendar(name: &str) -> Result<Calendar, String> {
    name.parse().map_err(|()| {
        let names = Calendar::ALL.map(|(_, name)| name);
        let near =
            nearest(name, names).map_or(String::new(), |near| format!("; did you mean {near}?"));
        format!("calendar {} is none of {}{near}", quoted(name), names.join(", "))
    })
}

/// The first day of the Gregorian calendar.
pub fn reform(text: &str) -> Result<Date, String> {
    let first = jiff::civil::date(1582, 10, 15);
    let day = text.parse::<Date>().ok().filter(|day| *day >= first);
    day.ok_or_else(|| {
        format!(
            "reform {} is no day from 1582-10-15 on, such as 1752-09-14 in England",
            quoted(text)
        )
    })
}

/// Which of its days a period becomes.
pub fn anchor(name: &str) -> Result<Anchor, String> {
    match name {
        "start" => Ok(Anchor::Start),
        "end" => Ok(Anchor::End),
        _ => Err(format!("anchor {} is neither start nor end", quoted(name))),
    }
}

/// The epoch of this name, or spelled out.
pub fn epoch(text: &str) -> Result<Epoch, String> {
    text.parse().map_err(|unknown: UnknownEpoch| {
        let near = unknown.near.map_or(String::new(), |near| format!("; did you mean {near}?"));
        format!(
            "epoch {} is no name that list epochs has, and no INSTANT/UNIT such as 1582-10-14/seconds{near}",
            quoted(text)
        )
    })
}

/// What an earlier import did.
pub fn repair(name: &str) -> Result<Repair, String> {
    match name {
        "half-swapped" => Ok(Repair::HalfSwapped),
        "month-year" => Ok(Repair::MonthYear),
        "none" => Ok(Repair::None),
        _ => Err(format!("repair {} is none of half-swapped, month-year, none", quoted(name))),
    }
}

/// The word for it.
pub fn repair_name(repair: Repair) -> &'static str {
    match repair {
        Repair::HalfSwapped => "half-swapped",
        Repair::MonthYear => "month-year",
        Repair::None => "none",
    }
}

/// The word for it.
pub fn anchor_name(anchor: Anchor) -> &'static str {
    match anchor {
        Anchor::Start => "start",
        Anchor::End => "end",
    }
}

/// The layouts, which must be of one kind. Whether they need a year is seen once all is said.
pub fn layouts(texts: &[String]) -> Result<Vec<Layout>, String> {
    let layouts: Vec<Layout> = texts
        .iter()
        .map(|text| Layout::parse_yearless(text).map_err(|error| wrong_layout(&error)))
        .collect::<Result<_, _>>()?;
    if layouts.is_empty() {
        return Err("layouts must hold at least one layout".to_owned());
    }
    // A standard may have forms of several kinds; the column decides among them.
    let mut kinds = layouts.iter().filter_map(|layout| Some((layout, layout.kind()?)));
    if let Some((first, kind)) = kinds.next()
        && let Some((other, another)) = kinds.find(|(_, other)| *other != kind)
    {
        return Err(format!(
            "a column is read as one kind, but \"{first}\" gives {kind} and \"{other}\" {another}"
        ));
    }
    Ok(layouts)
}

/// The first year of the hundred, if all of them can be written.
pub fn two_digit_from(year: i64) -> Result<i16, String> {
    let first = i16::try_from(year).ok().filter(|year| (100..=9900).contains(year));
    first.ok_or_else(|| {
        format!("two-digit years cannot begin with {year}; give a year from 100 to 9900")
    })
}
