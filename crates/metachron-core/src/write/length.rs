//! Lengths of time written out by a layout: the counterpart of reading them.

use std::fmt::Write;

use crate::duration::{Duration, Unit};
use crate::epoch::Number;
use crate::layout::{Field, Layout, LayoutPart};

/// A length of time in the written form of a layout: each unit takes what the larger ones leave, the first
/// all there is; what is finer than the last is cut off. None where months are to be told in units of fixed
/// length, or a field is none of a length.
///
/// ```
/// use metachron_core::{layout::Layout, write::spell_length};
/// let clock = Layout::parse("{hours}:{minutes}:{seconds}").unwrap();
/// assert_eq!(spell_length(&clock, "PT51H2M".parse().unwrap()).unwrap(), "51:02:00");
/// assert_eq!(spell_length(&clock, "P1M".parse().unwrap()), None);
/// ```
pub fn spell_length(layout: &Layout, duration: Duration) -> Option<String> {
    let parts = layout.alternatives().first().map_or(&[][..], |form| &form.parts);
    let mut units: Vec<Unit> = Vec::new();
    for part in parts {
        match part {
            LayoutPart::Field(Field::Count(unit) | Field::Decimal(unit)) => units.push(*unit),
            LayoutPart::Field(Field::Fraction(_) | Field::Any)
            | LayoutPart::Text(_)
            | LayoutPart::Space => {}
            LayoutPart::Field(_) => return None,
        }
    }
    // Larger units take theirs first, wherever they stand.
    let size = |unit: &Unit| match unit {
        Unit::Months(months) => (1, *months),
        unit => (0, unit.nanos().unwrap_or(0)),
    };
    units.sort_by_key(|unit| std::cmp::Reverse(size(unit)));
    if duration.months() != 0 && !units.iter().any(|unit| matches!(unit, Unit::Months(_))) {
        return None;
    }
    let (numbers, rest) = duration.parts(&units);
    let of = |unit: &Unit| units.iter().zip(&numbers).find(|(own, _)| *own == unit);
    let mut text = String::new();
    if duration.is_negative() {
        text.push('-');
    }
    let mut is_first = true;
    for part in parts {
        // Writing to a string cannot fail.
        let _ = match part {
            LayoutPart::Space => text.write_char(' '),
            LayoutPart::Text(literal) => text.write_str(literal),
            LayoutPart::Field(Field::Count(unit)) => {
                let number = of(unit).map_or(0, |(_, number)| *number);
                match unit {
                    Unit::Nanos(_) if !is_first => write!(text, "{number:02}"),
                    _ => write!(text, "{number}"),
                }
            }
            LayoutPart::Field(Field::Decimal(unit)) => {
                let number = match unit {
                    Unit::Months(months) => {
                        Number::ratio(i128::from(duration.months()).abs(), (*months).into())
                    }
                    unit => {
                        let nanos = unit.nanos().unwrap_or(1);
                        Number::ratio(duration.nanos().abs(), nanos.into())
                    }
                };
                write!(text, "{number}")
            }
            LayoutPart::Field(Field::Fraction(digits)) => {
                let last = units.last().and_then(|unit| unit.nanos()).unwrap_or(1);
                let billionths = i128::from(rest) * 1_000_000_000 / i128::from(last);
                let all = format!("{billionths:09}");
                text.write_str(match digits {
                    Some(digits) => &all[..usize::from(*digits)],
                    None => match all.trim_end_matches('0') {
                        "" => "0",
                        fraction => fraction,
                    },
                })
            }
            LayoutPart::Field(_) => Ok(()),
        };
        is_first &= !matches!(part, LayoutPart::Field(Field::Count(_)));
    }
    Some(text)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lengths_are_written_by_their_layouts() {
        for (layout, duration, expected) in [
            ("{hours}:{minutes}", "PT27H5M59S", Some("27:05")),
            ("{minutes}:{seconds}", "PT1H2M3S", Some("62:03")),
            ("{minutes}:{seconds}.{fraction}", "PT1M3.25S", Some("1:03.25")),
            ("{hours}:{minutes}.{fraction:2}", "PT1H3M30S", Some("1:03.50")),
            ("{days} d {hours} h", "PT51H20M", Some("2 d 03 h")),
            ("{hours:decimal} h", "-PT1H30M", Some("-1.5 h")),
            ("{years} y {months} m", "P14M", Some("1 y 2 m")),
            ("{years:decimal}", "P18M", Some("1.5")),
            ("{days} days", "P1Y", None),
            ("{hours}:{minutes}:{seconds}", "PT0S", Some("0:00:00")),
        ] {
            let layout = Layout::parse_to_write(layout).unwrap();
            let text = spell_length(&layout, duration.parse().unwrap());
            assert_eq!(text.as_deref(), expected, "{layout} {duration}");
        }
    }
}
