//! Sheets written as binary records: `.xls` (\[MS-XLS\], in a compound file) and `.xlsb`
//! (\[MS-XLSB\], in an archive).

use std::io::{Cursor, Read};

use super::markup::relation_target;
use super::{Archive, SheetParts, read_part};

/// The parts of a sheet of an `.xls` workbook.
pub(super) fn of_compound(workbook: &[u8], sheet: &str) -> Option<SheetParts> {
    const BOUND_SHEET: u16 = 0x0085; // 2.4.28
    const ROW: u16 = 0x0208; // 2.4.221
    const MERGE_CELLS: u16 = 0x00E5; // 2.4.168
    const BEGIN: u16 = 0x0809; // 2.4.21, BOF
    const END: u16 = 0x000A; // 2.4.103, EOF

    let mut file = cfb::CompoundFile::open(Cursor::new(workbook)).ok()?;
    let mut stream = Vec::new();
    file.open_stream("Workbook").ok()?.read_to_end(&mut stream).ok()?;
    let begins = xls_records(&stream, 0).find_map(|(kind, body)| {
        let named = kind == BOUND_SHEET && short_text(body.get(6..)?)? == sheet;
        named.then(|| long(body, 0)).flatten()
    })?;
    let mut parts = SheetParts::default();
    // Charts on the sheet are nested in it, with records of their own.
    let mut depth = 0;
    for (kind, body) in xls_records(&stream, begins as usize) {
        match kind {
            BEGIN => depth += 1,
            END if depth == 1 => break,
            END => depth -= 1,
            _ if depth > 1 => {}
            // The bit fDyZero.
            ROW if body.get(12)? & 0x20 != 0 => parts.hidden.push(u64::from(short(body, 0)?) + 1),
            MERGE_CELLS => {
                for range in body.get(2..)?.chunks_exact(8) {
                    let at = |index: usize| short(range, 2 * index).map(u64::from);
                    parts.merge([at(0)?, at(1)?], [at(2)?, at(3)?]);
                }
            }
            _ => {}
        }
    }
    Some(parts)
}

/// Whether every cell of an `.xls` workbook lies within what a sheet can be, and its sheets claim no more; true of what
/// cannot be looked at.
///
/// The library that reads such sheets makes room for all that lies between their cells.
pub(super) fn is_within_sheets(workbook: &[u8]) -> bool {
    const DIMENSIONS: u16 = 0x0200; // 2.4.90
    const MULTIPLE: [u16; 2] = [0x00BD, 0x00BE]; // 2.4.175 MulRk, 2.4.174 MulBlank
    // 2.4.127 Formula, RString of older versions, 2.4.149 LabelSst, 2.4.20 Blank, 2.4.180 Number, 2.4.148 Label,
    // 2.4.24 BoolErr, 2.4.220 RK.
    const SINGLE: [u16; 8] = [0x0006, 0x00D6, 0x00FD, 0x0201, 0x0203, 0x0204, 0x0205, 0x027E];
    const ROWS: u32 = 65_536;
    const COLUMNS: u16 = 256;

    let Ok(mut file) = cfb::CompoundFile::open(Cursor::new(workbook)) else { return true };
    let mut stream = Vec::new();
    for name in ["Workbook", "Book"] {
        // A stream is not longer than its file, whatever it claims.
        if let Ok(part) = file.open_stream(name) {
            let read = part.take(workbook.len() as u64).read_to_end(&mut stream);
            return read.is_err()
                || xls_records(&stream, 0).all(|(kind, body)| match kind {
                    DIMENSIONS if body.len() >= 12 => {
                        long(body, 4).is_none_or(|end| end <= ROWS)
                            && short(body, 10).is_none_or(|end| end <= COLUMNS)
                    }
                    kind if SINGLE.contains(&kind) => {
                        short(body, 2).is_none_or(|column| column < COLUMNS)
                    }
                    kind if MULTIPLE.contains(&kind) => {
                        let last = body.len().checked_sub(2).and_then(|at| short(body, at));
                        last.is_none_or(|column| column < COLUMNS)
                    }
                    _ => true,
                });
        }
    }
    true
}

/// The parts of a sheet of an `.xlsb` workbook.
pub(super) fn of_archive(archive: &mut Archive<'_>, sheet: &str) -> Option<SheetParts> {
    const ROW_HEADER: u32 = 0; // 2.4.741, BrtRowHdr
    const BUNDLE_SHEET: u32 = 156; // 2.4.304, BrtBundleSh
    const MERGE_CELL: u32 = 176; // 2.4.694, BrtMergeCell

    let book = read_part(archive, "xl/workbook.bin")?;
    let relation = xlsb_records(&book).find_map(|(kind, body)| {
        let (relation, rest) = (kind == BUNDLE_SHEET).then(|| wide_text(body.get(8..)?))??;
        (wide_text(rest)?.0 == sheet).then_some(relation)
    })?;
    let path = relation_target(archive, "xl/_rels/workbook.bin.rels", &relation)?;
    let cells = read_part(archive, &path)?;
    let mut parts = SheetParts::default();
    for (kind, body) in xlsb_records(&cells) {
        match kind {
            // The bit fDyZero.
            ROW_HEADER if body.get(11)? & 0x10 != 0 => {
                parts.hidden.push(u64::from(long(body, 0)?) + 1);
            }
            MERGE_CELL => {
                let at = |index: usize| long(body, 4 * index).map(u64::from);
                parts.merge([at(0)?, at(1)?], [at(2)?, at(3)?]);
            }
            _ => {}
        }
    }
    Some(parts)
}

/// Records from `at` on: a type and a length of two bytes each, then the body (\[MS-XLS\] 2.1.4).
fn xls_records(stream: &[u8], at: usize) -> impl Iterator<Item = (u16, &[u8])> {
    let mut rest = stream.get(at..).unwrap_or_default();
    std::iter::from_fn(move || {
        let (kind, length) = (short(rest, 0)?, short(rest, 2)?);
        let body = rest.get(4..4 + usize::from(length))?;
        rest = &rest[4 + body.len()..];
        Some((kind, body))
    })
}

/// Records with a type of up to two and a length of up to four bytes, seven bits in each
/// (\[MS-XLSB\] 2.1.4).
fn xlsb_records(part: &[u8]) -> impl Iterator<Item = (u32, &[u8])> {
    let mut rest = part;
    std::iter::from_fn(move || {
        // The type keeps the bit that says that another byte follows out of its number.
        let kind = number_of_sevens(&mut rest, 2)?;
        let length = number_of_sevens(&mut rest, 4)?;
        let (body, after) = rest.split_at_checked(length as usize)?;
        rest = after;
        Some((kind, body))
    })
}

fn number_of_sevens(rest: &mut &[u8], most: u32) -> Option<u32> {
    let mut number = 0;
    for place in 0..most {
        let (byte, after) = rest.split_first()?;
        *rest = after;
        number |= u32::from(byte & 0x7F) << (7 * place);
        if byte & 0x80 == 0 {
            break;
        }
    }
    Some(number)
}

fn short(bytes: &[u8], at: usize) -> Option<u16> {
    bytes.get(at..at + 2)?.try_into().ok().map(u16::from_le_bytes)
}

fn long(bytes: &[u8], at: usize) -> Option<u32> {
    bytes.get(at..at + 4)?.try_into().ok().map(u32::from_le_bytes)
}

fn utf_16(bytes: &[u8]) -> String {
    let units = bytes.chunks_exact(2).map(|pair| u16::from_le_bytes([pair[0], pair[1]]));
    char::decode_utf16(units).map(|c| c.unwrap_or(char::REPLACEMENT_CHARACTER)).collect()
}

/// A ShortXLUnicodeString (\[MS-XLS\] 2.5.240): its length, its width, its characters.
fn short_text(bytes: &[u8]) -> Option<String> {
    let [length, flags, characters @ ..] = bytes else { return None };
    let length = usize::from(*length);
    match flags & 1 {
        // The low bytes of UTF-16.
        0 => Some(characters.get(..length)?.iter().map(|byte| char::from(*byte)).collect()),
        _ => Some(utf_16(characters.get(..2 * length)?)),
    }
}

/// An XLWideString (\[MS-XLSB\] 2.5.169) and what stands behind it.
fn wide_text(bytes: &[u8]) -> Option<(String, &[u8])> {
    let length = long(bytes, 0)? as usize;
    let characters = bytes.get(4..4 + length.checked_mul(2)?)?;
    Some((utf_16(characters), &bytes[4 + characters.len()..]))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_of_seven_bits() {
        let mut rest: &[u8] = &[0x9C, 0x01, 0x05];
        assert_eq!(number_of_sevens(&mut rest, 2), Some(156));
        assert_eq!(rest, [5]);
        assert_eq!(number_of_sevens(&mut &[0x80_u8][..], 2), None, "cut off");
    }

    #[test]
    fn texts_of_both_widths() {
        assert_eq!(short_text(&[2, 0, b'A', 0xE9]).as_deref(), Some("Aé"));
        assert_eq!(short_text(&[1, 1, 0x1F, 0x66]).as_deref(), Some("星"));
        assert_eq!(short_text(&[3, 0, b'A']), None, "cut off");
        let (text, rest) = wide_text(&[1, 0, 0, 0, 0x1F, 0x66, 9]).unwrap();
        assert_eq!((text.as_str(), rest), ("星", &[9][..]));
    }

    #[test]
    fn records_that_are_cut_off_end_the_list() {
        assert_eq!(xls_records(&[1, 0, 1, 0, 7, 2, 0, 9, 0, 1], 0).count(), 1);
        assert_eq!(xls_records(&[], 40).count(), 0);
        assert_eq!(xlsb_records(&[5, 1, 7, 6, 9]).count(), 1);
    }
}
