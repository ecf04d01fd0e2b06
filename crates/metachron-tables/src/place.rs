//! The one place where outputs are written: whole, or not at all.
//!
//! A file is written beside its target under another name, synced, and renamed. The target stays
//! what it was until the new one is whole; whatever goes wrong, the temporary file goes.

use std::fmt;
use std::fs;
use std::io::{self, BufWriter, Write};
use std::path::{Path, PathBuf};

use tempfile::NamedTempFile;

/// An output that is being written.
#[derive(Debug)]
pub enum Output {
    /// Standard output.
    Stdout(BufWriter<io::Stdout>),
    /// A device or a pipe with a name: nothing there to protect.
    Device(BufWriter<fs::File>),
    /// A file, under its temporary name.
    File(BufWriter<NamedTempFile>, PathBuf),
}

const BUFFER: usize = 256 * 1024;

impl Output {
    /// Begins to write to a path, or to standard output where it is `-`.
    ///
    /// # Errors
    /// If the folder does not exist or cannot be written to.
    pub fn create(path: &Path) -> io::Result<Output> {
        if path == Path::new("-") {
            return Ok(Output::Stdout(BufWriter::with_capacity(BUFFER, io::stdout())));
        }
        // What a link points to is replaced, not the link.
        let target = target(path);
        let existing = fs::metadata(&target).ok();
        if existing.as_ref().is_some_and(fs::Metadata::is_dir) {
            return Err(io::Error::new(io::ErrorKind::IsADirectory, "is a folder"));
        }
        if existing.as_ref().is_some_and(|metadata| !metadata.is_file()) {
            let device = fs::OpenOptions::new().write(true).open(&target)?;
            return Ok(Output::Device(BufWriter::with_capacity(BUFFER, device)));
        }
        if existing.as_ref().is_some_and(|metadata| metadata.permissions().readonly()) {
            return Err(io::ErrorKind::PermissionDenied.into());
        }
        let mut builder = tempfile::Builder::new();
        builder.prefix(".metachron-").suffix(".part");
        let permissions = existing.map(|metadata| metadata.permissions());
        #[cfg(unix)]
        let permissions = {
            use std::os::unix::fs::PermissionsExt;
            // As for any new file, the user's mask applies to this.
            permissions.or(Some(fs::Permissions::from_mode(0o666)))
        };
        if let Some(permissions) = permissions {
            builder.permissions(permissions);
        }
        let file = builder.tempfile_in(folder(&target))?;
        Ok(Output::File(BufWriter::with_capacity(BUFFER, file), target))
    }

    /// Completes the output; only now a file has its name.
    ///
    /// # Errors
    /// If the last bytes cannot be written, synced or renamed.
    pub fn finish(self) -> io::Result<()> {
        match self {
            Output::Stdout(mut stdout) => stdout.flush(),
            Output::Device(mut device) => device.flush(),
            Output::File(buffered, target) => {
                let file = buffered.into_inner().map_err(io::IntoInnerError::into_error)?;
                file.as_file().sync_all()?;
                file.persist(target).map_err(|error| error.error)?;
                Ok(())
            }
        }
    }
}

impl Write for Output {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        match self {
            Output::Stdout(out) => out.write(bytes),
            Output::Device(out) => out.write(bytes),
            Output::File(out, _) => out.write(bytes),
        }
    }

    fn flush(&mut self) -> io::Result<()> {
        match self {
            Output::Stdout(out) => out.flush(),
            Output::Device(out) => out.flush(),
            Output::File(out, _) => out.flush(),
        }
    }
}

/// A file without a name that goes with its user, in the folder for temporary files.
///
/// # Errors
/// If there can be none there; the source of the error is a [`NoTemporaryFile`].
pub fn temporary_file() -> io::Result<fs::File> {
    tempfile::tempfile().map_err(|error| {
        let error = NoTemporaryFile { folder: std::env::temp_dir(), kind: error.kind() };
        io::Error::other(error)
    })
}

/// Why no temporary file can be made.
#[derive(Debug)]
pub struct NoTemporaryFile {
    /// The folder in which it would have been.
    pub folder: PathBuf,
    /// What the system says.
    pub kind: io::ErrorKind,
}

impl fmt::Display for NoTemporaryFile {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "no temporary file can be made in {}: {}", self.folder.display(), self.kind)
    }
}

impl std::error::Error for NoTemporaryFile {}

/// What makes a file the same under all its names: two that are equal are one file.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct FileIdentity(Known);

#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
enum Known {
    /// The device, and the number of the file on it.
    #[cfg(unix)]
    Stored(u64, u64),
    /// Where the file stands, or would be written.
    Named(PathBuf),
}

/// What the file at a path is, whether or not it exists; none of a device or a pipe, which holds nothing that could be
/// destroyed.
pub fn identity(path: &Path) -> Option<FileIdentity> {
    let target = target(path);
    match fs::metadata(&target) {
        Ok(file) if !file.is_file() => None,
        #[cfg(unix)]
        Ok(file) => {
            use std::os::unix::fs::MetadataExt;
            Some(FileIdentity(Known::Stored(file.dev(), file.ino())))
        }
        _ => Some(FileIdentity(Known::Named(target))),
    }
}

/// Where the file of a path is or would be: behind all links, one to a file that does not exist included.
fn target(path: &Path) -> PathBuf {
    /// Links to links that are followed (POSIX, SYMLOOP_MAX, has at least 8; Linux 40).
    const LINKS: usize = 40;
    let mut path = path.to_owned();
    for _ in 0..LINKS {
        match fs::read_link(&path) {
            Ok(to) => path = folder(&path).join(to),
            Err(_) => break,
        }
    }
    let whole = fs::canonicalize(&path).ok();
    let beside = || Some(fs::canonicalize(folder(&path)).ok()?.join(path.file_name()?));
    whole.or_else(beside).unwrap_or(path)
}

/// The folder in which a file stands.
fn folder(path: &Path) -> &Path {
    match path.parent() {
        Some(parent) if parent != Path::new("") => parent,
        _ => Path::new("."),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_old_file_stays_until_the_new_one_is_whole() {
        let folder = tempfile::tempdir().unwrap();
        let target = folder.path().join("captures.out.csv");
        fs::write(&target, "old").unwrap();
        let mut output = Output::create(&target).unwrap();
        output.write_all(b"new").unwrap();
        output.flush().unwrap();
        assert_eq!(fs::read_to_string(&target).unwrap(), "old");
        drop(output);
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 1, "no temporary file is left");
        let mut output = Output::create(&target).unwrap();
        output.write_all(b"new").unwrap();
        output.finish().unwrap();
        assert_eq!(fs::read_to_string(&target).unwrap(), "new");
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 1);
    }

    #[test]
    fn the_same_file_under_two_names() {
        let folder = tempfile::tempdir().unwrap();
        let (a, b) = (folder.path().join("a"), folder.path().join("b"));
        fs::write(&a, "").unwrap();
        let again = folder.path().join(".").join("a");
        assert_eq!(identity(&a), identity(&again));
        assert_ne!(identity(&a), identity(&b), "b does not exist");
        assert_eq!(identity(&b), identity(&folder.path().join(".").join("b")));
        fs::write(&b, "").unwrap();
        assert_ne!(identity(&a), identity(&b));
        fs::remove_file(&b).unwrap();
        fs::hard_link(&a, &b).unwrap();
        assert_eq!(identity(&a), identity(&b));
        assert_eq!(identity(Path::new("/dev/null")), None);
    }

    #[cfg(unix)]
    #[test]
    fn a_link_is_followed_even_to_a_file_that_is_not_there() {
        let folder = tempfile::tempdir().unwrap();
        let (link, file) = (folder.path().join("link"), folder.path().join("file"));
        std::os::unix::fs::symlink("file", &link).unwrap();
        assert_eq!(identity(&link), identity(&file));
        let mut output = Output::create(&link).unwrap();
        output.write_all(b"new").unwrap();
        output.finish().unwrap();
        assert!(fs::symlink_metadata(&link).unwrap().is_symlink());
        assert_eq!(fs::read_to_string(&file).unwrap(), "new");
    }
}
