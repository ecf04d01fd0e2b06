//! How a run ended, for the shell.

use std::process::ExitCode;

/// The exit status.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Exit {
    /// Done.
    Done = 0,
    /// Could not: file, format, disk.
    CouldNot = 1,
    /// Wrong usage.
    Usage = 2,
    /// A decision is needed; nothing was written.
    Question = 3,
    /// Written, but more rows than tolerated are unreadable or contested; of a check, that it has found
    /// something.
    Left = 4,
}

impl From<Exit> for ExitCode {
    fn from(exit: Exit) -> ExitCode {
        ExitCode::from(exit as u8)
    }
}
