//! `metachron check`: reads everything, writes no table, and says what was found.

use crate::ambient::Ambient;
use crate::args;
use crate::checking::{check_table, closely};
use crate::choices::keys::all_said;
use crate::choices::{Choices, Decisions};
use crate::conversion::{ConversionOptions, check_early};
use crate::exit::Exit;
use crate::message::Failure;
use crate::report::Page;
use crate::report::check::{CheckReport, check_page};
use crate::report::source::doubts;

use super::{json, print};
use crate::survey::survey;

/// Checks files; several are told one after the other.
pub fn run(
    check: &args::Check,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let of_command = Decisions::of_options([("require", all_said(&check.require))])?;
    let choices =
        Choices::new(&check.input, &check.columns, &check.shaping, of_command, line, ambient)?;
    let page = Page { width: ambient.width, color: check.view.color.or(ambient.color) };
    let (mut reports, mut is_doubtful) = (Vec::new(), false);
    for (part, file) in (0..).zip(super::files(&check.files)?) {
        let table = survey(&file, part, &choices)?;
        check_early(&table, None, &choices, ambient)?;
        let options = ConversionOptions { fixes: check.answers.said(), ..closely() };
        let checked = check_table(&table, &options, (&choices, ambient))?;
        is_doubtful |= !doubts(&table.intake.table, &table.lines, &choices.wanted).is_empty();
        reports.push(CheckReport::new(&table, checked.as_ref(), &choices));
    }
    let found = is_doubtful || reports.iter().any(|report| !report.findings.is_empty());
    let text = match (&reports[..], check.view.json) {
        ([report], true) => json(report)?,
        (reports, true) => json(&reports)?,
        (reports, false) => {
            let pages: Vec<String> =
                reports.iter().map(|report| check_page(report, page)).collect();
            pages.join("\n")
        }
    };
    print(&text, check.view.json)?;
    Ok(if found { Exit::Left } else { Exit::Done })
}
