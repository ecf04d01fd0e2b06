//! `metachron survey`: what is in a file.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::calendar::Calendar;
use metachron_core::layout::{Field, Layout};
use metachron_core::reading::{Contested, Parts, Split};
use metachron_core::verdict::{Seen, Settle, Verdict};
use metachron_tables::place::{Output, same_file};
use metachron_tables::table::Format;

use super::study::{Studied, Study, study};
use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::config::Config;
use crate::decisions;
use crate::exit::Exit;
use crate::message::{Failure, plain, say, shell_word, shown};
use crate::readings_file::{SavedColumn, render, seen_value};
use crate::report::facts::{Paste, SurveyReport, TogetherReport};
use crate::report::{Page, detail, overview};
use crate::said::rows_text;

/// Surveys a file.
pub fn run(survey: &args::Survey, ambient: &Ambient) -> Result<Exit, Failure> {
    let config = Config::new(&survey.input, &survey.columns, None, ambient)?;
    let files = super::files(&survey.files)?;
    let studies: Vec<Study> = (0..)
        .zip(&files)
        .map(|(part, file)| study(file, part, &config))
        .collect::<Result<_, _>>()?;
    let together = together_by_name(&studies)?;
    let page = Page { width: ambient.width, color: survey.color.or(ambient.color) };
    let mut text = String::new();
    match &studies[..] {
        [study] => {
            let report = SurveyReport::new(study, &config);
            match survey.json {
                true => text = json(&report)?,
                false if config.chosen.is_empty() => overview(&mut text, &report, page),
                false => detail(&mut text, &report, page),
            }
        }
        studies => {
            let report = TogetherReport::new(studies, &together, &config);
            match survey.json {
                true => text = json(&report)?,
                false => crate::report::together(&mut text, &report, page),
            }
        }
    }
    print(&text)?;
    if let Some(path) = &survey.save {
        save(path, &studies, &together, &config, &survey.accept)?;
        if !survey.json {
            print_saved(path, &files);
        }
    }
    Ok(Exit::Done)
}

/// The columns of all files by name, each with the evidence of all.
fn together_by_name(studies: &[Study]) -> Result<Vec<Studied>, Failure> {
    let mut all: Vec<Studied> = Vec::new();
    for column in studies.iter().flat_map(|study| &study.columns) {
        match all.iter().position(|other| other.name == column.name) {
            Some(at) => {
                let own = all.remove(at);
                all.insert(at, own.and(column)?);
            }
            None => all.push(column.clone()),
        }
    }
    Ok(all)
}

/// Says on standard error what was saved, since standard output is the report.
fn print_saved(path: &Path, files: &[PathBuf]) {
    let paths: Vec<&Path> = files.iter().map(PathBuf::as_path).collect();
    let Paste { inputs, output, .. } = Paste::of(&paths);
    let (name, readings) = (shown(path), shell_word(&path.to_string_lossy()));
    say(&format!(
        "metachron: decisions saved in {name}; review them, then\n  \
         metachron convert {inputs} --readings {readings} {output}"
    ));
}

fn save(
    path: &Path,
    studies: &[Study],
    columns: &[Studied],
    config: &Config,
    accept: &[args::Accept],
) -> Result<(), Failure> {
    if studies.iter().any(|study| same_file(path, &study.intake.path)) {
        return Err(Failure::usage(format!("--save {} would overwrite the input", shown(path))));
    }
    let existing = match std::fs::read_to_string(path) {
        Ok(text) => {
            // What is no readings file is not written over.
            crate::readings_file::ReadingsFile::read(path)?;
            Some(text)
        }
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => None,
        Err(error) => {
            return Err(Failure::reading(path, &metachron_tables::error::TableError::Io(error)));
        }
    };
    let digest = match studies {
        [study] => study.intake.digest().map(Some)?,
        _ => None,
    };
    let dates = columns.iter().filter(|column| column.verdict() != Verdict::NotADate);
    let columns: Vec<SavedColumn> =
        dates.map(|column| saved(column, accept, digest.as_deref())).collect();
    let (text, kept) = render(existing.as_deref(), &saved_source(studies, config), &columns)
        .map_err(|error| Failure::could_not(format!("{}: {error}", shown(path))))?;
    for name in kept {
        let name = plain(&name);
        say(&format!("metachron: {}: {name} is accepted there and stays as it is", shown(path)));
    }
    let failed = |error| Failure::writing(path, &error);
    let mut out = Output::create(path).map_err(failed)?;
    out.write_all(text.as_bytes()).and_then(|()| out.finish()).map_err(failed)
}

/// What the readings file says of the file itself.
fn saved_source(studies: &[Study], config: &Config) -> Vec<(&'static str, toml_edit::Value)> {
    let mut keys: Vec<(&'static str, toml_edit::Value)> = Vec::new();
    let [first, others @ ..] = studies else { return keys };
    // What is found out of one file need not hold for the others.
    let alone = others.is_empty();
    let table = &first.intake.table;
    if let Format::Delimited { dialect, header, preamble, .. } = &table.format
        && alone
    {
        let delimiter = char::from(dialect.delimiter.byte()).to_string();
        keys.push(("delimiter", delimiter.into()));
        if !preamble.is_empty() {
            keys.push(("skip_lines", (preamble.len() as i64).into()));
        }
        if header.is_none() {
            keys.push(("no_header", true.into()));
        }
    }
    if let Some((kind, name, _)) = table.part().filter(|_| alone) {
        keys.push((kind, name.into()));
    }
    let charset = table.source().charset;
    if table.is_text() && !charset.is_utf_8() && alone {
        keys.push(("encoding", charset.name().to_lowercase().into()));
    }
    if !config.missing.is_empty() {
        let list: toml_edit::Array = config.missing.iter().collect();
        keys.push(("missing", list.into()));
    }
    keys
}

/// Whether what was found is accepted as it is.
fn is_accepted(column: &Studied, accept: &[args::Accept]) -> bool {
    let judgement = &column.inference.judgement;
    let is_split = judgement.settle.iter().any(|way| matches!(way, Settle::Split(_)));
    let leans = judgement.verdict == Verdict::Leaning && judgement.reading.is_some();
    accept.iter().any(|accepted| match accepted {
        args::Accept::Split => is_split,
        args::Accept::Leaning => leans,
    })
}

/// How some rows are written, for a readings file.
fn whens(
    split: &Split<Vec<Layout>>,
    digest: Option<&str>,
) -> Vec<Vec<(&'static str, toml_edit::Value)>> {
    let layouts = |layouts: &Vec<Layout>| -> (&'static str, toml_edit::Value) {
        let layouts: toml_edit::Array = layouts.iter().map(ToString::to_string).collect();
        ("layouts", layouts.into())
    };
    match &split.parts {
        Parts::Column(name, parts) => parts
            .iter()
            .map(|(values, written)| {
                let mut place = toml_edit::InlineTable::new();
                let values: toml_edit::Array = values.iter().collect();
                place.insert(name, values.into());
                vec![("where", place.into()), layouts(written)]
            })
            .collect(),
        Parts::Rows(parts) => parts
            .iter()
            .map(|(rows, written)| {
                let digest = digest.unwrap_or_default();
                vec![("rows", rows_text(rows).into()), ("digest", digest.into()), layouts(written)]
            })
            .collect(),
    }
}

/// What the readings file says of a column.
fn saved(column: &Studied, accept: &[args::Accept], digest: Option<&str>) -> SavedColumn {
    let judgement = &column.inference.judgement;
    let accepted = is_accepted(column, accept);
    let mut keys: Vec<(&'static str, toml_edit::Value)> = Vec::new();
    let into = column.decisions.into.clone().unwrap_or(format!("{}_typed", column.name));
    keys.push(("into", into.into()));
    if let Some(kind) = judgement.kind {
        keys.push(("kind", kind.name().into()));
    }
    keys.push(("verdict", judgement.verdict.name().into()));
    if accepted {
        keys.push(("accepted", true.into()));
    }
    if column.decisions.convert == Some(false) {
        keys.push(("convert", false.into()));
    }
    let mut comments: Vec<String> =
        judgement.reasons.iter().map(|reason| plain(&format!("why: {reason}"))).collect();
    if let Some(reading) = &judgement.reading {
        if let Some(locale) = reading.terms.written_in() {
            keys.push(("written_in", locale.tag().into()));
        }
        let calendar = reading.terms.lexicon.calendar();
        if calendar != Calendar::Gregorian {
            keys.push(("calendar", calendar.name().into()));
        }
        let otherwise = reading.split.as_ref().and_then(|split| split.otherwise.as_ref());
        let layouts = otherwise.unwrap_or(&reading.layouts).iter();
        let layouts: toml_edit::Array = layouts.map(ToString::to_string).collect();
        if !layouts.is_empty() {
            keys.push(("layouts", layouts.into()));
        }
        if reading.layouts.iter().any(|layout| layout.has(Field::YearTwo)) {
            keys.push(("two_digit_from", i64::from(reading.terms.century.from).into()));
        }
        if let Some(years) = &reading.years {
            keys.push(("year", i64::from(years.first).into()));
        }
        if let Some(anchor) = reading.anchor {
            keys.push(("anchor", decisions::anchor_name(anchor).into()));
        }
        if let Some(repair) = column.decisions.repair {
            keys.push(("repair", decisions::repair_name(repair).into()));
        }
        if reading.contested == Contested::Prefer {
            keys.push(("contested", "prefer".into()));
        }
    }
    let split = judgement.reading.as_ref().and_then(|reading| reading.split.as_ref());
    if split.is_some_and(|split| split.otherwise.is_some()) {
        keys.push(("otherwise", "layouts".into()));
    }
    if judgement.verdict.is_open() && !accepted {
        let year = judgement.settle.iter().find_map(|way| match way {
            Settle::Year(year) => Some(*year),
            _ => None,
        });
        comments.push(match judgement.verdict {
            _ if let Some(year) = year => {
                format!("Add year = {year}, or whichever the first row has, or convert = false")
            }
            _ if split.is_some() => {
                "If what tells the rows apart is right, add: accepted = true".to_owned()
            }
            Verdict::Leaning => "If this is right, add: accepted = true; if not, write an order in place of the layouts".to_owned(),
            _ => {
                let in_play = judgement.contenders.iter().filter(|contender| contender.survives);
                let orders: Vec<String> =
                    in_play.map(|contender| format!("order = \"{}\"", contender.order)).collect();
                format!("Add {} (then accepted = true), or convert = false", orders.join(" or "))
            }
        });
    }
    if let Some(seen) = Seen::of(&column.evidence, judgement) {
        keys.push(("seen", seen_value(&seen)));
    }
    let when = split.map_or(Vec::new(), |split| whens(split, digest));
    SavedColumn { from: column.name.clone(), keys, comments, when }
}
