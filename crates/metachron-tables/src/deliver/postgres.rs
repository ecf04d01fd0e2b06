//! A table of a PostgreSQL database, by COPY in one transaction.

use std::borrow::Cow;
use std::io::Write;
use std::path::Path;

use jiff::civil::Date;
use metachron_core::typed::{Kind, TypedValue};
use postgres::Client;

use super::{Cell, Existing, Holds, OutputField, Undelivered, Wish, Writer};
use crate::address::{Address, Secrets, quoted};
use crate::error::TableError;
use crate::postgres::{connect, says};

/// Bytes that are gathered before they are sent.
const CHUNK: usize = 1024 * 1024;

pub(super) struct Server {
    client: Client,
    copy: String,
    rows: String,
    /// Values that are finer than the server keeps.
    cut: u64,
}

impl Server {
    pub(super) fn new(
        address: &Path,
        fields: Vec<OutputField>,
        wish: &Wish,
        secrets: &Secrets,
    ) -> Result<Server, Undelivered> {
        let unreached = |error| match error {
            TableError::Database(why) => Undelivered::Refused(why),
            other => Undelivered::Refused(other.to_string()),
        };
        let no_address = || Undelivered::Refused("it is no address".to_owned());
        let address = Address::of(address).ok_or_else(no_address)?;
        let mut client = connect(&address, secrets).map_err(unreached)?;
        let table = quoted(&wish.table);
        client.batch_execute("BEGIN").map_err(refused)?;
        let there: bool = client
            .query_one("SELECT to_regclass($1) IS NOT NULL", &[&table])
            .map_err(refused)?
            .get(0);
        match (wish.existing, there) {
            (Existing::Stop, true) => {
                return Err(Undelivered::TableIsThere(table.clone()));
            }
            (Existing::Append, true) => {}
            (existing, _) => {
                if existing == Existing::Replace {
                    client
                        .batch_execute(&format!("DROP TABLE IF EXISTS {table}"))
                        .map_err(refused)?;
                }
                let columns: Vec<String> = fields
                    .iter()
                    .map(|field| format!("{} {}", quoted(&field.name), type_of(field)))
                    .collect();
                let create = format!("CREATE TABLE {table} ({})", columns.join(", "));
                client.batch_execute(&create).map_err(refused)?;
            }
        }
        let names: Vec<String> = fields.iter().map(|field| quoted(&field.name)).collect();
        let copy = format!("COPY {table} ({}) FROM STDIN", names.join(", "));
        Ok(Server { client, copy, rows: String::new(), cut: 0 })
    }

    fn send(&mut self) -> Result<(), Undelivered> {
        if self.rows.is_empty() {
            return Ok(());
        }
        let mut copy = self.client.copy_in(self.copy.as_str()).map_err(refused)?;
        copy.write_all(self.rows.as_bytes())?;
        copy.finish().map_err(refused)?;
        self.rows.clear();
        Ok(())
    }
}

fn type_of(field: &OutputField) -> &'static str {
    match field.holds {
        Holds::Text => "text",
        Holds::Number => "double precision",
        Holds::Whole => "bigint",
        Holds::Truth => "boolean",
        Holds::Of(Kind::Date) => "date",
        Holds::Of(Kind::Time) => "time",
        Holds::Of(Kind::DateTime) => "timestamp",
        Holds::Of(Kind::Instant) => "timestamptz",
        Holds::Of(Kind::Duration) => "interval",
        Holds::Of(_) => "text",
    }
}

/// A day as the server reads it: years before the first count back from 1 BC.
fn dated(date: Date, rest: &str) -> String {
    match date.year() {
        1.. => format!("{:04}-{:02}-{:02}{rest}", date.year(), date.month(), date.day()),
        year => {
            format!("{:04}-{:02}-{:02}{rest} BC", 1 - i32::from(year), date.month(), date.day())
        }
    }
}

/// A cell as COPY has it in text (PostgreSQL, COPY, text format).
fn copied(cell: Cell<'_>, rows: &mut String) {
    let clock = |moment: TypedValue| {
        let text = moment.to_string();
        text.split_once('T').map_or(String::new(), |(_, clock)| format!(" {clock}"))
    };
    let text: Cow<'_, str> = match cell {
        Cell::Missing => return rows.push_str("\\N"),
        Cell::Typed(moment) => match moment {
            TypedValue::Date(date) => dated(date, "").into(),
            TypedValue::DateTime(own) => dated(own.date(), &clock(moment)).into(),
            TypedValue::Instant(_) => match moment.date() {
                Some(date) => dated(date, &clock(moment)).into(),
                None => "".into(),
            },
            TypedValue::Duration(own) => {
                let micros = own.nanos() / 1_000;
                format!("{} months {} microseconds", own.months(), micros).into()
            }
            other => other.to_string().into(),
        },
        cell => cell.to_text(9),
    };
    for c in text.chars() {
        match c {
            '\\' => rows.push_str("\\\\"),
            '\t' => rows.push_str("\\t"),
            '\n' => rows.push_str("\\n"),
            '\r' => rows.push_str("\\r"),
            c => rows.push(c),
        }
    }
}

impl Writer for Server {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        for (at, cell) in cells.iter().enumerate() {
            if at > 0 {
                self.rows.push('\t');
            }
            self.cut += u64::from(matches!(cell, Cell::Typed(own) if own.fraction_digits() > 6));
            copied(*cell, &mut self.rows);
        }
        self.rows.push('\n');
        if self.rows.len() > CHUNK { self.send() } else { Ok(()) }
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        self.send()?;
        self.client.batch_execute("COMMIT").map_err(refused)?;
        Ok(match self.cut {
            0 => Vec::new(),
            cut => {
                vec![format!("{cut} values are finer than the microseconds that the server keeps")]
            }
        })
    }
}

fn refused(error: postgres::Error) -> Undelivered {
    Undelivered::Refused(says(&error))
}
