//! Parquet: dates, times and timestamps with their logical types (Apache Parquet format, LogicalTypes.md).

use std::sync::Arc;

use bytes::Bytes;
use metachron_core::typed::{Kind, TypedValue};
use parquet::basic::{Compression, LogicalType, Repetition, TimeUnit, Type as Physical};
use parquet::column::writer::ColumnWriter;
use parquet::data_type::{ByteArray, FixedLenByteArray, Int96};
use parquet::errors::ParquetError;
use parquet::file::metadata::KeyValue;
use parquet::file::properties::WriterProperties;
use parquet::file::writer::SerializedFileWriter;
use parquet::schema::types::{Type, TypePtr};

use super::count::{days, nanos};
use super::{Cell, CellError, Holds, OutputField, Undelivered, Writer};
use crate::int96::JulianMoment;
use crate::place::Output;
use crate::stored::StoredType;

/// Rows of a group at most.
const ROWS: usize = 131_072;
/// Bytes of text of a group, so that memory has a bound.
const BYTES: usize = 32 * 1024 * 1024;

pub(super) struct Parquet {
    out: SerializedFileWriter<Output>,
    fields: Vec<OutputField>,
    columns: Vec<Column>,
    rows: usize,
    bytes: usize,
    row: u64,
}

/// The values of a column of the row group that is being gathered.
struct Column {
    values: Values,
    /// 1 for a value, 0 for nothing.
    levels: Vec<i16>,
    unit: StoredUnit,
    stored: Option<StoredType>,
}

enum Values {
    Int32(Vec<i32>),
    Int64(Vec<i64>),
    Int96(Vec<Int96>),
    Float(Vec<f32>),
    Double(Vec<f64>),
    Bool(Vec<bool>),
    Text(Texts),
    Fixed(Vec<FixedLenByteArray>),
}

/// Texts or bytes, one behind the other.
#[derive(Default)]
struct Texts {
    bytes: Vec<u8>,
    ends: Vec<usize>,
}

impl Texts {
    /// Adds a text; gives the bytes that it takes.
    fn push(&mut self, text: &[u8]) -> usize {
        self.bytes.extend_from_slice(text);
        self.ends.push(self.bytes.len());
        text.len() + size_of::<usize>()
    }

    /// Takes all of them, which go on to share their memory.
    fn take(&mut self) -> Vec<ByteArray> {
        let all = Bytes::from(std::mem::take(&mut self.bytes));
        let mut begin = 0;
        let texts = self.ends.drain(..).map(|end| {
            let text = all.slice(begin..end);
            begin = end;
            ByteArray::from(text)
        });
        texts.collect()
    }

    fn clear(&mut self) {
        self.bytes.clear();
        self.ends.clear();
    }
}

/// What integers of a time count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum StoredUnit {
    Second,
    Milli,
    Micro,
    Nano,
}

impl StoredUnit {
    /// The coarsest that holds so many digits of a second; Parquet's types have no seconds.
    fn of(field: &OutputField) -> StoredUnit {
        match field.digits {
            0 if field.holds == Holds::Of(Kind::Duration) => StoredUnit::Second,
            0..=3 => StoredUnit::Milli,
            4..=6 => StoredUnit::Micro,
            _ => StoredUnit::Nano,
        }
    }

    fn nanos(self) -> i128 {
        match self {
            StoredUnit::Second => 1_000_000_000,
            StoredUnit::Milli => 1_000_000,
            StoredUnit::Micro => 1_000,
            StoredUnit::Nano => 1,
        }
    }

    fn name(self) -> &'static str {
        match self {
            StoredUnit::Second => "seconds",
            StoredUnit::Milli => "milliseconds",
            StoredUnit::Micro => "microseconds",
            StoredUnit::Nano => "nanoseconds",
        }
    }

    fn logical(self) -> TimeUnit {
        match self {
            StoredUnit::Second | StoredUnit::Milli => TimeUnit::MILLIS,
            StoredUnit::Micro => TimeUnit::MICROS,
            StoredUnit::Nano => TimeUnit::NANOS,
        }
    }
}

impl Parquet {
    pub(super) fn new(out: Output, fields: Vec<OutputField>) -> Result<Parquet, Undelivered> {
        let types = fields.iter().map(type_of).collect::<Result<Vec<_>, _>>().map_err(refused)?;
        let schema = Type::group_type_builder("table").with_fields(types).build();
        let mut notes =
            vec![KeyValue::new("metachron".to_owned(), env!("CARGO_PKG_VERSION").to_owned())];
        for field in &fields {
            let zone = field.zone.clone().map(|zone| ("zone", zone));
            let unit = (field.holds == Holds::Of(Kind::Duration))
                .then(|| ("duration", StoredUnit::of(field).name().to_owned()));
            for (key, value) in zone.into_iter().chain(unit) {
                notes.push(KeyValue::new(format!("metachron.{key}.{}", field.name), value));
            }
        }
        let properties = WriterProperties::builder()
            .set_compression(Compression::SNAPPY)
            .set_created_by(format!("metachron {}", env!("CARGO_PKG_VERSION")))
            .set_key_value_metadata(Some(notes))
            .build();
        let schema = Arc::new(schema.map_err(refused)?);
        let out = SerializedFileWriter::new(out, schema, Arc::new(properties)).map_err(refused)?;
        let columns = fields.iter().map(Column::of).collect();
        Ok(Parquet { out, fields, columns, rows: 0, bytes: 0, row: 0 })
    }

    /// Writes the row group.
    fn flush(&mut self) -> Result<(), Undelivered> {
        if self.rows == 0 {
            return Ok(());
        }
        let mut group = self.out.next_row_group().map_err(refused)?;
        for column in &mut self.columns {
            let Some(mut writer) = group.next_column().map_err(refused)? else { break };
            let levels = Some(column.levels.as_slice());
            let written = match (writer.untyped(), &mut column.values) {
                (ColumnWriter::Int32ColumnWriter(to), Values::Int32(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::Int64ColumnWriter(to), Values::Int64(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::Int96ColumnWriter(to), Values::Int96(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::FloatColumnWriter(to), Values::Float(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::FixedLenByteArrayColumnWriter(to), Values::Fixed(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::DoubleColumnWriter(to), Values::Double(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::BoolColumnWriter(to), Values::Bool(own)) => {
                    to.write_batch(own, levels, None)
                }
                (ColumnWriter::ByteArrayColumnWriter(to), Values::Text(own)) => {
                    to.write_batch(&own.take(), levels, None)
                }
                _ => return Err(Undelivered::Refused("a column changed its type".to_owned())),
            };
            written.map_err(refused)?;
            writer.close().map_err(refused)?;
            column.clear();
        }
        group.close().map_err(refused)?;
        (self.rows, self.bytes) = (0, 0);
        Ok(())
    }
}

impl Writer for Parquet {
    fn row(&mut self, cells: &[Cell<'_>]) -> Result<(), Undelivered> {
        self.row += 1;
        for ((column, field), cell) in self.columns.iter_mut().zip(&self.fields).zip(cells) {
            self.bytes += column.push(*cell).map_err(|why| Undelivered::Cell {
                row: self.row,
                column: field.name.clone(),
                why,
            })?;
        }
        self.rows += 1;
        if self.rows == ROWS || self.bytes > BYTES {
            self.flush()?;
        }
        Ok(())
    }

    fn finish(mut self: Box<Self>) -> Result<Vec<String>, Undelivered> {
        self.flush()?;
        let Parquet { out, fields, .. } = *self;
        out.into_inner().map_err(refused)?.finish()?;
        let timed = fields.iter().filter(|field| field.stored.is_none()).filter(|field| {
            let kinds = [Kind::Time, Kind::DateTime, Kind::Instant, Kind::Duration];
            kinds.iter().any(|kind| field.holds == Holds::Of(*kind))
        });
        let mut notes: Vec<String> = Vec::new();
        for field in timed {
            let note = format!("{} counts {}", field.name, StoredUnit::of(field).name());
            notes.push(note);
        }
        Ok(match &notes[..] {
            [] => notes,
            _ => vec![notes.join(", ")],
        })
    }
}

impl Column {
    fn of(field: &OutputField) -> Column {
        let unit = StoredUnit::of(field);
        let stored = field.stored.clone();
        let values = match field.holds {
            _ if let Some(stored) = &stored => Values::stored(stored),
            Holds::Of(Kind::Date) => Values::Int32(Vec::new()),
            Holds::Of(Kind::Time) if unit == StoredUnit::Milli => Values::Int32(Vec::new()),
            Holds::Of(Kind::Time | Kind::DateTime | Kind::Instant | Kind::Duration)
            | Holds::Whole => Values::Int64(Vec::new()),
            Holds::Number => Values::Double(Vec::new()),
            Holds::Truth => Values::Bool(Vec::new()),
            Holds::Text | Holds::Of(_) => Values::Text(Texts::default()),
        };
        Column { values, levels: Vec::new(), unit, stored }
    }

    fn clear(&mut self) {
        self.levels.clear();
        match &mut self.values {
            Values::Int32(own) => own.clear(),
            Values::Int64(own) => own.clear(),
            Values::Int96(own) => own.clear(),
            Values::Float(own) => own.clear(),
            Values::Fixed(own) => own.clear(),
            Values::Double(own) => own.clear(),
            Values::Bool(own) => own.clear(),
            Values::Text(own) => own.clear(),
        }
    }

    /// Adds a cell; gives the bytes that it holds beside its place.
    fn push(&mut self, cell: Cell<'_>) -> Result<usize, CellError> {
        if cell == Cell::Missing {
            self.levels.push(0);
            return Ok(0);
        }
        let mut bytes = 0;
        if let Some(stored) = &self.stored {
            bytes = self.values.push_stored(stored, cell)?;
            self.levels.push(1);
            return Ok(bytes);
        }
        match (&mut self.values, cell) {
            (Values::Int32(own), Cell::Typed(TypedValue::Date(date))) => own.push(days(date)),
            (Values::Int32(own), Cell::Typed(TypedValue::Time(_))) => {
                own.push(counted(cell, self.unit)? as i32);
            }
            (Values::Int64(own), Cell::Typed(_)) => own.push(counted(cell, self.unit)?),
            (Values::Int64(own), Cell::Number(number)) => {
                own.push(number.parse().map_err(|_| format!("{number} is no whole number"))?);
            }
            (Values::Double(own), Cell::Number(number)) => {
                own.push(number.parse().map_err(|_| format!("{number} is no number"))?);
            }
            (Values::Bool(own), Cell::Truth(truth)) => own.push(truth),
            (Values::Text(own), cell) => {
                let text = cell.to_text(9);
                bytes = own.push(text.as_bytes());
            }
            (_, cell) => {
                return Err(format!("{} is not what the column holds", cell.to_text(9)).into());
            }
        }
        self.levels.push(1);
        Ok(bytes)
    }
}

impl Values {
    /// Those of a column that is stored so.
    fn stored(stored: &StoredType) -> Values {
        match stored.physical() {
            Physical::BOOLEAN => Values::Bool(Vec::new()),
            Physical::INT32 => Values::Int32(Vec::new()),
            Physical::INT64 => Values::Int64(Vec::new()),
            Physical::INT96 => Values::Int96(Vec::new()),
            Physical::FLOAT => Values::Float(Vec::new()),
            Physical::DOUBLE => Values::Double(Vec::new()),
            Physical::BYTE_ARRAY => Values::Text(Texts::default()),
            Physical::FIXED_LEN_BYTE_ARRAY => Values::Fixed(Vec::new()),
        }
    }

    /// Adds a cell as it was stored; gives the bytes that it holds beside its place. What no value can stand for comes
    /// as the number that the file has.
    fn push_stored(&mut self, stored: &StoredType, cell: Cell<'_>) -> Result<usize, CellError> {
        let text = || cell.to_text(9);
        let other = || CellError::Other(format!("{} is not what the column stores", text()));
        let typed = |moment: TypedValue| -> Option<i128> {
            Some(match moment {
                TypedValue::Date(date) => days(date).into(),
                other => nanos(other)?.div_euclid(stored.unit()?.into()),
            })
        };
        let integer = || match cell {
            Cell::Typed(moment) => typed(moment),
            _ => stored.integer(&text()),
        };
        match self {
            // What has no sign is stored in the same bits.
            Values::Int32(own) => {
                let whole = integer().ok_or_else(other)?;
                let signed = i32::try_from(whole).or(u32::try_from(whole).map(|own| own as i32));
                own.push(signed.map_err(|_| other())?);
            }
            Values::Int64(own) => {
                let whole = integer().ok_or_else(other)?;
                let signed = i64::try_from(whole).or(u64::try_from(whole).map(|own| own as i64));
                own.push(signed.map_err(|_| other())?);
            }
            Values::Int96(own) => own.push(wide(cell).ok_or_else(other)?),
            Values::Float(own) => own.push(text().parse().map_err(|_| other())?),
            Values::Double(own) => own.push(text().parse().map_err(|_| other())?),
            Values::Bool(own) => own.push(text().parse().map_err(|_| other())?),
            Values::Text(own) => {
                return Ok(match cell {
                    Cell::Bytes(bytes) => own.push(bytes),
                    _ => own.push(text().as_bytes()),
                });
            }
            Values::Fixed(own) => {
                let bytes = integer().ok_or_else(other)?.to_be_bytes();
                let from = bytes.len().saturating_sub(stored.length());
                own.push(ByteArray::from(bytes[from..].to_vec()).into());
                return Ok(stored.length() + 48);
            }
        }
        Ok(0)
    }
}

/// A timestamp in 96 bits. One that no moment is comes as it is shown.
fn wide(cell: Cell<'_>) -> Option<Int96> {
    let julian = match cell {
        Cell::Typed(moment) => JulianMoment::of_nanos(nanos(moment)?)?,
        other => other.to_text(9).parse().ok()?,
    };
    Some(julian.bits())
}

/// A time as an integer of this unit; what is finer was cut off before.
fn counted(cell: Cell<'_>, unit: StoredUnit) -> Result<i64, CellError> {
    let Cell::Typed(moment) = cell else { return Err("it is no time".to_owned().into()) };
    let nanos = match moment {
        TypedValue::Duration(own) => own.fixed().ok_or_else(|| {
            format!(
                "{own} has months, which no number of {} is; write CSV, JSON or SQL",
                unit.name()
            )
        })?,
        other => nanos(other).ok_or_else(|| format!("{other} is no time"))?,
    };
    i64::try_from(nanos.div_euclid(unit.nanos())).map_err(|_| CellError::OutOfReach {
        value: cell.to_text(9).into_owned(),
        reach: "nanoseconds of 64 bits reach (1677 to 2262)",
    })
}

fn type_of(field: &OutputField) -> Result<TypePtr, ParquetError> {
    if let Some(stored) = &field.stored {
        return stored.named(&field.name);
    }
    let unit = StoredUnit::of(field);
    let timestamp = |adjusted| LogicalType::timestamp(adjusted, unit.logical());
    let (physical, logical) = match field.holds {
        Holds::Of(Kind::Date) => (Physical::INT32, Some(LogicalType::Date)),
        Holds::Of(Kind::Time) => {
            let physical =
                if unit == StoredUnit::Milli { Physical::INT32 } else { Physical::INT64 };
            (physical, Some(LogicalType::time(false, unit.logical())))
        }
        Holds::Of(Kind::DateTime) => (Physical::INT64, Some(timestamp(false))),
        Holds::Of(Kind::Instant) => (Physical::INT64, Some(timestamp(true))),
        Holds::Of(Kind::Duration) | Holds::Whole => (Physical::INT64, None),
        Holds::Number => (Physical::DOUBLE, None),
        Holds::Truth => (Physical::BOOLEAN, None),
        Holds::Text | Holds::Of(_) => (Physical::BYTE_ARRAY, Some(LogicalType::String)),
    };
    let own = Type::primitive_type_builder(&field.name, physical)
        .with_repetition(Repetition::OPTIONAL)
        .with_logical_type(logical)
        .build()?;
    Ok(Arc::new(own))
}

fn refused(error: ParquetError) -> Undelivered {
    match error {
        ParquetError::External(error) => match error.downcast::<std::io::Error>() {
            Ok(error) => Undelivered::Io(*error),
            Err(error) => Undelivered::Refused(error.to_string()),
        },
        error => Undelivered::Refused(error.to_string()),
    }
}
