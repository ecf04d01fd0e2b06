//! A chart in words and figures: its facts for programs, its titles, and a chart of letters for a terminal.

use metachron_core::charting::Tick;
use metachron_core::text::counted;
use metachron_core::typed::Kind;
use serde::Serialize;
use unicode_width::UnicodeWidthStr;

use super::Page;
use super::grid::{EIGHTHS, paragraph};
use crate::charting::{Chart, ChartPanel, ChartPlan, ChartSeries, PIXELS, SeriesMarks};
use crate::message::{plain, shown};
use crate::survey::SurveyedTable;
use crate::words::many;

/// The version of the JSON that `chart` prints.
const VERSION: u32 = 1;

/// A chart with its titles.
#[derive(Debug)]
pub struct TitledChart {
    /// What is drawn.
    pub chart: Chart,
    /// What it shows.
    pub title: String,
    /// What the numbers are.
    pub y_title: String,
    /// What is worth a sentence.
    pub notes: Vec<String>,
    file: String,
    column: String,
}

/// What is drawn, for programs.
#[derive(Debug, Serialize)]
pub struct ChartFacts {
    report: &'static str,
    version: u32,
    file: String,
    column: String,
    title: String,
    kind: Kind,
    #[serde(skip_serializing_if = "Option::is_none")]
    clock: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    per: Option<&'static str>,
    x: AxisFacts,
    y: AxisFacts,
    panels: Vec<PanelFacts>,
    notes: Vec<String>,
    metachron: &'static str,
}

#[derive(Debug, Serialize)]
struct AxisFacts {
    title: String,
    ticks: Vec<TickFacts>,
}

#[derive(Debug, Serialize)]
struct TickFacts {
    /// Where on the axis it stands, from 0 to 1.
    at: f64,
    label: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    part_of: Option<String>,
}

#[derive(Debug, Serialize)]
struct PanelFacts {
    #[serde(skip_serializing_if = "Option::is_none")]
    title: Option<String>,
    rows: u64,
    left_out: u64,
    earliest: Option<String>,
    latest: Option<String>,
    series: Vec<SeriesFacts>,
}

#[derive(Debug, Serialize)]
struct SeriesFacts {
    #[serde(skip_serializing_if = "Option::is_none")]
    name: Option<String>,
    /// `bars`, `points`, or `columns` of pixels with the least and the greatest number of each.
    marks: &'static str,
    /// Where each mark stands, from 0 to 1, and its numbers: of a bar the end and the count, of a column both extremes.
    places: Vec<Vec<f64>>,
    /// How many runs of points there are, with gaps between.
    #[serde(skip_serializing_if = "Option::is_none")]
    runs: Option<usize>,
}

impl TitledChart {
    /// A chart with what it is called.
    pub fn new(table: &SurveyedTable, plan: &ChartPlan<'_>, chart: Chart) -> TitledChart {
        let file = shown(&table.intake.path);
        let column = plain(plan.column);
        let by = plan.by.map_or(String::new(), |by| format!(" by {}", plain(by)));
        let clock = chart
            .clock
            .as_ref()
            .map_or(String::new(), |clock| format!(", by the clock of {clock}"));
        let (what, y_title) = match (plan.value, chart.per, chart.unit) {
            (Some(value), _, Some(unit)) => (plain(value), format!("{} in {unit}", plain(value))),
            (Some(value), ..) => (plain(value), plain(value)),
            (None, Some("step"), _) => (format!("rows by {column}"), "rows".to_owned()),
            (None, per, _) => {
                let per = per.unwrap_or_default();
                (format!("rows per {per} of {column}"), format!("rows per {per}"))
            }
        };
        let over = if plan.value.is_some() { format!(" over {column}") } else { String::new() };
        let mut notes = Vec::new();
        for panel in &chart.panels {
            if panel.left_out > 0 {
                let lead = panel.title.as_ref().map_or(String::new(), |title| format!("{title}: "));
                let what = if plan.value.is_some() { "date or number" } else { "date" };
                let rows = many(panel.left_out, "row", "has", "have");
                notes.push(format!("{lead}{rows} no {what} that can be read"));
            }
        }
        let title = format!("{file}: {what}{over}{by}{clock}");
        TitledChart { chart, title, y_title, notes, file, column }
    }

    /// Its facts.
    pub fn facts(&self) -> ChartFacts {
        let chart = &self.chart;
        let x = |at: i128| rounded(chart.x.share(at));
        let tick = |tick: &Tick| TickFacts {
            at: x(tick.at),
            label: tick.label.clone(),
            part_of: tick.part_of.clone(),
        };
        let series = |own: &ChartSeries| {
            let (marks, places, runs) = match &own.marks {
                SeriesMarks::Bars(bars) => {
                    let places = bars.iter().map(|(from, to, rows)| vec![x(*from), x(*to), *rows]);
                    ("bars", places.collect(), None)
                }
                SeriesMarks::Runs(runs) => {
                    let places = runs.iter().flatten().map(|(at, number)| vec![x(*at), *number]);
                    ("points", places.collect(), Some(runs.len()))
                }
                SeriesMarks::Columns(columns) => {
                    let place = |at: usize| rounded(at as f64 / PIXELS as f64);
                    let places =
                        columns.iter().map(|(at, least, most)| vec![place(*at), *least, *most]);
                    ("columns", places.collect(), None)
                }
            };
            SeriesFacts { name: own.name.clone(), marks, places, runs }
        };
        let panel = |own: &ChartPanel| PanelFacts {
            title: own.title.clone(),
            rows: own.drawn,
            left_out: own.left_out,
            earliest: own.ends.as_ref().map(|[first, _]| first.clone()),
            latest: own.ends.as_ref().map(|[_, last]| last.clone()),
            series: own.series.iter().map(series).collect(),
        };
        let y_ticks = chart.y.ticks.iter().map(|(number, label)| TickFacts {
            at: rounded(chart.y.share(*number)),
            label: label.clone(),
            part_of: None,
        });
        ChartFacts {
            report: "chart",
            version: VERSION,
            file: self.file.clone(),
            column: self.column.clone(),
            title: self.title.clone(),
            kind: chart.kind,
            clock: chart.clock.clone(),
            per: chart.per,
            x: AxisFacts {
                title: self.column.clone(),
                ticks: chart.x.ticks.iter().map(tick).collect(),
            },
            y: AxisFacts { title: self.y_title.clone(), ticks: y_ticks.collect() },
            panels: chart.panels.iter().map(panel).collect(),
            notes: self.notes.clone(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }

    /// What was written, in a line.
    pub fn summary(&self, output: &str) -> String {
        let rows: Vec<String> = self
            .chart
            .panels
            .iter()
            .map(|panel| {
                let title =
                    panel.title.as_ref().map_or(String::new(), |title| format!("{title}: "));
                let span = panel
                    .ends
                    .as_ref()
                    .map_or(String::new(), |[first, last]| format!(", {first} to {last}"));
                format!("{title}{}{span}", counted(panel.drawn, "row"))
            })
            .collect();
        let mut text = format!("{output}   {}\n  {}", self.title, rows.join("\n  "));
        for note in &self.notes {
            text.push_str(&format!("\n  {note}."));
        }
        text
    }
}

/// To a hundred-thousandth: more is not seen.
fn rounded(share: f64) -> f64 {
    (share * 100_000.0).round() / 100_000.0
}

/// Lines of a chart of letters.
const HEIGHT: usize = 16;

/// The chart in letters.
pub fn on_screen(titled: &TitledChart, page: Page) -> String {
    let mut out = format!("{}\n", titled.title);
    let chart = &titled.chart;
    let labels = chart.y.ticks.iter().map(|(_, label)| label.width());
    let margin = labels.max().unwrap_or(1) + 2;
    let width = page.width.saturating_sub(margin + 2).max(20);
    for panel in &chart.panels {
        out.push('\n');
        if let Some(title) = &panel.title {
            let span = panel
                .ends
                .as_ref()
                .map_or(String::new(), |[first, last]| format!(", {first} to {last}"));
            out.push_str(&format!("{}{title}{span}\n", " ".repeat(margin)));
        }
        let cells = cells(chart, panel, width);
        let tick_at = |row: usize| {
            let near =
                |share: f64| ((share * (HEIGHT - 1) as f64).round() as usize).min(HEIGHT - 1);
            chart.y.ticks.iter().find(|(number, _)| near(chart.y.share(*number)) == row)
        };
        for row in (0..HEIGHT).rev() {
            let label = tick_at(row).map_or("", |(_, label)| label.as_str());
            let room = " ".repeat(margin - 1 - label.width());
            let line: String = cells.iter().map(|column| column[row]).collect();
            out.push_str(format!("{room}{label} {}", line.trim_end()).trim_end());
            out.push('\n');
        }
        axis_lines(&mut out, &chart.x.ticks, |at| chart.x.share(at), margin, width);
        if panel.series.len() > 1 {
            let names =
                panel.series.iter().zip(MARKS).filter_map(|(own, mark)| {
                    Some(format!("{mark} {}", plain(own.name.as_deref()?)))
                });
            paragraph(
                &mut out,
                &" ".repeat(margin),
                margin,
                &names.collect::<Vec<_>>().join("   "),
                page.width,
            );
        }
    }
    if !titled.notes.is_empty() {
        out.push('\n');
    }
    for note in &titled.notes {
        paragraph(&mut out, "  ", 2, &format!("{note}."), page.width);
    }
    out
}

/// The marks of the groups, told apart without colour.
const MARKS: [char; 8] = ['o', '+', 'x', '*', '#', '=', '~', '.'];

/// What stands in each cell, by column from the left and row from below.
fn cells(chart: &Chart, panel: &ChartPanel, width: usize) -> Vec<[char; HEIGHT]> {
    let mut cells = vec![[' '; HEIGHT]; width];
    let column = |share: f64| ((share * width as f64) as usize).min(width - 1);
    let row = |number: f64| {
        ((chart.y.share(number) * (HEIGHT - 1) as f64).round().max(0.0) as usize).min(HEIGHT - 1)
    };
    for (series, mark) in panel.series.iter().zip(MARKS.into_iter().cycle()) {
        let mark = if panel.series.len() > 1 { mark } else { '•' };
        match &series.marks {
            SeriesMarks::Bars(bars) => {
                for (from, to, rows) in bars {
                    let (first, end) =
                        (column(chart.x.share(*from)), chart.x.share(*to) * width as f64);
                    let last = (end.ceil() as usize).clamp(first + 1, width);
                    // Eighths of a line.
                    let eighths = (chart.y.share(*rows) * (HEIGHT * 8) as f64).round() as usize;
                    for cell in &mut cells[first..last] {
                        fill(cell, eighths.max(1));
                    }
                }
            }
            SeriesMarks::Runs(runs) => {
                for (at, number) in runs.iter().flatten() {
                    cells[column(chart.x.share(*at))][row(*number)] = mark;
                }
            }
            SeriesMarks::Columns(columns) => {
                for (at, least, most) in columns {
                    let own = &mut cells[column(*at as f64 / PIXELS as f64)];
                    own[row(*least)..=row(*most)].fill(mark);
                }
            }
        }
    }
    cells
}

/// Fills a column from below; of several bars in one column the highest is seen.
fn fill(cell: &mut [char; HEIGHT], eighths: usize) {
    for (row, own) in cell.iter_mut().enumerate() {
        let height = eighths.saturating_sub(row * 8).min(8);
        if height == 0 {
            break;
        }
        let level = EIGHTHS[height - 1];
        if *own == ' ' || *own < level {
            *own = level;
        }
    }
}

/// The labels below a chart: what fits beside each other, and in a second line what it is part of.
fn axis_lines(
    out: &mut String,
    ticks: &[Tick],
    share: impl Fn(i128) -> f64,
    margin: usize,
    width: usize,
) {
    let column = |tick: &Tick| ((share(tick.at) * width as f64) as usize).min(width - 1);
    let mut marks = vec!['─'; width];
    ticks.iter().for_each(|tick| marks[column(tick)] = '┬');
    out.push_str(&format!("{}{}\n", " ".repeat(margin), marks.into_iter().collect::<String>()));
    let mut lines = [String::new(), String::new()];
    for tick in ticks {
        let at = column(tick);
        let texts = [Some(&tick.label), tick.part_of.as_ref()];
        for (line, text) in lines.iter_mut().zip(texts) {
            let filled = line.width();
            if let Some(text) = text.filter(|_| filled == 0 || filled < at) {
                line.push_str(&" ".repeat(at - filled.min(at)));
                line.push_str(text);
            }
        }
    }
    for line in lines.iter().filter(|line| !line.is_empty()) {
        out.push_str(&format!("{}{line}\n", " ".repeat(margin)));
    }
}
