//! Checking the values of a table: what they come to, how they lie in time and to each other, and what is required of
//! them. No table is written.

use std::cmp::Ordering;
use std::io;

use jiff::civil::{Date, DateTime};
use metachron_core::apply::{Outcome, Scratch};
use metachron_core::counting::Per;
use metachron_core::reading::RowPlace;
use metachron_core::timeline::{
    NamedPeriod, Requirement, RowOrder, Seen, Spacing, Timeline, shown,
};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::zone::Clock;
use metachron_tables::sort::{BUDGET, Sorter};
use metachron_tables::table::Row;

use crate::ambient::Ambient;
use crate::choices::Choices;
use crate::conversion::{
    ColumnTally, ConversionOptions, ConversionPlan, ConversionTally, ConvertedRow, Looks,
    TypedColumn, gather_facts,
};
use crate::message::{Failure, quoted};
use crate::pass::{Pass, Rows};
use crate::survey::{OtherReading, SurveyedColumn, SurveyedTable};

/// More columns than these are not compared in pairs.
const MOST_PAIRED: usize = 12;
/// So many cells that were not read are kept.
const MOST_UNREAD: usize = 100;

/// What a check has come to.
pub struct Checked<'t> {
    /// What is added to the table.
    pub plan: ConversionPlan<'t>,
    /// What is looked at in each typed column.
    pub columns: Vec<ColumnCheck>,
    /// The time that the file's name says.
    pub named: Option<NamedPeriod>,
    /// What the rows add up to.
    pub tally: CheckTally,
}

impl Checked<'_> {
    /// The place of a column among those that are converted.
    pub fn place(&self, column: &SurveyedColumn) -> Option<usize> {
        let is_own = |own: &TypedColumn<'_>| own.source.plan.index == column.plan.index;
        self.plan.columns.iter().position(is_own)
    }

    /// What the values of a column add up to, if it is converted.
    pub fn of(&self, column: &SurveyedColumn) -> Option<&ColumnTally> {
        self.tally.converted.columns.get(self.place(column)?)
    }
}

/// What is looked at in a typed column.
pub struct ColumnCheck {
    /// What is required of its values.
    pub requirements: Vec<Requirement>,
    /// What these are.
    pub kind: Kind,
    /// The clock whose days and hours are those of moments.
    clock: Option<Clock>,
}

impl ColumnCheck {
    fn of(column: &TypedColumn<'_>) -> Result<ColumnCheck, Failure> {
        let kind = column.compiled.reading().kind;
        let requirements = column.source.plan.decisions.require.clone().unwrap_or_default();
        if let Some(other) = requirements.iter().find(|own| !own.is_about(kind)) {
            return Err(Failure::usage(format!(
                "{} cannot be required to be {}: each of its values is {}",
                quoted(&column.source.plan.name),
                quoted(&other.to_string()),
                kind.phrase()
            )));
        }
        Ok(ColumnCheck { requirements, kind, clock: column.clock_of_days() })
    }

    /// What a clock shows at a value that has a day and a time.
    fn shown(&self, value: TypedValue) -> Option<DateTime> {
        shown(value, self.clock)
    }

    /// The spacing of no values yet.
    fn spacing(&self) -> Spacing {
        let per = |own: &Requirement| match own {
            Requirement::Complete(per) => Some(*per),
            _ => None,
        };
        let pers: Vec<Per> = self.requirements.iter().filter_map(per).collect();
        Spacing::new(&pers)
    }
}

/// What rows add up to.
pub struct CheckTally {
    /// What a conversion would come to.
    pub converted: ConversionTally,
    /// The same of each typed column, beside what it is read as.
    pub columns: Vec<CheckedValues>,
    /// Columns that may be the beginning and the end of something.
    pub pairs: Vec<Pair>,
    /// The first cells that were not read.
    pub unread: Vec<UnreadCell>,
}

/// What the values of a typed column add up to, beside what they are read as.
pub struct CheckedValues {
    /// Its steps in the order of time.
    pub spacing: Spacing,
    /// Whether the raw texts follow each other, as far as they do.
    pub texts: RowOrder<String>,
    /// Rows that lie after today.
    pub to_come: Found,
    /// Rows that lie outside of the time that the file's name says.
    pub outside: Found,
    /// How many of these would lie in it with day and month exchanged.
    pub exchanged_inside: u64,
    /// Rows outside of a range that is required, for each requirement.
    pub out_of_range: Vec<Found>,
}

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

impl Pair {
    fn observe(&mut self, row: u64, values: [TypedValue; 2]) {
        let (count, first) = match values[0].cmp(&values[1]) {
            Ordering::Equal => return,
            Ordering::Less => (&mut self.before, &mut self.first[0]),
            Ordering::Greater => (&mut self.behind, &mut self.first[1]),
        };
        *count += 1;
        first.get_or_insert((row, values));
    }
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
    let columns: Vec<ColumnCheck> =
        plan.columns.iter().map(ColumnCheck::of).collect::<Result<_, _>>()?;
    let name = table.intake.path.file_stem().map(|name| name.to_string_lossy());
    let named = name.and_then(|name| NamedPeriod::of(&name));
    let pass = CheckRows { plan: &plan, columns: &columns, named, today: choices.today };
    let rows = Rows::all(&table.intake).showing(&table.intake.path, choices.shows_progress);
    let mut tally = rows.drive(&pass, pass.tally())?.tally;
    plan.look_away();
    sort(&mut tally, &columns, &plan, table)?;
    Ok(Some(Checked { plan, columns, named, tally }))
}

/// Going through the rows of a table to be checked.
struct CheckRows<'p, 's> {
    plan: &'p ConversionPlan<'s>,
    columns: &'p [ColumnCheck],
    named: Option<NamedPeriod>,
    today: Date,
}

impl CheckRows<'_, '_> {
    /// The tally of no rows.
    fn tally(&self) -> CheckTally {
        let column = |own: &ColumnCheck| CheckedValues {
            spacing: own.spacing(),
            texts: RowOrder::default(),
            to_come: Found::default(),
            outside: Found::default(),
            exchanged_inside: 0,
            out_of_range: vec![Found::default(); own.requirements.len()],
        };
        CheckTally {
            converted: self.plan.tally(),
            columns: self.columns.iter().map(column).collect(),
            pairs: self.pairs(),
            unread: Vec::new(),
        }
    }

    /// Columns of one kind that may be the beginning and the end of something.
    fn pairs(&self) -> Vec<Pair> {
        let begins = [Kind::Date, Kind::Time, Kind::DateTime, Kind::Instant];
        let kind = |at: usize| self.columns[at].kind;
        let count = Some(self.columns.len()).filter(|count| *count <= MOST_PAIRED).unwrap_or(0);
        let all = (0..count).flat_map(|second| (0..second).map(move |first| [first, second]));
        let alike = all.filter(|[first, second]| {
            kind(*first) == kind(*second) && begins.contains(&kind(*first))
        });
        alike.map(|places| Pair { places, before: 0, behind: 0, first: [None; 2] }).collect()
    }

    /// Takes in a value of a column.
    fn value(&self, check: &ColumnCheck, seen: Seen, tally: &mut CheckedValues, is_sorted: bool) {
        let shown = check.shown(seen.value);
        // Others are sorted first.
        if is_sorted {
            tally.spacing.observe(seen, shown);
        }
        let day = shown.map(DateTime::date).or_else(|| seen.value.date());
        // Somewhere it is tomorrow already.
        let latest = match shown {
            Some(_) => self.today.tomorrow().unwrap_or(self.today),
            None => self.today,
        };
        if day.is_some_and(|day| day > latest) {
            tally.to_come.note(seen);
        }
        if let (Some(named), Some(day)) = (self.named, day)
            && !named.holds(day)
        {
            tally.outside.note(seen);
            let exchanged = TypedValue::Date(day).exchanged().date();
            tally.exchanged_inside += u64::from(exchanged.is_some_and(|day| named.holds(day)));
        }
        for (requirement, found) in check.requirements.iter().zip(&mut tally.out_of_range) {
            if let Requirement::Within(range) = requirement
                && !range.holds(seen.value, shown)
            {
                found.note(seen);
            }
        }
    }
}

impl Pass for CheckRows<'_, '_> {
    type Scratch<'p>
        = ConvertedRow<'p>
    where
        Self: 'p;
    type Tally = CheckTally;

    fn scratch(&self) -> ConvertedRow<'_> {
        ConvertedRow::of(self.plan)
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut ConvertedRow<'p>,
        tally: &mut CheckTally,
    ) {
        scratch.take(number, row, &mut tally.converted);
        if !scratch.is_written {
            return;
        }
        for (at, (check, own)) in self.columns.iter().zip(&mut tally.columns).enumerate() {
            let Some(value) = scratch.read_as(at).map(|fit| fit.moment) else { continue };
            let is_sorted = tally.converted.columns[at].came_out.timeline.order.is_sorted();
            self.value(check, Seen { row: number, value }, own, is_sorted);
            if own.texts.is_sorted() {
                own.texts.observe(number, &scratch.raw(at, number, row));
            }
        }
        if tally.unread.len() < MOST_UNREAD {
            let all = scratch.unread(number, row).into_iter();
            tally.unread.extend(all.map(|(column, value, why)| UnreadCell {
                row: number,
                column,
                value,
                why,
            }));
        }
        for pair in &mut tally.pairs {
            let [first, second] = pair.places.map(|at| scratch.read_as(at));
            if let (Some(first), Some(second)) = (first, second) {
                pair.observe(number, [first.moment, second.moment]);
            }
        }
    }

    fn end<'p>(&'p self, scratch: &mut ConvertedRow<'p>, tally: &mut CheckTally) {
        scratch.end(&mut tally.converted);
    }
}

/// Adds up the steps between the values of rows that are in another order than that of time: they are sorted before, on
/// disk where too many are different.
fn sort(
    tally: &mut CheckTally,
    columns: &[ColumnCheck],
    plan: &ConversionPlan<'_>,
    table: &SurveyedTable,
) -> Result<(), Failure> {
    let mut many: Vec<usize> = Vec::new();
    let converted = tally.converted.columns.iter().zip(&mut tally.columns).zip(columns);
    for (at, ((own, values), check)) in converted.enumerate() {
        let timeline = &own.came_out.timeline;
        if timeline.order.is_sorted() {
            continue;
        }
        match timeline.by_value() {
            Some(all) => {
                values.spacing = check.spacing();
                for own in all {
                    values.spacing.observe_all(&own, check.shown(own.value));
                }
            }
            None => many.push(at),
        }
    }
    if many.is_empty() {
        return Ok(());
    }
    let sorter = |at: &usize| Ok((*at, Sorter::new(BUDGET / many.len())?));
    let mut sorters: Vec<(usize, Sorter)> =
        many.iter().map(sorter).collect::<Result<_, _>>().map_err(Failure::sorting)?;
    Rows::all(&table.intake).drive_into(plan, plan.tally(), |number, _, converted, _| {
        for (at, sorter) in sorters.iter_mut().filter(|_| converted.is_written) {
            let Some(fit) = converted.read_as(*at) else { continue };
            let mut key = Vec::new();
            fit.moment.sort_key(&mut key);
            sorter.push(key, "", &number.to_string(), "").map_err(Failure::sorting)?;
        }
        Ok(())
    })?;
    for (at, sorter) in sorters {
        let check = &columns[at];
        let mut spacing = check.spacing();
        let each = |key: &[u8], _: &str, row: &str, _: &str| {
            let value = TypedValue::of_sort_key(check.kind, key);
            let value = value.ok_or_else(|| io::Error::other("a key is damaged"))?;
            let row = row.parse().map_err(io::Error::other)?;
            spacing.observe(Seen { row, value }, check.shown(value));
            Ok(())
        };
        sorter.finish_with_keys(each).map_err(Failure::sorting)?;
        tally.columns[at].spacing = spacing;
    }
    Ok(())
}

/// Readings of a column, and how its values lie in time in each.
pub struct RivalTimelines {
    /// The place of the column in the table.
    pub index: usize,
    /// The readings.
    pub readings: Vec<OtherReading>,
    /// How the values lie in each of them.
    pub timelines: Vec<Timeline>,
}

/// The readings of each open column.
///
/// # Errors
/// The table cannot be read.
pub fn rivals(table: &SurveyedTable) -> Result<Vec<RivalTimelines>, Failure> {
    let open = table.columns.iter().filter(|column| column.is_open());
    let readings = open.map(|own| (own.plan.index, own.readings_in_play()));
    let pass = RivalReadings(readings.collect());
    let tally = pass.0.iter().map(|(_, own)| vec![Timeline::default(); own.len()]).collect();
    let timelines = match pass.0.is_empty() {
        true => Vec::new(),
        false => Rows::all(&table.intake).drive(&pass, tally)?.tally,
    };
    let all = pass.0.into_iter().zip(timelines);
    Ok(all
        .map(|((index, readings), timelines)| RivalTimelines { index, readings, timelines })
        .collect())
}

/// Reading open columns in each way, by the places of the columns.
struct RivalReadings(Vec<(usize, Vec<OtherReading>)>);

impl Pass for RivalReadings {
    type Scratch<'p> = (Vec<Vec<Scratch<'p>>>, String);
    type Tally = Vec<Vec<Timeline>>;

    fn scratch(&self) -> Self::Scratch<'_> {
        let readers = self
            .0
            .iter()
            .map(|(_, readings)| readings.iter().map(|own| own.compiled.scratch()).collect());
        (readers.collect(), String::new())
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        (readers, buffer): &mut Self::Scratch<'p>,
        tally: &mut Self::Tally,
    ) {
        let place = RowPlace { row: number, beside: "", zone: "" };
        for (((index, _), readers), timelines) in self.0.iter().zip(readers).zip(tally) {
            let value = row.cell(*index, buffer);
            for (reader, timeline) in readers.iter_mut().zip(timelines) {
                if let Outcome::Read(fit) = reader.apply(place, value) {
                    timeline.observe(number, fit.moment, None);
                }
            }
        }
    }
}
