//! From a table that was looked at to one with typed columns: what is planned, what a row comes to, what the rows add up
//! to, and where they go.

mod inferred;
mod rejects;
mod came_out;
mod tally;
mod series;
mod typed;
mod fixes;
mod made;
mod sorting;
mod plan;
mod reader;
mod row;
mod output;
mod passes;

pub use came_out::{CameOut, Sample};
pub use made::{MadeProgram, check_early};
pub use output::{RowMaker, RowsAlone, TableOutput, delivery_to, described_in, undelivered};
pub use passes::{ConvertRows, gather_facts};
pub use plan::{ConversionOptions, ConversionPlan, Looks};
pub use rejects::{RejectRows, Rejects};
pub use row::ConvertedRow;
pub use tally::{ColumnTally, ConversionTally, MadeTally, Unread};
pub use typed::{TypedColumn, replaced_name};
