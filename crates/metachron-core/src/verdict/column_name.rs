//! What the name of a column speaks of: one way to take it apart, and one list of words. All of it is soft evidence:
//! a name decides nothing.

use crate::order::Alternative;
use crate::steps::ColumnRole;

/// What a word in a column's name speaks of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Topic {
    /// Dates or times.
    Date,
    /// Lengths of time.
    Length,
    /// A year in a column of its own.
    Year,
    /// A month in a column of its own.
    Month,
    /// A day of the month in a column of its own.
    Day,
    /// Dates, in a language of which no region writes the month first.
    DayFirst,
}

use Topic::{Date, Day, DayFirst, Length, Month, Year};

/// The words that are known, in several languages, sorted.
#[rustfmt::skip]
const WORDS: [(&str, &[Topic]); 102] = [
    ("anno", &[Year]),
    ("année", &[Year]),
    ("ano", &[Year]),
    ("ay", &[Month]),
    ("año", &[Year]),
    ("begin", &[Date]),
    ("birth", &[Date]),
    ("birthdate", &[Date]),
    ("born", &[Date]),
    ("captured", &[Date]),
    ("closed", &[Date]),
    ("created", &[Date]),
    ("d", &[Day]),
    ("dag", &[Day]),
    ("data", &[Date, DayFirst]),
    ("date", &[Date]),
    ("dates", &[Date]),
    ("datetime", &[Date]),
    ("dato", &[Date, DayFirst]),
    ("datum", &[Date, DayFirst]),
    ("dauer", &[Length]),
    ("day", &[Date, Day]),
    ("dd", &[Day]),
    ("dia", &[Date, Day, DayFirst]),
    ("dob", &[Date]),
    ("duracao", &[Length]),
    ("duracion", &[Length]),
    ("duración", &[Length]),
    ("durata", &[Length]),
    ("duration", &[Length]),
    ("duração", &[Length]),
    ("duree", &[Length]),
    ("durée", &[Length]),
    ("duur", &[Length]),
    ("dzień", &[Day]),
    ("día", &[Day, DayFirst]),
    ("effort", &[Length]),
    ("elapsed", &[Length]),
    ("end", &[Date]),
    ("epoch", &[Date]),
    ("fecha", &[Date, DayFirst]),
    ("giorno", &[Date, Day, DayFirst]),
    ("gün", &[Day]),
    ("hours", &[Length]),
    ("hrs", &[Length]),
    ("jaar", &[Year]),
    ("jahr", &[Year]),
    ("jour", &[Date, Day, DayFirst]),
    ("kesto", &[Length]),
    ("kuukausi", &[Month]),
    ("lasted", &[Length]),
    ("length", &[Length]),
    ("m", &[Month]),
    ("maand", &[Month]),
    ("mes", &[Month]),
    ("mese", &[Month]),
    ("min", &[Length]),
    ("mins", &[Length]),
    ("minuten", &[Length]),
    ("minutes", &[Length]),
    ("mm", &[Month]),
    ("modified", &[Date]),
    ("mois", &[Month]),
    ("mon", &[Month]),
    ("monat", &[Month]),
    ("month", &[Month]),
    ("månad", &[Month]),
    ("måned", &[Month]),
    ("mês", &[Month]),
    ("opened", &[Date]),
    ("päivä", &[Day, DayFirst]),
    ("released", &[Date]),
    ("rok", &[Year]),
    ("runtime", &[Length]),
    ("seconds", &[Length]),
    ("secs", &[Length]),
    ("seen", &[Date]),
    ("serial", &[Date]),
    ("since", &[Date]),
    ("stamp", &[Date]),
    ("start", &[Date]),
    ("stunden", &[Length]),
    ("tag", &[Date, Day, DayFirst]),
    ("tarih", &[Date, DayFirst]),
    ("time", &[Date]),
    ("timestamp", &[Date]),
    ("took", &[Length]),
    ("until", &[Date]),
    ("updated", &[Date]),
    ("varaktighet", &[Length]),
    ("varighet", &[Length]),
    ("vuosi", &[Year]),
    ("when", &[Date]),
    ("y", &[Year]),
    ("year", &[Year]),
    ("yr", &[Year]),
    ("yy", &[Year]),
    ("yyyy", &[Year]),
    ("yıl", &[Year]),
    ("zeit", &[Date]),
    ("år", &[Year]),
    ("дата", &[Date, DayFirst]),
];

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
    words_of(name).iter().any(|word| speaks_of(word, Date))
}

/// Whether a column's name speaks of lengths of time. Soft evidence: a name decides nothing.
///
/// ```
/// use metachron_core::verdict::speaks_of_lengths;
/// assert!(speaks_of_lengths("net_hours") && speaks_of_lengths("Dauer") && !speaks_of_lengths("opened"));
/// ```
pub fn speaks_of_lengths(name: &str) -> bool {
    words_of(name).iter().any(|word| speaks_of(word, Length))
}

/// Whether a column's name says that it holds this part of a date.
pub(super) fn names_part(name: &str, part: ColumnRole) -> bool {
    let topic = match part {
        ColumnRole::Year => Year,
        ColumnRole::Month => Month,
        ColumnRole::Day => Day,
        ColumnRole::Date | ColumnRole::Time | ColumnRole::Zone => return false,
    };
    words_of(name).iter().any(|word| speaks_of(word, topic))
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
        let word = words.iter().find(|word| speaks_of(word, DayFirst));
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
    let at = WORDS.binary_search_by_key(&word, |(own, _)| own);
    at.is_ok_and(|at| WORDS[at].1.contains(&topic))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_sorted_and_stand_once() {
        assert!(WORDS.windows(2).all(|pair| pair[0].0 < pair[1].0));
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
