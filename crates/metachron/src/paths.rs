//! The files that a run reads and those that it writes: none of them is destroyed by another.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::{self, Read};
use std::path::Path;

use metachron_tables::address::is_address;
use metachron_tables::error::TableError;
use metachron_tables::place::{FileIdentity, identity};

use crate::args;
use crate::message::{Failure, shown, shown_output};

/// Bytes that a file which we write ourselves is read up to: what has no end is none of ours.
const LONGEST: u64 = 1_000_000_000;
/// The same of what is no file.
const DEVICE: u64 = 64_000_000;

/// The whole content of a file that is not a table.
pub fn content(path: &Path) -> Result<Vec<u8>, Failure> {
    let read = || {
        let file = File::open(path)?;
        // A pipe has an end, a device may have none.
        let most = if file.metadata().is_ok_and(|file| file.is_file()) { LONGEST } else { DEVICE };
        let mut bytes = Vec::new();
        match file.take(most + 1).read_to_end(&mut bytes)? as u64 > most {
            true => Err(io::Error::other(format!("does not end within {} MB", most / 1_000_000))),
            false => Ok(bytes),
        }
    };
    read().map_err(|error| Failure::reading(path, &TableError::Io(error)))
}

/// The same as text.
pub fn text(path: &Path) -> Result<String, Failure> {
    let bytes = content(path)?;
    String::from_utf8(bytes)
        .map_err(|_| Failure::could_not(format!("{} is not UTF-8", shown(path))))
}

/// All files of a run, each with what it is to whoever reads a message.
#[derive(Debug, Default)]
pub struct RunPaths<'p> {
    reads: Vec<(&'static str, &'p Path)>,
    writes: Vec<(&'static str, &'p Path)>,
    saves: Option<&'p Path>,
}

/// How the readings file is called in messages.
const READINGS: &str = "the readings file";

impl<'p> RunPaths<'p> {
    /// The files that are read for their tables, and what every command reads beside them.
    pub fn of(inputs: impl IntoIterator<Item = &'p Path>, input: &'p args::Input) -> RunPaths<'p> {
        let inputs = inputs.into_iter().map(|path| ("the input", path));
        let readings = input.readings.as_deref().map(|path| (READINGS, path));
        RunPaths { reads: inputs.chain(readings).collect(), ..RunPaths::default() }
    }

    /// Right answers are read too.
    pub fn answered_by(mut self, answers: &'p args::RightAnswers) -> RunPaths<'p> {
        self.reads.extend(answers.fixes.as_deref().map(|path| ("the file of right answers", path)));
        self
    }

    /// Files that are written, and the option that names them.
    pub fn writes(
        mut self,
        what: &'static str,
        paths: impl IntoIterator<Item = &'p Path>,
    ) -> RunPaths<'p> {
        self.writes.extend(paths.into_iter().map(|path| (what, path)));
        self
    }

    /// A readings file that is saved; it may be the one that is read.
    pub fn saves(mut self, path: Option<&'p Path>) -> RunPaths<'p> {
        self.saves = path;
        self.writes("--save", path)
    }

    /// Refuses a run in which a file would be written over one that is read, or two files be written into one.
    pub fn refuse_clashes(&self) -> Result<(), Failure> {
        let known = |(what, path): &(&'static str, &Path)| {
            let is_file = *path != Path::new("-") && !is_address(path);
            Some((is_file.then(|| identity(path))??, *what))
        };
        let read: BTreeMap<FileIdentity, &'static str> =
            self.reads.iter().filter_map(known).collect();
        let standard: Vec<&str> =
            self.writes.iter().filter(|own| own.1 == Path::new("-")).map(|own| own.0).collect();
        if let [one, other, ..] = standard[..] {
            return Err(Failure::usage(format!(
                "{one} and {other} would both be written to standard output; name a file"
            )));
        }
        let mut written: BTreeMap<FileIdentity, &'static str> = BTreeMap::new();
        for (what, path) in &self.writes {
            let Some((own, _)) = known(&(*what, *path)) else { continue };
            let shown = shown_output(path);
            let is_saved = self.saves == Some(*path);
            if let Some(other) = read.get(&own).filter(|other| !is_saved || **other != READINGS) {
                return Err(Failure::usage(format!(
                    "{what} {shown} is {other}; metachron never overwrites what it reads"
                )));
            }
            if let Some(other) = written.insert(own, what) {
                return Err(Failure::usage(match other == *what {
                    true => {
                        format!("two inputs would be written as {shown}; convert them one by one")
                    }
                    false => format!("{what} {shown} is {other} as well; name another file"),
                }));
            }
        }
        Ok(())
    }
}
