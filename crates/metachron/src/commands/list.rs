//! `metachron list`: what can be named in options.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::civil::{Date, DateTime};
use jiff::tz::Offset;
use metachron_core::duration::{Duration, Unit};
use metachron_core::epoch::Epoch;
use metachron_core::layout::{Amounts, FIELDS, Field, Layout, OffsetForm};
use metachron_core::lexicon::{Format, Lexicon, Locale};
use metachron_core::named::Named;
use metachron_core::steps::STEPS;
use metachron_core::text::{Accents, fold};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::write::{spell, spell_field, spell_length};
use metachron_core::zone::{Zone, Zones, offset_text};
use serde::Serialize;

use super::{json, print};
use crate::ambient::Ambient;
use crate::args::{self, What};
use crate::choices::zone_data;
use crate::exit::Exit;
use crate::message::{Failure, quoted};
use crate::report::{Align, Grid};

/// The moment that examples show.
fn example() -> DateTime {
    jiff::civil::datetime(2024, 3, 5, 19, 7, 9, 250_000_000)
}

/// The length of time that examples of this unit show.
fn example_length(unit: Unit) -> Duration {
    let text = if unit.nanos().is_some() { "PT28H35M9.25S" } else { "P14M" };
    text.parse().unwrap_or_default()
}

/// Lists.
pub fn run(list: &args::List, ambient: &Ambient) -> Result<Exit, Failure> {
    if list.at.is_some() && !matches!(list.what, What::Zones) {
        return Err(Failure::usage("--at is about zones: metachron list zones --at INSTANT"));
    }
    let text = match list.what {
        What::Locales => {
            let locales: Vec<LocaleFacts> = Locale::all()
                .filter(|locale| like(list, &[locale.tag(), locale.name()]))
                .map(LocaleFacts::of)
                .collect();
            nothing_like(list, locales.len())?;
            if list.json { json(&locales)? } else { locales_view(&locales, ambient.width) }
        }
        What::Zones => {
            let zones = zone_data(list.zone_data.as_deref())?;
            let at = list.at.as_deref().map_or(Ok(ambient.now), moment)?;
            // By its old name a zone is found, and listed by its current one.
            let mut names = BTreeSet::new();
            let mut found: Vec<ZoneFacts> = zones
                .all()
                .filter(|zone| like(list, &[zone.name(), &zone.name().replace('_', " ")]))
                .filter_map(|zone| zones.named(zone.current_name()))
                .filter(|zone| names.insert(zone.name()))
                .filter_map(|zone| ZoneFacts::of(zone, zones, at))
                .collect();
            found.sort_by_key(|zone| zone.zone);
            nothing_like(list, found.len())?;
            match list.json {
                true => json(&found)?,
                false => zones_view(&found, at, zones, ambient.width),
            }
        }
        What::Epochs => {
            let today = ambient.today;
            let epochs: Vec<EpochFacts> = Epoch::all()
                .filter(|epoch| like(list, &[epoch.name().unwrap_or_default()]))
                .map(|epoch| EpochFacts::of(epoch, today))
                .collect();
            nothing_like(list, epochs.len())?;
            if list.json { json(&epochs)? } else { epochs_view(&epochs, ambient.width) }
        }
        What::Steps => {
            let steps: Vec<StepFacts> = STEPS
                .iter()
                .filter(|(step, ..)| like(list, &[step]))
                .map(|(step, arguments, does)| StepFacts { step, arguments, does })
                .collect();
            nothing_like(list, steps.len())?;
            if list.json { json(&steps)? } else { steps_view(&steps, ambient.width) }
        }
        What::Fields => {
            let fields: Vec<FieldFacts> = FIELDS
                .iter()
                .filter(|(name, _)| like(list, &[name]))
                .map(|(name, field)| FieldFacts::of(name, *field))
                .collect();
            nothing_like(list, fields.len())?;
            if list.json { json(&fields)? } else { fields_view(&fields, ambient.width) }
        }
    };
    print(&text)?;
    Ok(Exit::Done)
}

/// A step of derived columns.
#[derive(Debug, Serialize)]
struct StepFacts {
    step: &'static str,
    arguments: &'static str,
    does: &'static str,
}

fn steps_view(steps: &[StepFacts], width: usize) -> String {
    let mut grid =
        Grid::new(&[("step", Align::Left), ("arguments", Align::Left), ("does", Align::Left)]);
    for StepFacts { step, arguments, does } in steps {
        // The names of parts are too many for one line.
        let mut names = step.split(' ').collect::<Vec<_>>();
        let behind = names.split_off(names.len().min(3));
        grid.push(vec![names.join(" "), (*arguments).to_owned(), (*does).to_owned()]);
        for names in behind.chunks(3) {
            grid.push(vec![names.join(" "), String::new(), String::new()]);
        }
    }
    let mut view = String::new();
    grid.write(&mut view, 0, width, None);
    view.push_str("\nA column begins with another one, or with: parts ROLE=COLUMN …  (roles: year month day date time zone)\n");
    view
}

/// A moment as it is typed: a day is its first moment in UTC.
fn moment(text: &str) -> Result<Timestamp, Failure> {
    let day = || text.parse::<Date>().ok().map(|day| day.at(0, 0, 0, 0));
    let clock = || text.parse::<DateTime>().ok().or_else(day);
    let utc = || Offset::UTC.to_timestamp(clock()?).ok();
    text.parse().ok().or_else(utc).ok_or_else(|| {
        Failure::usage(format!(
            "--at {} is no moment such as 2024-07-01 or 2024-07-01T12:00Z",
            quoted(text)
        ))
    })
}

/// A zone at some moment.
#[derive(Debug, Serialize)]
struct ZoneFacts {
    zone: &'static str,
    /// Names by which it was called before.
    old_names: Vec<&'static str>,
    offset: String,
    abbreviation: Option<String>,
    summer_time: bool,
    /// When its clocks change next, and to which offset.
    next_change: Option<String>,
    next_offset: Option<String>,
}

impl ZoneFacts {
    fn of(zone: Zone, zones: Zones, at: Timestamp) -> Option<ZoneFacts> {
        let showing = zone.showing_at(at)?;
        let next = zone.next_change(at);
        let named = showing.abbreviation.starts_with(|c: char| c.is_ascii_alphabetic());
        let is_old = |other: &Zone| other.is_old_name() && other.current_name() == zone.name();
        Some(ZoneFacts {
            zone: zone.name(),
            old_names: zones.all().filter(is_old).map(Zone::name).collect(),
            offset: offset_text(showing.offset),
            abbreviation: named.then_some(showing.abbreviation),
            summer_time: showing.is_summer,
            next_change: next.as_ref().map(|(when, _)| when.to_string()),
            next_offset: next.map(|(_, then)| offset_text(then.offset)),
        })
    }
}

fn zones_view(found: &[ZoneFacts], at: Timestamp, zones: Zones, width: usize) -> String {
    let mut grid = Grid::new(&[
        ("zone", Align::Left),
        ("offset", Align::Left),
        ("called", Align::Left),
        ("next change", Align::Left),
        ("old names", Align::Left),
    ]);
    for zone in found {
        let called = match (&zone.abbreviation, zone.summer_time) {
            (Some(name), true) => format!("{name}, summer time"),
            (Some(name), false) => name.clone(),
            (None, true) => "summer time".to_owned(),
            (None, false) => "-".to_owned(),
        };
        let next = match (&zone.next_change, &zone.next_offset) {
            (Some(when), Some(offset)) => format!("{when} to {offset}"),
            _ => "-".to_owned(),
        };
        let old = zone.old_names.join(", ");
        grid.push(vec![zone.zone.to_owned(), zone.offset.clone(), called, next, old]);
    }
    let mut view = String::new();
    grid.write_wrapped(&mut view, 0, width);
    let release = zones.version().unwrap_or("of no stated release");
    let second = Timestamp::from_second(at.as_second()).unwrap_or(at);
    view.push_str(&format!("\nAt {second}, by the IANA Time Zone Database {release}.\n"));
    view
}

/// An origin of numbers.
#[derive(Debug, Serialize)]
struct EpochFacts {
    name: &'static str,
    /// The moment that is zero; none where the digits are a date.
    zero: Option<&'static str>,
    /// What is counted.
    unit: &'static str,
    /// What numbers become.
    kind: &'static str,
    /// The number of today.
    today: Option<String>,
    /// The numbers of the years 1950 to 2049, in which most dates of tables lie.
    from: Option<String>,
    to: Option<String>,
}

impl EpochFacts {
    fn of(epoch: Epoch, today: Date) -> EpochFacts {
        let number = |day: Date| {
            let moment = match epoch.kind(false) {
                Kind::Instant => {
                    let noon = Offset::UTC.to_timestamp(day.at(0, 0, 0, 0)).ok()?;
                    TypedValue::Instant(noon)
                }
                _ => TypedValue::Date(day),
            };
            epoch.count(moment).map(|number| number.to_string())
        };
        let (zero, unit) = epoch.described().unwrap_or_default();
        EpochFacts {
            name: epoch.name().unwrap_or_default(),
            zero: Some(zero).filter(|zero| !zero.is_empty()),
            unit,
            kind: epoch.kind(false).name(),
            today: number(today),
            from: number(jiff::civil::date(1950, 1, 1)),
            to: number(jiff::civil::date(2049, 12, 31)),
        }
    }
}

fn epochs_view(epochs: &[EpochFacts], width: usize) -> String {
    let mut grid = Grid::new(&[
        ("epoch", Align::Left),
        ("zero is", Align::Left),
        ("counts", Align::Left),
        ("today", Align::Right),
        ("1950", Align::Right),
        ("2049", Align::Right),
    ]);
    let text = |text: &Option<String>| text.clone().unwrap_or_else(|| "-".to_owned());
    for epoch in epochs {
        grid.push(vec![
            epoch.name.to_owned(),
            epoch.zero.unwrap_or("-").to_owned(),
            match epoch.unit {
                "seconds" => "s",
                "milliseconds" => "ms",
                "microseconds" => "µs",
                "nanoseconds" => "ns",
                "100 nanoseconds" => "100 ns",
                unit => unit,
            }
            .to_owned(),
            text(&epoch.today),
            text(&epoch.from),
            text(&epoch.to),
        ]);
    }
    let mut view = String::new();
    grid.write(&mut view, 0, width, None);
    view.push_str("\nAny other is written INSTANT/UNIT, such as 1582-10-14/seconds or -4713-11-24T12:00/days.\n");
    view
}

/// Whether one of the texts has what is asked for, whatever its case and accents.
fn like(list: &args::List, texts: &[&str]) -> bool {
    let folded = |text: &str| fold(text, Accents::Dropped);
    list.like
        .as_deref()
        .is_none_or(|wanted| texts.iter().any(|text| folded(text).contains(&folded(wanted))))
}

fn nothing_like(list: &args::List, found: usize) -> Result<(), Failure> {
    match (&list.like, found) {
        (Some(text), 0) => {
            Err(Failure::could_not(format!("nothing has {} in its name", quoted(text))))
        }
        _ => Ok(()),
    }
}

#[derive(Debug, Serialize)]
struct LocaleFacts {
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
        let twelve = locale.format(Format::TimeShort).is_some_and(|time| time.contains("{hour:12"));
        LocaleFacts {
            locale: locale.tag(),
            name: locale.name(),
            order: layout(Format::DateShort).and_then(|l| l.order()).map(|order| order.to_string()),
            short: written(Format::DateShort),
            long: written(Format::DateLong),
            clock: if twelve { 12 } else { 24 },
            time: written(Format::TimeShort),
            calendar: locale.calendar(),
            digits: locale.digits(),
        }
    }
}

fn locales_view(locales: &[LocaleFacts], width: usize) -> String {
    let mut grid = Grid::new(&[
        ("locale", Align::Left),
        ("language", Align::Left),
        ("order", Align::Left),
        ("short", Align::Left),
        ("long", Align::Left),
        ("clock", Align::Left),
        ("calendar", Align::Left),
        ("digits", Align::Left),
    ]);
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

#[derive(Debug, Serialize)]
struct FieldFacts {
    field: String,
    reads: String,
    example: String,
}

impl FieldFacts {
    fn of(name: &str, field: Field) -> FieldFacts {
        let own = format!("{{{name}}}");
        let example = match field {
            Field::Count(unit) | Field::Decimal(unit) => Layout::parse_to_write(&own)
                .ok()
                .and_then(|layout| spell_length(&layout, example_length(unit)))
                .unwrap_or_default(),
            field => spell_field(field, example(), Offset::constant(1), Lexicon::english()),
        };
        FieldFacts { field: own, reads: reads(field), example }
    }
}

/// What a field reads, in words.
fn reads(field: Field) -> String {
    let digits = match field.width() {
        Some((least, most)) if least == most => {
            metachron_core::text::counted(least as u64, "digit")
        }
        Some((1, 4)) => "1 to 4 digits".to_owned(),
        Some((1, 3)) => "1 to 3 digits".to_owned(),
        Some((least, 2)) => format!("{least} or 2 digits"),
        Some(_) => "any number of digits".to_owned(),
        None => String::new(),
    };
    match field {
        Field::Year => format!("the year, {digits}"),
        Field::YearTwo => format!("the year, {digits}, placed by --two-digit-from"),
        Field::YearOfEra => format!("the year of an era, {digits}, or 元 for the first"),
        Field::Month(_) => format!("the month, {digits}"),
        Field::MonthName | Field::MonthShort => "the month's name, full or short".to_owned(),
        Field::Day(_) => format!("the day, {digits}"),
        Field::DayOrdinal => "the day as an ordinal number".to_owned(),
        Field::DaySpaced => format!("the day, {digits}, padded with a space"),
        Field::YearDay | Field::YearDayThree => format!("the day of the year, {digits}"),
        Field::WeekYear => format!("the year that a week belongs to, {digits}"),
        Field::Week(_) => format!("the week, {digits}"),
        Field::Quarter => format!("the quarter, {digits}"),
        Field::WeekdayNumber => format!("the weekday, {digits}, 1 for Monday"),
        Field::Weekday | Field::WeekdayShort => {
            "the weekday's name, which must be the date's".to_owned()
        }
        Field::Era => "the era, such as BC, AD or 令和, in the language".to_owned(),
        Field::Hour(_) => format!("the hour of 24, {digits}"),
        Field::Hour12(_) => format!("the hour of 12, {digits}; needs {{ampm}}"),
        Field::Noon => "noon or midnight, in the language".to_owned(),
        Field::AmPm => "am or pm, or a part of the day, in the language".to_owned(),
        Field::Minute | Field::MinuteTwo => format!("the minute, {digits}"),
        Field::Second | Field::SecondTwo => format!("the second, {digits}"),
        Field::Fraction(_) => format!("the fraction of the second, {digits}"),
        Field::Offset(OffsetForm::Any) => "the offset from UTC in any form".to_owned(),
        Field::Offset(OffsetForm::Colon) => "the offset, Z or +01:00".to_owned(),
        Field::Offset(OffsetForm::Basic) => "the offset, Z or +0100".to_owned(),
        Field::Offset(OffsetForm::Hours) => "the offset, Z or +01".to_owned(),
        Field::Offset(OffsetForm::Military) => {
            "the zone's letter, Z being UTC, A to M east of it, N to Y west".to_owned()
        }
        Field::Offset(OffsetForm::Mail) => "the offset, +0100, GMT, EST … (RFC 5322)".to_owned(),
        Field::Zone => "the time zone's name, or an abbreviation: Europe/Oslo, CET".to_owned(),
        Field::ZoneBrackets => "the zone and tags in brackets: [Europe/Oslo] (RFC 9557)".to_owned(),
        Field::Serial(epoch) => match epoch.described() {
            Some((zero, unit)) => format!("{unit} since {zero}"),
            None => "a number that counts".to_owned(),
        },
        Field::Count(unit) => format!("{} of a length of time, {digits}", unit.name()),
        Field::Decimal(unit) => {
            format!("{} of a length of time, maybe with a fraction", unit.name())
        }
        Field::Amounts(Amounts::Words) => {
            "amounts with their units in any order, such as 1 day 4 hours 35 min".to_owned()
        }
        Field::Amounts(Amounts::Minutes) => "the same, m being minutes".to_owned(),
        Field::Amounts(Amounts::Months) => "the same, m being months".to_owned(),
        Field::Amounts(Amounts::Iso) => "a duration of ISO 8601, such as PT51H20M".to_owned(),
        Field::Any => "any text, the shortest that lets the rest match".to_owned(),
    }
}

fn fields_view(fields: &[FieldFacts], width: usize) -> String {
    let mut grid =
        Grid::new(&[("field", Align::Left), ("writes", Align::Left), ("reads", Align::Left)]);
    for facts in fields {
        grid.push(vec![facts.field.clone(), facts.example.clone(), facts.reads.clone()]);
    }
    let mut out = String::new();
    grid.write(&mut out, 0, width, Some(2));
    out.push_str(
        "\nThe example is 5 March 2024, 19:07:09.25, in English; \
         of lengths of time, 14 months, or 28:35:09.25.\n",
    );
    out
}
