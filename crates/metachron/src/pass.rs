//! A pass over the rows of a table: the one way in which commands go through them.
//!
//! What a pass needs is of three kinds that never mix. The pass itself is the *plan*: fixed, and shared by whoever works
//! on its rows. *Scratch* belongs to one worker: buffers and remembered values, which never change a result. The *tally*
//! is what rows add up to.

use std::path::Path;

use metachron_tables::table::{Lines, Row};

use crate::intake::Intake;
use crate::message::Failure;
use crate::progress::Progress;

/// A plan for the rows of a table.
pub trait Pass {
    /// What one worker needs; it may be thrown away after any row.
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
}

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
                progress.row(number);
            }
            pass.observe(number, row, &mut scratch, &mut tally);
            commit(number, row, &mut scratch, &mut tally)
        })?;
        Ok(Passed { tally, lines, is_part })
    }
}

/// Nothing is planned, and nothing added up.
impl Pass for () {
    type Scratch<'p> = ();
    type Tally = ();

    fn scratch(&self) {}

    fn observe(&self, _: u64, _: &Row<'_>, (): &mut (), (): &mut ()) {}
}
