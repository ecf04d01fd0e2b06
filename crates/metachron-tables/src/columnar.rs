//! Parquet files, row by row; columns that are typed stay typed.

use std::fs::File;

use jiff::civil::{Date, Time};
use jiff::{Span, Timestamp};
use metachron_core::duration::{Duration, Unit};
use metachron_core::typed::TypedValue;
use parquet::basic::{ConvertedType, LogicalType, TimeUnit};
use parquet::errors::ParquetError;
use parquet::file::reader::{FileReader, SerializedFileReader};
use parquet::record::Field;
use parquet::schema::types::TypePtr;

use crate::cells::{CellRow, TypedCell};
use crate::error::TableError;

/// A Parquet file that is being read.
pub struct ParquetColumns {
    reader: SerializedFileReader<File>,
    /// Per column, what its integers stand for.
    logical: Vec<Option<LogicalType>>,
    /// Per column, the nanoseconds of the unit that its integers count, where they are lengths of time.
    lengths: Vec<Option<i64>>,
}

/// Whether a file that begins so is a Parquet file (Apache Parquet format, file layout).
pub fn is_parquet(begin: &[u8]) -> bool {
    begin.starts_with(b"PAR1")
}

impl ParquetColumns {
    /// Opens a file and gives the names of its columns.
    ///
    /// # Errors
    /// If it is no Parquet file, or a damaged one.
    pub fn open(file: File) -> Result<(ParquetColumns, Vec<String>), TableError> {
        let reader = SerializedFileReader::new(file).map_err(damaged)?;
        let schema = reader.metadata().file_metadata().schema();
        let intervals =
            |field: &TypePtr| field.get_basic_info().converted_type() == ConvertedType::INTERVAL;
        if let Some(field) = schema.get_fields().iter().find(|field| intervals(field)) {
            let why = format!("column {:?} holds intervals, which cannot be read", field.name());
            return Err(TableError::Damaged(why));
        }
        let names = schema.get_fields().iter().map(|field| field.name().to_owned()).collect();
        let logical = schema
            .get_fields()
            .iter()
            .map(|field| field.get_basic_info().logical_type_ref().cloned())
            .collect();
        let lengths = schema.get_fields().iter().map(|field| length_unit(&reader, field.name()));
        let lengths = lengths.collect();
        Ok((ParquetColumns { reader, logical, lengths }, names))
    }

    /// Goes through the rows; the first is 1.
    ///
    /// # Errors
    /// If the file is damaged, or `take` fails.
    pub fn each_row<E>(
        &self,
        fail: impl Fn(TableError) -> E,
        mut take: impl FnMut(&CellRow) -> Result<(), E>,
    ) -> Result<(), E> {
        let rows = self.reader.get_row_iter(None).map_err(|error| fail(damaged(error)))?;
        for (number, row) in (1..).zip(rows) {
            let row = row.map_err(|error| fail(damaged(error)))?;
            let fields = row.get_column_iter().zip(&self.logical).zip(&self.lengths);
            let cells = fields.map(|(((_, field), logical), length)| match (field, length) {
                (Field::Long(number), Some(nanos)) => counted(*number, *nanos),
                _ => cell(field, logical.as_ref()),
            });
            let cells = cells.collect();
            take(&CellRow { number, cells })?;
        }
        Ok(())
    }
}

/// What the integers of a column count, where this program has written them as lengths of time.
fn length_unit(reader: &SerializedFileReader<File>, name: &str) -> Option<i64> {
    let key = format!("metachron.duration.{name}");
    let notes = reader.metadata().file_metadata().key_value_metadata()?;
    let unit = notes.iter().find(|note| note.key == key)?.value.as_deref()?;
    Unit::named(unit).ok()?.nanos()
}

fn counted(number: i64, nanos: i64) -> TypedCell {
    match Duration::of_nanos(i128::from(number) * i128::from(nanos)) {
        Some(length) => TypedCell::Typed(TypedValue::Duration(length)),
        None => TypedCell::Fault(format!("{number} (out of range)")),
    }
}

fn damaged(error: ParquetError) -> TableError {
    TableError::Damaged(error.to_string())
}

fn cell(field: &Field, logical: Option<&LogicalType>) -> TypedCell {
    let adjusted = match logical {
        Some(LogicalType::Timestamp(timestamp)) => timestamp.is_adjusted_to_u_t_c,
        // Without a logical type a converted one is always in UTC (LogicalTypes.md, Timestamp).
        _ => true,
    };
    let typed = match field {
        Field::Null => return TypedCell::Empty,
        Field::Str(text) => return TypedCell::Text(text.clone()),
        Field::Bytes(bytes) => {
            return TypedCell::Text(String::from_utf8_lossy(bytes.data()).into_owned());
        }
        Field::Date(days) => Date::new(1970, 1, 1)
            .and_then(|epoch| epoch.checked_add(Span::new().try_days(*days)?))
            .map(TypedValue::Date),
        Field::TimeMillis(millis) => time(i64::from(*millis) * 1_000_000),
        Field::TimeMicros(micros) => time(micros.saturating_mul(1_000)),
        Field::TimestampMillis(millis) => moment(i128::from(*millis) * 1_000_000, adjusted),
        Field::TimestampMicros(micros) => moment(i128::from(*micros) * 1_000, adjusted),
        Field::Long(nanos) if is_nanos(logical) => match logical {
            Some(LogicalType::Time(_)) => time(*nanos),
            _ => moment(i128::from(*nanos), adjusted),
        },
        Field::Bool(_) | Field::Group(_) | Field::ListInternal(_) | Field::MapInternal(_) => {
            return TypedCell::Text(field.to_string());
        }
        Field::Double(number) => return TypedCell::Number(number.to_string()),
        Field::Float(number) => return TypedCell::Number(number.to_string()),
        number => return TypedCell::Number(number.to_string()),
    };
    typed.map_or_else(|_| TypedCell::Fault(format!("{field} (out of range)")), TypedCell::Typed)
}

fn is_nanos(logical: Option<&LogicalType>) -> bool {
    match logical {
        Some(LogicalType::Timestamp(timestamp)) => timestamp.unit == TimeUnit::NANOS,
        Some(LogicalType::Time(time)) => time.unit == TimeUnit::NANOS,
        _ => false,
    }
}

fn time(nanos: i64) -> Result<TypedValue, jiff::Error> {
    Time::midnight().checked_add(Span::new().try_nanoseconds(nanos)?).map(TypedValue::Time)
}

/// A moment, or the clock time that a timestamp without a zone stands for: that goes on to the last day that
/// can be written, where moments end before.
fn moment(nanos: i128, adjusted: bool) -> Result<TypedValue, jiff::Error> {
    const DAY: i128 = 86_400_000_000_000;
    if adjusted {
        return Timestamp::from_nanosecond(nanos).map(TypedValue::Instant);
    }
    let days = Span::new().try_days(i64::try_from(nanos.div_euclid(DAY)).unwrap_or(i64::MAX))?;
    let date = Date::new(1970, 1, 1)?.checked_add(days)?;
    let of_day = Span::new().try_nanoseconds(nanos.rem_euclid(DAY) as i64)?;
    Ok(TypedValue::DateTime(date.to_datetime(Time::midnight().checked_add(of_day)?)))
}
