//! A sheet: rows of typed cells, and the table among them.

use std::ops::Range;

use metachron_core::typed::TypedValue;

use crate::cells::{CellRow, TypedCell};
use crate::frame::WantedHeader;
use crate::frame::{self, is_closing, is_footer};
use crate::header::Header;

/// Rows that are looked at to find the table.
const LOOKED_AT: usize = 200;

/// The table of one sheet.
#[derive(Debug, Clone)]
pub struct Sheet {
    /// The sheet's name.
    pub name: String,
    /// The names of the other sheets.
    pub others: Vec<String>,
    /// The sheet's row in which the names of the columns stand; the first is 1.
    pub header_row: Option<u64>,
    /// What stands above the table.
    pub above: Vec<(u64, String)>,
    /// Whether merged ranges and hidden rows could be looked for.
    pub tells_parts: bool,
    /// Whether days count from 1904, where the workbook says from when they count.
    pub is_1904: Option<bool>,
    /// Ranges of merged cells, of which only the first holds a value.
    pub merged: Vec<String>,
    /// How many rows of the table are hidden; they are rows all the same.
    pub hidden: u64,
    /// What stands below it.
    pub below: Vec<(u64, String)>,
    /// Whether the table is not closed: its file was cut off.
    pub ends_early: bool,
    rows: Vec<CellRow>,
}

impl Sheet {
    /// The rows of the table.
    pub fn rows(&self) -> &[CellRow] {
        &self.rows
    }

    /// Cuts the table out of a sheet.
    pub fn cut(
        name: String,
        others: Vec<String>,
        mut rows: Vec<CellRow>,
        place: TablePlace,
    ) -> (Sheet, Header) {
        let TablePlace { first_row, has_header, columns } = place;
        let mut table = rows.split_off(first_row.min(rows.len()));
        // Rows end with their last filled cell; the header has a cell for every column.
        if let Some(first) = table.first_mut() {
            first.cells.resize(columns.end.max(first.cells.len()), TypedCell::Empty);
        }
        for row in &mut table {
            row.cells.truncate(columns.end);
            row.cells.drain(..columns.start.min(row.cells.len()));
        }
        let header_row = has_header.then(|| table.first().map(CellRow::line)).flatten();
        let header = match has_header {
            true if !table.is_empty() => Header::named(table.remove(0).texts()),
            _ => Header::numbered(columns.len()),
        };
        let width = header.names.len();
        let mut below = Vec::new();
        while let Some(last) = table.last().filter(|row| is_below(row, width)) {
            below.insert(0, (last.number, last.joined()));
            table.pop();
        }
        let above =
            rows.iter().map(|row| (row.number, row.joined())).filter(|(_, text)| !text.is_empty());
        let above = above.collect();
        same_kind(&mut table, width);
        let (tells_parts, merged, hidden) = (false, Vec::new(), 0);
        let sheet = Sheet {
            name,
            others,
            header_row,
            above,
            tells_parts,
            is_1904: None,
            merged,
            hidden,
            below,
            ends_early: false,
            rows: table,
        };
        (sheet, header)
    }
}

/// Whether the last row of a sheet is no row of its table.
fn is_below(row: &CellRow, width: usize) -> bool {
    let mut texts = row.texts();
    texts.resize(width.max(texts.len()), String::new());
    let filled = texts.iter().filter(|text| !text.is_empty()).count();
    let first_is_text = matches!(row.cells.first(), Some(TypedCell::Text(_)));
    let alone = width > 2 && filled == 1 && first_is_text && is_closing(&texts[0]);
    alone || is_footer(texts.iter().map(String::as_str), width)
}

/// Where a table stands in a sheet.
pub struct TablePlace {
    first_row: usize,
    has_header: bool,
    columns: Range<usize>,
}

/// Finds the table, if there is one.
pub fn place(rows: &[CellRow], wanted: WantedHeader) -> Option<TablePlace> {
    let used = |row: &CellRow| {
        let filled = row.cells.iter().enumerate().filter(|(_, cell)| **cell != TypedCell::Empty);
        filled.map(|(column, _)| column).collect::<Vec<_>>()
    };
    let at = |line: u64| rows.iter().position(|row| row.number >= line).unwrap_or(rows.len());
    let mut records: Vec<frame::FrameRecord> = rows
        .iter()
        .take(LOOKED_AT)
        .map(|row| frame::FrameRecord { line: row.number, cells: row.texts() })
        .collect();
    let width = records.iter().map(|record| record.cells.len()).max().unwrap_or(0);
    records.iter_mut().for_each(|record| record.cells.resize(width, String::new()));
    let (first_row, has_header) = match wanted {
        WantedHeader::Line(line) => (at(line), true),
        WantedHeader::Behind(lines) => (at(lines + 1), true),
        WantedHeader::None(lines) => (at(lines + 1), false),
        WantedHeader::Unsaid => match frame::fit(&records) {
            Some(fit) => (at(fit.lines_before + 1), true),
            // A single column: the first row that holds anything.
            None => (rows.iter().position(|row| !used(row).is_empty())?, true),
        },
    };
    let below = rows.get(first_row..)?;
    let columns: Vec<usize> = below.iter().flat_map(used).collect();
    let (first, last) = (columns.iter().min()?, columns.iter().max()?);
    Some(TablePlace { first_row, has_header, columns: *first..*last + 1 })
}

/// A date cell is a moment at midnight where others of its column have a time of day, and a month is its first day
/// unless others are days.
fn same_kind(rows: &mut [CellRow], width: usize) {
    let (mut has_time, mut has_days) = (vec![false; width], vec![false; width]);
    for row in rows.iter() {
        for (column, cell) in row.cells.iter().enumerate().take(width) {
            has_time[column] |= matches!(cell, TypedCell::Typed(TypedValue::DateTime(_)));
            has_days[column] |= matches!(cell, TypedCell::Typed(TypedValue::Date(_)));
        }
    }
    for row in rows {
        for (column, cell) in row.cells.iter_mut().enumerate().take(width) {
            let TypedCell::Typed(moment) = cell else { continue };
            *moment = match *moment {
                TypedValue::Date(date) | TypedValue::Month(date) if has_time[column] => {
                    TypedValue::DateTime(date.at(0, 0, 0, 0))
                }
                TypedValue::Month(date) if !has_days[column] => TypedValue::Date(date),
                other => other,
            };
        }
    }
}
