//! Delimited text, quoted where it must be (RFC 4180).

use super::{Cell, OutputField, Undelivered, Writer};
use crate::dialect::Delimiter;
use crate::place::Output;

pub(super) struct Delimited {
    out: csv::Writer<Output>,
    digits: Vec<u8>,
}

impl Delimited {
    pub(super) fn new(
        out: Output,
        fields: Vec<OutputField>,
        delimiter: Delimiter,
    ) -> Result<Delimited, Undelivered> {
        let mut out = csv::WriterBuilder::new().delimiter(delimiter.byte()).from_writer(out);
        out.write_record(fields.iter().map(|field| &field.name)).map_err(failed)?;
        Ok(Delimited { out, digits: fields.iter().map(|field| field.digits).collect() })
    }
}

fn failed(error: csv::Error) -> Undelivered {
    Undelivered::Io(error.into())
}

impl Writer for Delimited {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        for (cell, digits) in cells.iter().zip(&self.digits) {
            self.out.write_field(cell.to_text(*digits).as_bytes()).map_err(failed)?;
        }
        self.out.write_record(None::<&[u8]>).map_err(failed)
    }

    fn finish(self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        let out = self.out.into_inner().map_err(|error| Undelivered::Io(error.into_error()))?;
        out.finish()?;
        Ok(Vec::new())
    }
}
