//! From a table that was looked at to one with typed columns: what is planned, what a row comes to, what the rows add up
//! to, and where they go.

mod fixes;
mod inferred;
mod made;
mod output;
mod passes;
mod plan;
mod rejects;
mod row;
mod series;
mod sorting;
mod tally;
mod typed;

pub use made::MadeProgram;
pub use output::TableOutput;
pub use passes::gather_facts;
pub use plan::ConversionPlan;
pub use rejects::Rejects;
pub use tally::{ColumnTally, ConversionTally, MadeTally, Unread};
pub use typed::{TypedColumn, replaced_name};
