//! Sheets written in XML: `.xlsx`, `.xlsm` (ECMA-376, Part 1) and `.ods` (OpenDocument 1.3, Part 3).

use std::collections::{BTreeMap, BTreeSet};
use std::io::{BufRead, BufReader};

use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use super::number_format::shows_months;
use super::{Archive, SheetParts, target_path};

/// 18.3.1.55 mergeCell and 18.3.1.73 row.
pub(super) fn of_spreadsheet(archive: &mut Archive<'_>, sheet: &str) -> Option<SheetParts> {
    let relation = attribute_where(archive, "xl/workbook.xml", "sheet", "name", sheet, "r:id")?;
    let path = relation_target(archive, "xl/_rels/workbook.xml.rels", &relation)?;
    let mut parts = SheetParts { is_1904: Some(false), ..SheetParts::default() };
    // 18.2.28 workbookPr.
    each_start(archive, "xl/workbook.xml", |element| {
        if element.local_name().as_ref() == "workbookPr" {
            parts.is_1904 = Some(is_true(attribute(element, "date1904")));
        }
    })?;
    let months = month_styles(archive);
    let mut open = OpenCell::default();
    // The place of the next cell, where it does not say its own (18.3.1.4 c, 18.3.1.73 row).
    let (mut next, mut rows) = ((0, 0), 0_u64);
    each_start(archive, &path, |element| match element.local_name().as_ref() {
        "c" => {
            parts.not_calculated.extend(open.end());
            let said = attribute(element, "r").map(|place| place_of(&place));
            let place = said.unwrap_or(Some(next));
            next = place.map_or(next, |(row, column)| (row, column.saturating_add(1)));
            open = OpenCell { place, ..OpenCell::default() };
            let style = number(attribute(element, "s").filter(|_| !months.is_empty()));
            if style.is_some_and(|style| months.contains(&style)) {
                parts.months.extend(place);
            }
        }
        "f" => open.has_formula = true,
        "v" => open.has_result = true,
        "row" => {
            let said = attribute(element, "r").and_then(|row| row.parse::<u64>().ok());
            // A row without cells stands for itself, too.
            let row = said.unwrap_or(rows.saturating_add(1));
            rows = row;
            next = (row.saturating_sub(1), 0);
            if is_true(attribute(element, "hidden")) {
                parts.hidden.push(row);
            }
        }
        "mergeCell" => parts.merged.extend(attribute(element, "ref")),
        _ => {}
    })?;
    parts.not_calculated.extend(open.end());
    Some(parts)
}

/// The cell that is being read, and whether it has a formula (18.3.1.40 f) and a result (18.3.1.96 v).
#[derive(Default)]
struct OpenCell {
    place: Option<(u64, usize)>,
    has_formula: bool,
    has_result: bool,
}

impl OpenCell {
    /// Its place, where a formula was never calculated; it is no longer open.
    fn end(&mut self) -> Option<(u64, usize)> {
        let cell = std::mem::take(self);
        cell.place.filter(|_| cell.has_formula && !cell.has_result)
    }
}

/// The styles of cells (18.8.10 cellXfs), by their numbers, that show months with their years.
fn month_styles(archive: &mut Archive<'_>) -> BTreeSet<u64> {
    let (mut codes, mut styles) = (BTreeMap::new(), BTreeSet::new());
    let (mut inside, mut at) = (false, 0);
    let read = each_start(archive, "xl/styles.xml", |element| {
        let format = |key| number(attribute(element, key));
        match element.local_name().as_ref() {
            "numFmt" => {
                codes.extend(format("numFmtId").zip(attribute(element, "formatCode")));
            }
            "cellXfs" => inside = true,
            "cellStyles" | "dxfs" => inside = false,
            "xf" if inside => {
                let format = format("numFmtId").unwrap_or(0);
                if shows_months(format, codes.get(&format).map(String::as_str)) {
                    styles.insert(at);
                }
                at += 1;
            }
            _ => {}
        }
    });
    read.map_or(BTreeSet::new(), |()| styles)
}

/// The row and the column of a reference such as `AB12` (18.18.7), counted from 0.
fn place_of(reference: &str) -> Option<(u64, usize)> {
    let digits = reference.find(|c: char| c.is_ascii_digit())?;
    let (letters, row) = reference.split_at(digits);
    let column = letters.bytes().try_fold(0_usize, |column, letter| {
        let letter = letter.checked_sub(b'A').filter(|letter| *letter < 26)?;
        column.checked_mul(26)?.checked_add(usize::from(letter) + 1)
    });
    Some((row.parse::<u64>().ok()?.checked_sub(1)?, column?.checked_sub(1)?))
}

/// The part that a relation (ECMA-376, Part 2, 6.5) leads to.
pub(super) fn relation_target(
    archive: &mut Archive<'_>,
    relations: &str,
    id: &str,
) -> Option<String> {
    attribute_where(archive, relations, "Relationship", "Id", id, "Target")
        .map(|target| target_path(&target))
}

/// 9.1.3 table-row, 9.1.4 table-cell, 9.1.5 covered-table-cell, 19.749 table:visibility.
pub(super) fn of_open_document(archive: &mut Archive<'_>, sheet: &str) -> Option<SheetParts> {
    let mut parts = SheetParts::default();
    let mut inside = false;
    // The place of the next row and cell; both may stand for several.
    let (mut row, mut row_end, mut column) = (0, 0, 0);
    each_start(archive, "content.xml", |element| {
        let times = |key| number(attribute(element, key)).unwrap_or(1).max(1);
        match element.name().as_ref() {
            "table:table" => {
                inside = attribute(element, "table:name").as_deref() == Some(sheet);
                (row, row_end) = (0, 0);
            }
            "table:table-row" if inside => {
                row = row_end;
                row_end += times("table:number-rows-repeated");
                column = 0;
                let visibility = attribute(element, "table:visibility");
                if matches!(visibility.as_deref(), Some("collapse" | "filter")) {
                    // More rows than a sheet has cells for are the empty rest of it.
                    parts.hidden.extend((row + 1..=row_end).take(MOST_ROWS));
                }
            }
            "table:table-cell" | "table:covered-table-cell" if inside => {
                let [rows, columns] = ["table:number-rows-spanned", "table:number-columns-spanned"]
                    .map(|key| times(key) - 1);
                parts.merge([row, row + rows], [column, column + columns]);
                // 19.642 table:formula, 19.385 office:value-type.
                if attribute(element, "table:formula").is_some()
                    && attribute(element, "office:value-type").is_none()
                    && let Ok(column) = usize::try_from(column)
                {
                    parts.not_calculated.push((row, column));
                }
                column += times("table:number-columns-repeated");
            }
            _ => {}
        }
    })?;
    Some(parts)
}

/// The rows that a sheet can have.
const MOST_ROWS: usize = 1_048_576;

fn number(value: Option<String>) -> Option<u64> {
    value?.parse().ok()
}

fn is_true(value: Option<String>) -> bool {
    matches!(value.as_deref(), Some("1" | "true"))
}

/// The attribute `wanted` of the element whose attribute `key` has this value.
fn attribute_where(
    archive: &mut Archive<'_>,
    path: &str,
    name: &str,
    key: &str,
    value: &str,
    wanted: &str,
) -> Option<String> {
    let mut found = None;
    each_start(archive, path, |element| {
        if found.is_none()
            && element.local_name().as_ref() == name
            && attribute(element, key).as_deref() == Some(value)
        {
            found = attribute(element, wanted);
        }
    })?;
    found
}

fn attribute(element: &BytesStart<'_>, key: &str) -> Option<String> {
    let attribute = element.try_get_attribute(key).ok()??;
    Some(quick_xml::escape::unescape(&attribute.value).ok()?.into_owned())
}

/// Shows the start of every element of a part; none if it cannot be read to the end.
fn each_start(
    archive: &mut Archive<'_>,
    path: &str,
    mut show: impl FnMut(&BytesStart<'_>),
) -> Option<()> {
    let part: Box<dyn BufRead> = Box::new(BufReader::new(archive.by_name(path).ok()?));
    let mut xml = Reader::from_reader(part);
    let mut buffer = Vec::new();
    loop {
        match xml.read_event_into(&mut buffer).ok()? {
            Event::Start(element) | Event::Empty(element) => show(&element),
            Event::Eof => return Some(()),
            _ => {}
        }
        buffer.clear();
    }
}
