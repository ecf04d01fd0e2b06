//! Runs a target on inputs that nobody has thought of: as many as one test run has time for, or for as many seconds as
//! `FUZZ_SECONDS` says, from the seed `FUZZ_SEED` on.
//!
//! Inputs are drawn from a dictionary of what the target knows and from the files of `corpus/TARGET`, and damaged. An
//! input on which the target panics is kept there, so that it is tried again by every test run.

use std::collections::hash_map::DefaultHasher;
use std::fs;
use std::hash::{Hash, Hasher};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// A sequence of numbers that is the same for the same seed (SplitMix64).
pub struct Numbers(pub u64);

impl Numbers {
    pub fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        z ^ (z >> 31)
    }

    pub fn below(&mut self, end: usize) -> usize {
        (self.next() % end.max(1) as u64) as usize
    }

    pub fn one_of<'l, T: ?Sized>(&mut self, list: &[&'l T]) -> &'l T {
        list[self.below(list.len())]
    }
}

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
        let mut failed = Vec::new();
        let begin = Instant::now();
        let mut try_one = |input: &[u8], numbers: &mut Numbers| {
            if catch_unwind(AssertUnwindSafe(|| check(input, numbers))).is_err() {
                failed.push(keep(&folder, input));
            }
        };
        let seeds: Vec<Vec<u8>> = kept.into_iter().chain(self.seeds).collect();
        seeds.iter().for_each(|input| try_one(input, &mut numbers));
        let mut runs = seeds.len() as u64;
        loop {
            let is_over = match end {
                Some(end) => runs.is_multiple_of(64) && Instant::now() >= end,
                None => runs >= self.runs,
            };
            if is_over {
                break;
            }
            let input = drawn(&mut numbers, self.dictionary, &seeds);
            try_one(&input, &mut numbers);
            runs += 1;
        }
        println!("{}: {runs} runs in {} s, seed {seed}", self.name, begin.elapsed().as_secs());
        failed.sort();
        failed.dedup();
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

fn keep(folder: &Path, input: &[u8]) -> PathBuf {
    let mut hasher = DefaultHasher::new();
    input.hash(&mut hasher);
    let path = folder.join(format!("{:016x}", hasher.finish()));
    fs::create_dir_all(folder).unwrap();
    fs::write(&path, input).unwrap();
    path
}

/// An input: some words of the dictionary, or one of the seeds, mostly damaged.
fn drawn(n: &mut Numbers, dictionary: &[&str], seeds: &[Vec<u8>]) -> Vec<u8> {
    let mut input = Vec::new();
    if !seeds.is_empty() && (dictionary.is_empty() || n.below(3) == 0) {
        input.clone_from(&seeds[n.below(seeds.len())]);
    } else {
        for _ in 0..=n.below(12) {
            input.extend(n.one_of(dictionary).as_bytes());
        }
        if n.below(2) == 0 {
            return input;
        }
    }
    for _ in 0..=n.below(4) {
        damage(n, &mut input, dictionary);
    }
    input
}

fn damage(n: &mut Numbers, input: &mut Vec<u8>, dictionary: &[&str]) {
    let at = n.below(input.len() + 1);
    let end = (at + 1 + n.below(8)).min(input.len()).max(at);
    match n.below(7) {
        0 if !input.is_empty() => {
            let at = at.min(input.len() - 1);
            input[at] ^= 1 << n.below(8);
        }
        1 if !input.is_empty() => {
            let at = at.min(input.len() - 1);
            input[at] = [0, 0xFF, 0x7F, 0x80, b'0', b'9', b' ', b'"', b'{', b'-'][n.below(10)];
        }
        2 => drop(input.drain(at..end)),
        3 => {
            let again = input[at..end].to_vec();
            input.splice(at..at, again);
        }
        4 if !dictionary.is_empty() => {
            let word = n.one_of(dictionary).as_bytes().to_vec();
            input.splice(at..at, word);
        }
        5 => input.truncate(at),
        _ => input.splice(at..at, [n.next() as u8]).for_each(drop),
    }
}
