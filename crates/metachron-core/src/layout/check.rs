//! Whether a layout can ever yield a value, and of which kind.

use std::ops::Range;

use super::LayoutPart;
use super::field::{Field, FieldRole, YearFrom};
use super::notation::LayoutItem;
use crate::error::{LayoutError, LayoutErrorKind};
use crate::lexicon::runs_on;
use crate::typed::Kind;

/// Every optional part doubles the alternatives, so there may be only so many.
const MOST_OPTIONAL: usize = 6;

/// What is passed over is found by trying; with more of it, the tries of a long value multiply.
const MOST_ANY: usize = 2;

type PlacedPart = (LayoutPart, Range<usize>);

/// The layout's kind and its alternatives, the fullest first.
pub(super) fn check(
    layout: &str,
    items: &[LayoutItem],
    year: YearFrom,
) -> Result<(Kind, Vec<Vec<LayoutPart>>), LayoutError> {
    let error = |span: Range<usize>, kind| LayoutError { layout: layout.to_owned(), span, kind };
    let whole = 0..layout.len();
    if optional_parts(items) > MOST_OPTIONAL {
        return Err(error(whole, LayoutErrorKind::TooManyOptional));
    }
    let mut kinds = Vec::new();
    let mut alternatives = Vec::new();
    for mut placed in expand(items) {
        trim(&mut placed);
        let is_any = |(part, _): &&PlacedPart| *part == LayoutPart::Field(Field::Any);
        if let Some((_, span)) = placed.iter().filter(is_any).nth(MOST_ANY) {
            return Err(error(span.clone(), LayoutErrorKind::TooManyAny));
        }
        kinds.push(kind_of(&placed, year).map_err(|(span, kind)| error(span, kind))?);
        touching(&placed).map_err(|(span, kind)| error(span, kind))?;
        let parts: Vec<LayoutPart> = placed.into_iter().map(|(part, _)| part).collect();
        if !alternatives.contains(&parts) {
            alternatives.push(parts);
        }
    }
    let Some(&kind) = kinds.first() else {
        return Err(error(whole, LayoutErrorKind::NoField(None)));
    };
    // A clock time that may be missing is midnight, because the layout says so; a date or an
    // offset that may be missing leaves nothing to say which moment is meant.
    let settled = |other: &Kind| *other == kind || (kind, *other) == (Kind::DateTime, Kind::Date);
    if !kinds.iter().all(settled) {
        return Err(error(whole, LayoutErrorKind::ChangesKind));
    }
    Ok((kind, alternatives))
}

/// The parts that are written, for a layout that is only written: any fields in any order.
pub(super) fn written(layout: &str, items: &[LayoutItem]) -> Result<Vec<LayoutPart>, LayoutError> {
    let span = 0..layout.len();
    let placed = expand(items).into_iter().next().unwrap_or_default();
    let parts: Vec<LayoutPart> = placed.into_iter().map(|(part, _)| part).collect();
    match parts.iter().any(|part| matches!(part, LayoutPart::Field(_))) {
        true => Ok(parts),
        false => {
            let kind = LayoutErrorKind::NoField(None);
            Err(LayoutError { layout: layout.to_owned(), span, kind })
        }
    }
}

fn optional_parts(items: &[LayoutItem]) -> usize {
    items
        .iter()
        .map(|item| match item {
            LayoutItem::Optional(inner) => 1 + optional_parts(inner),
            _ => 0,
        })
        .sum()
}

/// Every choice of optional parts; earlier parts are taken before later ones are left out.
fn expand(items: &[LayoutItem]) -> Vec<Vec<PlacedPart>> {
    let mut all = vec![Vec::new()];
    for item in items {
        let choices = match item {
            LayoutItem::Field(field, span) => vec![vec![(LayoutPart::Field(*field), span.clone())]],
            LayoutItem::Text(text, span) => {
                vec![vec![(LayoutPart::Text(text.clone()), span.clone())]]
            }
            LayoutItem::Space => vec![vec![(LayoutPart::Space, 0..0)]],
            LayoutItem::Optional(inner) => {
                let mut choices = expand(inner);
                choices.push(Vec::new());
                choices
            }
        };
        all = all
            .iter()
            .flat_map(|begun| choices.iter().map(move |choice| [&begun[..], choice].concat()))
            .collect();
    }
    all
}

/// Values are trimmed before they are read, and one run of space is as good as two.
fn trim(placed: &mut Vec<PlacedPart>) {
    placed.dedup_by(|a, b| a.0 == LayoutPart::Space && b.0 == LayoutPart::Space);
    if placed.first().is_some_and(|(part, _)| *part == LayoutPart::Space) {
        placed.remove(0);
    }
    if placed.last().is_some_and(|(part, _)| *part == LayoutPart::Space) {
        placed.pop();
    }
}

/// The kind of an alternative whose fields belong together.
fn kind_of(placed: &[PlacedPart], year: YearFrom) -> Result<Kind, (Range<usize>, LayoutErrorKind)> {
    let mut roles: Vec<(FieldRole, Field, Range<usize>)> = Vec::new();
    for (part, span) in placed {
        let LayoutPart::Field(field) = part else { continue };
        let role = field.role();
        if role != FieldRole::Nothing && roles.iter().any(|(other, _, _)| *other == role) {
            return Err((span.clone(), LayoutErrorKind::Repeated(role.name())));
        }
        roles.push((role, *field, span.clone()));
    }
    let has = |role| roles.iter().any(|(other, _, _)| *other == role);
    let is_length = |role: FieldRole| matches!(role, FieldRole::Count(_) | FieldRole::Length);
    if roles.iter().any(|(role, _, _)| is_length(*role)) {
        return of_length(&roles);
    }
    let by_month = has(FieldRole::Month) || has(FieldRole::Day);
    let by_week = has(FieldRole::WeekYear) || has(FieldRole::Week);
    // Parts of the year that exclude each other.
    let excluded = |role: FieldRole| match role {
        FieldRole::YearDay => by_month || by_week || has(FieldRole::Quarter),
        FieldRole::Quarter => by_month || by_week,
        FieldRole::Week | FieldRole::WeekYear => by_month || has(FieldRole::Year),
        _ => false,
    };
    if let Some((role, _, span)) = roles.iter().find(|(role, _, _)| excluded(*role)) {
        return Err((span.clone(), LayoutErrorKind::Excluded(role.name())));
    }
    let has_year = has(FieldRole::Year) || year == YearFrom::OfTheReading;
    let dated = (has_year && has(FieldRole::Month) && has(FieldRole::Day))
        || (has_year && has(FieldRole::YearDay))
        || (has(FieldRole::WeekYear) && has(FieldRole::Week) && has(FieldRole::Weekday));
    // Less than a day's precision is whole by itself, and goes with no clock or weekday.
    let alone = !dated && !has(FieldRole::Day) && !has(FieldRole::Hour) && !has(FieldRole::Weekday);
    let coarse =
        match (has(FieldRole::Year), has(FieldRole::Month), has(FieldRole::Quarter), by_week) {
            (true, true, false, false) => Some(Kind::Month),
            (true, false, true, false) => Some(Kind::Quarter),
            (true, false, false, false) => Some(Kind::Year),
            (false, _, _, true) if has(FieldRole::WeekYear) && has(FieldRole::Week) => {
                Some(Kind::Week)
            }
            _ => None,
        }
        .filter(|_| alone);
    let dated_or_coarse = dated || coarse.is_some();
    for (role, field, span) in &roles {
        let missing = match role {
            FieldRole::Year
            | FieldRole::Month
            | FieldRole::Day
            | FieldRole::YearDay
            | FieldRole::Quarter
                if !dated_or_coarse =>
            {
                return Err((span.clone(), LayoutErrorKind::NeedsDate));
            }
            FieldRole::Week | FieldRole::WeekYear if !dated_or_coarse => {
                Some("the rest of its date: {weekyear}, {week} and a weekday")
            }
            FieldRole::Era if !dated_or_coarse => Some("a date whose year it counts"),
            FieldRole::Weekday if !dated => Some("a date that it is checked against"),
            FieldRole::Half if !has(FieldRole::Hour) => Some("{hour:12}"),
            FieldRole::Half if roles.iter().any(|(_, f, _)| matches!(f, Field::Hour(_))) => {
                Some("the hour of a 12-hour clock: {hour:12}")
            }
            FieldRole::Hour if matches!(field, Field::Hour12(_)) && !has(FieldRole::Half) => {
                Some("{ampm}")
            }
            FieldRole::Minute | FieldRole::Half
                if roles.iter().any(|(_, f, _)| *f == Field::Noon) =>
            {
                Some("an hour that goes on; noon and midnight are whole")
            }
            FieldRole::Minute | FieldRole::Half
                if roles.iter().any(|(_, f, _)| *f == Field::HourMinute) =>
            {
                Some("{hour}; {hourminute} has its minute")
            }
            FieldRole::Minute if !has(FieldRole::Hour) => Some("{hour}"),
            FieldRole::Second if !has(FieldRole::Minute) => Some("{minute}"),
            FieldRole::Fraction if !has(FieldRole::Hour) => Some("{second}, {minute} or {hour}"),
            FieldRole::Offset if has(FieldRole::Serial) => None,
            FieldRole::Offset | FieldRole::Zone if !(dated && has(FieldRole::Hour)) => {
                Some("a date and {hour}")
            }
            _ => None,
        };
        if let Some(what) = missing {
            return Err((span.clone(), LayoutErrorKind::Needs(what)));
        }
    }
    let decimal_year = roles.iter().find_map(|(role, ..)| match role {
        FieldRole::DecimalYear(part) => Some(*part),
        _ => None,
    });
    if let Some(part) = decimal_year {
        // A year with a fraction is whole by itself.
        let is_other =
            |role: &FieldRole| !matches!(role, FieldRole::DecimalYear(_) | FieldRole::Nothing);
        let others = roles.iter().find(|(role, ..)| is_other(role));
        return match others {
            Some((role, _, span)) => Err((span.clone(), LayoutErrorKind::Excluded(role.name()))),
            None => Ok(part.kind()),
        };
    }
    if has(FieldRole::Serial) {
        // A count from an origin is whole by itself; an offset beside it only says where.
        let others = roles.iter().find(|(role, _, _)| {
            !matches!(role, FieldRole::Serial | FieldRole::Offset | FieldRole::Nothing)
        });
        return match others {
            Some((role, _, span)) => Err((span.clone(), LayoutErrorKind::Excluded(role.name()))),
            None => Ok(Kind::Instant),
        };
    }
    match (dated, has(FieldRole::Hour), has(FieldRole::Offset) || has(FieldRole::Zone)) {
        (true, true, true) => Ok(Kind::Instant),
        (true, true, false) => Ok(Kind::DateTime),
        (true, false, _) => Ok(Kind::Date),
        (false, true, _) => Ok(Kind::Time),
        (false, false, _) => coarse.ok_or((0..0, LayoutErrorKind::NoField(None))),
    }
}

/// The kind of an alternative that tells a length of time: it has nothing of a date or a clock.
fn of_length(
    roles: &[(FieldRole, Field, Range<usize>)],
) -> Result<Kind, (Range<usize>, LayoutErrorKind)> {
    let said = roles.iter().filter(|(role, ..)| *role != FieldRole::Nothing).count();
    let mut has_count = false;
    for (role, field, span) in roles {
        // Amounts and decimal numbers are whole by themselves.
        let is_whole = matches!(field, Field::Amounts(_) | Field::Decimal(_));
        match role {
            FieldRole::Nothing => {}
            FieldRole::Count(_) | FieldRole::Length if !is_whole || said == 1 => has_count = true,
            FieldRole::Fraction if has_count => {}
            FieldRole::Fraction => {
                let needed = "{hours}, {minutes} or {seconds} before it";
                return Err((span.clone(), LayoutErrorKind::Needs(needed)));
            }
            role => return Err((span.clone(), LayoutErrorKind::Excluded(role.name()))),
        }
    }
    Ok(Kind::Duration)
}

/// Fields that touch must still be told apart.
fn touching(placed: &[PlacedPart]) -> Result<(), (Range<usize>, LayoutErrorKind)> {
    let is_word = |part: &LayoutPart| matches!(part, LayoutPart::Field(field) if field.is_word());
    let mut before: Option<&LayoutPart> = None;
    let mut variable_in_run = false;
    for (part, span) in placed {
        let edge = Edges::of(part);
        let edge_before = before.map_or(Edges::default(), Edges::of);
        variable_in_run &= edge_before.ends_with_digit && edge.begins_with_digit;
        if edge.variable && variable_in_run {
            return Err((span.clone(), LayoutErrorKind::TouchingDigits));
        }
        variable_in_run |= edge.variable;
        let letters = edge_before.ends_with_letter && edge.begins_with_letter;
        let any = LayoutPart::Field(Field::Any);
        if (letters && (is_word(part) || before.is_some_and(is_word)))
            || (*part == any && before == Some(&any))
        {
            return Err((span.clone(), LayoutErrorKind::TouchingWords));
        }
        before = Some(part);
    }
    Ok(())
}

/// What the text that a part reads may begin and end with.
#[derive(Default)]
struct Edges {
    begins_with_digit: bool,
    ends_with_digit: bool,
    begins_with_letter: bool,
    ends_with_letter: bool,
    /// Whether the number of digits varies.
    variable: bool,
}

impl Edges {
    fn of(part: &LayoutPart) -> Edges {
        let mut edges = Edges::default();
        match part {
            LayoutPart::Space | LayoutPart::Field(Field::Any) => {}
            LayoutPart::Field(field) if field.is_word() => {
                edges.begins_with_letter = true;
                edges.ends_with_letter = true;
            }
            LayoutPart::Field(Field::Zone) => {
                edges.begins_with_letter = true;
                edges.ends_with_letter = true;
                edges.ends_with_digit = true;
                edges.variable = true;
            }
            LayoutPart::Field(Field::ZoneBrackets) => {}
            LayoutPart::Field(Field::Decimal(_) | Field::Amounts(_) | Field::DecimalYear(_)) => {
                edges.begins_with_digit = true;
                edges.ends_with_digit = true;
                edges.variable = true;
            }
            LayoutPart::Field(Field::Offset(_)) => {
                edges.ends_with_digit = true;
                edges.begins_with_letter = true;
                edges.ends_with_letter = true;
                edges.variable = true;
            }
            LayoutPart::Field(field) => {
                edges.begins_with_digit = true;
                edges.ends_with_letter = *field == Field::DayOrdinal;
                edges.ends_with_digit = !edges.ends_with_letter;
                edges.variable = field.width().is_some_and(|(least, most)| least != most);
            }
            LayoutPart::Text(text) => {
                let (first, last) = (text.chars().next(), text.chars().next_back());
                edges.begins_with_digit = first.is_some_and(|c| c.is_ascii_digit());
                edges.ends_with_digit = last.is_some_and(|c| c.is_ascii_digit());
                edges.begins_with_letter = first.is_some_and(is_joined);
                edges.ends_with_letter = last.is_some_and(is_joined);
            }
        }
        edges
    }
}

/// Whether a letter is of a script that leaves spaces between words, so that one may not touch it.
fn is_joined(letter: char) -> bool {
    letter.is_alphabetic() && !runs_on(letter)
}
