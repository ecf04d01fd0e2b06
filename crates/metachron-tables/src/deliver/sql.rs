//! SQL: a table and its rows, with the types and typed literals of the standard (ISO/IEC 9075-2, clauses 5.3
//! and 6.1).

use std::io::Write;

use metachron_core::typed::{Kind, TypedValue};

use super::{Cell, Existing, Holds, OutputField, Undelivered, Wish, Writer};
use crate::address::quoted;
use crate::place::Output;

/// Rows of one statement.
const ROWS: u64 = 500;

pub(super) struct Sql {
    out: Output,
    fields: Vec<OutputField>,
    table: String,
    rows: u64,
    line: String,
}

/// A text as SQL has it.
fn literal(text: &str) -> String {
    format!("'{}'", text.replace('\'', "''"))
}

impl Sql {
    pub(super) fn new(
        mut out: Output,
        fields: Vec<OutputField>,
        wish: &Wish,
    ) -> Result<Sql, Undelivered> {
        let table = quoted(&wish.table);
        if wish.existing == Existing::Replace {
            writeln!(out, "DROP TABLE IF EXISTS {table};")?;
        }
        if wish.existing != Existing::Append {
            let columns: Vec<String> = fields
                .iter()
                .map(|field| format!("  {} {}", quoted(&field.name), type_of(field)))
                .collect();
            writeln!(out, "CREATE TABLE {table} (\n{}\n);", columns.join(",\n"))?;
        }
        Ok(Sql { out, fields, table, rows: 0, line: String::new() })
    }
}

/// The type of a column.
fn type_of(field: &OutputField) -> String {
    let digits = if field.digits > 0 { format!("({})", field.digits) } else { String::new() };
    match field.holds {
        Holds::Text => "VARCHAR".to_owned(),
        Holds::Number => "DOUBLE PRECISION".to_owned(),
        Holds::Whole => "BIGINT".to_owned(),
        Holds::Truth => "BOOLEAN".to_owned(),
        Holds::Of(Kind::Date) => "DATE".to_owned(),
        Holds::Of(Kind::Time) => format!("TIME{digits}"),
        Holds::Of(Kind::DateTime) => format!("TIMESTAMP{digits}"),
        Holds::Of(Kind::Instant) => format!("TIMESTAMP{digits} WITH TIME ZONE"),
        // Months and seconds do not mix in an interval of the standard.
        Holds::Of(_) => "VARCHAR".to_owned(),
    }
}

/// A cell as a typed literal.
fn value(cell: Cell<'_>, field: &OutputField) -> String {
    let text = cell.to_text(field.digits);
    match cell {
        Cell::Missing => "NULL".to_owned(),
        Cell::Truth(true) => "TRUE".to_owned(),
        Cell::Truth(false) => "FALSE".to_owned(),
        Cell::Number(number) => number.to_owned(),
        Cell::Typed(TypedValue::Date(_)) => format!("DATE '{text}'"),
        Cell::Typed(TypedValue::Time(_)) => format!("TIME '{text}'"),
        Cell::Typed(TypedValue::DateTime(_)) => format!("TIMESTAMP '{}'", text.replace('T', " ")),
        Cell::Typed(TypedValue::Instant(_)) => {
            let text = text.replace('T', " ");
            format!("TIMESTAMP '{}+00:00'", text.trim_end_matches('Z'))
        }
        Cell::Typed(_) | Cell::Text(_) | Cell::Bytes(_) => literal(&text),
    }
}

impl Writer for Sql {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        self.line.clear();
        if self.rows.is_multiple_of(ROWS) {
            if self.rows > 0 {
                self.line.push_str(";\n");
            }
            let names: Vec<String> = self.fields.iter().map(|f| quoted(&f.name)).collect();
            let begin = format!("INSERT INTO {} ({}) VALUES\n", self.table, names.join(", "));
            self.line.push_str(&begin);
        } else {
            self.line.push_str(",\n");
        }
        let values: Vec<String> =
            cells.iter().zip(&self.fields).map(|(cell, field)| value(*cell, field)).collect();
        self.line.push_str(&format!("  ({})", values.join(", ")));
        self.rows += 1;
        Ok(self.out.write_all(self.line.as_bytes())?)
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        if self.rows > 0 {
            self.out.write_all(b";\n")?;
        }
        self.out.finish()?;
        let is_duration = |field: &&OutputField| field.holds == Holds::Of(Kind::Duration);
        let durations: Vec<&str> =
            self.fields.iter().filter(is_duration).map(|field| field.name.as_str()).collect();
        Ok(match durations[..] {
            [] => Vec::new(),
            _ => vec![format!("durations are ISO 8601 text: {}", durations.join(", "))],
        })
    }
}
