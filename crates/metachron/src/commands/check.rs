//! `metachron check`: reads everything, writes no table, and says what was found.

use crate::ambient::Ambient;
use crate::args;
use crate::choices::Choices;
use crate::conversion::{ConversionOptions, ConversionPlan, check_early, gather_facts};
use crate::exit::Exit;
use crate::message::Failure;
use crate::pass::Rows;
use crate::report::Page;
use crate::report::check::{CheckReport, Checked, check_page};

use super::{json, print};
use crate::survey::{SurveyedTable, survey};

/// Checks files; several are told one after the other.
pub fn run(
    check: &args::Check,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let choices = Choices::new(&check.input, &check.columns, &check.shaping, None, line, ambient)?;
    let page = Page { width: ambient.width, color: check.view.color.or(ambient.color) };
    let mut reports = Vec::new();
    for (part, file) in (0..).zip(super::files(&check.files)?) {
        let table = survey(&file, part, &choices)?;
        check_early(&table, None, &choices, ambient)?;
        let checked = converted(&table, check, (&choices, ambient))?;
        reports.push(CheckReport::new(&table, checked.as_ref(), &choices));
    }
    let found = reports.iter().any(|report| !report.findings.is_empty());
    let text = match (&reports[..], check.view.json) {
        ([report], true) => json(report)?,
        (reports, true) => json(&reports)?,
        (reports, false) => {
            let pages: Vec<String> =
                reports.iter().map(|report| check_page(report, page)).collect();
            pages.join("\n")
        }
    };
    print(&text)?;
    Ok(if found { Exit::Left } else { Exit::Done })
}

/// What a conversion would come to, without what is open; none if what is made of the table waits for that.
fn converted<'t>(
    table: &'t SurveyedTable,
    check: &args::Check,
    (choices, ambient): (&Choices, &Ambient),
) -> Result<Option<Checked<'t>>, Failure> {
    let options = ConversionOptions {
        fixes: check.fixes.as_deref().map(|path| (path, check.fixes_by)),
        counts_reasons: true,
        ..ConversionOptions::default()
    };
    let mut plan = match ConversionPlan::of(table, &options, (choices, ambient)) {
        Ok(plan) => plan,
        Err(_) if table.columns.iter().any(|column| column.is_open()) => return Ok(None),
        Err(failure) => return Err(failure),
    };
    gather_facts(&mut plan, &table.intake)?;
    let tally = Rows::all(&table.intake).drive(&plan, plan.tally())?.tally;
    Ok(Some(Checked { plan, tally }))
}
