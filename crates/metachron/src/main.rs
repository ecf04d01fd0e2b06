//! Metachron: turns messy imported dates and times into clean typed timestamps.
//!
//! [`args`] is what was typed, [`config`] what it means; [`commands`] does the work on a
//! [`intake::Intake`], and [`report`] says what came of it.

mod ambient;
mod args;
mod commands;
mod config;
mod decisions;
mod demo;
mod evidence_file;
mod exit;
mod intake;
mod interrupt;
mod message;
mod progress;
mod readings_file;
mod report;
mod said;
mod zoning;

use std::process::ExitCode;

fn main() -> ExitCode {
    let ambient = ambient::Ambient::gather();
    let arguments = match args::parse() {
        Ok(arguments) => arguments,
        Err(shown) => return shown,
    };
    match commands::run(arguments, &ambient) {
        Ok(exit) => exit.into(),
        Err(failure) => failure.report(),
    }
}
