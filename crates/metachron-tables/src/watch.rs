//! Notices that a file is another one the next time that it is read.
//!
//! A table is looked at before it is converted. What was found out is only true of the same bytes.

use std::fs::{File, Metadata};
use std::hash::{DefaultHasher, Hasher};
use std::io::{self, Read};
use std::path::Path;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::SystemTime;

use crate::error::TableError;

/// What a file was when it was first read to its end.
#[derive(Debug, Clone, Default)]
pub(crate) struct Watch {
    digest: Arc<Mutex<Option<Digest>>>,
    state: Option<State>,
}

/// How many bytes a file has, and a hash that tells them from others; nobody need fear forgery here.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Digest {
    bytes: u64,
    hash: u64,
}

/// What the file system says of a file.
#[derive(Debug, Clone, PartialEq, Eq)]
struct State {
    bytes: u64,
    modified: Option<SystemTime>,
    /// The same of the log beside a database, where what is new stands first (SQLite, Write-Ahead Logging).
    log: Option<(u64, Option<SystemTime>)>,
}

impl State {
    fn of(path: &Path, file: &Metadata) -> Option<State> {
        let mut log = path.as_os_str().to_owned();
        log.push("-wal");
        // Whoever only reads may make an empty one.
        let log = std::fs::metadata(log).ok().filter(|log| log.len() > 0);
        let log = log.map(|log| (log.len(), log.modified().ok()));
        let (bytes, modified) = (file.len(), file.modified().ok());
        file.is_file().then_some(State { bytes, modified, log })
    }
}

impl Watch {
    /// Begins to watch a file.
    pub(crate) fn begin(path: &Path, file: &Metadata) -> Watch {
        Watch { state: State::of(path, file), ..Watch::default() }
    }

    /// Reads a file, and fails at its end if it is not what it was.
    pub(crate) fn reader(&self, file: File) -> Watched {
        let hasher = DefaultHasher::new();
        Watched { file, bytes: 0, hasher, digest: Arc::clone(&self.digest) }
    }

    /// Fails if the file system says that the file at this path is not what it was; for formats that do not read
    /// their files from the first byte to the last.
    pub(crate) fn check(&self, path: Option<&Path>) -> Result<(), TableError> {
        let Some(path) = path else { return Ok(()) };
        match State::of(path, &std::fs::metadata(path)?) == self.state {
            true => Ok(()),
            false => Err(TableError::Changed),
        }
    }
}

/// A file on its way to the end.
pub(crate) struct Watched {
    file: File,
    bytes: u64,
    hasher: DefaultHasher,
    digest: Arc<Mutex<Option<Digest>>>,
}

impl Read for Watched {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        if read > 0 {
            self.bytes += read as u64;
            self.hasher.write(&buffer[..read]);
        } else if !buffer.is_empty() {
            let own = Digest { bytes: self.bytes, hash: self.hasher.finish() };
            let mut digest = self.digest.lock().unwrap_or_else(PoisonError::into_inner);
            if *digest.get_or_insert(own) != own {
                return Err(io::Error::other(TableError::Changed));
            }
        }
        Ok(read)
    }
}
