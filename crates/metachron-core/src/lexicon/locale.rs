//! Locales: the languages and regions in which values are written.

use std::fmt;

use super::blob::{self, LocaleFormat};
use crate::text::is_invisible;

/// A language and region of CLDR 48.2, such as `pt-PT`.
///
/// ```
/// use metachron_core::lexicon::Locale;
/// assert_eq!(Locale::named("en_gb").unwrap().tag(), "en-GB");
/// assert_eq!(Locale::named("pt-BR").unwrap().tag(), "pt"); // Portuguese is that of Brazil
/// assert_eq!(Locale::named("iw").unwrap().tag(), "he"); // an old name of Hebrew
/// assert_eq!(Locale::named("pa-PK").unwrap().tag(), "pa-Arab"); // as Punjabi is written there
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Locale(pub(super) u16);

/// There is no such locale.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct UnknownLocale {
    /// What was asked for.
    pub tag: String,
    /// The one that was probably meant.
    pub near: Option<&'static str>,
}

impl fmt::Display for UnknownLocale {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?} is no locale that CLDR 48.2 has", self.tag)?;
        self.near.map_or(Ok(()), |near| write!(f, "; did you mean {near}?"))
    }
}

impl std::error::Error for UnknownLocale {}

impl Locale {
    /// All locales, sorted by tag.
    pub fn all() -> impl Iterator<Item = Locale> {
        (0..blob::locale_count()).map(Locale)
    }

    /// The locale with this tag (BCP 47), whatever its case, with `-` or `_`. Old names of
    /// languages stand for the new ones, and a script that a region implies need not be said
    /// (Unicode Technical Standard 35, Part 1, 4.3 Likely Subtags).
    ///
    /// # Errors
    /// If there is none. A region without data of its own is not replaced by another.
    pub fn named(tag: &str) -> Result<Locale, UnknownLocale> {
        let written = canonical(tag);
        let language = written.split('-').next().unwrap_or_default();
        let renamed = blob::alias(&written)
            .map(str::to_owned)
            .or_else(|| Some(format!("{}{}", blob::alias(language)?, &written[language.len()..])));
        [Some(written.clone()), renamed]
            .into_iter()
            .flatten()
            .find_map(|tag| exact(&tag).or_else(|| alike(&tag)))
            .ok_or_else(|| UnknownLocale { tag: tag.to_owned(), near: nearest(&written) })
    }

    /// The tag (BCP 47).
    pub fn tag(self) -> &'static str {
        blob::tag(self.0)
    }

    /// The tag of its language alone.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// assert_eq!(Locale::named("pt-PT").unwrap().language(), "pt");
    /// ```
    pub fn language(self) -> &'static str {
        self.tag().split('-').next().unwrap_or_default()
    }

    /// What its language is called in English: `Portuguese`.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// assert_eq!(Locale::named("pt-PT").unwrap().language_name(), "Portuguese");
    /// ```
    pub fn language_name(self) -> &'static str {
        self.name().split(" (").next().unwrap_or_default()
    }

    /// What it is called in English, with the region that is meant: `Portuguese (Brazil)`.
    pub fn name(self) -> &'static str {
        blob::english_name(self.0)
    }

    /// The calendar that is usual there, by its name in CLDR.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// assert_eq!(Locale::named("th").unwrap().calendar(), "buddhist");
    /// ```
    pub fn calendar(self) -> &'static str {
        blob::calendar(self.0)
    }

    /// The ten digits that numbers are written with there.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// assert_eq!(Locale::named("ar-EG").unwrap().digits(), "٠١٢٣٤٥٦٧٨٩");
    /// ```
    pub fn digits(self) -> &'static str {
        match blob::digits(self.0) {
            "" => "0123456789",
            digits => digits,
        }
    }

    /// Whether numbers have a decimal comma there, so that a point stands before thousands.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// let has = |tag| Locale::named(tag).unwrap().has_decimal_comma();
    /// assert!(has("de") && !has("de-CH") && !has("en") && !has("ja"));
    /// ```
    pub fn has_decimal_comma(self) -> bool {
        static TAGS: &str = include_str!("decimal_commas.txt");
        TAGS.lines().any(|tag| tag == self.tag())
    }

    /// A written form as a layout; none where layouts lack a field of it.
    ///
    /// ```
    /// use metachron_core::lexicon::{Locale, LocaleFormat};
    /// let german = Locale::named("de").unwrap();
    /// assert_eq!(german.format(LocaleFormat::DateShort), Some("{day:02}.{month:02}.{year:2}"));
    /// ```
    pub fn format(self, format: LocaleFormat) -> Option<&'static str> {
        Some(blob::format(self.0, format)).filter(|layout| !layout.is_empty())
    }

    /// The words that stand between a date and a time.
    ///
    /// ```
    /// use metachron_core::lexicon::Locale;
    /// assert!(Locale::named("cy").unwrap().joints().any(|word| word == "am"));
    /// assert!(Locale::named("ja").unwrap().joints().next().is_none());
    /// ```
    pub fn joints(self) -> impl Iterator<Item = &'static str> {
        let between = move |long: bool| {
            let (_, after) = blob::joiner(self.0, long).split_once("{1}")?;
            after.split_once("{0}").map(|(between, _)| between)
        };
        let words = [true, false].into_iter().filter_map(between).flat_map(str::split_whitespace);
        words.filter(|word| word.starts_with(char::is_alphabetic))
    }

    /// A date and a time joined as the locale does it, both as layouts.
    pub fn joined(self, date: LocaleFormat, time: LocaleFormat) -> Option<String> {
        let long = matches!(date, LocaleFormat::DateFull | LocaleFormat::DateLong);
        let (before, after) = blob::joiner(self.0, long).split_once("{1}")?;
        let (between, behind) = after.split_once("{0}")?;
        let joined = [before, self.format(date)?, between, self.format(time)?, behind].concat();
        Some(joined.chars().filter(|c| !is_invisible(*c)).collect())
    }
}

impl fmt::Display for Locale {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.tag())
    }
}

/// `pt-BR` for `PT_br`: the language small, the script with a capital, the region in capitals.
fn canonical(tag: &str) -> String {
    let parts = tag.trim().split(['-', '_']).enumerate().map(|(index, part)| match part.len() {
        4 if index > 0 && part.is_ascii() => {
            format!("{}{}", part[..1].to_ascii_uppercase(), part[1..].to_ascii_lowercase())
        }
        2 | 3 if index > 0 => part.to_ascii_uppercase(),
        _ => part.to_ascii_lowercase(),
    });
    parts.collect::<Vec<_>>().join("-")
}

fn exact(tag: &str) -> Option<Locale> {
    let (mut low, mut high) = (0, blob::locale_count());
    while low < high {
        let middle = low.midpoint(high);
        match blob::tag(middle).cmp(tag) {
            std::cmp::Ordering::Equal => return Some(Locale(middle)),
            std::cmp::Ordering::Less => low = middle + 1,
            std::cmp::Ordering::Greater => high = middle,
        }
    }
    None
}

/// The locale whose language, script and region are the likely ones of this tag.
fn alike(tag: &str) -> Option<Locale> {
    let parts: Vec<&str> = tag.split('-').collect();
    let is_script = |part: &&&str| part.len() == 4;
    let (language, rest) = parts.split_first()?;
    let script = rest.iter().find(is_script);
    let region = rest.iter().find(|part| part.len() < 4);
    // What the tag leaves open is what is likely; what it says stays.
    let likely = match (script, region) {
        (None, Some(region)) => blob::likely(&format!("{language}-{region}")),
        (Some(script), None) => blob::likely(&format!("{language}-{script}")),
        _ => None,
    }
    .or_else(|| blob::likely(language))?;
    let mut likely = likely.split('-').skip(1);
    let (likely_script, likely_region) = (likely.next()?, likely.next()?);
    let script = script.copied().unwrap_or(likely_script);
    let wanted = format!("{language}-{script}-{}", region.copied().unwrap_or(likely_region));
    (0..blob::locale_count()).find(|locale| blob::maximized(*locale) == wanted).map(Locale)
}

/// A locale that differs in a letter, or else the language without the region.
fn nearest(tag: &str) -> Option<&'static str> {
    let language = tag.split('-').next().unwrap_or_default();
    match exact(language) {
        Some(locale) => Some(locale.tag()),
        None => crate::error::nearest(tag, Locale::all().map(Locale::tag)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tags_lead_to_their_locale() {
        for (tag, found) in [
            ("de", "de"),
            ("de-DE", "de"),
            ("DE_at", "de-AT"),
            ("no", "no"),
            ("zh-TW", "zh-Hant"),
            ("zh-Hant-TW", "zh-Hant"),
            ("pa-PK", "pa-Arab"),
            ("sr-Latn-RS", "sr-Latn"),
            ("iw-IL", "he"),
            ("tl", "fil"),
            ("en-GB", "en-GB"),
            ("en-US", "en"),
        ] {
            assert_eq!(Locale::named(tag).map(Locale::tag), Ok(found), "{tag}");
        }
    }

    #[test]
    fn no_tag_leads_to_another_region_unasked() {
        for (tag, near) in [
            ("pt-JP", Some("pt")),
            ("xx", None),
            ("", None),
            ("Portuguese", None),
            ("en-XA", Some("en")),
        ] {
            let found = Locale::named(tag).map(Locale::tag);
            let unknown = found.expect_err(tag);
            if near.is_some() {
                assert_eq!(unknown.near, near, "{tag}");
            }
        }
    }

    #[test]
    fn every_locale_is_found_by_its_own_tags() {
        for locale in Locale::all() {
            assert_eq!(Locale::named(locale.tag()), Ok(locale));
            assert_eq!(Locale::named(&locale.tag().to_uppercase().replace('-', "_")), Ok(locale));
            let maximized = Locale::named(blob::maximized(locale.0)).unwrap();
            assert_eq!(blob::maximized(maximized.0), blob::maximized(locale.0));
        }
    }
}
