//! A table that has been looked at: evidence, and a judgement on every column.

mod plan;
mod column;
mod other_readings;
mod seen;
mod sum;
mod effect;
mod look;
mod again;
mod expected;
mod table;

pub use column::{SurveyedColumn, columns_as_seen, weigh_together};
pub use look::told;
pub use other_readings::OtherReading;
pub use seen::{Seen, SeenPart};
pub use sum::{Sum, sum_of};
pub use table::{SurveyedTable, survey};
