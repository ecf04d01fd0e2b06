//! SQLite databases: a table, or what a query gives.

use std::path::{Path, PathBuf};

use rusqlite::types::ValueRef;
use rusqlite::{Connection, OpenFlags};

use crate::address::quoted;
use crate::cells::{CellRow, TypedCell};
use crate::contain::contained;
use crate::error::TableError;
use crate::wanted::Selected;

/// A table of a database, or a query.
#[derive(Debug, Clone)]
pub struct Selection {
    path: PathBuf,
    query: String,
    /// What was selected.
    pub selected: Selected,
    /// The names of the other tables.
    pub others: Vec<String>,
}

/// Whether a file that begins so is a SQLite database (SQLite file format, 1.3).
pub fn is_database(begin: &[u8]) -> bool {
    begin.starts_with(b"SQLite for")
}

impl Selection {
    /// Opens a database read-only; also gives the names of the columns. Without a table or query
    /// it is the only table, or the first.
    ///
    /// # Errors
    /// If it is no database, has no such table, or the query is none.
    pub fn open(
        path: &Path,
        said: Option<&Selected>,
    ) -> Result<(Selection, Vec<String>), TableError> {
        let database = connect(path)?;
        let tables = tables(&database)?;
        let selected = match said {
            Some(Selected::Query(query)) => Selected::Query(query.clone()),
            Some(Selected::Table(said)) => Selected::Table(named(&tables, said)?),
            None => {
                let first = tables.first().cloned();
                let none = || TableError::Database("it holds no table".to_owned());
                Selected::Table(first.ok_or_else(none)?)
            }
        };
        let (query, table) = match &selected {
            Selected::Query(query) => (query.clone(), None),
            Selected::Table(name) => (select(name), Some(name)),
        };
        let statement = database.prepare(&query).map_err(refused)?;
        if !statement.readonly() {
            let why = "the query would change the database; it must only read".to_owned();
            return Err(TableError::Database(why));
        }
        // The library relies on names' being text.
        let names = contained(|| statement.column_names().map(str::to_owned).collect());
        let no_text = || TableError::Damaged("the name of a column is no text".to_owned());
        let names = names.ok_or_else(no_text)?;
        let others = tables.iter().filter(|other| Some(*other) != table).cloned().collect();
        Ok((Selection { path: path.to_owned(), query, selected, others }, names))
    }

    /// Goes through the rows; the first is 1.
    ///
    /// # Errors
    /// If the database cannot be read, or `take` fails.
    pub fn each_row<E>(
        &self,
        fail: impl Fn(TableError) -> E,
        mut take: impl FnMut(&CellRow) -> Result<(), E>,
    ) -> Result<(), E> {
        let database = connect(&self.path).map_err(&fail)?;
        let refused = |error| fail(refused(error));
        let mut statement = database.prepare(&self.query).map_err(refused)?;
        let width = statement.column_count();
        let mut rows = statement.query([]).map_err(refused)?;
        let mut number = 0;
        while let Some(row) = rows.next().map_err(refused)? {
            number += 1;
            let cells = (0..width)
                .map(|column| row.get_ref(column).map(cell))
                .collect::<Result<_, _>>()
                .map_err(refused)?;
            take(&CellRow { number, cells })?;
        }
        Ok(())
    }
}

fn connect(path: &Path) -> Result<Connection, TableError> {
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    Connection::open_with_flags(path, flags).map_err(refused)
}

fn tables(database: &Connection) -> Result<Vec<String>, TableError> {
    let mut statement = database
        .prepare(
            "SELECT name FROM sqlite_schema WHERE type IN ('table', 'view') \
             AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY rowid",
        )
        .map_err(refused)?;
    let names = statement.query_map([], |row| row.get(0)).map_err(refused)?;
    names.collect::<Result<_, _>>().map_err(refused)
}

fn named(tables: &[String], said: &str) -> Result<String, TableError> {
    tables.iter().find(|table| *table == said).cloned().ok_or_else(|| {
        let near = metachron_core::error::nearest(said, tables.iter().map(String::as_str));
        let hint = match near {
            Some(near) => format!("did you mean {near:?}?"),
            None => format!("it has {}", tables.join(", ")),
        };
        TableError::Database(format!("it has no table {said:?}; {hint}"))
    })
}

fn select(table: &str) -> String {
    format!("SELECT * FROM {}", quoted(table))
}

fn refused(error: rusqlite::Error) -> TableError {
    TableError::Database(error.to_string())
}

fn cell(value: ValueRef<'_>) -> TypedCell {
    match value {
        ValueRef::Null => TypedCell::Empty,
        ValueRef::Integer(number) => TypedCell::Number(number.to_string()),
        ValueRef::Real(number) => TypedCell::Number(number.to_string()),
        ValueRef::Text(text) | ValueRef::Blob(text) => TypedCell::of_bytes(text),
    }
}
