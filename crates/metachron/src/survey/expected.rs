//! The columns that a readings file speaks of are there; where they are not, what differs from the file it was saved for.

use std::path::Path;

use metachron_core::error::nearest;
use metachron_core::text::counted;
use metachron_tables::address::is_address;
use metachron_tables::frame::WantedHeader;
use metachron_tables::table::TableFormat;

use crate::choices::{Choices, ReadingsFile};
use crate::intake::Intake;
use crate::message::{Failure, quoted, shown};

/// Opens a file as is said of it; where that does not fit what its readings file speaks of, says why.
///
/// # Errors
/// It cannot be read, or a column is not there: which, and what differs (titles above the table, the delimiter or the
/// encoding).
pub fn open_expected(path: &Path, choices: &Choices) -> Result<Intake, Failure> {
    let Some(readings) = &choices.readings else { return Intake::open(path, &choices.wanted) };
    let gone = |intake: &Intake| {
        let is_gone = |name: &&str| intake.table.header.position(name).is_none();
        readings.columns().find(is_gone).map(str::to_owned)
    };
    let missing = |gone: &str, intake: &Intake| {
        let near = nearest(gone, intake.names().iter().map(String::as_str));
        let near = near.map_or(String::new(), |near| {
            let (near, file) = (quoted(near), shown(&readings.path));
            format!("; if it is called {near} now, write from = {near} in {file}")
        });
        Failure::could_not(format!(
            "{} reads a column {} that {} does not have{near}",
            shown(&readings.path),
            quoted(gone),
            shown(path)
        ))
    };
    let opened = Intake::open(path, &choices.wanted).and_then(|intake| match gone(&intake) {
        None => Ok(intake),
        Some(gone) => Err(missing(&gone, &intake)),
    });
    // What fits may still be text in another encoding, which would be read wrongly without a word.
    let is_text_saved = choices.wanted.charset.is_some_and(|saved| !saved.is_utf_8());
    let is_doubted = opened.is_err() || is_text_saved && choices.typed.charset.is_none();
    // Standard input and servers are not looked at twice.
    if !is_doubted || path == Path::new("-") || is_address(path) {
        return opened;
    }
    // The same file as it shows itself.
    let Some(own) = Intake::open(path, &choices.typed).ok().filter(|own| gone(own).is_none())
    else {
        return opened;
    };
    if opened.is_ok() && !is_sure_to_be_utf_8(&own)? {
        return opened;
    }
    let differences = differences(&own, readings);
    if differences.is_empty() {
        return opened;
    }
    let causes: Vec<&str> = differences.iter().map(|own| own.says.as_str()).collect();
    let line = differences.iter().fold(choices.line().clone(), |line, own| {
        line.without(own.option).with(own.option, &own.value)
    });
    Err(Failure::question(format!(
        "{} is written otherwise than {} has it: {}\n\n  To read it so:\n    {line}",
        shown(path),
        shown(&readings.path),
        causes.join("; ")
    )))
}

/// Whether the bytes are UTF-8 and no other encoding: not ASCII alone, which most encodings read the same.
fn is_sure_to_be_utf_8(intake: &Intake) -> Result<bool, Failure> {
    let source = intake.table.source();
    let is_ascii = || source.is_ascii().map_err(|error| Failure::reading(&intake.path, &error));
    Ok(source.charset.is_utf_8() && !is_ascii()?)
}

/// Something that differs from what was saved, and the option that says how it is here.
struct Difference {
    says: String,
    option: &'static str,
    value: String,
}

fn differences(own: &Intake, readings: &ReadingsFile) -> Vec<Difference> {
    let saved = &readings.wanted;
    let mut all = Vec::new();
    if let TableFormat::Delimited { dialect, preamble, header: Some(_), .. } = &own.table.format {
        let here = preamble.len() as u64;
        let lines = match saved.header {
            WantedHeader::Behind(lines) => Some(lines),
            WantedHeader::Line(line) => Some(line.saturating_sub(1)),
            WantedHeader::Unsaid => Some(0),
            WantedHeader::None(_) => None,
        };
        if let Some(saved) = lines.filter(|saved| *saved != here) {
            let titles = |lines: u64| match lines {
                0 => "none".to_owned(),
                lines => counted(lines, "line"),
            };
            let says =
                format!("titles are {} here, {} when it was saved", titles(here), titles(saved));
            all.push(Difference { says, option: "skip-lines", value: here.to_string() });
        }
        if let Some(saved) = saved.quote.filter(|saved| *saved != dialect.quote) {
            let (here, saved) = (dialect.quote.name(), saved.name());
            let says =
                format!("fields stand in {here} quotes here, in {saved} ones when it was saved");
            all.push(Difference { says, option: "quote", value: here.to_owned() });
        }
        if let Some(saved) = saved.delimiter.filter(|saved| *saved != dialect.delimiter) {
            let here = dialect.delimiter.to_string();
            let says = format!("fields are separated by {here} here, by {saved} when it was saved");
            all.push(Difference { says, option: "delimiter", value: here });
        }
    }
    let here = own.table.source().charset;
    if let Some(saved) = saved.charset.filter(|saved| saved.name() != here.name()) {
        let here = here.name().to_lowercase();
        let says = format!("it is {here} here, {} when it was saved", saved.name().to_lowercase());
        all.push(Difference { says, option: "encoding", value: here });
    }
    all
}
