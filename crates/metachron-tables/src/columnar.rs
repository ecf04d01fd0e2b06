//! Parquet files, row by row; columns that are typed stay typed.

use std::fs::File;

use jiff::civil::{Date, Time};
use jiff::{Span, Timestamp};
use metachron_core::duration::{Duration, Unit};
use metachron_core::typed::TypedValue;
use metachron_core::value::Fault;
use parquet::basic::{ConvertedType, LogicalType, TimeUnit, Type};
use parquet::column::reader::{ColumnReader, ColumnReaderImpl};
use parquet::data_type::{Int96, Int96Type};
use parquet::errors::ParquetError;
use parquet::file::reader::{FileReader, SerializedFileReader};
use parquet::record::{Field, Row};
use parquet::schema::types::TypePtr;

use crate::cells::{CellRow, TypedCell};
use crate::contain::contained;
use crate::error::TableError;
use crate::int96::JulianMoment;
use crate::stored::StoredType;

/// A Parquet file that is being read.
pub struct ParquetColumns {
    reader: SerializedFileReader<File>,
    /// The columns whose timestamps are written in 96 bits.
    wide: Vec<WideColumn>,
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
        let reader = sound(|| SerializedFileReader::new(file))?;
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
        let wide = wide_columns(&reader);
        Ok((ParquetColumns { reader, wide, logical, lengths }, names))
    }

    /// How each column is stored, where it can be stored so again.
    pub fn stored(&self) -> Vec<Option<StoredType>> {
        let fields = self.reader.metadata().file_metadata().schema().get_fields();
        let own = fields.iter().zip(&self.lengths);
        // What the integers of a length count is said beside the columns.
        own.map(|(field, length)| StoredType::of(field).filter(|_| length.is_none())).collect()
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
        let mut number = 0;
        for group in 0..self.reader.num_row_groups() {
            let group = sound(|| self.reader.get_row_group(group)).map_err(&fail)?;
            let wide = self.wide.iter().map(|wide| {
                let reader = sound(|| group.get_column_reader(wide.leaf))?;
                Ok((wide.column, WideTimestamps::of(reader, wide.is_optional)?))
            });
            let mut wide = wide.collect::<Result<Vec<_>, TableError>>().map_err(&fail)?;
            let mut rows = sound(|| group.get_row_iter(None)).map_err(&fail)?;
            while let Some(row) = sound(|| rows.next().transpose()).map_err(&fail)? {
                let mut cells = self.cells(&row);
                for (column, timestamps) in &mut wide {
                    cells[*column] = timestamps.next().map_err(&fail)?;
                }
                number += 1;
                take(&CellRow { number, cells })?;
            }
        }
        Ok(())
    }

    fn cells(&self, row: &Row) -> Vec<TypedCell> {
        let fields = row.get_column_iter().zip(&self.logical).zip(&self.lengths);
        let cells = fields.map(|(((_, field), logical), length)| match (field, length) {
            (Field::Long(number), Some(nanos)) => counted(*number, *nanos),
            _ => cell(field, logical.as_ref()),
        });
        cells.collect()
    }
}

/// What the library reads, which relies on the file's being sound.
fn sound<T>(read: impl FnOnce() -> Result<T, ParquetError>) -> Result<T, TableError> {
    contained(read).map_or_else(
        || Err(TableError::Damaged("its pages contradict each other".to_owned())),
        |result| result.map_err(damaged),
    )
}

/// A column that holds a timestamp in 96 bits in each row.
struct WideColumn {
    column: usize,
    /// Its number among the columns that hold values.
    leaf: usize,
    /// Whether a cell can be empty.
    is_optional: bool,
}

fn wide_columns(reader: &SerializedFileReader<File>) -> Vec<WideColumn> {
    let file = reader.metadata().file_metadata();
    let leaves = file.schema_descr().columns().iter().enumerate();
    let wide = leaves.filter(|(_, leaf)| {
        leaf.physical_type() == Type::INT96
            && leaf.path().parts().len() == 1
            && leaf.max_rep_level() == 0
    });
    let fields = file.schema().get_fields();
    wide.filter_map(|(at, leaf)| {
        let column = fields.iter().position(|field| field.name() == leaf.name())?;
        Some(WideColumn { column, leaf: at, is_optional: leaf.max_def_level() > 0 })
    })
    .collect()
}

/// The timestamps of a column in 96 bits. The rows of the library give them in milliseconds.
struct WideTimestamps {
    reader: ColumnReaderImpl<Int96Type>,
    is_optional: bool,
    /// Of each row whose cell can be empty, whether it has a value: 1 or 0.
    levels: Vec<i16>,
    values: Vec<Int96>,
    /// How many rows and how many values of these were given.
    row: usize,
    value: usize,
}

/// Rows of a column that are read at once.
const BATCH: usize = 1_024;

impl WideTimestamps {
    fn of(reader: ColumnReader, is_optional: bool) -> Result<WideTimestamps, TableError> {
        let ColumnReader::Int96ColumnReader(reader) = reader else {
            return Err(TableError::Damaged("a column is not of its own type".to_owned()));
        };
        let (levels, values) = (Vec::new(), Vec::new());
        Ok(WideTimestamps { reader, is_optional, levels, values, row: 0, value: 0 })
    }

    /// The cell of the next row.
    fn next(&mut self) -> Result<TypedCell, TableError> {
        let read = if self.is_optional { self.levels.len() } else { self.values.len() };
        if self.row == read {
            self.levels.clear();
            self.values.clear();
            (self.row, self.value) = (0, 0);
            let (levels, values) = (&mut self.levels, &mut self.values);
            sound(|| self.reader.read_records(BATCH, Some(levels), None, values))?;
        }
        let short = || TableError::Damaged("a column ends before the others".to_owned());
        let is_empty = self.is_optional && *self.levels.get(self.row).ok_or_else(short)? == 0;
        self.row += 1;
        if is_empty {
            return Ok(TypedCell::Empty);
        }
        let value = self.values.get(self.value).ok_or_else(short)?;
        self.value += 1;
        Ok(wide_timestamp(value))
    }
}

fn wide_timestamp(bits: &Int96) -> TypedCell {
    let julian = JulianMoment::of(bits);
    match julian.nanos().and_then(|nanos| moment(nanos, true).ok()) {
        Some(moment) => TypedCell::Typed(moment),
        None => TypedCell::Fault(Fault::OutOfRange, julian.to_string()),
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
        None => TypedCell::Fault(Fault::OutOfRange, number.to_string()),
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
    let out_of_range = |number: i64| TypedCell::Fault(Fault::OutOfRange, number.to_string());
    let (number, typed) = match field {
        Field::Null => return TypedCell::Empty,
        Field::Str(text) => return TypedCell::Text(text.clone()),
        Field::Bytes(bytes) => return TypedCell::of_bytes(bytes.data()),
        Field::Date(days) => (i64::from(*days), date(*days)),
        Field::TimeMillis(millis) => (i64::from(*millis), time(i64::from(*millis), 1_000_000)),
        Field::TimeMicros(micros) => (*micros, time(*micros, 1_000)),
        Field::TimestampMillis(millis) => {
            (*millis, moment(i128::from(*millis) * 1_000_000, adjusted))
        }
        Field::TimestampMicros(micros) => (*micros, moment(i128::from(*micros) * 1_000, adjusted)),
        Field::Long(nanos) if is_nanos(logical) => match logical {
            Some(LogicalType::Time(_)) => (*nanos, time(*nanos, 1)),
            _ => (*nanos, moment(i128::from(*nanos), adjusted)),
        },
        Field::Bool(_) | Field::Group(_) | Field::ListInternal(_) | Field::MapInternal(_) => {
            return TypedCell::Text(field.to_string());
        }
        Field::Double(number) => return TypedCell::Number(number.to_string()),
        Field::Float(number) => return TypedCell::Number(number.to_string()),
        number => return TypedCell::Number(number.to_string()),
    };
    typed.map_or_else(|_| out_of_range(number), TypedCell::Typed)
}

fn is_nanos(logical: Option<&LogicalType>) -> bool {
    match logical {
        Some(LogicalType::Timestamp(timestamp)) => timestamp.unit == TimeUnit::NANOS,
        Some(LogicalType::Time(time)) => time.unit == TimeUnit::NANOS,
        _ => false,
    }
}

fn date(days: i32) -> Result<TypedValue, jiff::Error> {
    let date = Date::new(1970, 1, 1)?.checked_add(Span::new().try_days(days)?)?;
    Ok(TypedValue::Date(date))
}

/// The time of day after so many units of so many nanoseconds.
fn time(count: i64, unit: i64) -> Result<TypedValue, jiff::Error> {
    let nanos = Span::new().try_nanoseconds(count.saturating_mul(unit))?;
    Time::midnight().checked_add(nanos).map(TypedValue::Time)
}

/// A moment, or the clock time that a timestamp without a zone stands for: that goes on to the last day that
/// can be written, where moments end before.
fn moment(nanos: i128, adjusted: bool) -> Result<TypedValue, jiff::Error> {
    const DAY: i128 = metachron_core::duration::DAY as i128;
    if adjusted {
        return Timestamp::from_nanosecond(nanos).map(TypedValue::Instant);
    }
    let days = Span::new().try_days(i64::try_from(nanos.div_euclid(DAY)).unwrap_or(i64::MAX))?;
    let date = Date::new(1970, 1, 1)?.checked_add(days)?;
    let of_day = Span::new().try_nanoseconds(nanos.rem_euclid(DAY) as i64)?;
    Ok(TypedValue::DateTime(date.to_datetime(Time::midnight().checked_add(of_day)?)))
}
