//! What is added to a table: typed columns, made ones, a stamp. Fixed before the first row is converted.

use jiff::Timestamp;
use metachron_core::steps::Type;
use metachron_core::typed::Kind;
use metachron_core::write::Instants;
use metachron_core::zone::Clock;
use metachron_tables::deliver::{Field, Holds};
use metachron_tables::sink::{NewColumn, Target};

use super::fixes::Fixes;
use super::made::{Columns, Filter, MadeProgram, filter, made_columns};
use super::series::{SeriesColumn, series_columns};
use super::sorting::Sorting;
use super::tally::{ColumnTally, ConversionTally, MadeTally, SeriesTally};
use super::typed::{TypedColumn, typed_columns};
use crate::ambient::Ambient;
use crate::args;
use crate::choices::Choices;
use crate::message::{Failure, quoted};
use crate::survey::SurveyedTable;

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
}

impl<'s> ConversionPlan<'s> {
    /// What is to be added to a table that was looked at; moments are shown in this form.
    pub fn of(
        table: &'s SurveyedTable,
        convert: &args::Convert,
        form: (Instants, Option<Clock>),
        (choices, ambient): (&Choices, &Ambient),
    ) -> Result<ConversionPlan<'s>, Failure> {
        let columns = typed_columns(table, form, convert.precision.fixed(), convert.note_column);
        let fixes = match &convert.fixes {
            Some(path) => Fixes::read(path, &table.intake, &columns)?,
            None => Fixes::default(),
        };
        let series = series_columns(convert, table)?;
        let mut known = Columns::of(table, &columns, &series);
        let made = made_columns(&mut known, &columns, choices, ambient)?;
        let filter = filter(&convert.conditions, &known, (choices, ambient))?;
        let sorting = Sorting::by(&convert.sort_by, &known, table)?;
        let stamp = convert.stamp.clone().map(|name| (name, stamp(choices.now(ambient))));
        if let Some((name, _)) = &stamp
            && (table.intake.names().contains(name)
                || columns.iter().any(|column| column.names(false).contains(name))
                || series.iter().any(|own| own.name == *name)
                || made.iter().any(|own| own.name == *name))
        {
            return Err(Failure::usage(format!(
                "--stamp {}: there is a column of that name",
                quoted(name)
            )));
        }
        let mut all = ConversionPlan {
            columns,
            series,
            made,
            filter,
            fixes,
            form,
            basic: None,
            sorting,
            stamp,
        };
        all.basic = (convert.iso_form == args::IsoForm::Basic).then(|| all.kinds());
        Ok(all)
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
        let mut new = Vec::new();
        for column in &self.columns {
            for (at, name) in column.names(replaces).into_iter().enumerate() {
                let (beside, replaces) = (column.source.plan.index, replaces && at == 0);
                new.push(NewColumn { beside, name, replaces, is_bare: false });
            }
        }
        let last = width.saturating_sub(1);
        for own in &self.series {
            let beside = if target == Target::Json { 0 } else { last };
            let name = own.name.clone();
            new.push(NewColumn { beside, name, replaces: false, is_bare: false });
        }
        for own in &self.made {
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
            // Nobody has seen how fine made times are.
            let timed = [Kind::Time, Kind::DateTime, Kind::Instant, Kind::Duration];
            let digits = if timed.iter().any(|kind| holds == Holds::Of(*kind)) { 6 } else { 0 };
            Field { name: name.to_owned(), holds, digits, zone: None }
        };
        fields.extend(self.series.iter().map(|own| of(&own.name, own.gives(), false)));
        fields.extend(
            self.made
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
        kinds.extend(self.made.iter().map(|own| of(own.program.gives())));
        kinds.extend(self.stamp.iter().map(|_| Some(Kind::Instant)));
        kinds
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

/// A moment to the second.
fn stamp(now: Timestamp) -> Timestamp {
    Timestamp::from_second(now.as_second()).unwrap_or(now)
}
