//! Cuts a normalised value into runs of digits, words and separators.

/// What a token is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TokenKind {
    /// ASCII digits.
    Digits,
    /// Letters.
    Word,
    /// A run of white space.
    Space,
    /// One character that is none of these.
    Mark,
}

/// A piece of a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Token<'a> {
    /// What it is made of.
    pub kind: TokenKind,
    /// The piece itself.
    pub text: &'a str,
}

/// The tokens of a normalised value, from left to right; joined, they are the value again.
pub fn tokens(value: &str) -> impl Iterator<Item = Token<'_>> {
    let mut rest = value;
    std::iter::from_fn(move || {
        let first = rest.chars().next()?;
        let kind = kind_of(first);
        let end = match kind {
            TokenKind::Mark => first.len_utf8(),
            _ => rest.find(|c| kind_of(c) != kind).unwrap_or(rest.len()),
        };
        let (text, after) = rest.split_at(end);
        rest = after;
        Some(Token { kind, text })
    })
}

fn kind_of(c: char) -> TokenKind {
    match c {
        '0'..='9' => TokenKind::Digits,
        _ if c.is_alphabetic() => TokenKind::Word,
        _ if c.is_whitespace() => TokenKind::Space,
        _ => TokenKind::Mark,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn cuts_where_the_kind_changes() {
        let pieces: Vec<&str> = tokens("Tue, 5-März2024  10:15Z").map(|t| t.text).collect();
        assert_eq!(pieces, ["Tue", ",", " ", "5", "-", "März", "2024", "  ", "10", ":", "15", "Z"]);
    }

    proptest! {
        #[test]
        fn nothing_is_lost(value in ".*") {
            let joined: String = tokens(&value).map(|t| t.text).collect();
            prop_assert_eq!(joined, value);
        }
    }
}
