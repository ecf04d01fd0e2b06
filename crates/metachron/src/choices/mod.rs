//! Everything that a person can say: what was typed and what a readings file holds, and what it means for every
//! column.

mod options;
mod wrong;
pub mod keys;
mod zones;
mod decisions;
mod syntax;
mod said;
mod readings_file;
mod files;
mod resolve;

pub use decisions::{Decisions, When};
pub use files::{suggested_output, suggested_readings};
pub use options::column_options;
pub use readings_file::{ReadingsFile, SavedColumn, baseline_value, render};
pub use resolve::{Choices, charset};
pub use said::{Said, by_columns};
pub use syntax::{MadeColumn, named, rows_text, set_name, step_name};
pub use wrong::Wrong;
pub use zones::{clock, zone_data};
