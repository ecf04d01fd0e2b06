//! Checking the values of a table: what they come to, how they lie in time and to each other, and what is required of
//! them. No table is written.

use std::collections::BTreeMap;
use std::io;

use jiff::civil::{Date, DateTime};
use metachron_core::apply::{Compiled, Outcome};
use metachron_core::counting::Per;
use metachron_core::lexicon::Lexicon;
use metachron_core::reading::RowPlace;
use metachron_core::timeline::{Range, Requirement, RowOrder, Seen, Spacing, Timeline, shown};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::zone::Clock;
use metachron_tables::sort::{BUDGET, Sorter};

use crate::ambient::Ambient;
use crate::choices::Choices;
use crate::conversion::{
    ColumnTally, ConversionOptions, ConversionPlan, ConversionTally, Looks, TypedColumn,
    gather_facts,
};
use crate::message::{Failure, quoted};
use crate::pass::{Passed, Rows};
use crate::survey::{InPlay, SurveyedColumn, SurveyedTable};

/// More columns than these are not compared in pairs.
const MOST_PAIRED: usize = 12;

/// What a check has come to.
pub struct Checked<'t> {
    /// What is added to the table.
    pub plan: ConversionPlan<'t>,
    /// What its rows add up to.
    pub tally: ConversionTally,
    /// The same of each typed column, beside what it is read as.
    pub columns: Vec<ColumnCheck>,
    /// The first cells that were not read.
    pub unread: Vec<UnreadCell>,
    /// Columns that may be the beginning and the end of something.
    pub pairs: Vec<Pair>,
}

/// A cell that was not read.
pub struct UnreadCell {
    /// Its row.
    pub row: u64,
    /// The place of its column among the typed ones.
    pub column: usize,
    /// Its raw value.
    pub value: String,
    /// Why, in words.
    pub why: String,
}

/// So many of them are kept.
const MOST_UNREAD: usize = 100;

/// Rows of which something holds, with the first of them.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Found {
    /// How many.
    pub rows: u64,
    /// The first of them.
    pub first: Option<Seen>,
}

impl Found {
    fn note(&mut self, seen: Seen) {
        self.rows += 1;
        self.first.get_or_insert(seen);
    }
}

/// What is looked at in a typed column.
pub struct ColumnCheck {
    /// Its steps in the order of time.
    pub spacing: Spacing,
    /// Whether the raw texts follow each other, as far as they do.
    pub texts: RowOrder<String>,
    /// Rows that lie after today.
    pub to_come: Found,
    /// Rows that lie outside of the time that the file's name says, and those that would lie in it with day and month
    /// exchanged.
    pub outside: Found,
    /// How many of these do so.
    pub exchanged_inside: u64,
    /// What is required.
    pub requirements: Vec<Requirement>,
    /// Rows outside of each range that is required.
    pub out_of_range: Vec<(Range, Found)>,
    /// Whether rows have followed each other in time so far.
    is_in_order: bool,
    last: Option<TypedValue>,
    clock: Option<Clock>,
    kind: Kind,
}

/// Two columns whose values are compared row by row.
#[derive(Debug, Clone)]
pub struct Pair {
    /// Their places among the typed columns.
    pub places: [usize; 2],
    /// Rows in which the first lies before the second.
    pub before: u64,
    /// Rows in which it lies behind it.
    pub behind: u64,
    /// The first row of either: where the first column lies before, and where it lies behind; with both values.
    pub first: [Option<(u64, [TypedValue; 2])>; 2],
}

impl Checked<'_> {
    /// The place of a column among those that are converted.
    pub fn place(&self, column: &SurveyedColumn) -> Option<usize> {
        let is_own = |own: &TypedColumn<'_>| own.source.plan.index == column.plan.index;
        self.plan.columns.iter().position(is_own)
    }

    /// What the values of a column add up to, if it is converted.
    pub fn of(&self, column: &SurveyedColumn) -> Option<(&ColumnTally, &ColumnCheck)> {
        let at = self.place(column)?;
        self.tally.columns.get(at).zip(self.columns.get(at))
    }
}

/// A time that the name of a file says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NamedPeriod {
    /// The month, or the year.
    pub value: TypedValue,
    last: Date,
}

impl NamedPeriod {
    /// Whether a day lies in it.
    fn holds(&self, day: Date) -> bool {
        self.value.date().is_some_and(|first| (first..=self.last).contains(&day))
    }

    /// The month or the year that a name says, if it says one alone: `2024-03`, `202403`, `march_2024`, `2024`.
    pub fn of(name: &str) -> Option<NamedPeriod> {
        let stem = name.split('.').next()?;
        let words: Vec<String> = tokens_of(stem);
        let year = |word: &str| {
            let is_year = word.len() == 4 && (1900..2100).contains(&word.parse::<i16>().ok()?);
            is_year.then(|| word.parse::<i16>().ok()).flatten()
        };
        let month = |word: &str| {
            let of_digits = (word.len() == 2).then(|| word.parse::<i8>().ok()).flatten();
            of_digits.filter(|own| (1..=12).contains(own)).or_else(|| {
                let senses = Lexicon::every().look_up(word).filter(|_| word.len() > 2)?;
                senses.month.and_then(|(number, _)| i8::try_from(number).ok())
            })
        };
        let months = words.windows(2).filter_map(|pair| {
            let in_order = year(&pair[0]).zip(month(&pair[1]));
            in_order.or_else(|| year(&pair[1]).zip(month(&pair[0]).filter(|_| pair[0].len() > 2)))
        });
        let together = words
            .iter()
            .filter(|word| word.len() == 6)
            .filter_map(|word| year(word.get(..4)?).zip(month(word.get(4..)?)));
        let mut months: Vec<(i16, i8)> = months.chain(together).collect();
        months.dedup();
        let years: Vec<i16> = words.iter().filter_map(|word| year(word)).collect();
        match (&months[..], &years[..]) {
            // A day as a whole says when the file was made, not of what.
            ([(year, month)], _) if !names_a_day(&words) => {
                let first = Date::new(*year, *month, 1).ok()?;
                Some(NamedPeriod { value: TypedValue::Month(first), last: first.last_of_month() })
            }
            ([], [year]) if words.iter().all(|word| word.len() != 8) => {
                let first = Date::new(*year, 1, 1).ok()?;
                Some(NamedPeriod { value: TypedValue::Year(first), last: first.last_of_year() })
            }
            _ => None,
        }
    }
}

/// Whether a year, a month and a day stand beside each other.
fn names_a_day(words: &[String]) -> bool {
    let is_number = |word: &String, length: usize| {
        word.len() == length && word.bytes().all(|byte| byte.is_ascii_digit())
    };
    let is_day = |[a, b, c]: [&String; 3]| {
        is_number(a, 4) && is_number(b, 2) && is_number(c, 2)
            || is_number(a, 2) && is_number(b, 2) && is_number(c, 4)
    };
    words.windows(3).any(|three| is_day([&three[0], &three[1], &three[2]]))
}

/// The runs of digits and of letters in a name, in lower case.
fn tokens_of(name: &str) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    let mut last = None;
    for c in name.to_lowercase().chars() {
        let class = c.is_alphanumeric().then(|| c.is_numeric());
        match (class, words.last_mut()) {
            (Some(_), Some(word)) if last == Some(class) => word.push(c),
            (Some(_), _) => words.push(c.to_string()),
            (None, _) => {}
        }
        last = Some(class);
    }
    words
}

/// What a conversion would come to, without what is open, and how its values lie; none if what is made of the table waits
/// for that.
///
/// # Errors
/// The table cannot be read, or what is required cannot be asked of a column.
pub fn check_table<'t>(
    table: &'t SurveyedTable,
    options: &ConversionOptions<'_>,
    (choices, ambient): (&Choices, &Ambient),
) -> Result<Option<Checked<'t>>, Failure> {
    let mut plan = match ConversionPlan::of(table, options, (choices, ambient)) {
        Ok(plan) => plan,
        Err(_) if table.columns.iter().any(|column| column.is_open()) => return Ok(None),
        Err(failure) => return Err(failure),
    };
    gather_facts(&mut plan, &table.intake)?;
    let mut columns: Vec<ColumnCheck> =
        plan.columns.iter().map(ColumnCheck::of).collect::<Result<_, _>>()?;
    let mut pairs = pairs(&plan);
    let mut unread = Vec::new();
    let name = table.intake.path.file_name().map(|name| name.to_string_lossy().into_owned());
    let named = name.and_then(|name| NamedPeriod::of(&name));
    let today = choices.today;
    let rows = Rows::all(&table.intake).showing(&table.intake.path, choices.shows_progress);
    let Passed { tally, .. } =
        rows.drive_into(&plan, plan.tally(), |number, row, converted, _| {
            if !converted.is_written {
                return Ok(());
            }
            for (at, own) in columns.iter_mut().enumerate() {
                let Some(fit) = converted.read_as(at) else { continue };
                own.observe(Seen { row: number, value: fit.moment }, today, named.as_ref());
                if own.texts.is_sorted() {
                    own.texts.observe(number, &converted.raw(at, number, row));
                }
            }
            if unread.len() < MOST_UNREAD {
                let all = converted.unread(number, row).into_iter();
                unread.extend(all.map(|(column, value, why)| UnreadCell {
                    row: number,
                    column,
                    value,
                    why,
                }));
            }
            for pair in &mut pairs {
                let [first, second] = pair.places.map(|at| converted.read_as(at));
                if let (Some(first), Some(second)) = (first, second) {
                    pair.observe(number, [first.moment, second.moment]);
                }
            }
            Ok(())
        })?;
    sort(&mut columns, &plan, table)?;
    Ok(Some(Checked { plan, tally, columns, unread, pairs }))
}

impl ColumnCheck {
    fn of(column: &TypedColumn<'_>) -> Result<ColumnCheck, Failure> {
        let kind =
            column.compiled.reading().anchor.map_or(column.compiled.reading().kind, |_| {
                column.compiled.reading().kind.anchored()
            });
        let requirements = column.source.plan.decisions.require.clone().unwrap_or_default();
        if let Some(other) = requirements.iter().find(|own| !own.is_about(kind)) {
            return Err(Failure::usage(format!(
                "{} cannot be required to be {}: each of its values is {}",
                quoted(&column.source.plan.name),
                quoted(&other.to_string()),
                kind.phrase()
            )));
        }
        let ranges = requirements.iter().filter_map(|own| match own {
            Requirement::Within(range) => Some((range.clone(), Found::default())),
            _ => None,
        });
        Ok(ColumnCheck {
            spacing: Spacing::new(&complete(&requirements)),
            texts: RowOrder::default(),
            to_come: Found::default(),
            outside: Found::default(),
            exchanged_inside: 0,
            out_of_range: ranges.collect(),
            requirements,
            is_in_order: true,
            last: None,
            clock: column.clock_of_days(),
            kind,
        })
    }

    fn shown(&self, value: TypedValue) -> Option<DateTime> {
        shown(value, self.clock)
    }

    fn observe(&mut self, seen: Seen, today: Date, named: Option<&NamedPeriod>) {
        let shown = self.shown(seen.value);
        self.is_in_order &= self.last.is_none_or(|last| last <= seen.value);
        self.last = Some(seen.value);
        if self.is_in_order {
            self.spacing.observe(seen, shown);
        }
        let day = shown.map(DateTime::date).or_else(|| seen.value.date());
        // Somewhere it is tomorrow already.
        let latest = if shown.is_some() { today.tomorrow().unwrap_or(today) } else { today };
        if day.is_some_and(|day| day > latest) {
            self.to_come.note(seen);
        }
        if let (Some(named), Some(day)) = (named, day)
            && !named.holds(day)
        {
            self.outside.note(seen);
            let exchanged = TypedValue::Date(day).exchanged().date();
            self.exchanged_inside += u64::from(exchanged.is_some_and(|day| named.holds(day)));
        }
        for (range, found) in &mut self.out_of_range {
            if !range.holds(seen.value, shown) {
                found.note(seen);
            }
        }
    }

    /// What its values are.
    pub fn kind(&self) -> Kind {
        self.kind
    }
}

/// The periods of which none may be without a value.
fn complete(requirements: &[Requirement]) -> Vec<Per> {
    let per = |own: &Requirement| match own {
        Requirement::Complete(per) => Some(*per),
        _ => None,
    };
    requirements.iter().filter_map(per).collect()
}

/// What something may begin and end with.
const BEGIN: [Kind; 4] = [Kind::Date, Kind::Time, Kind::DateTime, Kind::Instant];

/// Columns of one kind that a row may have both of.
fn pairs(plan: &ConversionPlan<'_>) -> Vec<Pair> {
    let kind = |at: usize| plan.columns[at].compiled.reading().kind;
    let count = plan.columns.len();
    let mut pairs = Vec::new();
    for second in 0..count {
        for first in 0..second {
            if count <= MOST_PAIRED && kind(first) == kind(second) && BEGIN.contains(&kind(first)) {
                let places = [first, second];
                pairs.push(Pair { places, before: 0, behind: 0, first: [None; 2] });
            }
        }
    }
    pairs
}

impl Pair {
    fn observe(&mut self, row: u64, values: [TypedValue; 2]) {
        let (count, first) = match values[0].cmp(&values[1]) {
            std::cmp::Ordering::Equal => return,
            std::cmp::Ordering::Less => (&mut self.before, &mut self.first[0]),
            std::cmp::Ordering::Greater => (&mut self.behind, &mut self.first[1]),
        };
        *count += 1;
        first.get_or_insert((row, values));
    }
}

/// Adds up the steps between the values of rows that are in another order than that of time: they are sorted before, on
/// disk where they are many.
fn sort(
    columns: &mut [ColumnCheck],
    plan: &ConversionPlan<'_>,
    table: &SurveyedTable,
) -> Result<(), Failure> {
    let unsorted = |error: io::Error| {
        Failure::could_not(format!("temporary files for sorting cannot be written: {error}"))
    };
    let others = columns.iter().filter(|own| !own.is_in_order).count();
    let mut sorters = Vec::new();
    for (at, own) in columns.iter_mut().enumerate().filter(|(_, own)| !own.is_in_order) {
        own.spacing = Spacing::new(&complete(&own.requirements));
        sorters.push((at, Sorter::new(BUDGET / others).map_err(unsorted)?));
    }
    if sorters.is_empty() {
        return Ok(());
    }
    Rows::all(&table.intake).drive_into(plan, plan.tally(), |number, _, converted, _| {
        for (at, sorter) in sorters.iter_mut().filter(|_| converted.is_written) {
            let Some(fit) = converted.read_as(*at) else { continue };
            let mut key = Vec::new();
            fit.moment.sort_key(&mut key);
            let held = serde_json::to_string(&(number, fit.moment)).map_err(Failure::could_not)?;
            sorter.push(key, "", &held, "").map_err(unsorted)?;
        }
        Ok(())
    })?;
    for (at, sorter) in sorters {
        let own = &mut columns[at];
        let each = |_: &str, held: &str, _: &str| {
            let (row, value) = serde_json::from_str(held).map_err(io::Error::other)?;
            let shown = own.shown(value);
            own.spacing.observe(Seen { row, value }, shown);
            Ok(())
        };
        sorter.finish(each).map_err(unsorted)?;
    }
    Ok(())
}

/// How the values of an open column lie in time as one of its readings has them.
pub struct RivalTimeline {
    /// What the reading is called.
    pub called: InPlay,
    /// How they lie.
    pub timeline: Timeline,
}

/// The readings of each open column, by the place of the column in the table.
///
/// # Errors
/// The table cannot be read.
pub fn rivals(table: &SurveyedTable) -> Result<BTreeMap<usize, Vec<RivalTimeline>>, Failure> {
    let open = table.columns.iter().filter(|column| column.is_open());
    let readings: Vec<(usize, Vec<(InPlay, Compiled)>)> =
        open.map(|own| (own.plan.index, own.readings_in_play())).collect();
    let mut all: BTreeMap<usize, Vec<RivalTimeline>> = BTreeMap::new();
    let mut readers = Vec::new();
    for (index, readings) in &readings {
        for (called, compiled) in readings {
            let timeline = Timeline::default();
            all.entry(*index).or_default().push(RivalTimeline { called: *called, timeline });
            readers.push((*index, compiled.scratch()));
        }
    }
    if readers.is_empty() {
        return Ok(all);
    }
    let mut buffer = String::new();
    Rows::all(&table.intake).drive_into(&(), (), |number, row, (), ()| {
        let timelines = all.values_mut().flatten();
        for ((index, reader), own) in readers.iter_mut().zip(timelines) {
            let place = RowPlace { row: number, beside: "", zone: "" };
            if let Outcome::Read(fit) = reader.apply(place, row.cell(*index, &mut buffer)) {
                own.timeline.observe(number, fit.moment, None);
            }
        }
        Ok(())
    })?;
    Ok(all)
}

/// How a check looks at what a conversion would come to.
pub fn closely() -> ConversionOptions<'static> {
    ConversionOptions {
        counts_reasons: true,
        looks: Some(Looks::Briefly),
        includes_typed: true,
        ..ConversionOptions::default()
    }
}
