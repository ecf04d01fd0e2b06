//! What is added to a table: typed columns, derived ones, a stamp; and what a row comes to.

use std::fmt::Write;

use jiff::Timestamp;
use metachron_core::apply::Outcome;
use metachron_core::moment::{Kind, Moment};
use metachron_core::reading::Place;
use metachron_core::steps::{Item, Type, Unmade};
use metachron_core::value::Value;
use metachron_core::write::{Instants, basic, iso};
use metachron_core::zone::Clock;
use metachron_tables::deliver::{Cell, Field, Holds};
use metachron_tables::sink::{NewColumn, Target};
use metachron_tables::table::Row;

use super::derive::{Columns, Derived, Filter, SoFar, derived_columns, filter, item, now};
use super::fixes::Fixes;
use super::order::Order;
use super::rejects::{Reject, Rejects, code};
use super::series::{SeriesColumn, series_columns};
use super::study::{Studied, Study, beside};
use super::typed::{Typed, typed_columns};
use crate::ambient::Ambient;
use crate::args;
use crate::config::Config;
use crate::intake::Intake;
use crate::message::{Failure, quoted};

/// What is added to a table, and which of its rows are written.
pub struct Additions<'s> {
    pub columns: Vec<Typed<'s>>,
    pub series: Vec<SeriesColumn>,
    pub derived: Vec<Derived>,
    pub filter: Filter,
    /// Right answers for single cells.
    fixes: Fixes,
    /// How moments are shown, and by which clock.
    pub form: (Instants, Option<Clock>),
    /// The kinds of the new cells where texts have the basic format of ISO 8601; none where they do not.
    basic: Option<Vec<Option<Kind>>>,
    /// The order in which rows are written, if that is another than theirs.
    pub order: Option<Order>,
    /// A column with the moment of this run.
    stamp: Option<(String, Timestamp)>,
}

impl<'s> Additions<'s> {
    /// What is to be added to a table that was looked at; moments are shown in this form.
    pub fn of(
        study: &'s Study,
        convert: &args::Convert,
        form: (Instants, Option<Clock>),
        (config, ambient): (&Config, &Ambient),
    ) -> Result<Additions<'s>, Failure> {
        let columns = typed_columns(study, form, convert.precision.fixed(), convert.note_column);
        let fixes = match &convert.fixes {
            Some(path) => Fixes::read(path, &study.intake, &columns)?,
            None => Fixes::default(),
        };
        let series = series_columns(convert, study)?;
        let mut known = Columns::of(study, &columns, &series);
        let derived = derived_columns(&mut known, &columns, config, ambient)?;
        let filter = filter(&convert.conditions, &known, (config, ambient))?;
        let order = Order::by(&convert.sort_by, &known, study)?;
        let stamp = convert.stamp.clone().map(|name| (name, stamp(now(config, ambient))));
        if let Some((name, _)) = &stamp
            && (study.intake.names().contains(name)
                || columns.iter().any(|column| column.names(false).contains(name))
                || series.iter().any(|own| own.name == *name)
                || derived.iter().any(|own| own.name == *name))
        {
            return Err(Failure::usage(format!(
                "--stamp {}: there is a column of that name",
                quoted(name)
            )));
        }
        let mut all =
            Additions { columns, series, derived, filter, fixes, form, basic: None, order, stamp };
        all.basic = (convert.iso_form == args::IsoForm::Basic).then(|| all.kinds());
        Ok(all)
    }

    /// Whether there is nothing to add.
    pub fn is_empty(&self) -> bool {
        self.columns.is_empty()
            && self.series.is_empty()
            && self.derived.is_empty()
            && self.stamp.is_none()
    }

    /// The new columns of a table that has so many of its own.
    pub fn new_columns(&self, target: Target, width: usize, replaces: bool) -> Vec<NewColumn> {
        let mut new = Vec::new();
        for column in &self.columns {
            for (at, name) in column.names(replaces).into_iter().enumerate() {
                let (beside, replaces) = (column.studied.index, replaces && at == 0);
                new.push(NewColumn { beside, name, replaces, is_bare: false });
            }
        }
        let last = width.saturating_sub(1);
        for own in &self.series {
            let beside = if target == Target::Json { 0 } else { last };
            let name = own.name.clone();
            new.push(NewColumn { beside, name, replaces: false, is_bare: false });
        }
        for own in &self.derived {
            // Objects have no end that would be the same in every row.
            let beside = if target == Target::Json { own.beside } else { last };
            let (name, is_bare) = (own.name.clone(), own.is_bare());
            new.push(NewColumn { beside, name, replaces: false, is_bare });
        }
        let stamp = self.stamp.iter().map(|(name, _)| name.clone());
        let stamp =
            stamp.map(|name| NewColumn { beside: last, name, replaces: false, is_bare: false });
        new.extend(stamp);
        new
    }

    /// What the new columns hold, in the same order.
    pub fn fields(&self, replaces: bool) -> Vec<Field> {
        let mut fields = Vec::new();
        for column in &self.columns {
            for (at, name) in column.names(replaces).iter().enumerate() {
                fields.push(if at == 0 { column.field(name) } else { Field::text(name) });
            }
        }
        let of = |name: &str, holds: Type, whole: bool| {
            let holds = match holds {
                Type::Of(kind) => Holds::Of(kind),
                Type::Zoned => Holds::Of(Kind::Instant),
                Type::Number if whole => Holds::Whole,
                Type::Number => Holds::Number,
                Type::Truth => Holds::Truth,
                Type::Text | Type::Span(_) | Type::Raw => Holds::Text,
            };
            // Nobody has seen how fine derived times are.
            let timed = [Kind::Time, Kind::DateTime, Kind::Instant, Kind::Duration];
            let digits = if timed.iter().any(|kind| holds == Holds::Of(*kind)) { 6 } else { 0 };
            Field { name: name.to_owned(), holds, digits, zone: None }
        };
        fields.extend(self.series.iter().map(|own| of(&own.name, own.gives(), false)));
        fields.extend(
            self.derived
                .iter()
                .map(|own| of(&own.name, own.program.gives(), own.program.gives_whole_numbers())),
        );
        let stamp = self.stamp.iter();
        fields.extend(stamp.map(|(name, _)| Field {
            name: name.clone(),
            holds: Holds::Of(Kind::Instant),
            digits: 0,
            zone: None,
        }));
        fields
    }

    /// Whether texts have the basic format of ISO 8601.
    pub fn is_basic(&self) -> bool {
        self.basic.is_some()
    }

    /// The kinds of the new cells, in their order; none for those that are no moments.
    fn kinds(&self) -> Vec<Option<Kind>> {
        let mut kinds = Vec::new();
        for column in &self.columns {
            kinds.push(Some(column.compiled.reading().kind));
            kinds.extend((1..column.width()).map(|_| None));
        }
        let of = |gives: Type| match gives {
            Type::Of(kind) => Some(kind),
            Type::Zoned => Some(Kind::Instant),
            _ => None,
        };
        kinds.extend(self.series.iter().map(|own| of(own.gives())));
        kinds.extend(self.derived.iter().map(|own| of(own.program.gives())));
        kinds.extend(self.stamp.iter().map(|_| Some(Kind::Instant)));
        kinds
    }

    /// A pass for what only the whole table shows.
    pub fn gather_facts(&mut self, intake: &Intake) -> Result<(), Failure> {
        // A fact may be about what was derived with the help of another one: those come first.
        for at in 0..self.derived.len() {
            if !self.derived[at].needs_facts() {
                continue;
            }
            let (before, rest) = self.derived.split_at_mut(at);
            let mut work = RowWork::default();
            intake.each_row(|number, row| {
                work.read(&mut self.columns, &self.fixes, number, row);
                work.go_on(&mut self.series, row);
                work.make(before, row);
                if let Some(own) = rest.first_mut() {
                    own.observe(row, &work.items.so_far(), &mut work.buffers.cell);
                }
                Ok(())
            })?;
            before.iter_mut().for_each(Derived::forget);
            self.series.iter_mut().for_each(SeriesColumn::restart);
        }
        Ok(())
    }
}

/// A moment to the second.
fn stamp(now: Timestamp) -> Timestamp {
    Timestamp::from_second(now.as_second()).unwrap_or(now)
}

fn moment_text(cell: &mut String, now: Timestamp) {
    // Writing to a string cannot fail.
    let _ = iso(cell, Moment::Instant(now), 0);
}

/// What the columns of a row are.
#[derive(Default)]
struct Items {
    typed: Vec<Item>,
    series: Vec<Item>,
    derived: Vec<Item>,
}

impl Items {
    fn so_far(&self) -> SoFar<'_> {
        SoFar { typed: &self.typed, series: &self.series, derived: &self.derived }
    }
}

/// Texts of cells.
#[derive(Default)]
struct Buffers {
    cell: String,
    beside: String,
    zone: String,
}

impl Buffers {
    /// The cell of a column, and what its row says of how it is read.
    fn cell<'b>(
        &'b mut self,
        column: &Typed<'_>,
        row_number: u64,
        row: &'b Row<'_>,
    ) -> (Place<'b>, Value<'b>) {
        let Studied { index, beside: told_at, zone_at, .. } = column.studied;
        let told = told_at.map_or("", |at| beside(row.cell(at, &mut self.beside)));
        let zone = zone_at.map_or("", |at| beside(row.cell(at, &mut self.zone)));
        let place = Place { row: row_number, beside: told, zone };
        (place, row.cell(*index, &mut self.cell))
    }
}

/// What a row comes to; used again for the next one.
#[derive(Default)]
pub struct RowWork {
    buffers: Buffers,
    items: Items,
    outcomes: Vec<Outcome>,
    /// Why cells are empty, where that is to be noted.
    codes: Vec<&'static str>,
    /// Columns that could not be made, each with what it was made from and why.
    unmade: Vec<(String, String, Unmade)>,
    /// Where the row goes, if rows are sorted.
    key: Vec<u8>,
    /// The texts of the new cells.
    cells: Vec<String>,
}

impl RowWork {
    /// What a row comes to, counted; false if it is not to be written.
    pub fn take(&mut self, all: &mut Additions<'_>, number: u64, row: &Row<'_>) -> bool {
        self.items.typed.clear();
        self.outcomes.clear();
        self.codes.clear();
        for (at, column) in all.columns.iter_mut().enumerate() {
            let (place, value) = self.buffers.cell(column, number, row);
            let right = all.fixes.of(at, number, &value);
            let outcome = column.apply(place, value, right);
            let noted = column.note_name.is_some();
            let kind = column.compiled.reading().kind;
            self.codes.push(if noted { code(&outcome, &value, kind) } else { "" });
            self.items.typed.push(item(outcome));
            self.outcomes.push(outcome);
        }
        self.go_on(&mut all.series, row);
        self.make(&mut all.derived, row);
        all.filter.keeps(row, &self.items.so_far(), &mut self.buffers.cell)
    }

    /// The texts of the new cells of the last row.
    pub fn texts(&mut self, all: &Additions<'_>) -> &[String] {
        let typed: usize = all.columns.iter().map(Typed::width).sum();
        let width = typed + all.series.len() + all.derived.len() + usize::from(all.stamp.is_some());
        self.cells.resize(width, String::new());
        self.cells.iter_mut().for_each(String::clear);
        let mut cells = self.cells.as_mut_slice();
        for ((column, outcome), code) in all.columns.iter().zip(&self.outcomes).zip(&self.codes) {
            let (own, others) = std::mem::take(&mut cells).split_at_mut(column.width());
            cells = others;
            column.spell(outcome, code, own);
        }
        let made = self.items.series.iter().chain(&self.items.derived);
        for (made, cell) in made.zip(&mut self.cells[typed..]) {
            // Writing to a string cannot fail.
            let _ = write!(cell, "{made}");
        }
        if let (Some((_, moment)), Some(cell)) = (&all.stamp, self.cells.last_mut()) {
            moment_text(cell, *moment);
        }
        for (cell, kind) in self.cells.iter_mut().zip(all.basic.iter().flatten()) {
            if let Some(kind) = kind {
                *cell = basic(cell, *kind);
            }
        }
        &self.cells
    }

    /// The new cells of the last row, typed.
    pub fn values(&self, all: &Additions<'_>) -> Vec<Cell> {
        let mut cells = Vec::new();
        for ((column, outcome), code) in all.columns.iter().zip(&self.outcomes).zip(&self.codes) {
            column.values(outcome, code, &mut cells);
        }
        let made = self.items.series.iter().chain(&self.items.derived);
        cells.extend(made.map(|item| match item {
            Item::Missing => Cell::Missing,
            Item::Moment(moment) => Cell::Moment(*moment),
            Item::Zoned(moment, _) => Cell::Moment(Moment::Instant(*moment)),
            Item::Number(number) => Cell::Number(number.to_string()),
            Item::Truth(truth) => Cell::Truth(*truth),
            Item::Text(text) => Cell::of_text(text),
            Item::Span(..) => Cell::Text(item.to_string()),
        }));
        cells.extend(all.stamp.iter().map(|(_, now)| Cell::Moment(Moment::Instant(*now))));
        cells
    }

    /// Where the last row goes.
    pub fn key(&mut self, order: &Order, row: &Row<'_>) -> &[u8] {
        self.key.clear();
        order.key(row, &self.items.so_far(), &mut self.buffers.cell, &mut self.key);
        &self.key
    }

    /// Lists the cells of the last row that are not what they should be; whether one could not be read or
    /// made.
    pub fn reject(
        &mut self,
        all: &Additions<'_>,
        number: u64,
        row: &Row<'_>,
        mut rejects: Option<&mut Rejects<'_>>,
    ) -> Result<bool, Failure> {
        let mut unread = !self.unmade.is_empty();
        for (column, outcome) in all.columns.iter().zip(&self.outcomes) {
            if matches!(outcome, Outcome::Read(_) | Outcome::Missing) {
                continue;
            }
            unread |= *outcome != Outcome::Placeholder;
            if let Some(rejects) = &mut rejects {
                let (_, value) = self.buffers.cell(column, number, row);
                let kind = column.compiled.reading().kind;
                let (column, outcome) = (&column.studied.name, *outcome);
                rejects.push(&Reject { row: number, raw: row, column, value, kind, outcome })?;
            }
        }
        if let Some(rejects) = &mut rejects {
            for (name, inputs, why) in &self.unmade {
                rejects.push_unmade(number, row, name, inputs, why)?;
            }
        }
        Ok(unread)
    }

    /// Reads the typed columns and nothing else.
    fn read(&mut self, columns: &mut [Typed<'_>], fixes: &Fixes, number: u64, row: &Row<'_>) {
        self.items.typed.clear();
        for (at, column) in columns.iter_mut().enumerate() {
            let (place, value) = self.buffers.cell(column, number, row);
            let right = fixes.of(at, number, &value);
            let outcome = column.read(place, value, right);
            self.items.typed.push(item(outcome));
        }
    }

    /// The next values of series.
    fn go_on(&mut self, series: &mut [SeriesColumn], row: &Row<'_>) {
        self.items.series.clear();
        self.unmade.clear();
        for own in series {
            let next = own.next(row, &mut self.buffers.cell).unwrap_or_else(|why| {
                self.unmade.push((own.name.clone(), String::new(), why));
                Item::Missing
            });
            self.items.series.push(next);
        }
    }

    /// Makes derived columns of what was read, each with the help of those before it.
    fn make(&mut self, derived: &mut [Derived], row: &Row<'_>) {
        self.items.derived.clear();
        for own in derived {
            let made = own.make(row, &self.items.so_far(), &mut self.buffers.cell);
            let made = made.unwrap_or_else(|why| {
                self.unmade.push((own.name.clone(), own.inputs_text(), why));
                Item::Missing
            });
            self.items.derived.push(made);
        }
    }
}
