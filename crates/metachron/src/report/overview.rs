//! The survey of a file in the terminal.

use metachron_core::text::{counted, grouped};

use super::Page;
use super::blocks::{Block, block, indent_of, side_by_side};
use super::column::ColumnFacts;
use super::facts::{SurveyReport, TogetherReport};
use super::grid::{Grid, cut, paragraph};
use super::paste::AlikeFacts;
use super::source::{LineFacts, PartFacts, SourceFacts};
use crate::message::{plain, quoted};

/// Writes the file, a row for each column, and a paragraph for each that holds dates.
pub fn overview(out: &mut String, report: &SurveyReport, page: Page) {
    heading(out, &report.source, page);
    out.push('\n');
    columns(out, &report.columns, &report.alike, page);
    if let Some(parts) = &report.parts {
        out.push('\n');
        paragraph(out, "  ", 2, &plain(&parts.message), page.width);
        for way in &parts.settle {
            to_paste(out, &way.message, way.command.as_slice(), page);
        }
    }
    if !report.all_at_once.is_empty() {
        out.push('\n');
    }
    for way in &report.all_at_once {
        to_paste(out, &way.message, way.command.as_slice(), page);
    }
}

/// Writes when command lines are right, and the lines.
pub(super) fn to_paste(out: &mut String, when: &str, commands: &[String], page: Page) {
    paragraph(out, "  ", 2, &format!("{}:", plain(when)), page.width);
    for command in commands {
        // A command line is never broken: it is there to be pasted.
        out.push_str(&format!("    {command}\n"));
    }
}

/// Writes each file, then what they come to together and where they differ.
pub fn together(out: &mut String, report: &TogetherReport, page: Page) {
    for file in &report.files {
        overview(out, file, page);
        out.push('\n');
    }
    out.push_str(&format!("All {} files together\n\n", report.files.len()));
    columns(out, &report.together, &[], page);
    if report.differences.is_empty() {
        out.push_str("\n  The files agree about every column.\n");
        return;
    }
    out.push_str("\n  The files differ:\n");
    for difference in &report.differences {
        paragraph(out, "    ", 4, difference, page.width);
    }
    if !report.keep_each.is_empty() {
        to_paste(out, "To keep a reading for each of them", &report.keep_each, page);
    }
}

/// A row for each column, and a paragraph for each that holds dates.
fn columns(out: &mut String, columns: &[ColumnFacts], alike: &[AlikeFacts], page: Page) {
    let (temporal, others): (Vec<&ColumnFacts>, Vec<&ColumnFacts>) =
        columns.iter().partition(|column| column.is_temporal());
    let is_wide = columns.len() > FEW;
    // In a wide table a line says which columns hold no dates.
    match is_wide && !temporal.is_empty() {
        true => grid(out, &temporal, page),
        false => grid(out, &columns.iter().collect::<Vec<_>>(), page),
    }
    let (date_columns, open_columns) =
        (temporal.len(), temporal.iter().filter(|own| own.is_open()).count());
    let indent = indent_of(temporal.iter().copied());
    // What needs a person comes first.
    let (open, settled): (Vec<&ColumnFacts>, Vec<&ColumnFacts>) =
        temporal.into_iter().partition(|column| column.is_open());
    for column in open.iter().filter(|own| !is_alike(own, alike)) {
        out.push('\n');
        block(out, &column.name, column, Block::Question, indent, page);
    }
    questions_alike(out, &open, alike, page);
    if !settled.is_empty() {
        out.push('\n');
    }
    match is_wide {
        true => by_reason(out, &settled, page),
        false => {
            for column in settled {
                block(out, &column.name, column, Block::Reasons, indent, page);
            }
        }
    }
    if !others.is_empty() {
        out.push('\n');
        by_reason(out, &others, page);
    }
    if is_wide && date_columns > 0 {
        let decided = date_columns - open_columns;
        let all = counted(date_columns as u64, "date column");
        out.push_str(&format!(
            "\n  {all} of {}: {decided} decided, {open_columns} open\n",
            columns.len()
        ));
    }
}

/// Whether others are asked about in the same way.
pub(super) fn is_alike(column: &ColumnFacts, alike: &[AlikeFacts]) -> bool {
    alike.iter().any(|group| group.columns.contains(&column.name))
}

/// What is asked of several columns alike, once for all of them.
pub(super) fn questions_alike(
    out: &mut String,
    columns: &[&ColumnFacts],
    alike: &[AlikeFacts],
    page: Page,
) {
    for group in alike {
        let own = columns.iter().filter(|own| group.columns.contains(&own.name));
        let own: Vec<&ColumnFacts> = own.copied().collect();
        out.push('\n');
        by_reason(out, &own, page);
        let several =
            |own: &&ColumnFacts| own.candidates.iter().filter(|own| own.in_play).count() > 1;
        if let Some(first) = own.first().copied().filter(|own| several(own)) {
            paragraph(out, "  ", 2, &format!("For example {}:", plain(&first.name)), page.width);
            side_by_side(out, first, 4, page.width);
        }
        for way in &group.settle {
            to_paste(out, &way.message, way.command.as_slice(), page);
        }
        paragraph(
            out,
            "  ",
            2,
            "If they differ, survey with --column NAME has the answers for each by itself.",
            page.width,
        );
    }
}

/// Columns of a table that has each in a line of its own.
const FEW: usize = 24;

/// The file in one line, and what is worth knowing of its lines.
pub(super) fn heading(out: &mut String, source: &SourceFacts, page: Page) {
    let mut said: Vec<String> = vec![source.format.to_owned()];
    said.extend(source.dialect.as_ref().map(|dialect| match source.columns {
        1 => format!("one column ({dialect} before new ones)"),
        _ => dialect.clone(),
    }));
    let part = source.part.as_ref();
    said.extend(part.map(|part| format!("{} {}", part.kind, quoted(&part.name))));
    said.extend(source.encoding.clone());
    said.extend(source.compression.map(|ending| format!("compressed (.{ending})")));
    let word = if source.dialect.is_none() { "row" } else { "line" };
    match (source.header_line, source.preamble.len() as u64) {
        (Some(line), 0) => said.push(format!("header in {word} {line}")),
        (Some(line), above) => {
            let above = counted(above, word);
            said.push(format!("header in {word} {line}, {above} above it skipped"));
        }
        (None, _) if source.dialect.is_some() => {
            said.push("no header".to_owned());
        }
        (None, _) => {}
    }
    let rows = counted(source.rows, "row");
    said.push(match source.first_rows {
        Some(_) => format!("only the first {rows} looked at"),
        None => rows,
    });
    let lead = format!("{}   ", source.file);
    let indent = unicode_width::UnicodeWidthStr::width(lead.as_str());
    paragraph(out, &lead, indent.min(30), &said.join(", "), page.width);
    for note in &source.notes {
        out.push_str(&format!("  {note}\n"));
    }
    if let Some(PartFacts { kind, others, .. }) = part.filter(|part| !part.others.is_empty()) {
        let others: Vec<String> = others.iter().map(|name| quoted(name)).collect();
        out.push_str(&format!("  other {kind}s (--{kind} NAME): {}\n", others.join(", ")));
    }
    lines(out, &format!("above the table, {word}"), &source.preamble);
    lines(out, &format!("below the table, {word}"), &source.footers);
}

/// Lines that are no rows, so that nothing is left out unseen.
fn lines(out: &mut String, place: &str, lines: &[LineFacts]) {
    const MOST: usize = 8;
    for LineFacts { line, text } in lines.iter().take(MOST) {
        let text = cut(&quoted(text), 70);
        out.push_str(&format!("  {place} {line}: {text}\n"));
    }
    if lines.len() > MOST {
        let rest = (lines.len() - MOST) as u64;
        let rest = counted(rest, "more line");
        out.push_str(&format!("  {place}: {rest} (survey --json lists all)\n"));
    }
}

/// A column of the view: its title, and what it shows of a column of the table.
type ShownColumn = (&'static str, fn(&ColumnFacts) -> String);

fn grid(out: &mut String, columns: &[&ColumnFacts], page: Page) {
    fn number(column: &ColumnFacts, number: u64) -> String {
        if column.is_temporal() { grouped(number) } else { String::new() }
    }
    let any = |holds: fn(&ColumnFacts) -> bool| columns.iter().any(|own| holds(own));
    let usual: [ShownColumn; 7] = [
        ("column", |own| cut(&plain(&own.name), 30)),
        ("kind", |own| own.kind.clone().unwrap_or_else(|| "-".to_owned())),
        ("verdict", |own| own.verdict.clone()),
        ("read by", read_by),
        ("read", |own| number(own, own.rows.read)),
        ("missing", |own| number(own, own.rows.missing)),
        ("unreadable", |own| number(own, own.rows.unreadable)),
    ];
    // What occurs nowhere has no column. A part of the rows is called so in every line.
    let others: [(bool, ShownColumn); 5] = [
        (any(|own| own.rows.open > 0), ("open", |own| number(own, own.rows.open))),
        (any(|own| own.rows.contested > 0), ("contested", |own| number(own, own.rows.contested))),
        (
            any(|own| own.rows.placeholder > 0),
            ("placeholder", |own| number(own, own.rows.placeholder)),
        ),
        (
            any(|own| own.cells.typed + own.cells.fault > 0),
            ("cells", |own| own.cell_types().unwrap_or_default()),
        ),
        (
            any(|own| own.first_rows.is_some()),
            ("looked at", |own| {
                own.first_rows.map_or(String::new(), |rows| format!("first {}", grouped(rows)))
            }),
        ),
    ];
    let others = others.into_iter().filter(|(occurs, _)| *occurs).map(|(_, shown)| shown);
    let shown: Vec<ShownColumn> = usual.into_iter().chain(others).collect();
    let numbers = ["read", "missing", "unreadable", "contested", "placeholder", "open"];
    let titles: Vec<&str> = shown.iter().map(|(title, _)| *title).collect();
    let mut grid = Grid::new(&titles).numbers(&numbers);
    for column in columns {
        grid.push(shown.iter().map(|(_, of)| of(column)).collect());
        grid.paint(2, page.verdict(&column.verdict));
    }
    if grid.needs(shown.len()) <= page.width {
        grid.write(out, 2, page.width, None);
        return;
    }
    // Layouts that are cut say nothing: they stand at the end where there is no room for them, and zeros nowhere.
    grid.without_zeros("read").with_last("read by").write_wrapped(out, 2, page.width);
}

/// The layouts of the reading, or those in play.
fn read_by(column: &ColumnFacts) -> String {
    if let Some(reading) = column.reading.as_ref().filter(|_| !column.is_open()) {
        let cells = (column.cells.typed > 0).then_some("date cells");
        let parts: Vec<&str> =
            cells.into_iter().chain(reading.layouts.iter().map(String::as_str)).collect();
        return match &parts[..] {
            [one, two, _, rest @ ..] => format!("{one} and {two} and {} more", rest.len() + 1),
            few => few.join(" and "),
        };
    }
    let in_play = column.candidates.iter().filter(|candidate| candidate.in_play);
    let layouts: Vec<&str> =
        in_play.filter_map(|c| c.reading.layouts.first()).map(String::as_str).collect();
    match &column.reading {
        // Only the century is open.
        Some(reading) if layouts.len() < 2 => reading.layouts.join(" and "),
        _ => layouts.join(if column.verdict == "mixed" { " and " } else { " or " }),
    }
}

/// Columns of which the same is to be said, in one paragraph each.
fn by_reason(out: &mut String, columns: &[&ColumnFacts], page: Page) {
    let mut all: Vec<(String, Vec<String>)> = Vec::new();
    for column in columns {
        let reason = column.reasons.join(" ");
        match all.iter_mut().find(|(other, _)| *other == reason) {
            Some((_, names)) => names.push(plain(&column.name)),
            None => all.push((reason, vec![plain(&column.name)])),
        }
    }
    for (reason, names) in all {
        let text = format!("{}: {}", names.join(", "), reason);
        paragraph(out, "  ", 2, &text, page.width);
    }
}
