//! Layouts written out: the counterpart of reading.

use std::fmt::Write;

use jiff::civil::DateTime;
use jiff::tz::Offset;

use super::decimal_years::decimal_year;
use crate::layout::{Digits, Field, Layout, LayoutPart, OffsetForm};
use crate::lexicon::{Era, Half, Length, Lexicon};
use crate::typed::TypedValue;

/// The clock time in the written form of the layout, with all of its optional parts.
///
/// `{any}` writes nothing.
///
/// ```
/// use metachron_core::{layout::Layout, lexicon::Lexicon, write::spell};
/// let layout = Layout::parse("{weekday}, {day:th} {month:name} {year}").unwrap();
/// let clock = jiff::civil::datetime(2024, 3, 5, 7, 20, 0, 0);
/// let text = spell(&layout, clock, jiff::tz::Offset::UTC, Lexicon::english());
/// assert_eq!(text, "Tuesday, 5th March 2024");
/// ```
pub fn spell(layout: &Layout, clock: DateTime, offset: Offset, lexicon: Lexicon) -> String {
    let mut text = String::new();
    // Beside an era the year before year 1 is the first of the other era.
    let counted = layout.has(Field::Era) && clock.year() < 1;
    let year = if counted { 1 - clock.year() } else { clock.year() };
    let has = |fields: [Field; 2]| fields.iter().any(|field| layout.has(*field));
    let unit = match () {
        () if has([Field::Second, Field::SecondTwo]) => 1,
        () if has([Field::Minute, Field::MinuteTwo]) || layout.has(Field::HourMinute) => 60,
        () => 3_600,
    };
    let clock = SpelledClock { time: clock, unit };
    for part in layout.alternatives().first().map_or(&[][..], |form| &form.parts) {
        match part {
            LayoutPart::Space => text.push(' '),
            LayoutPart::Text(literal) => text.push_str(literal),
            // Writing to a string cannot fail.
            LayoutPart::Field(field) => {
                let _: std::fmt::Result =
                    write_field(&mut text, *field, year, clock, offset, lexicon);
            }
        }
    }
    text
}

/// What a single field writes.
///
/// ```
/// use metachron_core::{layout::Field, lexicon::Lexicon, write::spell_field};
/// let clock = jiff::civil::datetime(2024, 3, 5, 7, 20, 0, 0);
/// let text = spell_field(Field::MonthName, clock, jiff::tz::Offset::UTC, Lexicon::english());
/// assert_eq!(text, "March");
/// ```
pub fn spell_field(field: Field, clock: DateTime, offset: Offset, lexicon: Lexicon) -> String {
    let mut text = String::new();
    // Writing to a string cannot fail.
    let whole = SpelledClock { time: clock, unit: 1 };
    let _: std::fmt::Result = write_field(&mut text, field, clock.year(), whole, offset, lexicon);
    text
}

/// A clock time, and what its fraction is a fraction of.
#[derive(Clone, Copy)]
struct SpelledClock {
    time: DateTime,
    /// The last part that is written, in seconds.
    unit: i64,
}

impl SpelledClock {
    /// The fraction in billionths, cut off.
    fn billionths(self) -> i64 {
        let SpelledClock { time, unit } = self;
        let seconds = i64::from(time.minute()) * 60 + i64::from(time.second());
        (seconds % unit * 1_000_000_000 + i64::from(time.subsec_nanosecond())) / unit
    }
}

fn write_field(
    text: &mut String,
    field: Field,
    year: i16,
    whole: SpelledClock,
    offset: Offset,
    lexicon: Lexicon,
) -> std::fmt::Result {
    let clock = whole.time;
    let (month, day) = (clock.month() as u8, clock.day() as u8);
    let weekday = clock.weekday().to_monday_one_offset() as u8;
    let twelve = (clock.hour() + 11) % 12 + 1;
    match field {
        Field::Year => text.write_str(&crate::typed::year(year)),
        Field::DecimalYear(part) => {
            text.write_str(&decimal_year(clock.date(), part).unwrap_or_default())
        }
        Field::YearOfEra => write!(text, "{year}"),
        Field::YearTwo => write!(text, "{:02}", clock.year().rem_euclid(100)),
        Field::Month(Digits::Free) => write!(text, "{month}"),
        Field::Month(Digits::Two) => write!(text, "{month:02}"),
        Field::MonthName => text.write_str(lexicon.month(month, Length::Full, false)),
        Field::MonthShort => text.write_str(lexicon.month(month, Length::Short, false)),
        Field::Day(Digits::Free) => write!(text, "{day}"),
        Field::Day(Digits::Two) => write!(text, "{day:02}"),
        Field::DayOrdinal => write!(text, "{day}{}", lexicon.ordinal_ending(day)),
        Field::DaySpaced => write!(text, "{day:2}"),
        Field::YearDay => write!(text, "{}", clock.day_of_year()),
        Field::YearDayThree => write!(text, "{:03}", clock.day_of_year()),
        Field::WeekYear => text.write_str(&crate::typed::year(clock.date().iso_week_date().year())),
        Field::Week(Digits::Free) => write!(text, "{}", clock.date().iso_week_date().week()),
        Field::Week(Digits::Two) => write!(text, "{:02}", clock.date().iso_week_date().week()),
        Field::Quarter => write!(text, "{}", month.div_ceil(3)),
        Field::WeekdayNumber => write!(text, "{weekday}"),
        Field::Weekday => text.write_str(lexicon.weekday(weekday, Length::Full)),
        Field::WeekdayShort => text.write_str(lexicon.weekday(weekday, Length::Short)),
        Field::Hour(Digits::Free) => write!(text, "{}", clock.hour()),
        Field::Hour(Digits::Two) => write!(text, "{:02}", clock.hour()),
        Field::Hour12(Digits::Free) => write!(text, "{twelve}"),
        Field::Hour12(Digits::Two) => write!(text, "{twelve:02}"),
        Field::HourMinute => {
            write!(text, "{}", i16::from(clock.hour()) * 100 + i16::from(clock.minute()))
        }
        Field::Era => {
            text.write_str(lexicon.era(if clock.year() > 0 { Era::Since } else { Era::Before }))
        }
        Field::Noon => text.write_str(match clock.hour() {
            0 => "midnight",
            _ => "noon",
        }),
        Field::AmPm => {
            text.write_str(lexicon.half(if clock.hour() < 12 { Half::Am } else { Half::Pm }))
        }
        Field::Minute | Field::MinuteTwo => write!(text, "{:02}", clock.minute()),
        Field::Second | Field::SecondTwo => write!(text, "{:02}", clock.second()),
        Field::Fraction(digits) => {
            let all = format!("{:09}", whole.billionths());
            text.write_str(match digits {
                Some(digits) => &all[..usize::from(digits)],
                None => match all.trim_end_matches('0') {
                    "" => "0",
                    fraction => fraction,
                },
            })
        }
        Field::Offset(form) => {
            let minutes = offset.seconds() / 60;
            let sign = if minutes < 0 { '-' } else { '+' };
            let (hours, minutes) = (minutes.abs() / 60, minutes.abs() % 60);
            match form {
                OffsetForm::Basic | OffsetForm::Mail => {
                    write!(text, "{sign}{hours:02}{minutes:02}")
                }
                OffsetForm::Hours => write!(text, "{sign}{hours:02}"),
                OffsetForm::Military => {
                    let letter = match (sign, hours as u8) {
                        (_, 0) => b'Z',
                        ('-', hours) => b'N' + hours - 1,
                        (_, hours @ 1..=9) => b'A' + hours - 1,
                        (_, hours) => b'A' + hours,
                    };
                    write!(text, "{}", char::from(letter))
                }
                OffsetForm::Any | OffsetForm::Colon => {
                    write!(text, "{sign}{hours:02}:{minutes:02}")
                }
            }
        }
        Field::Serial(epoch) => match offset.to_timestamp(clock).map(TypedValue::Instant) {
            // A count has no fraction: what is finer than its unit is cut off.
            Ok(moment) => {
                epoch.count(moment).map_or(Ok(()), |number| write!(text, "{}", number.cut()))
            }
            Err(_) => Ok(()),
        },
        // A clock and its offset belong to many zones, and no clock is a length of time.
        Field::Zone
        | Field::ZoneBrackets
        | Field::Count(_)
        | Field::Decimal(_)
        | Field::Amounts(_)
        | Field::Any => Ok(()),
    }
}
