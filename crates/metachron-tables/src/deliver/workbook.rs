//! Workbooks (ISO/IEC 29500, SpreadsheetML): cells that are dates, times and lengths of time by their number and
//! format, counted from the origin of 1900.

use metachron_core::duration::{DAY, Duration};
use metachron_core::epoch::Epoch;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::write::{Precision, cut};
use metachron_core::zone::{Clock, Zones};
use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, XlsxError};

use super::{Cell, Holds, OutputField, Undelivered, Wish, Writer};
use crate::place::Output;

/// Rows of a sheet, the header among them.
const ROWS: u32 = 1_048_576;
/// Columns of a sheet.
const COLUMNS: usize = 16_384;
/// Characters of a cell.
const CHARACTERS: usize = 32_767;

pub(super) struct Book {
    out: Output,
    book: Workbook,
    fields: Vec<OutputField>,
    formats: Vec<Option<Format>>,
    /// By which clock moments are shown.
    clocks: Vec<Clock>,
    name: String,
    /// The name that it should have had.
    wanted: String,
    sheets: usize,
    /// The row of the sheet that comes next.
    next: u32,
    epoch: Epoch,
    /// Values that have no number: days before March 1900, lengths with months or below zero.
    as_text: u64,
    /// Values that are finer than a sheet shows.
    finer: u64,
    cut: u64,
}

/// A workbook without sheets that says nothing of when it was made: the same cells give the same bytes.
///
/// # Errors
/// Never in practice; the day is one that workbooks have.
pub fn empty_book() -> Result<Workbook, XlsxError> {
    // The first day that the archive around a workbook knows.
    let day = ExcelDateTime::from_ymd(1980, 1, 1)?;
    let mut book = Workbook::new();
    book.set_properties(&DocProperties::new().set_creation_datetime(&day));
    Ok(book)
}

impl Book {
    pub(super) fn new(
        out: Output,
        fields: Vec<OutputField>,
        wish: &Wish,
    ) -> Result<Book, Undelivered> {
        if fields.len() > COLUMNS {
            let why = format!("a sheet has {COLUMNS} columns at most, the table {}", fields.len());
            return Err(Undelivered::Refused(why));
        }
        let date = wish.date_code.clone().unwrap_or_else(|| "yyyy-mm-dd".to_owned());
        let formats = fields.iter().map(|field| code(field, &date)).collect();
        let clock = |field: &OutputField| {
            let zone = field.zone.as_deref();
            zone.and_then(|zone| Clock::named(zone, Zones::bundled())).unwrap_or(Clock::UTC)
        };
        let clocks = fields.iter().map(clock).collect();
        let epoch =
            "sheet-1900".parse().map_err(|_| Undelivered::Refused("no origin".to_owned()))?;
        let (name, wanted) = (sheet_name(&wish.table), wish.table.clone());
        let mut book = Book {
            out,
            book: empty_book().map_err(refused)?,
            fields,
            formats,
            clocks,
            name,
            wanted,
            sheets: 0,
            next: ROWS,
            epoch,
            as_text: 0,
            finer: 0,
            cut: 0,
        };
        book.begin_sheet()?;
        Ok(book)
    }

    /// A further sheet with the names of the columns.
    fn begin_sheet(&mut self) -> Result<(), Undelivered> {
        self.sheets += 1;
        let name = match self.sheets {
            1 => self.name.clone(),
            number => {
                let number = format!(" ({number})");
                let kept: String = self.name.chars().take(31 - number.len()).collect();
                format!("{kept}{number}")
            }
        };
        let sheet = self.book.add_worksheet_with_constant_memory().map_err(refused)?;
        sheet.set_name(name).map_err(refused)?;
        sheet.set_freeze_panes(1, 0).map_err(refused)?;
        for (at, field) in self.fields.iter().enumerate() {
            let at = at as u16;
            if self.formats[usize::from(at)].is_some() {
                sheet.set_column_width(at, 20).map_err(refused)?;
            }
            sheet.write_string(0, at, &field.name).map_err(refused)?;
        }
        self.next = 1;
        Ok(())
    }

    /// The number that a sheet has for a moment; none where it has none.
    fn number(&self, moment: TypedValue, clock: Clock) -> Option<f64> {
        match moment {
            // A sheet knows no zones: it shows what a clock shows.
            TypedValue::Instant(instant) => {
                let shown = clock.offset_at(instant).to_datetime(instant);
                self.number(TypedValue::DateTime(shown), clock)
            }
            TypedValue::Duration(own) => {
                let nanos = own.fixed().filter(|nanos| *nanos >= 0)?;
                Some(nanos as f64 / DAY as f64)
            }
            TypedValue::Time(time) => {
                let day = TypedValue::DateTime(time.on(2000, 1, 1));
                self.number(day, clock).map(f64::fract)
            }
            moment => {
                // Before March 1900 sheets count a day that never was.
                let first = jiff::civil::date(1900, 3, 1);
                moment.date().filter(|date| *date >= first)?;
                self.epoch.count(moment)?.to_string().parse().ok()
            }
        }
    }
}

/// A moment to the millisecond: a finer one would be rounded, and the last of a day to the next day.
fn to_millis(moment: TypedValue) -> TypedValue {
    const MILLI: i128 = 1_000_000;
    match moment {
        TypedValue::Duration(own) => own
            .fixed()
            .and_then(|nanos| Duration::of_nanos(nanos - nanos % MILLI))
            .map_or(moment, TypedValue::Duration),
        _ => cut(moment, Precision::Second(3)),
    }
}

/// The code of a format, by what a column holds.
fn code(field: &OutputField, date: &str) -> Option<Format> {
    let second = match field.digits {
        0 => "ss".to_owned(),
        digits => format!("ss.{}", "0".repeat(usize::from(digits.min(3)))),
    };
    let code = match field.holds {
        Holds::Of(Kind::Date) => date.to_owned(),
        Holds::Of(Kind::DateTime | Kind::Instant) => format!("{date} hh:mm:{second}"),
        Holds::Of(Kind::Time) => format!("hh:mm:{second}"),
        Holds::Of(Kind::Duration) => format!("[h]:mm:{second}"),
        _ => return None,
    };
    Some(Format::new().set_num_format(code))
}

/// A name as sheets may have it.
fn sheet_name(name: &str) -> String {
    /// The longest name that a sheet may have, in UTF-16 (ECMA-376, Part 1, 18.2.19).
    const LONGEST: usize = 31;
    let allowed =
        |c: &char| !c.is_control() && !matches!(c, '[' | ']' | ':' | '*' | '?' | '/' | '\\');
    let mut room = LONGEST;
    let fits = |c: &char| {
        let left = room.checked_sub(c.len_utf16());
        room = left.unwrap_or(0);
        left.is_some()
    };
    let name: String = name.chars().filter(allowed).take_while(fits).collect();
    let name = name.trim_matches('\'').trim();
    if name.is_empty() { "Table".to_owned() } else { name.to_owned() }
}

impl Writer for Book {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        if self.next == ROWS {
            self.begin_sheet()?;
        }
        let mut finer = 0;
        let numbers: Vec<Option<f64>> = cells
            .iter()
            .zip(&self.clocks)
            .map(|(cell, clock)| match cell {
                Cell::Typed(moment) => {
                    let shown = to_millis(*moment);
                    let number = self.number(shown, *clock);
                    // What becomes text keeps all of its digits.
                    finer += u64::from(number.is_some() && shown != *moment);
                    number
                }
                _ => None,
            })
            .collect();
        self.finer += finer;
        let last = self.sheets - 1;
        let sheet = self.book.worksheet_from_index(last).map_err(refused)?;
        for (at, ((cell, number), field)) in cells.iter().zip(numbers).zip(&self.fields).enumerate()
        {
            let (row, at) = (self.next, at as u16);
            match (*cell, number) {
                (Cell::Missing, _) => continue,
                (Cell::Truth(truth), _) => sheet.write_boolean(row, at, truth),
                (Cell::Number(text), _) => match text.parse::<f64>() {
                    Ok(number) => sheet.write_number(row, at, number),
                    Err(_) => sheet.write_string(row, at, text),
                },
                (Cell::Typed(_), Some(number)) => match &self.formats[usize::from(at)] {
                    Some(format) => sheet.write_number_with_format(row, at, number, format),
                    None => sheet.write_string(row, at, cell.to_text(field.digits)),
                },
                (cell, _) => {
                    self.as_text += u64::from(
                        matches!(cell, Cell::Typed(_)) && self.formats[usize::from(at)].is_some(),
                    );
                    let text = cell.to_text(field.digits);
                    let short: String = text.chars().take(CHARACTERS).collect();
                    self.cut += u64::from(short.len() < text.len());
                    sheet.write_string(row, at, short)
                }
            }
            .map_err(refused)?;
        }
        self.next += 1;
        Ok(())
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        self.book.save_to_writer(&mut self.out).map_err(refused)?;
        self.out.finish()?;
        let mut notes = Vec::new();
        for (field, clock) in self.fields.iter().zip(&self.clocks) {
            if field.holds == Holds::Of(Kind::Instant) {
                notes.push(format!(
                    "{} shows clock times of {clock}, as sheets know no zones",
                    field.name
                ));
            }
        }
        if self.name != self.wanted {
            let (name, wanted) = (&self.name, &self.wanted);
            notes.push(format!("the sheet is called {name:?}: {wanted:?} is no name of a sheet"));
        }
        if self.sheets > 1 {
            notes.push(format!("{} sheets, since one has room for 1,048,575 rows", self.sheets));
        }
        if self.as_text > 0 {
            notes.push(format!(
                "{} {} text: sheets have no number for days before 1900-03-01, nor for lengths with months or \
                 below zero",
                self.as_text,
                if self.as_text == 1 { "value is" } else { "values are" }
            ));
        }
        if self.finer > 0 {
            notes.push(format!(
                "{} {} finer than the milliseconds that sheets show, and {} cut",
                self.finer,
                if self.finer == 1 { "value is" } else { "values are" },
                if self.finer == 1 { "is" } else { "are" }
            ));
        }
        if self.cut > 0 {
            notes.push(format!("{} texts were cut off at 32,767 characters", self.cut));
        }
        Ok(notes)
    }
}

fn refused(error: XlsxError) -> Undelivered {
    match error {
        XlsxError::IoError(error) => Undelivered::Io(error),
        error => Undelivered::Refused(error.to_string()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_sheets_are_allowed_ones() {
        assert_eq!(sheet_name("captures"), "captures");
        assert_eq!(sheet_name("a/b:c"), "abc");
        assert_eq!(sheet_name("'*'"), "Table");
        assert_eq!(sheet_name("a\u{0}b\u{1b}c\n"), "abc");
        assert_eq!(sheet_name(&"𠮷".repeat(40)).chars().count(), 15);
        assert_eq!(sheet_name(&"x".repeat(40)).len(), 31);
    }
}
