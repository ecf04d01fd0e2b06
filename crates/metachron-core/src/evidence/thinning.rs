//! How much of what a table shows is kept: all of it, or a fair part where there is not room enough.

use serde::{Deserialize, Serialize};

/// How often what is kept of a column was halved, so that all columns of a table have room: what is counted is always
/// counted whole, but fewer different values, forms and dates are told apart.
///
/// ```
/// use metachron_core::evidence::Thinning;
/// let once = Thinning::NONE.more().unwrap();
/// assert_eq!((Thinning::NONE.values_beside(), once.values_beside()), (512, 256));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize)]
pub struct Thinning(u8);

/// So often at most: then no column beside tells rows apart any more.
const MOST: u8 = 10;

impl Thinning {
    /// All is kept.
    pub const NONE: Thinning = Thinning(0);

    /// Half as much; none where next to nothing is kept already.
    pub fn more(self) -> Option<Thinning> {
        (self.0 < MOST).then_some(Thinning(self.0 + 1))
    }

    /// Different values of a column beside; with more of them it tells single rows apart, not sources.
    pub fn values_beside(self) -> usize {
        512 >> self.0.min(MOST)
    }

    /// Written forms that are told apart.
    pub fn shapes(self) -> usize {
        (4_096 >> self.0.min(MOST)).max(16)
    }

    /// Different dates of a column: at first more than four decades have days.
    pub fn dates(self) -> usize {
        (16_384 >> self.0.min(MOST)).max(128)
    }
}
