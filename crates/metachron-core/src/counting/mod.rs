//! Rows counted per period of time: what the first look at a result wants to know.
//!
//! ```
//! use metachron_core::counting::{Counts, Per};
//! use metachron_core::typed::TypedValue;
//!
//! let mut counts = Counts::new(Per::Month, 0);
//! for (month, day) in [(3, 5), (3, 17), (5, 1)] {
//!     let seen = TypedValue::Date(jiff::civil::date(2024, month, day));
//!     counts.add(String::new(), Per::Month.slot(seen).unwrap(), &[]);
//! }
//! let rows: Vec<(String, u64)> =
//!     counts.lines().unwrap().map(|line| (line.slot.to_string(), line.rows)).collect();
//! assert_eq!(rows, [("2024-03".into(), 2), ("2024-04".into(), 0), ("2024-05".into(), 1)]);
//! ```

mod per;
mod amounts;
mod counts;

pub use amounts::{Amounts, Figure};
pub use counts::{Counts, Line, MOST_LINES};
pub use per::{Per, Slot};
