//! Counting the rows of a table per period.

use metachron_core::counting::{Amounts, Counts, Figure, Line, Per};
use metachron_core::duration::Duration;
use metachron_core::epoch::Number;
use metachron_core::evidence::{Occurrences, Witness};
use metachron_core::named::Named;
use metachron_core::steps::{Item, Type};
use metachron_core::text::counted;
use metachron_core::typed::{Kind, TypedValue};
use metachron_tables::header::free_name;
use metachron_tables::table::{Row, TableFormat};

use crate::ambient::Ambient;
use crate::choices::{Choices, MadeColumn, step_name};
use crate::conversion::{
    ConversionOptions, ConversionPlan, ConversionTally, ConvertedRow, gather_facts,
};
use crate::message::{Failure, quoted};
use crate::pass::{Pass, Rows};
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

/// What is added up.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Added {
    /// Numbers, perhaps with a comma for the decimal mark.
    Numbers,
    /// Lengths of time.
    Lengths,
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
    pub added: Added,
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
            Added::Numbers => Some(number.to_string()),
            Added::Lengths => {
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
    numbers: Vec<(usize, Added)>,
}

/// How the numbers of a column are written, as far as they show it.
#[derive(Debug, Clone, Default)]
pub struct Marks {
    /// Numbers with a point, and those whose point stands between no thousands.
    points: [u64; 2],
    /// The same of commas.
    commas: [u64; 2],
    /// The cells that are no numbers if the decimal mark is a point, and if it is a comma.
    no_numbers: [Occurrences; 2],
}

impl Marks {
    /// Takes in the text of a cell.
    pub fn see(&mut self, text: &str) {
        for (mark, seen) in [('.', &mut self.points), (',', &mut self.commas)] {
            let Some((before, behind)) = text.split_once(mark) else { continue };
            let digits = before.trim_start_matches(['-', '+']);
            let is_of_thousands =
                behind.len() == 3 && (1..=3).contains(&digits.len()) && digits != "0";
            seen[0] += 1;
            seen[1] += u64::from(!is_of_thousands && !behind.contains(mark));
        }
    }

    /// Whether the decimal mark is a comma; none if it may be either.
    pub fn is_comma(&self, of_table: bool) -> Option<bool> {
        let ([points, sure_points], [commas, sure_commas]) = (self.points, self.commas);
        match (sure_points > 0, sure_commas > 0) {
            (true, true) => None,
            (false, true) => Some(true),
            (true, false) => Some(false),
            (false, false) if of_table => Some(true),
            (false, false) => (points == 0 || commas == 0).then_some(false),
        }
    }
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
    let numbers: Vec<(usize, Added)> = columns
        .map(|((_, column), at)| Ok((*at, added(column, gives(*at))?)))
        .collect::<Result<_, Failure>>()?;
    gather_facts(&mut plan, &table.intake)?;
    let pass = CountRows { per: asked.per, date, by, numbers, plan: &plan };
    let tally = CountTally {
        counts: Counts::new(asked.per, 2 * pass.numbers.len()),
        converted: plan.tally(),
        undated: 0,
        rows: 0,
        marks: vec![Marks::default(); pass.numbers.len()],
    };
    let path = &table.intake.path;
    let passed =
        Rows::all(&table.intake).showing(path, choices.shows_progress).drive(&pass, tally)?;
    let CountTally { counts, converted, undated, rows, marks } = passed.tally;
    let of_table =
        matches!(table.intake.table.format, TableFormat::Delimited { decimal_comma: true, .. });
    let mut figures = Vec::new();
    let columns = asked.figures.iter().zip(&pass.numbers).zip(marks);
    for (at, (((figure, column), (_, added)), own)) in columns.enumerate() {
        let is_comma = own.is_comma(of_table).ok_or_else(|| both_marks(column))?;
        let [point, comma] = own.no_numbers;
        let no_numbers = if is_comma { comma } else { point };
        let place = 2 * at + usize::from(is_comma);
        figures.push(CountedFigure { figure: *figure, column, added: *added, no_numbers, place });
    }
    let clock = are_moments.then(|| asked.zone.clone().unwrap_or_else(|| "UTC".to_owned()));
    let left_out = [converted.left_out, converted.unclear];
    Ok(Counted { counts, figures, clock, rows, undated, left_out })
}

/// Nobody can say which mark stands before the decimals of a column.
pub fn both_marks(column: &str) -> Failure {
    Failure::could_not(format!(
        "{} has numbers with a point and numbers with a comma, and one of the two may stand between thousands: they \
         cannot be added up",
        quoted(column)
    ))
}

/// Adds a column to what is made of the table, so that it is there for every row; gives its place.
///
/// # Errors
/// There is no such column.
pub fn add(choices: &mut Choices, table: &SurveyedTable, column: &str) -> Result<usize, Failure> {
    let made = &choices.shaping.made;
    let new = |name: &str| made.iter().any(|own| own.name == name);
    if !new(column) && !choices.shaping.series.iter().any(|own| own.name == column) {
        table.intake.position(column)?;
    }
    let names = table.intake.names();
    let name = free_name("counted", |name| new(name) || names.iter().any(|own| own == name));
    choices.shaping.made.push(MadeColumn { name, steps: step_name(column) });
    Ok(choices.shaping.made.len() - 1)
}

/// The period must be told by what the column holds.
fn told_by(asked: &CountPlan<'_>, gives: Type) -> Result<(), Failure> {
    let (column, per) = (quoted(asked.column), asked.per.name());
    let kind = match gives {
        Type::Of(kind) => kind,
        Type::Zoned => Kind::Instant,
        _ => {
            return Err(Failure::usage(format!(
                "{column} holds no dates or times; --order, --layout and others say how they are read"
            )));
        }
    };
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

/// What is added up of what a column holds.
///
/// # Errors
/// It holds neither numbers nor lengths of time.
pub fn added(column: &str, gives: Type) -> Result<Added, Failure> {
    match gives {
        Type::Raw | Type::Number | Type::Text => Ok(Added::Numbers),
        Type::Of(Kind::Duration) => Ok(Added::Lengths),
        _ => Err(Failure::usage(format!(
            "{} holds neither numbers nor lengths of time, and cannot be added up",
            quoted(column)
        ))),
    }
}

/// What rows add up to.
struct CountTally {
    counts: Counts,
    converted: ConversionTally,
    undated: u64,
    rows: u64,
    marks: Vec<Marks>,
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
        for ((at, added), marks) in self.numbers.iter().zip(&mut tally.marks) {
            let item = converted.made(*at);
            let found = match added {
                Added::Numbers => {
                    if let Item::Text(text) = item {
                        marks.see(text.trim());
                    }
                    ['.', ','].map(|decimal| as_number(item, decimal))
                }
                Added::Lengths => [length(item); 2],
            };
            for (found, none) in found.iter().zip(&mut marks.no_numbers) {
                if found.is_none() && !is_blank(item) {
                    none.note(|| Witness { part: 0, row: number, value: item.to_string() });
                }
            }
            numbers.extend(found);
        }
        let group = self.by.map_or(String::new(), |by| converted.made(by).to_string());
        tally.counts.add(group, slot, numbers);
    }
}

/// A number with this decimal mark; the other mark may stand between thousands and makes none of it.
pub fn as_number(item: &Item, decimal: char) -> Option<Number> {
    match item {
        Item::Number(number) => Some(*number),
        Item::Text(text) => {
            let other = if decimal == '.' { ',' } else { '.' };
            Number::parse(text.trim()).filter(|_| !text.contains(other))
        }
        _ => None,
    }
}

/// The nanoseconds of a length of time; months have none.
pub fn length(item: &Item) -> Option<Number> {
    let duration = match item {
        Item::Typed(TypedValue::Duration(own)) => *own,
        _ => return None,
    };
    duration.fixed().and_then(|nanos| Number::parse(&nanos.to_string()))
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
