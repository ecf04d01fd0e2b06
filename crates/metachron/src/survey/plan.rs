//! What is to be looked at, before anything is looked at.

use metachron_core::epoch::Epoch;
use metachron_core::evidence::ObserveOptions;
use metachron_core::reading::RowParts;
use metachron_core::text::Missing;
use metachron_core::verdict::{
    Asserted, speaks_of_dates, speaks_of_lengths, speaks_of_quarters, speaks_of_weeks,
    speaks_of_years,
};

use crate::choices::{Choices, Decisions, When};
use crate::intake::Intake;
use crate::message::{Failure, shown};

/// A column that is looked at.
#[derive(Clone)]
pub struct ColumnPlan {
    /// Where it stands.
    pub index: usize,
    /// Its name.
    pub name: String,
    /// What was said of it.
    pub decisions: Box<Decisions>,
    /// Whether options that name no column are about it.
    pub is_target: bool,
    /// The column that tells its rows apart, if one does.
    pub beside: Option<usize>,
    /// The column that tells the zones of its rows, if one does.
    pub zone_at: Option<usize>,
    /// The origin that was saved for its numbers.
    pub saved_epoch: Option<Epoch>,
    /// Whether a saved reading was passed over because nobody has accepted it.
    pub waits: bool,
}

impl ColumnPlan {
    /// What is said of the column that stands here; options that name no column are about the `target`.
    ///
    /// # Errors
    /// What was said contradicts itself, or names what is not there.
    pub fn new(
        intake: &Intake,
        index: usize,
        target: bool,
        choices: &Choices,
    ) -> Result<ColumnPlan, Failure> {
        let name = &intake.names()[index];
        let mut decisions = choices.decisions(name, target);
        decisions.check_years()?;
        decisions.check_zones(choices.zones)?;
        let says = decisions.written.is_some() || decisions.when.is_some();
        let waits = says && decisions.waits_for_acceptance();
        if waits {
            (decisions.written, decisions.when) = (None, None);
        }
        let beside = match &decisions.when {
            Some(When { parts: RowParts::Column(other, _), .. }) => Some(intake.position(other)?),
            Some(When { digest: Some(digest), .. }) => {
                same_content(intake, digest)?;
                None
            }
            _ => None,
        };
        let zone_at = match decisions.clocks.zoning(choices.zones) {
            Ok(Some(zoning)) => zoning.column().map(|other| intake.position(other)).transpose()?,
            _ => None,
        };
        let saved_epoch = choices.saved_epoch(name);
        choices.check_split(name, &choices.said(name, target))?;
        Ok(ColumnPlan {
            index,
            name: name.clone(),
            decisions: Box::new(decisions),
            is_target: target,
            beside,
            zone_at,
            saved_epoch,
            waits,
        })
    }
}

/// Rows are the same rows only in the same content.
fn same_content(intake: &Intake, digest: &str) -> Result<(), Failure> {
    let own = intake.digest()?;
    if own == digest {
        return Ok(());
    }
    Err(Failure::question(format!(
        "{} is not the file whose rows were told apart: its content has changed; \
         look at it anew with metachron survey",
        shown(&intake.path)
    )))
}

/// How the values of a column are looked at.
pub fn observe_options(decisions: &Decisions, choices: &Choices) -> ObserveOptions {
    let own = decisions.missing.iter().flatten();
    let missing = Missing::usual().and(choices.missing.iter().chain(own));
    decisions.observe_options(
        missing.keeping_placeholders(choices.keeps_placeholders),
        choices.today,
        choices.zones,
    )
}

/// What is known of a column of this name.
pub fn asserted(
    decisions: &Decisions,
    name: &str,
    own_epoch: Option<Epoch>,
    choices: &Choices,
) -> Asserted {
    Asserted {
        speaks_of_dates: speaks_of_dates(name),
        speaks_of_lengths: speaks_of_lengths(name),
        speaks_of_weeks: speaks_of_weeks(name),
        speaks_of_years: speaks_of_years(name),
        speaks_of_quarters: speaks_of_quarters(name),
        own_epoch,
        ..decisions.asserted(choices.today, choices.zones)
    }
}

/// The origin of the numbers of a workbook, which has one.
pub fn own_epoch(intake: &Intake) -> Option<Epoch> {
    let is_1904 = intake.table.sheet()?.is_1904?;
    if is_1904 { "sheet-1904" } else { "sheet-1900" }.parse().ok()
}
