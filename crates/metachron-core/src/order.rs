//! The order of day, month and year, and the other ways in which the numbers of a written form can be taken.

use serde::{Deserialize, Serialize};

use strum::{Display, IntoStaticStr, VariantArray};

use crate::named::Named;

/// The order of day, month and year in a written date.
///
/// ```
/// use metachron_core::order::Order;
/// use metachron_core::named::Named;
/// assert_eq!(Order::named("dmy"), Ok(Order::Dmy));
/// assert_eq!(Order::Mdy.to_string(), "mdy");
/// ```
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, VariantArray, IntoStaticStr, Display,
)]
#[strum(serialize_all = "lowercase")]
pub enum Order {
    /// Day, month, year.
    Dmy,
    /// Month, day, year.
    Mdy,
    /// Year, month, day.
    Ymd,
    /// Year, day, month; no region writes so, and it is only tried when asked for.
    Ydm,
}

/// One of the ways in which the numbers of a written form can be taken.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    VariantArray,
    IntoStaticStr,
)]
#[serde(rename_all = "kebab-case")]
#[strum(serialize_all = "kebab-case")]
pub enum Alternative {
    /// Day, month, year.
    Dmy,
    /// Month, day, year.
    Mdy,
    /// Year, month, day.
    Ymd,
    /// Year, day, month.
    Ydm,
    /// Year and day of the year, where the digits may be a day and a month too.
    Ordinal,
    /// The form leaves nothing open.
    Only,
    /// Of a length of time: hours, minutes.
    HoursMinutes,
    /// Of a length of time: minutes, seconds.
    MinutesSeconds,
    /// Of a length of time whose `m` is minutes.
    Minutes,
    /// Of a length of time whose `m` is months.
    Months,
}

impl Order {
    /// The values of day, month and year in the order in which they are written.
    ///
    /// ```
    /// use metachron_core::order::Order;
    /// assert_eq!(Order::Mdy.arrange(13, 4, 2024), [4, 13, 2024]);
    /// ```
    pub fn arrange<T>(self, day: T, month: T, year: T) -> [T; 3] {
        match self {
            Order::Dmy => [day, month, year],
            Order::Mdy => [month, day, year],
            Order::Ymd => [year, month, day],
            Order::Ydm => [year, day, month],
        }
    }
}

impl Alternative {
    /// Whether it is what the numbers of a length of time are.
    ///
    /// ```
    /// use metachron_core::order::Alternative;
    /// assert!(Alternative::MinutesSeconds.is_of_length() && !Alternative::Dmy.is_of_length());
    /// ```
    pub fn is_of_length(self) -> bool {
        use Alternative::{HoursMinutes, Minutes, MinutesSeconds, Months};
        matches!(self, HoursMinutes | MinutesSeconds | Minutes | Months)
    }

    /// The values of day, month and year from left to right; a day of the year stands behind its year.
    pub(crate) fn arrange<T>(self, day: T, month: T, year: T) -> [T; 3] {
        let order = match self {
            Alternative::Ordinal => Order::Ymd,
            other => Order::try_from(other).unwrap_or(Order::Dmy),
        };
        order.arrange(day, month, year)
    }

    /// Where day, month and year stand, from left to right: what [`arrange`](Self::arrange) undoes.
    pub(crate) fn places(self) -> [usize; 3] {
        match self {
            Alternative::Mdy => [1, 0, 2],
            Alternative::Ymd | Alternative::Ordinal => [2, 1, 0],
            Alternative::Ydm => [1, 2, 0],
            _ => [0, 1, 2],
        }
    }
}

impl From<Order> for Alternative {
    fn from(order: Order) -> Alternative {
        match order {
            Order::Dmy => Alternative::Dmy,
            Order::Mdy => Alternative::Mdy,
            Order::Ymd => Alternative::Ymd,
            Order::Ydm => Alternative::Ydm,
        }
    }
}

impl TryFrom<Alternative> for Order {
    type Error = ();

    /// # Errors
    /// If it is no order of day, month and year.
    fn try_from(alternative: Alternative) -> Result<Order, ()> {
        let is_own = |order: &Order| Alternative::from(*order) == alternative;
        Order::all().find(is_own).ok_or(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn places_undo_arrangement() {
        for order in [Alternative::Dmy, Alternative::Mdy, Alternative::Ymd, Alternative::Ydm] {
            let arranged = order.arrange('d', 'm', 'y');
            assert_eq!(order.places().map(|at| arranged[at]), ['d', 'm', 'y']);
        }
    }
}
