//! The slow, clear interpreter of layouts.
//!
//! It tries everything that a layout allows, character by character. It is the referee of the compiled
//! programs in [`crate::apply`]: both must always agree.

use super::fields::{FIRST_OF_ERA, Sign};
use super::letters::{inside_a_run, ordinal_ending, same_letter};
use super::{DecimalYear, Fields, Fit, Terms, Unfit, WrittenOffset, length, resolve};
use crate::layout::{Field, Layout, LayoutPart};
use crate::typed::Kind;

/// The slow engine: what a layout finds in a normalised value.
///
/// ```
/// use metachron_core::layout::Layout;
/// use metachron_core::reading::{Terms, Unfit, interpret};
/// let layout = Layout::parse("{day}.{month}.{year}").unwrap();
/// let fit = interpret(&layout, "3.4.2024", Terms::default()).unwrap();
/// assert_eq!(fit.moment.to_string(), "2024-04-03");
/// let wrong = interpret(&layout, "31.4.2024", Terms::default()).unwrap_err();
/// assert_eq!(wrong, Unfit::NoSuchDay { year: 2024, month: 4, day: 31 });
/// ```
///
/// # Errors
/// Why the value does not fit.
pub fn interpret(layout: &Layout, value: &str, terms: Terms) -> Result<Fit, Unfit> {
    layout
        .alternatives()
        .iter()
        .find_map(|form| {
            let terms = terms.under(form.rules);
            if form.kind == Kind::Duration {
                return length(&form.parts, value, terms);
            }
            let begun = Fields::under(form.rules);
            let fields = match_parts(&form.parts, value, "", begun, terms)?;
            Some(resolve(&fields, form.kind, terms))
        })
        .unwrap_or(Err(Unfit::Form))
}

/// Matches the parts against all of `rest`; `read` is what stands before it.
fn match_parts(
    parts: &[LayoutPart],
    rest: &str,
    read: &str,
    fields: Fields,
    terms: Terms,
) -> Option<Fields> {
    let Some((part, later)) = parts.split_first() else {
        return rest.is_empty().then_some(fields);
    };
    // The rest after the first `length` bytes, matched against the later parts.
    let go_on = |length: usize, fields: Fields| {
        let read = if length == 0 { read } else { &rest[..length] };
        match_parts(later, &rest[length..], read, fields, terms)
    };
    match part {
        LayoutPart::Space => {
            let length = rest.find(|c: char| !c.is_whitespace()).unwrap_or(rest.len());
            if length == 0 { None } else { go_on(length, fields) }
        }
        LayoutPart::Text(text) => {
            let mut characters = rest.char_indices();
            let same = text.chars().all(|expected| {
                characters.next().is_some_and(|(_, found)| same_letter(expected, found))
            });
            let length = characters.next().map_or(rest.len(), |(at, _)| at);
            if same { go_on(length, fields) } else { None }
        }
        LayoutPart::Field(Field::Any) => {
            let ends = rest.char_indices().map(|(at, _)| at).chain([rest.len()]);
            ends.filter(|end| {
                let (taken, after) = rest.split_at(*end);
                !inside_a_run(read, if taken.is_empty() { after } else { taken })
                    && !inside_a_run(if taken.is_empty() { read } else { taken }, after)
            })
            .find_map(|end| go_on(end, fields))
        }
        LayoutPart::Field(Field::Offset(form)) => {
            let (offset, length) = WrittenOffset::read(rest.as_bytes(), *form)?;
            go_on(length, Fields { offset: Some(offset), ..fields })
        }
        LayoutPart::Field(field @ (Field::Zone | Field::ZoneBrackets)) => {
            let mut fields = fields;
            let length = fields.read_zone(*field, rest, terms.zones)?;
            go_on(length, fields)
        }
        LayoutPart::Field(Field::DecimalYear(part)) => {
            let behind_digit = read.ends_with(|c: char| c.is_ascii_digit());
            let (year, length) = DecimalYear::read(rest, *part, behind_digit)?;
            go_on(length, Fields { decimal_year: Some(year), ..fields })
        }
        LayoutPart::Field(field) if field.is_word() => {
            let mut fields = fields;
            let point_follows = later.first().is_some_and(LayoutPart::begins_with_point);
            let length = fields.read_word(*field, rest, point_follows, terms.lexicon)?;
            go_on(length, fields)
        }
        LayoutPart::Field(field) => {
            let (least, most) = field.width()?;
            let spaces = match field {
                Field::DaySpaced => rest.len() - rest.trim_start().len(),
                _ => 0,
            };
            let behind_digit = read.ends_with(|c: char| c.is_ascii_digit());
            let Sign { length: sign, more } = Sign::before(*field, rest, behind_digit);
            if *field == Field::YearOfEra && !behind_digit && rest.starts_with(FIRST_OF_ERA) {
                let (mut fields, length) = (fields, FIRST_OF_ERA.len_utf8());
                fields.set(*field, &rest[..length]);
                return go_on(length, fields);
            }
            let run = rest[spaces + sign..].bytes().take_while(u8::is_ascii_digit).count();
            (least + more..=(most.saturating_add(more)).min(run)).rev().find_map(|width| {
                let end = spaces + sign + width;
                let ending = match field {
                    Field::DayOrdinal => ordinal_ending(&rest[end..], terms.lexicon)?,
                    _ => 0,
                };
                let mut fields = fields;
                fields.set(*field, &rest[spaces..end]);
                go_on(end + ending, fields)
            })
        }
    }
}
