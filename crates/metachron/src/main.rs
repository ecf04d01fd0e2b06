//! Metachron: turns messy imported dates and times into clean typed timestamps.
//!
//! [`args`] is what was typed, [`choices`] what it means for every column. [`survey`] looks at a table and judges its
//! columns, [`conversion`] adds typed ones, [`report`] says what came of it in [`words`]; [`commands`] is what calls
//! them, one file each.

mod exit;
mod interrupt;
mod words;
mod message;
mod password;
mod ambient;
mod args;
mod paths;
mod intake;
mod progress;
mod workers;
mod pass;
mod choices;
mod survey;
mod conversion;
mod figures;
mod counting;
mod checking;
mod charting;
mod report;
#[cfg(feature = "chart")]
mod drawing;
mod demo;
mod commands;

use std::process::ExitCode;

fn main() -> ExitCode {
    let ambient = ambient::Ambient::gather();
    message::shows_ascii(ambient.has_ascii_alone);
    let (arguments, line) = match args::parse() {
        Ok(typed) => typed,
        Err(shown) => return shown,
    };
    match commands::run(arguments, &line, &ambient) {
        Ok(exit) => exit.into(),
        Err(failure) => failure.report(),
    }
}
