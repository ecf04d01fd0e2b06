//! What a rule says of a case: a finding, what it does to the verdict, and what would settle it.

use super::case::{Case, Subject};
use super::finding::Finding;
use super::model::{Settle, Verdict};
use crate::order::Alternative;

/// What a finding does to the verdict.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Effect {
    /// Nothing: it is worth a sentence.
    Note,
    /// A form that nothing decides leans to this order, unless something stronger leads it; none where it
    /// only says that it may be either.
    Lead(Strength, Option<Alternative>),
    /// A form that was decided leans to what it was decided for.
    Doubt,
    /// The column leans, unless something else keeps it open: the answer to that may settle this too.
    LeanAtLeast,
    /// A person has to answer: the verdict is this or worse.
    Ask(Verdict),
}

/// How strongly something leads a form, the weakest first. Of what leads one form, only the strongest is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Strength {
    /// Soft evidence.
    Soft,
    /// How far the clocks of other forms of the column go.
    OtherClocks,
    /// The order for which the other forms of the column are decided.
    OtherForms,
}

/// What a rule has found.
#[derive(Debug, Clone)]
pub(super) struct Found {
    pub finding: Finding,
    pub effect: Effect,
    /// The form that it is about, by its place in the case; none where it is about the column.
    pub about: Option<usize>,
    /// What would settle it.
    pub ways: Vec<Settle>,
}

impl Found {
    /// Worth a sentence.
    pub(super) fn note(finding: impl Into<Finding>) -> Found {
        Found { finding: finding.into(), effect: Effect::Note, about: None, ways: Vec::new() }
    }

    /// A question, and what would settle it.
    pub(super) fn ask(
        verdict: Verdict,
        finding: impl Into<Finding>,
        ways: impl IntoIterator<Item = Settle>,
    ) -> Found {
        Found {
            effect: Effect::Ask(verdict),
            ways: ways.into_iter().collect(),
            ..Found::note(finding)
        }
    }

    /// A form that was decided may be something else.
    pub(super) fn doubt(form: usize, finding: impl Into<Finding>) -> Found {
        Found { effect: Effect::Doubt, about: Some(form), ..Found::note(finding) }
    }

    /// The same, but only told where layouts read the column: who gave them has said it, perhaps of other rows.
    pub(super) fn or_told(self, case: &Case<'_>) -> Found {
        match case.subject {
            Subject::Layouts(_) => Found::note(self.finding),
            _ => self,
        }
    }

    /// A form leans to this, or may be either.
    pub(super) fn lead(
        form: usize,
        (strength, to): (Strength, Option<Alternative>),
        finding: impl Into<Finding>,
    ) -> Found {
        Found { effect: Effect::Lead(strength, to), about: Some(form), ..Found::note(finding) }
    }
}
