//! How large the parts of a workbook are, before anything holds them: a small archive may swell to any size, and claim
//! another one.

use std::io::{BufRead, BufReader, Cursor, Read};

use zip::ZipArchive;

use crate::error::TableError;

/// Bytes that the parts of a workbook may have together, once they are decompressed.
const MOST_IN_ALL: u64 = 4_000_000_000;
/// Bytes that a text between two tags may have.
const MOST_OF_TEXT: u64 = 64_000_000;
/// Bytes that the texts that cells share may have together: all of them are held.
const MOST_SHARED: u64 = 1_000_000_000;
/// A part swells to so many times its size at most (RFC 1951, 3.2.5: 258 bytes by 2 bits).
const SWELLS: u64 = 1_032;

/// Whether the parts of a workbook stay within bounds; true of what is no archive.
///
/// # Errors
/// Which part does not.
pub fn are_bounded(workbook: &[u8]) -> Result<(), TableError> {
    // What is so small can swell to no size that would matter.
    if workbook.len() as u64 * SWELLS <= MOST_OF_TEXT {
        return Ok(());
    }
    let Ok(mut archive) = ZipArchive::new(Cursor::new(workbook)) else { return Ok(()) };
    let mut all = 0;
    for at in 0..archive.len() {
        // What cannot be unpacked is told by whoever needs it.
        let Ok(part) = archive.by_index(at) else { continue };
        let name = part.name().map_or_else(|_| "a part".to_owned(), |name| name.into_owned());
        let is_shared = name.to_lowercase().contains("sharedstrings");
        let most = if is_shared { MOST_SHARED } else { MOST_IN_ALL };
        let size = Bounded {
            part: name.clone(),
            is_markup: !name.ends_with(".bin"),
            most: most.min(MOST_IN_ALL - all),
        };
        all += size.measure(BufReader::with_capacity(64 * 1024, part))?;
    }
    Ok(())
}

/// A part that is measured.
struct Bounded {
    part: String,
    is_markup: bool,
    most: u64,
}

impl Bounded {
    /// Its bytes once it is decompressed, as far as it can be.
    fn measure(&self, mut bytes: BufReader<impl Read>) -> Result<u64, TableError> {
        let too_large = |what: &str| {
            Err(TableError::Workbook(format!(
                "{:?} is larger than a workbook needs: {what}",
                self.part
            )))
        };
        let (mut size, mut text) = (0, 0);
        loop {
            let Ok(block) = bytes.fill_buf() else { return Ok(size) };
            if block.is_empty() {
                return Ok(size);
            }
            let length = block.len() as u64;
            text = match (memchr::memchr(b'<', block), memchr::memrchr(b'<', block)) {
                (Some(first), Some(_)) if text + first as u64 > MOST_OF_TEXT => MOST_OF_TEXT + 1,
                (_, Some(last)) => length - last as u64,
                _ => text + length,
            };
            size += length;
            bytes.consume(length as usize);
            if size > self.most {
                return too_large(&format!(
                    "unpacked, more than {} GB",
                    MOST_IN_ALL / 1_000_000_000
                ));
            }
            if self.is_markup && text > MOST_OF_TEXT {
                return too_large(&format!("a text of more than {} MB", MOST_OF_TEXT / 1_000_000));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use std::io::Write;

    use zip::ZipWriter;
    use zip::write::SimpleFileOptions;

    use super::*;

    fn archive(name: &str, megabytes: usize, block: &[u8]) -> Vec<u8> {
        let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
        zip.start_file(name, SimpleFileOptions::default()).unwrap();
        let block = block.repeat(1_000_000 / block.len());
        (0..megabytes).for_each(|_| zip.write_all(&block).unwrap());
        zip.finish().unwrap().into_inner()
    }

    #[test]
    fn a_text_without_end_is_refused() {
        let said = |bytes: Vec<u8>| are_bounded(&bytes).err().map(|error| error.to_string());
        let blank = said(archive("xl/styles.xml", 66, b" "));
        assert_eq!(
            blank.as_deref(),
            Some(
                "the workbook cannot be read: \"xl/styles.xml\" is larger than a workbook needs: a text of more \
                 than 64 MB"
            )
        );
        assert_eq!(said(archive("xl/styles.xml", 66, b"<a/>")), None);
        // The records of a binary part have no tags.
        assert_eq!(said(archive("xl/sheet1.bin", 66, b" ")), None);
        assert_eq!(said(b"no archive".repeat(100_000)), None);
    }

    #[test]
    fn what_swells_beyond_all_bounds_is_refused() {
        let measured = |most, bytes: &[u8]| {
            let part = Bounded { part: "a".to_owned(), is_markup: true, most };
            part.measure(BufReader::with_capacity(8, bytes)).map_err(|error| error.to_string())
        };
        assert_eq!(measured(10, b"<a><b/>"), Ok(7));
        assert!(measured(10, b"<a><b/></a>").unwrap_err().contains("unpacked, more than 4 GB"));
    }
}
