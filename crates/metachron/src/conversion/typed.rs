//! Columns that get a typed one beside them.

use metachron_core::apply::{Compiled, Outcome, Scratch};
use metachron_core::epoch::Number;
use metachron_core::reading::{Fit, Moved, RowPlace, Written, Zoning};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::value::Value;
use metachron_core::write::{Instants, Precision, cut, iso_at};
use metachron_core::zone::Clock;
use metachron_tables::deliver::{Cell, CellRows, Holds, OutputField};
use metachron_tables::header::free_name;

use super::tally::ColumnTally;
use crate::message::{Failure, name_is_taken};
use crate::survey::{SurveyedColumn, SurveyedTable};

/// A column that gets a typed one.
pub struct TypedColumn<'s> {
    pub source: &'s SurveyedColumn,
    pub compiled: &'s Compiled,
    pub name: String,
    /// The name of the column that tells the zones of its clock times, if there is one.
    pub zone_name: Option<String>,
    /// The name of the column that says why a cell is empty, if there is one.
    pub note_name: Option<String>,
    pub precision: Precision,
    /// How moments are shown, and by which clock, if that is another than where they were read.
    pub shown: (Instants, Option<Clock>),
}

/// The typed columns that a table gets; where those that the file has typed are to be looked at, these too.
pub fn typed_columns(
    table: &SurveyedTable,
    (shown, precision): ((Instants, Option<Clock>), Option<Precision>),
    notes: bool,
    includes_typed: bool,
) -> Result<Vec<TypedColumn<'_>>, Failure> {
    let mut names = table.intake.names().to_vec();
    let mut columns = Vec::new();
    let types_columns = table.intake.table.types_columns();
    for source in table.columns.iter().filter(|c| !c.is_left() && !c.is_open()) {
        if types_columns && source.is_typed() && !includes_typed {
            continue;
        }
        let Some(compiled) = &source.inference.compiled else { continue };
        let usual = format!("{}_typed", source.plan.name);
        let name = match source.plan.decisions.into.clone().filter(|into| *into != usual) {
            Some(into) if names.contains(&into) => return Err(name_is_taken("--into", &into)),
            Some(into) => into,
            None => free_name(&usual, |name| names.iter().any(|other| other == name)),
        };
        names.push(name.clone());
        let is_local = shown.0 == Instants::Local && compiled.reading().kind == Kind::Instant;
        let zone_name = is_local.then(|| {
            let wanted = format!("{}_zone", source.plan.name);
            free_name(&wanted, |name| names.iter().any(|other| other == name))
        });
        names.extend(zone_name.clone());
        let note_name = notes.then(|| {
            let wanted = format!("{}_note", source.plan.name);
            free_name(&wanted, |name| names.iter().any(|other| other == name))
        });
        names.extend(note_name.clone());
        columns.push(TypedColumn {
            source,
            compiled,
            name,
            zone_name,
            note_name,
            shown,
            precision: precision
                .unwrap_or(Precision::Second(source.inference.judgement.fraction_digits)),
        });
    }
    Ok(columns)
}

/// The name of a column whose typed values stand in the raw one's place: its own, if no other was said. The usual one
/// says nothing, whoever says it.
pub fn replaced_name<'c>(column: &'c TypedColumn<'_>) -> &'c str {
    let name = &column.source.plan.name;
    let said = column.source.plan.decisions.into.as_deref();
    said.filter(|into| **into != format!("{name}_typed")).unwrap_or(name)
}

impl TypedColumn<'_> {
    /// Whether the analyst has given several layouts.
    pub fn gives_layouts(&self) -> bool {
        let written = &self.source.plan.decisions.written;
        matches!(written, Some(Written::Layouts(layouts)) if layouts.len() > 1)
    }

    /// The names of the cells that it writes.
    pub fn names(&self, replaces: bool) -> Vec<String> {
        let own = if replaces { replaced_name(self) } else { &self.name };
        let beside = self.zone_name.iter().chain(&self.note_name).cloned();
        std::iter::once(own.to_owned()).chain(beside).collect()
    }

    /// How many cells it writes.
    pub fn width(&self) -> usize {
        1 + usize::from(self.zone_name.is_some()) + usize::from(self.note_name.is_some())
    }

    /// What a value is: what was said to be right, or else what the reader of this column reads.
    pub fn read<'v>(
        &self,
        reader: &mut Scratch<'_>,
        place: RowPlace<'v>,
        value: Value<'v>,
        right: Option<TypedValue>,
    ) -> Outcome {
        match right {
            Some(moment) => Outcome::Read(Fit::whole(moment, moment.fraction_digits())),
            None => reader.apply(place, value),
        }
    }

    /// Counts so many rows with a value, of which one stands here.
    pub fn count(
        &self,
        tally: &mut ColumnTally,
        (place, rows): (RowPlace<'_>, u64),
        value: Value<'_>,
        outcome: &Outcome,
    ) {
        tally.counts.rows += rows;
        let fit = match outcome {
            Outcome::Missing => return tally.counts.missing += rows,
            Outcome::Placeholder => return tally.counts.placeholder += rows,
            Outcome::Unreadable(_) => return tally.counts.unreadable += rows,
            Outcome::Contested(..) | Outcome::OfOtherRows(_) => {
                return tally.counts.contested += rows;
            }
            Outcome::Read(fit) => fit,
        };
        tally.counts.read += rows;
        if let Some(split) = &self.compiled.reading().split
            && let Some(order) = split.of(place).and_then(|layouts| layouts.first()?.order())
        {
            *tally.by_order.entry(order).or_default() += rows;
        }
        let rows_if = |holds: bool| if holds { rows } else { 0 };
        tally.leap_seconds += rows_if(fit.leap_second);
        let first = jiff::civil::date(1582, 10, 15);
        tally.long_ago += rows_if(fit.moment.date().is_some_and(|day| day < first));
        tally.skipped += rows_if(fit.moved == Some(Moved::Skipped));
        tally.repeated += rows_if(fit.moved == Some(Moved::Repeated));
        if let TypedValue::Instant(moment) = fit.moment {
            let shown = (self.shown.0 != Instants::Utc).then_some(self.shown.1).flatten();
            let mut clocks = [fit.stated.clock(), shown].into_iter().flatten();
            let merged = clocks.find_map(|clock| clock.merged_at(moment));
            merged.into_iter().for_each(|merged| tally.merged.count(merged, rows));
        }
        tally.cut += rows_if(cut(fit.moment, self.precision) != fit.moment);
        if let Some(serials) = self.compiled.reading().serials
            && let Value::Text(text) | Value::Number(text) = value
            && let Some(number) = Number::parse(text.trim())
        {
            let off = serials.epoch.give_or_take(number).unwrap_or(0);
            tally.give_or_take = tally.give_or_take.max(off);
        }
    }

    /// Where moments are shown, and how.
    fn clock(&self, fit: &Fit) -> (Instants, Clock) {
        let (instants, to) = self.shown;
        (instants, to.or(fit.stated.clock()).unwrap_or(Clock::UTC))
    }

    /// The clock whose days and hours are those of its moments: where they are shown, else where they were read; none is
    /// UTC.
    pub fn clock_of_days(&self) -> Option<Clock> {
        let said = match &self.compiled.reading().zoning {
            Some(Zoning::All(clock)) => Some(*clock),
            _ => None,
        };
        self.shown.1.or(said)
    }

    /// A value as its cell has it.
    pub fn text(&self, fit: &Fit) -> String {
        let mut cells = vec![String::new(); self.width()];
        self.spell(&Outcome::Read(*fit), "", &mut cells);
        cells.swap_remove(0)
    }

    /// Writes what a row has come to into its cells.
    pub fn spell(&self, outcome: &Outcome, code: &str, cells: &mut [String]) {
        let Outcome::Read(fit) = outcome else {
            if let (Some(_), [.., note]) = (&self.note_name, cells) {
                note.push_str(code);
            }
            return;
        };
        let (instants, clock) = self.clock(fit);
        if let [typed, beside @ ..] = cells {
            // Writing to a string cannot fail.
            let _ = iso_at(typed, fit.moment, self.precision, clock, instants);
            if let (Some(_), [zone, ..]) = (&self.zone_name, beside) {
                zone.push_str(&clock_name(clock));
            }
        }
    }

    /// The typed cells that a row has come to.
    pub fn values(&self, outcome: &Outcome, code: &str, cells: &mut CellRows) {
        let Outcome::Read(fit) = outcome else {
            cells.push(Cell::Missing);
            self.zone_name.iter().for_each(|_| cells.push(Cell::Missing));
            self.note_name.iter().for_each(|_| cells.push(Cell::of_text(code)));
            return;
        };
        let (_, clock) = self.clock(fit);
        let moment = match (fit.moment, &self.zone_name) {
            // Shown as a local time, with the zone in a column of its own.
            (TypedValue::Instant(instant), Some(_)) => {
                TypedValue::DateTime(clock.offset_at(instant).to_datetime(instant))
            }
            (moment, _) => moment,
        };
        cells.push(Cell::Typed(cut(moment, self.precision)));
        self.zone_name.iter().for_each(|_| cells.push(Cell::Text(&clock_name(clock))));
        self.note_name.iter().for_each(|_| cells.push(Cell::Missing));
    }

    /// What its typed column holds, for whoever writes it.
    pub fn field(&self, name: &str) -> OutputField {
        let kind = self.compiled.reading().kind;
        let kind = if self.zone_name.is_some() { Kind::DateTime } else { kind };
        let said = match &self.compiled.reading().zoning {
            Some(Zoning::All(clock)) => Some(clock_name(*clock)),
            _ => None,
        };
        let digits = match self.precision {
            Precision::Minute => 0,
            Precision::Second(digits) => digits,
        };
        let zone = self.shown.1.map(clock_name).or(said).filter(|_| kind == Kind::Instant);
        OutputField { holds: Holds::Of(kind), digits, zone, ..OutputField::text(name) }
    }
}

fn clock_name(clock: Clock) -> String {
    match clock {
        Clock::Zone(zone) => zone.current_name().to_owned(),
        fixed => fixed.to_string(),
    }
}
