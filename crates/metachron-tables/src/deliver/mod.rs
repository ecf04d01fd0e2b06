//! One table, many writers: rows of typed cells become whatever the next program takes.
//!
//! Text that keeps its own format goes through [`crate::sink`], byte for byte; everything else comes here.

mod cell;
#[cfg(any(feature = "arrow", feature = "columnar"))]
mod count;
#[cfg(feature = "arrow")]
mod arrow;
mod csvw;
mod delimited;
mod json;
#[cfg(feature = "columnar")]
mod parquet;
#[cfg(feature = "postgres")]
mod postgres;
#[cfg(feature = "sqlite")]
mod sqlite;
mod sql;
#[cfg(feature = "workbook")]
mod workbook;

use std::fmt;
use std::io;
use std::path::Path;

use metachron_core::typed::Kind;

use crate::address::Secrets;
use crate::dialect::Delimiter;
use crate::place::Output;
use crate::stored::StoredType;

pub use cell::{Cell, CellRows};
pub use csvw::{Moments, describe};
#[cfg(feature = "workbook")]
pub use workbook::empty_book;

/// What the cells of a column are.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Holds {
    /// Text.
    Text,
    /// Typed values of a kind.
    Of(Kind),
    /// Numbers with a fraction.
    Number,
    /// Whole numbers of 64 bits.
    Whole,
    /// True or false.
    Truth,
}

/// A column to be written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OutputField {
    /// Its name.
    pub name: String,
    /// What its cells are.
    pub holds: Holds,
    /// The digits of a second that times are written with.
    pub digits: u8,
    /// Where the clocks stood or where moments are shown, if that is one place.
    pub zone: Option<String>,
    /// How a Parquet file has stored the column; another one stores it in the same way.
    pub stored: Option<StoredType>,
}

impl OutputField {
    /// A column of text.
    pub fn text(name: &str) -> OutputField {
        let (holds, digits) = (Holds::Text, 0);
        OutputField { name: name.to_owned(), holds, digits, zone: None, stored: None }
    }
}

/// The formats of typed tables.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Delivery {
    /// Delimited text (RFC 4180), with the names of the columns in its first line.
    Delimited(Delimiter),
    /// A JSON object a line.
    JsonLines,
    /// One JSON array of objects.
    JsonArray,
    /// Apache Parquet.
    Parquet,
    /// An Arrow IPC file.
    Arrow,
    /// A workbook (Office Open XML).
    Workbook,
    /// A table of a SQLite database.
    Sqlite,
    /// SQL: a table and its rows.
    Sql,
    /// A table of a PostgreSQL database.
    Postgres,
}

/// What becomes of a table that is there already.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Existing {
    /// Nothing is written.
    #[default]
    Stop,
    /// Rows are added to it.
    Append,
    /// It goes.
    Replace,
}

/// How a table is to be written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Wish {
    /// The format.
    pub delivery: Delivery,
    /// The name of the table or sheet.
    pub table: String,
    /// What becomes of a table of that name.
    pub existing: Existing,
    /// Whether a database holds times as seconds of Unix time.
    pub unix_times: bool,
    /// How a workbook shows dates: its own code for it.
    pub date_code: Option<String>,
    /// Passwords of servers.
    pub secrets: Secrets,
}

/// Why a table could not be written.
#[derive(Debug)]
pub enum Undelivered {
    /// The operating system refused.
    Io(io::Error),
    /// A database has a table of that name, and nobody has said what becomes of it.
    TableIsThere(String),
    /// Columns whose names are one to the format, as that does not tell capitals from small letters.
    SameNames(String),
    /// A cell that the format has no place for.
    Cell {
        /// The row of data, 1 for the first.
        row: u64,
        /// The name of the column.
        column: String,
        /// Why.
        why: CellError,
    },
    /// The format has no place for it.
    Refused(String),
}

impl fmt::Display for Undelivered {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Undelivered::Io(error) => write!(f, "{error}"),
            Undelivered::TableIsThere(table) => write!(f, "it has a table {table} already"),
            Undelivered::SameNames(name) => {
                write!(
                    f,
                    "columns whose names differ in capitals alone ({name:?}) are one to SQLite"
                )
            }
            Undelivered::Cell { row, column, why } => {
                write!(f, "row {row}, column {column:?}: {why}")
            }
            Undelivered::Refused(why) => f.write_str(why),
        }
    }
}

/// Why a format has no place for a cell.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum CellError {
    /// A moment beyond those that it reaches at this precision.
    OutOfReach {
        /// The moment.
        value: String,
        /// What reaches how far.
        reach: &'static str,
    },
    /// Something else.
    Other(String),
}

impl From<String> for CellError {
    fn from(why: String) -> CellError {
        CellError::Other(why)
    }
}

impl fmt::Display for CellError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            CellError::OutOfReach { value, reach } => write!(f, "{value} lies beyond what {reach}"),
            CellError::Other(why) => f.write_str(why),
        }
    }
}

impl std::error::Error for Undelivered {}

impl From<io::Error> for Undelivered {
    fn from(error: io::Error) -> Undelivered {
        Undelivered::Io(error)
    }
}

/// A table that is being written.
pub trait Writer {
    /// Adds a row: a cell for each field, of what the field holds.
    ///
    /// # Errors
    /// If the format has no place for a value, or the disk none for the row.
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered>;

    /// Completes the table; only now it has its name. Gives what is worth a word.
    ///
    /// # Errors
    /// If the last bytes cannot be written.
    fn finish(self: Box<Self>) -> Result<Vec<String>, Undelivered>;
}

/// Begins a table.
///
/// # Errors
/// If it cannot be created, or the format cannot hold a field.
pub fn writer(
    path: &Path,
    fields: Vec<OutputField>,
    wish: &Wish,
) -> Result<Box<dyn Writer>, Undelivered> {
    Ok(match wish.delivery {
        Delivery::Delimited(delimiter) => {
            Box::new(delimited::Delimited::new(Output::create(path)?, fields, delimiter)?)
        }
        Delivery::JsonLines => Box::new(json::Json::new(Output::create(path)?, fields, false)),
        Delivery::JsonArray => Box::new(json::Json::new(Output::create(path)?, fields, true)),
        Delivery::Sql => Box::new(sql::Sql::new(Output::create(path)?, fields, wish)?),
        #[cfg(feature = "columnar")]
        Delivery::Parquet => Box::new(parquet::Parquet::new(Output::create(path)?, fields)?),
        #[cfg(feature = "arrow")]
        Delivery::Arrow => Box::new(arrow::Arrow::new(Output::create(path)?, fields)?),
        #[cfg(feature = "workbook")]
        Delivery::Workbook => Box::new(workbook::Book::new(Output::create(path)?, fields, wish)?),
        #[cfg(feature = "sqlite")]
        Delivery::Sqlite => Box::new(sqlite::Database::new(path, fields, wish)?),
        #[cfg(feature = "postgres")]
        Delivery::Postgres => Box::new(postgres::Server::new(path, fields, wish, &wish.secrets)?),
        #[allow(unreachable_patterns)]
        _ => {
            let why =
                "this program was built without the format; cargo has a feature for it".to_owned();
            return Err(Undelivered::Refused(why));
        }
    })
}
