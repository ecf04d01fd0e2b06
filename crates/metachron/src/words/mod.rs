//! What was found, in sentences. The core and the tables give kinds and figures; how they are told, and which option
//! would help, is known here alone.

mod notation;
mod pieces;
mod drift;
mod imports;
mod languages;
mod lengths;
mod findings;
mod numbers;
mod rejects;
mod ruled_out;
mod signals;
mod tables;
mod unfit;
mod unmade;
mod zones;

pub use notation::{wrong_layout, wrong_steps};
pub use pieces::{first, first_of, list, many, order_name, phrase};
pub use rejects::{what_helps, why_unread};
pub use tables::{encoding, undelivered, unreadable_table, unwritten};
pub use zones::names_of_zones;

/// Something that can be told in words; displayed as a sentence.
pub struct Words<'w, T>(&'w T);

/// This in words.
pub fn words<T>(of: &T) -> Words<'_, T> {
    Words(of)
}
