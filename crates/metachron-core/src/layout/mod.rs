//! Which field stands where in a written form: `{day}/{month}/{year}`.

mod field;
mod standards;
mod notation;
mod check;

use std::fmt;

use crate::error::LayoutError;
use crate::named::Named;
use crate::order::Order;
use crate::typed::Kind;
use field::YearFrom;

pub(crate) use field::FieldRole;
pub use field::{Amounts, Digits, FIELDS, Field, OffsetForm, YearPart};
pub use notation::escape;
pub use standards::{STANDARDS, Standard};

/// A piece of a layout once its optional parts are taken or left.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LayoutPart {
    /// A field.
    Field(Field),
    /// Text that stands for itself, without white space.
    Text(String),
    /// Any run of white space.
    Space,
}

impl LayoutPart {
    /// Whether this part is text that begins with an abbreviation point.
    pub fn begins_with_point(&self) -> bool {
        matches!(self, LayoutPart::Text(text) if text.starts_with('.'))
    }
}

/// One of the forms of a layout: every optional part is taken or left.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LayoutForm {
    /// What it yields.
    pub kind: Kind,
    /// Its pieces from left to right.
    pub parts: Vec<LayoutPart>,
    /// What a standard lays down beside the form.
    pub rules: StandardRules,
}

/// What a standard lays down beside its form; where it says nothing, the reading does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct StandardRules {
    /// Where years of two digits lie.
    pub short_years: ShortYears,
    /// The clock is that of UTC, though nothing says so.
    pub utc: bool,
    /// The names are those of English.
    pub english: bool,
}

/// Where years of two digits lie.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum ShortYears {
    /// The reading says it.
    #[default]
    Open,
    /// In the hundred years from this one.
    From(i16),
    /// No more than fifty years after today.
    NearToday,
}

/// A parsed and checked layout.
///
/// ```
/// use metachron_core::{layout::Layout, typed::Kind};
/// let layout = Layout::parse("{day}/{month}/{year}[ {hour}:{minute}]").unwrap();
/// assert_eq!(layout.kind(), Some(Kind::DateTime));
/// assert_eq!(layout.alternatives().len(), 2);
/// ```
#[derive(Debug, Clone)]
pub struct Layout {
    text: String,
    alternatives: Vec<LayoutForm>,
}

impl Layout {
    /// Parses the notation, or the name of a standard.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// assert_eq!(Layout::parse("{day}.{month}.{year}").unwrap().to_string(), "{day}.{month}.{year}");
    /// assert!(Layout::parse("{day}.{month}").is_err()); // which year?
    /// ```
    ///
    /// # Errors
    /// If the notation is malformed, or if the layout can never yield a value.
    pub fn parse(text: &str) -> Result<Layout, LayoutError> {
        Layout::parse_for(text, YearFrom::OfTheLayout)
    }

    /// The same where the reading says the year of dates that have none.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// assert!(Layout::parse("{day} {month:name}").is_err());
    /// assert!(Layout::parse_yearless("{day} {month:name}").unwrap().lacks_year());
    /// ```
    ///
    /// # Errors
    /// As for [`Layout::parse`].
    pub fn parse_yearless(text: &str) -> Result<Layout, LayoutError> {
        Layout::parse_for(text, YearFrom::OfTheReading)
    }

    /// A layout that is only written, never read: any fields in any order, with all its optional parts.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// assert!(Layout::parse("{weekday}").is_err());
    /// assert!(Layout::parse_to_write("{weekday}").is_ok());
    /// ```
    ///
    /// # Errors
    /// If the notation is malformed, or has no field.
    pub fn parse_to_write(text: &str) -> Result<Layout, LayoutError> {
        if STANDARDS.iter().any(|standard| standard.name == text.trim()) {
            return Layout::parse(text);
        }
        let parts = check::written(text, &notation::parse(text)?)?;
        let (kind, rules) = (Kind::DateTime, StandardRules::default());
        let alternatives = vec![LayoutForm { kind, parts, rules }];
        Ok(Layout { text: text.to_owned(), alternatives })
    }

    fn parse_for(text: &str, year: YearFrom) -> Result<Layout, LayoutError> {
        let text = text.trim();
        let alternatives = match STANDARDS.iter().find(|standard| standard.name == text) {
            Some(standard) => standard.alternatives()?,
            None => spelled(text, year)?,
        };
        Ok(Layout { text: text.to_owned(), alternatives })
    }

    /// Whether some of its forms have a day and no year.
    pub fn lacks_year(&self) -> bool {
        self.alternatives.iter().any(|form| {
            let has = |role| {
                form.parts
                    .iter()
                    .any(|p| matches!(p, LayoutPart::Field(field) if field.role() == role))
            };
            !has(FieldRole::Year) && (has(FieldRole::Month) || has(FieldRole::YearDay))
        })
    }

    /// What the layout yields; none if that differs from one of its forms to another.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// use metachron_core::typed::Kind;
    /// let kind = |text| Layout::parse(text).unwrap().kind();
    /// assert_eq!(kind("{hour}:{minute}"), Some(Kind::Time));
    /// assert_eq!(kind("iso-8601"), None); // it has forms of several kinds
    /// ```
    pub fn kind(&self) -> Option<Kind> {
        let (first, rest) = self.alternatives.split_first()?;
        rest.iter().all(|other| other.kind == first.kind).then_some(first.kind)
    }

    /// The forms of the layout, those with the most optional parts first.
    pub fn alternatives(&self) -> &[LayoutForm] {
        &self.alternatives
    }

    /// The order of day, month and year; none if it has no date.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// use metachron_core::order::Order;
    /// assert_eq!(Layout::parse("{day}/{month}/{year}").unwrap().order(), Some(Order::Dmy));
    /// ```
    pub fn order(&self) -> Option<Order> {
        let roles: Vec<FieldRole> = self
            .alternatives
            .first()?
            .parts
            .iter()
            .filter_map(|part| match part {
                LayoutPart::Field(field) => Some(field.role()),
                _ => None,
            })
            .filter(|role| matches!(role, FieldRole::Day | FieldRole::Month | FieldRole::Year))
            .collect();
        let is = |order: &Order| {
            roles == order.arrange(FieldRole::Day, FieldRole::Month, FieldRole::Year)
        };
        Order::all().find(is)
    }

    /// The same with day and month in each other's place; none where either is no number.
    ///
    /// ```
    /// use metachron_core::layout::Layout;
    /// let exchanged = |text| Layout::parse(text).unwrap().exchanged().map(|own| own.to_string());
    /// assert_eq!(exchanged("{day:02}/{month:02}/{year}"), Some("{month:02}/{day:02}/{year}".to_owned()));
    /// assert_eq!(exchanged("{day} {month:name} {year}"), None);
    /// ```
    #[must_use]
    pub fn exchanged(&self) -> Option<Layout> {
        if self.has(Field::MonthName) || self.has(Field::MonthShort) {
            return None;
        }
        // The fields of both have the same forms, and no name begins with the other's.
        let parts = self.text.split("{day");
        let parts: Vec<String> = parts.map(|part| part.replace("{month", "{day")).collect();
        let text = parts.join("{month");
        (text != self.text).then(|| Layout::parse(&text).ok()).flatten()
    }

    /// What its fields speak of, in their order.
    pub(crate) fn roles(&self) -> impl Iterator<Item = FieldRole> {
        let parts = self.alternatives.iter().flat_map(|form| &form.parts);
        parts.filter_map(|part| match part {
            LayoutPart::Field(field) => Some(field.role()),
            LayoutPart::Space | LayoutPart::Text(_) => None,
        })
    }

    /// Whether any alternative has this field.
    ///
    /// ```
    /// use metachron_core::layout::{Field, Layout};
    /// assert!(Layout::parse("{day}/{month:name}/{year:2}").unwrap().has(Field::YearTwo));
    /// ```
    pub fn has(&self, field: Field) -> bool {
        self.alternatives.iter().any(|form| form.parts.contains(&LayoutPart::Field(field)))
    }
}

/// The alternatives of a layout in our notation.
fn spelled(text: &str, year: YearFrom) -> Result<Vec<LayoutForm>, LayoutError> {
    let items = notation::parse(text)?;
    let (kind, alternatives) = check::check(text, &items, year)?;
    let rules = StandardRules::default();
    Ok(alternatives.into_iter().map(|parts| LayoutForm { kind, parts, rules }).collect())
}

impl fmt::Display for Layout {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.text)
    }
}

/// Layouts are the same when they are written the same.
impl PartialEq for Layout {
    fn eq(&self, other: &Layout) -> bool {
        self.text == other.text
    }
}

impl Eq for Layout {}
