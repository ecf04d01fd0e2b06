//! The commands, one file each.

mod ask;
mod one_column;
mod chart;
mod check;
mod completions;
mod convert;
mod count;
mod explain;
mod list;
mod manual;
mod report;
mod saved_column;
mod save;
mod survey;

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_tables::address::is_address;
use metachron_tables::place::Output;

use crate::ambient::Ambient;
use crate::args::{Arguments, Command, CommandLine};
use crate::exit::Exit;
use crate::message::{Failure, leaving, say, shown};

/// The files that are named, a pattern such as `stations/*.csv` standing for those that match it.
fn files(named: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let mut files = Vec::new();
    for path in named {
        let pattern = path.to_string_lossy();
        // A file of this very name is meant before any pattern.
        if !pattern.contains(['*', '?', '[']) || path.exists() || is_address(path) {
            files.push(path.clone());
            continue;
        }
        let wrong = |error: &dyn std::fmt::Display| {
            Failure::usage(format!("{} is no file and no pattern: {error}", shown(path)))
        };
        let before = files.len();
        for found in glob::glob(&pattern).map_err(|error| wrong(&error))? {
            files.push(found.map_err(|error| wrong(&error))?);
        }
        if files.len() == before {
            return Err(Failure::could_not(format!("no file matches {}", shown(path))));
        }
    }
    Ok(files)
}

/// Writes a report to standard output: for programs as it is, for people as their terminal can show it.
fn print(text: &str, is_for_programs: bool) -> Result<(), Failure> {
    let text = if is_for_programs { text.to_owned() } else { leaving(text) };
    let stdout = Path::new("-");
    let mut out = Output::create(stdout).map_err(|error| Failure::writing(stdout, &error))?;
    out.write_all(text.as_bytes())
        .and_then(|()| out.finish())
        .map_err(|error| Failure::writing(stdout, &error))
}

/// A report for programs.
fn json(report: &impl serde::Serialize) -> Result<String, Failure> {
    let text = serde_json::to_string_pretty(report).map_err(Failure::could_not)?;
    Ok(text + "\n")
}

/// Does what was asked.
pub fn run(arguments: Arguments, line: &CommandLine, ambient: &Ambient) -> Result<Exit, Failure> {
    if line.shows_password() {
        say(
            "metachron: the password stands in the command line, where others on this machine can see it; \
             PGPASSWORD and the password file (~/.pgpass) keep it to yourself",
        );
    }
    match arguments.command {
        Command::Survey(survey) => survey::run(&survey, line, ambient),
        Command::Explain(explain) => explain::run(&explain, ambient),
        Command::Check(check) => check::run(&check, line, ambient),
        Command::Convert(convert) => convert::run(&convert, line, ambient),
        Command::Chart(chart) => chart::run(&chart, line, ambient),
        Command::Report(report) => report::run(&report, line, ambient),
        Command::Count(count) => count::run(&count, line, ambient),
        Command::List(list) => list::run(&list, ambient),
        Command::Demo(demo) => crate::demo::run(&demo),
        Command::Completions(completions) => completions::run(&completions),
        Command::Manual(manual) => manual::run(&manual),
    }
}
