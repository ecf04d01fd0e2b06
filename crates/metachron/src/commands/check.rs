//! `metachron check`: reads everything, writes no table, and says what was found.

use crate::ambient::Ambient;
use crate::args;
use crate::config::Config;
use crate::exit::Exit;
use crate::message::Failure;
use crate::report::Page;
use crate::report::check::{CheckReport, check_page};

use super::study::study;
use super::{json, print};

/// Checks files; several are told one after the other.
pub fn run(check: &args::Check, ambient: &Ambient) -> Result<Exit, Failure> {
    let config = Config::new(&check.input, &check.columns, None, ambient)?;
    let page = Page { width: ambient.width, color: check.view.color.or(ambient.color) };
    let mut reports = Vec::new();
    for (part, file) in (0..).zip(super::files(&check.files)?) {
        reports.push(CheckReport::new(&study(&file, part, &config)?, &config));
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
