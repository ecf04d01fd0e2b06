//! What is wrong with a layout or with steps, and what would help.

use metachron_core::error::{LayoutError, LayoutErrorKind};
use metachron_core::steps::{StepError, Unknown};

/// What is wrong with a layout, and what would help.
pub fn wrong_layout(error: &LayoutError) -> String {
    match error.kind {
        LayoutErrorKind::NeedsDate => format!("{error}; without {{year}}, --year YEAR says it"),
        _ => error.to_string(),
    }
}

/// What is wrong with steps, and what would help.
pub fn wrong_steps(error: &StepError) -> String {
    let list = match error.unknown {
        Some(Unknown::Step) => "steps",
        Some(Unknown::Zone) => "zones",
        Some(Unknown::Epoch) => "epochs",
        Some(Unknown::Column) | None => return error.to_string(),
    };
    format!("{error}; metachron list {list} has them")
}
