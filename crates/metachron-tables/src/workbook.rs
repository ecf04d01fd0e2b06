//! Workbooks: a sheet, and the table in it.
//!
//! A sheet is held in memory while it is read. Cells keep their type: date cells are moments by
//! the workbook's own origin, numbers stay numbers, text stays text.

use std::collections::BTreeMap;
use std::io::Cursor;

use calamine::{
    Data, ExcelDateTime, ExcelDateTimeType, Reader, SheetType, Sheets, open_workbook_auto_from_rs,
};
use jiff::civil::{Date, DateTime, Time};
use metachron_core::duration::Duration;
use metachron_core::typed::TypedValue;
use metachron_core::value::Fault;

use crate::cells::{CellRow, Held, TypedCell};
use crate::contain::contained;
use crate::error::TableError;
use crate::frame::WantedHeader;
use crate::header::Header;
use crate::sheet::{Sheet, place};
use crate::sheet_parts::{SheetParts, are_bounded, is_within_sheets};

/// Columns that a sheet has at most.
const MOST_COLUMNS: u32 = 16_384;
/// The day behind the last that a date cell can be, 9999-12-31, by both origins (ECMA-376, Part 1, 18.17.4).
const END_FROM_1900: f64 = 2_958_466.0;
const END_FROM_1904: f64 = 2_957_004.0;

/// Reads a sheet, by its name or its number from 1, and finds the table in it. Where none is said
/// it is the first sheet with a table.
///
/// # Errors
/// If the bytes are no workbook, it is protected, or has no such sheet.
pub fn open(
    bytes: &[u8],
    sheet: Option<&str>,
    header: WantedHeader,
) -> Result<(Sheet, Header), TableError> {
    are_bounded(bytes)?;
    if is_encrypted(bytes) {
        return Err(protected());
    }
    if !is_within_sheets(bytes) {
        return Err(TableError::Damaged("it has cells where a sheet has none".to_owned()));
    }
    // The library that takes workbooks apart relies on their being sound.
    contained(|| take_apart(bytes, sheet, header))
        .unwrap_or_else(|| Err(TableError::Damaged("its parts contradict each other".to_owned())))
}

fn take_apart(
    bytes: &[u8],
    sheet: Option<&str>,
    header: WantedHeader,
) -> Result<(Sheet, Header), TableError> {
    let mut book = open_workbook_auto_from_rs(Cursor::new(bytes)).map_err(refused)?;
    let names: Vec<String> = book
        .sheets_metadata()
        .iter()
        .filter(|sheet| sheet.typ == SheetType::WorkSheet)
        .map(|sheet| sheet.name.clone())
        .collect();
    let chosen = match sheet {
        Some(said) => vec![named(&names, said)?],
        None => names.clone(),
    };
    for name in &chosen {
        let mut rows = rows(&mut book, name)?;
        if let Some(place) = place(&rows, header) {
            let others = names.iter().filter(|other| *other != name).cloned().collect();
            let parts = SheetParts::of(bytes, name);
            shown_as_months(&mut rows, parts.iter().flat_map(|parts| &parts.months));
            not_calculated(&mut rows, parts.iter().flat_map(|parts| &parts.not_calculated));
            let (mut sheet, header) = Sheet::cut(name.clone(), others, rows, place);
            if let Some(parts) = parts {
                let own = |row: &&u64| sheet.rows().iter().any(|other| other.number == **row);
                sheet.hidden = parts.hidden.iter().filter(own).count() as u64;
                sheet.merged = parts.merged;
                sheet.tells_parts = true;
                sheet.is_1904 = parts.is_1904;
            }
            return Ok((sheet, header));
        }
    }
    Err(TableError::Workbook(match chosen.as_slice() {
        [only] => format!("sheet {only:?} holds no table"),
        _ => "no sheet holds a table".to_owned(),
    }))
}

/// All rows of a sheet from the first that holds anything, each from the sheet's first column on.
///
/// Formats that can be read cell by cell are: a few cells far apart do not fill the memory with
/// what is empty between them.
fn rows(book: &mut Sheets<Cursor<&[u8]>>, name: &str) -> Result<Vec<CellRow>, TableError> {
    let mut cells = SheetCells::default();
    match book {
        Sheets::Xlsx(book) => {
            let mut reader = book.worksheet_cells_reader(name).map_err(refused)?;
            while let Some(cell) = reader.next_cell().map_err(refused)? {
                cells.put(cell.get_position(), typed_cell(cell.get_value().clone().into()))?;
            }
        }
        Sheets::Xlsb(book) => {
            let mut reader = book.worksheet_cells_reader(name).map_err(refused)?;
            while let Some(cell) = reader.next_cell().map_err(refused)? {
                cells.put(cell.get_position(), typed_cell(cell.get_value().clone().into()))?;
            }
        }
        Sheets::Xls(_) | Sheets::Ods(_) => {
            let range = book.worksheet_range(name).map_err(refused)?;
            let (first_row, first_column) = range.start().unwrap_or((0, 0));
            for (row, column, value) in range.used_cells() {
                let place = (first_row + row as u32, first_column + column as u32);
                cells.put(place, typed_cell(value.clone()))?;
            }
        }
    }
    Ok(cells.into_rows())
}

/// The cells of a sheet by row.
#[derive(Default)]
struct SheetCells {
    rows: BTreeMap<u32, Vec<TypedCell>>,
    held: Held,
}

impl SheetCells {
    fn put(&mut self, (row, column): (u32, u32), cell: TypedCell) -> Result<(), TableError> {
        if cell == TypedCell::Empty {
            return Ok(());
        }
        if column >= MOST_COLUMNS {
            return Err(TableError::Damaged(format!("a cell in column {}", u64::from(column) + 1)));
        }
        let cells = self.rows.entry(row).or_default();
        let column = column as usize;
        // Cells that many share their text each have their own.
        let text = if let TypedCell::Text(text) = &cell { text.len() } else { 0 };
        self.held.add((column + 1).saturating_sub(cells.len()), text)?;
        if cells.len() <= column {
            cells.resize(column + 1, TypedCell::Empty);
        }
        cells[column] = cell;
        Ok(())
    }

    /// The rows with the empty ones between them.
    fn into_rows(self) -> Vec<CellRow> {
        let mut rows: Vec<CellRow> = Vec::new();
        for (row, cells) in self.rows {
            let number = u64::from(row) + 1;
            let next = rows.last().map_or(number, |last| last.number + 1);
            rows.extend((next..number).map(|number| CellRow { number, cells: Vec::new() }));
            rows.push(CellRow { number, cells });
        }
        rows
    }
}

fn typed_cell(data: Data) -> TypedCell {
    match data {
        Data::Empty => TypedCell::Empty,
        Data::String(text) if text.is_empty() => TypedCell::Empty,
        Data::String(text) | Data::DurationIso(text) => TypedCell::Text(text),
        Data::Int(number) => TypedCell::Number(number.to_string()),
        Data::Float(number) => TypedCell::Number(number.to_string()),
        Data::Bool(truth) => TypedCell::Text(if truth { "TRUE" } else { "FALSE" }.to_owned()),
        Data::Error(error) => TypedCell::Fault(Fault::Error, error.to_string()),
        Data::DateTime(serial) => typed(&serial),
        Data::DateTimeIso(text) => iso(text),
    }
}

/// The row at a place that counts from 0.
fn row_at(rows: &mut [CellRow], row: u64) -> Option<&mut CellRow> {
    let first = rows.first()?.number;
    rows.get_mut(usize::try_from((row + 1).checked_sub(first)?).ok()?)
}

/// Makes the empty cells of formulas that were never calculated what they are.
fn not_calculated<'m>(rows: &mut [CellRow], places: impl Iterator<Item = &'m (u64, usize)>) {
    for (row, column) in places.filter(|(_, column)| *column < MOST_COLUMNS as usize) {
        let Some(row) = row_at(rows, *row) else { continue };
        if row.cells.len() <= *column {
            row.cells.resize(column + 1, TypedCell::Empty);
        }
        if row.cells[*column] == TypedCell::Empty {
            row.cells[*column] = TypedCell::Fault(Fault::NotCalculated, String::new());
        }
    }
}

/// Makes the first days of months that are shown as months what they are.
fn shown_as_months<'m>(rows: &mut [CellRow], places: impl Iterator<Item = &'m (u64, usize)>) {
    for (row, column) in places {
        let cell = row_at(rows, *row).and_then(|row| row.cells.get_mut(*column));
        if let Some(TypedCell::Typed(moment)) = cell
            && let TypedValue::Date(date) = *moment
            && date.day() == 1
        {
            *moment = TypedValue::Month(date);
        }
    }
}

/// A date cell by its workbook's origin; what is less than a day is a time. What no date can be stays the number
/// that it is.
fn typed(serial: &ExcelDateTime) -> TypedCell {
    let value = serial.as_f64();
    let no_date = || {
        let plain = value.abs() < 1e15 || value.is_nan();
        let shown = if plain { value.to_string() } else { format!("{value:e}") };
        TypedCell::Fault(Fault::OutOfRange, shown)
    };
    if serial.is_duration() {
        return length(value)
            .map_or_else(no_date, |length| TypedCell::Typed(TypedValue::Duration(length)));
    }
    let is_1904 = *serial == ExcelDateTime::new(value, ExcelDateTimeType::DateTime, true);
    let end = if is_1904 { END_FROM_1904 } else { END_FROM_1900 };
    if !(0.0..end).contains(&value) {
        return no_date();
    }
    if value == 0.0 && !is_1904 {
        // What an empty cell looks like in a date format.
        return TypedCell::Text("1900-01-00".to_owned());
    }
    let (year, month, day, hour, minute, second, milli) = serial.to_ymd_hms_milli();
    let nanos = i32::from(milli) * 1_000_000;
    let time = Time::new(hour as i8, minute as i8, second as i8, nanos);
    if value < 1.0 && value != 0.0 {
        return time.map_or_else(|_| no_date(), |time| TypedCell::Typed(TypedValue::Time(time)));
    }
    // The 1900 system counts a 29 February 1900 that never was.
    match (Date::new(year as i16, month as i8, day as i8), time) {
        (Ok(date), Ok(time)) if time == Time::midnight() => {
            TypedCell::Typed(TypedValue::Date(date))
        }
        (Ok(date), Ok(time)) => {
            TypedCell::Typed(TypedValue::DateTime(DateTime::from_parts(date, time)))
        }
        _ => no_date(),
    }
}

/// A length of time of so many days, to the millisecond, as fine as workbooks show it.
fn length(days: f64) -> Option<Duration> {
    let millis = (days * 86_400_000.0).round();
    // Beyond that, floating point has lost the milliseconds.
    (millis.abs() < 9e15).then(|| Duration::of_nanos(millis as i128 * 1_000_000))?
}

fn iso(text: String) -> TypedCell {
    if let Ok(datetime) = text.parse::<DateTime>() {
        let moment = match text.contains('T') && datetime.time() != Time::midnight() {
            true => TypedValue::DateTime(datetime),
            false => TypedValue::Date(datetime.date()),
        };
        return TypedCell::Typed(moment);
    }
    TypedCell::Text(text)
}

/// The sheet of this name, or of this number.
fn named(names: &[String], said: &str) -> Result<String, TableError> {
    let by_number = said.parse::<usize>().ok().and_then(|number| names.get(number.checked_sub(1)?));
    let found = names.iter().find(|name| *name == said).or(by_number);
    found.cloned().ok_or_else(|| {
        let near = metachron_core::error::nearest(said, names.iter().map(String::as_str));
        let hint = match near {
            Some(near) => format!("did you mean {near:?}?"),
            None => format!("it has {}", names.join(", ")),
        };
        TableError::Workbook(format!("it has no sheet {said:?}; {hint}"))
    })
}

fn refused(error: impl Into<calamine::Error>) -> TableError {
    let text = error.into().to_string();
    // The library names protection in words only.
    if text.to_lowercase().contains("password") {
        return protected();
    }
    TableError::Damaged(text)
}

fn protected() -> TableError {
    TableError::Workbook("it is protected by a password; save it without one".to_owned())
}

/// Whether the bytes are a compound file around an encrypted workbook ([MS-OFFCRYPTO] 2.3.4.4).
fn is_encrypted(bytes: &[u8]) -> bool {
    let name: Vec<u8> = "EncryptedPackage".encode_utf16().flat_map(u16::to_le_bytes).collect();
    bytes.starts_with(&[0xD0, 0xCF, 0x11, 0xE0]) && memchr::memmem::find(bytes, &name).is_some()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn refusal(bytes: Vec<u8>) -> String {
        open(&bytes, None, WantedHeader::Unsaid).unwrap_err().to_string()
    }

    #[test]
    fn what_is_locked_or_swells_is_refused() {
        let mut locked = vec![0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1];
        locked.extend("EncryptedPackage".encode_utf16().flat_map(u16::to_le_bytes));
        assert!(refusal(locked).contains("protected by a password"));
    }

    #[test]
    fn durations_run_on_past_a_day() {
        let text = |days| length(days).map(|length| length.to_string());
        assert_eq!(text(1.5).as_deref(), Some("PT36H"));
        assert_eq!(text(-0.25).as_deref(), Some("-PT6H"));
        assert_eq!(text(0.1).as_deref(), Some("PT2H24M"));
        assert_eq!(text(f64::MAX), None);
    }
}
