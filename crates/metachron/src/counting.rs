//! Counting the rows of a table per period.

use metachron_core::counting::{Amounts, Counts, Figure, Line, Per};
use metachron_core::duration::Duration;
use metachron_core::epoch::Number;
use metachron_core::evidence::{Occurrences, Witness};
use metachron_core::named::Named;
use metachron_core::steps::{Item, Type};
use metachron_core::text::counted;
use metachron_core::typed::Kind;
use metachron_tables::table::Row;

use crate::ambient::Ambient;
use crate::choices::{Choices, step_name};
use crate::conversion::{
    ConversionOptions, ConversionPlan, ConversionTally, ConvertedRow, gather_facts,
};
use crate::figures::{DecimalMarks, Figures, add, kind_of_dates};
use crate::message::{Failure, quoted};
use crate::pass::{JoinedPass, Pass, PassInRuns, Rows};
use crate::survey::SurveyedTable;

/// What is to be counted.
#[derive(Debug)]
pub struct CountPlan<'a> {
    /// The column whose dates are counted.
    pub column: &'a str,
    /// Per what.
    pub per: Per,
    /// What is said of which columns of numbers.
    pub figures: Vec<(Figure, &'a str)>,
    /// The column each of whose values is counted by itself.
    pub by: Option<&'a str>,
    /// The clock by which moments are counted, by its name; none that of UTC.
    pub zone: Option<String>,
    /// Whether it was said for the counting alone.
    pub is_shown: bool,
}

/// What was counted.
#[derive(Debug)]
pub struct Counted<'a> {
    /// The rows per period.
    pub counts: Counts,
    /// What is said of columns of numbers.
    pub figures: Vec<CountedFigure<'a>>,
    /// The clock whose days and hours are counted, if the column holds moments.
    pub clock: Option<String>,
    /// Rows that were looked at, and of which the conditions hold.
    pub rows: u64,
    /// Rows of these that have no date.
    pub undated: u64,
    /// Rows that are left out, and those of which nobody can say.
    pub left_out: [u64; 2],
}

/// What is said of a column of numbers.
#[derive(Debug)]
pub struct CountedFigure<'a> {
    /// What.
    pub figure: Figure,
    /// The column.
    pub column: &'a str,
    /// What is added up there.
    pub added: Figures,
    /// The cells that are no number.
    pub no_numbers: Occurrences,
    /// Its place among the columns of numbers in the counts.
    place: usize,
}

impl CountedFigure<'_> {
    /// Its numbers in a period.
    pub fn amounts<'l>(&self, line: &'l Line<'_>) -> &'l Amounts {
        &line.amounts[self.place]
    }

    /// It as it is written: a number, or a length of time in ISO 8601; none where rows have no number.
    pub fn text(&self, line: &Line<'_>) -> Option<String> {
        let amounts = Some(self.amounts(line)).filter(|own| line.rows == 0 || own.numbers() > 0)?;
        let number = amounts.figure(self.figure)?;
        match self.added {
            Figures::Numbers => Some(number.to_string()),
            Figures::Lengths => {
                let nanos = number.cut().to_string().parse().ok()?;
                Some(Duration::of_nanos(nanos)?.to_string())
            }
        }
    }
}

/// Counting the rows of a converted table.
struct CountRows<'p, 's> {
    plan: &'p ConversionPlan<'s>,
    per: Per,
    /// Made columns: the date, the groups, the numbers.
    date: usize,
    by: Option<usize>,
    numbers: Vec<(usize, Figures)>,
}

/// Counts the rows of a table that was looked at.
///
/// # Errors
/// A column is not what it must be, or the table cannot be read.
pub fn count_rows<'a>(
    table: &SurveyedTable,
    asked: &CountPlan<'a>,
    choices: &mut Choices,
    ambient: &Ambient,
) -> Result<Counted<'a>, Failure> {
    let date = add(choices, table, asked.column)?;
    let by = asked.by.map(|by| add(choices, table, by)).transpose()?;
    let numbers = asked.figures.iter().map(|(_, column)| add(choices, table, column));
    let numbers: Vec<usize> = numbers.collect::<Result<_, _>>()?;
    let options = ConversionOptions::default();
    let mut plan = ConversionPlan::of(table, &options, (choices, ambient))?;
    let are_moments =
        matches!(plan.made[date].program.gives(), Type::Of(Kind::Instant) | Type::Zoned);
    if asked.is_shown && !are_moments {
        return Err(Failure::usage(format!(
            "--to-zone has no effect: {} holds no instants",
            quoted(asked.column)
        )));
    }
    if let (true, Some(zone)) = (are_moments, &asked.zone) {
        choices.shaping.made[date].steps.push_str(&format!(" | in {}", step_name(zone)));
        plan = ConversionPlan::of(table, &options, (choices, ambient))?;
    }
    let gives = |at: usize| plan.made[at].program.gives();
    told_by(asked, gives(date))?;
    let columns = asked.figures.iter().zip(&numbers);
    let numbers: Vec<(usize, Figures)> = columns
        .map(|((_, column), at)| Ok((*at, Figures::of(column, gives(*at))?)))
        .collect::<Result<_, Failure>>()?;
    gather_facts(&mut plan, &table.intake)?;
    let pass = CountRows { per: asked.per, date, by, numbers, plan: &plan };
    let rows = Rows::all(&table.intake).showing(&table.intake.path, choices.shows_progress);
    let CountTally { counts, converted, undated, rows, marks, no_numbers } =
        rows.add_up(&pass, choices.threads)?.tally;
    let mut figures = Vec::new();
    let columns = asked.figures.iter().zip(&pass.numbers).zip(marks.into_iter().zip(no_numbers));
    for (at, (((figure, column), (_, added)), (own, none))) in columns.enumerate() {
        let is_comma = own.decimal(table, column)? == ',';
        let [point, comma] = none;
        let no_numbers = if is_comma { comma } else { point };
        let place = 2 * at + usize::from(is_comma);
        figures.push(CountedFigure { figure: *figure, column, added: *added, no_numbers, place });
    }
    let clock = are_moments.then(|| asked.zone.clone().unwrap_or_else(|| "UTC".to_owned()));
    let left_out = [converted.left_out, converted.unclear];
    Ok(Counted { counts, figures, clock, rows, undated, left_out })
}

/// The period must be told by what the column holds.
fn told_by(asked: &CountPlan<'_>, gives: Type) -> Result<(), Failure> {
    let (column, per) = (quoted(asked.column), asked.per.name());
    let kind = kind_of_dates(asked.column, gives)?;
    if asked.per.is_told_by(kind) {
        return Ok(());
    }
    let possible: Vec<&str> =
        Per::all().filter(|per| per.is_told_by(kind)).map(Named::name).collect();
    Err(Failure::usage(match possible.is_empty() {
        true => format!(
            "{column} holds lengths of time, which are in no {per}; --sum, --mean, --least and --most take them"
        ),
        false => format!(
            "each value of {column} is {}, which is in no single {per}; --per may be {}",
            kind.phrase(),
            possible.join(", ")
        ),
    }))
}

/// What rows add up to.
struct CountTally {
    counts: Counts,
    converted: ConversionTally,
    undated: u64,
    rows: u64,
    /// The decimal marks of each column of numbers.
    marks: Vec<DecimalMarks>,
    /// The cells that are no numbers if the decimal mark is a point, and if it is a comma.
    no_numbers: Vec<[Occurrences; 2]>,
}

impl JoinedPass for CountRows<'_, '_> {
    fn join(&self, tally: &mut CountTally, next: CountTally) {
        tally.counts.join(next.counts);
        tally.converted.join(next.converted);
        tally.undated += next.undated;
        tally.rows += next.rows;
        for (own, next) in tally.marks.iter_mut().zip(next.marks) {
            own.join(next);
        }
        let no_numbers = next.no_numbers.into_iter().flatten();
        tally.no_numbers.iter_mut().flatten().zip(no_numbers).for_each(|(own, next)| *own += next);
    }

    /// A series goes on from row to row.
    fn goes_in_runs(&self) -> bool {
        self.plan.series.is_empty()
    }
}

impl PassInRuns for CountRows<'_, '_> {
    fn tally(&self) -> CountTally {
        CountTally {
            counts: Counts::new(self.per, 2 * self.numbers.len()),
            converted: self.plan.tally(),
            undated: 0,
            rows: 0,
            marks: vec![DecimalMarks::default(); self.numbers.len()],
            no_numbers: vec![<_>::default(); self.numbers.len()],
        }
    }
}

impl Pass for CountRows<'_, '_> {
    type Scratch<'p>
        = (ConvertedRow<'p>, Vec<Option<Number>>)
    where
        Self: 'p;
    type Tally = CountTally;

    fn scratch(&self) -> Self::Scratch<'_> {
        (ConvertedRow::of(self.plan), Vec::new())
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        (converted, numbers): &mut Self::Scratch<'p>,
        tally: &mut CountTally,
    ) {
        converted.take(number, row, &mut tally.converted);
        if !converted.is_written {
            return;
        }
        tally.rows += 1;
        let slot = match converted.made(self.date) {
            Item::Typed(value) => self.per.slot(*value),
            Item::Zoned(moment, clock) => Some(self.per.slot_of(clock.shows(*moment))),
            _ => None,
        };
        let Some(slot) = slot else {
            tally.undated += 1;
            return;
        };
        numbers.clear();
        let tallies = tally.marks.iter_mut().zip(&mut tally.no_numbers);
        for ((at, figures), (marks, no_numbers)) in self.numbers.iter().zip(tallies) {
            let item = converted.made(*at);
            marks.see(item);
            let found = ['.', ','].map(|decimal| figures.read(item, decimal));
            for (found, none) in found.iter().zip(no_numbers) {
                if found.is_none() && !is_blank(item) {
                    none.note(|| Witness { part: 0, row: number, value: item.to_string() });
                }
            }
            numbers.extend(found);
        }
        let group = self.by.map_or(String::new(), |by| converted.made(by).to_string());
        tally.counts.add(group, slot, numbers);
    }

    fn end<'p>(&'p self, (converted, _): &mut Self::Scratch<'p>, tally: &mut CountTally) {
        converted.end(&mut tally.converted);
    }
}

fn is_blank(item: &Item) -> bool {
    match item {
        Item::Missing => true,
        Item::Text(text) => text.trim().is_empty(),
        _ => false,
    }
}

/// How many lines there would be, where these are too many.
pub fn too_many(lines: u64, per: Per) -> Failure {
    let lines = counted(lines, "line");
    Failure::usage(format!(
        "{lines} for each {} from the first to the last: a longer --per, or --where, makes them fewer",
        per.name()
    ))
}
