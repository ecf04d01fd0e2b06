//! Table formats: opens files, yields rows as byte ranges, writes outputs whole or not at all.
//!
//! Rows are views of the bytes as they stand in the file, so that a table can be written again
//! with cells added and every other byte as it was.
//!
//! ```
//! use metachron_tables::delimited::RecordReader;
//! use metachron_tables::dialect::Delimiter;
//!
//! let file = b"ring,captured\nSK-0417,\"03/04/2024\"\n";
//! let mut records = RecordReader::new(&file[..], Delimiter::Comma);
//! let header = records.next_record()?.unwrap();
//! assert_eq!(header.field_count(), 2);
//! let row = records.next_record()?.unwrap();
//! let mut buffer = String::new();
//! assert_eq!(row.raw(1), "\"03/04/2024\"");
//! assert_eq!(row.value(1, &mut buffer), "03/04/2024");
//! # Ok::<(), metachron_tables::error::TableError>(())
//! ```

pub mod error;
pub mod address;
pub mod place;
pub mod compress;
pub mod encoding;
pub mod frame;
mod blocks;
pub mod cells;
pub mod dialect;
pub mod delimited;
mod records;
pub mod chunks;
pub mod wanted;
pub mod stored;
#[cfg(any(feature = "columnar", feature = "sqlite", feature = "workbook"))]
mod contain;
#[cfg(feature = "columnar")]
mod int96;
#[cfg(feature = "columnar")]
pub mod columnar;
#[cfg(feature = "sqlite")]
pub mod sqlite;
#[cfg(feature = "postgres")]
mod encryption;
#[cfg(feature = "postgres")]
pub mod postgres;
mod html;
#[cfg(feature = "workbook")]
mod sheet_parts;
pub mod sort;
pub mod recognise;
pub mod header;
mod watch;
pub mod open;
pub mod json;
pub mod deliver;
pub mod sheet;
#[cfg(feature = "workbook")]
pub mod workbook;
pub mod table;
pub mod batch;
pub mod sink;
