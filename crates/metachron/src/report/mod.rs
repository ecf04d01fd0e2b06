//! What we say: facts first, then views of them.

mod grid;
pub mod paste;
pub mod column;
mod blocks;
mod came_out;
pub mod run;
pub mod source;
pub mod facts;
mod overview;
mod detail;
pub mod questions;
mod extend;
mod signs;
pub mod check;
pub mod html;
pub mod count;
pub mod chart;
pub mod summary;

pub use blocks::{Block, block, indent_of, indent_of_names};
pub use column::length_in_words;
pub use detail::detail;
pub use grid::{Grid, cut, paragraph};
pub use overview::{overview, together};

/// What a view is written on.
#[derive(Debug, Clone, Copy)]
pub struct Page {
    /// Columns of text.
    pub width: usize,
    /// Whether colours are shown.
    pub color: bool,
}

impl Page {
    /// The verdict's word in the colour that repeats what it says.
    fn verdict(self, word: &str) -> String {
        let code = match word {
            "decided" => "32",
            "not-a-date" => "2",
            _ => "33",
        };
        if self.color { format!("\u{1b}[{code}m{word}\u{1b}[0m") } else { word.to_owned() }
    }

    /// A name that leads a paragraph whose text stands so far in; a long one has its own line.
    pub fn lead_within(self, name: &str, indent: usize, out: &mut String) -> String {
        let room = indent.saturating_sub(2 + unicode_width::UnicodeWidthStr::width(name));
        if room > 0 {
            return format!("  {}{}", self.lead(name), " ".repeat(room));
        }
        out.push_str(&format!("  {}\n", self.lead(name)));
        " ".repeat(indent)
    }

    /// A name that leads a paragraph.
    fn lead(self, name: &str) -> String {
        if self.color { format!("\u{1b}[1m{name}\u{1b}[0m") } else { name.to_owned() }
    }
}
