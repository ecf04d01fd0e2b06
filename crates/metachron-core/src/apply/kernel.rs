//! Reads values that are written as most are: numbers with marks between them, perhaps a month's name and half of the
//! day. That takes a fraction of the time of a whole program.
//!
//! A kernel knows only what is certain. Of everything else it says nothing, and the program is asked, which also says
//! why a value does not fit.

use jiff::civil::{Date, DateTime, Time};

use super::ops::{FieldOp, FieldRun, Member, Point};
use crate::calendar::Calendar;
use crate::layout::Field;
use crate::lexicon::Half;
use crate::reading::{Fit, Stated, Terms};
use crate::typed::{Kind, TypedValue};

/// A layout of numbers and marks, compiled.
#[derive(Debug, Clone)]
pub(super) struct Kernel {
    kind: Kind,
    places: Vec<Place>,
}

#[derive(Debug, Clone, Copy)]
enum Place {
    /// A number of so many digits, at least and at most.
    Number(Part, u8, u8),
    /// This character of ASCII.
    Mark(u8),
    /// The name of a month.
    Month(Point),
    /// Before or after noon.
    Half(Point),
}

/// What a number is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Part {
    Year,
    Month,
    Day,
    Hour,
    Minute,
    Second,
}

/// How many parts there are.
const PARTS: usize = Part::Second as usize + 1;

impl Kernel {
    /// A kernel for what these operations read, if there is one.
    pub(super) fn of(kind: Kind, ops: &[FieldOp]) -> Option<Kernel> {
        let mut places = Vec::new();
        let mut is_of_twelve = false;
        for op in ops {
            match op {
                FieldOp::Run(FieldRun { members, .. }) => {
                    let is_alone = members.len() == 1;
                    for member in members {
                        let Member::Field(field, least, most) = member else { return None };
                        (is_alone || least == most).then_some(())?;
                        is_of_twelve |= matches!(field, Field::Hour12(_));
                        places.push(Place::Number(part(*field)?, *least as u8, *most as u8));
                    }
                }
                FieldOp::Text(text) if text.is_ascii() => {
                    places.extend(text.bytes().map(Place::Mark));
                }
                FieldOp::Space => places.push(Place::Mark(b' ')),
                FieldOp::Word(Field::MonthName | Field::MonthShort, point) => {
                    places.push(Place::Month(*point));
                }
                FieldOp::Word(Field::AmPm, point) => places.push(Place::Half(*point)),
                _ => return None,
            }
        }
        let count = |part: Part| {
            let is_own = |place: &&Place| match place {
                Place::Number(own, ..) => *own == part,
                Place::Month(_) => part == Part::Month,
                Place::Mark(_) | Place::Half(_) => false,
            };
            places.iter().filter(is_own).count()
        };
        let has_date = [Part::Year, Part::Month, Part::Day].map(count);
        let clock = [Part::Hour, Part::Minute, Part::Second].map(count);
        let halves = places.iter().filter(|place| matches!(place, Place::Half(_))).count();
        let is_clock = clock[0] == 1 && clock[1] <= 1 && clock[2] <= clock[1];
        let is_known = match kind {
            Kind::Date => has_date == [1; 3] && clock == [0; 3] && halves == 0,
            Kind::DateTime => has_date == [1; 3] && is_clock,
            Kind::Time => has_date == [0; 3] && is_clock,
            _ => false,
        };
        (is_known && halves == usize::from(is_of_twelve)).then_some(Kernel { kind, places })
    }

    /// Reads a normalised value, if it is one of those that are certain.
    pub(super) fn read(&self, value: &str, terms: Terms) -> Option<Fit> {
        if terms.reform.is_some() || terms.lexicon.calendar() != Calendar::Gregorian {
            return None;
        }
        let bytes = value.as_bytes();
        let mut at = 0;
        let mut parts = [0_u16; PARTS];
        let mut half = None;
        for place in &self.places {
            match *place {
                Place::Mark(mark) => {
                    (*bytes.get(at)? == mark).then_some(())?;
                    at += 1;
                }
                Place::Number(part, least, most) => {
                    let mut number = 0;
                    let end = bytes.len().min(at + usize::from(most));
                    let begin = at;
                    while at < end && bytes[at].is_ascii_digit() {
                        number = number * 10 + u16::from(bytes[at] - b'0');
                        at += 1;
                    }
                    (at - begin >= usize::from(least)).then_some(())?;
                    parts[part as usize] = number;
                }
                Place::Month(point) => {
                    let found = terms.lexicon.find(value.get(at..)?)?;
                    let (month, _) = found.senses.month.filter(|_| !found.senses.unclear_month)?;
                    parts[Part::Month as usize] = month.into();
                    at += found.length;
                    ends_without_point(bytes, at, point).then_some(())?;
                }
                Place::Half(point) => {
                    let found = terms.lexicon.find(value.get(at..)?)?;
                    half = found.senses.half.filter(|own| matches!(own, Half::Am | Half::Pm));
                    half?;
                    at += found.length;
                    ends_without_point(bytes, at, point).then_some(())?;
                }
            }
        }
        (at == bytes.len()).then_some(())?;
        let [year, month, day, hour, minute, second] = parts;
        let time = || {
            let hour = match half {
                Some(half) => half.hour((1..=12).contains(&hour).then_some(hour as u8)?)?,
                None => hour as u8,
            };
            Time::new(hour as i8, minute as i8, second as i8, 0).ok()
        };
        // A year zero, a leap second and the end of a day are for the program.
        let date = || match year {
            0 => None,
            year => Date::new(year as i16, month as i8, day as i8).ok(),
        };
        let (moment, written) = match self.kind {
            Kind::Time => (TypedValue::Time(time()?), None),
            Kind::Date => {
                let date = date()?;
                (TypedValue::Date(date), Some(date))
            }
            _ => {
                let date = date()?;
                (TypedValue::DateTime(DateTime::from_parts(date, time()?)), Some(date))
            }
        };
        Some(Fit {
            moment,
            fraction_digits: 0,
            written,
            short_year: false,
            yearless: false,
            leap_second: false,
            stated: Stated::Nothing,
            moved: None,
        })
    }
}

/// Whether a word that ends here has no abbreviation point that belongs to it.
fn ends_without_point(bytes: &[u8], at: usize, point: Point) -> bool {
    point == Point::OfLayout || bytes.get(at) != Some(&b'.')
}

/// What a field of digits is, if a kernel knows it.
fn part(field: Field) -> Option<Part> {
    Some(match field {
        Field::Year => Part::Year,
        Field::Month(_) => Part::Month,
        Field::Day(_) => Part::Day,
        Field::Hour(_) | Field::Hour12(_) => Part::Hour,
        Field::Minute | Field::MinuteTwo => Part::Minute,
        Field::Second | Field::SecondTwo => Part::Second,
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::super::ops::compile;
    use super::*;
    use crate::layout::Layout;
    use crate::reading::interpret;

    fn kernel(layout: &Layout) -> Option<Kernel> {
        let form = layout.alternatives().first()?;
        Kernel::of(form.kind, &compile(&form.parts))
    }

    #[test]
    fn what_is_certain_is_what_the_interpreter_reads() {
        let (mut certain, mut left) = (0, 0);
        for layout in [
            "{day}/{month}/{year}",
            "{day:02}.{month:02}.{year}",
            "{year}{month:02}{day:02}",
            "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}",
            "{month:short} {day}, {year} {hour:12}:{minute:02} {ampm}",
            "{day} {month:name} {year}",
            "{hour}:{minute}",
        ] {
            let layout = Layout::parse(layout).unwrap();
            let kernel = kernel(&layout).unwrap();
            for value in [
                "3/4/2024",
                "03/04/2024",
                "31/02/2024",
                "3/13/2024",
                "3/4/0000",
                "3/4/-2024",
                "3/4/+012024",
                "003/4/2024",
                "3/4/2024 ",
                "03.04.2024",
                "20240403",
                "202404030",
                "2024-04-03T10:15:59",
                "2024-04-03T24:00:00",
                "2024-06-30T23:59:60",
                "Apr 3, 2024 12:05 AM",
                "April 3, 2024 1:05 pm",
                "Apr. 3, 2024 1:05 pm",
                "Apr 3, 2024 13:05 PM",
                "Apr 3, 2024 1:05 p.m.",
                "Apr  3, 2024 1:05 PM",
                "3 April 2024",
                "3 listopad 2024",
                "3 März 2024",
                "3 Aprilia 2024",
                "7:05",
                "23:59",
                "24:00",
                "7:60",
            ] {
                match kernel.read(value, Terms::default()) {
                    Some(fit) => {
                        assert_eq!(
                            interpret(&layout, value, Terms::default()),
                            Ok(fit),
                            "{value} by {layout}"
                        );
                        certain += 1;
                    }
                    None => left += 1,
                }
            }
        }
        assert_eq!((certain, left), (11, 192));
    }

    #[test]
    fn what_has_more_to_it_has_no_kernel() {
        for layout in [
            "{day}/{month}/{year:2}",
            "{weekday} {day} {month:name} {year}",
            "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}{offset}",
            "{month}/{year}",
            "{day}/{month}/{year} {any}",
        ] {
            assert!(kernel(&Layout::parse(layout).unwrap()).is_none(), "{layout}");
        }
    }
}
