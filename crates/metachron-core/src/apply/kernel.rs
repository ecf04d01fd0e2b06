//! Reads values that are written as most are: numbers with marks between them, perhaps a month's name, half of the day,
//! an offset. That takes a fraction of the time of a whole program.
//!
//! A kernel knows only what is certain. Of everything else it says nothing, and the program is asked, which also says
//! why a value does not fit.

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::Offset;

use super::english::{half_of_day, month};
use super::ops::{FieldOp, FieldRun, Member, Point};
use crate::calendar::Calendar;
use crate::layout::{Field, OffsetForm};
use crate::lexicon::Lexicon;
use crate::reading::{Fit, Stated, Terms};
use crate::typed::{Kind, TypedValue};

/// A layout of numbers and marks, compiled.
#[derive(Debug, Clone)]
pub(super) struct Kernel {
    kind: Kind,
    places: Vec<Place>,
    fixed: Option<Fixed>,
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
    /// `Z`, or hours and minutes.
    Offset,
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

/// What values have that are all written with as many characters: where each part begins.
#[derive(Debug, Clone)]
struct Fixed {
    length: usize,
    marks: Vec<(usize, u8)>,
    /// Of four digits.
    year: usize,
    /// Of two digits each.
    month: usize,
    day: usize,
    /// Of two digits each: hour, minute and second.
    clock: Option<[usize; 3]>,
    /// Whether an offset follows.
    has_offset: bool,
}

impl Kernel {
    /// A kernel for what these operations read, if there is one.
    pub(super) fn of(kind: Kind, ops: &[FieldOp]) -> Option<Kernel> {
        let mut places = Vec::new();
        let mut is_of_twelve = false;
        for (at, op) in ops.iter().enumerate() {
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
                FieldOp::Offset(OffsetForm::Any | OffsetForm::Colon) if at + 1 == ops.len() => {
                    places.push(Place::Offset);
                }
                _ => return None,
            }
        }
        let count = |part: Part| {
            let is_own = |place: &&Place| match place {
                Place::Number(own, ..) => *own == part,
                Place::Month(_) => part == Part::Month,
                Place::Mark(_) | Place::Half(_) | Place::Offset => false,
            };
            places.iter().filter(is_own).count()
        };
        let has_date = [Part::Year, Part::Month, Part::Day].map(count);
        let clock = [Part::Hour, Part::Minute, Part::Second].map(count);
        let halves = places.iter().filter(|place| matches!(place, Place::Half(_))).count();
        let has_offset = matches!(places.last(), Some(Place::Offset));
        let is_clock = clock[0] == 1 && clock[1] <= 1 && clock[2] <= clock[1];
        let is_known = match kind {
            Kind::Date => has_date == [1; 3] && clock == [0; 3] && halves == 0 && !has_offset,
            Kind::DateTime => has_date == [1; 3] && is_clock && !has_offset,
            Kind::Instant => has_date == [1; 3] && is_clock && has_offset,
            Kind::Time => has_date == [0; 3] && is_clock && !has_offset,
            _ => false,
        };
        let fixed = Fixed::of(&places);
        (is_known && halves == usize::from(is_of_twelve)).then_some(Kernel { kind, places, fixed })
    }

    /// Reads a normalised value, if it is one of those that are certain. `is_english` says that names are those of
    /// English, whatever language was said.
    #[inline]
    pub(super) fn read(&self, value: &str, terms: &Terms, is_english: bool) -> Option<Fit> {
        let lexicon = if is_english { Lexicon::english() } else { terms.lexicon };
        if terms.reform.is_some() || lexicon.calendar() != Calendar::Gregorian {
            return None;
        }
        match &self.fixed {
            Some(fixed) => fixed.read(value),
            None => self.go_through(value, lexicon),
        }
    }

    /// Reads what may be written with more or fewer characters.
    fn go_through(&self, value: &str, lexicon: Lexicon) -> Option<Fit> {
        let bytes = value.as_bytes();
        let mut at = 0;
        let mut parts = [0_u16; PARTS];
        let (mut half, mut offset) = (None, None);
        for place in &self.places {
            match *place {
                Place::Mark(mark) => {
                    (*bytes.get(at)? == mark).then_some(())?;
                    at += 1;
                }
                Place::Number(part, least, most) => {
                    let rest = &bytes[at..];
                    let mut number = 0;
                    let mut digits = 0;
                    for byte in rest.iter().take(usize::from(most)) {
                        let digit = byte.wrapping_sub(b'0');
                        if digit > 9 {
                            break;
                        }
                        number = number * 10 + u16::from(digit);
                        digits += 1;
                    }
                    (digits >= usize::from(least)).then_some(())?;
                    at += digits;
                    parts[part as usize] = number;
                }
                Place::Month(point) => {
                    let (month, length) = month(value.get(at..)?, lexicon)?;
                    parts[Part::Month as usize] = month.into();
                    at += length;
                    ends_without_point(bytes, at, point).then_some(())?;
                }
                Place::Half(point) => {
                    let (own, length) = half_of_day(value.get(at..)?, lexicon)?;
                    half = Some(own);
                    at += length;
                    ends_without_point(bytes, at, point).then_some(())?;
                }
                Place::Offset => {
                    offset = Some(offset_of(&bytes[at..])?);
                    at = bytes.len();
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
        if self.kind == Kind::Time {
            return Some(fit(TypedValue::Time(time()?), None, Stated::Nothing));
        }
        let date = date(year, month as u8, day as u8)?;
        let (moment, stated) = match (self.kind, offset) {
            (Kind::Date, _) => (TypedValue::Date(date), Stated::Nothing),
            (_, Some((offset, stated))) => {
                let clock = DateTime::from_parts(date, time()?);
                (TypedValue::Instant(offset.to_timestamp(clock).ok()?), stated)
            }
            (_, None) => {
                (TypedValue::DateTime(DateTime::from_parts(date, time()?)), Stated::Nothing)
            }
        };
        Some(fit(moment, Some(date), stated))
    }
}

impl Fixed {
    /// What these places are, if all values of theirs have as many characters and a date.
    fn of(places: &[Place]) -> Option<Fixed> {
        let (mut length, mut marks, mut parts) = (0, Vec::new(), [None; PARTS]);
        let (has_offset, places) = match places {
            [others @ .., Place::Offset] => (true, others),
            all => (false, all),
        };
        for place in places {
            let wide = match *place {
                Place::Mark(mark) => {
                    marks.push((length, mark));
                    1
                }
                Place::Number(part, least, most) if least == most => {
                    parts[part as usize] = Some(length);
                    (most == if part == Part::Year { 4 } else { 2 }).then_some(usize::from(most))?
                }
                _ => return None,
            };
            length += wide;
        }
        let [year, month, day, hour, minute, second] = parts;
        let clock = match (hour, minute, second) {
            (Some(hour), Some(minute), Some(second)) => Some([hour, minute, second]),
            (None, ..) if !has_offset => None,
            _ => return None,
        };
        Some(Fixed { length, marks, year: year?, month: month?, day: day?, clock, has_offset })
    }

    #[inline]
    fn read(&self, value: &str) -> Option<Fit> {
        let (bytes, behind) = value.as_bytes().split_at_checked(self.length)?;
        let has = |(at, mark): &(usize, u8)| bytes.get(*at) == Some(mark);
        if behind.is_empty() == self.has_offset || !self.marks.iter().all(has) {
            return None;
        }
        let two = |at: usize| bytes.get(at..)?.first_chunk::<2>().copied();
        let [y, z, x, w] = *bytes.get(self.year..)?.first_chunk()?;
        let [[a, b], [c, d]] = [two(self.month)?, two(self.day)?];
        let [century, year, month, day] = pairs_of_digits([y, z, x, w, a, b, c, d])?;
        let date = date(100 * century + year, month as u8, day as u8)?;
        let moment = match self.clock {
            None => TypedValue::Date(date),
            Some([hour, minute, second]) => {
                let [[a, b], [c, d], [e, f]] = [two(hour)?, two(minute)?, two(second)?];
                let [hour, minute, second, _] = pairs_of_digits([a, b, c, d, e, f, b'0', b'0'])?;
                let time = Time::new(hour as i8, minute as i8, second as i8, 0).ok()?;
                let clock = DateTime::from_parts(date, time);
                if self.has_offset {
                    let (offset, stated) = offset_of(behind)?;
                    let moment = TypedValue::Instant(offset.to_timestamp(clock).ok()?);
                    return Some(fit(moment, Some(date), stated));
                }
                TypedValue::DateTime(clock)
            }
        };
        Some(fit(moment, Some(date), Stated::Nothing))
    }
}

/// Four numbers of two digits each, all at once: a byte of a word for each digit (Knuth, The Art of Computer Programming,
/// volume 4A, 7.1.3, broadword computing).
#[inline]
fn pairs_of_digits(bytes: [u8; 8]) -> Option<[u16; 4]> {
    const EACH: u64 = 0x0101_0101_0101_0101;
    let word = u64::from_le_bytes(bytes);
    // What is below a zero borrows from the highest bit of its byte, what is above a nine carries into it.
    let is_off = (word.wrapping_sub(b'0' as u64 * EACH) | word.wrapping_add(0x46 * EACH) | word)
        & (0x80 * EACH);
    (is_off == 0).then_some(())?;
    let digits = word - b'0' as u64 * EACH;
    // Each tens digit stands one byte below its ones digit.
    let pairs = (digits * 10 + (digits >> 8)) & 0x00FF_00FF_00FF_00FF;
    Some([0, 16, 32, 48].map(|shift| (pairs >> shift) as u16))
}

#[inline]
fn two_digits(&[tens, ones]: &[u8; 2]) -> Option<u8> {
    let (tens, ones) = (tens.wrapping_sub(b'0'), ones.wrapping_sub(b'0'));
    (tens <= 9 && ones <= 9).then(|| tens * 10 + ones)
}

/// The date, if there is such a one. A year zero is for the program, as are a leap second and the end of a day.
#[inline]
fn date(year: u16, month: u8, day: u8) -> Option<Date> {
    match year {
        0 => None,
        year => Date::new(year as i16, month as i8, day as i8).ok(),
    }
}

#[inline]
fn fit(moment: TypedValue, written: Option<Date>, stated: Stated) -> Fit {
    Fit {
        moment,
        fraction_digits: 0,
        written,
        short_year: false,
        yearless: false,
        leap_second: false,
        stated,
        moved: None,
    }
}

/// `Z`, or hours and minutes with a colon between them, and nothing behind.
fn offset_of(text: &[u8]) -> Option<(Offset, Stated)> {
    let (sign, hours, minutes) = match text {
        b"Z" => return Some((Offset::UTC, Stated::Universal)),
        [sign @ (b'+' | b'-'), a, b, b':', c, d] => {
            (*sign, two_digits(&[*a, *b])?, two_digits(&[*c, *d])?)
        }
        _ => return None,
    };
    // `-00:00`, and what is no offset, are for the program.
    let is_certain = (1..=14).contains(&hours) && minutes < 60;
    is_certain.then_some(())?;
    let seconds = (i32::from(hours) * 60 + i32::from(minutes)) * 60;
    let offset = Offset::from_seconds(if sign == b'-' { -seconds } else { seconds }).ok()?;
    Some((offset, Stated::Offset(offset)))
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
            "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}{offset}",
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
                "2024-04-03T10:15:59Z",
                "2024-04-03T10:15:59z",
                "2024-04-03T10:15:59+05:30",
                "2024-04-03T10:15:59-00:00",
                "2024-04-03T10:15:59+15:00",
                "2024-04-03T10:15:59+1",
                "0001-01-01T00:00:00+14:00",
                "7:05",
                "23:59",
                "24:00",
                "7:60",
            ] {
                match kernel.read(value, &Terms::default(), false) {
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
        assert_eq!((certain, left), (14, 274));
    }

    #[test]
    fn pairs_of_digits_are_those_of_single_ones() {
        for place in 0..8 {
            for byte in 0..=u8::MAX {
                // Digits on both sides, and what borrows or carries.
                for beside in *b"0123456789/:" {
                    let mut bytes = [beside; 8];
                    bytes[place] = byte;
                    let (two, _) = bytes.as_chunks::<2>();
                    let each: Option<Vec<u16>> =
                        two.iter().map(|own| two_digits(own).map(u16::from)).collect();
                    assert_eq!(pairs_of_digits(bytes).map(Vec::from), each, "{bytes:?}");
                }
            }
        }
    }

    #[test]
    fn what_has_more_to_it_has_no_kernel() {
        for layout in [
            "{day}/{month}/{year:2}",
            "{weekday} {day} {month:name} {year}",
            "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}{offset:mail}",
            "{month}/{year}",
            "{day}/{month}/{year} {any}",
        ] {
            assert!(kernel(&Layout::parse(layout).unwrap()).is_none(), "{layout}");
        }
    }
}
