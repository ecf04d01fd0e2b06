//! From a raw value to its shape: normalise, cut into tokens, blank the content out.

mod count;
mod empty;
mod normalise;
mod shape;
mod tokens;

pub use count::{counted, grouped};
pub use empty::{Missing, is_placeholder};
pub use normalise::normalise;
pub use shape::shape_of;
pub use tokens::{Token, TokenKind, tokens};
