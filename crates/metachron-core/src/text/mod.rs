//! From a raw value to comparable text: normalise, cut into tokens, fold words.

mod count;
mod fold;
mod hash;
mod key;
mod places;
mod short;
mod by_text;
mod repeats;
mod normalise;
mod tokens;
mod empty;

pub use by_text::ByText;
pub use count::{counted, grouped};
pub use empty::{Missing, is_placeholder};
pub(crate) use fold::fold_char;
pub use fold::{Accents, fold};
pub(crate) use hash::{Stirring, quick_hash};
pub use hash::{fnv1a, stir};
pub(crate) use key::TextKey;
pub(crate) use normalise::is_invisible;
pub use normalise::{normalise, trimmed};
pub(crate) use places::Places;
pub use repeats::Repeats;
pub(crate) use short::ShortText;
pub use tokens::{Token, TokenKind, tokens};
