//! The keys of a readings file, of `--set` and of the plain options: what their values may be.

use jiff::civil::Date;
use metachron_core::counting::Per;
use metachron_core::duration::{UNITS, Unit};
use metachron_core::epoch::{Epoch, UnknownEpoch};
use metachron_core::error::nearest;
use metachron_core::layout::Layout;
use metachron_core::lexicon::Locale;
use metachron_core::named::Named;
use metachron_core::timeline::{NoRequirement, Requirement, SignKind};
use metachron_core::verdict::Answer;
use toml_edit::{Array, InlineTable, Value};

use super::wrong::Wrong;
use crate::message::{did_you_mean, plain, quoted};

/// Keys whose values are lists that grow: what is said of them several times adds up.
pub const GROWING: [&str; 4] = ["known", "missing", "require", "allow"];

/// What is wrong with a key that does not exist.
pub fn unknown_key<'k>(key: &str, keys: impl IntoIterator<Item = &'k str>) -> Wrong {
    Wrong::general(format!("there is no key {}{}", quoted(key), did_you_mean(nearest(key, keys))))
}

pub fn wrong(key: &str, value: &Value) -> Wrong {
    Wrong::new(key, format!("cannot be {}", value.to_string().trim()))
}

pub fn text(key: &str, value: &Value) -> Result<String, Wrong> {
    // A date without quotes is one in TOML, and means its text.
    let date = || Some(value.as_datetime()?.to_string());
    value.as_str().map(str::to_owned).or_else(date).ok_or_else(|| wrong(key, value))
}

pub fn whole(key: &str, value: &Value) -> Result<i64, Wrong> {
    value.as_integer().ok_or_else(|| wrong(key, value))
}

pub fn truth(key: &str, value: &Value) -> Result<bool, Wrong> {
    value.as_bool().ok_or_else(|| wrong(key, value))
}

/// What an option says, if it was given.
pub fn said(option: &Option<String>) -> Option<Value> {
    option.as_deref().map(Value::from)
}

/// What an option says that may be given several times, if it was.
pub fn all_said(option: &[String]) -> Option<Value> {
    (!option.is_empty()).then(|| Value::from(option.iter().collect::<Array>()))
}

/// What an option says that gives names a meaning, `NAME=MEANING`, and may be given several times; none if it was not.
///
/// # Errors
/// If there is no `=`.
pub fn meanings_said<'t>(
    option: impl IntoIterator<Item = &'t str>,
) -> Result<Option<Value>, Wrong> {
    let pairs = option.into_iter().map(|text| {
        let example = "is not written NAME=ZONE, such as IST=Asia/Kolkata";
        let pair = text.split_once('=');
        pair.ok_or_else(|| Wrong::new("abbreviation", format!("{} {example}", quoted(text))))
    });
    let pairs = pairs.collect::<Result<Vec<_>, _>>()?;
    let table = || pairs.iter().map(|(name, own)| (name.trim(), own.trim()));
    Ok((!pairs.is_empty()).then(|| table().collect::<InlineTable>().into()))
}

/// A list of texts; a single text is a list of one.
pub fn texts(key: &str, value: &Value) -> Result<Vec<String>, Wrong> {
    match value.as_array() {
        Some(array) => array.iter().map(|item| text(key, item)).collect(),
        None => Ok(vec![text(key, value)?]),
    }
}

/// One of a closed list.
pub fn choice<T: Named>(key: &str, value: &Value) -> Result<T, Wrong> {
    let word = text(key, value)?;
    T::named(&word).map_err(|near| none_of(key, &word, T::names(), near))
}

fn none_of(
    key: &str,
    word: &str,
    names: impl Iterator<Item = &'static str>,
    near: Option<&str>,
) -> Wrong {
    let names: Vec<&str> = names.collect();
    // A short list is its own hint.
    let near = did_you_mean(near.filter(|_| names.len() > 6));
    Wrong::new(key, format!("{} is none of {}{near}", quoted(word), names.join(", ")))
}

/// A unit of lengths of time.
pub fn unit(key: &str, value: &Value) -> Result<Unit, Wrong> {
    let word = text(key, value)?;
    let names = UNITS.iter().map(|(name, _)| *name);
    Unit::named(&word).map_err(|near| none_of(key, &word, names, near))
}

/// The locale of a tag.
pub fn locale(key: &str, value: &Value) -> Result<Locale, Wrong> {
    Locale::named(&text(key, value)?).map_err(|unknown| {
        let like = "metachron list locales --like TEXT finds them";
        Wrong::new(key, format!("{}; {like}", plain(&unknown.to_string()).trim_end_matches('?')))
    })
}

/// Known answers, each `RAW=ISO`.
pub fn answers(key: &str, value: &Value) -> Result<Vec<Answer>, Wrong> {
    let answer = |text: &String| {
        Answer::parse(text).ok_or_else(|| {
            let example = "such as 03/04/2024=2024-04-03";
            let text = quoted(text);
            Wrong::new(
                key,
                format!("{text} is not a value and its right answer in ISO 8601, {example}"),
            )
        })
    };
    texts(key, value)?.iter().map(answer).collect()
}

/// Names of signs, between commas.
pub fn signs(key: &str, value: &Value) -> Result<Vec<SignKind>, Wrong> {
    let all = texts(key, value)?;
    let words = all.iter().flat_map(|text| text.split(',')).map(str::trim);
    let sign = |word: &str| {
        SignKind::named(word).map_err(|near| none_of(key, word, SignKind::names(), near))
    };
    words.map(sign).collect()
}

/// What is required of the values, between commas.
pub fn requirements(key: &str, value: &Value) -> Result<Vec<Requirement>, Wrong> {
    let requirement = |text: &str| {
        Requirement::parse(text).map_err(|why| {
            let text = quoted(text.trim());
            let periods = || {
                let all = Per::all().filter(|per| per.follows());
                all.map(Named::name).collect::<Vec<_>>().join(", ")
            };
            Wrong::new(key, match why {
                NoRequirement::Unknown => format!(
                    "{text} is none of sorted, unique, within FROM..TO, complete PERIOD, regular AMOUNT UNIT"
                ),
                NoRequirement::Range => {
                    format!("{text} has no range in ISO 8601, such as within 2024-01-01..2024-12-31")
                }
                NoRequirement::Period => format!("{text} names none of {}", periods()),
                NoRequirement::Step => format!("{text} has no amount of a unit, such as regular 10 minutes"),
            })
        })
    };
    texts(key, value)?.iter().flat_map(|text| text.split(',')).map(requirement).collect()
}

/// A year that can be written.
pub fn year(key: &str, value: &Value) -> Result<i16, Wrong> {
    year_within(key, value, -9999, 9999)
}

/// The first year of the hundred in which two-digit years lie, if all of them can be written.
pub fn two_digit_from(key: &str, value: &Value) -> Result<i16, Wrong> {
    year_within(key, value, 100, 9900)
}

fn year_within(key: &str, value: &Value, least: i16, most: i16) -> Result<i16, Wrong> {
    let year = whole(key, value)?;
    let written = i16::try_from(year).ok().filter(|year| (least..=most).contains(year));
    written.ok_or_else(|| {
        Wrong::new(
            key,
            format!("{year} is beyond what can be written; give a year from {least} to {most}"),
        )
    })
}

/// The first day of the Gregorian calendar.
pub fn reform(key: &str, value: &Value) -> Result<Date, Wrong> {
    let text = text(key, value)?;
    let first = jiff::civil::date(1582, 10, 15);
    text.parse::<Date>().ok().filter(|day| *day >= first).ok_or_else(|| {
        let text = quoted(&text);
        Wrong::new(key, format!("{text} is no day from {first} on, such as 1752-09-14 in England"))
    })
}

/// The epoch of this name, or spelled out.
pub fn epoch(key: &str, value: &Value) -> Result<Epoch, Wrong> {
    let text = text(key, value)?;
    text.parse().map_err(|UnknownEpoch { near }| {
        let (text, near) = (quoted(&text), did_you_mean(near));
        let forms = "no name that list epochs has, and no INSTANT/UNIT such as 1582-10-14/seconds";
        let units = Epoch::units().collect::<Vec<_>>().join(", ");
        Wrong::new(key, format!("{text} is {forms} (UNIT is one of {units}){near}"))
    })
}

/// The layouts, which must be of one kind. Whether they need a year is seen once all is said.
pub fn layouts(key: &str, value: &Value) -> Result<Vec<Layout>, Wrong> {
    let layouts: Vec<Layout> = texts(key, value)?
        .iter()
        .map(|text| Layout::parse_yearless(text))
        .collect::<Result<_, _>>()?;
    if layouts.is_empty() {
        return Err(Wrong::new(key, "must hold at least one layout"));
    }
    // A standard may have forms of several kinds; the column decides among them.
    let mut kinds = layouts.iter().filter_map(|layout| Some((layout, layout.kind()?)));
    if let Some((first, kind)) = kinds.next()
        && let Some((other, another)) = kinds.find(|(_, other)| *other != kind)
    {
        return Err(Wrong::general(format!(
            "a column is read as one kind, but \"{first}\" gives {kind} and \"{other}\" {another}"
        )));
    }
    Ok(layouts)
}

/// Names between commas; one that has commas itself stands in double quotes.
pub fn names_between_commas(text: &str) -> Vec<String> {
    let mut names = vec![String::new()];
    let mut is_quoted = false;
    for c in text.chars() {
        match (c, names.last_mut()) {
            ('"', _) => is_quoted = !is_quoted,
            (',', _) if !is_quoted => names.push(String::new()),
            (c, Some(name)) => name.push(c),
            (_, None) => {}
        }
    }
    names.iter().map(|name| name.trim().to_owned()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_stand_between_commas() {
        assert_eq!(names_between_commas("station, captured"), ["station", "captured"]);
        assert_eq!(names_between_commas("\"net, time\",ring"), ["net, time", "ring"]);
    }
}
