//! Columns that are made from others: their steps compiled against the table.

use std::collections::HashMap;

use metachron_core::apply::Outcome;
use metachron_core::named::Named;
use metachron_core::reading::Terms;
use metachron_core::steps::{
    Chain, Condition, Item, Program, Setting, StepError, Type, Unknown, Unmade,
};
use metachron_core::text::Missing;
use metachron_core::typed::Kind;
use metachron_core::value::Value;
use metachron_tables::table::Row;

use super::series::{SeriesColumn, series_columns};
use super::tally::MadeTally;
use super::typed::{TypedColumn, typed_columns};
use crate::ambient::Ambient;
use crate::choices::{Choices, MadeColumn};
use crate::message::{Failure, marked_below, name_is_taken, quoted};
use crate::survey::SurveyedTable;
use crate::words::wrong_steps;

/// Where the value of an input stands.
#[derive(Debug, Clone, Copy)]
pub enum From {
    /// A typed column, by its place among those.
    Typed(usize),
    /// A series, by its place among those.
    Series(usize),
    /// A cell as it is.
    Cell(usize),
    /// A column made before, by its place among those.
    Made(usize),
}

/// A column that is made from others.
pub struct MadeProgram {
    pub name: String,
    pub program: Program,
    /// The column of the input that it stands behind, where columns have no end.
    pub beside: usize,
    inputs: Vec<From>,
    /// What only the whole table shows, once it has been gone through.
    pub facts: Vec<Item>,
}

/// What a row has come to so far.
pub struct SoFar<'r> {
    /// What the typed column at a place has read.
    pub typed: &'r dyn Fn(usize) -> Item,
    /// What the series have come to.
    pub series: &'r [Item],
    /// What was made before.
    pub made: &'r [Item],
}

/// The columns that steps can begin with, with what they hold and where that stands.
#[derive(Default)]
pub struct KnownColumns {
    all: Vec<(String, Type, From)>,
    /// Where each is in the list, by name.
    places: HashMap<String, usize>,
}

impl KnownColumns {
    /// Those of a table: a raw column that is read means its typed one.
    pub fn of(
        table: &SurveyedTable,
        columns: &[TypedColumn<'_>],
        series: &[SeriesColumn],
    ) -> KnownColumns {
        let mut known = KnownColumns::default();
        for (at, column) in columns.iter().enumerate() {
            let of = Type::Of(column.compiled.reading().kind);
            for name in [&column.source.plan.name, &column.name] {
                known.add_new(name, of, From::Typed(at));
            }
        }
        for (at, own) in series.iter().enumerate() {
            known.add_new(&own.name, own.gives(), From::Series(at));
        }
        let typed = table.columns.iter().filter(|column| column.is_typed());
        let kinds: HashMap<usize, Kind> =
            typed.filter_map(|own| Some((own.plan.index, own.inference.judgement.kind?))).collect();
        for (index, name) in table.intake.names().iter().enumerate() {
            let of = kinds.get(&index).map_or(Type::Raw, |kind| Type::Of(*kind));
            known.add_new(name, of, From::Cell(index));
        }
        known
    }

    /// The same as if every open column were of this kind.
    fn assuming(mut self, table: &SurveyedTable, kind: Kind) -> KnownColumns {
        for column in table.columns.iter().filter(|column| column.is_open()) {
            let name = &column.plan.name;
            let typed = column.plan.decisions.into.clone();
            let typed = typed.unwrap_or_else(|| format!("{name}_typed"));
            let from = From::Cell(column.plan.index);
            match self.places.get(name) {
                Some(at) => self.all[*at] = (name.clone(), Type::Of(kind), from),
                None => self.add_new(name, Type::Of(kind), from),
            }
            self.add_new(&typed, Type::Of(kind), from);
        }
        self
    }

    /// Adds a column unless its name is taken.
    fn add_new(&mut self, name: &str, of: Type, from: From) {
        if !self.has(name) {
            self.places.insert(name.to_owned(), self.all.len());
            self.all.push((name.to_owned(), of, from));
        }
    }

    fn has(&self, name: &str) -> bool {
        self.places.contains_key(name)
    }

    /// Where the values of this column stand.
    pub fn find(&self, name: &str) -> Option<From> {
        self.places.get(name).map(|at| self.all[*at].2)
    }

    /// Their names.
    pub fn names(&self) -> impl Iterator<Item = &str> {
        self.all.iter().map(|(name, ..)| name.as_str())
    }

    fn types(&self) -> Vec<(&str, Type)> {
        self.all.iter().map(|(name, of, _)| (name.as_str(), *of)).collect()
    }
}

/// Compiles the made columns of a table.
pub fn made_columns(
    known: &mut KnownColumns,
    columns: &[TypedColumn<'_>],
    choices: &Choices,
    ambient: &Ambient,
) -> Result<Vec<MadeProgram>, Failure> {
    let setting = setting(choices, ambient);
    let mut all: Vec<MadeProgram> = Vec::new();
    for (number, MadeColumn { name, steps }) in choices.shaping.made.iter().enumerate() {
        if known.has(name) {
            return Err(name_is_taken("--make", name));
        }
        let wrong = |says: String, error: &StepError| {
            let says = format!("{}: {says}", quoted(name));
            Failure::usage(marked_below(&says, &error.marked()))
        };
        let chain = Chain::parse(steps).map_err(|error| wrong(wrong_steps(&error), &error))?;
        let program = chain.compile(&known.types(), &setting).map_err(|error| {
            let place = &steps[error.span.clone()];
            let place = place.rsplit('=').next().unwrap_or(place).trim_matches('"');
            // What is derived from itself, or from what comes after it.
            let is_column = error.unknown == Some(Unknown::Column);
            let mut others = choices.shaping.made.iter().skip(number);
            let later = others.find(|later| is_column && later.name == place);
            let says = match later {
                Some(own) if own.name == *name => {
                    "a column cannot be derived from itself".to_owned()
                }
                Some(later) => {
                    format!("{} is derived after it; put its --make first", quoted(&later.name))
                }
                None => wrong_steps(&error),
            };
            wrong(says, &error)
        })?;
        let inputs: Vec<From> = program.inputs().iter().map(|at| known.all[*at].2).collect();
        let index = |from: &From| match from {
            From::Typed(at) => columns[*at].source.plan.index,
            From::Cell(index) => *index,
            From::Series(_) => 0,
            From::Made(at) => all[*at].beside,
        };
        let beside = inputs.iter().map(index).max().unwrap_or(0);
        known.add_new(name, program.gives(), From::Made(number));
        let facts = vec![Item::Missing; program.facts().len()];
        all.push(MadeProgram { name: name.clone(), program, beside, inputs, facts });
    }
    Ok(all)
}

/// Finds typing errors in what is made of a table of which columns are open, and names that are taken: what is wrong
/// whatever these hold.
///
/// # Errors
/// What is wrong.
pub fn check_early(
    table: &SurveyedTable,
    stamp: Option<&str>,
    choices: &Choices,
    ambient: &Ambient,
) -> Result<(), Failure> {
    let columns = typed_columns(table, <_>::default(), false, false)?;
    let series = series_columns(choices, table)?;
    let names = table.intake.names();
    let open = table.columns.iter().filter(|column| column.is_open());
    let mut intos = open.filter_map(|column| column.plan.decisions.into.as_ref());
    if let Some(into) = intos.find(|into| names.contains(into)) {
        return Err(name_is_taken("--into", into));
    }
    let made = choices.shaping.made.iter().map(|own| &own.name);
    let made = made.chain(choices.shaping.series.iter().map(|own| &own.name));
    if let Some(stamp) = stamp.filter(|stamp| names.iter().chain(made).any(|own| own == stamp)) {
        return Err(name_is_taken("--stamp", stamp));
    }
    let as_if = |kind: Kind| {
        let mut known = KnownColumns::of(table, &columns, &series).assuming(table, kind);
        made_columns(&mut known, &columns, choices, ambient)?;
        filter(&choices.shaping.conditions, &known, (choices, ambient)).map(|_| ())
    };
    let mut failures = Vec::new();
    for kind in Kind::all() {
        match as_if(kind) {
            Ok(()) => return Ok(()),
            Err(failure) => failures.push(failure),
        }
    }
    // What differs from kind to kind may be right for some mixture of them.
    let is_same = failures.windows(2).all(|pair| pair[0].says_as(&pair[1]));
    match failures.into_iter().next() {
        Some(failure) if is_same => Err(failure),
        _ => Ok(()),
    }
}

/// What rows must be to be written.
#[derive(Default)]
pub struct Filter {
    conditions: Vec<Condition>,
    places: Vec<From>,
}

/// Whether a row is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kept {
    Yes,
    No,
    /// Nobody can say.
    Unclear,
}

/// Compiles the conditions on rows.
pub fn filter(
    texts: &[String],
    known: &KnownColumns,
    (choices, ambient): (&Choices, &Ambient),
) -> Result<Filter, Failure> {
    let setting = setting(choices, ambient);
    let names = known.types();
    let compile = |text: &String| {
        Condition::compile(text, &names, &setting).map_err(|error| {
            let says = format!("--where: {}", wrong_steps(&error));
            Failure::usage(marked_below(&says, &error.marked()))
        })
    };
    let conditions = texts.iter().map(compile).collect::<Result<_, _>>()?;
    let places = known.all.iter().map(|(_, _, from)| *from).collect();
    Ok(Filter { conditions, places })
}

impl Filter {
    /// Whether a row is written.
    pub fn keeps(&self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) -> Kept {
        let mut column = |at: usize| self.places[at].item(row, so_far, buffer);
        for condition in &self.conditions {
            match condition.holds(&mut column) {
                Ok(true) => {}
                Ok(false) => return Kept::No,
                Err(_) => return Kept::Unclear,
            }
        }
        Kept::Yes
    }
}

impl From {
    /// What stands there in a row.
    pub fn item(self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) -> Item {
        match self {
            From::Typed(at) => (so_far.typed)(at),
            From::Series(at) => so_far.series[at].clone(),
            From::Made(at) => so_far.made[at].clone(),
            From::Cell(index) => match row.cell(index, buffer) {
                Value::Missing | Value::Fault(..) => Item::Missing,
                Value::Typed(moment) => Item::Typed(moment),
                Value::Text(text) | Value::Number(text) if text.is_empty() => Item::Missing,
                Value::Text(text) | Value::Number(text) => Item::Text(text.to_owned()),
            },
        }
    }
}

fn setting(choices: &Choices, ambient: &Ambient) -> Setting {
    let terms: Terms = choices.terms();
    let now = choices.now(ambient);
    let missing = Missing::usual().and(choices.missing.iter());
    let century_is_said = choices.says_century();
    Setting { terms, century_is_said, missing, today: choices.today, now }
}

/// What an outcome is to steps.
pub fn item(outcome: &Outcome) -> Item {
    match outcome {
        Outcome::Read(fit) => Item::Typed(fit.moment),
        _ => Item::Missing,
    }
}

impl MadeProgram {
    /// The values of a row that it is made from.
    pub fn inputs(
        &self,
        inputs: &mut Vec<Item>,
        row: &Row<'_>,
        so_far: &SoFar<'_>,
        buffer: &mut String,
    ) {
        inputs.clear();
        inputs.extend(self.inputs.iter().map(|from| from.item(row, so_far, buffer)));
    }

    /// What these values give.
    pub fn make(&self, inputs: &[Item], tally: &mut MadeTally) -> Result<Item, Unmade> {
        let made = self.program.run(inputs, &self.facts, &mut tally.notes);
        match &made {
            Ok(Item::Missing) => tally.missing += 1,
            Ok(_) => tally.made += 1,
            Err(_) => tally.unmade += 1,
        }
        made
    }
}
