//! Where the clocks stood, in sentences.

use std::fmt;

use jiff::tz::Offset;
use metachron_core::reading::Zoning;
use metachron_core::text::{counted, grouped};
use metachron_core::verdict::ZoneFinding;
use metachron_core::zone::{Zone, offset_text};

use super::Words;

impl fmt::Display for Words<'_, ZoneFinding> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            ZoneFinding::UnclearAbbreviation { name, rows } => {
                let values = counted(*rows, "value");
                match &name.places()[..] {
                    [place] => write!(
                        f,
                        "{name} stands in {values}; its offset in {place} was not always the same."
                    ),
                    places => write!(
                        f,
                        "{name} stands in {values}; it means one thing in {}.",
                        places.join(", another in ")
                    ),
                }
            }
            ZoneFinding::OutOfSeason { name, place, rows, of } => write!(
                f,
                "{name} stands in {}; for {} of them it was the other season, when the clocks of {place} \
                 are called something else. It is read as the offset that it means.",
                counted(*of, "value"),
                grouped(*rows)
            ),
            ZoneFinding::SeasonalOffsets { offsets, zones } => {
                let offsets = offsets.iter().filter_map(|o| Offset::from_seconds(*o).ok());
                let offsets: Vec<String> = offsets.map(offset_text).collect();
                write!(
                    f,
                    "The offsets {} change with the season as the clocks of {} do.",
                    offsets.join(" and "),
                    names_of_zones(zones)
                )
            }
            ZoneFinding::PutBack { back, rows, zones } => {
                let more = match rows {
                    1 => String::new(),
                    rows => format!(", and {} more times", grouped(rows - 1)),
                };
                write!(
                    f,
                    "The clock goes forward but for row {}, from {} back to {}{more}: there the clocks of \
                     {} were put back. --zone reads such a column as moments.",
                    grouped(back.row.row),
                    back.from,
                    back.to.time(),
                    names_of_zones(zones)
                )
            }
            ZoneFinding::PlacedBy(zoning) => match zoning {
                Zoning::All(clock) => write!(f, "You said that the clocks stood in {clock}."),
                Zoning::Column { name, .. } => {
                    write!(f, "You said that {name:?} names the zone of each row.")
                }
                Zoning::Parts(_) => {
                    write!(f, "You said in which zone the clocks of some rows stood.")
                }
            },
        }
    }
}

/// The first zones of a list.
pub fn names_of_zones(zones: &[Zone]) -> String {
    const SHOWN: usize = 2;
    let names: Vec<&str> = zones.iter().take(SHOWN).map(|zone| zone.name()).collect();
    let others = "others with the same rules";
    match zones.len() > SHOWN {
        true => format!("{} and others", names.join(", ")),
        false => format!("{} and {others}", names.join(", ")),
    }
}
