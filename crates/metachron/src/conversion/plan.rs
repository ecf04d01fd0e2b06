//! What is added to a table: typed columns, made ones, a stamp. Fixed before the first row is converted.

use std::path::Path;

use jiff::Timestamp;
use metachron_core::steps::Type;
use metachron_core::typed::Kind;
use metachron_core::write::{Instants, Precision};
use metachron_core::zone::Clock;
use metachron_tables::deliver::{Holds, OutputField};
use metachron_tables::sink::{NewColumn, Target};

use super::came_out::SampledRows;
use super::fixes::Fixes;
use super::made::{Filter, KnownColumns, MadeProgram, filter, made_columns};
use super::series::{SeriesColumn, series_columns};
use super::sorting::Sorting;
use super::tally::{ColumnTally, ConversionTally, MadeTally, SeriesTally};
use super::typed::{TypedColumn, typed_columns};
use crate::ambient::Ambient;
use crate::args::FixesBy;
use crate::choices::Choices;
use crate::message::{Failure, name_is_taken};
use crate::survey::SurveyedTable;

/// How typed columns are written, and what else is added.
#[derive(Default)]
pub struct ConversionOptions<'o> {
    /// How moments are shown, and by which clock.
    pub form: (Instants, Option<Clock>),
    /// How fine times are written, if that is said.
    pub precision: Option<Precision>,
    /// Whether each typed column has one beside it that says why a cell is empty.
    pub has_notes: bool,
    /// The file with right answers for single cells.
    pub fixes: Option<(&'o Path, FixesBy)>,
    /// The name of a column with the moment of this run.
    pub stamp: Option<&'o str>,
    /// Whether texts have the basic format of ISO 8601.
    pub is_basic: bool,
    /// Whether it is counted why cells are empty.
    pub counts_reasons: bool,
    /// Whether it is looked at what came out, and how closely.
    pub looks: Option<Looks>,
    /// Whether columns that the file has typed get a typed one too, to be looked at.
    pub includes_typed: bool,
}

/// How closely it is looked at what came out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Looks {
    /// How values lie in time, and an example of each written form.
    Briefly,
    /// More examples too.
    Closely,
}

/// What is added to a table, and which of its rows are written.
pub struct ConversionPlan<'s> {
    pub columns: Vec<TypedColumn<'s>>,
    pub series: Vec<SeriesColumn>,
    pub made: Vec<MadeProgram>,
    pub(super) filter: Filter,
    /// Right answers for single cells.
    pub(super) fixes: Fixes,
    /// How moments are shown, and by which clock.
    pub(super) form: (Instants, Option<Clock>),
    /// The kinds of the new cells where texts have the basic format of ISO 8601; none where they do not.
    pub(super) basic: Option<Vec<Option<Kind>>>,
    /// The order in which rows are written, if that is another than theirs.
    pub sorting: Option<Sorting>,
    /// A column with the moment of this run.
    pub(super) stamp: Option<(String, Timestamp)>,
    /// Whether it is counted why cells are empty.
    pub(super) counts_reasons: bool,
    /// The rows of each typed column that are shown as examples, where it is looked at what came out.
    pub(super) samples: Option<Vec<SampledRows>>,
}

impl<'s> ConversionPlan<'s> {
    /// What is to be added to a table that was looked at; moments are shown in this form.
    pub fn of(
        table: &'s SurveyedTable,
        options: &ConversionOptions<'_>,
        (choices, ambient): (&Choices, &Ambient),
    ) -> Result<ConversionPlan<'s>, Failure> {
        let columns = typed_columns(
            table,
            (options.form, options.precision),
            options.has_notes,
            options.includes_typed,
        )?;
        let fixes = match options.fixes {
            Some(fixes) => Fixes::read(fixes, &table.intake, &columns)?,
            None => Fixes::default(),
        };
        let series = series_columns(choices, table)?;
        let mut known = KnownColumns::of(table, &columns, &series);
        let made = made_columns(&mut known, &columns, choices, ambient)?;
        let filter = filter(&choices.shaping.conditions, &known, (choices, ambient))?;
        let sorting = Sorting::by(&choices.shaping.sort_by, &known, table)?;
        let stamp = options.stamp.map(|name| (name.to_owned(), stamp(choices.now(ambient))));
        if let Some((name, _)) = &stamp
            && (table.intake.names().contains(name)
                || columns.iter().any(|column| column.names(false).contains(name))
                || series.iter().any(|own| own.name == *name)
                || made.iter().any(|own| own.name == *name))
        {
            return Err(name_is_taken("--stamp", name));
        }
        let mut all = ConversionPlan {
            columns,
            series,
            made,
            filter,
            fixes,
            form: options.form,
            basic: None,
            sorting,
            stamp,
            counts_reasons: options.counts_reasons,
            samples: None,
        };
        all.samples = options.looks.map(|looks| {
            let shapes = all.columns.iter().map(|column| &column.source.evidence.shapes);
            shapes.map(|shapes| SampledRows::of(shapes, looks == Looks::Closely)).collect()
        });
        let kind = |field: &OutputField| match field.holds {
            Holds::Of(kind) => Some(kind),
            _ => None,
        };
        all.basic = options.is_basic.then(|| all.fields(false).iter().map(kind).collect());
        Ok(all)
    }

    /// Looks no more at what comes out.
    pub fn look_away(&mut self) {
        self.samples = None;
    }

    /// Whether there is nothing to add.
    pub fn is_empty(&self) -> bool {
        self.columns.is_empty()
            && self.series.is_empty()
            && self.made.is_empty()
            && self.stamp.is_none()
    }

    /// The new columns of a table that has so many of its own.
    pub fn new_columns(&self, target: Target, width: usize, replaces: bool) -> Vec<NewColumn> {
        let last = width.saturating_sub(1);
        // Objects have no end that would be the same in every row.
        let behind = |beside: usize| if matches!(target, Target::Json(_)) { beside } else { last };
        let typed = self.columns.iter().flat_map(|column| {
            let beside = column.source.plan.index;
            (0..column.width()).map(move |at| (beside, replaces && at == 0))
        });
        let series = self.series.iter().map(|_| (behind(0), false));
        let made = self.made.iter().map(|own| (behind(own.beside), false));
        let stamp = self.stamp.iter().map(|_| (last, false));
        let places = typed.chain(series).chain(made).chain(stamp);
        let new = places.zip(self.fields(replaces));
        new.map(|((beside, replaces), OutputField { name, holds, .. })| {
            let is_bare = matches!(holds, Holds::Whole | Holds::Number | Holds::Truth);
            NewColumn { beside, name, replaces, is_bare }
        })
        .collect()
    }

    /// What the new columns hold, in the same order.
    pub fn fields(&self, replaces: bool) -> Vec<OutputField> {
        let mut fields = Vec::new();
        for column in &self.columns {
            let names = column.names(replaces).into_iter().enumerate();
            fields.extend(names.map(|(at, name)| match at {
                0 => column.field(&name),
                _ => OutputField::text(&name),
            }));
        }
        fields.extend(self.series.iter().map(|own| field(&own.name, own.gives(), false)));
        fields.extend(self.made.iter().map(|MadeProgram { name, program, .. }| {
            field(name, program.gives(), program.gives_whole_numbers())
        }));
        let stamp = self.stamp.iter().map(|(name, _)| field(name, Type::Of(Kind::Instant), false));
        // A moment to the second.
        fields.extend(stamp.map(|field| OutputField { digits: 0, ..field }));
        fields
    }

    /// Whether a typed or made column holds instants.
    pub fn holds_moments(&self) -> bool {
        let typed = self.columns.iter().any(|own| own.compiled.reading().kind == Kind::Instant);
        let is_moment = |of: Type| matches!(of, Type::Of(Kind::Instant) | Type::Zoned);
        typed
            || self.made.iter().any(|own| is_moment(own.program.gives()))
            || self.series.iter().any(|own| is_moment(own.gives()))
    }

    /// Whether texts have the basic format of ISO 8601.
    pub fn is_basic(&self) -> bool {
        self.basic.is_some()
    }

    /// The tally of no rows.
    pub fn tally(&self) -> ConversionTally {
        ConversionTally {
            columns: vec![ColumnTally::default(); self.columns.len()],
            series: vec![SeriesTally::default(); self.series.len()],
            made: vec![MadeTally::default(); self.made.len()],
            ..ConversionTally::default()
        }
    }
}

/// What a column holds that is made by steps; `whole` tells whether its numbers are.
fn field(name: &str, gives: Type, whole: bool) -> OutputField {
    let holds = match gives {
        Type::Of(kind) => Holds::Of(kind),
        Type::Zoned => Holds::Of(Kind::Instant),
        Type::Number if whole => Holds::Whole,
        Type::Number => Holds::Number,
        Type::Truth => Holds::Truth,
        Type::Text | Type::Span(_) | Type::Raw => Holds::Text,
    };
    // How fine made times are shows only once they are made: microseconds hold what steps give.
    let timed = [Kind::Time, Kind::DateTime, Kind::Instant, Kind::Duration];
    let digits = if timed.iter().any(|kind| holds == Holds::Of(*kind)) { 6 } else { 0 };
    OutputField { holds, digits, ..OutputField::text(name) }
}

/// A moment to the second.
fn stamp(now: Timestamp) -> Timestamp {
    Timestamp::from_second(now.as_second()).unwrap_or(now)
}
