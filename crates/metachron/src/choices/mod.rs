//! Everything that a person can say: what was typed and what a readings file holds, and what it means for every
//! column.

mod options;
mod wrong;
pub mod keys;
mod zones;
mod decisions;
mod syntax;
mod said;
mod shaping;
mod readings_file;
mod readings_text;
mod files;
mod resolve;

pub use decisions::{Decisions, When};
pub use files::{suggested_output, suggested_readings};
pub use options::{COLUMN_KEYS, column_options, option_of};
pub use readings_file::{ReadingsFile, SOURCE_KEYS, baseline_value};
pub use readings_text::{Keys, Saved, SavedColumn, render};
pub use resolve::{Choices, charset, delimiter_named};
pub use said::{Said, by_columns};
pub use shaping::{MadeColumn, MadeSeries, Shaping};
pub use syntax::{rows_text, set_name, step_name};
pub use wrong::Wrong;
pub use zones::{clock, zone_data, zone_of_city};

#[cfg(test)]
mod fuzz;
