//! A table of a SQLite database, in one transaction (Date And Time Functions: times are ISO 8601 text, or integers
//! of Unix time).

use std::io;
use std::path::{Path, PathBuf};

use metachron_core::typed::{Kind, TypedValue};
use rusqlite::types::Value;
use rusqlite::{Connection, params_from_iter};
use tempfile::NamedTempFile;

use super::{Cell, Existing, Holds, OutputField, Undelivered, Wish, Writer};
use crate::address::quoted;

pub(super) struct Database {
    /// Where the database is made; none where it was there already.
    made: Option<(NamedTempFile, PathBuf)>,
    database: Connection,
    fields: Vec<OutputField>,
    insert: String,
    unix_times: bool,
    added: bool,
}

impl Database {
    pub(super) fn new(
        path: &Path,
        fields: Vec<OutputField>,
        wish: &Wish,
    ) -> Result<Database, Undelivered> {
        if path == Path::new("-") {
            let why = "a database cannot go to standard output; name a file with -o".to_owned();
            return Err(Undelivered::Refused(why));
        }
        let mut names: Vec<String> = fields.iter().map(|f| f.name.to_lowercase()).collect();
        names.sort();
        if let Some(pair) = names.windows(2).find(|pair| pair[0] == pair[1]) {
            return Err(Undelivered::SameNames(pair[0].clone()));
        }
        let made = match path.exists() {
            true => None,
            false => {
                let folder = path.parent().filter(|folder| *folder != Path::new(""));
                let folder = folder.unwrap_or(Path::new("."));
                let mut builder = tempfile::Builder::new();
                let file = builder.prefix(".metachron-").suffix(".part").tempfile_in(folder)?;
                Some((file, path.to_owned()))
            }
        };
        let place = made.as_ref().map_or(path, |(file, _)| file.path());
        let database = Connection::open(place).map_err(refused)?;
        database.execute_batch("BEGIN IMMEDIATE").map_err(refused)?;
        let table = quoted(&wish.table);
        let there = columns(&database, &table)?;
        match (wish.existing, there.is_empty()) {
            (Existing::Stop, false) => {
                return Err(Undelivered::TableIsThere(table.clone()));
            }
            (Existing::Append, false) => {
                let lacking = fields.iter().find(|field| !there.contains(&field.name));
                if let Some(field) = lacking {
                    return Err(Undelivered::Refused(format!(
                        "its table {table} has no column {:?}, so rows cannot be added to it",
                        field.name
                    )));
                }
            }
            (existing, _) => {
                if existing == Existing::Replace {
                    let drop = format!("DROP TABLE IF EXISTS {table}");
                    database.execute_batch(&drop).map_err(refused)?;
                }
                let types = fields.iter().map(|field| {
                    format!("{} {}", quoted(&field.name), type_of(field, wish.unix_times))
                });
                let types: Vec<String> = types.collect();
                let create = format!("CREATE TABLE {table} ({})", types.join(", "));
                database.execute_batch(&create).map_err(refused)?;
            }
        }
        let names: Vec<String> = fields.iter().map(|field| quoted(&field.name)).collect();
        let marks = vec!["?"; fields.len()].join(", ");
        let insert = format!("INSERT INTO {table} ({}) VALUES ({marks})", names.join(", "));
        let added = wish.existing == Existing::Append && !there.is_empty();
        Ok(Database { made, database, fields, insert, unix_times: wish.unix_times, added })
    }
}

/// The names of a table's columns; none if there is no such table.
fn columns(database: &Connection, table: &str) -> Result<Vec<String>, Undelivered> {
    let mut statement =
        database.prepare(&format!("PRAGMA table_info({table})")).map_err(refused)?;
    let names = statement.query_map([], |row| row.get(1)).map_err(refused)?;
    names.collect::<Result<_, _>>().map_err(refused)
}

fn type_of(field: &OutputField, unix_times: bool) -> &'static str {
    match field.holds {
        Holds::Of(Kind::DateTime | Kind::Instant) if unix_times => "INTEGER",
        Holds::Of(Kind::Date) => "DATE",
        Holds::Of(Kind::Time) => "TIME",
        Holds::Of(Kind::DateTime | Kind::Instant) => "TIMESTAMP",
        Holds::Number => "REAL",
        Holds::Whole | Holds::Truth => "INTEGER",
        Holds::Text | Holds::Of(_) => "TEXT",
    }
}

fn value(cell: Cell<'_>, field: &OutputField, unix_times: bool) -> Value {
    // The second that has begun, also before 1970.
    let second =
        |instant: jiff::Timestamp| instant.as_second() - i64::from(instant.subsec_nanosecond() < 0);
    let unix = |moment: TypedValue| match moment {
        TypedValue::Instant(instant) if unix_times => Some(second(instant)),
        // What a clock showed, counted as if it had been one of UTC.
        TypedValue::DateTime(clock) if unix_times => {
            jiff::tz::Offset::UTC.to_timestamp(clock).ok().map(second)
        }
        _ => None,
    };
    match cell {
        Cell::Missing => Value::Null,
        Cell::Truth(truth) => Value::Integer(i64::from(truth)),
        Cell::Number(number) => match (number.parse::<i64>(), number.parse::<f64>()) {
            (Ok(number), _) => Value::Integer(number),
            (_, Ok(number)) => Value::Real(number),
            _ => Value::Text(number.to_owned()),
        },
        Cell::Typed(moment) => match unix(moment) {
            Some(seconds) => Value::Integer(seconds),
            None => Value::Text(cell.to_text(field.digits).into_owned()),
        },
        Cell::Text(text) => Value::Text(text.to_owned()),
        Cell::Bytes(bytes) => Value::Blob(bytes.to_vec()),
    }
}

impl Writer for Database {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        let mut statement = self.database.prepare_cached(&self.insert).map_err(refused)?;
        let values = cells
            .iter()
            .zip(&self.fields)
            .map(|(cell, field)| value(*cell, field, self.unix_times));
        statement.execute(params_from_iter(values)).map_err(refused)?;
        Ok(())
    }

    fn finish(self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        let Database { made, database, added, .. } = *self;
        database.execute_batch("COMMIT").map_err(refused)?;
        database.close().map_err(|(_, error)| refused(error))?;
        if let Some((file, target)) = made {
            file.as_file().sync_all()?;
            file.persist_noclobber(target).map_err(|error| match error.error.kind() {
                io::ErrorKind::AlreadyExists => Undelivered::Refused(
                    "another run has made it meanwhile, and nothing was added to it; run this again".to_owned(),
                ),
                _ => Undelivered::Io(error.error),
            })?;
        }
        Ok(if added { vec!["rows were added to the table".to_owned()] } else { Vec::new() })
    }
}

fn refused(error: rusqlite::Error) -> Undelivered {
    Undelivered::Refused(error.to_string())
}
