//! What is wrong with something that was said.

use std::fmt::{self, Display};

use metachron_core::error::LayoutError;

use super::options::option_of;
use crate::message::{Failure, marked_below, quoted};
use crate::words::wrong_layout;

/// What is wrong with a key or its value, wherever it was said.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Wrong {
    /// The key, if it is about one.
    key: Option<String>,
    /// What is wrong; behind a key, the rest of the sentence.
    why: String,
}

impl Wrong {
    /// Wrong is what a key says: `"dym" is none of dmy, mdy, ymd, ydm`.
    pub fn new(key: &str, why: impl Display) -> Wrong {
        Wrong { key: Some(key.to_owned()), why: why.to_string() }
    }

    /// Wrong is something else than the value of one key.
    pub fn general(why: impl Display) -> Wrong {
        Wrong { key: None, why: why.to_string() }
    }

    /// The same, found in a text that was typed behind an option.
    pub fn within(self, option: &str, text: &str) -> Wrong {
        Wrong::general(format!("{option} {}: {self}", quoted(text)))
    }

    /// The same of the option that says what the key says.
    pub fn of_option(self) -> Failure {
        match self.key {
            Some(key) => Failure::usage(format!("{} {}", option_of(&key), self.why)),
            None => Failure::usage(self.why),
        }
    }
}

impl Display for Wrong {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.key {
            Some(key) => write!(f, "{key} {}", self.why),
            None => f.write_str(&self.why),
        }
    }
}

impl From<LayoutError> for Wrong {
    fn from(error: LayoutError) -> Wrong {
        Wrong::general(marked_below(&wrong_layout(&error), &error.marked()))
    }
}

impl From<Wrong> for Failure {
    fn from(wrong: Wrong) -> Failure {
        Failure::usage(wrong)
    }
}
