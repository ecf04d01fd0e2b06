//! Takes a file in: what it is, and its rows as often as they are needed.

use std::path::{Path, PathBuf};

use metachron_tables::delimited::Record;
use metachron_tables::dialect::Delimiter;
use metachron_tables::error::TableError;
use metachron_tables::header::Header;
use metachron_tables::open::Source;

use crate::message::Failure;

/// A table that was recognised.
#[derive(Debug)]
pub struct Intake {
    /// The path as it was given.
    pub path: PathBuf,
    source: Source,
    /// What stands between fields.
    pub delimiter: Delimiter,
    /// The columns.
    pub header: Header,
    /// Whether the file begins with a byte order mark.
    pub has_bom: bool,
}

/// What was met on the way through the rows.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Lines {
    /// Rows of data.
    pub rows: u64,
    /// Empty lines, which are no rows, and the first of them.
    pub blank: Met,
    /// Rows with fewer cells than the header.
    pub short: Met,
    /// Rows with more cells than the header.
    pub long: Met,
}

/// How often something was met, and in which line first.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Met {
    /// How often.
    pub count: u64,
    /// The first line, 0 if it was never met.
    pub line: u64,
}

impl Met {
    /// How often and where, if ever; the words for one and for many differ.
    pub fn says(self, one: &str, many: &str) -> Option<String> {
        match self.count {
            0 => None,
            1 => Some(format!("1 {one} (line {})", self.line)),
            count => {
                let count = metachron_core::text::grouped(count);
                Some(format!("{count} {many} (first in line {})", self.line))
            }
        }
    }

    fn meet(&mut self, line: u64) {
        if self.count == 0 {
            self.line = line;
        }
        self.count += 1;
    }
}

impl Intake {
    /// Opens a file and finds out how it is written, unless the delimiter is given.
    pub fn open(path: &Path, delimiter: Option<Delimiter>) -> Result<Intake, Failure> {
        let failed = |error| Failure::reading(path, &error);
        let source = Source::open(path).map_err(failed)?;
        let recognised = source.recognise().map_err(failed)?;
        let delimiter = delimiter.unwrap_or(recognised);
        let mut records = source.records(delimiter).map_err(failed)?;
        let header = match records.next_record().map_err(failed)? {
            Some(record) if !record.is_blank() => Header::of(&record),
            _ => {
                return Err(Failure::could_not(format!(
                    "{}: line 1 is empty, but the names of the columns must stand there",
                    crate::message::shown(path)
                )));
            }
        };
        let has_bom = records.has_bom();
        Ok(Intake { path: path.to_owned(), source, delimiter, header, has_bom })
    }

    /// Where a column stands, or which was probably meant.
    pub fn position(&self, name: &str) -> Result<usize, Failure> {
        self.header.position(name).ok_or_else(|| {
            let names = self.header.names.iter().map(String::as_str);
            let near = metachron_core::error::nearest(name, names);
            let file = crate::message::shown(&self.path);
            let name = crate::message::quoted(name);
            Failure::usage(match near {
                Some(near) => {
                    let near = crate::message::quoted(near);
                    format!("{file} has no column {name}; did you mean {near}?")
                }
                None => format!("{file} has no column {name}; metachron survey {file} lists them"),
            })
        })
    }

    /// Goes through the header and the rows; the header comes as row 0.
    pub fn each_record(
        &self,
        mut take: impl FnMut(u64, &Record<'_>) -> Result<(), Failure>,
    ) -> Result<Lines, Failure> {
        let failed = |error: TableError| Failure::reading(&self.path, &error);
        let mut records = self.source.records(self.delimiter).map_err(failed)?;
        let width = self.header.names.len();
        let mut lines = Lines::default();
        if let Some(header) = records.next_record().map_err(failed)? {
            take(0, &header)?;
        }
        while let Some(record) = records.next_record().map_err(failed)? {
            // With a single column an empty line is a row with an empty cell.
            if width > 1 && record.is_blank() {
                lines.blank.meet(record.line());
                continue;
            }
            lines.rows += 1;
            match record.field_count() {
                cells if cells < width => lines.short.meet(record.line()),
                cells if cells > width => lines.long.meet(record.line()),
                _ => {}
            }
            take(lines.rows, &record)?;
        }
        Ok(lines)
    }
}
