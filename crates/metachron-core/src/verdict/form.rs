//! The values of one form, and what is known of how they are to be read.

use super::finding::Finding;
use super::model::Verdict;
use crate::candidates::{Form, Style};
use crate::evidence::{Fits, Group};
use crate::layout::{Field, Layout};
use crate::order::Alternative;

/// The values of one form, and what is known of how they are to be read.
#[derive(Clone)]
pub(super) struct JudgedForm<'e> {
    pub form: &'e Form,
    pub group: &'e Group,
    /// The ways in which it can be read.
    pub alternatives: Vec<Alternative>,
    /// Layouts by alternative, with the rows that have them, the most frequent first.
    pub layouts: Vec<(Alternative, Layout)>,
    /// Alternatives that are not excluded.
    pub in_play: Vec<Alternative>,
    /// What its own values come to.
    pub state: State,
    /// Why.
    pub findings: Vec<Finding>,
}

/// What is known of how a form is to be read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum State {
    Decided(Alternative),
    /// The analyst asked for an order that this form cannot have.
    Refused,
    Leaning(Alternative),
    Undecided,
    Mixed,
}

impl State {
    /// The verdict on a column that has this form alone.
    pub(super) fn verdict(self) -> Verdict {
        match self {
            State::Decided(_) | State::Refused => Verdict::Decided,
            State::Leaning(_) => Verdict::Leaning,
            State::Undecided => Verdict::Undecided,
            State::Mixed => Verdict::Mixed,
        }
    }

    /// Whether a person has to answer.
    pub(super) fn is_open(self) -> bool {
        self.verdict().is_open()
    }
}

/// Whether a value is read by one of the alternatives of its style: the length of time that a clock form may be
/// instead is none of them.
pub(super) fn reads(style: Style, fits: Fits) -> bool {
    match style {
        Style::Time => fits.fits(Alternative::Only),
        _ => fits.fits_any(),
    }
}

impl JudgedForm<'_> {
    pub(super) fn style(&self) -> Style {
        self.form.style
    }

    /// Rows of this form that can be read in some way.
    pub(super) fn rows(&self) -> u64 {
        self.group.rows(|fits| reads(self.form.style, fits))
    }

    pub(super) fn layouts_of(&self, alternative: Alternative) -> impl Iterator<Item = &Layout> {
        self.layouts.iter().filter(move |(own, _)| *own == alternative).map(|(_, layout)| layout)
    }

    pub(super) fn has_short_years(&self) -> bool {
        self.layouts.iter().any(|(_, layout)| layout.has(Field::YearTwo))
    }

    /// The alternative that takes day, month and year from these places, if the form can be read so.
    pub(super) fn taking(&self, places: [usize; 3]) -> Option<Alternative> {
        self.alternatives.iter().copied().find(|own| own.places() == places)
    }

    /// The two alternatives in play that have votes against each other, if it is of two minds.
    pub(super) fn quarrel(&self) -> Option<[Alternative; 2]> {
        let votes = |a: Alternative, b: Alternative| self.group.rows(|fits| fits.votes(a, b)) > 0;
        self.in_play.iter().enumerate().find_map(|(at, one)| {
            let rivals = &self.in_play[at + 1..];
            let other = rivals.iter().find(|other| votes(*one, **other) && votes(**other, *one))?;
            Some([*one, *other])
        })
    }
}
