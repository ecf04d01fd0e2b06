//! Runs steps on the values of a row.

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::Offset;
use jiff::{Span, Timestamp};

use super::compile::{Fact, Other, Program, StepOp};
use super::item::{Item, Unmade};
use super::notes::{Notes, RowNotes};
use super::parts::join;
use super::period::{CalendarPart, Period};
use crate::duration::{DAY, Duration, Unit};
use crate::epoch::Number;
use crate::typed::{Anchor, Kind, TypedValue};
use crate::write::{spell, spell_length};

/// The value on its way, as one date with one clock.
struct ShownClock {
    clock: DateTime,
    offset: Offset,
}

impl Program {
    /// What the row with these inputs gives; the `facts` are those that the whole table has shown.
    ///
    /// # Errors
    /// Why it gives nothing though there is something.
    pub fn run(&self, inputs: &[Item], facts: &[Item], notes: &mut Notes) -> Result<Item, Unmade> {
        let mut own = RowNotes::default();
        let item = self.run_to(self.ops.len(), inputs, facts, &mut own)?;
        notes.add(&own);
        Ok(item)
    }

    /// Looks at a row for what only the whole table shows.
    pub fn observe(&self, inputs: &[Item], facts: &mut [Item]) {
        for (at, fact) in self.facts().iter().enumerate() {
            let (Fact::Earliest(steps) | Fact::FirstRow(steps)) = *fact;
            let own = self.run_to(steps, inputs, facts, &mut RowNotes::default());
            let Ok(item @ (Item::Typed(_) | Item::Zoned(..))) = own else { continue };
            let known = &mut facts[at];
            let takes = match (&*known, fact) {
                (Item::Missing, _) => true,
                (_, Fact::FirstRow(_)) => false,
                (known, Fact::Earliest(_)) => earlier(&item, known),
            };
            if takes {
                *known = item;
            }
        }
    }

    fn run_to(
        &self,
        steps: usize,
        inputs: &[Item],
        facts: &[Item],
        notes: &mut RowNotes,
    ) -> Result<Item, Unmade> {
        let mut item = match &self.roles {
            Some(roles) => join(roles, inputs, &self.setting, notes)?,
            None => inputs.first().cloned().unwrap_or_default(),
        };
        for op in self.ops.iter().take(steps) {
            if item == Item::Missing {
                return Ok(item);
            }
            item = self.step(op, item, inputs, facts, notes)?;
        }
        Ok(item)
    }

    fn step(
        &self,
        op: &StepOp,
        item: Item,
        inputs: &[Item],
        facts: &[Item],
        notes: &mut RowNotes,
    ) -> Result<Item, Unmade> {
        Ok(match op {
            StepOp::Date => Item::Typed(TypedValue::Date(shown(&item)?.clock.date())),
            StepOp::Time => Item::Typed(TypedValue::Time(shown(&item)?.clock.time())),
            StepOp::Part(part) => Item::Number(part_of(*part, shown(&item)?.clock)),
            StepOp::Start(period) => period_of(*period, &item)?.anchored(Anchor::Start).into(),
            StepOp::End(period) => period_of(*period, &item)?.anchored(Anchor::End).into(),
            StepOp::Period(period) => period_of(*period, &item)?.into(),
            StepOp::Floor(nanos) => stepped(item, *nanos, 0)?,
            StepOp::Round(nanos) => stepped(item, *nanos, nanos / 2 + nanos % 2)?,
            StepOp::Move { months, days, nanos } => {
                self.moved(item, [*months, *days, *nanos], notes)?
            }
            StepOp::Since(other) => match self.other(*other, inputs, facts) {
                Some(other) => Item::Span(other, end(&item)?),
                None => Item::Missing,
            },
            StepOp::Until(other) => match self.other(*other, inputs, facts) {
                Some(other) => Item::Span(end(&item)?, other),
                None => Item::Missing,
            },
            StepOp::As(unit, whole) => Item::Number(in_units(&item, *unit, *whole)?),
            StepOp::In(clock) => match end(&item)? {
                TypedValue::Instant(moment) => {
                    notes.by_clock(*clock, moment);
                    Item::Zoned(moment, *clock)
                }
                _ => return Err(Unmade::OutOfRange),
            },
            StepOp::At(clock) => {
                let placed = self.setting.terms.changes.place(shown(&item)?.clock, *clock);
                let (moment, _) = placed.map_err(Unmade::Unfit)?;
                notes.by_clock(*clock, moment);
                TypedValue::Instant(moment).into()
            }
            StepOp::Serial(epoch) => {
                // A clock in a zone counts by what it shows, unless moments are counted.
                let counted = match &item {
                    Item::Zoned(..) if epoch.kind(false) != Kind::Instant => {
                        TypedValue::DateTime(shown(&item)?.clock)
                    }
                    item => end(item)?,
                };
                let number = epoch.count(counted);
                let says = || Unmade::NotCounted(*epoch);
                Item::Number(number.ok_or_else(says)?)
            }
            StepOp::Leap => Item::Truth(shown(&item)?.clock.date().in_leap_year()),
            StepOp::Iso => TypedValue::Duration(duration(&item)?).into(),
            StepOp::Show { layout, lexicon, digits } => {
                let text = match item {
                    Item::Span(..) | Item::Typed(TypedValue::Duration(_)) => {
                        let own = duration(&item)?;
                        spell_length(layout, own).ok_or(Unmade::HasMonths(own))?
                    }
                    item => {
                        let ShownClock { clock, offset } = shown(&item)?;
                        spell(layout, clock, offset, *lexicon)
                    }
                };
                Item::Text(match digits {
                    Some(digits) => in_digits(&text, digits),
                    None => text,
                })
            }
        })
    }

    fn other(&self, other: Other, inputs: &[Item], facts: &[Item]) -> Option<TypedValue> {
        let item = match other {
            Other::Fixed(moment) => return Some(moment),
            Other::Input(at) => inputs.get(at),
            Other::Fact(at) => facts.get(at),
        };
        item.and_then(|item| end(item).ok())
    }

    /// A value that many months, days and nanoseconds later, in this order.
    fn moved(&self, item: Item, by: [i64; 3], notes: &mut RowNotes) -> Result<Item, Unmade> {
        let [months, days, nanos] = by;
        let out = |_| Unmade::OutOfRange;
        let mut move_days = |date: Date| {
            let span = Span::new().try_months(months).map_err(out)?;
            let moved = date.checked_add(span).map_err(out)?;
            notes.clamped += u64::from(moved.day() != date.day());
            moved.checked_add(Span::new().try_days(days).map_err(out)?).map_err(out)
        };
        let later = |clock: DateTime| {
            clock.checked_add(jiff::SignedDuration::from_nanos(nanos)).map_err(out)
        };
        Ok(match item {
            Item::Typed(TypedValue::Date(date)) => TypedValue::Date(move_days(date)?).into(),
            Item::Typed(TypedValue::Month(date)) => TypedValue::Month(move_days(date)?).into(),
            Item::Typed(TypedValue::Quarter(date)) => TypedValue::Quarter(move_days(date)?).into(),
            Item::Typed(TypedValue::Week(date)) => TypedValue::Week(move_days(date)?).into(),
            Item::Typed(TypedValue::Year(date)) => TypedValue::Year(move_days(date)?).into(),
            Item::Typed(TypedValue::DateTime(clock)) => {
                let moved = DateTime::from_parts(move_days(clock.date())?, clock.time());
                TypedValue::DateTime(later(moved)?).into()
            }
            Item::Typed(TypedValue::Time(time)) => {
                let says = || Unmade::AnotherDay;
                let duration = jiff::SignedDuration::from_nanos(nanos);
                TypedValue::Time(time.checked_add(duration).map_err(|_| says())?).into()
            }
            Item::Typed(TypedValue::Instant(moment)) => {
                let duration = jiff::SignedDuration::from_nanos(nanos);
                TypedValue::Instant(moment.checked_add(duration).map_err(out)?).into()
            }
            Item::Typed(TypedValue::Duration(own)) => {
                let fixed = i128::from(days) * i128::from(DAY) + i128::from(nanos);
                let months = Duration::of(months, Unit::MONTHS);
                let by = Duration::of_nanos(fixed).and_then(|fixed| fixed.plus(months?));
                let sum = by.and_then(|by| own.plus(by)).ok_or(Unmade::OutOfRange)?;
                TypedValue::Duration(sum).into()
            }
            // Days and longer keep what the clock shows, hours what has passed.
            Item::Zoned(moment, clock) => {
                let placed = if (months, days) == (0, 0) {
                    moment
                } else {
                    let shown = clock.shows(moment);
                    let moved = DateTime::from_parts(move_days(shown.date())?, shown.time());
                    let placed = self.setting.terms.changes.place(moved, clock);
                    placed.map_err(Unmade::Unfit)?.0
                };
                let duration = jiff::SignedDuration::from_nanos(nanos);
                Item::Zoned(placed.checked_add(duration).map_err(out)?, clock)
            }
            other => other,
        })
    }
}

fn earlier(a: &Item, b: &Item) -> bool {
    match (end(a), end(b)) {
        (Ok(a), Ok(b)) => a < b,
        _ => false,
    }
}

/// A value as an end of a duration.
fn end(item: &Item) -> Result<TypedValue, Unmade> {
    match item {
        Item::Typed(moment) => Ok(*moment),
        Item::Zoned(moment, _) => Ok(TypedValue::Instant(*moment)),
        _ => Err(Unmade::OutOfRange),
    }
}

/// What a clock shows; a date is its first moment, a time is on the first day of 1970.
fn shown(item: &Item) -> Result<ShownClock, Unmade> {
    let clock = match item {
        Item::Zoned(moment, clock) => {
            let offset = clock.offset_at(*moment);
            return Ok(ShownClock { clock: offset.to_datetime(*moment), offset });
        }
        Item::Typed(TypedValue::DateTime(clock)) => *clock,
        Item::Typed(TypedValue::Time(time)) => {
            DateTime::from_parts(jiff::civil::date(1970, 1, 1), *time)
        }
        Item::Typed(moment) => match moment.date() {
            Some(date) => date.at(0, 0, 0, 0),
            None => return Err(Unmade::OutOfRange),
        },
        _ => return Err(Unmade::OutOfRange),
    };
    Ok(ShownClock { clock, offset: Offset::UTC })
}

fn part_of(part: CalendarPart, clock: DateTime) -> Number {
    let date = clock.date();
    Number::from(match part {
        CalendarPart::Year => i64::from(date.year()),
        CalendarPart::Quarter => (i64::from(date.month()) + 2) / 3,
        CalendarPart::Month => i64::from(date.month()),
        CalendarPart::Week => i64::from(date.iso_week_date().week()),
        CalendarPart::WeekYear => i64::from(date.iso_week_date().year()),
        CalendarPart::Day => i64::from(date.day()),
        CalendarPart::Weekday => i64::from(date.weekday().to_monday_one_offset()),
        CalendarPart::YearDay => i64::from(date.day_of_year()),
        CalendarPart::Hour => i64::from(clock.hour()),
        CalendarPart::Minute => i64::from(clock.minute()),
        CalendarPart::Second => i64::from(clock.second()),
        CalendarPart::Fraction => {
            return Number::ratio(clock.subsec_nanosecond().into(), 1_000_000_000);
        }
    })
}

/// The period in which a value lies.
fn period_of(period: Period, item: &Item) -> Result<TypedValue, Unmade> {
    let date = shown(item)?.clock.date();
    let first = |month: i8| Date::new(date.year(), month, 1).map_err(|_| Unmade::OutOfRange);
    Ok(match period {
        Period::Year => TypedValue::Year(first(1)?),
        Period::Quarter => TypedValue::Quarter(first((date.month() - 1) / 3 * 3 + 1)?),
        Period::Month => TypedValue::Month(first(date.month())?),
        Period::Week => {
            let back = Span::new().days(-i64::from(date.weekday().to_monday_zero_offset()));
            TypedValue::Week(date.checked_add(back).map_err(|_| Unmade::OutOfRange)?)
        }
    })
}

/// The multiple of an amount, counted from midnight, at or before a clock time that much later.
fn stepped(item: Item, amount: i64, plus: i64) -> Result<Item, Unmade> {
    let out = |_| Unmade::OutOfRange;
    let of_day = |time: Time| {
        let seconds = (i64::from(time.hour()) * 60 + i64::from(time.minute())) * 60;
        (seconds + i64::from(time.second())) * 1_000_000_000 + i64::from(time.subsec_nanosecond())
    };
    let by = |time: Time| {
        let now = of_day(time);
        jiff::SignedDuration::from_nanos((now + plus).div_euclid(amount) * amount - now)
    };
    Ok(match item {
        Item::Typed(TypedValue::DateTime(clock)) => {
            TypedValue::DateTime(clock.checked_add(by(clock.time())).map_err(out)?).into()
        }
        // The last half of the last step of a day is that day's end, which no time is.
        Item::Typed(TypedValue::Time(time)) => match time.checked_add(by(time)) {
            Ok(time) => TypedValue::Time(time).into(),
            Err(_) => TypedValue::Time(Time::midnight()).into(),
        },
        Item::Zoned(moment, clock) => {
            let shown: DateTime = clock.shows(moment);
            Item::Zoned(moment.checked_add(by(shown.time())).map_err(out)?, clock)
        }
        Item::Typed(TypedValue::Duration(own)) => {
            let (nanos, amount) = (own.fixed().ok_or(Unmade::HasMonths(own))?, amount.into());
            let down = (nanos + i128::from(plus)).div_euclid(amount) * amount;
            TypedValue::Duration(Duration::of_nanos(down).ok_or(Unmade::OutOfRange)?).into()
        }
        other => other,
    })
}

/// A duration, or the one between two values.
fn duration(item: &Item) -> Result<Duration, Unmade> {
    match item {
        Item::Typed(TypedValue::Duration(own)) => Ok(*own),
        span => Duration::of_nanos(length(span)?).ok_or(Unmade::OutOfRange),
    }
}

/// A text with other digits in place of the usual ones.
fn in_digits(text: &str, digits: &str) -> String {
    let of = |c: char| c.to_digit(10).and_then(|digit| digits.chars().nth(digit as usize));
    text.chars().map(|c| of(c).unwrap_or(c)).collect()
}

/// The nanoseconds of a duration.
fn length(item: &Item) -> Result<i128, Unmade> {
    let of = |moment: TypedValue| -> Option<i128> {
        let clock = |clock: DateTime| Offset::UTC.to_timestamp(clock).ok();
        let instant: Timestamp = match moment {
            TypedValue::Instant(moment) => moment,
            TypedValue::DateTime(shown) => clock(shown)?,
            TypedValue::Date(date) => clock(date.at(0, 0, 0, 0))?,
            TypedValue::Time(time) => clock(jiff::civil::date(1970, 1, 1).to_datetime(time))?,
            _ => return None,
        };
        Some(instant.as_nanosecond())
    };
    match item {
        Item::Typed(TypedValue::Duration(own)) => own.fixed().ok_or(Unmade::HasMonths(*own)),
        Item::Span(from, to) => match (of(*from), of(*to)) {
            (Some(from), Some(to)) => Ok(to - from),
            _ => Err(Unmade::OutOfRange),
        },
        _ => Err(Unmade::OutOfRange),
    }
}

fn in_units(item: &Item, unit: Unit, whole: bool) -> Result<Number, Unmade> {
    let ratio = if whole { Number::whole_ratio } else { Number::ratio };
    match (unit, item) {
        (Unit::Months(months), Item::Span(from, to)) => {
            let (Ok(from), Ok(to)) = (shown(&(*from).into()), shown(&(*to).into())) else {
                return Err(Unmade::OutOfRange);
            };
            Ok(Number::from(complete_months(from.clock, to.clock) / months))
        }
        (Unit::Months(months), Item::Typed(TypedValue::Duration(own))) => {
            if own.nanos() != 0 && (own.months() == 0 || !whole) {
                return Err(Unmade::NoMonths(*own));
            }
            Ok(ratio(own.months().into(), months.into()))
        }
        (unit, item) => {
            let nanos = unit.nanos().ok_or(Unmade::OutOfRange)?;
            Ok(ratio(length(item)?, nanos.into()))
        }
    }
}

/// The months that are complete from one clock time to another: those after which day and time are
/// reached again. Who was born on 29 February is a year older on 1 March where the day is missing.
fn complete_months(from: DateTime, to: DateTime) -> i64 {
    if to < from {
        return -complete_months(to, from);
    }
    let months = |clock: DateTime| i64::from(clock.year()) * 12 + i64::from(clock.month());
    let reached = (to.day(), to.time()) >= (from.day(), from.time());
    months(to) - months(from) - i64::from(!reached)
}
