//! What is wrong with a layout, and what would help.

use metachron_core::error::{LayoutError, LayoutErrorKind};

/// What is wrong with a layout, and what would help.
pub fn wrong_layout(error: &LayoutError) -> String {
    match error.kind {
        LayoutErrorKind::NeedsDate => format!("{error}; without {{year}}, --year YEAR says it"),
        _ => error.to_string(),
    }
}
