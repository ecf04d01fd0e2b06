//! What surrounds a run: the terminal and the clock, asked once.

use std::io::IsTerminal;
use std::path::PathBuf;

use jiff::Timestamp;
use jiff::civil::Date;
use metachron_tables::address::Secrets;

/// Columns of text that are filled where the output is no terminal.
const WIDTH: usize = 110;

/// Facts about the surroundings.
#[derive(Debug, Clone)]
pub struct Ambient {
    /// Columns of text that standard output has.
    pub width: usize,
    /// Columns of text that standard error has.
    pub error_width: usize,
    /// Whether standard output shows colours.
    pub color: bool,
    /// Whether standard error shows colours.
    pub error_color: bool,
    /// Whether somebody may be watching standard error.
    pub stderr_is_terminal: bool,
    /// Whether somebody can answer on standard input what is asked on standard error.
    pub can_be_asked: bool,
    /// Passwords of database servers.
    pub secrets: Secrets,
    /// Today, in UTC.
    pub today: Date,
    /// The moment at which the program was started.
    pub now: Timestamp,
}

impl Ambient {
    /// Asks.
    pub fn gather() -> Ambient {
        let now = Timestamp::now();
        let wanted = std::env::var_os("NO_COLOR").is_none_or(|value| value.is_empty());
        Ambient {
            width: width(terminal_size::terminal_size_of(std::io::stdout())),
            error_width: width(terminal_size::terminal_size_of(std::io::stderr())),
            color: wanted && std::io::stdout().is_terminal(),
            error_color: wanted && std::io::stderr().is_terminal(),
            stderr_is_terminal: std::io::stderr().is_terminal(),
            can_be_asked: std::io::stdin().is_terminal() && std::io::stderr().is_terminal(),
            secrets: secrets(),
            today: jiff::tz::Offset::UTC.to_datetime(now).date(),
            now,
        }
    }
}

/// What libpq's variables say: the password, and the password file (`PGPASSFILE`, else `~/.pgpass`).
fn secrets() -> Secrets {
    let file = std::env::var_os("PGPASSFILE").map(PathBuf::from).or_else(|| {
        let home = std::env::var_os("HOME")?;
        Some(PathBuf::from(home).join(".pgpass"))
    });
    Secrets {
        password: std::env::var("PGPASSWORD").ok(),
        file: file.and_then(|file| std::fs::read_to_string(file).ok()),
    }
}

fn width(size: Option<(terminal_size::Width, terminal_size::Height)>) -> usize {
    size.map_or(WIDTH, |(terminal_size::Width(width), _)| usize::from(width).clamp(60, 160))
}
