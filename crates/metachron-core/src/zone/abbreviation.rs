//! Abbreviations of zones: `CET` is one offset everywhere, `IST` is three.

use std::collections::BTreeMap;
use std::fmt;
use std::sync::LazyLock;

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::Offset;

use super::{Zone, Zones};

/// An abbreviation as it is written, up to six letters, in capitals.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Abbreviation([u8; 6]);

/// One of the things that an abbreviation stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Meaning {
    /// Seconds east of Greenwich.
    pub offset: i32,
    /// Whether it is summer time.
    pub is_summer: bool,
    /// A zone where it is or was used.
    pub place: &'static str,
    /// The first and the last year of that use.
    pub years: (i16, i16),
    /// Whether people write it for that place while the database does not.
    pub only_written: bool,
}

/// What abbreviations stand for since 1970, as `abbreviations.tsv` has them (a test goes through the built-in copy of the
/// database and finds the same). Where people write one for other places too, for which the database has digits,
/// these are listed as well and marked: an abbreviation of several meanings is asked for and never guessed.
static MEANINGS: LazyLock<BTreeMap<&str, Vec<Meaning>>> = LazyLock::new(|| {
    let mut all: BTreeMap<&str, Vec<Meaning>> = BTreeMap::new();
    for line in include_str!("abbreviations.tsv").lines().filter(|line| !line.starts_with('#')) {
        if let Some((name, rest)) = line.split_once('\t')
            && let Some(meaning) = Meaning::parse(rest)
        {
            all.entry(name).or_default().push(meaning);
        }
    }
    all
});

impl Meaning {
    /// `+10:00 summer Pacific/Guam 1970-2000 written`, between tabs; the last two may lack.
    fn parse(text: &'static str) -> Option<Meaning> {
        let columns: Vec<&str> = text.split('\t').collect();
        let [offset, season, place, rest @ ..] = &columns[..] else { return None };
        let mut parts = offset[1..].split(':');
        let seconds = [3_600, 60, 1].iter().try_fold(0, |sum, unit| {
            Some(sum + unit * parts.next().map_or(Some(0), |part| part.parse::<i32>().ok())?)
        })?;
        let years = match rest.first().filter(|years| !years.is_empty()) {
            Some(years) => {
                let (first, last) = years.split_once('-')?;
                (first.parse().ok()?, last.parse().ok()?)
            }
            None => (i16::MIN, i16::MAX),
        };
        Some(Meaning {
            offset: if offset.starts_with('-') { -seconds } else { seconds },
            is_summer: *season == "summer",
            place,
            years,
            only_written: rest.get(1) == Some(&"written"),
        })
    }
}

impl Abbreviation {
    /// Three to six letters are one; whether it is known is another question.
    ///
    /// ```
    /// use metachron_core::zone::Abbreviation;
    /// assert!(Abbreviation::new("IST").is_some() && Abbreviation::new("Oslo time").is_none());
    /// ```
    pub fn new(text: &str) -> Option<Abbreviation> {
        let letters = text.as_bytes();
        let fits = (3..=6).contains(&letters.len()) && letters.iter().all(u8::is_ascii_alphabetic);
        fits.then(|| {
            let mut own = [0; 6];
            own[..letters.len()].copy_from_slice(letters);
            own.make_ascii_uppercase();
            Abbreviation(own)
        })
    }

    /// The abbreviation at the beginning of a text, if it stands for something known, and its length.
    ///
    /// ```
    /// use metachron_core::zone::Abbreviation;
    /// let (name, length) = Abbreviation::read("CET 2024").unwrap();
    /// assert_eq!((name.letters(), length), ("CET", 3));
    /// ```
    pub fn read(text: &str) -> Option<(Abbreviation, usize)> {
        let length = text.bytes().take_while(u8::is_ascii_alphabetic).count();
        let found = Abbreviation::new(&text[..length]).filter(|found| found.is_known())?;
        Some((found, length))
    }

    /// Its letters.
    pub fn letters(&self) -> &str {
        let end = self.0.iter().position(|byte| *byte == 0).unwrap_or(6);
        std::str::from_utf8(&self.0[..end]).unwrap_or("")
    }

    /// Whether it stands for something since 1970.
    pub fn is_known(self) -> bool {
        !self.meanings().is_empty()
    }

    /// All that it stands for since 1970.
    ///
    /// ```
    /// use metachron_core::zone::Abbreviation;
    /// let places: Vec<&str> = Abbreviation::new("IST").unwrap().meanings().iter().map(|m| m.place).collect();
    /// assert!(places.contains(&"Asia/Kolkata") && places.contains(&"Europe/Dublin"));
    /// ```
    pub fn meanings(self) -> &'static [Meaning] {
        MEANINGS.get(self.letters()).map_or(&[], Vec::as_slice)
    }

    /// The places where it has its meanings, each once.
    ///
    /// ```
    /// use metachron_core::zone::Abbreviation;
    /// // Two offsets, at different times.
    /// assert_eq!(Abbreviation::new("MSK").unwrap().places(), ["Europe/Moscow"]);
    /// ```
    pub fn places(self) -> Vec<&'static str> {
        let mut places: Vec<&str> = self.meanings().iter().map(|own| own.place).collect();
        places.dedup();
        places
    }

    /// What it stood for in a year.
    pub fn meanings_in(self, year: i16) -> impl Iterator<Item = Meaning> {
        let of_year = move |own: &Meaning| (own.years.0..=own.years.1).contains(&year);
        self.meanings().iter().copied().filter(of_year)
    }

    /// What it stood for in a year, if that is one thing.
    ///
    /// ```
    /// use metachron_core::zone::Abbreviation;
    /// let offset = |text, year| Abbreviation::new(text)?.only_meaning(year).map(|m| m.offset / 3600);
    /// assert_eq!(offset("CEST", 2024), Some(2));
    /// assert_eq!(offset("IST", 2024), None);
    /// ```
    pub fn only_meaning(self, year: i16) -> Option<Meaning> {
        let mut all = self.meanings_in(year);
        match (all.next(), all.next()) {
            (Some(only), None) => Some(only),
            _ => None,
        }
    }
}

impl Meaning {
    /// The moment at which a clock of this offset showed a time; none beyond the years that can be
    /// written.
    pub fn moment(self, clock: DateTime) -> Option<Timestamp> {
        Offset::from_seconds(self.offset).ok()?.to_timestamp(clock).ok()
    }

    /// The zone where it is or was used.
    pub fn zone(self, zones: Zones) -> Option<Zone> {
        zones.named(self.place)
    }
}

impl fmt::Debug for Abbreviation {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.letters())
    }
}

impl fmt::Display for Abbreviation {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.letters())
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use jiff::tz::TimeZoneDatabase;

    use super::*;

    /// Offsets of an abbreviation, the seasons in which zones have them, and the years.
    type Uses = BTreeMap<String, BTreeMap<i32, (BTreeSet<bool>, BTreeSet<i16>)>>;

    fn used_since_1970() -> Uses {
        let database = TimeZoneDatabase::bundled();
        let mut uses = Uses::new();
        for name in database.available() {
            let zone = database.get(name.as_str()).unwrap();
            let mut at = Timestamp::UNIX_EPOCH;
            while at.as_second() < 2_145_916_800 {
                let next = zone.following(at).next().map_or(Timestamp::MAX, |t| t.timestamp());
                let info = zone.to_offset_info(at);
                let second = jiff::SignedDuration::from_secs(1);
                let year =
                    |moment: Timestamp| Offset::UTC.to_datetime(moment).year().clamp(1_970, 2_037);
                if info.abbreviation().bytes().all(|b| b.is_ascii_alphabetic()) {
                    let own = uses.entry(info.abbreviation().to_uppercase()).or_default();
                    let (seasons, years) = own.entry(info.offset().seconds()).or_default();
                    seasons.insert(info.dst().is_dst());
                    years.extend(year(at)..=year(next.saturating_sub(second).unwrap()));
                }
                at = next;
            }
        }
        uses
    }

    #[test]
    fn the_table_is_what_the_database_uses() {
        let uses = used_since_1970();
        let lines = include_str!("abbreviations.tsv").lines().filter(|line| !line.starts_with('#'));
        assert_eq!(
            lines.count(),
            MEANINGS.values().map(Vec::len).sum::<usize>(),
            "every line is read"
        );
        for (name, own) in &*MEANINGS {
            let used = &uses[*name];
            let listed: Vec<&Meaning> = own.iter().filter(|own| !own.only_written).collect();
            assert_eq!(listed.len(), used.len(), "{name}: {used:?}");
            for own in listed {
                let Some((seasons, years)) = used.get(&own.offset) else {
                    panic!("{name}: {used:?}")
                };
                assert!(seasons.contains(&own.is_summer), "{name}");
                let (first, last) = own.years;
                assert!(years.iter().all(|year| (first..=last).contains(year)), "{name} {years:?}");
                if (first, last) != (i16::MIN, i16::MAX) {
                    assert_eq!(
                        (years.first(), years.last()),
                        (Some(&first), Some(&last)),
                        "{name} {}",
                        own.offset
                    );
                }
            }
        }
        for name in uses.keys() {
            assert!(
                Abbreviation::new(name).is_some_and(Abbreviation::is_known),
                "{name} is missing"
            );
        }
    }

    #[test]
    fn places_use_their_abbreviation() {
        let zones = Zones::bundled();
        for (name, own) in &*MEANINGS {
            for meaning in own.iter().filter(|own| !own.only_written) {
                let zone = meaning.zone(zones).unwrap();
                let days = (0..25_000).map(|day| Timestamp::from_second(day * 86_400).unwrap());
                let uses = |at: &Timestamp| {
                    zone.is_called(name, *at) && zone.offset_at(*at).seconds() == meaning.offset
                };
                assert!(days.clone().any(|at| uses(&at)), "{name} in {zone:?}");
            }
        }
    }
}
