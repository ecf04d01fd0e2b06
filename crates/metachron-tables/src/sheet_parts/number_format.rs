//! Number formats of cells (ECMA-376, Part 1, 18.8.30 and 18.8.31).

/// The format `mmm-yy`, which has a number and no code.
const MONTH_AND_YEAR: u64 = 17;

/// Whether a format shows months with their years, and nothing of a day.
pub(super) fn shows_months(number: u64, code: Option<&str>) -> bool {
    match code {
        None => number == MONTH_AND_YEAR,
        Some(code) => {
            let shown = placeholders(code);
            shown.contains('m') && shown.contains('y') && !shown.contains(['d', 'h', 's', '0', '#'])
        }
    }
}

/// The first section of a code, in small letters, without the text that it shows as it stands.
fn placeholders(code: &str) -> String {
    let mut shown = String::new();
    let (mut quoted, mut bracketed) = (false, false);
    let mut characters = code.chars();
    while let Some(character) = characters.next() {
        match character {
            '"' => quoted = !quoted,
            _ if quoted => {}
            '[' => bracketed = true,
            ']' => bracketed = false,
            _ if bracketed => {}
            '\\' | '_' | '*' => {
                characters.next();
            }
            ';' => break,
            _ => shown.extend(character.to_lowercase()),
        }
    }
    shown
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn months_are_told_from_days_clocks_and_numbers() {
        assert!(shows_months(17, None) && !shows_months(14, None));
        for code in ["mmm\\-yy", "mmmm yyyy", "[$-409]mmm-yy;@", "yyyy\"d.\"mm", "MM/YYYY"] {
            assert!(shows_months(164, Some(code)), "{code}");
        }
        for code in ["d-mmm-yy", "yyyy", "mm:ss", "0.0,\"my\"", "[h]:mm", "mmm-yy hh:mm"] {
            assert!(!shows_months(164, Some(code)), "{code}");
        }
    }
}
