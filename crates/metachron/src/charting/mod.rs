//! The rows of a table as marks of a chart.

mod plan;
mod marks;
mod rows;

use std::collections::BTreeMap;

use metachron_core::charting::{Axis, Labels, NumberAxis};
use metachron_core::named::Named;
use metachron_core::text::grouped;
use metachron_core::typed::Kind;

use crate::ambient::Ambient;
use crate::choices::Choices;
use crate::conversion::{ConversionOptions, ConversionPlan, gather_facts};
use crate::figures::{Figures, add, kind_of_dates};
use crate::message::{Failure, quoted};
use crate::pass::Rows;
use crate::survey::SurveyedTable;

pub use marks::SeriesMarks;
pub use plan::{ChartPlan, PIXELS};

use plan::Bins;
use rows::{ChartRows, Draw, Drawing, Drawn, Ends, FindEnds, Source};

/// Ticks that stand beside each other without touching.
const TICKS: usize = 14;
/// Ticks of the axis of numbers, about.
const NUMBERS: usize = 6;
/// Groups that have a colour of their own.
const GROUPS: usize = 7;
/// Readings that are drawn, one below the other.
const PANELS: usize = 3;

/// A chart.
#[derive(Debug)]
pub struct Chart {
    /// What the axis of time holds.
    pub kind: Kind,
    /// Per what rows are counted; none where numbers are drawn.
    pub per: Option<&'static str>,
    /// The axis of time, the same for all panels.
    pub x: Axis,
    /// The axis of numbers, the same for all panels.
    pub y: NumberAxis,
    /// The unit of the numbers, if they are lengths of time.
    pub unit: Option<&'static str>,
    /// The clock by which moments are drawn, by its name.
    pub clock: Option<String>,
    /// One panel, or one for each reading.
    pub panels: Vec<ChartPanel>,
}

/// The rows as one reading has them.
#[derive(Debug)]
pub struct ChartPanel {
    /// What the reading is called, where there are several.
    pub title: Option<String>,
    /// Rows that are drawn.
    pub drawn: u64,
    /// Rows that are not: the time or the number is none that can be read.
    pub left_out: u64,
    /// The first value, and the last, as they are written.
    pub ends: Option<[String; 2]>,
    /// The marks, by group.
    pub series: Vec<ChartSeries>,
}

/// The marks of a group.
#[derive(Debug)]
pub struct ChartSeries {
    /// Its name, where there are groups.
    pub name: Option<String>,
    /// Its marks.
    pub marks: SeriesMarks,
}

/// Draws a table that was looked at.
///
/// # Errors
/// A column is not what it must be, or the table cannot be read.
pub fn chart(
    table: &SurveyedTable,
    asked: &ChartPlan<'_>,
    choices: &mut Choices,
    ambient: &Ambient,
) -> Result<Chart, Failure> {
    let sources = sources(table, asked, choices)?;
    let value = match asked.value {
        Some(column) => Some((column, add(choices, table, column)?)),
        None => None,
    };
    let by = asked.by.map(|column| add(choices, table, column)).transpose()?;
    let mut plan = ConversionPlan::of(table, &ConversionOptions::default(), (choices, ambient))?;
    gather_facts(&mut plan, &table.intake)?;
    let gives = |at: usize| plan.made[at].program.gives();
    let kind = match &sources[0].1 {
        Source::Made(at) => kind_of_dates(asked.column, gives(*at))?,
        Source::Reading(_, reading) => reading.compiled.reading().kind,
    };
    refuse_idle(asked, kind)?;
    let value = match value {
        Some((column, at)) => Some((at, Figures::of(column, gives(at))?)),
        None => None,
    };
    let rows = ChartRows { plan: &plan, sources, value, by, clock: asked.clock };
    let all = || Rows::all(&table.intake).showing(&table.intake.path, choices.shows_progress);
    let ends = all().drive(&FindEnds(&rows), rows.no_ends())?.tally;
    let Some((from, to)) = ends.span() else {
        let column = quoted(asked.column);
        return Err(Failure::could_not(format!("no row has a date in {column} that can be read")));
    };
    let (unit, drawing) = match value {
        None => (None, Drawing::Counts(Bins::of(asked, kind, (from, to))?)),
        Some((_, Figures::Lengths)) => {
            let (name, nanos) = unit_of(ends.longest);
            (Some(name), Drawing::Values { decimal: '.', unit: nanos as f64 })
        }
        Some((_, Figures::Numbers)) => {
            let decimal = ends.marks.decimal(table, asked.value.unwrap_or_default())?;
            (None, Drawing::Values { decimal, unit: 1.0 })
        }
    };
    let x = axis(asked, kind, drawing.span((from, to)))?;
    let groups = groups(&ends.groups, by.is_some());
    let has_others = groups.len() < ends.groups.len();
    let pass = Draw { rows: &rows, drawing, groups };
    let nothing = pass.nothing((x.from, x.to), has_others);
    let drawn = all().drive(&pass, nothing)?.tally;
    let y = match value {
        None => NumberAxis::of_counts(drawn.most(), NUMBERS),
        Some(_) => NumberAxis::of(drawn.range().unwrap_or((0.0, 1.0)), NUMBERS),
    };
    let per = match &pass.drawing {
        Drawing::Counts(Bins::Per(per)) => Some(per.name()),
        Drawing::Counts(Bins::Nanos(_)) => Some("step"),
        Drawing::Values { .. } => None,
    };
    let panels = panels(&pass, &ends, &drawn);
    let clock = (kind == Kind::Instant)
        .then(|| asked.clock.map_or_else(|| "UTC".to_owned(), |clock| clock.to_string()));
    Ok(Chart { kind, per, x, y, unit, clock, panels })
}

/// An option without effect is refused.
fn refuse_idle(asked: &ChartPlan<'_>, kind: Kind) -> Result<(), Failure> {
    let column = quoted(asked.column);
    if asked.is_shown && kind != Kind::Instant {
        return Err(Failure::usage(format!("--to-zone has no effect: {column} holds no instants")));
    }
    if asked.labels.is_some() && matches!(kind, Kind::Time | Kind::Duration) {
        let what = kind.phrase();
        let says = format!("--show-in has no effect: each value of {column} is {what}");
        return Err(Failure::usage(says));
    }
    Ok(())
}

/// Where the times of the rows come from, each with the title of its panel: of an open column its readings, of a repaired
/// or mixed one what it was first read as too.
fn sources<'t>(
    table: &'t SurveyedTable,
    asked: &ChartPlan<'_>,
    choices: &mut Choices,
) -> Result<Vec<(Option<String>, Source<'t>)>, Failure> {
    let own = table.columns.iter().find(|own| own.plan.name == asked.column && !own.is_left());
    if let Some(own) = own.filter(|own| own.is_open()) {
        let all = own.readings_in_play().into_iter().take(PANELS).map(|reading| {
            let title = format!("If it is {}", reading.called);
            (Some(title), Source::Reading(own, Box::new(reading)))
        });
        return Ok(all.collect());
    }
    let resolved = Source::Made(add(choices, table, asked.column)?);
    Ok(match own.and_then(|own| Some((own, own.as_first_read()?))) {
        Some((own, first)) => vec![
            (Some("As first read".to_owned()), Source::Reading(own, Box::new(first))),
            (Some("As resolved".to_owned()), resolved),
        ],
        None => vec![(None, resolved)],
    })
}

/// The axis of time.
fn axis(asked: &ChartPlan<'_>, kind: Kind, ends: (i128, i128)) -> Result<Axis, Failure> {
    let axis = match kind {
        Kind::Time => Axis::of_day(TICKS, asked.step),
        Kind::Duration => Axis::of_lengths(ends, TICKS, asked.step),
        _ => Axis::of_calendar(ends, TICKS, asked.step, asked.labels.unwrap_or(Labels::english())),
    };
    axis.map_err(|ticks| {
        let ticks = grouped(ticks);
        Failure::usage(format!("--axis-step would make {ticks} ticks; a longer one can be read"))
    })
}

/// What was drawn, panel by panel.
fn panels(pass: &Draw<'_, '_, '_>, ends: &Ends, drawn: &Drawn) -> Vec<ChartPanel> {
    let has_groups = pass.rows.by.is_some();
    let name = |at: usize| pass.groups.get(at).cloned().unwrap_or_else(|| "others".to_owned());
    let series = |panel: usize| {
        let marks: Vec<SeriesMarks> = match &pass.drawing {
            Drawing::Counts(_) => {
                let counts = drawn.counts[panel].iter();
                counts.map(|own| SeriesMarks::of_counts(own, has_groups)).collect()
            }
            Drawing::Values { .. } => {
                drawn.points[panel].iter().map(SeriesMarks::of_points).collect()
            }
        };
        let named = marks.into_iter().enumerate();
        named.map(|(at, marks)| ChartSeries { name: has_groups.then(|| name(at)), marks }).collect()
    };
    let titles = pass.rows.sources.iter().map(|(title, _)| title.clone());
    let panels = titles.zip(&ends.panels).enumerate();
    panels
        .map(|(at, (title, own))| ChartPanel {
            title,
            drawn: own.read - drawn.no_numbers[at],
            left_out: own.unread + drawn.no_numbers[at],
            ends: own.ends.map(|ends| ends.map(|(_, value)| value.to_string())),
            series: series(at),
        })
        .collect()
}

/// The groups with most rows, by name.
fn groups(rows: &BTreeMap<String, u64>, has_groups: bool) -> Vec<String> {
    let mut all: Vec<(&String, &u64)> = rows.iter().collect();
    all.sort_by_key(|(_, rows)| std::cmp::Reverse(**rows));
    let most = if has_groups && all.len() > GROUPS + 1 { GROUPS } else { GROUPS + 1 };
    let mut names: Vec<String> = all.into_iter().take(most).map(|(name, _)| name.clone()).collect();
    names.sort();
    names
}

/// The unit in which lengths of time are read at a glance, and its nanoseconds.
fn unit_of(longest: i128) -> (&'static str, i128) {
    const SECOND: i128 = 1_000_000_000;
    let units = [("days", 86_400), ("hours", 3_600), ("minutes", 60)];
    let found = units.into_iter().find(|(_, seconds)| longest >= 2 * seconds * SECOND);
    found.map_or(("seconds", SECOND), |(name, seconds)| (name, seconds * SECOND))
}
