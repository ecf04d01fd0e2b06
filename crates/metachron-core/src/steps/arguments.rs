//! The arguments of steps: periods, amounts, zones, layouts, the other end of a duration.

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, Time};

use super::compile::{Compiler, Fact, Other, StepOp, one};
use super::item::Type;
use super::period::Period;
use super::word::Word;
use super::{StepError, Unknown};
use crate::duration::{DAY, UNITS, Unit};
use crate::error::nearest;
use crate::layout::{FieldRole, Layout, YearPart};
use crate::lexicon::{Lexicon, Locale};
use crate::named::Named;
use crate::typed::{Kind, TypedValue};
use crate::zone::Clock;

impl Compiler<'_> {
    pub(super) fn period(&self, name: &Word, arguments: &[Word]) -> Result<Period, StepError> {
        let [period] = arguments else {
            let says = format!("{0} names a period: {0} month, quarter, week or year", name.text);
            return Err(self.at(name, says));
        };
        Period::named(&period.text).map_err(|near| {
            let near = near.map_or("month, quarter, week or year".to_owned(), |near| {
                format!("did you mean {near}?")
            });
            self.at(period, format!("{:?} is no period; {near}", period.text))
        })
    }

    fn unit(&self, word: &Word) -> Result<Unit, StepError> {
        Unit::named(&word.text).map_err(|near| {
            let near = near.map_or(UNITS.map(|(name, _)| name).join(", "), |near| {
                format!("did you mean {near}?")
            });
            self.at(word, format!("{:?} is no unit; {near}", word.text))
        })
    }

    /// An amount in nanoseconds; of a clock one that goes into a day without a rest.
    pub(super) fn step_of(
        &self,
        name: &Word,
        arguments: &[Word],
        takes: Type,
    ) -> Result<i64, StepError> {
        let [amount, unit] = arguments else {
            return Err(self.at(name, format!("{0} names an amount: {0} 15 minutes", name.text)));
        };
        let nanos = self.unit(unit)?.nanos().ok_or_else(|| {
            let says = "months and years have no fixed length; start month gives the first day";
            self.at(unit, says)
        })?;
        let number = amount.text.parse::<i64>().ok().filter(|number| *number > 0);
        let all = number.and_then(|number| number.checked_mul(nanos));
        let of_a_day = |all: &i64| DAY % all == 0 || takes == Type::Of(Kind::Duration);
        all.filter(of_a_day).ok_or_else(|| {
            let says = match takes {
                Type::Of(Kind::Duration) => {
                    "the amount is a whole number above 0, such as 15 minutes"
                }
                _ => "the amount must go into a day without a rest, such as 15 minutes",
            };
            self.at(amount, says)
        })
    }

    pub(super) fn move_by(
        &self,
        name: &Word,
        arguments: &[Word],
        takes: Type,
    ) -> Result<StepOp, StepError> {
        let example = "move names amounts with their sign: move +18 months -1 day";
        if arguments.is_empty() || !arguments.len().is_multiple_of(2) {
            return Err(self.at(arguments.last().unwrap_or(name), example));
        }
        let (mut months, mut days, mut nanos) = (0_i64, 0_i64, 0_i64);
        for pair in arguments.chunks_exact(2) {
            let [amount, unit] = pair else { continue };
            let signed = amount.text.starts_with(['+', '-']);
            let number = amount.text.parse::<i64>().ok().filter(|_| signed);
            let number = number.ok_or_else(|| self.at(amount, example))?;
            let of = self.unit(unit)?;
            let misfit = |says: &str| Err(self.at(unit, says));
            match (takes, of) {
                (Type::Of(Kind::Instant), Unit::Months(_) | Unit::Days(_)) => {
                    return misfit(
                        "a day of an instant depends on its zone: put | in ZONE before it",
                    );
                }
                (Type::Of(Kind::Date), Unit::Nanos(_)) => {
                    return misfit("a date has no clock; move it by days or longer");
                }
                (Type::Of(Kind::Time), Unit::Months(_) | Unit::Days(_)) => {
                    return misfit("a time belongs to no day; move it by hours or less");
                }
                (Type::Of(Kind::Month), unit) if !matches!(unit, Unit::Months(_)) => {
                    return misfit("a month is moved by months, quarters or years");
                }
                (Type::Of(Kind::Quarter), unit) if !matches!(unit, Unit::Months(3 | 12)) => {
                    return misfit("a quarter is moved by quarters or years");
                }
                (Type::Of(Kind::Year), unit) if unit != Unit::Months(12) => {
                    return misfit("a year is moved by years");
                }
                (Type::Of(Kind::Week), unit) if unit != Unit::Days(7) => {
                    return misfit("a week is moved by weeks");
                }
                (Type::Of(_) | Type::Zoned, _) => {}
                _ => return Err(self.misfit(name, takes, "a date, a time or a moment")),
            }
            let (sum, of) = match of {
                Unit::Months(of) => (&mut months, of),
                Unit::Days(of) => (&mut days, of),
                Unit::Nanos(of) => (&mut nanos, of),
            };
            let all = number.checked_mul(of).and_then(|all| sum.checked_add(all));
            *sum =
                all.ok_or_else(|| self.at(amount, "that is further than years can be written"))?;
        }
        Ok(StepOp::Move { months, days, nanos })
    }

    /// The other end of a duration.
    pub(super) fn other(
        &mut self,
        name: &Word,
        arguments: &[Word],
        kind: Kind,
    ) -> Result<Other, StepError> {
        let [other] = arguments else {
            let says = format!("{0} names its other end: {0} 2024-01-01, or a column", name.text);
            return Err(self.at(name, says));
        };
        let column = self.columns.iter().position(|(column, _)| *column == other.text);
        if let Some(place) = column {
            let of = self.columns[place].1;
            let same = match of {
                Type::Of(of) => of == kind,
                Type::Zoned => kind == Kind::Instant,
                _ => false,
            };
            if !same {
                let says = format!(
                    "a duration has two ends of one kind, but this is {} beside {}",
                    one(of),
                    one(Type::Of(kind))
                );
                return Err(self.at(other, says));
            }
            return Ok(Other::Input(self.input(place)));
        }
        let mut fact = |fact: Fact| {
            self.facts.push(fact);
            Ok(Other::Fact(self.facts.len() - 1))
        };
        match (other.text.as_str(), name.text.as_str()) {
            ("earliest", _) => return fact(Fact::Earliest(self.steps)),
            ("first-row", _) => return fact(Fact::FirstRow(self.steps)),
            ("now", _) => {
                return match kind {
                    Kind::Date => Ok(Other::Fixed(TypedValue::Date(self.setting.today))),
                    Kind::Instant => Ok(Other::Fixed(TypedValue::Instant(self.setting.now))),
                    _ => Err(self.at(
                        other,
                        "a clock in no stated zone knows no now: put | at ZONE before it",
                    )),
                };
            }
            _ => {}
        }
        let text = other.text.as_str();
        let date = || text.parse::<Date>().ok();
        let clock = || text.parse::<DateTime>().ok().or(date().map(|day| day.at(0, 0, 0, 0)));
        let fixed = match kind {
            Kind::Date => date().map(TypedValue::Date),
            Kind::Time => text.parse::<Time>().ok().map(TypedValue::Time),
            Kind::DateTime => clock().map(TypedValue::DateTime),
            _ => text.parse::<Timestamp>().ok().map(TypedValue::Instant),
        };
        fixed.map(Other::Fixed).ok_or_else(|| {
            let near = nearest(text, self.columns.iter().map(|(name, _)| *name));
            let near =
                near.map_or(String::new(), |near| format!("; did you mean the column {near:?}?"));
            let wants = match kind {
                Kind::Date => "2024-01-31",
                Kind::Time => "14:30",
                Kind::DateTime => "2024-01-31T14:30",
                _ => "2024-01-31T14:30Z",
            };
            self.at(
                other,
                format!("{text:?} is neither a column nor a {kind} such as {wants}{near}"),
            )
        })
    }

    pub(super) fn unit_and_whole(
        &self,
        name: &Word,
        arguments: &[Word],
        takes: Type,
    ) -> Result<(Unit, bool), StepError> {
        let (unit, whole) = match arguments {
            [unit] => (unit, false),
            [unit, whole] if whole.text == "whole" => (unit, true),
            [_, other, ..] => {
                return Err(self.at(other, "only whole may follow the unit: as years whole"));
            }
            [] => return Err(self.at(name, "as names a unit: as hours")),
        };
        let of = self.unit(unit)?;
        let Type::Span(kind) = takes else {
            if takes == Type::Of(Kind::Duration) {
                return Ok((of, whole));
            }
            let hint = match takes {
                Type::Of(_) | Type::Zoned => {
                    let unit = of.name();
                    format!("; did you mean since … | as {unit}?")
                }
                _ => String::new(),
            };
            return Err(
                self.at(name, format!("as takes a duration, but gets {}{hint}", one(takes)))
            );
        };
        match of {
            Unit::Months(_) if !whole => Err(self.at(
                unit,
                "months and years differ in length: as years whole counts those that are complete",
            )),
            Unit::Months(_) if matches!(kind, Kind::Time | Kind::Instant) => {
                Err(self.at(unit, "months and years are of a calendar: take the date first"))
            }
            _ => Ok((of, whole)),
        }
    }

    pub(super) fn clock(&self, name: &Word, arguments: &[Word]) -> Result<Clock, StepError> {
        let [zone] = arguments else {
            return Err(self.at(name, format!("{0} names a zone: {0} Europe/Oslo", name.text)));
        };
        let zones = self.setting.terms.zones;
        Clock::named(&zone.text, zones).ok_or_else(|| {
            let near = nearest(&zone.text, zones.all().map(|zone| zone.name()));
            self.at(zone, format!("{:?} is no zone", zone.text)).or_near(near, Unknown::Zone)
        })
    }

    pub(super) fn show(
        &self,
        name: &Word,
        arguments: &[Word],
        takes: Type,
    ) -> Result<StepOp, StepError> {
        let (layout, locale, own_digits) = match arguments {
            [layout] => (layout, None, false),
            [layout, of, locale] if of.text == "in" => (layout, Some(locale), false),
            [layout, of, locale, digits] if (&*of.text, &*digits.text) == ("in", "digits") => {
                (layout, Some(locale), true)
            }
            _ => {
                let says = "show names a layout in quotes, and a locale, if need be with its digits: \
                            show \"{day} {month:name} {year}\" in ar-EG digits";
                return Err(self.at(name, says));
            }
        };
        let fits = matches!(takes, Type::Of(kind) if kind != Kind::Instant)
            || matches!(takes, Type::Zoned | Type::Span(_));
        self.takes(fits, name, takes, "a date, a time or a length of time")?;
        let parsed = Layout::parse_to_write(&layout.text)
            .map_err(|error| self.at(layout, error.to_string()))?;
        if let Some(role) = parsed.roles().find(|role| !has(takes, *role)) {
            let says = format!("{} has no {} to show", one(takes), role.name());
            return Err(self.at(layout, says));
        }
        let named = |word: &Word| {
            Locale::named(&word.text).map_err(|unknown| self.at(word, unknown.to_string()))
        };
        let locale = locale.map(named).transpose()?;
        let lexicon = locale.map_or(Lexicon::english(), Lexicon::of);
        let digits = locale.filter(|_| own_digits).map(Locale::digits);
        Ok(StepOp::Show { layout: Box::new(parsed), lexicon, digits })
    }
}

/// Whether values of a type have what a field speaks of. An offset alone does not say the zone.
fn has(of: Type, role: FieldRole) -> bool {
    use FieldRole::{
        Count, Day, DecimalYear, Era, Fraction, Half, Hour, Length, Minute, Month, Nothing, Offset,
        Quarter, Second, Serial, Week, WeekYear, Weekday, Year, YearDay, Zone,
    };
    let zoned = of == Type::Zoned;
    let (kind, clocked) = match of {
        Type::Of(kind) => (kind, matches!(kind, Kind::DateTime | Kind::Time)),
        _ => (Kind::DateTime, zoned),
    };
    let dated = matches!(kind, Kind::Date | Kind::DateTime);
    if kind == Kind::Duration || matches!(of, Type::Span(_)) {
        return matches!(role, Count(_) | Fraction | Nothing);
    }
    match role {
        Nothing => true,
        Count(_) | Length => false,
        Hour | Half | Minute | Second | Fraction => clocked,
        Offset => zoned,
        Zone | Serial => false,
        Day | Weekday | YearDay => dated,
        Week | WeekYear => dated || kind == Kind::Week,
        Month => dated || kind == Kind::Month,
        Quarter => dated || matches!(kind, Kind::Month | Kind::Quarter),
        // What it says is the period that holds the value.
        DecimalYear(part) => {
            dated || kind == part.kind() || (part, kind) == (YearPart::Quarter, Kind::Month)
        }
        Year | Era => dated || matches!(kind, Kind::Month | Kind::Quarter | Kind::Year),
    }
}
