//! Everything about single columns.

use super::Page;
use super::blocks::{Block, block};
use super::column::{ColumnFacts, ValueFacts};
use super::facts::SurveyReport;
use super::grid::{Grid, paragraph};
use super::overview::heading;
use crate::message::{plain, quoted};
use metachron_core::text::grouped;

/// Shapes that are listed; the rest is counted.
const SHAPES: usize = 20;

/// Writes a page for each column.
pub fn detail(out: &mut String, report: &SurveyReport, page: Page) {
    heading(out, &report.source, page);
    for column in &report.columns {
        out.push('\n');
        column_page(out, column, page);
    }
}

fn column_page(out: &mut String, column: &ColumnFacts, page: Page) {
    let kind = column.kind.as_ref().map_or(String::new(), |kind| format!("{kind}, "));
    let name = page.lead(&plain(&column.name));
    out.push_str(&format!("{name}   {kind}{}\n", page.verdict(&column.verdict)));
    if let Some(rows) = column.first_rows {
        out.push_str(&format!("  only the first {} rows looked at\n", grouped(rows)));
    }
    if column.is_temporal() {
        let rows = &column.rows;
        let mut counts = format!(
            "  {} read, {} missing, {} unreadable",
            grouped(rows.read),
            grouped(rows.missing),
            grouped(rows.unreadable)
        );
        for (count, what) in
            [(rows.open, "open"), (rows.contested, "contested"), (rows.placeholder, "placeholder")]
        {
            if count > 0 {
                counts.push_str(&format!(", {} {what}", grouped(count)));
            }
        }
        out.push_str(&format!("{counts}\n"));
    }
    out.push('\n');
    if !column.shapes.is_empty() {
        shapes(out, column, page);
    }
    if !column.candidates.is_empty() {
        out.push('\n');
        candidates(out, column, page);
    }
    out.push('\n');
    let how = if column.is_open() { Block::Whole } else { Block::Reasons };
    block(out, "why", column, how, 7, page);
    if !column.ruled_out.is_empty() {
        let ruled_out: Vec<&str> =
            column.ruled_out.iter().map(|own| own.message.as_str()).collect();
        let text = format!("Ruled out: {}.", ruled_out.join("; "));
        paragraph(out, &" ".repeat(7), 7, &plain(&text), page.width);
    }
    // What the reasons do not say already.
    let said = |says: &str| column.reasons.iter().any(|reason| reason.contains(says));
    let mut signals = column.signals.iter().filter(|signal| !said(&signal.message)).peekable();
    if signals.peek().is_some() {
        let lead = format!("  {}", page.lead("hint"));
        for (at, signal) in signals.enumerate() {
            let lead = if at == 0 { format!("{lead} ") } else { " ".repeat(7) };
            paragraph(out, &lead, 7, &plain(&signal.message), page.width);
        }
    }
}

fn shapes(out: &mut String, column: &ColumnFacts, page: Page) {
    let mut grid = Grid::new(&["shape", "rows", "first in"]).numbers(&["rows"]);
    for shape in column.shapes.iter().take(SHAPES) {
        grid.push(vec![
            super::grid::cut(&plain(&shape.shape), 44),
            grouped(shape.rows),
            place(&shape.example),
        ]);
    }
    grid.write(out, 2, page.width, Some(2));
    if column.shapes.len() > SHAPES {
        let rest = (column.shapes.len() - SHAPES) as u64;
        out.push_str(&format!(
            "  and {} (survey --json lists all)\n",
            metachron_core::text::counted(rest, "more shape")
        ));
    }
}

fn candidates(out: &mut String, column: &ColumnFacts, page: Page) {
    let mut grid =
        Grid::new(&["reading", "", "layout", "fits", "contradictions", "earliest", "latest"])
            .numbers(&["fits", "contradictions"]);
    let moment = |text: &Option<String>| text.clone().unwrap_or_else(|| "-".to_owned());
    for candidate in &column.candidates {
        let mut layouts = candidate.reading.layouts.iter().cloned();
        grid.push(vec![
            candidate.phrase.clone(),
            match (candidate.in_play, column.is_open()) {
                (true, true) => "in play",
                (true, false) => "taken",
                (false, _) => "excluded",
            }
            .to_owned(),
            layouts.next().unwrap_or_default(),
            grouped(candidate.fits),
            grouped(candidate.contradictions),
            moment(&candidate.earliest),
            moment(&candidate.latest),
        ]);
        for layout in layouts {
            grid.push(vec![String::new(), String::new(), layout]);
        }
    }
    // A layout that is cut says nothing: it stands at the end where there is no room for it.
    match grid.needs(grid.columns()) <= page.width {
        true => grid.write(out, 2, page.width, None),
        false => grid.with_last("layout").write_wrapped(out, 2, page.width),
    }
    for candidate in &column.candidates {
        if let Some(first) = &candidate.contradiction {
            out.push_str(&format!(
                "  {} is first contradicted in {}\n",
                candidate.phrase,
                place(first)
            ));
        }
    }
}

fn place(ValueFacts { row, value }: &ValueFacts) -> String {
    format!("row {}: {}", grouped(*row), quoted(value))
}
