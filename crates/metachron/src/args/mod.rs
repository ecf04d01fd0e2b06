//! What was typed.

use std::ffi::OsString;
use std::path::PathBuf;
use std::process::ExitCode;

mod help;
mod line;
mod refused;
mod values;
mod shared;

use clap::error::ErrorKind;
use clap::{Args, CommandFactory, FromArgMatches, Parser, Subcommand, ValueEnum};

use crate::exit::Exit;
use crate::message::say;

pub use line::CommandLine;
pub use shared::{ColumnOptions, Derived, HowWritten, Input, RightAnswers, Shaping, View};
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
    #[arg(long, conflicts_with_all = ["first_rows", "HowWritten"])]
    pub merge: bool,
    /// Look at so many rows only, and say so
    #[arg(long, value_name = "N", value_parser = values::from_one)]
    pub first_rows: Option<u64>,
    #[command(flatten)]
    pub view: View,
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
    /// The day that counts as today in every step [default: the clock]
    #[arg(long, value_name = "DATE", value_parser = values::day)]
    pub as_of: Option<jiff::civil::Date>,
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
