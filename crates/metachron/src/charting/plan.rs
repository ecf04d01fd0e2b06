//! What is to be drawn, and how the rows along the axis are counted.

use metachron_core::charting::Labels;
use metachron_core::counting::{Per, Slot};
use metachron_core::duration::DAY;
use metachron_core::named::Named;
use metachron_core::timeline::{Step, clock_at, place};
use metachron_core::typed::Kind;
use metachron_core::zone::Clock;

use crate::counting::too_many;
use crate::message::{Failure, quoted};

/// Columns of pixels that a plot has.
pub const PIXELS: usize = 1_130;

/// What is to be drawn.
#[derive(Debug, Clone, Copy)]
pub struct ChartPlan<'a> {
    /// The column that gives the axis of time.
    pub column: &'a str,
    /// The column of numbers or lengths of time; none counts rows.
    pub value: Option<&'a str>,
    /// The column whose values are told apart.
    pub by: Option<&'a str>,
    /// Per what rows are counted; none is what fits.
    pub per: Option<Per>,
    /// Periods whose bars are told apart.
    pub most_bars: u64,
    /// From one tick to the next; none is what fits.
    pub step: Option<Step>,
    /// The clock by which moments are drawn.
    pub clock: Option<Clock>,
    /// Whether it was said for the drawing alone.
    pub is_shown: bool,
    /// How days and months are called, if that is said; else as in English.
    pub labels: Option<Labels>,
}

/// How rows are counted along the axis.
#[derive(Clone, Copy)]
pub enum Bins {
    /// By periods of the calendar.
    Per(Per),
    /// By steps of so many nanoseconds.
    Nanos(i128),
}

impl Bins {
    /// From where to where the bin of a place reaches.
    pub fn around(self, at: i128) -> Option<(i128, i128)> {
        match self {
            Bins::Nanos(step) => {
                let from = at.div_euclid(step) * step;
                Some((from, from + step))
            }
            Bins::Per(per) => {
                let slot = per.slot_of(clock_at(at)?);
                let place_of = |slot: Slot| slot.value().map(place);
                place_of(slot).zip(place_of(slot.next()))
            }
        }
    }
}

impl Bins {
    /// How rows are counted: per period of the calendar, or by steps of times and lengths.
    ///
    /// # Errors
    /// The period cannot be told, or there are too many.
    pub fn of(
        asked: &ChartPlan<'_>,
        kind: Kind,
        (from, to): (i128, i128),
    ) -> Result<Bins, Failure> {
        let periods = |per: Per| {
            let ends = clock_at(from).zip(clock_at(to));
            ends.map_or(u64::MAX, |(from, to)| per.slot_of(from).through(per.slot_of(to)))
        };
        if matches!(kind, Kind::Time | Kind::Duration) {
            if let Some(per) = asked.per {
                return Err(Failure::usage(format!(
                    "--per {} has no effect: each value of {} is {}",
                    per.name(),
                    quoted(asked.column),
                    kind.phrase()
                )));
            }
            const MINUTE: i128 = 60_000_000_000;
            let steps = [1, 5, 15, 30].map(|own| own * MINUTE / 60).into_iter();
            let steps = steps.chain([1, 5, 15, 30, 60, 180, 360, 720].map(|own| own * MINUTE));
            let steps = steps.chain([1, 7, 30, 90, 365, 3_650].map(|days| days * i128::from(DAY)));
            // Times of day have a day before them.
            let length = if kind == Kind::Time { i128::from(DAY) } else { to - from };
            let fits = |step: &i128| length / step <= 60;
            return Ok(Bins::Nanos(steps.into_iter().find(fits).unwrap_or(length.max(1))));
        }
        let per = match asked.per {
            Some(per) if !per.is_told_by(kind) || !per.follows() => {
                return Err(Failure::usage(format!(
                    "a chart of {} has no {}; --per may be {}",
                    quoted(asked.column),
                    per.name(),
                    Per::all()
                        .filter(|per| per.follows() && per.is_told_by(kind))
                        .map(Named::name)
                        .collect::<Vec<_>>()
                        .join(", ")
                )));
            }
            Some(per) if periods(per) > PIXELS as u64 => {
                return Err(too_many(periods(per), per));
            }
            Some(per) => per,
            None => {
                let possible = || Per::all().filter(|per| per.follows() && per.is_told_by(kind));
                let fits = possible().find(|per| periods(*per) <= asked.most_bars);
                fits.or(possible().last()).unwrap_or(Per::Year)
            }
        };
        Ok(Bins::Per(per))
    }
}
