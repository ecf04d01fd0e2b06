//! Compiled readings: what becomes of each row.

mod memory;
mod ops;
mod english;
mod kernel;
mod program;

use jiff::civil::{Date, DateTime};

use crate::layout::{Field, Layout};
use crate::order::Order;
use crate::reading::{
    Century, Contested, Fit, Folds, Reading, Repair, RowPlace, RowYear, Split, Stated, Terms,
    Unfit, Zoning,
};
use crate::text::{Missing, normalise};
use crate::typed::{Kind, TypedValue};
use crate::value::Value;
use crate::zone::{Clock, Zone};

use memory::Memory;
pub use program::LayoutProgram;

/// What becomes of one row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Outcome {
    /// It stands for nothing.
    Missing,
    /// It is a date only in form.
    Placeholder,
    /// It is read.
    Read(Fit),
    /// The reading does not fit it.
    Unreadable(Unfit),
    /// Two layouts of the reading take it for different moments.
    Contested(TypedValue, TypedValue),
    /// Only a layout of other rows fits it: it, or what tells the rows apart, is wrong.
    OfOtherRows(TypedValue),
}

/// A reading made ready to be applied to many rows.
///
/// ```
/// use metachron_core::apply::{Compiled, Outcome};
/// use metachron_core::layout::Layout;
/// use metachron_core::typed::Kind;
/// use metachron_core::reading::{Contested, Reading, Repair, Terms};
/// use metachron_core::text::Missing;
///
/// let reading = Reading {
///     kind: Kind::Date,
///     layouts: vec![Layout::parse("{day}/{month}/{year}").unwrap()],
///     terms: Terms::default(),
///     split: None,
///     serials: None,
///     years: None,
///     anchor: None,
///     repair: Repair::None,
///     zoning: None,
///     contested: Contested::Empty,
/// };
/// let compiled = Compiled::new(&reading, Missing::usual());
/// let mut scratch = compiled.scratch();
/// let Outcome::Read(fit) = scratch.apply(1, "3/4/2024") else { panic!() };
/// assert_eq!(fit.moment.to_string(), "2024-04-03");
/// ```
#[derive(Debug, Clone)]
pub struct Compiled {
    reading: Reading,
    programs: Vec<(LayoutProgram, Repair)>,
    /// Which of the programs are those of which rows.
    split: Option<Split<Vec<usize>>>,
    missing: Missing,
    folds: Option<Folds>,
}

impl Compiled {
    /// Compiles a reading.
    pub fn new(reading: &Reading, missing: Missing) -> Compiled {
        // What a program has written is repaired; what it left is still the source's own.
        let repair = |layout: &Layout| {
            let iso = layout.order() == Some(Order::Ymd) && layout.has(Field::Year);
            let named = layout.has(Field::MonthName) || layout.has(Field::MonthShort);
            let is_shown = match reading.repair {
                Repair::MonthYear | Repair::Swapped => true,
                _ => iso || named,
            };
            if layout.order().is_some() && is_shown { reading.repair } else { Repair::None }
        };
        let programs = reading
            .layouts
            .iter()
            .map(|layout| (LayoutProgram::new(layout), repair(layout)))
            .collect();
        let split = reading.split.as_ref().and_then(|split| split.places(&reading.layouts));
        Compiled { reading: reading.clone(), programs, split, missing, folds: None }
    }

    /// The same, with which rows of repeated hours are of their second time.
    #[must_use]
    pub fn knowing(self, folds: Folds) -> Compiled {
        Compiled { folds: Some(folds), ..self }
    }

    /// What one worker needs to apply it to many rows; it belongs to this reading and no other.
    pub fn scratch(&self) -> Scratch<'_> {
        Scratch { compiled: self, memory: Memory::default() }
    }

    /// What becomes of a single value at this place. The first row is 1.
    ///
    /// For many rows, [`Compiled::scratch`] is faster and gives the same.
    pub fn apply<'v>(
        &self,
        place: impl Into<RowPlace<'v>>,
        value: impl Into<Value<'v>>,
    ) -> Outcome {
        self.outcome(place.into(), value.into(), &mut Memory::none())
    }

    /// Whether a text is the same in every row.
    pub fn is_of_text_alone(&self) -> bool {
        let Reading { years, zoning, .. } = &self.reading;
        self.split.is_none()
            && self.folds.is_none()
            && years.is_none()
            && matches!(zoning, None | Some(Zoning::All(_)))
    }

    /// The reading it was made from.
    pub fn reading(&self) -> &Reading {
        &self.reading
    }

    fn outcome(&self, place: RowPlace<'_>, value: Value<'_>, memory: &mut Memory) -> Outcome {
        match self.read(place, value, memory) {
            Outcome::Read(fit) => {
                self.placed(fit, place, memory).map_or_else(Outcome::Unreadable, Outcome::Read)
            }
            other => other,
        }
    }

    fn clock(
        &self,
        place: RowPlace<'_>,
        value: Value<'_>,
        memory: &mut Memory,
    ) -> Option<(DateTime, Zone)> {
        let zoning = self.reading.zoning.as_ref()?;
        let Outcome::Read(fit) = self.read(place, value, memory) else { return None };
        let TypedValue::DateTime(clock) = fit.moment else { return None };
        let zones = self.reading.terms.zones;
        match memory.clock(place.zone, || zoning.clock(place, zones)) {
            Ok(Clock::Zone(zone)) => Some((clock, zone)),
            _ => None,
        }
    }

    /// A value as its text has it, wherever its clock stood.
    fn read(&self, place: RowPlace<'_>, value: Value<'_>, memory: &mut Memory) -> Outcome {
        let text = match value {
            Value::Text(text) | Value::Number(text) => text,
            Value::Missing => return Outcome::Missing,
            Value::Fault(fault, _) => return Outcome::Unreadable(Unfit::Fault(fault)),
            Value::Typed(moment) => return self.typed(moment),
        };
        let part = self.split.as_ref().and_then(|split| split.part_of(place));
        // The year of a row makes equal values different.
        if let Some(years) = &self.reading.years {
            let value = normalise(text, memory.buffer());
            return self.in_its_year(years.of_row(place.row), value, part);
        }
        let key = part.map_or(0, |part| part + 1);
        if let Some(outcome) = memory.recall(key, text) {
            return outcome;
        }
        let outcome = self.judge(normalise(text, memory.buffer()), self.reading.terms, part);
        memory.keep(key, text, outcome);
        outcome
    }

    /// A value in the year of its row, or in all years that it may be.
    fn in_its_year(&self, year: RowYear, value: &str, part: Option<usize>) -> Outcome {
        let read = |year| self.judge(value, Terms { year: Some(year), ..self.reading.terms }, part);
        let (year, beside) = match year {
            RowYear::Known(year) => return read(year),
            RowYear::Open(year) => (year, [year.saturating_add(1), year.saturating_sub(1)]),
        };
        let first = read(year);
        for other in beside.map(read) {
            match (first, other) {
                // A weekday may leave one of the years.
                (Outcome::Unreadable(_), Outcome::Read(_)) => return other,
                (Outcome::Read(a), Outcome::Read(b)) if a.moment != b.moment => {
                    return Outcome::Contested(a.moment, b.moment);
                }
                _ => {}
            }
        }
        first
    }

    /// A value that its file has typed: it is what it is, if the column is of its kind.
    fn typed(&self, moment: TypedValue) -> Outcome {
        let moment = repaired(moment, self.reading.repair, self.reading.terms.century);
        let moment = self.reading.anchor.map_or(moment, |anchor| moment.anchored(anchor));
        let (value, column) = (moment.kind(), self.reading.kind);
        let placed =
            value == Kind::DateTime && column == Kind::Instant && self.reading.zoning.is_some();
        if value != column && !placed {
            return Outcome::Unreadable(Unfit::OtherKind { value, column });
        }
        Outcome::Read(Fit::whole(moment, moment.fraction_digits()))
    }

    /// A reading has one kind, though a layout may have several.
    fn of_kind(&self, fit: Fit) -> Outcome {
        let fit = match self.reading.anchor {
            Some(anchor) => Fit { moment: fit.moment.anchored(anchor), ..fit },
            None => fit,
        };
        match (fit.moment.kind(), self.reading.kind) {
            _ if fit.yearless && self.reading.years.is_none() => Outcome::Unreadable(Unfit::NoYear),
            (value, column) if value == column => Outcome::Read(fit),
            (Kind::DateTime, Kind::Instant) if self.reading.zoning.is_some() => Outcome::Read(fit),
            (value, column) => Outcome::Unreadable(Unfit::OtherKind { value, column }),
        }
    }

    /// A clock time at its moment, where somebody has said where the clock stood; what the value says
    /// itself must agree.
    fn placed(&self, fit: Fit, place: RowPlace<'_>, memory: &mut Memory) -> Result<Fit, Unfit> {
        let Terms { zones, changes, .. } = self.reading.terms;
        let Some(zoning) = self.reading.zoning.as_ref() else { return fit.settled() };
        let mut at = || memory.clock(place.zone, || zoning.clock(place, zones));
        let (moment, moved, stated) = match (fit.moment, fit.stated) {
            (TypedValue::DateTime(clock), _) => {
                let at = at()?;
                let is_second = || self.folds.as_ref().and_then(|folds| folds.is_second(place.row));
                let (moment, moved) = changes.place_in_row(clock, at, is_second)?;
                (moment, moved, Stated::Clock(at))
            }
            (TypedValue::Instant(_), Stated::Abbreviation(name, clock)) => {
                let Clock::Zone(zone) = at()? else { return fit.settled() };
                match zone.place_called(clock, name.letters()) {
                    Some(moment) => (moment, None, Stated::Clock(Clock::Zone(zone))),
                    None if changes.offset_wins => return fit.settled(),
                    None => {
                        let there = zone.offset_at(changes.place(clock, Clock::Zone(zone))?.0);
                        return Err(Unfit::OtherAbbreviation { name, there });
                    }
                }
            }
            (TypedValue::Instant(moment), Stated::Offset(offset)) if !changes.offset_wins => {
                // A row that names no zone has its offset all the same.
                if let Ok(Clock::Zone(zone)) = at()
                    && let there = zone.offset_at(moment)
                    && there.seconds().abs_diff(offset.seconds()) >= 60
                {
                    return Err(Unfit::OffsetNotOfZone { zone, there });
                }
                return Ok(fit);
            }
            _ => return Ok(fit),
        };
        Ok(Fit { moment: TypedValue::Instant(moment), moved, stated, ..fit })
    }

    /// A number. In a column of clock times a whole day is its first moment; a fraction of a day alone
    /// is a time.
    fn counted(&self, read: Result<Fit, Unfit>) -> Outcome {
        let fit = match read {
            Ok(fit) => fit,
            Err(unfit) => return Outcome::Unreadable(unfit),
        };
        let moment = match (fit.moment, self.reading.kind) {
            (TypedValue::Date(date), Kind::DateTime | Kind::Instant) => {
                TypedValue::DateTime(date.at(0, 0, 0, 0))
            }
            (moment, _) => moment,
        };
        self.of_kind(Fit { moment, ..fit })
    }

    fn judge(&self, value: &str, terms: Terms, part: Option<usize>) -> Outcome {
        if self.missing.contains(value) {
            return Outcome::Missing;
        }
        let is_zero = || self.reading.serials.is_some_and(|s| s.is_placeholder(value));
        if self.missing.is_placeholder(value) || (!self.missing.keeps_placeholders() && is_zero()) {
            return Outcome::Placeholder;
        }
        if let Some(read) = self.reading.serials.and_then(|serials| serials.read(value)) {
            let Reading { repair, terms: Terms { century, .. }, .. } = self.reading;
            return self.counted(
                read.map(|fit| Fit { moment: repaired(fit.moment, repair, century), ..fit }),
            );
        }
        let own = self.split.as_ref().zip(part).and_then(|(split, part)| split.way(part));
        let is_own = |at: usize| own.is_none_or(|own| own.contains(&at));
        let mut found: Option<Fit> = None;
        let mut nearest = Unfit::Form;
        for (_, (program, repair)) in self.programs.iter().enumerate().filter(|(at, _)| is_own(*at))
        {
            let read = program.read(value, terms).map(|fit| match repair {
                Repair::None => fit,
                repair => Fit { moment: repaired(fit.moment, *repair, terms.century), ..fit },
            });
            match read {
                Ok(fit) => match found {
                    None if self.reading.contested == Contested::Prefer => {
                        return self.of_kind(fit);
                    }
                    None => found = Some(fit),
                    Some(first) if first.moment != fit.moment => {
                        return Outcome::Contested(first.moment, fit.moment);
                    }
                    Some(_) => {}
                },
                Err(unfit) if unfit.nearness() > nearest.nearness() => nearest = unfit,
                Err(_) => {}
            }
        }
        match found {
            Some(fit) => self.of_kind(fit),
            None if own.is_some() => self
                .programs
                .iter()
                .find_map(|(program, _)| program.read(value, terms).ok())
                .map_or(Outcome::Unreadable(nearest), |fit| Outcome::OfOtherRows(fit.moment)),
            None => Outcome::Unreadable(nearest),
        }
    }
}

/// One worker's way to apply a compiled reading: what it remembers is of this reading, and never changes a result.
#[derive(Debug)]
pub struct Scratch<'c> {
    compiled: &'c Compiled,
    memory: Memory,
}

impl<'c> Scratch<'c> {
    /// The same, which remembers no value: for those who do so themselves.
    #[must_use]
    pub fn forgetful(self) -> Scratch<'c> {
        Scratch { memory: Memory::none(), ..self }
    }

    /// The reading that is applied.
    pub fn reading(&self) -> &'c Reading {
        self.compiled.reading()
    }

    /// What becomes of a value at this place; the same whatever rows came before. The first row is 1.
    pub fn apply<'v>(
        &mut self,
        place: impl Into<RowPlace<'v>>,
        value: impl Into<Value<'v>>,
    ) -> Outcome {
        self.compiled.outcome(place.into(), value.into(), &mut self.memory)
    }

    /// What the clock of a row showed and in which zone, where it is a clock time alone; what
    /// [`FoldObserver`] wants to see.
    ///
    /// [`FoldObserver`]: crate::reading::FoldObserver
    pub fn clock<'v>(
        &mut self,
        place: RowPlace<'v>,
        value: impl Into<Value<'v>>,
    ) -> Option<(DateTime, Zone)> {
        self.compiled.clock(place, value.into(), &mut self.memory)
    }
}

/// What a date was before an import read it wrongly. What has no day was not read as one.
pub(crate) fn repaired(moment: TypedValue, repair: Repair, century: Century) -> TypedValue {
    match repair {
        _ if matches!(moment, TypedValue::Month(_) | TypedValue::Year(_)) => moment,
        Repair::HalfSwapped | Repair::Swapped => moment.exchanged(),
        Repair::MonthYear => match moment.date() {
            Some(date) => {
                let year = century.place(date.day().into());
                Date::new(year, date.month(), 1).map_or(moment, TypedValue::Month)
            }
            None => moment,
        },
        Repair::None => moment,
    }
}
