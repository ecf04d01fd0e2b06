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
use std::sync::mpsc::sync_channel;
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

/// Rows of formats that are not cut into chunks, in one run: also on one thread.
const ROWS_OF_RUN: u64 = 16_384;

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
        mut self,
        pass: &P,
        threads: usize,
        mut commit: impl FnMut(P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<()>, Failure> {
        let (intake, first) = (self.intake, self.first);
        let failed = |error: TableError| Failure::reading(&intake.path, &error);
        let Some(mut chunks) = intake.table.chunks(pass.bytes_of_run()).map_err(failed)? else {
            return match threads {
                1 => self.drive_by_rows(pass, commit),
                _ => self.drive_in_batches(pass, threads, commit),
            };
        };
        let (mut all, mut is_part) = (Lines::default(), false);
        let mut end = Ok(());
        let mut take = |Run { tally, lines }: Run<P::Tally>| {
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
        let mut first_part = Part::default().next(&mut chunks);
        let is_all = first_part.as_ref().is_none_or(|part| part.chunk.is_last());
        if is_all {
            // Nobody else has anything to do.
            if let Some(part) = first_part {
                let _ = take(part.run(pass, (intake, first), &mut pass.scratch()));
            }
            return end.map(|()| Passed { tally: (), lines: all, is_part });
        }
        let next = |room: Part| first_part.take().or_else(|| room.next(&mut chunks));
        let begin = || {
            let mut scratch = pass.scratch();
            move |part: &Part| part.run(pass, (intake, first), &mut scratch)
        };
        workers::in_order(threads, next, begin, take);
        end.map(|()| Passed { tally: (), lines: all, is_part })
    }

    /// The same for formats that are not cut into chunks: one thread reads, and hands batches of rows to the others.
    fn drive_in_batches<P: PassInRuns>(
        mut self,
        pass: &P,
        threads: usize,
        mut commit: impl FnMut(P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<()>, Failure> {
        let (intake, first) = (self.intake, self.first);
        let mut end = Ok(());
        let take = |(tally, number): (P::Tally, u64)| {
            if let Some(progress) = &mut self.progress {
                progress.rows(number);
            }
            end = commit(tally);
            match &end {
                Ok(()) => ControlFlow::Continue(()),
                Err(_) => ControlFlow::Break(()),
            }
        };
        let begin = || {
            let mut scratch = pass.scratch();
            move |batch: &NumberedBatch| batch.run(pass, &mut scratch)
        };
        let read = thread::scope(|scope| {
            let (give, batches) = sync_channel::<NumberedBatch>(1);
            let reader = scope.spawn(move || {
                let mut next = NumberedBatch::default();
                // Who wants no more rows says so by its own end.
                let hand_on = |batch: NumberedBatch| {
                    let gone = || Failure::could_not("nobody takes what is read".to_owned());
                    give.send(batch).map_err(|_| gone())
                };
                let read = intake.each_row(first, |number, row| {
                    next.rows.push(row);
                    if number.is_multiple_of(ROWS_OF_RUN) {
                        let before = number;
                        let rows = std::mem::take(&mut next.rows);
                        hand_on(NumberedBatch { before: next.before, rows })?;
                        next.before = before;
                    }
                    Ok(())
                });
                // What stands before an error goes before it.
                hand_on(next).and(read)
            });
            workers::in_order(threads, move |_| batches.recv().ok(), begin, take);
            reader.join()
        });
        end?;
        let (lines, is_part) = read.unwrap_or_else(|panic| std::panic::resume_unwind(panic))?;
        Ok(Passed { tally: (), lines, is_part })
    }

    /// The same on one thread.
    fn drive_by_rows<P: PassInRuns>(
        mut self,
        pass: &P,
        mut commit: impl FnMut(P::Tally) -> Result<(), Failure>,
    ) -> Result<Passed<()>, Failure> {
        let (mut scratch, mut tally) = (pass.scratch(), pass.tally());
        let mut is_refused = false;
        let read = self.intake.each_row(self.first, |number, row| {
            if let Some(progress) = &mut self.progress {
                progress.rows(number);
            }
            pass.observe(number, row, &mut scratch, &mut tally);
            if number.is_multiple_of(ROWS_OF_RUN) {
                pass.end(&mut scratch, &mut tally);
                let own = std::mem::replace(&mut tally, pass.tally());
                commit(own).inspect_err(|_| is_refused = true)?;
            }
            Ok(())
        });
        if !is_refused {
            // What stands before an error goes before it.
            pass.end(&mut scratch, &mut tally);
            commit(tally)?;
        }
        let (lines, is_part) = read?;
        Ok(Passed { tally: (), lines, is_part })
    }
}

/// Rows that follow each other, behind so many others.
#[derive(Default)]
struct NumberedBatch {
    before: u64,
    rows: Batch,
}

impl NumberedBatch {
    /// Goes through its rows; also the number of the last one.
    fn run<'p, P: PassInRuns>(&self, pass: &'p P, scratch: &mut P::Scratch<'p>) -> (P::Tally, u64) {
        let (mut tally, mut number) = (pass.tally(), self.before);
        self.rows.each_row(|row| {
            number += 1;
            pass.observe(number, row, scratch, &mut tally);
        });
        pass.end(scratch, &mut tally);
        (tally, number)
    }
}

/// A chunk of a table, or why there is none.
#[derive(Default)]
struct Part {
    chunk: Chunk,
    failed: Option<TableError>,
}

/// What a run of rows has come to.
struct Run<T> {
    tally: T,
    /// What was met on the way, or what stopped it; nothing where no more rows are wanted.
    lines: Result<Option<Lines>, Failure>,
}

impl Part {
    /// The next part, in the room of this one.
    fn next(self, chunks: &mut Chunks) -> Option<Part> {
        match chunks.next(self.chunk) {
            Ok(chunk) => chunk.map(|chunk| Part { chunk, failed: None }),
            Err(error) => Some(Part { chunk: Chunk::default(), failed: Some(error) }),
        }
    }

    /// Goes through its rows, of which only so many of the whole table are wanted.
    fn run<'p, P: PassInRuns>(
        &self,
        pass: &'p P,
        (intake, first): (&Intake, Option<u64>),
        scratch: &mut P::Scratch<'p>,
    ) -> Run<P::Tally> {
        let mut tally = pass.tally();
        if let Some(error) = &self.failed {
            return Run { tally, lines: Err(Failure::reading(&intake.path, error)) };
        }
        let most = first.unwrap_or(u64::MAX);
        // What stops a run is that it has enough rows, or an error.
        let read = intake.table.each_row_of(&self.chunk, Some, |number, row| {
            if number > most {
                return Err(None);
            }
            pass.observe(number, row, scratch, &mut tally);
            Ok(())
        });
        pass.end(scratch, &mut tally);
        let lines = match read {
            Ok(lines) => Ok(Some(lines)),
            Err(None) => Ok(None),
            Err(Some(error)) => Err(Failure::reading(&intake.path, &error)),
        };
        Run { tally, lines }
    }
}

/// Nothing is planned, and nothing added up.
impl Pass for () {
    type Scratch<'p> = ();
    type Tally = ();

    fn scratch(&self) {}

    fn observe(&self, _: u64, _: &Row<'_>, (): &mut (), (): &mut ()) {}
}
