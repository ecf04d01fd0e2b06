//! Origins of numbers.

use jiff::civil::Date;
use jiff::tz::Offset;
use metachron_core::epoch::Epoch;
use metachron_core::named::Named;
use metachron_core::typed::{Kind, TypedValue};
use serde::Serialize;

use super::like;
use crate::args;
use crate::report::Grid;

/// An origin of numbers.
#[derive(Debug, Serialize)]
pub struct EpochFacts {
    name: &'static str,
    /// The moment that is zero; none where the digits are a date.
    zero: Option<&'static str>,
    /// What is counted.
    unit: &'static str,
    /// What numbers become.
    kind: &'static str,
    /// The number of today.
    today: Option<String>,
    /// The numbers of the years 1950 to 2049, in which most dates of tables lie.
    from: Option<String>,
    to: Option<String>,
}

impl EpochFacts {
    fn of(epoch: Epoch, today: Date) -> EpochFacts {
        let number = |day: Date| {
            let moment = match epoch.kind(false) {
                Kind::Instant => {
                    let noon = Offset::UTC.to_timestamp(day.at(0, 0, 0, 0)).ok()?;
                    TypedValue::Instant(noon)
                }
                _ => TypedValue::Date(day),
            };
            epoch.count(moment).map(|number| number.to_string())
        };
        let (zero, unit) = epoch.described().unwrap_or_default();
        EpochFacts {
            name: epoch.name().unwrap_or_default(),
            zero: Some(zero).filter(|zero| !zero.is_empty()),
            unit,
            kind: epoch.kind(false).name(),
            today: number(today),
            from: number(jiff::civil::date(1950, 1, 1)),
            to: number(jiff::civil::date(2049, 12, 31)),
        }
    }
}

/// The origins of numbers that are asked for.
pub fn all(list: &args::List, today: Date) -> Vec<EpochFacts> {
    let epochs = Epoch::all().filter(|epoch| like(list, &[epoch.name().unwrap_or_default()]));
    epochs.map(|epoch| EpochFacts::of(epoch, today)).collect()
}

/// What was found, to be read.
pub fn view(epochs: &[EpochFacts], width: usize) -> String {
    let mut grid = Grid::new(&["epoch", "zero is", "counts", "today", "1950", "2049"])
        .numbers(&["today", "1950", "2049"]);
    let text = |text: &Option<String>| text.clone().unwrap_or_else(|| "-".to_owned());
    for epoch in epochs {
        grid.push(vec![
            epoch.name.to_owned(),
            epoch.zero.unwrap_or("-").to_owned(),
            match epoch.unit {
                "seconds" => "s",
                "milliseconds" => "ms",
                "microseconds" => "µs",
                "nanoseconds" => "ns",
                "100 nanoseconds" => "100 ns",
                unit => unit,
            }
            .to_owned(),
            text(&epoch.today),
            text(&epoch.from),
            text(&epoch.to),
        ]);
    }
    let mut view = String::new();
    grid.write(&mut view, 0, width, None);
    view.push_str("\nAny other is written INSTANT/UNIT, such as 1582-10-14/seconds or -4713-11-24T12:00/days.\n");
    let units: Vec<&str> = Epoch::units().collect();
    view.push_str(&format!("UNIT is one of {}.\n", units.join(", ")));
    view
}
