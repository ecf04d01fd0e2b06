//! Offsets from UTC as they are written.

use jiff::tz::Offset;

use super::Unfit;
use crate::bounds;
use crate::layout::OffsetForm;
use crate::zone::{Clock, Zones};

/// An offset from UTC as it is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct WrittenOffset {
    /// Whether it lies west of Greenwich.
    pub negative: bool,
    /// Hours.
    pub hours: u8,
    /// Minutes.
    pub minutes: u8,
    /// Whether it says the moment and nothing of the clocks there: `Z`.
    pub is_zulu: bool,
}

impl WrittenOffset {
    /// The offset that it is.
    ///
    /// # Errors
    /// If there are no such hours or minutes.
    pub(super) fn resolve(self) -> Result<Offset, Unfit> {
        bounds::OFFSET_HOUR.check(self.hours.into())?;
        bounds::MINUTE.check(self.minutes.into())?;
        let seconds = (i32::from(self.hours) * 60 + i32::from(self.minutes)) * 60;
        let signed = if self.negative { -seconds } else { seconds };
        Offset::from_seconds(signed).map_err(|_| Unfit::OutOfRange)
    }

    /// Universal time, said as such.
    pub const UTC: WrittenOffset =
        WrittenOffset { negative: false, hours: 0, minutes: 0, is_zulu: true };

    /// Reads an offset at the beginning of `text`; also gives how many bytes it takes.
    ///
    /// In the widest form `Z`, `UTC` and `GMT` stand for UTC; a sign with hours, or hours and
    /// minutes, may follow the latter two or stand alone.
    ///
    /// ```
    /// use metachron_core::layout::OffsetForm;
    /// use metachron_core::reading::WrittenOffset;
    /// let (_, length) = WrittenOffset::read(b"+01:00 x", OffsetForm::Any).unwrap();
    /// assert_eq!(length, 6);
    /// ```
    pub fn read(text: &[u8], form: OffsetForm) -> Option<(WrittenOffset, usize)> {
        let word = text.iter().take_while(|byte| byte.is_ascii_alphabetic()).count();
        if form == OffsetForm::Military {
            return if word == 1 { WrittenOffset::military(text[0]).zip(Some(1)) } else { None };
        }
        let length = match (&text[..word], form) {
            // Whatever begins with it (`Z0714`) is left to the layout.
            ([b'Z' | b'z', ..], _) => 1,
            (name, OffsetForm::Any) if is_any(name, &["UTC", "GMT"]) => 3,
            (name, OffsetForm::Mail) if word > 0 => {
                return Some((WrittenOffset::of_mail(name)?, word));
            }
            ([], _) => 0,
            _ => return None,
        };
        match WrittenOffset::signed(&text[length..], form) {
            // `Z` is whole by itself, but for what documents write behind it: `Z00'00'`.
            _ if length == 1 => {
                let zeros = [&b"00'00'"[..], b"00'00"];
                let behind = zeros.iter().find(|zeros| text[1..].starts_with(zeros));
                let behind = behind.filter(|_| form == OffsetForm::Any);
                Some((WrittenOffset::UTC, 1 + behind.map_or(0, |zeros| zeros.len())))
            }
            Some((offset, signed)) => Some((offset, length + signed)),
            None => (length > 0).then_some((WrittenOffset::UTC, length)),
        }
    }

    /// A sign, hours, and minutes where the form has them.
    fn signed(text: &[u8], form: OffsetForm) -> Option<(WrittenOffset, usize)> {
        let (sign, digits) = text.split_first()?;
        let negative = match sign {
            b'+' => false,
            b'-' => true,
            _ => return None,
        };
        let run = digits.iter().take_while(|b| b.is_ascii_digit()).count();
        let number =
            |from: usize, to: usize| digits[from..to].iter().fold(0, |n, b| n * 10 + (b - b'0'));
        let behind = |mark: u8| {
            digits.get(run) == Some(&mark)
                && digits.get(run + 1..run + 3).is_some_and(|m| m.iter().all(u8::is_ascii_digit))
                && !digits.get(run + 3).is_some_and(u8::is_ascii_digit)
        };
        let (hours, minutes, length) = match (run, form) {
            (1 | 2, OffsetForm::Any) if behind(b':') => {
                (number(0, run), number(run + 1, run + 3), run + 3)
            }
            // `+01'00'`, the last mark being optional (ISO 32000-2:2020, 7.9.4).
            (2, OffsetForm::Any) if behind(b'\'') => {
                let closed = usize::from(digits.get(5) == Some(&b'\''));
                (number(0, 2), number(3, 5), 5 + closed)
            }
            (2, OffsetForm::Colon) if behind(b':') => (number(0, 2), number(3, 5), 5),
            (1 | 2, OffsetForm::Any) | (2, OffsetForm::Hours) => (number(0, run), 0, run),
            (4, OffsetForm::Any | OffsetForm::Basic | OffsetForm::Mail) => {
                (number(0, 2), number(2, 4), 4)
            }
            _ => return None,
        };
        // `-00:00` says that the offset there is not known (RFC 3339, section 4.3).
        let is_zulu = negative && (hours, minutes) == (0, 0);
        Some((WrittenOffset { negative, hours, minutes, is_zulu }, 1 + length))
    }

    /// The zone of a letter, one for each hour.
    fn military(letter: u8) -> Option<WrittenOffset> {
        let letter = letter.to_ascii_uppercase();
        let (negative, hours) = match letter {
            b'Z' => return Some(WrittenOffset::UTC),
            b'A'..=b'I' => (false, letter - b'A' + 1),
            b'K'..=b'M' => (false, letter - b'A'),
            b'N'..=b'Y' => (true, letter - b'N' + 1),
            _ => return None,
        };
        Some(WrittenOffset { negative, hours, minutes: 0, is_zulu: false })
    }

    /// The zones that RFC 5322, section 4.3, names; its letters of one place are none, since nobody
    /// can tell what was meant by them.
    fn of_mail(name: &[u8]) -> Option<WrittenOffset> {
        if is_any(name, &["UT", "GMT"]) {
            return Some(WrittenOffset::UTC);
        }
        let hours = [(8, "PST"), (7, "PDT"), (7, "MST"), (6, "MDT"), (6, "CST"), (5, "CDT")];
        let hours = hours.into_iter().chain([(5, "EST"), (4, "EDT")]);
        let (hours, _) = hours.into_iter().find(|(_, zone)| is_any(name, &[zone]))?;
        Some(WrittenOffset { negative: true, hours, minutes: 0, is_zulu: false })
    }
}

fn is_any(name: &[u8], names: &[&str]) -> bool {
    names.iter().any(|other| name.eq_ignore_ascii_case(other.as_bytes()))
}

/// No place is or was further from Greenwich.
const FURTHEST_HOURS: i32 = 16;

impl Clock {
    /// The clock of this name: a zone, or an offset as values have it (`+01:00`, `UTC+1`, `Z`).
    pub fn named(text: &str, zones: Zones) -> Option<Clock> {
        let text = text.trim();
        if let Some(zone) = zones.named(text) {
            return Some(Clock::Zone(zone));
        }
        let (written, length) = WrittenOffset::read(text.as_bytes(), OffsetForm::Any)?;
        let offset = written.resolve().ok().filter(|_| length == text.len())?;
        (offset.seconds().abs() < FURTHEST_HOURS * 3_600).then_some(Clock::Fixed(offset))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn clocks_by_name_and_by_offset() {
        let clock = |text: &str| Clock::named(text, Zones::bundled()).map(|c| c.to_string());
        for (text, expected) in [
            ("+01:00", "+01:00"),
            ("-0330", "-03:30"),
            ("UTC+1", "+01:00"),
            ("GMT-03:30", "-03:30"),
            ("Z", "UTC"),
            ("-00:30", "-00:30"),
            ("africa/casablanca", "Africa/Casablanca"),
            ("Asia/Calcutta", "Asia/Calcutta"),
        ] {
            assert_eq!(clock(text).as_deref(), Some(expected), "{text}");
        }
        for text in ["", "+", "+25:00", "+01:60", "Skarholm", "+1:0", "01:00", "+001"] {
            assert_eq!(clock(text), None, "{text}");
        }
    }
}
