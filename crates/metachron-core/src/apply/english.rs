//! Months and halves of the day in English, found without the lexicon where it would find the same.

use crate::lexicon::{Half, Lexicon};

const MONTHS: [&str; 12] = [
    "january",
    "february",
    "march",
    "april",
    "may",
    "june",
    "july",
    "august",
    "september",
    "october",
    "november",
    "december",
];

/// The month whose name stands at the beginning of a normalised text, if that is certain, and how many bytes it takes.
pub(super) fn month(text: &str, lexicon: Lexicon) -> Option<(u8, usize)> {
    if let Some(found) = english_month(text.as_bytes()).filter(|_| is_english(lexicon)) {
        return Some(found);
    }
    let found = lexicon.find(text)?;
    let (month, _) = found.senses.month.filter(|_| !found.senses.unclear_month)?;
    Some((month, found.length))
}

/// The half of the day that stands there, if that is certain: before noon, or after it.
pub(super) fn half_of_day(text: &str, lexicon: Lexicon) -> Option<(Half, usize)> {
    if let Some(found) = english_half(text.as_bytes()).filter(|_| is_english(lexicon)) {
        return Some((found, 2));
    }
    let found = lexicon.find(text)?;
    let half = found.senses.half.filter(|own| matches!(own, Half::Am | Half::Pm))?;
    Some((half, found.length))
}

/// Whether words that English has are English.
fn is_english(lexicon: Lexicon) -> bool {
    lexicon.locale().is_none() || lexicon == Lexicon::english()
}

/// Whether a word that ends before these bytes goes no further: a digit, or nothing, is behind the mark.
fn ends(behind: &[u8]) -> bool {
    match behind {
        [] => true,
        [b' ' | b'-' | b'/' | b',', rest @ ..] => match rest {
            [] => true,
            [b' ', next, ..] | [next, ..] => next.is_ascii_digit(),
        },
        _ => false,
    }
}

fn english_month(text: &[u8]) -> Option<(u8, usize)> {
    let [a, b, c] = text.first_chunk()?.map(|byte| byte.to_ascii_lowercase());
    let month = match [a, b, c] {
        [b'j', b'a', b'n'] => 1,
        [b'f', b'e', b'b'] => 2,
        [b'm', b'a', b'r'] => 3,
        [b'a', b'p', b'r'] => 4,
        [b'm', b'a', b'y'] => 5,
        [b'j', b'u', b'n'] => 6,
        [b'j', b'u', b'l'] => 7,
        [b'a', b'u', b'g'] => 8,
        [b's', b'e', b'p'] => 9,
        [b'o', b'c', b't'] => 10,
        [b'n', b'o', b'v'] => 11,
        [b'd', b'e', b'c'] => 12,
        _ => return None,
    };
    let name = MONTHS[usize::from(month) - 1].as_bytes();
    let length = match text.get(3).is_some_and(u8::is_ascii_alphabetic) {
        false => 3,
        true => {
            let whole = text.get(..name.len())?;
            whole.eq_ignore_ascii_case(name).then_some(name.len())?
        }
    };
    ends(&text[length..]).then_some((month, length))
}

fn english_half(text: &[u8]) -> Option<Half> {
    let half = match text.first_chunk()? {
        [b'A' | b'a', b'M' | b'm'] => Half::Am,
        [b'P' | b'p', b'M' | b'm'] => Half::Pm,
        _ => return None,
    };
    ends(&text[2..]).then_some(half)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Whatever is found here the lexicon finds, behind whatever digits.
    #[test]
    fn what_is_certain_is_what_the_lexicon_has() {
        let names = MONTHS.iter().flat_map(|name| [&name[..3], name]).chain(["am", "pm", "Sept"]);
        let behind = ["", " ", "-", "/", ",", ", ", ".", " 0", "a", " a", "'", "\u{e9}", "  1"];
        let mut certain = 0;
        for lexicon in [Lexicon::every(), Lexicon::english()] {
            for name in names.clone() {
                for behind in behind {
                    for digits in (0..100).map(|own| own.to_string()).chain([String::new()]) {
                        for case in [str::to_lowercase, str::to_uppercase] {
                            let text = format!("{}{behind}{digits}", case(name));
                            let found = lexicon.find(&text);
                            if let Some((month, length)) = english_month(text.as_bytes()) {
                                let own = found.unwrap();
                                assert_eq!(
                                    own.senses.month.map(|own| own.0),
                                    Some(month),
                                    "{text}"
                                );
                                assert!(
                                    !own.senses.unclear_month && own.length == length,
                                    "{text}"
                                );
                                certain += 1;
                            }
                            if let Some(half) = english_half(text.as_bytes()) {
                                let own = found.unwrap();
                                assert_eq!(
                                    (own.senses.half, own.length),
                                    (Some(half), 2),
                                    "{text}"
                                );
                                certain += 1;
                            }
                        }
                    }
                }
            }
        }
        assert!(certain > 50_000, "{certain}");
    }
}
