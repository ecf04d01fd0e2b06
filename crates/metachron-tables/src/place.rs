//! The one place where outputs are written: whole, or not at all.
//!
//! A file is written beside its target under another name, synced, and renamed. The target stays
//! what it was until the new one is whole; whatever goes wrong, the temporary file goes.

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
        let target = fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
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
        let folder = match target.parent() {
            Some(parent) if parent != Path::new("") => parent,
            _ => Path::new("."),
        };
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
        let file = builder.tempfile_in(folder)?;
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

/// Whether two paths lead to the same file.
pub fn same_file(one: &Path, other: &Path) -> bool {
    #[cfg(unix)]
    {
        use std::os::unix::fs::MetadataExt;
        let identity = |path| fs::metadata(path).ok().map(|file| (file.dev(), file.ino()));
        identity(one).is_some() && identity(one) == identity(other)
    }
    #[cfg(not(unix))]
    {
        let identity = |path| fs::canonicalize(path).ok();
        identity(one).is_some() && identity(one) == identity(other)
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
        assert!(same_file(&a, &folder.path().join(".").join("a")));
        assert!(!same_file(&a, &b), "b does not exist");
        fs::write(&b, "").unwrap();
        assert!(!same_file(&a, &b));
        fs::remove_file(&b).unwrap();
        fs::hard_link(&a, &b).unwrap();
        assert!(same_file(&a, &b));
    }
}
