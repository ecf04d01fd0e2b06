//! Typed values to text: ISO 8601, and layouts written out.

mod iso;
mod length;
mod decimal_years;
mod spell;

pub use decimal_years::decimal_year;
pub use iso::{Instants, Precision, basic, cut, iso, iso_at};
pub use length::spell_length;
pub use spell::{spell, spell_field};
