//! Languages and regions, and how they write dates.

use jiff::tz::Offset;
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Lexicon, Locale, LocaleFormat};
use metachron_core::write::spell;
use serde::Serialize;

use super::fields::example;
use super::like;
use crate::args;
use crate::report::Grid;

#[derive(Debug, Serialize)]
pub struct LocaleFacts {
    locale: &'static str,
    name: &'static str,
    order: Option<String>,
    short: String,
    long: String,
    /// Hours of the clock: 12 or 24.
    clock: u8,
    time: String,
    calendar: &'static str,
    digits: &'static str,
}

impl LocaleFacts {
    fn of(locale: Locale) -> LocaleFacts {
        let layout = |format| Layout::parse(locale.format(format)?).ok();
        let written = |format| {
            layout(format).map_or("-".to_owned(), |layout| {
                spell(&layout, example(), Offset::UTC, Lexicon::of(locale))
            })
        };
        let twelve =
            locale.format(LocaleFormat::TimeShort).is_some_and(|time| time.contains("{hour:12"));
        LocaleFacts {
            locale: locale.tag(),
            name: locale.name(),
            order: layout(LocaleFormat::DateShort)
                .and_then(|l| l.order())
                .map(|order| order.to_string()),
            short: written(LocaleFormat::DateShort),
            long: written(LocaleFormat::DateLong),
            clock: if twelve { 12 } else { 24 },
            time: written(LocaleFormat::TimeShort),
            calendar: locale.calendar(),
            digits: locale.digits(),
        }
    }
}

/// The languages and regions that are asked for.
pub fn all(list: &args::List) -> Vec<LocaleFacts> {
    let locales = Locale::all().filter(|locale| like(list, &[locale.tag(), locale.name()]));
    locales.map(LocaleFacts::of).collect()
}

/// What was found, to be read.
pub fn view(locales: &[LocaleFacts], width: usize) -> String {
    let mut grid =
        Grid::new(&["locale", "language", "order", "short", "long", "clock", "calendar", "digits"]);
    for facts in locales {
        let digits = match facts.digits {
            "0123456789" => "0-9".to_owned(),
            digits => digits.chars().collect(),
        };
        grid.push(vec![
            facts.locale.to_owned(),
            facts.name.to_owned(),
            facts.order.clone().unwrap_or("-".to_owned()),
            facts.short.clone(),
            facts.long.clone(),
            facts.time.clone(),
            facts.calendar.to_owned(),
            digits,
        ]);
    }
    let mut out = String::new();
    grid.write(&mut out, 0, width, Some(4));
    out
}
