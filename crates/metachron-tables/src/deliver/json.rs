//! JSON Lines and JSON arrays: ISO 8601 strings, numbers for numbers, null for nothing.

use std::io::Write;

use super::{Cell, OutputField, Undelivered, Writer};
use crate::json::quote;
use crate::place::Output;

pub(super) struct Json {
    out: Output,
    /// The fields with their names as JSON strings.
    fields: Vec<(String, u8)>,
    is_array: bool,
    line: String,
    rows: u64,
}

impl Json {
    pub(super) fn new(out: Output, fields: Vec<OutputField>, is_array: bool) -> Json {
        let fields = fields.iter().map(|field| (quote(&field.name), field.digits)).collect();
        Json { out, fields, is_array, line: String::new(), rows: 0 }
    }
}

impl Writer for Json {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        self.line.clear();
        self.line.push_str(match (self.is_array, self.rows) {
            (false, _) => "",
            (true, 0) => "[\n",
            (true, _) => ",\n",
        });
        for (at, ((name, digits), cell)) in self.fields.iter().zip(cells).enumerate() {
            self.line.push(if at == 0 { '{' } else { ',' });
            self.line.push_str(name);
            self.line.push(':');
            match cell {
                Cell::Missing => self.line.push_str("null"),
                Cell::Truth(truth) => self.line.push_str(if *truth { "true" } else { "false" }),
                Cell::Number(number) => self.line.push_str(number),
                cell => self.line.push_str(&quote(&cell.to_text(*digits))),
            }
        }
        self.line.push('}');
        if !self.is_array {
            self.line.push('\n');
        }
        self.rows += 1;
        Ok(self.out.write_all(self.line.as_bytes())?)
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        if self.is_array {
            self.out.write_all(if self.rows == 0 { b"[]\n" } else { b"\n]\n" })?;
        }
        self.out.finish()?;
        Ok(Vec::new())
    }
}
