//! Going through the rows of a table: once for where the axes end, once for what is drawn.

use std::collections::BTreeMap;

use metachron_core::apply::{Outcome, Scratch};
use metachron_core::charting::Points;
use metachron_core::duration::DAY;
use metachron_core::steps::Item;
use metachron_core::timeline::{place, shown};
use metachron_core::typed::TypedValue;
use metachron_core::zone::Clock;
use metachron_tables::table::Row;

use super::plan::{Bins, PIXELS};
use crate::conversion::{ConversionPlan, ConversionTally, ConvertedRow};
use crate::figures::{DecimalMarks, Figures};
use crate::pass::Pass;
use crate::survey::{OtherReading, SurveyedColumn};

/// Where the time of a row comes from.
pub enum Source<'c> {
    /// The made column at this place.
    Made(usize),
    /// A reading of a column.
    Reading(&'c SurveyedColumn, Box<OtherReading>),
}

/// The rows of a table with what is drawn of them.
pub struct ChartRows<'p, 's> {
    /// What is made of the table: the columns of numbers and groups among it.
    pub plan: &'p ConversionPlan<'s>,
    /// Where the times of each panel come from, with its title.
    pub sources: Vec<(Option<String>, Source<'s>)>,
    /// The made column that is drawn; none counts rows.
    pub value: Option<(usize, Figures)>,
    /// The made column that tells groups apart.
    pub by: Option<usize>,
    /// The clock by which moments are drawn.
    pub clock: Option<Clock>,
}

/// What a worker needs for each row.
pub struct ChartScratch<'p> {
    converted: ConvertedRow<'p>,
    readers: Vec<Option<Scratch<'p>>>,
}

impl ChartRows<'_, '_> {
    /// The ends of no rows.
    pub fn no_ends(&self) -> Ends {
        Ends {
            converted: self.plan.tally(),
            panels: vec![PanelEnds::default(); self.sources.len()],
            groups: BTreeMap::new(),
            marks: DecimalMarks::default(),
            longest: 0,
        }
    }

    fn scratch(&self) -> ChartScratch<'_> {
        let mut readers = Vec::new();
        for (_, source) in &self.sources {
            readers.push(match source {
                Source::Made(_) => None,
                Source::Reading(_, reading) => Some(reading.compiled.scratch()),
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
pub struct Ends {
    converted: ConversionTally,
    /// By panel.
    pub panels: Vec<PanelEnds>,
    /// Rows by group.
    pub groups: BTreeMap<String, u64>,
    /// The decimal marks of the numbers.
    pub marks: DecimalMarks,
    /// The longest length of time, in nanoseconds.
    pub longest: i128,
}

/// Where the times of a panel end.
#[derive(Default, Clone)]
pub struct PanelEnds {
    /// The first and the last, with their places on the axis.
    pub ends: Option<[(i128, TypedValue); 2]>,
    /// Rows that have one.
    pub read: u64,
    /// Rows that have none.
    pub unread: u64,
}

impl Ends {
    /// From the first to the last time of all panels; none of no time.
    pub fn span(&self) -> Option<(i128, i128)> {
        let ends = self.panels.iter().filter_map(|own| own.ends);
        let places = ends.map(|[first, last]| (first.0, last.0));
        places.reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))
    }
}

/// Finding where the axes end.
pub struct FindEnds<'r, 'p, 's>(pub &'r ChartRows<'p, 's>);

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
        if let Some((at, figures)) = self.0.value {
            let item = scratch.converted.made(at);
            match figures {
                Figures::Numbers => tally.marks.see(item),
                Figures::Lengths => {
                    let nanos =
                        figures.read(item, '.').and_then(|own| own.cut().to_string().parse().ok());
                    tally.longest = tally.longest.max(nanos.map_or(0, i128::abs));
                }
            }
        }
    }
}

/// What is drawn.
pub enum Drawing {
    /// How many rows.
    Counts(Bins),
    /// A column of figures; a number is divided by this many.
    Values {
        /// The decimal mark.
        decimal: char,
        /// By how many they are divided.
        unit: f64,
    },
}

impl Drawing {
    /// From where to where the axis of time reaches: bars reach to the end of their periods, and a single moment has room
    /// around it.
    pub fn span(&self, (from, to): (i128, i128)) -> (i128, i128) {
        match self {
            Drawing::Counts(bins) => {
                let begin = bins.around(from).map_or(from, |(begin, _)| begin);
                (begin, bins.around(to).map_or(to, |(_, end)| end))
            }
            Drawing::Values { .. } if from == to => (from - i128::from(DAY), to + i128::from(DAY)),
            Drawing::Values { .. } => (from, to),
        }
    }
}

/// What was drawn, by panel and series.
pub struct Drawn {
    converted: ConversionTally,
    /// Rows by bin.
    pub counts: Vec<Vec<BTreeMap<(i128, i128), u64>>>,
    /// Numbers over time.
    pub points: Vec<Vec<Points>>,
    /// Rows by panel that have no number.
    pub no_numbers: Vec<u64>,
}

impl Drawn {
    /// The most rows of a bin.
    pub fn most(&self) -> u64 {
        self.counts.iter().flatten().flat_map(BTreeMap::values).copied().max().unwrap_or(0)
    }

    /// The least number and the greatest; none of no numbers.
    pub fn range(&self) -> Option<(f64, f64)> {
        let ends = self.points.iter().flatten().filter_map(Points::ends);
        ends.reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))
    }
}

/// Drawing rows.
pub struct Draw<'r, 'p, 's> {
    /// The rows.
    pub rows: &'r ChartRows<'p, 's>,
    /// What of them.
    pub drawing: Drawing,
    /// The groups that have series of their own; others share the last one.
    pub groups: Vec<String>,
}

impl Draw<'_, '_, '_> {
    /// Nothing, between these ends of the axis of time, with a series more where there are other groups.
    pub fn nothing(&self, ends: (i128, i128), has_others: bool) -> Drawn {
        let (panels, series) =
            (self.rows.sources.len(), self.groups.len() + usize::from(has_others));
        Drawn {
            converted: self.rows.plan.tally(),
            counts: vec![vec![BTreeMap::new(); series]; panels],
            points: vec![vec![Points::new(ends, PIXELS); series]; panels],
            no_numbers: vec![0; panels],
        }
    }
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
                    let found = self.rows.value.and_then(|(place, figures)| {
                        figures.read(scratch.converted.made(place), *decimal)
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
