//! What a chart is made of: axes whose ticks stand on boundaries of the calendar, and points that are thinned without
//! hiding the least and the greatest. Nothing is drawn here.
//!
//! ```
//! use jiff::civil::date;
//! use metachron_core::charting::{Axis, Labels};
//! use metachron_core::timeline::place;
//! use metachron_core::typed::TypedValue;
//!
//! let at = |month, day| place(TypedValue::Date(date(2024, month, day)));
//! let axis = Axis::of_calendar((at(1, 20), at(6, 3)), 6, None, Labels::english()).unwrap();
//! let labels: Vec<&str> = axis.ticks.iter().map(|tick| tick.label.as_str()).collect();
//! assert_eq!(labels, ["Feb", "Mar", "Apr", "May", "Jun"]);
//! ```

mod labels;
mod axis;
mod points;

pub use axis::{Axis, NumberAxis, Tick};
pub use labels::Labels;
pub use points::{PixelColumn, Points};
