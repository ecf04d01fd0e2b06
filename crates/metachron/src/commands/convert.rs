//! `metachron convert`: the table with typed columns beside the raw ones.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::text::{counted, grouped};
use metachron_core::write::Instants;
use metachron_tables::place::{Output, same_file};
use metachron_tables::table::Lines;

use super::derive::now;
use super::outlet::Outlet;
use super::questions::{drifts, is_open, question, refuse_loss, stop_at_drift};
use super::rejects::Rejects;
use super::rows::{Additions, RowWork};
use super::study::{Studied, Study, study};
use super::summary::summary;
use crate::ambient::Ambient;
use crate::args;
use crate::config::{Config, suggested_output};
use crate::exit::Exit;
use crate::interrupt;
use crate::message::{Failure, plain, say, shell_word, shown};
use crate::progress::Progress;
use crate::report::Page;
use crate::report::run::{Ran, RunReport};
use crate::report::words::words;
use crate::zoning::clock;

/// Converts one file, or several into a folder.
pub fn run(convert: &args::Convert, ambient: &Ambient) -> Result<Exit, Failure> {
    let mut config =
        Config::new(&convert.input, &convert.columns, convert.into.as_deref(), ambient)?;
    config.derive(&convert.make)?;
    if convert.into.is_some() && config.chosen.len() > 1 {
        return Err(Failure::usage("--into names one column, but several are named by --column"));
    }
    let to_zone = convert.to_zone.as_deref().map(|name| clock(name, config.zones));
    let to_zone = to_zone.transpose().map_err(|error| Failure::usage(format!("--to-{error}")))?;
    let instants = match (convert.instants, to_zone) {
        (Some(named), _) => named.into(),
        (None, Some(_)) => Instants::Offset,
        (None, None) => Instants::Utc,
    };
    let files = super::files(&convert.files)?;
    let outputs = outputs(convert, &files)?;
    let page = Page { width: ambient.error_width, color: convert.color.or(ambient.error_color) };
    // Everything is looked at before anything is written.
    let mut studies = Vec::new();
    for (file, output) in files.iter().zip(&outputs) {
        check_paths(convert, file, output)?;
        studies.push(study(file, 0, &config)?);
    }
    let mut all = Vec::new();
    for study in &studies {
        let open: Vec<&Studied> = study.columns.iter().filter(|c| is_open(c, &config)).collect();
        if !open.is_empty() {
            return Err(Failure::question(question(&open, study, &config, page)));
        }
        stop_at_drift(study, &config, page)?;
        let additions = Additions::of(study, convert, (instants, to_zone), (&config, ambient))?;
        if additions.is_empty() {
            let file = &study.intake.path;
            return Err(Failure::could_not(format!(
                "no column of {} is to be converted; metachron survey {} shows what it holds",
                shown(file),
                shell_word(&file.to_string_lossy())
            )));
        }
        if convert.replace_raw && convert.rejects.is_none() {
            refuse_loss(study, &additions.columns)?;
        }
        all.push(additions);
    }
    let mut exit = Exit::Done;
    for ((study, output), mut additions) in studies.iter().zip(&outputs).zip(all) {
        additions.gather_facts(&study.intake)?;
        let shows = config.shows_progress;
        let (lines, left, notes) = write(convert, output, study, &mut additions, (shows, &config))?;
        if let Some(path) = &convert.run_report {
            let ran = Ran { convert, output, lines: &lines, unread_rows: left.rows, notes: &notes };
            let moment = now(&config, ambient);
            let report = RunReport::new(study, &additions, &ran, &config, moment)?;
            let failed = |error: std::io::Error| Failure::writing(path, &error);
            let mut out = Output::create(path).map_err(failed)?;
            out.write_all(super::json(&report)?.as_bytes()).map_err(failed)?;
            out.finish().map_err(failed)?;
        }
        if !convert.input.quiet {
            let text = summary(convert, output, study, &additions, (&lines, &notes), page);
            say(text.trim_end());
            for (column, drift) in drifts(study, &config) {
                say(&format!(
                    "metachron: {}: {}",
                    plain(&column.name),
                    plain(&words(&drift).to_string())
                ));
            }
        }
        if !convert.tolerate.allows(left.rows, lines.rows) {
            say(&format!("metachron: {}", left.says(convert)));
            exit = Exit::Left;
        }
    }
    Ok(exit)
}

/// Where each input goes.
fn outputs(convert: &args::Convert, files: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let Some(dir) = &convert.output_dir else {
        let [_] = files else {
            return Err(Failure::usage(
                "several files need --output-dir, which holds one output for each",
            ));
        };
        return Ok(vec![convert.output.clone().unwrap_or_else(|| PathBuf::from("-"))]);
    };
    for (option, given) in
        [("--rejects", convert.rejects.is_some()), ("--run-report", convert.run_report.is_some())]
    {
        if given && files.len() > 1 {
            let says = format!("{option} is for a single file; convert the files one by one");
            return Err(Failure::usage(says));
        }
    }
    std::fs::create_dir_all(dir).map_err(|error| Failure::writing(dir, &error))?;
    let mut outputs: Vec<PathBuf> = Vec::new();
    for file in files {
        // A workbook is written as text.
        let suggested = suggested_output(file);
        let name = match (file.file_name(), suggested.ends_with(".out.csv")) {
            (Some(name), false) => PathBuf::from(name),
            (Some(name), true) => Path::new(name).with_extension("csv"),
            (None, _) => PathBuf::from("table.csv"),
        };
        let output = dir.join(name);
        if outputs.contains(&output) {
            return Err(Failure::usage(format!(
                "two inputs would be written as {}; convert them one by one",
                shown(&output)
            )));
        }
        outputs.push(output);
    }
    Ok(outputs)
}

/// Rows that have a cell that was not read.
#[derive(Default)]
struct Left {
    rows: u64,
    first: u64,
}

impl Left {
    fn says(&self, convert: &args::Convert) -> String {
        let (has, first, them) = match self.rows {
            1 => ("has", "", "it"),
            _ => ("have", "first ", "them"),
        };
        let list = match &convert.rejects {
            Some(path) => format!("{} lists {them}", shown(path)),
            None => format!("--rejects FILE lists {them}"),
        };
        format!(
            "{} {has} an unreadable or contested cell ({first}row {}); {list}, --tolerate {} lets {them} stay",
            counted(self.rows, "row"),
            grouped(self.first),
            self.rows
        )
    }
}

fn check_paths(convert: &args::Convert, input: &Path, output: &Path) -> Result<(), Failure> {
    if input != Path::new("-") && same_file(input, output) {
        return Err(Failure::usage(format!(
            "the output {} is the input; metachron never overwrites what it reads",
            shown(output)
        )));
    }
    if let Some(report) = &convert.run_report
        && (report == output || same_file(report, output) || same_file(report, input))
    {
        return Err(Failure::usage(
            "--run-report names the input or the output; name another file",
        ));
    }
    if let Some(rejects) = &convert.rejects {
        if rejects == output || same_file(rejects, output) {
            return Err(Failure::usage("--rejects and -o name the same file"));
        }
        if same_file(rejects, input) {
            return Err(Failure::usage("--rejects names the input, which is never overwritten"));
        }
    }
    Ok(())
}

/// The second pass: every row with its new cells; also what is worth a word.
fn write(
    convert: &args::Convert,
    output: &Path,
    study: &Study,
    additions: &mut Additions<'_>,
    (shows_progress, config): (bool, &Config),
) -> Result<(Lines, Left, Vec<String>), Failure> {
    let intake = &study.intake;
    interrupt::heed();
    let mut outlet = Outlet::open(convert, output, (study, &config.secrets), additions)?;
    let mut rejects = match &convert.rejects {
        Some(path) => Some(Rejects::create(path, intake.names())?),
        None => None,
    };
    let mut left = Left::default();
    let mut work = RowWork::default();
    let mut progress = Progress::new(output, shows_progress);
    let lines = intake.each_row(|number, row| {
        progress.row(number);
        if !work.take(additions, number, row) {
            return Ok(());
        }
        outlet.row(&mut work, additions, row)?;
        if work.reject(additions, number, row, rejects.as_mut())? {
            left.rows += 1;
            if left.first == 0 {
                left.first = number;
            }
        }
        Ok(())
    })?;
    if let Some(rejects) = rejects {
        rejects.finish()?;
    }
    let notes = outlet.finish(&lines)?;
    Ok((lines, left, notes))
}
