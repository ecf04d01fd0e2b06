//! `metachron convert`: the table with typed columns beside the raw ones.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::text::{counted, grouped};
use metachron_core::write::Instants;
use metachron_tables::compress::{Compression, Compressor};
use metachron_tables::delimited::BOM;
use metachron_tables::dialect::Delimiter;
use metachron_tables::encoding::Charset;
use metachron_tables::place::{Output, same_file};
use metachron_tables::sink::{Sink, Target};
use metachron_tables::sort::{BUDGET, Sorter};
use metachron_tables::table::{Format, Lines, Table};

use super::questions::{drifts, is_open, question, refuse_loss, stop_at_drift};
use super::rejects::Rejects;
use super::rows::{Additions, RowWork};
use super::study::{Studied, Study, study};
use super::summary::summary;
use crate::ambient::Ambient;
use crate::args;
use crate::config::{Config, charset, suggested_output};
use crate::exit::Exit;
use crate::message::{Failure, plain, say, shell_word, shown, shown_output};
use crate::progress::Progress;
use crate::report::Page;
use crate::zoning::clock;

/// Converts one file, or several into a folder.
pub fn run(convert: &args::Convert, ambient: &Ambient) -> Result<Exit, Failure> {
    let mut config =
        Config::new(&convert.input, &convert.columns, convert.into.as_deref(), ambient)?;
    config.derive(&convert.derive)?;
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
        let (lines, left) = write(convert, output, study, &mut additions, shows)?;
        if !convert.input.quiet {
            say(summary(convert, output, study, &additions, &lines, page).trim_end());
            for (column, drift) in drifts(study, &config) {
                say(&format!("metachron: {}: {}", plain(&column.name), plain(&drift.to_string())));
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
    if convert.rejects.is_some() && files.len() > 1 {
        return Err(Failure::usage("--rejects is for a single file; convert the files one by one"));
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
            "{} {has} an unreadable or contested cell ({first}row {}); {list}, --tolerate {} accepts {them}",
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

/// The second pass: every row with its new cells.
fn write(
    convert: &args::Convert,
    output: &Path,
    study: &Study,
    additions: &mut Additions<'_>,
    shows_progress: bool,
) -> Result<(Lines, Left), Failure> {
    let Study { intake, blank, .. } = study;
    let failed = |error: std::io::Error| Failure::writing(output, &error);
    let target = target(output, &intake.table)?;
    let charset = match &convert.output_encoding {
        Some(name) => charset("--output-encoding", name)?,
        None => Charset::UTF_8,
    };
    let place = Output::create(output).map_err(failed)?;
    let mut out = charset.encode(match Compression::of(output) {
        Some(compression) => compression.writer(place).map_err(failed)?,
        None => Compressor::Plain(place),
    });
    let names = intake.names();
    let mut rejects = match &convert.rejects {
        Some(path) => Some(Rejects::create(path, names)?),
        None => None,
    };
    let new = additions.new_columns(target, names.len(), convert.replace_raw);
    let dropped = if convert.drop_blank_columns { blank.as_slice() } else { &[] };
    let mut sink =
        Sink::new(&intake.table, target, new, dropped).keep_preamble(convert.keep_preamble);
    if begins_with_bom(&intake.table, charset) {
        out.write_all(BOM).map_err(failed)?;
    }
    sink.begin(&mut out).map_err(failed)?;
    let mut left = Left::default();
    let mut work = RowWork::default();
    let mut sorter = match additions.order {
        Some(_) => Some(Sorter::new(BUDGET).map_err(unsorted)?),
        None => None,
    };
    let mut progress = Progress::new(output, shows_progress);
    let lines = intake.each_row(|number, row| {
        progress.row(number);
        let Some(cells) = work.cells(additions, number, row) else { return Ok(()) };
        match (&mut sorter, &additions.order) {
            (Some(sorter), Some(order)) => {
                let [before, own, after] = sink.parts(row, cells).map_err(failed)?;
                let key = work.key(order, row).to_vec();
                sorter.push(key, before, own, after).map_err(unsorted)?;
            }
            _ => sink.row(&mut out, row, cells).map_err(failed)?,
        }
        if work.reject(additions, number, row, rejects.as_mut())? {
            left.rows += 1;
            if left.first == 0 {
                left.first = number;
            }
        }
        Ok(())
    })?;
    if let Some(sorter) = sorter {
        let each = |before: &str, row: &str, after: &str| {
            [before, row, after].iter().try_for_each(|text| out.write_all(text.as_bytes()))
        };
        sorter.finish(each).map_err(failed)?;
    }
    sink.end(&mut out, &lines).map_err(failed)?;
    if let Some(rejects) = rejects {
        rejects.finish()?;
    }
    out.into_inner().finish().and_then(Output::finish).map_err(failed)?;
    Ok((lines, left))
}

fn unsorted(error: std::io::Error) -> Failure {
    Failure::could_not(format!("temporary files for --sort-by cannot be written: {error}"))
}

/// The format of the output: what its ending says, or the input's.
fn target(output: &Path, table: &Table) -> Result<Target, Failure> {
    let name = output.to_string_lossy().to_lowercase();
    let stem = match Compression::of(output) {
        Some(compression) => {
            name.strip_suffix(&format!(".{}", compression.ending())).unwrap_or(&name)
        }
        None => &name,
    };
    let wants_json = [".json", ".jsonl", ".ndjson"].iter().any(|ending| stem.ends_with(ending));
    let on_stdout = output == Path::new("-");
    match &table.format {
        Format::JsonLines | Format::JsonArray if wants_json || on_stdout => Ok(Target::Json),
        _ if wants_json => Err(cannot_write(output, "as JSON", "table.csv")),
        _ if WORKBOOKS.iter().any(|ending| stem.ends_with(ending)) => {
            Err(cannot_write(output, "as a workbook", "table.csv"))
        }
        Format::Delimited { dialect, .. } => Ok(Target::Delimited(dialect.delimiter)),
        _ if stem.ends_with(".tsv") => Ok(Target::Delimited(Delimiter::Tab)),
        _ => Ok(Target::Delimited(Delimiter::Comma)),
    }
}

const WORKBOOKS: [&str; 5] = [".xlsx", ".xlsm", ".xlsb", ".xls", ".ods"];

fn cannot_write(output: &Path, what: &str, instead: &str) -> Failure {
    Failure::could_not(format!(
        "this table cannot be written {what} ({}); give the output a name such as {}",
        shown_output(output),
        suggested_output(Path::new(instead))
    ))
}

/// UTF-8 keeps the mark that the input had; UTF-16 cannot be told apart without one.
fn begins_with_bom(table: &Table, charset: Charset) -> bool {
    let own = table.source().charset;
    let delimited = matches!(table.format, Format::Delimited { .. });
    match charset.is_utf_8() {
        true => own.is_utf_8() && own.has_bom && delimited,
        false => charset.name().starts_with("UTF-16"),
    }
}
