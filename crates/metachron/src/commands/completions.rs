//! `metachron completions`: what a shell needs to complete commands and options.

use super::print;
use crate::args;
use crate::exit::Exit;
use crate::message::Failure;

/// Prints it for a shell.
pub fn run(completions: &args::Completions) -> Result<Exit, Failure> {
    let mut command = args::program();
    let name = command.get_name().to_owned();
    let mut script = Vec::new();
    clap_complete::generate(completions.shell, &mut command, name, &mut script);
    print(&String::from_utf8_lossy(&script), true)?;
    Ok(Exit::Done)
}
