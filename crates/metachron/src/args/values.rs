//! Values of options that are one of a few words, or a number.

use std::path::{Path, PathBuf};
use std::str::FromStr;

use clap::ValueEnum;
use jiff::Timestamp;
use jiff::civil::Date;
use metachron_tables::compress::Compression;

/// A whole number.
pub fn whole(text: &str) -> Result<i64, String> {
    text.parse().map_err(|_| "is no whole number".to_owned())
}

/// A number of things of which there is one at least.
pub fn from_one(text: &str) -> Result<u64, String> {
    let number = text.parse().ok().filter(|number| *number > 0);
    number.ok_or_else(|| "is no whole number from 1 on".to_owned())
}

/// A number of threads.
pub fn threads(text: &str) -> Result<usize, String> {
    let number = text.parse().ok().filter(|number| (1..=256).contains(number));
    number.ok_or_else(|| "is no whole number from 1 to 256".to_owned())
}

/// A number of things of which there may be none.
pub fn from_zero(text: &str) -> Result<u64, String> {
    text.parse().map_err(|_| "is no whole number from 0 on".to_owned())
}

/// A day alone.
pub fn day(text: &str) -> Result<Date, String> {
    text.parse().map_err(|_| "is no day such as 2024-06-01".to_owned())
}

/// What counts as today, and as now.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AsOf {
    /// The day, in UTC.
    pub today: Date,
    /// The instant: the beginning of the day, if only that was said.
    pub now: Timestamp,
}

impl FromStr for AsOf {
    type Err = String;

    fn from_str(text: &str) -> Result<AsOf, String> {
        let utc = jiff::tz::Offset::UTC;
        let day = |today: Date| {
            let now = utc.to_timestamp(today.at(0, 0, 0, 0)).ok()?;
            Some(AsOf { today, now })
        };
        let instant = |now: Timestamp| AsOf { today: utc.to_datetime(now).date(), now };
        // A time behind the day needs its zone.
        let is_day = !text.contains(['T', 't', ':']);
        let read = match is_day {
            true => text.parse().ok().and_then(day),
            false => text.parse().ok().map(instant),
        };
        read.ok_or_else(|| {
            "is neither a day, such as 2024-06-01, nor an instant, such as 2024-06-01T12:00Z"
                .to_owned()
        })
    }
}

/// What an output is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum OutputFormat {
    /// Text with commas
    Csv,
    /// Text with tabs
    Tsv,
    /// One JSON array
    Json,
    /// A JSON object a line
    Jsonl,
    /// Apache Parquet
    Parquet,
    /// An Arrow IPC file, where the program was built with it
    Arrow,
    /// A workbook
    Xlsx,
    /// A SQLite database
    Sqlite,
    /// SQL text
    Sql,
}

impl OutputFormat {
    /// The endings of names that say a format; of several the first is the usual one.
    pub const ENDINGS: [(&'static str, OutputFormat); 13] = [
        (".csv", OutputFormat::Csv),
        (".tsv", OutputFormat::Tsv),
        (".tab", OutputFormat::Tsv),
        (".json", OutputFormat::Json),
        (".jsonl", OutputFormat::Jsonl),
        (".ndjson", OutputFormat::Jsonl),
        (".parquet", OutputFormat::Parquet),
        (".arrow", OutputFormat::Arrow),
        (".xlsx", OutputFormat::Xlsx),
        (".sqlite", OutputFormat::Sqlite),
        (".sqlite3", OutputFormat::Sqlite),
        (".db", OutputFormat::Sqlite),
        (".sql", OutputFormat::Sql),
    ];

    /// The name of a file in this format whose input has this one; text that is compressed stays so.
    pub fn named(self, input: &Path) -> PathBuf {
        let mut endings = OutputFormat::ENDINGS.iter().filter(|(_, own)| *own == self);
        let ending = endings.next().map_or("", |(ending, _)| &ending[1..]);
        let own = match Compression::of(input) {
            Some(_) => input.with_extension(""),
            None => input.to_owned(),
        };
        match own.extension().is_some_and(|own| own.eq_ignore_ascii_case(ending)) {
            true => input.to_owned(),
            false => own.with_extension(ending),
        }
    }
}

/// A name of a column.
pub fn name(text: &str) -> Result<String, String> {
    match text.trim().is_empty() {
        true => Err("is no name".to_owned()),
        false => Ok(text.to_owned()),
    }
}

/// The formats of ISO 8601.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum IsoForm {
    /// 2024-03-05T10:15:00Z
    Extended,
    /// 20240305T101500Z
    Basic,
}

/// Where right answers belong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FixesBy {
    /// To the row that each names, and if it names none, to the cells with its raw value
    Row,
    /// To every cell with the same raw value; those that find none are left aside
    Value,
}

/// What becomes of a table that is there already.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ExistingTable {
    /// Nothing is written
    Stop,
    /// Rows are added
    Append,
    /// It is made anew
    Replace,
}

/// How SQLite gets times.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SqliteTime {
    /// 2024-03-05T10:15:00Z
    Iso,
    /// 1709633700
    Unix,
}

/// How fine times are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Precision {
    /// As fine as the values of the column are
    Auto,
    /// 10:15
    Minute,
    /// 10:15:30
    Second,
    /// 10:15:30.250
    Milliseconds,
    /// 10:15:30.250000
    Microseconds,
    /// 10:15:30.250000000
    Nanoseconds,
}

impl Precision {
    /// The same for writing; none if the values say it.
    pub fn fixed(self) -> Option<metachron_core::write::Precision> {
        use metachron_core::write::Precision as Fine;
        match self {
            Precision::Auto => None,
            Precision::Minute => Some(Fine::Minute),
            Precision::Second => Some(Fine::Second(0)),
            Precision::Milliseconds => Some(Fine::Second(3)),
            Precision::Microseconds => Some(Fine::Second(6)),
            Precision::Nanoseconds => Some(Fine::Second(9)),
        }
    }
}

/// How moments are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Instants {
    /// 2024-07-01T10:00:00Z
    Utc,
    /// 2024-07-01T12:00:00+02:00
    Offset,
    /// 2024-07-01T12:00:00+02:00[Europe/Oslo]
    Zone,
    /// 2024-07-01T12:00:00, and Europe/Oslo in a column of its own
    Local,
}

impl From<Instants> for metachron_core::write::Instants {
    fn from(form: Instants) -> Self {
        match form {
            Instants::Utc => Self::Utc,
            Instants::Offset => Self::Offset,
            Instants::Zone => Self::Zone,
            Instants::Local => Self::Local,
        }
    }
}

/// When to use colours.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Color {
    /// In a terminal
    Auto,
    /// Always
    Always,
    /// Never
    Never,
}

impl Color {
    /// Whether to use them, where a terminal `would` show them.
    pub fn or(self, would: bool) -> bool {
        match self {
            Color::Auto => would,
            Color::Always => true,
            Color::Never => false,
        }
    }
}

/// Rows that may remain unread.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Tolerance {
    /// So many rows.
    Rows(u64),
    /// So many of a hundred.
    Percent(f64),
}

impl Tolerance {
    /// Whether so many of all rows are tolerated.
    pub fn allows(self, left: u64, rows: u64) -> bool {
        match self {
            Tolerance::Rows(most) => left <= most,
            Tolerance::Percent(percent) => left as f64 * 100.0 <= percent * rows as f64,
        }
    }
}

impl std::str::FromStr for Tolerance {
    type Err = String;

    fn from_str(text: &str) -> Result<Tolerance, String> {
        let wrong = || "is neither a number of rows such as 20 nor a share such as 0.5%".to_owned();
        match text.strip_suffix('%') {
            Some(percent) => percent
                .trim()
                .parse()
                .ok()
                .filter(|percent| (0.0..=100.0).contains(percent))
                .map(Tolerance::Percent)
                .ok_or_else(wrong),
            None => text.parse().map(Tolerance::Rows).map_err(|_| wrong()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tolerances() {
        assert_eq!("20".parse(), Ok(Tolerance::Rows(20)));
        assert_eq!("0.5%".parse(), Ok(Tolerance::Percent(0.5)));
        for wrong in ["", "-1", "x", "101%", "%", "nan%"] {
            assert!(wrong.parse::<Tolerance>().is_err(), "{wrong}");
        }
        assert!(Tolerance::Percent(1.0).allows(1, 100) && !Tolerance::Percent(1.0).allows(2, 100));
        assert!(Tolerance::Rows(0).allows(0, 0) && !Tolerance::Rows(1).allows(2, 1_000_000));
    }
}
