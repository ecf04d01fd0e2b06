//! What can be wrong with a table, and where.

use std::fmt;
use std::io;

use metachron_core::text::grouped;

/// A table that cannot be read.
#[derive(Debug)]
pub enum TableError {
    /// The operating system refused.
    Io(io::Error),
    /// The name is that of a folder.
    Folder,
    /// There is not a single byte.
    Empty,
    /// Bytes that are no UTF-8.
    NotUtf8 {
        /// The line.
        line: u64,
        /// The column of the table, 1 for the first.
        column: usize,
        /// The first byte that is wrong.
        byte: u8,
    },
    /// A workbook that cannot be used, and why.
    Workbook(String),
    /// A database that cannot be used, and why.
    Database(String),
    /// A database with several tables, of which none is named.
    SeveralTables(Vec<String>),
    /// A file that is something else than a table.
    NoTable(&'static str),
    /// A compressed or structured file that breaks its own format.
    Damaged(String),
    /// Bytes that the encoding does not have.
    Undecodable {
        /// The line.
        line: u64,
        /// The character in the line.
        character: u64,
        /// The name of the encoding.
        encoding: &'static str,
    },
    /// A file that has no more lines than are to be passed over.
    FewerLines {
        /// How many it has.
        lines: u64,
        /// How many are to be passed over.
        passed: u64,
    },
    /// The line where the names of the columns should stand has none.
    NoHeader {
        /// The line.
        line: u64,
    },
    /// Text that is not the JSON it should be.
    NotJson {
        /// The line.
        line: u64,
        /// What is wrong with it.
        why: String,
    },
    /// A file that is not what it was when it was looked at before.
    Changed,
    /// A quoted field that is never closed.
    UnclosedQuote {
        /// The line where the field begins.
        line: u64,
        /// The column of the table, 1 for the first.
        column: usize,
    },
    /// A table that would take more memory than this, in bytes.
    TooLarge(usize),
    /// A record of more columns than a table has.
    TooWide {
        /// The line where it begins.
        line: u64,
        /// The most columns that there are.
        most: usize,
    },
    /// A record that is longer than anyone means it to be.
    TooLong {
        /// The line where it begins.
        line: u64,
        /// The most bytes that a record may have.
        limit: usize,
    },
}

impl fmt::Display for TableError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            TableError::Io(error) => match error.kind() {
                io::ErrorKind::NotFound => write!(f, "there is no such file"),
                io::ErrorKind::PermissionDenied => write!(f, "you may not read it"),
                _ => write!(f, "{error}"),
            },
            TableError::Folder => write!(f, "is a folder; name a file in it"),
            TableError::Empty => write!(f, "is empty"),
            TableError::NotUtf8 { line, column, byte } => {
                write!(f, "line {line}, column {column} is not UTF-8 (byte 0x{byte:02X})")
            }
            TableError::Undecodable { line, character, encoding } => {
                write!(f, "line {line}, character {character} is not {encoding}")
            }
            TableError::Workbook(why) => write!(f, "the workbook cannot be read: {why}"),
            TableError::Database(why) => write!(f, "the database cannot be read: {why}"),
            TableError::SeveralTables(tables) => {
                write!(
                    f,
                    "the database cannot be read without a name: it has {}",
                    tables.join(", ")
                )
            }
            TableError::NoTable(what) => write!(f, "{what}"),
            TableError::Damaged(why) => write!(f, "is damaged or cut off ({why})"),
            TableError::FewerLines { lines, passed } => {
                write!(f, "has {lines} lines, and {passed} of them were to be passed over")
            }
            TableError::NoHeader { line } => {
                write!(f, "line {line} is empty, but the names of the columns must stand there")
            }
            TableError::NotJson { line, why } => write!(f, "line {line} is no valid JSON: {why}"),
            TableError::Changed => {
                write!(
                    f,
                    "has changed since it was looked at; run this again when it no longer does"
                )
            }
            TableError::UnclosedQuote { line, column } => write!(
                f,
                "the quoted field that begins in line {line}, column {column} is never closed"
            ),
            TableError::TooLarge(most) => write!(
                f,
                "its table takes more than {} GB of memory; delimited text of any size can be read",
                most / 1_000_000_000
            ),
            TableError::TooWide { line, most } => write!(
                f,
                "the record that begins in line {line} has more than {} columns, and no table has so many",
                grouped(*most as u64)
            ),
            TableError::TooLong { line, limit } => write!(
                f,
                "the record that begins in line {line} is longer than {} MB; \
                 a quotation mark there may never be closed",
                limit / 1_000_000
            ),
        }
    }
}

impl std::error::Error for TableError {}

impl From<io::Error> for TableError {
    fn from(error: io::Error) -> TableError {
        // What a decoder found on the way is passed through the reader's error.
        error.downcast().unwrap_or_else(|error| match error.kind() {
            io::ErrorKind::UnexpectedEof
            | io::ErrorKind::InvalidData
            | io::ErrorKind::InvalidInput => TableError::Damaged(error.to_string()),
            _ => TableError::Io(error),
        })
    }
}
