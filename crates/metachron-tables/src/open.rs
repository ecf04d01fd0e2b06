//! Opens a file, as often as it is needed: decompressed, and as UTF-8 text.

use std::fs::File;
use std::io::{self, Read, Seek};
use std::path::{Path, PathBuf};

use sha2::{Digest, Sha256};

use crate::compress::Compression;
use crate::delimited::BOM;
use crate::encoding::Charset;
use crate::error::TableError;
use crate::place::temporary_file;
use crate::watch::Watch;

/// Bytes that are looked at to recognise what a file is.
const SAMPLE: u64 = 256 * 1024;

/// Something that can be read more than once.
#[derive(Debug)]
pub struct Source {
    place: Content,
    watch: Watch,
    /// How the bytes are compressed.
    pub compression: Option<Compression>,
    /// How the bytes stand for text.
    pub charset: Charset,
}

#[derive(Debug)]
enum Content {
    File(PathBuf),
    /// Standard input or a pipe, kept in a temporary file that nobody else sees.
    Spooled(File),
}

impl Source {
    /// Opens a path, or standard input where the path is `-`.
    ///
    /// # Errors
    /// If there is no such file, it is a folder, or it cannot be read.
    pub fn open(path: &Path) -> Result<Source, TableError> {
        let (place, watch) = if path == Path::new("-") {
            (Content::Spooled(spooled(&mut io::stdin().lock())?), Watch::default())
        } else {
            let metadata = std::fs::metadata(path)?;
            if metadata.is_dir() {
                return Err(TableError::Folder);
            }
            match metadata.is_file() {
                true => (Content::File(path.to_owned()), Watch::begin(path, &metadata)),
                // A device may have no end; a pipe has, but can be read once.
                false if !is_pipe(&metadata) => {
                    return Err(TableError::NoTable("is a device, not a table"));
                }
                false => (Content::Spooled(spooled(&mut File::open(path)?)?), Watch::default()),
            }
        };
        let mut source = Source { place, watch, compression: None, charset: Charset::UTF_8 };
        source.compression = signed(&source.begin()?);
        Ok(source)
    }

    /// What was put into a temporary file, as UTF-8.
    #[cfg(feature = "postgres")]
    pub(crate) fn spooled(file: File) -> Source {
        let place = Content::Spooled(file);
        Source { place, watch: Watch::default(), compression: None, charset: Charset::UTF_8 }
    }

    /// The same, as text in this encoding, or in the one that the whole content makes out.
    ///
    /// # Errors
    /// If it cannot be read.
    pub fn decoded(mut self, charset: Option<Charset>) -> Result<Source, TableError> {
        let recognised = Charset::recognise(|| self.bytes().map_err(io::Error::other))?;
        self.charset = match charset {
            // A byte order mark is passed over whatever it is said to be.
            Some(given) if !(given.is_utf_8() && recognised.is_utf_8()) => {
                given.with_bom(recognised.has_bom)
            }
            Some(_) => recognised,
            None => recognised,
        };
        Ok(self)
    }

    /// The first bytes, decompressed.
    ///
    /// # Errors
    /// If the file cannot be read.
    pub fn begin(&self) -> Result<Vec<u8>, TableError> {
        let mut begin = Vec::new();
        self.bytes()?.take(10).read_to_end(&mut begin)?;
        Ok(begin)
    }

    /// The file as it stands.
    ///
    /// # Errors
    /// If it cannot be opened any more.
    pub fn file(&self) -> Result<File, TableError> {
        Ok(self.place.open()?)
    }

    /// Fails if the file is another one than when it was opened, as far as the file system tells.
    ///
    /// # Errors
    /// If it is.
    pub fn check_unchanged(&self) -> Result<(), TableError> {
        self.watch.check(self.path())
    }

    /// Where the file stands, if it is one.
    pub fn path(&self) -> Option<&Path> {
        match &self.place {
            Content::File(path) => Some(path),
            Content::Spooled(_) => None,
        }
    }

    /// All bytes, decompressed.
    ///
    /// # Errors
    /// If the file cannot be opened any more.
    pub fn bytes(&self) -> Result<Box<dyn Read + Send>, TableError> {
        let file = self.watch.reader(self.place.open()?);
        Ok(match self.compression {
            Some(compression) => {
                compression.reader(io::BufReader::with_capacity(64 * 1024, file))?
            }
            None => Box::new(file),
        })
    }

    /// The text as UTF-8; a byte order mark may still stand before it.
    ///
    /// # Errors
    /// If the file cannot be opened any more.
    pub fn text(&self) -> Result<Box<dyn Read + Send>, TableError> {
        Ok(self.charset.decode(self.bytes()?))
    }

    /// The SHA-256 of the content (FIPS 180-4), not compressed: `sha256:` and 64 hexadecimal digits.
    ///
    /// # Errors
    /// If the file cannot be read any more.
    pub fn digest(&self) -> Result<String, TableError> {
        Ok(digest_of(&mut self.bytes()?)?)
    }

    /// Whether every byte is one of ASCII, so that most encodings read the same.
    ///
    /// # Errors
    /// If the file cannot be read any more.
    pub fn is_ascii(&self) -> Result<bool, TableError> {
        Ok(crate::encoding::is_ascii(self.bytes()?)?)
    }

    /// The beginning of the text, without a byte order mark.
    ///
    /// # Errors
    /// If the source cannot be read, or is empty.
    pub fn sample(&self) -> Result<Vec<u8>, TableError> {
        let mut sample = Vec::new();
        self.text()?.take(SAMPLE).read_to_end(&mut sample)?;
        if sample.starts_with(BOM) {
            sample.drain(..BOM.len());
        }
        if sample.is_empty() { Err(TableError::Empty) } else { Ok(sample) }
    }
}

/// The SHA-256 of bytes (FIPS 180-4), as readings files and reports have it.
///
/// ```
/// let digest = metachron_tables::open::digest_of(&mut &b"abc"[..]).unwrap();
/// assert!(digest.starts_with("sha256:ba7816bf"));
/// ```
///
/// # Errors
/// If they cannot be read.
pub fn digest_of(bytes: &mut impl Read) -> io::Result<String> {
    let mut hasher = Sha256::new();
    let mut piece = vec![0; 64 * 1024];
    loop {
        match bytes.read(&mut piece) {
            Ok(0) => break,
            Ok(read) => hasher.update(&piece[..read]),
            Err(error) if error.kind() == io::ErrorKind::Interrupted => {}
            Err(error) => return Err(error),
        }
    }
    let digits = hasher.finalize().iter().map(|byte| format!("{byte:02x}")).collect::<String>();
    Ok(format!("sha256:{digits}"))
}

#[cfg(unix)]
fn is_pipe(file: &std::fs::Metadata) -> bool {
    use std::os::unix::fs::FileTypeExt;
    file.file_type().is_fifo() || file.file_type().is_socket()
}

#[cfg(not(unix))]
fn is_pipe(_: &std::fs::Metadata) -> bool {
    true
}

/// All that is read, in a temporary file that nobody else sees.
fn spooled(input: &mut dyn Read) -> io::Result<File> {
    let mut spool = temporary_file()?;
    io::copy(input, &mut spool)?;
    Ok(spool)
}

impl Content {
    fn open(&self) -> io::Result<File> {
        match self {
            Content::File(path) => File::open(path),
            Content::Spooled(spool) => {
                let mut spool = spool.try_clone()?;
                spool.rewind()?;
                Ok(spool)
            }
        }
    }
}

/// The compression whose signature the bytes begin with.
fn signed(begin: &[u8]) -> Option<Compression> {
    match begin {
        [0x1F, 0x8B, ..] => Some(Compression::Gzip),
        [0x28, 0xB5, 0x2F, 0xFD, ..] => Some(Compression::Zstandard),
        [b'B', b'Z', b'h', b'1'..=b'9', 0x31, 0x41, 0x59, 0x26, 0x53, 0x59] => {
            Some(Compression::Bzip2)
        }
        [0xFD, b'7', b'z', b'X', b'Z', 0, ..] => Some(Compression::Xz),
        _ => None,
    }
}
