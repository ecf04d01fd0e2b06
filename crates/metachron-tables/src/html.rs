//! HTML tables: what some programs write under the name of a workbook.
//!
//! Only what such exports hold is understood: rows, cells, line breaks, character references.

use crate::cells::{CellRow, Held, TypedCell};
use crate::error::TableError;

/// The rows of the table that has most of them, and whether no table is left open: the end tag of a table may not be
/// left out (HTML Living Standard, 4.9.1).
///
/// # Errors
/// If cells that span columns make it larger than a table that is held can be.
pub fn rows(page: &str) -> Result<(Vec<CellRow>, bool), TableError> {
    rows_beside(page, Held::default())
}

/// The same, where so much is held already.
fn rows_beside(page: &str, held: Held) -> Result<(Vec<CellRow>, bool), TableError> {
    let mut reader = Reader { held, ..Reader::default() };
    let mut rest = page;
    while let Some(open) = rest.find('<') {
        reader.text(&rest[..open]);
        rest = &rest[open + 1..];
        if let Some(comment) = rest.strip_prefix("!--") {
            rest = comment.find("-->").map_or("", |end| &comment[end + 3..]);
            continue;
        }
        // What is no tag is text (HTML Living Standard, 13.2.5.6).
        if !rest.starts_with(|c: char| c.is_ascii_alphabetic() || "/!?".contains(c)) {
            reader.text("<");
            continue;
        }
        let Some(close) = rest.find('>') else { break };
        let tag = &rest[..close];
        rest = &rest[close + 1..];
        let name = tag.split([' ', '\t', '\r', '\n']).next().unwrap_or_default();
        let name = name.trim_end_matches('/').to_ascii_lowercase();
        // Scripts and style sheets hold no cells: all up to their end tag is passed over.
        if name == "script" || name == "style" {
            let is_end = |at: &usize| {
                let own = rest.as_bytes().get(at + 2..at + 2 + name.len());
                own.is_some_and(|own| own.eq_ignore_ascii_case(name.as_bytes()))
            };
            let end = rest.match_indices("</").map(|(at, _)| at).find(is_end);
            rest = end.map_or("", |at| &rest[at..]);
            continue;
        }
        reader.tag(&name, tag)?;
    }
    let is_closed = reader.open == 0;
    Ok((reader.finish()?, is_closed))
}

/// The tables so far, and the cell that is open.
#[derive(Default)]
struct Reader {
    best: Vec<Vec<String>>,
    table: Vec<Vec<String>>,
    row: Vec<String>,
    cell: Option<String>,
    /// Tables that are begun and not ended.
    open: usize,
    /// Columns that the open cell spans beyond its own.
    span: usize,
    held: Held,
}

impl Reader {
    fn text(&mut self, text: &str) {
        if let Some(cell) = &mut self.cell {
            cell.push_str(text);
        }
    }

    fn tag(&mut self, name: &str, tag: &str) -> Result<(), TableError> {
        match name {
            "td" | "th" => {
                self.close_cell()?;
                self.cell = Some(String::new());
                self.span = attribute(tag, "colspan").and_then(|n| n.parse().ok()).unwrap_or(1);
            }
            "/td" | "/th" => self.close_cell()?,
            "tr" | "/tr" => self.close_row()?,
            "table" => {
                self.close_table()?;
                self.open += 1;
            }
            "/table" => {
                self.close_table()?;
                self.open = self.open.saturating_sub(1);
            }
            "br" | "p" | "/p" | "div" => self.text(" "),
            _ => {}
        }
        Ok(())
    }

    fn close_cell(&mut self) -> Result<(), TableError> {
        if let Some(cell) = self.cell.take() {
            let words: Vec<String> = cell.split_whitespace().map(unescape).collect();
            self.row.push(words.join(" "));
            // No row is wider than a sheet can be.
            let more = self.span.clamp(1, 16_384) - 1;
            self.held.add(1 + more, cell.len())?;
            self.row.extend(std::iter::repeat_n(String::new(), more));
        }
        Ok(())
    }

    fn close_row(&mut self) -> Result<(), TableError> {
        self.close_cell()?;
        if !self.row.is_empty() {
            self.table.push(std::mem::take(&mut self.row));
        }
        Ok(())
    }

    fn close_table(&mut self) -> Result<(), TableError> {
        self.close_row()?;
        let table = std::mem::take(&mut self.table);
        if table.len() > self.best.len() {
            self.best = table;
        }
        Ok(())
    }

    fn finish(mut self) -> Result<Vec<CellRow>, TableError> {
        self.close_table()?;
        let cell = |text: String| match text.is_empty() {
            true => TypedCell::Empty,
            false => TypedCell::Text(text),
        };
        let rows = (1..).zip(self.best);
        Ok(rows
            .map(|(number, row)| CellRow { number, cells: row.into_iter().map(cell).collect() })
            .collect())
    }
}

/// The value of an attribute, in quotes or not.
fn attribute<'t>(tag: &'t str, name: &str) -> Option<&'t str> {
    let at = tag.to_ascii_lowercase().find(&format!("{name}="))? + name.len() + 1;
    let value = tag.get(at..)?;
    match value.chars().next()? {
        quote @ ('"' | '\'') => value[1..].split(quote).next(),
        _ => value.split([' ', '\t', '\r', '\n', '/']).next(),
    }
}

/// Character references by number, and the names that exports use (HTML Living Standard, 13.5).
fn unescape(text: &str) -> String {
    /// A reference has no more bytes.
    const LONGEST: usize = 11;
    let mut plain = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find('&') {
        plain.push_str(&rest[..at]);
        rest = &rest[at..];
        let reference = rest.bytes().take(LONGEST).position(|byte| byte == b';').and_then(|end| {
            let c = match &rest[1..end] {
                "amp" => '&',
                "lt" => '<',
                "gt" => '>',
                "quot" => '"',
                "apos" => '\'',
                "nbsp" => ' ',
                name => {
                    let number = name.strip_prefix('#')?;
                    let code = match number.strip_prefix(['x', 'X']) {
                        Some(hex) => u32::from_str_radix(hex, 16).ok()?,
                        None => number.parse().ok()?,
                    };
                    char::from_u32(code)?
                }
            };
            Some((c, end))
        });
        match reference {
            Some((c, end)) => {
                plain.push(c);
                rest = &rest[end + 1..];
            }
            None => {
                plain.push('&');
                rest = &rest[1..];
            }
        }
    }
    plain.push_str(rest);
    plain.trim().to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cells::MOST_HELD;
    use proptest::prelude::*;

    fn texts(page: &str) -> Vec<Vec<String>> {
        rows(page).unwrap().0.iter().map(CellRow::texts).collect()
    }

    #[test]
    fn the_largest_table_is_read() {
        let page = "<html><style>td{x:'<td>'}</style><table><tr><td>menu</table>\
            <TABLE border=1><tr><th colspan=\"2\">Net hours<th>n</tr><!-- <tr><td>no -->\
            <tr><td>13/04/2024</td><td>a &amp; b&nbsp;&#252;<br>c</td><td></td></tr></TABLE>";
        assert_eq!(texts(page), [["Net hours", "", "n"], ["13/04/2024", "a & b ü c", ""]]);
    }

    #[test]
    fn what_spans_too_much_is_refused() {
        let mut held = Held::default();
        held.add(0, MOST_HELD - 100_000).unwrap();
        let page = "<table><tr><td>a<tr><td colspan=16384>a";
        assert!(matches!(rows_beside(page, held), Err(TableError::TooLarge(_))));
        assert_eq!(rows(page).unwrap().0[1].cells.len(), 16_384);
        // References that are none do not take longer and longer.
        assert_eq!(unescape(&"&".repeat(1_000_000)).len(), 1_000_000);
    }

    proptest! {
        #[test]
        fn whatever_is_written_is_read_without_harm(page in "(<t[rdh]>|</t[rd]>|<table|>|&#?[a-z0-9]{0,3};?|<!--|ü| |x){0,30}") {
            let _ = rows(&page);
        }
    }
}
