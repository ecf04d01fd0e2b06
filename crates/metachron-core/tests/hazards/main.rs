//! Every hazard with its scenario and its honest look-alike: columns with known truth, none of which may be
//! converted to something else without a question.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod judged;
mod laws;
mod repeated_hours;
mod scenarios;

use judged::became;
use scenarios::outcomes::{Judged, no_case_is_wrong};
use scenarios::scenarios;

#[test]
fn no_hazard_is_silently_wrong() {
    no_case_is_wrong(scenarios(), 12, |table| {
        let (became, judgement) = became(table);
        let why = format!("{}\n  {:?}", table.shown(), judgement.findings);
        Judged { became, told: table.told, why }
    });
}
