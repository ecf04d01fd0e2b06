//! Derived columns: their steps compiled against the table, and run row by row.

use jiff::Timestamp;
use metachron_core::apply::Outcome;
use metachron_core::reading::Terms;
use metachron_core::steps::{Chain, Condition, Item, Notes, Program, Setting, Type, Unmade};
use metachron_core::text::Missing;
use metachron_core::value::Value;
use metachron_tables::table::Row;

use super::series::SeriesColumn;
use super::study::Study;
use super::typed::Typed;
use crate::ambient::Ambient;
use crate::config::Config;
use crate::message::{Failure, quoted};
use crate::said::Derivation;

/// Where the value of an input stands.
#[derive(Debug, Clone, Copy)]
pub enum From {
    /// A typed column, by its place among those.
    Typed(usize),
    /// A series, by its place among those.
    Series(usize),
    /// A cell as it is.
    Cell(usize),
    /// A column derived before, by its place among those.
    Derived(usize),
}

/// A derived column at work.
pub struct Derived {
    pub name: String,
    pub program: Program,
    /// The column of the input that it stands behind, where columns have no end.
    pub beside: usize,
    inputs: Vec<From>,
    facts: Vec<Item>,
    row: Vec<Item>,
    pub notes: Notes,
    pub made: u64,
    pub missing: u64,
    pub unmade: u64,
}

/// What a row has come to so far.
pub struct SoFar<'r> {
    /// What the typed columns have read.
    pub typed: &'r [Item],
    /// What the series have come to.
    pub series: &'r [Item],
    /// What was derived before.
    pub derived: &'r [Item],
}

/// The columns that steps can begin with, with what they hold and where that stands.
pub struct Columns(Vec<(String, Type, From)>);

impl Columns {
    /// Those of a table: a raw column that is read means its typed one.
    pub fn of(study: &Study, columns: &[Typed<'_>], series: &[SeriesColumn]) -> Columns {
        let raw = study.intake.names();
        let mut known: Vec<(String, Type, From)> = Vec::new();
        for (at, column) in columns.iter().enumerate() {
            let of = Type::Of(column.compiled.reading().kind);
            for name in [&column.studied.name, &column.name] {
                if !known.iter().any(|(other, ..)| other == name) {
                    known.push((name.clone(), of, From::Typed(at)));
                }
            }
        }
        for (at, own) in series.iter().enumerate() {
            if !known.iter().any(|(other, ..)| *other == own.name) {
                known.push((own.name.clone(), own.gives(), From::Series(at)));
            }
        }
        for (index, name) in raw.iter().enumerate() {
            if !known.iter().any(|(other, ..)| other == name) {
                known.push((name.clone(), typed_already(study, index), From::Cell(index)));
            }
        }
        Columns(known)
    }

    fn has(&self, name: &str) -> bool {
        self.find(name).is_some()
    }

    /// Where the values of this column stand.
    pub fn find(&self, name: &str) -> Option<From> {
        self.0.iter().find(|(other, ..)| other == name).map(|(_, _, from)| *from)
    }

    /// Their names.
    pub fn names(&self) -> impl Iterator<Item = &str> {
        self.0.iter().map(|(name, ..)| name.as_str())
    }

    fn types(&self) -> Vec<(&str, Type)> {
        self.0.iter().map(|(name, of, _)| (name.as_str(), *of)).collect()
    }
}

/// Compiles the derived columns of a table.
pub fn derived_columns(
    known: &mut Columns,
    columns: &[Typed<'_>],
    config: &Config,
    ambient: &Ambient,
) -> Result<Vec<Derived>, Failure> {
    let setting = setting(config, ambient);
    let mut all: Vec<Derived> = Vec::new();
    for (number, derivation) in config.derive.iter().enumerate() {
        let Derivation { name, steps } = derivation;
        if known.has(name) {
            return Err(Failure::usage(format!(
                "a derived column cannot be called {}: there is one of that name",
                quoted(name)
            )));
        }
        let wrong = |says: &str, marked: &str| {
            let marked = marked.replace('\n', "\n  ");
            Failure::usage(format!("{}: {says}\n  {marked}", quoted(name)))
        };
        let chain =
            Chain::parse(steps).map_err(|error| wrong(&error.to_string(), &error.marked()))?;
        let program = chain.compile(&known.types(), &setting).map_err(|error| {
            let place = &steps[error.span.clone()];
            let place = place.rsplit('=').next().unwrap_or(place).trim_matches('"');
            // What is derived from itself, or from what comes after it.
            let later = config.derive.iter().skip(number).find(|later| later.name == place);
            let says = match later {
                Some(own) if own.name == *name => {
                    "a column cannot be derived from itself".to_owned()
                }
                Some(later) => {
                    format!("{} is derived after it; put its --make first", quoted(&later.name))
                }
                None => error.to_string(),
            };
            wrong(&says, &error.marked())
        })?;
        let inputs: Vec<From> = program.inputs().iter().map(|at| known.0[*at].2).collect();
        let index = |from: &From| match from {
            From::Typed(at) => columns[*at].studied.index,
            From::Cell(index) => *index,
            From::Series(_) => 0,
            From::Derived(at) => all[*at].beside,
        };
        let beside = inputs.iter().map(index).max().unwrap_or(0);
        known.0.push((name.clone(), program.gives(), From::Derived(number)));
        let facts = vec![Item::Missing; program.facts().len()];
        all.push(Derived {
            name: name.clone(),
            program,
            beside,
            inputs,
            facts,
            row: Vec::new(),
            notes: Notes::default(),
            made: 0,
            missing: 0,
            unmade: 0,
        });
    }
    Ok(all)
}

/// What rows must be to be written.
#[derive(Default)]
pub struct Filter {
    conditions: Vec<Condition>,
    places: Vec<From>,
    /// Rows of which it does not hold.
    pub left_out: u64,
    /// Rows of which nobody can say.
    pub unclear: u64,
}

/// Compiles the conditions on rows.
pub fn filter(
    texts: &[String],
    known: &Columns,
    (config, ambient): (&Config, &Ambient),
) -> Result<Filter, Failure> {
    let setting = setting(config, ambient);
    let names = known.types();
    let compile = |text: &String| {
        Condition::compile(text, &names, &setting).map_err(|error| {
            let marked = error.marked().replace('\n', "\n  ");
            Failure::usage(format!("--where: {error}\n  {marked}"))
        })
    };
    let conditions = texts.iter().map(compile).collect::<Result<_, _>>()?;
    let places = known.0.iter().map(|(_, _, from)| *from).collect();
    Ok(Filter { conditions, places, ..Filter::default() })
}

impl Filter {
    /// Whether a row is written.
    pub fn keeps(&mut self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) -> bool {
        let places = &self.places;
        let mut column = |at: usize| places[at].item(row, so_far, buffer);
        for condition in &self.conditions {
            match condition.holds(&mut column) {
                Ok(true) => {}
                Ok(false) => {
                    self.left_out += 1;
                    return false;
                }
                Err(_) => {
                    self.unclear += 1;
                    return false;
                }
            }
        }
        true
    }
}

impl From {
    /// What stands there in a row.
    pub fn item(self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) -> Item {
        match self {
            From::Typed(at) => so_far.typed[at].clone(),
            From::Series(at) => so_far.series[at].clone(),
            From::Derived(at) => so_far.derived[at].clone(),
            From::Cell(index) => match row.cell(index, buffer) {
                Value::Missing | Value::Fault(_) => Item::Missing,
                Value::Typed(moment) => Item::Moment(moment),
                Value::Text(text) | Value::Number(text) if text.is_empty() => Item::Missing,
                Value::Text(text) | Value::Number(text) => Item::Text(text.to_owned()),
            },
        }
    }
}

/// What the cells of a column are that nothing reads: those of a workbook may have types.
fn typed_already(study: &Study, index: usize) -> Type {
    let studied = study.columns.iter().find(|column| column.index == index);
    let kind = studied
        .filter(|column| column.is_typed())
        .and_then(|column| column.inference.judgement.kind);
    kind.map_or(Type::Raw, Type::Of)
}

/// The moment that counts as now.
pub fn now(config: &Config, ambient: &Ambient) -> Timestamp {
    match config.as_of {
        Some(day) => jiff::tz::Offset::UTC.to_timestamp(day.at(0, 0, 0, 0)).unwrap_or(ambient.now),
        None => ambient.now,
    }
}

fn setting(config: &Config, ambient: &Ambient) -> Setting {
    let terms: Terms = config.terms();
    let now = now(config, ambient);
    let missing = Missing::usual().and(config.missing.iter());
    Setting { terms, missing, today: config.today, now }
}

/// What an outcome is to steps.
pub fn item(outcome: Outcome) -> Item {
    match outcome {
        Outcome::Read(fit) => Item::Moment(fit.moment),
        _ => Item::Missing,
    }
}

impl Derived {
    /// Whether only the whole table shows something that it needs.
    pub fn needs_facts(&self) -> bool {
        !self.facts.is_empty()
    }

    /// Whether its cells are text in every format, and not numbers or truths.
    pub fn is_bare(&self) -> bool {
        matches!(self.program.gives(), Type::Number | Type::Truth)
    }

    fn take(&mut self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) {
        self.row.clear();
        for from in &self.inputs {
            self.row.push(from.item(row, so_far, buffer));
        }
    }

    /// Looks at a row for what only the whole table shows.
    pub fn observe(&mut self, row: &Row<'_>, so_far: &SoFar<'_>, buffer: &mut String) {
        self.take(row, so_far, buffer);
        self.program.observe(&self.row, &mut self.facts);
    }

    /// Forgets what was counted.
    pub fn forget(&mut self) {
        (self.made, self.missing, self.unmade, self.notes) = (0, 0, 0, Notes::default());
    }

    /// What a row gives.
    pub fn make(
        &mut self,
        row: &Row<'_>,
        so_far: &SoFar<'_>,
        buffer: &mut String,
    ) -> Result<Item, Unmade> {
        self.take(row, so_far, buffer);
        let made = self.program.run(&self.row, &self.facts, &mut self.notes);
        match &made {
            Ok(Item::Missing) => self.missing += 1,
            Ok(_) => self.made += 1,
            Err(_) => self.unmade += 1,
        }
        made
    }

    /// The values that it was made from, for a report.
    pub fn inputs_text(&self) -> String {
        let texts: Vec<String> = self.row.iter().map(ToString::to_string).collect();
        texts.join("; ")
    }
}
