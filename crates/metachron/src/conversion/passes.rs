//! The passes of a conversion: one for each fact that only the whole table shows, and one that converts.

use metachron_core::steps::Item;
use metachron_tables::table::Row;

use super::output::RowMaker;
use super::plan::ConversionPlan;
use super::rejects::RejectRows;
use super::row::ConvertedRow;
use super::tally::ConversionTally;
use crate::intake::Intake;
use crate::message::Failure;
use crate::pass::{Pass, PassInRuns, Rows};

/// Goes through the table for what made columns need to know of the whole of it.
///
/// # Errors
/// The table cannot be read.
pub fn gather_facts(plan: &mut ConversionPlan<'_>, intake: &Intake) -> Result<(), Failure> {
    // A fact may be about what was made with the help of another one: those come first.
    for at in 0..plan.made.len() {
        if plan.made[at].facts.is_empty() {
            continue;
        }
        let tally = (plan.made[at].facts.clone(), plan.tally());
        let (facts, _) = Rows::all(intake).drive(&GatherFacts { plan, at }, tally)?.tally;
        plan.made[at].facts = facts;
    }
    Ok(())
}

impl Pass for ConversionPlan<'_> {
    type Scratch<'p>
        = ConvertedRow<'p>
    where
        Self: 'p;
    type Tally = ConversionTally;

    fn scratch(&self) -> ConvertedRow<'_> {
        ConvertedRow::of(self)
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut ConvertedRow<'p>,
        tally: &mut ConversionTally,
    ) {
        scratch.take(number, row, tally);
    }

    fn end<'p>(&'p self, scratch: &mut ConvertedRow<'p>, tally: &mut ConversionTally) {
        scratch.end(tally);
    }
}

/// Converting a table whose rows can be made each by itself.
pub struct ConvertRows<'p, 's, M> {
    pub plan: &'p ConversionPlan<'s>,
    /// What makes rows.
    pub maker: M,
    /// How many columns the table has.
    pub columns: usize,
    /// Whether cells that are not read are listed.
    pub lists_rejects: bool,
}

/// What a run of rows comes to.
pub struct ConvertedRun<R> {
    /// What they add up to.
    pub tally: ConversionTally,
    /// The rows as they are written.
    pub made: R,
    /// Cells that are not read, if they are listed.
    pub rejects: Option<RejectRows>,
}

impl<'s, M: RowMaker> Pass for ConvertRows<'_, 's, M> {
    type Scratch<'p>
        = ConvertedRow<'p>
    where
        Self: 'p;
    type Tally = ConvertedRun<M::Rows>;

    fn scratch(&self) -> ConvertedRow<'_> {
        ConvertedRow::of(self.plan)
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        converted: &mut ConvertedRow<'p>,
        run: &mut ConvertedRun<M::Rows>,
    ) {
        converted.take(number, row, &mut run.tally);
        if converted.is_written {
            self.maker.push(&mut run.made, row, converted);
            if converted.reject(number, row, run.rejects.as_mut()) {
                run.tally.unread.note(number);
            }
        }
    }

    fn end<'p>(&'p self, converted: &mut ConvertedRow<'p>, run: &mut ConvertedRun<M::Rows>) {
        converted.end(&mut run.tally);
    }
}

impl<M: RowMaker> PassInRuns for ConvertRows<'_, '_, M> {
    fn tally(&self) -> ConvertedRun<M::Rows> {
        let rejects = self.lists_rejects.then(|| RejectRows::of(self.columns));
        ConvertedRun { tally: self.plan.tally(), made: M::Rows::default(), rejects }
    }

    fn bytes_of_run(&self) -> usize {
        self.maker.bytes_of_run()
    }
}

/// Gathering what the made column at this place needs to know of the whole table.
struct GatherFacts<'p, 's> {
    plan: &'p ConversionPlan<'s>,
    at: usize,
}

impl Pass for GatherFacts<'_, '_> {
    type Scratch<'p>
        = ConvertedRow<'p>
    where
        Self: 'p;
    /// The facts; what is counted besides is of no use.
    type Tally = (Vec<Item>, ConversionTally);

    fn scratch(&self) -> ConvertedRow<'_> {
        ConvertedRow::of(self.plan)
    }

    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut ConvertedRow<'p>,
        (facts, tally): &mut Self::Tally,
    ) {
        let inputs = scratch.inputs_of(self.at, number, row, tally);
        self.plan.made[self.at].program.observe(inputs, facts);
    }
}
