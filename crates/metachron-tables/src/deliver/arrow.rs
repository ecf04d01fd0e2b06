//! Arrow IPC files (Apache Arrow columnar format, IPC file format): the types of Parquet, and lengths of time as
//! durations.

use std::sync::Arc;

use arrow_array::builder::{
    BooleanBuilder, Date32Builder, DurationNanosecondBuilder, Float64Builder, Int64Builder,
    StringBuilder, Time64NanosecondBuilder, TimestampMicrosecondBuilder,
    TimestampNanosecondBuilder,
};
use arrow_array::{ArrayRef, RecordBatch};
use arrow_ipc::writer::FileWriter;
use arrow_schema::{ArrowError, DataType, Field as Column, Schema, TimeUnit};
use metachron_core::typed::{Kind, TypedValue};

use super::count::{days, nanos};
use super::{Cell, CellError, Holds, OutputField, Undelivered, Writer};
use crate::place::Output;

/// Rows of a batch.
const ROWS: usize = 65_536;

pub(super) struct Arrow {
    out: FileWriter<Output>,
    schema: Arc<Schema>,
    fields: Vec<OutputField>,
    builders: Vec<Builder>,
    rows: usize,
    row: u64,
}

enum Builder {
    Text(StringBuilder),
    Date(Date32Builder),
    Time(Time64NanosecondBuilder),
    Micros(TimestampMicrosecondBuilder),
    Nanos(TimestampNanosecondBuilder),
    Duration(DurationNanosecondBuilder),
    Number(Float64Builder),
    Whole(Int64Builder),
    Truth(BooleanBuilder),
}

impl Builder {
    fn of(field: &OutputField) -> Builder {
        let zone = (field.holds == Holds::Of(Kind::Instant)).then_some("UTC");
        match field.holds {
            Holds::Of(Kind::Date) => Builder::Date(Date32Builder::new()),
            Holds::Of(Kind::Time) => Builder::Time(Time64NanosecondBuilder::new()),
            Holds::Of(Kind::DateTime | Kind::Instant) if field.digits > 6 => {
                Builder::Nanos(TimestampNanosecondBuilder::new().with_timezone_opt(zone))
            }
            Holds::Of(Kind::DateTime | Kind::Instant) => {
                Builder::Micros(TimestampMicrosecondBuilder::new().with_timezone_opt(zone))
            }
            Holds::Of(Kind::Duration) => Builder::Duration(DurationNanosecondBuilder::new()),
            Holds::Number => Builder::Number(Float64Builder::new()),
            Holds::Whole => Builder::Whole(Int64Builder::new()),
            Holds::Truth => Builder::Truth(BooleanBuilder::new()),
            Holds::Text | Holds::Of(_) => Builder::Text(StringBuilder::new()),
        }
    }

    fn push(&mut self, cell: Cell<'_>) -> Result<(), CellError> {
        let is_missing = cell == Cell::Missing;
        let fits = |nanos: i128, unit: i128| {
            i64::try_from(nanos.div_euclid(unit)).map_err(|_| CellError::OutOfReach {
                value: cell.to_text(9).into_owned(),
                reach: "64 bits reach",
            })
        };
        let number = |text: &str| text.parse().map_err(|_| format!("{text} is no number"));
        match (self, cell) {
            (Builder::Text(own), _) if is_missing => own.append_null(),
            (Builder::Text(own), cell) => own.append_value(cell.to_text(9)),
            (Builder::Date(own), Cell::Typed(TypedValue::Date(date))) => {
                own.append_value(days(date))
            }
            (Builder::Date(own), _) => own.append_null(),
            (Builder::Time(own), Cell::Typed(moment)) => {
                own.append_value(fits(nanos(moment).unwrap_or(0), 1)?);
            }
            (Builder::Time(own), _) => own.append_null(),
            (Builder::Micros(own), Cell::Typed(moment)) => {
                own.append_value(fits(nanos(moment).unwrap_or(0), 1_000)?)
            }
            (Builder::Micros(own), _) => own.append_null(),
            (Builder::Nanos(own), Cell::Typed(moment)) => {
                own.append_value(fits(nanos(moment).unwrap_or(0), 1)?)
            }
            (Builder::Nanos(own), _) => own.append_null(),
            (Builder::Duration(own), Cell::Typed(TypedValue::Duration(length))) => {
                let fixed = length
                    .fixed()
                    .ok_or_else(|| format!("{length} has months, which no number is"))?;
                own.append_value(fits(fixed, 1)?);
            }
            (Builder::Duration(own), _) => own.append_null(),
            (Builder::Number(own), Cell::Number(text)) => own.append_value(number(text)?),
            (Builder::Number(own), _) => own.append_null(),
            (Builder::Whole(own), Cell::Number(text)) => {
                own.append_value(text.parse().map_err(|_| format!("{text} is no whole number"))?);
            }
            (Builder::Whole(own), _) => own.append_null(),
            (Builder::Truth(own), Cell::Truth(truth)) => own.append_value(truth),
            (Builder::Truth(own), _) => own.append_null(),
        }
        Ok(())
    }

    fn array(&mut self) -> ArrayRef {
        match self {
            Builder::Text(own) => Arc::new(own.finish()),
            Builder::Date(own) => Arc::new(own.finish()),
            Builder::Time(own) => Arc::new(own.finish()),
            Builder::Micros(own) => Arc::new(own.finish()),
            Builder::Nanos(own) => Arc::new(own.finish()),
            Builder::Duration(own) => Arc::new(own.finish()),
            Builder::Number(own) => Arc::new(own.finish()),
            Builder::Whole(own) => Arc::new(own.finish()),
            Builder::Truth(own) => Arc::new(own.finish()),
        }
    }
}

fn type_of(field: &OutputField) -> DataType {
    let unit = if field.digits > 6 { TimeUnit::Nanosecond } else { TimeUnit::Microsecond };
    match field.holds {
        Holds::Of(Kind::Date) => DataType::Date32,
        Holds::Of(Kind::Time) => DataType::Time64(TimeUnit::Nanosecond),
        Holds::Of(Kind::DateTime) => DataType::Timestamp(unit, None),
        Holds::Of(Kind::Instant) => DataType::Timestamp(unit, Some("UTC".into())),
        Holds::Of(Kind::Duration) => DataType::Duration(TimeUnit::Nanosecond),
        Holds::Number => DataType::Float64,
        Holds::Whole => DataType::Int64,
        Holds::Truth => DataType::Boolean,
        Holds::Text | Holds::Of(_) => DataType::Utf8,
    }
}

impl Arrow {
    pub(super) fn new(out: Output, fields: Vec<OutputField>) -> Result<Arrow, Undelivered> {
        let columns: Vec<Column> =
            fields.iter().map(|field| Column::new(&field.name, type_of(field), true)).collect();
        let schema = Arc::new(Schema::new(columns));
        let out = FileWriter::try_new(out, &schema).map_err(refused)?;
        let builders = fields.iter().map(Builder::of).collect();
        Ok(Arrow { out, schema, fields, builders, rows: 0, row: 0 })
    }

    fn flush(&mut self) -> Result<(), Undelivered> {
        if self.rows == 0 {
            return Ok(());
        }
        let arrays = self.builders.iter_mut().map(Builder::array).collect();
        let batch = RecordBatch::try_new(Arc::clone(&self.schema), arrays).map_err(refused)?;
        self.out.write(&batch).map_err(refused)?;
        self.rows = 0;
        Ok(())
    }
}

impl Writer for Arrow {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        self.row += 1;
        for ((builder, field), cell) in self.builders.iter_mut().zip(&self.fields).zip(cells) {
            builder.push(*cell).map_err(|why| Undelivered::Cell {
                row: self.row,
                column: field.name.clone(),
                why,
            })?;
        }
        self.rows += 1;
        if self.rows == ROWS { self.flush() } else { Ok(()) }
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        self.flush()?;
        self.out.finish().map_err(refused)?;
        let Arrow { out, .. } = *self;
        out.into_inner().map_err(refused)?.finish()?;
        Ok(Vec::new())
    }
}

fn refused(error: ArrowError) -> Undelivered {
    match error {
        ArrowError::IoError(_, error) => Undelivered::Io(error),
        error => Undelivered::Refused(error.to_string()),
    }
}
