//! Adds up what was seen elsewhere, on all processors.

use std::collections::HashMap;
use std::panic::resume_unwind;
use std::path::{Path, PathBuf};
use std::thread::{self, ScopedJoinHandle};

use metachron_core::evidence::Evidence;

use super::plan::observe_options;
use super::seen::{LookedAtOtherwise, Seen};
use crate::choices::Choices;
use crate::message::{Failure, plain, shown};

/// What was seen in several files of evidence together.
#[derive(Debug)]
pub struct Sum {
    pub seen: Seen,
    /// Files of which all was seen in others too: they are counted once.
    pub again: Vec<PathBuf>,
}

/// The sum of what was seen elsewhere: parts are numbered as their files follow each other, and what was seen of the same
/// part twice is counted once.
///
/// # Errors
/// A file cannot be read, was gathered in another way, or holds some parts that another one holds, and others.
pub fn sum_of(files: &[PathBuf], choices: &Choices) -> Result<Sum, Failure> {
    let (files, again) = once(files)?;
    let threads = choices.threads.clamp(1, files.len().max(1));
    let of_each = files.len().div_ceil(threads).max(1);
    let mut files = files.into_iter().peekable();
    let mut sums: Vec<(&Path, Result<Seen, Failure>)> = Vec::new();
    thread::scope(|scope| {
        let mut workers = Vec::new();
        while let Some(first) = files.peek().map(|given| given.path) {
            let run: Vec<Given<'_>> = files.by_ref().take(of_each).collect();
            workers.push((first, scope.spawn(move || sum_of_run(run, choices))));
        }
        let sum = |(first, worker): (_, ScopedJoinHandle<'_, _>)| {
            (first, worker.join().unwrap_or_else(|panic| resume_unwind(panic)))
        };
        sums.extend(workers.into_iter().map(sum));
    });
    let mut seen = Seen::default();
    for (first, sum) in sums {
        seen.add(sum?).map_err(|LookedAtOtherwise(column)| looked_at_otherwise(first, &column))?;
    }
    let again = again.into_iter().map(Path::to_owned).collect();
    Ok(Sum { seen, again })
}

/// A file of evidence, and what is in it where it can be read only once, such as a pipe.
struct Given<'f> {
    path: &'f Path,
    seen: Option<Seen>,
}

/// The files whose parts none before them holds, and those of which all parts are held before.
fn once(files: &[PathBuf]) -> Result<(Vec<Given<'_>>, Vec<&Path>), Failure> {
    let mut held: HashMap<_, &Path> = HashMap::new();
    let (mut once, mut again) = (Vec::new(), Vec::new());
    for file in files {
        let seen = if file.is_file() { None } else { Some(Seen::read(file)?) };
        let parts = match &seen {
            Some(seen) => seen.parts.clone(),
            None => Seen::parts_in(file)?,
        };
        let others = parts.iter().filter_map(|part| Some((part, *held.get(&part.key())?)));
        let others: Vec<_> = others.collect();
        match others.first() {
            Some(_) if others.len() == parts.len() => {
                again.push(file.as_path());
                continue;
            }
            Some((part, other)) => {
                return Err(Failure::usage(format!(
                    "{} and {} both hold what was seen in {}, and {} holds other parts too; give each part once",
                    shown(other),
                    shown(file),
                    shown(Path::new(&part.name)),
                    shown(file)
                )));
            }
            None => {}
        }
        held.extend(parts.iter().map(|part| (part.key(), file.as_path())));
        once.push(Given { path: file, seen });
    }
    Ok((once, again))
}

/// The sum of files that follow each other.
fn sum_of_run(files: Vec<Given<'_>>, choices: &Choices) -> Result<Seen, Failure> {
    let mut sum = Seen::default();
    let mut expected: HashMap<String, Evidence> = HashMap::new();
    for Given { path: file, seen } in files {
        let seen = seen.map_or_else(|| Seen::read(file), Ok)?;
        for (name, own) in &seen.columns {
            if !expected.contains_key(name) {
                let is_chosen = choices.chosen.iter().any(|chosen| chosen == name);
                let options = observe_options(&choices.decisions(name, is_chosen), choices);
                expected.insert(name.clone(), Evidence::empty(&options));
            }
            if !expected.get(name).is_some_and(|expected| own.was_gathered_as(expected)) {
                return Err(looked_at_otherwise(file, name));
            }
        }
        sum.add(seen).map_err(|LookedAtOtherwise(column)| looked_at_otherwise(file, &column))?;
    }
    Ok(sum)
}

fn looked_at_otherwise(file: &Path, column: &str) -> Failure {
    Failure::usage(format!(
        "{} was gathered with other options for {}, or in another year; give the same options, \
         --readings and --as-of included",
        shown(file),
        plain(column)
    ))
}
