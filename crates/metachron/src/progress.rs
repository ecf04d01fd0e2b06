//! Shows on a terminal that something is going on, if it takes more than a second.

use std::path::Path;
use std::time::{Duration, Instant};

use indicatif::{ProgressBar, ProgressStyle};

use crate::message::shown;

/// Rows between two looks at the clock.
const ROWS: u64 = 8_192;
const PATIENCE: Duration = Duration::from_secs(1);

/// A count of rows on standard error; nothing where that is no terminal.
pub struct Progress {
    begun: Instant,
    /// How many rows are done when it is next looked at the clock.
    next: u64,
    name: Option<String>,
    bar: Option<ProgressBar>,
}

impl Progress {
    /// Begins; nothing is shown yet.
    pub fn new(path: &Path, wanted: bool) -> Progress {
        Progress { begun: Instant::now(), next: ROWS, name: wanted.then(|| shown(path)), bar: None }
    }

    /// So many rows are done.
    pub fn rows(&mut self, number: u64) {
        if number < self.next {
            return;
        }
        self.next = number + ROWS;
        if let Some(bar) = &self.bar {
            bar.set_position(number);
        } else if let Some(name) = self.name.take_if(|_| self.begun.elapsed() > PATIENCE) {
            let bar = ProgressBar::no_length().with_message(name);
            // The template is known to be sound; a plain bar would do as well.
            if let Ok(style) =
                ProgressStyle::with_template("{spinner} {msg}  {human_pos} rows, {elapsed}")
            {
                bar.set_style(style);
            }
            self.bar = Some(bar);
        }
    }
}

impl Drop for Progress {
    fn drop(&mut self) {
        if let Some(bar) = &self.bar {
            bar.finish_and_clear();
        }
    }
}
