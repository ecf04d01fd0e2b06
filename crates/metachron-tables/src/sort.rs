//! Puts rows in the order of their keys, in bounded memory: sorted runs in temporary files are merged.

use std::cmp::{Ordering, Reverse};
use std::collections::BinaryHeap;
use std::fs::File;
use std::io::{self, BufReader, BufWriter, Read, Seek, Write};

use crate::place::temporary_file;

/// Bytes of rows that are held in memory.
pub const BUDGET: usize = 64 * 1024 * 1024;
/// What a held row costs beside its own bytes.
const OVERHEAD: usize = 96;
/// Runs that are merged at once: so many files may be open on any system.
const FAN_IN: usize = 128;

/// A row on its way: its key, which is compared first, then what is written of it.
#[derive(Debug)]
struct Held {
    /// The first bytes of the key as a number: most rows are told apart by these.
    begin: u64,
    key: Vec<u8>,
    row: Vec<u8>,
}

impl Held {
    fn of(key: Vec<u8>, row: Vec<u8>) -> Held {
        let mut begin = [0; 8];
        begin.iter_mut().zip(&key).for_each(|(begin, byte)| *begin = *byte);
        Held { begin: u64::from_be_bytes(begin), key, row }
    }

    /// How it stands to another row. A key that is the beginning of another comes first.
    fn cmp_key(&self, other: &Held) -> Ordering {
        self.begin.cmp(&other.begin).then_with(|| self.key.cmp(&other.key))
    }
}

/// Sorts rows by keys that compare as bytes do. Rows of equal keys keep their order.
///
/// What stands between rows (a comma, a line break that the last row lacks) stays where it stood.
///
/// ```
/// use metachron_tables::sort::Sorter;
/// let mut sorter = Sorter::new(1_000_000).unwrap();
/// for (key, row, after) in [("b", "second", "\n"), ("a", "first", "")] {
///     sorter.push(key.as_bytes().to_vec(), "", row, after).unwrap();
/// }
/// let mut sorted = String::new();
/// sorter.finish(|before, row, after| {
///     sorted.extend([before, row, after]);
///     Ok(())
/// })
/// .unwrap();
/// assert_eq!(sorted, "first\nsecond");
/// ```
#[derive(Debug)]
pub struct Sorter {
    budget: usize,
    held: Vec<Held>,
    bytes: usize,
    runs: Vec<File>,
    /// What stands before and after each row, in the order in which rows came.
    frames: BufWriter<File>,
}

impl Sorter {
    /// Holds so many bytes in memory.
    ///
    /// # Errors
    /// If there is no place for temporary files.
    pub fn new(budget: usize) -> io::Result<Sorter> {
        let frames = BufWriter::new(temporary_file()?);
        Ok(Sorter { budget, held: Vec::new(), bytes: 0, runs: Vec::new(), frames })
    }

    /// Takes a row with what stands before and after it.
    ///
    /// # Errors
    /// If a temporary file cannot be written.
    pub fn push(&mut self, key: Vec<u8>, before: &str, row: &str, after: &str) -> io::Result<()> {
        write_block(&mut self.frames, before.as_bytes())?;
        write_block(&mut self.frames, after.as_bytes())?;
        self.bytes += key.len() + row.len() + OVERHEAD;
        self.held.push(Held::of(key, row.as_bytes().to_vec()));
        if self.bytes > self.budget {
            self.spill()?;
        }
        Ok(())
    }

    /// Gives the rows in the order of their keys.
    ///
    /// # Errors
    /// If a temporary file cannot be read or written, or what `each` gives.
    pub fn finish(
        self,
        mut each: impl FnMut(&str, &str, &str) -> io::Result<()>,
    ) -> io::Result<()> {
        self.finish_with_keys(|_, before, row, after| each(before, row, after))
    }

    /// The same with their keys.
    ///
    /// # Errors
    /// If a temporary file cannot be read or written, or what `each` gives.
    pub fn finish_with_keys(
        mut self,
        mut each: impl FnMut(&[u8], &str, &str, &str) -> io::Result<()>,
    ) -> io::Result<()> {
        // Sorting is stable, and runs are merged in the order in which they were made.
        self.held.sort_by(Held::cmp_key);
        let mut frames = BufReader::new(rewound(self.frames.into_inner()?)?);
        let (mut before, mut after) = (Vec::new(), Vec::new());
        let give = |key: &[u8], row: &[u8]| {
            read_block(&mut frames, &mut before)?;
            read_block(&mut frames, &mut after)?;
            each(key, text(&before)?, text(row)?, text(&after)?)
        };
        while self.runs.len() > FAN_IN {
            let rest = self.runs.split_off(FAN_IN);
            let mut merged = BufWriter::new(temporary_file()?);
            merge(self.runs, Vec::new(), |key, row| {
                write_block(&mut merged, key)?;
                write_block(&mut merged, row)
            })?;
            self.runs = vec![rewound(merged.into_inner()?)?];
            self.runs.extend(rest);
        }
        merge(self.runs, self.held, give)
    }

    fn spill(&mut self) -> io::Result<()> {
        self.held.sort_by(Held::cmp_key);
        let mut run = BufWriter::new(temporary_file()?);
        for Held { key, row, .. } in self.held.drain(..) {
            write_block(&mut run, &key)?;
            write_block(&mut run, &row)?;
        }
        self.runs.push(rewound(run.into_inner()?)?);
        self.bytes = 0;
        Ok(())
    }
}

/// Merges sorted runs, and after them sorted rows in memory.
fn merge(
    runs: Vec<File>,
    held: Vec<Held>,
    mut each: impl FnMut(&[u8], &[u8]) -> io::Result<()>,
) -> io::Result<()> {
    let mut held = held.into_iter();
    let mut readers: Vec<BufReader<File>> = runs.into_iter().map(BufReader::new).collect();
    let last = readers.len();
    let mut next = |run: usize| -> io::Result<Option<Held>> {
        let Some(reader) = readers.get_mut(run) else { return Ok(held.next()) };
        let (mut key, mut row) = (Vec::new(), Vec::new());
        if !read_block(reader, &mut key)? {
            return Ok(None);
        }
        read_block(reader, &mut row)?;
        Ok(Some(Held::of(key, row)))
    };
    if last == 0 {
        // Nothing is to be merged.
        while let Some(Held { key, row, .. }) = next(0)? {
            each(&key, &row)?;
        }
        return Ok(());
    }
    let mut heap = BinaryHeap::new();
    let turn = |run: usize, Held { begin, key, row }: Held| Reverse((begin, key, run, row));
    for run in 0..=last {
        heap.extend(next(run)?.map(|own| turn(run, own)));
    }
    while let Some(Reverse((_, key, run, row))) = heap.pop() {
        each(&key, &row)?;
        heap.extend(next(run)?.map(|own| turn(run, own)));
    }
    Ok(())
}

fn rewound(mut file: File) -> io::Result<File> {
    file.rewind()?;
    Ok(file)
}

fn text(bytes: &[u8]) -> io::Result<&str> {
    std::str::from_utf8(bytes).map_err(io::Error::other)
}

fn write_block(out: &mut impl Write, block: &[u8]) -> io::Result<()> {
    let length = u32::try_from(block.len()).map_err(io::Error::other)?;
    out.write_all(&length.to_le_bytes())?;
    out.write_all(block)
}

/// Reads the next block; false where there is none.
fn read_block(input: &mut impl Read, block: &mut Vec<u8>) -> io::Result<bool> {
    let mut length = [0; 4];
    match input.read_exact(&mut length) {
        Err(error) if error.kind() == io::ErrorKind::UnexpectedEof => return Ok(false),
        read => read?,
    }
    block.resize(u32::from_le_bytes(length) as usize, 0);
    input.read_exact(block)?;
    Ok(true)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn sorted(keys: &[u8], budget: usize) -> Vec<String> {
        let mut sorter = Sorter::new(budget).unwrap();
        for (at, key) in keys.iter().enumerate() {
            sorter.push(vec![*key], &format!("{at}<"), &format!("{key}#{at}"), ">").unwrap();
        }
        let mut rows = Vec::new();
        let each = |before: &str, row: &str, after: &str| {
            rows.push(format!("{before}{row}{after}"));
            Ok(())
        };
        sorter.finish(each).unwrap();
        rows
    }

    proptest! {
        #[test]
        fn any_budget_gives_the_same_stable_order(
            keys in prop::collection::vec(0_u8..20, 0..300),
            budget in 0_usize..20_000,
        ) {
            let mut expected: Vec<(u8, usize)> =
                keys.iter().enumerate().map(|(at, key)| (*key, at)).collect();
            expected.sort();
            let expected: Vec<String> = expected
                .iter()
                .enumerate()
                .map(|(place, (key, at))| format!("{place}<{key}#{at}>"))
                .collect();
            prop_assert_eq!(sorted(&keys, budget), expected);
        }
    }
}
