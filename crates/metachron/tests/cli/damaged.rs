//! Damaged files: whatever bytes are wrong, there is a table or a message, never a panic.

use std::io::Read;

use metachron_tables::frame::WantedHeader;
use metachron_tables::workbook;

use crate::records::{Cell, archive, binary_workbook};

/// A small generator of numbers (SplitMix64), so that every run damages the same bytes.
struct Dice(u64);

impl Dice {
    fn below(&mut self, most: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let z = (self.0 ^ (self.0 >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) % most.max(1) as u64) as usize
    }

    /// One to four bytes changed, or the end cut off.
    fn damage(&mut self, bytes: &[u8]) -> Vec<u8> {
        let mut damaged = bytes.to_vec();
        if damaged.is_empty() || self.below(8) == 0 {
            damaged.truncate(self.below(bytes.len()));
            return damaged;
        }
        for _ in 0..=self.below(4) {
            let at = self.below(damaged.len());
            damaged[at] = match self.below(3) {
                0 => 0xFF,
                1 => 0,
                _ => self.below(256) as u8,
            };
        }
        damaged
    }
}

/// The parts of an archive.
fn parts(bytes: &[u8]) -> Vec<(String, Vec<u8>)> {
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    (0..archive.len())
        .map(|index| {
            let mut file = archive.by_index(index).unwrap();
            let mut part = Vec::new();
            file.read_to_end(&mut part).unwrap();
            (file.name().unwrap().into_owned(), part)
        })
        .collect()
}

#[test]
fn damaged_workbooks_never_panic() {
    let mut dice = Dice(2024);
    let (mut read, mut refused) = (0, 0);
    let mut open = |bytes: Vec<u8>| match workbook::open(&bytes, None, WantedHeader::Unsaid) {
        Ok(_) => read += 1,
        Err(error) => {
            assert!(!error.to_string().is_empty());
            refused += 1;
        }
    };
    let old = include_bytes!("fixtures/captures.xls");
    for _ in 0..1_500 {
        open(dice.damage(old));
    }
    let rows = [
        vec![Cell::Text("ring"), Cell::Text("seen")],
        vec![Cell::Text("LF1"), Cell::Date(45_395.0)],
        vec![Cell::Text("LF2"), Cell::Text("14/04/2024")],
    ];
    let binary = binary_workbook(&rows, &[1], &[[0, 0, 0, 1]]);
    for book in [&include_bytes!("fixtures/captures.ods")[..], &binary] {
        let parts = parts(book);
        for _ in 0..1_500 {
            let damaged = dice.below(parts.len());
            let parts: Vec<(&str, Vec<u8>)> = parts
                .iter()
                .enumerate()
                .map(|(index, (name, part))| {
                    let part = if index == damaged { dice.damage(part) } else { part.clone() };
                    (name.as_str(), part)
                })
                .collect();
            open(archive(&parts));
        }
    }
    assert!(read > 500 && refused > 500, "{read} read, {refused} refused");
}
