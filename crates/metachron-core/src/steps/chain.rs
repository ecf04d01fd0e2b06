//! Steps as they are written, before anybody knows what they mean.

use std::ops::Range;

use super::StepError;
use super::parts::ColumnRole;
use super::word::Word;

/// Where a derived column begins.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum ChainSource {
    /// With a column.
    Column(Word),
    /// With several columns put together, each in its role.
    Parts(Vec<(ColumnRole, Word)>),
}

/// A source and its steps, taken apart.
///
/// ```
/// use metachron_core::steps::Chain;
/// let chain = Chain::parse(r#""net opened" | floor 15 minutes | show "{hour}:{minute}""#).unwrap();
/// assert_eq!(chain.steps().len(), 2);
/// assert!(Chain::parse("seen |").unwrap_err().to_string().contains("a step is missing"));
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Chain {
    pub(super) text: String,
    pub(super) source: ChainSource,
    pub(super) steps: Vec<Vec<Word>>,
}

impl Chain {
    /// Takes steps apart.
    ///
    /// ```
    /// use metachron_core::steps::Chain;
    /// assert_eq!(Chain::parse("seen | start month | month").unwrap().steps().len(), 2);
    /// assert!(Chain::parse("seen | ").is_err());
    /// ```
    ///
    /// # Errors
    /// Where something is missing or left open.
    pub fn parse(text: &str) -> Result<Chain, StepError> {
        let mut groups = groups(text)?.into_iter();
        let first = groups.next().unwrap_or_default();
        let wrong = |span: Range<usize>, says: &str| StepError::new(text, span, says);
        let source = match first.as_slice() {
            [] => {
                let says = "a column is missing before the first step, such as seen | date";
                return Err(wrong(0..text.len().min(1), says));
            }
            [parts, roles @ ..] if parts.text == "parts" && !roles.is_empty() => {
                ChainSource::Parts(ColumnRole::all(text, roles)?)
            }
            [column] => ChainSource::Column(column.clone()),
            [_, second, ..] => {
                let says = "steps are separated by |, and a column's name with spaces stands in double quotes";
                return Err(wrong(second.span.clone(), says));
            }
        };
        let steps: Vec<Vec<Word>> = groups.collect();
        if steps.iter().any(Vec::is_empty) {
            let end = text.trim_end().len();
            return Err(wrong(end.saturating_sub(1)..end, "a step is missing here"));
        }
        Ok(Chain { text: text.to_owned(), source, steps })
    }

    /// Where it begins.
    pub fn source(&self) -> &ChainSource {
        &self.source
    }

    /// The words of each step.
    pub fn steps(&self) -> &[Vec<Word>] {
        &self.steps
    }
}

/// The words between the bars.
fn groups(text: &str) -> Result<Vec<Vec<Word>>, StepError> {
    let mut groups: Vec<Vec<Word>> = vec![Vec::new()];
    let mut rest = text.char_indices().peekable();
    while let Some((begin, first)) = rest.next() {
        if first.is_whitespace() {
            continue;
        }
        if first == '|' {
            groups.push(Vec::new());
            continue;
        }
        let mut word = String::new();
        let mut quoted = first == '"';
        if !quoted {
            word.push(first);
        }
        let mut end = begin + first.len_utf8();
        while let Some((at, next)) = rest.peek().copied() {
            if !quoted && (next.is_whitespace() || next == '|') {
                break;
            }
            rest.next();
            end = at + next.len_utf8();
            match (quoted, next) {
                (_, '"') => quoted = !quoted,
                // A quote or a backslash within quotes.
                (true, '\\') if matches!(rest.peek(), Some((_, '"' | '\\'))) => {
                    if let Some((at, escaped)) = rest.next() {
                        end = at + 1;
                        word.push(escaped);
                    }
                }
                (_, next) => word.push(next),
            }
        }
        if quoted {
            return Err(StepError::new(text, begin..end, "a double quote is not closed"));
        }
        if let Some(group) = groups.last_mut() {
            group.push(Word { text: word, span: begin..end });
        }
    }
    Ok(groups)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_stand_between_spaces_bars_and_quotes() {
        let chain = Chain::parse(r#""net | opened"|date|show "{day}. \"{month}\"" in de"#).unwrap();
        assert!(matches!(chain.source(), ChainSource::Column(word) if word.text == "net | opened"));
        let texts: Vec<Vec<&str>> =
            chain.steps().iter().map(|s| s.iter().map(|w| w.text.as_str()).collect()).collect();
        assert_eq!(texts, [vec!["date"], vec!["show", "{day}. \"{month}\"", "in", "de"]]);
    }

    #[test]
    fn what_is_missing_is_shown_with_its_place() {
        for (text, says, marked) in [
            ("", "a column is missing", "^"),
            ("| date", "a column is missing", "^"),
            ("seen | | date", "a step is missing", "            ^"),
            ("seen |", "a step is missing", "     ^"),
            ("net opened | date", "double quotes", "    ^^^^^^"),
            ("\"net | date", "not closed", "^^^^^^^^^^^"),
            ("parts yaer=y", "did you mean year?", "      ^^^^^^"),
            ("parts year=y year=z", "twice", "             ^^^^^^"),
        ] {
            let error = Chain::parse(text).unwrap_err();
            assert!(error.to_string().contains(says), "{text}: {error}");
            assert_eq!(error.marked().lines().nth(1).unwrap_or(""), marked, "{text}");
        }
    }
}
