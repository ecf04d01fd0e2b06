//! What surrounds a run: the terminal and the clock, asked once.

use std::io::IsTerminal;

use jiff::Timestamp;
use jiff::civil::Date;

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
            today: jiff::tz::Offset::UTC.to_datetime(now).date(),
            now,
        }
    }
}

fn width(size: Option<(terminal_size::Width, terminal_size::Height)>) -> usize {
    size.map_or(WIDTH, |(terminal_size::Width(width), _)| usize::from(width).clamp(60, 160))
}
