//! `metachron survey`: what is in a file.

use std::path::PathBuf;

use super::ask::ask;
use super::save::{Accepted, print_saved, save};
use super::study::{Studied, Study, study, weigh_together};
use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::config::{Config, suggested_readings};
use crate::evidence_file::EvidenceFile;
use crate::exit::Exit;
use crate::message::{Failure, plain, shown};
use crate::report::facts::{SurveyReport, TogetherReport};
use crate::report::{Page, detail, overview};

/// Surveys files, or the sum of what was seen of them.
pub fn run(survey: &args::Survey, ambient: &Ambient) -> Result<Exit, Failure> {
    let mut config = Config::new(&survey.input, &survey.columns, None, ambient)?;
    config.first_rows = survey.first_rows;
    if survey.ask && !ambient.can_be_asked {
        return Err(Failure::usage(
            "--ask needs a terminal; without one, the suggestions of survey can be pasted",
        ));
    }
    let files = super::files(&survey.files)?;
    let page = Page { width: ambient.width, color: survey.view.color.or(ambient.color) };
    let one = |report: SurveyReport| {
        let mut text = String::new();
        match survey.view.json {
            true => text = json(&report)?,
            false if config.chosen.is_empty() => overview(&mut text, &report, page),
            false => detail(&mut text, &report, page),
        }
        print(&text)
    };
    let (studies, together, parts) = if survey.merge {
        let (parts, columns) = merged(&files, &config)?;
        one(SurveyReport::of_evidence(&files, &parts, &columns, &config))?;
        (Vec::new(), columns, parts)
    } else {
        let studies: Vec<Study> = (0..)
            .zip(&files)
            .map(|(part, file)| study(file, part, &config))
            .collect::<Result<_, _>>()?;
        let together = together_by_name(&studies)?;
        if let [study] = &studies[..] {
            one(SurveyReport::new(study, &config))?;
        } else {
            let report = TogetherReport::new(&studies, &together, &config);
            let mut text = String::new();
            match survey.view.json {
                true => text = json(&report)?,
                false => crate::report::together(&mut text, &report, page),
            }
            print(&text)?;
        }
        let part =
            |study: &Study| (study.intake.path.to_string_lossy().into_owned(), study.lines.rows);
        let parts = studies.iter().map(part).collect();
        (studies, together, parts)
    };
    if let Some(path) = &survey.evidence {
        if studies.iter().any(|study| study.is_part) {
            return Err(Failure::usage("--evidence is for whole files, not for --first-rows"));
        }
        EvidenceFile::new(parts.clone(), &together).write(path)?;
    }
    let mut accepted = Accepted { found: survey.accept.clone(), answers: Vec::new() };
    let mut path = survey.save.clone();
    if survey.ask {
        accepted.answers = ask(&together)?;
        let suggested = files.first().map(|file| PathBuf::from(suggested_readings(file)));
        path = path.or(suggested.filter(|_| !accepted.answers.is_empty()));
    }
    if let Some(path) = &path {
        save(path, &studies, &together, &config, &accepted)?;
        if !survey.view.json {
            let inputs: Vec<PathBuf> = parts.iter().map(|(file, _)| PathBuf::from(file)).collect();
            print_saved(path, &inputs);
        }
    }
    Ok(Exit::Done)
}

/// The parts of the table, each with its rows, and the columns with the evidence of all.
type Merged = (Vec<(String, u64)>, Vec<Studied>);

/// The sum of what was seen elsewhere.
fn merged(files: &[PathBuf], config: &Config) -> Result<Merged, Failure> {
    let (mut parts, mut columns): (Vec<(String, u64)>, Vec<Studied>) = (Vec::new(), Vec::new());
    for path in files {
        let file = EvidenceFile::read(path)?;
        let by = u32::try_from(parts.len()).unwrap_or(u32::MAX);
        for (name, evidence) in file.columns {
            let evidence = evidence.of_later_parts(by);
            let Some(column) = Studied::of_evidence(&name, evidence, config) else {
                return Err(Failure::usage(format!(
                    "{} was gathered with other options for {}, or in another year; give the same \
                     options, --readings and --as-of included",
                    shown(path),
                    plain(&name)
                )));
            };
            add(&mut columns, &column)?;
        }
        parts.extend(file.parts);
    }
    if !config.chosen.is_empty() {
        columns.retain(|column| config.chosen.contains(&column.name));
    }
    weigh_together(&mut columns, Default::default());
    Ok((parts, columns))
}

/// Adds what was seen of a column to what was seen of it before.
fn add(all: &mut Vec<Studied>, column: &Studied) -> Result<(), Failure> {
    match all.iter().position(|other| other.name == column.name) {
        Some(at) => {
            let own = all.remove(at);
            all.insert(at, own.and(column)?);
        }
        None => all.push(column.clone()),
    }
    Ok(())
}

/// The columns of all files by name, each with the evidence of all.
fn together_by_name(studies: &[Study]) -> Result<Vec<Studied>, Failure> {
    let mut all: Vec<Studied> = Vec::new();
    for column in studies.iter().flat_map(|study| &study.columns) {
        add(&mut all, column)?;
    }
    Ok(all)
}
