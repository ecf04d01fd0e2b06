//! Time zones by their names (IANA time zone database, the copy that is built in).

use std::sync::{LazyLock, OnceLock};

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, Offset, TimeZone, TimeZoneDatabase};

/// A zone of the IANA database.
///
/// ```
/// use metachron_core::zone::Zone;
/// assert_eq!(Zone::named("europe/oslo").unwrap().name(), "Europe/Oslo");
/// assert!(Zone::named("Europe/Skarholm").is_none());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Zone(u16);

/// What a clock time is in a zone.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Placed {
    /// It came once.
    Once(Timestamp),
    /// The clocks were put forward over it.
    Skipped,
    /// The clocks were put back, and it came twice.
    Twice(Timestamp, Timestamp),
    /// It lies beyond the years that can be written.
    OutOfRange,
}

/// A name, in small letters and as it is written, with its rules once they are needed.
struct Entry {
    key: String,
    name: String,
    rules: OnceLock<TimeZone>,
}

static ZONES: LazyLock<Vec<Entry>> = LazyLock::new(|| {
    let names = TimeZoneDatabase::bundled();
    let mut all: Vec<Entry> = names
        .available()
        .map(|name| Entry {
            key: name.as_str().to_ascii_lowercase(),
            name: name.as_str().to_owned(),
            rules: OnceLock::new(),
        })
        .collect();
    all.sort_by(|a, b| a.key.cmp(&b.key));
    all
});

impl Zone {
    /// The zone of this name, whatever its case.
    pub fn named(name: &str) -> Option<Zone> {
        let key = name.to_ascii_lowercase();
        let found = ZONES.binary_search_by(|entry| entry.key.as_str().cmp(&key)).ok()?;
        u16::try_from(found).ok().map(Zone)
    }

    /// The name at the beginning of a text as far as it may go, and the zone if there is one of that
    /// name.
    pub fn read(text: &str) -> Option<(Option<Zone>, usize)> {
        let belongs = |c: char| c.is_ascii_alphanumeric() || matches!(c, '/' | '_' | '-' | '+');
        let end = text.find(|c| !belongs(c)).unwrap_or(text.len());
        let begins = text.starts_with(|c: char| c.is_ascii_alphabetic());
        begins.then(|| (Zone::named(&text[..end]), end))
    }

    /// Its name.
    pub fn name(self) -> &'static str {
        ZONES.get(usize::from(self.0)).map_or("", |entry| &entry.name)
    }

    /// The offset from UTC at a moment.
    pub fn offset_at(self, moment: Timestamp) -> Offset {
        self.rules().map_or(Offset::UTC, |rules| rules.to_offset(moment))
    }

    /// The moment at which its clocks show this time.
    pub fn place(self, clock: DateTime) -> Placed {
        let Some(rules) = self.rules() else { return Placed::OutOfRange };
        let at = |offset: Offset| offset.to_timestamp(clock);
        match rules.to_ambiguous_timestamp(clock).offset() {
            AmbiguousOffset::Unambiguous { offset } => {
                at(offset).map_or(Placed::OutOfRange, Placed::Once)
            }
            AmbiguousOffset::Gap { .. } => Placed::Skipped,
            AmbiguousOffset::Fold { before, after } => match (at(before), at(after)) {
                (Ok(first), Ok(second)) => Placed::Twice(first, second),
                _ => Placed::OutOfRange,
            },
        }
    }

    fn rules(self) -> Option<&'static TimeZone> {
        let entry = ZONES.get(usize::from(self.0))?;
        if entry.rules.get().is_none() {
            // The name comes from the same database.
            let rules = TimeZoneDatabase::bundled().get(&entry.name).ok()?;
            return Some(entry.rules.get_or_init(|| rules));
        }
        entry.rules.get()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::datetime;

    #[test]
    fn names_are_read_as_far_as_they_go() {
        for (text, found) in [
            ("Europe/Oslo]", Some((Some("Europe/Oslo"), 11))),
            ("america/port-au-prince x", Some((Some("America/Port-au-Prince"), 22))),
            ("Etc/GMT+5", Some((Some("Etc/GMT+5"), 9))),
            ("Skarholm)", Some((None, 8))),
            ("+01:00", None),
            ("", None),
        ] {
            let read = Zone::read(text);
            assert_eq!(read.map(|(zone, end)| (zone.map(Zone::name), end)), found, "{text}");
        }
    }

    #[test]
    fn clocks_that_were_put_forward_and_back() {
        let oslo = Zone::named("Europe/Oslo").unwrap();
        let utc =
            |hour, day, month| Offset::UTC.to_timestamp(datetime(2024, month, day, hour, 30, 0, 0));
        assert_eq!(
            oslo.place(datetime(2024, 7, 1, 12, 30, 0, 0)),
            Placed::Once(utc(10, 1, 7).unwrap())
        );
        assert_eq!(oslo.place(datetime(2024, 3, 31, 2, 30, 0, 0)), Placed::Skipped);
        assert_eq!(
            oslo.place(datetime(2024, 10, 27, 2, 30, 0, 0)),
            Placed::Twice(utc(0, 27, 10).unwrap(), utc(1, 27, 10).unwrap())
        );
        assert_eq!(oslo.offset_at(utc(10, 1, 7).unwrap()), Offset::constant(2));
    }
}
