//! Runs a target on inputs that nobody has thought of: as many as one test run has time for, or for as many seconds as
//! `FUZZ_SECONDS` says, from the seed `FUZZ_SEED` on.
//!
//! Inputs are drawn from a dictionary of what the target knows and from the files of `corpus/TARGET`, and damaged. An
//! input on which the target panics is kept there, so that it is tried again by every test run. Whatever a target draws
//! beside its input depends on that input alone: so the same input always does the same.

#[path = "../numbers/mod.rs"]
mod numbers;

use std::collections::BTreeSet;
use std::fs;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

pub use numbers::Numbers;

/// Inputs that one run keeps: what comes after them has most likely the same cause.
const MOST_KEPT: usize = 20;

/// What is tried.
pub struct Target<'d> {
    /// Its name, and that of its folder in the corpus.
    pub name: &'static str,
    /// Runs of one test run.
    pub runs: u64,
    /// What inputs are made of.
    pub dictionary: &'d [&'d str],
    /// Whole inputs to begin with, beside those of the corpus.
    pub seeds: Vec<Vec<u8>>,
}

impl Target<'_> {
    /// Runs it: an input on which `check` panics is kept, and fails the test.
    pub fn run(self, mut check: impl FnMut(&[u8], &mut Numbers)) {
        let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../corpus").join(self.name);
        let kept = files(&folder);
        let seconds = std::env::var("FUZZ_SECONDS").ok().and_then(|text| text.parse().ok());
        let end = seconds.map(|seconds| Instant::now() + Duration::from_secs(seconds));
        let seed = std::env::var("FUZZ_SEED").ok().and_then(|text| text.parse().ok()).unwrap_or(1);
        let mut numbers = Numbers(seed);
        let mut failed = BTreeSet::new();
        let begin = Instant::now();
        let mut try_one = |input: &[u8]| {
            let mut numbers = Numbers(hash(input));
            if catch_unwind(AssertUnwindSafe(|| check(input, &mut numbers))).is_err() {
                failed.insert(keep(&folder, input));
            }
            failed.len() < MOST_KEPT
        };
        let seeds: Vec<Vec<u8>> = kept.into_iter().chain(self.seeds).collect();
        let mut goes_on = seeds.iter().all(|input| try_one(input));
        let mut runs = seeds.len() as u64;
        while goes_on {
            let is_over = match end {
                Some(end) => runs.is_multiple_of(64) && Instant::now() >= end,
                None => runs >= self.runs,
            };
            if is_over {
                break;
            }
            let input = drawn(&mut numbers, self.dictionary, &seeds);
            goes_on = try_one(&input);
            runs += 1;
        }
        println!("{}: {runs} runs in {} s, seed {seed}", self.name, begin.elapsed().as_secs());
        assert!(failed.is_empty(), "{} inputs are kept: {failed:#?}", failed.len());
    }
}

/// The inputs that are kept, in the order of their names.
fn files(folder: &Path) -> Vec<Vec<u8>> {
    let Ok(entries) = fs::read_dir(folder) else { return Vec::new() };
    let mut paths: Vec<PathBuf> = entries.map(|entry| entry.unwrap().path()).collect();
    paths.sort();
    paths.iter().map(|path| fs::read(path).unwrap()).collect()
}

/// FNV-1a: the same in every version of everything.
fn hash(input: &[u8]) -> u64 {
    let mix = |hash: u64, byte: &u8| (hash ^ u64::from(*byte)).wrapping_mul(0x100_0000_01B3);
    input.iter().fold(0xCBF2_9CE4_8422_2325, mix)
}

fn keep(folder: &Path, input: &[u8]) -> PathBuf {
    let path = folder.join(format!("{:016x}", hash(input)));
    fs::create_dir_all(folder).unwrap();
    fs::write(&path, input).unwrap();
    path
}

/// An input: some words of the dictionary, or one of the seeds, mostly damaged.
fn drawn(n: &mut Numbers, dictionary: &[&str], seeds: &[Vec<u8>]) -> Vec<u8> {
    let mut input = Vec::new();
    if !seeds.is_empty() && (dictionary.is_empty() || n.up_to(3) == 0) {
        input.clone_from(&seeds[n.up_to(seeds.len())]);
    } else {
        for _ in 0..=n.up_to(12) {
            input.extend(n.one(dictionary).as_bytes());
        }
        if n.up_to(2) == 0 {
            return input;
        }
    }
    for _ in 0..=n.up_to(4) {
        damage(n, &mut input, dictionary);
    }
    input
}

fn damage(n: &mut Numbers, input: &mut Vec<u8>, dictionary: &[&str]) {
    let at = n.up_to(input.len() + 1);
    let end = (at + 1 + n.up_to(8)).min(input.len()).max(at);
    match n.up_to(7) {
        0 if !input.is_empty() => {
            let at = at.min(input.len() - 1);
            input[at] ^= 1 << n.up_to(8);
        }
        1 if !input.is_empty() => {
            let at = at.min(input.len() - 1);
            input[at] = [0, 0xFF, 0x7F, 0x80, b'0', b'9', b' ', b'"', b'{', b'-'][n.up_to(10)];
        }
        2 => drop(input.drain(at..end)),
        3 => {
            let again = input[at..end].to_vec();
            input.splice(at..at, again);
        }
        4 if !dictionary.is_empty() => {
            let word = n.one(dictionary).as_bytes().to_vec();
            input.splice(at..at, word);
        }
        5 => input.truncate(at),
        _ => input.splice(at..at, [n.next() as u8]).for_each(drop),
    }
}
