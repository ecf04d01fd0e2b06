//! Typed values to text: ISO 8601, and layouts written out.

mod iso;
mod length;
mod spell;

pub use iso::{Instants, Precision, basic, cut, iso, iso_at};
pub use length::spell_length;
pub use spell::{spell, spell_field};
