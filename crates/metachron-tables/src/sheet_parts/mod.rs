//! What a sheet says beside its cells: merged ranges, hidden rows, dates that are shown as months.

mod number_format;
mod markup;
mod binary;
mod bounds;

use std::io::{Cursor, Read};

use zip::ZipArchive;

pub use bounds::are_bounded;

/// What one sheet says beside its cells.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct SheetParts {
    /// The ranges, such as `A1:C1`. Only the first cell of each holds a value.
    pub merged: Vec<String>,
    /// The numbers of the rows that are hidden; the first is 1.
    pub hidden: Vec<u64>,
    /// The cells by row and column, counted from 0, whose number format shows a month and its year alone.
    pub months: Vec<(u64, usize)>,
    /// The cells, likewise, that hold a formula and no result of it.
    pub not_calculated: Vec<(u64, usize)>,
    /// Whether days count from 1904, where the workbook says from when they count.
    pub is_1904: Option<bool>,
}

impl SheetParts {
    /// Reads them for the sheet of this name; nothing if the workbook does not tell.
    pub fn of(workbook: &[u8], sheet: &str) -> Option<SheetParts> {
        let Ok(mut archive) = ZipArchive::new(Cursor::new(workbook)) else {
            return binary::of_compound(workbook, sheet);
        };
        let holds = |name: &str| archive.index_for_name(name).is_some();
        if holds("xl/workbook.xml") {
            markup::of_spreadsheet(&mut archive, sheet)
        } else if holds("xl/workbook.bin") {
            binary::of_archive(&mut archive, sheet)
        } else {
            markup::of_open_document(&mut archive, sheet)
        }
    }

    /// Adds a range by its first and last row and column, counted from 0. A single cell is none.
    fn merge(&mut self, rows: [u64; 2], columns: [u64; 2]) {
        if rows[0] != rows[1] || columns[0] != columns[1] {
            let cell = |at: usize| format!("{}{}", letters(columns[at]), rows[at] + 1);
            self.merged.push(format!("{}:{}", cell(0), cell(1)));
        }
    }
}

/// The letters of a column that is counted from 0: `A`, `Z`, `AA`.
fn letters(column: u64) -> String {
    let (before, last) = (column / 26, (b'A' + (column % 26) as u8) as char);
    match before {
        0 => last.to_string(),
        before => format!("{}{last}", letters(before - 1)),
    }
}

/// Whether a workbook claims no more than a sheet can hold, as far as that is known before it is read.
pub fn is_within_sheets(workbook: &[u8]) -> bool {
    binary::is_within_sheets(workbook)
}

type Archive<'a> = ZipArchive<Cursor<&'a [u8]>>;

/// A part of an archive of workbook parts, by the target of a relation.
fn target_path(target: &str) -> String {
    match target.strip_prefix('/') {
        Some(absolute) => absolute.to_owned(),
        None => format!("xl/{target}"),
    }
}

fn read_part(archive: &mut Archive<'_>, path: &str) -> Option<Vec<u8>> {
    let mut bytes = Vec::new();
    archive.by_name(path).ok()?.read_to_end(&mut bytes).ok()?;
    Some(bytes)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_go_by_letters() {
        for (column, expected) in
            [(0, "A"), (25, "Z"), (26, "AA"), (701, "ZZ"), (702, "AAA"), (16_383, "XFD")]
        {
            assert_eq!(letters(column), expected);
        }
    }

    #[test]
    fn a_range_of_one_cell_is_none() {
        let mut parts = SheetParts::default();
        parts.merge([3, 3], [1, 1]);
        parts.merge([3, 4], [1, 2]);
        assert_eq!(parts.merged, ["B4:C5"]);
    }
}
