//! The words for units of time, from CLDR's patterns for durations.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

use metachron_core::text::{Accents, fold, normalise};
use serde_json::Value;

/// The units by their names in CLDR, each with its name in the table.
const UNITS: [(&str, &str); 10] = [
    ("year", "years"),
    ("month", "months"),
    ("week", "weeks"),
    ("day", "days"),
    ("hour", "hours"),
    ("minute", "minutes"),
    ("second", "seconds"),
    ("millisecond", "milliseconds"),
    ("microsecond", "microseconds"),
    ("nanosecond", "nanoseconds"),
];

/// Words in common use that CLDR's patterns lack: plurals of abbreviations, and short forms beside the
/// one that CLDR has chosen.
const VARIANTS: [(&str, &str, &str); 56] = [
    ("en", "hours", "hrs"),
    ("en", "minutes", "mins"),
    ("en", "seconds", "secs"),
    ("en", "days", "dys"),
    ("en", "weeks", "wks"),
    ("en", "weeks", "wk"),
    ("en", "months", "mo"),
    ("en", "months", "mos"),
    ("en", "months", "mths"),
    ("en", "years", "yr"),
    ("en", "years", "yrs"),
    ("en", "milliseconds", "msec"),
    ("en", "milliseconds", "msecs"),
    ("en", "milliseconds", "millis"),
    ("en", "microseconds", "us"),
    ("en", "microseconds", "usec"),
    ("en", "microseconds", "usecs"),
    ("en", "nanoseconds", "nsec"),
    ("de", "hours", "Stdn"),
    ("de", "hours", "Std"),
    ("de", "minutes", "Min"),
    ("de", "seconds", "Sek"),
    ("de", "days", "Tg"),
    ("de", "days", "Tagen"),
    ("de", "months", "Monaten"),
    ("de", "years", "Jahren"),
    ("de", "weeks", "Wo"),
    ("fr", "minutes", "mn"),
    ("fr", "hours", "hres"),
    ("fr", "days", "jr"),
    ("fr", "days", "jrs"),
    ("fr", "seconds", "sec"),
    ("es", "hours", "hs"),
    ("es", "hours", "hrs"),
    ("es", "seconds", "seg"),
    ("es", "seconds", "segs"),
    ("es", "minutes", "mins"),
    ("pt", "hours", "hs"),
    ("pt", "hours", "hrs"),
    ("pt", "seconds", "segs"),
    ("it", "days", "gg"),
    ("it", "seconds", "sec"),
    ("nl", "minutes", "minuut"),
    ("nl", "hours", "uren"),
    ("nl", "seconds", "sec"),
    ("sv", "hours", "tim"),
    ("sv", "seconds", "sek"),
    ("pl", "seconds", "sek"),
    ("pl", "hours", "godz"),
    ("da", "seconds", "sek"),
    ("nb", "seconds", "sek"),
    ("tr", "minutes", "dak"),
    ("tr", "hours", "sa"),
    ("bn", "hours", "ঘন্টা"),
    ("ru", "seconds", "сек"),
    ("ru", "hours", "час"),
];

/// The table: a line for each word and unit, with the languages that have it.
pub fn make(folder: &Path) -> Result<String, String> {
    let json = |path: &str| -> Result<Value, String> {
        let text = std::fs::read_to_string(folder.join(path))
            .map_err(|error| format!("{path}: {error}"))?;
        serde_json::from_str(&text).map_err(|error| format!("{path}: {error}"))
    };
    let levels = json("cldr-core/coverageLevels.json")?;
    let levels = levels["effectiveCoverageLevels"].as_object().cloned().unwrap_or_default();
    let mut words: BTreeMap<(String, usize), BTreeSet<String>> = BTreeMap::new();
    // Locales below that level have the symbols of the root for most units.
    let covered = |level: &Value| matches!(level.as_str(), Some("modern" | "moderate"));
    for (tag, _) in levels.iter().filter(|(_, level)| covered(level)) {
        let Ok(units) = json(&format!("cldr-units-full/main/{tag}/units.json")) else { continue };
        let language = tag.split('-').next().unwrap_or(tag);
        for width in ["long", "short", "narrow"] {
            for (place, (unit, _)) in UNITS.iter().enumerate() {
                let patterns = &units["main"][tag]["units"][width][format!("duration-{unit}")];
                if let Some(name) = patterns["displayName"].as_str() {
                    add(&mut words, name.trim(), place, language);
                }
                let patterns = patterns.as_object().into_iter().flatten();
                let counted = patterns.filter(|(key, _)| key.starts_with("unitPattern"));
                // Words before their number, and those that say the number themselves, are left out.
                for word in
                    counted.filter_map(|(_, pattern)| pattern.as_str()?.trim().strip_prefix("{0}"))
                {
                    add(&mut words, word, place, language);
                }
            }
        }
    }
    for (language, unit, word) in VARIANTS {
        let place = UNITS.iter().position(|(_, name)| *name == unit);
        let place = place.ok_or_else(|| format!("{unit} is no unit"))?;
        add(&mut words, word, place, language);
    }
    let mut table = String::new();
    for ((word, place), languages) in words {
        let languages: Vec<String> = languages.into_iter().collect();
        table.push_str(&format!("{word}\t{}\t{}\n", UNITS[place].1, languages.join(" ")));
    }
    Ok(table)
}

fn add(
    words: &mut BTreeMap<(String, usize), BTreeSet<String>>,
    word: &str,
    place: usize,
    language: &str,
) {
    let mut buffer = String::new();
    let word = normalise(word, &mut buffer).trim_end_matches('.');
    // Some patterns join number and word by a mark: those words are none that people write.
    let begins = word.starts_with(char::is_alphabetic);
    if !begins || word.contains(|c: char| c.is_whitespace() || c.is_numeric()) {
        return;
    }
    for accents in [Accents::Kept, Accents::Dropped] {
        let key = (fold(word, accents), place);
        words.entry(key).or_default().insert(language.to_owned());
    }
}
