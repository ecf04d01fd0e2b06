//! Opens a table, as often as it is needed.

use std::fs::File;
use std::io::{self, Read, Seek};
use std::path::{Path, PathBuf};

use crate::delimited::{BOM, RecordReader};
use crate::dialect::{Delimiter, recognise};
use crate::error::TableError;

/// Bytes that are looked at to recognise the dialect.
const SAMPLE: u64 = 256 * 1024;

/// Something that a table can be read from more than once.
#[derive(Debug)]
pub enum Source {
    /// A file.
    File(PathBuf),
    /// Standard input, kept in a temporary file that nobody else sees.
    Spooled(File),
}

impl Source {
    /// Opens a path, or standard input where the path is `-`.
    ///
    /// # Errors
    /// If there is no such file, it is a folder, or it cannot be read.
    pub fn open(path: &Path) -> Result<Source, TableError> {
        if path == Path::new("-") {
            let mut spool = tempfile::tempfile()?;
            io::copy(&mut io::stdin().lock(), &mut spool)?;
            return Ok(Source::Spooled(spool));
        }
        if std::fs::metadata(path)?.is_dir() {
            return Err(TableError::Folder);
        }
        File::open(path)?;
        Ok(Source::File(path.to_owned()))
    }

    /// All bytes, from the first.
    ///
    /// # Errors
    /// If the file cannot be opened any more.
    pub fn bytes(&self) -> Result<File, TableError> {
        match self {
            Source::File(path) => Ok(File::open(path)?),
            Source::Spooled(spool) => {
                let mut spool = spool.try_clone()?;
                spool.rewind()?;
                Ok(spool)
            }
        }
    }

    /// The delimiter, recognised from the content.
    ///
    /// # Errors
    /// If the source cannot be read, or is empty.
    pub fn recognise(&self) -> Result<Delimiter, TableError> {
        let mut sample = Vec::new();
        self.bytes()?.take(SAMPLE).read_to_end(&mut sample)?;
        if sample.strip_prefix(BOM).unwrap_or(&sample).is_empty() {
            return Err(TableError::Empty);
        }
        Ok(recognise(&sample))
    }

    /// The records, from the first.
    ///
    /// # Errors
    /// If the file cannot be opened any more.
    pub fn records(&self, delimiter: Delimiter) -> Result<RecordReader<File>, TableError> {
        Ok(RecordReader::new(self.bytes()?, delimiter))
    }
}
