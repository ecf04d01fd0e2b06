//! Why a value cannot be read, in words that stand behind its name.

use std::fmt;

use jiff::civil::DateTime;
use metachron_core::epoch::NotCounted;
use metachron_core::lexicon::{Length, Lexicon};
use metachron_core::named::Named;
use metachron_core::reading::Unfit;
use metachron_core::value::Fault;
use metachron_core::zone::offset_text;

use super::Words;

impl fmt::Display for Words<'_, Unfit> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let lexicon = Lexicon::english();
        let full = Length::Full;
        match self.0 {
            Unfit::Form => write!(f, "not written in a form that this column's reading knows"),
            Unfit::Bound(bound) => write!(f, "{bound}"),
            Unfit::NoSuchDay { year, month, day } => {
                write!(f, "{day} {} {year} does not exist", lexicon.month(*month, full, false))
            }
            Unfit::NoSuchYearDay { year, number } => write!(f, "{year} has no day {number}"),
            Unfit::NoSuchWeek { year, week } => write!(f, "{year} has no week {week}"),
            Unfit::NoPartOfYear(part) => write!(
                f,
                "its fraction is neither the start nor the middle of a {} of that year",
                part.name()
            ),
            Unfit::Weekday { written, actual } => write!(
                f,
                "says {}, but that date is a {}",
                lexicon.weekday(*written, full),
                lexicon.weekday(*actual, full)
            ),
            Unfit::LeapSecond => {
                write!(f, "second 60 exists only in a leap second, at the end of a UTC day")
            }
            Unfit::EndOfNoDay => {
                write!(f, "24:00 and 23:59:60 end a day, but the value has none")
            }
            Unfit::EndOfDay => write!(f, "hour 24 exists only as 24:00, the end of a day"),
            Unfit::MinutesOrMonths => write!(f, "m may be minutes or months"),
            Unfit::UnclearUnit { one: (one, language), other: (other, _) } if one == other => {
                write!(f, "its unit is that of {} in one language ({language})", one.name())
            }
            Unfit::UnclearUnit { one: (one, a), other: (other, b) } => write!(
                f,
                "its unit is {} in one language ({a}) and {} in another ({b})",
                one.name(),
                other.name()
            ),
            Unfit::NoUnit | Unfit::NoLastUnit => write!(f, "a number of it has no unit"),
            Unfit::UnclearComma => {
                write!(f, "the comma may be a decimal mark, or stand between thousands")
            }
            Unfit::NoLength => write!(f, "longer than can be held, or a fraction of a month"),
            Unfit::TooFine => write!(f, "finer than a nanosecond"),
            Unfit::OutOfRange => write!(f, "outside the years -9999 to 9999"),
            Unfit::LeftOut { reform } => write!(
                f,
                "the calendar was reformed on {reform}; the days before it that only the new one has never were"
            ),
            Unfit::NotCounted(_, NotCounted::Phantom) => write!(
                f,
                "60 is 29 February 1900 in spreadsheets, a day that never was; 59 is 28 February, 61 is 1 March"
            ),
            Unfit::NotCounted(_, NotCounted::NoSuchDay) => {
                write!(f, "its digits are no day that exists")
            }
            Unfit::NotCounted(epoch, _) => match epoch.range() {
                (Some(first), Some(last)) => {
                    write!(f, "outside what {epoch} can count, {first} to {last}")
                }
                _ => write!(f, "outside what {epoch} can count"),
            },
            Unfit::NoSuchDayOf { calendar, year, month, day } => write!(
                f,
                "day {day} of month {month} of the year {year} does not exist in {}",
                calendar.phrase()
            ),
            Unfit::MonthNumber(calendar) => write!(
                f,
                "the months of {} are counted from two beginnings; only their names say which is meant",
                calendar.phrase()
            ),
            Unfit::PeriodOf(calendar) => {
                write!(f, "a period of {} is none of ISO 8601", calendar.phrase())
            }
            Unfit::NoEra => write!(f, "has a year of an era and does not say which"),
            Unfit::BeforeEra { first } => write!(f, "lies before its era, which began on {first}"),
            Unfit::PartOfDay { hour } => {
                write!(f, "{hour} o'clock is not in that part of the day, or is in it twice")
            }
            Unfit::MidnightOfDay => {
                write!(f, "midnight begins and ends a day; 00:00 or 24:00 says which is meant")
            }
            Unfit::NoYear => write!(f, "has no year; --year says it"),
            Unfit::UnclearName => write!(
                f,
                "a name means another month or day from language to language; --written-in says which"
            ),
            Unfit::UnknownZone => {
                write!(f, "names a time zone that the IANA database does not have")
            }
            Unfit::OffsetNotOfZone { zone, there } => {
                let (zone, there) = (zone.name(), offset_text(*there));
                write!(f, "{zone} had the offset {there} at that moment, not the one written")
            }
            Unfit::SkippedClock { zone, clock } => {
                write!(f, "{} did not exist in {}: the clocks ", shown(*clock), zone.name())?;
                match zone.change_around(*clock) {
                    Some((from, to)) => write!(f, "went from {} to {}", time(from), time(to)),
                    None => write!(f, "were put forward over it"),
                }
            }
            Unfit::RepeatedClock { zone, clock } => {
                write!(f, "{} came twice in {}: the clocks ", shown(*clock), zone.name())?;
                match zone.change_around(*clock) {
                    Some((back_to, from)) => {
                        write!(f, "went back from {} to {}", time(from), time(back_to))
                    }
                    None => write!(f, "were put back"),
                }
            }
            Unfit::NoZone => write!(f, "nothing says in which zone its clock stood"),
            Unfit::NoSuchZone => {
                write!(f, "what says its zone is none; zones = {{ … }} can say what it means")
            }
            Unfit::UnclearAbbreviation(name) if name.is_known() => match &name.places()[..] {
                [place] => write!(
                    f,
                    "{name} was not always the same offset in {place}; --abbreviation says that it is meant"
                ),
                places => write!(
                    f,
                    "{name} is used in {}; --abbreviation says which is meant",
                    places.join(", ")
                ),
            },
            Unfit::UnclearAbbreviation(name) => {
                write!(
                    f,
                    "{name} is no abbreviation of a zone that is known; --abbreviation says what it means"
                )
            }
            Unfit::OtherAbbreviation { name, there } => {
                write!(f, "{} was not called {name} at that moment", offset_text(*there))
            }
            Unfit::CriticalTag => write!(f, "has a tag with ! that must be understood and is not"),
            Unfit::Fault(fault) => f.write_str(match fault {
                Fault::Error => "the file holds an error in place of a value",
                Fault::OutOfRange => "the file has a number as a date or time that none has",
                Fault::NotCalculated => "a formula stands here whose result is not stored",
                Fault::NotText => "the bytes are no text",
            }),
            Unfit::OtherKind { value, column } => {
                write!(f, "{}; the column is read as {column}", value.phrase())
            }
        }
    }
}

/// A clock time to the minute, or as fine as it is: `02:30 on 2024-03-31`.
fn shown(clock: DateTime) -> String {
    format!("{} on {}", time(clock), clock.date())
}

fn time(clock: DateTime) -> String {
    let full = clock.time().to_string();
    full.strip_suffix(":00").unwrap_or(&full).to_owned()
}

#[cfg(test)]
mod tests {
    use crate::words::words;
    use metachron_core::layout::Layout;
    use metachron_core::reading::{Terms, interpret};
    use metachron_core::text::normalise;
    use toml_edit::{DocumentMut, Value};

    fn corpus(name: &str) -> DocumentMut {
        let path = format!("{}/../../corpus/{name}", env!("CARGO_MANIFEST_DIR"));
        std::fs::read_to_string(path).unwrap().parse().unwrap()
    }

    /// Why a value cannot be read by a layout.
    fn why(layout: &str, value: &str, terms: Terms) -> String {
        let parsed = Layout::parse_yearless(layout).unwrap();
        let mut buffer = String::new();
        let read = interpret(&parsed, normalise(value, &mut buffer), terms);
        words(&read.unwrap_err()).to_string()
    }

    #[test]
    fn the_values_of_the_corpus_say_why_they_fail() {
        let corpus = corpus("values.toml");
        let mut checked = 0;
        for case in corpus["case"].as_array().unwrap().iter().filter_map(Value::as_inline_table) {
            let text = |key: &str| case.get(key).and_then(Value::as_str);
            if let (Some(layout), Some(value), Some(fails)) =
                (text("layout"), text("value"), text("fails"))
            {
                assert_eq!(why(layout, value, Terms::default()), fails, "{layout} on {value:?}");
                checked += 1;
            }
        }
        assert!(checked > 30, "only {checked} cases fail");
    }

    #[test]
    fn standards_say_why_they_refuse_a_value() {
        let corpus = corpus("standards.toml");
        let terms = Terms { today: Some(jiff::civil::date(2026, 11, 23)), ..Terms::default() };
        let mut checked = 0;
        for (standard, cases) in corpus.iter() {
            for case in cases["invalid"].as_array().unwrap() {
                let case = case.as_array().unwrap();
                let text = |at: usize| case.get(at).and_then(Value::as_str).unwrap();
                assert_eq!(why(standard, text(0), terms), text(1), "{standard} on {:?}", text(0));
                checked += 1;
            }
        }
        assert!(checked > 100, "only {checked} values are refused");
    }
}
