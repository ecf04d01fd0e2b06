//! Passes in which columns are looked at.

use std::slice;
use std::sync::Arc;

use metachron_core::evidence::{
    Evidence, Neighbours, ObserveOptions, ObservePlan, Observer, Thinning,
};
use metachron_core::infer::{Looked, conclude, look};
use metachron_core::reading::RowPlace;
use metachron_core::text::trimmed;
use metachron_core::value::Value;
use metachron_core::verdict::Asserted;
use metachron_tables::table::{Lines, Row};

use super::column::SurveyedColumn;
use super::plan::{ColumnPlan, asserted, observe_options, own_epoch};
use crate::choices::Choices;
use crate::intake::Intake;
use crate::message::Failure;
use crate::pass::{JoinedPass, Pass, PassInRuns, Passed, Rows};

/// A table whose columns are looked at, and which of all parts it is.
#[derive(Clone, Copy)]
pub struct Viewer<'t> {
    pub intake: &'t Intake,
    pub part: u32,
    pub choices: &'t Choices,
}

/// What one pass over the table shows.
pub struct SeenTable {
    /// What was seen of the columns that were asked for.
    #[expect(clippy::vec_box, reason = "it is large, and goes on from list to list")]
    pub evidence: Vec<Box<Evidence>>,
    /// What was met on the way.
    pub lines: Lines,
    /// Columns without a name and without a single value.
    pub blank: Vec<usize>,
    /// Whether there are more rows than were looked at.
    pub is_part: bool,
}

impl Viewer<'_> {
    /// Looks at columns, twice where that helps, and concludes; also what the first pass shows of the whole table.
    pub fn look(self, plans: Vec<ColumnPlan>) -> Result<(Vec<SurveyedColumn>, SeenTable), Failure> {
        let asked: Vec<(ObserveOptions, Asserted)> =
            plans.iter().map(|plan| self.ask(plan)).collect();
        let mut first: Option<SeenTable> = None;
        let looked = look(&asked, |columns| {
            let columns: Vec<(&ColumnPlan, &ObserveOptions)> =
                columns.iter().map(|(at, options)| (&plans[*at], options)).collect();
            let mut seen = self.observe(&columns)?;
            let evidence = std::mem::take(&mut seen.evidence);
            first.get_or_insert(seen);
            Ok::<_, Failure>(evidence)
        })?;
        let seen = match first {
            Some(seen) => seen,
            None => self.observe(&[])?,
        };
        let of_first_rows = self.choices.first_rows.filter(|_| seen.is_part);
        let columns =
            plans.into_iter().zip(asked).zip(looked).map(|((plan, (_, asserted)), looked)| {
                SurveyedColumn::new(plan, asserted, looked, of_first_rows)
            });
        Ok((columns.collect(), seen))
    }

    /// Looks once at columns that others are beside of, in one pass with these.
    pub fn look_beside(
        self,
        columns: &mut [SurveyedColumn],
        others: Vec<ColumnPlan>,
    ) -> Result<Vec<SurveyedColumn>, Failure> {
        let asked: Vec<(ObserveOptions, Asserted)> =
            others.iter().map(|plan| self.ask(plan)).collect();
        let own = columns.iter().map(|column| (&column.plan, &column.options));
        let beside = others.iter().zip(&asked).map(|(plan, (options, _))| (plan, options));
        let all: Vec<(&ColumnPlan, &ObserveOptions)> = own.chain(beside).collect();
        let SeenTable { mut evidence, is_part, .. } = self.observe(&all)?;
        let of_others = evidence.split_off(columns.len());
        for (own, again) in columns.iter_mut().zip(evidence) {
            own.evidence = again;
        }
        let of_first_rows = self.choices.first_rows.filter(|_| is_part);
        let others = others.into_iter().zip(asked).zip(of_others);
        Ok(others
            .map(|((plan, (options, asserted)), evidence)| {
                let inference = Box::new(conclude(&evidence, &options, &asserted));
                let looked = Looked { evidence, options, first_look: None, inference };
                SurveyedColumn::new(plan, asserted, looked, of_first_rows)
            })
            .collect())
    }

    /// How a column is looked at, and what is known of it.
    fn ask(self, plan: &ColumnPlan) -> (ObserveOptions, Asserted) {
        let options = observe_options(&plan.decisions, self.choices);
        let own = own_epoch(self.intake);
        (options, asserted(&plan.decisions, &plan.name, own, self.choices))
    }

    /// One pass over the table.
    pub fn observe(self, columns: &[(&ColumnPlan, &ObserveOptions)]) -> Result<SeenTable, Failure> {
        let Viewer { intake, part, choices } = self;
        let names = intake.names().iter().map(String::as_str);
        /// Values that a worker remembers of all columns together: up to a kilobyte each.
        const REMEMBERED: usize = 65_536;
        let remembered = REMEMBERED / columns.len().max(1);
        let observed = |options: &ObserveOptions| {
            Arc::new(ObservePlan::new(options.clone(), part).remembering(remembered))
        };
        let pass = Look {
            columns: columns.iter().map(|(plan, options)| (*plan, observed(options))).collect(),
            neighbours: Neighbours::of(names),
            blank: intake.table.header.unnamed(),
            // What was seen first stays beside what is seen next.
            room: choices.evidence_room / 2,
            is_in_runs: columns.len() <= MOST_IN_RUNS,
        };
        let rows = Rows::all(intake)
            .first(choices.first_rows)
            .showing(&intake.path, choices.shows_progress);
        let Passed { tally, lines, is_part } = rows.add_up(&pass, choices.threads)?;
        let Sight { evidence, blank } = tally;
        Ok(SeenTable { evidence, lines, blank, is_part })
    }
}

/// Tables of more columns are looked at in one run: each run has evidence of its own for each column.
const MOST_IN_RUNS: usize = 128;

/// Looking at columns.
struct Look<'c> {
    /// Where each stands, and how it is looked at.
    columns: Vec<(&'c ColumnPlan, Arc<ObservePlan>)>,
    /// The other columns, as they are before the first row.
    neighbours: Neighbours,
    /// Columns without a name.
    blank: Vec<usize>,
    /// Bytes that what is seen of all of them may take.
    room: usize,
    /// Whether the rows are gone through in runs: then what is kept hangs on these and not on who looks.
    is_in_runs: bool,
}

/// What the rows show.
struct Sight {
    /// The evidence of each column; nothing before the rows have ended.
    #[expect(clippy::vec_box, reason = "it is large, and goes on from list to list")]
    evidence: Vec<Box<Evidence>>,
    /// Columns without a name and without a value.
    blank: Vec<usize>,
}

/// What a worker looks with.
struct Eyes {
    observers: Vec<Observer>,
    neighbours: Neighbours,
    thinning: Thinning,
    /// Cells that were looked at since it was last weighed.
    unweighed: usize,
    cell: String,
    beside: String,
}

impl Eyes {
    /// Looks at what stands in rows beside the columns, column by column.
    fn look_beside(&mut self, rows: &[Row<'_>]) {
        let Eyes { neighbours, cell, .. } = self;
        neighbours.begin(rows.len());
        for at in 0..neighbours.len() {
            for (number, row) in rows.iter().enumerate() {
                if !neighbours.wants(at) {
                    break;
                }
                neighbours.see_in(number, at, told(row.cell(at, cell)));
            }
        }
    }

    /// Looks at the cells of so many columns, and now and then keeps less of what takes too much room, of all alike.
    fn keep_within(&mut self, room: usize, columns: usize) {
        /// So many cells take a few milliseconds, and far less room than there is.
        const CELLS: usize = 16_384;
        self.unweighed += columns;
        if self.unweighed < CELLS {
            return;
        }
        self.unweighed = 0;
        while self.observers.iter().map(Observer::weight).sum::<usize>() > room {
            let Some(thinner) = self.thinning.more() else { return };
            self.thinning = thinner;
            self.neighbours.thin(thinner);
            for observer in &mut self.observers {
                observer.thin(thinner, &self.neighbours);
            }
        }
    }
}

impl Pass for Look<'_> {
    type Scratch<'p>
        = Eyes
    where
        Self: 'p;
    type Tally = Sight;

    fn scratch(&self) -> Eyes {
        Eyes {
            observers: self.columns.iter().map(|(_, plan)| Observer::of(plan.clone())).collect(),
            neighbours: self.neighbours.clone(),
            thinning: Thinning::NONE,
            unweighed: 0,
            cell: String::new(),
            beside: String::new(),
        }
    }

    fn observe(&self, number: u64, row: &Row<'_>, eyes: &mut Eyes, tally: &mut Sight) {
        self.observe_all(number, slice::from_ref(row), eyes, tally);
    }

    fn observe_all(&self, first: u64, rows: &[Row<'_>], eyes: &mut Eyes, tally: &mut Sight) {
        eyes.look_beside(rows);
        for (number, row) in (first..).zip(rows) {
            if !self.is_in_runs {
                eyes.keep_within(self.room, self.columns.len());
            }
            let Eyes { observers, neighbours, cell, beside, .. } = eyes;
            tally.blank.retain(|column| match row.cell(*column, cell) {
                Value::Missing => true,
                Value::Text(text) => trimmed(text).is_empty(),
                Value::Number(_) | Value::Typed(_) | Value::Fault(..) => false,
            });
            neighbours.next_row();
            for ((plan, _), observer) in self.columns.iter().zip(observers) {
                let beside = plan.beside.map_or("", |index| told(row.cell(index, beside)));
                let place = RowPlace { row: number, beside, zone: "" };
                let day = observer.observe_among(place, row.cell(plan.index, cell), neighbours);
                neighbours.note(plan.index, day);
            }
        }
    }

    fn end(&self, eyes: &mut Eyes, tally: &mut Sight) {
        let Eyes { observers, neighbours, .. } = eyes;
        let columns = self.columns.iter().map(|(plan, _)| plan.name.as_str());
        tally.evidence = match self.is_in_runs {
            true => {
                let observed = columns.zip(observers);
                observed.map(|(name, observer)| observer.end_run(name, neighbours)).collect()
            }
            // Nobody looks any more: where there are many columns, each makes room for the next.
            false => {
                let observed = columns.zip(std::mem::take(observers));
                observed.map(|(name, observer)| observer.finish_among(name, neighbours)).collect()
            }
        };
        *neighbours = self.neighbours.clone();
    }
}

impl JoinedPass for Look<'_> {
    fn join(&self, sight: &mut Sight, next: Sight) {
        sight.blank.retain(|column| next.blank.contains(column));
        if sight.evidence.is_empty() {
            sight.evidence = next.evidence;
            return;
        }
        let both = std::mem::take(&mut sight.evidence).into_iter().zip(next.evidence);
        // Runs of one column are looked at in the same way.
        let joined = both.filter_map(|(own, next)| own.join(*next).ok().map(Box::new));
        sight.evidence = joined.collect();
        debug_assert_eq!(sight.evidence.len(), self.columns.len());
        while sight.evidence.iter().map(|own| own.weight()).sum::<usize>() > self.room {
            let thinned = sight.evidence.iter().map(|own| own.thinned).max().unwrap_or_default();
            let Some(thinner) = thinned.more() else { break };
            sight.evidence.iter_mut().for_each(|own| own.thin(thinner));
        }
    }

    fn goes_in_runs(&self) -> bool {
        self.is_in_runs
    }
}

impl PassInRuns for Look<'_> {
    fn tally(&self) -> Sight {
        Sight { evidence: Vec::new(), blank: self.blank.clone() }
    }
}

/// What a cell says of the cells of its row.
pub fn told(value: Value<'_>) -> &str {
    match value {
        Value::Text(text) | Value::Number(text) => trimmed(text),
        Value::Missing | Value::Typed(_) | Value::Fault(..) => "",
    }
}
