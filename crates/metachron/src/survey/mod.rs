//! A table that has been looked at: evidence, and a judgement on every column.

mod plan;
mod column;
mod other_readings;
mod evidence_file;
mod effect;
mod look;
mod again;
mod expected;
mod table;

pub use column::{SurveyedColumn, columns_as_seen, weigh_together};
pub use evidence_file::EvidenceFile;
pub use look::told;
pub use other_readings::OtherReading;
pub use table::{SurveyedTable, survey};
