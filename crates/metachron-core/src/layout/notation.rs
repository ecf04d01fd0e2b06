//! Parses the layout notation into items, with the place of each.

use std::ops::Range;

use super::field::{FIELDS, Field};
use super::standards::STANDARDS;
use crate::error::{LayoutError, LayoutErrorKind, nearest};

/// A piece of a layout as it is written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum LayoutItem {
    Field(Field, Range<usize>),
    Text(String, Range<usize>),
    Space,
    Optional(Vec<LayoutItem>),
}

/// Text as it must be written in a layout to stand for itself.
///
/// ```
/// assert_eq!(metachron_core::layout::escape("[UTC]"), "[[UTC]]");
/// ```
pub fn escape(text: &str) -> String {
    let mut escaped = String::with_capacity(text.len());
    for c in text.chars() {
        escaped.extend(std::iter::repeat_n(c, if "{}[]".contains(c) { 2 } else { 1 }));
    }
    escaped
}

pub(super) fn parse(text: &str) -> Result<Vec<LayoutItem>, LayoutError> {
    let mut parser = Parser { text, at: 0 };
    let items = parser.items(&mut Vec::new())?;
    if !text.contains('{') {
        let names = STANDARDS.iter().map(|standard| standard.name);
        return Err(parser.error(0..text.len(), LayoutErrorKind::NoField(nearest(text, names))));
    }
    Ok(items)
}

struct Parser<'a> {
    text: &'a str,
    at: usize,
}

impl Parser<'_> {
    /// Items up to the end, or to the bracket that closes the innermost of the `open` ones.
    fn items(&mut self, open: &mut Vec<usize>) -> Result<Vec<LayoutItem>, LayoutError> {
        let mut items = Vec::new();
        while let Some(c) = self.text[self.at..].chars().next() {
            let start = self.at;
            self.at += c.len_utf8();
            let doubled = self.text[self.at..].starts_with(c);
            match c {
                // Two brackets that close two open parts are just that.
                '{' | '}' | '[' | ']' if doubled && !(c == ']' && open.len() > 1) => {
                    self.at += 1;
                    self.push_text(&mut items, c, start);
                }
                '{' => items.push(self.field(start)?),
                '[' => {
                    open.push(start);
                    items.push(LayoutItem::Optional(self.items(open)?));
                }
                ']' if open.pop().is_some() => return Ok(items),
                '}' | ']' => {
                    return Err(self.error(start..self.at, LayoutErrorKind::Unbalanced(c)));
                }
                _ if c.is_whitespace() => {
                    if items.last() != Some(&LayoutItem::Space) {
                        items.push(LayoutItem::Space);
                    }
                }
                _ => self.push_text(&mut items, c, start),
            }
        }
        match open.pop() {
            Some(start) => Err(self.error(start..start + 1, LayoutErrorKind::Unbalanced('['))),
            None => Ok(items),
        }
    }

    fn push_text(&self, items: &mut Vec<LayoutItem>, c: char, start: usize) {
        if let Some(LayoutItem::Text(text, span)) = items.last_mut() {
            text.push(c);
            span.end = self.at;
        } else {
            items.push(LayoutItem::Text(c.to_string(), start..self.at));
        }
    }

    fn field(&mut self, start: usize) -> Result<LayoutItem, LayoutError> {
        let Some(length) = self.text[self.at..].find('}') else {
            return Err(self.error(start..start + 1, LayoutErrorKind::Unbalanced('{')));
        };
        let name = &self.text[self.at..self.at + length];
        self.at += length + 1;
        let span = start..self.at;
        match FIELDS.iter().find(|(known, _)| *known == name) {
            Some((_, field)) => Ok(LayoutItem::Field(*field, span)),
            None => {
                let near = nearest(name, FIELDS.iter().map(|(known, _)| *known));
                Err(self.error(span, LayoutErrorKind::UnknownField(near)))
            }
        }
    }

    fn error(&self, span: Range<usize>, kind: LayoutErrorKind) -> LayoutError {
        LayoutError { layout: self.text.to_owned(), span, kind }
    }
}
