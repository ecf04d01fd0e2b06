//! How a Parquet file stores a column, so that the column can be stored in the same way again.

#[cfg(feature = "columnar")]
use parquet::{
    basic::{ConvertedType, LogicalType, Repetition, TimeUnit, Type as Physical},
    schema::types::{Type, TypePtr},
};

/// The type of a column of single values, as its file has it (Apache Parquet format, Types and LogicalTypes.md).
#[derive(Debug, Clone, PartialEq)]
pub struct StoredType(#[cfg(feature = "columnar")] TypePtr);

// A type has no part that differs from itself.
impl Eq for StoredType {}

/// How many nanoseconds the integers of a time count.
#[cfg(feature = "columnar")]
pub(crate) const fn nanos_of(unit: &TimeUnit) -> i64 {
    match unit {
        TimeUnit::MILLIS => 1_000_000,
        TimeUnit::MICROS => 1_000,
        TimeUnit::NANOS => 1,
    }
}

#[cfg(feature = "columnar")]
impl StoredType {
    /// The type of a column that can be stored again; none of lists, groups, intervals and bytes of a fixed length.
    pub(crate) fn of(column: &TypePtr) -> Option<StoredType> {
        let info = column.get_basic_info();
        let is_single = column.is_primitive()
            && info.has_repetition()
            && info.repetition() != Repetition::REPEATED;
        let own = is_single.then(|| StoredType(column.clone()))?;
        let can_be = match own.physical() {
            Physical::BYTE_ARRAY => !own.is_decimal(),
            Physical::FIXED_LEN_BYTE_ARRAY => own.is_decimal() && own.length() <= size_of::<i128>(),
            _ => true,
        };
        can_be.then_some(own)
    }

    pub(crate) fn physical(&self) -> Physical {
        self.0.get_physical_type()
    }

    /// Bytes of a value of a fixed length.
    pub(crate) fn length(&self) -> usize {
        match &*self.0 {
            Type::PrimitiveType { type_length, .. } => usize::try_from(*type_length).unwrap_or(0),
            Type::GroupType { .. } => 0,
        }
    }

    /// Nanoseconds of the unit that times are counted in.
    pub(crate) fn unit(&self) -> Option<i64> {
        let info = self.0.get_basic_info();
        match (info.logical_type_ref(), info.converted_type()) {
            (Some(LogicalType::Time(own)), _) => Some(nanos_of(&own.unit)),
            (Some(LogicalType::Timestamp(own)), _) => Some(nanos_of(&own.unit)),
            (_, ConvertedType::TIME_MILLIS | ConvertedType::TIMESTAMP_MILLIS) => {
                Some(nanos_of(&TimeUnit::MILLIS))
            }
            (_, ConvertedType::TIME_MICROS | ConvertedType::TIMESTAMP_MICROS) => {
                Some(nanos_of(&TimeUnit::MICROS))
            }
            _ => None,
        }
    }

    fn is_decimal(&self) -> bool {
        self.0.get_basic_info().converted_type() == ConvertedType::DECIMAL
            || matches!(self.0.get_basic_info().logical_type_ref(), Some(LogicalType::Decimal(_)))
    }

    /// The integer that stands for a number of this column as it is written in decimal.
    pub(crate) fn integer(&self, number: &str) -> Option<i128> {
        match self.is_decimal() {
            // A decimal counts units of its last digit, and all of its digits are written.
            true => number.replacen('.', "", 1).parse().ok(),
            false => number.parse().ok(),
        }
    }

    /// The type for a column of this name, cells of which may be empty.
    ///
    /// # Errors
    /// If its parts contradict each other.
    pub(crate) fn named(&self, name: &str) -> Result<TypePtr, parquet::errors::ParquetError> {
        let (scale, precision) = match &*self.0 {
            Type::PrimitiveType { scale, precision, .. } => (*scale, *precision),
            Type::GroupType { .. } => (-1, -1),
        };
        let info = self.0.get_basic_info();
        let length = i32::try_from(self.length()).unwrap_or(-1);
        let own = Type::primitive_type_builder(name, self.physical())
            .with_repetition(Repetition::OPTIONAL)
            .with_converted_type(info.converted_type())
            .with_logical_type(info.logical_type_ref().cloned())
            .with_length(if self.physical() == Physical::FIXED_LEN_BYTE_ARRAY {
                length
            } else {
                -1
            })
            .with_scale(scale)
            .with_precision(precision)
            .build()?;
        Ok(own.into())
    }
}
