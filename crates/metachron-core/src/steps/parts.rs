//! Parts of a date that stand in columns of their own, put together.

use jiff::civil::{Date, DateTime};
use strum::{IntoStaticStr, VariantArray};

use super::StepError;
use super::item::{Item, Type, Unmade};
use super::notes::RowNotes;
use super::setting::Setting;
use super::word::Word;
use crate::bounds;
use crate::named::Named;
use crate::reading::Unfit;
use crate::text::normalise;
use crate::typed::{Kind, TypedValue};
use crate::zone::Clock;

/// What a column is to a date. Roles are always named, so that no position can exchange day and month.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum ColumnRole {
    /// The year.
    Year,
    /// The month, as a number or a name.
    Month,
    /// The day of the month.
    Day,
    /// The whole date.
    Date,
    /// The time of day, also as one number whose last two digits are the minute: `517`.
    Time,
    /// The hour of 24.
    Hour,
    /// The minute.
    Minute,
    /// The second.
    Second,
    /// The zone in which the clock stood.
    Zone,
}

impl ColumnRole {
    /// `ROLE=COLUMN`, several of them.
    pub(super) fn all(text: &str, words: &[Word]) -> Result<Vec<(ColumnRole, Word)>, StepError> {
        let mut roles: Vec<(ColumnRole, Word)> = Vec::new();
        for word in words {
            let wrong = |says: String| StepError::new(text, word.span.clone(), says);
            let example = "parts date=seen time=clock, or parts year=y month=m day=d";
            let (name, column) = word
                .text
                .split_once('=')
                .ok_or_else(|| wrong(format!("a role names its column: {example}")))?;
            let role = ColumnRole::named(name).map_err(|near| {
                let near = near.map_or(example.to_owned(), |near| format!("did you mean {near}?"));
                wrong(format!("{name:?} is no role of a date; {near}"))
            })?;
            if roles.iter().any(|(other, _)| *other == role) {
                return Err(wrong(format!("{name} stands here twice")));
            }
            roles.push((role, Word { text: column.to_owned(), span: word.span.clone() }));
        }
        Ok(roles)
    }
}

/// What these roles give together.
///
/// # Errors
/// What is missing, or too much, made of a sentence by `wrong`.
pub(super) fn gives(
    roles: &[(ColumnRole, Type)],
    wrong: impl Fn(String) -> StepError,
) -> Result<Type, StepError> {
    let lacks = |says: &str| Err(wrong(says.to_owned()));
    let of = |role: ColumnRole| roles.iter().find(|(own, _)| *own == role).map(|(_, of)| *of);
    for (role, of) in roles {
        let fits = match role {
            ColumnRole::Date => matches!(of, Type::Of(Kind::Date)),
            ColumnRole::Time => matches!(of, Type::Raw | Type::Number | Type::Of(Kind::Time)),
            ColumnRole::Year => matches!(of, Type::Raw | Type::Number | Type::Of(Kind::Year)),
            ColumnRole::Month
            | ColumnRole::Day
            | ColumnRole::Hour
            | ColumnRole::Minute
            | ColumnRole::Second => matches!(of, Type::Raw | Type::Number),
            ColumnRole::Zone => matches!(of, Type::Raw | Type::Text),
        };
        if !fits {
            let name = role.name();
            let wants = match role {
                ColumnRole::Date => "a column of dates",
                ColumnRole::Time => "a column of times",
                ColumnRole::Year | ColumnRole::Month | ColumnRole::Day => {
                    "a column of numbers or names"
                }
                ColumnRole::Hour | ColumnRole::Minute | ColumnRole::Second => "a column of numbers",
                ColumnRole::Zone => "a column that names zones",
            };
            return Err(wrong(format!("{name} wants {wants}, but this is {of}")));
        }
    }
    let kind = match (
        of(ColumnRole::Date),
        of(ColumnRole::Year),
        of(ColumnRole::Month),
        of(ColumnRole::Day),
    ) {
        (Some(_), None, None, None) => Kind::Date,
        (Some(_), ..) => {
            return lacks("a whole date needs no year, month or day beside it");
        }
        (None, Some(_), Some(_), Some(_)) => Kind::Date,
        (None, Some(_), Some(_), None) => Kind::Month,
        (None, Some(_), None, None) => Kind::Year,
        (None, Some(_), None, Some(_)) => return lacks("a day needs its month: month=…"),
        (None, None, ..) => return lacks("a date needs its year: year=… or date=…"),
    };
    let clock = match (
        of(ColumnRole::Time),
        of(ColumnRole::Hour),
        of(ColumnRole::Minute),
        of(ColumnRole::Second),
    ) {
        (None, None, None, None) => None,
        (Some(own), None, None, None)
        | (None, Some(own), None, None)
        | (None, Some(own), Some(_), _) => Some(own),
        (Some(_), ..) => return lacks("a whole time needs no hour, minute or second beside it"),
        (None, None, Some(_), _) => return lacks("a minute needs its hour: hour=…"),
        (None, _, None, Some(_)) => return lacks("a second needs its minute: minute=…"),
    };
    match (kind, clock, of(ColumnRole::Zone)) {
        (kind, None, None) => Ok(Type::Of(kind)),
        (Kind::Date, Some(_), None) => Ok(Type::Of(Kind::DateTime)),
        (Kind::Date, Some(_), Some(_)) => Ok(Type::Of(Kind::Instant)),
        (_, Some(_), _) => lacks("a time belongs to a day: day=…"),
        (_, None, Some(_)) => lacks("a zone is that of a clock: time=… or hour=…"),
    }
}

/// Puts the parts of a row together.
pub(super) fn join(
    roles: &[(ColumnRole, usize)],
    inputs: &[Item],
    setting: &Setting,
    notes: &mut RowNotes,
) -> Result<Item, Unmade> {
    let of = |role: ColumnRole| {
        let at = roles.iter().find(|(own, _)| *own == role).map(|(_, at)| *at);
        at.map(|at| inputs.get(at).unwrap_or(&Item::Missing))
    };
    let blank = |item: &Item| match item {
        Item::Missing => true,
        Item::Text(text) => setting.missing.contains(normalise(text, &mut String::new())),
        _ => false,
    };
    // Nothing at all is missing; a part without the others is half a date.
    let empty = roles.iter().filter(|(_, at)| inputs.get(*at).is_none_or(blank)).count();
    if empty == roles.len() {
        return Ok(Item::Missing);
    }
    if empty > 0 {
        return Err(Unmade::PartMissing);
    }
    let unfit = |unfit: Unfit| Unmade::from(unfit);
    let date = match of(ColumnRole::Date) {
        Some(Item::Typed(TypedValue::Date(date))) => *date,
        _ => {
            let year = of(ColumnRole::Year).map_or(Ok(0), |item| year(item, setting))?;
            let month = of(ColumnRole::Month).map_or(Ok(1), |item| month(item, setting))?;
            let day = of(ColumnRole::Day).map_or(Ok(1), |item| whole(item, "day"))?;
            let (month, day) = (
                bounds::MONTH.check(month).map_err(|out| unfit(out.into()))? as u8,
                bounds::DAY.check(day).map_err(|out| unfit(out.into()))? as u8,
            );
            Date::new(year, month as i8, day as i8)
                .map_err(|_| unfit(Unfit::NoSuchDay { year, month, day }))?
        }
    };
    let clock = [ColumnRole::Time, ColumnRole::Hour].into_iter().find_map(of);
    let Some(clock) = clock else {
        return Ok(Item::Typed(
            match (of(ColumnRole::Month), of(ColumnRole::Day), of(ColumnRole::Date)) {
                (_, Some(_), _) | (_, _, Some(_)) => TypedValue::Date(date),
                (Some(_), ..) => TypedValue::Month(date),
                (None, ..) => TypedValue::Year(date),
            },
        ));
    };
    let clock = match clock {
        Item::Typed(TypedValue::Time(time)) => DateTime::from_parts(date, *time),
        number => {
            let part = |role: ColumnRole| of(role).map_or(Ok(0), |item| whole(item, role.name()));
            let (hour, minute) = match of(ColumnRole::Time) {
                Some(_) => {
                    let number = whole(number, "time").map_err(|_| Unmade::NoTime)?;
                    (number.div_euclid(100), number.rem_euclid(100))
                }
                None => (part(ColumnRole::Hour)?, part(ColumnRole::Minute)?),
            };
            clock_on(date, hour, minute, part(ColumnRole::Second)?).map_err(unfit)?
        }
    };
    let Some(zone) = of(ColumnRole::Zone) else {
        return Ok(Item::Typed(TypedValue::DateTime(clock)));
    };
    let zone = Clock::named(&zone.to_string(), setting.terms.zones)
        .ok_or_else(|| unfit(Unfit::NoSuchZone))?;
    let (moment, _) = setting.terms.changes.place(clock, zone).map_err(unfit)?;
    notes.by_clock(zone, moment);
    Ok(Item::Typed(TypedValue::Instant(moment)))
}

/// The clock time of a day; hour 24 is the begin of the next one.
fn clock_on(date: Date, hour: i32, minute: i32, second: i32) -> Result<DateTime, Unfit> {
    let hour = bounds::HOUR.check(hour)?;
    let minute = bounds::MINUTE.check(minute)?;
    let second = bounds::SECOND_OF_MINUTE.check(second)?;
    let (date, hour) = match (hour, minute, second) {
        (24, 0, 0) => (date.tomorrow().map_err(|_| Unfit::OutOfRange)?, 0),
        (24, ..) => return Err(Unfit::EndOfDay),
        _ => (date, hour),
    };
    Ok(date.at(hour as i8, minute as i8, second as i8, 0))
}

/// A whole number as it is written, or as a spreadsheet writes it: `5`, `05`, `5.0`.
fn whole(item: &Item, part: &'static str) -> Result<i32, Unmade> {
    let text = item.to_string();
    let mut buffer = String::new();
    let plain = normalise(&text, &mut buffer);
    let number = crate::epoch::Number::parse(plain).filter(|number| number.is_whole());
    let whole = number.and_then(|number| i32::try_from(number.whole()?).ok());
    whole.ok_or_else(|| Unmade::NotWhole { part, text: plain.to_owned() })
}

fn year(item: &Item, setting: &Setting) -> Result<i16, Unmade> {
    if let Item::Typed(TypedValue::Year(first)) = item {
        return Ok(first.year());
    }
    let text = item.to_string();
    let number = whole(item, "year")?;
    let digits = text.trim().trim_start_matches(['+', '-', '\'']).split(['.', ',']).next();
    let short = digits.is_some_and(|digits| digits.len() <= 2) && number >= 0;
    match i16::try_from(number) {
        Ok(number) if short => match setting.terms.century.place(number) {
            year if year > setting.today.year() && !setting.century_is_said => {
                Err(Unmade::CenturyOpen { year })
            }
            year => Ok(year),
        },
        Ok(number) if (-9999..=9999).contains(&number) => Ok(number),
        _ => Err(Unmade::OutOfRange),
    }
}

fn month(item: &Item, setting: &Setting) -> Result<i32, Unmade> {
    let text = item.to_string();
    let mut buffer = String::new();
    let plain = normalise(&text, &mut buffer);
    let found = setting
        .terms
        .lexicon
        .find(plain)
        .filter(|found| plain[found.length..].chars().all(|behind| behind == '.'));
    match found.map(|found| found.senses) {
        Some(senses) if senses.unclear_month => Err(Unmade::UnclearMonth(plain.to_owned())),
        Some(senses) if senses.is_month() => {
            Ok(senses.month.map_or(0, |(month, _)| i32::from(month)))
        }
        _ => whole(item, "month"),
    }
}
