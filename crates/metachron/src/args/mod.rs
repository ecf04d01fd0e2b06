//! What was typed.

use std::ffi::OsString;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

mod help;
mod line;
mod refused;
mod values;

use clap::error::ErrorKind;
use clap::{Args, CommandFactory, FromArgMatches, Parser, Subcommand, ValueEnum};

use crate::exit::Exit;
use crate::message::say;

pub use line::CommandLine;
pub use values::{
    AsOf, Color, ExistingTable, FixesBy, Instants, IsoForm, OutputFormat, Precision, SqliteTime,
    Tolerance,
};

/// Turns messy imported dates and times into clean typed timestamps, and never a silent wrong date.
#[derive(Debug, Parser)]
#[command(name = "metachron", version = version(), disable_help_subcommand = true)]
#[command(after_help = "Begin with:  metachron survey FILE\n\
    Exit status: 0 done, 1 could not, 2 wrong usage, 3 a decision is needed (nothing written), \
    4 written but rows are unreadable or contested")]
pub struct Arguments {
    /// What to do
    #[command(subcommand)]
    pub command: Command,
}

/// The program's version, and the release of the zone database that is built in.
fn version() -> &'static str {
    let zones = metachron_core::zone::Zones::bundled().version().unwrap_or("of no stated release");
    Box::leak(format!("{} (time zones {zones})", env!("CARGO_PKG_VERSION")).into_boxed_str())
}

/// The commands, in the order of the work.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// Say what is in a file: its columns, how their dates are written, and what is open
    Survey(Survey),
    /// Say every way to read single values, and what would settle it
    Explain(Explain),
    /// Write the table with typed columns beside the raw ones
    Convert(Box<Convert>),
    /// Read everything, write no table, and say what was found: unreadable and contested rows, and how
    /// a delivery differs from what its readings file was saved for
    Check(Check),
    /// Count the rows of each hour, day, week, month, quarter or year, or what their numbers add up to
    Count(Box<Count>),
    /// Draw how rows or numbers lie over time: PNG, SVG, or letters on the screen
    Chart(Box<Chart>),
    /// Write everything that was found in a file as one page of HTML, to be read, printed and passed on
    Report(Box<Report>),
    /// List what can be named in options: zones, locales, epochs, fields, steps
    List(List),
    /// Write the demo data and run the whole work on it
    Demo(Demo),
    /// Print what a shell needs to complete commands and options
    Completions(Completions),
    /// Write a manual page for each command
    Manual(Manual),
}

/// `metachron survey`
#[derive(Debug, Args)]
pub struct Survey {
    /// The file, or - for standard input; several are surveyed each, and all together; with --merge,
    /// files that --evidence has written
    #[arg(required = true, value_name = "FILE")]
    pub files: Vec<PathBuf>,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    #[command(flatten)]
    pub shaping: Shaping,
    /// Write the decisions to this readings file, to be reviewed and used by convert
    #[arg(long, value_name = "FILE.toml")]
    pub save: Option<PathBuf>,
    /// With --save: say yes to what tells the rows of mixed columns apart, or to what columns lean to
    /// (repeatable)
    #[arg(long, value_name = "split|leaning", requires = "save", conflicts_with = "ask")]
    pub accept: Vec<Accept>,
    /// On a terminal: ask about open columns one by one, and save the answers
    #[arg(long, conflicts_with_all = ["json", "merge"])]
    pub ask: bool,
    /// Write what was seen to this file, to be judged together with that of other files
    #[arg(long, value_name = "FILE")]
    pub evidence: Option<PathBuf>,
    /// Judge the sum of what was seen elsewhere
    #[arg(long, conflicts_with_all = OF_TABLES)]
    pub merge: bool,
    /// Look at so many rows only, and say so
    #[arg(long, value_name = "N", value_parser = values::from_one)]
    pub first_rows: Option<u64>,
    #[command(flatten)]
    pub view: View,
}

/// What says how tables are looked at: nothing of it is about evidence that was gathered from them.
const OF_TABLES: [&str; 12] = [
    "delimiter",
    "quote",
    "encoding",
    "sheet",
    "table",
    "query",
    "skip_lines",
    "header_line",
    "no_header",
    "max_record",
    "max_evidence",
    "first_rows",
];

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

/// What is accepted as it was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Accept {
    /// What tells the rows of mixed columns apart
    Split,
    /// The reading that a column leans to
    Leaning,
}

/// `metachron explain`
#[derive(Debug, Clone, Args)]
pub struct Explain {
    /// The values; several are judged together as well
    #[arg(required = true, value_name = "VALUE", allow_negative_numbers = true)]
    pub values: Vec<String>,
    /// The language and region that the values were written in, such as pt-PT
    #[arg(long, value_name = "LOCALE")]
    pub written_in: Option<String>,
    /// Read by this layout only, such as '{day}/{month}/{year}' (repeatable)
    #[arg(long, value_name = "LAYOUT")]
    pub layout: Vec<String>,
    /// A value of the same column and its right answer, such as 03/04/2024=2024-04-03 (repeatable);
    /// the values are judged together with it
    #[arg(long, value_name = "RAW=ISO", conflicts_with = "layout")]
    pub known: Vec<String>,
    /// Two-digit years lie in the hundred years from this one [default: 1969]
    #[arg(long, value_name = "YEAR", value_parser = values::whole)]
    pub two_digit_from: Option<i64>,
    /// The calendar of years, months and days, such as buddhist, persian or hebrew
    #[arg(long, value_name = "NAME")]
    pub calendar: Option<String>,
    /// The year of values that have none
    #[arg(long, value_name = "YEAR", allow_negative_numbers = true, value_parser = values::whole)]
    pub year: Option<i64>,
    /// The order of day, month and year in all-digit values: dmy, mdy, ymd or ydm
    #[arg(long, value_name = "ORDER", conflicts_with = "layout")]
    pub order: Option<String>,
    /// What the values are: date, time, datetime, instant, month, quarter, week, year or duration
    #[arg(long, value_name = "KIND")]
    pub kind: Option<String>,
    /// What numbers of durations count that have no unit
    #[arg(long, value_name = "UNIT")]
    pub unit: Option<String>,
    /// What numbers count from: a name that `list epochs` has, or INSTANT/UNIT
    #[arg(long, value_name = "NAME|INSTANT/UNIT")]
    pub epoch: Option<String>,
    /// The zone in which clock times were read, such as Europe/Oslo, or an offset
    #[arg(long, value_name = "ZONE", allow_hyphen_values = true)]
    pub zone: Option<String>,
    /// What the abbreviation of a zone means, such as IST=Asia/Kolkata (repeatable)
    #[arg(long, value_name = "NAME=ZONE")]
    pub abbreviation: Vec<String>,
    /// The day that counts as today, or the instant that counts as now [default: the clock]
    #[arg(long, value_name = "DATE|INSTANT")]
    pub as_of: Option<AsOf>,
    /// Print the same facts as JSON
    #[arg(long)]
    pub json: bool,
}

/// `metachron list`
#[derive(Debug, Args)]
pub struct List {
    /// What to list
    #[arg(value_name = "WHAT")]
    pub what: What,
    /// Only what has this in its name
    #[arg(long, value_name = "TEXT")]
    pub like: Option<String>,
    /// What zones show at this moment, such as 2024-07-01 or 2024-07-01T12:00Z [default: the clock]
    #[arg(long, value_name = "INSTANT")]
    pub at: Option<String>,
    /// The zone database: the built-in copy, the system's, or that of a folder [default: bundled]
    #[arg(long, value_name = "bundled|system|DIR")]
    pub zone_data: Option<String>,
    /// Print the same facts as JSON
    #[arg(long)]
    pub json: bool,
}

/// What can be listed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum What {
    /// Languages and regions for --written-in
    Locales,
    /// Time zones, for --zone and --to-zone
    Zones,
    /// Origins of numbers, for --epoch
    Epochs,
    /// The fields of layouts
    Fields,
    /// The steps of derived columns, for --make
    Steps,
}

/// `metachron convert`
#[derive(Debug, Args)]
pub struct Convert {
    /// The file, or - for standard input; several go to --output-dir
    #[arg(required = true, value_name = "FILE")]
    pub files: Vec<PathBuf>,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    #[command(flatten)]
    pub shaping: Shaping,
    /// Where the table goes; - or none is standard output
    #[arg(short, long, value_name = "FILE", conflicts_with = "output_dir")]
    pub output: Option<PathBuf>,
    /// What the output is, where its ending does not say it: csv, tsv, json, jsonl, parquet, arrow, xlsx,
    /// sqlite or sql
    #[arg(long, value_name = "FORMAT")]
    pub output_format: Option<OutputFormat>,
    /// The name of the table in a database or in SQL, or of the sheet in a workbook [default: the input's
    /// name]
    #[arg(long, value_name = "NAME")]
    pub into_table: Option<String>,
    /// How dates and clocks are written in text: extended (2024-03-05T10:15:00Z) or basic (20240305T101500Z)
    #[arg(long, value_name = "extended|basic", default_value = "extended")]
    pub iso_form: IsoForm,
    /// What becomes of a table of that name that is there already: stop and write nothing, append the
    /// rows, or replace it
    #[arg(long, value_name = "stop|append|replace", default_value = "stop")]
    pub existing_table: ExistingTable,
    /// How SQLite gets times: ISO 8601 text, or whole seconds of Unix time
    #[arg(long, value_name = "iso|unix", default_value = "iso")]
    pub sqlite_time: SqliteTime,
    /// The language and region in which workbooks show dates, such as de-DE; it is about the result
    #[arg(long, value_name = "LOCALE")]
    pub show_in: Option<String>,
    /// Give columns that nothing has read a type where every value allows it: whole numbers, decimal
    /// numbers, true and false; otherwise they are text
    #[arg(long)]
    pub infer_types: bool,
    /// The folder for the outputs, each named like its input
    #[arg(long, value_name = "DIR")]
    pub output_dir: Option<PathBuf>,
    /// Add a column of this name with the moment of this run, the same in every row (--as-of fixes it)
    #[arg(long, value_name = "NAME", value_parser = values::name)]
    pub stamp: Option<String>,
    /// The new column's name, for a single column [default: NAME_typed]
    #[arg(long, value_name = "NAME", value_parser = values::name)]
    pub into: Option<String>,
    /// Show moments in this zone, or at this offset; the moments stay the same
    #[arg(long, value_name = "ZONE", allow_hyphen_values = true)]
    pub to_zone: Option<String>,
    /// How moments are written: in UTC (Z), with the offset of their zone, with that and the zone's name
    /// (RFC 9557), or as local clock times with the zone in a column beside [default: utc; offset with
    /// --to-zone]
    #[arg(long, value_name = "FORM")]
    pub instants: Option<Instants>,
    /// How fine times are written: as fine as the column needs, or cut off to this
    #[arg(long, value_name = "PRECISION", default_value = "auto")]
    pub precision: Precision,
    /// Put the typed column in the raw one's place
    #[arg(long)]
    pub replace_raw: bool,
    /// Write the titles above the table, and what stands below it, too
    #[arg(long)]
    pub keep_preamble: bool,
    /// Leave out columns without a name and without a single value
    #[arg(long)]
    pub drop_blank_columns: bool,
    /// The encoding of the output [default: UTF-8]
    #[arg(long, value_name = "NAME")]
    pub output_encoding: Option<String>,
    /// What stands between the fields of delimited text: comma, tab, semicolon, pipe, or the character [default: as
    /// in the input, else comma]
    #[arg(long, value_name = "DELIMITER")]
    pub output_delimiter: Option<String>,
    /// Write every unreadable, contested or placeholder cell to this file, with its reason
    #[arg(long, value_name = "FILE")]
    pub rejects: Option<PathBuf>,
    #[command(flatten)]
    pub answers: RightAnswers,
    /// Write what the run has done to this file, for programs (JSON)
    #[arg(long, value_name = "FILE")]
    pub run_report: Option<PathBuf>,
    /// Show more of what came out: values of every written form, the first, the last, some drawn by chance, and what
    /// another reading would make of them
    #[arg(long)]
    pub compare: bool,
    /// Describe the columns of the output for other programs, in a file beside it: OUTPUT-metadata.json, as the
    /// W3C has it for tables in text (CSVW)
    #[arg(long)]
    pub describe: bool,
    /// Add a column NAME_note beside each typed one, which says in a word why a cell is empty
    #[arg(long)]
    pub note_column: bool,
    /// Unreadable or contested rows that may remain with exit status 0
    #[arg(long, value_name = "N|P%", default_value = "0", allow_hyphen_values = true)]
    pub tolerate: Tolerance,
    /// When to use colours
    #[arg(long, value_name = "WHEN", default_value = "auto")]
    pub color: Color,
}

/// `metachron check`
#[derive(Debug, Args)]
pub struct Check {
    /// The file, or - for standard input; several are checked one after the other
    #[arg(required = true, value_name = "FILE")]
    pub files: Vec<PathBuf>,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    #[command(flatten)]
    pub shaping: Shaping,
    /// What must hold of the values of a column, such as 'sorted, unique, within 2024-01-01..2024-12-31, complete day,
    /// regular 10 minutes'; what does not is a finding (exit status 4)
    #[arg(long, value_name = "LIST")]
    pub require: Vec<String>,
    #[command(flatten)]
    pub answers: RightAnswers,
    #[command(flatten)]
    pub view: View,
}

/// `metachron count`
#[derive(Debug, Args)]
pub struct Count {
    /// The file, or - for standard input
    #[arg(value_name = "FILE")]
    pub file: PathBuf,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    /// What rows are counted per: hour, day, week, month, quarter, year, weekday or 'hour of day'
    #[arg(long, value_name = "PERIOD", default_value = "month")]
    pub per: String,
    /// Add up the numbers, or lengths of time, in this column
    #[arg(long, value_name = "COLUMN")]
    pub sum: Vec<String>,
    /// Their mean
    #[arg(long, value_name = "COLUMN")]
    pub mean: Vec<String>,
    /// The least of them
    #[arg(long, value_name = "COLUMN")]
    pub least: Vec<String>,
    /// The greatest of them
    #[arg(long, value_name = "COLUMN")]
    pub most: Vec<String>,
    /// Count each value of this column by itself
    #[arg(long, value_name = "COLUMN")]
    pub by: Option<String>,
    #[command(flatten)]
    pub derived: Derived,
    /// The clock whose days and hours are counted, where the column holds moments [default: that of --zone, else UTC]
    #[arg(long, value_name = "ZONE", allow_hyphen_values = true)]
    pub to_zone: Option<String>,
    /// Write the counts to this file, as CSV, TSV, JSON, Parquet, a workbook or a database, by its ending
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    #[command(flatten)]
    pub view: View,
}

/// `metachron chart`
#[derive(Debug, Args)]
pub struct Chart {
    /// The file, or - for standard input
    #[arg(value_name = "FILE")]
    pub file: PathBuf,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    /// Draw the numbers, or lengths of time, in this column; without it rows are counted
    #[arg(long, value_name = "COLUMN")]
    pub value: Option<String>,
    /// Tell the values of this column apart
    #[arg(long, value_name = "COLUMN")]
    pub by: Option<String>,
    /// What rows are counted per: hour, day, week, month, quarter or year [default: what fits]
    #[arg(long, value_name = "PERIOD")]
    pub per: Option<String>,
    /// From one tick of the axis of time to the next, such as '1 week' or '2 minutes' [default: what fits]
    #[arg(long, value_name = "AMOUNT UNIT")]
    pub axis_step: Option<String>,
    /// The language and region in which days and months are called, such as de-DE
    #[arg(long, value_name = "LOCALE")]
    pub show_in: Option<String>,
    #[command(flatten)]
    pub derived: Derived,
    /// The clock by which moments are drawn [default: that of --zone, else UTC]
    #[arg(long, value_name = "ZONE", allow_hyphen_values = true)]
    pub to_zone: Option<String>,
    /// Write the picture to this file: .png or .svg
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Draw it in letters, on standard output
    #[arg(long, conflicts_with = "json")]
    pub on_screen: bool,
    #[command(flatten)]
    pub view: View,
}

/// `metachron report`
#[derive(Debug, Args)]
pub struct Report {
    /// The file, or - for standard input
    #[arg(value_name = "FILE")]
    pub file: PathBuf,
    #[command(flatten)]
    pub input: Input,
    #[command(flatten)]
    pub columns: ColumnOptions,
    #[command(flatten)]
    pub shaping: Shaping,
    #[command(flatten)]
    pub answers: RightAnswers,
    /// The page, such as report.html
    #[arg(short, long, value_name = "FILE.html")]
    pub output: PathBuf,
}

/// `metachron completions`
#[derive(Debug, Args)]
pub struct Completions {
    /// The shell; its own manual says where the output belongs
    #[arg(value_name = "SHELL")]
    pub shell: clap_complete::Shell,
}

/// `metachron manual`
#[derive(Debug, Args)]
pub struct Manual {
    /// The folder for the pages, such as ~/.local/share/man/man1
    #[arg(long, value_name = "DIR")]
    pub dir: PathBuf,
}

/// `metachron demo`
#[derive(Debug, Args)]
pub struct Demo {
    /// The folder for the demo data, new or empty
    #[arg(long, value_name = "DIR", default_value = "metachron-demo")]
    pub dir: PathBuf,
}

/// How the file is written, where its own signs are not enough.
#[derive(Debug, Default, Args)]
pub struct Input {
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
    /// Show no progress and no summary
    #[arg(long)]
    pub quiet: bool,
    /// Use the decisions in this readings file
    #[arg(long, value_name = "FILE.toml")]
    pub readings: Option<PathBuf>,
    /// The day that counts as today, or the instant that counts as now [default: the clock]
    #[arg(long, value_name = "DATE|INSTANT")]
    pub as_of: Option<AsOf>,
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

/// The program with all its commands and options.
pub fn program() -> clap::Command {
    help::ordered(Arguments::command())
}

/// Takes the command line apart, and keeps it as it was typed; help and wrong usage are shown here.
pub fn parse() -> Result<(Arguments, CommandLine), ExitCode> {
    let parsed = program().try_get_matches().and_then(|matches| {
        let line = CommandLine::of(&matches);
        Ok((Arguments::from_arg_matches(&matches)?, line))
    });
    parsed.map_err(|error| {
        if error.use_stderr() {
            let typed: Vec<OsString> = std::env::args_os().collect();
            match error.kind() {
                // Who types nothing is shown what there is.
                ErrorKind::DisplayHelpOnMissingArgumentOrSubcommand => {
                    say(error.render().to_string().trim_end());
                }
                _ => say(&format!("metachron: {}", refused::refusal(&error, &typed))),
            }
            return Exit::Usage.into();
        }
        // Whoever asks for help and does not listen to the end needs none.
        let _ = error.print();
        Exit::Done.into()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_definition_is_sound() {
        Arguments::command().debug_assert();
    }
}
