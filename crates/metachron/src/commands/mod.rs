//! The commands, one file each.

mod convert;
mod rejects;
mod study;
mod survey;

use crate::ambient::Ambient;
use crate::args::{Arguments, Command};
use crate::exit::Exit;
use crate::message::Failure;

pub use study::{Studied, Study};

/// Does what was asked.
pub fn run(arguments: Arguments, ambient: &Ambient) -> Result<Exit, Failure> {
    match arguments.command {
        Command::Survey(survey) => survey::run(&survey, ambient),
        Command::Convert(convert) => convert::run(&convert, ambient),
        Command::Demo(demo) => crate::demo::run(&demo),
    }
}
