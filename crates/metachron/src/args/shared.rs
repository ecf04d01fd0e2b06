//! Options that several commands have.

use std::path::{Path, PathBuf};

use clap::Args;

use super::values::{self, AsOf, Color, FixesBy};

/// How the file is written, where its own signs are not enough, and what room it may take. A group of this name: nothing of
/// it is about what was seen elsewhere.
#[derive(Debug, Default, Args)]
pub struct HowWritten {
    /// What stands between fields: comma, tab, semicolon, pipe, or the character
    #[arg(long, value_name = "DELIMITER")]
    pub delimiter: Option<String>,
    /// What stands around fields: double or single quotation marks
    #[arg(long, value_name = "double|single")]
    pub quote: Option<String>,
    /// The encoding, such as windows-1252 or utf-16le
    #[arg(long, value_name = "NAME")]
    pub encoding: Option<String>,
    /// The sheet of a workbook, by its name or number [default: the first with a table]
    #[arg(long, value_name = "NAME|NUMBER")]
    pub sheet: Option<String>,
    /// The table of a database [default: the first]
    #[arg(long, value_name = "NAME", conflicts_with = "query")]
    pub table: Option<String>,
    /// What to read from a database, in SQL
    #[arg(long, value_name = "SELECT")]
    pub query: Option<String>,
    /// Lines before the header
    #[arg(long, value_name = "N", conflicts_with = "header_line", value_parser = values::from_zero)]
    pub skip_lines: Option<u64>,
    /// The line where the names of the columns stand
    #[arg(long, value_name = "LINE", conflicts_with = "no_header", value_parser = values::from_one)]
    pub header_line: Option<u64>,
    /// There are no names: columns are called column_1, column_2, …
    #[arg(long)]
    pub no_header: bool,
    /// Megabytes that one record may have [default: 64]
    #[arg(long, value_name = "MB", value_parser = values::from_one)]
    pub max_record: Option<u64>,
    /// Megabytes that what is seen of the columns may take [default: 512]
    #[arg(long, value_name = "MB", value_parser = values::from_one)]
    pub max_evidence: Option<u64>,
}

/// The file that is read, and what is known of it.
#[derive(Debug, Default, Args)]
pub struct Input {
    #[command(flatten)]
    pub written: HowWritten,
    /// Show no progress and no summary
    #[arg(long)]
    pub quiet: bool,
    /// Use the decisions in this readings file
    #[arg(long, value_name = "FILE.toml")]
    pub readings: Option<PathBuf>,
    /// The day that counts as today, or the instant that counts as now [default: the clock]
    #[arg(long, value_name = "DATE|INSTANT")]
    pub as_of: Option<AsOf>,
    /// Work on so many threads [default: as many as there are processors]
    #[arg(long, value_name = "N", value_parser = values::threads)]
    pub threads: Option<usize>,
}

/// How a report is shown.
#[derive(Debug, Args)]
pub struct View {
    /// Print the same facts as JSON
    #[arg(long)]
    pub json: bool,
    /// When to use colours
    #[arg(long, value_name = "WHEN", default_value = "auto")]
    pub color: Color,
}

/// Right answers for single cells.
#[derive(Debug, Args)]
pub struct RightAnswers {
    /// Right answers for single cells: a rejects file whose column "right_value" was filled in, or any table with
    /// column, value, right_value and maybe row; the raw value must be the cell's
    #[arg(long, value_name = "FILE")]
    pub fixes: Option<PathBuf>,
    /// Where right answers belong: to the row that each names, or to every cell with the same raw value, such as those of
    /// the next file
    #[arg(long, value_name = "WHERE", default_value = "row", requires = "fixes")]
    pub fixes_by: FixesBy,
}

impl RightAnswers {
    /// The file, and where its answers belong.
    pub fn said(&self) -> Option<(&Path, FixesBy)> {
        self.fixes.as_deref().map(|path| (path, self.fixes_by))
    }
}

/// Columns that are derived from others, and which rows are taken.
#[derive(Debug, Clone, Default, Args)]
pub struct Derived {
    /// A column that is derived from others by steps, such as 'stay = released | since captured | as
    /// days' (repeatable); `list steps` has them
    #[arg(long, value_name = "NAME = COLUMN | STEP …")]
    pub make: Vec<String>,
    /// Take only the rows of which this holds, such as 'released >= 2024-03-01 and station = Skarholm'
    /// (repeatable: all must hold); steps stand before a comparison as in --make
    #[arg(long = "where", value_name = "CONDITION")]
    pub conditions: Vec<String>,
}

/// What is made of the table: further columns, and which rows are written in which order.
#[derive(Debug, Default, Args)]
pub struct Shaping {
    #[command(flatten)]
    pub derived: Derived,
    /// Sort rows by these columns, earliest first (of equal ones by the next column); rows without a value come last, and
    /// what nothing has read is sorted as text
    #[arg(long, value_name = "COLUMN[,COLUMN]")]
    pub sort_by: Vec<String>,
    /// A column of regular dates for a table without: the first row has START, each next one is a step
    /// further, such as 'day = 2024-01-01 / 1 day' (repeatable)
    #[arg(long, value_name = "NAME = START / AMOUNT UNIT")]
    pub series: Vec<String>,
    /// With --series: the column whose values each have a series of their own
    #[arg(long, value_name = "COLUMN")]
    pub by: Option<String>,
}

/// How columns are to be read.
#[derive(Debug, Args)]
pub struct ColumnOptions {
    /// The column that the other options are about (repeatable)
    #[arg(long, value_name = "COLUMN")]
    pub column: Vec<String>,
    /// Decisions for one column, as in a readings file (repeatable)
    #[arg(long, value_name = "COLUMN: KEY=VALUE, …")]
    pub set: Vec<String>,
    /// The language and region that the values were written in, such as pt-PT; it is about the
    /// source, not about the result
    #[arg(long, value_name = "LOCALE")]
    pub written_in: Option<String>,
    /// The order of day, month and year in all-digit values: dmy, mdy, ymd or ydm
    #[arg(long, value_name = "ORDER")]
    pub order: Option<String>,
    /// Read by this layout, such as '{day}/{month}/{year}' (repeatable, in order of preference)
    #[arg(long, value_name = "LAYOUT")]
    pub layout: Vec<String>,
    /// What the values are, where their form leaves it open: date, time, datetime, instant, month,
    /// quarter, week, year or duration
    #[arg(long, value_name = "KIND")]
    pub kind: Option<String>,
    /// What numbers of durations count that have no unit: seconds, minutes, hours, days …; it makes
    /// durations of plain numbers
    #[arg(long, value_name = "UNIT")]
    pub unit: Option<String>,
    /// The calendar of years, months and days, such as buddhist, persian or hebrew
    #[arg(long, value_name = "NAME")]
    pub calendar: Option<String>,
    /// The first day of the Gregorian calendar, such as 1582-10-15 or 1752-09-14; days before it are
    /// of the Julian one
    #[arg(long, value_name = "DATE", conflicts_with = "calendar")]
    pub reform: Option<String>,
    /// The year of the first row, where values have none; it goes on from there at New Year
    #[arg(long, value_name = "YEAR", allow_negative_numbers = true, value_parser = values::whole)]
    pub year: Option<i64>,
    /// What months, quarters, weeks and years become: their first or their last day
    #[arg(long, value_name = "start|end")]
    pub anchor: Option<String>,
    /// A value and its right answer, such as 03/04/2024=2024-04-03 (repeatable)
    #[arg(long, value_name = "RAW=ISO", conflicts_with_all = ["order", "layout"])]
    pub known: Vec<String>,
    /// Two-digit years lie in the hundred years from this one [default: 1969]
    #[arg(long, value_name = "YEAR", value_parser = values::whole)]
    pub two_digit_from: Option<i64>,
    /// What numbers count from: a name that `list epochs` has, or INSTANT/UNIT such as
    /// 1582-10-14/seconds
    #[arg(long, value_name = "NAME|INSTANT/UNIT")]
    pub epoch: Option<String>,
    /// The zone in which clock times were read, such as Europe/Oslo, or an offset such as +01:00; it is
    /// about the source, --to-zone about the result
    #[arg(long, value_name = "ZONE", conflicts_with = "zone_from", allow_hyphen_values = true)]
    pub zone: Option<String>,
    /// The column that names the zone of each row
    #[arg(long, value_name = "COLUMN")]
    pub zone_from: Option<String>,
    /// A clock time that the clocks skipped: refuse it (default), or use the offset before or after the
    /// change
    #[arg(long, value_name = "reject|before|after")]
    pub skipped_clock: Option<String>,
    /// A clock time that came twice: refuse it (default), it is the first or the second, or the rows
    /// around it show which
    #[arg(long, value_name = "reject|first|second|by-sequence")]
    pub repeated_clock: Option<String>,
    /// What the abbreviation of a zone means, such as IST=Asia/Kolkata (repeatable)
    #[arg(long, value_name = "NAME=ZONE")]
    pub abbreviation: Vec<String>,
    /// With --repeated-clock by-sequence: the column that names the clock of each row, where several
    /// logs stand in one table
    #[arg(long, value_name = "COLUMN")]
    pub sequence_by: Option<String>,
    /// Where an offset is not what the named zone had at that moment, the offset is right
    #[arg(long)]
    pub offset_wins: bool,
    /// The zone database: the built-in copy, the system's, or that of a folder [default: bundled]
    #[arg(long, value_name = "bundled|system|DIR")]
    pub zone_data: Option<String>,
    /// How some rows are written, such as 'captured where station=Port Meridian: order=mdy', or
    /// 'captured rows 4813..: order=mdy' (repeatable); --order or --layout then speak of the others
    #[arg(long, value_name = "COLUMN where COLUMN=VALUE: KEY=VALUE")]
    pub when: Vec<String>,
    /// What an earlier import did: half-swapped (it exchanged day and month where both can be a month,
    /// and left the rest as text), swapped (it exchanged them in every date), month-year (it took Apr-22 for the
    /// 22nd of April), or none
    #[arg(long, value_name = "half-swapped|swapped|month-year|none")]
    pub repair: Option<String>,
    /// More texts to treat as empty, separated by commas (repeatable)
    #[arg(long, value_name = "LIST", value_delimiter = ',')]
    pub missing: Vec<String>,
    /// Read dates only in form, such as 9999-12-31 or serial number 0, like any other value
    #[arg(long)]
    pub keep_placeholders: bool,
    /// Rows on which the given layouts disagree: leave them empty, or prefer the earlier layout
    #[arg(long, value_name = "empty|prefer")]
    pub contested: Option<String>,
}
