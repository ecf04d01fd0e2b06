//! A column that has been looked at.

use metachron_core::evidence::{Evidence, ObserveOptions};
use metachron_core::infer::{Inference, Looked, conclude};
use metachron_core::verdict::{
    Asserted, Drift, Harmed, Surroundings, TableColumn, TableStyle, Verdict, harmed_among,
};

use super::plan::{ColumnPlan, asserted, observe_options};
use crate::choices::Choices;
use crate::message::Failure;

/// A column that has been looked at.
#[derive(Clone)]
pub struct SurveyedColumn {
    /// Where it stands, what was said of it, and what stands beside it.
    pub plan: ColumnPlan,
    /// What is known without looking.
    pub(super) asserted: Asserted,
    /// How it was looked at.
    pub(super) options: ObserveOptions,
    /// What was seen.
    pub evidence: Box<Evidence>,
    /// What was seen first, where it was looked at twice.
    pub(super) first_look: Option<Box<(Evidence, ObserveOptions)>>,
    /// Only so many rows were looked at, and there are more.
    pub of_first_rows: Option<u64>,
    /// The conclusion.
    pub inference: Box<Inference>,
}

impl SurveyedColumn {
    /// A column as it was looked at.
    pub(super) fn new(
        plan: ColumnPlan,
        asserted: Asserted,
        looked: Looked,
        of_first_rows: Option<u64>,
    ) -> SurveyedColumn {
        let Looked { evidence, options, first_look, inference } = looked;
        SurveyedColumn { plan, asserted, options, evidence, first_look, of_first_rows, inference }
    }

    /// The same column of another file as well: evidence adds up, and is judged anew.
    ///
    /// # Errors
    /// The two were looked at with different options.
    pub fn and(self, other: &SurveyedColumn) -> Result<SurveyedColumn, Failure> {
        let (own, options) = self.first();
        let evidence = own.clone().merge(other.first().0.clone()).map_err(Failure::could_not)?;
        let evidence = Box::new(evidence);
        let inference = Box::new(conclude(&evidence, options, &self.asserted));
        let options = options.clone();
        Ok(SurveyedColumn { evidence, inference, options, first_look: None, ..self })
    }

    /// The same, where one of the files that add up, each with its name, was harmed by an import.
    #[must_use]
    pub fn of_parts<'p>(
        mut self,
        parts: impl Iterator<Item = (&'p str, &'p SurveyedColumn)>,
    ) -> SurveyedColumn {
        let parts = parts.map(|(name, part)| (name, &part.inference.judgement));
        self.asserted.harmed_part = harmed_among(parts);
        if self.asserted.harmed_part.is_some() {
            self.inference = Box::new(conclude(&self.evidence, &self.options, &self.asserted));
        }
        self
    }

    /// A column whose evidence was gathered earlier as it would be now, and perhaps in which file an import has
    /// harmed it.
    pub fn of_evidence(
        name: &str,
        evidence: Evidence,
        harmed_part: Option<Harmed>,
        choices: &Choices,
    ) -> SurveyedColumn {
        let decisions = choices.decisions(name, choices.chosen.iter().any(|chosen| chosen == name));
        let options = observe_options(&decisions, choices);
        let asserted = Asserted { harmed_part, ..asserted(&decisions, name, None, choices) };
        let inference = Box::new(conclude(&evidence, &options, &asserted));
        let plan = ColumnPlan {
            index: 0,
            name: name.to_owned(),
            is_target: false,
            decisions: Box::new(decisions),
            beside: None,
            zone_at: None,
            saved_epoch: None,
            waits: false,
        };
        let looked = Looked { evidence: Box::new(evidence), options, first_look: None, inference };
        SurveyedColumn::new(plan, asserted, looked, None)
    }

    /// What was seen first: only that adds up with what is seen elsewhere.
    pub fn first_evidence(&self) -> &Evidence {
        self.first().0
    }

    /// What was seen first, and with which options.
    pub(super) fn first(&self) -> (&Evidence, &ObserveOptions) {
        match self.first_look.as_deref() {
            Some((evidence, options)) => (evidence, options),
            None => (&self.evidence, &self.options),
        }
    }

    /// How the column differs from what its reading was saved for.
    pub fn drift(&self) -> Vec<Drift> {
        let seen = self.plan.decisions.seen.as_ref().filter(|_| !self.plan.waits);
        let mut all = seen.map_or(Vec::new(), |seen| {
            seen.drift(&self.evidence, &self.inference.judgement, &self.asserted)
        });
        // A workbook has its own origin, whether or not figures were saved.
        let is_told = all.iter().any(|drift| matches!(drift, Drift::OtherOrigin { .. }));
        if let (Some(saved), Some(own)) = (self.plan.saved_epoch, self.asserted.own_epoch)
            && saved.is_of_sheets()
            && saved != own
            && self.evidence.numbers.rows > 0
            && !is_told
        {
            all.push(Drift::OtherOrigin { saved: saved.to_string(), own });
        }
        all
    }

    /// Whether every value is typed by the file itself.
    pub fn is_typed(&self) -> bool {
        !self.is_written() && self.evidence.cells.fault == 0
    }

    /// Whether any value is text or a number that has to be read.
    pub fn is_written(&self) -> bool {
        let cells = self.evidence.cells;
        cells.typed == 0 || cells.text + cells.number > 0
    }

    /// Whether it was said to be left as it is.
    pub fn is_left(&self) -> bool {
        self.plan.decisions.convert == Some(false)
    }

    /// Whether a person has to answer before it can be converted.
    pub fn is_open(&self) -> bool {
        self.verdict().is_open() && !self.is_left()
    }

    /// The verdict.
    pub fn verdict(&self) -> Verdict {
        self.inference.judgement.verdict
    }
}

/// A column as others see it.
pub fn as_seen(column: &SurveyedColumn) -> TableColumn<'_> {
    let SurveyedColumn { plan, evidence, inference, .. } = column;
    TableColumn { name: &plan.name, evidence, judgement: &inference.judgement }
}

/// Columns as others see them.
pub fn columns_as_seen(columns: &[SurveyedColumn]) -> Vec<TableColumn<'_>> {
    columns.iter().map(as_seen).collect()
}

/// Judges columns again in the light of the rest of the table: open ones, and those that an import wrote which has
/// harmed another.
pub fn weigh_together(columns: &mut [SurveyedColumn], style: TableStyle) {
    let seen = columns_as_seen(columns);
    let surroundings = Surroundings::of(&seen, style);
    let all: Vec<_> = (0..columns.len())
        .map(|at| match columns[at].verdict().is_open() {
            true => (surroundings.signals(at), surroundings.harmed(at)),
            false => (Vec::new(), surroundings.harmed(at)),
        })
        .collect();
    for (column, (signals, harmed)) in columns.iter_mut().zip(all) {
        if signals.is_empty() && harmed.is_none() {
            continue;
        }
        column.asserted.signals = signals;
        column.asserted.harmed_beside = harmed;
        *column.inference = conclude(&column.evidence, &column.options, &column.asserted);
    }
}
