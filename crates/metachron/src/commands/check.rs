//! `metachron check`: reads everything, writes no table, and says what was found.

use crate::ambient::Ambient;
use crate::args;
use crate::choices::Choices;
use crate::exit::Exit;
use crate::message::Failure;
use crate::report::Page;
use crate::report::check::{CheckReport, check_page};

use super::{json, print};
use crate::survey::survey;

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
        reports.push(CheckReport::new(&survey(&file, part, &choices)?, &choices));
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
