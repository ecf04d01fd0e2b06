//! Which field stands where in a written form: `{day}/{month}/{year}`.

mod check;
mod field;
mod notation;
mod standards;

use std::fmt;

use crate::error::LayoutError;
use crate::moment::Kind;
use crate::order::Order;
use field::Role;

pub use field::{Digits, FIELDS, Field, OffsetForm};
pub use notation::escape;
pub use standards::{STANDARDS, Standard};

/// A piece of a layout once its optional parts are taken or left.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Part {
    /// A field.
    Field(Field),
    /// Text that stands for itself, without white space.
    Text(String),
    /// Any run of white space.
    Space,
}

impl Part {
    /// Whether this part is text that begins with an abbreviation point.
    pub fn begins_with_point(&self) -> bool {
        matches!(self, Part::Text(text) if text.starts_with('.'))
    }
}

/// A parsed and checked layout.
///
/// ```
/// use metachron_core::{layout::Layout, moment::Kind};
/// let layout = Layout::parse("{day}/{month}/{year}[ {hour}:{minute}]").unwrap();
/// assert_eq!(layout.kind(), Kind::DateTime);
/// assert_eq!(layout.alternatives().len(), 2);
/// ```
#[derive(Debug, Clone)]
pub struct Layout {
    text: String,
    kind: Kind,
    /// The layout with every choice of optional parts, the fullest first.
    alternatives: Vec<Vec<Part>>,
}

impl Layout {
    /// Parses the notation, or the name of a standard.
    ///
    /// # Errors
    /// If the notation is malformed, or if the layout can never yield a value.
    pub fn parse(text: &str) -> Result<Layout, LayoutError> {
        let text = text.trim();
        let spelled = STANDARDS.iter().find(|standard| standard.name == text);
        let items = notation::parse(spelled.map_or(text, |standard| standard.layout))?;
        let (kind, alternatives) = check::check(text, &items)?;
        Ok(Layout { text: text.to_owned(), kind, alternatives })
    }

    /// What the layout yields.
    pub fn kind(&self) -> Kind {
        self.kind
    }

    /// The layout with every choice of optional parts, the fullest first.
    pub fn alternatives(&self) -> &[Vec<Part>] {
        &self.alternatives
    }

    /// The order of day, month and year; none if it has no date.
    pub fn order(&self) -> Option<Order> {
        let roles: Vec<Role> = self
            .alternatives
            .first()?
            .iter()
            .filter_map(|part| match part {
                Part::Field(field) => Some(field.role()),
                _ => None,
            })
            .filter(|role| matches!(role, Role::Day | Role::Month | Role::Year))
            .collect();
        let is = |order: &Order| roles == order.arrange(Role::Day, Role::Month, Role::Year);
        Order::ALL.iter().map(|(order, _)| *order).find(is)
    }

    /// Whether any alternative has this field.
    pub fn has(&self, field: Field) -> bool {
        self.alternatives.iter().flatten().any(|part| *part == Part::Field(field))
    }
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
