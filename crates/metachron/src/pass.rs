//! A pass over the rows of a table: the one way in which commands go through them.
//!
//! What a pass needs is of three kinds that never mix. The pass itself is the *plan*: fixed, and shared by whoever works
//! on its rows. *Scratch* belongs to one worker: buffers and remembered values, which never change a result. The *tally*
//! is what rows add up to.
//!
//! Rows are gone through in one go, or in *runs* of rows that follow each other, on several threads: where a table is cut
//! into runs hangs on the table alone, so the result is the same for every number of threads.

use std::ops::ControlFlow;
use std::path::Path;
use std::sync::mpsc::{SyncSender, sync_channel};
use std::thread;

use metachron_tables::batch::Batch;
use metachron_tables::chunks::{CHUNK, Chunk, Chunks};
use metachron_tables::error::TableError;
use metachron_tables::table::{Lines, Row};

use crate::intake::Intake;
use crate::message::Failure;
use crate::progress::Progress;
use crate::workers;

/// A plan for the rows of a table.
pub trait Pass {
    /// What one worker needs; it may be thrown away after any row, or after any run of rows.
    type Scratch<'p>
    where
        Self: 'p;
    /// What the rows add up to.
    type Tally;

    /// What a worker begins with.
    fn scratch(&self) -> Self::Scratch<'_>;

    /// Takes in a row; the first is 1.
    fn observe<'p>(
        &'p self,
        number: u64,
        row: &Row<'_>,
        scratch: &mut Self::Scratch<'p>,
        tally: &mut Self::Tally,
    );

    /// Takes in rows that follow each other, the first of which has this number.
    fn observe_all<'p>(
        &'p self,
        first: u64,
        rows: &[Row<'_>],
        scratch: &mut Self::Scratch<'p>,
        tally: &mut Self::Tally,
    ) {
        for (number, row) in (first..).zip(rows) {
            self.observe(number, row, scratch, tally);
        }
    }

    /// Ends the rows of a tally: what a worker still holds of them is added to it.
    fn end<'p>(&'p self, _: &mut Self::Scratch<'p>, _: &mut Self::Tally) {}
}

/// A pass whose rows may be gone through in runs.
pub trait PassInRuns: Pass<Tally: Send> + Sync {
    /// What no rows add up to.
    fn tally(&self) -> Self::Tally;

    /// About how many bytes of delimited text a run has.
    fn bytes_of_run(&self) -> usize {
        CHUNK
    }
}

/// A pass whose runs add up.
pub trait JoinedPass: PassInRuns {
    /// Adds what the next run of rows adds up to.
    fn join(&self, tally: &mut Self::Tally, next: Self::Tally);

    /// Whether rows may be gone through in runs: not where each hangs on those before it.
    fn goes_in_runs(&self) -> bool {
        true
    }
}

/// Rows of formats that are not cut into chunks, in one run.
const ROWS_OF_RUN: u64 = 16_384;
/// Those of them that are gone through at a time.
const ROWS_AT_A_TIME: usize = 256;

/// Rows that are gone through.
pub struct Rows<'t> {
    intake: &'t Intake,
    /// Only so many of them.
    first: Option<u64>,
    progress: Option<Progress>,
}

/// What a pass has come to.
pub struct Passed<T> {
    /// What the rows add up to.
    pub tally: T,
    /// What was met on the way.
    pub lines: Lines,
    /// Whether there are more rows than were gone through.
    pub is_part: bool,
}

impl<'t> Rows<'t> {
    /// All rows of a table.
    pub fn all(intake: &'t Intake) -> Rows<'t> {
        Rows { intake, first: None, progress: None }
    }

    /// The first rows alone, if a number is given.
    pub fn first(self, rows: Option<u64>) -> Rows<'t> {
        Rows { first: rows, ..self }
    }

    /// Shows on a terminal how far it has come with this file, if that is `wanted`.
    pub fn showing(self, path: &Path, wanted: bool) -> Rows<'t> {
        Rows { progress: Some(Progress::new(path, wanted)), ..self }
    }

    /// How many columns they have.
    pub fn width(&self) -> usize {
        self.intake.names().len()
    }

    /// Goes through the rows.
    ///
    /// # Errors
    /// The file cannot be read.
    pub fn drive<P: Pass>(self, pass: &P, tally: P::Tally) -> Result<Passed<P::Tally>, Failure> {
        self.drive_into(pass, tally, |_, _, _, _| Ok(()))
    }

    /// Goes through the rows of a small table that is only read.
    ///
    /// # Errors
    /// The file cannot be read, or what `take` fails with.
    pub fn each(
        self,
        mut take: impl FnMut(&Row<'_>) -> Result<(), Failure>,
    ) -> Result<(), Failure> {
        self.drive_into(&(), (), |_, row, (), ()| take(row)).map(|_| ())
    }

    /// Goes through the rows, and hands on what each has come to, in their order.
    ///
    /// # Errors
    /// The file cannot be read, or what `commit` fails with.
    pub fn drive_into<'p, P: Pass>(
        mut self,
        pass: &'p P,
        mut tally: P::Tally,
        mut commit: impl FnMut(u64, &Row<'_>, &mut P::Scratch<'p>, &mut P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<P::Tally>, Failure> {
        let mut scratch = pass.scratch();
        let (lines, is_part) = self.intake.each_row(self.first, |number, row| {
            if let Some(progress) = &mut self.progress {
                progress.rows(number);
            }
            pass.observe(number, row, &mut scratch, &mut tally);
            commit(number, row, &mut scratch, &mut tally)
        })?;
        pass.end(&mut scratch, &mut tally);
        Ok(Passed { tally, lines, is_part })
    }

    /// Goes through the rows, on so many threads where they may be gone through in runs.
    ///
    /// # Errors
    /// The file cannot be read.
    pub fn add_up<P: JoinedPass>(
        self,
        pass: &P,
        threads: usize,
    ) -> Result<Passed<P::Tally>, Failure> {
        let mut tally = pass.tally();
        if !pass.goes_in_runs() {
            return self.drive(pass, tally);
        }
        let Passed { lines, is_part, .. } = self.drive_in_runs(pass, threads, |next| {
            pass.join(&mut tally, next);
            Ok(())
        })?;
        Ok(Passed { tally, lines, is_part })
    }

    /// Goes through the rows in runs on so many threads, and hands on what each run adds up to, in their order.
    ///
    /// # Errors
    /// The file cannot be read, or what `commit` fails with: the first of these in the order of the rows.
    pub fn drive_in_runs<P: PassInRuns>(
        self,
        pass: &P,
        threads: usize,
        commit: impl FnMut(P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<()>, Failure> {
        let (intake, first) = (self.intake, self.first);
        let failed = |error: TableError| Failure::reading(&intake.path, &error);
        match intake.table.chunks(pass.bytes_of_run()).map_err(failed)? {
            Some(mut chunks) => {
                let next = |room: Part| room.next(&mut chunks);
                self.take_in_runs((pass, threads), next, commit)
            }
            // Other formats are not cut: one thread reads, and hands on copies of rows.
            None => thread::scope(|scope| {
                let (give, batches) = sync_channel(1);
                scope.spawn(move || ReadRows::hand_on(intake, first, &give));
                self.take_in_runs((pass, threads), move |_: ReadRows| batches.recv().ok(), commit)
            }),
        }
    }

    /// Goes through runs, one after the other, and hands on what each adds up to.
    fn take_in_runs<P: PassInRuns, R: Run>(
        mut self,
        (pass, threads): (&P, usize),
        mut next: impl FnMut(R) -> Option<R> + Send,
        mut commit: impl FnMut(P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<()>, Failure> {
        let (intake, first) = (self.intake, self.first);
        let (mut all, mut is_part) = (Lines::default(), false);
        let mut end = Ok(());
        let mut take = |RunEnd { tally, lines }: RunEnd<P::Tally>| {
            // What stands before an error goes before it.
            match commit(tally).and(lines) {
                Ok(Some(lines)) => {
                    all.join(lines);
                    if let Some(progress) = &mut self.progress {
                        progress.rows(all.rows);
                    }
                    return ControlFlow::Continue(());
                }
                Ok(None) => {
                    is_part = true;
                    all = Lines { rows: first.unwrap_or_default(), ..Lines::default() };
                }
                Err(failure) => end = Err(failure),
            }
            ControlFlow::Break(())
        };
        let mut first_run = next(R::default());
        match &first_run {
            // Nobody else would have anything to do.
            Some(only) if only.is_last() => {
                let _ = take(go_through(only, pass, (intake, first), &mut pass.scratch()));
            }
            _ => {
                let next = |room: R| first_run.take().or_else(|| next(room));
                let begin = || {
                    let mut scratch = pass.scratch();
                    move |run: &R| go_through(run, pass, (intake, first), &mut scratch)
                };
                workers::in_order(threads, next, begin, take);
            }
        }
        end.map(|()| Passed { tally: (), lines: all, is_part })
    }
}

/// Rows that follow each other and are gone through by one worker.
trait Run: Default + Send + Sync {
    /// Whether no row follows.
    fn is_last(&self) -> bool;

    /// Goes through the rows, some at a time, each time from the row of this number on, until `take` wants no more; tells
    /// what was met. The first row of the table is 1.
    ///
    /// # Errors
    /// The table cannot be read. None if `take` wants no more.
    fn each_rows(
        &self,
        intake: &Intake,
        take: impl FnMut(u64, &[Row<'_>]) -> ControlFlow<()>,
    ) -> Result<Lines, Option<Failure>>;
}

/// What a run of rows has come to.
struct RunEnd<T> {
    tally: T,
    /// What was met on the way, or what stopped it; nothing where no more rows are wanted.
    lines: Result<Option<Lines>, Failure>,
}

/// Goes through the rows of a run, as far as they are among the first rows that are wanted of the table.
fn go_through<'p, P: PassInRuns>(
    run: &impl Run,
    pass: &'p P,
    (intake, first): (&Intake, Option<u64>),
    scratch: &mut P::Scratch<'p>,
) -> RunEnd<P::Tally> {
    let (mut tally, most) = (pass.tally(), first.unwrap_or(u64::MAX));
    let read = run.each_rows(intake, |number, rows| {
        let wanted = most.saturating_add(1).saturating_sub(number).min(rows.len() as u64) as usize;
        pass.observe_all(number, &rows[..wanted], scratch, &mut tally);
        match wanted < rows.len() {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        }
    });
    pass.end(scratch, &mut tally);
    let lines = read.map(Some).or_else(|end| end.map_or(Ok(None), Err));
    RunEnd { tally, lines }
}

/// A chunk of a table, or why there is none.
#[derive(Default)]
struct Part {
    chunk: Chunk,
    failed: Option<TableError>,
}

impl Part {
    /// The next part, in the room of this one.
    fn next(self, chunks: &mut Chunks) -> Option<Part> {
        match chunks.next(self.chunk) {
            Ok(chunk) => chunk.map(|chunk| Part { chunk, failed: None }),
            Err(error) => Some(Part { chunk: Chunk::default(), failed: Some(error) }),
        }
    }
}

impl Run for Part {
    fn is_last(&self) -> bool {
        self.chunk.is_last()
    }

    fn each_rows(
        &self,
        intake: &Intake,
        mut take: impl FnMut(u64, &[Row<'_>]) -> ControlFlow<()>,
    ) -> Result<Lines, Option<Failure>> {
        let failed = |error: &TableError| Some(Failure::reading(&intake.path, error));
        match &self.failed {
            Some(error) => Err(failed(error)),
            None => intake.table.each_rows_of(
                &self.chunk,
                |error| failed(&error),
                |number, rows| take(number, rows).is_continue().then_some(()).ok_or(None),
            ),
        }
    }
}

/// Rows that one thread has read.
#[derive(Default)]
struct ReadRows {
    /// How many rows there are before them.
    before: u64,
    rows: Batch,
    /// What was met in all of the table, or why it cannot be read, if no row follows.
    end: Option<Result<Lines, TableError>>,
}

impl ReadRows {
    /// Reads the rows of a table, one more than are wanted at most, and hands them on.
    fn hand_on(intake: &Intake, first: Option<u64>, to: &SyncSender<ReadRows>) {
        let most = first.map_or(u64::MAX, |first| first.saturating_add(1));
        let mut next = ReadRows::default();
        let read = intake.table.each_row(Some, |number, row| {
            next.rows.push(row);
            let is_full = number.is_multiple_of(ROWS_OF_RUN);
            // Nobody may be there any more who wants them.
            if is_full && to.send(std::mem::take(&mut next)).is_err() {
                return Err(None);
            }
            next.before = number - next.rows.len() as u64;
            if number < most { Ok(()) } else { Err(None) }
        });
        next.end = match read {
            Ok(lines) => Some(Ok(lines)),
            Err(Some(error)) => Some(Err(error)),
            // Those who go through the rows know that there are enough.
            Err(None) => Some(Ok(Lines::default())),
        };
        let _ = to.send(next);
    }
}

impl Run for ReadRows {
    fn is_last(&self) -> bool {
        self.end.is_some()
    }

    fn each_rows(
        &self,
        intake: &Intake,
        mut take: impl FnMut(u64, &[Row<'_>]) -> ControlFlow<()>,
    ) -> Result<Lines, Option<Failure>> {
        let rows: Vec<Row<'_>> = self.rows.rows().collect();
        for (number, rows) in
            (self.before + 1..).step_by(ROWS_AT_A_TIME).zip(rows.chunks(ROWS_AT_A_TIME))
        {
            if take(number, rows).is_break() {
                return Err(None);
            }
        }
        let rows = rows.len() as u64;
        match &self.end {
            Some(Err(error)) => Err(Some(Failure::reading(&intake.path, error))),
            Some(Ok(lines)) => Ok(Lines { rows, ..lines.clone() }),
            None => Ok(Lines { rows, ..Lines::default() }),
        }
    }
}

/// Nothing is planned, and nothing added up.
impl Pass for () {
    type Scratch<'p> = ();
    type Tally = ();

    fn scratch(&self) {}

    fn observe(&self, _: u64, _: &Row<'_>, (): &mut (), (): &mut ()) {}
}
