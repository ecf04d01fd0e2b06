//! How columns are looked at.

use super::known::MOST_RECENT;
use super::{Evidence, ObserveOptions};
use crate::apply::LayoutProgram;
use crate::reading::Split;

/// How a part of a column is looked at: fixed before the first row, and shared by all who look at its rows.
pub struct ObservePlan {
    pub(super) options: ObserveOptions,
    /// The number of the part in its table.
    pub(super) part: u32,
    /// The layouts that the analyst gave.
    pub(super) given: Vec<LayoutProgram>,
    /// Which of those are for which rows, where rows differ.
    pub(super) split: Option<Split<Vec<usize>>>,
    /// How many values are remembered, so that nothing has to be found out again.
    pub(super) remembered: usize,
    /// The options as text, which evidence has with it.
    digest: Box<str>,
}

impl ObservePlan {
    /// With these options. Parts of a table are numbered so that rows can be named.
    ///
    /// ```
    /// use std::sync::Arc;
    /// use metachron_core::evidence::{ObserveOptions, ObservePlan, Observer};
    /// let plan = Arc::new(ObservePlan::new(ObserveOptions::default(), 0));
    /// let (mut rows, mut next) = (Observer::of(plan.clone()), Observer::of(plan));
    /// rows.observe(1, "03/04/2024");
    /// next.observe(2, "13/04/2024");
    /// assert_eq!(rows.finish().join(next.finish()).unwrap().rows, 2);
    /// ```
    pub fn new(options: ObserveOptions, part: u32) -> ObservePlan {
        let given = options.layouts.iter().map(LayoutProgram::new).collect();
        let split = options.split.as_ref().and_then(|split| split.places(&options.layouts));
        let digest = options.digest().into();
        ObservePlan { options, part, given, split, remembered: MOST_RECENT, digest }
    }

    /// The same, where no more values are remembered than there is room for beside other columns. It changes no result.
    #[must_use]
    pub fn remembering(self, values: usize) -> ObservePlan {
        ObservePlan { remembered: values, ..self }
    }

    /// The evidence of no rows.
    pub(super) fn no_evidence(&self) -> Evidence {
        Evidence::of_digest(self.digest.clone())
    }
}
