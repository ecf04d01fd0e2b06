//! `metachron count`: the rows of each period, and what their numbers add up to.

use std::path::Path;

use metachron_core::counting::{Figure, Per};
use metachron_core::named::Named;
use metachron_tables::deliver::{Existing, Wish, writer};

use super::one_column::survey_for;
use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::choices::{Choices, Decisions, Wrong, clock};
use crate::conversion::{delivery_to, undelivered};
use crate::counting::{CountPlan, count_rows};
use crate::exit::Exit;
use crate::message::{Failure, quoted, say};
use crate::paths::RunPaths;
use crate::report::Page;
use crate::report::count::{CountReport, count_page};
use crate::report::questions::{questions, stop_at_drift};

/// Counts the rows of a file.
pub fn run(
    count: &args::Count,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let shaping = args::Shaping { derived: count.derived.clone(), ..args::Shaping::default() };
    let mut choices =
        Choices::new(&count.input, &count.columns, &shaping, Decisions::default(), line, ambient)?;
    choices.refuse_wishes()?;
    let plan = plan(count, &choices)?;
    if count.view.json && count.output.is_some() {
        return Err(Failure::usage(
            "--json says how the counts are printed; an --output that ends in .json holds them",
        ));
    }
    let path: &Path = &count.file;
    RunPaths::of([path], &count.input)
        .writes("the output", count.output.as_deref())
        .refuse_clashes()?;
    let numbers: Vec<&str> = plan.figures.iter().map(|(_, column)| *column).collect();
    let table = survey_for(plan.column, &numbers, path, &mut choices)?;
    let page = Page { width: ambient.error_width, color: count.view.color.or(ambient.error_color) };
    let tables = [table];
    if let Some(text) = questions(&tables, &choices, page) {
        return Err(Failure::question(text));
    }
    let [table] = &tables;
    stop_at_drift(table, &choices, page)?;
    // The clock in which a column was read is that by which it is counted.
    let own = table.columns.iter().find(|column| column.plan.name == plan.column);
    let own = own.and_then(|column| column.plan.decisions.clocks.zone.clone());
    let plan = CountPlan { zone: plan.zone.or(own), ..plan };
    let counted = count_rows(table, &plan, &mut choices, ambient)?;
    let report = CountReport::new(table, &plan, &counted)?;
    if let Some(output) = &count.output {
        deliver(output, &report, &choices)?;
        if !count.input.quiet {
            say(&report.summary());
        }
        return Ok(Exit::Done);
    }
    let page = Page { width: ambient.width, color: count.view.color.or(ambient.color) };
    let text = if count.view.json { json(&report)? } else { count_page(&report, page) };
    print(&text, count.view.json)?;
    Ok(Exit::Done)
}

/// What is to be counted.
fn plan<'a>(count: &'a args::Count, choices: &Choices) -> Result<CountPlan<'a>, Failure> {
    let [column] = &count.columns.column[..] else {
        return Err(Failure::usage(match count.columns.column.len() {
            0 => "--column names the column whose dates are counted",
            _ => "--column names one column; --sum, --mean, --least, --most and --by take others",
        }));
    };
    let per = Per::named(&count.per).map_err(|near| {
        let near = near.map_or(String::new(), |near| format!("; did you mean {near}?"));
        let all = Per::names().collect::<Vec<_>>().join(", ");
        Failure::usage(format!("--per {} is none of {all}{near}", quoted(&count.per)))
    })?;
    let of = |figure: Figure, columns: &'a [String]| {
        columns.iter().map(move |column| (figure, column.as_str()))
    };
    let mut figures: Vec<(Figure, &str)> = Vec::new();
    let all = of(Figure::Sum, &count.sum)
        .chain(of(Figure::Mean, &count.mean))
        .chain(of(Figure::Least, &count.least))
        .chain(of(Figure::Most, &count.most));
    for figure in all {
        // What is asked for twice is told once.
        if !figures.contains(&figure) {
            figures.push(figure);
        }
    }
    let zone = count.to_zone.as_deref().map(|zone| clock("to_zone", zone, choices.zones));
    let zone = zone.transpose().map_err(Wrong::of_option)?.map(|clock| clock.to_string());
    let is_shown = count.to_zone.is_some();
    Ok(CountPlan { column, per, figures, by: count.by.as_deref(), zone, is_shown })
}

/// Writes the counts as a table.
fn deliver(path: &Path, report: &CountReport, choices: &Choices) -> Result<(), Failure> {
    let wish = Wish {
        delivery: delivery_to(path)?,
        table: "counts".to_owned(),
        existing: Existing::Stop,
        unix_times: false,
        date_code: None,
        secrets: choices.secrets.clone(),
    };
    let failed = |error| undelivered(path, error);
    let mut writer = writer(path, report.fields(), &wish).map_err(failed)?;
    report.cells().each(|cells| writer.row(cells)).map_err(failed)?;
    writer.finish().map(|_| ()).map_err(failed)
}
