//! The paragraph about one column: why, both readings side by side, what would settle it.

use unicode_width::UnicodeWidthStr;

use super::Page;
use super::column::{CandidateFacts, ColumnFacts};
use super::grid::{Grid, paragraph};
use super::paste::SettleFacts;
use crate::message::{plain, quoted};

/// How much of a column is said.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Block {
    /// The reasons only.
    Reasons,
    /// All that a person needs to answer, without command lines that are too long to be read.
    Question,
    /// All that there is.
    Whole,
}

/// The longest command line that is shown among others, in bytes.
const LONGEST_COMMAND: usize = 200;

/// The longest name that still has its text beside it.
const LONGEST_LEAD: usize = 18;

/// Writes the paragraph behind a leading word, with its text `indent` columns in.
pub fn block(
    out: &mut String,
    lead: &str,
    column: &ColumnFacts,
    how: Block,
    indent: usize,
    page: Page,
) {
    let lead = page.lead_within(&plain(lead), indent, out);
    paragraph(out, &lead, indent, &plain(&column.reasons.join(" ")), page.width);
    if how == Block::Reasons {
        return;
    }
    side_by_side(out, column, indent + 2, page.width);
    let is_long = |settle: &SettleFacts| {
        settle.command.as_ref().is_some_and(|command| command.len() > LONGEST_COMMAND)
    };
    let is_shown =
        |settle: &&SettleFacts| how == Block::Whole || !(settle.is_second && is_long(settle));
    for settle in column.settle.iter().filter(is_shown) {
        let colon = if settle.command.is_some() { ":" } else { "" };
        paragraph(
            out,
            &" ".repeat(indent),
            indent,
            &format!("{}{colon}", settle.message),
            page.width,
        );
        if let Some(command) = &settle.command {
            // A command line is never broken: it is there to be pasted.
            out.push_str(&format!("{}{}\n", " ".repeat(indent + 2), plain(command)));
        }
    }
}

/// The candidates in play, with what each makes of the column and of one value.
pub(super) fn side_by_side(out: &mut String, column: &ColumnFacts, indent: usize, width: usize) {
    let in_play: Vec<&CandidateFacts> =
        column.candidates.iter().filter(|candidate| candidate.in_play).collect();
    if in_play.len() < 2 {
        return;
    }
    let mut grid = Grid::plain(3);
    for candidate in in_play {
        let span = match (&candidate.earliest, &candidate.latest) {
            (Some(earliest), Some(latest)) => format!("{earliest} to {latest}"),
            _ => "-".to_owned(),
        };
        let example = match (&column.example, &candidate.example_in_words) {
            (Some(example), Some(words)) => format!("{} is {words}", quoted(&example.value)),
            (Some(example), None) => format!("{} does not fit", quoted(&example.value)),
            _ => String::new(),
        };
        grid.push(vec![candidate.phrase.to_owned(), span, example]);
    }
    grid.write_wrapped(out, indent, width);
}

/// How far in the texts of these columns stand.
pub fn indent_of<'c>(columns: impl Iterator<Item = &'c ColumnFacts>) -> usize {
    indent_of_names(columns.map(|column| column.name.as_str()))
}

/// The same for columns of these names.
pub fn indent_of_names<'n>(names: impl Iterator<Item = &'n str>) -> usize {
    let widths = names.map(|name| plain(name).width());
    widths.filter(|width| *width <= LONGEST_LEAD).max().unwrap_or(8).max(8) + 5
}
