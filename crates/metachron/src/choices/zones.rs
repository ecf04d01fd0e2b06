//! Where the clocks of a column stood, as it is said; and which copy of the zone database counts.

use std::path::{Path, PathBuf};

use jiff::tz::TimeZoneDatabase;
use metachron_core::error::nearest;
use metachron_core::named::Named;
use metachron_core::reading::{Changes, RepeatedClock, RowParts, SkippedClock, Split, Zoning};
use metachron_core::zone::{Abbreviation, Clock, Zone, Zones};
use toml_edit::{InlineTable, Value};

use super::keys::{choice, text, truth, unknown_key, wrong};
use super::options::COLUMN_KEYS;
use super::wrong::Wrong;
use crate::message::{Failure, did_you_mean, quoted, shown};

/// What is said of where clocks stood. Zones are names here; which of them there are, their database
/// says.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct ZoneChoices {
    /// The zone of all rows, or of those of which nothing else is said.
    pub zone: Option<String>,
    /// The column that names the zone of each row.
    pub zone_from: Option<String>,
    /// What its values mean that are no zones.
    pub zones: Option<Vec<(String, String)>>,
    /// The zones of some rows.
    pub of_rows: Option<RowParts<String>>,
    /// What becomes of clock times that never were.
    pub skipped: Option<SkippedClock>,
    /// What becomes of clock times that came twice.
    pub repeated: Option<RepeatedClock>,
    /// Whether an offset is right that its zone never had.
    pub offset_wins: Option<bool>,
    /// What abbreviations mean.
    pub abbreviations: Option<Vec<(String, String)>>,
    /// The column that names the clock of each row, where repeated hours are told by sequence.
    pub sequence_by: Option<String>,
}

impl ZoneChoices {
    /// What is said here, and where nothing is, what a weaker voice says.
    pub fn over(self, weaker: ZoneChoices) -> ZoneChoices {
        // These three are one decision: whoever says one of them leaves nothing of what a weaker voice says.
        let places = match (&self.zone, &self.zone_from, &self.of_rows) {
            (None, None, None) => (weaker.zone, weaker.zone_from, weaker.of_rows),
            _ => (self.zone, self.zone_from, self.of_rows),
        };
        ZoneChoices {
            zone: places.0,
            zone_from: places.1,
            of_rows: places.2,
            zones: meanings_of_both(self.zones, weaker.zones),
            skipped: self.skipped.or(weaker.skipped),
            repeated: self.repeated.or(weaker.repeated),
            offset_wins: self.offset_wins.or(weaker.offset_wins),
            abbreviations: meanings_of_both(self.abbreviations, weaker.abbreviations),
            sequence_by: self.sequence_by.or(weaker.sequence_by),
        }
    }

    /// What one voice says in two places, the later one here: the zones of some rows, and that of the
    /// others.
    pub fn beside(self, earlier: ZoneChoices) -> ZoneChoices {
        let of_rows = self.of_rows.clone().or_else(|| earlier.of_rows.clone());
        let zone = self.zone.clone().or_else(|| earlier.zone.clone());
        let both = self.over(earlier);
        match of_rows {
            Some(_) => ZoneChoices { of_rows, zone, ..both },
            None => both,
        }
    }

    /// What holds for the whole file when no column is named.
    pub fn of_file(self) -> ZoneChoices {
        let ZoneChoices { skipped, repeated, offset_wins, abbreviations, sequence_by, .. } = self;
        let none = ZoneChoices::default();
        ZoneChoices { skipped, repeated, offset_wins, abbreviations, sequence_by, ..none }
    }

    /// Whether it is said where clocks stood.
    pub fn says_where(&self) -> bool {
        self.zone.is_some() || self.zone_from.is_some() || self.of_rows.is_some()
    }

    /// What a key says of all rows.
    pub fn get(&self, key: &str) -> Option<Value> {
        let text = |text: &String| Value::from(text);
        let table = |pairs: &Vec<(String, String)>| {
            Value::from(pairs.iter().map(|(k, v)| (k, v)).collect::<InlineTable>())
        };
        match key {
            "zone" => self.zone.as_ref().map(text),
            "zone_from" => self.zone_from.as_ref().map(text),
            "zones" => self.zones.as_ref().map(table),
            "skipped_clock" => self.skipped.map(|own| own.name().into()),
            "repeated_clock" => self.repeated.map(|own| own.name().into()),
            "offset_wins" => self.offset_wins.map(Into::into),
            "abbreviations" => self.abbreviations.as_ref().map(table),
            "sequence_by" => self.sequence_by.as_ref().map(text),
            _ => None,
        }
    }

    /// Takes a key, if it is one of these.
    ///
    /// # Errors
    /// What is wrong with its value.
    pub fn set(&mut self, key: &str, value: &Value) -> Result<(), Wrong> {
        match key {
            "zone" => self.zone = Some(text(key, value)?),
            "zone_from" => self.zone_from = Some(text(key, value)?),
            "zones" => self.zones = Some(pairs(key, value)?),
            "skipped_clock" => self.skipped = Some(choice(key, value)?),
            "repeated_clock" => self.repeated = Some(choice(key, value)?),
            "offset_wins" => self.offset_wins = Some(truth(key, value)?),
            "abbreviations" => self.abbreviations = Some(pairs(key, value)?),
            "sequence_by" => self.sequence_by = Some(text(key, value)?),
            _ => return Err(unknown_key(key, COLUMN_KEYS.iter().map(|(key, _)| *key))),
        }
        Ok(())
    }

    /// How clock times are read where the clocks were changed.
    pub fn changes(&self) -> Changes {
        Changes {
            skipped: self.skipped.unwrap_or_default(),
            repeated: self.repeated.unwrap_or_default(),
            offset_wins: self.offset_wins.unwrap_or(false),
        }
    }

    /// The zones with what is said of abbreviations.
    ///
    /// # Errors
    /// If one is none, or means no zone.
    pub fn known_to(&self, zones: Zones) -> Result<Zones, Wrong> {
        let meaning = |(name, place): &(String, String)| {
            let no_name = || {
                let why = format!("{} is not three to six letters, such as IST", quoted(name));
                Wrong::new("abbreviation", why)
            };
            let own = Abbreviation::new(name).ok_or_else(no_name)?;
            Ok::<_, Wrong>((own, clock(&format!("abbreviation {name}:"), place, zones)?))
        };
        let said = self.abbreviations.iter().flatten().map(meaning);
        Ok(zones.saying(said.collect::<Result<_, _>>()?))
    }

    /// Where the clocks stood; none if nothing is said.
    ///
    /// # Errors
    /// If a zone is none, or two things are said of the same rows.
    pub fn zoning(&self, zones: Zones) -> Result<Option<Zoning>, Wrong> {
        let clock = |name: &String| clock("zone", name, zones);
        let all = self.zone.as_ref().map(clock).transpose()?;
        if let Some(parts) = &self.of_rows {
            let mut wrong = None;
            let parts = parts.filter_map(|name| clock(name).map_err(|own| wrong = Some(own)).ok());
            let split = Zoning::Parts(Split { parts, otherwise: all });
            return wrong.map_or(Ok(Some(split)), Err);
        }
        let Some(name) = self.zone_from.clone() else {
            return match self.zones {
                Some(_) => Err(Wrong::new(
                    "zones",
                    "says what the values of zone_from mean; say zone_from",
                )),
                None => Ok(all.map(Zoning::All)),
            };
        };
        if all.is_some() {
            return Err(Wrong::general("zone and zone_from exclude each other"));
        }
        let mapped = self.zones.iter().flatten();
        let mapped = mapped.map(|(text, place)| Ok((text.clone(), clock(place)?)));
        Ok(Some(Zoning::Column { name, mapped: mapped.collect::<Result<_, Wrong>>()? }))
    }
}

/// What names mean by both voices; of a name that both give a meaning, the stronger one's.
fn meanings_of_both(
    own: Option<Vec<(String, String)>>,
    weaker: Option<Vec<(String, String)>>,
) -> Option<Vec<(String, String)>> {
    let (Some(own), Some(weaker)) = (&own, &weaker) else { return own.or(weaker) };
    let is_left = |name: &String| !own.iter().any(|(other, _)| other == name);
    let left = weaker.iter().filter(|(name, _)| is_left(name));
    Some(left.chain(own).cloned().collect())
}

/// The texts of a TOML table.
fn pairs(key: &str, value: &Value) -> Result<Vec<(String, String)>, Wrong> {
    let table = value.as_inline_table().ok_or_else(|| wrong(key, value))?;
    table.iter().map(|(name, own)| Ok((name.to_owned(), text(key, own)?))).collect()
}

/// The zone that a key names, or the offset.
///
/// # Errors
/// If there is none, with the names that come near.
pub fn clock(key: &str, name: &str, zones: Zones) -> Result<Clock, Wrong> {
    Clock::named(name, zones).ok_or_else(|| {
        let why = match Abbreviation::new(name.trim()).filter(|name| name.is_known()) {
            Some(own) => {
                let places = own.places().join(" or ");
                format!("is an abbreviation; the zone is a place, such as {places}")
            }
            None => {
                let near = did_you_mean(near_zones(name, zones));
                format!("is no zone of the IANA database{}", near.trim_end_matches('?'))
            }
        };
        let like = "metachron list zones --like TEXT finds them";
        Wrong::new(key, format!("{} {why} ({like})", quoted(name)))
    })
}

/// The zone that is named after this city.
pub fn zone_of_city(city: &str, zones: Zones) -> Option<&'static str> {
    let plain = city.trim().replace(' ', "_").to_lowercase();
    let city = plain.rsplit('/').next().unwrap_or(&plain);
    let last = |zone: &Zone| zone.name().rsplit('/').next().map(str::to_lowercase);
    zones.all().find(|zone| last(zone).as_deref() == Some(city)).map(|zone| zone.current_name())
}

/// The zone whose name, or whose last part, comes near.
fn near_zones(name: &str, zones: Zones) -> Option<&'static str> {
    let plain = name.trim().replace(' ', "_").to_lowercase();
    let last = |zone: &Zone| zone.name().rsplit('/').next().map(str::to_lowercase);
    let city = plain.rsplit('/').next().unwrap_or(&plain).to_owned();
    if let Some(zone) = zone_of_city(name, zones) {
        return Some(zone);
    }
    let near = nearest(name, zones.all().map(Zone::name));
    near.or_else(|| {
        let cities: Vec<(String, Zone)> =
            zones.all().filter_map(|z| Some((last(&z)?, z))).collect();
        let found = nearest(&city, cities.iter().map(|(city, _)| city.as_str()))?;
        cities.iter().find(|(city, _)| city == found).map(|(_, zone)| zone.current_name())
    })
}

/// The copy of the zone database that `--zone-data` names.
///
/// # Errors
/// If it cannot be found.
pub fn zone_data(copy: Option<&str>) -> Result<Zones, Failure> {
    const USUAL: [&str; 4] =
        ["/usr/share/zoneinfo", "/usr/lib/zoneinfo", "/usr/share/lib/zoneinfo", "/etc/zoneinfo"];
    let dir = match copy {
        None | Some("bundled") => return Ok(Zones::bundled()),
        Some("system") => {
            USUAL.iter().map(PathBuf::from).find(|dir| dir.is_dir()).ok_or_else(|| {
                Failure::could_not(format!(
                    "this system has no zone database in {}; --zone-data DIR names another place, \
                 --zone-data bundled is the built-in copy",
                    USUAL.join(", ")
                ))
            })?
        }
        Some(dir) => PathBuf::from(dir),
    };
    let could_not = |why: String| Failure::could_not(format!("--zone-data {}: {why}", shown(&dir)));
    let database =
        TimeZoneDatabase::from_dir(&dir).map_err(|error| could_not(error.to_string()))?;
    let zones = Zones::load(database, release(&dir));
    match zones.all().next() {
        Some(_) => Ok(zones),
        None => Err(could_not("there is no compiled zone data (RFC 9636) in it".to_owned())),
    }
}

/// The release that a folder of zone data says it is of.
fn release(dir: &Path) -> Option<String> {
    let read = |name: &str| std::fs::read_to_string(dir.join(name)).ok();
    let first = |text: String| text.lines().next().map(str::to_owned);
    if let Some(line) = read("tzdata.zi").and_then(first) {
        return line.strip_prefix("# version ").map(|version| version.trim().to_owned());
    }
    read("+VERSION").or_else(|| read("VERSION")).and_then(first)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn zones_that_are_none_have_a_nearest_match() {
        for (name, expected) in [
            ("Europe/Olso", "did you mean Europe/Oslo"),
            ("oslo", "did you mean Europe/Oslo"),
            ("Port Moresby", "did you mean Pacific/Port_Moresby"),
            ("Calcutta", "did you mean Asia/Kolkata"),
            ("IST", "such as Asia/Kolkata or Asia/Jerusalem or Europe/Dublin"),
            ("Skarholm Station", "no zone of the IANA database (metachron"),
        ] {
            let error = clock("zone", name, Zones::bundled()).unwrap_err().to_string();
            assert!(error.contains(expected), "{name}: {error}");
        }
        assert!(clock("zone", "EST", Zones::bundled()).is_ok(), "a zone of that name exists");
    }

    #[test]
    fn a_stronger_voice_says_where_all_clocks_stood() {
        let said = |key: &str, value: &str| {
            let mut said = ZoneChoices::default();
            said.set(key, &value.parse().unwrap()).unwrap();
            said
        };
        let both = said("zone", "\"Europe/Oslo\"").over(said("zone_from", "\"station\""));
        assert_eq!(both.zone_from, None);
        let kept = said("skipped_clock", "\"before\"").over(said("zone", "\"Asia/Tokyo\""));
        assert_eq!(kept.zone.as_deref(), Some("Asia/Tokyo"));
        let mapped = said("zones", "{ Skarholm = \"Europe/Oslo\" }");
        assert!(mapped.zoning(Zones::bundled()).unwrap_err().to_string().contains("zone_from"));
    }
}
