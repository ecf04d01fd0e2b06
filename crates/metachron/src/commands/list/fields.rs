//! The fields of layouts, and what they read.

use jiff::civil::DateTime;
use jiff::tz::Offset;
use metachron_core::duration::{Duration, Unit};
use metachron_core::layout::{Amounts, FIELDS, Field, Layout, OffsetForm};
use metachron_core::lexicon::Lexicon;
use metachron_core::named::Named;
use metachron_core::text::counted;
use metachron_core::write::{spell_field, spell_length};
use serde::Serialize;

use super::like;
use crate::args;
use crate::report::Grid;

/// The moment that examples show.
pub fn example() -> DateTime {
    jiff::civil::datetime(2024, 3, 5, 19, 7, 9, 250_000_000)
}

/// The length of time that examples of this unit show.
fn example_length(unit: Unit) -> Duration {
    let text = if unit.nanos().is_some() { "PT28H35M9.25S" } else { "P14M" };
    text.parse().unwrap_or_default()
}

#[derive(Debug, Serialize)]
pub struct FieldFacts {
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
        Some((least, most)) if least == most => counted(least as u64, "digit"),
        Some((1, 4)) => "1 to 4 digits".to_owned(),
        Some((1, 3)) => "1 to 3 digits".to_owned(),
        Some((least, 2)) => format!("{least} or 2 digits"),
        Some(_) => "any number of digits".to_owned(),
        None => String::new(),
    };
    match field {
        Field::Year => format!("the year, {digits}"),
        Field::DecimalYear(part) => {
            format!("the year with a fraction, which names a {} of it", part.name())
        }
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
        Field::HourMinute => format!("hour and minute in one number, {digits}: 517"),
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

/// The fields that are asked for.
pub fn all(list: &args::List) -> Vec<FieldFacts> {
    let fields = FIELDS.iter().filter(|(name, _)| like(list, &[name]));
    fields.map(|(name, field)| FieldFacts::of(name, *field)).collect()
}

/// What was found, to be read.
pub fn view(fields: &[FieldFacts], width: usize) -> String {
    let mut grid = Grid::new(&["field", "writes", "reads"]);
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
