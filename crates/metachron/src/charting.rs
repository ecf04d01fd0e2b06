//! The rows of a table as marks of a chart: goes through it once for where the axes end, and once for what is drawn.

use std::collections::BTreeMap;

use metachron_core::apply::{Compiled, Outcome, Scratch};
use metachron_core::charting::{Axis, Labels, NumberAxis, Points};
use metachron_core::counting::{Per, Slot};
use metachron_core::duration::DAY;
use metachron_core::named::Named;
use metachron_core::steps::{Item, Type};
use metachron_core::timeline::{Step, clock_at, place, shown};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::zone::Clock;
use metachron_tables::table::{Row, TableFormat};

use crate::ambient::Ambient;
use crate::choices::Choices;
use crate::conversion::{
    ConversionOptions, ConversionPlan, ConversionTally, ConvertedRow, gather_facts,
};
use crate::counting::{Added, Marks, add, added, as_number, both_marks, length};
use crate::message::{Failure, quoted};
use crate::pass::{Pass, Rows};
use crate::survey::{InPlay, SurveyedColumn, SurveyedTable};
use crate::words::phrase;

/// Columns of pixels that a plot has.
pub const PIXELS: usize = 1_130;
/// Ticks that stand beside each other without touching.
const TICKS: usize = 14;
/// Groups that have a colour of their own.
const GROUPS: usize = 7;
/// Readings that are drawn, one below the other.
const PANELS: usize = 3;

/// What is to be drawn.
#[derive(Debug, Clone, Copy)]
pub struct ChartPlan<'a> {
    /// The column that gives the axis of time.
    pub column: &'a str,
    /// The column of numbers or lengths of time; none counts rows.
    pub value: Option<&'a str>,
    /// The column whose values are told apart.
    pub by: Option<&'a str>,
    /// Per what rows are counted; none is what fits.
    pub per: Option<Per>,
    /// Periods whose bars are told apart.
    pub most_bars: u64,
    /// From one tick to the next; none is what fits.
    pub step: Option<Step>,
    /// The clock by which moments are drawn.
    pub clock: Option<Clock>,
    /// How days and months are called.
    pub labels: Labels,
}

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

/// What is drawn.
#[derive(Debug)]
pub enum SeriesMarks {
    /// How many rows from here to there.
    Bars(Vec<(i128, i128, f64)>),
    /// Points; those of a run are joined, and gaps lie between runs.
    Runs(Vec<Vec<(i128, f64)>>),
    /// The least and the greatest number of each column of pixels.
    Columns(Vec<(usize, f64, f64)>),
}

/// Where the time of a row comes from.
enum Source<'c> {
    /// The made column at this place.
    Made(usize),
    /// A reading of a column.
    Reading(&'c SurveyedColumn, Box<Compiled>),
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
    let surveyed = table.columns.iter().find(|own| own.plan.name == asked.column && !own.is_left());
    let mut sources: Vec<(Option<String>, Source<'_>)> = Vec::new();
    match surveyed {
        Some(own) if own.is_open() => {
            let all = own.readings_in_play().into_iter().take(PANELS);
            sources.extend(all.map(|(called, compiled)| {
                let called = match called {
                    InPlay::Order(order) => phrase(order).to_owned(),
                    InPlay::Origin(epoch) => format!("counted from {epoch}"),
                };
                (Some(format!("If it is {called}")), Source::Reading(own, Box::new(compiled)))
            }));
        }
        own => {
            let at = add(choices, table, asked.column)?;
            let first = own.and_then(|own| Some((own, own.as_first_read()?)));
            let is_single = first.is_none();
            sources.extend(first.map(|(own, compiled)| {
                (Some("As first read".to_owned()), Source::Reading(own, Box::new(compiled)))
            }));
            let title = (!is_single).then(|| "As resolved".to_owned());
            sources.push((title, Source::Made(at)));
        }
    }
    let value = asked.value.map(|column| add(choices, table, column)).transpose()?;
    let by = asked.by.map(|column| add(choices, table, column)).transpose()?;
    let mut plan = ConversionPlan::of(table, &ConversionOptions::default(), (choices, ambient))?;
    gather_facts(&mut plan, &table.intake)?;
    let gives = |at: usize| plan.made[at].program.gives();
    let kind = match &sources[0].1 {
        Source::Made(at) => match gives(*at) {
            Type::Of(kind) => kind,
            Type::Zoned => Kind::Instant,
            _ => {
                return Err(Failure::usage(format!(
                    "{} holds no dates or times; --order, --layout and others say how they are read",
                    quoted(asked.column)
                )));
            }
        },
        Source::Reading(_, compiled) => compiled.reading().kind,
    };
    let value = match (value, asked.value) {
        (Some(at), Some(column)) => Some((at, added(column, gives(at))?)),
        _ => None,
    };
    let rows = ChartRows { plan: &plan, sources, value, by, clock: asked.clock };
    drawn(&rows, table, asked, kind, choices)
}

/// The rows of a table with what is drawn of them.
struct ChartRows<'p, 's> {
    plan: &'p ConversionPlan<'s>,
    sources: Vec<(Option<String>, Source<'s>)>,
    value: Option<(usize, Added)>,
    by: Option<usize>,
    clock: Option<Clock>,
}

/// What a worker needs for each row.
struct ChartScratch<'p> {
    converted: ConvertedRow<'p>,
    readers: Vec<Option<Scratch<'p>>>,
}

impl ChartRows<'_, '_> {
    fn scratch(&self) -> ChartScratch<'_> {
        let mut readers = Vec::new();
        for (_, source) in &self.sources {
            readers.push(match source {
                Source::Made(_) => None,
                Source::Reading(_, compiled) => Some(compiled.scratch()),
            });
        }
        ChartScratch { converted: ConvertedRow::of(self.plan), readers }
    }

    /// The value of a row in the panel at this place, as it was read.
    fn time(
        &self,
        panel: usize,
        (number, row): (u64, &Row<'_>),
        scratch: &mut ChartScratch<'_>,
    ) -> Option<TypedValue> {
        match (&self.sources[panel].1, &mut scratch.readers[panel]) {
            (Source::Made(at), _) => match scratch.converted.made(*at) {
                Item::Typed(value) => Some(*value),
                Item::Zoned(moment, _) => Some(TypedValue::Instant(*moment)),
                _ => None,
            },
            (Source::Reading(column, _), Some(reader)) => {
                let (place, value) = scratch.converted.cell(column, number, row);
                match reader.apply(place, value) {
                    Outcome::Read(fit) => Some(fit.moment),
                    _ => None,
                }
            }
            (Source::Reading(..), None) => None,
        }
    }

    /// Where a value lies on the axis: moments as their clock shows them.
    fn place(&self, value: TypedValue) -> i128 {
        let shown = shown(value, self.clock);
        place(shown.map_or(value, TypedValue::DateTime))
    }

    fn group(&self, scratch: &ChartScratch<'_>) -> String {
        self.by.map_or(String::new(), |by| scratch.converted.made(by).to_string())
    }
}

/// Where the axes end.
#[derive(Default)]
struct Ends {
    converted: ConversionTally,
    panels: Vec<PanelEnds>,
    groups: BTreeMap<String, u64>,
    marks: Marks,
    /// The longest length of time.
    longest: i128,
}

#[derive(Default, Clone)]
struct PanelEnds {
    ends: Option<[(i128, TypedValue); 2]>,
    read: u64,
    unread: u64,
}

struct FindEnds<'r, 'p, 's>(&'r ChartRows<'p, 's>);

impl Pass for FindEnds<'_, '_, '_> {
    type Scratch<'p>
        = ChartScratch<'p>
    where
        Self: 'p;
    type Tally = Ends;

    fn scratch(&self) -> ChartScratch<'_> {
        self.0.scratch()
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut ChartScratch<'p>,
        tally: &mut Ends,
    ) {
        scratch.converted.take(number, row, &mut tally.converted);
        if !scratch.converted.is_written {
            return;
        }
        for panel in 0..self.0.sources.len() {
            let time = self.0.time(panel, (number, row), scratch);
            let own = &mut tally.panels[panel];
            let Some(value) = time else {
                own.unread += 1;
                continue;
            };
            own.read += 1;
            let seen = (self.0.place(value), value);
            own.ends = Some(own.ends.map_or([seen; 2], |[first, last]| {
                [
                    if seen.0 < first.0 { seen } else { first },
                    if seen.0 > last.0 { seen } else { last },
                ]
            }));
        }
        *tally.groups.entry(self.0.group(scratch)).or_default() += 1;
        if let Some((at, added)) = self.0.value {
            match (scratch.converted.made(at), added) {
                (Item::Text(text), Added::Numbers) => tally.marks.see(text.trim()),
                (item, Added::Lengths) => {
                    let nanos =
                        length(item).and_then(|own| own.cut().to_string().parse::<i128>().ok());
                    tally.longest = tally.longest.max(nanos.map_or(0, i128::abs));
                }
                _ => {}
            }
        }
    }
}

/// How rows are counted along the axis.
#[derive(Clone, Copy)]
enum Bins {
    Per(Per),
    Nanos(i128),
}

impl Bins {
    /// From where to where the bin of a place reaches.
    fn around(self, at: i128) -> Option<(i128, i128)> {
        match self {
            Bins::Nanos(step) => {
                let from = at.div_euclid(step) * step;
                Some((from, from + step))
            }
            Bins::Per(per) => {
                let slot = per.slot_of(clock_at(at)?);
                let place_of = |slot: Slot| slot.value().map(place);
                place_of(slot).zip(place_of(slot.next()))
            }
        }
    }
}

/// What is drawn.
enum Drawing {
    Counts(Bins),
    /// A number is divided by this many.
    Values {
        decimal: char,
        unit: f64,
    },
}

#[derive(Default)]
struct Drawn {
    converted: ConversionTally,
    /// By panel and series.
    counts: Vec<Vec<BTreeMap<(i128, i128), u64>>>,
    points: Vec<Vec<Points>>,
    /// Rows by panel that have no number.
    no_numbers: Vec<u64>,
}

struct Draw<'r, 'p, 's> {
    rows: &'r ChartRows<'p, 's>,
    drawing: Drawing,
    /// The groups that have series of their own; others share the last one.
    groups: Vec<String>,
}

impl Pass for Draw<'_, '_, '_> {
    type Scratch<'p>
        = ChartScratch<'p>
    where
        Self: 'p;
    type Tally = Drawn;

    fn scratch(&self) -> ChartScratch<'_> {
        self.rows.scratch()
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut ChartScratch<'p>,
        tally: &mut Drawn,
    ) {
        scratch.converted.take(number, row, &mut tally.converted);
        if !scratch.converted.is_written {
            return;
        }
        let group = self.rows.group(scratch);
        let series = self.groups.iter().position(|own| *own == group).unwrap_or(self.groups.len());
        for panel in 0..self.rows.sources.len() {
            let Some(value) = self.rows.time(panel, (number, row), scratch) else { continue };
            let at = self.rows.place(value);
            match &self.drawing {
                Drawing::Counts(bins) => {
                    if let Some(bin) = bins.around(at) {
                        *tally.counts[panel][series].entry(bin).or_default() += 1;
                    }
                }
                Drawing::Values { decimal, unit } => {
                    let found = self.rows.value.and_then(|(place, added)| {
                        let item = scratch.converted.made(place);
                        match added {
                            Added::Numbers => as_number(item, *decimal),
                            Added::Lengths => length(item),
                        }
                    });
                    match found.and_then(|own| own.to_string().parse::<f64>().ok()) {
                        Some(number) => tally.points[panel][series].add(at, number / unit),
                        None => tally.no_numbers[panel] += 1,
                    }
                }
            }
        }
    }
}

/// Goes through the rows twice.
fn drawn(
    rows: &ChartRows<'_, '_>,
    table: &SurveyedTable,
    asked: &ChartPlan<'_>,
    kind: Kind,
    choices: &Choices,
) -> Result<Chart, Failure> {
    let panels = rows.sources.len();
    let all = || Rows::all(&table.intake).showing(&table.intake.path, choices.shows_progress);
    let ends = Ends {
        converted: rows.plan.tally(),
        panels: vec![PanelEnds::default(); panels],
        ..Ends::default()
    };
    let ends = all().drive(&FindEnds(rows), ends)?.tally;
    let places = ends.panels.iter().filter_map(|own| own.ends);
    let Some((from, to)) =
        places.map(|[first, last]| (first.0, last.0)).reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))
    else {
        return Err(Failure::could_not(format!(
            "no row has a date in {} that can be read",
            quoted(asked.column)
        )));
    };
    let mut unit = None;
    let drawing = match rows.value {
        None => Drawing::Counts(bins(asked, kind, (from, to))?),
        Some((_, Added::Lengths)) => {
            let (name, nanos) = unit_of(ends.longest);
            unit = Some(name);
            Drawing::Values { decimal: '.', unit: nanos as f64 }
        }
        Some((_, Added::Numbers)) => {
            let of_table = matches!(
                table.intake.table.format,
                TableFormat::Delimited { decimal_comma: true, .. }
            );
            let column = asked.value.unwrap_or_default();
            let is_comma = ends.marks.is_comma(of_table).ok_or_else(|| both_marks(column))?;
            Drawing::Values { decimal: if is_comma { ',' } else { '.' }, unit: 1.0 }
        }
    };
    // Bars reach to the end of their periods.
    let (from, to) = match &drawing {
        Drawing::Counts(bins) => {
            let edge = |at: i128| bins.around(at);
            (edge(from).map_or(from, |(from, _)| from), edge(to).map_or(to, |(_, to)| to))
        }
        // A single moment has room around it.
        Drawing::Values { .. } if from == to => (from - i128::from(DAY), to + i128::from(DAY)),
        Drawing::Values { .. } => (from, to),
    };
    let too_many = |ticks: u64| {
        Failure::usage(format!(
            "--axis-step would make {} ticks; a longer one can be read",
            metachron_core::text::grouped(ticks)
        ))
    };
    let x = match kind {
        Kind::Time => Axis::of_day(TICKS, asked.step),
        Kind::Duration => Axis::of_lengths((from, to), TICKS, asked.step),
        _ => Axis::of_calendar((from, to), TICKS, asked.step, asked.labels),
    }
    .map_err(too_many)?;
    let groups = groups(&ends.groups, rows.by.is_some());
    let series = groups.len() + usize::from(groups.len() < ends.groups.len());
    let tally = Drawn {
        converted: rows.plan.tally(),
        counts: vec![vec![BTreeMap::new(); series]; panels],
        points: vec![vec![Points::new((x.from, x.to), PIXELS); series]; panels],
        no_numbers: vec![0; panels],
    };
    let per = match &drawing {
        Drawing::Counts(Bins::Per(per)) => Some(per.name()),
        Drawing::Counts(Bins::Nanos(_)) => Some("step"),
        Drawing::Values { .. } => None,
    };
    let pass = Draw { rows, drawing, groups };
    let drawn = all().drive(&pass, tally)?.tally;
    let most = drawn.counts.iter().flatten().flat_map(BTreeMap::values).copied().max();
    let values = drawn.points.iter().flatten().filter_map(Points::ends);
    let values = values.reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)));
    let y = match per {
        Some(_) => NumberAxis::of_counts(most.unwrap_or(1), 6),
        None => NumberAxis::of(values.unwrap_or((0.0, 1.0)), 6),
    };
    let name = |at: usize| {
        rows.by.map(|_| pass.groups.get(at).cloned().unwrap_or_else(|| "others".to_owned()))
    };
    let titles = rows.sources.iter().map(|(title, _)| title.clone());
    let mut all = Vec::new();
    for (at, (title, own)) in titles.zip(&ends.panels).enumerate() {
        let series = (0..series).map(|place| ChartSeries {
            name: name(place),
            marks: match per {
                Some(_) => bars(&drawn.counts[at][place], rows.by.is_some()),
                None => points(&drawn.points[at][place]),
            },
        });
        all.push(ChartPanel {
            title,
            drawn: own.read - drawn.no_numbers[at],
            left_out: own.unread + drawn.no_numbers[at],
            ends: own.ends.map(|ends| ends.map(|(_, value)| value.to_string())),
            series: series.collect(),
        });
    }
    let clock = (kind == Kind::Instant)
        .then(|| asked.clock.map_or_else(|| "UTC".to_owned(), |clock| clock.to_string()));
    Ok(Chart { kind, per, x, y, unit, clock, panels: all })
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

/// How rows are counted: per period of the calendar, or by steps of times and lengths.
fn bins(asked: &ChartPlan<'_>, kind: Kind, (from, to): (i128, i128)) -> Result<Bins, Failure> {
    let periods = |per: Per| {
        let ends = clock_at(from).zip(clock_at(to));
        ends.map_or(u64::MAX, |(from, to)| per.slot_of(from).through(per.slot_of(to)))
    };
    if matches!(kind, Kind::Time | Kind::Duration) {
        if let Some(per) = asked.per {
            return Err(Failure::usage(format!(
                "--per {} has no effect: each value of {} is {}",
                per.name(),
                quoted(asked.column),
                kind.phrase()
            )));
        }
        const MINUTE: i128 = 60_000_000_000;
        let steps = [1, 5, 15, 30].map(|own| own * MINUTE / 60).into_iter();
        let steps = steps.chain([1, 5, 15, 30, 60, 180, 360, 720].map(|own| own * MINUTE));
        let steps = steps.chain([1, 7, 30, 90, 365, 3_650].map(|days| days * i128::from(DAY)));
        // Times of day have a day before them.
        let length = if kind == Kind::Time { i128::from(DAY) } else { to - from };
        let fits = |step: &i128| length / step <= 60;
        return Ok(Bins::Nanos(steps.into_iter().find(fits).unwrap_or(length.max(1))));
    }
    let per = match asked.per {
        Some(per) if !per.is_told_by(kind) || !per.follows() => {
            return Err(Failure::usage(format!(
                "a chart of {} has no {}; --per may be {}",
                quoted(asked.column),
                per.name(),
                Per::all()
                    .filter(|per| per.follows() && per.is_told_by(kind))
                    .map(Named::name)
                    .collect::<Vec<_>>()
                    .join(", ")
            )));
        }
        Some(per) if periods(per) > PIXELS as u64 => {
            return Err(crate::counting::too_many(periods(per), per));
        }
        Some(per) => per,
        None => {
            let possible = || Per::all().filter(|per| per.follows() && per.is_told_by(kind));
            let fits = possible().find(|per| periods(*per) <= asked.most_bars);
            fits.or(possible().last()).unwrap_or(Per::Year)
        }
    };
    Ok(Bins::Per(per))
}

/// The unit in which lengths of time are read at a glance, and its nanoseconds.
fn unit_of(longest: i128) -> (&'static str, i128) {
    const SECOND: i128 = 1_000_000_000;
    let units = [("days", 86_400), ("hours", 3_600), ("minutes", 60)];
    let found = units.into_iter().find(|(_, seconds)| longest >= 2 * seconds * SECOND);
    found.map_or(("seconds", SECOND), |(name, seconds)| (name, seconds * SECOND))
}

/// Counts as bars; those of several groups as points in the middle of their periods, with zeros between.
fn bars(counts: &BTreeMap<(i128, i128), u64>, has_groups: bool) -> SeriesMarks {
    let all = counts.iter().map(|((from, to), rows)| (*from, *to, *rows as f64));
    if !has_groups {
        return SeriesMarks::Bars(all.collect());
    }
    let mut run: Vec<(i128, f64)> = Vec::new();
    let mut last: Option<i128> = None;
    for (from, to, rows) in all {
        // The line goes down to nothing where periods are without a row.
        if let Some(last) = last.filter(|last| *last < from) {
            run.extend([(last, 0.0), (from, 0.0)]);
        }
        run.push((from + (to - from) / 2, rows));
        last = Some(to);
    }
    SeriesMarks::Runs(vec![run])
}

/// Points in runs: a gap is five times as long as the usual step.
fn points(points: &Points) -> SeriesMarks {
    const GAP: i128 = 5;
    let Some(all) = points.all() else {
        return SeriesMarks::Columns(
            points.columns().map(|(at, own)| (at, own.least, own.most)).collect(),
        );
    };
    let mut steps: Vec<i128> =
        all.windows(2).map(|pair| pair[1].0 - pair[0].0).filter(|step| *step > 0).collect();
    steps.sort_unstable();
    let usual = steps.get(steps.len() / 2).copied().unwrap_or(0);
    // Several numbers at one time are no line.
    let at_once = all.windows(2).filter(|pair| pair[1].0 == pair[0].0).count();
    let usual = if at_once * 20 > all.len() { -1 } else { usual };
    let mut runs: Vec<Vec<(i128, f64)>> = Vec::new();
    for (at, number) in all {
        match runs.last_mut().and_then(|run| run.last().copied().map(|last| (run, last))) {
            Some((run, (last, _))) if at - last <= GAP * usual => run.push((at, number)),
            _ => runs.push(vec![(at, number)]),
        }
    }
    SeriesMarks::Runs(runs)
}
