//! The lexicon's bytes. `metachron_core::lexicon` describes them and reads them.

use std::collections::{BTreeMap, BTreeSet};

use metachron_core::text::{Accents, fold, normalise};
use serde_json::Value;

use crate::cldr::Data;
use crate::code::Code;
use crate::patterns::layout;
use crate::variants::{CONNECTORS, VARIANTS};

/// Texts, each with the number under which it is called.
#[derive(Default)]
struct Texts {
    numbers: BTreeMap<String, u16>,
    list: Vec<String>,
}

impl Texts {
    fn number(&mut self, text: &str) -> Result<u16, String> {
        if let Some(number) = self.numbers.get(text) {
            return Ok(*number);
        }
        let number = u16::try_from(self.list.len()).map_err(|_| "too many texts".to_owned())?;
        self.numbers.insert(text.to_owned(), number);
        self.list.push(text.to_owned());
        Ok(number)
    }
}

/// Rows of numbers, each kept once.
#[derive(Default)]
struct Rows {
    numbers: BTreeMap<Vec<u16>, u16>,
    list: Vec<Vec<u16>>,
}

impl Rows {
    fn number(&mut self, row: Vec<u16>) -> (u16, bool) {
        match self.numbers.get(&row) {
            Some(number) => (*number, false),
            None => {
                let number = self.list.len() as u16;
                self.numbers.insert(row.clone(), number);
                self.list.push(row);
                (number, true)
            }
        }
    }
}

pub fn make(data: &Data) -> Result<Vec<u8>, String> {
    let mut texts = Texts::default();
    texts.number("")?;
    let (mut names, mut patterns) = (Rows::default(), Rows::default());
    let mut locales: Vec<u16> = Vec::new();
    let mut index: BTreeMap<String, BTreeSet<(u16, u8)>> = BTreeMap::new();
    // The hours of parts of the day, each pair once.
    let mut hours: Vec<(u8, u8)> = Vec::new();
    // Sets of names of the months of other calendars.
    let mut other_names: BTreeMap<OtherNames<'_>, u16> = BTreeMap::new();
    let mut others: Vec<u16> = Vec::new();
    let mut connectors: BTreeSet<String> =
        CONNECTORS.iter().map(|word| fold(word, Accents::Kept)).collect();
    for locale in &data.locales {
        let suffix = month_suffix(&locale.gregorian);
        let layouts: Vec<String> = formats(&locale.gregorian)
            .into_iter()
            .map(|(pattern, is_joiner)| match is_joiner {
                true => joiner(&pattern),
                false => layout(&pattern, suffix.as_deref()).unwrap_or_default(),
            })
            .collect();
        let [full, short] = ["{month:name}", "{month:short}"].map(|field| {
            layouts.iter().find_map(|layout| Affixes::around(field, layout)).unwrap_or_default()
        });
        // Letters that a pattern fastens to a month's name belong to the name.
        let mut words = words(&locale.gregorian);
        let unfastened: Vec<(String, Code)> =
            words[..24].iter().filter_map(|(text, code)| Some((text.clone(), (*code)?))).collect();
        words[..12].iter_mut().for_each(|(text, _)| full.fasten(text));
        words[12..24].iter_mut().for_each(|(text, _)| short.fasten(text));
        let row: Vec<u16> = words
            .iter()
            .map(|(text, _)| texts.number(text))
            .collect::<Result<Vec<u16>, String>>()?;
        // Variants belong to a language, so a set of names does too.
        let language = locale.tag.split('-').next().unwrap_or("").to_owned();
        let own: Vec<(String, Code)> = VARIANTS
            .iter()
            .filter(|(of, ..)| *of == language)
            .map(|(_, code, text)| ((*text).to_owned(), *code))
            .collect();
        let parts = parts_of_day(locale, &mut hours)?;
        let mut key = row.clone();
        key.push(texts.number(if own.is_empty() { "" } else { &language })?);
        // So do the hours of the parts of its day.
        let mut said = String::new();
        for (name, code) in &parts {
            said.push_str(&format!("{name}={};", code.byte()));
        }
        key.push(texts.number(&said)?);
        let (set, is_new) = names.number(key);
        if is_new {
            let known = words.into_iter().filter_map(|(text, code)| Some((text, code?)));
            add_words(known.chain(unfastened).chain(own).chain(parts), set, &mut index);
        }
        for (calendar, (months, eras)) in locale.months.iter().zip(&locale.eras).enumerate() {
            let number = FIRST_OTHER + other_names.len() as u16;
            let known = other_names.entry((calendar, months, eras));
            let is_new = matches!(known, std::collections::btree_map::Entry::Vacant(_));
            let number = *known.or_insert(number);
            others.push(number);
            if is_new {
                let words = months.iter().map(|(name, n)| (plain(name), Code::OtherMonth(*n)));
                let words = words.chain(eras.iter().map(|name| (plain(name), Code::OtherEra)));
                add_words(words, number, &mut index);
            }
        }
        let row: Vec<u16> = layouts
            .iter()
            .map(|text| {
                let text = short.loosen("{month:short}", &full.loosen("{month:name}", text));
                connectors.extend(words_of(&text));
                texts.number(&text)
            })
            .collect::<Result<Vec<u16>, String>>()?;
        let (formats, _) = patterns.number(row);
        let digits = if locale.digits == "0123456789" { "" } else { &locale.digits };
        locales.extend([
            texts.number(&locale.tag)?,
            texts.number(&locale.maximized)?,
            texts.number(&locale.name)?,
            texts.number(&locale.calendar)?,
            texts.number(digits)?,
            set,
            formats,
        ]);
    }
    let mut pairs = |map: &BTreeMap<String, String>| -> Result<Vec<u16>, String> {
        let mut list = Vec::new();
        for (from, to) in map {
            list.extend([texts.number(from)?, texts.number(to)?]);
        }
        Ok(list)
    };
    let (aliases, likely) = (pairs(&data.aliases)?, pairs(&data.likely)?);
    let connectors: Vec<u16> =
        connectors.iter().map(|word| texts.number(word)).collect::<Result<_, String>>()?;

    let mut keys: Vec<u32> = Vec::new();
    let mut key_bytes = Vec::new();
    let mut postings = Vec::new();
    for (key, found) in &index {
        keys.extend([key_bytes.len() as u32, (postings.len() / 3) as u32]);
        key_bytes.extend(key.as_bytes());
        for (set, code) in found {
            postings.extend(set.to_le_bytes());
            postings.push(*code);
        }
    }
    keys.extend([key_bytes.len() as u32, (postings.len() / 3) as u32]);

    let mut text_offsets: Vec<u32> = Vec::new();
    let mut text_bytes = Vec::new();
    for text in &texts.list {
        text_offsets.push(text_bytes.len() as u32);
        text_bytes.extend(text.as_bytes());
    }
    text_offsets.push(text_bytes.len() as u32);

    let longs = |list: &[u32]| list.iter().flat_map(|n| n.to_le_bytes()).collect::<Vec<u8>>();
    let shorts = |list: &[u16]| list.iter().flat_map(|n| n.to_le_bytes()).collect::<Vec<u8>>();
    let sections = [
        longs(&text_offsets),
        text_bytes,
        shorts(&locales),
        shorts(&names.list.concat()),
        shorts(&patterns.list.concat()),
        shorts(&aliases),
        shorts(&likely),
        shorts(&connectors),
        longs(&keys),
        key_bytes,
        postings,
        hours.iter().flat_map(|(from, before)| [*from, *before]).collect(),
        shorts(&others),
    ];
    let mut bytes = b"METACHRON CLDR 48.2\0".to_vec();
    let mut at = bytes.len() + 4 * (sections.len() + 1);
    for section in &sections {
        bytes.extend((at as u32).to_le_bytes());
        at += section.len();
    }
    bytes.extend((at as u32).to_le_bytes());
    sections.iter().for_each(|section| bytes.extend(section));
    Ok(bytes)
}

/// The letters that stand right before and behind a month's name in a pattern.
#[derive(Default)]
struct Affixes {
    before: String,
    behind: String,
}

impl Affixes {
    fn around(field: &str, layout: &str) -> Option<Affixes> {
        let (before, behind) = layout.split_once(field)?;
        let is_letter = |c: &char| c.is_alphabetic() && !metachron_core::lexicon::runs_on(*c);
        let mut reversed: Vec<char> = before.chars().rev().take_while(is_letter).collect();
        reversed.reverse();
        Some(Affixes {
            before: reversed.into_iter().collect(),
            behind: behind.chars().take_while(is_letter).collect(),
        })
    }

    fn fasten(&self, name: &mut String) {
        if !name.is_empty() {
            *name = format!("{}{name}{}", self.before, self.behind);
        }
    }

    fn loosen(&self, field: &str, layout: &str) -> String {
        layout.replace(&format!("{}{field}{}", self.before, self.behind), field)
    }
}

/// A calendar, its months and its eras.
type OtherNames<'d> = (usize, &'d [(String, u8)], &'d [String]);

/// Sets of names from this number on are those of other calendars.
const FIRST_OTHER: u16 = 0x8000;

/// The names of the parts of the day, with what they stand for.
fn parts_of_day(
    locale: &crate::cldr::Locale,
    hours: &mut Vec<(u8, u8)>,
) -> Result<Vec<(String, Code)>, String> {
    let mut parts = Vec::new();
    for (context, width) in [
        ("format", "wide"),
        ("format", "abbreviated"),
        ("stand-alone", "wide"),
        ("stand-alone", "abbreviated"),
    ] {
        let name =
            |part: &str| plain(text_at(&locale.gregorian, &["dayPeriods", context, width, part]));
        parts.push((name("noon"), Code::Noon));
        parts.push((name("midnight"), Code::Midnight));
        for (part, from, before) in &locale.periods {
            let place = hours.iter().position(|pair| *pair == (*from, *before));
            let place = place.unwrap_or_else(|| {
                hours.push((*from, *before));
                hours.len() - 1
            });
            let place = u8::try_from(place).ok().filter(|place| *place < 150);
            let place = place.ok_or("too many parts of the day")?;
            parts.push((name(part), Code::Period(place)));
        }
    }
    parts.retain(|(name, _)| !name.is_empty());
    Ok(parts)
}

fn plain(text: &str) -> String {
    let spaced: String = text.chars().map(|c| if c.is_whitespace() { ' ' } else { c }).collect();
    normalise(&spaced, &mut String::new()).to_owned()
}

fn text_at<'v>(value: &'v Value, path: &[&str]) -> &'v str {
    path.iter().fold(value, |value, key| &value[*key]).as_str().unwrap_or("")
}

const DAYS: [&str; 7] = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

/// The names of a locale in the order in which its set lists them, and what each stands for.
fn words(gregorian: &Value) -> Vec<(String, Option<Code>)> {
    let mut words = Vec::new();
    for (context, width) in [
        ("format", "wide"),
        ("format", "abbreviated"),
        ("stand-alone", "wide"),
        ("stand-alone", "abbreviated"),
        ("format", "narrow"),
    ] {
        for month in 1..=12_u8 {
            let text = text_at(gregorian, &["months", context, width, &month.to_string()]);
            let code = match width {
                "wide" => Code::MonthFull(month),
                "abbreviated" => Code::MonthShort(month),
                _ => Code::MonthNarrow(month),
            };
            words.push((plain(text), Some(code)));
        }
    }
    for (context, width) in [
        ("format", "wide"),
        ("format", "abbreviated"),
        ("stand-alone", "wide"),
        ("stand-alone", "abbreviated"),
        ("format", "short"),
    ] {
        for (number, day) in (1..).zip(DAYS) {
            let text = text_at(gregorian, &["days", context, width, day]);
            let code = match width {
                "wide" => Code::WeekdayFull(number),
                _ => Code::WeekdayShort(number),
            };
            words.push((plain(text), Some(code)));
        }
    }
    for width in ["wide", "abbreviated"] {
        for (half, code) in [("am", Code::Am), ("pm", Code::Pm)] {
            let text = text_at(gregorian, &["dayPeriods", "format", width, half]);
            words.push((plain(text), Some(code)));
        }
    }
    for width in ["eraNames", "eraAbbr"] {
        for (era, code) in [
            ("0", Code::Bce),
            ("1", Code::Ce),
            ("0-alt-variant", Code::Bce),
            ("1-alt-variant", Code::Ce),
        ] {
            words.push((plain(text_at(gregorian, &["eras", width, era])), Some(code)));
        }
    }
    words
}

/// Puts the words of one set of names into the index, as they are and without accents.
fn add_words(
    words: impl Iterator<Item = (String, Code)>,
    set: u16,
    index: &mut BTreeMap<String, BTreeSet<(u16, u8)>>,
) {
    let mut own: BTreeMap<String, BTreeSet<Code>> = BTreeMap::new();
    for (text, code) in words {
        // `M01` is what CLDR has where it has no name: it is read where the locale is said.
        let code = match code {
            Code::MonthFull(month) | Code::MonthShort(month) if is_placeholder(&text) => {
                Code::MonthNarrow(month)
            }
            code => code,
        };
        for form in written(&text, code) {
            for accents in [Accents::Kept, Accents::Dropped] {
                let key = fold(&form, accents);
                if is_word(&key, code) {
                    own.entry(key).or_default().insert(code);
                }
            }
        }
    }
    for (key, codes) in own {
        // `S` for Saturday and Sunday says nothing, and neither does what is one with accents and
        // another without.
        // Where a part of the day is a marker of the clock as well, the marker says it.
        let marks = codes.iter().any(|code| matches!(code, Code::Am | Code::Pm));
        let is_period = |code: &Code| matches!(code, Code::Noon | Code::Midnight | Code::Period(_));
        let codes: BTreeSet<Code> =
            codes.into_iter().filter(|code| !(marks && is_period(code))).collect();
        for code in &codes {
            let (role, number) = code.role();
            let alone = codes.iter().all(|c| c.role().0 != role || c.role().1 == number);
            let narrow_beside_others = matches!(code, Code::MonthNarrow(_))
                && codes.iter().any(|c| !matches!(c, Code::MonthNarrow(_)) && c.role().0 == role);
            if alone && !narrow_beside_others {
                index.entry(key.clone()).or_default().insert((set, code.byte()));
            }
        }
    }
}

/// How a name may be written: with its points, without the last, and markers without any.
fn written(text: &str, code: Code) -> Vec<String> {
    let trimmed = text.trim_end_matches('.').trim().to_owned();
    let mut forms = vec![trimmed.clone()];
    if matches!(code, Code::Am | Code::Pm | Code::Bce | Code::Ce | Code::Era(_) | Code::OtherEra) {
        forms.push(trimmed.replace(' ', ""));
        forms.push(trimmed.replace([' ', '.'], ""));
    }
    forms
}

/// Whether a name can be told from other text.
fn is_word(key: &str, code: Code) -> bool {
    let mut characters = key.chars();
    let Some(first) = characters.next() else { return false };
    // One letter says something as a narrow name only, in a language that is known.
    let single = !matches!(code, Code::MonthNarrow(_) | Code::EraLetter(_))
        && key.is_ascii()
        && key.len() < 2;
    !first.is_numeric() && !single
}

fn is_placeholder(name: &str) -> bool {
    name.strip_prefix('M').is_some_and(|n| n.len() == 2 && n.bytes().all(|b| b.is_ascii_digit()))
}

/// What stands behind the number where the names of all months are their numbers: `月`.
fn month_suffix(gregorian: &Value) -> Option<String> {
    let name = |month: u8| text_at(gregorian, &["months", "format", "wide", &month.to_string()]);
    let suffix = name(1).strip_prefix('1')?.to_owned();
    (1..=12).all(|month| name(month) == format!("{month}{suffix}")).then_some(suffix)
}

/// The patterns of a locale in the order in which its row lists them.
fn formats(gregorian: &Value) -> Vec<(String, bool)> {
    let pattern = |value: &Value| {
        value.as_str().or_else(|| value["_value"].as_str()).unwrap_or("").to_owned()
    };
    let mut list = Vec::new();
    for width in ["full", "long", "medium", "short"] {
        list.push((pattern(&gregorian["dateFormats"][width]), false));
    }
    for width in ["medium", "short"] {
        list.push((pattern(&gregorian["timeFormats"][width]), false));
    }
    for width in ["full", "long"] {
        list.push((pattern(&gregorian["dateTimeFormats-atTime"]["standard"][width]), true));
    }
    for width in ["medium", "short"] {
        list.push((pattern(&gregorian["dateTimeFormats"][width]), true));
    }
    list
}

/// What joins date and time: `{1}, {0}` with its quotes taken away.
fn joiner(pattern: &str) -> String {
    pattern.replace('\'', "").chars().map(|c| if c.is_whitespace() { ' ' } else { c }).collect()
}

/// The words that stand between the fields of a layout, without accents.
fn words_of(layout: &str) -> Vec<String> {
    let mut words = Vec::new();
    let mut depth = 0;
    let mut word = String::new();
    for c in layout.chars().chain([' ']) {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            _ if depth > 0 => {}
            _ if c.is_alphabetic() || is_mark(c) => {
                word.push(c);
                continue;
            }
            _ => {}
        }
        if depth == 0 || c == '{' {
            if !word.is_empty() {
                words.push(fold(&word, Accents::Kept));
            }
            word.clear();
        }
    }
    words
}

/// Vowel signs and the like that belong to the letter before.
fn is_mark(c: char) -> bool {
    !c.is_ascii() && !c.is_alphabetic() && !c.is_whitespace() && !c.is_numeric() && {
        let folded = fold(&c.to_string(), Accents::Dropped);
        folded.is_empty() || matches!(c as u32, 0x0900..=0x109F | 0x1780..=0x17FF)
    }
}
