//! Takes a file in: what it is, and its rows as often as they are needed.

use std::path::{Path, PathBuf};

use metachron_tables::error::TableError;
use metachron_tables::table::{Lines, Met, Row, Table};
use metachron_tables::wanted::Wanted;

use crate::message::{Failure, quoted, shown};

/// A table that was recognised.
#[derive(Debug)]
pub struct Intake {
    /// The path as it was given.
    pub path: PathBuf,
    /// The table.
    pub table: Table,
}

/// How often something was met and where, if ever; the words for one and for many differ.
pub fn says(met: Met, one: &str, many: &str) -> Option<String> {
    match met.count {
        0 => None,
        1 => Some(format!("1 {one} (line {})", met.line)),
        count => {
            let count = metachron_core::text::grouped(count);
            Some(format!("{count} {many} (first in line {})", met.line))
        }
    }
}

impl Intake {
    /// Opens a file and finds out how it is written, as far as that is not said.
    pub fn open(path: &Path, wanted: &Wanted) -> Result<Intake, Failure> {
        let table = Table::open(path, wanted).map_err(|error| Failure::reading(path, &error))?;
        Ok(Intake { path: path.to_owned(), table })
    }

    /// The names of the columns.
    pub fn names(&self) -> &[String] {
        &self.table.header.names
    }

    /// Where a column stands, or which was probably meant.
    pub fn position(&self, name: &str) -> Result<usize, Failure> {
        self.table.header.position(name).ok_or_else(|| {
            let names = self.names().iter().map(String::as_str);
            let near = metachron_core::error::nearest(name, names);
            let file = shown(&self.path);
            let name = quoted(name);
            Failure::usage(match near {
                Some(near) => {
                    format!("{file} has no column {name}; did you mean {}?", quoted(near))
                }
                None => format!("{file} has no column {name}; metachron survey {file} lists them"),
            })
        })
    }

    /// What the content of the file comes to, as a readings file has it: `sha256:…`.
    pub fn digest(&self) -> Result<String, Failure> {
        let digest = self.table.source().digest();
        digest.map_err(|error| Failure::reading(&self.path, &error))
    }

    /// Goes through the rows, the first of which is 1: all of them, or only so many. Gives what was met, and whether
    /// there are more.
    pub fn each_row(
        &self,
        first: Option<u64>,
        mut take: impl FnMut(u64, &Row<'_>) -> Result<(), Failure>,
    ) -> Result<(Lines, bool), Failure> {
        enum Stop {
            Enough,
            Failed(Failure),
        }
        let most = first.unwrap_or(u64::MAX);
        let failed = |error: TableError| Stop::Failed(Failure::reading(&self.path, &error));
        let read = self.table.each_row(failed, |number, row| {
            if number > most {
                return Err(Stop::Enough);
            }
            take(number, row).map_err(Stop::Failed)
        });
        match read {
            Ok(lines) => Ok((lines, false)),
            Err(Stop::Enough) => Ok((Lines { rows: most, ..Lines::default() }, true)),
            Err(Stop::Failed(failure)) => Err(failure),
        }
    }
}
