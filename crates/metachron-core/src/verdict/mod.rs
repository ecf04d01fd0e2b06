//! What the evidence amounts to, why, and what would settle it.
//!
//! A case is the evidence of a column with what was said of it, built once. Every rule of the table of hazards
//! looks at it and gives findings, and one fold makes a [`Judgement`] of them. Findings are data: what is said of
//! them, and by which words, is for others.
//!
//! Files use only those above them in the list below.

mod column_name;
mod answer;
mod signal;
mod mixture;
mod as_written;
mod finding;
mod ruled_out;
mod model;
mod odds;
mod form;
mod weighing;
mod plain_numbers;
mod origins;
mod case;
mod contenders;
mod counts;
mod found;
mod hazards;
mod ways;
mod judge;
mod seen_shapes;
mod own_orders;
mod drift;
mod beside;
mod parts;

pub use answer::Answer;
pub use as_written::{AsWritten, PlainKind};
pub use beside::{
    Surroundings, TableColumn, TableStyle, harmed_among, has_no_late_day, is_harmed, most_harmed,
};
pub(crate) use case::{are_lengths, language_by_answers};
pub use column_name::{
    speaks_of_dates, speaks_of_lengths, speaks_of_quarters, speaks_of_weeks, speaks_of_years,
    words_of,
};
pub use drift::{Baseline, Drift, NewValue};
pub use finding::{
    CountedBeside, Finding, Harmed, ImportFinding, LanguageFinding, LengthFinding, NumberFinding,
    ZoneFinding,
};
pub use judge::judge;
pub(crate) use judge::layouts_in_order;
pub use mixture::{Apart, Clue, Estimate, FoundSplit};
pub use model::{Asserted, Contender, Counts, Judgement, Origin, Settle, Telling, Verdict};
pub use origins::OriginsBeside;
pub(crate) use origins::counted_by_answers;
pub use parts::{PartsApart, parts_apart};
pub use ruled_out::RuledOut;
pub use signal::{Custom, DatePart, Signal, SignalKind};
