//! Which orders are possible for a value, which of them fit, and which agree.

use serde::{Deserialize, Deserializer, Serialize, Serializer};

use strum::VariantArray;

use crate::named::Named;
use crate::order::Alternative;
use crate::text::stir;

/// For every order: not possible in this written form, or not fitting, or fitting with one of a
/// few results. Rows with equal `Fits` count the same for every verdict.
///
/// ```
/// use metachron_core::{evidence::Fits, order::Alternative::*};
/// // 03/04/2024: both orders fit and differ; year first is another written form.
/// let fits = Fits::default().with(Dmy, Some(0)).with(Mdy, Some(1));
/// assert!(fits.possible(Dmy) && !fits.possible(Ymd));
/// assert!(fits.differ(&[Dmy, Mdy]));
/// ```
///
/// Saved as the names of the possible alternatives, each with its result or `-`: `dmy=0 mdy=-`; in formats that nobody
/// reads as three bits each.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct Fits(u32);

impl Serialize for Fits {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        if !serializer.is_human_readable() {
            return serializer.serialize_u32(self.0);
        }
        let said: Vec<String> = Alternative::all()
            .filter(|alternative| self.possible(*alternative))
            .map(|alternative| match self.code(alternative) - NOT_FITTING {
                0 => format!("{}=-", alternative.name()),
                result => format!("{}={}", alternative.name(), result - 1),
            })
            .collect();
        serializer.serialize_str(&said.join(" "))
    }
}

impl<'de> Deserialize<'de> for Fits {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Fits, D::Error> {
        if !deserializer.is_human_readable() {
            let bits = u32::deserialize(deserializer)?;
            let is_known = bits & !(LOWEST * CODE) == 0;
            let wrong = || serde::de::Error::custom(format!("{bits:#o} is not what values fit"));
            return is_known.then_some(Fits(bits)).ok_or_else(wrong);
        }
        let text = String::deserialize(deserializer)?;
        let wrong = || serde::de::Error::custom(format!("{text:?} is not what values fit"));
        let mut fits = Fits::default();
        for said in text.split_whitespace() {
            let (name, result) = said.split_once('=').ok_or_else(wrong)?;
            let own = Alternative::named(name).map_err(|_| wrong())?;
            let result = match result {
                "-" => None,
                // No form has more results than alternatives, and none has more than six.
                number => Some(number.parse().ok().filter(|own| *own < 6).ok_or_else(wrong)?),
            };
            fits = fits.with(own, result);
        }
        Ok(fits)
    }
}

const NOT_FITTING: u32 = 1;
/// How many bits an order has: no form has more than six orders, and so many results.
const WIDTH: u32 = 3;
/// The bits of the first order.
const CODE: u32 = 0b111;
/// The lowest bit of each order.
const LOWEST: u32 = 0o1_111_111_111;

impl Fits {
    /// No order is possible.
    pub(super) const NONE: Fits = Fits(0);

    /// The same, and `order` is possible: it fits with this result, or does not fit. Orders that
    /// give the same moment have the same result; there are as many results as orders at most.
    #[must_use]
    pub fn with(self, order: Alternative, result: Option<u8>) -> Fits {
        let code = result.map_or(NOT_FITTING, |result| NOT_FITTING + 1 + u32::from(result));
        Fits(self.0 & !(CODE << shift(order)) | (code << shift(order)))
    }

    /// A hash into which it is stirred.
    pub(super) fn stirred_into(self, hash: u64) -> u64 {
        stir(hash, self.0.into())
    }

    fn code(self, order: Alternative) -> u32 {
        (self.0 >> shift(order)) & CODE
    }

    /// Whether the written form can have this order.
    pub fn possible(self, order: Alternative) -> bool {
        self.code(order) != 0
    }

    /// Whether the value fits in this order.
    pub fn fits(self, order: Alternative) -> bool {
        self.code(order) > NOT_FITTING
    }

    /// Whether the value fits in any order.
    pub fn fits_any(self) -> bool {
        self.fitting().next().is_some()
    }

    /// The orders that the value fits in.
    pub fn fitting(self) -> impl Iterator<Item = Alternative> {
        // A code above that of what does not fit has one of its two higher bits. Behind the last order there is none.
        let mut left = (self.0 >> 1 | self.0 >> 2) & LOWEST;
        std::iter::from_fn(move || {
            let place = left.trailing_zeros() / WIDTH;
            left &= left.wrapping_sub(1);
            Alternative::VARIANTS.get(place as usize).copied()
        })
    }

    /// Whether the value fits in the one order and could be, but is not, in the other: a vote.
    ///
    /// ```
    /// use metachron_core::{evidence::Fits, order::Alternative::*};
    /// // 13/04/2024: no month is 13.
    /// let fits = Fits::default().with(Dmy, Some(0)).with(Mdy, None);
    /// assert!(fits.votes(Dmy, Mdy) && !fits.votes(Mdy, Dmy));
    /// ```
    pub fn votes(self, winner: Alternative, loser: Alternative) -> bool {
        self.fits(winner) && self.possible(loser) && !self.fits(loser)
    }

    /// Whether some of these orders fit with different results.
    ///
    /// ```
    /// use metachron_core::{evidence::Fits, order::Alternative::*};
    /// // 04/04/2024 is the same day either way.
    /// let fits = Fits::default().with(Dmy, Some(0)).with(Mdy, Some(0));
    /// assert!(!fits.differ(&[Dmy, Mdy]));
    /// ```
    pub fn differ(self, orders: &[Alternative]) -> bool {
        let mut results = orders.iter().filter(|o| self.fits(**o)).map(|o| self.code(*o));
        results.next().is_some_and(|first| results.any(|other| other != first))
    }
}

/// The orders have their bits in the order in which they are declared.
fn shift(order: Alternative) -> u32 {
    WIDTH * order as u32
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn orders_do_not_disturb_each_other() {
        for order in Alternative::all() {
            for result in [None, Some(0), Some(3)] {
                let fits = Fits::default().with(order, Some(1)).with(order, result);
                assert!(Alternative::all().all(|o: Alternative| fits.possible(o) == (o == order)));
                assert_eq!(fits.fits(order), result.is_some());
                assert_eq!(fits.fits_any(), result.is_some());
            }
        }
    }

    #[test]
    fn a_vote_needs_a_rival_that_was_possible() {
        let fits = Fits::default().with(Alternative::Dmy, Some(0)).with(Alternative::Mdy, None);
        assert!(fits.votes(Alternative::Dmy, Alternative::Mdy));
        assert!(!fits.votes(Alternative::Dmy, Alternative::Ymd), "year first was not possible");
        assert!(!fits.votes(Alternative::Mdy, Alternative::Dmy));
    }
}
