//! Abbreviations of zones: `CET` is one offset everywhere, `IST` is three.

use std::fmt;

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

const fn meaning(hours: i32, minutes: i32, is_summer: bool, place: &'static str) -> Meaning {
    let minutes = if hours < 0 { -minutes } else { minutes };
    let offset = (hours * 60 + minutes) * 60;
    Meaning { offset, is_summer, place, years: (i16::MIN, i16::MAX), only_written: false }
}

impl Meaning {
    const fn between(self, first: i16, last: i16) -> Meaning {
        Meaning { years: (first, last), ..self }
    }

    const fn only_written(self) -> Meaning {
        Meaning { only_written: true, ..self }
    }
}

/// What abbreviations stand for since 1970.
///
/// Source: the IANA Time Zone Database, every abbreviation in letters and every offset that it was
/// used with from 1970 on (a test goes through the built-in copy and finds the same). Where people write one for
/// other places too, for which the database has digits, these are listed as well and marked: an
/// abbreviation of several meanings is asked for and never guessed.
const MEANINGS: [(&str, &[Meaning]); 65] = [
    ("ACDT", &[meaning(10, 30, true, "Australia/Adelaide")]),
    ("ACST", &[meaning(9, 30, false, "Australia/Adelaide")]),
    ("ADDT", &[meaning(-2, 0, true, "America/Goose_Bay")]),
    ("ADT", &[meaning(-3, 0, true, "America/Halifax")]),
    ("AEDT", &[meaning(11, 0, true, "Australia/Sydney")]),
    ("AEST", &[meaning(10, 0, false, "Australia/Sydney")]),
    ("AHDT", &[meaning(-9, 0, true, "America/Anchorage")]),
    ("AHST", &[meaning(-10, 0, false, "America/Anchorage")]),
    ("AKDT", &[meaning(-8, 0, true, "America/Anchorage")]),
    ("AKST", &[meaning(-9, 0, false, "America/Anchorage")]),
    (
        "AST",
        &[
            meaning(-4, 0, false, "America/Halifax"),
            meaning(3, 0, false, "Asia/Riyadh").only_written(),
        ],
    ),
    ("AWDT", &[meaning(9, 0, true, "Australia/Perth")]),
    ("AWST", &[meaning(8, 0, false, "Australia/Perth")]),
    (
        "BDT",
        &[
            meaning(-10, 0, true, "America/Adak").between(1970, 1983),
            meaning(6, 0, false, "Asia/Dhaka").only_written(),
        ],
    ),
    (
        "BST",
        &[
            meaning(1, 0, true, "Europe/London"),
            meaning(-11, 0, false, "America/Adak").between(1970, 1983),
            meaning(6, 0, false, "Asia/Dhaka").only_written(),
        ],
    ),
    ("CAST", &[meaning(3, 0, true, "Africa/Khartoum")]),
    ("CAT", &[meaning(2, 0, false, "Africa/Maputo")]),
    (
        "CDT",
        &[
            meaning(-5, 0, true, "America/Chicago"),
            meaning(-4, 0, true, "America/Havana"),
            meaning(9, 0, true, "Asia/Shanghai").between(1970, 1991),
        ],
    ),
    ("CEST", &[meaning(2, 0, true, "Europe/Oslo")]),
    ("CET", &[meaning(1, 0, false, "Europe/Oslo")]),
    ("CHST", &[meaning(10, 0, false, "Pacific/Guam")]),
    (
        "CST",
        &[
            meaning(-6, 0, false, "America/Chicago"),
            meaning(-5, 0, false, "America/Havana"),
            meaning(8, 0, false, "Asia/Shanghai"),
        ],
    ),
    ("EAT", &[meaning(3, 0, false, "Africa/Nairobi")]),
    ("EDT", &[meaning(-4, 0, true, "America/New_York")]),
    ("EEST", &[meaning(3, 0, true, "Europe/Helsinki")]),
    ("EET", &[meaning(2, 0, false, "Europe/Helsinki")]),
    ("EST", &[meaning(-5, 0, false, "America/New_York")]),
    ("GDT", &[meaning(11, 0, true, "Pacific/Guam")]),
    ("GMT", &[meaning(0, 0, false, "Etc/GMT")]),
    (
        "GST",
        &[
            meaning(10, 0, false, "Pacific/Guam").between(1970, 2000),
            meaning(4, 0, false, "Asia/Dubai").only_written(),
        ],
    ),
    ("HDT", &[meaning(-9, 0, true, "America/Adak")]),
    ("HKST", &[meaning(9, 0, true, "Asia/Hong_Kong")]),
    ("HKT", &[meaning(8, 0, false, "Asia/Hong_Kong")]),
    ("HST", &[meaning(-10, 0, false, "Pacific/Honolulu")]),
    ("IDT", &[meaning(3, 0, true, "Asia/Jerusalem")]),
    (
        "IST",
        &[
            meaning(5, 30, false, "Asia/Kolkata"),
            meaning(2, 0, false, "Asia/Jerusalem"),
            meaning(1, 0, true, "Europe/Dublin"),
        ],
    ),
    ("JST", &[meaning(9, 0, false, "Asia/Tokyo")]),
    ("KDT", &[meaning(10, 0, true, "Asia/Seoul")]),
    (
        "KST",
        &[
            meaning(9, 0, false, "Asia/Seoul"),
            meaning(8, 30, false, "Asia/Pyongyang").between(2015, 2018),
        ],
    ),
    ("MDT", &[meaning(-6, 0, true, "America/Denver")]),
    (
        "MMT",
        &[
            Meaning { offset: -2_670, ..meaning(0, 0, false, "Africa/Monrovia") }
                .between(1970, 1972),
            meaning(6, 30, false, "Asia/Yangon").only_written(),
        ],
    ),
    ("MSD", &[meaning(4, 0, true, "Europe/Moscow")]),
    (
        "MSK",
        &[
            meaning(3, 0, false, "Europe/Moscow"),
            meaning(4, 0, false, "Europe/Moscow").between(2011, 2014),
        ],
    ),
    ("MST", &[meaning(-7, 0, false, "America/Denver")]),
    ("NDDT", &[meaning(-1, 30, true, "America/St_Johns")]),
    ("NDT", &[meaning(-2, 30, true, "America/St_Johns")]),
    ("NST", &[meaning(-3, 30, false, "America/St_Johns")]),
    ("NZDT", &[meaning(13, 0, true, "Pacific/Auckland")]),
    ("NZST", &[meaning(12, 0, false, "Pacific/Auckland")]),
    (
        "PDT",
        &[
            meaning(-7, 0, true, "America/Los_Angeles"),
            meaning(9, 0, true, "Asia/Manila").between(1977, 1990),
        ],
    ),
    ("PKST", &[meaning(6, 0, true, "Asia/Karachi")]),
    ("PKT", &[meaning(5, 0, false, "Asia/Karachi")]),
    ("PST", &[meaning(-8, 0, false, "America/Los_Angeles"), meaning(8, 0, false, "Asia/Manila")]),
    ("SAST", &[meaning(2, 0, false, "Africa/Johannesburg")]),
    (
        "SST",
        &[
            meaning(-11, 0, false, "Pacific/Pago_Pago"),
            meaning(8, 0, false, "Asia/Singapore").only_written(),
        ],
    ),
    ("UTC", &[meaning(0, 0, false, "Etc/UTC")]),
    ("WAST", &[meaning(2, 0, true, "Africa/Ndjamena")]),
    ("WAT", &[meaning(1, 0, false, "Africa/Lagos")]),
    ("WEST", &[meaning(1, 0, true, "Europe/Lisbon")]),
    ("WET", &[meaning(0, 0, false, "Europe/Lisbon")]),
    ("WIB", &[meaning(7, 0, false, "Asia/Jakarta")]),
    ("WIT", &[meaning(9, 0, false, "Asia/Jayapura")]),
    ("WITA", &[meaning(8, 0, false, "Asia/Makassar")]),
    ("YDT", &[meaning(-8, 0, true, "America/Yakutat")]),
    ("YST", &[meaning(-9, 0, false, "America/Anchorage")]),
];

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
        let found = MEANINGS.binary_search_by(|(name, _)| (*name).cmp(self.letters()));
        found.map_or(&[], |at| MEANINGS[at].1)
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
    use std::collections::{BTreeMap, BTreeSet};

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
        assert!(MEANINGS.windows(2).all(|pair| pair[0].0 < pair[1].0));
        for (name, own) in MEANINGS {
            let used = &uses[name];
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
        for (name, own) in MEANINGS {
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
