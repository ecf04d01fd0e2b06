//! What the name of a column speaks of: one way to take it apart, and one list of words. All of it is soft evidence:
//! a name decides nothing.

use std::collections::BTreeSet;
use std::sync::LazyLock;

use strum::{IntoStaticStr, VariantArray};

use crate::duration::Unit;
use crate::lexicon::unit_word;
use crate::named::Named;
use crate::order::Alternative;
use crate::steps::ColumnRole;

/// What a word in a column's name speaks of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub(super) enum Topic {
    /// Dates or times.
    Date,
    /// Lengths of time.
    Length,
    /// Weeks of a year.
    Week,
    /// Quarters of a year.
    Quarter,
    /// A year in a column of its own.
    Year,
    /// A month in a column of its own.
    Month,
    /// A day of the month in a column of its own.
    Day,
    /// An hour in a column of its own.
    Hour,
    /// A minute in a column of its own.
    Minute,
    /// A second in a column of its own.
    Second,
    /// Dates, in a language of which no region writes the month first.
    DayFirst,
}

/// The words that are known, by what they speak of.
static WORDS: LazyLock<BTreeSet<(Topic, &str)>> = LazyLock::new(|| {
    let lines = include_str!("column_words.txt").lines().filter(|line| !line.starts_with('#'));
    let lists = lines.filter_map(|line| line.split_once(':'));
    let topics = lists.filter_map(|(topic, words)| Some((Topic::named(topic).ok()?, words)));
    topics.flat_map(|(topic, words)| words.split_whitespace().map(move |w| (topic, w))).collect()
});

/// The words of a name in lower case. `startTime` is two words.
///
/// ```
/// use metachron_core::verdict::words_of;
/// assert_eq!(words_of("startTime_2 (UTC)"), ["start", "time", "utc"]);
/// ```
pub fn words_of(name: &str) -> Vec<String> {
    let mut words = vec![String::new()];
    let mut was_lower = false;
    for c in name.chars() {
        if !c.is_alphabetic() || (c.is_uppercase() && was_lower) {
            words.push(String::new());
        }
        was_lower = c.is_lowercase();
        if let Some(word) = words.last_mut().filter(|_| c.is_alphabetic()) {
            word.extend(c.to_lowercase());
        }
    }
    words.retain(|word| !word.is_empty());
    words
}

/// Whether a column's name speaks of dates or times. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_dates;
/// assert!(speaks_of_dates("opened_at") && speaks_of_dates("Datum") && speaks_of_dates("startTime"));
/// assert!(!speaks_of_dates("weight") && !speaks_of_dates("update count"));
/// ```
pub fn speaks_of_dates(name: &str) -> bool {
    words_of(name).iter().any(|word| speaks_of(word, Topic::Date))
}

/// Whether a column's name speaks of lengths of time. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_lengths;
/// assert!(speaks_of_lengths("net_hours") && speaks_of_lengths("Dauer") && !speaks_of_lengths("opened"));
/// ```
pub fn speaks_of_lengths(name: &str) -> bool {
    words_of(name).iter().any(|word| speaks_of(word, Topic::Length))
}

/// Whether a column's name speaks of years. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_years;
/// assert!(speaks_of_years("start_year") && speaks_of_years("Jahr") && !speaks_of_years("yearling"));
/// ```
pub fn speaks_of_years(name: &str) -> bool {
    names_part(name, ColumnRole::Year)
}

/// Whether a column's name speaks of weeks. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_weeks;
/// assert!(speaks_of_weeks("iso_week") && speaks_of_weeks("KW") && !speaks_of_weeks("weekday"));
/// ```
pub fn speaks_of_weeks(name: &str) -> bool {
    words_of(name).iter().any(|word| speaks_of(word, Topic::Week))
}

/// Whether a column's name speaks of quarters of a year. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_quarters;
/// assert!(speaks_of_quarters("fiscal_quarter") && speaks_of_quarters("Quartal") && !speaks_of_quarters("headquarters"));
/// ```
pub fn speaks_of_quarters(name: &str) -> bool {
    words_of(name).iter().any(|word| speaks_of(word, Topic::Quarter))
}

/// Whether a column's name says that it holds this part of a date.
pub(super) fn names_part(name: &str, part: ColumnRole) -> bool {
    let (topic, unit) = match part {
        ColumnRole::Year => (Topic::Year, Unit::YEARS),
        ColumnRole::Month => (Topic::Month, Unit::MONTHS),
        ColumnRole::Day => (Topic::Day, Unit::DAYS),
        ColumnRole::Hour => (Topic::Hour, Unit::HOURS),
        ColumnRole::Minute => (Topic::Minute, Unit::MINUTES),
        ColumnRole::Second => (Topic::Second, Unit::SECONDS),
        ColumnRole::Date | ColumnRole::Time | ColumnRole::Zone => return false,
    };
    // The words for units of time say it in all the languages that have them.
    let is_unit = |word: &str| unit_word(word).is_some_and(|own| own.is_surely(unit));
    words_of(name).iter().any(|word| speaks_of(word, topic) || is_unit(word))
}

/// Whether a column's name is one word that is long enough to say a part of a date by itself.
pub(super) fn is_part_alone(name: &str) -> bool {
    match &words_of(name)[..] {
        [word] => word.len() > 2,
        _ => false,
    }
}

/// The order that a name says, and the words that say it: `dd/mm`, `ymd`; or, where the month may stand first, a
/// language of which no region writes so.
pub(super) fn order_said_by(name: &str, may_be_month_first: bool) -> Option<(Alternative, String)> {
    let words = words_of(name);
    let said = words.iter().enumerate().find_map(|(at, word)| {
        let next = words.get(at + 1).map(String::as_str);
        let order = order_of(word, next)?;
        let both =
            next.filter(|_| word.len() <= 4).map_or(String::new(), |next| format!("/{next}"));
        Some((order, format!("{word}{both}")))
    });
    let by_language = || {
        let word = words.iter().find(|word| speaks_of(word, Topic::DayFirst));
        word.filter(|_| may_be_month_first).map(|word| (Alternative::Dmy, word.clone()))
    };
    said.or_else(by_language)
}

fn order_of(word: &str, next: Option<&str>) -> Option<Alternative> {
    match (word, next) {
        ("dd" | "d" | "tt" | "jj", Some("mm" | "m")) | ("dmy" | "ddmmyyyy" | "ddmmyy", _) => {
            Some(Alternative::Dmy)
        }
        ("mm" | "m", Some("dd" | "d")) | ("mdy" | "mmddyyyy" | "mmddyy", _) => {
            Some(Alternative::Mdy)
        }
        ("yyyy" | "yy", Some("mm" | "m")) | ("ymd" | "yyyymmdd" | "yymmdd", _) => {
            Some(Alternative::Ymd)
        }
        _ => None,
    }
}

fn speaks_of(word: &str, topic: Topic) -> bool {
    WORDS.contains(&(topic, word))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_list_of_words_is_of_a_topic() {
        let text = include_str!("column_words.txt");
        for line in text.lines().filter(|line| !line.starts_with('#')) {
            let (topic, words) = line.split_once(':').unwrap();
            assert!(Topic::named(topic).is_ok(), "{topic}");
            assert!(words.split_whitespace().is_sorted(), "{topic}");
        }
        assert!(Topic::all().all(|topic| WORDS.iter().any(|(own, _)| *own == topic)));
        assert_eq!(WORDS.len(), 182, "words and topics");
    }

    #[test]
    fn names_say_orders() {
        for (name, expected) in [
            ("captured (dd/mm/yyyy)", Some(Alternative::Dmy)),
            ("seenMDY", Some(Alternative::Mdy)),
            ("yyyymmdd", Some(Alternative::Ymd)),
            ("letzter Tag", Some(Alternative::Dmy)),
            ("seen", None),
        ] {
            assert_eq!(order_said_by(name, true).map(|(order, _)| order), expected, "{name}");
        }
        assert_eq!(order_said_by("letzter Tag", false), None);
    }
}
