//! What surrounds a run: the terminal and the clock, asked once.

use std::io::IsTerminal;
use std::num::NonZero;
use std::path::PathBuf;
use std::sync::Arc;

use jiff::Timestamp;
use jiff::civil::Date;
use metachron_tables::address::{EncryptionWish, Prompt, Secrets};

use crate::password::password;

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
    /// Whether the locale says another encoding than UTF-8; one that says nothing says UTF-8.
    pub has_ascii_alone: bool,
    /// How many threads can work at the same time.
    pub processors: usize,
    /// Whether somebody may be watching standard error.
    pub stderr_is_terminal: bool,
    /// Whether somebody can answer on standard input what is asked on standard error.
    pub can_be_asked: bool,
    /// What database servers are reached with.
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
        let is_plain = std::env::var_os("TERM").is_some_and(|term| term == "dumb");
        let wanted = !is_plain && std::env::var_os("NO_COLOR").is_none_or(|value| value.is_empty());
        let can_be_asked = std::io::stdin().is_terminal() && std::io::stderr().is_terminal();
        Ambient {
            width: width(terminal_size::terminal_size_of(std::io::stdout())),
            error_width: width(terminal_size::terminal_size_of(std::io::stderr())),
            color: wanted && std::io::stdout().is_terminal(),
            error_color: wanted && std::io::stderr().is_terminal(),
            has_ascii_alone: has_ascii_alone(|name| std::env::var(name).ok()),
            processors: std::thread::available_parallelism().map_or(1, NonZero::get),
            stderr_is_terminal: std::io::stderr().is_terminal(),
            can_be_asked,
            secrets: secrets(can_be_asked),
            today: jiff::tz::Offset::UTC.to_datetime(now).date(),
            now,
        }
    }
}

/// What libpq's variables and files say: the password (`PGPASSWORD`), the password file (`PGPASSFILE`, else `~/.pgpass`),
/// how connections are encrypted (`PGSSLMODE`), and the certificates that servers are verified by (`PGSSLROOTCERT`, else
/// `~/.postgresql/root.crt` where it exists).
fn secrets(can_be_asked: bool) -> Secrets {
    let home = std::env::var_os("HOME").map(PathBuf::from);
    let variable =
        |name: &str| std::env::var_os(name).filter(|own| !own.is_empty()).map(PathBuf::from);
    let at_home = |path: &str| home.as_ref().map(|home| home.join(path));
    let file = variable("PGPASSFILE").or_else(|| at_home(".pgpass"));
    let roots = variable("PGSSLROOTCERT")
        .or_else(|| at_home(".postgresql/root.crt").filter(|file| file.exists()));
    let mode = std::env::var("PGSSLMODE").ok().filter(|own| !own.is_empty());
    Secrets {
        password: std::env::var("PGPASSWORD").ok(),
        file: file.and_then(|file| std::fs::read_to_string(file).ok()),
        prompt: can_be_asked.then(|| Arc::new(Prompt::new(password))),
        encryption: EncryptionWish { mode, roots },
    }
}

fn width(size: Option<(terminal_size::Width, terminal_size::Height)>) -> usize {
    size.map_or(WIDTH, |(terminal_size::Width(width), _)| usize::from(width).clamp(60, 200))
}

/// What POSIX has for the encoding of a terminal: the first of these variables that is set (XBD 8.2).
fn has_ascii_alone(variable: impl Fn(&str) -> Option<String>) -> bool {
    let all = ["LC_ALL", "LC_CTYPE", "LANG"].into_iter().filter_map(variable);
    let locale = all.into_iter().find(|own| !own.is_empty()).map(|own| own.to_lowercase());
    locale.is_some_and(|own| !own.contains("utf-8") && !own.contains("utf8"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_first_variable_that_is_set_says_the_encoding() {
        for (all, is_ascii) in [
            ([None, None, None], false),
            ([Some("C"), None, Some("nb_NO.UTF-8")], true),
            ([Some(""), Some("C.utf8"), Some("POSIX")], false),
            ([None, None, Some("de_DE.ISO-8859-1")], true),
        ] {
            let variable = |name: &str| {
                let at = ["LC_ALL", "LC_CTYPE", "LANG"].iter().position(|own| *own == name);
                at.and_then(|at| all[at]).map(str::to_owned)
            };
            assert_eq!(has_ascii_alone(variable), is_ascii, "{all:?}");
        }
    }
}
