//! The steps of derived columns.

use metachron_core::steps::STEPS;
use serde::Serialize;

use super::like;
use crate::args;
use crate::report::Grid;

/// A step of derived columns.
#[derive(Debug, Serialize)]
pub struct StepFacts {
    step: &'static str,
    arguments: &'static str,
    does: &'static str,
}

/// The steps that are asked for.
pub fn all(list: &args::List) -> Vec<StepFacts> {
    let steps = STEPS.iter().filter(|(step, ..)| like(list, &[step]));
    steps.map(|(step, arguments, does)| StepFacts { step, arguments, does }).collect()
}

/// What was found, to be read.
pub fn view(steps: &[StepFacts], width: usize) -> String {
    let mut grid = Grid::new(&["step", "arguments", "does"]);
    for StepFacts { step, arguments, does } in steps {
        // The names of parts are too many for one line.
        let mut names = step.split(' ').collect::<Vec<_>>();
        let behind = names.split_off(names.len().min(3));
        grid.push(vec![names.join(" "), (*arguments).to_owned(), (*does).to_owned()]);
        for names in behind.chunks(3) {
            grid.push(vec![names.join(" "), String::new(), String::new()]);
        }
    }
    let mut view = String::new();
    grid.write(&mut view, 0, width, None);
    view.push_str("\nA column begins with another one, or with: parts ROLE=COLUMN …  (roles: year month day date time zone)\n");
    view
}
