//! `metachron report`: everything that was found in a file, as one page of HTML.

use std::io::Write;

use metachron_core::text::counted;
use metachron_tables::place::Output;

use crate::ambient::Ambient;
use crate::args;
use crate::checking::{check_table, closely, rivals};
use crate::choices::{Choices, Decisions};
use crate::conversion::{ConversionOptions, check_early};
use crate::exit::Exit;
use crate::message::{Failure, say, shown_output};
use crate::paths::RunPaths;
use crate::report::check::CheckReport;
use crate::report::facts::SurveyReport;
use crate::report::html::{HtmlReport, html};
use crate::report::paste::Paste;
use crate::survey::survey;

/// Writes the report of a file.
pub fn run(
    asked: &args::Report,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let choices = Choices::new(
        &asked.input,
        &asked.columns,
        &asked.shaping,
        Decisions::default(),
        line,
        ambient,
    )?;
    let output = &asked.output;
    let ending = output.extension().map(|own| own.to_string_lossy().to_lowercase());
    if !matches!(ending.as_deref(), Some("html" | "htm")) && output.to_str() != Some("-") {
        return Err(Failure::usage(format!(
            "a report is a page of HTML; give it a name such as {}",
            shown_output(&output.with_extension("html"))
        )));
    }
    RunPaths::of([&*asked.file], &asked.input)
        .answered_by(&asked.answers)
        .writes("the output", [&**output])
        .refuse_clashes()?;
    let table = survey(&asked.file, 0, &choices)?;
    check_early(&table, None, &choices, ambient)?;
    let options = ConversionOptions { fixes: asked.answers.said(), ..closely() };
    let checked = check_table(&table, &options, (&choices, ambient))?;
    let check = CheckReport::new(&table, checked.as_ref(), &choices);
    let facts = SurveyReport::new(&table, &choices);
    let rivals = rivals(&table)?;
    let paste = Paste::of(&[&table.intake.path], &choices);
    let commands = vec![
        ("What is in the file".to_owned(), paste.survey().to_string()),
        ("The table with typed columns".to_owned(), paste.convert().to_string()),
    ];
    let page = html(&HtmlReport {
        table: &table,
        survey: &facts,
        check: &check,
        checked: checked.as_ref(),
        rivals: &rivals,
        commands,
        zone_data: choices.zones.version(),
    });
    let failed = |error: std::io::Error| Failure::writing(output, &error);
    let mut out = Output::create(output).map_err(failed)?;
    out.write_all(page.as_bytes()).map_err(failed)?;
    out.finish().map_err(failed)?;
    if !asked.input.quiet && output.to_str() != Some("-") {
        let dates = facts.columns.iter().filter(|own| own.is_temporal() || own.is_open());
        let open = facts.columns.iter().filter(|own| own.is_open()).count();
        say(&format!(
            "{}   {}, {open} open, {}",
            shown_output(output),
            counted(dates.count() as u64, "date column"),
            counted(check.findings.len() as u64, "finding")
        ));
    }
    Ok(Exit::Done)
}
