//! What would help where a table cannot be read or written.

use std::io;

use metachron_tables::deliver::{CellError, Undelivered};
use metachron_tables::encoding::{Charset, Unencodable};
use metachron_tables::error::TableError;
use metachron_tables::place::NoTemporaryFile;

/// Why a table cannot be read, and what would help.
pub fn unreadable_table(error: &TableError) -> String {
    match error {
        TableError::NotUtf8 { .. } | TableError::Undecodable { .. } => {
            format!("{error}; name another --encoding")
        }
        TableError::NoHeader { .. } => format!("{error}; --header-line says where they stand"),
        TableError::TooLong { .. } => format!("{error} (--max-record allows more)"),
        TableError::Io(error) if no_room(error).is_some() => no_room(error).unwrap_or_default(),
        TableError::SeveralTables(tables) => format!(
            "the database cannot be read: name what to read by --table or --query; it has {}",
            tables.join(", ")
        ),
        _ => error.to_string(),
    }
}

/// Why a table cannot be written in its format, and what would help.
pub fn undelivered(error: &Undelivered) -> String {
    match error {
        Undelivered::TableIsThere(_) => format!(
            "{error}; --existing-table append adds to it, replace makes it anew, --into-table NAME names another"
        ),
        Undelivered::SameNames(_) => {
            format!("{error}; --into NAME calls a typed column otherwise")
        }
        Undelivered::Cell { why: CellError::OutOfReach { .. }, .. } => {
            format!("{error}; --precision microseconds reaches all years")
        }
        _ => error.to_string(),
    }
}

/// What is said where there is no place for temporary files.
fn no_room(error: &io::Error) -> Option<String> {
    let error = error.get_ref()?.downcast_ref::<NoTemporaryFile>()?;
    let folder = error.folder.display();
    let why = match error.kind {
        io::ErrorKind::NotFound => "there is no such folder".to_owned(),
        io::ErrorKind::PermissionDenied => "you may not write there".to_owned(),
        kind => kind.to_string(),
    };
    Some(format!("temporary files cannot be kept in {folder}: {why}; TMPDIR names another folder"))
}

/// Why an output cannot be written, and what would help.
pub fn unwritten(error: &io::Error) -> String {
    if let Some(text) = no_room(error) {
        return text;
    }
    match error.kind() {
        io::ErrorKind::PermissionDenied => "you may not write there".to_owned(),
        io::ErrorKind::NotFound => "its folder does not exist".to_owned(),
        io::ErrorKind::IsADirectory => "is a folder; name a file in it".to_owned(),
        _ => match error.get_ref().is_some_and(|source| source.is::<Unencodable>()) {
            true => format!("{error}; --output-encoding utf-8 has all"),
            false => error.to_string(),
        },
    }
}

/// An encoding, and what would help if it is only likely.
pub fn encoding(charset: Charset) -> String {
    match charset.is_guess {
        true => format!("{} (likely; --encoding overrides)", charset.name()),
        false => charset.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_would_help_is_said() {
        let moment =
            CellError::OutOfReach { value: "0001-01-01".to_owned(), reach: "64 bits reach" };
        for (said, expected) in [
            (
                unreadable_table(&TableError::NotUtf8 { line: 2, column: 3, byte: 0xE5 }),
                "line 2, column 3 is not UTF-8 (byte 0xE5); name another --encoding",
            ),
            (
                unreadable_table(&TableError::NoHeader { line: 4 }),
                "line 4 is empty, but the names of the columns must stand there; --header-line says where they stand",
            ),
            (
                unreadable_table(&TableError::SeveralTables(vec!["nets".into(), "rings".into()])),
                "the database cannot be read: name what to read by --table or --query; it has nets, rings",
            ),
            (
                undelivered(&Undelivered::TableIsThere("\"rings\"".to_owned())),
                "it has a table \"rings\" already; --existing-table append adds to it, replace makes it anew, \
                 --into-table NAME names another",
            ),
            (
                undelivered(&Undelivered::Cell { row: 2, column: "at".to_owned(), why: moment }),
                "row 2, column \"at\": 0001-01-01 lies beyond what 64 bits reach; --precision microseconds reaches \
                 all years",
            ),
            (
                unwritten(&io::Error::other(Unencodable {
                    charset: "windows-1252",
                    character: '年',
                })),
                "windows-1252 has no character '年'; --output-encoding utf-8 has all",
            ),
        ] {
            assert_eq!(said, expected);
        }
    }
}
