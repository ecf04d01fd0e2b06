//! What the JSON packages say, as far as it is needed.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use serde_json::Value;

/// One locale.
pub struct Locale {
    pub tag: String,
    /// The tag with its likely script and region: `pt-Latn-BR` for `pt`.
    pub maximized: String,
    /// What it is called in English.
    pub name: String,
    pub calendar: String,
    /// The digits that its numbers are written with, in one text.
    pub digits: String,
    /// `ca-gregorian.json`, from `calendars.gregorian` on.
    pub gregorian: Value,
    /// The months of other calendars with names of their own, in the order of [`CALENDARS`]: their
    /// full and short names, and what each stands for; the packages do not have every locale.
    pub months: [Vec<(String, u8)>; CALENDARS.len()],
    /// Their eras.
    pub eras: [Vec<String>; CALENDARS.len()],
    /// Parts of the day by their names in CLDR, each with its first hour and the one behind it.
    pub periods: Vec<(String, u8, u8)>,
}

/// The calendars that have names of their own for months, by their names in CLDR.
pub const CALENDARS: [&str; 6] = ["persian", "islamic", "hebrew", "indian", "coptic", "ethiopic"];

/// What the years of other calendars are called in English, where the packages are older than the
/// names (CLDR 48).
const ENGLISH_ERAS: [&[&str]; CALENDARS.len()] =
    [&["AP"], &["AH"], &["AM"], &["Saka", "Śaka"], &["AM"], &["AM", "AA"]];

/// Everything.
pub struct Data {
    pub locales: Vec<Locale>,
    /// Other names of languages and locales.
    pub aliases: BTreeMap<String, String>,
    /// Likely subtags of the languages that have data.
    pub likely: BTreeMap<String, String>,
}

impl Data {
    pub fn read(folder: &Path) -> Result<Data, String> {
        let json = |path: PathBuf| -> Result<Value, String> {
            let text = std::fs::read_to_string(&path)
                .map_err(|error| format!("{}: {error}", path.display()))?;
            serde_json::from_str(&text).map_err(|error| format!("{}: {error}", path.display()))
        };
        let core = folder.join("cldr-core");
        let supplemental = |name: &str| json(core.join(format!("supplemental/{name}.json")));
        let english = |name: &str| -> Result<BTreeMap<String, String>, String> {
            let path = format!("cldr-localenames-full/main/en/{name}.json");
            let all = json(folder.join(path))?;
            Ok(texts(&all["main"]["en"]["localeDisplayNames"][name]))
        };
        let names = Names {
            languages: english("languages")?,
            scripts: english("scripts")?,
            territories: english("territories")?,
        };
        let likely_all = texts(&supplemental("likelySubtags")?["supplemental"]["likelySubtags"]);
        let calendars = supplemental("calendarPreferenceData")?;
        let calendars = &calendars["supplemental"]["calendarPreferenceData"];
        let systems = supplemental("numberingSystems")?;
        let periods = supplemental("dayPeriods")?;
        let periods = &periods["supplemental"]["dayPeriodRuleSet"];
        let available = json(core.join("availableLocales.json"))?;
        let tags = available["availableLocales"]["full"].as_array().cloned().unwrap_or_default();
        let mut locales = Vec::new();
        for tag in tags.iter().filter_map(Value::as_str) {
            let file = |package: &str, name: &str| {
                json(folder.join(package).join("main").join(tag).join(name))
            };
            let dates = file("cldr-dates-full", "ca-gregorian.json")?;
            let numbers = file("cldr-numbers-full", "numbers.json")?;
            let system = numbers["main"][tag]["numbers"]["defaultNumberingSystem"].as_str();
            let system = &systems["supplemental"]["numberingSystems"][system.unwrap_or("latn")];
            let other = |calendar: &str, what: &str| {
                let path = format!("cldr-cal-{calendar}-full/main/{tag}/ca-{calendar}.json");
                let all = json(folder.join(path)).unwrap_or_default();
                all["main"][tag]["dates"]["calendars"][calendar][what].clone()
            };
            let months = CALENDARS.map(|calendar| month_names(&other(calendar, "months")));
            let mut eras = CALENDARS.map(|calendar| era_names(&other(calendar, "eras")));
            for (own, english) in eras.iter_mut().zip(ENGLISH_ERAS).filter(|_| tag == "en") {
                own.extend(english.iter().map(|name| (*name).to_owned()));
            }
            let language = tag.split('-').next().unwrap_or(tag);
            let rules = periods.get(tag).or_else(|| periods.get(language));
            let maximized = maximize(tag, &likely_all);
            let region = maximized.rsplit('-').next().unwrap_or("001");
            let preferred = calendars.get(region).unwrap_or(&calendars["001"]);
            locales.push(Locale {
                tag: tag.to_owned(),
                name: names.of(tag, &maximized),
                calendar: preferred[0].as_str().unwrap_or("gregorian").to_owned(),
                digits: system["_digits"].as_str().unwrap_or("0123456789").to_owned(),
                gregorian: dates["main"][tag]["dates"]["calendars"]["gregorian"].clone(),
                months,
                eras,
                periods: rules.map(day_periods).unwrap_or_default(),
                maximized,
            });
        }
        locales.sort_by(|a, b| a.tag.cmp(&b.tag));
        let language = |tag: &str| tag.split('-').next().unwrap_or(tag).to_owned();
        let with_data: std::collections::BTreeSet<String> =
            locales.iter().map(|locale| language(&locale.tag)).collect();
        let likely = likely_all
            .into_iter()
            .filter(|(from, _)| with_data.contains(&language(from)))
            .collect();
        let metadata = supplemental("aliases")?;
        let aliases = &metadata["supplemental"]["metadata"]["alias"]["languageAlias"];
        let aliases = aliases
            .as_object()
            .into_iter()
            .flatten()
            .filter_map(|(from, to)| Some((from.clone(), to["_replacement"].as_str()?.to_owned())))
            .filter(|(_, to)| with_data.contains(&language(to)))
            .collect();
        Ok(Data { locales, aliases, likely })
    }
}

/// The names of the months of a calendar; `7-yeartype-leap`, Adar II, is 14.
fn month_names(months: &Value) -> Vec<(String, u8)> {
    let mut names = Vec::new();
    for context in ["format", "stand-alone"] {
        for width in ["wide", "abbreviated"] {
            for (key, name) in texts(&months[context][width]) {
                let number = match key.as_str() {
                    "7-yeartype-leap" => Some(14),
                    number => number.parse().ok(),
                };
                names.extend(number.map(|number| (name, number)));
            }
        }
    }
    names
}

/// What the years of a calendar are called; `ERA0` is what CLDR has where it has no name.
fn era_names(eras: &Value) -> Vec<String> {
    let all = ["eraNames", "eraAbbr"].into_iter().flat_map(|width| texts(&eras[width]));
    let named = all.map(|(_, name)| name).filter(|name| !name.starts_with("ERA"));
    named.collect()
}

/// The parts of the day that a rule set gives hours to; noon and midnight are a moment each.
fn day_periods(rules: &Value) -> Vec<(String, u8, u8)> {
    let hour = |rule: &Value, key: &str| rule[key].as_str()?.split(':').next()?.parse::<u8>().ok();
    let entries = rules.as_object().into_iter().flatten();
    entries
        .filter_map(|(name, rule)| {
            Some((name.clone(), hour(rule, "_from")?, hour(rule, "_before")?))
        })
        .collect()
}

fn texts(object: &Value) -> BTreeMap<String, String> {
    let entries = object.as_object().into_iter().flatten();
    entries.filter_map(|(key, text)| Some((key.clone(), text.as_str()?.to_owned()))).collect()
}

/// Language, script and region; script and region may be missing.
fn subtags(tag: &str) -> (String, Option<String>, Option<String>) {
    let mut parts = tag.split('-');
    let language = parts.next().unwrap_or("und").to_owned();
    let (mut script, mut region) = (None, None);
    for part in parts {
        match part.len() {
            4 if script.is_none() && part.chars().all(char::is_alphabetic) => {
                script = Some(part.to_owned());
            }
            2 | 3 if region.is_none() => region = Some(part.to_owned()),
            _ => {}
        }
    }
    (language, script, region)
}

/// Unicode Technical Standard 35, Part 1, 4.3 Likely Subtags.
fn maximize(tag: &str, likely: &BTreeMap<String, String>) -> String {
    let (language, script, region) = subtags(tag);
    let mut keys = Vec::new();
    if let (Some(script), Some(region)) = (&script, &region) {
        keys.push(format!("{language}-{script}-{region}"));
    }
    if let Some(region) = &region {
        keys.push(format!("{language}-{region}"));
    }
    if let Some(script) = &script {
        keys.push(format!("{language}-{script}"));
    }
    keys.push(language.clone());
    let found = keys.iter().find_map(|key| likely.get(key));
    let (_, likely_script, likely_region) =
        found.map_or((String::new(), None, None), |found| subtags(found));
    let script = script.or(likely_script).unwrap_or_else(|| "Zzzz".to_owned());
    let region = region.or(likely_region).unwrap_or_else(|| "ZZ".to_owned());
    format!("{language}-{script}-{region}")
}

struct Names {
    languages: BTreeMap<String, String>,
    scripts: BTreeMap<String, String>,
    territories: BTreeMap<String, String>,
}

impl Names {
    /// The language, its script where the tag says it, and the region that is meant.
    fn of(&self, tag: &str, maximized: &str) -> String {
        let (language, script, _) = subtags(tag);
        let (_, _, region) = subtags(maximized);
        let name = |names: &BTreeMap<String, String>, key: &str| {
            names.get(key).cloned().unwrap_or_else(|| key.to_owned())
        };
        let mut text = name(&self.languages, &language);
        let script = script.map(|script| name(&self.scripts, &script));
        let region = region.map(|region| name(&self.territories, &region));
        let beside: Vec<String> = [script, region].into_iter().flatten().collect();
        if !beside.is_empty() {
            text = format!("{text} ({})", beside.join(", "));
        }
        text
    }
}
