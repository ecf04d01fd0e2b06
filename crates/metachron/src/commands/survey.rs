//! `metachron survey`: what is in a file.

use std::collections::{BTreeSet, HashMap};
use std::path::PathBuf;

use metachron_tables::address::concealed;

use super::ask::ask;
use super::save::{Accepted, print_saved, save};
use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::choices::{Choices, Decisions, Shaping, suggested_readings};
use crate::conversion::check_early;
use crate::exit::Exit;
use crate::message::{Failure, shown};
use crate::paths::RunPaths;
use crate::report::facts::{SurveyReport, TogetherReport};
use crate::report::{Page, detail, overview};
use crate::survey::{
    Seen, SeenPart, Sum, SurveyedColumn, SurveyedTable, sum_of, survey, weigh_together,
};

/// Surveys files, or the sum of what was seen of them.
pub fn run(
    asked: &args::Survey,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let mut choices = Choices::new(
        &asked.input,
        &asked.columns,
        &asked.shaping,
        Decisions::default(),
        line,
        ambient,
    )?;
    choices.first_rows = asked.first_rows;
    if asked.ask && !ambient.can_be_asked {
        return Err(Failure::usage(
            "--ask needs a terminal; without one, the suggestions of survey can be pasted",
        ));
    }
    if let Some(option) = Shaping::of_options(&asked.shaping)?
        .first_option()
        .filter(|_| asked.save.is_none() && !asked.ask)
    {
        return Err(Failure::usage(format!(
            "{option} says what convert makes; survey only keeps it, with --save FILE.toml"
        )));
    }
    let files = super::files(&asked.files)?;
    RunPaths::of(files.iter().map(PathBuf::as_path), &asked.input)
        .writes("--evidence", asked.evidence.as_deref())
        .saves(asked.save.as_deref())
        .refuse_clashes()?;
    let page = Page { width: ambient.width, color: asked.view.color.or(ambient.color) };
    let one = |report: SurveyReport| {
        let mut text = String::new();
        match asked.view.json {
            true => text = json(&report)?,
            false if choices.chosen.is_empty() => overview(&mut text, &report, page),
            false => detail(&mut text, &report, page),
        }
        print(&text, asked.view.json)
    };
    let (mut looked, merged) = if asked.merge {
        let mut sum = sum_of(&files, &choices)?;
        let columns = judged(&mut sum, &choices);
        one(SurveyReport::of_evidence(&files, &sum, &columns, &choices))?;
        (SurveyedFiles { tables: Vec::new(), sum: Some(columns) }, Some(sum.seen.parts))
    } else {
        let looked = looked_at(&files, &choices)?;
        looked.tables.iter().try_for_each(|table| check_early(table, None, &choices, ambient))?;
        if let [table] = &looked.tables[..] {
            one(SurveyReport::new(table, &choices))?;
        } else {
            let report = TogetherReport::new(&looked.tables, looked.together(), &choices);
            let mut text = String::new();
            match asked.view.json {
                true => text = json(&report)?,
                false => crate::report::together(&mut text, &report, page),
            }
            print(&text, asked.view.json)?;
        }
        (looked, None)
    };
    let inputs: Vec<PathBuf> = match &merged {
        Some(parts) => parts.iter().map(|part| PathBuf::from(&part.name)).collect(),
        None => looked.tables.iter().map(|table| PathBuf::from(named(table))).collect(),
    };
    if let Some(path) = &asked.evidence {
        if looked.tables.iter().any(|table| table.is_part) {
            return Err(Failure::usage("--evidence is for whole files, not for --first-rows"));
        }
        let part = |own: &SurveyedTable| SeenPart::of(named(own), own.lines.rows, &own.columns);
        let parts = match merged {
            Some(parts) => parts,
            None => looked.tables.iter().map(part).collect::<Result<_, _>>()?,
        };
        Seen::of(parts, looked.together()).write(path)?;
    }
    let mut path = asked.save.clone();
    if asked.ask {
        let mut is_answered = false;
        // An answer may lead to another question.
        let mut skipped: BTreeSet<String> = BTreeSet::new();
        loop {
            let is_asked =
                |own: &&SurveyedColumn| own.is_open() && !skipped.contains(&own.plan.name);
            let open: Vec<&SurveyedColumn> = looked.together().iter().filter(is_asked).collect();
            let (answers, goes_on) = ask(&open)?;
            let names: Vec<String> = open.iter().map(|own| own.plan.name.clone()).collect();
            let is_said = |name: &String| answers.iter().any(|own| own.is_about(name));
            skipped.extend(names.into_iter().filter(|name| !is_said(name)));
            if answers.is_empty() {
                break;
            }
            is_answered = true;
            answers.iter().try_for_each(|said| choices.say(said))?;
            looked = looked_at(&files, &choices)?;
            if !goes_on {
                break;
            }
        }
        let suggested = files.first().map(|file| PathBuf::from(suggested_readings(file)));
        path = path.or(suggested.filter(|_| is_answered));
    }
    let accepted = Accepted { found: asked.accept.clone() };
    if let Some(path) = &path {
        save(path, &inputs, &looked.tables, looked.together(), (&choices, &accepted))?;
        if !asked.view.json {
            print_saved(path, &inputs, looked.together(), &choices)?;
        }
    }
    Ok(Exit::Done)
}

/// The name of a table's file, as others may read it.
fn named(table: &SurveyedTable) -> String {
    concealed(&table.intake.path.to_string_lossy()).into_owned()
}

/// Tables that have been looked at.
struct SurveyedFiles {
    tables: Vec<SurveyedTable>,
    /// The columns of all by name; those of a single table are their own sum.
    sum: Option<Vec<SurveyedColumn>>,
}

impl SurveyedFiles {
    /// The columns of all tables by name.
    fn together(&self) -> &[SurveyedColumn] {
        match (&self.sum, self.tables.first()) {
            (Some(sum), _) => sum,
            (None, Some(table)) => &table.columns,
            (None, None) => &[],
        }
    }
}

/// Looks at files, each and together.
fn looked_at(files: &[PathBuf], choices: &Choices) -> Result<SurveyedFiles, Failure> {
    let tables: Vec<SurveyedTable> = (0..)
        .zip(files)
        .map(|(part, file)| survey(file, part, choices))
        .collect::<Result<_, _>>()?;
    if tables.len() == 1 {
        return Ok(SurveyedFiles { tables, sum: None });
    }
    let name = |table: &SurveyedTable| shown(&table.intake.path);
    let seen: Vec<SeenFile<'_>> =
        tables.iter().map(|table| (name(table), table.columns.as_slice())).collect();
    let sum = Some(together_by_name(&seen)?);
    Ok(SurveyedFiles { tables, sum })
}

/// The columns of what was seen elsewhere, judged together.
fn judged(sum: &mut Sum, choices: &Choices) -> Vec<SurveyedColumn> {
    let mut columns = Vec::new();
    for (name, evidence) in std::mem::take(&mut sum.seen.columns) {
        if choices.chosen.is_empty() || choices.chosen.contains(&name) {
            let harmed = sum.seen.harmed(&name).filter(|_| sum.seen.parts.len() > 1);
            columns.push(SurveyedColumn::of_evidence(&name, evidence, harmed, choices));
        }
    }
    weigh_together(&mut columns, Default::default());
    columns
}

/// The name of a file, and its columns.
type SeenFile<'s> = (String, &'s [SurveyedColumn]);

/// The columns of all files by name, each with the evidence of all.
fn together_by_name(files: &[SeenFile<'_>]) -> Result<Vec<SurveyedColumn>, Failure> {
    let mut places: HashMap<&str, usize> = HashMap::new();
    let mut all: Vec<Vec<(&str, &SurveyedColumn)>> = Vec::new();
    for (file, column) in
        files.iter().flat_map(|(file, own)| own.iter().map(move |own| (file, own)))
    {
        let at = *places.entry(&column.plan.name).or_insert_with(|| {
            all.push(Vec::new());
            all.len() - 1
        });
        all[at].push((file.as_str(), column));
    }
    let sum = |parts: Vec<(&str, &SurveyedColumn)>| {
        let mut own = parts.iter().map(|(_, column)| *column);
        let Some(first) = own.next() else { return Ok(None) };
        let sum = own.try_fold(first.clone(), SurveyedColumn::and)?;
        let is_one = files.len() == 1;
        Ok(Some(if is_one { sum } else { sum.of_parts(parts.into_iter()) }))
    };
    all.into_iter().filter_map(|parts| sum(parts).transpose()).collect()
}
