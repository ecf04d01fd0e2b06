//! What was counted, to be read by people and programs.

use std::collections::BTreeMap;

use metachron_core::counting::{Figure, Line, Slot};
use metachron_core::named::Named;
use metachron_core::text::{counted, grouped};
use metachron_core::typed::{Kind, TypedValue};
use metachron_tables::deliver::{Cell, CellRows, Holds, OutputField};
use metachron_tables::header::Header;
use serde::Serialize;

use super::Page;
use super::grid::{Grid, paragraph};
use crate::counting::{CountPlan, Counted, CountedFigure, too_many};
use crate::figures::Figures;
use crate::message::{Failure, plain, quoted, shown};
use crate::survey::SurveyedTable;
use crate::words::{first, many};

/// The version of the JSON that `count` prints.
const VERSION: u32 = 1;

/// What was counted in a file.
#[derive(Debug, Serialize)]
pub struct CountReport {
    report: &'static str,
    version: u32,
    file: String,
    column: String,
    per: &'static str,
    /// The clock whose days and hours are counted, if the column holds moments.
    #[serde(skip_serializing_if = "Option::is_none")]
    clock: Option<String>,
    /// The column each of whose values is counted by itself.
    #[serde(skip_serializing_if = "Option::is_none")]
    by: Option<String>,
    /// Rows that were looked at.
    rows: u64,
    /// Rows of these without a date that could be read: they are counted nowhere.
    undated: u64,
    /// The periods, the first one first.
    pub lines: Vec<CountLine>,
    /// What is worth a sentence.
    notes: Vec<String>,
    /// The figures of each line.
    #[serde(skip)]
    figures: Vec<FigureFacts>,
    /// What a period is as a typed value.
    #[serde(skip)]
    period: Option<Kind>,
    metachron: &'static str,
}

/// What is said of the numbers of each line.
#[derive(Debug)]
struct FigureFacts {
    /// What it is called: `sum of weight`.
    title: String,
    figure: Figure,
    added: Figures,
}

/// A period.
#[derive(Debug, Serialize)]
pub struct CountLine {
    /// The period in ISO 8601; a weekday by its name.
    pub period: String,
    /// The value of the column that tells groups.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub group: Option<String>,
    /// How many rows.
    pub rows: u64,
    /// The figures, by what they are called: numbers, or lengths of time in ISO 8601; none where there are none.
    #[serde(rename = "figures", skip_serializing_if = "BTreeMap::is_empty")]
    named: BTreeMap<String, Option<serde_json::Value>>,
    /// The same, in the order in which they are asked for.
    #[serde(skip)]
    pub figures: Vec<Option<String>>,
    /// The period itself.
    #[serde(skip)]
    pub slot: Slot,
    /// How long its bar is, where the longest is one.
    #[serde(skip)]
    share: f64,
}

impl CountReport {
    /// What was counted.
    ///
    /// # Errors
    /// There are more periods than anybody reads.
    pub fn new(
        table: &SurveyedTable,
        plan: &CountPlan<'_>,
        counted: &Counted<'_>,
    ) -> Result<CountReport, Failure> {
        let lines = counted.counts.lines().map_err(|lines| too_many(lines, plan.per))?;
        let facts = |CountedFigure { figure, column, added, .. }: &CountedFigure<'_>| FigureFacts {
            title: title(*figure, column),
            figure: *figure,
            added: *added,
        };
        let mut lines: Vec<CountLine> =
            lines.map(|line| count_line(&line, &counted.figures, plan.by.is_some())).collect();
        let longest = lines.iter().map(|line| line.share).fold(0.0, f64::max);
        lines.iter_mut().for_each(|line| line.share /= if longest > 0.0 { longest } else { 1.0 });
        Ok(CountReport {
            report: "count",
            version: VERSION,
            file: shown(&table.intake.path),
            column: plan.column.to_owned(),
            per: plan.per.name(),
            clock: counted.clock.clone(),
            by: plan.by.map(str::to_owned),
            rows: counted.rows,
            undated: counted.undated,
            lines,
            notes: notes(plan, counted),
            figures: counted.figures.iter().map(facts).collect(),
            period: plan.per.kind(),
            metachron: env!("CARGO_PKG_VERSION"),
        })
    }

    /// What was written, in a line.
    pub fn summary(&self) -> String {
        let lines = counted(self.lines.len() as u64, "line");
        let mut text = format!("{}: {lines}", self.heading());
        for note in &self.notes {
            text.push_str(&format!("\n  {note}"));
        }
        text
    }

    /// The columns of the counts as a table.
    pub fn fields(&self) -> Vec<OutputField> {
        let of = |name: &str, holds: Holds| OutputField { holds, ..OutputField::text(name) };
        let period = match self.period {
            Some(kind) => of(self.per, Holds::Of(kind)),
            None => OutputField::text(self.per),
        };
        let group = self.by.iter().map(|by| OutputField::text(by));
        let figures = self.figures.iter().map(|FigureFacts { title, added, .. }| match added {
            Figures::Numbers => of(title, Holds::Number),
            Figures::Lengths => OutputField { digits: 9, ..of(title, Holds::Of(Kind::Duration)) },
        });
        let rows = of("rows", Holds::Whole);
        let mut fields: Vec<OutputField> =
            std::iter::once(period).chain(group).chain([rows]).chain(figures).collect();
        // A group may be called rows.
        let names = fields.iter().map(|field| field.name.clone()).collect();
        let names = Header::named(names).names;
        fields.iter_mut().zip(names).for_each(|(field, name)| field.name = name);
        fields
    }

    /// The periods as cells of that table.
    pub fn cells(&self) -> CellRows {
        let mut cells = CellRows::default();
        for line in &self.lines {
            cells.push(line.slot.value().map_or(Cell::of_text(&line.period), Cell::Typed));
            line.group.iter().for_each(|group| cells.push(Cell::of_text(group)));
            cells.push(Cell::Number(&line.rows.to_string()));
            for (text, FigureFacts { added, .. }) in line.figures.iter().zip(&self.figures) {
                cells.push(match (text, added) {
                    (None, _) => Cell::Missing,
                    (Some(text), Figures::Numbers) => Cell::Number(text),
                    (Some(text), Figures::Lengths) => text
                        .parse()
                        .map_or(Cell::Missing, |own| Cell::Typed(TypedValue::Duration(own))),
                });
            }
            cells.end_row();
        }
        cells
    }

    fn heading(&self) -> String {
        let by = self.by.as_ref().map_or(String::new(), |by| format!(" and {}", plain(by)));
        let clock =
            self.clock.as_ref().map_or(String::new(), |clock| format!(", by the clock of {clock}"));
        let (column, per) = (plain(&self.column), self.per);
        format!("{}   {} by {per} of {column}{by}{clock}", self.file, counted(self.rows, "row"))
    }
}

fn count_line(line: &Line<'_>, figures: &[CountedFigure<'_>], has_groups: bool) -> CountLine {
    let texts: Vec<Option<String>> = figures.iter().map(|own| own.text(line)).collect();
    // The first figure is drawn, if there is one, else the rows.
    let drawn = figures.first().map(|own| {
        let number = own.amounts(line).figure(own.figure);
        number.and_then(|number| number.to_string().parse().ok()).unwrap_or(0.0)
    });
    let named = figures.iter().zip(&texts).map(|(own, text)| {
        let value = text.as_ref().and_then(|text| match own.added {
            Figures::Numbers => serde_json::from_str(text).ok(),
            Figures::Lengths => Some(serde_json::Value::from(text.as_str())),
        });
        (title(own.figure, own.column), value)
    });
    CountLine {
        period: line.slot.to_string(),
        group: has_groups.then(|| line.group.to_owned()),
        rows: line.rows,
        named: named.collect(),
        figures: texts,
        slot: line.slot,
        share: drawn.unwrap_or(line.rows as f64),
    }
}

/// Digits that a mean is shown with beyond those of the numbers.
const OF_MEAN: usize = 2;

/// The figures of a column as they are shown: with as many digits behind the point each.
fn shown_figures(report: &CountReport, at: usize) -> Vec<String> {
    let digits = |text: &str| text.split_once('.').map_or(0, |(_, fraction)| fraction.len());
    let texts = |at: usize| report.lines.iter().filter_map(move |line| line.figures[at].as_deref());
    let most = |at: usize| texts(at).map(digits).max().unwrap_or(0);
    // A mean has no more digits of its own than the other figures of its numbers, and two.
    let is_mean = |at: &usize| report.figures[*at].figure == Figure::Mean;
    let others = (0..report.figures.len()).filter(|other| !is_mean(other)).map(most).max();
    let places = match is_mean(&at) {
        true => most(at).min(others.unwrap_or(OF_MEAN) + OF_MEAN),
        false => most(at),
    };
    let shown = |text: &str| match (report.figures[at].added, text.parse::<f64>()) {
        (Figures::Numbers, Ok(number)) if digits(text) > places => {
            with_groups(&format!("{number:.places$}"))
        }
        (Figures::Numbers, _) => {
            let point = if digits(text) == 0 && places > 0 { "." } else { "" };
            with_groups(&format!("{text}{point}{}", "0".repeat(places - digits(text))))
        }
        (Figures::Lengths, _) => text.to_owned(),
    };
    let all = report.lines.iter().map(|line| line.figures[at].as_deref());
    all.map(|text| text.map_or_else(|| "-".to_owned(), shown)).collect()
}

/// The whole part in groups of three digits.
fn with_groups(text: &str) -> String {
    let (sign, plain) = text.strip_prefix('-').map_or(("", text), |plain| ("-", plain));
    let (whole, fraction) = plain.split_at(plain.find('.').unwrap_or(plain.len()));
    let whole = whole.parse().map_or_else(|_| whole.to_owned(), grouped);
    format!("{sign}{whole}{fraction}")
}

fn title(figure: Figure, column: &str) -> String {
    let name = match figure {
        Figure::Sum => "sum",
        Figure::Mean => "mean",
        Figure::Least => "least",
        Figure::Most => "most",
    };
    format!("{name} of {column}")
}

fn notes(plan: &CountPlan<'_>, found: &Counted<'_>) -> Vec<String> {
    let mut notes = Vec::new();
    let column = quoted(plan.column);
    if found.undated > 0 {
        let rows = many(found.undated, "row", "has", "have");
        let are = if found.undated == 1 { "is" } else { "are" };
        notes.push(format!(
            "{rows} no date in {column} that can be read, and {are} counted nowhere."
        ));
    }
    let [left_out, unclear] = found.left_out;
    if left_out > 0 {
        notes.push(format!("{} left out by --where.", many(left_out, "row", "is", "are")));
    }
    if unclear > 0 {
        let rows = many(unclear, "row", "is", "are");
        notes.push(format!("{rows} left out, as --where cannot be answered for want of a value."));
    }
    for CountedFigure { column, no_numbers, .. } in &found.figures {
        let cells = many(no_numbers.rows, "cell", "is", "are");
        let note = format!(
            "{cells} no number in {}, and added nowhere{}.",
            quoted(column),
            first(no_numbers)
        );
        if no_numbers.rows > 0 && !notes.contains(&note) {
            notes.push(note);
        }
    }
    notes
}

/// The report to be read: the periods with their rows, and a bar for each.
pub fn count_page(report: &CountReport, page: Page) -> String {
    let mut out = format!("{}\n", report.heading());
    if !report.lines.is_empty() {
        out.push('\n');
        let titles: Vec<String> = report.figures.iter().map(|own| plain(&own.title)).collect();
        let group = report.by.as_ref().map(|by| plain(by));
        let mut heading = vec![report.per];
        heading.extend(group.as_deref());
        heading.push("rows");
        heading.extend(titles.iter().map(String::as_str));
        let numbers: Vec<&str> =
            std::iter::once("rows").chain(titles.iter().map(String::as_str)).collect();
        let mut grid = Grid::new(&heading).numbers(&numbers);
        let figures: Vec<Vec<String>> =
            (0..titles.len()).map(|at| shown_figures(report, at)).collect();
        for (at, line) in report.lines.iter().enumerate() {
            let mut cells = vec![line.period.clone()];
            cells.extend(line.group.as_ref().map(|group| match group.as_str() {
                "" => "-".to_owned(),
                group => plain(group),
            }));
            cells.push(grouped(line.rows));
            cells.extend(figures.iter().map(|column| column[at].clone()));
            grid.push(cells);
        }
        let room = page.width.saturating_sub(2 + grid.needs(grid.columns())).min(BARS.1);
        if room >= BARS.0 && report.lines.iter().all(|line| line.share >= 0.0) {
            grid.push_column("", report.lines.iter().map(|line| bar(line.share, room)));
        }
        grid.write(&mut out, 2, page.width, None);
    }
    if !report.notes.is_empty() {
        out.push('\n');
    }
    for note in &report.notes {
        paragraph(&mut out, "  ", 2, note, page.width);
    }
    out
}

/// The narrowest bars that show anything, and the widest that is of use.
const BARS: (usize, usize) = (8, 60);

/// A bar of this share of the room; half a letter for what is not nothing.
fn bar(share: f64, room: usize) -> String {
    let halves = (share * room as f64 * 2.0).round() as usize;
    let halves = if share > 0.0 { halves.max(1) } else { 0 };
    "▄".repeat(halves / 2) + if halves % 2 == 1 { "▖" } else { "" }
}
